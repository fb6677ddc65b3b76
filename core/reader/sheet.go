package reader

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/xml"
	"errors"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/table"
)

// sheetCells are what a sheet holds, row by row; the texts stand one after the other in
// one piece of memory.
type sheetCells struct {
	rows   []sheetRow
	cells  []cell
	texts  []byte
	left   int    // the first column that holds anything
	right  int    // the one behind the last
	faults Report // cells that hold an error
}

type sheetRow struct {
	number   int // as in the spreadsheet, from 1
	from, to int // in cells
}

type cell struct {
	column   int
	from, to int // in texts
}

// The edges of a sheet (ECMA-376 leaves them open; all known programs keep to them).
const (
	maxSheetRows    = 1 << 20
	maxSheetColumns = 1 << 14
)

// beyondSheet is the error of a sheet with more rows, or columns, than those.
func beyondSheet(row int, what string) error {
	return &Error{Line: row, Problem: "the sheet has more " + what + " than a spreadsheet can have",
		Advice: "save it again and bring the new file"}
}

// cutCell is the error of a sheet that ends before its cell does.
func cutCell(row int) error {
	return &Error{Line: row, Problem: "the sheet ends in the middle of a cell", Advice: "save the workbook again and bring the new file"}
}

// cells reads a sheet as it streams by.
func (b *workbook) cells(ctx context.Context, s sheet, options Options) (*sheetCells, error) {
	if s.held != nil {
		return s.held, nil
	}
	content, size, err := b.part(s.part)
	if err != nil {
		return nil, err
	}
	if content == nil {
		return nil, damaged(s.part, errors.New("the sheet is not there"))
	}
	defer func() { _ = content.Close() }()
	r := &sheetReading{
		book:    b,
		decoder: xml.NewDecoder(content),
		out:     &sheetCells{left: maxSheetColumns},
		limit:   int(min(options.MaxBytes, math.MaxInt32*64)),
	}
	for count := 0; ; count++ {
		if count%4096 == 0 {
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			if options.Progress != nil {
				options.Progress(r.decoder.InputOffset(), size*2)
			}
		}
		token, err := r.decoder.RawToken()
		if errors.Is(err, io.EOF) {
			r.endRow()
			r.out.fillMerged(r.merges)
			return r.out, nil
		}
		if err != nil {
			return nil, damaged(s.part, err)
		}
		if e, ok := token.(xml.StartElement); ok {
			if err := r.element(e); err != nil {
				return nil, err
			}
		}
	}
}

type sheetReading struct {
	book    *workbook
	decoder *xml.Decoder
	out     *sheetCells
	row     int
	column  int // behind the last cell
	from    int // of the row in cells
	limit   int // of bytes of text
	merges  []merge
}

func (r *sheetReading) element(e xml.StartElement) error {
	switch e.Name.Local {
	case "row":
		r.endRow()
		r.row++
		if n, err := strconv.Atoi(attribute(e, "r")); err == nil && n >= r.row {
			r.row = n
		}
		if r.row > maxSheetRows {
			return beyondSheet(r.row, "rows")
		}
		r.column, r.from = 0, len(r.out.cells)
	case "mergeCell":
		if m, ok := mergeOf(attribute(e, "ref")); ok && len(r.merges) < mostMerged {
			r.merges = append(r.merges, m)
		}
	case "c":
		if column, ok := columnOf(attribute(e, "r")); ok {
			r.column = column
		}
		if r.column >= maxSheetColumns {
			return beyondSheet(r.row, "columns")
		}
		return r.cell(e)
	}
	return nil
}

func (r *sheetReading) endRow() {
	if len(r.out.cells) > r.from {
		r.out.rows = append(r.out.rows, sheetRow{r.row, r.from, len(r.out.cells)})
		r.from = len(r.out.cells)
	}
}

// columnOf reads the letters of a reference such as BC12; A is 0.
func columnOf(reference string) (int, bool) {
	column := 0
	for i := range len(reference) {
		c := reference[i] &^ 0x20
		if c < 'A' || c > 'Z' {
			return column - 1, i > 0
		}
		column = column*26 + int(c-'A') + 1
		if column > maxSheetColumns {
			return column, true
		}
	}
	return 0, false
}

