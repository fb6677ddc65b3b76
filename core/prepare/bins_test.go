package prepare

import (
	"context"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"copperlark/core/table"
)

// TestEveryValueLiesInTheBinThatItIsSaidToLieIn reads the edges from the names of the bins,
// for values of all sizes, equal ones and missing ones.
func TestEveryValueLiesInTheBinThatItIsSaidToLieIn(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 3))
	for range 300 {
		scale, shift := math.Pow(10, float64(source.IntN(20)-9)), float64(source.IntN(3)-1)
		values := make([]float64, 1+source.IntN(60))
		for i := range values {
			values[i] = (source.NormFloat64() + 10*shift) * scale
			switch source.IntN(6) {
			case 0:
				values[i] = math.NaN()
			case 1:
				values[i] = math.Round(values[i]/scale) * scale
			}
		}
		data, err := table.New(table.NewNumbers("x", values))
		if err != nil {
			t.Fatal(err)
		}
		how := []string{"widths", "counts"}[source.IntN(2)]
		typed := "bin x in " + strconv.Itoa(2+source.IntN(8)) + " equal " + how + " into band"
		state, err := Run(context.Background(), data, Parse(typed), Environment{})
		if err != nil {
			t.Fatalf("%s: %v", typed, err)
		}
		band := state.Table.Column("band")
		for row, v := range values {
			if math.IsNaN(v) != band.Missing(row) {
				t.Fatalf("%s: %g is in %q", typed, v, band.Value(row))
			}
			if math.IsNaN(v) {
				continue
			}
			from, to, _ := strings.Cut(band.Value(row), " to ")
			low, _ := strconv.ParseFloat(from, 64)
			high, _ := strconv.ParseFloat(to, 64)
			near := 1e-6 * (math.Abs(low) + math.Abs(high)) // the ends of the data are written with seven digits
			if v < low-near || v > high+near {
				t.Fatalf("%s of %v: %g is in %q", typed, values, v, band.Value(row))
			}
		}
	}
}

// TestASampleIsFair draws many samples: every row comes as often as the others, within five
// standard errors, in the order in which the rows stood, and one seed draws one sample.
func TestASampleIsFair(t *testing.T) {
	const rows, drawn, rounds = 20, 5, 4000
	values := make([]float64, rows)
	for i := range values {
		values[i] = float64(i)
	}
	data, _ := table.New(table.NewNumbers("x", values))
	came := make([]int, rows)
	for seed := range uint64(rounds) {
		state, err := Run(context.Background(), data, Parse("sample 5 rows"), Environment{Seed: seed})
		if err != nil || state.Table.Rows() != drawn || len(state.LeftOut) != rows-drawn {
			t.Fatalf("%v %v", err, state)
		}
		before := -1.0
		for _, v := range state.Table.Column("x").Numbers {
			if v <= before {
				t.Fatalf("row %g after %g", v, before)
			}
			before = v
			came[int(v)]++
		}
		if again, _ := Run(context.Background(), data, Parse("sample 5 rows"), Environment{Seed: seed}); shown(again.Table, "x") != shown(state.Table, "x") {
			t.Fatal("one seed drew two samples")
		}
	}
	share := float64(drawn) / rows
	for row, n := range came {
		if off := math.Abs(float64(n) - rounds*share); off > 5*math.Sqrt(rounds*share*(1-share)) {
			t.Errorf("row %d came %d times of %d", row, n, rounds)
		}
	}
}
