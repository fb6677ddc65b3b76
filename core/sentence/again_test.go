package sentence

import (
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/clause"
)

// TestWhatIsSwappedTwiceIsAsItWas of random sentences of the grammar, but those whose lines are worked out from x.
func TestWhatIsSwappedTwiceIsAsItWas(t *testing.T) {
	source := rand.New(rand.NewPCG(27, 5))
	swapped := 0
	for range 400 {
		d := grammar.Draw(source)
		once, mistake := Swapped(d)
		if mistake != nil {
			if !strings.Contains(Print(d), "line y = ") {
				t.Fatalf("%s\nis not turned: %s", Print(d), mistake.Message)
			}
			continue
		}
		twice, _ := Swapped(once)
		if !reflect.DeepEqual(twice, d.Clone()) {
			t.Fatalf("%s\ntwice is\n%s", Print(d), Print(twice))
		}
		if once.X != d.Y || once.Y != d.X || once.Scales.X.Scale != d.Scales.Y.Scale {
			t.Fatalf("%s\nbecomes\n%s", Print(d), Print(once))
		}
		swapped++
	}
	if swapped < 100 {
		t.Errorf("only %d were turned", swapped)
	}
}

// TestLooksLaidOnAnotherChartAreItsOwn lays the looks and scales of random charts on a bare one, which then says them and nothing else.
func TestLooksLaidOnAnotherChartAreItsOwn(t *testing.T) {
	source := rand.New(rand.NewPCG(27, 6))
	for range 400 {
		d := grammar.Draw(source)
		looks, scales := LookOf(d)
		for _, line := range append(looks, scales...) {
			if strings.Contains(line, "titled") || strings.HasPrefix(line, "title") || strings.HasPrefix(line, "note") {
				t.Fatalf("a look says %q", line)
			}
		}
		bare := &chart.Document{Version: chart.Version, X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}
		laid, mistakes := Amended(bare, nil, Amendment{Change: clause.Change{Say: append(looks, scales...)}})
		if mistakes != nil {
			t.Fatalf("%v\nof\n%s", mistakes[0], Print(d))
		}
		if !reflect.DeepEqual(laid.Style(), d.Style()) {
			t.Fatalf("looks of\n%s\nare\n%s", Print(d), Print(laid))
		}
	}
}

// TestWhatIsLeftOutIsNamedNowhere takes columns out of random sentences: the rest stays as it was said.
func TestWhatIsLeftOutIsNamedNowhere(t *testing.T) {
	source := rand.New(rand.NewPCG(27, 7))
	left := 0
	for range 600 {
		d := grammar.Draw(source)
		for _, column := range append(d.Columns(), d.Drawn()...) {
			less, can := Without(d, column)
			if !can {
				continue
			}
			left++
			if slices.Contains(append(less.Columns(), less.Drawn()...), column) {
				t.Fatalf("%s\nwithout %s is\n%s", Print(d), column, Print(less))
			}
			said := strings.Split(Print(d), "\n")
			for _, line := range strings.Split(Print(less), "\n") {
				if !slices.Contains(said, line) && !strings.HasPrefix(line, "fit ") {
					t.Fatalf("%s\nwithout %s says %q", Print(d), column, line)
				}
			}
		}
	}
	if left < 200 {
		t.Errorf("only %d were left out", left)
	}
}
