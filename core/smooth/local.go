// Package smooth fits curves without a fixed form: local regression and the
// smoothing spline.
//
// Functions take complete pairs and never write to them.
package smooth

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/mat"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/model"
)

// Local is a local polynomial regression (Cleveland and Devlin 1988, "Locally
// weighted regression", JASA 83), without robustness iterations.
//
// At x0 the k nearest rows, k = max(degree+2, ⌊span n⌋), take part with tricube
// weights (1 - (|x - x0|/h)³)³, h the distance of the k-th (which itself has
// weight 0). The fitted value is linear in y: ŷ(x0) = Σ l_i(x0) y_i. With L the
// operator at the rows, δ1 = tr (I-L)(I-L)ᵀ and δ2 = tr ((I-L)(I-L)ᵀ)²:
//
//	s = √(Σe²/δ1), df = δ1²/δ2, se(x0) = s ‖l(x0)‖, band fit ± t(df) se.
//
// Where ties leave fewer than degree+1 different x with weight, the
// neighbourhood is widened until there are. To 800 rows all of this is exact; to
// 2,000 rows δ2 is estimated (see squaredNorm) and the rest exact.
// Above, neighbours closer than a pixel are gathered before, and δ2 is taken as
// δ1, its limit for many rows.
type Local struct {
	N, K, Degree          int
	Span                  float64
	Trace, Delta1, Delta2 float64
	S, DF                 float64 // NaN for a saturated fit
	XMin, XMax            float64
	RSS, Syy              float64

	points *points
}

// exactRows is the most rows for which the operator, n×n, is formed.
const exactRows = 2000

// FitLocal fits a local regression of degree 1 or 2 with a span from 0 to 1. It
// needs degree+1 distinct x.
func FitLocal(ctx context.Context, x, y []float64, span float64, degree int) (*Local, error) {
	if len(x) < 2 {
		return nil, model.ErrTooFewRows
	}
	if err := magnitude.InRange(x, y); err != nil {
		return nil, err
	}
	return fitLocal(ctx, gather(x, y), span, degree)
}

// FitLocalOf is FitLocal of the sums of bins of x: rows are gathered by these.
func FitLocalOf(ctx context.Context, bins []model.Sums, span float64, degree int) (*Local, error) {
	p, err := gathered(bins)
	if err == nil && p.rows < 2 {
		err = model.ErrTooFewRows
	}
	if err != nil {
		return nil, err
	}
	return fitLocal(ctx, p, span, degree)
}

func fitLocal(ctx context.Context, of *points, span float64, degree int) (*Local, error) {
	n := of.rows
	l := &Local{N: n, Degree: degree, Span: span, S: math.NaN(), DF: math.NaN(), points: of}
	l.XMin, l.XMax = l.points.x[0], l.points.x[len(l.points.x)-1]
	if len(l.points.x) < degree+1 {
		return nil, model.ErrTooFewDistinct
	}
	l.K = min(max(degree+2, int(math.Floor(span*float64(n)+1e-9))), n)
	l.Syy = l.points.spread()
	if err := l.diagnose(ctx); err != nil {
		return nil, err
	}
	if l.Delta1 > 1e-8*float64(l.N) {
		l.S = math.Sqrt(l.RSS / l.Delta1)
		l.DF = l.Delta1 * l.Delta1 / l.Delta2
	}
	return l, nil
}

// neighbourhood gives the stretch of gatherings that the k nearest rows reach
// into, and h, the distance of the k-th.
func (l *Local) neighbourhood(x0 float64) (from, to int, h float64) {
	p := l.points
	middle, _ := slices.BinarySearch(p.x, x0)
	from, to = middle, middle
	rows, weighted := 0.0, 0
	for (rows < float64(l.K) || weighted < l.Degree+1) && (from > 0 || to < len(p.x)) {
		left := to == len(p.x) || (from > 0 && x0-p.x[from-1] <= p.x[to]-x0)
		next := to
		if left {
			from--
			next = from
		} else {
			to++
		}
		rows += p.count[next]
		h = max(h, math.Abs(p.x[next]-x0))
		weighted = 0
		if rows >= float64(l.K) {
			weighted = l.weighted(x0, from, to, h)
		}
	}
	if l.weighted(x0, from, to, h) < l.Degree+1 {
		h *= 1.0001 // there is nothing further: the furthest rows are needed too
	}
	return from, to, h
}

func (l *Local) weighted(x0 float64, from, to int, h float64) int {
	count := 0
	for _, v := range l.points.x[from:to] {
		if math.Abs(v-x0) < h {
			count++
		}
	}
	return count
}

