package describe

import (
	"math"
	"math/rand/v2"
	"testing"
)

// TestGroupsThatDiffer holds three groups to answers that were worked out elsewhere at many digits.
func TestGroupsThatDiffer(t *testing.T) {
	y := []float64{0.19, 0.07, -0.72, -0.27, -2.09, -0.06, 0.99, 0.98, 3.05, 2.31, 1.25, 0.82, 1.85, 2.03, 0.18, -0.31, 2.74, 5.47, 2.78,
		3.29, 0.95, math.NaN(), 7}
	codes := make([]int32, len(y))
	for i := range codes {
		codes[i] = map[bool]int32{true: 0, false: 1}[i < 6]
		if i >= 14 {
			codes[i] = 2
		}
	}
	codes[22] = -1
	d := GroupDifferences(codes, 3, y)
	for name, pair := range map[string][2]float64{"F": {d.F, 12.219567915392073}, "df2": {d.DF2, 10.600790557877032},
		"p":    {d.P, 0.001769712127571089},
		"eta2": {d.Eta2, 0.43609401991420976}, "epsilon2": {d.Epsilon2, 0.3734377999046775}, "omega2": {d.Omega2, 0.36209407683356143}} {
		if math.Abs(pair[0]-pair[1]) > 1e-7*math.Abs(pair[1]) {
			t.Errorf("%s is %v, want %v", name, pair[0], pair[1])
		}
	}
	if d := GroupDifferences([]int32{0, 0, 1}, 2, []float64{1, 2, 3}); !math.IsNaN(d.P) || d.Groups != 1 {
		t.Errorf("one group of two: %+v", d)
	}
}

// TestManyGroupsOfNoiseAccountForNothing has sixty groups of noise: what they account for is near zero, where eta
// squared is a quarter.
func TestManyGroupsOfNoiseAccountForNothing(t *testing.T) {
	source := rand.New(rand.NewPCG(6, 0))
	sum := 0.0
	for range 200 {
		codes, y := make([]int32, 240), make([]float64, 240)
		for i := range y {
			codes[i], y[i] = int32(source.IntN(60)), source.NormFloat64()
		}
		sum += GroupDifferences(codes, 60, y).Epsilon2 / 200
	}
	if math.Abs(sum) > 0.02 {
		t.Errorf("on average they account for %v", sum)
	}
}
