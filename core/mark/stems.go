package mark

import (
	"context"
	"math"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// stems are a dot on a stalk from zero, for each row or each statistic.
var stems = &Mark{
	Name:    "stems",
	Help:    "a dot on a stalk from zero",
	Also:    "lollipop needle spike",
	Example: "of rows where forage_ha < 4\nplot honey_kg against forage_ha\nas stems",
	Zero:    true,
	Rows:    true,
	beside:  true,
	Takes:   []Channel{GroupColour},
	Suits:   func(_, _ *Axis) bool { return false }, // never of itself: it is chosen
	Check: func(c *Case) []chart.Problem {
		value := c.Y
		if turned(c) {
			value = c.X
		}
		switch {
		case value.Of == chart.Spread || value.Grouped():
			return problem("stems need numbers along y", "say as histogram, or as counts")
		case value.Kind != scale.Linear:
			return problem("stems have no zero on a log axis", "draw dots, or take the log scale out")
		}
		return nil
	},
	Compute: computeStems,
}

const stemRadius = 4.0

func computeStems(ctx context.Context, c *Case) (*Computed, error) {
	if c.X.Aggregated() || c.Y.Aggregated() {
		out, err := computePlaces(ctx, c, drawStems)
		if err == nil {
			if turned(c) {
				out.X = headroom(out.X)
			} else {
				out.Y = headroom(out.Y)
			}
		}
		return out, err
	}
	out := &Computed{X: None().Of(c.U...), Y: headroom(None().Of(c.V...))}
	out.Draw = func(p *Panel, s *Sink) {
		zero := make([]float64, len(c.V))
		stalks := primitive.Layer{
			Kind:   primitive.Segments,
			Count:  len(c.U),
			X:      p.ShareX(c.U),
			X2:     p.ShareX(c.U),
			Y:      p.ShareY(zero),
			Y2:     p.ShareY(c.V),
			Colour: c.Channels.Colour,
			Keys:   primitive.Keys{Colour: c.Channels.Keys.Colour},
			Style:  ink(1.4),
		}
		s.Add(Middle, stalks)
		s.Add(
			Middle,
			primitive.Layer{
				Kind:   primitive.Points,
				Count:  len(c.U),
				X:      stalks.X,
				Y:      stalks.Y2,
				Colour: stalks.Colour,
				Keys:   stalks.Keys,
				Rows:   true,
				Style: primitive.Style{
					Light:   primitive.NeutralLight,
					Dark:    primitive.NeutralDark,
					Opacity: 1,
					Fixed:   stemRadius,
					Largest: stemRadius,
				},
			},
		)
	}
	return out, nil
}

// headroom is the room of values with their dots, and of zero.
func headroom(e Extent) Extent {
	const share = 1.05
	if e = e.Of(0); !math.IsInf(share*e.High-share*e.Low, 0) {
		e.Low, e.High = share*e.Low, share*e.High
	}
	return e
}

func drawStems(c *Case, found *places, p *Panel, s *Sink) {
	across, values, zero := make([]float64, len(found.list)), make([]float64, len(found.list)), make([]float64, len(found.list))
	for i, at := range found.list {
		across[i], _ = found.beside(at)
		values[i] = at.value
	}
	stalks := primitive.Layer{Kind: primitive.Segments, Count: len(across), Colour: found.colours(), Keys: found.keys(), Style: ink(1.6)}
	found.put(p, &stalks, across, zero, across, values)
	s.Add(Middle, stalks)
	heads := primitive.Layer{
		Kind:   primitive.Points,
		Count:  len(across),
		Colour: found.colours(),
		Keys:   found.keys(),
		Style: primitive.Style{
			Light:   primitive.NeutralLight,
			Dark:    primitive.NeutralDark,
			Opacity: 1,
			Fixed:   stemRadius,
			Largest: stemRadius,
		},
	}
	for _, at := range found.list {
		heads.Cards = append(heads.Cards, found.card(at))
	}
	found.put(p, &heads, across, values, nil, nil)
	s.Add(Middle, heads)
}
