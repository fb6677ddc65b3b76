package pairs

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/describe"
	"copperlark/core/primitive"
	"copperlark/core/table"
)

// valley is a table with a reversal: y falls with x overall and rises inside groups.
func valley(t *testing.T, n int) *table.Table {
	t.Helper()
	s := rand.New(rand.NewPCG(3, 9))
	x, y, z, counter, flat := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
	groups, coins := make([]string, n), make([]string, n)
	for i := range n {
		g := i % 3
		u := s.NormFloat64()
		x[i], y[i], z[i], counter[i], flat[i] = 3*float64(g)+u, -4*float64(g)+u+s.NormFloat64(), math.Exp(2*s.NormFloat64()), float64(i), 7
		groups[i], coins[i] = []string{"Tarn", "Fen", "Brindle"}[g], []string{"up", "down"}[s.IntN(2)]
		if i%17 == 3 {
			x[i] = math.NaN()
		}
		if i%23 == 5 {
			groups[i] = ""
		}
	}
	out, err := table.New(table.NewNumbers("counter", counter), table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewNumbers("z", z),
		table.NewNumbers("flat", flat), table.NewCategory("coin", coins), table.NewCategory("district", groups))
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// TestPairsAgainstWalkingTheSlowWay holds every correlation to its definition, and what is
// taken by itself: the columns with a spread that count no rows, and the groups that stand
// furthest apart.
func TestPairsAgainstWalkingTheSlowWay(t *testing.T) {
	data := valley(t, 900)
	f, err := Look(t.Context(), data, Question{})
	if err != nil {
		t.Fatal(err)
	}
	if len(f.Columns) != 3 || f.By == nil || f.By.Name != "district" || !f.Columns[2].Log || f.Columns[0].Log {
		t.Fatalf("looked at %d columns by %v, logs %v %v", len(f.Columns), f.By, f.Columns[0].Log, f.Columns[2].Log)
	}
	for _, p := range f.Pairs {
		values := func(c Column) []float64 {
			out := append([]float64(nil), c.Numbers...)
			for i := range out {
				if c.Log {
					out[i] = math.Log10(out[i])
				}
			}
			return out
		}
		x, y := values(f.Columns[p.X]), values(f.Columns[p.Y])
		want, err := describe.PearsonOf(x, y)
		if err != nil || math.Abs(want.R-p.R) > 1e-12 || want.N != p.N {
			t.Errorf("%d and %d: r %v of %d, want %v of %d (%v)", p.X, p.Y, p.R, p.N, want.R, want.N, err)
		}
		var dx, dy []float64
		for g := range f.By.Levels {
			var own [2][]float64
			for i, code := range f.By.Codes {
				if int(code) == g && !math.IsNaN(x[i]) && !math.IsNaN(y[i]) {
					own[0], own[1] = append(own[0], x[i]), append(own[1], y[i])
				}
			}
			mx, my := describe.Summarise(own[0]).Mean, describe.Summarise(own[1]).Mean
			for i := range own[0] {
				dx, dy = append(dx, own[0][i]-mx), append(dy, own[1][i]-my)
			}
		}
		if inside, err := describe.PearsonOf(dx, dy); err != nil || math.Abs(inside.R-p.Within) > 1e-12 {
			t.Errorf("%d and %d: within %v, want %v (%v)", p.X, p.Y, p.Within, inside.R, err)
		}
	}
	first := f.Pairs[f.List[0]]
	if !first.Turns || first.R > 0 || first.Within < 0.5 || f.Pairs[f.List[1]].Turns {
		t.Errorf("what turns round is %+v, then %+v", first, f.Pairs[f.List[1]])
	}
}

// TestWhatIsAskedOfPairs holds the choices: columns, groups, scales, ranks, an outcome and a
// sample.
func TestWhatIsAskedOfPairs(t *testing.T) {
	data := valley(t, 900)
	for name, test := range map[string]struct {
		q    Question
		good func(*Found) bool
	}{
		"named columns": {Question{Columns: []string{"z", "counter", "x"}}, func(f *Found) bool {
			return len(f.Columns) == 2 && f.Columns[0].Name == "x"
		}},
		"no groups":     {Question{By: None}, func(f *Found) bool { return f.By == nil && math.IsNaN(f.Pairs[0].Within) && !f.Pairs[0].Turns }},
		"other groups":  {Question{By: "coin"}, func(f *Found) bool { return f.By.Name == "coin" && !f.Pairs[0].Turns }},
		"no log scales": {Question{Straight: true}, func(f *Found) bool { return !f.Columns[2].Log }},
		"an outcome":    {Question{Outcome: "z"}, func(f *Found) bool { return len(f.List) == 2 && len(f.Pairs) == 3 }},
		"by difference": {Question{Rank: Difference}, func(f *Found) bool { return f.Pairs[f.List[0]].Turns }},
		"a sample":      {Question{Rows: 100}, func(f *Found) bool { return f.Rows == 100 && f.Pairs[2].N == 100 }},
	} {
		f, err := Look(t.Context(), data, test.q)
		if err != nil || !test.good(f) {
			t.Errorf("%s: %+v %v", name, f, err)
		}
	}
	done, stop := context.WithCancel(t.Context())
	stop()
	if _, err := Look(done, data, Question{}); err == nil {
		t.Error("a look that is stopped goes on")
	}
}

// TestPairsOfNoiseHardlyEverTurn counts false claims: 66 pairs of noise in groups.
func TestPairsOfNoiseHardlyEverTurn(t *testing.T) {
	s := rand.New(rand.NewPCG(8, 8))
	claims := 0
	for range 60 {
		var columns []*table.Column
		groups := make([]string, 200)
		for i := range groups {
			groups[i] = fmt.Sprint(s.IntN(4))
		}
		for k := range MostColumns {
			values := make([]float64, 200)
			for i := range values {
				values[i] = s.NormFloat64()
			}
			columns = append(columns, table.NewNumbers(fmt.Sprint("c", k), values))
		}
		data, err := table.New(append(columns, table.NewCategory("g", groups))...)
		if err != nil {
			t.Fatal(err)
		}
		names := make([]string, len(columns))
		for i, c := range columns {
			names[i] = c.Name
		}
		f, err := Look(t.Context(), data, Question{Columns: names, By: "g"})
		if err != nil {
			t.Fatal(err)
		}
		clear := false
		for _, p := range f.Pairs {
			clear = clear || p.Clear || p.ClearWithin
		}
		if clear {
			claims++
		}
	}
	if claims > 9 { // two tests at 5 % in all: 6 of 60 would be many
		t.Errorf("%d of 60 tables of noise are called clear", claims)
	}
}

// TestThePictureOfPairs holds the panels to the pairs, and dots to their rows.
func TestThePictureOfPairs(t *testing.T) {
	for name, rows := range map[string]int{"many": 900, "one": 1, "none": 0, "more than are drawn": 5000} {
		data := valley(t, rows)
		f, err := Look(t.Context(), data, Question{})
		if err != nil {
			t.Fatal(err)
		}
		picture := f.Picture(t.Context(), 600)
		n := len(f.Columns)
		if len(picture.Panels) != n*(n+1)/2 || len(picture.Scales) != n {
			t.Errorf("%s: %d panels of %d columns", name, len(picture.Panels), n)
		}
		for _, l := range picture.Layers {
			if l.Mark == "dots" && (l.Count > mostDots || rows == 900 && l.Count < 700) {
				t.Errorf("%s: %d dots", name, l.Count)
			}
			for i := range l.X.Len() {
				if x, y := l.X.At(i), l.Y.At(i); !(x >= 0 && x <= 65535 && y >= 0) {
					t.Errorf("%s: a mark at %v, %v", name, x, y)
				}
			}
		}
	}
}

// TestRowsStandWhereTheirValuesSay holds that the span that is told with a look places values where the
// picture draws them, on a log scale too.
func TestRowsStandWhereTheirValuesSay(t *testing.T) {
	x, y := make([]float64, 300), make([]float64, 300)
	for i := range x {
		x[i], y[i] = math.Exp(float64(i*37%300)/40), float64(i*91%300)-50
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y))
	if err != nil {
		t.Fatal(err)
	}
	found, err := Look(context.Background(), data, Question{By: None})
	if err != nil {
		t.Fatal(err)
	}
	if !found.Columns[0].Log || found.Columns[1].Log {
		t.Fatal("one column is to stand on a log scale")
	}
	place := func(i int, v float64) float64 {
		low, high := found.Span(i)
		if found.Columns[i].Log {
			low, high, v = math.Log(low), math.Log(high), math.Log(v)
		}
		return Margin + (1-2*Margin)*(v-low)/(high-low)
	}
	for _, l := range found.Picture(context.Background(), 400).Layers {
		if l.Mark != "dots" {
			continue
		}
		for i := range l.Count {
			if dx, dy := l.X.At(i)-place(0, x[i]), l.Y.At(i)-place(1, y[i]); math.Abs(dx) > 1e-4 || math.Abs(dy) > 1e-4 {
				t.Fatalf("row %d stands %v, %v from where its values say", i, dx, dy)
			}
		}
	}
}

