package confound

import (
	"context"
	"math"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/model"
)

// Robustness says how strong a column that nobody recorded would have to be to explain a
// slope away (Cinelli and Hazlett 2020, JRSS B 82:39): Value is the partial R² that it would
// need both with x and with y to bring the estimate to 0, AtLevel to the edge of significance
// at a level; Case tells which of three forms the latter has. T is the estimate over its
// standard error, PartialR2 the partial R² of x with y.
type Robustness struct {
	T, PartialR2, Value, AtLevel float64
	Case                         int // 0: not defined
}

// Robust computes it from an estimate, its standard error and the residual degrees of
// freedom.
func Robust(estimate, se, df, alpha float64) (Robustness, error) {
	switch {
	case !(se > 0):
		return Robustness{}, Error("se must be positive")
	case !(df >= 1):
		return Robustness{}, Error("df must be at least 1")
	}
	t := estimate / se
	f := math.Abs(t) / math.Sqrt(df)
	r := Robustness{T: t, PartialR2: t * t / (t*t + df), Value: strength(f), AtLevel: math.NaN()}
	if df <= 1 {
		return r, nil
	}
	edge := distribution.StudentQuantile(alpha/2, df-1) / math.Sqrt(df-1)
	above := f - edge
	switch {
	case above <= 0:
		r.AtLevel, r.Case = 0, 1
	case f <= 1/edge:
		r.AtLevel, r.Case = strength(above), 2
	default:
		r.AtLevel, r.Case = (f*f-edge*edge)/(1+f*f), 3
	}
	return r, nil
}

// strength is (√(f⁴ + 4f²) − f²)/2, written so that no digits are lost.
func strength(f float64) float64 {
	if f == 0 {
		return 0
	}
	return 2 / (1 + math.Sqrt(1+4/(f*f)))
}

// Bound is what a hidden column K times as strong as one that is there would leave of a
// slope. NaN where no such column can exist.
type Bound struct {
	K, R2X, R2Y, Estimate, SE float64
	Interval                  model.Interval
	Capped                    bool
	Exists                    bool
}

// Bounded is a slope with z and other columns held fixed, and what hidden columns as strong
// as z would leave of it (topic 19).
type Bounded struct {
	N, DF        int
	Estimate, SE float64
	Robustness
	R2XZ, R2YZ float64 // partial R² of z with x, and with y
	Bounds     []Bound
}

// Benchmark computes it. No value may be missing.
func Benchmark(ctx context.Context, x, y, z []float64, others [][]float64, strengths []float64) (*Bounded, error) {
	n := len(x)
	switch {
	case n < 4:
		return nil, Error("fewer than 4 complete rows")
	case !spread(x):
		return nil, noSpreadX
	case !spread(z):
		return nil, noSpreadZ
	}
	if err := magnitude.InRange(append([][]float64{x, y, z}, others...)...); err != nil {
		return nil, err
	}
	held := model.NewColumns(n)
	for _, other := range others {
		if !held.Put(other) {
			return nil, collinearMany
		}
	}
	restX, restY, restZ := swept(held, x), swept(held, y), swept(held, z)
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	full := model.NewColumns(n)
	for _, other := range others {
		full.Put(other)
	}
	if !full.Put(z) || !full.Put(x) {
		return nil, collinearMany
	}
	df := n - 3 - len(others)
	if df < 1 {
		return nil, Error("too few rows")
	}
	c := full.Last(y)
	if c.Exact {
		return nil, Error("exact fit")
	}
	r, err := Robust(c.Value, c.SE, float64(df), 0.05)
	if err != nil {
		return nil, err
	}
	out := &Bounded{N: n, DF: df, Estimate: c.Value, SE: c.SE, Robustness: r}
	xz := dot(restX, restZ)
	out.R2XZ = xz * xz / dot(restX, restX) / dot(restZ, restZ)
	// z and y with x swept out as well
	shareZ, shareY := xz/dot(restX, restX), dot(restX, restY)/dot(restX, restX)
	for i := range restX {
		restZ[i] -= shareZ * restX[i]
		restY[i] -= shareY * restX[i]
	}
	yz := dot(restY, restZ)
	out.R2YZ = yz * yz / dot(restY, restY) / dot(restZ, restZ)
	for _, k := range strengths {
		out.Bounds = append(out.Bounds, out.bound(k))
	}
	return out, nil
}

// swept is what columns leave of values.
func swept(columns *model.Columns, values []float64) []float64 {
	out := append([]float64(nil), values...)
	columns.Sweep(out)
	return out
}

// bound is section 4.4 of the paper.
func (b *Bounded) bound(k float64) Bound {
	nan := math.NaN()
	none := Bound{K: k, R2X: nan, R2Y: nan, Estimate: nan, SE: nan, Interval: model.Interval{Low: nan, High: nan}}
	df := float64(b.DF)
	r2x := k * b.R2XZ / (1 - b.R2XZ)
	c := k * b.R2XZ * b.R2XZ / ((1 - k*b.R2XZ) * (1 - b.R2XZ))
	if r2x >= 1 || k*b.R2XZ >= 1 || c >= 1 {
		return none
	}
	eta := (math.Sqrt(k) + math.Sqrt(c)) / math.Sqrt(1-c)
	out := Bound{K: k, R2X: r2x, R2Y: eta * eta * b.R2YZ / (1 - b.R2YZ), Exists: true}
	if out.R2Y >= 1 {
		out.R2Y, out.Capped = 1, true
	}
	bias := b.SE * math.Sqrt(df) * math.Sqrt(out.R2Y*out.R2X/(1-out.R2X))
	out.Estimate = math.Copysign(1, b.Estimate) * (math.Abs(b.Estimate) - bias)
	out.SE = nan
	half := nan
	if b.DF > 1 {
		out.SE = b.SE * math.Sqrt((1-out.R2Y)/(1-out.R2X)) * math.Sqrt(df/(df-1))
		half = distribution.StudentQuantile(0.025, df-1) * out.SE
	}
	out.Interval = model.Interval{Low: out.Estimate - half, High: out.Estimate + half}
	return out
}

// EValue is how strong a hidden cause would have to be, as a risk ratio with both columns,
// to explain a risk ratio away, and its interval up to 1 (VanderWeele and Ding 2017, Annals
// of Internal Medicine 167:268). low and high are NaN where there is no interval.
func EValue(ratio, low, high float64) (value, limit float64, err error) {
	none := math.IsNaN(low) && math.IsNaN(high)
	switch {
	case !(ratio > 0):
		return 0, 0, Error("the risk ratio must be positive")
	case !none && !(low <= ratio && high >= ratio):
		return 0, 0, Error("the interval does not hold the estimate")
	}
	of := func(r float64) float64 {
		if r <= 1 {
			return 1
		}
		return r + math.Sqrt(r*(r-1))
	}
	if ratio < 1 {
		ratio, low = 1/ratio, 1/high // the end that is nearer to 1
	}
	value, limit = of(ratio), math.NaN()
	if !none {
		limit = of(low)
	}
	return value, limit, nil
}
