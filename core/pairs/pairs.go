// Package pairs looks at columns of numbers two at a time: how much each goes with each
// other, over all rows and within groups, the most telling pairs first.
//
//	found, err := pairs.Look(ctx, t, pairs.Question{By: "district"})
//	found.List[0] // the pair that is most correlated
package pairs

import (
	"cmp"
	"context"
	"math"
	"slices"

	"copperlark/core/describe"
	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/parallel"
	"copperlark/core/sample"
	"copperlark/core/table"
)

// The limits of a look.
const (
	MostColumns = 12 // looked at together
	FirstLook   = 6  // columns that are taken where none are named
	MostGroups  = 10 // of the column that colours
	suggestRows = 5000
)

// None is said of groups where there are to be none.
const None = "none"

// Rank says which pairs come first.
type Rank string

// The ranks.
const (
	Strength   Rank = "strength"   // the largest |r|, overall or within
	Difference Rank = "difference" // the largest change from overall to within
)

// Question is what is looked at. Empty fields leave the choice to the program.
type Question struct {
	Columns  []string
	By       string // the column of groups; None for none
	Straight bool   // skewed columns stay as they are, not on a log scale
	Rank     Rank
	Outcome  string // only pairs with this column are ranked
	Rows     int    // a sample of so many rows, drawn at random within the groups; 0: all
}

// Column is a column that is looked at. Values are standardised, after the logarithm
// where Log holds; NaN is missing.
type Column struct {
	*table.Column
	Log    bool
	values []float64
	codes  []int32 // of a column of groups; then there are no values
}

// Pair is two columns. R is Pearson's correlation over N rows that have both; Within that
// of the deviations from the means of groups, Σ Sxy / √(Σ Sxx Σ Syy). NaN where there is
// none. Clear says that the 95 % interval (Fisher 1921) leaves zero out, adjusted for how
// many pairs there are (Bonferroni); Turns that both are clear and their signs differ.
type Pair struct {
	X, Y               int // places in Columns
	N                  int
	R, Within          float64
	Clear, ClearWithin bool
	Turns              bool
	Measure            Measure // what R is; of groups it has no sign, and Within is NaN

	chance float64
}

// Found is what a look found.
type Found struct {
	Columns []Column
	By      *table.Column // as groups; nil for none
	Pairs   []Pair        // every one, by Y and X, X before Y
	List    []int         // places in Pairs: those that are ranked, the most telling first
	Rows    int           // that were looked at
	rows    []int         // which; nil for all
	shown   []int         // places among them of those that are drawn as dots; nil for all
}

// Candidates are the columns that can be looked at: numbers with a spread that do not count
// rows.
func Candidates(t *table.Table) (list []*table.Column) {
	for _, c := range t.Columns() {
		if c.Kind.Quantity() && spread(c.Numbers) && !c.CountsRows() {
			list = append(list, c)
		}
	}
	return list
}

func spread(values []float64) bool {
	first := math.NaN()
	for _, v := range values {
		switch {
		case math.IsNaN(v):
		case math.IsNaN(first):
			first = v
		case v != first:
			return true
		}
	}
	return false
}

// GroupCandidates are the columns that can colour.
func GroupCandidates(t *table.Table) (list []*table.Column) {
	for _, c := range t.Columns() {
		if c.Kind.Groups() && len(c.Levels) >= 2 && len(c.Levels) <= MostGroups {
			list = append(list, c)
		}
	}
	return list
}

// Look compares every pair. The error is the context's; a table with fewer than two columns
// to look at gives no pairs.
func Look(ctx context.Context, t *table.Table, q Question) (*Found, error) {
	f := &Found{Rows: t.Rows()}
	if q.Rows > 0 && q.Rows < t.Rows() {
		var codes []int32
		if by := t.Column(q.By); by != nil && by.Kind.Groups() {
			codes = by.Codes
		}
		f.rows = sample.Rows(t.Rows(), q.Rows, codes)
		f.Rows = len(f.rows)
	}
	list, err := chosen(ctx, t, q.Columns)
	if err != nil {
		return nil, err
	}
	for _, c := range list {
		f.Columns = append(f.Columns, Column{Column: c})
	}
	err = parallel.Each(ctx, len(f.Columns), func(i int) error {
		f.Columns[i].prepare(ctx, f.rows, q.Straight)
		return ctx.Err()
	})
	if err != nil {
		return nil, err
	}
	f.By = f.groups(t, q.By)
	f.shown = sample.Rows(f.Rows, mostDots, f.codes())
	if err := f.compare(ctx); err != nil {
		return nil, err
	}
	f.rank(q)
	return f, nil
}

