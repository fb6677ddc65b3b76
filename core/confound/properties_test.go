package confound

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/model"
)

func close(a, b, tolerance float64) bool {
	return math.IsNaN(a) && math.IsNaN(b) || math.Abs(a-b) <= tolerance*max(1, math.Abs(a), math.Abs(b))
}

// TestEqualityDoesNotDependOnUnits holds that neither test changes when x or y is shifted or
// scaled, when groups are named in another order, or when rows come in another one.
func TestEqualityDoesNotDependOnUnits(t *testing.T) {
	for seed := range uint64(25) {
		source := rand.New(rand.NewPCG(seed, 41))
		n, k := 60+source.IntN(60), 2+source.IntN(4)
		x, y, group := make([]float64, n), make([]float64, n), make([]int32, n)
		for i := range n {
			group[i] = int32(i % k)
			x[i] = source.NormFloat64() + float64(group[i])
			y[i] = x[i]*(1+0.3*float64(group[i])) + math.Exp(x[i]/3)*source.NormFloat64()
		}
		plain, err := TestSlopes(context.Background(), x, y, group, k)
		if err != nil {
			t.Fatal(err)
		}
		u, v, other := make([]float64, n), make([]float64, n), make([]int32, n)
		for i, from := range source.Perm(n) {
			u[i], v[i], other[i] = 1e4+0.01*x[from], -5*y[from]-3, int32(k)-1-group[from]
		}
		moved, err := TestSlopes(context.Background(), u, v, other, k)
		if err != nil {
			t.Fatal(err)
		}
		if !close(plain.Straight.F, moved.Straight.F, 1e-6) || !close(plain.Curved.F, moved.Curved.F, 1e-5) ||
			plain.Curved.DF2 != moved.Curved.DF2 {
			t.Errorf("F is %v and %v, in other units %v and %v", plain.Straight.F, plain.Curved.F, moved.Straight.F, moved.Curved.F)
		}
		for g := range k {
			if a, b := plain.Slopes[g], moved.Slopes[k-1-g]; !close(a.Slope, -b.Slope/500, 1e-7) || !close(a.SE, b.SE/500, 1e-7) || a.N != b.N {
				t.Errorf("group %d: %+v and %+v", g, a, b)
			}
		}
	}
}

// TestTwoGroupsDifferAsTheirInteraction holds the test of two straight groups against the
// coefficient of a product, whose t squared it is.
func TestTwoGroupsDifferAsTheirInteraction(t *testing.T) {
	source := rand.New(rand.NewPCG(2, 42))
	n := 90
	x, y, group := make([]float64, n), make([]float64, n), make([]int32, n)
	indicator, product := make([]float64, n), make([]float64, n)
	for i := range n {
		group[i] = int32(i % 2)
		x[i] = source.NormFloat64()
		indicator[i] = float64(group[i])
		product[i] = x[i] * indicator[i]
		y[i] = x[i] + 0.5*product[i] + (1+math.Abs(x[i]))*source.NormFloat64()
	}
	test, err := TestSlopes(context.Background(), x, y, group, 2)
	if err != nil {
		t.Fatal(err)
	}
	columns := model.NewColumns(n)
	columns.Put(indicator)
	columns.Put(x)
	columns.Put(product)
	c := columns.Last(y)
	if ratio := c.Value / c.SEHC3; !close(ratio*ratio, test.Straight.F, 1e-9) || !close(c.PHC3, test.Straight.P, 1e-7) {
		t.Errorf("t² is %v (p %v), F is %v (p %v)", ratio*ratio, c.PHC3, test.Straight.F, test.Straight.P)
	}
}

