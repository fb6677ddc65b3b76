package confound

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"sort"

	"copperlark/core/distribution"
	"copperlark/core/model"
	"copperlark/core/sample"
	"copperlark/core/table"
)

// asGroups reads a candidate as groups; nil for one that is held fixed as a number.
func asGroups(c *table.Column) *table.Column {
	switch {
	case c.Kind.Coded():
		return c
	case c.Kind == table.Number && c.SuggestsGroups():
		return c.AsGroups(mostGroups)
	}
	return nil
}

func try(ctx context.Context, x, y []float64, rows []uint32, c *table.Column, all All) Finding {
	f := Finding{Column: c.Name, Verdict: TooLittle, pWithin: math.NaN(), pOverall: math.NaN(), pEqual: math.NaN()}
	groups := asGroups(c)
	if groups == nil {
		return f.tryNumber(ctx, x, y, rows, c, all)
	}
	if len(groups.Levels) > mostGroups {
		f.Missing = fmt.Sprintf("rows: there are more than %d groups", mostGroups)
		return f
	}
	return f.tryGroups(ctx, x, y, rows, groups, all)
}

// grouped are the rows of groups that are large enough to be compared.
type grouped struct {
	x, y   []float64
	codes  []int32
	groups int // that are large enough
}

// largeGroups takes the rows of groups of at least 5 rows with a spread of x.
func largeGroups(x, y []float64, rows []uint32, c *table.Column) (out grouped) {
	k := len(c.Levels)
	counts := make([]int, k)
	low, high := make([]float64, k), make([]float64, k)
	for g := range k {
		low[g], high[g] = math.Inf(1), math.Inf(-1)
	}
	for i, row := range rows {
		if g := c.Codes[row]; g >= 0 {
			counts[g]++
			low[g], high[g] = min(low[g], x[i]), max(high[g], x[i])
		}
	}
	large := make([]bool, k)
	for g := range k {
		if large[g] = counts[g] >= smallestGroup && high[g] > low[g]; large[g] {
			out.groups++
		}
	}
	out.x, out.y, out.codes = make([]float64, 0, len(x)), make([]float64, 0, len(x)), make([]int32, 0, len(x))
	for i, row := range rows {
		if g := c.Codes[row]; g >= 0 && large[g] {
			out.x, out.y, out.codes = append(out.x, x[i]), append(out.y, y[i]), append(out.codes, g)
		}
	}
	return out
}

func (f Finding) tryGroups(ctx context.Context, x, y []float64, rows []uint32, c *table.Column, all All) Finding {
	k := len(c.Levels)
	large := largeGroups(x, y, rows, c)
	if f.Groups = large.groups; f.Groups < 2 {
		f.Missing = fmt.Sprintf("groups: fewer than two have %d rows and a spread of x", smallestGroup)
		return f
	}
	gx, gy, codes := large.x, large.y, large.codes
	compared, err := Compare(ctx, gx, gy, codes, k)
	if err != nil || compared.Within == nil {
		f.Missing = "rows with a spread of x"
		return f
	}
	estimate := compared.Within.Slope - compared.Pooled.Slope
	if more, groups := comparedOf(all.Groups(c)); more != nil {
		compared, f.Groups, f.Exact = more, groups, true
	}
	f.Rows, f.Overall, f.Within, f.BetweenX = compared.N, compared.Pooled.Slope, compared.Within.Slope, compared.BetweenShare
	f.OverallInterval, f.WithinInterval = compared.Pooled.SlopeInterval(level), compared.Within.Interval(level)
	f.pOverall, f.pWithin, f.df = compared.Pooled.PSlope(), compared.Within.P, compared.Within.DF
	for g, line := range compared.Lines {
		if line != nil {
			f.Slopes = append(f.Slopes, GroupSlope{c.Levels[g], line.N, line.Slope, line.SlopeInterval(level)})
		}
	}
	if f.AlikeTo = compared.alikeTo(); f.AlikeTo != "" {
		f.Verdict = TooAlike
		return f
	}
	if test, err := TestSlopes(ctx, thinned(gx), thinned(gy), thinned(codes), k); err == nil {
		if f.pEqual = test.Straight.P; test.Curved != nil {
			f.pEqual = test.Curved.P
		}
	}
	f.difference = bootstrapGroups(ctx, gx, gy, codes, k, estimate)
	if f.Exact {
		f.ofAll(len(gx))
	}
	return f
}

