package figure

import (
	"context"
	"fmt"
	"math"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/confound"
	"copperlark/core/describe"
	"copperlark/core/magnitude"
	"copperlark/core/parallel"
	"copperlark/core/scale"
	"copperlark/core/table"
	"copperlark/core/text"
)

// Options are the size of the paper and the font's metrics.
type Options struct {
	Width, Height float64 // pixels; clamped to a size that a chart fits
	Metrics       *text.Metrics
}

// The default paper, and the smallest and largest.
const (
	DefaultWidth, DefaultHeight = 900.0, 560.0
	minSize, maxSize            = 200.0, 8000.0
)

// Build makes the figure of a chart. Clauses that cannot be honoured are given
// as problems, and then there is no figure. The error is the context's.
func Build(ctx context.Context, d *chart.Document, t *table.Table, o Options) (*Figure, []chart.Problem, error) {
	if problems := chart.Check(d, t); len(problems) > 0 {
		return nil, problems, nil
	}
	if o.Width == 0 {
		o.Width, o.Height = DefaultWidth, DefaultHeight
	}
	b := &builder{ctx: ctx, document: d, table: t, options: o, x: t.Column(d.X), y: t.Column(d.Y), rows: selectRows(ctx, d, t)}
	b.figure = &Figure{Version: Version, Width: min(max(o.Width, minSize), maxSize), Height: min(max(o.Height, minSize), maxSize),
		Title: d.Title, Note: d.Note, Fits: []Fit{}, Rows: b.rows.counts}
	if len(b.rows.rows) == 0 {
		return nil, []chart.Problem{{Clause: "plot", Message: fmt.Sprintf("none of the %s rows can be drawn", scale.Number(float64(t.Rows()), 0)), Advice: b.whyEmpty()}}, nil
	}
	b.dotSizes()
	if problem := b.sizes(); problem != nil {
		return nil, []chart.Problem{*problem}, nil
	}
	b.axes()
	b.colours()
	b.shapes()
	b.fits()
	b.layout()
	b.positions()
	b.relation()
	b.card()
	return b.figure, nil, ctx.Err()
}

type builder struct {
	ctx      context.Context
	document *chart.Document
	table    *table.Table
	options  Options
	x, y     *table.Column
	rows     *selection
	figure   *Figure
	grouping *table.Column // the column that colours as groups, nil for none

	line      *FittedLine // of all rows, once it was needed
	lineError error
	divided   map[string]*groupLines // by column
}

func (b *builder) whyEmpty() string {
	words := ""
	for i, reason := range b.rows.counts.LeftOut {
		if i > 0 {
			words += "; "
		}
		words += fmt.Sprintf("%s: %s", reason.Reason, scale.Number(float64(reason.Count), 0))
	}
	return words
}

// dotSizes chooses radius and opacity by how crowded the chart is.
func (b *builder) dotSizes() {
	n := float64(len(b.rows.rows))
	d := &b.figure.Dots
	d.Count = len(b.rows.rows)
	d.Fixed = math.Round(10*min(max(9-2*math.Log10(n+1), 1.5), 7)) / 10
	d.Largest = math.Round(10*min(max(21-4.2*math.Log10(n+1), 3.5), 18)) / 10
	if b.document.Size == "" {
		d.Largest = d.Fixed
	}
	d.Opacity = b.document.Opacity
	if d.Opacity == 0 {
		d.Opacity = math.Round(100*min(max(0.85-0.13*math.Log10(n+1), 0.12), 0.7)) / 100
	}
}

// smallestRadius keeps the smallest of sized marks visible.
const smallestRadius = 1.6

// sizes gives each dot a radius so that its area is its value.
func (b *builder) sizes() *chart.Problem {
	c := b.table.Column(b.document.Size)
	if c == nil {
		return nil
	}
	values := b.rows.numbers(c)
	largest := 0.0
	for _, v := range values {
		if v < 0 {
			return &chart.Problem{Clause: "size", Column: c.Name, Message: fmt.Sprintf("an area cannot be negative; %s goes down to %s or lower", c.ReadableName(), scale.Value(v, 4)),
				Advice: "colour can show values on both sides of zero"}
		}
		largest = max(largest, v)
	}
	if largest == 0 {
		largest = 1
	}
	d := &b.figure.Dots
	radius := func(v float64) float64 { return max(d.Largest*math.Sqrt(v/largest), smallestRadius) }
	steps := make([]uint8, len(values))
	_ = parallel.Ranges(b.ctx, len(values), func(_, from, to int) {
		for i, v := range values[from:to] {
			steps[from+i] = uint8(255*radius(v)/d.Largest + 0.5)
		}
	})
	d.Radius = NewArray(steps)
	key := &Sizes{Column: c.Name, Name: c.ReadableName(), Unit: c.Unit}
	for _, share := range []float64{0.2, 0.5, 1} {
		v := roundDown(largest * share)
		label := scale.Value(v, 6)
		if n := len(key.Samples); n > 0 && key.Samples[n-1].Label == label {
			continue
		}
		key.Samples = append(key.Samples, SizeSample{label, radius(v)})
	}
	b.figure.Size = key
	return nil
}