// TestABoundIsWhatARefitGives builds a hidden column of a known strength and holds the bias
// formula to the regression with it: with q = r2_y and d = r2_x the estimate moves by
// se √df √(q d / (1 − d)).
func TestABoundIsWhatARefitGives(t *testing.T) {
	for seed := range uint64(20) {
		source := rand.New(rand.NewPCG(seed, 43))
		n := 120
		x, y, z, hidden := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
		for i := range n {
			z[i], hidden[i] = source.NormFloat64(), source.NormFloat64()
			x[i] = 0.5*z[i] + 0.6*hidden[i] + source.NormFloat64()
			y[i] = x[i] + 0.4*z[i] + 0.7*hidden[i] + source.NormFloat64()
		}
		short, err := Benchmark(context.Background(), x, y, z, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		columns := model.NewColumns(n)
		columns.Put(z)
		restX, restY, restH := swept(columns, x), swept(columns, y), swept(columns, hidden)
		r2 := func(a, b []float64) float64 { return dot(a, b) * dot(a, b) / dot(a, a) / dot(b, b) }
		d := r2(restX, restH)
		shareY, shareH := dot(restX, restY)/dot(restX, restX), dot(restX, restH)/dot(restX, restX)
		for i := range restX {
			restY[i] -= shareY * restX[i]
			restH[i] -= shareH * restX[i]
		}
		q := r2(restY, restH)
		long, err := Hold(context.Background(), x, y, nil, nil, z, hidden)
		if err != nil {
			t.Fatal(err)
		}
		bias := short.SE * math.Sqrt(float64(short.DF)) * math.Sqrt(q*d/(1-d))
		if !close(math.Abs(short.Estimate-long.Value), bias, 1e-9) {
			t.Errorf("the refit moves the estimate by %v, the formula says %v", math.Abs(short.Estimate-long.Value), bias)
		}
		if se := short.SE * math.Sqrt((1-q)/(1-d)) * math.Sqrt(float64(short.DF)/float64(short.DF-1)); !close(se, long.SE, 1e-9) {
			t.Errorf("its standard error is %v, the formula says %v", long.SE, se)
		}
		// As strong in both as the robustness value says, it brings the estimate to 0.
		rv := short.Value
		if gone := short.SE * math.Sqrt(float64(short.DF)) * math.Sqrt(rv*rv/(1-rv)); !close(gone, math.Abs(short.Estimate), 1e-9) {
			t.Errorf("a column of strength %v takes %v of %v", rv, gone, short.Estimate)
		}
	}
}

// TestRatesTurnWithTheirGroups holds that comparing the other way round turns every sign, and
// that one stratum alone is the crude comparison.
func TestRatesTurnWithTheirGroups(t *testing.T) {
	for seed := range uint64(40) {
		source := rand.New(rand.NewPCG(seed, 44))
		n, levels := 40+source.IntN(100), 1+source.IntN(4)
		yes, x, g := make([]bool, n), make([]int32, n), make([]int32, n)
		for i := range n {
			x[i], g[i] = int32(i%2), int32(source.IntN(levels))
			yes[i] = source.Float64() < 0.3+0.2*float64(x[i])
		}
		one, err := CompareRates(yes, x, 2, g, levels, 1, 0)
		if err != nil {
			t.Fatal(err)
		}
		other, err := CompareRates(yes, x, 2, g, levels, 0, 1)
		if err != nil {
			t.Fatal(err)
		}
		if !close(one.Difference.Value, -other.Difference.Value, 1e-12) || !close(one.Difference.Interval.Low, -other.Difference.Interval.High,
			1e-12) || !close(one.Ratio.Value*other.Ratio.Value, 1, 1e-12) {
			t.Errorf("%+v the one way, %+v the other", one.Difference, other.Difference)
		}
		if a, b := one.Common, other.Common; a != nil && (!close(a.Difference.Value, -b.Difference.Value, 1e-12) ||
			!close(a.Difference.SE, b.Difference.SE, 1e-9) || !close(a.Odds.Value*b.Odds.Value, 1, 1e-9)) {
			t.Errorf("%+v the one way, %+v the other", a, b)
		}
		single, err := CompareRates(yes, x, 2, make([]int32, n), 1, 1, 0)
		if err != nil {
			t.Fatal(err)
		}
		if !close(single.Common.Difference.Value, single.Difference.Value, 1e-12) ||
			!close(single.Common.Ratio.Value, single.Ratio.Value, 1e-12) || !close(single.Standard.Difference.Value, single.Difference.Value,
			1e-12) {
			t.Errorf("one stratum: %+v, over all rows %+v", single.Common, single.Difference)
		}
	}
}
