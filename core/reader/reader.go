// Package reader turns delimited text, text in columns, or JSON into a table: it finds out the encoding,
// the separator, the title row, the decimal mark and the kind of each column,
// and says what it found and what it could not read, by line.
//
// The format is the CSV of RFC 4180, read generously: the separator may be a
// comma, semicolon, tab or bar; lines may end in LF, CRLF or CR; a field in
// double quotes may hold separators, line breaks and doubled quotes; rows may
// be too short (the rest is missing) or too long (what is too much is
// reported); names may be empty or repeated (they are made different, and the
// report says so). Encodings are told by the letters that they give.
// A text is read in steps: decode, normalize (what is no row is taken out, blanks become
// separators), guessLayout (separator, titles, units), and walks over the columns.
//
// Missing is an empty field or one of NA, N/A, #N/A, NaN, null, a lone hyphen,
// dash or point; in columns of numbers and dates also the marks of missingMarks. Numbers may carry a thousands mark, a currency sign or a
// percent sign; the sign becomes the unit and the number stays as written
// (25 % is 25). Kinds are inferred from all rows, not from the first ones.
//
// Workbooks (.xlsx, .ods) and logs (LAS 2.0) are read too; see ReadWorkbook and readLAS.
package reader

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"copperlark/core/table"
)

// Error says why a file cannot be read, where, and what to do about it.
type Error struct {
	Line    int    // 1 for the first line; 0 where no line is to blame
	Column  string // "" where no column is to blame
	Problem string
	Advice  string
}

func (e *Error) Error() string {
	where := ""
	if e.Line > 0 {
		where = fmt.Sprintf("line %d: ", e.Line)
		if e.Column != "" {
			where = fmt.Sprintf("line %d, column %s: ", e.Line, e.Column)
		}
	}
	return where + e.Problem
}

// Options are what a person may set instead of leaving it to be found out.
// The zero value finds out everything.
type Options struct {
	Separator byte     // 0: found out
	TitleRow  int      // 1 is the first row of the file; 0: found out; -1: there is none
	Decimal   byte     // '.' or ','; 0: found out
	Encoding  string   // by its name; empty: found out
	Sheet     string   // of a workbook; empty: the first that is shown and holds something
	Keep      []string // the columns to keep, by name; empty: all
	KeepBelow bool     // keeps lines under the table as rows
	LeaveSum  bool     // leaves out rows that sum up others

	As         map[string]string // one of Readings, by the name of the column
	MonthFirst bool              // of dates that can be read two ways

	MaxBytes   int64 `json:"-"` // of the unpacked file; 0: DefaultMaxBytes
	MaxColumns int   `json:"-"` // 0: DefaultMaxColumns

	Progress func(done, total int64) `json:"-"` // called from time to time; may be nil

	records  bool // a row may be blank
	measured bool // numbers stay numbers: 0 and 1 are no yes / no, years no groups
	stretch  int  // bytes from which a text is cut into parts; 0: parallelBytes
}

// WithDefaults fills in the limits that are not set.
func (o Options) WithDefaults() Options {
	if o.MaxBytes <= 0 {
		o.MaxBytes = DefaultMaxBytes
	}
	if o.MaxColumns <= 0 {
		o.MaxColumns = DefaultMaxColumns
	}
	return o
}

// TooLarge is the error of a file that unpacks to more than the limit.
func TooLarge(limit int64) error {
	return &Error{Problem: fmt.Sprintf("the unpacked table is larger than %d MB, the limit for one file", limit>>20),
		Advice: "split the file, or ask whoever runs this server to raise LARK_MAX_FILE_MB"}
}

// TooWide is the error of a file with more columns than the limit.
func TooWide(what string, columns, limit int) error {
	return &Error{Line: 1, Problem: fmt.Sprintf("the %s has %d columns; the limit is %d", what, columns, limit),
		Advice: "leave out columns, turn the table so that rows become columns, or ask whoever runs this server to raise LARK_MAX_COLUMNS"}
}

// The default limits.
const (
	DefaultMaxBytes   = 1 << 30
	DefaultMaxColumns = 2000
)

// Remark is something in the file that was read otherwise than it stands there.
type Remark struct {
	Line    int     `json:"line,omitempty"`
	Column  string  `json:"column,omitempty"`
	Message string  `json:"message"`
	Offers  []Offer `json:"offers,omitempty" enum:"text,number,limit,half,month first,day first,date,gap,value,bare,unnamed,keep below,leave sum" doc:"how else it can be read"`
}

// Offer is another way of reading what a note tells of, which an option asks for.
type Offer string

