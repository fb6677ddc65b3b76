package model

import (
	"math"
	"math/rand/v2"
	"testing"
)

// TestCarriersAgainstFittingAgain leaves the rows out and fits anew.
func TestCarriersAgainstFittingAgain(t *testing.T) {
	s := rand.New(rand.NewPCG(1, 5))
	for range 60 {
		n := 6 + s.IntN(60)
		x, y := make([]float64, n), make([]float64, n)
		for i := range n {
			x[i], y[i] = 1e3+s.NormFloat64(), s.NormFloat64()
		}
		x[0], y[0] = 1e3+20, 30
		line, err := FitLine(t.Context(), x, y)
		if err != nil {
			t.Fatal(err)
		}
		for k, c := range Carriers(line, x, y, 3) {
			var kx, ky []float64
			for i := range x {
				left := false
				for _, row := range c.Rows {
					left = left || row == i
				}
				if !left {
					kx, ky = append(kx, x[i]), append(ky, y[i])
				}
			}
			again, err := FitLine(t.Context(), kx, ky)
			if err != nil || len(c.Rows) != k+1 || math.Abs(again.Slope-c.Slope) > 1e-7*(1+math.Abs(again.Slope)) {
				t.Errorf("without %v the slope is %v, fitted again %v (%v)", c.Rows, c.Slope, again, err)
			}
			c.Weigh(line, x, y)
			if want := again.SlopeInterval(0.95); math.Abs(c.Interval.Low-want.Low) > 1e-6*(1+math.Abs(want.Low)) ||
				!(c.Chance >= 0 && c.Chance <= 1) {
				t.Errorf("without %v the interval is %v, fitted again %v; by chance %v", c.Rows, c.Interval, want, c.Chance)
			}
		}
		if first := Carriers(line, x, y, 1); len(first) != 1 || first[0].Rows[0] != 0 {
			t.Errorf("the row that stands far away does not move the line most: %v", first)
		}
	}
}

// TestBendsHoldsItsLevel counts curves that are seen in noise about a line, also where the
// spread grows, and those that are there.
func TestBendsHoldsItsLevel(t *testing.T) {
	s := rand.New(rand.NewPCG(2, 5))
	seen := map[string]int{}
	const rounds = 300
	for range rounds {
		for name, of := range map[string]func(x float64) float64{
			"even":    func(x float64) float64 { return x + s.NormFloat64() },
			"growing": func(x float64) float64 { return x + (x+0.2)*s.NormFloat64() },
			"curved":  func(x float64) float64 { return x*x/2 + s.NormFloat64() },
		} {
			x, y := make([]float64, 150), make([]float64, 150)
			for i := range x {
				x[i] = 4 * s.Float64()
				y[i] = of(x[i])
			}
			line, err := FitLine(t.Context(), x, y)
			if err != nil {
				t.Fatal(err)
			}
			if p, _ := Bends(t.Context(), line, x, y); p < 0.05 {
				seen[name]++
			}
		}
	}
	if seen["even"] > 27 || seen["growing"] > 27 || seen["curved"] < 297 {
		t.Errorf("curves are seen in %v of %d", seen, rounds)
	}
}

// TestDifferByHand works Welch's test out.
func TestDifferByHand(t *testing.T) {
	d, interval, p := Differ([]float64{1, 2, 3, 4}, []float64{4, 6, 8})
	// means 2.5 and 6, variances of the means 5/12 and 4/3, df = (7/4)² / ((5/12)²/3 + (4/3)²/2)
	df := 1.75 * 1.75 / (25.0/144/3 + 16.0/9/2)
	if math.Abs(d+3.5) > 1e-12 || math.Abs((interval.High+interval.Low)/2+3.5) > 1e-12 || !(p > 0.04 && p < 0.09) ||
		math.Abs(df-3.2347) > 1e-3 {
		t.Errorf("differ by %v, %v, p %v, df %v", d, interval, p, df)
	}
	if d, _, p := Differ([]float64{1}, []float64{2, 3}); !math.IsNaN(d) || !math.IsNaN(p) {
		t.Error("one value has a mean to compare")
	}
}
