package mark

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
	"copperlark/core/text"
)

// layersOf draws a mark on a panel that its own extents make.
func layersOf(t *testing.T, m *Mark, c *Case) ([]*Placed, *Computed) {
	t.Helper()
	found, err := m.Compute(context.Background(), c)
	if err != nil {
		t.Fatal(err)
	}
	ends := func(e Extent) *scale.Scale { return &scale.Scale{Kind: scale.Linear, From: e.Low, To: e.High} }
	s := &Sink{Mark: m.Name}
	found.Draw(&Panel{X: ends(found.X), Y: ends(found.Y), Width: 600, Height: 400, Metrics: text.Hanken()}, s)
	return s.Layers, found
}

// within reports whether a place lies inside lines that are closed, as one would tell it by walking to the right.
func within(l *primitive.Layer, only func(i int) bool, u, v float64) bool {
	inside := false
	for i := range l.Count {
		if !only(i) {
			continue
		}
		from, to := l.Vertices(i)
		for k, j := from, to-1; k < to; j, k = k, k+1 {
			ax, ay, bx, by := l.X.At(k), l.Y.At(k), l.X.At(j), l.Y.At(j)
			if (ay > v) != (by > v) && u < (bx-ax)*(v-ay)/(by-ay)+ax {
				inside = !inside
			}
		}
	}
	return inside
}

// TestContoursHoldTheirShareOfRows counts the rows inside each line, of clouds of many forms.
func TestContoursHoldTheirShareOfRows(t *testing.T) {
	source := rand.New(rand.NewPCG(12, 5))
	const rows = 3000
	for name, place := range map[string]func() (x, y float64){
		"one cloud":    func() (float64, float64) { return source.NormFloat64(), 100 * source.NormFloat64() },
		"along a line": func() (float64, float64) { v := source.NormFloat64(); return v, 3*v + source.NormFloat64() },
		"two clouds": func() (float64, float64) {
			at := 8 * float64(source.IntN(2))
			return at + source.NormFloat64(), at/2 + source.NormFloat64()
		},
		"skew":   func() (float64, float64) { return math.Exp(0.6 * source.NormFloat64()), source.ExpFloat64() },
		"tiny":   func() (float64, float64) { return 1e-9 * source.NormFloat64(), 1e12 + 1e9*source.NormFloat64() },
		"square": func() (float64, float64) { return source.Float64(), source.Float64() },
	} {
		x, y, group := make([]float64, rows), make([]float64, rows), make([]string, rows)
		for i := range x {
			x[i], y[i] = place()
			group[i] = []string{"a", "b"}[source.IntN(2)]
		}
		data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("g", group))
		if err != nil {
			t.Fatal(err)
		}
		for _, colour := range []string{"", "g"} {
			shares := []float64{25, 50, 90}
			d := &chart.Document{Y: column("y"), X: column("x"), Colouring: chart.Colouring{Colour: colour},
				Layers: []chart.Layer{{Mark: "contours", Shares: shares}}}
			layers, found := layersOf(t, contours, caseOf(data, d, colour))
			if len(layers) != len(shares) {
				t.Fatalf("%s: %d layers for %d shares", name, len(layers), len(shares))
			}
			for s, share := range shares {
				l := &layers[s].Layer
				in, all := 0, 0
				for i := range x {
					if colour != "" && group[i] != "a" {
						continue
					}
					all++
					ofA := func(k int) bool { return colour == "" || l.Colour.At(k) == 0 }
					if within(l, ofA, (x[i]-found.X.Low)/(found.X.High-found.X.Low), (y[i]-found.Y.Low)/(found.Y.High-found.Y.Low)) {
						in++
					}
				}
				if got := 100 * float64(in) / float64(all); math.Abs(got-share) > 2.5 {
					t.Errorf("%s, coloured by %q: the line of %v %% holds %.1f %% of the rows", name, colour, share, got)
				}
			}
		}
	}
}

