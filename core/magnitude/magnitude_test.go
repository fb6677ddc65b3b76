package magnitude

import (
	"math"
	"testing"
)

func TestScaledKeepsEveryDigitAndWaysBeyondAFloatAreWalked(t *testing.T) {
	for _, values := range [][]float64{{1e308, -3e307, math.NaN()}, {5e-324, 2e-310}, {1, 2, 3}, {0, 0}, {math.Inf(1), 1}} {
		scaled, unit := Scaled(values)
		for i, v := range values {
			if back := scaled[i] * unit; back != v && !math.IsNaN(v) {
				t.Errorf("%g comes back as %g", v, back)
			}
		}
	}
	for _, test := range []struct{ low, high, share float64 }{{-math.MaxFloat64, math.MaxFloat64, 0.25}, {1, 3, 0.5}, {1e308, -1e308, 0.1},
		{0, 5e-324, 1}} {
		if got := Share(Between(test.low, test.high, test.share), test.low, test.high); math.Abs(got-test.share) > 1e-15 {
			t.Errorf("%+v: %g", test, got)
		}
	}
	for _, test := range []struct {
		values []float64
		fits   bool
	}{{nil, true}, {[]float64{0, 0}, true}, {[]float64{1e150, -1}, true}, {[]float64{1e151}, false}, {[]float64{1e-150}, false},
		{[]float64{math.Inf(-1)}, false}, {[]float64{math.NaN(), 2}, true}} {
		if err := InRange(test.values); (err == nil) != test.fits {
			t.Errorf("%v: %v", test.values, err)
		}
	}
	if got := Log10(5e-324); math.Abs(got+323.306) > 1e-3 {
		t.Errorf("the logarithm of the smallest value is %g", got)
	}
	if Log10(1000) != math.Log10(1000) || !math.IsInf(Log10(0), -1) || !math.IsNaN(Log10(-1)) {
		t.Error("ordinary logarithms changed")
	}
}
