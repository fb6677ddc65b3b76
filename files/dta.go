package files

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"maps"
	"math"
	"strconv"
	"strings"
	"time"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// Files that end in .dta hold a table by rows, each value in the bytes of its variable's type, and
// the names of values in tables of their own. Releases 117 to 119 put each part between tags and
// say where it begins; 113 to 115 put the same parts one after the other. Source: the layouts as
// their publisher describes them, by release.

// dtaLayout is what the parts of a release measure, in bytes.
type dtaLayout struct {
	release                                int
	tagged                                 bool
	variables, rows, label                 int // the counts, and the length of the description
	name, format, meaning, sorted, pointer int // pointer: of a long text in a row, its variable
	letters                                string
}

var dtaLayouts = []dtaLayout{
	{release: 113, name: 33, format: 12, meaning: 81, sorted: 2},
	{release: 114, name: 33, format: 49, meaning: 81, sorted: 2},
	{release: 115, name: 33, format: 49, meaning: 81, sorted: 2},
	{release: 117, tagged: true, variables: 2, rows: 4, label: 1, name: 33, format: 49, meaning: 81, sorted: 2, pointer: 4},
	{release: 118, tagged: true, variables: 2, rows: 8, label: 2, name: 129, format: 57, meaning: 321,
		sorted: 2, pointer: 2, letters: "UTF-8"},
	{release: 119, tagged: true, variables: 4, rows: 8, label: 2, name: 129, format: 57, meaning: 321,
		sorted: 4, pointer: 3, letters: "UTF-8"},
}

// dtaType is a type of values: how wide it is, and how it is read. Numbers from missing on stand for
// what is missing: the first for a plain gap, the ones after it, each a step further, for .a to .z.
type dtaType struct {
	old, tagged int
	bytes       int
	value       func(bits uint64) float64
	missing     uint64
	step        uint64
}

var dtaTypes = []dtaType{
	{251, 65530, 1, func(b uint64) float64 { return float64(int8(b)) }, 101, 1},
	{252, 65529, 2, func(b uint64) float64 { return float64(int16(b)) }, 32_741, 1},
	{253, 65528, 4, func(b uint64) float64 { return float64(int32(b)) }, 2_147_483_621, 1},
	{254, 65527, 4, func(b uint64) float64 { return shortest(math.Float32frombits(uint32(b))) }, 0x7f000000, 0x800},
	{255, 65526, 8, math.Float64frombits, 0x7fe0000000000000, 0x0000010000000000},
}

// shortest is the number that a float of 4 bytes was written as: 0.1, not 0.10000000149.
func shortest(f float32) float64 {
	v, err := strconv.ParseFloat(strconv.FormatFloat(float64(f), 'g', -1, 32), 64)
	if err != nil {
		return float64(f)
	}
	return v
}

// Types of texts: of a fixed width up to a limit, and long ones that stand elsewhere in the file.
const (
	dtaLongestText, dtaLongestOldText = 2045, 244
	dtaLongText                       = 32768
)

// dtaFile is a file while it is read.
type dtaFile struct {
	dtaLayout
	cursor
	count     int // of variables
	cases     int // rows
	about     string
	fields    []dtaField
	width     int // of a row
	longTexts map[[2]uint64][]byte
}

type dtaField struct {
	variable *variable
	kind     *dtaType
	bytes    int
	long     bool
	labels   string // the name of the table of names of its values
}

// tag takes a tag, in releases that have them.
func (d *dtaFile) tag(name string) {
	if d.tagged && string(d.bytes(len(name)+2)) != "<"+name+">" {
		panic(brokenPart{"the part " + name + " is not where it should be"})
	}
}

