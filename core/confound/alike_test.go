package confound

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"copperlark/core/table"
)

// TestSortingByDigitsIsSorting holds the fast order to the obvious one.
func TestSortingByDigitsIsSorting(t *testing.T) {
	source := rand.New(rand.NewPCG(1, 2))
	for _, values := range [][]float64{
		{3}, {0, math.Copysign(0, -1), 0, -1}, {math.Inf(1), math.Inf(-1), 1e308, -1e308, 5e-324, -5e-324, 0},
		slices.Collect(func(yield func(float64) bool) {
			for range 20_000 {
				if !yield(math.Round(source.NormFloat64()*50) * 86_400) {
					return
				}
			}
		}),
	} {
		places := make([]int, len(values))
		for i := range places {
			places[i] = i
		}
		want := slices.Clone(places)
		slices.SortStableFunc(want, func(a, b int) int { return cmp.Compare(values[a], values[b]) })
		if got := byDigits(places, func(place int) float64 { return values[place] }); !slices.Equal(got, want) {
			t.Errorf("%d values are in another order", len(values))
		}
	}
}

// TestManyRowsAreAlikeByTheirStretches finds in a sample of stretches what all rows show.
func TestManyRowsAreAlikeByTheirStretches(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 4))
	const n = 400_000
	x, y := following(source, n, 0.8), following(source, n, 0.8)
	rows := make([]uint32, n)
	for i := range rows {
		rows[i] = uint32(i)
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y))
	if err != nil {
		t.Fatal(err)
	}
	a := FindAlike(t.Context(), x, y, rows, data, "x", "y")
	if a == nil || len(a.sequence) != mostFollowed || math.Abs(a.Share-0.8) > 0.01 || math.Abs(a.Ratio-math.Sqrt(1.64/0.36)) > 0.1 { // k = (1 + 0.64)/(1 − 0.64)
		t.Errorf("%+v", a)
	}
	if got := stretches([]int{5, 6, 7}, mostFollowed); !slices.Equal(got, []int{5, 6, 7}) {
		t.Errorf("few rows: %v", got)
	}
}
