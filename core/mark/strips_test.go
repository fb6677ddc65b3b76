package mark

import (
	"math"
	"slices"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/primitive"
)

// TestStripsStayAtTheirPlace holds that dots are strewn within the room of their group, that
// values are not moved, that a row lies in the same place whatever rows are drawn beside it,
// and that the chart may be turned.
func TestStripsStayAtTheirPlace(t *testing.T) {
	data := hives(300)
	layer := func(d *chart.Document, drop int) (*Case, *primitive.Layer) {
		c := caseOf(data, d, "")
		c.Rows, c.U, c.V = c.Rows[drop:], c.U[drop:], c.V[drop:]
		layers, _ := layersOf(t, strips, c)
		return c, &layers[0].Layer
	}
	upright := &chart.Document{Version: chart.Version, Y: column("kg"), X: column("district"), Layers: []chart.Layer{{Mark: "strips"}}}
	c, dots := layer(upright, 0)
	seen := map[float64]bool{}
	for i := range dots.Count {
		at := -0.5 + 4*dots.X.At(i)
		if math.Abs(at-c.U[i]) > strewn+1e-5 {
			t.Fatalf("row %d of place %v lies at %v", i, c.U[i], at)
		}
		seen[at] = true
	}
	if len(seen) < 250 {
		t.Errorf("%d of 300 dots lie in places of their own", len(seen))
	}
	_, fewer := layer(upright, 100)
	for i := range fewer.Count {
		if math.Abs(fewer.X.At(i)-dots.X.At(i+100)) > 1e-6 {
			t.Fatalf("row %d has moved because others are not drawn", i+100)
		}
	}
	turned := &chart.Document{Version: chart.Version, Y: column("district"), X: column("kg"), Layers: []chart.Layer{{Mark: "strips"}}}
	_, side := layer(turned, 0)
	for i := range side.Count {
		if math.Abs(side.Y.At(i)-dots.X.At(i)) > 1e-6 || math.Abs(side.X.At(i)-dots.Y.At(i)) > 1e-6 {
			t.Fatalf("turned, row %d lies elsewhere", i)
		}
	}
	if problems := Bind(&chart.Document{Version: chart.Version, Y: column("kg"), X: column("ha"), Layers: []chart.Layer{{Mark: "strips"}}},
		data).Problems(); !slices.ContainsFunc(problems, func(p chart.Problem) bool { return p.Advice != "" }) {
		t.Errorf("strips of two numbers: %+v", problems)
	}
}
