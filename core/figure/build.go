package figure

import (
	"context"
	"fmt"
	"math"
	"sort"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/magnitude"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
	"copperlark/core/text"
)

// Options are the size of the paper and the font's metrics.
type Options struct {
	Width, Height float64 // pixels; clamped to a size that a chart fits
	Metrics       *text.Metrics
	// Bare draws marks alone, for a small picture: no axes, words or cards, and small dots.
	Bare bool
	// Still puts the steps of a chart side by side, for a picture that cannot be stepped through.
	Still bool
	// Fine gives the positions of points more exactly than a picture of the whole needs, for looking
	// closely at a part of it.
	Fine bool
	// Whole is the table of which the chart's own is a part, some columns of it staying at home: how alike its
	// rows are is asked of it. nil: the chart's own.
	Whole *table.Table
	// Dataset gives the table of another dataset by its name; nil: there are no others.
	Dataset func(ctx context.Context, name string) (*table.Table, error)
}

// The default paper, and the smallest and largest.
const (
	DefaultWidth, DefaultHeight = 900.0, 560.0
	minSize, maxSize            = 100.0, chart.MostPaper
	smallestSize                = 20.0 // of a small picture
)

// Build makes the figure of a bound chart: rows are selected, dressed and divided into panels;
// each layer computes what it shows; scales are trained on that; the layout is solved; and
// the layers are drawn. Clauses that cannot be honoured are given as problems, and then
// there is no figure. The error is the context's.
func Build(ctx context.Context, bound *mark.Bound, o Options) (*Figure, []chart.Problem, error) {
	if problems := bound.Problems(); len(problems) > 0 {
		return nil, problems, nil
	}
	d := bound.Document
	if o.Width == 0 {
		o.Width, o.Height = DefaultWidth, DefaultHeight
	}
	least := minSize
	if o.Bare {
		least = smallestSize
	}
	o.Width, o.Height = min(max(o.Width, least), maxSize), min(max(o.Height, least), maxSize)
	enlarged := 1.0
	if !o.Bare {
		enlarged = d.TextScale() // laid out on a smaller paper, and made larger
		o.Width, o.Height = o.Width/enlarged, o.Height/enlarged
	}
	step := d.Step != "" && !o.Still && !o.Bare
	d = d.InPanels()
	b := &builder{ctx: ctx, document: d, step: step, table: bound.Table, options: o, marks: bound.Marks, x: bound.X, y: bound.Y}
	b.figure = &Figure{Version: Version, Width: o.Width, Height: o.Height, Title: d.Title, Note: d.Note, Step: step, Manner: manner(d), Layers: []primitive.Layer{}, Keys: []Key{}, Texts: []Text{}}
	for _, stage := range []func() []chart.Problem{b.selectRows, b.dress, b.unknownGroups, b.readOthers, b.divide, b.compute, b.train, b.layout, b.draw, b.patterned} {
		problems := stage()
		if err := ctx.Err(); err != nil {
			return nil, nil, err
		}
		if problems != nil {
			return nil, problems, nil
		}
	}
	b.sketch()
	b.weigh()
	b.ink()
	b.shade()
	b.keyInOrder()
	b.keysInside()
	b.keysAtEnds()
	b.hardColours()
	b.figure.enlarge(enlarged)
	if !o.Bare {
		b.relate()
		b.card()
	}
	return b.figure, nil, ctx.Err()
}

// builder is a figure on its way: each stage reads what those before it made.
type builder struct {
	ctx      context.Context
	document *chart.Document
	step     bool // panels stand in one place, and one is seen at a time
	table    *table.Table
	options  Options
	marks    []*mark.Mark
	x, y     *mark.Axis
	rows     *selection
	channels mark.Channels // of all rows
	groups   *mark.Groups  // that colour
	codes    []int32
	parts    []*part // one a panel
	whole    *mark.Case
	counts   mark.Counts // how counts of rows are coloured
	strips   strips
	others   []other // what more is drawn
	figure   *Figure
}

// part is what one panel shows.
type part struct {
	titles   []string
	place    [2]int // row and column among the panels
	c        *mark.Case
	computed []*layer
}

