package figure

import (
	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/primitive"
)

// stroked draws what a layer found with the lines that were said.
func stroked(found *mark.Computed, s chart.Stroke) *mark.Computed {
	if !s.Said() || found == nil {
		return found
	}
	for _, fit := range found.Fits {
		if s.Colour != "" {
			fit.Light, fit.Dark = colour.OnPapers(s.Colour)
		}
		if s.Dash != "" {
			fit.Dash = s.Pattern(fitWidth)
		}
	}
	draw := found.Draw
	found.Draw = func(p *mark.Panel, sink *mark.Sink) {
		before := len(sink.Layers)
		draw(p, sink)
		for _, l := range sink.Layers[before:] {
			restroke(l, s)
		}
	}
	return found
}

// fitWidth is about how wide lines of fits are.
const fitWidth = 2.4

func restroke(l *mark.Placed, s chart.Stroke) {
	if s.Colour != "" {
		l.Style.Light, l.Style.Dark = colour.OnPapers(s.Colour)
		if l.Kind != primitive.Texts {
			l.Keys.Colour, l.Colour = 0, primitive.Array{}
		}
		for i := range l.End {
			l.End[i].Light, l.End[i].Dark = l.Style.Light, l.Style.Dark
		}
	}
	if l.Kind != primitive.Paths && l.Kind != primitive.Segments {
		return
	}
	if s.Width != 0 {
		l.Style.Width = s.Width
	}
	if s.Dash != "" {
		l.Style.Dash = s.Pattern(l.Style.Width)
	}
}
