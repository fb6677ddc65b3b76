package mark

import (
	"context"
	"errors"
	"math"

	"copperlark/core/chart"
	"copperlark/core/formula"
	"copperlark/core/magnitude"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// Diagonal is the expression of the line on which x and y are the same.
const Diagonal = "x"

// workedPlaces is at how many places along the panel a worked-out line is worked out; as far
// again on each side, for what comes into view when it is moved.
const workedPlaces = 301

// computeWorkedOut places a line along which y is worked out from x. It takes no room but that
// for its nearest point where it would not be seen among the marks.
func computeWorkedOut(ctx context.Context, c *Case, r *chart.Reference) (*Computed, []chart.Problem) {
	x, y := None().Of(c.U...), None().Of(c.V...)
	out := &Computed{X: None(), Y: None(), Draw: func(*Panel, *Sink) {}}
	if !x.Empty() && !y.Empty() {
		_, v, err := workOut(ctx, c, r.Formula, x)
		var mistake *formula.Error
		if errors.As(err, &mistake) {
			return nil, []chart.Problem{{Clause: "line y", Message: mistake.Message, Advice: mistake.Advice}}
		}
		if near, some := nearest(v, y); some {
			out.Y = out.Y.Of(near)
		}
	}
	name := r.Name
	if name == "" {
		name = "y = " + formula.Spoken(r.Formula, func(column string) string { return column })
	}
	if !x.Empty() {
		out.Ends = []EndAt{{name, math.Inf(1)}}
	}
	out.Draw = func(p *Panel, s *Sink) {
		low, high := p.X.Drawn(p.X.From), p.X.Drawn(p.X.To)
		u, v, err := workOut(ctx, c, r.Formula, Extent{low - (high - low), high + (high - low)})
		if err != nil {
			return
		}
		drawWorkedOut(p, s, name, u, v)
	}
	return out, nil
}

// workOut gives places along x and the values of y there, in drawn space; NaN where there is none.
func workOut(ctx context.Context, c *Case, expression string, x Extent) (u, v []float64, err error) {
	sx, sy := c.X.Scale(), c.Y.Scale()
	u = make([]float64, 3*workedPlaces)
	values := make([]float64, len(u))
	for i := range u {
		share := float64(i) / float64(len(u)-1)
		u[i] = x.Low*(1-share) + x.High*share
		values[i] = sx.Undrawn(u[i])
	}
	if v, err = formula.Curve(ctx, expression, values); err != nil {
		return nil, nil, err
	}
	for i, value := range v {
		v[i] = sy.Place(value)
	}
	return u, v, nil
}

// nearest is the value that comes nearest to an extent; none where one is within it, or there
// is no value.
func nearest(values []float64, e Extent) (near float64, some bool) {
	least := math.Inf(1)
	for _, v := range values {
		switch distance := max(e.Low-v, v-e.High); {
		case distance <= 0:
			return 0, false
		case distance < least:
			near, least, some = v, distance, true
		}
	}
	return near, some
}

func drawWorkedOut(p *Panel, s *Sink, name string, u, v []float64) {
	l := primitive.Layer{
		Kind:  primitive.Paths,
		Style: primitive.Style{Light: referenceLight, Dark: referenceDark, Width: referenceWidth, Dash: []float64{5, 4}},
	}
	var runs []uint32
	var x, y []float64
	var ends []End
	open := false
	for i := range u {
		share := p.Y.Share(v[i])
		if !magnitude.Finite(share) {
			open = false
			continue
		}
		if open && leaps(p.Y, v, i) {
			open = false
		}
		if !open {
			runs = append(runs, uint32(len(x)))
			ends = append(ends, End{Light: referenceLight, Dark: referenceDark})
			l.Cards = append(l.Cards, primitive.Card{Heading: name, Facts: []primitive.Fact{}})
		}
		open = true
		x, y = append(x, p.X.Share(u[i])), append(y, min(max(share, -far), far))
	}
	if len(x) == 0 {
		return
	}
	ends[len(ends)-1].Name = name
	l.Count, l.X, l.Y, l.Start = len(runs), primitive.Shares(x), primitive.Shares(y), primitive.NewArray(runs)
	s.Add(Over, l).End = ends
}

// leaps reports whether a line goes over a pole before a place, as 1 / x does at 0: it crosses
// the whole panel against the way that it came.
func leaps(s *scale.Scale, v []float64, i int) bool {
	before, after := s.Share(v[i-1]), s.Share(v[i])
	if min(before, after) >= 0 || max(before, after) <= 1 || i < 2 {
		return false
	}
	return (v[i-1]-v[i-2])*(v[i]-v[i-1]) < 0
}
