package density

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"copperlark/internal/test/oracle"
)

type input struct {
	Kind      string         `json:"kind"`
	X         oracle.Numbers `json:"x"`
	Y         oracle.Numbers `json:"y"`
	Rule      string         `json:"rule"`
	Bandwidth string         `json:"bandwidth"`
	At        []any          `json:"at"`
	OX        float64        `json:"ox"`
	OY        float64        `json:"oy"`
	DX        float64        `json:"dx"`
	DY        float64        `json:"dy"`
}

var masses = []float64{0.5, 0.8, 0.95}

func levels(heights []float64) []any {
	var list []any
	for i, mass := range masses {
		list = append(list, map[string]any{"mass": mass, "level": heights[i]})
	}
	return list
}

func answerDensity(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[input](t, c)
	if in.Kind == "kde1" {
		d, err := Estimate(t.Context(), in.X, Bandwidth(in.Bandwidth))
		if err != nil {
			return oracle.Refused(err)
		}
		heights := make([]float64, len(masses))
		for i, mass := range masses {
			heights[i], _ = d.Level(t.Context(), mass)
		}
		return map[string]any{"n": d.N, "h": d.H, "levels": levels(heights), "density": oracle.List(in.At,
			func(u any) any { return d.At(u.(float64)) })}
	}
	d, err := EstimateTwoWay(t.Context(), in.X, in.Y)
	if err != nil {
		return oracle.Refused(err)
	}
	heights, err := d.Levels(t.Context(), masses)
	if err != nil {
		t.Fatal(err)
	}
	return map[string]any{"n": d.N, "hx": d.HX, "hy": d.HY, "levels": levels(heights),
		"density": oracle.List(in.At, func(p any) any { at := p.([]any); return d.At(at[0].(float64), at[1].(float64)) })}
}

func answerBins(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[input](t, c)
	if in.Kind == "hexbin" {
		cells, _ := Lattice{in.OX, in.OY, in.DX, in.DY}.Count(t.Context(), in.X, in.Y)
		n := 0
		for _, cell := range cells {
			n += cell.Count
		}
		return map[string]any{"n": n, "n_cells": len(cells), "cells": oracle.List(cells, func(c Cell) any { return []any{c.I, c.J, c.Count} })}
	}
	h, err := Bin(in.X, Rule(in.Rule))
	if err != nil {
		return oracle.Refused(err)
	}
	return map[string]any{"n": h.N, "bins": len(h.Counts), "edges": oracle.List(h.Edges, func(v float64) any { return v }),
		"counts": oracle.List(h.Counts, func(v int) any { return v })}
}

func TestOracles(t *testing.T) {
	oracle.Run(t, map[string]func(*testing.T, oracle.Case) any{"kde": answerDensity, "histogram_hexbin": answerBins})
}

// TestGridsAgreeWithEveryPoint holds the binned ways against the sums over all
// values, to a thousandth of the highest point.
// TestAValueAtAnEdgeIsInTheBinAboveIt bins the edges of histograms once more: each must be in the bin that begins with it,
// however the division rounds.
func TestAValueAtAnEdgeIsInTheBinAboveIt(t *testing.T) {
	source := rand.New(rand.NewPCG(8, 2))
	for range 400 {
		values := make([]float64, 20+source.IntN(200))
		for i := range values {
			values[i] = 1e-3*math.Round(1e4*source.NormFloat64()) + 7.7
		}
		h, err := Bin(values, Sturges)
		if err != nil {
			t.Fatal(err)
		}
		for range 3 { // with its own edges among the values, whose ends stay
			values = append(values, h.Edges[:len(h.Edges)-1]...)
			again, _ := Bin(values, Sturges)
			for i, n := range again.Counts {
				want := 0
				for _, v := range values {
					if v >= again.Edges[i] && (v < again.Edges[i+1] || i == len(again.Counts)-1) {
						want++
					}
				}
				if n != want {
					t.Fatalf("bin %d from %v to %v counts %d values, and holds %d", i, again.Edges[i], again.Edges[i+1], n, want)
				}
			}
			h = again
		}
	}
}

