package mark

import (
	"context"
	"math"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/magnitude"
	"copperlark/core/parallel"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// dots is a point for each row, or for each statistic.
var dots = &Mark{
	Name:    "dots",
	Help:    "a dot for each row",
	Also:    "points scatter",
	Example: "plot honey_kg against forage_ha",
	Rows:    true,
	Takes:   []Channel{GroupColour, NumberColour, Size, Shape},
	Suits:   func(x, y *Axis) bool { return x.Numeric() && y.Numeric() },
	Check: func(c *Case) []chart.Problem {
		if c.X.Of == chart.Spread || c.Y.Of == chart.Spread {
			return problem("a spread has no dots", "say as histogram")
		}
		return checkJitter(c)
	},
	Compute: computeDots,
}

// floatDots is the most dots whose positions travel as float32, which a deep
// zoom stays sharp with; more travel as uint16.
const floatDots = 20_000

// outlinedDots is the most dots that have a rim of their own.
const outlinedDots = chart.ApartUpTo

func computeDots(ctx context.Context, c *Case) (*Computed, error) {
	if c.X.Aggregated() || c.Y.Aggregated() {
		return computePlaces(ctx, c, drawPlaces)
	}
	u, v := c.jittered("x", c.U), c.jittered("y", c.V)
	out := &Computed{X: None().Of(u...), Y: None().Of(v...)}
	out.Draw = func(p *Panel, s *Sink) {
		ch := c.Channels
		drawGhosts(ctx, c, p, s)
		s.Add(
			Middle,
			primitive.Layer{
				Kind:   primitive.Points,
				Count:  len(c.Rows),
				X:      p.Positions(ctx, p.X, u),
				Y:      p.Positions(ctx, p.Y, v),
				Colour: ch.Colour,
				Shape:  ch.Shape,
				Radius: ch.Radius,
				Keys:   ch.Keys,
				Rows:   true,
				Style: primitive.Style{
					Light:   primitive.NeutralLight,
					Dark:    primitive.NeutralDark,
					Opacity: ch.Opacity,
					Fixed:   ch.Fixed,
					Largest: ch.Largest,
					Outline: len(c.Rows) <= outlinedDots,
				},
			},
		)
	}
	return out, nil
}

// Positions turns values in drawn space into positions along one of the panel's axes.
func (p *Panel) Positions(ctx context.Context, s *scale.Scale, drawn []float64) primitive.Array {
	if p.Fine {
		return floats(ctx, s, drawn)
	}
	return Positions(ctx, s, drawn)
}

// floats are positions as float32, which a deep zoom stays sharp with.
func floats(ctx context.Context, s *scale.Scale, drawn []float64) primitive.Array {
	from, to := s.Drawn(s.From), s.Drawn(s.To)
	positions := make([]float32, len(drawn))
	_ = parallel.Ranges(ctx, len(drawn), func(_, low, high int) {
		for i, v := range drawn[low:high] {
			positions[low+i] = float32(magnitude.Share(v, from, to))
		}
	})
	return primitive.NewArray(positions)
}

// Positions turns values in drawn space into positions along an axis: float32, or, where
// there are many and all lie inside, whole steps.
func Positions(ctx context.Context, s *scale.Scale, drawn []float64) primitive.Array {
	from, to := s.Drawn(s.From), s.Drawn(s.To)
	inside := s.From != s.To && len(drawn) > floatDots
	if inside {
		for _, v := range drawn {
			if p := magnitude.Share(v, from, to); !(p >= 0 && p <= 1) {
				inside = false
				break
			}
		}
	}
	if !inside {
		return floats(ctx, s, drawn)
	}
	positions := make([]uint16, len(drawn))
	width := to - from
	far := math.IsInf(width, 0)
	_ = parallel.Ranges(ctx, len(drawn), func(_, low, high int) {
		for i, v := range drawn[low:high] {
			share := (v - from) / width
			if far {
				share = magnitude.Share(v, from, to)
			}
			positions[low+i] = uint16(primitive.PositionSteps*share + 0.5) // none is below 0
		}
	})
	return primitive.NewArray(positions)
}

// drawPlaces draws a dot for each statistic.
func drawPlaces(c *Case, found *places, p *Panel, s *Sink) {
	l := primitive.Layer{
		Kind:  primitive.Points,
		Count: len(found.list),
		Keys:  found.keys(),
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark,
			Opacity: 0.9, Fixed: 5, Largest: 5, Outline: true},
	}
	if c.Document.Opacity > 0 {
		l.Style.Opacity = c.Document.Opacity
	}
	across, values := make([]float64, 0, len(found.list)), make([]float64, 0, len(found.list))
	for _, at := range found.list {
		across, values = append(across, at.at), append(values, found.value.Drawn(at.value))
		l.Cards = append(l.Cards, found.card(at))
	}
	l.Colour = found.colours()
	found.put(p, &l, across, values, nil, nil)
	s.Add(Middle, l)
}

// Dated reports whether values along the axis are moments.
func (a *Axis) Dated() bool {
	return a.Column != nil && a.Column.Kind == table.Date && !a.Counts()
}

// ValueText writes a value that stands along an axis, in its form and with its unit.
func ValueText(a *Axis, v float64) string {
	if a.Dated() {
		return table.FormatDate(v, a.Column.Grain)
	}
	return withUnit(scale.InForm(a.Form, v, scale.Value(v, 4)), a.Unit())
}

// withUnit writes a unit where people write it.
func withUnit(text, unit string) string {
	switch unit {
	case "":
		return text
	case "£", "$", "€", "¥":
		if strings.Contains(text, unit) { // its form has said it
			return text
		}
		return unit + scale.Pence(text)
	case "%":
		if strings.HasSuffix(text, "%") {
			return text
		}
	}
	return text + " " + unit
}

// alike writes values of an axis beside each other: in the form of the axis, else all with
// as many decimals as give the largest three digits; whole numbers stay whole.
func alike(a *Axis, values []float64) []string {
	if a.Form != "" || a.Dated() {
		out := make([]string, len(values))
		for i, v := range values {
			if a.Dated() {
				out[i] = table.FormatDate(v, a.Column.Grain)
			} else {
				out[i] = scale.InForm(a.Form, v, scale.Value(v, 4))
			}
		}
		return out
	}
	most, whole := 0.0, true
	for _, v := range values {
		most, whole = max(most, math.Abs(v)), whole && v == math.Trunc(v)
	}
	decimals := 0
	if !whole && most > 0 {
		decimals = max(0, 2-int(math.Floor(math.Log10(most))))
	}
	out := make([]string, len(values))
	for i, v := range values {
		switch {
		case most >= 1e6: // 306M
			out[i] = scale.InForm("120k", magnitude.Digits(v, 3), "")
		case decimals > 5:
			out[i] = scale.Value(v, 2)
		default:
			out[i] = scale.Number(v, decimals)
		}
	}
	return out
}
