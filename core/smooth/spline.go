package smooth

import (
	"context"
	"math"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/model"
)

// Spline is the natural cubic smoothing spline: f minimises
//
//	Σ (y_i - f(x_i))² + λ ∫ f''(t)² dt
//
// over all rows, x and y in their own units (Green and Silverman 1994,
// Nonparametric Regression and Generalized Linear Models, chapter 2). Rows of
// equal x count as their mean with its weight. Without a λ it is the minimiser of
// generalised cross-validation (RSS/n)/(1 - γ edf/n)², n the number of rows (Craven
// and Wahba 1979, Numerische Mathematik 31; γ by Penalty).
//
// The band is Bayesian and pointwise (Wahba 1983, JRSS B 45): fit ± z √(σ² v),
// σ² = RSS/(n - edf), v = cᵀ(W + λK)⁻¹c. All is O(number of knots) by banded
// solves (Reinsch 1967; Hutchinson and de Hoog 1985 for the trace). Above 2,000
// rows neighbours closer than a pixel are gathered before.
type Spline struct {
	N, Knots         int
	Lambda           float64 // +Inf: the straight line
	EDF              float64
	RSS, GCV, Sigma2 float64
	Syy              float64
	XMin, XMax       float64

	AtCap bool // λ is the smallest that the cap leaves

	penalty Penalty
	points  *points
	h       []float64 // x[i+1] - x[i]
	g, r    []float64 // values and second derivatives at the knots
	solver  *banded
}

// FitSpline fits a smoothing spline, with λ set or chosen. It needs 3 distinct x.
func FitSpline(ctx context.Context, x, y []float64, penalty Penalty) (*Spline, error) {
	if len(x) == 0 {
		return nil, model.ErrTooFewDistinct
	}
	if err := magnitude.InRange(x, y); err != nil {
		return nil, err
	}
	return fitSpline(ctx, gather(x, y), penalty)
}

// FitSplineOf is FitSpline of the sums of bins of x: rows are gathered by these.
func FitSplineOf(ctx context.Context, bins []model.Sums, penalty Penalty) (*Spline, error) {
	p, err := gathered(bins)
	if err != nil {
		return nil, err
	}
	return fitSpline(ctx, p, penalty)
}

func fitSpline(ctx context.Context, p *points, penalty Penalty) (*Spline, error) {
	if len(p.x) < 3 {
		return nil, model.ErrTooFewDistinct
	}
	if penalty.Gamma == 0 {
		penalty.Gamma = 1
	}
	s := &Spline{penalty: penalty, N: p.rows, Knots: len(p.x), points: p, XMin: p.x[0], XMax: p.x[len(p.x)-1], Syy: p.spread()}
	s.h = make([]float64, len(p.x)-1)
	for i := range s.h {
		s.h[i] = p.x[i+1] - p.x[i]
	}
	if penalty.Lambda > 0 {
		s.solve(penalty.Lambda)
		return s, nil
	}
	return s, s.chooseLambda(ctx)
}

// Penalty says how λ is chosen.
type Penalty struct {
	Lambda float64 // set: 0 chooses it
	Gamma  float64 // what an effective coefficient costs in cross-validation; 0 is 1
	Capped bool    // at most min(40, knots/3 + 2) effective coefficients
}

// Usual is how λ is chosen where nobody says it: plain cross-validation interpolates data in
// which neighbours are alike (Kim and Gu 2004, JRSS B 66:337).
var Usual = Penalty{Gamma: 1.4, Capped: true}

// Cap is the most effective coefficients of a capped spline.
func (s *Spline) Cap() float64 { return min(40, float64(s.Knots)/3+2) }

// The exponents of 10 between which λ is looked for, in units of the range of x cubed.
const lowestExponent, highestExponent, exponentSteps = -13.0, 5.0, 72

// at fits with λ of an exponent and gives its cross-validation.
func (s *Spline) at(exponent float64) float64 {
	s.solve(math.Pow(s.XMax-s.XMin, 3) * math.Pow(10, exponent))
	if s.penalty.Gamma*s.EDF >= float64(s.N)-1e-6 || math.IsNaN(s.GCV) {
		return math.Inf(1)
	}
	return s.GCV
}

// capExponent is the exponent from which on a spline has no more coefficients than its cap.
func (s *Spline) capExponent() float64 {
	low, high := lowestExponent, highestExponent
	if s.at(low); !s.penalty.Capped || s.EDF <= s.Cap() {
		return low
	}
	for range 60 {
		middle := (low + high) / 2
		if s.at(middle); s.EDF > s.Cap() {
			low = middle
		} else {
			high = middle
		}
	}
	return high
}

