package confound

import (
	"context"
	"math"
	"slices"

	"copperlark/core/distribution"
	"copperlark/core/model"
	"copperlark/core/parallel"
	"copperlark/core/sample"
	"copperlark/core/table"
)

// Alike tells that rows are not independent of each other: those of one group of a column, or those that follow
// each other. Intervals that take them for independent are too narrow.
type Alike struct {
	Column   *table.Column // whose groups, or in whose order; nil: in the order in which rows stand in the table
	Clusters int           // of groups; 0: rows that follow each other
	Share    float64       // of the residuals' spread that lies between groups, or their autocorrelation at lag one
	Slope    float64
	Interval model.Interval // of the slope, with that counted
	Ratio    float64        // its width over that of the ordinary interval

	sequence []int   // places of the rows in that order
	codes    []int32 // by place: the group; below 0 is none
}

// Among is likeness that was found in a sample of rows, told of all of them: the more rows a group has, or a stretch of
// time, the less each of them tells that the others do not, so that what likeness adds to the variance stays while the
// rest shrinks: ratio² = 1 + (ratio_n² - 1) N/n (Kish 1965, Survey Sampling, section 5.4, for groups).
func (a *Alike) Among(sampled, all int) *Alike {
	more := *a
	more.Ratio = math.Sqrt(timesAmong(a.Ratio*a.Ratio, sampled, all))
	return &more
}

// timesAmong is how many times as large likeness makes a variance among all rows, of which a sample has it so many times.
func timesAmong(times float64, sampled, all int) float64 {
	return 1 + max(0, times-1)*float64(all)/float64(max(sampled, 1))
}

// The bounds of telling so (see docs/methods.md): the p value after Holm over all columns that were tried, the least
// likeness within groups and of neighbours, and by how much groups must widen the interval.
const (
	alikeP       = 0.01
	leastICC     = 0.05
	leastFollow  = 0.1
	leastWider   = 1.2
	fewestAlike  = 8
	fewestGroups = 6       // fewer are no sample of groups: they are compared with each other, and tried as explanations
	sortedShare  = 0.9     // of the steps of a column that go one way, where the table is sorted by it
	mostFollowed = 100_000 // rows that follow each other are looked at
	blockedShare = 0.5     // of the changes of group that chance would make, where the table is sorted by groups
)

// FindAlike tries each column of a table that could name groups of rows, and each that could order them, on the
// residuals of the line of y on x, which have one value for each entry of rows; and gives the one that widens the
// interval of the slope most, among those that are clear. nil: rows may be taken for independent.
// Columns that are held fixed, or whose groups are compared, are none of them.
func FindAlike(ctx context.Context, x, y []float64, rows []uint32, t *table.Table, xName, yName string, held ...string) *Alike {
	if len(x) < fewestAlike {
		return nil
	}
	line, err := model.FitLine(ctx, x, y)
	if err != nil || !(line.RSS > 0) || !(line.SESlope > 0) {
		return nil
	}
	ordinary := line.SlopeInterval(level)
	columns, orders := t.Columns(), ordersOf(t, rows, xName, yName)
	tried, chances := make([]*Alike, len(columns)+len(orders)), make([]float64, len(columns)+len(orders))
	if parallel.Each(ctx, len(tried), func(i int) error {
		if i >= len(columns) {
			o := orders[i-len(columns)]
			if tried[i], chances[i] = inOrder(ctx, line, x, y, o.sequence); tried[i] != nil {
				tried[i].Column = o.column
			}
			return ctx.Err()
		}
		c := columns[i]
		if codes, n := clustersOf(c, rows); n > 0 && c.Name != xName && c.Name != yName && !slices.Contains(held, c.Name) {
			if tried[i], chances[i] = inClusters(ctx, line, x, y, codes, n); tried[i] != nil {
				tried[i].Column = c
			}
		}
		return ctx.Err()
	}) != nil {
		return nil
	}
	var found []*Alike
	var p []float64
	for i, a := range tried {
		if a != nil {
			a.Slope, a.Ratio = line.Slope, (a.Interval.High-a.Interval.Low)/(ordinary.High-ordinary.Low)
			found, p = append(found, a), append(p, chances[i])
		}
	}
	var widest *Alike
	for i, chance := range holm(p) {
		a := found[i]
		if chance < alikeP && (a.Clusters == 0 && a.Share > leastFollow || a.Clusters > 0 && a.Share > leastICC && a.Ratio >= leastWider) &&
			(widest == nil || a.Ratio > widest.Ratio) {
			widest = a
		}
	}
	return widest
}

