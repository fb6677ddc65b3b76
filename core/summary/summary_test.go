package summary

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"copperlark/core/density"
	"copperlark/core/model"
	"copperlark/core/smooth"
	"copperlark/core/table"
)

// flights is a made-up table whose line turns round within groups.
func flights(t testing.TB, n int, offset float64) *table.Table {
	t.Helper()
	source := rand.New(rand.NewPCG(7, 2031))
	group := &table.Column{Name: "district", Kind: table.Category, Levels: []string{"Low Fen", "Brindle", "Tarn"}}
	x, y := &table.Column{Name: "metres", Kind: table.Number}, &table.Column{Name: "load", Kind: table.Number}
	for range n {
		g := source.IntN(3)
		u := float64(g)*0.5 + source.NormFloat64()*0.4 + 2
		group.Codes = append(group.Codes, int32(g))
		x.Numbers = append(x.Numbers, math.Pow(10, u))
		y.Numbers = append(y.Numbers, offset+40-9*float64(g)+4*(u-2)+math.Sin(3*u)+source.NormFloat64())
	}
	made, err := table.New(group, x, y)
	if err != nil {
		t.Fatal(err)
	}
	return made
}

func asked(t testing.TB, from *table.Table, by ...Key) *Answer {
	t.Helper()
	answer, err := Of(t.Context(), from, &Question{X: &Value{"metres", true}, Y: &Value{"load", false}, By: by})
	if err != nil {
		t.Fatal(err)
	}
	return answer
}

func moments(a *Answer) []Moments {
	out := make([]Moments, len(a.Groups))
	for i, g := range a.Groups {
		out[i] = g.Moments
	}
	return out
}

func near(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if !(math.Abs(got-want) <= share*math.Max(math.Abs(want), 1e-300)) {
		t.Errorf("%s: %v, want %v", what, got, want)
	}
}

// TestWhatFollowsFromSumsFollowsFromRows holds fits of summaries against those of the rows.
func TestWhatFollowsFromSumsFollowsFromRows(t *testing.T) {
	for _, offset := range []float64{0, 1e6} {
		from := flights(t, 20_000, offset)
		x := make([]float64, from.Rows())
		for i, v := range from.Column("metres").Numbers {
			x[i] = math.Log10(v)
		}
		y, codes := from.Column("load").Numbers, from.Column("district").Codes
		groups := asked(t, from, Key{Kind: Level, Column: "district"})
		all, err := groups.All().Line()
		if err != nil {
			t.Fatal(err)
		}
		want, _ := model.FitLine(t.Context(), x, y)
		same := func(what string, got, want *model.Line) {
			t.Helper()
			for name, pair := range map[string][2]float64{"slope": {got.Slope, want.Slope}, "its error": {got.SESlope, want.SESlope},
				"middle": {got.At(2), want.At(2)}, "residual": {got.RSE, want.RSE}, "R²": {got.R2, want.R2}, "rows": {float64(got.N), float64(want.N)},
				"from": {got.XMin, want.XMin}, "to": {got.XMax, want.XMax}} {
				near(t, what+", "+name, pair[0], pair[1], 1e-9)
			}
		}
		same("all rows", all, want)
		lines, _ := model.FitLines(t.Context(), x, y, codes, 3)
		for _, g := range groups.Groups {
			line, _ := g.Line()
			same(g.Texts[0], line, lines[slices.Index(from.Column("district").Levels, g.Texts[0])])
		}
		near(t, "correlation", groups.All().Correlation(), want.Sxy/math.Sqrt(want.Sxx*want.Syy), 1e-9)
		low, high := slices.Min(x), slices.Max(x)
		bins := Bins(moments(asked(t, from, Key{Kind: Step, Of: &Value{"metres", true}, From: low, Width: (high - low) / 1200})))
		cubic, err := model.PolynomialOf(bins, 3)
		if err != nil {
			t.Fatal(err)
		}
		wanted, _ := model.FitPolynomial(t.Context(), x, y, 3)
		local, _ := smooth.FitLocalOf(t.Context(), bins, 0.5, 1)
		localWanted, _ := smooth.FitLocal(t.Context(), x, y, 0.5, 1)
		spline, _ := smooth.FitSplineOf(t.Context(), bins, smooth.Usual)
		splineWanted, _ := smooth.FitSpline(t.Context(), x, y, smooth.Usual)
		for i := range 11 {
			u := low + (high-low)*float64(i)/10
			span := 30.0 // of y, on the paper
			near(t, fmt.Sprintf("cubic at %v", u), span+cubic.At(u)-wanted.At(u), span, 1e-6)
			near(t, fmt.Sprintf("local at %v", u), span+local.At(u)-localWanted.At(u), span, 1e-3)
			near(t, fmt.Sprintf("spline at %v", u), span+spline.At(u)-splineWanted.At(u), span, 1e-3)
		}
		near(t, "cubic's residual", cubic.RSE, wanted.RSE, 1e-6)
		near(t, "cubic's error", cubic.SE[3], wanted.SE[3], 1e-6)
		near(t, "cubic's R²", cubic.R2, wanted.R2, 1e-6)
	}
}

