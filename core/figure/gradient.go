package figure

import (
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/magnitude"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// gradient colours each row by a number: by its share of the way between the ends, in the
// space of the scale. What lies beyond the limits that were said takes the last colour.
func (b *Dressed) gradient(c *table.Column) *Gradient {
	said, values := &b.Document.Gradient, b.rows.numbers(c)
	s := scale.Scale{Kind: scale.Linear, Form: mark.FormOf(c)}
	switch {
	case c.Kind == table.Date:
		s.Kind = scale.Date
	case said.Log:
		s.Kind = scale.Log
	}
	least, most := math.Inf(1), math.Inf(-1)
	for _, v := range values {
		least, most = min(least, v), max(most, v)
	}
	s.From, s.To = ends(said, least, most)
	low, high := s.Drawn(s.From), s.Drawn(s.To)
	steps := make([]uint8, len(values))
	for i, v := range values {
		if high > low {
			steps[i] = uint8(math.Round((colour.GradientSteps - 1) * min(max(magnitude.Share(s.Place(v), low, high), 0), 1)))
		}
	}
	b.channels.Colour = primitive.NewArray(steps)
	return &Gradient{
		Low:   low,
		High:  high,
		Light: colours(said, &s, false),
		Dark:  colours(said, &s, true),
		scale: s,
		below: least < s.From,
		above: most > s.To,
	}
}

// ends are where the colours of values between least and most begin and end.
func ends(said *chart.Gradient, least, most float64) (from, to float64) {
	if l := said.Limits; l != nil {
		return min(l.From, l.To), max(l.From, l.To)
	}
	return least, most
}

// colours are those of the way from one end to the other. About a middle they are a part of
// those that reach equally far to both its sides, so that equal distances look equal.
func colours(said *chart.Gradient, s *scale.Scale, dark bool) []string {
	all := said.Colours().Colours(dark)
	if said.Turned() {
		slices.Reverse(all)
	}
	if said.About == nil {
		return all
	}
	middle, low, high := s.Drawn(*said.About), s.Drawn(s.From), s.Drawn(s.To)
	reach := max(math.Abs(low-middle), math.Abs(high-middle))
	part := make([]string, len(all))
	for i := range part {
		share := 0.5
		if reach > 0 {
			share = magnitude.Share(magnitude.Between(low, high, float64(i)/float64(len(part)-1)), middle-reach, middle+reach)
		}
		part[i] = all[int(math.Round(min(max(share, 0), 1)*float64(len(all)-1)))]
	}
	return part
}

// How long the picture of a gradient is, in pixels: at least, where other keys stand beside it, and where it stands alone.
const (
	shortGradient    = 150.0
	besideGradient   = 260.0
	longGradient     = 560.0
	gradientOverhang = 20.0 // of the numbers below it
)

// gradientLengths lets each gradient be as long as its place allows, with as many numbers as stand below it.
func (b *Drawn) gradientLengths() {
	f := b.figure
	for i := range f.Keys {
		k := &f.Keys[i]
		if k.Gradient == nil {
			continue
		}
		g := k.Gradient
		g.Length = shortGradient
		if f.Manner.Key != chart.KeyRight && f.Manner.Key != chart.KeyInside {
			most := besideGradient
			if len(f.Keys) == 1 {
				most = longGradient
			}
			room := f.Width - 2*edge - b.Metrics.Width(k.Title(), KeyInsideSize, false) - 2*gradientOverhang
			g.Length = math.Floor(min(max(room, shortGradient), most))
		}
		g.Ticks = b.gradientTicks(g)
	}
}

// StartsAt is below which share of a gradient a label begins at its tick, so that it does not
// stand over the edge.
const StartsAt = 0.06

// gradientTicks are as many as stand beside each other without touching. An end that values
// lie beyond has a tick that says so.
func (b *Dressed) gradientTicks(g *Gradient) (ticks []scale.Tick) {
	s := &g.scale
	defer func() {
		for i := range ticks {
			ticks[i].Value = s.Drawn(ticks[i].Value)
		}
	}()
	finite := func(list []scale.Tick) []scale.Tick { // of a span that a number does not hold there are none
		return slices.DeleteFunc(list, func(t scale.Tick) bool { return math.IsNaN(t.Value) || math.IsInf(t.Value, 0) })
	}
	for count := max(4, int(g.Length/110)); count > 1; count-- {
		if ticks = clamped(s, finite(s.Ticks(count)), g.below, g.above); b.apart(g, ticks) {
			return ticks
		}
	}
	for len(ticks) > 1 && !b.apart(g, ticks) {
		ticks = slices.Delete(ticks, 1, 2)
	}
	return ticks
}

// clamped are ticks with one more at each end that values lie beyond.
func clamped(s *scale.Scale, inner []scale.Tick, below, above bool) []scale.Tick {
	if !below && !above {
		return inner
	}
	end := func(v float64) string {
		if s.Kind == scale.Date {
			return table.FormatDate(v, table.Day)
		}
		return scale.Value(v, 6)
	}
	inner = slices.DeleteFunc(inner, func(t scale.Tick) bool { return below && t.Value <= s.From || above && t.Value >= s.To })
	if below {
		inner = slices.Insert(inner, 0, scale.Tick{Value: s.From, Label: "≤ " + end(s.From)})
	}
	if above {
		inner = append(inner, scale.Tick{Value: s.To, Label: "≥ " + end(s.To)})
	}
	return inner
}

func (b *Dressed) apart(g *Gradient, ticks []scale.Tick) bool {
	until := math.Inf(-1)
	for _, tick := range ticks {
		share, half := g.scale.Position(tick.Value), b.Metrics.Width(tick.Label, b.letters.ticks.Size, false)/2
		middle := share * g.Length
		if share < StartsAt {
			middle += half
		}
		if middle-half < until {
			return false
		}
		until = middle + half + 6
	}
	return true
}