// clustersOf reads a column as groups of rows; n is how many there are, 0 where it could name none: 6 groups to
// half as many as rows, with at least half of the rows in groups of two and more.
func clustersOf(c *table.Column, rows []uint32) (codes []int32, n int) {
	of := c
	if !c.Kind.Coded() {
		if c.Kind != table.Number || !c.SuggestsGroups() {
			return nil, 0
		}
		of = c.AsGroups(mostGroups)
	}
	counts := make([]int, len(of.Levels))
	codes = make([]int32, len(rows))
	known := 0
	for i, row := range rows {
		if codes[i] = of.Codes[row]; codes[i] >= 0 {
			counts[codes[i]]++
			known++
		}
	}
	shared := 0
	for _, count := range counts {
		if count > 0 {
			n++
		}
		if count > 1 {
			shared += count
		}
	}
	if n < fewestGroups || 2*n > known || 2*shared < known {
		return nil, 0
	}
	return codes, n
}

// inClusters tells how alike rows of one group are. Rows without a group are left out.
func inClusters(ctx context.Context, line *model.Line, x, y []float64, codes []int32, n int) (*Alike, float64) {
	var f *model.Clustered
	if !slices.ContainsFunc(codes, func(code int32) bool { return code < 0 }) {
		f = model.ClustersOf(line, x, y, codes)
	} else {
		var kx, ky []float64
		var kept []int32
		for i, code := range codes {
			if code >= 0 {
				kx, ky, kept = append(kx, x[i]), append(ky, y[i]), append(kept, code)
			}
		}
		var err error
		if f, err = model.FitClusters(ctx, kx, ky, kept); err != nil {
			return nil, 0
		}
	}
	if f.CR2 == nil || f.Likeness == nil {
		return nil, 0
	}
	half := f.CR2.Interval(0, level)
	return &Alike{
		Clusters: n,
		Share:    f.Likeness.ICC,
		Interval: model.Interval{Low: line.Slope + half.Low, High: line.Slope + half.High},
		codes:    codes,
	}, f.Likeness.P
}

// inOrder tells how alike rows are that follow each other. Of many, stretches are looked at: by how much an interval
// is too narrow does not hang on how many rows there are.
func inOrder(ctx context.Context, line *model.Line, x, y []float64, sequence []int) (*Alike, float64) {
	sequence = stretches(sequence, mostFollowed)
	ox, oy := sample.Of(x, sequence), sample.Of(y, sequence)
	s, err := model.FitSeries(ctx, ox, oy, math.NaN())
	if err != nil || s.Following == nil {
		return nil, 0
	}
	_, interval := s.Widest(ox, level)
	ordinary := s.Line.SlopeInterval(level)
	whole := line.SlopeInterval(level)
	half := (whole.High - whole.Low) / 2 * (interval.High - interval.Low) / (ordinary.High - ordinary.Low)
	return &Alike{
		Share:    s.Following.R1,
		Interval: model.Interval{Low: line.Slope - half, High: line.Slope + half},
		sequence: sequence,
	}, s.Following.P
}

// wider is by how much what is told of a finding is too uncertain: how many times as large the variance of each of
// its slopes is, and of their difference, with the degrees of freedom that are left.
type wider struct {
	overall, within, equal float64
	dfOverall, dfWithin    float64
}

// widestOf is what is least certain of some findings.
func widestOf(findings []Finding) wider {
	w := wider{1, 1, 1, math.Inf(1), math.Inf(1)}
	for _, f := range findings {
		if o := f.wider; o.overall > 0 {
			w = wider{
				max(w.overall, o.overall),
				max(w.within, o.within),
				max(w.equal, o.equal),
				min(w.dfOverall, o.dfOverall),
				min(w.dfWithin, o.dfWithin),
			}
		}
	}
	return w
}

// widen makes the intervals and p values of a finding those of rows that are alike.
func (a *Alike) widen(ctx context.Context, f *Finding, x, y []float64, rows []uint32, c *table.Column) {
	if f.Missing != "" || f.AlikeTo != "" || math.IsNaN(f.Within) || ctx.Err() != nil {
		return
	}
	s := a.swept(ctx, x, y, rows, c)
	if s == nil {
		return
	}
	if f.wider = a.wider(ctx, s); f.Exact {
		f.wider = f.wider.among(f.sampled, f.Rows)
	}
	f.applyWider()
}

// sweptRows are the rows that have a candidate, in the order in which rows follow each other: x and y, what the
// candidate leaves of them, their groups of rows that are alike, and what moves the slope where it changes with it.
type sweptRows struct {
	x, y, wx, wy, product []float64
	codes                 []int32
}