// cell reads one cell up to its end.
func (r *sheetReading) cell(e xml.StartElement) error {
	kind, style := attribute(e, "t"), 0
	if s := attribute(e, "s"); s != "" {
		style, _ = strconv.Atoi(s)
	}
	value, inline, inValue := []byte(nil), "", false
read:
	for {
		token, err := r.decoder.RawToken()
		if err != nil {
			return cutCell(r.row)
		}
		switch t := token.(type) {
		case xml.StartElement:
			inValue = t.Name.Local == "v"
			if t.Name.Local == "is" {
				if inline, err = elementText(r.decoder, "is"); err != nil {
					return cutCell(r.row)
				}
			}
		case xml.EndElement:
			inValue = false
			if t.Name.Local == "c" {
				break read
			}
		case xml.CharData:
			if inValue {
				value = append(value, t...)
			}
		}
	}
	column := r.column
	r.column++
	from := len(r.out.texts)
	if kind == "inlineStr" {
		r.out.texts = append(r.out.texts, plainText(inline)...)
	} else {
		r.value(kind, style, column, value)
	}
	if len(r.out.texts) > r.limit {
		return TooLarge(int64(r.limit))
	}
	if len(bytes.TrimSpace(r.out.texts[from:])) == 0 {
		r.out.texts = r.out.texts[:from]
		return nil
	}
	r.out.left, r.out.right = min(r.out.left, column), max(r.out.right, column+1)
	r.out.cells = append(r.out.cells, cell{column, from, len(r.out.texts)})
	return nil
}

// value writes what a cell holds the way a delimited text would hold it.
func (r *sheetReading) value(kind string, style, column int, value []byte) {
	text := string(value)
	switch kind {
	case "s":
		text = ""
		if i, err := strconv.Atoi(string(value)); err == nil && i >= 0 && i < len(r.book.strings) {
			text = plainText(r.book.strings[i])
		}
	case "b":
		text = map[string]string{"1": "true", "true": "true", "0": "false", "false": "false"}[string(value)]
	case "e":
		if text != "#N/A" {
			r.out.faults.Note(r.row, "", "cell %s%d holds the error %s and was read as missing", columnLetters(column), r.row, text)
		}
		text = ""
	case "str", "d":
		text = strings.TrimSuffix(plainText(text), "T00:00:00")
	default:
		if style >= 0 && style < len(r.book.dates) && r.book.dates[style] != noDate {
			if serial, err := strconv.ParseFloat(text, 64); err == nil {
				text = serialDate(serial, r.book.from04, r.book.dates[style])
			}
		}
	}
	r.out.texts = append(r.out.texts, text...)
}

// plainText undoes the escapes of characters that XML cannot hold (_x000D_).
func plainText(text string) string {
	if !strings.Contains(text, "_x") {
		return text
	}
	var out strings.Builder
	for i := 0; i < len(text); i++ {
		if i+7 <= len(text) && text[i] == '_' && text[i+1] == 'x' && text[i+6] == '_' {
			if code, err := strconv.ParseUint(text[i+2:i+6], 16, 16); err == nil {
				if code != 0 && code != '\r' {
					out.WriteRune(rune(code))
				}
				i += 6
				continue
			}
		}
		out.WriteByte(text[i])
	}
	return out.String()
}

func columnLetters(column int) string {
	if column < 26 {
		return string(rune('A' + column))
	}
	return columnLetters(column/26-1) + string(rune('A'+column%26))
}

// serialDate writes a day number of a spreadsheet as ISO 8601. Day 1 is 1900-01-01;
// day 60, the 29th of February 1900 that never was, is taken as the day before
// March (spreadsheets copied that slip from each other). From 1904, day 0 is
// 1904-01-01.
func serialDate(serial float64, from04 bool, style dateStyle) string {
	if math.IsNaN(serial) || serial < 0 || serial > 2_958_466 { // the year 9999
		return strconv.FormatFloat(serial, 'g', -1, 64)
	}
	days := serial - 25_569
	if from04 {
		days += 1462
	} else if serial < 60 {
		days++
	}
	seconds := math.Round(days * 86_400)
	if style == timeAlone && serial < 1 {
		return table.FormatDate(seconds, table.Second)[11:]
	}
	if math.Mod(seconds, 86_400) == 0 {
		return table.FormatDate(seconds, table.Day)
	}
	return table.FormatDate(seconds, table.Second)
}

