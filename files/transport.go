package files

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// Transport files are records of 80 bytes: a heading of the file, and for each table in it
// headings, a record of each variable, and rows whose values lie one after the other
// without regard to the records. Numbers are hexadecimal floating point of up to 8 bytes,
// the first of them sign and exponent. Versions 5 and 8 differ in the headings' names and
// in the length of names. Source: the published description of both record layouts
// (technical paper TS-140, with its extension for long names).
const (
	transportRecord   = 80
	transportVariable = 140 // bytes that describe a variable; 136 in files of one old system
	transportHeading  = "HEADER RECORD*******"
)

// transportHeadings are the names of the headings, in versions 5 and 8.
var transportHeadings = map[string]string{
	"MEMBER": "table", "MEMBV8": "table",
	"NAMESTR": "variables", "NAMSTV8": "variables",
	"LABELV8": "long names", "LABELV9": "long names",
	"OBS": "rows", "OBSV8": "rows",
}

// transportTable is a table of the file: where its parts begin.
type transportTable struct {
	name, about       string
	described, count  int // bytes that describe a variable, and how many variables there are
	variables, labels int // where they begin; labels: 0 where there are none
	longer            int // how many names are longer
	wide              bool
	rows, end         int // where the rows begin, and where they end
	said              int // how many rows the file says; 0: it does not
}

// readTransport reads a transport file; of several tables in it one is chosen as a sheet of a workbook is.
func readTransport(ctx context.Context, raw []byte, options reader.Options) (*table.Table, *reader.Report, error) {
	tables, err := transportTables(ctx, raw)
	if err != nil {
		return nil, nil, err
	}
	names := make([]string, len(tables))
	for i, t := range tables {
		names[i] = t.name
	}
	names = reader.DistinctNames(names, &reader.Report{})
	chosen := max(0, slices.Index(names, options.Sheet))
	if options.Sheet != "" && names[chosen] != options.Sheet {
		return nil, nil, noTable(options.Sheet, names)
	}
	report := &reader.Report{Format: "transport file", Encoding: "UTF-8", Notes: []reader.Remark{}, Sheet: names[chosen]}
	report.About = tables[chosen].about
	if len(tables) > 1 {
		report.Sheets = names
	}
	t, err := tables[chosen].read(ctx, raw, report, options)
	return t, report, err
}

// noTable refuses a table that a file does not have.
func noTable(wanted string, names []string) error {
	return &reader.Error{
		Problem: fmt.Sprintf("the file has no table %q", wanted),
		Advice:  "choose one of " + strings.Join(names[:min(len(names), 20)], ", "),
	}
}

// transportTables finds the tables of a file by their headings, which begin at a record.
func transportTables(ctx context.Context, raw []byte) ([]*transportTable, error) {
	var tables []*transportTable
	for at := 0; at+transportRecord <= len(raw); at += transportRecord {
		if at%(1<<20*transportRecord) == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		record := raw[at : at+transportRecord]
		if !bytes.HasPrefix(record, []byte(transportHeading)) {
			continue
		}
		kind := transportHeadings[strings.TrimSpace(string(record[20:28]))]
		if kind == "table" {
			if len(tables) > 0 && tables[len(tables)-1].end == 0 {
				tables[len(tables)-1].end = at
			}
			if len(tables) == maxTransportTables {
				return nil, &reader.Error{
					Problem: fmt.Sprintf("the file has more than %d tables", maxTransportTables),
					Advice:  "export fewer of them",
				}
			}
			tables = append(tables, &transportTable{described: transportVariable})
		}
		if len(tables) == 0 || kind != "table" && tables[len(tables)-1].rows > 0 {
			continue // what looks like a heading among the rows is a text
		}
		tables[len(tables)-1].heading(kind, record, raw[at+transportRecord:], at+transportRecord)
	}
	for _, t := range tables {
		if t.end == 0 {
			t.end = len(raw)
		}
	}
	if len(tables) == 0 {
		return nil, &reader.Error{
			Problem: "the transport file has no table",
			Advice:  "export it again; some packages write other files of this name",
		}
	}
	return tables, nil
}

// maxTransportTables is how many tables of a file are offered.
const maxTransportTables = 1000

