package mark

import (
	"context"
	"math"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// bars are a length from zero for each statistic.
var bars = &Mark{
	Name:      "bars",
	Help:      "a length from zero for each statistic",
	Also:      "columns count sum mean",
	Example:   "plot mean(honey_kg) against district\nas bars",
	Zero:      true,
	Statistic: true,
	beside:    true,
	Takes:     []Channel{GroupColour},
	Suits:     func(x, y *Axis) bool { return statisticAcross(x, y) || statisticAcross(y, x) },
	Check: func(c *Case) []chart.Problem {
		value := c.Y
		if turned(c) {
			value = c.X
		}
		switch {
		case c.X.Of == chart.Spread || c.Y.Of == chart.Spread:
			return problem("a spread is a histogram, not bars", "say as histogram")
		case !value.Aggregated():
			return problem(
				"bars need a statistic: a count, a sum, a mean or a median",
				"say plot count() against …, or plot mean(…) against …",
			)
		case value.Kind != scale.Linear:
			return problem("bars have no zero on a log axis", "draw dots, or take the log scale out")
		}
		return nil
	},
	Compute: computeBars,
}

// statisticAcross reports whether values are statistics for each group.
func statisticAcross(across, value *Axis) bool {
	return value.Aggregated() && value.Of != chart.Spread && across.Grouped()
}

const (
	barShare    = 0.72 // of the room of a place that its bars fill
	labelledBar = 24   // the most bars that carry their values
	barLabel    = 12.0
)

func computeBars(ctx context.Context, c *Case) (*Computed, error) {
	found, err := gather(ctx, c)
	if err != nil {
		return nil, err
	}
	across, values := None(), None().Of(0)
	for _, at := range found.list {
		across, values = across.Of(at.at-found.width/2, at.at+found.width/2), values.Of(at.value, at.outer())
	}
	if len(found.list) <= labelledBar { // room for the values at their ends
		room := 0.12*values.High - 0.12*values.Low
		if far := values.High - values.Low + 2*room; math.IsInf(far, 0) {
			room = 0
		}
		if values.High > 0 {
			values.High += room
		}
		if values.Low < 0 {
			values.Low -= room
		}
	}
	out := &Computed{Exact: found.exact, Draw: func(p *Panel, s *Sink) { drawBars(found, p, s) }}
	out.X, out.Y = found.extents(across, values)
	return out, nil
}

// beside says how the places of several groups share the room of one: where the middle of
// a group's part lies from the place, and how wide it is.
func (p *places) beside(at place) (middle, width float64) {
	width = barShare * p.width
	if p.groups == nil || p.own || p.groups.Column == "" && len(p.groups.Levels) < 2 {
		return at.at, width
	}
	n := float64(len(p.groups.Levels))
	width /= n
	return at.at + (float64(at.group)-(n-1)/2)*width, width * 0.94
}

func drawBars(found *places, p *Panel, s *Sink) {
	n := len(found.list)
	a, a2, v, v2 := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
	l := primitive.Layer{Kind: primitive.Rects, Count: n, Keys: found.keys(), Colour: found.colours(),
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true, Opacity: 0.72}}
	for i, at := range found.list {
		middle, width := found.beside(at)
		a[i], a2[i], v2[i] = middle-width/2, middle+width/2, at.value
		l.Cards = append(l.Cards, found.card(at))
	}
	found.put(p, &l, a, v, a2, v2)
	s.Add(Middle, l)
	if n <= labelledBar {
		labelBars(found, a, a2, p, s)
	}
}

// outer is where what is drawn of a place ends, away from zero.
func (at place) outer() float64 {
	switch {
	case at.value < 0 && at.about.Low < at.value:
		return at.about.Low
	case at.value >= 0 && at.about.High > at.value:
		return at.about.High
	}
	return at.value
}

// labelBars writes the value of each bar beyond its end.
func labelBars(found *places, a, a2 []float64, p *Panel, s *Sink) {
	n := len(found.list)
	middles, ends := make([]float64, n), make([]float64, n)
	dx, dy := make([]float32, n), make([]float32, n)
	l := primitive.Layer{Kind: primitive.Texts, Count: n, Keys: primitive.Keys{Colour: found.keys().Colour}, Colour: found.colours(),
		Style: primitive.Style{Light: primitive.InkLight, Dark: primitive.InkDark, Size: barLabel, Bold: true, Anchor: "middle"}}
	room := 0.0
	values := make([]float64, n)
	for i, at := range found.list {
		values[i] = at.value
	}
	texts := alike(found.axis, values)
	for i, at := range found.list {
		middles[i], ends[i] = (a[i]+a2[i])/2, at.outer()
		sign := float32(1)
		if at.value < 0 {
			sign = -1
		}
		text := texts[i]
		l.Words = append(l.Words, text)
		room = max(room, p.Metrics.Width(text, barLabel, true))
		if found.turned {
			dx[i] = sign * 7
		} else {
			dy[i] = -sign * 11
		}
	}
	width := p.Width * math.Abs(p.X.Share(found.width)-p.X.Share(0))
	if found.turned {
		l.Style.Anchor = "start"
		width = p.Height * math.Abs(p.Y.Share(found.width)-p.Y.Share(0))
		room = barLabel
	}
	if found.groups != nil && !found.own {
		width *= barShare / float64(len(found.groups.Levels))
	}
	if room > width { // labels would stand over each other
		return
	}
	if found.turned {
		for i, at := range found.list { // beyond the lower end a label ends where the bar does
			if at.value < 0 {
				dx[i] -= float32(p.Metrics.Width(l.Words[i], barLabel, true))
			}
		}
	}
	l.Colour, l.Keys = primitive.Array{}, primitive.Keys{}
	l.DX, l.DY = primitive.NewArray(dx), primitive.NewArray(dy)
	found.put(p, &l, middles, ends, nil, nil)
	s.Add(Words, l)
}
