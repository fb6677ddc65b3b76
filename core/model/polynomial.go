package model

import (
	"context"
	"errors"
	"math"
	"math/big"
	"slices"

	"gonum.org/v1/gonum/mat"

	"copperlark/core/magnitude"
	"copperlark/core/parallel"
)

// Polynomial is the least-squares polynomial y = Σ Coefficients[k] x^k.
//
// It is fitted in polynomials that are orthogonal over the rows' own x, centred and scaled to [-1, 1] (Forsythe 1957, "Generation and use
// of orthogonal polynomials for data-fitting with a digital computer", SIAM
// Journal 5), so that a high degree, or an x such as a year, loses no digits.
// RSE = √(RSS/df) with df = n - degree - 1; it and the adjusted R² are NaN for
// df = 0. Source: Draper and Smith, 3rd ed., chapters 5 and 12.
type Polynomial struct {
	N, DF, Degree        int
	RSE, RSS, Syy        float64
	R2, AdjustedR2       float64
	XMin, XMax           float64
	Coefficients, SE     []float64 // of the raw powers of x, lowest first
	centre, scale        float64
	alpha, beta, weights []float64 // recurrence and coefficients in the orthogonal basis
	norms                []float64 // √ of the sum of squares of each basis polynomial
}

// FitPolynomial fits a polynomial of degree 1 or more to complete pairs. It
// needs degree + 1 distinct x.
func FitPolynomial(ctx context.Context, x, y []float64, degree int) (*Polynomial, error) {
	if !distinctAtLeast(x, degree+1) {
		return nil, ErrTooFewDistinct
	}
	if err := magnitude.InRange(x, y); err != nil {
		return nil, err
	}
	p := &Polynomial{N: len(x), DF: len(x) - degree - 1, Degree: degree, XMin: slices.Min(x), XMax: slices.Max(x)}
	p.centre = p.XMin + (p.XMax-p.XMin)/2
	p.scale = (p.XMax - p.XMin) / 2
	if len(x) <= storedRows {
		u := make([]float64, len(x))
		for i, v := range x {
			u[i] = (v - p.centre) / p.scale
		}
		p.orthogonal(u, y, nil)
	} else if err := p.orthogonalPasses(ctx, x, y); err != nil {
		return nil, err
	}
	largest, err := p.residuals(ctx, x, y)
	if err != nil {
		return nil, err
	}
	p.settle(largest)
	return p, nil
}

// settle works out what follows from the sums of squares; largest is the largest |y|.
func (p *Polynomial) settle(largest float64) {
	if noise := 8 * epsilon * largest; p.DF == 0 || p.RSS <= float64(p.N)*noise*noise {
		p.RSS = 0
	}
	p.RSE, p.R2, p.AdjustedR2 = math.NaN(), math.NaN(), math.NaN()
	if p.DF > 0 {
		p.RSE = math.Sqrt(p.RSS / float64(p.DF))
	}
	if p.Syy > 0 {
		p.R2 = 1 - p.RSS/p.Syy
		if p.DF > 0 {
			p.AdjustedR2 = 1 - (1-p.R2)*float64(p.N-1)/float64(p.DF)
		}
	}
	p.raw()
}

func distinctAtLeast(x []float64, wanted int) bool {
	seen := make([]float64, 0, wanted)
	for _, v := range x {
		if !slices.Contains(seen, v) {
			if seen = append(seen, v); len(seen) >= wanted {
				return true
			}
		}
	}
	return false
}

