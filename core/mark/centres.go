package mark

import (
	"context"
	"math"

	"copperlark/core/colour"
	"copperlark/core/magnitude"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// CentresLayer is the mark of where groups stand.
const CentresLayer = "centres"

// The radii of a centre: a rim of ink about a ring of paper about the group's colour.
const rimRadius, ringRadius, centreRadius = 9.5, 7.5, 5.5

// betweenBeyond is how far the line goes beyond the outer centres, as a share of its length.
const betweenBeyond = 0.06

// together is how near centres stand to each other, in lengths of the rows, that count as one.
const together = 1e-9

// centres are the means of groups.
type centres struct {
	c      *Case
	groups *GroupLines
	level  []int // which group each is of
	x, y   []float64
	slope  float64 // of the line through them; NaN where they do not differ in x
	about  [2]float64
}

// ComputeCentres finds the mean of x and of y of each group of a column, in drawn space, and
// the line through them in which each counts as often as it has rows:
//
//	b = Σ n (x̄ − x̿)(ȳ − y̿) / Σ n (x̄ − x̿)²,
//
// the slope between groups. Groups without rows have no centre.
func ComputeCentres(ctx context.Context, c *Case) *Computed {
	f := &centres{c: c, groups: c.Shared.Groups(c.Document.Centres()), slope: math.NaN()}
	f.find()
	out := &Computed{X: None().Of(f.x...), Y: None().Of(f.y...), Draw: f.draw}
	if len(f.x) == 0 || ctx.Err() != nil {
		out.Draw = func(*Panel, *Sink) {}
		return out
	}
	if !math.IsNaN(f.slope) {
		out.Ends = []EndAt{{f.name(), out.X.High + betweenBeyond*(out.X.High-out.X.Low)}}
	}
	return out
}

// find finds the centres, and the line through them.
func (f *centres) find() {
	counts := f.groups.Counts
	sumX, sumY := make([]float64, len(counts)), make([]float64, len(counts))
	for i, g := range f.groups.Codes {
		sumX[g] += f.c.U[i] / float64(counts[g])
		sumY[g] += f.c.V[i] / float64(counts[g])
	}
	for g, n := range counts {
		if n > 0 {
			f.level, f.x, f.y = append(f.level, g), append(f.x, sumX[g]), append(f.y, sumY[g])
		}
	}
	f.line()
}

// line finds the line through the centres.
func (f *centres) line() {
	x, unitX := magnitude.Scaled(f.x)
	y, unitY := magnitude.Scaled(f.y)
	n, mx, my := 0.0, 0.0, 0.0
	for i, g := range f.level {
		w := float64(f.groups.Counts[g])
		n += w
		mx += w * (x[i] - mx) / n
		my += w * (y[i] - my) / n
	}
	sxx, sxy := 0.0, 0.0
	for i, g := range f.level {
		w := float64(f.groups.Counts[g])
		sxx += w * (x[i] - mx) * (x[i] - mx)
		sxy += w * (x[i] - mx) * (y[i] - my)
	}
	f.about = [2]float64{mx * unitX, my * unitY}
	if all, own := None().Of(f.c.U...), None().Of(f.x...); own.High-own.Low <= together*(all.High-all.Low) {
		return // they stand at one place, as where their own column is taken out
	}
	if slope := sxy / sxx * (unitY / unitX); len(f.x) > 1 && magnitude.Finite(slope) {
		f.slope = slope
	}
}

// name is what the line between the centres is called.
func (f *centres) name() string { return "between " + Plural(f.groups.Column.Prose()) }

func (f *centres) draw(p *Panel, s *Sink) {
	ink := primitive.Style{Light: primitive.InkLight, Dark: primitive.InkDark}
	if !math.IsNaN(f.slope) {
		x := None().Of(f.x...)
		beyond := betweenBeyond * (x.High - x.Low)
		ends := []float64{x.Low - beyond, x.High + beyond}
		at := func(u float64) float64 { return f.about[1] + f.slope*(u-f.about[0]) }
		style := ink
		style.Width, style.Dash = fitWidth, []float64{6, 4}
		card := primitive.Card{Heading: f.name(), Facts: []primitive.Fact{{Name: "centres", Value: scale.Number(float64(len(f.x)), 0)}}}
		s.Add(Over, primitive.Layer{Kind: primitive.Paths, Count: 1, X: p.ShareX(ends), Y: p.ShareY([]float64{at(ends[0]), at(ends[1])}),
			Start: primitive.NewArray([]uint32{0}), Style: style,
			Cards: []primitive.Card{card}}).End = []End{
			{Name: f.name(), Light: ink.Light, Dark: ink.Dark},
		}
	}
	points := func(radius float64, light, dark string) primitive.Layer {
		return primitive.Layer{
			Kind:  primitive.Points,
			Count: len(f.x),
			X:     p.ShareX(f.x),
			Y:     p.ShareY(f.y),
			Style: primitive.Style{Light: light, Dark: dark, Fixed: radius, Largest: radius},
		}
	}
	s.Add(Over, points(rimRadius, primitive.InkLight, primitive.InkDark))
	s.Add(Over, points(ringRadius, colour.PaperLight, colour.PaperDark))
	top := points(centreRadius, primitive.NeutralLight, primitive.NeutralDark)
	if colours := f.c.Groups; colours.Are(f.groups.Column.Name) {
		entries := make([]uint8, len(f.level))
		for i, g := range f.level {
			entries[i] = uint8(g)
		}
		top.Colour, top.Keys.Colour = primitive.NewArray(entries), colours.Key
	}
	sx, sy := f.c.X.Scale(), f.c.Y.Scale()
	for i, g := range f.level {
		top.Cards = append(top.Cards, primitive.Card{Heading: f.groups.Column.Levels[g], Facts: []primitive.Fact{
			{Name: "centre of " + f.c.X.Prose(), Value: ValueText(f.c.X, sx.Undrawn(f.x[i]))},
			{Name: "centre of " + f.c.Y.Prose(), Value: ValueText(f.c.Y, sy.Undrawn(f.y[i]))},
			{Name: "rows", Value: scale.Number(float64(f.groups.Counts[g]), 0)}}})
	}
	s.Add(Over, top)
}
