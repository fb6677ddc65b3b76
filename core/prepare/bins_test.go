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
		scale, shift := math.Pow(10, float64(source.IntN(20)-9)), []float64{0, 1, -1, 1e8}[source.IntN(4)] // far from zero, names need many digits
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
			near := 5e-7 * (math.Abs(low) + math.Abs(high)) // the ends of the data are written with seven digits
			if v < low-near || v > high+near {
				t.Fatalf("%s of %v: %g is in %q", typed, values, v, band.Value(row))
			}
		}
	}
}

// TestBinsOfAllSizes has values over many powers of ten, and at the ends of the doubles.
func TestBinsOfAllSizes(t *testing.T) {
	for _, test := range []struct {
		typed  string
		values []float64
		want   string
	}{
		{"bin x in 4 equal counts into band", []float64{1e-9, 1e-6, 1e-3, 1, 1e3, 1e6, 1e9, 1e12},
			"1e-09 to 0.00075|0.00075 to 500|500 to 251000000|251000000 to 1000000000000"},
		{"bin x in 2 equal widths into band", []float64{-1e308, 1e308}, "-1e+308 to 0|0 to 1e+308"},
		{"bin x in 4 equal widths into band", []float64{1000000000, 1000000100, 1000000030, 1000000060},
			"1000000000 to 1000000025|1000000025 to 1000000050|1000000050 to 1000000075|1000000075 to 1000000100"},
		{"bin x in 3 equal widths into band", []float64{5, 5}, "5 to 5"},
		{"bin x at 5, 1, 5 into band", []float64{5, 0, 1}, "below 1|1 to 5|5 and above"},
	} {
		data, _ := table.New(table.NewNumbers("x", test.values))
		state, err := Run(context.Background(), data, Parse(test.typed), Environment{})
		if err != nil {
			t.Fatal(err)
		}
		if got := strings.Join(state.Table.Column("band").Levels, "|"); got != test.want {
			t.Errorf("%s of %v: %s", test.typed, test.values, got)
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
		if again, _ := Run(context.Background(), data, Parse("sample 5 rows"), Environment{Seed: seed}); shown(again.Table,
			"x") != shown(state.Table, "x") {
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
