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
	b := &Built{Groups: []BuiltGroup{{Name: "Low Fen", X: 20, Y: 70, Spread: 6},
		{Name: "O'Brindle", X: 50, Y: 50, Spread: 3}, {Name: "低地", X: -3, Y: 0, Spread: 10}}, Slope: 0.75, Noise: 0, Rows: 400}
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
	steep := -1.5
	b.Groups[1].Slope, b.Groups[2].Rows = &steep, 3
	own := made()
	counts := map[string]int{}
	for row, code := range own.Column("group").Codes {
		counts[group.Levels[code]]++
		if g := b.Groups[1]; code == 1 && math.Abs(own.Column("y").Numbers[row]-(g.Y-1.5*(own.Column("x").Numbers[row]-g.X))) > 1e-9 {
			t.Fatal("a group with a slope of its own has another")
		}
	}
	if counts["Low Fen"] != 400 || counts["低地"] != 3 || own.Column("x").Numbers[500] != x[500] {
		t.Error("rows of their own:", counts)
	}
	b.Groups[1].Slope, b.Groups[2].Rows = nil, 0
	b.Groups[0].X += 5
	if moved := made().Column("x").Numbers; math.Abs(moved[7]-x[7]-5) > 1e-9 || moved[500] != x[500] {
		t.Errorf("a row of the moved group went from %v to %v, another from %v to %v", x[7], moved[7], x[500], moved[500])
	}
}
