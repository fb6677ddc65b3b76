package reader

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/table"
)

// A workbook is an Office Open XML spreadsheet (ECMA-376, .xlsx), or an OpenDocument one (opendocument.go). It is read cell by
// cell as it streams by: what a cell holds, not what its format shows of it, so that
// no decimals are lost; the format decides alone whether a number is a date.

// workbook is what must be known before a sheet can be read.
type workbook struct {
	parts   map[string]*zip.File
	sheets  []sheet
	strings []string
	dates   []dateStyle // by cell style
	from04  bool        // days are counted from 1904
	limit   int64       // of bytes to be unpacked
	left    int64       // of them
}

type sheet struct {
	name, part string
	hidden     bool
	held       *sheetCells // where all sheets are read at once
}

type dateStyle int

const (
	noDate dateStyle = iota
	dateAndTime
	timeAlone
)

// ReadWorkbook reads one sheet of a workbook: the one that is asked for, or the
// first one that is shown and holds something. Its title row is the first that is
// nearly as wide as the table.
func ReadWorkbook(ctx context.Context, raw []byte, options Options) (*table.Table, *Report, error) {
	options = options.WithDefaults()
	book, err := openWorkbook(ctx, raw, options)
	if err != nil {
		return nil, nil, err
	}
	var names []string
	for _, s := range book.sheets {
		names = append(names, s.name)
	}
	if options.Sheet != "" && !slices.Contains(names, options.Sheet) {
		return nil, nil, &Error{
			Problem: fmt.Sprintf("the workbook has no sheet %q", options.Sheet),
			Advice:  "choose one of " + strings.Join(names, ", "),
		}
	}
	for i, s := range book.sheets {
		if options.Sheet != "" && s.name != options.Sheet || options.Sheet == "" && s.hidden {
			continue
		}
		cells, err := book.cells(ctx, s, options)
		if err != nil {
			return nil, nil, err
		}
		if len(cells.rows) == 0 && options.Sheet == "" {
			continue
		}
		cover := ""
		if options.Sheet == "" {
			behind, name, err := book.behindCover(ctx, cells, i, options)
			if err != nil {
				return nil, nil, err
			}
			if behind != nil {
				cover, cells, s.name = s.name, behind, name
			}
		}
		t, report, err := cells.table(ctx, options)
		if err != nil {
			return nil, nil, err
		}
		if cover != "" {
			report.Note(0, "", "the sheet %q holds no table and was passed over; %q was read", clip(cover), clip(s.name))
		}
		report.Format, report.Sheet, report.Sheets, report.Encoding = "workbook", s.name, names, "workbook"
		return t, report, nil
	}
	return nil, nil, &Error{Problem: "no sheet of the workbook holds anything", Advice: "check that the right file was saved"}
}

// behindCover gives the sheet behind one that looks like a cover, with its name; nil where it is none.
func (b *workbook) behindCover(ctx context.Context, cover *sheetCells, at int, options Options) (*sheetCells, string, error) {
	if len(cover.cells) >= mostCover {
		return nil, "", nil
	}
	for _, s := range b.sheets[at+1:] {
		if s.hidden {
			continue
		}
		cells, err := b.cells(ctx, s, options)
		if err != nil {
			return nil, "", err
		}
		if cover.isCover(len(cells.cells)) && cells.right-cells.left > 1 {
			return cells, s.name, nil
		}
	}
	return nil, "", nil
}

