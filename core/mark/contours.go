package mark

import (
	"context"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/density"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// contours are lines about where rows are densest: inside each lies a share of the rows, of
// each group where groups have colours.
var contours = &Mark{
	Name:    "contours",
	Help:    "lines inside which a share of the rows lies, where they are densest",
	Also:    "density level two-way kde topographic",
	Example: "plot honey_kg against forage_ha\nlog x\nas dots and contours\ncolour by keeper_school",
	Rows:    true,
	Takes:   []Channel{GroupColour},
	Suits:   func(_, _ *Axis) bool { return false }, // never of itself: it is chosen
	Check:   checkContours,
	Compute: computeContours,
}

// DefaultContours are the shares of rows, in percent, that contours hold where none are said.
var DefaultContours = []float64{50, 80, 95}

// contourSide is how many points the grid has that contours are found on, along each axis.
const contourSide = 128

func checkContours(c *Case) []chart.Problem {
	if !c.X.Numeric() || !c.Y.Numeric() || len(c.Y.More) > 0 {
		return problem(
			"contours need one column of numbers or dates along each axis",
			"draw counts of groups with as counts, or say other columns",
		)
	}
	return nil
}

// contour are the lines of one group at one level.
type contour struct {
	group int
	share float64
	n     int
	lines []density.Line // in drawn space
}

func computeContours(ctx context.Context, c *Case) (*Computed, error) {
	shares := c.Document.Contours()
	if len(shares) == 0 {
		shares = DefaultContours
	}
	masses := make([]float64, len(shares))
	for i, share := range shares {
		masses[i] = share / 100
	}
	out := &Computed{X: None(), Y: None()}
	var found []contour
	k := groupCount(c)
	xs, ys := make([][]float64, k), make([][]float64, k)
	for i := range c.U {
		g := 0
		if c.Groups != nil {
			g = int(c.Codes[i])
		}
		xs[g], ys[g] = append(xs[g], c.U[i]), append(ys[g], c.V[i])
	}
	for g := range xs {
		d, err := density.EstimateTwoWay(ctx, xs[g], ys[g])
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err != nil {
			if len(xs[g]) > 0 {
				out.LeftOut = append(out.LeftOut, Reason{curveReason(c, g, err), len(xs[g])})
			}
			out.X, out.Y = out.X.Of(xs[g]...), out.Y.Of(ys[g]...)
			continue
		}
		lines, err := contoursOf(ctx, d, xs[g], ys[g], masses)
		if err != nil {
			return nil, err
		}
		for i, list := range lines {
			found = append(found, contour{g, shares[i], d.N, list})
			for _, line := range list {
				out.X, out.Y = out.X.Of(line.X...), out.Y.Of(line.Y...)
			}
		}
	}
	out.Draw = func(p *Panel, s *Sink) { drawContours(c, found, p, s) }
	return out, nil
}

// contoursOf finds the lines of a density that hold shares of its rows.
func contoursOf(ctx context.Context, d *density.TwoWay, x, y, masses []float64) (lines [][]density.Line, err error) {
	heights, err := d.Levels(ctx, masses)
	if err != nil {
		return nil, err
	}
	ex, ey := None().Of(x...), None().Of(y...)
	lowX, highX, lowY, highY := ex.Low-curveReach*d.HX, ex.High+curveReach*d.HX, ey.Low-curveReach*d.HY, ey.High+curveReach*d.HY
	grid, err := d.Grid(ctx, lowX, highX, contourSide, lowY, highY, contourSide)
	if err != nil {
		return nil, err
	}
	for _, height := range heights {
		list := density.Contours(ctx, grid, contourSide, contourSide, height)
		for _, line := range list {
			for i := range line.X {
				line.X[i], line.Y[i] = lowX+(highX-lowX)*line.X[i]/(contourSide-1), lowY+(highY-lowY)*line.Y[i]/(contourSide-1)
			}
		}
		lines = append(lines, list)
	}
	return lines, ctx.Err()
}

// drawContours draws the innermost line strongest.
func drawContours(c *Case, found []contour, p *Panel, s *Sink) {
	var shares []float64
	for _, one := range found {
		if !slices.Contains(shares, one.share) {
			shares = append(shares, one.share)
		}
	}
	slices.Sort(shares)
	for i, share := range shares {
		style := ink(2.2 - 1.2*float64(i)/float64(max(len(shares)-1, 1)))
		l := primitive.Layer{Kind: primitive.Paths, Style: style}
		var xs, ys []float64
		var start []uint32
		var entries []uint8
		for _, one := range found {
			if one.share != share {
				continue
			}
			for _, line := range one.lines {
				start, entries = append(start, uint32(len(xs))), append(entries, uint8(one.group))
				xs, ys = append(xs, line.X...), append(ys, line.Y...)
				card := primitive.Card{
					Facts: []primitive.Fact{
						{Name: "inside", Value: table.FormatNumber(share) + " % of the rows"},
						{Name: "rows", Value: scale.Number(float64(one.n), 0)},
					},
				}
				if c.Groups != nil {
					card.Heading = table.Prose(c.Groups.Name) + " " + c.Groups.Levels[one.group]
				}
				l.Cards = append(l.Cards, card)
			}
		}
		l.Count, l.X, l.Y, l.Start = len(start), p.ShareX(xs), p.ShareY(ys), primitive.NewArray(start)
		if c.Groups != nil {
			l.Colour, l.Keys = primitive.NewArray(entries), primitive.Keys{Colour: c.Groups.Key}
		}
		s.Add(Over, l)
	}
}