// operator writes, for each gathering of the stretch, the sum of l(x0) over its
// rows. The powers 1, t, t² are made orthogonal under the weights
// (Gram-Schmidt, twice), which stays exact for narrow windows far from zero.
func (l *Local) operator(x0 float64) (from int, values []float64) {
	from, to, h := l.neighbourhood(x0)
	n := to - from
	weights, values := make([]float64, n), make([]float64, n)
	for i := range weights {
		if d := math.Abs(l.points.x[from+i]-x0) / h; d < 1 {
			c := 1 - d*d*d
			weights[i] = l.points.count[from+i] * c * c * c
		}
	}
	var basis [3][]float64
	var atX0 [3]float64
	for order := 0; order <= l.Degree; order++ {
		column := make([]float64, n)
		for i := range column {
			t := (l.points.x[from+i] - x0) / h
			column[i] = [3]float64{1, t, t * t}[order]
		}
		at := [3]float64{1, 0, 0}[order]
		for range 2 {
			for previous := range order {
				projection := 0.0
				for i, w := range weights {
					projection += w * column[i] * basis[previous][i]
				}
				for i := range column {
					column[i] -= projection * basis[previous][i]
				}
				at -= projection * atX0[previous]
			}
		}
		norm := 0.0
		for i, w := range weights {
			norm += w * column[i] * column[i]
		}
		norm = math.Sqrt(norm)
		if norm < 1e-14 {
			break // no spread is left for this power
		}
		for i := range column {
			column[i] /= norm
		}
		basis[order], atX0[order] = column, at/norm
		for i, w := range weights {
			values[i] += atX0[order] * w * column[i]
		}
	}
	return from, values
}

// At is the fitted value at x0.
func (l *Local) At(x0 float64) float64 {
	fit, _ := l.at(x0)
	return fit
}

// at gives the fitted value and ‖l(x0)‖ over the rows.
func (l *Local) at(x0 float64) (fit, norm float64) {
	from, values := l.operator(x0)
	for i, v := range values {
		fit += v * l.points.y[from+i]
		norm += v * v / l.points.count[from+i]
	}
	return fit, math.Sqrt(norm)
}

// SE is the standard error of the fitted value at x0; NaN for a saturated fit.
func (l *Local) SE(x0 float64) float64 {
	_, norm := l.at(x0)
	return l.S * norm
}

// Band is the pointwise confidence band at a level such as 0.95.
func (l *Local) Band(level float64) func(x float64) model.Interval {
	t := math.NaN()
	if l.DF > 0 {
		t = distribution.StudentQuantile((1-level)/2, l.DF)
	}
	return func(x float64) model.Interval {
		fit, norm := l.at(x)
		half := t * l.S * norm
		return model.Interval{Low: fit - half, High: fit + half}
	}
}

// diagnose takes the trace of the operator, δ1, δ2 and the residuals. A gathering
// of c rows with operator sums V stands for c equal rows of V/c each.
func (l *Local) diagnose(ctx context.Context) error {
	p := l.points
	m := len(p.x)
	squares := 0.0
	exact := l.N <= exactRows
	var whole []float64 // √c_i (δ_ij - V_ij/√(c_i c_j)): I - L between gatherings
	if exact {
		whole = make([]float64, m*m)
	}
	l.RSS = p.within
	for i := range m {
		if i&63 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		from, values := l.operator(p.x[i])
		fit := 0.0
		for j, v := range values {
			fit += v * p.y[from+j]
			squares += p.count[i] * v * v / p.count[from+j]
			if from+j == i {
				l.Trace += v
			}
			if exact {
				whole[i*m+from+j] = -v * math.Sqrt(p.count[i]/p.count[from+j])
			}
		}
		if exact {
			whole[i*m+i]++
		}
		e := p.y[i] - fit
		l.RSS += p.count[i] * e * e
	}
	l.Delta1 = float64(l.N) - 2*l.Trace + squares
	l.Delta2 = l.Delta1
	if !exact {
		return nil
	}
	// Within a gathering of c rows, c-1 directions are left alone by L: each adds 1.
	l.Delta2 = float64(l.N-m) + squaredNorm(whole, m)
	return ctx.Err()
}

// exactNormRows is the most rows for which ‖MMᵀ‖² is formed, which takes n³ steps.
const exactNormRows = 800

// squaredNorm is ‖MMᵀ‖² in Frobenius norm, for δ2. Above 800 rows it is estimated
// by 24 seeded probes of random signs (Hutchinson 1990, Communications in
// Statistics 19), ‖MMᵀz‖², whose error is some 0.1 % of δ2 and moves no band by a
// pixel.
func squaredNorm(whole []float64, m int) float64 {
	matrix := mat.NewDense(m, m, whole)
	if m <= exactNormRows {
		var product mat.SymDense
		product.SymOuterK(1, matrix)
		norm := mat.Norm(&product, 2)
		return norm * norm
	}
	const probes = 24
	source := rand.New(rand.NewPCG(1, 1))
	signs, once, twice := mat.NewVecDense(m, nil), mat.NewVecDense(m, nil), mat.NewVecDense(m, nil)
	total := 0.0
	for range probes {
		for i := range m {
			signs.SetVec(i, float64(2*source.IntN(2)-1))
		}
		once.MulVec(matrix.T(), signs)
		twice.MulVec(matrix, once)
		total += mat.Dot(twice, twice)
	}
	return total / probes
}

// R2 is 1 - RSS/Syy; NaN when y has no spread.
func (l *Local) R2() float64 {
	if l.Syy == 0 {
		return math.NaN()
	}
	return 1 - l.RSS/l.Syy
}