func TestCellsOfSummariesAreThoseOfRows(t *testing.T) {
	from := flights(t, 5_000, 0)
	x := make([]float64, from.Rows())
	for i, v := range from.Column("metres").Numbers {
		x[i] = math.Log10(v)
	}
	lattice := density.Lattice{OriginX: 0.5, OriginY: 10, StepX: 0.11, StepY: 2.3}
	want, _ := lattice.Count(t.Context(), x, from.Column("load").Numbers)
	got, err := Of(t.Context(), from, &Question{By: []Key{{Kind: Hexagon, Of: &Value{"metres", true}, And: &Value{"load", false},
		From: 0.5, Width: 0.11, FromY: 10, WidthY: 2.3}}})
	if err != nil || len(got.Groups) != len(want) {
		t.Fatalf("%v, %d cells, want %d", err, len(got.Groups), len(want))
	}
	counted := map[string]int{}
	for _, g := range got.Groups {
		counted[fmt.Sprint(g.Numbers)] = int(g.N)
	}
	for _, c := range want {
		if counted[fmt.Sprintf("[%d %d]", c.I, c.J)] != c.Count {
			t.Errorf("cell %+v: %d", c, counted[fmt.Sprintf("[%d %d]", c.I, c.J)])
		}
	}
	histogram, _ := density.BinBy(x, 20)
	bins, _ := Of(t.Context(), from, &Question{By: []Key{{Kind: Edges, Of: &Value{"metres", true}, Edges: histogram.Edges}}})
	for _, g := range bins.Groups {
		if histogram.Counts[g.Numbers[0]] != int(g.N) {
			t.Errorf("place %d: %d, want %d", g.Numbers[0], g.N, histogram.Counts[g.Numbers[0]])
		}
	}
	if bins.Rows() != 5000 {
		t.Errorf("%d rows", bins.Rows())
	}
}

// TestPartsTakenTogetherAreTheWhole holds that it does not matter how a table is divided, nor in which order its parts come.
func TestPartsTakenTogetherAreTheWhole(t *testing.T) {
	from := flights(t, 3_000, 1e6)
	by := []Key{{Kind: Level, Column: "district"}, {Kind: Step, Of: &Value{"load", false}, From: 1e6, Width: 10}}
	want := asked(t, from, by...)
	source := rand.New(rand.NewPCG(1, 2))
	for range 20 {
		var gathered Gathering
		rows := source.Perm(3_000)
		for len(rows) > 0 {
			n := min(1+source.IntN(900), len(rows))
			for _, g := range asked(t, from.Select(rows[:n]), by...).Groups {
				if err := gathered.Add(g); err != nil {
					t.Fatal(err)
				}
			}
			rows = rows[n:]
		}
		for i, g := range gathered.Answer().Groups {
			w := want.Groups[i]
			if g.N != w.N || !slices.Equal(g.Texts, w.Texts) || !slices.Equal(g.Numbers, w.Numbers) || g.XMin != w.XMin || g.YMax != w.YMax {
				t.Fatalf("%+v, want %+v", g, w)
			}
			near(t, "x̄", g.X, w.X, 1e-12)
			near(t, "Sxx", g.XX, w.XX, 1e-9)
			near(t, "Syy", g.YY, w.YY, 1e-7)
		}
	}
}

func TestStrangeSums(t *testing.T) {
	row := func(x, y float64) Moments { return Moments{N: 1, X: x, Y: y, XMin: x, XMax: x, YMin: y, YMax: y} }
	for what, m := range map[string]Moments{"no row": {}, "one row": row(1, 2), "no spread": row(1, 2).With(row(1, 3)),
		"beyond squares": row(1e200, 1).With(row(-1e200, 2))} {
		if line, err := m.Line(); err == nil {
			t.Errorf("%s: %+v", what, line)
		}
	}
	exact := Moments{}
	for i := range 1000 {
		exact = exact.With(row(float64(i)/7, 3+float64(i)/7*1e-3))
	}
	if line, err := exact.Line(); err != nil || line.RSS != 0 || math.Abs(line.Slope-1e-3) > 1e-14 {
		t.Errorf("an exact line: %+v, %v", line, err)
	}
	if m := (Moments{}); !math.IsNaN(m.Correlation()) || m.With(m).N != 0 {
		t.Error("of no rows nothing is told")
	}
	if _, err := model.PolynomialOf(Bins([]Moments{row(1, 2), row(2, 3)}), 3); err == nil {
		t.Error("a cubic through two points")
	}
	if _, err := smooth.FitLocalOf(t.Context(), Bins([]Moments{row(1, 2)}), 0.5, 1); err == nil {
		t.Error("a local regression of one row")
	}
	var g Gathering
	long := strings.Repeat("蜜", MostLetters/6)
	if g.Add(Group{Texts: []string{long}}) != nil || g.Add(Group{Texts: []string{long + "a"}}) != ErrManyGroups {
		t.Error("letters are not counted")
	}
	for _, bad := range []Key{{Kind: "?"}, {Kind: Level}, {Kind: Step, Of: &Value{}},
		{Kind: Edges, Of: &Value{}, Edges: make([]float64, MostEdges+1)},
		{Kind: Hexagon, Of: &Value{}, Width: 1}} {
		if (&Question{By: []Key{bad}}).Check() == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
	if (&Question{By: []Key{{Kind: Reason}, {Kind: Level, Column: "a"}}}).Check() == nil || (&Question{Y: &Value{}}).Check() == nil {
		t.Error("a question that has no answer is taken")
	}
}