// The offers: what each asks for is the option of that name.
const (
	OfferText    Offer = "text"
	OfferNumber  Offer = "number"
	OfferLimit   Offer = "limit" // numbers, and <0.1 as 0.1
	OfferHalf    Offer = "half"  // numbers, and <0.1 as 0.05
	OfferMonth   Offer = "month first"
	OfferDay     Offer = "day first"
	OfferDate    Offer = "date"
	OfferGap     Offer = "gap"     // what may stand for a missing value is one
	OfferValue   Offer = "value"   // it is none
	OfferBare    Offer = "bare"    // a unit stays a part of the name
	OfferUnnamed Offer = "unnamed" // numbers stay, whose values have names
	OfferBelow   Offer = "keep below"
	OfferSum     Offer = "leave sum"
)

// Readings are the ways in which a column can be wanted read.
var Readings = []Offer{OfferText, OfferNumber, OfferLimit, OfferHalf, OfferDate, OfferGap, OfferValue, OfferBare, OfferUnnamed}

// Report says how a file was read.
type Report struct {
	Format    string   `json:"format"` // delimited text, JSON, LAS, workbook, Parquet, Arrow
	Encoding  string   `json:"encoding"`
	Separator string   `json:"separator"`
	Divided   string   `json:"divided,omitempty"` // by blanks, runs of blanks or fixed widths, where no separator divides
	Decimal   string   `json:"decimal"`
	TitleRow  int      `json:"title_row"`        // -1: the file has none
	Sheet     string   `json:"sheet,omitempty"`  // of a workbook
	Sheets    []string `json:"sheets,omitempty"` // those there are
	About     string   `json:"about,omitempty"`  // what the file says of itself
	Drawn     string   `json:"drawn,omitempty"`  // which rows of a larger table these are; empty: all that there were
	Notes     []Remark `json:"notes"`            // the first maxNotes
	NoteCount int      `json:"note_count"`
}

const maxNotes = 50

// Note tells of something that was read otherwise than it stands in the file; the
// first maxNotes are kept, and all are counted.
func (r *Report) Note(line int, column, format string, arguments ...any) {
	r.NoteCount++
	if len(r.Notes) < maxNotes {
		r.Notes = append(r.Notes, Remark{Line: line, Column: column, Message: fmt.Sprintf(format, arguments...)})
	}
}

// inOrder puts the notes in the order of the lines that they are of; those of all lines
// stand last.
func (r *Report) inOrder() {
	if r == nil {
		return
	}
	slices.SortStableFunc(r.Notes, func(a, b Remark) int {
		if (a.Line == 0) != (b.Line == 0) {
			return cmp.Compare(b.Line, a.Line)
		}
		return cmp.Compare(a.Line, b.Line)
	})
}

// Offer says how else the last note's place can be read.
func (r *Report) Offer(offers ...Offer) {
	if n := len(r.Notes); n > 0 && r.NoteCount == n {
		r.Notes[n-1].Offers = append(r.Notes[n-1].Offers, offers...)
	}
}

// join adds the notes of a part of the file.
func (r *Report) join(part *Report) {
	r.NoteCount += part.NoteCount
	r.Notes = append(r.Notes, part.Notes...)
	r.Notes = r.Notes[:min(len(r.Notes), maxNotes)]
}

// readPlaced reads a delimited text that was made of a file of another format; lines
// says which line of the file each of its lines is, for errors and notes.
func readPlaced(ctx context.Context, text []byte, lines []int, options Options) (*table.Table, *Report, error) {
	place := func(line int) int {
		if line > 0 && line <= len(lines) {
			return lines[line-1]
		}
		return line
	}
	t, report, err := ReadBytes(ctx, text, options)
	var refused *Error
	if errors.As(err, &refused) {
		moved := *refused
		moved.Line = place(moved.Line)
		return nil, nil, &moved
	}
	if err != nil {
		return nil, nil, err
	}
	for i := range report.Notes {
		report.Notes[i].Line = place(report.Notes[i].Line)
	}
	return t, report, nil
}

// Read reads a whole delimited text. The context stops it between records.
// Errors from the content are of type *Error.
func Read(ctx context.Context, r io.Reader, options Options) (*table.Table, *Report, error) {
	options = options.WithDefaults()
	raw, err := readLimited(ctx, r, options.MaxBytes)
	if err != nil {
		return nil, nil, err
	}
	return ReadBytes(ctx, raw, options)
}

