package figure

import (
	"context"
	"fmt"
	"reflect"
	"slices"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// TestPassesStandInAnOrderThatWorks holds that what a pass needs is given before it, by the drawing or by one pass.
func TestPassesStandInAnOrderThatWorks(t *testing.T) {
	known := slices.Clone(given)
	for _, p := range passes {
		for _, needed := range p.needs {
			if !slices.Contains(known, needed) {
				t.Errorf("%s needs %s, which nothing before it gives", p.name, needed)
			}
		}
		for _, gives := range p.gives {
			if slices.Contains(known, gives) {
				t.Errorf("%s gives %s, which is there already", p.name, gives)
			}
			known = append(known, gives)
		}
	}
}

// TestStagesAreValues lays one computed chart out on papers of several sizes, in turn and again: each figure is the one
// that is built for its paper alone, and nothing of one is seen in another.
func TestStagesAreValues(t *testing.T) {
	data := worked(t)
	for _, typed := range []string{
		"plot z against x\ncolour by g\nlook ink\nfit line for each g and overall\nkey inside",
		"plot z against y\nas hexagons\nkey right\ntext large",
		"plot z against x\nas dots\npanels by h\nlabel top 2 by z with h\nlook sketch",
		"plot count() against g\nas bars\nkey in order 'b', 'a'\ncolour by g\npalette '#1f7a6d', '#1f7a6e'",
	} {
		d, mistakes := sentence.Parse(typed, data)
		if mistakes != nil {
			t.Fatalf("%s: %v", typed, mistakes[0])
		}
		bound := mark.Bind(d, data)
		computed, problems, err := Prepare(context.Background(), bound, Options{Metrics: text.Hanken()})
		if err != nil || problems != nil {
			t.Fatalf("%s: %v %v", typed, problems, err)
		}
		keys := fmt.Sprintf("%+v", computed.keys)
		defer func() {
			if fmt.Sprintf("%+v", computed.keys) != keys {
				t.Errorf("%s: drawing changes the keys that were computed", typed)
			}
		}()
		for _, size := range [][2]float64{{900, 560}, {320, 240}, {900, 560}, {1600, 700}, {0, 0}} {
			got, _, _ := computed.Figure(context.Background(), size[0], size[1])
			want, _, _ := Build(context.Background(), mark.Bind(d, data), Options{Width: size[0], Height: size[1], Metrics: text.Hanken()})
			if got == nil || want == nil {
				if got != want {
					t.Errorf("%s on %v: one is drawn, the other is not", typed, size)
				}
				continue
			}
			for _, f := range []*Figure{got, want} {
				f.Relation, f.Fits = nil, nil
			}
			if !reflect.DeepEqual(got, want) {
				t.Errorf("%s on %v is another figure than one built for it alone", typed, size)
			}
		}
	}
}

// TestPlacesOfPointsAreKeptWholeWhereAFirstLookIsCoarse holds when a shared chart keeps a second, exact copy.
func TestPlacesOfPointsAreKeptWholeWhereAFirstLookIsCoarse(t *testing.T) {
	const rows = 30_000
	x, y := make([]float64, rows), make([]float64, rows)
	for i := range x {
		x[i], y[i] = float64(i), float64(i%97)
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y))
	if err != nil {
		t.Fatal(err)
	}
	for _, test := range []struct {
		typed        string
		fine, coarse bool
	}{{"plot y against x\nas dots", false, true}, {"plot y against x\nas dots", true, false},
		{"plot y against x\nas hexagons", false, false}} {
		d, _ := sentence.Parse(test.typed, data)
		f, problems, err := Build(context.Background(), mark.Bind(d, data), Options{Metrics: text.Hanken(), Fine: test.fine})
		if err != nil || problems != nil || f.Coarse() != test.coarse {
			t.Errorf("%s, fine %v: coarse %v (%v, %v)", test.typed, test.fine, f != nil && f.Coarse(), problems, err)
		}
	}
}

// TestASpreadIsToldByItsQuartiles holds what a reading speaks of where one column is plotted.
func TestASpreadIsToldByItsQuartiles(t *testing.T) {
	f, problems := draw(t, worked(t), "plot spread of z")
	if problems != nil {
		t.Fatal(problems[0])
	}
	if s := f.Relation.Spread; s.N != 6 || s.Low != -2 || s.Q1 != -0.75 || s.Median != 0.5 || s.Q3 != 1.75 || s.High != 3 {
		t.Errorf("the spread of −2 … 3 is %+v", s)
	}
}

// TestAGroupOfWhichNoRowIsDrawnHasNoPanel holds it of a group whose only row lacks x.
func TestAGroupOfWhichNoRowIsDrawnHasNoPanel(t *testing.T) {
	f, problems := draw(t, worked(t), "plot y against x\npanels by g")
	if problems != nil || len(f.Panels) != 2 || f.Panels[0].Titles[0] != "a" || f.Panels[1].Titles[0] != "b" {
		t.Errorf("%v: %d panels", problems, len(f.Panels))
	}
}

// TestNamesOfLinesHaveRoomBesideThem holds that the label at the end of a line stands on the paper.
func TestNamesOfLinesHaveRoomBesideThem(t *testing.T) {
	names := []string{"a name that is long", "another one", "a name that is long", "another one", "a name that is long", "another one"}
	data, err := table.New(append(worked(t).Columns(), table.NewCategory("long", names))...)
	if err != nil {
		t.Fatal(err)
	}
	f, problems := draw(t, data, "plot z against y\nfit line for each long")
	if problems != nil {
		t.Fatal(problems[0])
	}
	box, found := f.Panels[0].Box, 0
	for _, l := range f.Layers {
		for i := range l.Words {
			if l.Along > 0 {
				found++
				if right := box.Left + l.X.At(i)*box.Width + l.DX.At(i) + text.Hanken().Width(l.Words[i], l.Style.Size, true); right > f.Width ||
					l.X.At(i)*box.Width+l.DX.At(i) < l.X.At(i)*box.Width {
					t.Errorf("%s ends at %.0f of %.0f, or stands over its line", l.Words[i], right, f.Width)
				}
			}
		}
	}
	if found == 0 {
		t.Error("no line has a name")
	}
}

// TestSelectingStopsWithItsContext holds that no loop over rows goes on for whoever has left, and that nothing is made of
// what was selected until then.
func TestSelectingStopsWithItsContext(t *testing.T) {
	stoppedAtOnce, stop := context.WithCancel(context.Background())
	stop()
	s := &selection{leftOut: make([]uint8, 1<<20)}
	looked := 0
	s.leave(stoppedAtOnce, 8<<20, func(int) bool { looked++; return false })
	if looked > 1<<16 {
		t.Errorf("%d rows are looked at for nobody", looked)
	}
	s.counts.LeftOut = []Reason{{Count: 1}}
	if s.gather(stoppedAtOnce, 8<<20, nil, nil); len(s.rows) > 1<<16 {
		t.Error("rows are gathered for nobody")
	}
	f, problems, err := Build(stoppedAtOnce, mark.Bind(&chart.Document{Y: chart.Variable{Column: "z"}, X: chart.Variable{Column: "x"}},
		worked(t)), Options{Metrics: text.Hanken()})
	if f != nil || problems != nil || err != context.Canceled {
		t.Errorf("a figure for nobody: %v %v %v", f, problems, err)
	}
}
