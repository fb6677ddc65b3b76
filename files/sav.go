package files

import (
	"bytes"
	"compress/zlib"
	"context"
	"encoding/binary"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// Files that end in .sav hold a dictionary of records, each with its number before it, and then the rows in pieces of
// 8 bytes: a number is one piece, a text as many as it needs. The pieces stand as they are, or with a byte before
// each eight that says which are written out; .zsav packs these by zlib. Source: the layout as it is published with
// free software that reads and writes it.

// savPiece is how many bytes a piece has; savSegment how many of a long text a variable of the file holds.
const savPiece, savSegment = 8, 255

// The records of the dictionary.
const (
	savVariable   = 2
	savNames      = 3
	savNamesOf    = 4
	savDocument   = 6
	savExtension  = 7
	savDictionary = 999 // its end
)

// Extensions that are read; all others are passed over.
const (
	savLongNames = 13
	savLongTexts = 14
	savEncoding  = 20
)

// savFile is a file while it is read.
type savFile struct {
	cursor
	packing int
	bias    float64
	said    int // rows, below 0: not said
	about   string
	letters string
	pieces  int         // of a row
	begins  map[int]int // the field that begins at a piece, from 0
	fields  []*savField
	pending []savNamed // names of values, until it is known of which variables they are
	gap     uint64     // the bits of a missing number
}

type savField struct {
	variable *variable
	short    string // the name by which other records speak of it
	piece    int
	width    int // of a text; 0: a number
	gaps     []float64
	from, to float64 // a range that stands for missing values
	textGaps []string
	further  []*savField // the rest of a long text
}

type savNamed struct{ value, name string }

// savShown are how numbers are shown that are dates, or times, in seconds; dates count from 14 October 1582.
var savShown = map[int]struct {
	kind  table.Kind
	grain table.Grain
}{
	20: {table.Date, table.Day}, 23: {table.Date, table.Day}, 24: {table.Date, table.Day}, 38: {table.Date, table.Day},
	39: {table.Date, table.Day}, 28: {table.Date, table.Day}, 29: {table.Date, table.Day}, 30: {table.Date, table.Day},
	22: {table.Date, table.Second}, 41: {table.Date, table.Second},
	21: {table.Duration, ""}, 25: {table.Duration, ""}, 40: {table.Duration, ""},
}

// readSav reads a file that ends in .sav or .zsav.
func readSav(ctx context.Context, raw []byte, options reader.Options) (t *table.Table, report *reader.Report, err error) {
	defer answered(".sav file", &t, &report, &err)
	s := &savFile{cursor: cursor{raw: raw, order: binary.LittleEndian}, begins: map[int]int{}}
	s.header()
	if err := s.dictionary(options.MaxColumns); err != nil {
		return nil, nil, err
	}
	if len(s.fields) == 0 {
		return nil, nil, &reader.Error{Problem: "the file has no variables", Advice: "check that the whole table was exported"}
	}
	report = &reader.Report{Format: ".sav file", Notes: []reader.Remark{}, About: s.about}
	if err := s.rows(ctx, report, options); err != nil {
		return nil, nil, err
	}
	all := &variables{report: report}
	for _, f := range s.fields {
		all.list = append(all.list, f.variable)
	}
	if _, _, unknown := reader.Letters(nil, s.letters); unknown != nil {
		s.letters = "" // found out, as where the file says none
	}
	if options.Encoding != "" {
		s.letters = options.Encoding
	}
	t, err = all.table(ctx, s.letters, options)
	return t, report, err
}

// header takes the order of bytes, how rows are packed, and how many there are.
func (s *savFile) header() {
	s.bytes(4 + 60)
	if layout := s.bytes(4); layout[0] == 0 && layout[3] != 0 {
		s.order = binary.BigEndian
	}
	s.bytes(4) // pieces of a row, which not all programs say rightly
	s.packing = s.whole(4)
	s.bytes(4)
	s.said = int(int32(s.number(4)))
	s.bias = math.Float64frombits(s.number(8))
	s.bytes(9 + 8)
	s.about = strings.ToValidUTF8(s.words(64), "\uFFFD")
	s.bytes(3)
	s.gap = math.Float64bits(-math.MaxFloat64)
	if s.packing > 2 {
		panic(brokenPart{"its rows are packed in a way that is not known"})
	}
}

// dictionary takes the records until the rows begin.
func (s *savFile) dictionary(most int) error {
	for {
		switch record := s.whole(4); record {
		case savVariable:
			s.variable()
			if len(s.fields) > 4*most { // segments of long texts count as well, until they are put together
				return reader.TooWide("file", len(s.fields), most)
			}
		case savNames:
			s.names()
		case savNamesOf:
			for range s.whole(4) {
				s.named(s.whole(4) - 1)
			}
			s.pending = nil
		case savDocument:
			s.bytes(80 * s.whole(4))
		case savExtension:
			kind, size := s.whole(4), s.whole(4)
			count := s.whole(4)
			if size > 0 && count > len(s.raw)/size {
				panic(brokenPart{"a part reaches beyond its end"})
			}
			s.extension(kind, s.bytes(size*count))
		case savDictionary:
			s.bytes(4)
			if len(s.fields) > most {
				return reader.TooWide("file", len(s.fields), most)
			}
			s.fit()
			return nil
		default:
			panic(brokenPart{"its dictionary holds a record of kind " + strconv.Itoa(record)})
		}
	}
}

// fit holds that every variable lies in a row.
func (s *savFile) fit() {
	for _, f := range s.fields {
		for _, part := range append([]*savField{f}, f.further...) {
			if part.piece*savPiece+part.width > s.pieces*savPiece {
				panic(brokenPart{"a text reaches beyond its row"})
			}
		}
	}
}

// variable takes a variable, or a further piece of the one before.
func (s *savFile) variable() {
	width := int(int32(s.number(4)))
	labelled, gaps := s.whole(4), int(int32(s.number(4)))
	shown := int(s.number(4) >> 16 & 0xff)
	s.bytes(4)
	name := s.words(8)
	f := &savField{short: name, piece: s.pieces, width: width, from: math.Inf(1), to: math.Inf(-1)}
	f.variable = &variable{column: &table.Column{Name: name, Kind: table.Number}}
	if labelled != 0 {
		length := s.whole(4)
		f.variable.column.Meaning = string(trimmed(s.bytes(length)))
		s.bytes((4 - length%4) % 4)
	}
	s.gaps(f, gaps)
	s.pieces++
	if width < 0 {
		return
	}
	if width > savSegment {
		panic(brokenPart{"a text is wider than its variable"})
	}
	if how, is := savShown[shown]; is && width == 0 {
		f.variable.column.Kind, f.variable.column.Grain, f.variable.scale = how.kind, how.grain, 1
		if how.kind == table.Date {
			f.variable.epoch = from1582
		}
	}
	if width > 0 {
		f.variable.column.Kind, f.variable.coder = table.Text, table.NewCoder()
	}
	s.begins[f.piece] = len(s.fields)
	s.fields = append(s.fields, f)
}

// gaps takes the values that stand for missing ones: up to three, or a range and up to one.
func (s *savFile) gaps(f *savField, gaps int) {
	if gaps < -3 || gaps > 3 {
		panic(brokenPart{"a variable has values for missing ones that do not fit"})
	}
	if gaps < 0 {
		f.from, f.to = math.Float64frombits(s.number(8)), math.Float64frombits(s.number(8))
		gaps = -gaps - 2
	}
	for range gaps {
		raw := s.bytes(8)
		f.gaps = append(f.gaps, math.Float64frombits(s.bits(raw)))
		f.textGaps = append(f.textGaps, string(trimmed(raw)))
	}
}

// names takes names of values, which stand before the variables that they are of.
func (s *savFile) names() {
	for range s.whole(4) {
		value := s.bytes(8)
		length := s.whole(1)
		name := s.bytes(length)
		s.bytes(7 - length%8)
		s.pending = append(s.pending, savNamed{string(value), string(trimmed(name))})
	}
}

// named gives a variable the names of its values.
func (s *savFile) named(piece int) {
	which, is := s.begins[piece]
	if !is {
		return
	}
	v := s.fields[which].variable
	for _, n := range s.pending {
		if v.coder != nil {
			v.nameText(string(trimmed([]byte(n.value))), n.name)
			continue
		}
		if v.names == nil {
			v.names = map[float64]string{}
		}
		v.names[math.Float64frombits(s.bits([]byte(n.value)))] = n.name
	}
}

// extension takes what newer programs say beside.
func (s *savFile) extension(kind int, raw []byte) {
	switch kind {
	case savEncoding:
		s.letters = strings.ToLower(string(trimmed(raw)))
	case savLongNames:
		for _, pair := range strings.Split(string(trimmed(raw)), "\t") {
			if short, long, is := strings.Cut(pair, "="); is {
				for _, f := range s.fields {
					if f.short == short {
						f.variable.column.Name = long
					}
				}
			}
		}
	case savLongTexts:
		for _, pair := range strings.Split(string(raw), "\t") {
			short, digits, _ := strings.Cut(strings.Trim(pair, "\x00"), "=")
			if width, err := strconv.Atoi(strings.Trim(digits, "\x00 ")); err == nil {
				s.joined(short, width)
			}
		}
	}
}

// joined makes one variable of those that hold the parts of a long text.
func (s *savFile) joined(short string, width int) {
	at := slices.IndexFunc(s.fields, func(f *savField) bool { return f.short == short })
	parts := (width + 251) / 252
	if at < 0 || width <= savSegment || parts > len(s.fields)-at {
		return
	}
	first := s.fields[at]
	first.further = slices.Clone(s.fields[at+1 : at+parts])
	s.fields = slices.Delete(s.fields, at+1, at+parts)
	clear(s.begins)
	for i, f := range s.fields {
		s.begins[f.piece] = i
	}
}

// rows reads the rows, however they are packed.
func (s *savFile) rows(ctx context.Context, report *reader.Report, options reader.Options) error {
	rest := s.raw[s.at:]
	if s.packing == 2 {
		unpacked, err := s.unpacked(rest, options.MaxBytes)
		if err != nil {
			return err
		}
		rest = unpacked
	}
	pieces := &savPieces{rest: rest, file: s}
	row := make([]byte, s.pieces*savPiece)
	done := 0
	for ; s.said < 0 || done < s.said; done++ {
		if done%(1<<12) == 0 {
			if err := ctx.Err(); err != nil {
				return err
			}
			if options.Progress != nil {
				options.Progress(int64(len(rest)-len(pieces.rest)), int64(len(rest)))
			}
		}
		if !pieces.row(row) {
			break
		}
		if tooMany(int64(done)+1, len(s.fields), options.MaxBytes) {
			return reader.TooLarge(options.MaxBytes)
		}
		for _, f := range s.fields {
			s.take(f, row)
		}
	}
	if done == 0 {
		return &reader.Error{Problem: "the file has no rows", Advice: "check that the whole table was exported"}
	}
	if s.said > done {
		report.Note(0, "", "the file says that it has %d rows, and %d are in it: it may have been cut off", s.said, done)
	}
	return nil
}

// unpacked gives the rows of a file whose rows zlib packed, in blocks that say where they stand: these follow each other.
func (s *savFile) unpacked(rest []byte, limit int64) ([]byte, error) {
	if len(rest) < 24 {
		panic(brokenPart{"its rows are not where they should be"})
	}
	var out bytes.Buffer
	for packed := bytes.NewReader(rest[24:]); packed.Len() > 0; {
		block, err := zlib.NewReader(packed)
		if err != nil {
			break // what follows the blocks is their list
		}
		if _, err = io.Copy(&out, io.LimitReader(block, limit+1-int64(out.Len()))); err != nil {
			panic(brokenPart{"a block of its rows cannot be unpacked"})
		}
		if int64(out.Len()) > limit {
			return nil, reader.TooLarge(limit)
		}
	}
	return out.Bytes(), nil
}

// savPieces gives rows, piece by piece.
type savPieces struct {
	rest  []byte
	file  *savFile
	codes []byte // that were not used yet, of the latest eight
}

// row fills in the next row; false: there is none.
func (p *savPieces) row(row []byte) bool {
	if p.file.packing == 0 {
		if len(p.rest) < len(row) {
			return false
		}
		copy(row, p.rest)
		p.rest = p.rest[len(row):]
		return true
	}
	for at := 0; at < len(row); at += savPiece {
		if !p.piece(row[at : at+savPiece]) {
			return false
		}
	}
	return true
}

// piece fills in the next piece: a code is a small number (1 to 251), the end (252), eight bytes written
// out (253), eight blanks (254), a missing number (255), or nothing (0).
func (p *savPieces) piece(into []byte) bool {
	for {
		if len(p.codes) == 0 {
			if len(p.rest) < savPiece {
				return false
			}
			p.codes, p.rest = p.rest[:savPiece], p.rest[savPiece:]
		}
		code := p.codes[0]
		p.codes = p.codes[1:]
		switch code {
		case 0:
			continue
		case 252:
			return false
		case 253:
			if len(p.rest) < savPiece {
				return false
			}
			copy(into, p.rest)
			p.rest = p.rest[savPiece:]
		case 254:
			copy(into, "        ")
		case 255:
			p.put(into, p.file.gap)
		default:
			p.put(into, math.Float64bits(float64(code)-p.file.bias))
		}
		return true
	}
}

func (p *savPieces) put(into []byte, bits uint64) {
	if p.file.order == binary.BigEndian {
		binary.BigEndian.PutUint64(into, bits)
		return
	}
	binary.LittleEndian.PutUint64(into, bits)
}

// take keeps the value that a row has of a variable.
func (s *savFile) take(f *savField, row []byte) {
	raw := row[f.piece*savPiece:]
	if f.width > 0 {
		text := raw[:f.width]
		if len(f.further) > 0 {
			text = slices.Clone(text)
			for _, more := range f.further {
				text = append(text, row[more.piece*savPiece:][:more.width]...)
			}
		}
		if short := string(trimmed(text)); short != "" && slices.Contains(f.textGaps, short) {
			f.variable.missingText(short)
			return
		}
		f.variable.text(text)
		return
	}
	bits := s.bits(raw[:savPiece])
	v := math.Float64frombits(bits)
	switch {
	case bits == s.gap:
		f.variable.number(math.NaN(), "")
	case v >= f.from && v <= f.to || slices.Contains(f.gaps, v):
		f.variable.number(math.NaN(), savCode(f.variable, v))
	default:
		f.variable.number(v, "")
	}
}

// savCode is what a value that stands for a missing one is called: its number, with its name where it has one.
func savCode(v *variable, value float64) string {
	code := strconv.FormatFloat(value, 'g', -1, 64)
	if name := v.names[value]; name != "" {
		code += " " + name
	}
	return code
}
