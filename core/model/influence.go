package model

import (
	"context"
	"math"
)

// Influence tells how far each row carries a line.
//
//	leverage h = 1/n + (x - x̄)²/Sxx, residual e = y - ŷ,
//	standardised r = e/(s√(1-h)), studentised t = e/(s₍ᵢ₎√(1-h)) with
//	s₍ᵢ₎² = (RSS - e²/(1-h))/(n-3), Cook's D = r² h/(2(1-h)).
//
// Sources: Cook 1977, Technometrics 19; Belsley, Kuh and Welsch 1980, Regression
// Diagnostics. NaN stands where a quantity is not defined: r, t and D of a row
// with h = 1 or on an exact line, and t for n ≤ 3 or s₍ᵢ₎ = 0.
type Influence struct {
	Leverage, Residual, Standardised, Studentised, CooksD []float64
}

// InfluenceOn computes the influence of each of the pairs that a line was fitted
// to.
func InfluenceOn(l *Line, x, y []float64) *Influence {
	n := len(x)
	in := &Influence{Leverage: make([]float64, n), Residual: make([]float64, n), Standardised: make([]float64, n),
		Studentised: make([]float64, n), CooksD: make([]float64, n)}
	for i := range x {
		d := x[i] - l.XMean
		h := 1/float64(n) + d*d/l.Sxx
		e := y[i] - l.At(x[i])
		in.Leverage[i], in.Residual[i] = h, e
		in.Standardised[i], in.Studentised[i], in.CooksD[i] = math.NaN(), math.NaN(), math.NaN()
		if 1-h < 1e-12 || l.DF < 1 || l.RSE == 0 {
			continue
		}
		in.Standardised[i] = e / (l.RSE * math.Sqrt(1-h))
		in.CooksD[i] = in.Standardised[i] * in.Standardised[i] * h / (2 * (1 - h))
		if n <= 3 {
			continue
		}
		without := l.RSS - e*e/(1-h)
		if without <= 1e-13*l.RSS { // the other rows stand on a line exactly
			continue
		}
		in.Studentised[i] = e / math.Sqrt(without/float64(n-3)*(1-h))
	}
	return in
}

// Outliers lists the rows with |studentised residual| > 3 or Cook's D > 4/n.
func (in *Influence) Outliers() []int {
	var rows []int
	limit := 4 / float64(len(in.Residual))
	for i := range in.Residual {
		if math.Abs(in.Studentised[i]) > 3 || in.CooksD[i] > limit {
			rows = append(rows, i)
		}
	}
	return rows
}

// FitLineWithoutOutliers fits a line, leaves out the outliers that it shows, and
// fits again. It gives both lines and the rows left out.
func FitLineWithoutOutliers(ctx context.Context, x, y []float64) (all, without *Line, left []int, err error) {
	all, err = FitLine(ctx, x, y)
	if err != nil {
		return nil, nil, nil, err
	}
	left = InfluenceOn(all, x, y).Outliers()
	without, err = FitLineLeaving(ctx, x, y, left)
	return all, without, left, err
}

// FitLineLeaving fits a line to all pairs but those at the places of left, which ascend.
func FitLineLeaving(ctx context.Context, x, y []float64, left []int) (*Line, error) {
	keptX, keptY := make([]float64, 0, len(x)), make([]float64, 0, len(x))
	next := 0
	for i := range x {
		if next < len(left) && left[next] == i {
			next++
			continue
		}
		keptX, keptY = append(keptX, x[i]), append(keptY, y[i])
	}
	return FitLine(ctx, keptX, keptY)
}
