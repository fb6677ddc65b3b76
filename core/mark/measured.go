package mark

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/model"
	"copperlark/core/primitive"
)

// MeasuredLayer is the mark of what stands where rows were measured, while a column is taken
// out: the same rows as faint rings, and the line through them.
const MeasuredLayer = "as measured"

// mostGhosts is of how many rows it is shown where they were measured.
const mostGhosts = 10_000

// ghostOpacity leaves little but the rims of dots.
const ghostOpacity = 0.02

// drawGhosts draws the dots of a chart that has a column taken out where they were measured.
func drawGhosts(ctx context.Context, c *Case, p *Panel, s *Sink) {
	if c.Measured[0] == nil || len(c.Rows) > mostGhosts {
		return
	}
	ch := c.Channels
	s.Add(Under, primitive.Layer{Mark: MeasuredLayer, Kind: primitive.Points, Count: len(c.Rows), X: p.Positions(ctx, p.X, c.Measured[0]),
		Y: p.Positions(ctx, p.Y, c.Measured[1]), Colour: ch.Colour, Shape: ch.Shape, Radius: ch.Radius,
		Keys: ch.Keys, Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Opacity: ghostOpacity, Fixed: ch.Fixed,
			Largest: ch.Largest, Outline: true}}).Mark = MeasuredLayer
}

// MeasuredLine is the straight line through all rows as they were measured, beside the one
// that a column is taken out of.
func MeasuredLine(ctx context.Context, c *Case) *Computed {
	out := &Computed{X: None(), Y: None(), Draw: func(*Panel, *Sink) {}}
	line, err := model.FitLine(ctx, c.Measured[0], c.Measured[1])
	if err != nil || line.N < SmallestFit {
		return out
	}
	x := []float64{line.XMin, line.XMax}
	y := []float64{line.At(x[0]), line.At(x[1])}
	out.X, out.Y, out.Ends = out.X.Of(x...), out.Y.Of(y...), []EndAt{{Name: MeasuredLayer, U: x[1]}}
	facts := (&fitting{c: c, fit: &chart.Fit{Kind: chart.FitLine, Overall: true}}).facts(straight(line))
	out.Draw = func(p *Panel, s *Sink) {
		s.Add(Under, primitive.Layer{Kind: primitive.Paths, Count: 1, X: p.ShareX(x), Y: p.ShareY(y), Start: primitive.NewArray([]uint32{0}),
			Style: primitive.Style{Light: "#58706c", Dark: "#94ada8", Width: 1.6, Dash: []float64{5, 4}},
			Cards: []primitive.Card{{Heading: MeasuredLayer, Facts: facts}}}).End = []End{
			{Name: MeasuredLayer, Light: "#58706c", Dark: "#94ada8"},
		}
	}
	return out
}