// alikeTo names x or y where the groups are bins of it.
func (g *Grouped) alikeTo() string {
	if g.BetweenShare >= alike*alike {
		return "x"
	}
	between := 0.0
	for code, count := range g.Counts {
		if count > 0 {
			d := g.YMeans[code] - g.Pooled.YMean
			between += float64(count) * d * d
		}
	}
	if g.Pooled.Syy > 0 && between >= alike*alike*g.Pooled.Syy {
		return "y"
	}
	return ""
}

// thinned is a sample of at most mostTested values, of the same places for all columns of as many.
func thinned[T any](values []T) []T {
	return sample.Of(values, sample.Rows(len(values), mostTested, nil))
}

func (f Finding) tryNumber(ctx context.Context, x, y []float64, rows []uint32, c *table.Column, all All) Finding {
	nx, ny, nz := make([]float64, 0, len(x)), make([]float64, 0, len(x)), make([]float64, 0, len(x))
	for i, row := range rows {
		if z := c.Numbers[row]; !math.IsNaN(z) {
			nx, ny, nz = append(nx, x[i]), append(ny, y[i]), append(nz, z)
		}
	}
	if len(nx) < 2*smallestGroup {
		f.Missing = fmt.Sprintf("rows: fewer than %d have a value", 2*smallestGroup)
		return f
	}
	adjusted, err := Adjust(ctx, nx, ny, nz)
	switch {
	case errors.Is(err, ErrCollinear):
		f.AlikeTo, f.Verdict = "x", TooAlike
		return f
	case err != nil:
		f.Missing = err.Error()
		return f
	case math.Abs(adjusted.WithY) >= alike:
		f.AlikeTo, f.Verdict = "y", TooAlike
	case math.Abs(adjusted.WithX) >= alike:
		f.AlikeTo, f.Verdict = "x", TooAlike
	}
	if f.BetweenX = adjusted.WithX * adjusted.WithX; f.AlikeTo != "" {
		return f
	}
	f.heldFixed(adjusted)
	f.difference = bootstrapNumber(ctx, nx, ny, nz, f.Within-f.Overall)
	tx, ty, tz := thinned(nx), thinned(ny), thinned(nz)
	if moved, err := Moderate(ctx, tx, ty, tz); err == nil {
		f.Moved, f.pEqual = moved, changesWith(tx, ty, tz)
	}
	if bent, err := Bend(ctx, tx, ty, tz); err == nil && bent.curve != nil && bent.Powers > 1 {
		f.alongCurve(bent, ty)
	}
	if three := all.Number(c); three != nil && !f.Bent {
		if adjusted, err := AdjustMoments(three); err == nil {
			f.heldFixed(adjusted)
			f.BetweenX = adjusted.WithX * adjusted.WithX
			f.ofAll(len(nx))
		}
	}
	return f
}

// heldFixed is what a number does that is held fixed as itself.
func (f *Finding) heldFixed(a *Adjusted) {
	f.Rows, f.Overall, f.Within = a.N, a.Pooled.Slope, a.Slope.Slope
	f.OverallInterval, f.WithinInterval = a.Pooled.SlopeInterval(level), a.Slope.Interval(level)
	f.pOverall, f.pWithin, f.df = a.Pooled.PSlope(), a.Slope.P, a.Slope.DF
}

// changesWith is how probable it is by chance that the slope of x changes with z as much as
// it does: of the product in y ~ x + x² + x³ + z + x z, by HC3. A curve that is common to all
// rows is no change with z; without it a z that goes with x would be taken for one.
func changesWith(x, y, z []float64) float64 {
	u, v := standardised(x), standardised(z)
	product := make([]float64, len(u))
	for i := range u {
		product[i] = u[i] * v[i]
	}
	columns := model.NewColumns(len(u))
	for k := 1; k <= 3; k++ {
		columns.Put(power(u, k))
	}
	columns.Put(v)
	if !columns.Put(product) {
		return math.NaN()
	}
	return columns.Last(y).PHC3
}

// alongCurve holds the number fixed along a curve where that is clearly another thing than
// along a line.
func (f *Finding) alongCurve(b *Bent, y []float64) {
	crude, linear, curve := b.crude.Influence(y), b.linear.Influence(y), b.curve.Influence(y)
	if apart := between(b.Curve.Value-b.Linear.Value, curve, linear); apart.Low <= 0 && apart.High >= 0 {
		return
	}
	f.Bent, f.Within, f.pWithin, f.df = true, b.Curve.Value, b.Curve.P, b.Curve.DF
	half := distribution.StudentQuantile((1-level)/2, float64(b.Curve.DF)) * b.Curve.SE
	f.WithinInterval = model.Interval{Low: f.Within - half, High: f.Within + half}
	f.difference = between(b.Curve.Value-b.Crude.Value, curve, crude)
}

