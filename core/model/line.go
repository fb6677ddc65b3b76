// Package model fits lines, polynomials and robust lines to pairs of values and
// tells how far each row carries the fit.
//
// All functions take complete pairs: rows with a missing value, and rows that a
// log axis has no place for, are left out before (see Complete and Logged).
// Inputs are never written to. A quantity that is not defined for the rows at
// hand (the standard error of a line through two points, say) is NaN in the
// result; nothing that is shown to people prints it. A fit that cannot be made
// is an Error.
package model

import (
	"context"
	"math"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/parallel"
)

// Error is the reason why a fit cannot be made.
type Error string

func (e Error) Error() string { return string(e) }

// The reasons.
const (
	ErrTooFewRows     = Error("fewer than 2 complete rows")
	ErrXNoSpread      = Error("x has no spread")
	ErrTooFewDistinct = Error("too few distinct x values")
	ErrCollinear      = Error("the columns are collinear")
)

// Line is the least-squares line y = Intercept + Slope x.
//
//	Slope = Sxy/Sxx, Intercept = ȳ - Slope x̄, RSS = Σ(y - ŷ)², df = n - 2,
//	RSE = √(RSS/df), SE(slope) = RSE/√Sxx, SE(intercept) = RSE √(1/n + x̄²/Sxx),
//	R² = 1 - RSS/Syy, adjusted R² = 1 - (1 - R²)(n - 1)/df,
//	with sums of squares about the means.
//
// Source: Draper and Smith, Applied Regression Analysis, 3rd ed., chapters 1
// and 3. RSE and what follows from it are NaN for n = 2; R² is NaN when y has
// no spread; t is NaN for an exact line.
type Line struct {
	N                    int
	DF                   int
	Slope, Intercept     float64
	SESlope, SEIntercept float64
	RSE                  float64
	R2, AdjustedR2       float64
	XMean, YMean         float64
	XMin, XMax           float64
	Sxx, Sxy, Syy, RSS   float64
	throughOrigin        bool
}

// FitLine fits a line to complete pairs. x and y are equally long.
func FitLine(ctx context.Context, x, y []float64) (*Line, error) {
	lines, errs := FitLines(ctx, x, y, nil, 1)
	return lines[0], errs[0]
}

// sums are what a pass over rows collects for one group.
type sums struct {
	n                   float64
	x, y                float64 // sums, then means
	xMin, xMax, yAbsMax float64
	xx, xy, yy, rss     float64
	slope               float64
}

// FitLines fits one line for each group in three passes over the rows: means,
// centred sums, residuals. group holds the group of each row, from 0 to groups-1,
// or a negative number for rows outside every group; nil puts all rows in group
// 0. A group that has no line has a nil Line and an error. Nothing is allocated
// per row; a context that is done ends it with the context's error for all.
func FitLines(ctx context.Context, x, y []float64, group []int32, groups int) ([]*Line, []error) {
	total, err := passes(ctx, x, y, group, groups)
	lines, errs := make([]*Line, groups), make([]error, groups)
	for g := range total {
		if err != nil {
			errs[g] = err
			continue
		}
		lines[g], errs[g] = total[g].line()
	}
	return lines, errs
}

