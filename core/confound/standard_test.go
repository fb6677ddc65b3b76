package confound

import (
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/table"
)

// TestStandardisedDifferencesAreThoseOfRates compares tables of rates at random, and takes a
// number whose difference is the same at every level.
func TestStandardisedDifferencesAreThoseOfRates(t *testing.T) {
	s := rand.New(rand.NewPCG(8, 4))
	for range 100 {
		n, k := 20+s.IntN(200), 1+s.IntN(4)
		x, y, rows, names := make([]float64, n), make([]float64, n), make([]uint32, n), make([]string, n)
		for i := range n {
			g := s.IntN(k)
			rows[i], names[i] = uint32(i), string(rune('a'+g))
			x[i] = float64(s.IntN(2))
			y[i] = map[bool]float64{true: 1}[s.Float64() < 0.2+0.2*float64(g)/float64(k)+0.3*x[i]]
		}
		c := table.NewCategory("g", names)
		d, share := StandardisedDifference(x, y, rows, c)
		rates := RatesOf(x, y, rows, c)
		if rates == nil || rates.Standard == nil {
			continue
		}
		if want := rates.Standard.Difference; math.Abs(d.Value-want.Value) > 1e-12 || math.Abs(d.SE-want.SE) > 1e-12 || share <= 0 || share > 1 {
			t.Fatalf("%v ± %v, of rates %v ± %v", d.Value, d.SE, want.Value, want.SE)
		}
		for i := range y {
			y[i] = 7*x[i] + 3*float64(c.Codes[i])
		}
		if d, _ := StandardisedDifference(x, y, rows, c); math.Abs(d.Value-7) > 1e-9 {
			t.Fatalf("a difference of 7 everywhere is %v", d.Value)
		}
	}
	if d, share := StandardisedDifference(nil, nil, nil, table.NewCategory("g", nil)); !math.IsNaN(d.Value) || share != 0 {
		t.Errorf("of no rows: %v, %v", d, share)
	}
}