// chosen are the columns that were named, or those that go most with another.
func chosen(ctx context.Context, t *table.Table, names []string) (list []*table.Column, err error) {
	all := Candidates(t)
	if len(names) == 0 {
		return telling(ctx, all)
	}
	for _, c := range append(all, GroupCandidates(t)...) {
		if slices.Contains(names, c.Name) && len(list) < MostColumns {
			list = append(list, c)
		}
	}
	inTableOrder(t, list)
	return list, nil
}

// telling are the columns with the largest |r| with any other that is no copy of it, in the
// order of the table, over a sample of rows. Numbers that stand for groups come last.
func telling(ctx context.Context, all []*table.Column) ([]*table.Column, error) {
	if len(all) <= FirstLook {
		return all, nil
	}
	sampled := make([][]float64, len(all))
	rows := sample.Rows(all[0].Len(), suggestRows, nil)
	for i, c := range all {
		sampled[i] = sample.Of(c.Numbers, rows)
	}
	matrix, err := describe.PearsonMatrix(ctx, sampled)
	if err != nil {
		return nil, err
	}
	strongest := make(map[*table.Column]float64, len(all))
	for i, c := range all {
		for j := range all {
			if r := math.Abs(matrix[i][j]); j != i && r < alike && r > strongest[c] {
				strongest[c] = r
			}
		}
		if c.SuggestsGroups() {
			strongest[c]--
		}
	}
	order := slices.Clone(all)
	slices.SortStableFunc(order, func(a, b *table.Column) int { return cmp.Compare(strongest[b], strongest[a]) })
	order = order[:FirstLook]
	return slices.DeleteFunc(slices.Clone(all), func(c *table.Column) bool { return !slices.Contains(order, c) }), nil
}

// alike is from which |r| on two columns tell the same.
const alike = 0.98

// prepare picks the rows, takes the logarithm where that is due, and standardises.
func (c *Column) prepare(ctx context.Context, rows []int, straight bool) {
	if c.Kind.Groups() {
		c.codes = sample.Of(c.Codes, rows)
		return
	}
	values := sample.Of(c.Numbers, rows)
	if s := moments(ctx, values); !straight && describe.SuggestsLog(describe.Skew(values), s.Min, s.Max) {
		c.Log = true
		drawn := make([]float64, len(values))
		for i, v := range values {
			drawn[i] = math.Log10(v)
		}
		values = drawn
	}
	values, _ = magnitude.Scaled(values)
	s := moments(ctx, values)
	c.values = make([]float64, len(values))
	for i, v := range values {
		c.values[i] = (v - s.Mean) / s.SD // NaN where there is no spread
	}
}

func moments(ctx context.Context, values []float64) describe.Summary {
	if slices.ContainsFunc(values, math.IsNaN) {
		values = describe.Present(values)
	}
	return describe.Moments(ctx, values)
}

// groups gives the column that was named, or the one whose groups stand furthest apart.
func (f *Found) groups(t *table.Table, by string) (best *table.Column) {
	if by == None {
		return nil
	}
	most := 0.0
	for _, c := range GroupCandidates(t) {
		if c.Name == by {
			return c
		}
		if share := f.apart(c); by == "" && share > most {
			most, best = share, c
		}
	}
	return best
}

// apart is the mean share of the spread of the columns that lies between groups (eta
// squared), over a sample of rows.
func (f *Found) apart(c *table.Column) (share float64) {
	codes := sample.Of(c.Codes, f.rows)
	some := sample.Rows(len(codes), suggestRows, codes)
	codes = sample.Of(codes, some)
	for _, column := range f.Columns {
		if column.Grouped() {
			continue
		}
		if d := describe.GroupDifferences(codes, len(c.Levels), sample.Of(column.values, some)); d.Epsilon2 > 0 {
			share += d.Epsilon2 / float64(len(f.Columns))
		}
	}
	return share
}

// codes are the groups of the rows that are looked at; nil where there are none.
func (f *Found) codes() []int32 {
	if f.By == nil {
		return nil
	}
	return sample.Of(f.By.Codes, f.rows)
}

// Dots is how many rows are drawn as dots.
func (f *Found) Dots() int {
	if f.shown == nil {
		return f.Rows
	}
	return len(f.shown)
}

// sums are those of a group of rows.
type sums struct{ n, x, y, xx, yy, xy float64 }

