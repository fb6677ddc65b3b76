package figure

import (
	"context"
	"math"
	"sync"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/describe"
	"copperlark/core/magnitude"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// relate makes what the reading speaks from: of two columns of numbers the line of all
// rows, compared with the groups that the chart shows; of others what they have.
func (b *Drawn) relate(ctx context.Context) {
	r := &Relation{}
	if c := b.Table.Column(b.Document.TakeOut); c != nil {
		r.TakenOut = c.Prose()
	}
	b.figure.Relation = r
	switch {
	case b.Document.Function != nil:
		r.WorkedOut = b.workedOut()
		return
	case b.Y.Of == chart.Spread:
		r.Spread = b.spread(ctx)
		return
	case b.X.Aggregated() || b.Y.Aggregated():
		r.Counted = b.counted(ctx)
		return
	case b.X.Grouped() && b.Y.Grouped():
		r.Problem, r.Table = "groups have no slope", b.crossed()
		return
	case b.X.Grouped() || b.Y.Grouped() && !(b.X.Numeric() && b.Y.Numeric()):
		r.Problem = "groups have no slope"
		if b.X.Grouped() && b.Y.Numeric() && b.Y.Column.Kind != table.Date && len(b.Y.More) == 0 {
			r.Means = b.groupMeans()
		}
		return
	}
	if len(b.Y.More) > 0 {
		r.Problem, r.Each = "several columns have no line together", b.eachColumn(ctx)
		return
	}
	line, err := b.whole.Shared.Overall(ctx)
	if err != nil {
		r.Problem = mark.PlainReason(b.whole, err)
		return
	}
	r.Line, r.Exact.Line = line, line.Exact
	r.TwoValues = b.twoValues()
	r.Notes = sync.OnceValue(func() *Notes { return b.notes(ctx, line.Line) })
	held := []string{b.Document.TakeOut}
	if b.groups != nil {
		held = append(held, b.groups.Column)
	}
	for _, fit := range b.Document.Fits() {
		held = append(held, fit.Each)
	}
	r.AlikeName = func(a *confound.Alike) string {
		if a.Column == nil || b.Table.Column(a.Column.Name) == nil {
			return ""
		}
		return b.Table.Column(a.Column.Name).Prose()
	}
	r.Alike = sync.OnceValue(func() *confound.Alike {
		whole := b.Table
		if b.Whole != nil {
			whole = b.Whole
		}
		alike := confound.FindAlike(ctx, b.rows.x, b.rows.y, b.rows.rows, whole, b.Document.X.Column, b.Document.Y.Column, held...)
		if alike != nil && line.Exact {
			alike = alike.Among(len(b.rows.rows), line.N)
		}
		return alike
	})
	name := b.comparedBy()
	if name == "" {
		return
	}
	groups := b.whole.Shared.Fitted(ctx, name)
	if groups == nil || ctx.Err() != nil { // of hundreds of groups, a few of them coloured, none is compared
		return
	}
	r.Grouping, r.Levels = groups.Column.ReadableName(), groups.Column.Levels
	if groups.Sums != nil {
		r.Exact.Groups, r.Compared = true, confound.CompareMoments(groups.Sums.Groups, line.Line, groups.Lines, groups.Errs)
		return
	}
	r.Compared = confound.CompareLines(b.rows.x, b.rows.y, groups.Codes, line.Line, groups.Lines, groups.Errs)
}

// comparedBy is the column whose groups' lines are compared; empty: none.
func (b *Dressed) comparedBy() (name string) {
	if b.groups != nil {
		name = b.groups.Column
	}
	if b.Document.Paired != "" {
		name = b.Document.Colour
	}
	for _, fit := range b.Document.Fits() {
		if b.Table.Column(fit.Each) != nil {
			name = fit.Each
		}
	}
	return name
}

// twoValues are those of x where it is a number that has no others: a slope is then the difference between them.
func (b *Drawn) twoValues() (two [2]string) {
	if b.X.Column == nil || b.away != nil || b.X.Kind != scale.Linear || !b.X.Column.Kind.Quantity() {
		return two
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range b.rows.x {
		low, high = min(low, v), max(high, v)
	}
	if !(high > low) {
		return two
	}
	for _, v := range b.rows.x {
		if v != low && v != high {
			return two
		}
	}
	return [2]string{mark.ValueText(b.X, low), mark.ValueText(b.X, high)}
}

// eachColumn fits a line to the rows of each of several columns along y: all of them together are no relation.
func (b *Drawn) eachColumn(ctx context.Context) (list []EachColumn) {
	columns := append([]*table.Column{b.Y.Column}, b.Y.More...)
	lines, _ := model.FitLines(ctx, b.rows.x, b.rows.y, b.rows.series, len(columns))
	for i, c := range columns {
		each := EachColumn{Name: c.Prose(), Unit: c.Unit}
		if i < len(lines) {
			each.Line = lines[i]
		}
		list = append(list, each)
	}
	return list
}

func (b *Drawn) groupMeans() *GroupMeans {
	levels := b.X.Column.Levels
	if exact := b.away.Means(b.X.Column, b.Y.Column.Name); exact != nil {
		b.figure.Relation.Exact.Means = true
		return meansOf(levels, exact)
	}
	codes, y := b.rows.codes(b.X.Column), make([]float64, len(b.rows.y))
	s := b.Y.Scale()
	for i, v := range b.rows.y {
		y[i] = s.Undrawn(v)
	}
	m := &GroupMeans{
		Levels:      levels,
		Means:       make([]float64, len(levels)),
		Differences: describe.GroupDifferences(codes, len(levels), y),
		N:           len(y),
	}
	counts := make([]float64, len(m.Means))
	for i, code := range codes {
		m.Means[code] += y[i]
		counts[code]++
	}
	for g := range m.Means {
		m.Means[g] /= counts[g]
	}
	return m
}

// meansOf compares groups whose moments are known, as those of x.
func meansOf(levels []string, moments []summary.Moments) *GroupMeans {
	m := &GroupMeans{Levels: levels, Means: make([]float64, len(levels))}
	n, within := make([]float64, len(levels)), make([]float64, len(levels))
	for g, of := range moments {
		m.N += int(of.N)
		if n[g], within[g], m.Means[g] = float64(of.N), of.XX, of.X; of.N == 0 {
			m.Means[g] = math.NaN()
		}
	}
	m.Differences = describe.DifferencesOf(n, m.Means, within)
	return m
}

func (b *Drawn) spread(ctx context.Context) *Spread {
	s := b.X.Scale()
	values := make([]float64, len(b.rows.x))
	for i, u := range b.rows.x {
		values[i] = s.Undrawn(u)
	}
	d := describe.Moments(ctx, values)
	q := describe.Quantiles(values, 0, 0.25, 0.5, 0.75, 1)
	out := &Spread{
		N:      len(values),
		Mean:   d.Mean,
		Skew:   d.Skew,
		Low:    q[0],
		Q1:     q[1],
		Median: q[2],
		Q3:     q[3],
		High:   q[4],
		Name:   b.X.Prose(),
		Unit:   b.X.Unit(),
	}
	if b.X.Column.Kind == table.Date {
		written := func(v float64) string { return table.FormatDate(v, b.X.Column.Grain) }
		out.Dates, out.Lowest, out.Middle, out.Highest = true, written(q[0]), written(q[2]), written(q[4])
	}
	return out
}

// crossed says how the groups along both axes go together.
func (b *Drawn) crossed() *Crossed {
	xs, ys := len(b.X.Column.Levels), len(b.Y.Column.Levels)
	x, y := make([]int32, len(b.rows.x)), make([]int32, len(b.rows.y))
	counts := make([]int, xs*ys)
	for i := range x {
		x[i], y[i] = int32(b.rows.x[i]), int32(b.rows.y[i])
		counts[int(y[i])*xs+int(x[i])]++
	}
	out := &Crossed{N: len(x)}
	if exact := b.away.Crossed(b.X.Column, b.Y.Column); exact != nil {
		b.figure.Relation.Exact.Table, counts, out.N = true, exact, 0
		for _, n := range exact {
			out.N += n
		}
	}
	table := make([]float64, len(counts))
	for i, n := range counts {
		table[i] = float64(n)
	}
	out.V = describe.CramersVOf(table, ys, xs)
	for i, n := range counts {
		if n > out.MostRows {
			out.MostRows, out.MostX, out.MostY = n, b.X.Column.Levels[i%xs], b.Y.Column.Levels[i/xs]
		}
	}
	return out
}

// counted says which place has the highest and which the lowest statistic of all rows.
func (b *Drawn) counted(ctx context.Context) *Counted {
	highest, lowest, n, rows, exact, err := mark.Extremes(ctx, b.whole)
	if err != nil || n == 0 {
		return nil
	}
	b.figure.Relation.Exact.Counted = exact
	if !exact {
		rows = len(b.rows.rows)
	}
	axis := b.Y
	if b.X.Aggregated() {
		axis = b.X
	}
	return &Counted{
		What:     axis.Prose(),
		Highest:  highest.Name,
		Lowest:   lowest.Name,
		HighText: highest.Value,
		LowText:  lowest.Value,
		Groups:   n,
		N:        rows,
	}
}

// workedOut tells where the values of a function lie.
func (b *Drawn) workedOut() *WorkedOut {
	f := b.Document.Function
	x, y := b.Table.Column(chart.FunctionX).Numbers, b.Table.Column(chart.FunctionY).Numbers
	out := &WorkedOut{Formula: f.Formula, From: f.From, To: f.To, Values: len(x), Low: math.Inf(1), High: math.Inf(-1)}
	for i, v := range y {
		switch {
		case !magnitude.Finite(v):
			out.Without++
		default:
			if v < out.Low {
				out.Low, out.LowAt = v, x[i]
			}
			if v > out.High {
				out.High, out.HighAt = v, x[i]
			}
		}
	}
	return out
}