// table makes a table of the cells from the title row on. Kinds are inferred as for
// delimited text; lines in notes are rows of the sheet.
func (c *sheetCells) table(ctx context.Context, options Options) (*table.Table, *Report, error) {
	if len(c.rows) == 0 {
		return nil, nil, &Error{Problem: "the sheet holds nothing", Advice: "choose another sheet"}
	}
	width := c.right - c.left
	if width > options.MaxColumns {
		return nil, nil, TooWide("sheet", width, options.MaxColumns)
	}
	if cells := len(c.rows) * width; cells > 0 {
		if err := nearlyBlank(cells, len(c.texts)+cells); err != nil {
			return nil, nil, err
		}
	}
	title := options.TitleRow
	if title == 0 {
		title = c.guessTitleRow(width)
	}
	joined := options.TitleRow == 0 && c.joinTitles(title, width)
	text, lines, err := c.delimited(ctx, title, options.MaxBytes)
	if err != nil {
		return nil, nil, err
	}
	inner := options
	inner.Separator, inner.Decimal, inner.TitleRow, inner.Progress = ',', '.', 1, nil
	if title < 0 {
		inner.TitleRow = -1
	}
	t, report, err := readPlaced(ctx, text, lines, inner)
	if err != nil {
		return nil, nil, err
	}
	report.TitleRow = title
	if joined {
		report.Note(title-1, "", "these titles stand over several columns and were put before the ones below them")
	}
	report.join(&c.faults)
	return t, report, nil
}

// joinTitles puts titles that stand over several columns, in the row above the titles, before these.
func (c *sheetCells) joinTitles(title, width int) bool {
	at := slices.IndexFunc(c.rows, func(r sheetRow) bool { return r.number == title })
	if at < 1 || c.rows[at-1].number != title-1 {
		return false
	}
	records := make([]record, 2)
	for i := range records {
		row := c.rows[at-1+i]
		records[i].fields = make([]string, width)
		for _, one := range c.cells[row.from:row.to] {
			records[i].fields[one.column-c.left] = string(c.texts[one.from:one.to])
		}
	}
	upper := upperTitles(records, 1, width, '.')
	if upper == nil {
		return false
	}
	from := len(c.cells)
	for i, name := range joinTitles(upper, records[1].fields) {
		if name == "" {
			continue
		}
		start := len(c.texts)
		c.texts = append(c.texts, name...)
		c.cells = append(c.cells, cell{c.left + i, start, len(c.texts)})
	}
	c.rows[at].from, c.rows[at].to = from, len(c.cells)
	return true
}

// guessTitleRow is the first row with cells in four of five columns, or else the
// widest of the first thousand: what stands above a table is narrower than it.
func (c *sheetCells) guessTitleRow(width int) int {
	best, most := c.rows[0].number, 0
	for _, row := range c.rows[:min(len(c.rows), sampleRecords)] {
		filled := row.to - row.from
		if 5*filled >= 4*width {
			return row.number
		}
		if filled > most {
			best, most = row.number, filled
		}
	}
	return best
}

// delimited writes rows from the title row on as delimited text; lines says which
// row of the sheet each line of it is.
func (c *sheetCells) delimited(ctx context.Context, title int, limit int64) (text []byte, lines []int, err error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	record := make([]string, c.right-c.left)
	for i, row := range c.rows {
		if i%4096 == 0 && ctx.Err() != nil {
			return nil, nil, ctx.Err()
		}
		if row.number < title {
			continue
		}
		clear(record)
		breaks := 0
		for _, one := range c.cells[row.from:row.to] {
			value := string(c.texts[one.from:one.to])
			record[one.column-c.left] = value
			breaks += strings.Count(value, "\n")
		}
		if err := w.Write(record); err != nil {
			return nil, nil, err
		}
		for range breaks + 1 {
			lines = append(lines, row.number)
		}
		if int64(out.Len()) > limit {
			return nil, nil, TooLarge(limit)
		}
	}
	w.Flush()
	return out.Bytes(), lines, w.Error()
}
