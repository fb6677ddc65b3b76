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

	Interval Interval // of that slope, 95 %
	// Chance is how probable it is that some row moves a slope as much as the least of these does, where the
	// residuals are normal: Σ P(|t| > d/w) over all rows, of externally studentised residuals t, with
	// w² = (x − x̄)²/(Sxx (1 − h)) and d = |DFBETAS|; of several rows, each beside the others left out.
	Chance float64
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
		list = append(
			list,
			Carried{
				Rows:     slices.Clone(rows),
				Slope:    (sxy - sx*sy/n) / spread,
				Interval: Interval{math.NaN(), math.NaN()},
				Chance:   math.NaN(),
			},
		)
	}
	return list
}

// Weigh tells how sure the slope without these rows is, and how probable their moves are by chance, of the same line
// and rows: Interval and Chance, which are NaN before, and where fewer than three rows stay.
func (c *Carried) Weigh(l *Line, x, y []float64) {
	var n, mx, my float64
	gone := func(i int) bool { return slices.Contains(c.Rows, i) }
	for i := range x {
		if !gone(i) {
			n, mx, my = n+1, mx+x[i], my+y[i]
		}
	}
	mx, my = mx/n, my/n
	sxx, rss := 0.0, 0.0
	for i := range x {
		if !gone(i) {
			dx := x[i] - mx
			e := y[i] - my - c.Slope*dx
			sxx, rss = sxx+dx*dx, rss+e*e
		}
	}
	df := n - 2
	c.Chance, c.Interval = math.NaN(), Interval{math.NaN(), math.NaN()}
	if !(df >= 1) || !(sxx > 0) {
		return
	}
	s := math.Sqrt(rss / df)
	half := distribution.StudentQuantile(0.025, df) * s / math.Sqrt(sxx)
	c.Interval, c.Chance = Interval{c.Slope - half, c.Slope + half}, 0
	for _, row := range c.Rows { // each put back beside the rest
		dx := x[row] - mx
		all, d := sxx+n/(n+1)*dx*dx, n/(n+1)*dx // about the mean with this row
		h := 1/(n+1) + d*d/all
		t := (y[row] - my - c.Slope*dx) * math.Sqrt(1-h) / s // studentised by the rows that stay
		move := math.Abs(t * d / math.Sqrt(all*(1-h)))
		if !(s > 0) {
			continue // the rest lies on a line: no chance at all
		}
		chance := 0.0
		for i := range x {
			d := x[i] - l.XMean
			w := math.Abs(d) / math.Sqrt(l.Sxx*(1-min(1/float64(l.N)+d*d/l.Sxx, 1-1e-12)))
			if w > 0 {
				if chance += twoSided(move/w, df); chance >= 1 {
					break
				}
			}
		}
		c.Chance = max(c.Chance, min(chance, 1))
	}
}

// manyRows is from how many degrees of freedom on Student's distribution is taken for the normal one, of which a
// million values are known in milliseconds.
const manyRows = 1000

func twoSided(t, df float64) float64 {
	if df > manyRows {
		return 2 * distribution.NormalSurvival(t)
	}
	return distribution.StudentTwoSided(t, df)
}

// Bends tests whether y follows a curve of x rather than a line: of x² in y ~ x + x² and of
// x³ in y ~ x + x² + x³, each by HC3, whatever the spread. P is twice the smaller p value, at
// most 1; Gain the share of the line's residual sum of squares that the curve takes away. P is
// NaN where there is no such curve.
func Bends(ctx context.Context, l *Line, x, y []float64) (p, gain float64) {
	p, gain = math.NaN(), math.NaN()
	if l.N < fewestBent || !(l.RSS > 0) || magnitude.InRange(x, y) != nil {
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
	if rss <= exactBend*l.RSS { // a curve goes through all of them: there is no chance left
		return 0, 1
	}
	if l.N < fewestTested {
		return math.NaN(), max(0, 1-rss/l.RSS)
	}
	return p, max(0, 1-rss/l.RSS)
}

// From how many rows on a bend is seen at all, where a curve goes through them, and tested; and what share of the
// line's residuals a curve may leave that goes through all rows.
const (
	fewestBent, fewestTested = 5, 8
	exactBend                = 1e-18
)

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
