package mark

import (
	"context"
	"maps"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/describe"
	"copperlark/core/magnitude"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// boxes show quartiles, whiskers and what lies beyond, for each group.
var boxes = &Mark{
	Name:    "boxes",
	Help:    "quartiles, whiskers and far values of each group",
	Also:    "box plot quartiles whisker distribution",
	Example: "plot honey_kg against district\nas boxes",
	Takes:   []Channel{GroupColour},
	Suits:   func(x, y *Axis) bool { return boxable(x, y) || boxable(y, x) },
	Check: func(c *Case) []chart.Problem {
		if !boxable(c.X, c.Y) && !boxable(c.Y, c.X) {
			return problem(
				"boxes need groups along one axis and numbers along the other",
				"put a column of groups along x, or read one: … as groups",
			)
		}
		return nil
	},
	Compute: computeBoxes,
}

func boxable(across, value *Axis) bool {
	return across.Grouped() && !across.Aggregated() && value.Column != nil && !value.Aggregated() && !value.Column.Kind.Coded()
}

// box is a box of one place.
type box struct {
	place
	*describe.Box
	beyond int64 // how many lie beyond the whiskers, where more do than are drawn
}

const (
	boxShare     = 0.5
	labelledBoxs = 12
)

func computeBoxes(ctx context.Context, c *Case) (*Computed, error) {
	p := newPlaces(c)
	p.turned, p.across, p.axis = !boxable(c.X, c.Y), c.X, c.Y
	at, values := c.U, c.V
	if p.turned {
		p.across, p.axis = c.Y, c.X
		at, values = values, at
	}
	p.value, p.width = p.axis.Scale(), 1
	p.own = c.Groups != nil && c.Groups.Column == p.across.Column.Name
	type key struct{ at, group int32 }
	collected := map[key][]float64{}
	var order []key
	for i, u := range at {
		k := key{int32(u), -1}
		if c.Groups != nil {
			k.group = c.Codes[i]
		}
		if _, known := collected[k]; !known {
			order = append(order, k)
		}
		collected[k] = append(collected[k], p.value.Undrawn(values[i]))
	}
	found, exact := p.boxesElsewhere(c, collectedBy(order, func(k key) int32 { return k.at }, func(k key) []float64 { return collected[k] }))
	for _, k := range order {
		if exact {
			break
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if b, err := describe.TukeyBox(collected[k]); err == nil {
			found = append(found, box{place: place{at: float64(k.at), group: k.group, n: b.N}, Box: b})
		}
	}
	out := &Computed{Exact: exact, Draw: func(panel *Panel, s *Sink) { drawBoxes(p, found, panel, s) }}
	span := None()
	for _, v := range values {
		span = span.Of(v)
	}
	across := None()
	for _, b := range found {
		across = across.Of(b.at-0.5, b.at+0.5)
		if !exact { // where they are of all rows they may go beyond the sample
			continue
		}
		for _, v := range append([]float64{b.WhiskerLow, b.WhiskerHigh}, b.Outliers...) {
			if d := p.value.Drawn(v); magnitude.Finite(d) {
				span = span.Of(d)
			}
		}
	}
	out.X, out.Y = p.extents(across, span)
	return out, nil
}

// collectedBy are the values of places, by where they stand.
func collectedBy[K any](order []K, at func(K) int32, values func(K) []float64) map[int32][]float64 {
	out := map[int32][]float64{}
	for _, k := range order {
		out[at(k)] = append(out[at(k)], values(k)...)
	}
	return out
}

// boxesElsewhere are the boxes of all rows, where those at hand are a sample and they are known: of groups along the axis, which
// may have colours of their own.
func (p *places) boxesElsewhere(c *Case, values map[int32][]float64) (found []box, known bool) {
	if c.Groups != nil && !p.own || p.axis.Column == nil || !p.across.Grouped() {
		return nil, false
	}
	all, known := c.Elsewhere.boxesOf(p.across.Column, p.axis.Column, values)
	if !known {
		return nil, false
	}
	for _, code := range slices.Sorted(maps.Keys(all)) {
		b := all[code]
		group := int32(-1)
		if c.Groups != nil {
			group = code
		}
		found = append(found, box{place{at: float64(code), group: group, n: b.N}, b.Box, b.beyond})
	}
	return found, true
}

// ink is a style of lines in the colour of a key, or neutral.
func ink(width float64) primitive.Style {
	return primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Width: width}
}

func drawBoxes(p *places, found []box, panel *Panel, s *Sink) {
	var a, a2, q1, q3, median, whiskA, whiskFrom, whiskTo, farA, farV []float64
	var entries, twice, far []uint8
	body := primitive.Layer{Kind: primitive.Rects, Count: len(found), Keys: p.keys(), Style: ink(1.4)}
	body.Style.Fill, body.Style.Opacity = true, 0.25
	whisk := primitive.Layer{Kind: primitive.Segments, Count: 2 * len(found), Keys: p.keys(), Style: ink(1.4)}
	beyond := primitive.Layer{
		Kind: primitive.Points,
		Keys: p.keys(),
		Style: primitive.Style{
			Light:   primitive.NeutralLight,
			Dark:    primitive.NeutralDark,
			Fixed:   2.6,
			Largest: 2.6,
			Opacity: 0.55,
			Outline: true,
		},
	}
	drawn := p.value.Drawn
	for _, b := range found {
		middle, width := p.beside(b.place)
		width *= boxShare / barShare
		card := boxCard(p, b)
		body.Cards, whisk.Cards = append(body.Cards, card), append(whisk.Cards, card, card)
		a, a2 = append(a, middle-width/2), append(a2, middle+width/2)
		q1, q3, median = append(q1, drawn(b.Q1)), append(q3, drawn(b.Q3)), append(median, drawn(b.Median))
		whiskA = append(whiskA, middle, middle)
		whiskFrom, whiskTo = append(whiskFrom, drawn(b.Q1), drawn(b.Q3)), append(whiskTo, drawn(b.WhiskerLow), drawn(b.WhiskerHigh))
		entries, twice = append(entries, uint8(max(b.group, 0))), append(twice, uint8(max(b.group, 0)), uint8(max(b.group, 0)))
		for _, v := range b.Outliers {
			farA, farV, far = append(farA, middle), append(farV, drawn(v)), append(far, uint8(max(b.group, 0)))
			beyond.Cards = append(
				beyond.Cards,
				primitive.Card{
					Heading: p.name(b.place),
					Facts:   []primitive.Fact{{Name: p.axis.Prose(), Value: ValueText(p.axis, v)}, {Name: "beyond", Value: "the whiskers"}},
				},
			)
		}
	}
	middleLine := primitive.Layer{Kind: primitive.Segments, Count: len(found), Keys: p.keys(), Style: ink(2.6), Cards: body.Cards}
	beyond.Count = len(farA)
	if p.groups != nil {
		body.Colour = primitive.NewArray(entries)
		middleLine.Colour = primitive.NewArray(entries)
		whisk.Colour = primitive.NewArray(twice)
		beyond.Colour = primitive.NewArray(far)
	}
	p.put(panel, &body, a, q1, a2, q3)
	p.put(panel, &middleLine, a, median, a2, median)
	p.put(panel, &whisk, whiskA, whiskFrom, whiskA, whiskTo)
	p.put(panel, &beyond, farA, farV, nil, nil)
	for _, l := range []primitive.Layer{whisk, body, middleLine, beyond} {
		s.Add(Middle, l)
	}
	if len(found) <= labelledBoxs {
		labelBoxes(p, found, a2, median, panel, s)
	}
}

// labelBoxes writes the median beside each box, where it has the room.
func labelBoxes(p *places, found []box, edge, median []float64, panel *Panel, s *Sink) {
	l := primitive.Layer{
		Kind:  primitive.Texts,
		Count: len(found),
		Style: primitive.Style{Light: primitive.InkLight, Dark: primitive.InkDark, Size: 12, Bold: true, Anchor: "start", Halo: true},
	}
	dx, dy := make([]float32, len(found)), make([]float32, len(found))
	widest := 0.0
	medians := make([]float64, len(found))
	for i, b := range found {
		medians[i] = b.Median
	}
	for i, text := range alike(p.axis, medians) {
		l.Words = append(l.Words, text)
		widest = max(widest, panel.Metrics.Width(text, 12, true))
		if p.turned {
			dy[i] = -9
		} else {
			dx[i] = 5
		}
	}
	slot := panel.Width / float64(max(len(p.across.Column.Levels), 1))
	if p.groups != nil && !p.own {
		slot /= float64(len(p.groups.Levels))
	}
	if p.turned {
		l.Style.Anchor, slot = "middle", panel.Height/float64(max(len(p.across.Column.Levels), 1))
		widest = 14
	}
	if widest+8 > slot*(1-boxShare) {
		return
	}
	if p.turned { // over its box, where that is on the panel
		for i, b := range found {
			at, half := panel.X.Share(p.value.Drawn(b.Median))*panel.Width, panel.Metrics.Width(l.Words[i], 12, true)/2
			dx[i] = float32(max(half-at, 0) + min(panel.Width-at-half, 0))
		}
	}
	l.DX, l.DY = primitive.NewArray(dx), primitive.NewArray(dy)
	p.put(panel, &l, edge, median, nil, nil)
	s.Add(Words, l)
}

func boxCard(p *places, b box) primitive.Card {
	fact := func(name string, v float64) primitive.Fact {
		return primitive.Fact{Name: name, Value: ValueText(p.axis, v)}
	}
	facts := []primitive.Fact{
		fact("median", b.Median),
		{Name: "middle half", Value: valueRange(p.axis, b.Q1, b.Q3)},
		{Name: "whiskers", Value: valueRange(p.axis, b.WhiskerLow, b.WhiskerHigh)},
	}
	if n := max(int64(len(b.Outliers)), b.beyond); n > 0 {
		facts = append(facts, primitive.Fact{Name: "beyond them", Value: scale.Number(float64(n), 0)})
	}
	return primitive.Card{
		Heading: p.name(b.place),
		Facts:   append(facts, primitive.Fact{Name: "rows", Value: scale.Number(float64(b.N), 0)}),
	}
}

// valueRange writes two values of an axis, and their unit once.
func valueRange(a *Axis, low, high float64) string {
	if a.Dated() || a.Form != "" {
		return ValueText(a, low) + " to " + ValueText(a, high)
	}
	return scale.Value(low, 4) + " to " + withUnit(scale.Value(high, 4), a.Unit())
}