func (s sums) centred() (sxx, syy, sxy float64) {
	if s.n == 0 {
		return 0, 0, 0
	}
	return s.xx - s.x*s.x/s.n, s.yy - s.y*s.y/s.n, s.xy - s.x*s.y/s.n
}

func (f *Found) compare(ctx context.Context) error {
	codes, groups := f.codes(), 0
	if f.By != nil {
		groups = len(f.By.Levels)
	}
	for y := range f.Columns {
		for x := range y {
			f.Pairs = append(f.Pairs, Pair{X: x, Y: y})
		}
	}
	return parallel.Each(ctx, len(f.Pairs), func(i int) error {
		p := &f.Pairs[i]
		if x, y := &f.Columns[p.X], &f.Columns[p.Y]; x.Grouped() || y.Grouped() {
			p.measure(x, y, len(f.Pairs))
			return ctx.Err()
		}
		p.Measure = R
		p.correlate(ctx, f.Columns[p.X].values, f.Columns[p.Y].values, codes, groups, len(f.Pairs))
		return ctx.Err()
	})
}

// stretch is after how many rows it is looked whether anybody waits.
const stretch = 1 << 16

// correlate walks over the rows once. Rows without a group count overall alone.
func (p *Pair) correlate(ctx context.Context, x, y []float64, codes []int32, groups, pairs int) {
	of := make([]sums, groups+1) // the last holds what has no group
	for from := 0; from < len(x) && ctx.Err() == nil; from += stretch {
		for i := from; i < min(from+stretch, len(x)); i++ {
			a, b := x[i], y[i]
			if a != a || b != b {
				continue
			}
			g := groups
			if codes != nil && codes[i] >= 0 {
				g = int(codes[i])
			}
			s := &of[g]
			s.n, s.x, s.y, s.xx, s.yy, s.xy = s.n+1, s.x+a, s.y+b, s.xx+a*a, s.yy+b*b, s.xy+a*b
		}
	}
	var all sums
	var wxx, wyy, wxy, wn, used float64
	for g, s := range of {
		all.n, all.x, all.y, all.xx, all.yy, all.xy = all.n+s.n, all.x+s.x, all.y+s.y, all.xx+s.xx, all.yy+s.yy, all.xy+s.xy
		if g < groups && s.n > 0 {
			sxx, syy, sxy := s.centred()
			wxx, wyy, wxy, wn, used = wxx+sxx, wyy+syy, wxy+sxy, wn+s.n, used+1
		}
	}
	sxx, syy, sxy := all.centred()
	p.N, p.R, p.Within = int(all.n), correlation(sxx, syy, sxy, all.n), math.NaN()
	p.Clear = clear95(p.R, all.n-3, pairs)
	if groups > 0 {
		p.Within = correlation(wxx, wyy, wxy, wn)
		p.ClearWithin = clear95(p.Within, wn-used-2, pairs)
	}
	p.Turns = p.Clear && p.ClearWithin && p.R*p.Within < 0
}

// least is what rounding leaves of the spread of standardised values.
const least = 1e-12

func correlation(sxx, syy, sxy, n float64) float64 {
	if n < 3 || !(sxx > least*n) || !(syy > least*n) {
		return math.NaN()
	}
	return min(max(sxy/math.Sqrt(sxx*syy), -1), 1)
}

func clear95(r, weight float64, pairs int) bool {
	if math.IsNaN(r) || weight < 1 {
		return false
	}
	if math.Abs(r) == 1 {
		return true
	}
	return 2*distribution.NormalSurvival(math.Abs(math.Atanh(r))*math.Sqrt(weight)) < 0.05/float64(pairs)
}

// rank orders the pairs that are asked for.
func (f *Found) rank(q Question) {
	known := func(v float64) float64 {
		if math.IsNaN(v) {
			return 0
		}
		return v
	}
	weight := func(p Pair) float64 {
		if q.Rank == Difference {
			return math.Abs(known(p.R) - known(p.Within))
		}
		return max(math.Abs(known(p.R)), math.Abs(known(p.Within)))
	}
	for i, p := range f.Pairs {
		if q.Outcome == "" || f.Columns[p.X].Name == q.Outcome || f.Columns[p.Y].Name == q.Outcome {
			f.List = append(f.List, i)
		}
	}
	slices.SortStableFunc(f.List, func(a, b int) int {
		switch d := weight(f.Pairs[b]) - weight(f.Pairs[a]); {
		case d > 0:
			return 1
		case d < 0:
			return -1
		}
		return 0
	})
}
