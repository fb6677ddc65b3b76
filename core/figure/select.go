package figure

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/formula"
	"copperlark/core/magnitude"
	"copperlark/core/mark"
	"copperlark/core/parallel"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// selection is the rows that a chart draws, with x and y in drawn space; where a
// statistic stands along an axis, with the values that it is made of. A row stands once
// for each of several columns along y.
type selection struct {
	rows    []uint32
	x, y    []float64
	series  []int32  // which column along y, where there are several
	gaps    []uint32 // rows with everything but y
	leftOut []uint8  // one bit a row
	why     []uint8  // of each row, where it is asked: 0 where it is drawn, else one more than the number of the reason
	all     bool     // every row of the table is drawn, once
	before  struct { // where the rows stood before something was taken out
		x, y mark.Extent
	}
	measured [2][]float64 // x and y of the rows before something was taken out; nil where nothing is
	counts   Rows
}

// Selection is the rows that are drawn.
type Selection struct {
	Asked
	rows *selection
}

// Select selects the rows of a chart; of none it tells why.
func Select(ctx context.Context, a Asked) (*Selection, []chart.Problem) {
	rows, problem := selectRows(ctx, a.Document, a.Table, a.X, a.Y)
	if problem != nil {
		return nil, []chart.Problem{*problem}
	}
	if ctx.Err() == nil && len(rows.rows) == 0 {
		return nil, []chart.Problem{
			{
				Clause:  "plot",
				Message: fmt.Sprintf("none of the %s rows can be drawn", scale.Number(float64(a.Table.Rows()), 0)),
				Advice:  rows.whyEmpty(),
			},
		}
	}
	return &Selection{a, rows}, nil
}

func (s *selection) whyEmpty() string {
	words := ""
	for i, reason := range s.counts.LeftOut {
		if i > 0 {
			words += "; "
		}
		words += fmt.Sprintf("%s: %s", reason.Reason, scale.Number(float64(reason.Count), 0))
	}
	if words == "" {
		return "the table has no rows"
	}
	return words
}

// Relate gives x and y of the rows that a chart draws, in drawn space, with the
// table rows that they belong to. Axes of groups have no slope and are refused.
func Relate(ctx context.Context, b *mark.Bound) (x, y []float64, rows []uint32, err error) {
	for _, axis := range []string{"x", "y"} {
		if a := b.Along(axis); !a.Numeric() {
			if a.Aggregated() {
				return nil, nil, nil, fmt.Errorf("a statistic stands along %s; explanations are tried of single rows", axis)
			}
			return nil, nil, nil, fmt.Errorf("%s holds groups, which have no slope", a.Prose())
		}
	}
	return related(ctx, b)
}

// RelateGroups is Relate where groups stand along an axis, or along both: of these it gives
// the place of each row's group among the levels of the axis's column.
func RelateGroups(ctx context.Context, b *mark.Bound) (x, y []float64, rows []uint32, err error) {
	return related(ctx, b)
}

func related(ctx context.Context, b *mark.Bound) (x, y []float64, rows []uint32, err error) {
	d := b.Document
	if d.Function != nil {
		return nil, nil, nil, errors.New("y is worked out from x: nothing else explains it")
	}
	s, problem := selectRows(ctx, alone(d), b.Table, b.X, b.Y)
	if problem != nil {
		return nil, nil, nil, fmt.Errorf("%s", problem.Message)
	}
	return s.x, s.y, s.rows, ctx.Err()
}

// alone is a chart of x and y and nothing else: a column that only colours must not decide which rows the others are
// tried on.
func alone(d *chart.Document) *chart.Document {
	return &chart.Document{X: d.X, Y: d.Y, Rows: chart.Rows{Where: d.Where, Chosen: d.Chosen, TakeOut: d.TakeOut}, Scales: d.Scales}
}