// layer is what a layer of the chart found in a panel.
type layer struct {
	name string
	*mark.Computed
}

func (b *builder) selectRows() []chart.Problem {
	rows, problem := selectRows(b.ctx, b.document, b.table, b.x, b.y)
	if problem != nil {
		return []chart.Problem{*problem}
	}
	b.rows = rows
	b.figure.Rows = rows.counts
	if len(rows.rows) == 0 {
		return []chart.Problem{{Clause: "plot", Message: fmt.Sprintf("none of the %s rows can be drawn", scale.Number(float64(b.table.Rows()), 0)), Advice: b.whyEmpty()}}
	}
	return nil
}

func (b *builder) whyEmpty() string {
	words := ""
	for i, reason := range b.rows.counts.LeftOut {
		if i > 0 {
			words += "; "
		}
		words += fmt.Sprintf("%s: %s", reason.Reason, scale.Number(float64(reason.Count), 0))
	}
	if words == "" {
		return "the table has no rows"
	}
	return words
}

// compute lets every layer find what it shows in every panel.
func (b *builder) compute() []chart.Problem {
	for _, p := range b.parts {
		if problems := b.computePart(p); problems != nil {
			return problems
		}
	}
	b.countKey()
	return nil
}

// logCounts is from which count on colours follow the logarithm of counts.
const logCounts = 30

// countKey explains the colours of counts, where a mark has them.
func (b *builder) countKey() {
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
	ticks := b.gradientTicks(&s, false, false)
	for i := range ticks {
		ticks[i].Value = s.Drawn(ticks[i].Value)
	}
	low, high := s.Drawn(s.From), s.Drawn(s.To)
	key := Key{Channels: []string{"colour"}, Name: name, Gradient: &Gradient{Low: low, High: high, Light: colour.Moss.Colours(false), Dark: colour.Moss.Colours(true), Ticks: ticks}}
	b.counts = mark.Counts{Key: b.addKey(key), Step: func(count int) uint8 {
		return uint8(math.Round((colour.GradientSteps - 1) * magnitude.Share(s.Drawn(float64(count)), low, high)))
	}}
}

func (b *builder) computePart(p *part) []chart.Problem {
	add := func(name string, c *mark.Computed) { p.computed = append(p.computed, &layer{name, c}) }
	if len(p.c.Rows) == 0 {
		return nil
	}
	for _, m := range b.marks {
		found, err := m.Compute(b.ctx, p.c)
		if err != nil {
			if b.ctx.Err() != nil {
				return nil
			}
			return []chart.Problem{{Clause: "as", Message: err.Error(), Advice: "draw it with another mark"}}
		}
		add(m.Name, found)
		if b.document.Interval != nil {
			about, err := mark.ComputeIntervals(b.ctx, p.c, m)
			if err != nil {
				return nil
			}
			add(mark.IntervalLayer, about)
		}
		for _, reason := range found.LeftOut { // for a reason of the mark's own
			b.figure.Rows.LeftOut = append(b.figure.Rows.LeftOut, reason)
			if len(b.marks) == 1 {
				b.figure.Rows.Drawn -= reason.Count
			}
		}
	}
	overall := 0
	for i, fit := range b.document.Fits() {
		found, err := mark.ComputeFit(b.ctx, p.c, fit, i, overall)
		if err != nil {
			return nil
		}
		for _, one := range found.Fits {
			one.Panel = p.c.Panel
		}
		b.figure.Fits = append(b.figure.Fits, found.Fits...)
		if fit.Overall {
			overall++
			if fit.Each != "" && overall == 1 { // it took the dashes of the second
				overall++
			}
		}
		add(chart.FitLayer, stroked(found, fit.Stroke))
	}
	if overall > 0 && p.c.Measured[0] != nil {
		add(mark.MeasuredLayer, mark.MeasuredLine(b.ctx, p.c))
	}
	if b.document.Centres != "" {
		add(mark.CentresLayer, mark.ComputeCentres(b.ctx, p.c))
	}
	for _, reference := range b.document.References() {
		found, problems := mark.ComputeReference(b.ctx, p.c, reference)
		if problems != nil {
			return problems
		}
		add(chart.ReferenceLayer, stroked(found, reference.Stroke))
	}
	return b.computeOthers(p)
}

