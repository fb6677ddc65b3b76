// Package table holds the columns that every other part of the core works on.
//
// A Table is a list of equally long columns, immutable once built: nothing in
// the core writes to a column that it was given. A column is one of seven kinds (kinds.go).
// Numbers, dates and durations are stored as float64 (a date is seconds since
// 1970-01-01T00:00:00Z, without leap seconds; a duration is seconds); category, ordered, yes / no and
// text columns are stored as codes into a list of levels. Missing is NaN in a
// column of numbers and -1 in a column of codes.
//
// A worked example:
//
//	honey := table.NewNumbers("honey_kg", []float64{12.5, math.NaN(), 30})
//	district := table.NewCategory("district", []string{"Tarn", "", "Brindle"})
//	t, err := table.New(honey, district) // 3 rows, one missing in each column
package table

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"
	"unicode"
)

// Kind says how the values of a column are read.
type Kind string

// The kinds of column.
const (
	Number   Kind = "number"
	Category Kind = "category"
	Ordered  Kind = "ordered"
	YesNo    Kind = "yes / no"
	Date     Kind = "date"
	Duration Kind = "duration" // how long something takes, in seconds
	Text     Kind = "text"
)

// MissingCode is the code of a missing value in a column of codes.
const MissingCode int32 = -1

// Column is one variable. Exactly one of Numbers and Codes is set, by Kind.
type Column struct {
	Name    string // as it stands in the file and in the sentence
	Label   string // as people say it; empty means: made readable from Name
	Unit    string
	Meaning string
	Form    string // how its numbers are written: a form of core/scale, as 120k or decimals 3; empty leaves it to the program
	// Decimals is how many decimals every number of the column was written with where it came from, so that 7.00
	// stays 7.00; 0 where they differ, where nobody knows, or where it is one, which programs add to whole numbers.
	Decimals int
	Kind     Kind
	Grain    Grain     // of a date column
	Numbers  []float64 // Number, Date
	Codes    []int32   // Category, Ordered, YesNo, Text
	Levels   []string  // what the codes stand for

	Exact   map[string]string // of numbers that are groups: the values of levels that are named with fewer digits
	Colours map[string]string // the colours that levels have for themselves, as #rrggbb; a level without one has the usual

	known *facts // of numbers and dates that stand in a table
}

// Grain is the finest step that the values of a date column tell apart.
type Grain string

// The grains of a date column.
const (
	Day    Grain = "day"
	Second Grain = "second"
)

// Len is the number of rows.
func (c *Column) Len() int {
	if c.Kind.Coded() {
		return len(c.Codes)
	}
	return len(c.Numbers)
}

// CountsRows reports whether the column numbers the rows: each value is one more than the
// one before.
func (c *Column) CountsRows() bool {
	if c.Kind != Number || len(c.Numbers) < 3 {
		return false
	}
	for i, v := range c.Numbers {
		if math.IsNaN(v) || i > 0 && v != c.Numbers[i-1]+1 {
			return false
		}
	}
	return true
}

// Missing reports whether row i holds no value.
func (c *Column) Missing(i int) bool {
	if c.Codes != nil { // asked of every row: the kind says the same
		return c.Codes[i] < 0
	}
	return math.IsNaN(c.Numbers[i])
}

// MissingCount is the number of rows without a value.
func (c *Column) MissingCount() int {
	n := 0
	for i := range c.Len() {
		if c.Missing(i) {
			n++
		}
	}
	return n
}

// ReadableName is the label, or the name made readable: hive_type becomes
// "Hive type", queenAge becomes "Queen age"; x, kg and pH stay.
func (c *Column) ReadableName() string {
	if c.Label != "" {
		return c.Label
	}
	return Readable(c.Name)
}

// Prose is the readable name as it stands inside a sentence: with a small first
// letter, unless it begins with an abbreviation.
func (c *Column) Prose() string { return Prose(c.ReadableName()) }

// Prose writes a name as it stands inside a sentence.
func Prose(name string) string {
	runes := []rune(name)
	if len(runes) == 0 || (len(runes) > 1 && unicode.IsUpper(runes[1])) {
		return name
	}
	runes[0] = unicode.ToLower(runes[0])
	return string(runes)
}

// Readable turns a stored column name into words. Abbreviations in capitals stay.
func Readable(name string) string {
	if strings.Contains(name, ".") && name != strings.ToLower(name) {
		return name // STS.M.I7 is a code, not words
	}
	var words strings.Builder
	previous := rune(0)
	for _, r := range strings.TrimSpace(name) {
		switch {
		case r == '_' || r == '.' || unicode.IsSpace(r):
			r = ' '
		case unicode.IsUpper(r) && unicode.IsLower(previous) && words.Len() > 1:
			words.WriteRune(' ')
			r = unicode.ToLower(r)
		}
		if r == ' ' && (previous == ' ' || previous == 0) {
			continue
		}
		words.WriteRune(r)
		previous = r
	}
	readable := strings.TrimRight(words.String(), " ")
	if readable == "" {
		return name
	}
	return capitalised(readable)
}

