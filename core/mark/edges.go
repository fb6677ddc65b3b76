package mark

import (
	"context"
	"slices"

	"copperlark/core/density"
	"copperlark/core/describe"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// EdgesLayer is the mark of what stands along the edges of a chart: how its rows are spread
// along each axis, on the axis's own scale.
const EdgesLayer = "edges"

// Edge is one way of showing a spread along an edge.
type Edge struct {
	Name, Help string
	compute    func(e *edge, ctx context.Context)
}

// Edges lists the ways; several can stand together.
var Edges = []*Edge{
	{"histogram", "how many rows lie in each of equal bins", (*edge).histogram},
	{"curve", "smooth lines, by group where groups have colours", (*edge).curves},
	{"boxes", "quartiles, by group where groups have colours", (*edge).boxes},
}

// EdgeNamed finds a way; nil where there is none.
func EdgeNamed(name string) *Edge {
	for _, e := range Edges {
		if e.Name == name {
			return e
		}
	}
	return nil
}

// edge is what is drawn along one axis: along it in drawn space, and across it in rows a bin.
type edge struct {
	c      *Case
	axis   *Axis
	values []float64
	bins   *density.Histogram
	most   float64 // across
	lanes  float64 // how much of the strip boxes take, in rows a bin
	layers []edgeLayer
}

type edgeLayer struct {
	layer         primitive.Layer
	along, across []float64
	along2, to    []float64
	start         []uint32
	entries       []uint8
	level         Level
	isRect        bool
}

// EdgeFound is what stands along an edge.
type EdgeFound struct {
	Most float64 // how far it reaches across, from 0
	draw func(p *Panel, s *Sink)
}

// Draw draws it on a panel that shares one scale with the chart.
func (f *EdgeFound) Draw(p *Panel, s *Sink) { f.draw(p, s) }

// ComputeEdge finds how the rows of a chart are spread along an axis, in the ways that are
// named. Bins are those of a histogram of all rows (Freedman and Diaconis); smooth lines are
// densities times rows and the width of a bin, so that both have one scale. Nil where there is no
// spread.
func ComputeEdge(ctx context.Context, c *Case, along string, ways []string) *EdgeFound {
	e := &edge{c: c, axis: c.X, values: c.U}
	if along == "y" {
		e.axis, e.values = c.Y, c.V
	}
	bins, err := density.Bin(e.values, density.Finer)
	if err != nil || ctx.Err() != nil {
		return nil
	}
	e.bins, e.most = bins, 1
	for _, n := range bins.Counts {
		e.most = max(e.most, float64(n))
	}
	e.lanes = e.most
	for _, way := range Edges {
		if slices.Contains(ways, way.Name) {
			way.compute(e, ctx)
		}
	}
	return &EdgeFound{Most: 1.04 * e.most, draw: func(p *Panel, s *Sink) {
		for i := range e.layers {
			e.draw(&e.layers[i], p, s, along == "y")
		}
	}}
}

func (e *edge) text(u float64) string { return ValueText(e.axis, e.axis.Scale().Undrawn(u)) }

func (e *edge) histogram(context.Context) {
	l := edgeLayer{
		level:  Under,
		isRect: true,
		layer: primitive.Layer{
			Kind:  primitive.Rects,
			Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true, Opacity: 0.2, Width: -1},
		},
	}
	for i, n := range e.bins.Counts {
		if n == 0 {
			continue
		}
		l.along, l.along2 = append(l.along, e.bins.Edges[i]), append(l.along2, e.bins.Edges[i+1])
		l.across, l.to = append(l.across, 0), append(l.to, float64(n))
		l.layer.Cards = append(
			l.layer.Cards,
			primitive.Card{
				Heading: "from " + e.text(e.bins.Edges[i]) + " to " + e.text(e.bins.Edges[i+1]),
				Facts:   []primitive.Fact{{Name: "rows", Value: scale.Number(float64(n), 0)}},
			},
		)
	}
	l.layer.Count = len(l.along)
	e.layers = append(e.layers, l)
}

// byGroup are the values of each group that has a colour; all of them where none has.
func (e *edge) byGroup() [][]float64 {
	by := make([][]float64, groupCount(e.c))
	for i, v := range e.values {
		g := 0
		if e.c.Groups != nil {
			g = int(e.c.Codes[i])
		}
		by[g] = append(by[g], v)
	}
	return by
}

// heading names a group on a card.
func (e *edge) heading(g int) string {
	if e.c.Groups == nil {
		return ""
	}
	return table.Prose(e.c.Groups.Name) + " " + e.c.Groups.Levels[g]
}

