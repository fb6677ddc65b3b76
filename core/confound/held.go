package confound

import (
	"context"
	"math"

	"copperlark/core/describe"
	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/model"
)

// The errors of models with several columns.
const (
	fewRows       = Error("fewer than 3 complete rows")
	noSpreadX     = Error("x has no spread")
	noSpreadZ     = Error("z has no spread")
	collinearXZ   = Error("x and z are collinear")
	collinearX    = Error("x is collinear with the other columns")
	collinearMany = Error("the columns are collinear")
)

func spread(values []float64) bool {
	for _, v := range values {
		if v != values[0] {
			return true
		}
	}
	return false
}

// standardised centres values and divides by their spread, so that powers can be taken.
func standardised(values []float64) []float64 {
	s := describe.Summarise(values)
	out := make([]float64, len(values))
	for i, v := range values {
		out[i] = (v - s.Mean) / s.SD
	}
	return out
}

func power(values []float64, k int) []float64 {
	out := make([]float64, len(values))
	for i, v := range values {
		out[i] = v
		for range k - 1 {
			out[i] *= v
		}
	}
	return out
}

// distinct counts different values, up to a number.
func distinct(values []float64, most int) int {
	seen := map[float64]bool{}
	for _, v := range values {
		if seen[v] = true; len(seen) >= most {
			break
		}
	}
	return len(seen)
}

// Bent is the slope of y on x as it is, with a number z held fixed, and with z held fixed
// along a curve (topic 18): y ~ x + z + z² + z³, with as many powers as z has values for.
type Bent struct {
	N                    int
	Crude, Linear, Curve model.Coefficient
	Powers               int
	NoCurve              bool // x is a curve of z

	crude, linear, curve *model.Columns
}

// Bend computes it. No value may be missing.
func Bend(ctx context.Context, x, y, z []float64) (*Bent, error) {
	n := len(x)
	switch {
	case n < 3:
		return nil, fewRows
	case !spread(x):
		return nil, noSpreadX
	case !spread(z):
		return nil, noSpreadZ
	}
	if err := magnitude.InRange(x, y, z); err != nil {
		return nil, err
	}
	out := &Bent{N: n}
	crude := model.NewColumns(n)
	crude.Put(x)
	out.Crude, out.crude = crude.Last(y), crude
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	u := standardised(z)
	linear := model.NewColumns(n)
	linear.Put(u)
	if !linear.Put(x) {
		return nil, collinearXZ
	}
	out.Linear, out.linear = linear.Last(y), linear
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	out.Powers = min(3, distinct(z, 4)-1)
	curve := model.NewColumns(n)
	for k := 1; k <= out.Powers; k++ {
		curve.Put(power(u, k))
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
	}
	if out.NoCurve = !curve.Put(x); !out.NoCurve {
		out.Curve, out.curve = curve.Last(y), curve
	}
	return out, nil
}

// Hold gives the coefficient of x in y ~ x + the other columns: codes of groups, each with
// how many there are, and numbers (topic 18, joint). Columns that depend on others are left
// out, which does not change the slope of x.
func Hold(ctx context.Context, x, y []float64, groups [][]int32, sizes []int, numbers ...[]float64) (model.Coefficient, error) {
	columns, err := holding(ctx, x, y, groups, sizes, numbers)
	if err != nil {
		return model.Coefficient{}, err
	}
	return columns.Last(y), nil
}

// holding are the columns of Hold, x the last of them.
func holding(ctx context.Context, x, y []float64, groups [][]int32, sizes []int, numbers [][]float64) (*model.Columns, error) {
	switch {
	case len(x) < 3:
		return nil, fewRows
	case !spread(x):
		return nil, noSpreadX
	}
	if err := magnitude.InRange(append([][]float64{x, y}, numbers...)...); err != nil {
		return nil, err
	}
	columns := model.NewColumns(len(x))
	for j, codes := range groups {
		for level := 1; level < sizes[j]; level++ {
			indicator := make([]float64, len(x))
			for i, code := range codes {
				if int(code) == level {
					indicator[i] = 1
				}
			}
			columns.Put(indicator)
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
		}
	}
	for _, z := range numbers {
		columns.Put(z)
	}
	if !columns.Put(x) {
		return nil, collinearX
	}
	return columns, nil
}

// Moderated is y = b0 + b1 x + b2 z + b3 xz, x and z about their means, with HC3 standard
// errors (topic 17; Aiken and West 1991): the slope of x changes with z where b3 is not 0.
type Moderated struct {
	N, DF         int
	X, Z, Product model.Coefficient // P of the product alone
	T             float64           // of the product
	At            [3]MovedSlope     // at the quartiles of z
}

// MovedSlope is the slope of x at a value of z, with its interval.
type MovedSlope struct {
	Z, Slope, SE float64
	Interval     model.Interval
}

// Moderate computes it. No value may be missing.
func Moderate(ctx context.Context, x, y, z []float64) (*Moderated, error) {
	n := len(x)
	switch {
	case n < 5:
		return nil, Error("fewer than 5 complete rows")
	case !spread(x):
		return nil, noSpreadX
	case !spread(z):
		return nil, noSpreadZ
	}
	if err := magnitude.InRange(x, y, z); err != nil {
		return nil, err
	}
	meanX, meanZ := describe.Summarise(x).Mean, describe.Summarise(z).Mean
	xc, zc, product := make([]float64, n), make([]float64, n), make([]float64, n)
	for i := range x {
		xc[i], zc[i] = x[i]-meanX, z[i]-meanZ
		product[i] = xc[i] * zc[i]
	}
	columns := model.NewColumns(n)
	if !columns.Put(xc) || !columns.Put(zc) || !columns.Put(product) {
		return nil, collinearMany
	}
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	b, v, fit := columns.Coefficients(y)
	out := &Moderated{N: n, DF: n - 4}
	df := float64(out.DF)
	one := func(j int) model.Coefficient {
		return model.Coefficient{Value: b[j], SEHC3: math.Sqrt(v[j][j]), PHC3: math.NaN(), DF: out.DF}
	}
	out.X, out.Z, out.Product, out.T = one(1), one(2), one(3), math.NaN()
	if !fit.Exact && !fit.Leverage {
		out.T = out.Product.Value / out.Product.SEHC3
		out.Product.PHC3 = distribution.StudentTwoSided(out.T, df)
	}
	quantile := distribution.StudentQuantile(0.025, df)
	for i, at := range describe.Quantiles(append([]float64(nil), z...), 0.25, 0.5, 0.75) {
		d := at - meanZ
		slope := b[1] + b[3]*d
		se := math.Sqrt(max(v[1][1]+2*d*v[1][3]+d*d*v[3][3], 0))
		if fit.Leverage {
			se = math.NaN()
		}
		out.At[i] = MovedSlope{at, slope, se, model.Interval{Low: slope - quantile*se, High: slope + quantile*se}}
	}
	return out, nil
}