func openWorkbook(ctx context.Context, raw []byte, options Options) (*workbook, error) {
	archive, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return nil, &Error{Problem: "the workbook is damaged: " + err.Error(), Advice: "save it again and bring the new file"}
	}
	b := &workbook{parts: map[string]*zip.File{}, limit: options.MaxBytes, left: options.MaxBytes}
	for _, f := range archive.File {
		name := strings.ToLower(strings.TrimPrefix(f.Name, "/"))
		b.parts[name] = f
		switch {
		case strings.HasSuffix(name, "vbaproject.bin"):
			return nil, &Error{Problem: "the workbook holds macros", Advice: "save it without them, as .xlsx"}
		case strings.HasPrefix(name, "xl/externallinks/"):
			return nil, &Error{
				Problem: "the workbook takes values from other files",
				Advice:  "replace those formulas by their values, and save it again",
			}
		}
	}
	if b.parts["xl/workbook.xml"] == nil && b.parts[documentPart] != nil {
		return b, b.readDocument(ctx, options)
	}
	if b.parts["xl/workbook.xml"] == nil {
		return nil, notAWorkbook(b.parts)
	}
	for _, read := range []func() error{b.readSheets, b.readStyles, b.readStrings} {
		if err := read(); err != nil {
			return nil, err
		}
	}
	return b, nil
}

func notAWorkbook(parts map[string]*zip.File) error {
	switch {
	case parts["xl/workbook.bin"] != nil:
		return &Error{Problem: "this is a binary workbook (.xlsb)", Advice: "save it as .xlsx or as CSV"}
	case parts["word/document.xml"] != nil:
		return &Error{Problem: "this is a text document", Advice: "copy its table into a spreadsheet, or paste it on the front page"}
	}
	return &Error{Problem: "this is an archive of files, not a table", Advice: "unpack it and bring the table itself"}
}

// part opens one part, which is unpacked as it is read; nil when there is none. All parts
// together stay within the limit, whatever the archive says of their sizes.
func (b *workbook) part(name string) (io.ReadCloser, int64, error) {
	f := b.parts[strings.ToLower(strings.TrimPrefix(name, "/"))]
	if f == nil {
		return nil, 0, nil
	}
	stream, err := f.Open()
	if err != nil {
		return nil, 0, damaged(name, err)
	}
	return &partReader{stream, b}, int64(f.UncompressedSize64), nil
}

// partReader counts what is unpacked against the limit of the workbook.
type partReader struct {
	io.ReadCloser
	book *workbook
}

func (p *partReader) Read(into []byte) (int, error) {
	n, err := p.ReadCloser.Read(into)
	if p.book.left -= int64(n); p.book.left < 0 {
		return 0, TooLarge(p.book.limit)
	}
	return n, err
}

func damaged(part string, err error) error {
	var refused *Error
	if errors.As(err, &refused) {
		return refused
	}
	return &Error{Problem: fmt.Sprintf("the workbook is damaged in %s: %v", part, err), Advice: "save it again and bring the new file"}
}

// eachElement calls visit with every start element of a part.
func (b *workbook) eachElement(name string, visit func(d *xml.Decoder, e xml.StartElement) error) error {
	content, _, err := b.part(name)
	if err != nil || content == nil {
		return err
	}
	defer func() { _ = content.Close() }()
	d := xml.NewDecoder(content)
	for {
		token, err := d.RawToken()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return damaged(name, err)
		}
		if e, ok := token.(xml.StartElement); ok {
			if err := visit(d, e); err != nil {
				return err
			}
		}
	}
}

