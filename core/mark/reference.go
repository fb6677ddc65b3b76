package mark

import (
	"context"
	"fmt"

	"copperlark/core/chart"
	"copperlark/core/magnitude"
	"copperlark/core/primitive"
)

// far is beyond what is seen at any zoom: references go across the whole panel.
const far = 40.0

const (
	referenceWidth                = 1.4
	referenceLight, referenceDark = "#7a4a20", "#e0a878"
)

// ComputeReference places a line across the panel, a band between two values, or a line along
// which y is worked out from x.
func ComputeReference(ctx context.Context, c *Case, r *chart.Reference) (*Computed, []chart.Problem) {
	if r.Formula != "" {
		return computeWorkedOut(ctx, c, r)
	}
	axis, values := c.Y, c.V
	if r.Axis == "x" {
		axis, values = c.X, c.U
	}
	s := axis.Scale()
	at, name := r.At, r.Name
	if r.Of != chart.NoAggregate {
		if len(values) == 0 {
			return &Computed{X: None(), Y: None(), Draw: func(*Panel, *Sink) {}}, nil
		}
		plain := make([]float64, len(values)) // the statistic is of the data, not of their logarithms
		for i, v := range values {
			plain[i] = v
			if !axis.Aggregated() {
				plain[i] = s.Undrawn(v)
			}
		}
		at = statistic(r.Of, len(plain), plain)
		if name == "" {
			name = fmt.Sprintf("%s %s", r.Of, ValueText(axis, at))
		}
	}
	if place := s.Place(at); !magnitude.Finite(place) {
		return nil, []chart.Problem{
			{
				Clause:  "line",
				Message: fmt.Sprintf("the axis has no place for %s", ValueText(axis, at)),
				Advice:  "say another value, or take the log scale out",
			},
		}
	}
	if name == "" && r.To == nil {
		name = ValueText(axis, at)
	}
	drawn := []float64{s.Place(at)}
	if r.To != nil {
		drawn = append(drawn, s.Place(*r.To))
		if !magnitude.Finite(drawn[1]) {
			return nil, []chart.Problem{
				{
					Clause:  "band",
					Message: fmt.Sprintf("the axis has no place for %s", ValueText(axis, *r.To)),
					Advice:  "say another value, or take the log scale out",
				},
			}
		}
	}
	out := &Computed{X: None(), Y: None(), Draw: func(p *Panel, sink *Sink) { drawReference(r, drawn, name, p, sink) }}
	if r.Axis == "x" {
		out.X = out.X.Of(drawn...)
	} else {
		out.Y = out.Y.Of(drawn...)
	}
	return out, nil
}

func drawReference(r *chart.Reference, drawn []float64, name string, p *Panel, sink *Sink) {
	card := []primitive.Card{{Heading: name, Facts: []primitive.Fact{}}}
	across, across2 := primitive.Shares([]float64{-far}), primitive.Shares([]float64{1 + far})
	share := p.ShareY
	if r.Axis == "x" {
		share = p.ShareX
	}
	from, to := share(drawn[:1]), share(drawn[len(drawn)-1:])
	l := primitive.Layer{
		Kind:  primitive.Segments,
		Count: 1,
		Cards: card,
		Style: primitive.Style{Light: referenceLight, Dark: referenceDark, Width: referenceWidth, Dash: []float64{5, 4}},
	}
	level := Over
	if r.To != nil {
		l.Kind, level = primitive.Rects, Under
		l.Style = primitive.Style{Light: "#c98a4e", Dark: "#b5793f", Fill: true, Opacity: 0.16}
	}
	if r.Axis == "x" {
		l.X, l.X2, l.Y, l.Y2 = from, to, across, across2
	} else {
		l.X, l.X2, l.Y, l.Y2 = across, across2, from, to
	}
	sink.Add(level, l)
	if name == "" {
		return
	}
	label := primitive.Layer{
		Kind:  primitive.Texts,
		Count: 1,
		Words: []string{name},
		Style: primitive.Style{Light: referenceLight, Dark: referenceDark, Size: 12, Bold: true, Halo: true, Anchor: "end"},
	}
	if r.Axis == "x" {
		label.Style.Anchor = "start"
		label.X, label.Y = to, primitive.Shares([]float64{1})
		label.DX, label.DY = primitive.NewArray([]float32{5}), primitive.NewArray([]float32{10})
	} else {
		label.X, label.Y = primitive.Shares([]float64{1}), to
		label.DX, label.DY = primitive.NewArray([]float32{-5}), primitive.NewArray([]float32{-9})
		if r.To != nil {
			label.DY = primitive.NewArray([]float32{10})
		}
	}
	sink.Add(Words, label)
}
