package mark

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/density"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// histogram counts values in equal bins.
var histogram = &Mark{
	Name:    "histogram",
	Help:    "how many rows lie in each of equal bins",
	Also:    "distribution frequency bins",
	Example: "plot spread of honey_kg\nas histogram",
	Zero:    true,
	Takes:   []Channel{GroupColour},
	Suits:   func(x, y *Axis) bool { return y.Of == chart.Spread && !x.Grouped() },
	Check: func(c *Case) []chart.Problem {
		switch {
		case c.Y.Of != chart.Spread:
			return problem("a histogram shows the spread of one column", "say plot spread of …")
		case c.X.Grouped():
			return problem("a histogram needs numbers", "say plot count() against … for groups")
		case c.Y.Kind != scale.Linear:
			return problem("a histogram has no zero on a log axis", "take log y out")
		}
		return nil
	},
	Compute: computeHistogram,
}

func computeHistogram(ctx context.Context, c *Case) (*Computed, error) {
	bins, err := binned(c)
	if err != nil {
		return nil, err
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	n := len(bins.Counts)
	groups := groupCount(c)
	counts := make([][]int, groups)
	for g := range counts {
		counts[g] = make([]int, n)
	}
	if groups == 1 {
		copy(counts[0], bins.Counts)
	} else {
		for i, u := range c.U {
			counts[c.Codes[i]][binOf(bins, u)]++
		}
	}
	whole, exact := binnedElsewhere(c, bins)
	if whole != nil {
		bins, counts, n = whole, exact, len(whole.Counts)
	}
	most := 0
	for _, count := range bins.Counts {
		most = max(most, count)
	}
	return &Computed{
		Exact: whole != nil,
		X:     None().Of(bins.Edges[0], bins.Edges[n]),
		Y:     None().Of(0, 1.04*float64(most)),
		Draw:  func(p *Panel, s *Sink) { drawHistogram(c, bins, counts, p, s) },
	}, nil
}

// binnedElsewhere counts all rows, where those at hand are a sample and it is known; nil: it is not. The bins go from the
// lowest to the highest of all values, as many as those of the sample where nothing is said of them.
func binnedElsewhere(c *Case, sampled *density.Histogram) (bins *density.Histogram, counts [][]int) {
	by, told := c.coloured()
	if c.Elsewhere == nil || c.Elsewhere.X == nil || !told {
		return nil, nil
	}
	sums := c.Elsewhere.In(nil).sums("how many rows, and from where to where", c.Elsewhere.X, nil, nil)
	if sums == nil || sums.All.N == 0 {
		return nil, nil
	}
	ends := *c
	ends.U = []float64{sums.All.XMin, sums.All.XMax}
	bins, err := binned(&ends)
	if c.Document.Bins() == nil {
		bins, err = density.BinBy(ends.U, len(sampled.Counts))
	}
	if err != nil {
		return nil, nil
	}
	counts, known := c.Elsewhere.between(c.Elsewhere.X, bins.Edges, by)
	if !known {
		return nil, nil
	}
	bins = &density.Histogram{Edges: bins.Edges, Counts: make([]int, len(bins.Counts))}
	for _, of := range counts {
		for i, count := range of {
			bins.Counts[i] += count
			bins.N += count
		}
	}
	return bins, counts
}

// binned throws the values into the bins that are said, or that they ask for.
func binned(c *Case) (*density.Histogram, error) {
	switch said := c.Document.Bins(); {
	case said != nil && said.Width > 0:
		bins, err := density.BinOf(c.U, said.Width)
		if err == nil && len(bins.Counts) > chart.MostBins {
			err = density.ErrNarrow
		}
		return bins, err
	case said != nil:
		return density.BinBy(c.U, said.Count)
	}
	return density.Bin(c.U, density.Finer)
}

// binOf finds the bin of a value.
func binOf(bins *density.Histogram, u float64) int {
	low, high := 0, len(bins.Counts)-1
	for low < high {
		middle := (low + high + 1) / 2
		if u >= bins.Edges[middle] {
			low = middle
		} else {
			high = middle - 1
		}
	}
	return low
}

func drawHistogram(c *Case, bins *density.Histogram, counts [][]int, p *Panel, s *Sink) {
	var x, x2, y, y2 []float64
	var entries []uint8
	l := primitive.Layer{
		Kind:  primitive.Rects,
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true, Opacity: 0.75},
	}
	text := func(u float64) string { return ValueText(c.X, c.X.Scale().Undrawn(u)) }
	for i, total := range bins.Counts {
		base := 0
		for g := range counts {
			n := counts[g][i]
			if n == 0 {
				continue
			}
			x, x2 = append(x, bins.Edges[i]), append(x2, bins.Edges[i+1])
			y, y2 = append(y, float64(base)), append(y2, float64(base+n))
			base += n
			entries = append(entries, uint8(g))
			card := primitive.Card{
				Heading: "from " + text(bins.Edges[i]) + " to " + text(bins.Edges[i+1]),
				Facts:   []primitive.Fact{{Name: "rows", Value: scale.Number(float64(n), 0)}},
			}
			if c.Groups != nil {
				card.Facts = []primitive.Fact{
					{Name: table.Prose(c.Groups.Name), Value: c.Groups.Levels[g]},
					{Name: "rows", Value: scale.Number(float64(n), 0)},
					{Name: "of", Value: scale.Number(float64(total), 0)},
				}
			} else {
				card.Facts = append(card.Facts, primitive.Fact{Name: "share", Value: scale.Value(100*float64(n)/float64(bins.N), 3) + " %"})
			}
			l.Cards = append(l.Cards, card)
		}
	}
	l.Count, l.X, l.X2, l.Y, l.Y2 = len(x), p.ShareX(x), p.ShareX(x2), p.ShareY(y), p.ShareY(y2)
	if c.Groups != nil {
		l.Colour, l.Keys = primitive.NewArray(entries), primitive.Keys{Colour: c.Groups.Key}
	}
	if p.Width/float64(len(bins.Counts)) > 4 { // paper between neighbours
		l.Style.Width = -1
	}
	s.Add(Middle, l)
}
