package prepare

import (
	"context"
	"math"
	"testing"

	"copperlark/core/describe"
	"copperlark/core/table"
)

// TestBuiltGroupsStandWhereTheyWerePut compares centres, spreads and the slope with what was
// asked, and that rows keep their chance when something is moved.
func TestBuiltGroupsStandWhereTheyWerePut(t *testing.T) {
	b := &Built{Groups: []BuiltGroup{{"Low Fen", 20, 70, 6}, {"O'Brindle", 50, 50, 3}, {"低地", -3, 0, 10}}, Slope: 0.75, Noise: 0, Rows: 400}
	made := func() *table.Table {
		empty, err := table.New()
		if err != nil {
			t.Fatal(err)
		}
		state, err := Run(context.Background(), empty, Parse(b.Typed()), Environment{Seed: 1})
		if err != nil {
			t.Fatalf("%s: %v", b.Typed(), err)
		}
		return state.Table
	}
	first := made()
	group, x, y := first.Column("group"), first.Column("x").Numbers, first.Column("y").Numbers
	for i, g := range b.Groups {
		var xs []float64
		for row := range x {
			if group.Levels[group.Codes[row]] != g.Name {
				continue
			}
			xs = append(xs, x[row])
			if want := g.Y + b.Slope*(x[row]-g.X); math.Abs(y[row]-want) > 1e-9 {
				t.Fatalf("a row of %s stands at %v, want %v", g.Name, y[row], want)
			}
		}
		if s := describe.Summarise(xs); s.N != b.Rows || math.Abs(s.Mean-g.X) > 0.2*g.Spread || math.Abs(s.SD-g.Spread) > 0.1*g.Spread {
			t.Errorf("group %d: %d rows about %v, sd %v", i, s.N, s.Mean, s.SD)
		}
	}
	b.Groups[0].X += 5
	if moved := made().Column("x").Numbers; math.Abs(moved[7]-x[7]-5) > 1e-9 || moved[500] != x[500] {
		t.Errorf("a row of the moved group went from %v to %v, another from %v to %v", x[7], moved[7], x[500], moved[500])
	}
}
