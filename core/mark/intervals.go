package mark

import (
	"context"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/describe"
	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/model"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// IntervalLayer is the mark of how sure statistics are.
const IntervalLayer = "interval"

const (
	whiskerWidth = 1.6
	whiskerCap   = 4.0 // half as long as the bar at its end, in pixels
	// ribbonFrom is from how many places on the intervals along a line are a ribbon.
	ribbonFrom    = 12
	ribbonOpacity = 0.16
)

// intervalOf gives what stands about a statistic of values: Student's interval of a mean,
// Wilson's of a share, that of order statistics of a median, or a standard deviation to each
// side of a mean. It is NaN where the values are too few for it.
func intervalOf(said *chart.Interval, axis *Axis, values []float64) model.Interval {
	none := model.Interval{Low: math.NaN(), High: math.NaN()}
	level := said.Level / 100
	switch yes := axis.Column != nil && axis.Column.Kind == table.YesNo; {
	case said.Deviation:
		m := describe.Summarise(values)
		return model.Interval{Low: m.Mean - m.SD, High: m.Mean + m.SD}
	case axis.Of == chart.Median:
		return describe.MedianOf(slices.Clone(values), level).Interval
	case axis.Of != chart.Mean || len(values) == 0:
		return none
	case yes:
		ones := 0
		for _, v := range values {
			ones += int(v)
		}
		return describe.ShareOf(ones, len(values), level).Interval
	}
	m, err := describe.IntervalOfMean(values, level)
	if err != nil {
		return none
	}
	return model.Interval{Low: m.Low, High: m.High}
}

// intervalFrom is intervalOf of values of which the moments are known, as those of x.
func intervalFrom(said *chart.Interval, axis *Axis, m summary.Moments) model.Interval {
	level, n := said.Level/100, float64(m.N)
	sd := math.NaN()
	if m.N > 1 {
		sd = math.Sqrt(m.XX / (n - 1))
	}
	switch yes := axis.Column != nil && axis.Column.Kind == table.YesNo; {
	case said.Deviation:
		return model.Interval{Low: m.X - sd, High: m.X + sd}
	case axis.Of != chart.Mean || m.N == 0:
		return model.Interval{Low: math.NaN(), High: math.NaN()}
	case yes:
		return describe.ShareOf(int(math.Round(m.X*n)), int(m.N), level).Interval
	}
	half := distribution.StudentQuantile((1-level)/2, n-1) * sd / math.Sqrt(n)
	return model.Interval{Low: m.X - half, High: m.X + half}
}

// IntervalName is what is drawn about each statistic.
func IntervalName(said *chart.Interval) string {
	if said.Deviation {
		return "standard deviation"
	}
	return scale.Value(said.Level, 3) + " % interval"
}

// ComputeIntervals finds what stands about each statistic of a case that a mark draws.
func ComputeIntervals(ctx context.Context, c *Case, m *Mark) (*Computed, error) {
	found, err := gather(ctx, c)
	if err != nil {
		return nil, err
	}
	kept := found.list[:0]
	across, values := None(), None()
	for _, at := range found.list {
		if !magnitude.Finite(at.about.Low) || !magnitude.Finite(at.about.High) {
			continue
		}
		kept = append(kept, at)
		across, values = across.Of(at.at), values.Of(found.value.Drawn(at.about.High))
		if low := found.value.Place(at.about.Low); magnitude.Finite(low) {
			values = values.Of(low)
		}
	}
	found.list = kept
	out := &Computed{Exact: found.exact}
	out.X, out.Y = found.extents(across, values)
	out.Draw = func(p *Panel, s *Sink) {
		if joined := m == line || m == steps || m == area; joined && !found.turned && !found.across.Grouped() &&
			found.longest() >= ribbonFrom {
			found.drawRibbons(p, s)
			return
		}
		found.drawWhiskers(m.beside, m == bars, p, s)
	}
	return out, nil
}

// longest is how many places the group with the most has.
func (p *places) longest() (most int) {
	counts := map[int32]int{}
	for _, at := range p.list {
		counts[at.group]++
		most = max(most, counts[at.group])
	}
	return most
}

// ends gives both ends of what stands about a place in drawn space: below the panel where a
// log scale has no place for the lower one.
func (p *places) ends(panel *Panel, at place) (low, high float64) {
	s := panel.Y
	if p.turned {
		s = panel.X
	}
	if low = s.Place(at.about.Low); !magnitude.Finite(low) {
		from, to := s.Drawn(s.From), s.Drawn(s.To)
		low = min(from, to) - math.Abs(to-from)
	}
	return low, s.Drawn(at.about.High)
}

// drawWhiskers draws a bar from end to end, with a short one across each.
func (p *places) drawWhiskers(beside, filled bool, panel *Panel, s *Sink) {
	var a, a2, v, v2 []float64
	pixel := math.Abs(panel.X.Share(1)-panel.X.Share(0)) * panel.Width
	if p.turned {
		pixel = math.Abs(panel.Y.Share(1)-panel.Y.Share(0)) * panel.Height
	}
	l := primitive.Layer{
		Kind:  primitive.Segments,
		Style: primitive.Style{Light: primitive.InkLight, Dark: primitive.InkDark, Width: whiskerWidth},
	}
	var cards []primitive.Card
	var entries []uint8
	for _, at := range p.list {
		middle, half := at.at, whiskerCap/pixel
		if beside {
			var width float64
			if middle, width = p.beside(at); width/3 < half {
				half = width / 3
			}
		}
		low, high := p.ends(panel, at)
		a, a2 = append(a, middle, middle-half, middle-half), append(a2, middle, middle+half, middle+half)
		v, v2 = append(v, low, low, high), append(v2, high, low, high)
		card := p.card(at)
		cards = append(cards, card, card, card)
		entries = append(entries, uint8(at.group), uint8(at.group), uint8(at.group))
	}
	if p.groups != nil && !filled { // on bars of their colour they would not be seen
		l.Colour, l.Keys = primitive.NewArray(entries), p.keys()
	}
	l.Count, l.Cards = len(a), cards
	p.put(panel, &l, a, v, a2, v2)
	s.Add(Over, l)
}

// drawRibbons draws an area about the line of each group.
func (p *places) drawRibbons(panel *Panel, s *Sink) {
	groups := map[int32][]place{}
	var order []int32
	for _, at := range p.list {
		if groups[at.group] == nil {
			order = append(order, at.group)
		}
		groups[at.group] = append(groups[at.group], at)
	}
	slices.Sort(order)
	for _, g := range order {
		var x, low, high []float64
		for _, at := range groups[g] {
			l, h := p.ends(panel, at)
			x, low, high = append(x, at.at), append(low, l), append(high, h)
		}
		l := primitive.Layer{
			Kind:  primitive.Areas,
			Count: 1,
			X:     panel.ShareX(x),
			Y:     panel.ShareY(low),
			Y2:    panel.ShareY(high),
			Start: primitive.NewArray([]uint32{0}),
			Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true, Opacity: ribbonOpacity},
		}
		if p.groups != nil {
			l.Colour, l.Keys = primitive.NewArray([]uint8{uint8(g)}), p.keys()
		}
		s.Add(Under, l)
	}
}