func (e *edge) curves(ctx context.Context) {
	width := e.bins.Edges[1] - e.bins.Edges[0]
	l := edgeLayer{level: Middle, layer: primitive.Layer{Kind: primitive.Paths, Style: ink(1.6)}}
	for g, values := range e.byGroup() {
		d, err := density.Estimate(ctx, values, density.Silverman)
		if err != nil {
			continue // one value, or none: the key tells how many rows it has
		}
		extent := None().Of(values...)
		low, high := extent.Low-curveReach*d.H, extent.High+curveReach*d.H
		grid, err := d.Grid(ctx, low, high, curvePlaces)
		if err != nil {
			continue
		}
		l.start, l.entries = append(l.start, uint32(len(l.along))), append(l.entries, uint8(g))
		for i, v := range grid {
			at := v * width * float64(len(values))
			l.along, l.across = append(l.along, low+(high-low)*float64(i)/(curvePlaces-1)), append(l.across, at)
			e.most = max(e.most, at)
		}
		l.layer.Cards = append(
			l.layer.Cards,
			primitive.Card{Heading: e.heading(g), Facts: []primitive.Fact{{Name: "rows", Value: scale.Number(float64(len(values)), 0)}}},
		)
	}
	l.layer.Count = len(l.start)
	e.layers = append(e.layers, l)
}

// boxes lie side by side across the edge, one a group.
func (e *edge) boxes(context.Context) {
	by := e.byGroup()
	width := e.lanes / float64(len(by))
	box := edgeLayer{
		level:  Middle,
		isRect: true,
		layer: primitive.Layer{
			Kind:  primitive.Rects,
			Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true, Opacity: 0.45},
		},
	}
	whisker := edgeLayer{level: Middle, isRect: true, layer: primitive.Layer{Kind: primitive.Segments, Style: ink(1.2)}}
	middle := edgeLayer{level: Over, isRect: true, layer: primitive.Layer{Kind: primitive.Segments, Style: ink(2.2)}}
	put := func(l *edgeLayer, g int, from, to, across, across2 float64) {
		l.along = append(l.along, from)
		l.along2 = append(l.along2, to)
		l.across = append(l.across, across)
		l.to = append(l.to, across2)
		l.entries = append(l.entries, uint8(g))
		l.layer.Count++
	}
	for g, values := range by {
		if len(values) == 0 {
			continue
		}
		slices.Sort(values)
		q1, median, q3 := describe.Quantile(values, 0.25), describe.Quantile(values, 0.5), describe.Quantile(values, 0.75)
		reach := 1.5 * (q3 - q1)
		low, _ := slices.BinarySearch(values, q1-reach)
		high := len(values) - 1
		for high > low && values[high] > q3+reach {
			high--
		}
		at := width * (float64(len(by)-1-g) + 0.5)
		put(&whisker, g, values[low], values[high], at, at)
		put(&box, g, q1, q3, at-0.32*width, at+0.32*width)
		put(&middle, g, median, median, at-0.32*width, at+0.32*width)
		box.layer.Cards = append(
			box.layer.Cards,
			primitive.Card{
				Heading: e.heading(g),
				Facts: []primitive.Fact{
					{Name: "median", Value: e.text(median)},
					{Name: "middle half", Value: e.text(q1) + " to " + e.text(q3)},
					{Name: "rows", Value: scale.Number(float64(len(values)), 0)},
				},
			},
		)
	}
	e.layers = append(e.layers, whisker, box, middle)
}

// draw puts a layer along the edge: across runs up above the chart, and to the right beside it.
func (e *edge) draw(l *edgeLayer, p *Panel, s *Sink, beside bool) {
	out := l.layer
	if e.c.Groups != nil && len(l.entries) == out.Count {
		out.Colour, out.Keys = primitive.NewArray(l.entries), primitive.Keys{Colour: e.c.Groups.Key}
	}
	along, across := p.ShareX, p.ShareY
	if beside {
		along, across = p.ShareY, p.ShareX
	}
	x, y := along(l.along), across(l.across)
	var x2, y2 primitive.Array
	if l.isRect {
		x2, y2 = along(l.along2), across(l.to)
	}
	if beside {
		x, y, x2, y2 = y, x, y2, x2
	}
	out.X, out.Y, out.X2, out.Y2 = x, y, x2, y2
	if len(l.start) > 0 {
		out.Start = primitive.NewArray(l.start)
	}
	s.Add(l.level, out)
}
