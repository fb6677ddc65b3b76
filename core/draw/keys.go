package draw

import (
	"copperlark/core/figure"
	"copperlark/core/magnitude"
	"copperlark/core/text"
)

// The measures of keys and of what stands below a figure.
const (
	keySize   = 12.5
	keyRow    = 22.0
	keyGap    = 16.0
	swatch    = 5.0
	gradient  = 150.0
	noteSize  = 13.0
	noteLine  = 18.0
	belowEdge = 18.0
)

// Below is what stands under a figure on its own paper: keys, and the note.
type Below struct {
	rows   [][]item
	note   []string
	Height float64
}

type item struct {
	x, width float64
	text     string
	heading  bool
	shape    string
	colours  [2]string // light and dark
	radius   float64
	gradient *figure.Gradient
}

// Under lays out what stands under a figure of a width.
func Under(f *figure.Figure, m *text.Metrics, width float64) *Below {
	b := &Below{}
	for i := range f.Keys {
		b.key(&f.Keys[i], m, width)
	}
	if f.Note != "" {
		b.note = text.Wrap(m, f.Note, noteSize, false, width-2*belowEdge, 6)
	}
	b.Height = float64(len(b.rows))*keyRow + float64(len(b.note))*noteLine
	if b.Height > 0 {
		b.Height += 12
	}
	return b
}

func (b *Below) key(k *figure.Key, m *text.Metrics, width float64) {
	name := k.Name
	if k.Unit != "" {
		name += ", " + k.Unit
	}
	if k.Samples != nil {
		name += " (area)"
	}
	items := []item{{text: name, heading: true}}
	for _, e := range k.Entries {
		one := item{text: e.Name, shape: e.Shape, colours: [2]string{e.Light, e.Dark}, radius: swatch}
		items = append(items, one)
	}
	for _, s := range k.Samples {
		items = append(items, item{text: s.Label, radius: s.Radius, colours: [2]string{"#8fb0a9", "#5d8a82"}})
	}
	if k.Gradient != nil {
		items = append(items, item{gradient: k.Gradient})
	}
	x := belowEdge
	row := []item{}
	for _, one := range items {
		switch {
		case one.gradient != nil:
			one.width = gradient + 20
		case one.heading:
			one.width = m.Width(one.text, keySize, false) + 6
		default:
			one.width = 2*one.radius + 6 + m.Width(one.text, keySize, false)
		}
		if x+one.width > width-belowEdge && len(row) > 0 {
			b.rows = append(b.rows, row)
			row, x = []item{}, belowEdge
		}
		if room := width - belowEdge - x - 2*one.radius - 6; one.gradient == nil && m.Width(one.text, keySize, false) > room {
			one.text = text.Wrap(m, one.text, keySize, false, room, 1)[0]
		}
		one.x = x
		x += one.width + keyGap
		row = append(row, one)
	}
	b.rows = append(b.rows, row)
	if k.Gradient != nil { // its numbers stand below it
		b.rows = append(b.rows, []item{})
	}
}

// DrawBelow draws what stands under a figure.
func DrawBelow(f *figure.Figure, b *Below, pen Pen, o Options) {
	if o.Look == nil {
		o.Look = &Looks[0]
	}
	d := &drawing{f: f, pen: pen, look: o.Look, o: o}
	p := &Path{}
	p.Box(0, f.Height, f.Width, b.Height)
	pen.Open("paper")
	pen.Path(p, Paint{Fill: d.look.Paper, Opacity: 1})
	pen.Close()
	y := f.Height + keyRow/2
	if len(b.rows) > 0 {
		pen.Open("key")
		for _, row := range b.rows {
			for _, one := range row {
				d.item(one, y)
			}
			y += keyRow
		}
		pen.Close()
	}
	y += 4
	for _, line := range b.note {
		pen.Text(Words{Text: line, X: belowEdge, Y: y, Anchor: "start", Size: noteSize, Fill: d.look.Ink, Class: "note"})
		y += noteLine
	}
}

func (d *drawing) item(one item, y float64) {
	switch {
	case one.heading:
		d.pen.Text(Words{Text: one.text, X: one.x, Y: y + middle*keySize, Anchor: "start", Size: keySize, Fill: d.look.Muted})
		return
	case one.gradient != nil:
		d.gradient(one, y)
		return
	}
	paint := Paint{Opacity: 1, StrokeOpacity: 1}
	if one.colours[0] == "" {
		paint.Stroke, paint.Width = d.look.Ink, 1.4
	} else {
		paint.Fill = d.shade(one.colours[0], one.colours[1])
	}
	if one.shape == "" || one.shape == "circle" {
		d.pen.Circle(one.x+one.radius, y, one.radius, paint)
	} else {
		d.pen.Path(shape(one.shape, one.x+one.radius, y, one.radius), paint)
	}
	d.pen.Text(Words{Text: one.text, X: one.x + 2*one.radius + 6, Y: y + middle*keySize, Anchor: "start", Size: keySize, Fill: d.look.Ink})
}

func (d *drawing) gradient(one item, y float64) {
	g := one.gradient
	colours := g.Light
	if d.look.Dark {
		colours = g.Dark
	}
	const steps = 50
	for i := range steps {
		p := &Path{}
		p.Box(one.x+gradient*float64(i)/steps, y-6, gradient/steps+0.3, 10)
		d.pen.Path(p, Paint{Fill: d.shade(colours[i*(len(colours)-1)/(steps-1)], colours[i*(len(colours)-1)/(steps-1)]), Opacity: 1})
	}
	for _, tick := range g.Ticks {
		share := 0.5
		if g.High > g.Low {
			share = magnitude.Share(tick.Value, g.Low, g.High)
		}
		anchor := "middle"
		if share < 0.06 {
			anchor = "start"
		}
		d.pen.Text(Words{Text: tick.Label, X: one.x + gradient*share, Y: y + 18, Anchor: anchor, Size: 11, Fill: d.look.Muted})
	}
}
