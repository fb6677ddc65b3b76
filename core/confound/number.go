package confound

import (
	"context"
	"math"

	"copperlark/core/distribution"
	"copperlark/core/model"
)

// Adjusted compares the slope of x over all rows with its slope at a fixed value
// of a third number z: the coefficient of x in y ~ x + z. PartialR is the
// correlation of x and y with z held fixed, NaN where z decides y or y has no
// spread.
type Adjusted struct {
	N        int
	Pooled   *model.Line
	Slope    Slope
	PartialR float64

	WithX, WithY float64 // correlations of z with x and with y; NaN where y has no spread
}

// correlation is r of the two that a line was fitted to.
func correlation(l *model.Line) float64 {
	return min(max(l.Sxy/(math.Sqrt(l.Sxx)*math.Sqrt(l.Syy)), -1), 1)
}

// Adjust works on complete triples in drawn space.
func Adjust(ctx context.Context, x, y, z []float64) (*Adjusted, error) {
	pooled, err := model.FitLine(ctx, x, y)
	if err != nil {
		return nil, err
	}
	xOnZ, err := model.FitLine(ctx, z, x)
	if err == model.ErrXNoSpread {
		return nil, ErrZNoSpread
	}
	if err != nil {
		return nil, err
	}
	if 1-math.Abs(xOnZ.Sxy)/(math.Sqrt(xOnZ.Sxx)*math.Sqrt(xOnZ.Syy)) < 1e-14 {
		return nil, ErrCollinear
	}
	yOnZ, err := model.FitLine(ctx, z, y)
	if err != nil {
		return nil, err
	}
	// The slope between what z leaves of x and what it leaves of y (Frisch and
	// Waugh 1933, Econometrica 1).
	sxx, sxy := 0.0, 0.0
	for i := range x {
		dx := x[i] - xOnZ.At(z[i])
		sxx += dx * dx
		sxy += dx * (y[i] - yOnZ.At(z[i]))
	}
	a := &Adjusted{
		N:        len(x),
		Pooled:   pooled,
		WithX:    correlation(xOnZ),
		WithY:    correlation(yOnZ),
		PartialR: math.NaN(),
		Slope:    Slope{Slope: sxy / sxx, SE: math.NaN(), P: math.NaN(), DF: len(x) - 3},
	}
	rss, syy := 0.0, 0.0
	for i := range x {
		dy := y[i] - yOnZ.At(z[i])
		e := dy - a.Slope.Slope*(x[i]-xOnZ.At(z[i]))
		rss += e * e
		syy += dy * dy
	}
	a.Slope.test(rss, sxx)
	if yOnZ.RSS > 0 && pooled.Syy > 0 {
		a.PartialR = min(max(sxy/(math.Sqrt(sxx)*math.Sqrt(syy)), -1), 1)
	}
	return a, nil
}

// test gives a slope its standard error and p, by what it leaves of y and the spread of x that it rests on.
func (s *Slope) test(rss, sxx float64) {
	if s.DF < 1 {
		return
	}
	s.SE, s.P = math.Sqrt(rss/float64(s.DF)/sxx), 0
	if s.SE > 0 {
		s.P = distribution.StudentTwoSided(s.Slope/s.SE, float64(s.DF))
	}
}

// SignReverses reports whether both slopes are other than zero and of opposite
// sign.
func (a *Adjusted) SignReverses() bool { return a.Pooled.Slope*a.Slope.Slope < 0 }

// TakeOutGroups moves each row to where it would stand if the groups had equal
// means: x - mean_g(x) + mean(x), y - mean_g(y) + mean(y). The pooled line through
// these points has the common within-group slope.
func TakeOutGroups(x, y []float64, group []int32, groups int) (tx, ty []float64) {
	n := make([]float64, groups)
	mx, my := make([]float64, groups), make([]float64, groups)
	allX, allY := 0.0, 0.0
	for i, g := range group {
		n[g]++
		mx[g] += x[i]
		my[g] += y[i]
		allX += x[i]
		allY += y[i]
	}
	for g := range n {
		if n[g] > 0 {
			mx[g] /= n[g]
			my[g] /= n[g]
		}
	}
	allX /= float64(len(x))
	allY /= float64(len(y))
	tx, ty = make([]float64, len(x)), make([]float64, len(y))
	for i, g := range group {
		tx[i], ty[i] = x[i]-mx[g]+allX, y[i]-my[g]+allY
	}
	return tx, ty
}

// TakeOutNumber leaves of x and of y what z does not account for in a straight
// line, about their means.
func TakeOutNumber(ctx context.Context, x, y, z []float64) (tx, ty []float64, err error) {
	left := func(of []float64) ([]float64, error) {
		line, err := model.FitLine(ctx, z, of)
		if err != nil {
			return nil, err
		}
		out := make([]float64, len(of))
		for i, v := range of {
			out[i] = v - line.At(z[i]) + line.YMean
		}
		return out, nil
	}
	if tx, err = left(x); err != nil {
		return nil, nil, err
	}
	ty, err = left(y)
	return tx, ty, err
}

// Level is a group of x with its mean of y over all its rows, and the mean that it
// would have with the overall mix of g: Σ_g share_g mean(y | x, g), over those g
// in which every group of x has rows (direct standardisation; Fleiss, Levin and
// Paik, Statistical Methods for Rates and Proportions, 3rd ed., chapter 19).
type Level struct {
	N            int
	Mean         float64
	Standardised float64 // NaN where no level of g is shared by all groups of x
}

// Standardise compares the groups of a category x on y, overall and with the mix
// of g made equal. shared is the share of rows in the levels of g that could be
// used.
func Standardise(x []int32, groupsX int, y []float64, g []int32, groupsG int) (levels []Level, shared float64) {
	count, sum := make([]float64, groupsX*groupsG), make([]float64, groupsX*groupsG)
	for i, v := range y {
		cell := int(x[i])*groupsG + int(g[i])
		count[cell]++
		sum[cell] += v
	}
	used, weight := 0.0, make([]float64, groupsG)
	for level := range groupsG {
		everywhere, rows := true, 0.0
		for a := range groupsX {
			c := count[a*groupsG+level]
			rows += c
			everywhere = everywhere && c > 0
		}
		if everywhere {
			weight[level] = rows
			used += rows
		}
	}
	levels = make([]Level, groupsX)
	for a := range levels {
		total, n, standard := 0.0, 0.0, math.NaN()
		if used > 0 {
			standard = 0
		}
		for level := range groupsG {
			cell := a*groupsG + level
			total += sum[cell]
			n += count[cell]
			if weight[level] > 0 {
				standard += weight[level] / used * sum[cell] / count[cell]
			}
		}
		levels[a] = Level{int(n), total / n, standard}
	}
	return levels, used / float64(len(y))
}
