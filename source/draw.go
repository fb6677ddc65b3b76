package source

import (
	"fmt"
	"math"
	"slices"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// gathering keeps the rows of a draw: of all that come, the ones with the smallest marks. A mark is a
// hash of the row's key, so that they are a simple random sample, and the same ones with the same seed.
// Source: bottom-k sampling, Cohen and Kaplan (2007), Summarizing data using bottom-k sketches, PODC.
type gathering struct {
	most    int
	columns []*gatheredColumn
	marks   []uint64
	came    int64  // rows that came, kept or not
	below   uint64 // no row with a larger mark is kept
}

// gatheredColumn is a column while its rows come.
type gatheredColumn struct {
	column  *table.Column
	coder   *table.Coder // of texts
	whole   bool         // all numbers are whole
	strange int          // values that are no finite number, or lie outside of any calendar
}

// fits refuses a draw of columns that this server does not hold, or of none.
func (d Draw) fits(columns []sqlColumn) error {
	if len(columns) == 0 {
		return &Trouble{"the table has no column of numbers, texts or dates that may be read", "tell whoever runs this server"}
	}
	if most := d.Cells / int64(len(columns)); int64(d.Rows) > most {
		return &Trouble{fmt.Sprintf("%d columns of %d rows are more than this server holds", len(columns), d.Rows),
			fmt.Sprintf("ask for at most %d rows", most)}
	}
	return nil
}

// share is how much of so many rows is drawn by their hash: four standard deviations more than wanted, so that there are
// hardly ever too few. 1 and more: all.
func (d Draw) share(of int64) float64 {
	if of <= 0 {
		return 1
	}
	return (float64(d.Rows) + 4*math.Sqrt(float64(d.Rows)) + 1) / float64(of)
}

// counting ends the statement that takes the rows which count for a question: one more than wanted, so that it shows that there
// are more.
func (d Draw) counting(in *dialect, columns []sqlColumn) (where string, arguments []any, err error) {
	t := newTerms(in, columns)
	within, err := t.workOut(d.Counted)
	if err != nil {
		return "", nil, err
	}
	conditions, err := t.needs(d.Counted)
	if within != "" {
		conditions = append(conditions, within)
	}
	return listed(" where ", " and ", conditions) + fmt.Sprintf(" limit %d", d.Rows+1), t.arguments, err
}

// gathered is the column before its first row comes.
func (c sqlColumn) gathered() *gatheredColumn {
	g := &gatheredColumn{column: &table.Column{Name: c.name, Meaning: c.meaning, Kind: c.how.kind, Grain: c.how.grain}, whole: true}
	switch c.how.kind {
	case table.Text:
		g.coder = table.NewCoder()
	case table.YesNo:
		g.column.Levels = []string{"no", "yes"}
	}
	return g
}

func newGathering(most int, columns []*gatheredColumn) *gathering {
	return &gathering{most: most, columns: columns, below: math.MaxUint64}
}

// wanted reports whether a row with a mark is kept, so far.
func (g *gathering) wanted(mark uint64) bool {
	g.came++
	return mark <= g.below
}

// took follows a row whose values were added to every column.
func (g *gathering) took(mark uint64) {
	g.marks = append(g.marks, mark)
	if len(g.marks) >= g.most+g.most/2+1024 {
		g.cut()
	}
}

// cut leaves the rows with the smallest marks, in the order in which they came.
func (g *gathering) cut() {
	if len(g.marks) <= g.most {
		return
	}
	sorted := slices.Clone(g.marks)
	slices.Sort(sorted)
	g.below = sorted[g.most-1]
	kept := make([]bool, len(g.marks))
	n := 0
	for i, mark := range g.marks {
		if kept[i] = mark <= g.below && n < g.most; kept[i] {
			n++
		}
	}
	g.marks = left(g.marks, kept)
	for _, c := range g.columns {
		c.column.Numbers, c.column.Codes = left(c.column.Numbers, kept), left(c.column.Codes, kept)
	}
}

func left[T any](values []T, kept []bool) []T {
	at := 0
	for i, value := range values {
		if kept[i] {
			values[at] = value
			at++
		}
	}
	return values[:at]
}

// table finishes the rows.
func (g *gathering) table() (*table.Table, error) {
	g.cut()
	columns := make([]*table.Column, len(g.columns))
	for i, c := range g.columns {
		if c.coder != nil {
			c.present()
			reader.SettleTexts(c.column)
		} else if c.column.Kind == table.Number && c.whole {
			reader.SettleNumbers(c.column)
		}
		columns[i] = c.column
	}
	return table.New(columns...)
}

// present keeps the levels that rows still have.
func (c *gatheredColumn) present() {
	all, coder := c.coder.Levels(), table.NewCoder()
	for row, code := range c.column.Codes {
		if code >= 0 {
			c.column.Codes[row] = coder.Code([]byte(all[code]))
		}
	}
	c.column.Levels = coder.Levels()
}

// number adds a number; what is none, or infinite, is missing.
func (c *gatheredColumn) number(v float64, valid bool) {
	switch {
	case !valid:
		v = math.NaN()
	case math.IsNaN(v) || math.IsInf(v, 0):
		v = math.NaN()
		c.strange++
	case v != math.Trunc(v):
		c.whole = false
	}
	c.column.Numbers = append(c.column.Numbers, v)
}

// Dates are those from the year 1 to 9999, in seconds from 1970.
const firstDate, lastDate = -62_135_596_800, 253_402_300_799

// date adds seconds from 1970; what lies outside of any calendar is missing.
func (c *gatheredColumn) date(seconds float64, valid bool) {
	if valid && !(seconds >= firstDate && seconds <= lastDate) {
		c.strange++
		valid = false
	}
	if !valid {
		seconds = math.NaN()
	}
	c.column.Numbers = append(c.column.Numbers, seconds)
}

// text adds a text; an empty one is missing, as in every other format.
func (c *gatheredColumn) text(raw []byte) {
	code := table.MissingCode
	if len(raw) > 0 {
		code = c.coder.Code(raw)
	}
	c.column.Codes = append(c.column.Codes, code)
}

// answer adds a yes or no.
func (c *gatheredColumn) answer(yes, valid bool) {
	code := table.MissingCode
	if valid {
		code = 0
		if yes {
			code = 1
		}
	}
	c.column.Codes = append(c.column.Codes, code)
}

// mixed is a number that looks drawn at random, by a counter and a seed. Source: Steele, Lea and Flood (2014),
// Fast splittable pseudorandom number generators, OOPSLA (its finaliser).
func mixed(counter, seed uint64) uint64 {
	z := seed*0x9e3779b97f4a7c15 + counter*0xbf58476d1ce4e5b9 + 0x94d049bb133111eb
	z = (z ^ z>>30) * 0xbf58476d1ce4e5b9
	z = (z ^ z>>27) * 0x94d049bb133111eb
	return z ^ z>>31
}
