package model

import (
	"context"
	"math"

	"copperlark/core/distribution"
)

// Series is a line of rows that follow each other, as in time.
type Series struct {
	Line      *Line
	Lag       int
	HAC       *Robust    // nil where it is not defined: two rows, or an exact fit
	Intercept float64    // the standard error of the intercept, beside HAC
	Following *Following // of the residuals; nil for an exact fit
}

// Following tells how alike values that follow each other are: their autocorrelation at lag one, with the test of
// Ljung and Box (1978, Biometrika 65), of one lag.
type Following struct{ R1, Q, P float64 }

// FitSeries fits a line by least squares to complete pairs in the order in which they follow each other, and gives
// the standard error of its slope where neighbours may be alike: Newey and West (1987, Econometrica 55), Bartlett
// weights, factor n/(n − 2). lag NaN is floor(4 (n/100)^(2/9)) (1994, Review of Economic Studies 61); one
// above n − 1 is n − 1.
func FitSeries(ctx context.Context, x, y []float64, lag float64) (*Series, error) {
	if lag < 0 || lag != math.Trunc(lag) && !math.IsNaN(lag) {
		return nil, Error("lag must be whole and not negative")
	}
	l, err := dependentLine(ctx, x, y)
	if err != nil {
		return nil, err
	}
	return SeriesOf(ctx, l, x, y, lag), nil
}

// SeriesOf is FitSeries of a line that was fitted.
func SeriesOf(ctx context.Context, l *Line, x, y []float64, lag float64) *Series {
	n := len(x)
	if math.IsNaN(lag) {
		lag = math.Floor(4 * math.Pow(float64(n)/100, 2.0/9))
	}
	s := &Series{Line: l, Lag: int(min(lag, float64(n-1)))}
	if l.RSS <= exactFit*l.Syy || !(l.Syy > 0) {
		return s
	}
	e, dx := make([]float64, n), make([]float64, n)
	for i := range x {
		e[i], dx[i] = y[i]-l.At(x[i]), x[i]-l.XMean
	}
	s.Following = FollowingOf(e)
	var s11, s12, s22 float64 // of X = (1, x − x̄)
	for step := 0; step <= s.Lag && ctx.Err() == nil; step++ {
		weight := 1 - float64(step)/float64(s.Lag+1)
		if step > 0 {
			weight *= 2 // both halves of a symmetric matrix; its other entry is their sum
		}
		for t := step; t < n; t++ {
			ee := weight * e[t] * e[t-step]
			s11 += ee
			s12 += ee * (dx[t] + dx[t-step]) / 2
			s22 += ee * dx[t] * dx[t-step]
		}
	}
	factor := float64(n) / float64(n-2)
	m1, m2 := 1/float64(n), 1/l.Sxx
	variance := factor * m2 * s22 * m2
	if n < 3 || !(variance > 0) {
		return s
	}
	s.HAC = &Robust{SE: math.Sqrt(variance), DF: float64(n - 2)}
	// a = (intercept at x̄) − b x̄
	at := factor * (m1*s11*m1 - 2*l.XMean*m1*s12*m2 + l.XMean*l.XMean*m2*s22*m2)
	s.Intercept = math.Sqrt(max(at, 0))
	return s
}

// FollowingOf is of values about zero, as residuals are; nil where there are none, or all are 0.
func FollowingOf(e []float64) *Following {
	n, own, next := float64(len(e)), 0.0, 0.0
	for i, v := range e {
		own += v * v
		if i > 0 {
			next += v * e[i-1]
		}
	}
	if !(own > 0) || n < 2 {
		return nil
	}
	f := &Following{R1: next / own}
	f.Q = n * (n + 2) * f.R1 * f.R1 / (n - 1)
	f.P = distribution.ChiSquaredSurvival(f.Q, 1)
	return f
}

// EffectiveTimes is by how much fewer rows there are in effect where residuals and x follow each other with these
// autocorrelations at lag one: k = (1 + r_e r_x)/(1 − r_e r_x) (Bartlett 1935, Journal of the Royal Statistical
// Society 98), each first raised by its bias (1 + 3r)/n (Marriott and Pope 1954, Biometrika 41) and kept within 0
// to 0.99. The variance of the slope is k times as large. It assumes that likeness fades by a constant factor.
func EffectiveTimes(residuals, x float64, n int) float64 {
	raised := func(r float64) float64 { return min(max(r+(1+3*r)/float64(n), 0), 0.99) }
	both := raised(residuals) * raised(x)
	return (1 + both) / (1 - both)
}

// Widest is the widest of the intervals of a slope that are known where rows follow each other: the ordinary one,
// that of Newey and West, and that of effective rows; with its standard error and degrees of freedom.
func (s *Series) Widest(x []float64, level float64) (Robust, Interval) {
	l := s.Line
	widest := Robust{SE: l.SESlope, DF: float64(l.DF)}
	interval := widest.Interval(l.Slope, level)
	try := func(r Robust) {
		if other := r.Interval(l.Slope, level); other.High-other.Low > interval.High-interval.Low {
			widest, interval = r, other
		}
	}
	if s.HAC != nil {
		try(*s.HAC)
	}
	if s.Following != nil {
		dx := make([]float64, len(x))
		for i, v := range x {
			dx[i] = v - l.XMean
		}
		if f := FollowingOf(dx); f != nil {
			k := EffectiveTimes(s.Following.R1, f.R1, l.N)
			try(Robust{SE: l.SESlope * math.Sqrt(k), DF: max(float64(l.N)/k-2, 1)})
		}
	}
	return widest, interval
}
