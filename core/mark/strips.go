package mark

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/primitive"
)

// strips are a dot for each row beside its group's place, moved aside at random so that equal
// values are told apart.
var strips = &Mark{
	Name:    "strips",
	Help:    "a dot for each row, strewn about its group's place",
	Also:    "jitter beeswarm strip",
	Example: "plot honey_kg against district\nas strips\ncolour by keeper_school",
	Rows:    true,
	Takes:   []Channel{GroupColour, NumberColour, Size, Shape},
	Suits:   func(_, _ *Axis) bool { return false }, // never of itself: it is chosen
	Check: func(c *Case) []chart.Problem {
		if !boxable(c.X, c.Y) && !boxable(c.Y, c.X) {
			return problem(
				"strips need groups along one axis and numbers along the other",
				"draw dots, or read a column otherwise: … as groups",
			)
		}
		return nil
	},
	Compute: computeStrips,
}

const (
	strewn    = 0.34 // how far from its place a dot lies at most, in places
	stripSeed = 11   // the same rows are strewn in the same way, whatever else is drawn
)

// strew moves a row aside by a share that belongs to the row alone: the finalizer of
// SplitMix64 (Steele, Lea and Flood 2014, OOPSLA), which scatters whole numbers evenly.
func strew(row uint32) float64 {
	z := (uint64(row) + stripSeed) * 0x9e3779b97f4a7c15
	z = (z ^ z>>30) * 0xbf58476d1ce4e5b9
	z = (z ^ z>>27) * 0x94d049bb133111eb
	z ^= z >> 31
	return strewn * (2*float64(z>>11)/(1<<53) - 1)
}

func computeStrips(ctx context.Context, c *Case) (*Computed, error) {
	upright := boxable(c.X, c.Y)
	across, values := c.U, c.V
	if !upright {
		across, values = values, across
	}
	moved := make([]float64, len(across))
	room := None()
	for i, row := range c.Rows {
		moved[i] = across[i] + strew(row)
		room = room.Of(across[i]-0.5, across[i]+0.5)
	}
	out := &Computed{X: room, Y: None().Of(values...)}
	if !upright {
		out.X, out.Y = out.Y, out.X
	}
	out.Draw = func(p *Panel, s *Sink) {
		ch := c.Channels
		l := primitive.Layer{
			Kind:   primitive.Points,
			Count:  len(c.Rows),
			X:      p.Positions(ctx, p.X, moved),
			Y:      p.Positions(ctx, p.Y, values),
			Colour: ch.Colour,
			Shape:  ch.Shape,
			Radius: ch.Radius,
			Keys:   ch.Keys,
			Rows:   true,
			Style: primitive.Style{
				Light:   primitive.NeutralLight,
				Dark:    primitive.NeutralDark,
				Opacity: ch.Opacity,
				Fixed:   ch.Fixed,
				Largest: ch.Largest,
				Outline: len(c.Rows) <= outlinedDots,
			},
		}
		if !upright {
			l.X, l.Y = p.Positions(ctx, p.X, values), p.Positions(ctx, p.Y, moved)
		}
		s.Add(Middle, l)
	}
	return out, nil
}
