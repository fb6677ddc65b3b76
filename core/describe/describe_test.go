package describe

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"copperlark/core/table"
	"copperlark/internal/test/oracle"
)

type input struct {
	X     oracle.Numbers `json:"x"`
	Y     oracle.Numbers `json:"y"`
	G     []*string      `json:"g"`
	Level float64        `json:"level"`
}

func TestOracles(t *testing.T) {
	oracle.Run(t, map[string]func(*testing.T, oracle.Case) any{
		"descriptive": func(t *testing.T, c oracle.Case) any {
			s := Summarise(oracle.Decode[input](t, c).X)
			return map[string]any{"n": s.N, "missing": s.Missing, "mean": s.Mean, "sd": s.SD, "min": s.Min, "max": s.Max,
				"q1": s.Q1, "median": s.Median, "q3": s.Q3, "iqr": s.IQR}
		},
		"correlation": func(t *testing.T, c oracle.Case) any {
			in := oracle.Decode[input](t, c)
			got, err := Correlate(in.X, in.Y)
			if err != nil {
				return oracle.Refused(err)
			}
			p := got.Pearson
			return map[string]any{"n": got.N, "pearson": map[string]any{"r": p.R, "ci_lo": p.Low, "ci_hi": p.High, "t": p.T, "df": p.DF, "p": p.P},
				"spearman": map[string]any{"rho": got.Spearman}, "kendall": map[string]any{"tau_b": got.Kendall}}
		},
		"group_summaries": answerGroups,
		"tukey_box": func(t *testing.T, c oracle.Case) any {
			b, err := TukeyBox(oracle.Decode[input](t, c).X)
			if err != nil {
				return oracle.Refused(err)
			}
			return map[string]any{"n": b.N, "q1": b.Q1, "median": b.Median, "q3": b.Q3, "iqr": b.IQR, "whisker_lo": b.WhiskerLow,
				"whisker_hi": b.WhiskerHigh,
				"outliers":   oracle.List(b.Outliers, func(v float64) any { return v })}
		},
		"mean_interval": func(t *testing.T, c oracle.Case) any {
			in := oracle.Decode[input](t, c)
			byGroup := map[string][]float64{}
			for i, g := range in.G {
				if g != nil && !math.IsNaN(in.Y[i]) {
					byGroup[*g] = append(byGroup[*g], in.Y[i])
				}
			}
			groups := map[string]any{}
			for g, values := range byGroup {
				m, err := IntervalOfMean(values, in.Level)
				if err != nil {
					t.Fatal(err)
				}
				groups[g] = map[string]any{"n": m.N, "mean": m.Mean, "sd": m.SD, "lo": m.Low, "hi": m.High}
			}
			return map[string]any{"groups": groups}
		},
	})
}

// slowKendall looks at every pair.
func slowKendall(x, y []float64) float64 {
	s, tx, ty, n0 := 0.0, 0.0, 0.0, 0.0
	for i := range x {
		for j := range i {
			n0++
			dx, dy := x[i]-x[j], y[i]-y[j]
			if dx == 0 {
				tx++
			}
			if dy == 0 {
				ty++
			}
			if dx*dy > 0 {
				s++
			} else if dx*dy < 0 {
				s--
			}
		}
	}
	return s / math.Sqrt((n0-tx)*(n0-ty))
}

func TestKendallAgreesWithEveryPair(t *testing.T) {
	source := rand.New(rand.NewPCG(1, 2))
	for round := range 200 {
		n := 2 + source.IntN(60)
		x, y := make([]float64, n), make([]float64, n)
		for i := range x {
			x[i], y[i] = float64(source.IntN(1+round%9)), float64(source.IntN(7))
		}
		got, err := Correlate(x, y)
		if err != nil {
			continue
		}
		if want := slowKendall(x, y); math.Abs(got.Kendall-want) > 1e-12 {
			t.Fatalf("tau is %v, every pair says %v", got.Kendall, want)
		}
	}
}

func TestALogScaleIsSuggestedWhereAllOfItHolds(t *testing.T) {
	for _, test := range []struct {
		skew, low, high float64
		want            bool
	}{{2.1, 1, 21, true}, {2, 1, 21, false}, {2.1, 0, 21, false}, {2.1, -1, 21, false}, {2.1, 1, 20, false}} {
		if got := SuggestsLog(test.skew, test.low, test.high); got != test.want {
			t.Errorf("%+v: %v", test, got)
		}
	}
}

func TestSharesBetweenGroups(t *testing.T) {
	codes := []int32{0, 0, 1, 1, -1, 1}
	if got := EtaSquared(codes, 2, []float64{1, 1, 5, 5, 100, math.NaN()}); math.Abs(got-1) > 1e-12 {
		t.Errorf("groups that say everything have eta squared %v", got)
	}
	if got := EtaSquared(codes, 2, []float64{1, 3, 1, 3, 0, 2}); got > 1e-12 {
		t.Errorf("groups that say nothing have eta squared %v", got)
	}
	source := rand.New(rand.NewPCG(3, 4))
	a, b, c := make([]int32, 3000), make([]int32, 3000), make([]int32, 3000)
	for i := range a {
		a[i], b[i] = int32(source.IntN(4)), int32(source.IntN(3))
		c[i] = a[i] / 2
	}
	if v := CramersV(a, 4, b, 3); v > 0.05 {
		t.Errorf("independent groups have V %v", v)
	}
	if v := CramersV(a, 4, c, 2); v < 0.98 {
		t.Errorf("groups that decide each other have V %v", v)
	}
}