// TestRidgesAreOfOneArea holds that a ridge is as large as any other, whatever group it is of, above its place.
func TestRidgesAreOfOneArea(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 9))
	var values []float64
	var groups []string
	for i, name := range []string{"a", "b", "c", "d"} {
		for range 50 * (i + 1) {
			values, groups = append(values, float64(10*i)+float64(i+1)*source.NormFloat64()), append(groups, name)
		}
	}
	values, groups = append(values, 7), append(groups, "one row")
	data, err := table.New(table.NewNumbers("y", values), table.NewCategory("g", groups))
	if err != nil {
		t.Fatal(err)
	}
	for _, upright := range []bool{true, false} {
		d := &chart.Document{Y: column("y"), X: column("g"), Layers: []chart.Layer{{Mark: "ridges"}}}
		if !upright {
			d.X, d.Y = d.Y, d.X
		}
		layers, found := layersOf(t, ridges, caseOf(data, d, ""))
		line := layerOf(layers, primitive.Paths)
		if line.Count != 4 || len(found.LeftOut) != 1 || found.LeftOut[0].Count != 1 {
			t.Fatalf("upright %v: %d ridges, left out %+v", upright, line.Count, found.LeftOut)
		}
		along, across, places := line.X, line.Y, found.Y
		if upright {
			along, across, places = line.Y, line.X, found.X
		}
		var areas []float64
		for i := range line.Count {
			from, to := line.Vertices(i)
			area := 0.0
			for k := from + 1; k < to; k++ {
				height := math.Abs(places.Low + across.At(k)*(places.High-places.Low) - float64(i))
				area += height * (along.At(k) - along.At(k-1))
			}
			areas = append(areas, area)
		}
		for i, area := range areas {
			if math.Abs(area/areas[0]-1) > 0.02 {
				t.Errorf("upright %v: ridge %d has %v times the area of the first", upright, i, area/areas[0])
			}
		}
	}
}

// TestStacksAddUp holds random stacks to sums over the rows: parts follow each other without a gap, those below zero
// hang from it, and shares make one whole.
func TestStacksAddUp(t *testing.T) {
	source := rand.New(rand.NewPCG(21, 1))
	for round := range 40 {
		rows := 1 + source.IntN(60)
		values, place, part := make([]float64, rows), make([]string, rows), make([]string, rows)
		for i := range rows {
			values[i] = math.Round(20 * source.NormFloat64())
			if round%2 == 0 {
				values[i] = math.Abs(values[i])
			}
			if source.IntN(9) == 0 {
				values[i] = math.NaN()
			}
			place[i], part[i] = []string{"p", "q", "r"}[source.IntN(3)], []string{"u", "v", "w", "x"}[source.IntN(4)]
		}
		data, err := table.New(table.NewNumbers("y", values), table.NewCategory("g", place), table.NewCategory("h", part))
		if err != nil {
			t.Fatal(err)
		}
		for _, of := range []chart.Aggregate{chart.Count, chart.Sum} {
			d := &chart.Document{Y: chart.Variable{Column: "y", Of: of}, X: column("g"), Colouring: chart.Colouring{Colour: "h"},
				Layers: []chart.Layer{{Mark: "stacked bars"}}}
			c := caseOf(data, d, "h")
			c.drop(values)
			layers, found := layersOf(t, stackedBars, c)
			bars := layerOf(layers, primitive.Rects)
			above, below := map[int]float64{}, map[int]float64{}
			unit := func(share float64) float64 { return found.Y.Low + share*(found.Y.High-found.Y.Low) }
			for i := range bars.Count {
				at := int(math.Round(found.X.Low + (bars.X.At(i)+bars.X2.At(i))/2*(found.X.High-found.X.Low)))
				from, to := unit(bars.Y.At(i)), unit(bars.Y2.At(i))
				edge := above
				if from+to < 0 {
					edge, from, to = below, max(from, to), min(from, to)
				}
				if math.Abs(from-edge[at]) > 1e-3 {
					t.Fatalf("round %d, %s: a part of place %d begins at %v after %v", round, of, at, from, edge[at])
				}
				edge[at] = to
			}
			wantAbove, wantBelow := map[int]float64{}, map[int]float64{}
			type cell struct{ g, h int32 }
			sums := map[cell]float64{}
			for i, v := range values {
				if v != v {
					continue
				}
				if of == chart.Count {
					v = 1
				}
				sums[cell{data.Column("g").Codes[i], data.Column("h").Codes[i]}] += v
			}
			for k, v := range sums {
				if v >= 0 {
					wantAbove[int(k.g)] += v
				} else {
					wantBelow[int(k.g)] += v
				}
			}
			for at := range 3 {
				if math.Abs(above[at]-wantAbove[at]) > 1e-3*(1+math.Abs(wantAbove[at])) ||
					math.Abs(below[at]-wantBelow[at]) > 1e-3*(1+math.Abs(wantBelow[at])) {
					t.Errorf("round %d, %s of place %d: from %v to %v, want from %v to %v", round, of, at, below[at], above[at], wantBelow[at],
						wantAbove[at])
				}
			}
		}
	}
}

// drop takes the rows without a value out of a case, as a figure does before it asks a mark.
func (c *Case) drop(values []float64) {
	var rows []uint32
	var u, v []float64
	var codes []int32
	for i, row := range c.Rows {
		if values[row] == values[row] {
			rows, u, v = append(rows, row), append(u, c.U[i]), append(v, c.V[i])
			if c.Groups != nil {
				codes = append(codes, c.Codes[i])
			}
		}
	}
	c.Rows, c.U, c.V, c.Codes = rows, u, v, codes
	c.Shared = Share(c)
}
