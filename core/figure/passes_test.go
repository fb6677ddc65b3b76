package figure

import (
	"context"
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
		"plot z against x\ncolour by g\nlook ink\nfit line for each g and overall\nkey inside", "plot z against y\nas hexagons\nkey right\ntext large",
		"plot z against x\nas dots\npanels by h\nlabel top 2 by z with h\nlook sketch", "plot count() against g\nas bars\nkey in order 'b', 'a'\ncolour by g\npalette '#1f7a6d', '#1f7a6e'",
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
	}{{"plot y against x\nas dots", false, true}, {"plot y against x\nas dots", true, false}, {"plot y against x\nas hexagons", false, false}} {
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
	f, problems, err := Build(stoppedAtOnce, mark.Bind(&chart.Document{Y: chart.Variable{Column: "z"}, X: chart.Variable{Column: "x"}}, worked(t)), Options{Metrics: text.Hanken()})
	if f != nil || problems != nil || err != context.Canceled {
		t.Errorf("a figure for nobody: %v %v %v", f, problems, err)
	}
}
