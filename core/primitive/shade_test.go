package primitive

import (
	"encoding/json"
	"math"
	"testing"

	"copperlark/internal/test/golden"
)

// lattice puts n points about the middle, crowded towards it, without any randomness.
func lattice(n int) (x, y []float64) {
	for i := range n {
		angle, far := 2.399963*float64(i), 0.45*math.Pow(float64(i)/float64(n), 1.5)
		x, y = append(x, math.Round(1e4*(0.5+far*math.Cos(angle)))/1e4), append(y, math.Round(1e4*(0.5+far*math.Sin(angle)))/1e4)
	}
	return x, y
}

// TestShadesAreThoseOfTheContract pins what the browser shades, too, and holds what shading promises:
// nothing where dots can be told apart, more where more of them lie, and the most in one place.
func TestShadesAreThoseOfTheContract(t *testing.T) {
	x, y := lattice(1500)
	sizes, radius := make([]uint8, len(x)), make([]int, len(x))
	for i := range sizes {
		radius[i] = 85 * (i%3 + 1)
		sizes[i] = uint8(radius[i])
	}
	l := &Layer{Kind: Points, Count: len(x), X: Shares(x), Y: Shares(y), Radius: NewArray(sizes), Style: Style{Opacity: 0.5, Largest: 3}}
	s := l.Shades(60, 45, 1)
	rounded := make([]float64, len(s.Values))
	for i, v := range s.Values {
		rounded[i] = math.Round(v*1e4) / 1e4
	}
	text, err := json.Marshal(map[string]any{"x": x, "y": y, "radius": radius, "largest": 3, "opacity": 0.5, "width": 60, "height": 45,
		"columns": s.Columns, "rows": s.Rows, "values": rounded})
	if err != nil {
		t.Fatal(err)
	}
	golden.Compare(t, "../../contract/shade.json", append(text, '\n'))
	middle, edge := s.Values[s.Rows/2*s.Columns+s.Columns/2], s.Values[0]
	if middle < 0.5 || middle > ShadeMost || edge != 0 {
		t.Errorf("the middle is shaded by %v and the corner by %v", middle, edge)
	}
	l.Style.Opacity = 0.01
	if s := l.Shades(1200, 900, 1); s != nil {
		t.Error("dots that can be told apart are shaded")
	}
	for _, nothing := range []*Layer{{Kind: Points}, {Kind: Points, Count: 1, X: Shares([]float64{math.NaN()}),
		Y: Shares([]float64{math.Inf(1)}), Style: Style{Fixed: 1e9}}} {
		if nothing.Shades(100, 100, 1) != nil || nothing.Shades(0, 100, 1) != nil {
			t.Error("nothing is shaded")
		}
	}
}
