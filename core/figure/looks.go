package figure

import (
	"cmp"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/table"
	"copperlark/core/text"
)

// manner is how a document says that what is about the marks looks.
func manner(d *chart.Document) Manner {
	m := Manner{
		Grid:   d.Grid,
		Key:    d.Key,
		Lines:  d.Look == chart.LookRuled || d.Look == chart.LookSketch,
		Sketch: d.Look == chart.LookSketch,
	}
	if d.Paper != nil {
		paper := d.Paper.Pixels()
		m.Paper = &paper
	}
	if scale := d.TextScale(); scale != 1 {
		m.Text = scale
	}
	for _, l := range d.Letters {
		at := d.Written(l.Of)
		m.Letters = append(m.Letters, Lettered{Of: l.Of, Size: at.Size * d.TextScale(), Bold: at.Bold})
	}
	m.Guides = d.Guides
	if s := d.AxisLines; s != nil {
		m.Lines, m.Stroke = true, axisStroke(s)
	}
	m.Bold = d.Weight == chart.WeightBold
	if m.Lines && m.Grid == "" && d.AxisLines == nil {
		m.Grid = chart.GridOff
	}
	return m
}

// axisStroke is how the lines of axes look that are said to look otherwise than usual; nil: as usual.
func axisStroke(s *chart.Stroke) *AxisStroke {
	if !s.Said() {
		return nil
	}
	out := &AxisStroke{Width: cmp.Or(s.Width, 1)}
	if s.Colour != "" {
		out.Light, out.Dark = colour.OnPapers(s.Colour)
	}
	out.Dash = s.Pattern(out.Width)
	return out
}

// lettering is how each kind of words is written, on the paper that is laid out.
type lettering struct{ title, subtitle, axes, ticks, panels, names, labels chart.Lettered }

func letters(d *chart.Document) lettering {
	return lettering{
		title:    d.Written(chart.TitleLetters),
		subtitle: d.Written(chart.SubtitleLetters),
		axes:     d.Written(chart.AxesLetters),
		ticks:    d.Written(chart.TicksLetters),
		panels:   d.Written(chart.PanelsLetters),
		names:    d.Written(chart.NamesLetters),
		labels:   d.Written(chart.LabelsLetters),
	}
}

// LettersOf is how a kind of words is written that is said to be written otherwise than usual: what is usual where nothing is.
func (m Manner) LettersOf(of string, size float64, bold bool) (float64, bool) {
	for _, l := range m.Letters {
		if l.Of == of {
			return l.Size, l.Bold
		}
	}
	return size * m.TextScale(), bold
}

// shapeColumn is the column that gives groups a shape: the one that is said or, where marks have shapes, the one that colours
// and whose groups are hard to tell apart by colour alone: those in ink, and many.
func (b *Dressed) shapeColumn() *table.Column {
	d := b.Document
	shaped := func(m *mark.Mark) bool { return slices.Contains(m.Takes, mark.Shape) }
	hard := d.Look == chart.LookInk
	if b.groups != nil && !hard {
		hard = len(b.groups.Levels) > mostShapesTold && len(b.rows.rows) <= mostShapedDots // "one shape circle" takes them back
	}
	if d.Shape == "" && hard && d.Fixed.Shape == "" && d.Paired == "" && b.groups.Are(d.Colour) &&
		len(b.groups.Levels) <= chart.MaxShapes &&
		slices.ContainsFunc(b.Marks, shaped) {
		return b.Table.Column(d.Colour)
	}
	return b.Table.Column(d.Shape)
}

// weigh makes the words of a chart as heavy as is said.
func (b *Drawn) weigh() {
	if b.Document.Weight != chart.WeightLight {
		return
	}
	for i := range b.figure.Layers {
		if l := &b.figure.Layers[i]; l.Along == 0 { // names at the ends of lines are as is said of them
			l.Style.Bold = false
		}
	}
}

// patterned gives the line of each group a pattern beside its colour, where that is said and in
// ink; a chart without such lines cannot have patterns.
func (b *Drawn) patterned() []chart.Problem {
	if !b.Document.Patterns && b.Document.Look != chart.LookInk || b.groups == nil {
		return nil
	}
	lines := func(l primitive.Layer) bool {
		return l.Kind == primitive.Paths && l.Keys.Colour == b.groups.Key && l.Colour.Len() > 0
	}
	if !slices.ContainsFunc(b.figure.Layers, lines) {
		if b.Document.Patterns && !b.Bare {
			return []chart.Problem{
				{
					Clause:  "colour",
					Column:  b.Document.Colour,
					Message: "no lines of groups are drawn that could have patterns",
					Advice:  "say as line, or fit line for each, or take with patterns out",
				},
			}
		}
		return nil
	}
	key := &b.figure.Keys[b.groups.Key-1]
	for i := range key.Entries {
		key.Entries[i].Line, key.Entries[i].Dash = true, mark.Patterns[i%len(mark.Patterns)]
	}
	return nil
}

