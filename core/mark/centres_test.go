package mark

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/table"
)

// TestTheLineBetweenCentresIsTheSlopeBetweenGroups compares with the slope that the findings
// tell, on tables at random.
func TestTheLineBetweenCentresIsTheSlopeBetweenGroups(t *testing.T) {
	s := rand.New(rand.NewPCG(2, 9))
	for range 100 {
		n, k := 3+s.IntN(60), 1+s.IntN(6)
		x, y, names, rows, codes := make([]float64, n), make([]float64, n), make([]string, n), make([]uint32, n), make([]int32, n)
		for i := range n {
			g := s.IntN(k)
			codes[i], rows[i], names[i] = int32(g), uint32(i), fmt.Sprint("g", g)
			x[i], y[i] = 1e3*s.NormFloat64()+float64(g), s.NormFloat64()-float64(g)
		}
		data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("g", names))
		if err != nil {
			t.Fatal(err)
		}
		d := &chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"},
			Layers: []chart.Layer{{Mark: chart.CentresLayer, By: "g"}}}
		c := &Case{Document: d, Table: data, X: Bind(d, data).X, Y: Bind(d, data).Y, Rows: rows, U: x, V: y}
		c.Shared = Share(c)
		f := &centres{c: c, groups: c.Shared.Groups("g"), slope: math.NaN()}
		found := ComputeCentres(context.Background(), c)
		f.find()
		want, err := confound.Compare(context.Background(), x, y, codes, k)
		if err != nil {
			t.Fatal(err)
		}
		if want.Between == nil {
			if !math.IsNaN(f.slope) {
				t.Fatalf("a line of slope %v between %d centres", f.slope, len(f.x))
			}
			continue
		}
		if math.Abs(f.slope-want.Between.Slope) > 1e-9*math.Abs(want.Between.Slope) {
			t.Fatalf("the slope between is %v, want %v", f.slope, want.Between.Slope)
		}
		if found.X.Low > f.x[0] || found.Y.High < f.y[0] {
			t.Fatal("a centre lies outside the room that it asks for")
		}
	}
}
