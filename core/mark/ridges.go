package mark

import (
	"context"

	"copperlark/core/density"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// ridges are a smooth line for each group, one behind the other.
var ridges = &Mark{
	Name:    "ridges",
	Help:    "a smooth line for each group, one behind the other",
	Also:    "density joy ridgeline distribution",
	Example: "plot district against honey_kg\nas ridges",
	Takes:   []Channel{GroupColour},
	Suits:   func(_, _ *Axis) bool { return false }, // never of itself: it is chosen
	Check:   strips.Check,
	Compute: computeRidges,
}

// ridgeHeight is how high the highest ridge is, in places of groups.
const ridgeHeight = 1.7

// ridge is the density of one group.
type ridge struct {
	place       float64
	level       string
	n           int
	along, high []float64
}

func computeRidges(ctx context.Context, c *Case) (*Computed, error) {
	upright := boxable(c.X, c.Y) // groups along x
	across, values, axis := c.V, c.U, c.X
	if upright {
		across, values, axis = c.U, c.V, c.Y
	}
	groups := c.Y
	if upright {
		groups = c.X
	}
	by := make([][]float64, len(groups.Column.Levels))
	for i, place := range across {
		by[int(place)] = append(by[int(place)], values[i])
	}
	out := &Computed{X: None(), Y: None()}
	var list []ridge
	top := 0.0
	extent, places := None(), None()
	for g, own := range by {
		if len(own) == 0 {
			continue
		}
		places = places.Of(float64(g)-0.5, float64(g)+0.5)
		extent = extent.Of(own...)
		d, err := density.Estimate(ctx, own, density.Silverman)
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err != nil {
			out.LeftOut = append(
				out.LeftOut,
				Reason{groups.Column.Levels[g] + ": " + err.Error() + ", so that there is no ridge", len(own)},
			)
			continue
		}
		of := None().Of(own...)
		low, high := of.Low-curveReach*d.H, of.High+curveReach*d.H
		grid, err := d.Grid(ctx, low, high, curvePlaces)
		if err != nil {
			return nil, err
		}
		one := ridge{place: float64(g), level: groups.Column.Levels[g], n: len(own), high: grid}
		for i, v := range grid {
			one.along = append(one.along, low+(high-low)*float64(i)/(curvePlaces-1))
			top = max(top, v)
		}
		extent = extent.Of(low, high)
		list = append(list, one)
	}
	if len(list) > 0 { // the first ridge rises above its place
		places = places.Of(list[0].place - ridgeHeight)
		if upright {
			places = places.Of(list[len(list)-1].place + ridgeHeight)
		}
	}
	if out.X, out.Y = extent, places; upright {
		out.X, out.Y = places, extent
	}
	out.Draw = func(p *Panel, s *Sink) { drawRidges(c, list, axis, groups, top, upright, p, s) }
	return out, nil
}

// drawRidges draws those behind first, each with its own paper, so that it hides what lies
// behind it.
func drawRidges(c *Case, list []ridge, axis, groups *Axis, top float64, upright bool, p *Panel, s *Sink) {
	fill := primitive.Layer{
		Kind:  primitive.Polygons,
		Count: len(list),
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true, Opacity: 0.55},
	}
	line := primitive.Layer{Kind: primitive.Paths, Count: len(list), Style: ink(1.6)}
	var fx, fy, lx, ly []float64
	var fs, ls []uint32
	var entries []uint8
	for i := range list {
		one := &list[i]
		rise := func(v float64) float64 { // on the screen up, or to the right
			h := ridgeHeight * v / top
			if upright {
				return one.place + h
			}
			return one.place - h
		}
		fs, ls = append(fs, uint32(len(fx))), append(ls, uint32(len(lx)))
		best := 0
		for k, u := range one.along {
			fx, fy, lx, ly = append(fx, u), append(fy, rise(one.high[k])), append(lx, u), append(ly, rise(one.high[k]))
			if one.high[k] > one.high[best] {
				best = k
			}
		}
		fx, fy = append(fx, one.along[len(one.along)-1], one.along[0]), append(fy, one.place, one.place)
		entries = append(entries, uint8(min(int(one.place), 255)))
		card := primitive.Card{
			Heading: one.level,
			Facts: []primitive.Fact{
				{Name: "highest at", Value: ValueText(axis, axis.Scale().Undrawn(one.along[best]))},
				{Name: "rows", Value: scale.Number(float64(one.n), 0)},
			},
		}
		fill.Cards, line.Cards = append(fill.Cards, card), append(line.Cards, card)
	}
	along, across := p.ShareX, p.ShareY
	if upright {
		along, across = p.ShareY, p.ShareX
	}
	fill.X, fill.Y, line.X, line.Y = along(fx), across(fy), along(lx), across(ly)
	if upright {
		fill.X, fill.Y, line.X, line.Y = fill.Y, fill.X, line.Y, line.X
	}
	fill.Start, line.Start = primitive.NewArray(fs), primitive.NewArray(ls)
	if c.Groups.Are(groups.Column.Name) {
		fill.Colour, fill.Keys = primitive.NewArray(entries), primitive.Keys{Colour: c.Groups.Key}
		line.Colour, line.Keys = fill.Colour, fill.Keys
	}
	s.Add(Middle, fill)
	s.Add(Middle, line)
}