// orthogonal finds the recurrence of the polynomials that are orthogonal over
// u and the coefficients of y in them. Each polynomial is divided by its norm;
// the residual, not y, is projected, which keeps the coefficients of high order
// exact. heavy are the roots of the weights of u and y; nil: each counts once.
func (p *Polynomial) orthogonal(u, y, heavy []float64) {
	n, k := len(u), p.Degree+1
	p.alpha, p.beta, p.weights, p.norms = make([]float64, k), make([]float64, k), make([]float64, k), make([]float64, k)
	previous, current := make([]float64, n), make([]float64, n)
	residual := slices.Clone(y)
	for i := range current {
		current[i] = 1 / math.Sqrt(float64(p.N))
		if heavy != nil {
			current[i], residual[i] = current[i]*heavy[i], residual[i]*heavy[i]
		}
	}
	p.norms[0] = math.Sqrt(float64(p.N))
	for order := range k {
		for range 2 { // the second projection takes what rounding left
			projection := dot(residual, current)
			p.weights[order] += projection
			for i, v := range current {
				residual[i] -= projection * v
			}
		}
		if order == p.Degree {
			return
		}
		alpha := 0.0
		for i, v := range current {
			alpha += u[i] * v * v
		}
		beta := 0.0
		if order > 0 {
			beta = p.norms[order]
		}
		norm := 0.0
		for i, v := range current {
			next := (u[i]-alpha)*v - beta*previous[i]
			previous[i] = v
			current[i] = next
			norm += next * next
		}
		norm = math.Sqrt(norm)
		for i := range current {
			current[i] /= norm
		}
		p.alpha[order], p.beta[order], p.norms[order+1] = alpha, beta, norm
	}
}

// storedRows is the most rows for which the basis is kept in memory.
const storedRows = 20_000

// tally is what one worker sums up in a pass.
type tally struct{ a, b, c, largest float64 }

// pass adds up tallies over all rows, on all cores.
func pass(ctx context.Context, n int, work func(t *tally, from, to int)) (tally, error) {
	partial := make([]tally, parallel.Workers(n))
	err := parallel.Ranges(ctx, n, func(worker, from, to int) { work(&partial[worker], from, to) })
	var total tally
	for _, t := range partial {
		total.a += t.a
		total.b += t.b
		total.c += t.c
		total.largest = max(total.largest, t.largest)
	}
	return total, err
}

// orthogonalPasses is orthogonal for many rows: it allocates nothing per row and
// evaluates the recurrence anew in each of degree+1 passes.
func (p *Polynomial) orthogonalPasses(ctx context.Context, x, y []float64) error {
	k := p.Degree + 1
	p.alpha, p.beta, p.weights, p.norms = make([]float64, k), make([]float64, k), make([]float64, k), make([]float64, k)
	p.norms[0] = math.Sqrt(float64(len(x)))
	inverse := make([]float64, k) // of the norms; the newest polynomial has none yet
	for i := range inverse {
		inverse[i] = 1
	}
	inverse[0] = 1 / p.norms[0]
	perUnit := 1 / p.scale
	for order := range k {
		t, err := pass(ctx, len(x), func(t *tally, from, to int) {
			sum := *t
			for i, value := range x[from:to] {
				u := (value - p.centre) * perUnit
				previous, v := 0.0, inverse[0]
				for o := range order {
					previous, v = v, ((u-p.alpha[o])*v-p.beta[o]*previous)*inverse[o+1]
				}
				sum.a += v * v
				sum.b += u * v * v
				sum.c += v * y[from+i]
			}
			*t = sum
		})
		if err != nil {
			return err
		}
		norm := 1.0
		if order > 0 {
			norm = math.Sqrt(t.a)
			p.norms[order], inverse[order] = norm, 1/norm
		}
		p.alpha[order] = t.b / (norm * norm)
		if order > 0 {
			p.beta[order] = p.norms[order]
		}
		p.weights[order] = t.c / norm
	}
	return nil
}

// residuals sums the squares of y about the fit and about its mean, and gives the
// largest |y|.
func (p *Polynomial) residuals(ctx context.Context, x, y []float64) (largest float64, err error) {
	t, err := pass(ctx, len(y), func(t *tally, from, to int) {
		for _, v := range y[from:to] {
			t.a += v
		}
	})
	if err != nil {
		return 0, err
	}
	mean := t.a / float64(len(y))
	inverse := make([]float64, len(p.norms))
	for i, norm := range p.norms {
		inverse[i] = 1 / norm
	}
	t, err = pass(ctx, len(y), func(t *tally, from, to int) {
		sum := *t
		for i, w := range y[from:to] {
			u := (x[from+i] - p.centre) / p.scale
			previous, v := 0.0, inverse[0]
			fit := p.weights[0] * v
			for o := range p.Degree {
				previous, v = v, ((u-p.alpha[o])*v-p.beta[o]*previous)*inverse[o+1]
				fit += p.weights[o+1] * v
			}
			e, d := w-fit, w-mean
			sum.a += e * e
			sum.b += d * d
			sum.largest = max(sum.largest, math.Abs(w))
		}
		*t = sum
	})
	p.RSS, p.Syy = t.a, t.b
	return t.largest, err
}