// heading takes what a heading says; after it stands rest, which begins at the byte at of the file.
func (t *transportTable) heading(kind string, record, rest []byte, at int) {
	switch kind {
	case "table":
		if described, err := strconv.Atoi(strings.TrimSpace(string(record[74:78]))); err == nil && described > 0 {
			t.described = described
		}
		t.wide = bytes.Contains(record, []byte("MEMBV8"))
		if len(rest) < 3*transportRecord { // a heading, the name, the description
			return
		}
		name := rest[transportRecord+8 : transportRecord+16]
		if t.wide {
			name = rest[transportRecord+8 : transportRecord+40]
		}
		t.name = strings.ToValidUTF8(string(trimmed(name)), "\uFFFD")
		if t.name == "" {
			t.name = "table"
		}
		t.about = strings.TrimSpace(strings.ToValidUTF8(string(trimmed(rest[2*transportRecord+32:2*transportRecord+72])), "\uFFFD"))
	case "variables":
		t.count, t.variables = digitsOf(record[48:58]), at
	case "long names":
		t.longer, t.labels = digitsOf(record[48:58]), at
	case "rows":
		t.rows = at
		if t.wide {
			t.said = digitsOf(record[48:63])
		}
	}
}

// digitsOf is the number that a field of a heading holds; 0 where it holds none.
func digitsOf(field []byte) int {
	n, err := strconv.Atoi(strings.TrimSpace(string(field)))
	if err != nil {
		return 0
	}
	return n
}

// transportField is where a variable stands in a row.
type transportField struct {
	variable    *variable
	from, bytes int
}

func (t *transportTable) read(ctx context.Context, raw []byte, report *reader.Report, options reader.Options) (*table.Table, error) {
	if t.count > options.MaxColumns {
		return nil, reader.TooWide("file", t.count, options.MaxColumns)
	}
	fields, width, err := t.fields(raw)
	if err != nil {
		return nil, err
	}
	rows := t.rowsOf(raw, width)
	if tooMany(int64(rows), len(fields), options.MaxBytes) {
		return nil, reader.TooLarge(options.MaxBytes)
	}
	if rows == 0 {
		return nil, &reader.Error{Problem: "the file has no rows", Advice: "check that the whole table was exported"}
	}
	if t.said > rows {
		report.Note(0, "", "the file says that it has %d rows, and %d are in it: it may have been cut off", t.said, rows)
	}
	for row := range rows {
		if row%(1<<14) == 0 {
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			if options.Progress != nil {
				options.Progress(int64(row), int64(rows))
			}
		}
		values := raw[t.rows+row*width : t.rows+(row+1)*width]
		for _, f := range fields {
			if value := values[f.from : f.from+f.bytes]; f.variable.coder != nil {
				f.variable.text(value)
			} else {
				f.variable.number(hexadecimal(value))
			}
		}
	}
	all := &variables{report: report}
	for _, f := range fields {
		all.list = append(all.list, f.variable)
	}
	return all.table(ctx, options.Encoding, options)
}

// fields are the variables, and how many bytes a row takes.
func (t *transportTable) fields(raw []byte) (fields []transportField, width int, err error) {
	broken := damaged("transport file", "what it says of its variables does not fit")
	if t.count <= 0 || t.described < 88 || t.variables == 0 || t.rows < t.variables || t.variables+t.count*t.described > t.rows {
		return nil, 0, broken
	}
	for i := range t.count {
		about := raw[t.variables+i*t.described:][:t.described]
		f := transportField{bytes: int(binary.BigEndian.Uint16(about[4:])), from: int(int32(binary.BigEndian.Uint32(about[84:])))}
		name := about[8:16]
		if t.wide && t.described >= 120 && len(trimmed(about[88:120])) > 0 {
			name = about[88:120]
		}
		f.variable = &variable{column: &table.Column{Name: string(trimmed(name)), Meaning: string(trimmed(about[16:56])), Kind: table.Number}}
		if binary.BigEndian.Uint16(about) == 2 {
			f.variable.column.Kind, f.variable.coder = table.Text, table.NewCoder()
		} else {
			if f.bytes < 2 || f.bytes > 8 {
				return nil, 0, broken
			}
			f.variable.formatted(string(trimmed(about[56:64])))
			f.variable.column.Decimals = 0
		}
		if f.bytes == 0 || f.from < 0 || f.from+f.bytes > 1<<24 {
			return nil, 0, broken
		}
		width = max(width, f.from+f.bytes)
		fields = append(fields, f)
	}
	t.longNames(raw, fields)
	return fields, width, nil
}

