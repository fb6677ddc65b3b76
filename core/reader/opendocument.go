package reader

import (
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"unsafe"

	"copperlark/core/table"
)

// An OpenDocument spreadsheet (ISO/IEC 26300, OASIS OpenDocument 1.3, part 3, .ods) holds all its sheets in one part, content.xml.
// It is read as it streams by, once; what a cell holds counts, not what is shown of it. Cells and rows can be repeated by a number:
// what they come to in memory is counted before they are made.

// documentPart is where the sheets are, and documentKeys where it is said whether there is a password.
const (
	documentPart = "content.xml"
	documentKeys = "meta-inf/manifest.xml"
	mostKeys     = 1 << 20 // bytes of documentKeys that are looked at
)

// documentReading is a spreadsheet while it streams by.
type documentReading struct {
	decoder *xml.Decoder
	book    *workbook
	style   string          // that is described
	hidden  map[string]bool // styles of sheets that are not shown
	inside  bool            // of the spreadsheet
	deep    int             // tables in cells
	out     *sheetCells     // of the sheet that is read; nil between two
	merges  []merge
	row     int // the number of the one that is read
	repeats int // how often it stands there
	column  int // behind the last cell
	from    int // of the row in cells
	spent   int64
	limit   int64
}

// readDocument reads all sheets of a spreadsheet.
func (b *workbook) readDocument(ctx context.Context, options Options) error {
	if err := b.openDocument(); err != nil {
		return err
	}
	content, size, err := b.part(documentPart)
	if err != nil {
		return err
	}
	defer func() { _ = content.Close() }()
	r := &documentReading{decoder: xml.NewDecoder(content), book: b, hidden: map[string]bool{}, limit: options.MaxBytes}
	for count := 0; ; count++ {
		if count%4096 == 0 {
			if err := ctx.Err(); err != nil {
				return err
			}
			if options.Progress != nil {
				options.Progress(r.decoder.InputOffset(), size*2)
			}
		}
		token, err := r.decoder.RawToken()
		if errors.Is(err, io.EOF) && r.out == nil {
			break
		}
		if err != nil {
			return damaged(documentPart, err)
		}
		switch t := token.(type) {
		case xml.StartElement:
			err = r.begins(t)
		case xml.EndElement:
			err = r.ends(t)
		}
		if err != nil {
			return err
		}
	}
	if len(b.sheets) == 0 {
		return &Error{Problem: "this OpenDocument file has no sheets",
			Advice: "bring a spreadsheet, or copy its table and paste it on the front page"}
	}
	return nil
}

// openDocument refuses what cannot be read.
func (b *workbook) openDocument() error {
	for name := range b.parts {
		if strings.HasPrefix(name, "basic/") && strings.HasSuffix(name, ".xml") {
			return &Error{Problem: "the workbook holds macros", Advice: "save it without them"}
		}
	}
	keys, _, err := b.part(documentKeys)
	if err != nil || keys == nil {
		return err
	}
	defer func() { _ = keys.Close() }()
	said, err := io.ReadAll(io.LimitReader(keys, mostKeys))
	if err != nil {
		return damaged(documentKeys, err)
	}
	if bytes.Contains(said, []byte("encryption-data")) {
		return &Error{Problem: "the workbook has a password", Advice: "save it without one"}
	}
	return nil
}

func (r *documentReading) begins(e xml.StartElement) error {
	switch {
	case e.Name.Local == "spreadsheet":
		r.inside = true
	case e.Name.Local == "style":
		r.style = attribute(e, "name")
	case e.Name.Local == "table-properties":
		if attribute(e, "display") == "false" {
			r.hidden[r.style] = true
		}
	case e.Name.Local == "dde-links": // tables of other programs
		r.inside = false
	case !r.inside:
	case e.Name.Local == "table" && r.out != nil:
		r.deep++
	case e.Name.Local == "table":
		r.out, r.merges, r.row, r.from = &sheetCells{left: maxSheetColumns}, nil, 0, 0
		r.book.sheets = append(r.book.sheets,
			sheet{name: attribute(e, "name"), hidden: r.hidden[attribute(e, "style-name")], held: r.out})
		return r.spend(1, unsafe.Sizeof(sheet{})+unsafe.Sizeof(sheetCells{}))
	case r.out == nil || r.deep > 0:
	case e.Name.Local == "table-row":
		r.repeats, r.column, r.from = repeated(e, "number-rows-repeated"), 0, len(r.out.cells)
	case e.Name.Local == "table-cell":
		return r.cell(e)
	case e.Name.Local == "covered-table-cell": // what is merged with another one may hold what is not shown
		r.column += repeated(e, "number-columns-repeated")
		return r.skip(e.Name.Local)
	}
	return nil
}

func (r *documentReading) ends(e xml.EndElement) error {
	switch {
	case e.Name.Local == "spreadsheet":
		r.inside = false
	case e.Name.Local == "dde-links":
		r.inside = true
	case e.Name.Local == "table" && r.deep > 0:
		r.deep--
	case e.Name.Local == "table" && r.out != nil:
		r.out.fillMerged(r.merges)
		r.out = nil
	case e.Name.Local == "table-row" && r.out != nil && r.deep == 0:
		return r.endRow()
	}
	return nil
}

// spend counts what so many things of a size take.
func (r *documentReading) spend(count int, size uintptr) error {
	if r.spent += int64(count) * int64(size); r.spent > r.limit {
		return TooLarge(r.limit)
	}
	return nil
}

