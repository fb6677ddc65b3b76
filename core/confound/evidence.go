package confound

import (
	"context"
	"math"
	"slices"

	"copperlark/core/describe"
	"copperlark/core/distribution"
	"copperlark/core/model"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// Evidence is what the finding of one column rests on: its groups one by one, or the
// quarters of a number.
type Evidence struct {
	Finding         // without a verdict, which depends on what else was tried
	Quarters   bool // the column is a number, and Each are its quarters
	All        OneGroup
	Each       []OneGroup // in the order of the levels; of groups that are large enough
	Between    float64    // of groups: the slope through their means; NaN where there is none
	WithX      float64    // of a number: its correlation with x, and with y
	WithY      float64
	Hidden     *Robustness // nil where the slope within is not clear
	Strongest  *Strongest  // nil where no other column can be measured against
	SmallRows  int         // rows with a value that are in groups too small to be compared
	GroupsLeft int         // such groups
}

// OneGroup is a group of rows: where it stands, and its own slope. Slope and Interval are
// NaN where it has none.
type OneGroup struct {
	Level        string
	Code         int // of the level; the quarter of a number
	N            int
	XMean, YMean float64
	XLow, XHigh  float64
	Slope        float64
	Interval     model.Interval
}

// Strongest compares a hidden cause with a column that is there.
type Strongest struct {
	Column string
	Times  float64 // as strong as that column a hidden cause must be to bring the slope to 0; NaN where none can
	Bounds []Bound // what causes once, twice and three times as strong would leave
}

// Examine tells what the finding of a column rests on. x, y and rows are those of Rank; others
// are numbers that a hidden cause is measured against, in these rows. Where they are a sample, all rows tell the rest as far
// as they answer; a number is then cut where the sample's quarters are.
func Examine(
	ctx context.Context,
	x, y []float64,
	rows []uint32,
	c *table.Column,
	others []*table.Column,
	all All,
) (*Evidence, error) {
	e := &Evidence{Finding: try(ctx, x, y, rows, c, all), Between: math.NaN(), WithX: math.NaN(), WithY: math.NaN()}
	if ctx.Err() != nil || e.Missing != "" || e.AlikeTo != "" {
		return e, ctx.Err()
	}
	if groups := asGroups(c); groups != nil {
		if e.Exact {
			e.groupsOfAll(all.Groups(groups), groups.Levels)
		} else {
			held := largeGroups(x, y, rows, groups)
			e.strata(ctx, held, groups.Levels)
			e.left(rows, groups, held)
		}
	} else if known := e.quarters(ctx, x, y, rows, c, all); e.Exact && !known { // half of all rows and half of a sample is neither
		return Examine(ctx, x, y, rows, c, others, NoOthers)
	}
	if e.WithinInterval.Excludes(0) {
		e.hidden()
		e.Strongest = e.strongest(ctx, x, y, rows, c, others)
	}
	return e, ctx.Err()
}

// strata tells the groups one by one.
func (e *Evidence) strata(ctx context.Context, of grouped, levels []string) {
	if compared, err := Compare(ctx, of.x, of.y, of.codes, len(levels)); err == nil {
		reach := make([]reached, len(levels))
		for g := range reach {
			reach[g] = reached{math.Inf(1), math.Inf(-1)}
		}
		for i, code := range of.codes {
			r := &reach[code]
			r.low, r.high = min(r.low, of.x[i]), max(r.high, of.x[i])
		}
		e.each(compared, reach, levels)
	}
}

// reached is from where to where rows stand along x.
type reached struct{ low, high float64 }

// each tells compared groups one by one.
func (e *Evidence) each(compared *Grouped, reach []reached, levels []string) {
	if compared.Between != nil {
		e.Between = compared.Between.Slope
	}
	e.All = OneGroup{
		N:        compared.N,
		XMean:    compared.Pooled.XMean,
		YMean:    compared.Pooled.YMean,
		Slope:    compared.Pooled.Slope,
		Interval: compared.Pooled.SlopeInterval(level),
	}
	e.All.XLow, e.All.XHigh = math.Inf(1), math.Inf(-1)
	for g, count := range compared.Counts {
		if count == 0 {
			continue
		}
		e.All.XLow, e.All.XHigh = min(e.All.XLow, reach[g].low), max(e.All.XHigh, reach[g].high)
		s := OneGroup{
			Level:    levels[g],
			Code:     g,
			N:        count,
			XMean:    compared.XMeans[g],
			YMean:    compared.YMeans[g],
			XLow:     reach[g].low,
			XHigh:    reach[g].high,
			Slope:    math.NaN(),
			Interval: model.Interval{Low: math.NaN(), High: math.NaN()},
		}
		if line := compared.Lines[g]; line != nil {
			s.Slope, s.Interval = line.Slope, line.SlopeInterval(level)
		}
		e.Each = append(e.Each, s)
	}
}

// momentsOfAll tells groups one by one of which the moments are known.
func (e *Evidence) momentsOfAll(of []summary.Moments, levels []string) {
	compared, _ := comparedOf(of)
	if compared == nil {
		return
	}
	reach := make([]reached, len(of))
	for g, m := range of {
		reach[g] = reached{m.XMin, m.XMax}
	}
	e.each(compared, reach, levels)
}

// groupsOfAll is strata and left of all rows.
func (e *Evidence) groupsOfAll(of []summary.Moments, levels []string) {
	e.momentsOfAll(of, levels)
	e.SmallRows, e.GroupsLeft = -e.Rows, -e.Groups
	for _, m := range of {
		if m.N > 0 {
			e.SmallRows, e.GroupsLeft = e.SmallRows+int(m.N), e.GroupsLeft+1
		}
	}
}

// left counts the rows and groups that were too small.
func (e *Evidence) left(rows []uint32, groups *table.Column, held grouped) {
	seen := map[int32]bool{}
	with := 0
	for _, row := range rows {
		if code := groups.Codes[row]; code >= 0 {
			with, seen[code] = with+1, true
		}
	}
	e.SmallRows, e.GroupsLeft = with-len(held.x), len(seen)-held.groups
}

// quarters cuts a number into four parts of about as many rows, and reports whether all rows told theirs.
func (e *Evidence) quarters(ctx context.Context, x, y []float64, rows []uint32, c *table.Column, all All) (known bool) {
	var of grouped
	var z []float64
	for i, row := range rows {
		if v := c.Numbers[row]; !math.IsNaN(v) {
			of.x, of.y, z = append(of.x, x[i]), append(of.y, y[i]), append(z, v)
		}
	}
	e.Quarters = true
	for values, into := range map[*[]float64]*float64{&of.x: &e.WithX, &of.y: &e.WithY} {
		if correlation, err := describe.PearsonOf(*values, z); err == nil {
			*into = correlation.R
		}
	}
	cuts := describe.Quantiles(z, 0.25, 0.5, 0.75)
	of.codes, of.groups = make([]int32, len(z)), 4
	for i, v := range z {
		for of.codes[i] < 3 && v > cuts[of.codes[i]] {
			of.codes[i]++
		}
	}
	quarters := []string{"lowest quarter", "second quarter", "third quarter", "highest quarter"}
	if e.Exact {
		three, parts := all.Number(c), all.Parts(c, cuts)
		if three == nil || parts == nil {
			return false
		}
		e.WithX, e.WithY = three.XZ.Correlation(), three.ZY.Correlation()
		e.momentsOfAll(parts, quarters)
		return true
	}
	e.strata(ctx, of, quarters)
	return false
}

// hidden measures how strong a cause would have to be that nobody recorded.
func (e *Evidence) hidden() {
	half := (e.WithinInterval.High - e.WithinInterval.Low) / 2
	if r, err := Robust(e.Within, half/distribution.StudentQuantile((1-level)/2, float64(e.df)), float64(e.df), 1-level); err == nil {
		e.Hidden = &r
	}
}

// strongest finds the other number that a hidden cause of its strength would take most by,
// with the column itself held fixed, over at most 30,000 rows evenly taken.
func (e *Evidence) strongest(ctx context.Context, x, y []float64, rows []uint32, c *table.Column, others []*table.Column) (out *Strongest) {
	most := 0.0
	for _, other := range others {
		if ctx.Err() != nil {
			return nil
		}
		px, py, pz, held := withBoth(x, y, rows, c, other)
		bounded, err := Benchmark(ctx, px, py, pz, held, []float64{1, 2, 3})
		if err != nil || alike*alike <= max(bounded.R2XZ, bounded.R2YZ) {
			continue
		}
		if strength := bounded.R2XZ * bounded.R2YZ; strength > most {
			most, out = strength, &Strongest{Column: other.Name, Times: bounded.Times(), Bounds: bounded.Bounds}
		}
	}
	return out
}

// withBoth takes the rows where a column and another number have values, evenly thinned: x,
// y, the number, and the columns that hold the first one fixed.
func withBoth(x, y []float64, rows []uint32, c, other *table.Column) (px, py, pz []float64, held [][]float64) {
	groups := asGroups(c)
	of := other.Numbers
	var places []int
	for i, row := range rows {
		if missing := groups == nil && math.IsNaN(c.Numbers[row]) || groups != nil && groups.Codes[row] < 0; !missing &&
			!math.IsNaN(of[row]) {
			places = append(places, i)
		}
	}
	places = thinned(places)
	n := 0
	if groups != nil {
		n = len(groups.Levels) - 1
	}
	if n <= 0 {
		held = [][]float64{make([]float64, len(places))}
	}
	for range n {
		held = append(held, make([]float64, len(places)))
	}
	for at, i := range places {
		px, py, pz = append(px, x[i]), append(py, y[i]), append(pz, of[rows[i]])
		switch {
		case groups == nil:
			held[0][at] = c.Numbers[rows[i]]
		case groups.Codes[rows[i]] > 0:
			held[groups.Codes[rows[i]]-1][at] = 1
		}
	}
	return px, py, pz, slices.DeleteFunc(held, func(column []float64) bool { return !spread(column) })
}

// Times is how many times as strong as z a hidden cause must be, with x and with y alike, to
// bring the estimate to 0: the root of Bound(k).Estimate, found by halving. NaN where no
// cause of that kind can.
func (b *Bounded) Times() float64 {
	reaches := func(k float64) bool {
		bound := b.bound(k)
		return !bound.Exists || bound.Estimate*b.Estimate <= 0
	}
	low, high := 0.0, 1.0
	for ; !reaches(high); high *= 2 {
		if high > 1e6 {
			return math.NaN()
		}
		low = high
	}
	for range 60 {
		if middle := (low + high) / 2; reaches(middle) {
			high = middle
		} else {
			low = middle
		}
	}
	if !b.bound(high).Exists {
		return math.NaN()
	}
	return high
}