// readDta reads a file of releases 113 to 119.
func readDta(ctx context.Context, raw []byte, options reader.Options) (t *table.Table, report *reader.Report, err error) {
	defer answered(".dta file", &t, &report, &err)
	d := &dtaFile{cursor: cursor{raw: raw, order: binary.LittleEndian}}
	if err := d.header(); err != nil {
		return nil, nil, err
	}
	if d.count > options.MaxColumns {
		return nil, nil, reader.TooWide("file", d.count, options.MaxColumns)
	}
	d.describe()
	if d.cases == 0 || len(d.fields) == 0 {
		return nil, nil, &reader.Error{Problem: "the file has no rows", Advice: "check that the whole table was exported"}
	}
	if tooMany(int64(d.cases), len(d.fields), options.MaxBytes) {
		return nil, nil, reader.TooLarge(options.MaxBytes)
	}
	rows := d.at
	d.bytes(d.cases * d.width) // lie within the file
	d.after()
	report = &reader.Report{Format: ".dta file", Notes: []reader.Remark{}, About: d.about}
	for row := range d.cases {
		if row%(1<<14) == 0 {
			if err := ctx.Err(); err != nil {
				return nil, nil, err
			}
			if options.Progress != nil {
				options.Progress(int64(row), int64(d.cases))
			}
		}
		d.row(raw[rows+row*d.width : rows+(row+1)*d.width])
	}
	all := &variables{report: report}
	for _, f := range d.fields {
		all.list = append(all.list, f.variable)
	}
	letters := d.letters
	if options.Encoding != "" {
		letters = options.Encoding
	}
	t, err = all.table(ctx, letters, options)
	return t, report, err
}

// header takes release, order of bytes, counts and description.
func (d *dtaFile) header() error {
	release := int(d.raw[0])
	tagged := bytes.HasPrefix(d.raw, []byte("<stata_dta>"))
	if tagged {
		d.tagged = true
		d.tag("stata_dta")
		d.tag("header")
		d.tag("release")
		release, _ = strconv.Atoi(string(d.bytes(3)))
	}
	for _, layout := range dtaLayouts {
		if layout.release == release && layout.tagged == tagged {
			d.dtaLayout = layout
		}
	}
	if d.release == 0 {
		return &reader.Error{
			Problem: fmt.Sprintf("the .dta file is of release %d, which is not known here", release),
			Advice:  "save it for an earlier version, or export the table as CSV",
		}
	}
	if !d.tagged {
		about := d.bytes(4)
		if about[1] == 1 {
			d.order = binary.BigEndian
		}
		d.count, d.cases = d.whole(2), d.whole(4)
		d.about = d.words(81)
		d.bytes(18)
		return nil
	}
	d.tag("/release")
	d.tag("byteorder")
	if string(d.bytes(3)) == "MSF" {
		d.order = binary.BigEndian
	}
	d.tag("/byteorder")
	d.tag("K")
	d.count = d.whole(d.variables)
	d.tag("/K")
	d.tag("N")
	d.cases = d.whole(d.rows)
	d.tag("/N")
	d.tag("label")
	d.about = strings.ToValidUTF8(d.words(d.whole(d.label)), "\uFFFD")
	d.tag("/label")
	d.tag("timestamp")
	d.bytes(d.whole(1))
	d.tag("/timestamp")
	d.tag("/header")
	d.tag("map")
	d.bytes(14 * 8)
	d.tag("/map")
	return nil
}

// describe takes what is said of each variable, until the rows begin.
func (d *dtaFile) describe() {
	d.fields = make([]dtaField, d.count)
	each := func(part string, take func(f *dtaField)) {
		d.tag(part)
		for i := range d.fields {
			take(&d.fields[i])
		}
		d.tag("/" + part)
	}
	each("variable_types", func(f *dtaField) { d.kind(f) })
	each("varnames", func(f *dtaField) { f.variable.column.Name = d.words(d.name) })
	d.tag("sortlist")
	d.bytes(d.sorted * (d.count + 1))
	d.tag("/sortlist")
	each("formats", func(f *dtaField) { f.variable.shownAs(d.words(d.format)) })
	each("value_label_names", func(f *dtaField) { f.labels = d.words(d.name) })
	each("variable_labels", func(f *dtaField) { f.variable.column.Meaning = d.words(d.meaning) })
	if d.tagged {
		end := bytes.Index(d.raw[d.at:], []byte("</characteristics><data>"))
		if end < 0 {
			panic(brokenPart{"its rows are not where they should be"})
		}
		d.bytes(end + len("</characteristics><data>"))
		return
	}
	for { // what the package notes for itself
		kind, length := d.bytes(1)[0], d.whole(4)
		d.bytes(length)
		if kind == 0 && length == 0 {
			return
		}
	}
}

