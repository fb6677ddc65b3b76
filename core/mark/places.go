package mark

import (
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/describe"
	"copperlark/core/magnitude"
	"copperlark/core/model"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// A place is the rows that share a position along one axis, and a group of the colours,
// with the statistic of their values along the other axis.
type place struct {
	at    float64 // in drawn space
	group int32   // -1 where no groups colour
	n     int
	value float64        // in the data's units
	about model.Interval // what is drawn about it; NaN for nothing
}

// places are the statistics of a panel.
type places struct {
	list         []place
	turned       bool  // the values stand along x
	across, axis *Axis // where the places stand; where the values do
	value        *scale.Scale
	groups       *Groups
	own          bool // the colours are the places' own groups
	width        float64
	exact        bool   // of all rows, where those at hand are a sample
	interval     string // what is drawn about them; empty for nothing
}

// MaxPlaces is how many different places a statistic is made at.
const MaxPlaces = 20_000

// turned reports whether the values stand along x.
func turned(c *Case) bool { return c.X.Aggregated() }

// newPlaces says where the statistics of a case stand.
func newPlaces(c *Case) *places {
	p := &places{across: c.X, axis: c.Y, groups: c.Groups}
	if turned(c) {
		p.turned, p.across, p.axis = true, c.Y, c.X
	}
	p.value = p.axis.Scale()
	p.own = c.Groups != nil && p.across.Column != nil && c.Groups.Column == p.across.Column.Name
	return p
}

// gather makes the statistic of each place and group.
func gather(ctx context.Context, c *Case) (*places, error) {
	p := newPlaces(c)
	if p.elsewhere(c) {
		return p, nil
	}
	at, values := c.U, c.V
	if p.turned {
		at, values = values, at
	}
	type key struct {
		at    float64
		group int32
	}
	index := map[key]int{}
	var collected [][]float64
	for i, u := range at {
		if i%65536 == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		k := key{u, -1}
		if c.Groups != nil {
			k.group = c.Codes[i]
		}
		j, known := index[k]
		if !known {
			if j = len(p.list); j >= MaxPlaces {
				return nil, tooManyPlaces(p)
			}
			index[k] = j
			p.list, collected = append(p.list, place{at: u, group: k.group}), append(collected, nil)
		}
		p.list[j].n++
		if p.axis.Of != chart.Count {
			collected[j] = append(collected[j], values[i])
		}
	}
	kept := p.list[:0]
	for j, one := range p.list {
		one.about = model.Interval{Low: math.NaN(), High: math.NaN()}
		if said := c.Document.Interval(); said != nil {
			p.interval = IntervalName(said)
			if about := intervalOf(said, p.axis, collected[j]); magnitude.Finite(about.Low) &&
				magnitude.Finite(about.High) { // some lie beyond a float64
				one.about = about
			}
		}
		one.value = statistic(p.axis.Of, one.n, collected[j])
		if d := p.value.Drawn(one.value); magnitude.Finite(d) { // a log scale has no place for zero
			kept = append(kept, one)
		}
	}
	p.list = kept
	p.inOrder()
	return p, nil
}

// inOrder puts the places in the order of the axis.
func (p *places) inOrder() {
	slices.SortStableFunc(p.list, func(a, b place) int {
		if a.at != b.at {
			return map[bool]int{true: -1, false: 1}[a.at < b.at]
		}
		return int(a.group - b.group)
	})
	p.width = p.gap()
}

// elsewhere takes the statistics of all rows, where those at hand are a sample and they are known.
func (p *places) elsewhere(c *Case) bool {
	colours, told := c.coloured()
	if c.Elsewhere == nil || !told || p.across.Column == nil || !p.across.Grouped() || p.across.Aggregated() ||
		p.axis.Column == nil && p.axis.Of != chart.Count {
		return false
	}
	var value *summary.Value
	if p.axis.Of != chart.Count {
		value = &summary.Value{Column: p.axis.Column.Name}
	}
	all, known := c.Elsewhere.placed(p.across.Column, colours, p.axis.Of, value)
	if !known {
		return false
	}
	for _, m := range all {
		one := place{at: float64(m.at), group: m.group, n: int(m.N), about: model.Interval{Low: math.NaN(), High: math.NaN()}}
		switch p.axis.Of {
		case chart.Count:
			one.value = float64(m.N)
		case chart.Mean:
			one.value = m.X
		default:
			one.value = m.X * float64(m.N)
		}
		if said := c.Document.Interval(); said != nil {
			p.interval = IntervalName(said)
			if about := intervalFrom(said, p.axis, m.Moments); magnitude.Finite(about.Low) && magnitude.Finite(about.High) {
				one.about = about
			}
		}
		if magnitude.Finite(p.value.Drawn(one.value)) {
			p.list = append(p.list, one)
		}
	}
	p.exact = true
	p.inOrder()
	return true
}

func tooManyPlaces(p *places) error {
	return fmt.Errorf(
		"%s has more than %s different values, too many for a statistic at each",
		p.across.Prose(),
		scale.Number(MaxPlaces, 0),
	)
}

// Statistic gives an aggregate of values, also where their sum is beyond a float64.
func statistic(of chart.Aggregate, n int, values []float64) float64 {
	switch of {
	case chart.Count:
		return float64(n)
	case chart.Median:
		return describe.Quantiles(values, 0.5)[0]
	}
	scaled, unit := magnitude.Scaled(values)
	sum := 0.0
	for _, v := range scaled {
		sum += v
	}
	if of == chart.Mean {
		return sum / float64(n) * unit
	}
	return sum * unit
}

// gap is the smallest distance between two neighbouring places.
func (p *places) gap() float64 {
	if p.across.Grouped() {
		return 1
	}
	gap := math.Inf(1)
	for i := 1; i < len(p.list); i++ {
		if d := p.list[i].at - p.list[i-1].at; d > 0 {
			gap = min(gap, d)
		}
	}
	if math.IsInf(gap, 1) {
		gap = 1
		if len(p.list) > 0 && p.across.Kind == scale.Date {
			gap = 86400
		}
	}
	return gap
}

func (p *places) keys() primitive.Keys {
	if p.groups == nil {
		return primitive.Keys{}
	}
	return primitive.Keys{Colour: p.groups.Key}
}

// colours are the entries of the colour key.
func (p *places) colours() primitive.Array {
	if p.groups == nil {
		return primitive.Array{}
	}
	entries := make([]uint8, len(p.list))
	for i, at := range p.list {
		entries[i] = uint8(at.group)
	}
	return primitive.NewArray(entries)
}

// name is what a place is called.
func (p *places) name(at place) string {
	text := acrossText(p.across, at.at)
	if p.groups != nil && !p.own {
		text += ", " + p.groups.Levels[at.group]
	}
	return text
}

// acrossText writes a position in drawn space as the value that stands there.
func acrossText(a *Axis, at float64) string {
	if a.Grouped() {
		if i := int(at); i >= 0 && i < len(a.Column.Levels) {
			return a.Column.Levels[i]
		}
		return ""
	}
	return ValueText(a, a.Scale().Undrawn(at))
}

func (p *places) card(at place) primitive.Card {
	facts := []primitive.Fact{}
	if p.axis.Of != chart.Count {
		facts = append(facts, primitive.Fact{Name: table.Prose(p.axis.Name()), Value: ValueText(p.axis, at.value)})
	}
	if magnitude.Finite(at.about.High) {
		ends := alike(p.axis, []float64{at.about.Low, at.about.High})
		facts = append(facts, primitive.Fact{Name: p.interval, Value: ends[0] + " to " + ends[1]})
	}
	return primitive.Card{Heading: p.name(at), Facts: append(facts, primitive.Fact{Name: "rows", Value: scale.Number(float64(at.n), 0)})}
}

// put sets positions across and along the values, whichever axis each stands on.
func (p *places) put(panel *Panel, l *primitive.Layer, across, values, across2, values2 []float64) {
	x, y := panel.ShareX, panel.ShareY
	if p.turned {
		l.X, l.Y, l.X2, l.Y2 = x(values), y(across), x(values2), y(across2)
		return
	}
	l.X, l.Y, l.X2, l.Y2 = x(across), y(values), x(across2), y(values2)
}

// extents give the room that places need.
func (p *places) extents(across, values Extent) (x, y Extent) {
	if p.turned {
		return values, across
	}
	return across, values
}

// computePlaces makes the statistics of a case and draws them with a function.
func computePlaces(ctx context.Context, c *Case, draw func(*Case, *places, *Panel, *Sink)) (*Computed, error) {
	found, err := gather(ctx, c)
	if err != nil {
		return nil, err
	}
	across, values := None(), None()
	for _, at := range found.list {
		across, values = across.Of(at.at), values.Of(found.value.Drawn(at.value))
	}
	out := &Computed{Exact: found.exact, Draw: func(p *Panel, s *Sink) { draw(c, found, p, s) }}
	out.X, out.Y = found.extents(across, values)
	return out, nil
}

// Extreme is a place with its statistic, written for people.
type Extreme struct{ Name, Value string }

// Extremes gives the places of a case, whatever groups colour, with the highest and the
// lowest statistic, and how many places there are.
// rows is how many rows they are of, exact whether these are all where those at hand are a sample.
func Extremes(ctx context.Context, c *Case) (highest, lowest Extreme, n, rows int, exact bool, err error) {
	plain := *c
	plain.Groups, plain.Codes = nil, nil
	found, err := gather(ctx, &plain)
	if err != nil || len(found.list) == 0 {
		return highest, lowest, 0, 0, false, err
	}
	top, bottom := found.list[0], found.list[0]
	for _, at := range found.list {
		rows += at.n
		if at.value > top.value {
			top = at
		}
		if at.value < bottom.value {
			bottom = at
		}
	}
	written := func(at place) Extreme { return Extreme{found.name(at), ValueText(found.axis, at.value)} }
	return written(top), written(bottom), len(found.list), rows, found.exact, nil
}