func passes(ctx context.Context, x, y []float64, group []int32, groups int) ([]sums, error) {
	n := len(x)
	workers := parallel.Workers(n)
	partial := make([]sums, workers*groups)
	total := make([]sums, groups)
	for i := range total {
		total[i].xMin, total[i].xMax = math.Inf(1), math.Inf(-1)
	}
	run := func(pass func(into []sums, x, y []float64, group []int32), gather func(into, from *sums)) error {
		for w := range workers {
			copy(partial[w*groups:(w+1)*groups], total)
		}
		err := parallel.Ranges(ctx, n, func(worker, from, to int) {
			var part []int32
			if group != nil {
				part = group[from:to]
			}
			pass(partial[worker*groups:(worker+1)*groups], x[from:to], y[from:to], part)
		})
		for w := range workers {
			for g := range total {
				gather(&total[g], &partial[w*groups+g])
			}
		}
		return err
	}
	if err := run(meanPass, func(into, from *sums) {
		into.n += from.n
		into.x += from.x
		into.y += from.y
		into.xMin, into.xMax = min(into.xMin, from.xMin), max(into.xMax, from.xMax)
		into.yAbsMax = max(into.yAbsMax, from.yAbsMax)
	}); err != nil {
		return total, err
	}
	for g := range total {
		if total[g].n > 0 {
			total[g].x /= total[g].n
			total[g].y /= total[g].n
		}
	}
	if err := run(momentPass, func(into, from *sums) {
		into.xx += from.xx
		into.xy += from.xy
		into.yy += from.yy
	}); err != nil {
		return total, err
	}
	for g := range total {
		if total[g].xx > 0 {
			total[g].slope = total[g].xy / total[g].xx
		}
	}
	return total, run(residualPass, func(into, from *sums) { into.rss += from.rss })
}

func meanPass(into []sums, x, y []float64, group []int32) {
	y = y[:len(x)]
	if group == nil {
		s := into[0]
		for i, v := range x {
			w := y[i]
			s.x += v
			s.y += w
			s.reach(v, w)
		}
		s.n += float64(len(x))
		into[0] = s
		return
	}
	for i, g := range group {
		if g < 0 {
			continue
		}
		s := &into[g]
		s.n++
		s.x += x[i]
		s.y += y[i]
		s.reach(x[i], y[i])
	}
}

// reach keeps how far x and y go. Branches that are hardly ever taken are quicker
// than min and max, which must also know NaN.
func (s *sums) reach(x, y float64) {
	if x < s.xMin {
		s.xMin = x
	}
	if x > s.xMax {
		s.xMax = x
	}
	if y = math.Abs(y); y > s.yAbsMax {
		s.yAbsMax = y
	}
}

func momentPass(into []sums, x, y []float64, group []int32) {
	y = y[:len(x)]
	if group == nil {
		s := into[0]
		for i, v := range x {
			dx, dy := v-s.x, y[i]-s.y
			s.xx += dx * dx
			s.xy += dx * dy
			s.yy += dy * dy
		}
		into[0] = s
		return
	}
	for i, g := range group {
		if g < 0 {
			continue
		}
		s := &into[g]
		dx, dy := x[i]-s.x, y[i]-s.y
		s.xx += dx * dx
		s.xy += dx * dy
		s.yy += dy * dy
	}
}

func residualPass(into []sums, x, y []float64, group []int32) {
	y = y[:len(x)]
	if group == nil {
		s := into[0]
		for i, v := range x {
			e := (y[i] - s.y) - s.slope*(v-s.x)
			s.rss += e * e
		}
		into[0] = s
		return
	}
	for i, g := range group {
		if g < 0 {
			continue
		}
		s := &into[g]
		e := (y[i] - s.y) - s.slope*(x[i]-s.x)
		s.rss += e * e
	}
}

// Sums are what fits follow from where nobody has the rows: of each bin of x, or of all rows, how many rows, their means,
// and sums of squares and products about these.
type Sums struct {
	N                  float64
	XMean, YMean       float64
	Sxx, Sxy, Syy, RSS float64
	XMin, XMax         float64
	YMost              float64 // the largest |y|
}

// LineOf is the line of sums that were taken elsewhere.
func LineOf(of Sums) (*Line, error) {
	s := sums{n: of.N, x: of.XMean, y: of.YMean, xMin: of.XMin, xMax: of.XMax, yAbsMax: of.YMost,
		xx: of.Sxx, xy: of.Sxy, yy: of.Syy, rss: of.RSS}
	if s.xx > 0 {
		s.slope = s.xy / s.xx
	}
	return s.line()
}

