package pairs

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/primitive"
	"copperlark/core/table"
)

// TestGroupsAreMeasuredAndDrawn looks at a number that follows groups, one that does not, and
// groups that go together; and counts what stands in each kind of square.
func TestGroupsAreMeasuredAndDrawn(t *testing.T) {
	s := rand.New(rand.NewPCG(7, 7))
	n := 400
	follows, free := make([]float64, n), make([]float64, n)
	place, side := make([]string, n), make([]string, n)
	for i := range n {
		g := i % 4
		place[i], side[i] = fmt.Sprint("place ", g), fmt.Sprint("side ", (g+s.IntN(2))%2)
		follows[i], free[i] = float64(g)+0.3*s.NormFloat64(), s.NormFloat64()
		if i%50 == 0 {
			follows[i] = math.NaN()
		}
	}
	other := table.NewCategory("other", side)
	data, err := table.New(table.NewNumbers("follows", follows), table.NewCategory("place", place), table.NewNumbers("free", free), other)
	if err != nil {
		t.Fatal(err)
	}
	f, err := Look(context.Background(), data, Question{Columns: []string{"place", "follows", "other", "free"}, By: None})
	if err != nil || len(f.Columns) != 4 || f.Columns[2].Name != "place" {
		t.Fatalf("%v, %v", f, err)
	}
	for _, want := range []struct {
		x, y    int
		measure Measure
		clear   bool
		least   float64
		most    float64
		n       int
	}{
		{0, 1, R, false, -0.2, 0.2, 392}, {0, 2, Eta, true, 0.95, 1, 392}, {1, 2, Eta, false, 0, 0.2, 400}, {2, 3, V, false, 0, 0.2, 400},
	} {
		for _, p := range f.Pairs {
			if p.X == want.x && p.Y == want.y && (p.Measure != want.measure || p.Clear != want.clear || !(p.R >= want.least && p.R <= want.most) ||
				p.N != want.n || p.Turns || p.Measure != R && !math.IsNaN(p.Within)) {
				t.Errorf("%d and %d: %+v", want.x, want.y, p)
			}
		}
	}
	kinds := map[string]int{}
	for _, l := range f.Picture(context.Background(), 600).Layers {
		kinds[fmt.Sprint(l.Mark, " ", l.Kind)] += l.Count
		for _, a := range []primitive.Array{l.X, l.Y} {
			for i := range a.Len() {
				if v := a.At(i); !(v >= 0 && v <= 1) {
					t.Fatalf("a %s of %s stands at %v", l.Kind, l.Mark, v)
				}
			}
		}
	}
	want := map[string]int{"boxes rects": 12, "boxes segments": 24, "counts points": 8, "bars rects": 6, "curve paths": 2, "dots points": 392}
	for kind, n := range want {
		if kinds[kind] != n {
			t.Errorf("%d %s are drawn, want %d", kinds[kind], kind, n)
		}
	}
}