// TestSpreadAgreesWithSorting holds the way for many values against sorting.
func TestSpreadAgreesWithSorting(t *testing.T) {
	source := rand.New(rand.NewPCG(7, 1))
	for round := range 6 {
		values := make([]float64, 2*sortedSpread+round)
		for i := range values {
			values[i] = source.NormFloat64()
			switch round {
			case 1:
				values[i] = float64(source.IntN(3)) // ties
			case 2:
				values[i] = math.Exp(8 * values[i]) // a few far values
			case 3:
				values[i] = 1e9 + values[i]
			case 4:
				if i%10 == 0 {
					values[i] = math.NaN()
				}
			}
		}
		got, want := Spread(t.Context(), values), Summarise(values)
		for what, pair := range map[string][2]float64{"mean": {got.Mean, want.Mean}, "sd": {got.SD, want.SD}, "q1": {got.Q1, want.Q1},
			"median": {got.Median, want.Median},
			"q3":     {got.Q3, want.Q3}, "min": {got.Min, want.Min}, "max": {got.Max, want.Max}} {
			if math.Abs(pair[0]-pair[1]) > 1e-12*math.Abs(pair[1]) {
				t.Errorf("round %d: %s is %v, sorting says %v", round, what, pair[0], pair[1])
			}
		}
		if got.N != want.N || got.Missing != want.Missing {
			t.Errorf("round %d: %d and %d", round, got.N, got.Missing)
		}
	}
}

func TestPearsonMatrixAgreesWithPairs(t *testing.T) {
	source := rand.New(rand.NewPCG(8, 1))
	columns := make([][]float64, 5)
	for c := range columns {
		columns[c] = make([]float64, 9000)
		for i := range columns[c] {
			columns[c][i] = float64(c)*1e5 + source.NormFloat64()
			if c > 0 {
				columns[c][i] += columns[c-1][i]
			}
			if c == 3 && i%50 == 0 {
				columns[c][i] = math.NaN()
			}
		}
	}
	columns[4] = make([]float64, 9000) // no spread
	got, err := PearsonMatrix(t.Context(), columns)
	if err != nil {
		t.Fatal(err)
	}
	for i := range columns {
		for j := range i {
			want, err := PearsonOf(columns[i], columns[j])
			if (err != nil) != math.IsNaN(got[i][j]) || (err == nil && math.Abs(got[i][j]-want.R) > 1e-12) ||
				(err == nil && got[j][i] != got[i][j]) {
				t.Errorf("columns %d and %d: %v, the pair says %v (%v)", i, j, got[i][j], want.R, err)
			}
		}
	}
}

// FuzzDescribe holds that odd values (NaN, infinite, huge, equal, none) make no panic,
// and that what is said of ordinary ones is in order.
func FuzzDescribe(f *testing.F) {
	f.Add(1.0, 2.0, 3.0, 1e9)
	f.Add(math.NaN(), math.Inf(1), 0.0, -1e300)
	f.Add(5.0, 5.0, 5.0, 5.0)
	f.Fuzz(func(t *testing.T, a, b, c, offset float64) {
		values := []float64{a, b, c, a, offset, offset + b}
		for n := range len(values) + 1 {
			x := values[:n]
			s := Summarise(x)
			_, _ = TukeyBox(x)
			_, _ = IntervalOfMean(x, 0.95)
			_, _ = Correlate(x, values[len(values)-n:])
			_ = EtaSquared([]int32{0, 1, -1, 0, 1, 0}[:n], 2, x)
			ordinary := s.N > 0
			for _, v := range x {
				ordinary = ordinary && math.Abs(v) < 1e150
			}
			if ordinary && !(s.Min <= s.Q1 && s.Q1 <= s.Median && s.Median <= s.Q3 && s.Q3 <= s.Max) {
				t.Errorf("%v: %+v", x, s)
			}
		}
	})
}

func TestGapsSayWhereValuesAreMissing(t *testing.T) {
	values := []float64{math.NaN(), math.NaN(), 1, 2, 3, math.NaN(), 4, 5}
	for stretches, want := range map[int][]float64{4: {1, 0, 0.5, 0}, 1: {0.375}, 99: {1, 1, 0, 0, 0, 1, 0, 0}} {
		if got := Gaps(table.NewNumbers("x", values), stretches); !slices.Equal(got, want) {
			t.Errorf("in %d stretches: %v, want %v", stretches, got, want)
		}
	}
	if got := Gaps(table.NewNumbers("x", nil), 4); len(got) != 0 {
		t.Errorf("without rows: %v", got)
	}
}
