package figure

import (
	"math"
	"strconv"

	"copperlark/core/chart"
	"copperlark/core/scale"
)

// Span is what a numeric axis of a figure spans, in the unit of its column.
type Span struct {
	Axis     string // x or y
	Column   string
	Unit     string
	Kind     scale.Kind
	From, To float64 // From is the lower one
}

// sharedBy is what charts must have in common along an axis to share it.
type sharedBy struct {
	axis, column, unit string
	kind               scale.Kind
}

func (s Span) by() sharedBy { return sharedBy{s.Axis, s.Column, s.Unit, s.Kind} }

// Spans are those of the axes along which all pictures of a figure have one scale of numbers; groups have none.
func (f *Figure) Spans() (spans []Span) {
	seen, several := map[string]int{}, map[string]bool{}
	for _, p := range f.Panels {
		if p.Edge != "" {
			continue
		}
		for axis, at := range map[string]int{"x": p.X, "y": p.Y} {
			if was, known := seen[axis]; known && was != at {
				several[axis] = true
			}
			seen[axis] = at
		}
	}
	for _, axis := range []string{"x", "y"} {
		at, known := seen[axis]
		if !known || several[axis] || f.Scales[at].Kind == scale.Groups || f.Scales[at].Column == "" {
			continue
		}
		s := f.Scales[at]
		low, high := min(s.From, s.To), max(s.From, s.To)
		if math.IsInf(high-low, 0) || math.IsNaN(high-low) {
			continue
		}
		spans = append(spans, Span{axis, s.Column, s.Unit, s.Kind, low, high})
	}
	return spans
}

// Together are the ends of the axes that several figures have in common: the column, its unit and the kind of scale are the same.
type Together map[sharedBy]chart.Limits

// TogetherOf finds them; figures are the spans of each.
func TogetherOf(figures [][]Span) Together {
	out, count := Together{}, map[sharedBy]int{}
	for _, spans := range figures {
		for _, s := range spans {
			ends := chart.Limits{From: s.From, To: s.To, Dates: s.Kind == scale.Date}
			if was, known := out[s.by()]; known {
				ends.From, ends.To = min(ends.From, was.From), max(ends.To, was.To)
			}
			out[s.by()] = ends
			count[s.by()]++
		}
	}
	for by, ends := range out {
		if count[by] < 2 {
			delete(out, by)
			continue
		}
		ends.From, ends.To = rounded(by.kind, ends.From, ends.To)
		out[by] = ends
	}
	return out
}

// rounded are ends a little further out that can be said in few digits; of dates whole days, hours or minutes.
func rounded(kind scale.Kind, from, to float64) (low, high float64) {
	const hour, day = 3600, 24 * 3600
	switch {
	case kind == scale.Log:
		low, _ = outward(from, from, figures)
		_, high = outward(to, to, figures)
	case kind != scale.Date:
		low, _ = outward(from, to-from, figures)
		_, high = outward(to, to-from, figures)
	default:
		step := 60.0
		if to-from > 60*day {
			step = day
		} else if to-from > 2*day {
			step = hour
		}
		low, high = math.Floor(from/step)*step, math.Ceil(to/step)*step
	}
	if !(low <= from) || !(high >= to) || math.IsInf(high-low, 0) || kind == scale.Log && low <= 0 {
		return from, to
	}
	return low, high
}

// figures is in how many digits of its span an end is said.
const figures = 3

// outward are the numbers of so many digits of a magnitude below and above v.
func outward(v, magnitude float64, digits int) (below, above float64) {
	places := digits - 1 - int(math.Floor(math.Log10(math.Abs(magnitude))))
	step := math.Pow(10, -float64(places))
	below = at(v, places)
	above = below
	if below > v {
		below = at(below-step, places)
	}
	if above < v {
		above = at(above+step, places)
	}
	return below, above
}

// at is a number with so many places behind its point; before it, where they are less than 0.
func at(v float64, places int) float64 {
	if v == 0 {
		return 0
	}
	digits := int(math.Floor(math.Log10(math.Abs(v)))) + places
	if digits < 0 { // less than one step from 0
		return math.Round(v*math.Pow(10, float64(places))) / math.Pow(10, float64(places))
	}
	out, _ := strconv.ParseFloat(strconv.FormatFloat(v, 'e', digits, 64), 64)
	return out
}

// On gives a document the ends that its axes have in common with those of others, except where it says limits itself. The
// document stays as it is; where there is nothing to change it is given back.
func (t Together) On(document *chart.Document, spans []Span) *chart.Document {
	out := document
	for _, s := range spans { // also where they are what it spans: laid out in another size it would span something else
		ends, shared := t[s.by()]
		said := document.Scales.X
		if s.Axis == "y" {
			said = document.Scales.Y
		}
		if !shared || said.Limits != nil {
			continue
		}
		if out == document {
			out = document.Clone()
		}
		if s.Axis == "x" {
			out.Scales.X.Limits = &ends
		} else {
			out.Scales.Y.Limits = &ends
		}
	}
	return out
}