// TestDotsOfGroupsInTurnShowEachGroup looks at rows that go through ten groups again and again, many times more
// than there are dots: the picture shows them all alike, with a look at a sample or without, and without groups.
func TestDotsOfGroupsInTurnShowEachGroup(t *testing.T) {
	const rows, groups = 45_000, 10
	x, y, codes, levels := make([]float64, rows), make([]float64, rows), make([]int32, rows), make([]string, groups)
	for i := range x {
		codes[i] = int32(i % groups)
		x[i], y[i] = float64(i%groups)+float64(i%97)/97, float64(i%89)
	}
	for g := range levels {
		levels[g] = string(rune('A' + g))
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y),
		&table.Column{Name: "g", Kind: table.Category, Codes: codes, Levels: levels})
	if err != nil {
		t.Fatal(err)
	}
	for _, q := range []Question{{By: "g"}, {By: "g", Rows: 20_000}, {By: None}} {
		found, err := Look(t.Context(), data, q)
		if err != nil {
			t.Fatal(err)
		}
		seen := make([]int, groups)
		for _, l := range found.Picture(t.Context(), 600).Layers {
			for i := range l.Count {
				switch {
				case l.Kind != primitive.Points:
				case q.By == None: // x tells the group
					seen[int((l.X.At(i)-margin)/(1-2*margin)*(groups+0.98)*0.999)%groups]++
				default:
					seen[int(l.Colour.At(i))]++
				}
			}
		}
		for g, n := range seen {
			if want := found.Dots() / groups; q.By != None && (n < want-1 || n > want+1) || n < want/2 {
				t.Errorf("%+v: group %s has %d dots of %d", q, levels[g], n, found.Dots())
			}
		}
	}
}
