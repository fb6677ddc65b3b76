package model

import (
	"math"

	"copperlark/core/magnitude"
)

// PolynomialOf is FitPolynomial of the sums of bins of x. The rows of a bin are taken as two points with the same means
// and the same sums of squares and products, x̄ ± √(Sxx/n), and what these leave of Syy as noise about them: where a bin
// is narrow, the polynomial is that of the rows, but for the third moments within bins (measured: 1e-8 of the span of
// y, with 1,200 bins).
func PolynomialOf(bins []Sums, degree int) (*Polynomial, error) {
	p := &Polynomial{Degree: degree, XMin: math.Inf(1), XMax: math.Inf(-1)}
	var x, y, heavy []float64
	noise, largest, rows := 0.0, 0.0, 0.0
	for _, b := range bins {
		if b.N == 0 {
			continue
		}
		rows += b.N
		p.XMin, p.XMax, largest = min(p.XMin, b.XMin), max(p.XMax, b.XMax), max(largest, b.YMost)
		if !(b.Sxx > 0) {
			x, y, heavy, noise = append(x, b.XMean), append(y, b.YMean), append(heavy, math.Sqrt(b.N)), noise+b.Syy
			continue
		}
		apart, slope, half := math.Sqrt(b.Sxx/b.N), b.Sxy/b.Sxx, math.Sqrt(b.N/2)
		x, y = append(x, b.XMean-apart, b.XMean+apart), append(y, b.YMean-slope*apart, b.YMean+slope*apart)
		heavy, noise = append(heavy, half, half), noise+max(0, b.Syy-slope*b.Sxy)
	}
	if !distinctAtLeast(x, degree+1) {
		return nil, ErrTooFewDistinct
	}
	if !magnitude.Within(max(math.Abs(p.XMin), math.Abs(p.XMax))) || !magnitude.Within(largest) {
		return nil, magnitude.ErrOutOfRange
	}
	p.N, p.DF = int(rows), int(rows)-degree-1
	p.centre, p.scale = p.XMin+(p.XMax-p.XMin)/2, (p.XMax-p.XMin)/2
	u := make([]float64, len(x))
	for i, v := range x {
		u[i] = (v - p.centre) / p.scale
	}
	p.orthogonal(u, y, heavy)
	mean := 0.0
	for i, h := range heavy {
		mean += h * h / rows * y[i]
	}
	p.RSS, p.Syy = noise, noise
	for i, h := range heavy {
		e, d := y[i]-p.At(x[i]), y[i]-mean
		p.RSS, p.Syy = p.RSS+h*h*e*e, p.Syy+h*h*d*d
	}
	p.settle(largest)
	return p, nil
}
