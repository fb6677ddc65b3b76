package figure

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/primitive"
	"copperlark/core/table"
)

// TestACurveHoldsItsRows holds that what lies under each curve is its rows, counted as the
// bins of a histogram count them, on linear and on log axes.
func TestACurveHoldsItsRows(t *testing.T) {
	source := rand.New(rand.NewPCG(4, 4))
	var values []float64
	var groups []string
	for i := range 900 {
		values = append(values, math.Exp(0.5*source.NormFloat64()+float64(i%3)))
		groups = append(groups, []string{"a", "b", "c"}[min(i%3, 2)])
	}
	data, err := table.New(table.NewNumbers("kg", values), table.NewCategory("g", groups))
	if err != nil {
		t.Fatal(err)
	}
	for _, more := range []string{"", "\nlog x", "\ncolour by g", "\nlog x\ncolour by g"} {
		f, problems := draw(t, data, "plot spread of kg\nas histogram and curve"+more)
		if problems != nil {
			t.Fatal(problems)
		}
		bars, curves := layersOf(f, "histogram", primitive.Rects), layersOf(f, "curve", primitive.Paths)
		counted, under := 0.0, 0.0
		for i := range bars[0].Count {
			counted += (bars[0].Y2.At(i) - bars[0].Y.At(i)) * (bars[0].X2.At(i) - bars[0].X.At(i))
		}
		for i := range curves[0].Count {
			from, to := curves[0].Vertices(i)
			for k := from + 1; k < to; k++ {
				under += (curves[0].X.At(k) - curves[0].X.At(k-1)) * (curves[0].Y.At(k) + curves[0].Y.At(k-1)) / 2
			}
		}
		if math.Abs(under-counted)/counted > 0.02 {
			t.Errorf("%q: %.4f lies under the curves, %.4f in the bars", more, under, counted)
		}
		if want := 1 + 2*strings.Count(more, "colour"); curves[0].Count != want {
			t.Errorf("%q: %d curves, want %d", more, curves[0].Count, want)
		}
	}
	lonely, err := table.New(table.NewNumbers("kg", []float64{3, 3, 3}))
	if err != nil {
		t.Fatal(err)
	}
	f, problems := draw(t, lonely, "plot spread of kg\nas curve")
	if problems != nil || len(layersOf(f, "curve", primitive.Paths)) != 0 || len(f.Rows.LeftOut) == 0 {
		t.Errorf("three equal values: %v, %+v", problems, f.Rows)
	}
}
