package colour

import (
	"math"
	"testing"
)

// TestDifferencesAreThePublishedOnes holds CIEDE2000 to pairs of the published test data, those where its branches part.
func TestDifferencesAreThePublishedOnes(t *testing.T) {
	for _, test := range []struct {
		p, q cieLab
		want float64
	}{
		{cieLab{50, 2.6772, -79.7751}, cieLab{50, 0, -82.7485}, 2.0425},
		{cieLab{50, 0, 0}, cieLab{50, -1, 2}, 2.3669},
		{cieLab{50, 2.49, -0.001}, cieLab{50, -2.49, 0.0009}, 7.1792},
		{cieLab{50, 2.49, -0.001}, cieLab{50, -2.49, 0.0011}, 7.2195},
		{cieLab{50, 2.5, 0}, cieLab{73, 25, -18}, 27.1492},
		{cieLab{50, 2.5, 0}, cieLab{56, -27, -3}, 31.9030},
		{cieLab{60.2574, -34.0099, 36.2677}, cieLab{60.4626, -34.1751, 39.4387}, 1.2644},
		{cieLab{2.0776, 0.0795, -1.1350}, cieLab{0.9033, -0.0636, -0.5514}, 0.9082},
	} {
		if got := ciede2000(test.p, test.q); math.Abs(got-test.want) > 5e-5 {
			t.Errorf("%v and %v differ by %.4f, want %.4f", test.p, test.q, got, test.want)
		}
	}
	white, _ := Parse("#ffffff")
	if lab := white.inCIELab(); math.Abs(lab.l-100) > 1e-4 || math.Hypot(lab.a, lab.b) > 0.02 {
		t.Error("white is", lab)
	}
}
