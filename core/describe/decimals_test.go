package describe

import (
	"math"
	"testing"
)

func TestDecimalsThatWriteValues(t *testing.T) {
	cycling := make([]float64, 70_000) // every seventh, and no other, has two
	for i := range cycling {
		if cycling[i] = float64(i); i%7 == 3 {
			cycling[i] += 0.25
		}
	}
	for _, test := range []struct {
		values []float64
		want   int
	}{
		{nil, 0}, {[]float64{math.NaN(), math.Inf(1)}, 0}, {[]float64{1, 2, 1e300}, 0}, {[]float64{12.5, 9, 3.25, math.NaN()}, 2},
		{[]float64{0.1, 0.2, 0.7}, 1},
		{[]float64{1e-9}, MostDecimals + 1}, {[]float64{math.Pi}, MostDecimals + 1}, {cycling, 2},
	} {
		if got := Decimals(test.values); got != test.want {
			t.Errorf("%d values: %d decimals, wanted %d", len(test.values), got, test.want)
		}
	}
}