// kind takes the type of a variable.
func (d *dtaFile) kind(f *dtaField) {
	width, longest := 1, dtaLongestOldText
	if d.tagged {
		width, longest = 2, dtaLongestText
	}
	code := d.whole(width)
	f.variable = &variable{column: &table.Column{Kind: table.Number}}
	for i := range dtaTypes {
		if known := &dtaTypes[i]; d.tagged && known.tagged == code || !d.tagged && known.old == code {
			f.kind, f.bytes = known, known.bytes
		}
	}
	if f.kind == nil {
		f.variable.column.Kind, f.variable.coder = table.Text, table.NewCoder()
		f.bytes, f.long = code, d.tagged && code == dtaLongText
		if f.long {
			f.bytes = 8
		} else if code == 0 || code > longest {
			panic(brokenPart{fmt.Sprintf("a variable is of type %d, which there is not", code)})
		}
	}
	d.width += f.bytes
}

// shownAs makes dates of numbers that are shown as such: %td days, %tc milliseconds, %tC the same with leap seconds, %tw weeks,
// %tm months and so on since the beginning of 1960.
func (v *variable) shownAs(format string) {
	format = strings.TrimLeft(format, "%-0")
	for _, f := range dtaDates {
		if strings.HasPrefix(format, f.begins) && v.coder == nil {
			v.column.Kind, v.column.Grain, v.scale, v.epoch, v.dated = table.Date, f.grain, f.scale, from1960, f.dated
			return
		}
	}
}

// dtaDates are the ways in which dates are counted.
var dtaDates = []struct {
	begins string
	grain  table.Grain
	scale  float64                 // seconds a unit
	dated  func(v float64) float64 // where units differ in length
}{
	{"td", table.Day, 86_400, nil}, {"d", table.Day, 86_400, nil}, {"tc", table.Second, 0.001, nil},
	{"tC", table.Second, 0, leapFrom1960}, {"tw", table.Day, 0, weeksFrom1960},
	{"tm", table.Day, 0, monthsFrom1960(1)}, {"tq", table.Day, 0, monthsFrom1960(3)}, {"th", table.Day, 0, monthsFrom1960(6)},
}

// beyondCalendars is what a count becomes that is missing, or lies outside of any calendar: so it stays.
func beyondCalendars(v float64) float64 { return v * 1e12 }

// mostCounted is up to how many weeks or months are counted.
const mostCounted = 600_000

// monthsFrom1960 gives the first day of a month, of so many of which a unit is, in seconds from 1970.
func monthsFrom1960(unit float64) func(v float64) float64 {
	return func(v float64) float64 {
		if v *= unit; !(math.Abs(v) <= mostCounted) {
			return beyondCalendars(v)
		}
		return float64(time.Date(1960, time.January+time.Month(int(math.Floor(v))), 1, 0, 0, 0, 0, time.UTC).Unix())
	}
}

// weeksFrom1960 is the first day of a week: each year has 52, the first one from its first of January, the last one of eight
// days or nine.
func weeksFrom1960(v float64) float64 {
	if !(math.Abs(v) <= mostCounted) {
		return beyondCalendars(v)
	}
	week := int(math.Floor(v))
	year := int(math.Floor(v / 52))
	return float64(time.Date(1960+year, time.January, 1+7*(week-52*year), 0, 0, 0, 0, time.UTC).Unix())
}

// leapMonths are those after whose last minute a second was put in, as year and month (IERS, Bulletin C; the last one of 2016).
var leapMonths = [][2]int{{1972, 6}, {1972, 12}, {1973, 12}, {1974, 12}, {1975, 12}, {1976, 12}, {1977, 12}, {1978, 12}, {1979, 12},
	{1981, 6}, {1982, 6}, {1983, 6}, {1985, 6}, {1987, 12}, {1989, 12}, {1990, 12},
	{1992, 6}, {1993, 6}, {1994, 6}, {1995, 12}, {1997, 6}, {1998, 12},
	{2005, 12}, {2008, 12}, {2012, 6}, {2015, 6}, {2016, 12}}

