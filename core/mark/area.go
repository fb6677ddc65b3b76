package mark

import (
	"context"
	"math"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// area is a line with what lies between it and zero filled.
var area = &Mark{
	Name:    "area",
	Help:    "a line, filled down to zero",
	Also:    "filled mountain",
	Example: "plot sum(honey_kg) against season\nas area\ncolour by keeper_school",
	Zero:    true,
	Takes:   []Channel{GroupColour},
	Rows:    true,
	Suits:   func(_, _ *Axis) bool { return false }, // never of itself: it is chosen
	Check: func(c *Case) []chart.Problem {
		switch {
		case c.Y.Kind == scale.Groups:
			return problem("an area is filled down to zero, and groups along y have none", "say as counts, or put a number along y")
		case c.Y.Kind != scale.Linear:
			return problem("an area has no zero on a log axis", "say as line, or take the log scale out")
		}
		return joins(c, "an area")
	},
	Compute: func(ctx context.Context, c *Case) (*Computed, error) {
		var kept [][]vertex
		out, err := computeRuns(ctx, c, func(run []vertex) []vertex {
			kept = append(kept, run)
			return run
		})
		if err != nil {
			return nil, err
		}
		out.Y = out.Y.Of(0)
		lines := out.Draw
		out.Draw = func(p *Panel, s *Sink) {
			fillRuns(c, kept, p, s)
			lines(p, s)
		}
		return out, nil
	},
}

// fillRuns fills every stretch without a gap, down to zero.
func fillRuns(c *Case, runs [][]vertex, p *Panel, s *Sink) {
	var xs, ys, zeros []float64
	var start []uint32
	var entries []uint8
	for g, run := range runs {
		for from := 0; from < len(run); {
			to := from
			for to < len(run) && !math.IsNaN(run[to].v) {
				to++
			}
			if to-from > 1 {
				start, entries = append(start, uint32(len(xs))), append(entries, uint8(g))
				for _, at := range run[from:to] {
					xs, ys, zeros = append(xs, at.u), append(ys, at.v), append(zeros, 0)
				}
			}
			from = to + 1
		}
	}
	fill := primitive.Layer{
		Kind:  primitive.Areas,
		Count: len(start),
		X:     p.ShareX(xs),
		Y:     p.ShareY(zeros),
		Y2:    p.ShareY(ys),
		Start: primitive.NewArray(start),
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Opacity: 0.28},
	}
	if c.Groups != nil {
		fill.Colour, fill.Keys = primitive.NewArray(entries), primitive.Keys{Colour: c.Groups.Key}
	}
	s.Add(Under, fill)
}
