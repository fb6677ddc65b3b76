package model

import (
	"math"
	"math/rand/v2"
	"testing"
)

// TestColumnsAgainstTheNormalEquations holds the orthonormal way against FitMultiple, which
// solves by reflections, on columns of very different size, and HC3 against its definition.
func TestColumnsAgainstTheNormalEquations(t *testing.T) {
	for seed := range uint64(25) {
		source := rand.New(rand.NewPCG(seed, 2))
		n := 12 + source.IntN(80)
		a, b, x, y := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
		rows := make([][]float64, n)
		for i := range n {
			a[i], b[i] = 1e6*source.NormFloat64()+1e8, 1e-4*source.NormFloat64()
			x[i] = a[i]/1e6 + 2*source.NormFloat64()
			y[i] = 3*x[i] - a[i]/1e5 + 2e4*b[i] + (1+math.Abs(x[i])/50)*source.NormFloat64()
			rows[i] = []float64{a[i], b[i], x[i]}
		}
		columns := NewColumns(n)
		if !columns.Put(a) || !columns.Put(b) || !columns.Put(x) || columns.Rank() != 4 {
			t.Fatal("independent columns are taken for dependent ones")
		}
		slow, err := FitMultiple(rows, y)
		if err != nil {
			t.Fatal(err)
		}
		got := columns.Last(y)
		if math.Abs(got.Value-slow.Coefficients[3]) > 1e-7*math.Abs(got.Value) || math.Abs(got.SE-slow.SE[3]) > 1e-7*got.SE || got.DF != slow.DF {
			t.Errorf("coefficient %v (%v, df %d), by reflections %v (%v, df %d)", got.Value, got.SE, got.DF, slow.Coefficients[3], slow.SE[3],
				slow.DF)
		}
		values, covariance, fit := columns.Coefficients(y)
		if math.Abs(values[3]-got.Value) > 1e-9*math.Abs(got.Value) || math.Abs(math.Sqrt(covariance[3][3])-got.SEHC3) > 1e-9*got.SEHC3 {
			t.Errorf("all coefficients give %v (%v), the last alone %v (%v)", values[3], math.Sqrt(covariance[3][3]), got.Value, got.SEHC3)
		}
		influence, sum, leverages := columns.Influence(y), 0.0, 0.0
		for i, v := range influence {
			sum += v * v
			leverages += fit.Leverages[i]
		}
		if math.Abs(math.Sqrt(sum)-got.SEHC3) > 1e-9*got.SEHC3 {
			t.Errorf("the influences add up to %v, HC3 is %v", math.Sqrt(sum), got.SEHC3)
		}
		if math.Abs(leverages-4) > 1e-9 {
			t.Errorf("the leverages of 4 columns add up to %v", leverages)
		}
		// Leaving a row out moves the coefficient by what its influence says.
		without := NewColumns(n - 1)
		drop := source.IntN(n)
		cut := func(v []float64) []float64 { return append(append([]float64(nil), v[:drop]...), v[drop+1:]...) }
		without.Put(cut(a))
		without.Put(cut(b))
		without.Put(cut(x))
		if moved := got.Value - without.Last(cut(y)).Value; math.Abs(moved-influence[drop]) > 1e-7*math.Abs(got.Value) {
			t.Errorf("without row %d it moves by %v, its influence says %v", drop, moved, influence[drop])
		}
	}
}

func TestDependentColumnsAreLeftOut(t *testing.T) {
	n := 30
	a, b, both, constant := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
	for i := range n {
		a[i], b[i], constant[i] = float64(i), float64(i*i%7), 4
		both[i] = 3*a[i] - b[i] + 12
	}
	c := NewColumns(n)
	for _, test := range []struct {
		name   string
		values []float64
		taken  bool
	}{{"a", a, true}, {"a again", a, false}, {"a constant", constant, false}, {"b", b, true}, {"a sum of both", both, false},
		{"nothing", make([]float64, n), false}} {
		if c.Put(test.values) != test.taken {
			t.Errorf("%s: taken %v", test.name, !test.taken)
		}
	}
	if c.Rank() != 3 {
		t.Errorf("rank %d", c.Rank())
	}
	exact := c.Last(both)
	if !exact.Exact || exact.SE != 0 || !math.IsNaN(exact.P) {
		t.Errorf("an exact fit: %+v", exact)
	}
	lonely := NewColumns(4)
	lonely.Put([]float64{0, 0, 0, 1})
	if one := lonely.Last([]float64{1, 2, 4, 9}); !one.Leverage || !math.IsNaN(one.SEHC3) || math.IsNaN(one.SE) {
		t.Errorf("a row of leverage 1: %+v", one)
	}
}