// between is the 95 % interval of a difference of two estimates from the same rows, by what
// each row does to them.
func between(difference float64, a, b []float64) model.Interval {
	sum := 0.0
	for i := range a {
		d := a[i] - b[i]
		sum += d * d
	}
	half := normal975 * math.Sqrt(sum)
	return model.Interval{Low: difference - half, High: difference + half}
}

// together holds the two strongest candidates fixed at once; nil where there are no two.
func together(ctx context.Context, x, y []float64, rows []uint32, candidates []*table.Column, findings []Finding) *Finding {
	var able []int
	for i, f := range findings {
		if f.Missing == "" && f.AlikeTo == "" && !math.IsNaN(f.Within) {
			able = append(able, i)
		}
	}
	if len(able) < 2 || ctx.Err() != nil {
		return nil
	}
	strength := func(i int) float64 {
		return math.Abs(findings[i].Within - findings[i].Overall)
	}
	sort.SliceStable(able, func(a, b int) bool { return strength(able[a]) > strength(able[b]) })
	pair := []*table.Column{candidates[able[0]], candidates[able[1]]}
	w := wholeRows(x, y, rows, pair)
	px, py := w.x, w.y
	held, err := holding(ctx, px, py, w.codes, w.sizes, w.values)
	if err != nil {
		return nil
	}
	crude := model.NewColumns(len(px))
	crude.Put(px)
	all, one := crude.Last(py), held.Last(py)
	if math.IsNaN(one.P) || math.IsNaN(all.P) {
		return nil
	}
	if len(rows) > mostTested { // the sample tells what holding both fixed changes, all rows what the slope is
		every := crudeOfAll(x, y, rows, pair)
		if math.IsNaN(every.P) {
			return nil
		}
		one.Value += every.Value - all.Value
		one.P = distribution.StudentTwoSided(one.Value/one.SE, float64(one.DF))
		all = every
	}
	f := &Finding{
		Column:   pair[0].Name,
		With:     pair[1].Name,
		Rows:     len(px),
		Overall:  all.Value,
		Within:   one.Value,
		pOverall: all.P,
		pWithin:  one.P,
		pEqual:   math.NaN(),
		BetweenX: math.NaN(),
	}
	f.OverallInterval, f.WithinInterval = intervalOf(all), intervalOf(one)
	f.difference = between(one.Value-all.Value, held.Influence(py), crude.Influence(py))
	return f
}

// crudeOfAll is the slope over all rows that have every one of some columns.
func crudeOfAll(x, y []float64, rows []uint32, columns []*table.Column) model.Coefficient {
	wx, wy := make([]float64, 0, len(x)), make([]float64, 0, len(x))
	for i, row := range rows {
		if !slices.ContainsFunc(columns, func(c *table.Column) bool { return c.Missing(int(row)) }) {
			wx, wy = append(wx, x[i]), append(wy, y[i])
		}
	}
	crude := model.NewColumns(len(wx))
	crude.Put(wx)
	return crude.Last(wy)
}

// whole are rows that have every one of some columns: the columns of groups as codes, each
// with how many there are, and the others as numbers.
type whole struct {
	x, y   []float64
	codes  [][]int32
	sizes  []int
	values [][]float64
}

// wholeRows takes them from a sample of at most 30,000 rows.
func wholeRows(x, y []float64, rows []uint32, columns []*table.Column) (w whole) {
	var groups, numbers []*table.Column
	for _, c := range columns {
		if g := asGroups(c); g != nil {
			groups, w.sizes = append(groups, g), append(w.sizes, len(g.Levels))
		} else {
			numbers = append(numbers, c)
		}
	}
	places := sample.Rows(len(rows), mostTested, nil)
	if places == nil {
		places = make([]int, len(rows))
		for i := range places {
			places[i] = i
		}
	}
	w.codes, w.values = make([][]int32, len(groups)), make([][]float64, len(numbers))
	for _, row := range places {
		at := rows[row]
		if slices.ContainsFunc(groups, func(g *table.Column) bool { return g.Codes[at] < 0 }) ||
			slices.ContainsFunc(numbers, func(z *table.Column) bool { return math.IsNaN(z.Numbers[at]) }) {
			continue
		}
		w.x, w.y = append(w.x, x[row]), append(w.y, y[row])
		for j, g := range groups {
			w.codes[j] = append(w.codes[j], g.Codes[at])
		}
		for j, z := range numbers {
			w.values[j] = append(w.values[j], z.Numbers[at])
		}
	}
	return w
}

func intervalOf(c model.Coefficient) model.Interval {
	half := distribution.StudentQuantile((1-level)/2, float64(c.DF)) * c.SE
	return model.Interval{Low: c.Value - half, High: c.Value + half}
}
