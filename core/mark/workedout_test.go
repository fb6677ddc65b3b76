package mark

import (
	"context"
	"math"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// TestALineWorkedOutFollowsItsExpression compares each place of what is drawn, on plain and log
// axes, with the expression said in Go; lines break at poles and end where they have no value.
func TestALineWorkedOutFollowsItsExpression(t *testing.T) {
	for _, test := range []struct {
		expression, kind string
		f                func(x float64) float64
		runs             int
		room             Extent
	}{
		{"2 * x + 1", "", func(x float64) float64 { return 2*x + 1 }, 1, None()},
		{"60 * x - 100", "", func(x float64) float64 { return 60*x - 100 }, 1, None()},
		{"x", chart.LogScale, func(x float64) float64 { return x }, 1, None()},
		{"1 / (x - 4.1)", "", func(x float64) float64 { return 1 / (x - 4.1) }, 2, None()},
		{"ln(x)", "", math.Log, 1, None()},
		{"x + 1000", "", func(x float64) float64 { return x + 1000 }, 1, Extent{1001, 1001}},
		{"sqrt(-x)", "", func(x float64) float64 { return math.Sqrt(-x) }, 1, None()}, // where there are no rows
	} {
		x, y := []float64{1, 3, 9}, []float64{2, 4, 19}
		data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y))
		if err != nil {
			t.Fatal(err)
		}
		d := &chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}
		d.Scales.X.Scale, d.Scales.Y.Scale = test.kind, test.kind
		c := &Case{Document: d, Table: data, X: Bind(d, data).X, Y: Bind(d, data).Y, Rows: []uint32{0, 1, 2}}
		p := &Panel{X: c.X.Scale(), Y: c.Y.Scale()}
		p.X.From, p.X.To, p.Y.From, p.Y.To = 1, 9, 2, 19
		for i := range x {
			c.U, c.V = append(c.U, p.X.Place(x[i])), append(c.V, p.Y.Place(y[i]))
		}
		found, problems := ComputeReference(context.Background(), c, &chart.Reference{Axis: "y", Formula: test.expression})
		if problems != nil || found.Y != test.room {
			t.Fatalf("%s: %v, room %v, want %v", test.expression, problems, found.Y, test.room)
		}
		sink := &Sink{}
		found.Draw(p, sink)
		if len(sink.Layers) != 1 || sink.Layers[0].Count != test.runs {
			t.Fatalf("%s: %d layers of lines, want 1 of %d", test.expression, len(sink.Layers), test.runs)
		}
		at := func(s *scale.Scale, share float64) float64 {
			low, high := s.Drawn(s.From), s.Drawn(s.To)
			return s.Undrawn(low + share*(high-low))
		}
		for l, i := sink.Layers[0], 0; i < l.X.Len(); i++ {
			px, py := l.X.At(i), l.Y.At(i)
			if want := p.Y.Position(test.f(at(p.X, px))); math.Abs(py) < 3 && math.Abs(py-want) > 2e-3*max(1, math.Abs(want)) {
				t.Fatalf("%s: at %v along x the line is at %v along y, want %v", test.expression, px, py, want)
			}
		}
	}
}