// basis writes the orthonormal polynomials at u.
func (p *Polynomial) basis(u float64, into []float64) {
	into[0] = 1 / p.norms[0]
	for order := range p.Degree {
		next := (u - p.alpha[order]) * into[order]
		if order > 0 {
			next -= p.beta[order] * into[order-1]
		}
		into[order+1] = next / p.norms[order+1]
	}
}

func dot(a, b []float64) float64 {
	sum := 0.0
	for i, v := range a {
		sum += v * b[i]
	}
	return sum
}

// At is the height of the polynomial at x.
func (p *Polynomial) At(x float64) float64 {
	basis := make([]float64, p.Degree+1)
	p.basis((x-p.centre)/p.scale, basis)
	return dot(basis, p.weights)
}

// Band gives the confidence and the prediction band at a level such as 0.95:
// ŷ ± t RSE √(v'(X'X)⁻¹v), with 1 + under the root for a single new case.
func (p *Polynomial) Band(level float64) (confidence, prediction func(x float64) Interval) {
	t := tQuantile(level, p.DF)
	band := func(extra float64) func(float64) Interval {
		return func(x float64) Interval {
			basis := make([]float64, p.Degree+1)
			p.basis((x-p.centre)/p.scale, basis)
			half := t * p.RSE * math.Sqrt(extra+dot(basis, basis))
			if p.RSE == 0 {
				half = 0
			}
			fit := dot(basis, p.weights)
			return Interval{fit - half, fit + half}
		}
	}
	return band(0), band(1)
}

// raw writes the coefficients and their standard errors in raw powers of x.
// Expanding about a far centre cancels many digits, so it is done in 200-bit
// arithmetic; a degree has few coefficients and this costs microseconds.
func (p *Polynomial) raw() {
	const bits = 200
	number := func(v float64) *big.Float { return new(big.Float).SetPrec(bits).SetFloat64(v) }
	multiply := func(a, b *big.Float) *big.Float { return new(big.Float).SetPrec(bits).Mul(a, b) }
	k := p.Degree + 1
	zero := func() []*big.Float {
		c := make([]*big.Float, k)
		for i := range c {
			c[i] = number(0)
		}
		return c
	}
	// u = (x - centre)/scale: the polynomials in powers of x, one after the other.
	inverse := new(big.Float).SetPrec(bits).Quo(number(1), number(p.scale))
	basis := make([][]*big.Float, k)
	basis[0] = zero()
	basis[0][0].Quo(number(1), number(p.norms[0]))
	for order := range p.Degree {
		next := zero()
		shift := multiply(number(p.centre), inverse)
		shift.Add(shift, number(p.alpha[order]))
		for power := range k {
			if power+1 < k {
				next[power+1].Add(next[power+1], multiply(basis[order][power], inverse))
			}
			next[power].Sub(next[power], multiply(basis[order][power], shift))
			if order > 0 {
				next[power].Sub(next[power], multiply(basis[order-1][power], number(p.beta[order])))
			}
		}
		for power := range next {
			next[power].Quo(next[power], number(p.norms[order+1]))
		}
		basis[order+1] = next
	}
	p.Coefficients, p.SE = make([]float64, k), make([]float64, k)
	for power := range k {
		sum, square := number(0), number(0)
		for order := range k {
			sum.Add(sum, multiply(basis[order][power], number(p.weights[order])))
			square.Add(square, multiply(basis[order][power], basis[order][power]))
		}
		p.Coefficients[power], _ = sum.Float64()
		root, _ := square.Sqrt(square).Float64()
		p.SE[power] = p.RSE * root
	}
}