// chooseLambda looks over the whole range of λ, then closely about the best.
func (s *Spline) chooseLambda(ctx context.Context) error {
	lowest := s.capExponent()
	const highest = highestExponent
	best, bestGCV := lowest, s.at(lowest)
	width := (highest - lowest) / exponentSteps
	for i := 1; i <= exponentSteps; i++ {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		exponent := lowest + width*float64(i)
		if gcv := s.at(exponent); gcv < bestGCV {
			best, bestGCV = exponent, gcv
		}
	}
	low, high := max(best-width, lowest), min(best+width, highest)
	golden := (math.Sqrt(5) - 1) / 2
	a, b := high-golden*(high-low), low+golden*(high-low)
	fa, fb := s.at(a), s.at(b)
	for range 60 {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if fa < fb {
			high, b, fb = b, a, fa
			a = high - golden*(high-low)
			fa = s.at(a)
		} else {
			low, a, fa = a, b, fb
			b = low + golden*(high-low)
			fb = s.at(b)
		}
	}
	chosen := s.at((low + high) / 2)
	if atCap := s.at(lowest); lowest > lowestExponent && atCap <= chosen {
		s.AtCap = true
		return nil
	}
	s.at((low + high) / 2)
	if line := s.lineGCV(); best > highest-1.5*width && line <= chosen*(1+1e-7) {
		s.becomeLine()
	}
	return nil
}

// lineGCV is the cross-validation of the straight line, which has edf 2.
func (s *Spline) lineGCV() float64 {
	line, err := s.line()
	if err != nil {
		return math.Inf(1)
	}
	n := float64(s.N)
	return line.rss / n / math.Pow(1-s.penalty.Gamma*2/n, 2)
}

type weightedLine struct{ mean, slope, centre, rss float64 }

func (s *Spline) line() (weightedLine, error) {
	p := s.points
	var l weightedLine
	n := float64(s.N)
	for i, c := range p.count {
		l.centre += c * p.x[i] / n
		l.mean += c * p.y[i] / n
	}
	sxx, sxy := 0.0, 0.0
	for i, c := range p.count {
		d := p.x[i] - l.centre
		sxx += c * d * d
		sxy += c * d * (p.y[i] - l.mean)
	}
	l.slope = sxy / sxx
	l.rss = p.within
	for i, c := range p.count {
		e := p.y[i] - l.mean - l.slope*(p.x[i]-l.centre)
		l.rss += c * e * e
	}
	return l, nil
}

// becomeLine takes the limit λ → ∞: the values lie on the straight line, and the
// solver keeps the largest λ for the band, which is then the line's own.
func (s *Spline) becomeLine() {
	line, _ := s.line()
	for i, x := range s.points.x {
		s.g[i] = line.mean + line.slope*(x-line.centre)
	}
	clear(s.r)
	s.RSS, s.EDF, s.GCV = line.rss, 2, s.lineGCV()
	s.Sigma2 = s.RSS / float64(s.N-2)
	s.Lambda = math.Inf(1)
}

// solve fits with the given λ: (R + λ QᵀW⁻¹Q) γ = Qᵀy, g = y - λ W⁻¹Qγ.
func (s *Spline) solve(lambda float64) {
	p, m := s.points, s.Knots
	s.Lambda = lambda
	s.solver = newBanded(s.h, p.count, lambda)
	right := s.secondDifferences(p.y)
	gamma := s.solver.solve(right)
	s.r = make([]float64, m)
	copy(s.r[1:], gamma)
	s.g = make([]float64, m)
	back := s.applyQ(gamma)
	for i := range s.g {
		s.g[i] = p.y[i] - lambda*back[i]/p.count[i]
	}
	leverage := s.leverages()
	s.EDF, s.RSS = 0, p.within
	for i, a := range leverage {
		s.EDF += a
		e := p.y[i] - s.g[i]
		s.RSS += p.count[i] * e * e
	}
	n := float64(s.N)
	s.GCV = s.RSS / n / math.Pow(1-s.penalty.Gamma*s.EDF/n, 2)
	s.Sigma2 = s.RSS / (n - s.EDF)
}

// secondDifferences is Qᵀv: the change of slope at each inner knot.
func (s *Spline) secondDifferences(v []float64) []float64 {
	out := make([]float64, s.Knots-2)
	for j := range out {
		out[j] = (v[j+2]-v[j+1])/s.h[j+1] - (v[j+1]-v[j])/s.h[j]
	}
	return out
}

// applyQ is Qγ.
func (s *Spline) applyQ(gamma []float64) []float64 {
	out := make([]float64, s.Knots)
	for j, v := range gamma {
		out[j] += v / s.h[j]
		out[j+1] -= v * (1/s.h[j] + 1/s.h[j+1])
		out[j+2] += v / s.h[j+1]
	}
	return out
}