func (a *Alike) swept(ctx context.Context, x, y []float64, rows []uint32, c *table.Column) *sweptRows {
	s := &sweptRows{}
	var z []float64
	var groups []int32
	of := asGroups(c)
	take := func(place int) {
		row := rows[place]
		if of != nil && of.Codes[row] < 0 || of == nil && math.IsNaN(c.Numbers[row]) || a.codes != nil && a.codes[place] < 0 {
			return
		}
		s.x, s.y = append(s.x, x[place]), append(s.y, y[place])
		if of != nil {
			groups = append(groups, of.Codes[row])
		} else {
			z = append(z, c.Numbers[row])
		}
		if a.codes != nil {
			s.codes = append(s.codes, a.codes[place])
		}
	}
	if a.sequence != nil {
		for _, place := range a.sequence {
			take(place)
		}
	} else {
		for place := range x {
			take(place)
		}
	}
	if len(s.x) < fewestAlike {
		return nil
	}
	if of != nil {
		s.wx, s.wy = TakeOutGroups(s.x, s.y, groups, len(of.Levels))
		return s
	}
	var err error
	if s.wx, s.wy, err = TakeOutNumber(ctx, s.x, s.y, z); err != nil {
		return nil
	}
	u, v := standardised(s.wx), standardised(z)
	s.product = make([]float64, len(u))
	for i := range u {
		s.product[i] = u[i] * v[i]
	}
	return s
}

// wider works out how uncertain the slopes of swept rows are.
func (a *Alike) wider(ctx context.Context, s *sweptRows) wider {
	w := wider{1, 1, 1, math.Inf(1), math.Inf(1)}
	if a.Clusters > 0 {
		times := func(x, y []float64) (float64, float64) {
			f, err := model.FitClusters(ctx, x, y, s.codes)
			if err != nil || f.CR2 == nil || !(f.Line.SESlope > 0) {
				return a.Ratio * a.Ratio, 1 // a group alone carries the slope
			}
			r := f.CR2.SE / f.Line.SESlope
			return max(1, r*r), max(1, f.CR2.DF)
		}
		w.overall, w.dfOverall = times(s.x, s.y)
		w.within, w.dfWithin = times(s.wx, s.wy)
		w.equal = w.within
		return w
	}
	n := len(s.x)
	times := func(x, y, moved []float64) (k, other float64) {
		line, err := model.FitLine(ctx, x, y)
		if err != nil {
			return 1, 1
		}
		e, dx := make([]float64, n), make([]float64, n)
		for i := range x {
			e[i], dx[i] = y[i]-line.At(x[i]), x[i]-line.XMean
		}
		residuals, own := model.FollowingOf(e), model.FollowingOf(dx)
		if residuals == nil || own == nil {
			return 1, 1
		}
		k = model.EffectiveTimes(residuals.R1, own.R1, n)
		if other = k; moved != nil {
			if f := model.FollowingOf(standardised(moved)); f != nil {
				other = max(1, model.EffectiveTimes(residuals.R1, f.R1, n))
			}
		}
		return k, other
	}
	w.overall, _ = times(s.x, s.y, nil)
	w.within, w.equal = times(s.wx, s.wy, s.product)
	w.dfOverall, w.dfWithin = max(1, float64(n)/w.overall-2), max(1, float64(n)/w.within-3)
	return w
}

// applyWider writes the intervals and p values of a finding anew.
func (f *Finding) applyWider() {
	w := f.wider
	anew := func(slope float64, interval model.Interval, p, times, df float64) (model.Interval, float64) {
		half := (interval.High - interval.Low) / 2
		if !(half > 0) || times <= 1 {
			return interval, p
		}
		se := half / normal975 * math.Sqrt(times) // at most: Student's factor of the ordinary interval is larger
		if half2 := distribution.StudentQuantile((1-level)/2, df) * se; half2 > half {
			return model.Interval{Low: slope - half2, High: slope + half2}, max(p, distribution.StudentTwoSided(slope/se, df))
		}
		return interval, p
	}
	f.OverallInterval, f.pOverall = anew(f.Overall, f.OverallInterval, f.pOverall, w.overall, w.dfOverall)
	f.WithinInterval, f.pWithin = anew(f.Within, f.WithinInterval, f.pWithin, w.within, w.dfWithin)
	middle, half := (f.difference.High+f.difference.Low)/2, (f.difference.High-f.difference.Low)/2*math.Sqrt(max(w.overall, w.within))
	f.difference = model.Interval{Low: middle - half, High: middle + half}
	if f.pEqual > 0 && f.pEqual < 1 && w.equal > 1 {
		f.pEqual = 2 * distribution.NormalSurvival(distribution.NormalQuantile(f.pEqual/2)/math.Sqrt(w.equal))
	}
}