// capitalised gives a name a large first letter, unless its first word may be a
// symbol or a unit: x, kg, pH stay.
func capitalised(name string) string {
	first, _, _ := strings.Cut(name, " ")
	runes := []rune(first)
	if len(runes) < 3 || first != strings.ToLower(first) {
		return name
	}
	runes[0] = unicode.ToUpper(runes[0])
	return string(runes) + name[len(first):]
}

// Drawable reports whether a value of the column has a place on an axis: a finite number, or a date that can be written.
func (c *Column) Drawable(v float64) bool {
	if c.Kind == Date {
		return v >= EarliestDate && v <= LatestDate
	}
	return v-v == 0 // neither missing nor infinite
}

// Value gives row i as text the way a file would hold it: "" for missing,
// shortest exact decimal for a number, ISO 8601 for a date.
func (c *Column) Value(i int) string {
	if c.Missing(i) {
		return ""
	}
	if c.Kind.Coded() {
		return c.Levels[c.Codes[i]]
	}
	return c.Kind.of().write(c.Numbers[i], c.Grain)
}

// FormatNumber writes v in the fewest digits that read back as v.
func FormatNumber(v float64) string {
	if v == 0 {
		return "0" // no minus sign on a zero
	}
	if a := math.Abs(v); a >= 1e-7 && a < 1e16 { // magnitudes that people write out
		return strconv.FormatFloat(v, 'f', -1, 64)
	}
	return strconv.FormatFloat(v, 'g', -1, 64)
}

// The dates that there are: from the first second of the year 1 to the last of 9999.
const (
	EarliestDate = -62135596800.0
	LatestDate   = 253402300799.0
)

// DateSteps are the steps in which people count time, the longest first: a mean year, a mean month, a day, and so on.
var DateSteps = []struct {
	Name    string
	Seconds float64
}{{"year", 365.25 * 86400}, {"month", 365.25 * 86400 / 12}, {"day", 86400}, {"hour", 3600}, {"minute", 60}, {"second", 1}}

// FormatDate writes seconds since the epoch as ISO 8601 at the given grain; "" for what
// is no date. Parts of a second are written where there are any, to the millisecond or, where
// that is not all, to the microsecond.
func FormatDate(seconds float64, grain Grain) string {
	if !(seconds >= EarliestDate && seconds < LatestDate+1) {
		return ""
	}
	whole := math.Floor(seconds)
	micro := min(int64(math.Round((seconds-whole)*1e6)), 999_999)
	moment := time.Unix(int64(whole), micro*1000).UTC()
	switch {
	case grain == Day:
		return moment.Format("2006-01-02")
	case micro == 0:
		return moment.Format("2006-01-02 15:04:05")
	case micro%1000 == 0:
		return moment.Format("2006-01-02 15:04:05.000")
	}
	return moment.Format("2006-01-02 15:04:05.000000")
}

// Table is a list of columns with equally many rows and different names.
type Table struct {
	columns []*Column
	byName  map[string]int
	rows    int
}

// New builds a table. Columns must be equally long, named, and named differently.
func New(columns ...*Column) (*Table, error) {
	t := &Table{columns: columns, byName: make(map[string]int, len(columns))}
	for i, c := range columns {
		if c.Name == "" {
			return nil, errors.New("a column has no name")
		}
		if _, twice := t.byName[c.Name]; twice {
			return nil, fmt.Errorf("two columns are named %q", c.Name)
		}
		if i == 0 {
			t.rows = c.Len()
		} else if c.Len() != t.rows {
			return nil, fmt.Errorf("column %q has %d rows, the first column has %d", c.Name, c.Len(), t.rows)
		}
		t.byName[c.Name] = i
		if !c.Kind.Coded() && !c.known.isOf(c) {
			c.known = factsOf(c)
		}
	}
	return t, nil
}

// Rows is the number of rows.
func (t *Table) Rows() int { return t.rows }

// Columns lists the columns in order. The caller must not change them.
func (t *Table) Columns() []*Column { return t.columns }

// Column finds a column by its name: exactly, or else without regard to case.
// It gives nil when there is none.
func (t *Table) Column(name string) *Column {
	if i, ok := t.byName[name]; ok {
		return t.columns[i]
	}
	for _, c := range t.columns {
		if strings.EqualFold(c.Name, name) {
			return c
		}
	}
	return nil
}

// Said gives the column that a person named: by its name, or else by the readable name
// that no other column has; nil if there is none. Case does not matter.
func (t *Table) Said(name string) *Column {
	if c := t.Column(name); c != nil {
		return c
	}
	var found *Column
	for _, c := range t.columns {
		if strings.EqualFold(c.ReadableName(), name) || strings.EqualFold(Readable(c.Name), name) {
			if found != nil {
				return nil
			}
			found = c
		}
	}
	return found
}

// Names lists the column names in order.
func (t *Table) Names() []string {
	names := make([]string, len(t.columns))
	for i, c := range t.columns {
		names[i] = c.Name
	}
	return names
}
