// Package confound finds out whether a relation between x and y is made, hidden
// or changed by a third column: it compares the slope over all rows with the
// slope within the groups of that column, or with the slope at a fixed value of
// a third number.
//
// It never claims a cause. It says what the columns of one table show.
package confound

import (
	"context"
	"math"

	"copperlark/core/distribution"
	"copperlark/core/model"
	"copperlark/core/summary"
)

// Error is the reason why a comparison cannot be made.
type Error string

func (e Error) Error() string { return string(e) }

// The reasons beside those of package model.
const (
	ErrZNoSpread = Error("z has no spread")
	ErrCollinear = Error("x and z are collinear")
)

// Slope is a slope with its standard error, degrees of freedom and two-sided p
// by Student's t. SE and P are NaN where df < 1.
type Slope struct {
	Slope, SE, P float64
	DF           int
}

// Interval is the slope ± t SE at a level such as 0.95.
func (s Slope) Interval(level float64) model.Interval {
	half := math.NaN()
	if s.DF >= 1 {
		half = distribution.StudentQuantile((1-level)/2, float64(s.DF)) * s.SE
	}
	return model.Interval{Low: s.Slope - half, High: s.Slope + half}
}

// Significant reports whether the interval at the level leaves zero out.
func (s Slope) Significant(level float64) bool {
	return s.Interval(level).Excludes(0)
}

// Grouped compares the slope over all rows with those within groups.
//
//	within:  Σ Sxy_g / Σ Sxx_g, the coefficient of x in y ~ x + g
//	between: the regression of the group means, weighted by n_g
//	equal slopes: F of y ~ x*g against y ~ x + g
//
// and pooled = e*between + (1 - e)*within, where e is the share of the spread of
// x that lies between the groups.
//
// Sources: Snedecor and Cochran, Statistical Methods, 8th ed., chapter 18;
// Simpson 1951, JRSS B 13.
type Grouped struct {
	N         int
	Pooled    *model.Line
	Lines     []*model.Line // of each group; nil where the group has none
	LineError []error
	Counts    []int
	XMeans    []float64 // of each group; NaN for an empty one
	YMeans    []float64
	Groups    int // groups with rows

	Within       *Slope // nil when no group has a spread of x
	Between      *Slope // nil with fewer than two different group means; only Slope is set
	BetweenShare float64
	EqualSlopes  *FTest // nil where the test is not defined
}

// FTest is an F statistic with its degrees of freedom and upper tail.
type FTest struct {
	F, P     float64
	DF1, DF2 int
}

// Compare works on complete pairs in drawn space; group holds a code from 0 to
// groups-1 for each row. Rows with a negative code must have been left out.
func Compare(ctx context.Context, x, y []float64, group []int32, groups int) (*Grouped, error) {
	pooled, errs := model.FitLines(ctx, x, y, nil, 1)
	if errs[0] != nil {
		return nil, errs[0]
	}
	lines, errs := model.FitLines(ctx, x, y, group, groups)
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	return CompareLines(x, y, group, pooled[0], lines, errs), nil
}

// CompareLines is Compare where the line of all rows and those of the groups are
// known; errs says why a group has none.
func CompareLines(x, y []float64, group []int32, pooled *model.Line, lines []*model.Line, errs []error) *Grouped {
	groups := len(lines)
	g := &Grouped{
		N:         len(x),
		Pooled:    pooled,
		Lines:     lines,
		LineError: errs,
		Counts:    make([]int, groups),
		XMeans:    make([]float64, groups),
		YMeans:    make([]float64, groups),
	}
	for i, code := range group {
		g.Counts[code]++
		g.XMeans[code] += x[i]
		g.YMeans[code] += y[i]
	}
	for code, count := range g.Counts {
		g.XMeans[code] /= float64(count) // NaN for an empty group
		g.YMeans[code] /= float64(count)
		if count > 0 {
			g.Groups++
		}
	}
	flat := make([]float64, groups)
	for i, code := range group {
		if lines[code] == nil {
			d := y[i] - g.YMeans[code]
			flat[code] += d * d
		}
	}
	g.within(flat)
	g.between()
	return g
}

// CompareMoments is CompareLines where nobody has the rows, but the moments of each group.
func CompareMoments(of []summary.Moments, pooled *model.Line, lines []*model.Line, errs []error) *Grouped {
	groups := len(lines)
	g := &Grouped{Pooled: pooled, Lines: lines, LineError: errs, Counts: make([]int, groups), XMeans: make([]float64, groups),
		YMeans: make([]float64, groups)}
	flat := make([]float64, groups)
	for code, m := range of {
		g.N += int(m.N)
		g.Counts[code], g.XMeans[code], g.YMeans[code], flat[code] = int(m.N), m.X, m.Y, m.YY
		if m.N == 0 {
			g.XMeans[code], g.YMeans[code] = math.NaN(), math.NaN()
			continue
		}
		g.Groups++
	}
	g.within(flat)
	g.between()
	return g
}

// within adds up the centred sums of the groups. A group without a spread of x
// adds its spread of y, flat, to the residuals and nothing to the slope.
func (g *Grouped) within(flat []float64) {
	sxx, sxy, syy, full := 0.0, 0.0, 0.0, 0.0
	withSpread := 0
	for code, line := range g.Lines {
		if line == nil {
			syy += flat[code]
			full += flat[code]
			continue
		}
		withSpread++
		sxx += line.Sxx
		sxy += line.Sxy
		syy += line.Syy
		full += line.RSS
	}
	if sxx == 0 {
		return
	}
	slope := sxy / sxx
	restricted := full
	for _, line := range g.Lines {
		if line != nil { // Syy - 2bSxy + b²Sxx about each group's own line, without cancellation
			d := slope - line.Slope
			restricted += d * d * line.Sxx
		}
	}
	within := &Slope{Slope: slope, SE: math.NaN(), P: math.NaN(), DF: g.N - g.Groups - 1}
	if within.DF >= 1 {
		within.SE = math.Sqrt(restricted / float64(within.DF) / sxx)
		if within.SE > 0 {
			within.P = distribution.StudentTwoSided(slope/within.SE, float64(within.DF))
		} else if slope != 0 {
			within.P = 0
		}
	}
	g.Within = within
	df1, df2 := withSpread-1, g.N-g.Groups-withSpread
	if df1 >= 1 && df2 >= 1 && full > 0 {
		f := (restricted - full) / float64(df1) / (full / float64(df2))
		g.EqualSlopes = &FTest{F: f, DF1: df1, DF2: df2, P: distribution.FSurvival(f, float64(df1), float64(df2))}
	}
}

func (g *Grouped) between() {
	sxx, sxy := 0.0, 0.0
	for code, count := range g.Counts {
		if count > 0 {
			d := g.XMeans[code] - g.Pooled.XMean
			sxx += float64(count) * d * d
			sxy += float64(count) * d * (g.YMeans[code] - g.Pooled.YMean)
		}
	}
	g.BetweenShare = sxx / g.Pooled.Sxx
	if g.Groups >= 2 && g.BetweenShare > 1e-24 {
		g.Between = &Slope{Slope: sxy / sxx, SE: math.NaN(), P: math.NaN()}
	}
}

// SignReverses reports whether the slopes over all rows and within groups are
// both other than zero and of opposite sign.
func (g *Grouped) SignReverses() bool {
	return g.Within != nil && g.Pooled.Slope*g.Within.Slope < 0
}
