package model

import (
	"context"
	"math"
	"slices"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
)

// Carried are the rows that move a slope most, and the slope without them.
type Carried struct {
	Rows  []int // places of the pairs, the one that moves it most first
	Slope float64
}

// Carriers gives, for one up to so many rows, those with the largest |DFBETA|,
//
//	b − b₍ᵢ₎ = (x − x̄) e / (Sxx (1 − h)),
//
// and the slope without all of them at once. There are none where the rest has no spread of
// x. Source: Belsley, Kuh and Welsch 1980, Regression Diagnostics, section 2.1.
func Carriers(l *Line, x, y []float64, most int) (list []Carried) {
	type mover struct {
		row  int
		move float64
	}
	var top []mover
	for i := range x {
		d := x[i] - l.XMean
		h := 1/float64(l.N) + d*d/l.Sxx
		if 1-h < 1e-12 {
			continue
		}
		move := math.Abs(d * (y[i] - l.At(x[i])) / (l.Sxx * (1 - h)))
		if !(move > 0) || len(top) == most && move <= top[most-1].move {
			continue
		}
		at, _ := slices.BinarySearchFunc(top, move, func(m mover, move float64) int {
			if m.move > move {
				return -1
			}
			return 1
		})
		if top = slices.Insert(top, at, mover{i, move}); len(top) > most {
			top = top[:most]
		}
	}
	n, sx, sy, sxx, sxy := float64(l.N), 0.0, 0.0, l.Sxx, l.Sxy // about the means of all rows
	var rows []int
	for _, m := range top {
		dx, dy := x[m.row]-l.XMean, y[m.row]-l.YMean
		n, sx, sy, sxx, sxy = n-1, sx-dx, sy-dy, sxx-dx*dx, sxy-dx*dy
		spread := sxx - sx*sx/n
		if !(n > 1) || !(spread > 1e-9*l.Sxx) {
			break
		}
		rows = append(rows, m.row)
		list = append(list, Carried{slices.Clone(rows), (sxy - sx*sy/n) / spread})
	}
	return list
}

// Bends tests whether y follows a curve of x rather than a line: of x² in y ~ x + x² and of
// x³ in y ~ x + x² + x³, each by HC3, whatever the spread. P is twice the smaller p value, at
// most 1; Gain the share of the line's residual sum of squares that the curve takes away. P is
// NaN where there is no such curve.
func Bends(ctx context.Context, l *Line, x, y []float64) (p, gain float64) {
	p, gain = math.NaN(), math.NaN()
	if l.N < 8 || !(l.RSS > 0) || magnitude.InRange(x, y) != nil {
		return p, gain
	}
	u := make([]float64, len(x))
	unit := math.Sqrt(l.Sxx / float64(l.N))
	for i, v := range x {
		u[i] = (v - l.XMean) / unit
	}
	columns := NewColumns(len(x))
	columns.Put(u)
	for k := 2; k <= 3; k++ {
		power := make([]float64, len(u))
		for i, v := range u {
			power[i] = math.Pow(v, float64(k))
		}
		if !columns.Put(power) || ctx.Err() != nil {
			break
		}
		if one := columns.Last(y).PHC3; !math.IsNaN(one) && !(p <= 2*one) {
			p = min(2*one, 1)
		}
	}
	rest := slices.Clone(y)
	columns.Sweep(rest)
	rss := 0.0
	for _, v := range rest {
		rss += v * v
	}
	return p, max(0, 1-rss/l.RSS)
}

// Differ compares the means of two samples without NaN (Welch 1947, Biometrika 34): a − b, its
// 95 % interval, and p. NaN where one has fewer than two values or neither has a spread.
func Differ(a, b []float64) (difference float64, interval Interval, p float64) {
	nan := math.NaN()
	interval = Interval{nan, nan}
	if len(a) < 2 || len(b) < 2 || magnitude.InRange(a, b) != nil {
		return nan, interval, nan
	}
	moments := func(values []float64) (mean, variance float64) { // of the mean
		for _, v := range values {
			mean += v / float64(len(values))
		}
		for _, v := range values {
			variance += (v - mean) * (v - mean)
		}
		return mean, variance / float64(len(values)-1) / float64(len(values))
	}
	ma, va := moments(a)
	mb, vb := moments(b)
	difference = ma - mb
	se := math.Sqrt(va + vb)
	if !(se > 0) {
		return difference, interval, nan
	}
	df := (va + vb) * (va + vb) / (va*va/float64(len(a)-1) + vb*vb/float64(len(b)-1))
	half := distribution.StudentQuantile(0.025, df) * se
	return difference, Interval{difference - half, difference + half}, distribution.StudentTwoSided(difference/se, df)
}