// roundDown gives the largest 1, 2 or 5 times a power of ten that is not above
// v.
func roundDown(v float64) float64 {
	power := math.Pow(10, math.Floor(math.Log10(v)))
	if power == 0 || math.IsInf(power, 0) { // at the ends of what can be written
		return v
	}
	for _, multiple := range []float64{5, 2} {
		if value := multiple * power; value <= v*(1+1e-12) && value <= math.MaxFloat64 {
			return value
		}
	}
	return power
}

func (b *builder) axes() {
	share := func(length float64) float64 { return min((b.figure.Dots.Largest+5)/max(length-80, 100), 0.2) }
	b.figure.X = b.axis(b.x, b.document.LogX, b.document.XAxis, b.rows.x, share(b.figure.Width))
	b.figure.Y = b.axis(b.y, b.document.LogY, b.document.YAxis, b.rows.y, share(b.figure.Height))
	b.countOutside()
}

// axis makes an axis from what is drawn along it, or from the limits that were
// said. drawn is in drawn space.
func (b *builder) axis(c *table.Column, log bool, said chart.Axis, drawn []float64, share float64) Axis {
	kind := scale.Linear
	switch {
	case c.Kind.Coded():
		kind = scale.Groups
	case c.Kind == table.Date:
		kind = scale.Date
	case log:
		kind = scale.Log
	}
	s := scale.Scale{Kind: kind}
	if said.Limits != nil {
		s.From, s.To = said.Limits.From, said.Limits.To
	} else if kind == scale.Groups {
		s = scale.Padded(kind, 0, float64(len(c.Levels)-1), 0)
	} else {
		low, high := math.Inf(1), math.Inf(-1)
		for _, v := range drawn {
			low, high = min(low, v), max(high, v)
		}
		s = scale.Padded(kind, s.Undrawn(low), s.Undrawn(high), share)
	}
	s.Levels = nil
	if kind == scale.Groups {
		s.Levels = c.Levels
	}
	unit := said.Unit
	if unit == "" {
		unit = c.Unit
	}
	name := said.Title
	if name == "" {
		name = c.ReadableName()
	}
	title := name
	switch {
	case unit != "" && kind == scale.Log:
		title += fmt.Sprintf(" (%s, log scale)", unit)
	case unit != "":
		title += fmt.Sprintf(" (%s)", unit)
	case kind == scale.Log:
		title += " (log scale)"
	}
	return Axis{Scale: s, Column: c.Name, Name: name, Unit: unit, Title: title}
}

func (b *builder) countOutside() {
	if b.document.XAxis.Limits == nil && b.document.YAxis.Limits == nil {
		return
	}
	within := func(a *Axis) (low, high float64) {
		from, to := a.Drawn(a.From), a.Drawn(a.To)
		return min(from, to), max(from, to)
	}
	xLow, xHigh := within(&b.figure.X)
	yLow, yHigh := within(&b.figure.Y)
	for i, u := range b.rows.x {
		if v := b.rows.y[i]; u < xLow || u > xHigh || v < yLow || v > yHigh {
			b.figure.Rows.Outside++
		}
	}
}

// NeutralLight and NeutralDark colour marks that no column colours.
const (
	NeutralLight, NeutralDark = "#2f6d64", "#6fb9ad"
	InkLight, InkDark         = "#16302e", "#e3efec"
)

// colours colours by groups, or along a gradient.
func (b *builder) colours() {
	c := b.table.Column(b.document.Colour)
	if c == nil {
		return
	}
	key := &Key{Column: c.Name, Name: c.ReadableName(), Unit: c.Unit}
	b.figure.Colour = key
	if groups := colourGroups(c); groups != nil {
		b.grouping = groups
		key.Groups = b.groups(groups, func(i int, g *Group) {
			g.Light, g.Dark = colour.Hedgerow.Light[i%len(colour.Hedgerow.Light)], colour.Hedgerow.Dark[i%len(colour.Hedgerow.Dark)]
		})
		b.figure.Dots.Colour = NewArray(asBytes(b.rows.codes(groups)))
		return
	}
	values := b.rows.numbers(c)
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range values {
		low, high = min(low, v), max(high, v)
	}
	steps := make([]uint8, len(values))
	for i, v := range values {
		if high > low {
			steps[i] = uint8(math.Round((colour.GradientSteps - 1) * magnitude.Share(v, low, high)))
		}
	}
	b.figure.Dots.Colour = NewArray(steps)
	s := scale.Scale{Kind: scale.Linear, From: low, To: high}
	if c.Kind == table.Date {
		s.Kind = scale.Date
	}
	key.Gradient = &Gradient{Low: low, High: high, Light: colour.Moss.Colours(false), Dark: colour.Moss.Colours(true), Ticks: s.Ticks(4)}
}

