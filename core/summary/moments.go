package summary

import (
	"math"

	"copperlark/core/model"
)

// Moments are what lines follow from: how many rows, the means of x and y, the sums of squares and products about
// them, and how far both reach. Of no rows all but N are zero.
type Moments struct {
	N    int64   `json:"n"`
	X    float64 `json:"x,omitempty"` // means
	Y    float64 `json:"y,omitempty"`
	XX   float64 `json:"xx,omitempty"` // sums about the means
	XY   float64 `json:"xy,omitempty"`
	YY   float64 `json:"yy,omitempty"`
	XMin float64 `json:"x_min,omitempty"`
	XMax float64 `json:"x_max,omitempty"`
	YMin float64 `json:"y_min,omitempty"`
	YMax float64 `json:"y_max,omitempty"`
}

// With are the moments of these rows and others together.
//
//	n = n₁ + n₂, δ = x̄₂ - x̄₁, x̄ = x̄₁ + δ n₂/n, Sxy = Sxy₁ + Sxy₂ + δx δy n₁n₂/n
//
// Source: Chan, Golub and LeVeque (1983), Algorithms for computing the sample variance, The American Statistician 37.
func (m Moments) With(o Moments) Moments {
	switch {
	case m.N == 0:
		return o
	case o.N == 0:
		return m
	}
	n := float64(m.N + o.N)
	share := float64(o.N) / n
	dx, dy := o.X-m.X, o.Y-m.Y
	between := float64(m.N) * share
	return Moments{
		N: m.N + o.N, X: m.X + dx*share, Y: m.Y + dy*share,
		XX: m.XX + o.XX + dx*dx*between, XY: m.XY + o.XY + dx*dy*between, YY: m.YY + o.YY + dy*dy*between,
		XMin: min(m.XMin, o.XMin), XMax: max(m.XMax, o.XMax), YMin: min(m.YMin, o.YMin), YMax: max(m.YMax, o.YMax),
	}
}

// Line is the least-squares line of y on x (see model.Line). Its residual sum of squares is Syy - Sxy²/Sxx, of which
// rounding leaves some 1e-12 of Syy: below that the line counts as exact.
func (m Moments) Line() (*model.Line, error) { return model.LineOf(m.sums()) }

func (m Moments) sums() model.Sums {
	return model.Sums{N: float64(m.N), XMean: m.X, YMean: m.Y, Sxx: m.XX, Sxy: m.XY, Syy: m.YY,
		XMin: m.XMin, XMax: m.XMax, YMost: max(math.Abs(m.YMin), math.Abs(m.YMax)), RSS: m.rss()}
}

// Bins are moments as curves are fitted to them: of each of many narrow bins of x.
func Bins(groups []Moments) []model.Sums {
	out := make([]model.Sums, len(groups))
	for i, m := range groups {
		out[i] = m.sums()
	}
	return out
}

// lost is the share of a sum of squares that is nothing but rounding.
const lost = 1e-12

func (m Moments) rss() float64 {
	if !(m.XX > 0) {
		return m.YY
	}
	rest := m.YY - m.XY/m.XX*m.XY
	if rest <= lost*m.YY {
		return 0
	}
	return rest
}

// Correlation is Pearson's r; NaN where x or y has no spread.
func (m Moments) Correlation() float64 {
	if !(m.XX > 0) || !(m.YY > 0) {
		return math.NaN()
	}
	return m.XY / math.Sqrt(m.XX) / math.Sqrt(m.YY)
}