// line turns sums into a line. A residual sum of squares that rounding alone
// explains counts as zero: an exact line.
func (s *sums) line() (*Line, error) {
	if s.n < 2 {
		return nil, ErrTooFewRows
	}
	if s.xMin == s.xMax {
		return nil, ErrXNoSpread
	}
	if !magnitude.Within(max(math.Abs(s.xMin), math.Abs(s.xMax))) || !magnitude.Within(s.yAbsMax) {
		return nil, magnitude.ErrOutOfRange
	}
	if s.xx == 0 || math.IsNaN(s.xx) {
		return nil, ErrXNoSpread
	}
	l := &Line{N: int(s.n), DF: int(s.n) - 2, Slope: s.slope, XMean: s.x, YMean: s.y, XMin: s.xMin, XMax: s.xMax,
		Sxx: s.xx, Sxy: s.xy, Syy: s.yy, RSS: s.rss}
	noise := 4 * epsilon * (s.yAbsMax + math.Abs(s.slope)*(s.xMax-s.xMin))
	if l.RSS <= s.n*noise*noise {
		l.RSS = 0
	}
	if flat := 4 * epsilon * s.yAbsMax; l.Syy <= s.n*flat*flat {
		l.Slope, l.Sxy, l.Syy, l.RSS = 0, 0, 0, 0
	}
	l.Intercept = l.YMean - l.Slope*l.XMean
	l.RSE, l.SESlope, l.SEIntercept = math.NaN(), math.NaN(), math.NaN()
	l.R2, l.AdjustedR2 = math.NaN(), math.NaN()
	if l.DF > 0 {
		l.RSE = math.Sqrt(l.RSS / float64(l.DF))
		l.SESlope = l.RSE / math.Sqrt(l.Sxx)
		l.SEIntercept = l.RSE * math.Sqrt(1/s.n+l.XMean*l.XMean/l.Sxx)
	}
	if l.Syy > 0 {
		l.R2 = 1 - l.RSS/l.Syy
		if l.DF == 0 {
			l.R2 = 1
		} else {
			l.AdjustedR2 = 1 - (1-l.R2)*(s.n-1)/float64(l.DF)
		}
	}
	return l, nil
}

const epsilon = 2.220446049250313e-16

// FitLineThroughOrigin fits y = Slope x: Slope = Σxy/Σx², df = n - 1, and
// R² = 1 - RSS/Σy², about zero and not about the mean.
func FitLineThroughOrigin(x, y []float64) (*Line, error) {
	if len(x) < 2 {
		return nil, ErrTooFewRows
	}
	if err := magnitude.InRange(x, y); err != nil {
		return nil, err
	}
	l := &Line{N: len(x), DF: len(x) - 1, throughOrigin: true, XMin: math.Inf(1), XMax: math.Inf(-1)}
	for i, v := range x {
		l.Sxx += v * v
		l.Sxy += v * y[i]
		l.Syy += y[i] * y[i]
		l.XMin, l.XMax = min(l.XMin, v), max(l.XMax, v)
	}
	if l.Sxx == 0 {
		return nil, ErrXNoSpread
	}
	l.Slope = l.Sxy / l.Sxx
	for i, v := range x {
		e := y[i] - l.Slope*v
		l.RSS += e * e
	}
	l.RSE = math.Sqrt(l.RSS / float64(l.DF))
	l.SESlope, l.SEIntercept = l.RSE/math.Sqrt(l.Sxx), math.NaN()
	l.R2 = 1 - l.RSS/l.Syy
	l.AdjustedR2 = 1 - (1-l.R2)*float64(l.N)/float64(l.DF)
	return l, nil
}

// TSlope is Slope/SE(slope); NaN when the standard error is zero or unknown.
func (l *Line) TSlope() float64 { return ratio(l.Slope, l.SESlope) }

// TIntercept is Intercept/SE(intercept), as TSlope.
func (l *Line) TIntercept() float64 { return ratio(l.Intercept, l.SEIntercept) }