// leverages gives A_jj, the diagonal of the operator: 1 - λ/w (Q B⁻¹ Qᵀ)_jj, from
// the central bands of B⁻¹.
func (s *Spline) leverages() []float64 {
	d0, d1, d2 := s.solver.inverseBands()
	out := make([]float64, s.Knots)
	for i := range out {
		// Row i of Q has entries at the inner knots i-2, i-1 and i.
		var entry [3]float64
		var at [3]int
		count := 0
		add := func(j int, v float64) {
			if j >= 0 && j < s.Knots-2 {
				entry[count], at[count] = v, j
				count++
			}
		}
		if i >= 2 {
			add(i-2, 1/s.h[i-1])
		}
		if i >= 1 && i < s.Knots-1 {
			add(i-1, -1/s.h[i-1]-1/s.h[i])
		}
		if i < s.Knots-2 {
			add(i, 1/s.h[i])
		}
		sum := 0.0
		for a := range count {
			for b := range count {
				low, distance := min(at[a], at[b]), max(at[a], at[b])-min(at[a], at[b])
				sum += entry[a] * entry[b] * [3][]float64{d0, d1, d2}[distance][low]
			}
		}
		out[i] = 1 - s.Lambda/s.points.count[i]*sum
	}
	return out
}

// interval finds the knots about x, and where it lies between them; beyond the
// ends t is below 0 or above 1.
func (s *Spline) interval(x float64) int {
	low, high := 0, s.Knots-2
	for low < high {
		middle := (low + high + 1) / 2
		if s.points.x[middle] <= x {
			low = middle
		} else {
			high = middle - 1
		}
	}
	return low
}

// weightsAt writes f(x) as a combination of the values and second derivatives at
// the two knots about x; beyond the ends the spline goes on as a straight line.
func (s *Spline) weightsAt(x float64) (i int, value, second [2]float64) {
	i = s.interval(x)
	h := s.h[i]
	t := (x - s.points.x[i]) / h
	value = [2]float64{1 - t, t}
	switch {
	case t < 0: // slope at the first knot: (g1-g0)/h - h/6 (2 r0 + r1)
		second = [2]float64{-t * h * h / 3, -t * h * h / 6}
	case t > 1:
		second = [2]float64{(t - 1) * h * h / 6, (t - 1) * h * h / 3}
	default:
		a, b := 1-t, t
		second = [2]float64{(a*a*a - a) * h * h / 6, (b*b*b - b) * h * h / 6}
	}
	return i, value, second
}

// At is the height of the spline at x.
func (s *Spline) At(x float64) float64 {
	i, value, second := s.weightsAt(x)
	return value[0]*s.g[i] + value[1]*s.g[i+1] + second[0]*s.r[i] + second[1]*s.r[i+1]
}

// SE is √(σ² cᵀ(W + λK)⁻¹c), the standard error of the Bayesian band at x.
func (s *Spline) SE(x float64) float64 {
	if math.IsInf(s.Lambda, 1) {
		return s.lineSE(x)
	}
	i, value, second := s.weightsAt(x)
	c := make([]float64, s.Knots)
	c[i], c[i+1] = value[0], value[1]
	// The second derivatives are R⁻¹Qᵀg, so their weights z give Q R⁻¹ z more.
	z := make([]float64, s.Knots-2)
	for k, v := range second {
		if j := i + k - 1; j >= 0 && j < len(z) {
			z[j] = v
		}
	}
	plain := newBanded(s.h, s.points.count, 0)
	for j, v := range s.applyQ(plain.solve(z)) {
		c[j] += v
	}
	// (W + λK)⁻¹c = W⁻¹(c - λ Q u) with B u = QᵀW⁻¹c.
	scaled := make([]float64, s.Knots)
	for j, v := range c {
		scaled[j] = v / s.points.count[j]
	}
	back := s.applyQ(s.solver.solve(s.secondDifferences(scaled)))
	sum := 0.0
	for j, v := range c {
		sum += v * (v - s.Lambda*back[j]) / s.points.count[j]
	}
	return math.Sqrt(max(0, s.Sigma2*sum))
}

func (s *Spline) lineSE(x float64) float64 {
	line, _ := s.line()
	sxx := 0.0
	for i, c := range s.points.count {
		d := s.points.x[i] - line.centre
		sxx += c * d * d
	}
	d := x - line.centre
	return math.Sqrt(s.Sigma2 * (1/float64(s.N) + d*d/sxx))
}

// Band is the pointwise Bayesian band at a level such as 0.95.
func (s *Spline) Band(level float64) func(x float64) model.Interval {
	z := distribution.NormalQuantile((1 - level) / 2)
	return func(x float64) model.Interval {
		fit, half := s.At(x), z*s.SE(x)
		return model.Interval{Low: fit - half, High: fit + half}
	}
}

// R2 is 1 - RSS/Syy; NaN when y has no spread.
func (s *Spline) R2() float64 {
	if s.Syy == 0 {
		return math.NaN()
	}
	return 1 - s.RSS/s.Syy
}