// longNames takes names and labels that are longer than a variable's record holds: the variable's
// number, the lengths of name and label (in the later form those of two formats as well), and these.
func (t *transportTable) longNames(raw []byte, fields []transportField) {
	if t.labels == 0 {
		return
	}
	head := 6
	if bytes.Contains(raw[t.labels-transportRecord:t.labels], []byte("LABELV9")) {
		head = 10
	}
	rest := raw[t.labels:t.rows]
	for range t.longer {
		if len(rest) < head {
			return
		}
		number := int(binary.BigEndian.Uint16(rest))
		name, label := int(binary.BigEndian.Uint16(rest[2:])), int(binary.BigEndian.Uint16(rest[4:]))
		more := 0
		if head == 10 {
			more = int(binary.BigEndian.Uint16(rest[6:])) + int(binary.BigEndian.Uint16(rest[8:]))
		}
		rest = rest[head:]
		if number < 1 || number > len(fields) || len(rest) < name+label+more {
			return
		}
		c := fields[number-1].variable.column
		if name > 0 {
			c.Name = string(trimmed(rest[:name]))
		}
		c.Meaning = string(trimmed(rest[name : name+label]))
		rest = rest[name+label+more:]
	}
}

// rowsOf is how many rows there are. The last record is filled up with blanks, so that where
// rows are short, blank ones at the end are none, unless the file says how many there are.
func (t *transportTable) rowsOf(raw []byte, width int) int {
	held := raw[t.rows:max(t.rows, t.end)]
	rows := len(held) / width
	if t.said > 0 && t.said <= rows {
		return t.said
	}
	for padding := len(held); rows > 0 && padding-(rows-1)*width < transportRecord; rows-- {
		if len(bytes.Trim(held[(rows-1)*width:rows*width], " ")) > 0 {
			break
		}
	}
	return rows
}

// formatted makes a date or a duration of a number that is shown as one.
func (v *variable) formatted(format string) {
	format = strings.ToUpper(strings.TrimLeft(format, "$%"))
	for _, f := range countedFormats {
		if strings.HasPrefix(format, f.begins) {
			v.column.Kind, v.column.Grain, v.scale = f.kind, f.grain, f.scale
			if f.kind == table.Date {
				v.epoch = from1960
			}
			return
		}
	}
}

// countedFormats are the formats of days and seconds since 1960, and of seconds; of two that fit the first counts.
var countedFormats = []struct {
	begins string
	kind   table.Kind
	grain  table.Grain
	scale  float64
}{
	{"DATETIME", table.Date, table.Second, 1}, {"DATEAMPM", table.Date, table.Second, 1}, {"E8601DT", table.Date, table.Second, 1},
	{"B8601DT", table.Date, table.Second, 1}, {"MDYAMPM", table.Date, table.Second, 1}, {"DTDATE", table.Date, table.Day, 1},
	{"DTMONYY", table.Date, table.Day, 1}, {"DTYEAR", table.Date, table.Day, 1},
	{"DATE", table.Date, table.Day, 86_400}, {"DDMMYY", table.Date, table.Day, 86_400}, {"MMDDYY", table.Date, table.Day, 86_400},
	{"YYMM", table.Date, table.Day, 86_400}, {"MMYY", table.Date, table.Day, 86_400}, {"MONYY", table.Date, table.Day, 86_400},
	{"YYQ", table.Date, table.Day, 86_400}, {"E8601DA", table.Date, table.Day, 86_400}, {"B8601DA", table.Date, table.Day, 86_400},
	{"IS8601DA", table.Date, table.Day, 86_400}, {"WORDDAT", table.Date, table.Day, 86_400}, {"WEEKDAT", table.Date, table.Day, 86_400},
	{"JULIAN", table.Date, table.Day, 86_400}, {"EURDFD", table.Date, table.Day, 86_400},
	{"TIME", table.Duration, "", 1}, {"HHMM", table.Duration, "", 1}, {"MMSS", table.Duration, "", 1}, {"TOD", table.Duration, "", 1},
	{"E8601TM", table.Duration, "", 1},
}

// hexadecimal reads a number of 2 to 8 bytes: sign · 0.fraction · 16^(exponent − 64). A point, an underscore or a capital
// letter before zeros is a missing value; the letters are codes that people give, .A to .Z.
func hexadecimal(raw []byte) (value float64, code string) {
	var bits uint64
	for i := range 8 {
		bits <<= 8
		if i < len(raw) {
			bits |= uint64(raw[i])
		}
	}
	first, fraction := raw[0], bits&(1<<56-1)
	if fraction == 0 {
		switch {
		case first == '.':
			return math.NaN(), ""
		case first == '_' || first >= 'A' && first <= 'Z':
			return math.NaN(), "." + string(first)
		}
		return 0, ""
	}
	value = math.Ldexp(float64(fraction), 4*(int(first&0x7f)-64)-56)
	if first&0x80 != 0 {
		value = -value
	}
	return value, ""
}
