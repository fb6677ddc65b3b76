package figure

import (
	"context"
	"testing"

	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/text"
)

// TestStepsStandInOnePlace holds that every step has the same box, axes and sizes, that all rows
// are in one of them, and that a picture that stands still shows them side by side.
func TestStepsStandInOnePlace(t *testing.T) {
	const typed = "plot y against x\nsize by s\nstep through g"
	stepped, problems := draw(t, small(t), typed)
	panels, _ := draw(t, small(t), "plot y against x\nsize by s\npanels by g")
	if problems != nil || !stepped.Step || len(stepped.Panels) != 2 || len(stepped.Scales) != 2 {
		t.Fatalf("%v: %d panels, %d scales", problems, len(stepped.Panels), len(stepped.Scales))
	}
	rows := 0
	for i, p := range stepped.Panels {
		rows += p.Rows
		if p.Box != stepped.Panels[0].Box || p.Titles[0] != panels.Panels[i].Titles[0] || p.Box.Width <= panels.Panels[i].Box.Width {
			t.Errorf("step %d is %+v, as a panel %+v", i, p, panels.Panels[i])
		}
	}
	if a, b := stepped.Panels[0], stepped.Panels[1]; rows != stepped.Rows.Drawn || a.X != b.X || a.Y != b.Y {
		t.Errorf("%d rows in the steps of %d, with axes %d, %d and %d, %d", rows, stepped.Rows.Drawn, a.X, a.Y, b.X, b.Y)
	}
	followed, problems := draw(t, small(t), typed+" following name")
	if problems != nil {
		t.Fatal(problems)
	}
	for _, l := range followed.Points() {
		for i := range l.Count {
			if l.Who.At(i) != l.Row.At(i) { // each row has a name of its own, in their order
				t.Errorf("row %v is followed as %v", l.Row.At(i), l.Who.At(i))
			}
		}
	}
	document, _ := sentence.Parse(typed, small(t))
	still, problems, err := Build(context.Background(), mark.Bind(document, small(t)), Options{Metrics: text.Hanken(), Still: true})
	if err != nil || problems != nil || still.Step || still.Panels[1].Box != panels.Panels[1].Box {
		t.Errorf("standing still: %v, %v, %+v", err, problems, still.Panels)
	}
	for typed, clause := range map[string]string{"step through g\npanels by name": "step through", "step through g\nedges boxes": "edges"} {
		if _, problems := draw(t, small(t), "plot y against x\n"+typed); problems == nil || problems[0].Clause != clause {
			t.Errorf("%s: %v", typed, problems)
		}
	}
}

// TestWhatIsSharedOfStepsFollowsTheSameRows holds that leaving out the rows beyond the limits moves no row's name to another.
func TestWhatIsSharedOfStepsFollowsTheSameRows(t *testing.T) {
	f, problems := draw(t, small(t), "plot y against x\nx from 5 to 200\nstep through g following name")
	if problems != nil {
		t.Fatal(problems)
	}
	var want []float64
	for _, l := range f.Points() {
		for i := range l.Count {
			if within(l.X.At(i)) && within(l.Y.At(i)) {
				want = append(want, l.Who.At(i))
			}
		}
	}
	published, err := f.Publish(small(t), []string{"x", "y"})
	if err != nil || published.Rows() != len(want) || len(want) < 2 {
		t.Fatalf("%v: %d rows are shared, %d are seen", err, published.Rows(), len(want))
	}
	n := 0
	for _, l := range f.Points() {
		if l.Who.Len() != l.Count {
			t.Errorf("%d dots are followed by %d names", l.Count, l.Who.Len())
		}
		for i := range l.Count {
			if l.Who.At(i) != want[n] {
				t.Errorf("shared row %d is followed as %v, want %v", n, l.Who.At(i), want[n])
			}
			n++
		}
	}
}
