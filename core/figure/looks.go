package figure

import (
	"slices"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// manner is how a document says that what is about the marks looks.
func manner(d *chart.Document) Manner {
	m := Manner{Grid: d.Grid, Key: d.Key, Lines: d.Look == chart.LookRuled, Paper: d.Paper}
	if m.Lines && m.Grid == "" {
		m.Grid = chart.GridOff
	}
	return m
}

// shapeColumn is the column that gives groups a shape: the one that is said or, where a chart is
// drawn in ink and its marks have shapes, the one that colours, for greys are hard to tell apart.
func (b *builder) shapeColumn() *table.Column {
	d := b.document
	shaped := func(m *mark.Mark) bool { return slices.Contains(m.Takes, mark.Shape) }
	if d.Shape == "" && d.Look == chart.LookInk && d.Fixed.Shape == "" && b.groups.Are(d.Colour) && len(b.groups.Levels) <= chart.MaxShapes && slices.ContainsFunc(b.marks, shaped) {
		return b.table.Column(d.Colour)
	}
	return b.table.Column(d.Shape)
}

// ink turns the colours of a figure into greys, on both papers.
func (b *builder) ink() {
	if b.document.Look != chart.LookInk {
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
	}
	for i := range b.figure.Keys {
		k := &b.figure.Keys[i]
		for j := range k.Entries {
			grey(&k.Entries[j].Light, &k.Entries[j].Dark)
		}
		if k.Gradient != nil {
			for j := range k.Gradient.Light {
				grey(&k.Gradient.Light[j], &k.Gradient.Dark[j])
			}
		}
	}
}

// Down moves a figure down on its paper, to make room over it.
func (f *Figure) Down(by float64) {
	f.Height += by
	for i := range f.Panels {
		f.Panels[i].Box.Top += by
	}
	for i := range f.Texts {
		f.Texts[i].Y += by
	}
}