// ink turns the colours of a figure into greys, on both papers.
func (b *Drawn) ink() {
	if b.Document.Look != chart.LookInk {
		return
	}
	grey := func(colours ...*string) {
		for _, c := range colours {
			*c = colour.Grey(*c)
		}
	}
	for i := range b.figure.Layers {
		l := &b.figure.Layers[i]
		grey(&l.Style.Light, &l.Style.Dark)
		if l.Style.Rim != nil {
			grey(&l.Style.Rim.Light, &l.Style.Rim.Dark)
		}
	}
	if s := b.figure.Manner.Stroke; s != nil && s.Light != "" {
		own := *s
		grey(&own.Light, &own.Dark)
		b.figure.Manner.Stroke = &own
	}
	for i := range b.figure.Keys {
		k := &b.figure.Keys[i]
		for j := range k.Entries {
			grey(&k.Entries[j].Light, &k.Entries[j].Dark)
		}
		for j := range k.Signs {
			grey(&k.Signs[j].Light, &k.Signs[j].Dark)
		}
		if k.Gradient != nil {
			for j := range k.Gradient.Light {
				grey(&k.Gradient.Light[j], &k.Gradient.Dark[j])
			}
		}
	}
}

// TextScale is how many times as large as usual the words of a figure are.
func (m Manner) TextScale() float64 {
	if m.Text == 0 {
		return 1
	}
	return m.Text
}

// enlarge makes a figure that was laid out on a smaller paper larger: its words and the room that
// they have grow with the paper, the marks keep their sizes.
func (f *Figure) enlarge(by float64) {
	if by == 1 {
		return
	}
	f.Width, f.Height = f.Width*by, f.Height*by
	if in := f.Manner.Inside; in != nil {
		*in = Box{round(in.Left * by), round(in.Top * by), round(in.Width * by), round(in.Height * by)}
	}
	for i := range f.Panels {
		b := &f.Panels[i].Box
		*b = Box{round(b.Left * by), round(b.Top * by), round(b.Width * by), round(b.Height * by)}
	}
	for i := range f.Texts {
		t := &f.Texts[i]
		t.X, t.Y, t.Size = t.X*by, t.Y*by, t.Size*by
	}
	for i := range f.Scales {
		f.Scales[i].Room *= by
	}
	for i := range f.Layers {
		l := &f.Layers[i]
		l.Style.Size *= by
		for _, offsets := range []*primitive.Array{&l.DX, &l.DY} {
			if offsets.Len() > 0 {
				moved := make([]float32, offsets.Len())
				for j := range moved {
					moved[j] = float32(offsets.At(j) * by)
				}
				*offsets = primitive.NewArray(moved)
			}
		}
	}
}

// Down moves a figure down on its paper, to make room over it.
func (f *Figure) Down(by float64) {
	f.Height += by
	if f.Manner.Inside != nil {
		f.Manner.Inside.Top += by
	}
	for i := range f.Panels {
		f.Panels[i].Box.Top += by
	}
	for i := range f.Texts {
		f.Texts[i].Y += by
	}
}

// The heading that is put over a figure.
const (
	headSize   = 22.0
	headLine   = 28.0
	headLines  = 3
	headMargin = 18.0
)

// Head puts words over a figure, in at most three lines.
func (f *Figure) Head(words string, m *text.Metrics) {
	if words == "" {
		return
	}
	lines := text.Wrap(m, words, headSize, true, (f.Width-2*headMargin)/serifWider, headLines)
	f.Down(float64(len(lines))*headLine + headMargin/2)
	for i, line := range lines {
		f.Texts = append(f.Texts, Text{Role: TitleText, Panel: -1, X: headMargin, Y: headMargin + float64(i)*headLine + headSize*0.6,
			Anchor: "start", Size: headSize, Bold: true, Serif: true, Text: line})
	}
}

// LastStep leaves of a figure that is stepped through what its last step shows.
func (f *Figure) LastStep() {
	if !f.Step || len(f.Panels) < 2 {
		return
	}
	last := len(f.Panels) - 1
	var layers []primitive.Layer
	for _, l := range f.Layers {
		if l.Panel == last {
			l.Panel = 0
			layers = append(layers, l)
		}
	}
	var texts []Text
	for _, t := range f.Texts {
		if t.Panel == last || t.Panel < 0 {
			t.Panel = min(t.Panel, 0)
			texts = append(texts, t)
		}
	}
	f.Panels, f.Layers, f.Texts, f.Step = f.Panels[last:], layers, texts, false
}