// leapFrom1960 is a moment of milliseconds that count leap seconds, in seconds from 1970, which do not. What lies in a leap second
// is the first one of the next day.
func leapFrom1960(v float64) float64 {
	at := v/1000 + from1960
	for i, leap := range leapMonths {
		after := float64(time.Date(leap[0], time.Month(leap[1]+1), 1, 0, 0, 0, 0, time.UTC).Unix())
		if at-float64(i) < after+1 {
			return at - float64(i)
		}
	}
	return at - float64(len(leapMonths))
}

// after takes what stands after the rows: long texts, and the names of values.
func (d *dtaFile) after() {
	names := map[string]map[float64]string{}
	if d.tagged {
		d.tag("/data")
		d.tag("strls")
		d.longTexts = map[[2]uint64][]byte{}
		pointed := 4
		if d.release > 117 {
			pointed = 8
		}
		for bytes.HasPrefix(d.raw[d.at:], []byte("GSO")) {
			d.bytes(3)
			key := [2]uint64{d.number(4), d.number(pointed)}
			kind, length := d.bytes(1)[0], d.whole(4)
			if text := d.bytes(length); kind == 130 { // 129 are bytes, and no text
				d.longTexts[key] = text
			}
		}
		d.tag("/strls")
		d.tag("value_labels")
		for bytes.HasPrefix(d.raw[d.at:], []byte("<lbl>")) {
			d.tag("lbl")
			d.named(names)
			d.tag("/lbl")
		}
	} else {
		for len(d.raw)-d.at > 4+d.name {
			d.named(names)
		}
	}
	for _, f := range d.fields {
		if f.kind != nil {
			f.variable.names = maps.Clone(names[f.labels]) // two variables may share them
		}
	}
}

// named takes a table of names of values: how many, where each begins, the values, the names.
func (d *dtaFile) named(names map[string]map[float64]string) {
	length := d.whole(4)
	table := d.words(d.name)
	d.bytes(3)
	end := d.at + length
	count, letters := d.whole(4), d.whole(4)
	if length != 8+8*count+letters || end > len(d.raw) {
		panic(brokenPart{"a table of names does not fit"})
	}
	begins, values, text := d.bytes(4*count), d.bytes(4*count), d.bytes(letters)
	of := make(map[float64]string, count)
	for i := range count {
		begin := d.bits(begins[4*i : 4*i+4])
		if begin > uint64(len(text)) {
			panic(brokenPart{"a name of a value lies elsewhere"})
		}
		if value := int32(d.bits(values[4*i : 4*i+4])); value < 2_147_483_621 { // above stand codes for missing values
			of[float64(value)] = string(trimmed(text[begin:]))
		}
	}
	names[table] = of
}

// row takes the values of a row.
func (d *dtaFile) row(values []byte) {
	for _, f := range d.fields {
		raw := values[:f.bytes]
		values = values[f.bytes:]
		switch {
		case f.long:
			of, which := raw[:d.pointer], raw[d.pointer:]
			f.variable.text(d.longTexts[[2]uint64{d.bits(of), d.bits(which)}])
		case f.kind == nil:
			f.variable.text(raw)
		default:
			f.variable.number(f.kind.of(d.bits(raw)))
		}
	}
}

// of gives a value, or a missing one with the code that it has.
func (t *dtaType) of(bits uint64) (value float64, code string) {
	if t.step == 1 {
		v := t.value(bits)
		if v < float64(t.missing) {
			return v, ""
		}
		bits = uint64(v)
	} else if negative := bits>>(8*t.bytes-1) == 1; negative || bits < t.missing {
		return t.value(bits), ""
	}
	if which := (bits - t.missing) / t.step; which >= 1 && which <= 26 {
		return math.NaN(), "." + string(rune('a'+which-1))
	}
	return math.NaN(), ""
}