func ratio(estimate, standardError float64) float64 {
	if standardError == 0 {
		return math.NaN()
	}
	return estimate / standardError
}

// PSlope is the two-sided p of Slope by Student's t. An exact line with a slope
// has p = 0; a flat one has none.
func (l *Line) PSlope() float64 { return l.p(l.Slope, l.SESlope) }

// PIntercept is the two-sided p of Intercept, as PSlope.
func (l *Line) PIntercept() float64 { return l.p(l.Intercept, l.SEIntercept) }

func (l *Line) p(estimate, standardError float64) float64 {
	if math.IsNaN(standardError) || l.DF < 1 {
		return math.NaN()
	}
	if standardError == 0 {
		if estimate == 0 || l.Syy == 0 {
			return math.NaN()
		}
		return 0
	}
	return distribution.StudentTwoSided(estimate/standardError, float64(l.DF))
}

// At is the height of the line at x, taken about the mean of x so that an x far
// from zero loses no digits.
func (l *Line) At(x float64) float64 {
	if l.throughOrigin {
		return l.Slope * x
	}
	return l.YMean + l.Slope*(x-l.XMean)
}

// Interval is a range with its ends; NaN where it is not defined.
type Interval struct{ Low, High float64 }

// SlopeInterval is Slope ± t SE(slope) at a level such as 0.95.
func (l *Line) SlopeInterval(level float64) Interval {
	half := tQuantile(level, l.DF) * l.SESlope
	return Interval{l.Slope - half, l.Slope + half}
}

// Band gives, for a level such as 0.95, two functions of x: the confidence
// interval of the mean ŷ ± t RSE √(1/n + (x - x̄)²/Sxx), and the prediction
// interval of a single new case, with 1 + under the root.
func (l *Line) Band(level float64) (confidence, prediction func(x float64) Interval) {
	t := tQuantile(level, l.DF)
	band := func(extra float64) func(float64) Interval {
		return func(x float64) Interval {
			d, base := x-l.XMean, 1/float64(l.N)
			if l.throughOrigin {
				d, base = x, 0
			}
			half := t * l.RSE * math.Sqrt(extra+base+d*d/l.Sxx)
			if l.RSE == 0 {
				half = 0
			}
			return Interval{l.At(x) - half, l.At(x) + half}
		}
	}
	return band(0), band(1)
}

func tQuantile(level float64, df int) float64 {
	if df < 1 {
		return math.NaN()
	}
	return distribution.StudentQuantile((1-level)/2, float64(df))
}

// Complete gives the pairs in which neither value is missing (NaN), copied when
// any is left out, and how many were left out.
func Complete(x, y []float64) (cx, cy []float64, missing int) {
	for i := range x {
		if math.IsNaN(x[i]) || math.IsNaN(y[i]) {
			missing++
		}
	}
	if missing == 0 {
		return x, y, 0
	}
	cx, cy = make([]float64, 0, len(x)-missing), make([]float64, 0, len(x)-missing)
	for i := range x {
		if !math.IsNaN(x[i]) && !math.IsNaN(y[i]) {
			cx, cy = append(cx, x[i]), append(cy, y[i])
		}
	}
	return cx, cy, missing
}

// Logged takes complete pairs into drawn space: log10 of what stands on a log
// axis. Pairs at or below zero on a log axis are left out and counted, once.
func Logged(x, y []float64, logX, logY bool) (u, v []float64, nonPositive int) {
	if !logX && !logY {
		return x, y, 0
	}
	u, v = make([]float64, 0, len(x)), make([]float64, 0, len(x))
	for i := range x {
		if (logX && x[i] <= 0) || (logY && y[i] <= 0) {
			nonPositive++
			continue
		}
		a, b := x[i], y[i]
		if logX {
			a = magnitude.Log10(a)
		}
		if logY {
			b = magnitude.Log10(b)
		}
		u, v = append(u, a), append(v, b)
	}
	return u, v, nonPositive
}
