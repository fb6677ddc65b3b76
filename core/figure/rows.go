package figure

import (
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/magnitude"
	"copperlark/core/parallel"
	"copperlark/core/table"
)

// selection is the rows that a chart draws, with x and y in drawn space.
type selection struct {
	rows    []uint32
	x, y    []float64
	leftOut []uint8 // one bit a row
	all     bool    // every row of the table is drawn
	counts  Rows
}

// Relate gives x and y of the rows that a chart draws, in drawn space, with the
// table rows that they belong to. Axes of groups have no slope and are refused.
func Relate(ctx context.Context, d *chart.Document, t *table.Table) (x, y []float64, rows []uint32, err error) {
	for _, name := range []string{d.X, d.Y} {
		if c := t.Column(name); c.Kind.Coded() && c.Kind != table.YesNo {
			return nil, nil, nil, fmt.Errorf("%s holds groups, which have no slope", c.Prose())
		}
	}
	// Rows are those of x and y alone: a column that only colours must not decide
	// which rows the others are tried on.
	s := selectRows(ctx, &chart.Document{X: d.X, Y: d.Y, LogX: d.LogX, LogY: d.LogY}, t)
	return s.x, s.y, s.rows, ctx.Err()
}

// axisValues gives a column as numbers along an axis: itself, 0 and 1 for yes /
// no, and the position of the level for other groups.
func axisValues(c *table.Column) []float64 {
	if !c.Kind.Coded() {
		return c.Numbers
	}
	values := make([]float64, len(c.Codes))
	for i, code := range c.Codes {
		values[i] = float64(code)
		if code < 0 {
			values[i] = math.NaN()
		}
	}
	return values
}

// selectRows leaves out rows with a missing value in any column that the chart
// uses, and rows at or below zero on a log axis. A row counts under the first
// reason that applies.
func selectRows(ctx context.Context, d *chart.Document, t *table.Table) *selection {
	x, y := axisValues(t.Column(d.X)), axisValues(t.Column(d.Y))
	var columns []*table.Column
	for _, name := range d.Columns() {
		columns = append(columns, t.Column(name))
	}
	n := t.Rows()
	s := &selection{leftOut: make([]uint8, (n+7)/8)}
	missing := make([]int, len(columns))
	for j, c := range columns {
		switch {
		case !hasMissing(c):
		case c.Kind.Coded():
			missing[j] = s.leave(len(c.Codes), func(i int) bool { return c.Codes[i] < 0 })
		default:
			missing[j] = s.leave(len(c.Numbers), func(i int) bool { return !drawable(c, c.Numbers[i]) })
		}
	}
	zeroX, zeroY := 0, 0
	if d.LogX {
		zeroX = s.leave(n, func(i int) bool { return x[i] <= 0 })
	}
	if d.LogY {
		zeroY = s.leave(n, func(i int) bool { return y[i] <= 0 })
	}
	drawn := n - zeroX - zeroY
	for _, count := range missing {
		drawn -= count
	}
	s.rows = make([]uint32, 0, drawn)
	if drawn == n { // the columns themselves, which nobody writes to
		s.all = true
		for i := range n {
			s.rows = append(s.rows, uint32(i))
		}
		s.x, s.y = x, y
	} else {
		s.x, s.y = make([]float64, 0, drawn), make([]float64, 0, drawn)
		for i := range n {
			if s.leftOut[i>>3]>>(i&7)&1 == 0 {
				s.rows = append(s.rows, uint32(i))
				s.x = append(s.x, x[i])
				s.y = append(s.y, y[i])
			}
		}
	}
	if d.LogX {
		s.x = logarithms(ctx, s.x)
	}
	if d.LogY {
		s.y = logarithms(ctx, s.y)
	}
	s.counts = Rows{Total: n, Drawn: len(s.rows), LeftOut: []Reason{}}
	for j, count := range missing {
		s.reason(count, "missing %s", columns[j])
	}
	s.reason(zeroX, "%s at or below zero, which a log scale has no place for", t.Column(d.X))
	s.reason(zeroY, "%s at or below zero, which a log scale has no place for", t.Column(d.Y))
	return s
}

// leave marks rows as left out and counts those that were not before.
func (s *selection) leave(n int, when func(i int) bool) int {
	count := 0
	for i := range n {
		if when(i) && s.leftOut[i>>3]>>(i&7)&1 == 0 {
			s.leftOut[i>>3] |= 1 << (i & 7)
			count++
		}
	}
	return count
}

// hasMissing looks for a missing value, up to the first one.
func hasMissing(c *table.Column) bool {
	if c.Kind.Coded() {
		return len(c.Codes) > 0 && slices.Min(c.Codes) < 0
	}
	for _, v := range c.Numbers {
		if !drawable(c, v) {
			return true
		}
	}
	return false
}

// drawable reports whether a value has a place on an axis: a finite number, or a date
// that can be written.
func drawable(c *table.Column, v float64) bool {
	if c.Kind == table.Date {
		return v >= table.EarliestDate && v <= table.LatestDate
	}
	return v-v == 0 // neither missing nor infinite
}

func logarithms(ctx context.Context, values []float64) []float64 {
	out := make([]float64, len(values))
	_ = parallel.Ranges(ctx, len(values), func(_, from, to int) {
		for i := from; i < to; i++ {
			out[i] = magnitude.Log10(values[i])
		}
	})
	return out
}

func (s *selection) reason(count int, words string, c *table.Column) {
	if count > 0 {
		s.counts.LeftOut = append(s.counts.LeftOut, Reason{fmt.Sprintf(words, c.Prose()), count})
	}
}

// codes gives the group of each selected row. They are not to be written to.
func (s *selection) codes(c *table.Column) []int32 {
	if s.all {
		return c.Codes
	}
	codes := make([]int32, len(s.rows))
	for i, row := range s.rows {
		codes[i] = c.Codes[row]
	}
	return codes
}

// numbers gives the values of a column of numbers for each selected row. They are not
// to be written to.
func (s *selection) numbers(c *table.Column) []float64 {
	all := axisValues(c)
	if s.all {
		return all
	}
	values := make([]float64, len(s.rows))
	for i, row := range s.rows {
		values[i] = all[row]
	}
	return values
}