// RelatedElsewhere asks all rows what Relate and others tell of a sample; nil where they cannot be asked, which the whole
// says then.
func RelatedElsewhere(b *mark.Bound, whole *summary.Whole) confound.All {
	if whole == nil {
		return confound.NoOthers
	}
	e := elsewhereOf(b.With(alone(b.Document)), whole)
	if e != nil && (e.X == nil || e.Y == nil) {
		whole.Bars = "all rows are asked of two numbers alone"
	}
	if whole.Bars != "" {
		return confound.NoOthers
	}
	return &mark.Related{Elsewhere: e}
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

// Why rows are left out, of what.
const (
	whereWords        = "not of rows where %s"
	missingWords      = "missing %s"
	belowWords        = "%s at or below zero, which a log scale has no place for"
	belowColoursWords = "%s at or below zero, which a log scale of colours has no place for"
)

// selectRows leaves out rows that the condition leaves out, rows with a missing value in
// any column that the chart uses, and rows at or below zero on a log axis. A row counts
// under the first reason that applies.
func selectRows(ctx context.Context, d *chart.Document, t *table.Table, x, y *mark.Axis) (*selection, *chart.Problem) {
	s := &selection{}
	return s, s.take(ctx, d, t, x, y)
}

// take is selectRows, into a selection.
func (s *selection) take(ctx context.Context, d *chart.Document, t *table.Table, x, y *mark.Axis) *chart.Problem {
	n := t.Rows()
	s.leftOut, s.counts = make([]uint8, (n+7)/8), Rows{Total: n, LeftOut: []Reason{}}
	if problem := s.where(ctx, d.Where, t); problem != nil {
		return problem
	}
	s.chosen(ctx, d.Chosen)
	several := len(y.More) > 0
	before := slices.Clone(s.leftOut)
	if y.Column != nil && !y.Counts() && !several {
		s.leaveMissing(ctx, y.Column)
		s.findGaps(before)
	}
	for _, c := range mapped(d, t, x, y) {
		s.leaveMissing(ctx, c)
		s.gaps = slices.DeleteFunc(s.gaps, func(row uint32) bool { return c.Missing(int(row)) })
	}
	if c := t.Column(d.Colour); d.Gradient.Log && d.Gradient.Of(c) {
		s.count(
			s.leave(ctx, n, func(i int) bool { return c.Numbers[i] <= 0 }),
			belowColoursWords,
			c.Prose(),
		)
	}
	if several {
		s.several(ctx, x, append([]*table.Column{y.Column}, y.More...), y)
		return nil
	}
	xs, ys := s.along(ctx, x, n), s.along(ctx, y, n)
	s.gather(ctx, n, xs, ys)
	if x.Kind == scale.Log && !x.Aggregated() || x.Kind == scale.NearLinear && !x.Aggregated() {
		s.x = drawnValues(ctx, x.Scale(), s.x)
	}
	if y.Kind == scale.Log && !y.Aggregated() || y.Kind == scale.NearLinear && !y.Aggregated() {
		s.y = drawnValues(ctx, y.Scale(), s.y)
	}
	s.counts.Drawn = len(s.rows)
	if ctx.Err() != nil { // what was selected so far is nothing to go on with
		return nil
	}
	return s.takeOut(ctx, t.Column(d.TakeOut))
}

// takeOut moves the rows to where they would stand if the groups of a column had equal
// means, or a number no line with x and y.
func (s *selection) takeOut(ctx context.Context, c *table.Column) *chart.Problem {
	if c == nil || len(s.rows) == 0 {
		return nil
	}
	s.before.x, s.before.y = mark.None().Of(s.x...), mark.None().Of(s.y...)
	s.measured = [2][]float64{s.x, s.y}
	groups := c
	if !c.Kind.Coded() && c.SuggestsGroups() {
		groups = c.AsGroups(chart.MostTakenOut)
	}
	if groups != nil && groups.Kind.Coded() {
		s.x, s.y = confound.TakeOutGroups(s.x, s.y, s.codes(groups), len(groups.Levels))
		return nil
	}
	x, y, err := confound.TakeOutNumber(ctx, s.x, s.y, s.picked(c.Numbers))
	if err != nil {
		return &chart.Problem{
			Clause:  "take out",
			Column:  c.Name,
			Message: fmt.Sprintf("%s cannot be taken out: %s", c.ReadableName(), err),
			Advice:  "take out another column",
		}
	}
	s.x, s.y = x, y
	return nil
}

// where leaves out the rows that a condition is not true of.
func (s *selection) where(ctx context.Context, condition string, t *table.Table) *chart.Problem {
	if condition == "" {
		return nil
	}
	f, err := formula.Parse(condition)
	var keep []bool
	if err == nil {
		keep, err = f.Rows(ctx, t, 0)
	}
	if err != nil {
		return &chart.Problem{
			Clause:  "of rows where",
			Message: err.Error(),
			Advice:  "write it as SQL: season >= 2029 and district <> 'Tarn'",
		}
	}
	count := s.leave(ctx, len(keep), func(i int) bool { return !keep[i] })
	s.count(count, whereWords, condition)
	return nil
}

// chosen leaves out rows by hand.
func (s *selection) chosen(ctx context.Context, said *chart.Chosen) {
	if said == nil {
		return
	}
	numbered := make([]bool, s.counts.Total)
	for _, row := range said.Rows {
		numbered[int(row)-1] = true
	}
	count := s.leave(ctx, len(numbered), func(i int) bool { return numbered[i] == said.Without })
	if said.Without {
		s.count(count, "left out %s", "by hand")
	} else {
		s.count(count, "not among the rows chosen %s", "by hand")
	}
}

// mapped lists the columns, beside y, in which a row needs a value.
func mapped(d *chart.Document, t *table.Table, x, y *mark.Axis) (list []*table.Column) {
	if x.Column != nil && !x.Counts() {
		list = append(list, x.Column)
	}
	skip := append([]string{d.Y.Column, d.X.Column}, d.AlsoY...)
	drawn := *d
	drawn.Label, drawn.Card, drawn.Follow = nil, nil, "" // a row without a label or a fact on its card is drawn all the same
	for _, name := range drawn.Columns() {
		if c := t.Column(name); c != nil && !slices.Contains(skip, name) {
			list = append(list, c)
		}
	}
	if y.Counts() && d.Y.Column != "" {
		if c := t.Column(d.Y.Column); c != nil {
			list = append(list, c)
		}
	}
	return list
}

func (s *selection) leaveMissing(ctx context.Context, c *table.Column) {
	count := 0
	switch {
	case !hasMissing(c):
	case c.Kind.Coded():
		count = s.leave(ctx, len(c.Codes), func(i int) bool { return c.Codes[i] < 0 })
	default:
		count = s.leave(ctx, len(c.Numbers), func(i int) bool { return !c.Drawable(c.Numbers[i]) })
	}
	s.count(count, missingWords, c.Prose())
}

// along gives the values along an axis, and leaves out what a log scale has no place for.
func (s *selection) along(ctx context.Context, a *mark.Axis, n int) []float64 {
	if a.Column == nil || a.Counts() {
		return nil
	}
	values := axisValues(a.Column)
	if a.Kind == scale.Log && !a.Aggregated() {
		s.count(
			s.leave(ctx, n, func(i int) bool { return values[i] <= 0 }),
			belowWords,
			a.Column.Prose(),
		)
	}
	return values
}

// findGaps keeps the rows that are left out for want of y alone.
func (s *selection) findGaps(before []uint8) {
	for i := range before {
		gone := s.leftOut[i] &^ before[i]
		for bit := 0; gone != 0; bit++ {
			if gone&1 == 1 {
				s.gaps = append(s.gaps, uint32(i*8+bit))
			}
			gone >>= 1
		}
	}
}

// gather collects the rows that stay. nil values along an axis stay nil.
func (s *selection) gather(ctx context.Context, n int, x, y []float64) {
	gone := 0
	for _, reason := range s.counts.LeftOut {
		gone += reason.Count
	}
	s.rows = make([]uint32, 0, n-gone)
	if gone == 0 { // the columns themselves, which nobody writes to
		s.all = true
		for i := range n {
			s.rows = append(s.rows, uint32(i))
		}
		s.x, s.y = orNothing(x, n), orNothing(y, n)
		return
	}
	for i := range n {
		if stopped(ctx, i) {
			break
		}
		if s.leftOut[i>>3]>>(i&7)&1 == 0 {
			s.rows = append(s.rows, uint32(i))
		}
	}
	s.x, s.y = s.picked(x), s.picked(y)
}

func orNothing(values []float64, n int) []float64 {
	if values == nil {
		return make([]float64, n)
	}
	return values
}

func (s *selection) picked(values []float64) []float64 {
	out := make([]float64, len(s.rows))
	if values == nil {
		return out
	}
	for i, row := range s.rows {
		out[i] = values[row]
	}
	return out
}

// several collects a row for each column along y that it has a value in.
func (s *selection) several(ctx context.Context, x *mark.Axis, columns []*table.Column, y *mark.Axis) {
	n := columns[0].Len()
	xs := s.along(ctx, x, n)
	drawnX, drawnY := x.Scale(), y.Scale()
	some := make([]bool, n)
	for j, c := range columns {
		values := axisValues(c)
		for i := range n {
			if stopped(ctx, i) {
				return
			}
			if s.leftOut[i>>3]>>(i&7)&1 == 1 || !c.Drawable(values[i]) {
				continue
			}
			v := values[i]
			if !y.Aggregated() {
				v = drawnY.Place(v)
			}
			if !magnitude.Finite(v) {
				continue
			}
			some[i] = true
			s.rows = append(s.rows, uint32(i))
			s.x = append(s.x, drawnX.Drawn(xs[i]))
			s.y = append(s.y, v)
			s.series = append(s.series, int32(j))
		}
	}
	before := slices.Clone(s.leftOut)
	s.count(s.leave(ctx, n, func(i int) bool { return !some[i] }), "none of %s can be drawn", "the columns along y")
	s.findGaps(before)
	for i := range n {
		if some[i] {
			s.counts.Drawn++
		}
	}
}

// stopped looks at the context of a loop over rows, now and then.
func stopped(ctx context.Context, i int) bool { return i&0xffff == 0xffff && ctx.Err() != nil }

// leave marks rows as left out and counts those that were not before.
func (s *selection) leave(ctx context.Context, n int, when func(i int) bool) int {
	count := 0
	for i := range n {
		if stopped(ctx, i) {
			return count
		}
		if when(i) && s.leftOut[i>>3]>>(i&7)&1 == 0 {
			s.leftOut[i>>3] |= 1 << (i & 7)
			if s.why != nil {
				s.why[i] = uint8(min(len(s.counts.LeftOut)+1, math.MaxUint8))
			}
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
		if !c.Drawable(v) {
			return true
		}
	}
	return false
}

func drawnValues(ctx context.Context, s *scale.Scale, values []float64) []float64 {
	out := make([]float64, len(values))
	drawn := s.Drawn
	if s.Kind == scale.Log {
		drawn = magnitude.Log10
	}
	_ = parallel.Ranges(ctx, len(values), func(_, from, to int) {
		for i := from; i < to; i++ {
			out[i] = drawn(values[i])
		}
	})
	return out
}

func (s *selection) count(count int, words, of string) {
	if count > 0 {
		s.counts.LeftOut = append(s.counts.LeftOut, Reason{Reason: fmt.Sprintf(words, of), Count: count})
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
	return s.picked(all)
}
