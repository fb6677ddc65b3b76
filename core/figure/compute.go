package figure

import (
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/magnitude"
	"copperlark/core/mark"
	"copperlark/core/scale"
)

// Computed is what each layer of a chart found in each panel.
type Computed struct {
	*Dressed
	parts    []*part // one a panel
	whole    *mark.Case
	away     *mark.Elsewhere // what all rows are asked; nil where these are all
	counts   mark.Counts     // how counts of rows are coloured
	keys     []Key           // with the one of counts
	fits     []*mark.Fit
	tally    Rows // of rows, with what marks leave out for reasons of their own
	cautions []string
}

// part is what one panel shows.
type part struct {
	titles   []string
	place    [2]int // row and column among panels by two columns
	c        *mark.Case
	computed []*layer
}

// layer is what a layer of the chart found in a panel.
type layer struct {
	name string
	says string // the word of the sentence that governs it; empty: those of the marks
	*mark.Computed
}

// Compute divides the rows into panels, and lets every layer find what it shows in each.
func Compute(ctx context.Context, d *Dressed) (*Computed, []chart.Problem) {
	c := &Computed{Dressed: d, keys: slices.Clip(d.keys), tally: d.rows.counts}
	c.away = d.elsewhere()
	c.divide()
	for _, p := range c.parts {
		if problems := c.computePart(ctx, p); problems != nil {
			return nil, problems
		}
	}
	c.exactRows()
	c.exactKeys()
	c.countKey()
	c.signKeys()
	return c, nil
}

// logCounts is from which count on colours follow the logarithm of counts.
const logCounts = 30

// countKey explains the colours of counts, where a mark has them.
func (b *Computed) countKey() {
	most := 0
	for _, p := range b.parts {
		for _, one := range p.computed {
			most = max(most, one.Most)
		}
	}
	if most == 0 {
		return
	}
	s, name := scale.Scale{Kind: scale.Linear, From: 0, To: float64(most), Every: map[bool]float64{true: 1}[most < 4]}, "Rows"
	if most >= logCounts {
		s, name = scale.Scale{Kind: scale.Log, From: 1, To: float64(most)}, "Rows (log scale)"
	}
	low, high := s.Drawn(s.From), s.Drawn(s.To)
	key := Key{
		Channels: []string{"colour"},
		Name:     name,
		Gradient: &Gradient{Low: low, High: high, Light: colour.Moss.Colours(false), Dark: colour.Moss.Colours(true), scale: s},
	}
	b.keys = append(b.keys, key)
	b.counts = mark.Counts{Key: len(b.keys), Step: func(count int) uint8 {
		return uint8(math.Round((colour.GradientSteps - 1) * magnitude.Share(s.Drawn(float64(count)), low, high)))
	}}
}

func (b *Computed) computePart(ctx context.Context, p *part) []chart.Problem {
	add := func(name, says string, c *mark.Computed) { p.computed = append(p.computed, &layer{name, says, c}) }
	if len(p.c.Rows) == 0 {
		return nil
	}
	for _, m := range b.Marks {
		found, err := m.Compute(ctx, p.c)
		if err != nil {
			if ctx.Err() != nil {
				return nil
			}
			return []chart.Problem{{Clause: "as", Message: err.Error(), Advice: "draw it with another mark"}}
		}
		add(m.Name, "", found)
		if b.Document.Interval() != nil {
			about, err := mark.ComputeIntervals(ctx, p.c, m)
			if err != nil {
				return nil
			}
			add(mark.IntervalLayer, "interval", about)
		}
		for _, reason := range found.LeftOut { // for a reason of the mark's own
			b.tally.LeftOut = append(slices.Clip(b.tally.LeftOut), reason)
			if len(b.Marks) == 1 {
				b.tally.Drawn -= reason.Count
			}
		}
	}
	overall := 0
	for i, fit := range b.Document.Fits() {
		found, err := mark.ComputeFit(ctx, p.c, fit, i, overall)
		if err != nil {
			return nil
		}
		for _, one := range found.Fits {
			one.Panel = p.c.Panel
		}
		b.fits = append(b.fits, found.Fits...)
		if fit.Overall {
			overall++
			if fit.Each != "" && overall == 1 { // it took the dashes of the second
				overall++
			}
		}
		add(chart.FitLayer, fmt.Sprintf("fit-kind:%d", i), stroked(found, fit.Stroke))
	}
	if overall > 0 && p.c.Measured[0] != nil {
		add(mark.MeasuredLayer, "take-out", mark.MeasuredLine(ctx, p.c))
	}
	if b.Document.Centres() != "" {
		add(mark.CentresLayer, "centres", mark.ComputeCentres(ctx, p.c))
	}
	for i, reference := range b.Document.References() {
		found, problems := mark.ComputeReference(ctx, p.c, reference)
		if problems != nil {
			return problems
		}
		add(chart.ReferenceLayer, fmt.Sprintf("reference:%d", i), stroked(found, reference.Stroke))
	}
	return b.computeOthers(ctx, p)
}
