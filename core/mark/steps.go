package mark

import (
	"context"

	"copperlark/core/chart"
)

// steps hold each value until the next one.
var steps = &Mark{
	Name:    "steps",
	Help:    "each value held until the next",
	Also:    "stairs staircase",
	Example: "plot mean(honey_kg) against season\nas steps\ncolour by keeper_school",
	Lines:   true,
	Rows:    true,
	Takes:   []Channel{GroupColour},
	Suits:   func(_, _ *Axis) bool { return false }, // never of itself: it is chosen
	Check:   func(c *Case) []chart.Problem { return joins(c, "a line of steps") },
	Compute: func(ctx context.Context, c *Case) (*Computed, error) {
		return computeRuns(ctx, c, stepwise)
	},
}

// stepwise goes along before it goes up or down.
func stepwise(run []vertex) []vertex {
	out := make([]vertex, 0, 2*len(run))
	for i, at := range run {
		if i > 0 && run[i-1].v == run[i-1].v && at.v == at.v {
			out = append(out, vertex{at.u, run[i-1].v})
		}
		out = append(out, at)
	}
	return out
}
