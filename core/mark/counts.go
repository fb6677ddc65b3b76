package mark

import (
	"context"
	"math"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// counts are a dot whose area is the number of rows, for each pair of groups.
var counts = &Mark{
	Name:    "counts",
	Help:    "a dot for each pair of groups, whose area is the number of rows",
	Also:    "contingency cross table bubble",
	Example: "plot keeper_school against district\nas counts",
	Suits:   func(x, y *Axis) bool { return x.Grouped() && y.Grouped() && len(y.More) == 0 },
	Check: func(c *Case) []chart.Problem {
		if c.X.Counts() || c.Y.Counts() {
			return problem("counts are of two columns of groups: a number of rows along an axis is drawn as bars", "say as bars")
		}
		if !c.X.Grouped() || !c.Y.Grouped() {
			return problem("counts need groups along both axes", "draw dots, or read a column otherwise: … as groups")
		}
		return nil
	},
	Compute: computeCounts,
}

type pair struct{ x, y int }

func computeCounts(_ context.Context, c *Case) (*Computed, error) {
	xs, ys := len(c.X.Column.Levels), len(c.Y.Column.Levels)
	table := make([]int, xs*ys)
	for i, u := range c.U {
		table[int(c.V[i])*xs+int(u)]++
	}
	exact := c.Elsewhere.Crossed(c.X.Column, c.Y.Column)
	x, y := None().Of(c.U...), None().Of(c.V...)
	if exact != nil {
		table = exact
		for i, n := range table {
			if n > 0 {
				x, y = x.Of(float64(i%xs)), y.Of(float64(i/xs))
			}
		}
	}
	return &Computed{Exact: exact != nil, X: x, Y: y, Draw: func(p *Panel, s *Sink) { drawCounts(c, table, p, s) }}, nil
}

const (
	countLabel   = 12.0
	smallestMark = 1.6 // keeps the smallest of sized marks visible
)

func drawCounts(c *Case, table []int, p *Panel, s *Sink) {
	xs, ys := len(c.X.Column.Levels), len(c.Y.Column.Levels)
	most := 0
	perX, perY := make([]int, xs), make([]int, ys)
	for i, n := range table {
		most = max(most, n)
		perX[i%xs] += n
		perY[i/xs] += n
	}
	largest := math.Round(10*min(max(min(p.Width/float64(xs), p.Height/float64(ys))*0.42, 3), 34)) / 10
	points := primitive.Layer{
		Kind:  primitive.Points,
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Opacity: 0.94, Fixed: largest, Largest: largest},
	}
	inside := primitive.Layer{
		Kind:  primitive.Texts,
		Style: primitive.Style{Light: "#ffffff", Dark: "#10211f", Size: countLabel, Bold: true, Anchor: "middle"},
	}
	beside := primitive.Layer{
		Kind:  primitive.Texts,
		Style: primitive.Style{Light: primitive.InkLight, Dark: primitive.InkDark, Size: countLabel, Bold: true, Anchor: "start"},
	}
	var u, v, insideX, insideY, besideX, besideY []float64
	var radii []uint8
	var dx []float32
	for i, n := range table {
		if n == 0 {
			continue
		}
		at := pair{i % xs, i / xs}
		r := max(largest*math.Sqrt(float64(n)/float64(most)), smallestMark)
		u, v, radii = append(u, float64(at.x)), append(v, float64(at.y)), append(radii, uint8(255*r/largest+0.5))
		text := scale.Number(float64(n), 0)
		width := p.Metrics.Width(text, countLabel, true)
		cell := min(p.Height/float64(ys), p.Width/float64(xs))
		if width+4 < 2*r && cell > countLabel+3 {
			insideX, insideY, inside.Words = append(insideX, float64(at.x)), append(insideY, float64(at.y)), append(inside.Words, text)
		} else if r+5+width < p.Width/float64(xs)-largest*0.4 && cell > countLabel+3 {
			besideX, besideY, dx, beside.Words = append(besideX, float64(at.x)), append(besideY, float64(at.y)), append(dx, float32(r+4)),
				append(beside.Words, text)
		}
		points.Cards = append(
			points.Cards,
			primitive.Card{
				Heading: c.Y.Column.Levels[at.y] + ", " + c.X.Column.Levels[at.x],
				Facts: []primitive.Fact{{Name: "rows", Value: text},
					{Name: "of " + c.X.Column.Levels[at.x], Value: percent(n, perX[at.x])},
					{Name: "of " + c.Y.Column.Levels[at.y], Value: percent(n, perY[at.y])}},
			},
		)
	}
	points.Count, points.X, points.Y, points.Radius = len(u), p.ShareX(u), p.ShareY(v), primitive.NewArray(radii)
	inside.Count, inside.X, inside.Y = len(insideX), p.ShareX(insideX), p.ShareY(insideY)
	beside.Count, beside.X, beside.Y, beside.DX = len(besideX), p.ShareX(besideX), p.ShareY(besideY), primitive.NewArray(dx)
	s.Add(Middle, points)
	s.Add(Words, inside)
	s.Add(Words, beside)
}

func percent(part, whole int) string {
	return scale.Value(100*float64(part)/float64(whole), 3) + " %"
}
