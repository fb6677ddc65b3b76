package confound

import (
	"math"

	"copperlark/core/magnitude"
	"copperlark/core/model"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// All answers for all rows of a relation of which the rows at hand are a sample, drawn at random. What it does not know, or
// not yet, is nil: the sample stands in.
type All interface {
	// Line is what all rows that have x and y tell of them.
	Line() *summary.Moments
	// Groups are the moments of x and y in each group of a column that is read as groups, by their codes.
	Groups(groups *table.Column) []summary.Moments
	// Number are the moments of the rows that have a number z too.
	Number(z *table.Column) *Three
	// Parts are the moments of x and y where a number z lies in each of the parts between cuts, of which there is one more.
	Parts(z *table.Column, cuts []float64) []summary.Moments
}

// Three are the moments of each two of x, y and z over the same rows.
type Three struct{ XY, XZ, ZY summary.Moments }

// nothing is an All where there are no other rows.
type nothing struct{}

func (nothing) Line() *summary.Moments                           { return nil }
func (nothing) Groups(*table.Column) []summary.Moments           { return nil }
func (nothing) Number(*table.Column) *Three                      { return nil }
func (nothing) Parts(*table.Column, []float64) []summary.Moments { return nil }

// NoOthers is an All for rows that are no sample: nothing more is known.
var NoOthers All = nothing{}

// comparedOf compares the slopes of groups by their moments, as tryGroups does: of groups of at least 5 rows with a spread of
// x, and tells how many they are. nil: there is nothing to compare.
func comparedOf(of []summary.Moments) (compared *Grouped, groups int) {
	var all summary.Moments
	large := make([]summary.Moments, len(of))
	lines, errs := make([]*model.Line, len(of)), make([]error, len(of))
	for g, m := range of {
		if m.N < smallestGroup || m.XMax <= m.XMin {
			continue
		}
		large[g], all = m, all.With(m)
		lines[g], errs[g] = m.Line()
		groups++
	}
	pooled, err := all.Line()
	if err != nil || groups < 2 {
		return nil, 0
	}
	if compared = CompareMoments(large, pooled, lines, errs); compared.Within == nil {
		return nil, 0
	}
	return compared, groups
}

// AdjustMoments is Adjust where nobody has the rows, but their moments:
//
//	Sxx·z = Sxx - Sxz²/Szz, Sxy·z = Sxy - Sxz Szy/Szz, b = Sxy·z / Sxx·z, RSS = Syy·z - b Sxy·z
//
// It refuses z that leaves nothing of x but rounding.
func AdjustMoments(of *Three) (*Adjusted, error) {
	pooled, err := of.XY.Line()
	if err != nil {
		return nil, err
	}
	szz := of.ZY.XX
	if !(szz > 0) {
		return nil, ErrZNoSpread
	}
	const rounding = 1e-12
	left := func(whole, a, b float64) float64 { return whole - a/szz*b }
	sxx, sxy := left(of.XY.XX, of.XZ.XY, of.XZ.XY), left(of.XY.XY, of.XZ.XY, of.ZY.XY)
	syy := left(of.XY.YY, of.ZY.XY, of.ZY.XY)
	if !(sxx > rounding*of.XY.XX) {
		return nil, ErrCollinear
	}
	a := &Adjusted{N: int(of.XY.N), Pooled: pooled, WithX: of.XZ.Correlation(), WithY: of.ZY.Correlation(), PartialR: math.NaN(),
		Slope: Slope{Slope: sxy / sxx, SE: math.NaN(), P: math.NaN(), DF: int(of.XY.N) - 3}}
	rss := syy - a.Slope.Slope*sxy
	if !(rss > rounding*of.XY.YY) {
		rss = 0
	}
	a.Slope.test(rss, sxx)
	if syy > rounding*of.XY.YY {
		a.PartialR = min(max(sxy/(math.Sqrt(sxx)*math.Sqrt(syy)), -1), 1)
	}
	for _, v := range []float64{a.Slope.Slope, sxx, syy} {
		if !magnitude.Finite(v) {
			return nil, magnitude.ErrOutOfRange
		}
	}
	return a, nil
}

// ofAll has the difference of the slopes, whose interval was found by a bootstrap of n rows of a sample, stand for all rows:
// it lies about what all of them give, and is narrower by √(n/N), as means of rows drawn at random are.
func (f *Finding) ofAll(n int) {
	f.Exact, f.sampled = true, n
	half := (f.difference.High - f.difference.Low) / 2 * math.Sqrt(float64(n)/float64(f.Rows))
	f.difference = model.Interval{Low: f.Within - f.Overall - half, High: f.Within - f.Overall + half}
}

// OfAll reports whether what is told of a finding is of all rows: how a slope changes with a number is seen in the sample.
func (f *Finding) OfAll() bool { return f.Exact && (f.Verdict != Differs || f.Groups > 0) }

// among is what likeness of rows adds where so many rows are a sample of all (see Alike.Among).
func (w wider) among(sampled, all int) wider {
	w.overall, w.within = timesAmong(w.overall, sampled, all), timesAmong(w.within, sampled, all)
	return w
}
