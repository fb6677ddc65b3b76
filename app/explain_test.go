package app

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// valley is a table with several stories: district turns the relation round, day explains
// nothing, stand is the number of a stand in words, copy is x in other units.
func valley(t *testing.T, rows int) *table.Table {
	t.Helper()
	source := rand.New(rand.NewPCG(6, uint64(rows)))
	kg, ha, copied, day := make([]float64, rows), make([]float64, rows), make([]float64, rows), make([]float64, rows)
	district, remark, stand := make([]string, rows), make([]int32, rows), make([]string, rows)
	for i := range rows {
		g := i % 4
		u := source.NormFloat64()
		ha[i] = 3*float64(g) + u
		kg[i] = 60 - 6*float64(g) + 2*u + source.NormFloat64()
		copied[i], day[i] = 1000*ha[i]+5, float64(86400*source.IntN(900))
		district[i], remark[i], stand[i] = []string{"Tarn", "Brindle", "Fen", "Scarhead"}[g], int32(source.IntN(3)), fmt.Sprintf("S-%d", i)
	}
	data, err := table.New(table.NewNumbers("kg", kg), table.NewNumbers("ha", ha), table.NewCategory("district", district),
		table.NewNumbers("copy", copied),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: day},
		&table.Column{Name: "remark", Kind: table.Text, Codes: remark, Levels: []string{"calm", "lively", "gone"}},
		&table.Column{Name: "stand", Kind: table.Text, Codes: order(rows), Levels: stand}, table.NewNumbers("empty", nans(rows)))
	if err != nil {
		t.Fatal(err)
	}
	return data
}

func order(n int) []int32 {
	out := make([]int32, n)
	for i := range out {
		out[i] = int32(i)
	}
	return out
}

func nans(n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = math.NaN()
	}
	return out
}

// TestEveryColumnIsTriedAndTold holds which columns are tried, what is said of each, and in
// which order and units.
func TestEveryColumnIsTriedAndTold(t *testing.T) {
	data := valley(t, 400)
	document := &chart.Document{Version: chart.Version, Y: chart.Variable{Column: "kg"}, X: chart.Variable{Column: "ha"}}
	got, err := explain(context.Background(), mark.Bind(document, data), nil)
	if err != nil {
		t.Fatal(err)
	}
	if got.Tried != 5 || got.Told != "Slopes per unit" {
		t.Errorf("%d columns are tried, in %q", got.Tried, got.Told)
	}
	said := map[string]Explanation{}
	for _, e := range got.Findings {
		said[e.Column] = e
	}
	for column, want := range map[string]struct {
		verdict confound.Verdict
		words   string
	}{"district": {confound.Reverses, "turns from −1"}, "copy": {confound.TooAlike, "nearly the same as ha: set aside"},
		"day": {confound.Holds, "stays about the same"}, "remark": {confound.Holds, "stays about the same"},
		"empty": {confound.TooLittle, "too few rows"}} {
		if e := said[column]; e.Verdict != want.verdict || !strings.HasPrefix(e.Words, want.words) {
			t.Errorf("%s: %s, %q; want %s, %q", column, e.Verdict, e.Words, want.verdict, want.words)
		}
	}
	if _, tried := said["stand"]; tried || got.Findings[0].Column != "district" || !got.Findings[0].Splits {
		t.Errorf("first stands %+v; a text of each row is tried: %v", got.Findings[0], tried)
	}
	// With district taken out the relation is the one within.
	out := document.Clone()
	out.TakeOut = "district"
	after, err := explain(context.Background(), mark.Bind(out, data), nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range after.Findings {
		if e.Column == "day" && (e.Overall < 1.5 || e.Verdict != confound.Holds) {
			t.Errorf("with district taken out: %+v", e)
		}
	}
}

func TestWhatHasNoSlopeIsNotExplained(t *testing.T) {
	data := valley(t, 40)
	for _, d := range []*chart.Document{
		{Y: chart.Variable{Column: "district"}, X: chart.Variable{Column: "district"}},
		{Y: chart.Variable{Column: "kg", Of: chart.Mean}, X: chart.Variable{Column: "ha"}},
	} {
		d.Version = chart.Version
		got, err := explain(context.Background(), mark.Bind(d, data), nil)
		if err != nil || got.Problem == "" || len(got.Findings) > 0 {
			t.Errorf("%+v: %+v, %v", d.X, got, err)
		}
	}
	stopped, stop := context.WithCancel(context.Background())
	stop()
	if _, err := explain(stopped, mark.Bind(&chart.Document{Version: chart.Version, Y: chart.Variable{Column: "kg"},
		X: chart.Variable{Column: "ha"}}, data), nil); err == nil {
		t.Error("work goes on after it was stopped")
	}
}

// TestWhatHoldsSaysThatRowsAreAlike looks at two series that wander: the intervals of the other ways take rows as
// independent, and that is said; of independent rows nothing is.
func TestWhatHoldsSaysThatRowsAreAlike(t *testing.T) {
	source := rand.New(rand.NewPCG(7, 7))
	for follows, want := range map[float64]bool{0: false, 1: true} {
		x, y := make([]float64, 200), make([]float64, 200)
		for i := range x {
			x[i], y[i] = source.NormFloat64(), source.NormFloat64()
			if i > 0 {
				x[i], y[i] = x[i]+follows*x[i-1], y[i]+follows*y[i-1]
			}
		}
		data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y))
		if err != nil {
			t.Fatal(err)
		}
		got, err := holds(t.Context(), mark.Bind(&chart.Document{Version: chart.Version, Y: chart.Variable{Column: "y"},
			X: chart.Variable{Column: "x"}}, data), nil)
		if err != nil {
			t.Fatal(err)
		}
		words := ""
		for _, span := range got.Words {
			words += span.Text
		}
		if strings.Contains(words, "take rows as independent, and are too narrow.") != want || want && strings.Contains(words, "clearly") {
			t.Errorf("%v: %q", follows, words)
		}
	}
}
