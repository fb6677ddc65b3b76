package figure

import (
	"context"

	"copperlark/core/chart"
)

// pass goes over a figure that is drawn. It needs what the drawing or passes before it gave, and no pass before it may
// need what it changes as it was: their order is that of the list.
type pass struct {
	name         string
	needs, gives []string
	apply        func(ctx context.Context, b *Drawn) []chart.Problem
	bare         bool // small pictures have it, too
}

// What a drawing gives to the passes.
var given = []string{"marks", "keys", "titles", "boxes"}

// passes is every pass, in order.
var passes = []pass{
	{name: "edges", needs: []string{"marks", "boxes"}, gives: []string{"edges"}, apply: always((*Drawn).drawEdges)},
	{name: "rows of points", needs: []string{"marks"}, gives: []string{"rows of points"}, apply: always((*Drawn).rowsOfPoints)},
	{name: "names of lines", needs: []string{"marks", "boxes", "edges"}, gives: []string{"names of lines"}, apply: always((*Drawn).labels)},
	{name: "rows outside", needs: []string{"boxes"}, gives: []string{"tally"}, apply: always((*Drawn).countOutside)},
	{
		name:  "labels",
		needs: []string{"rows of points", "names of lines"},
		gives: []string{"labels"},
		apply: func(_ context.Context, b *Drawn) []chart.Problem { return b.labelPoints() },
	},
	{
		name:  "patterns",
		needs: []string{"marks", "keys"},
		gives: []string{"patterns"},
		bare:  true,
		apply: func(_ context.Context, b *Drawn) []chart.Problem { return b.patterned() },
	},
	{name: "sketch", needs: []string{"labels", "edges"}, gives: []string{"final marks"}, apply: always((*Drawn).sketch)},
	{name: "weight", needs: []string{"titles", "labels"}, gives: []string{"weight"}, bare: true, apply: always((*Drawn).weigh)},
	{name: "ink", needs: []string{"patterns", "labels"}, gives: []string{"final colours"}, bare: true, apply: always((*Drawn).ink)},
	{name: "shade", needs: []string{"marks", "boxes"}, gives: []string{"shade"}, apply: always((*Drawn).shade)},
	{name: "order of keys", needs: []string{"keys"}, gives: []string{"order of keys"}, bare: true, apply: always((*Drawn).keyInOrder)},
	{
		name:  "keys inside",
		needs: []string{"final marks", "weight", "patterns", "order of keys"},
		gives: []string{"place of keys"},
		bare:  true,
		apply: always((*Drawn).keysInside),
	},
	{
		name:  "keys at ends",
		needs: []string{"names of lines", "place of keys"},
		gives: []string{"final place of keys"},
		bare:  true,
		apply: always((*Drawn).keysAtEnds),
	},
	{
		name:  "length of gradients",
		needs: []string{"final place of keys"},
		gives: []string{"length of gradients"},
		bare:  true,
		apply: always((*Drawn).gradientLengths),
	},
	{name: "hard colours", needs: []string{"keys"}, gives: []string{"cautions"}, apply: always((*Drawn).hardColours)},
	{name: "hard to read", needs: []string{"tally"}, gives: []string{"more cautions"}, apply: always((*Drawn).hardToRead)},
	{
		name:  "size of paper",
		needs: []string{"final place of keys", "length of gradients", "labels", "weight"},
		gives: []string{"final boxes"},
		bare:  true,
		apply: always(func(b *Drawn) { b.figure.enlarge(b.enlarged) }),
	},
	{
		name:  "relation",
		needs: []string{"tally"},
		gives: []string{"relation"},
		apply: func(ctx context.Context, b *Drawn) []chart.Problem { b.relate(ctx); return nil },
	},
	{
		name:  "elsewhere",
		needs: []string{"relation"},
		gives: []string{"elsewhere"},
		apply: always(func(b *Drawn) { b.figure.Elsewhere = b.toldElsewhere() }),
	},
	{name: "card", needs: []string{"rows of points", "final boxes"}, gives: []string{"card"}, apply: always((*Drawn).card)},
}

// always is a pass that refuses nothing.
func always(apply func(*Drawn)) func(context.Context, *Drawn) []chart.Problem {
	return func(_ context.Context, b *Drawn) []chart.Problem { apply(b); return nil }
}