// endRow keeps a row as often as it stands there; the rows share their cells, until those that are merged are filled.
func (r *documentReading) endRow() error {
	first := r.row + 1
	r.row += r.repeats
	if len(r.out.cells) == r.from {
		return nil
	}
	if r.row > maxSheetRows {
		return beyondSheet(r.row, "rows")
	}
	each := unsafe.Sizeof(sheetRow{}) + uintptr(len(r.out.cells)-r.from)*unsafe.Sizeof(cell{})
	if err := r.spend(r.repeats, each); err != nil {
		return err
	}
	for number := first; number <= r.row; number++ {
		r.out.rows = append(r.out.rows, sheetRow{number, r.from, len(r.out.cells)})
	}
	return nil
}

// cell reads one cell up to its end, and keeps it as often as it stands there.
func (r *documentReading) cell(e xml.StartElement) error {
	shown, err := r.text(e.Name.Local)
	if err != nil {
		return err
	}
	column, count := r.column, repeated(e, "number-columns-repeated")
	r.column += count
	value := r.value(e, shown, column)
	if strings.TrimSpace(value) == "" {
		return nil
	}
	if r.column > maxSheetColumns {
		return beyondSheet(r.row+1, "columns")
	}
	if err := errors.Join(r.spend(count, unsafe.Sizeof(cell{})), r.spend(1, uintptr(len(value)))); err != nil {
		return TooLarge(r.limit)
	}
	if below := repeated(e, "number-rows-spanned"); below > 1 && len(r.merges) < mostMerged {
		r.merges = append(r.merges, merge{r.row + 1, column, min(r.row+below, maxSheetRows), column})
	}
	from := len(r.out.texts)
	r.out.texts = append(r.out.texts, value...)
	for at := column; at < r.column; at++ {
		r.out.cells = append(r.out.cells, cell{at, from, len(r.out.texts)})
	}
	r.out.left, r.out.right = min(r.out.left, column), max(r.out.right, r.column)
	return nil
}

// value is what a cell holds, the way a delimited text would hold it.
func (r *documentReading) value(e xml.StartElement, shown string, column int) string {
	if prefixed(e, "calcext", "value-type") == "error" ||
		prefixed(e, "table", "formula") != "" && (strings.HasPrefix(shown, "#") || strings.HasPrefix(shown, "Err:")) {
		if shown != "#N/A" {
			r.out.faults.Note(r.row+1, "", "cell %s%d holds the error %s and was read as missing", columnLetters(column), r.row+1, clip(shown))
		}
		return ""
	}
	switch prefixed(e, "office", "value-type") {
	case "float", "percentage", "currency":
		return prefixed(e, "office", "value")
	case "date":
		day, clock, _ := strings.Cut(strings.TrimSuffix(prefixed(e, "office", "date-value"), "T00:00:00"), "T")
		if whole, fraction, _ := strings.Cut(clock, "."); strings.Trim(fraction, "0") == "" {
			clock = whole
		}
		return strings.TrimSpace(day + " " + clock)
	case "time":
		return clockOf(prefixed(e, "office", "time-value"))
	case "boolean":
		return prefixed(e, "office", "boolean-value")
	case "string":
		if said := prefixed(e, "office", "string-value"); said != "" {
			return said
		}
	}
	return shown
}

// clockOf writes a duration of XML Schema as a clock shows it, to the second: PT36H00M05S as 36:00:05. What is none stays as it is.
func clockOf(said string) string {
	duration, form := table.ParseDuration(said)
	if form != table.ISODuration || duration < 0 {
		return said
	}
	seconds := int64(duration + 0.5)
	return fmt.Sprintf("%02d:%02d:%02d", seconds/3600, seconds/60%60, seconds%60)
}

// text gathers the paragraphs of a cell up to its end; remarks and tables in it are passed over.
func (r *documentReading) text(end string) (string, error) {
	var out strings.Builder
	paragraphs, inside := 0, 0
	for {
		token, err := r.decoder.RawToken()
		if err != nil {
			return "", cutCell(r.row + 1)
		}
		switch t := token.(type) {
		case xml.StartElement:
			switch t.Name.Local {
			case "annotation", "table", "shapes":
				if err := r.skip(t.Name.Local); err != nil {
					return "", err
				}
			case "p":
				if inside++; paragraphs > 0 {
					out.WriteByte('\n')
				}
				paragraphs++
			case "s":
				out.WriteString(strings.Repeat(" ", min(repeated(t, "c"), 1000)))
			case "tab":
				out.WriteByte('\t')
			case "line-break":
				out.WriteByte('\n')
			}
		case xml.EndElement:
			if t.Name.Local == end {
				return out.String(), nil
			}
			if t.Name.Local == "p" {
				inside--
			}
		case xml.CharData:
			if inside > 0 {
				out.Write(t)
			}
		}
		if int64(out.Len()) > r.limit {
			return "", TooLarge(r.limit)
		}
	}
}

// skip passes over an element that has begun.
func (r *documentReading) skip(name string) error {
	for deep := 1; deep > 0; {
		token, err := r.decoder.RawToken()
		if err != nil {
			return cutCell(r.row + 1)
		}
		switch t := token.(type) {
		case xml.StartElement:
			if t.Name.Local == name {
				deep++
			}
		case xml.EndElement:
			if t.Name.Local == name {
				deep--
			}
		}
	}
	return nil
}

// repeated is how often something stands there, 1 where nothing is said; no more than a sheet has room for and one.
func repeated(e xml.StartElement, name string) int {
	n, err := strconv.Atoi(attribute(e, name))
	if err != nil || n < 1 {
		return 1
	}
	return min(n, maxSheetRows+1)
}

// prefixed gives an attribute by its prefix, which all known programs write as the standard does.
func prefixed(e xml.StartElement, prefix, name string) string {
	for _, a := range e.Attr {
		if a.Name.Space == prefix && a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}