// ReadBytes is Read for a text at hand. It is not changed, and not held on to.
func ReadBytes(ctx context.Context, raw []byte, options Options) (*table.Table, *Report, error) {
	options = options.WithDefaults()
	text, encoding, err := decode(raw, options)
	if err != nil {
		return nil, nil, err
	}
	if len(strings.TrimSpace(string(text[:min(len(text), 4096)]))) == 0 && len(strings.TrimSpace(string(text))) == 0 {
		return nil, nil, &Error{Problem: "the file is empty", Advice: "choose a file with a title row and at least one row of values"}
	}
	report := &Report{Format: "delimited text", Encoding: encoding, Notes: []Remark{}}
	if options.Separator == 0 && looksLAS(text) {
		return readLAS(ctx, text, encoding, options)
	}
	if options.Separator == 0 && looksJSON(text) {
		if text, options.TitleRow, err = jsonTable(ctx, text, options.MaxColumns, report); err != nil {
			return nil, nil, err
		}
		options.Separator, options.Decimal, options.records = ',', '.', true
		report.Encoding, report.Format = "JSON", "JSON"
		return readRows(ctx, normalized{text: text}, options, report)
	}
	return readRows(ctx, normalize(text, options, report), options, report)
}

// readRows reads a text in which every line is a row, or stands above them.
func readRows(ctx context.Context, n normalized, options Options, report *Report) (*table.Table, *Report, error) {
	if n.separator != 0 {
		options.Separator = n.separator
	}
	moved := report.NoteCount
	layout := guessLayout(n.text, options, report)
	report.Separator = string(layout.separator)
	report.TitleRow = layout.titleRow
	report.Decimal = string(layout.decimal)
	report.Divided = n.divided
	t, err := readColumns(ctx, n.text, layout, options, report)
	var refused *Error
	if errors.As(err, &refused) && n.lines != nil {
		other := *refused
		other.Line = n.line(refused.Line)
		err = &other
	}
	defer report.inOrder()
	for i := min(moved, len(report.Notes)); i < len(report.Notes); i++ {
		report.Notes[i].Line = n.line(report.Notes[i].Line)
	}
	if t == nil {
		report = nil
	}
	return t, report, err
}

func readColumns(ctx context.Context, text []byte, layout layout, options Options, report *Report) (*table.Table, error) {
	if len(layout.names) > options.MaxColumns {
		return nil, TooWide("file", len(layout.names), options.MaxColumns)
	}
	names := distinctNames(layout.names, report, layout.titleRow)
	build := &building{
		text:       text,
		layout:     layout,
		names:      names,
		report:     report,
		progress:   options.Progress,
		measured:   options.measured,
		wanted:     options.As,
		monthFirst: options.MonthFirst,
		leaveSum:   options.LeaveSum,
		records:    options.records,
		stretch:    options.stretch,
	}
	columns, err := build.columns(ctx)
	if err != nil {
		return nil, err
	}
	for i, unit := range layout.units {
		if i < len(columns) && unit != "" {
			columns[i].Unit = unit
		}
	}
	if columns, err = Kept(columns, options.Keep); err != nil {
		return nil, err
	}
	return table.New(columns...)
}

// Kept keeps the columns of the names that were asked for, in that order; no names
// keep all.
func Kept(columns []*table.Column, keep []string) ([]*table.Column, error) {
	if len(keep) == 0 {
		return columns, nil
	}
	var chosen []*table.Column
	for _, name := range keep {
		found := false
		for _, c := range columns {
			if c.Name == name {
				chosen, found = append(chosen, c), true
			}
		}
		if !found {
			return nil, &Error{
				Column:  name,
				Problem: fmt.Sprintf("there is no column %q to keep", name),
				Advice:  "choose from the columns in the preview",
			}
		}
	}
	return chosen, nil
}

// DistinctNames makes every name of a file without a title row of its own non-empty
// and different from the others.
func DistinctNames(raw []string, report *Report) []string { return distinctNames(raw, report, 0) }

// distinctNames makes every name non-empty and different from the others.
func distinctNames(raw []string, report *Report, titleRow int) []string {
	names := make([]string, len(raw))
	used := map[string]bool{}
	for i, name := range raw {
		name = strings.Join(strings.Fields(name), " ")
		original := name
		if name == "" {
			name = fmt.Sprintf("column_%d", i+1)
			if titleRow > 0 {
				report.Note(titleRow, name, "the column had no name and is called %s", name)
			}
		}
		for n := 2; used[strings.ToLower(name)]; n++ {
			name = fmt.Sprintf("%s_%d", original, n)
			if original == "" {
				name = fmt.Sprintf("column_%d_%d", i+1, n)
			}
		}
		if original != "" && name != original {
			report.Note(titleRow, name, "a second column named %q is called %s", original, name)
		}
		used[strings.ToLower(name)] = true
		names[i] = name
	}
	return names
}