// Multiple is a least-squares regression of y on several columns with an
// intercept, by QR on centred columns scaled to length 1.
type Multiple struct {
	N, DF            int
	Coefficients, SE []float64 // the intercept first
	RSE, R2          float64
	AdjustedR2       float64
}

// FitMultiple fits y on the rows of regressors; columns that depend on each
// other are refused.
func FitMultiple(rows [][]float64, y []float64) (*Multiple, error) {
	n := len(y)
	if n < 2 || len(rows[0]) == 0 {
		return nil, ErrTooFewRows
	}
	k := len(rows[0])
	if n < k+1 {
		return nil, ErrTooFewRows
	}
	if err := errors.Join(magnitude.InRange(rows...), magnitude.InRange(y)); err != nil {
		return nil, magnitude.ErrOutOfRange
	}
	means, lengths := make([]float64, k), make([]float64, k)
	yMean := 0.0
	for i, row := range rows {
		yMean += y[i] / float64(n)
		for j, v := range row {
			means[j] += v / float64(n)
		}
	}
	design := mat.NewDense(n, k, nil)
	response := mat.NewVecDense(n, nil)
	for i, row := range rows {
		response.SetVec(i, y[i]-yMean)
		for j, v := range row {
			lengths[j] += (v - means[j]) * (v - means[j])
		}
	}
	for j := range lengths {
		if lengths[j] = math.Sqrt(lengths[j]); lengths[j] == 0 {
			return nil, ErrXNoSpread
		}
	}
	for i, row := range rows {
		for j, v := range row {
			design.Set(i, j, (v-means[j])/lengths[j])
		}
	}
	var qr mat.QR
	qr.Factorize(design)
	if qr.Cond() > 1e12 {
		return nil, ErrCollinear
	}
	var slopes mat.VecDense
	if err := qr.SolveVecTo(&slopes, false, response); err != nil {
		return nil, ErrCollinear
	}
	m := &Multiple{N: n, DF: n - k - 1, RSE: math.NaN(), R2: math.NaN(), AdjustedR2: math.NaN()}
	rss, syy := 0.0, 0.0
	for i := range n {
		e := response.AtVec(i)
		syy += e * e
		for j := range k {
			e -= design.At(i, j) * slopes.AtVec(j)
		}
		rss += e * e
	}
	if m.DF > 0 {
		m.RSE = math.Sqrt(rss / float64(m.DF))
	}
	if syy > 0 {
		m.R2 = 1 - rss/syy
		if m.DF > 0 {
			m.AdjustedR2 = 1 - (1-m.R2)*float64(n-1)/float64(m.DF)
		}
	}
	m.unscale(&qr, &slopes, means, lengths, yMean)
	return m, nil
}

// unscale brings slopes and standard errors back to the columns' own units.
func (m *Multiple) unscale(qr *mat.QR, slopes *mat.VecDense, means, lengths []float64, yMean float64) {
	k := len(means)
	var r mat.Dense
	qr.RTo(&r)
	inverse := mat.NewDense(k, k, nil)
	identity := mat.NewDense(k, k, nil)
	for j := range k {
		identity.Set(j, j, 1)
	}
	_ = inverse.Solve(r.Slice(0, k, 0, k), identity)
	m.Coefficients, m.SE = make([]float64, k+1), make([]float64, k+1)
	m.Coefficients[0] = yMean
	centre := make([]float64, k) // means in scaled units: the intercept stands at minus these
	for j := range k {
		m.Coefficients[j+1] = slopes.AtVec(j) / lengths[j]
		m.Coefficients[0] -= m.Coefficients[j+1] * means[j]
		centre[j] = means[j] / lengths[j]
		variance := 0.0
		for l := range k {
			variance += inverse.At(j, l) * inverse.At(j, l)
		}
		m.SE[j+1] = m.RSE * math.Sqrt(variance) / lengths[j]
	}
	variance := 1 / float64(m.N)
	for l := range k {
		sum := 0.0
		for j := range k {
			sum += centre[j] * inverse.At(j, l)
		}
		variance += sum * sum
	}
	m.SE[0] = m.RSE * math.Sqrt(variance)
}
