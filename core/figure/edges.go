package figure

import (
	"context"

	"copperlark/core/mark"
	"copperlark/core/scale"
)

// The measures of the strips along the edges, in pixels.
const (
	edgeStrip = 84.0
	edgeGap   = 6.0
)

// strips are what stands along x, above the chart, and along y, beside it.
type strips struct {
	found [2]*mark.EdgeFound
	panel [2]int
}

// hasEdges reports whether strips are drawn.
func (b *Trained) hasEdges() bool {
	return len(b.Document.Edges()) > 0 && !b.Bare && len(b.parts) == 1
}

// trainEdges finds what stands along the edges, and adds a panel for each: it shares one scale
// with the chart, and has one of rows for itself.
func (b *Trained) trainEdges(ctx context.Context) {
	if !b.hasEdges() {
		return
	}
	for i, axis := range []string{"x", "y"} {
		found := mark.ComputeEdge(ctx, b.parts[0].c, axis, b.Document.Edges())
		if found == nil {
			continue
		}
		counts := Scale{
			Channel: "y",
			Scale:   scale.Scale{Kind: scale.Linear, From: 0, To: found.Most},
			Name:    "Rows",
			Title:   "Rows",
			Ticks:   []scale.Tick{},
		}
		panel := Panel{X: b.panels[0].X, Y: len(b.scales), Rows: b.panels[0].Rows, Edge: axis}
		if axis == "y" {
			counts.Channel = "x"
			panel.X, panel.Y = len(b.scales), b.panels[0].Y
		}
		b.strips.found[i], b.strips.panel[i] = found, len(b.panels)
		b.scales, b.panels = append(b.scales, counts), append(b.panels, panel)
	}
}

// edgeRoom is how much room the strips take above and beside the chart.
func (b *Trained) edgeRoom() (above, beside float64) {
	if b.strips.found[0] != nil {
		above = edgeStrip + edgeGap
	}
	if b.strips.found[1] != nil {
		beside = edgeStrip + edgeGap
	}
	return above, beside
}

// edgeBoxes places the strips along the chart.
func (b *Laid) edgeBoxes() {
	main := b.panels[0].Box
	if b.strips.found[0] != nil {
		b.panels[b.strips.panel[0]].Box = Box{main.Left, round(main.Top - edgeGap - edgeStrip), main.Width, edgeStrip}
	}
	if b.strips.found[1] != nil {
		b.panels[b.strips.panel[1]].Box = Box{round(b.Width - edge - edgeStrip), main.Top, edgeStrip, main.Height}
	}
}

// drawEdges draws what stands along the edges.
func (b *Drawn) drawEdges() {
	for i, found := range b.strips.found {
		if found == nil {
			continue
		}
		at := b.figure.Panels[b.strips.panel[i]]
		panel := &mark.Panel{
			Index:   b.strips.panel[i],
			X:       &b.figure.Scales[at.X].Scale,
			Y:       &b.figure.Scales[at.Y].Scale,
			Width:   at.Box.Width,
			Height:  at.Box.Height,
			Metrics: b.Metrics,
		}
		sink := &mark.Sink{Panel: b.strips.panel[i], Mark: mark.EdgesLayer}
		found.Draw(panel, sink)
		for _, l := range sink.Layers {
			b.figure.Layers = append(b.figure.Layers, l.Layer)
		}
	}
}