// draw emits the primitives of every panel, from what lies below to what lies on top.
func (b *builder) draw() []chart.Problem {
	f := b.figure
	var all []*mark.Placed
	for i, p := range b.parts {
		at := &f.Panels[i]
		panel := &mark.Panel{Index: i, X: &f.Scales[at.X].Scale, Y: &f.Scales[at.Y].Scale, Width: at.Box.Width, Height: at.Box.Height, Metrics: b.options.Metrics, Counts: b.counts, Fine: b.options.Fine}
		sink := &mark.Sink{Panel: i}
		for _, one := range p.computed {
			sink.Mark = one.name
			one.Draw(panel, sink)
		}
		all = append(all, sink.Layers...)
	}
	b.fix(all)
	b.inFront(all)
	if problems := b.outlined(all); problems != nil {
		return problems
	}
	sort.SliceStable(all, func(i, j int) bool { return all[i].Level < all[j].Level })
	if b.options.Bare {
		for _, l := range all {
			if l.Kind != primitive.Texts {
				f.Layers = append(f.Layers, bare(l.Layer))
			}
		}
		return nil
	}
	for _, l := range all {
		f.Layers = append(f.Layers, l.Layer)
	}
	f.Layers = append(f.Layers, b.drawEdges()...)
	b.rowsOfPoints()
	b.labels(all)
	b.countOutside()
	return b.labelPoints()
}

// bare is a layer as a small picture shows it.
func bare(l primitive.Layer) primitive.Layer {
	l.Cards, l.Style.Fixed, l.Style.Largest = nil, l.Style.Fixed*smallShare, l.Style.Largest*smallShare
	if l.Style.Width > 0 {
		l.Style.Width = math.Max(l.Style.Width*0.6, 1)
	}
	return l
}

// smallShare is how large dots are in a small picture.
const smallShare = 0.38

// rowsOfPoints says which row each point of a layer of rows is.
func (b *builder) rowsOfPoints() {
	for i := range b.figure.Layers {
		l := &b.figure.Layers[i]
		if !l.Rows {
			continue
		}
		rows := b.parts[l.Panel].c.Rows
		l.Who = b.followed(rows)
		switch {
		case len(b.rows.rows) <= MaxCardDots || len(b.parts) > 1 || b.rows.series != nil:
			l.Row = primitive.NewArray(rows)
		case len(rows) < b.rows.counts.Total:
			l.LeftOut = primitive.NewArray(b.rows.leftOut)
		}
	}
}

// followed tells which rows of one step are those of another: by a code of their value in the column
// that is followed; nothing where none is.
func (b *builder) followed(rows []uint32) primitive.Array {
	c := b.table.Column(b.document.Follow)
	if c == nil || !b.step {
		return primitive.Array{}
	}
	codes := make([]int32, len(rows))
	for i, row := range rows {
		switch {
		case c.Missing(int(row)):
			codes[i] = table.MissingCode
		case c.Kind.Coded():
			codes[i] = c.Codes[row]
		default:
			codes[i] = int32(math.Float64bits(c.Numbers[row]) * 0x9e3779b97f4a7c15 >> 33) // two that fall together are followed as one
		}
	}
	return primitive.NewArray(codes)
}

// countOutside counts the drawn rows beyond limits that were set.
func (b *builder) countOutside() {
	if b.document.Scales.X.Limits == nil && b.document.Scales.Y.Limits == nil {
		return
	}
	within := func(s *Scale) (low, high float64) {
		from, to := s.Drawn(s.From), s.Drawn(s.To)
		return min(from, to), max(from, to)
	}
	for i, p := range b.parts {
		if !p.c.X.Numeric() && !p.c.X.Grouped() || p.c.Y.Aggregated() || p.c.X.Aggregated() {
			continue
		}
		at := b.figure.Panels[i]
		xLow, xHigh := within(&b.figure.Scales[at.X])
		yLow, yHigh := within(&b.figure.Scales[at.Y])
		for j, u := range p.c.U {
			if v := p.c.V[j]; u < xLow || u > xHigh || v < yLow || v > yHigh {
				b.figure.Rows.Outside++
			}
		}
	}
}