// colourGroups reads a column as groups for colouring: any column of groups, and
// numbers with few whole values (a code, a season).
func colourGroups(c *table.Column) *table.Column {
	if c.Kind.Coded() || c.SuggestsGroups() {
		return c.AsGroups(chart.MaxColours)
	}
	return nil
}

// groups lists the levels with their counts among the drawn rows.
func (b *builder) groups(c *table.Column, dress func(i int, g *Group)) []Group {
	groups := make([]Group, len(c.Levels))
	for i, level := range c.Levels {
		groups[i].Name = level
		dress(i, &groups[i])
	}
	for _, row := range b.rows.rows {
		groups[c.Codes[row]].Count++
	}
	return groups
}

func asBytes(codes []int32) []uint8 {
	bytes := make([]uint8, len(codes))
	for i, code := range codes {
		bytes[i] = uint8(code)
	}
	return bytes
}

func (b *builder) shapes() {
	c := b.table.Column(b.document.Shape)
	if c == nil {
		return
	}
	groups := c.AsGroups(chart.MaxShapes)
	b.figure.Shape = &Key{Column: c.Name, Name: c.ReadableName(), Groups: b.groups(groups, func(i int, g *Group) { g.Shape = Shapes[i] })}
	b.figure.Dots.Shape = NewArray(asBytes(b.rows.codes(groups)))
}

// floatDots is the most dots whose positions travel as float32, which a deep
// zoom stays sharp with; more travel as uint16.
const floatDots = 20_000

func (b *builder) positions() {
	d := &b.figure.Dots
	d.X, d.Y = b.shares(&b.figure.X, b.rows.x), b.shares(&b.figure.Y, b.rows.y)
	if len(b.rows.rows) <= MaxCardDots {
		d.Row = NewArray(b.rows.rows)
	} else if len(b.rows.rows) < b.rows.counts.Total {
		d.LeftOut = NewArray(b.rows.leftOut)
	}
}

// shares turns values in drawn space into positions along an axis.
func (b *builder) shares(a *Axis, drawn []float64) Array {
	from, to := a.Drawn(a.From), a.Drawn(a.To)
	width := to - from
	inside := a.From != a.To
	for _, v := range drawn {
		if p := magnitude.Share(v, from, to); !(p >= 0 && p <= 1) {
			inside = false
			break
		}
	}
	if len(drawn) <= floatDots || !inside {
		positions := make([]float32, len(drawn))
		for i, v := range drawn {
			positions[i] = float32(magnitude.Share(v, from, to))
		}
		return NewArray(positions)
	}
	positions := make([]uint16, len(drawn))
	far := math.IsInf(width, 0)
	_ = parallel.Ranges(b.ctx, len(drawn), func(_, low, high int) {
		for i, v := range drawn[low:high] {
			share := (v - from) / width
			if far {
				share = magnitude.Share(v, from, to)
			}
			positions[low+i] = uint16(positionSteps*share + 0.5) // none is below 0
		}
	})
	return NewArray(positions)
}

// relation fits the line that the reading speaks from, and compares it with the
// groups that the chart shows.
func (b *builder) relation() {
	r := &Relation{}
	b.figure.Relation = r
	if (b.x.Kind.Coded() && b.x.Kind != table.YesNo) || (b.y.Kind.Coded() && b.y.Kind != table.YesNo) {
		r.Problem = "groups have no slope"
		if b.x.Kind.Coded() && !b.y.Kind.Coded() && b.y.Kind != table.Date {
			r.Means = b.groupMeans()
		}
		return
	}
	line, err := b.overall()
	if err != nil {
		r.Problem = b.plainReason(err)
		return
	}
	r.Line = line
	name := ""
	if b.grouping != nil {
		name = b.grouping.Name
	}
	for _, fit := range b.document.Fits {
		if b.table.Column(fit.Each) != nil {
			name = fit.Each
		}
	}
	if name == "" {
		return
	}
	groups := b.inGroups(name).fitted(b)
	if b.ctx.Err() != nil {
		return
	}
	r.Grouping, r.Levels = groups.column.ReadableName(), groups.column.Levels
	r.Compared = confound.CompareLines(b.rows.x, b.rows.y, groups.codes, line.Line, groups.lines, groups.errs)
}

func (b *builder) groupMeans() *GroupMeans {
	codes, y := b.rows.codes(b.x), b.rows.numbers(b.y)
	m := &GroupMeans{Levels: b.x.Levels, Means: make([]float64, len(b.x.Levels)), EtaSquared: describe.EtaSquared(codes, len(b.x.Levels), y), N: len(y)}
	counts := make([]float64, len(m.Means))
	for i, code := range codes {
		m.Means[code] += y[i]
		counts[code]++
	}
	for g := range m.Means {
		m.Means[g] /= counts[g]
	}
	return m
}
