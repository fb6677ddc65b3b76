package mark

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/density"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// curve is the spread of one column as a smooth line: its density, in rows as the bins of a
// histogram count them, so that both can stand on one axis.
var curve = &Mark{
	Name:    "curve",
	Help:    "the spread of one column as a smooth line",
	Also:    "density kde distribution",
	Example: "plot spread of honey_kg\nas curve\ncolour by keeper_school",
	Zero:    true,
	Lines:   true,
	Takes:   []Channel{GroupColour},
	Suits:   func(_, _ *Axis) bool { return false }, // never of itself: it is chosen
	Check:   func(c *Case) []chart.Problem { return histogram.Check(c) },
	Compute: computeCurve,
}

// curvePlaces is at how many places a density is drawn, and curveReach how many bandwidths
// it goes beyond the values.
const (
	curvePlaces = 256
	curveReach  = 2.5
)

// densityOf is a smooth line of one group, in rows a bin.
type densityOf struct {
	group  int
	n      int
	at     []float64
	values []float64
}

func computeCurve(ctx context.Context, c *Case) (*Computed, error) {
	bins, err := density.Bin(c.U, density.Finer)
	if err != nil {
		return nil, err
	}
	width := bins.Edges[1] - bins.Edges[0]
	by := make([][]float64, groupCount(c))
	for i, u := range c.U {
		g := 0
		if c.Groups != nil {
			g = int(c.Codes[i])
		}
		by[g] = append(by[g], u)
	}
	out := &Computed{X: None(), Y: None().Of(0)}
	var curves []densityOf
	for g, values := range by {
		d, err := density.Estimate(ctx, values, density.Silverman)
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err != nil {
			if len(values) > 0 {
				out.LeftOut = append(out.LeftOut, Reason{curveReason(c, g, err), len(values)})
			}
			continue
		}
		extent := None().Of(values...)
		low, high := extent.Low-curveReach*d.H, extent.High+curveReach*d.H
		grid, err := d.Grid(ctx, low, high, curvePlaces)
		if err != nil {
			return nil, err
		}
		one := densityOf{group: g, n: len(values)}
		for i, v := range grid {
			one.at = append(one.at, low+(high-low)*float64(i)/(curvePlaces-1))
			one.values = append(one.values, v*width*float64(len(values)))
		}
		curves = append(curves, one)
		out.X, out.Y = out.X.Of(low, high), out.Y.Of(one.values...)
	}
	if len(curves) == 0 && len(c.U) > 0 {
		out.X = out.X.Of(bins.Edges[0], bins.Edges[len(bins.Edges)-1])
	}
	out.Draw = func(p *Panel, s *Sink) { drawCurves(c, curves, p, s) }
	return out, nil
}

// curveReason says of a group why it has no curve.
func curveReason(c *Case, g int, err error) string {
	if c.Groups == nil {
		return err.Error() + ", so that there is no curve"
	}
	return c.Groups.Levels[g] + ": " + err.Error() + ", so that there is no curve"
}

func drawCurves(c *Case, curves []densityOf, p *Panel, s *Sink) {
	var xs, ys, zeros []float64
	var start []uint32
	var entries []uint8
	lines := primitive.Layer{Kind: primitive.Paths, Count: len(curves), Style: ink(lineWidth)}
	for _, one := range curves {
		start, entries = append(start, uint32(len(xs))), append(entries, uint8(one.group))
		xs, ys = append(xs, one.at...), append(ys, one.values...)
		top := 0
		for i, v := range one.values {
			if v > one.values[top] {
				top = i
			}
		}
		card := primitive.Card{
			Facts: []primitive.Fact{
				{Name: "highest at", Value: ValueText(c.X, c.X.Scale().Undrawn(one.at[top]))},
				{Name: "rows", Value: scale.Number(float64(one.n), 0)},
			},
		}
		if c.Groups != nil {
			card.Heading = table.Prose(c.Groups.Name) + " " + c.Groups.Levels[one.group]
		}
		lines.Cards = append(lines.Cards, card)
	}
	for range xs {
		zeros = append(zeros, 0)
	}
	lines.X, lines.Y, lines.Start = p.ShareX(xs), p.ShareY(ys), primitive.NewArray(start)
	fill := primitive.Layer{Kind: primitive.Areas, Count: len(curves), X: lines.X, Y: p.ShareY(zeros), Y2: lines.Y, Start: lines.Start,
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Opacity: 0.16}}
	if c.Groups != nil {
		lines.Colour, lines.Keys = primitive.NewArray(entries), primitive.Keys{Colour: c.Groups.Key}
		fill.Colour, fill.Keys = lines.Colour, lines.Keys
	}
	s.Add(Under, fill)
	s.Add(Middle, lines)
}