func attribute(e xml.StartElement, name string) string {
	for _, a := range e.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

// relationID is the attribute r:id; sheets have another attribute without a prefix
// that is called sheetId.
func relationID(e xml.StartElement) string {
	for _, a := range e.Attr {
		if a.Name.Local == "id" && a.Name.Space != "" {
			return a.Value
		}
	}
	return ""
}

func (b *workbook) readSheets() error {
	targets := map[string]string{}
	err := b.eachElement("xl/_rels/workbook.xml.rels", func(_ *xml.Decoder, e xml.StartElement) error {
		if e.Name.Local == "Relationship" && strings.HasSuffix(attribute(e, "Type"), "/worksheet") {
			target := attribute(e, "Target")
			if !strings.HasPrefix(target, "/") {
				target = path.Join("xl", target)
			}
			targets[attribute(e, "Id")] = target
		}
		return nil
	})
	if err != nil {
		return err
	}
	err = b.eachElement("xl/workbook.xml", func(_ *xml.Decoder, e xml.StartElement) error {
		switch e.Name.Local {
		case "workbookPr":
			value := attribute(e, "date1904")
			b.from04 = value == "1" || value == "true"
		case "sheet":
			if target := targets[relationID(e)]; target != "" {
				b.sheets = append(
					b.sheets,
					sheet{name: attribute(e, "name"), part: target, hidden: strings.Contains(strings.ToLower(attribute(e, "state")), "hidden")},
				)
			}
		}
		return nil
	})
	if err == nil && len(b.sheets) == 0 {
		return &Error{Problem: "the workbook has no sheets of cells", Advice: "check that the right file was saved"}
	}
	return err
}

// readStyles finds out which cell styles show a number as a date.
func (b *workbook) readStyles() error {
	custom := map[int]string{}
	inCells := false
	return b.eachElement("xl/styles.xml", func(_ *xml.Decoder, e xml.StartElement) error {
		id, _ := strconv.Atoi(attribute(e, "numFmtId"))
		switch e.Name.Local {
		case "numFmt":
			custom[id] = attribute(e, "formatCode")
		case "cellXfs":
			inCells = true
		case "cellStyles", "dxfs":
			inCells = false
		case "xf":
			if inCells {
				style := builtInDate(id)
				if code, known := custom[id]; known {
					style = dateFormat(code)
				}
				b.dates = append(b.dates, style)
			}
		}
		return nil
	})
}

// builtInDate is the kind of the number formats that need no code (ECMA-376 part 1,
// 18.8.30).
func builtInDate(id int) dateStyle {
	switch {
	case id == 18 || id == 19 || id == 20 || id == 21 || id == 45 || id == 47:
		return timeAlone
	case id >= 14 && id <= 22 || id >= 27 && id <= 36 || id >= 50 && id <= 58:
		return dateAndTime
	}
	return noDate
}

// dateFormat reads a number format: letters of dates outside quotes and brackets
// make it one. Elapsed time, [h]:mm, stays a number of days.
func dateFormat(code string) dateStyle {
	code, _, _ = strings.Cut(strings.ToLower(code), ";")
	day, clock := false, false
	for i := 0; i < len(code); i++ {
		switch code[i] {
		case '"':
			if end := strings.IndexByte(code[i+1:], '"'); end >= 0 {
				i += end + 1
			}
		case '\\', '_', '*':
			i++
		case '[':
			end := strings.IndexByte(code[i:], ']')
			if end < 0 {
				return noDate
			}
			if strings.Trim(code[i+1:i+end], "hms") == "" && end > 1 {
				return noDate
			}
			i += end
		case 'd', 'y':
			day = true
		case 'h', 's':
			clock = true
		case 'm': // a month, unless it stands beside hours or seconds
			if !strings.ContainsAny(code, "hs") {
				day = true
			}
		}
	}
	if strings.HasPrefix(code, "general") {
		return noDate
	}
	switch {
	case day:
		return dateAndTime
	case clock:
		return timeAlone
	}
	return noDate
}

// readStrings reads the texts that cells share; what is written above a text to say
// how it is spoken (rPh) does not belong to it.
func (b *workbook) readStrings() error {
	return b.eachElement("xl/sharedStrings.xml", func(d *xml.Decoder, e xml.StartElement) error {
		if e.Name.Local != "si" {
			return nil
		}
		text, err := elementText(d, "si")
		if err != nil {
			return damaged("xl/sharedStrings.xml", err)
		}
		b.strings = append(b.strings, text)
		return nil
	})
}

// elementText puts the t elements inside an element together, up to its end.
func elementText(d *xml.Decoder, end string) (string, error) {
	var text []byte
	inText, spoken := false, 0
	for {
		token, err := d.RawToken()
		if err != nil {
			return "", err
		}
		switch e := token.(type) {
		case xml.StartElement:
			inText = e.Name.Local == "t"
			if e.Name.Local == "rPh" {
				spoken++
			}
		case xml.EndElement:
			inText = false
			switch e.Name.Local {
			case "rPh":
				spoken--
			case end:
				return string(text), nil
			}
		case xml.CharData:
			if inText && spoken == 0 {
				text = append(text, e...)
			}
		}
	}
}