func TestGridsAgreeWithEveryPoint(t *testing.T) {
	source := rand.New(rand.NewPCG(1, 1))
	x, y := make([]float64, 5000), make([]float64, 5000)
	for i := range x {
		x[i] = source.NormFloat64()
		y[i] = x[i]*x[i] + source.NormFloat64()
	}
	d, _ := Estimate(t.Context(), x, Silverman)
	highest := d.At(0)
	line, _ := d.Grid(t.Context(), -4, 4, 81)
	for i, got := range line {
		if want := d.At(-4 + 0.1*float64(i)); math.Abs(got-want) > highest/1000 {
			t.Errorf("at %.1f the grid has %v, every value says %v", -4+0.1*float64(i), got, want)
		}
	}
	two, _ := EstimateTwoWay(t.Context(), x, y)
	const side = 129
	grid, _ := two.Grid(t.Context(), -5, 5, side, -6, 20, side)
	highest = 0
	for _, v := range grid {
		highest = max(highest, v)
	}
	for j := 0; j < side; j += 8 {
		for i := 0; i < side; i += 8 {
			want := two.At(-5+10*float64(i)/(side-1), -6+26*float64(j)/(side-1))
			if got := grid[j*side+i]; math.Abs(got-want) > highest/50 {
				t.Errorf("at %d, %d the grid has %v, every pair says %v", i, j, got, want)
			}
		}
	}
	inside := 0
	heights, _ := two.Levels(t.Context(), []float64{0.8})
	level := heights[0]
	for i := range x {
		if two.At(x[i], y[i]) >= level {
			inside++
		}
	}
	if share := float64(inside) / 5000; math.Abs(share-0.8) > 0.01 {
		t.Errorf("the region of 80 %% holds %.3f", share)
	}
}

// slowNearest looks at many hexagons.
func slowNearest(l Lattice, x, y float64) (bi, bj int) {
	best := math.Inf(1)
	for j := -12; j <= 12; j++ {
		for i := -12; i <= 12; i++ {
			shift := 0.5 * float64(((j%2)+2)%2)
			u, v := (x-l.OriginX)/l.StepX-float64(i)-shift, (y-l.OriginY)/l.StepY-float64(j)
			if d := u*u + 0.75*v*v; d < best {
				best, bi, bj = d, i, j
			}
		}
	}
	return bi, bj
}

func TestHexagonsAreTheNearest(t *testing.T) {
	source := rand.New(rand.NewPCG(2, 1))
	l := Lattice{0.3, -0.2, 0.7, 0.5}
	for range 3000 {
		x, y := 6*(source.Float64()-0.5), 5*(source.Float64()-0.5)
		i, j := l.Nearest(x, y)
		if wi, wj := slowNearest(l, x, y); i != wi || j != wj {
			t.Fatalf("%v, %v is put into %d, %d; %d, %d is nearer", x, y, i, j, wi, wj)
		}
	}
}

// TestBinsThatAreSaid: of so many, and of a width whose multiples are the edges; counts are those of walking over the values.
func TestBinsThatAreSaid(t *testing.T) {
	values := []float64{0, 1, 4.9, 5, 5, 9.99, 10, 15, math.NaN()}
	for _, test := range []struct {
		bins   int
		width  float64
		edges  []float64
		counts []int
	}{
		{0, 5, []float64{0, 5, 10, 15}, []int{3, 3, 2}},
		{0, 4, []float64{0, 4, 8, 12, 16}, []int{2, 3, 2, 1}},
		{3, 0, []float64{0, 5, 10, 15}, []int{3, 3, 2}},
		{1, 0, []float64{0, 15}, []int{8}},
	} {
		h, err := BinOf(values, test.width)
		if test.width == 0 {
			h, err = BinBy(values, test.bins)
		}
		if err != nil || !slices.Equal(h.Edges, test.edges) || !slices.Equal(h.Counts, test.counts) {
			t.Errorf("%d or %g: %+v %v", test.bins, test.width, h, err)
		}
	}
	if h, _ := BinBy([]float64{7, 7}, 2); h.Edges[0] != 6.5 || h.Counts[1] != 2 {
		t.Errorf("of equal values: %+v", h)
	}
	if _, err := BinOf([]float64{0, 1e9}, 1); err != ErrNarrow {
		t.Error(err)
	}
	if _, err := BinOf([]float64{-1e308, 1e308}, 1e-9); err == nil {
		t.Error("bins without end")
	}
	if h, _ := Bin([]float64{1, 2, 3, 3, 4, 4, 4, 5, 5, 6, 7}, Finer); len(h.Counts) < 5 {
		t.Errorf("eleven values in %d bins", len(h.Counts))
	}
}

func FuzzBin(f *testing.F) {
	f.Add(1.0, 2.0, 3.0, 4.0)
	f.Add(0.0, 0.0, 0.0, 1e300)
	f.Add(math.Inf(1), 1e-320, -5.0, math.NaN())
	f.Fuzz(func(t *testing.T, a, b, c, d float64) {
		values := []float64{a, b, c, d, a, b}
		for _, v := range values {
			if math.IsInf(v, 0) || math.Abs(v) > 1e150 {
				return
			}
		}
		for _, rule := range []Rule{FreedmanDiaconis, Sturges} {
			h, err := Bin(values, rule)
			if err != nil {
				continue
			}
			total := 0
			for _, count := range h.Counts {
				total += count
			}
			if total != h.N {
				t.Errorf("%d of %d values are in bins", total, h.N)
			}
		}
	})
}
