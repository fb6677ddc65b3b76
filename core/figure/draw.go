package figure

import (
	"math"
	"slices"
	"sort"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/table"
)

// Drawn is a figure on its way: its primitives, and what the stages before them know.
type Drawn struct {
	*Laid
	figure *Figure
	placed []*mark.Placed    // the layers of the panels, from what lies below to what lies on top
	follow map[float64]int32 // codes of the values that dots are followed by
}

// Draw emits the primitives of every panel, from what lies below to what lies on top.
func Draw(l *Laid) (*Drawn, []chart.Problem) {
	d := l.Document
	b := &Drawn{
		Laid: l,
		figure: &Figure{
			Version: Version,
			Width:   l.Width,
			Height:  l.Height,
			Title:   d.Title,
			Note:    d.Note,
			Step:    l.step,
			Manner:  l.manner,
			Layers:  []primitive.Layer{},
			Scales: slices.Clone(
				l.scales,
			),
			Panels:   slices.Clone(l.panels),
			Keys:     copiedKeys(l.keys),
			Texts:    slices.Clone(l.texts),
			Rows:     l.tally,
			Fits:     l.fits,
			Cautions: slices.Clone(l.cautions),
		},
	}
	for i, p := range b.parts {
		at := &l.panels[i]
		panel := &mark.Panel{
			Index:   i,
			X:       &l.scales[at.X].Scale,
			Y:       &l.scales[at.Y].Scale,
			Width:   at.Box.Width,
			Height:  at.Box.Height,
			Metrics: b.Metrics,
			Counts:  b.counts,
			Fine:    b.Fine,
		}
		sink := &mark.Sink{Panel: i}
		for _, one := range p.computed {
			sink.Mark, sink.Says = one.name, one.says
			one.Draw(panel, sink)
		}
		b.placed = append(b.placed, sink.Layers...)
	}
	b.fix(b.placed)
	b.inFront(b.placed)
	if problems := b.outlined(b.placed); problems != nil {
		return nil, problems
	}
	sort.SliceStable(b.placed, func(i, j int) bool { return b.placed[i].Level < b.placed[j].Level })
	for _, l := range b.placed {
		switch {
		case !b.Bare:
			b.figure.Layers = append(b.figure.Layers, l.Layer)
		case l.Kind != primitive.Texts:
			b.figure.Layers = append(b.figure.Layers, bare(l.Layer))
		}
	}
	return b, nil
}

// copiedKeys are keys that a drawing may change: their entries and colours are its own.
func copiedKeys(keys []Key) []Key {
	out := slices.Clone(keys)
	for i := range out {
		out[i].Entries, out[i].Signs = slices.Clone(out[i].Entries), slices.Clone(out[i].Signs)
		if g := out[i].Gradient; g != nil {
			own := *g
			own.Light, own.Dark = slices.Clone(g.Light), slices.Clone(g.Dark)
			out[i].Gradient = &own
		}
	}
	return out
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
func (b *Drawn) rowsOfPoints() {
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
func (b *Drawn) followed(rows []uint32) primitive.Array {
	c := b.Table.Column(b.Document.Follow)
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
			codes[i] = b.codeOf(c.Numbers[row])
		}
	}
	return primitive.NewArray(codes)
}

// codeOf is the code of a number that dots are followed by: the same in every step, and no other number's.
func (b *Drawn) codeOf(value float64) int32 {
	if b.follow == nil {
		b.follow = map[float64]int32{}
	}
	code, known := b.follow[value]
	if !known {
		code = int32(len(b.follow))
		b.follow[value] = code
	}
	return code
}

// countOutside counts the drawn rows beyond limits that were set.
func (b *Drawn) countOutside() {
	if b.Document.Scales.X.Limits == nil && b.Document.Scales.Y.Limits == nil {
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
