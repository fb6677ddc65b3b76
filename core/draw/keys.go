package draw

import (
	"cmp"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/magnitude"
	"copperlark/core/text"
)

// The measures of keys and of what stands below a figure.
const (
	keySize   = 12.5
	keyRow    = 22.0 / keySize // of the size of its words
	keyGap    = 16.0
	swatch    = 5.0
	noteSize  = 13.0
	noteLine  = 18.0 / noteSize
	belowEdge = 18.0
)

// Around is what stands about a figure on its own paper: keys over, beside or under it, and
// the note under it.
type Around struct {
	rows               [][]item
	note               []string
	key, words         letters // of the keys and the note
	Top, Right, Bottom float64 // how much room it takes on each side, in pixels
}

// letters is how words are written, on the paper before it is made larger.
type letters struct {
	size float64
	bold bool
}

func lettersOf(f *figure.Figure, of string, usual float64) letters {
	size, bold := f.Manner.LettersOf(of, usual, false)
	return letters{size / f.Manner.TextScale(), bold}
}

type item struct {
	x, width float64
	text     string
	heading  bool
	shape    string
	colours  [2]string // light and dark
	line     bool      // a short line in its pattern stands before the swatch
	dash     []float64
	radius   float64
	gradient *figure.Gradient
	sign     string
}

// mostBeside is the share of a paper's width that keys take beside a figure, at most.
const mostBeside = 0.3

// About lays out what stands about a figure on a paper of a width.
func About(f *figure.Figure, m *text.Metrics, width float64) *Around {
	b, k := &Around{key: lettersOf(f, chart.KeyLetters, keySize), words: lettersOf(f, chart.NoteLetters, noteSize)}, f.Manner.TextScale()
	width /= k // laid out on a smaller paper, and made larger
	defer func() { b.Top, b.Right, b.Bottom = b.Top*k, b.Right*k, b.Bottom*k }()
	room := width
	if f.Manner.Key == chart.KeyRight {
		room = 0
		for i := range f.Keys {
			for _, one := range keyItems(&f.Keys[i], m, b.key) {
				room = max(room, one.width+2*belowEdge)
			}
		}
		room = min(room, width*mostBeside)
	}
	for i := range f.Keys {
		if f.Manner.Key != chart.KeyOff && f.Manner.Inside == nil && !f.Keys[i].Named {
			b.add(&f.Keys[i], m, room, f.Manner.Key == chart.KeyRight)
		}
	}
	if f.Note != "" {
		b.note = text.Wrap(m, f.Note, b.words.size, b.words.bold, width-2*belowEdge, 6)
	}
	keys := float64(len(b.rows)) * keyRow * b.key.size
	b.Bottom = float64(len(b.note)) * noteLine * b.words.size
	switch {
	case keys == 0:
	case f.Manner.Key == chart.KeyTop:
		b.Top = keys + 6
	case f.Manner.Key == chart.KeyRight:
		b.Right = room
	default:
		b.Bottom += keys
	}
	if b.Bottom > 0 {
		b.Bottom += 12
	}
	return b
}

// lineLength is how long the line of a key's entry is.
const lineLength = 26.0

// before is the room of the line that stands before a swatch.
func (one *item) before() float64 {
	if one.line {
		return lineLength + 5
	}
	return 0
}

// keyItems are what a key is made of: its name, and an item for each thing that it explains.
func keyItems(k *figure.Key, m *text.Metrics, l letters) []item {
	items := []item{{text: k.Title(), heading: true}}
	for i := range k.Entries {
		e := k.Entries[i]
		if len(k.Order) > i {
			e = k.Entries[k.Order[i]]
		}
		if e.Count == 0 { // no row of it is drawn
			continue
		}
		items = append(
			items,
			item{text: e.Name, shape: e.Shape, colours: [2]string{e.Light, e.Dark}, radius: swatch, line: e.Line, dash: e.Dash},
		)
	}
	for _, s := range k.Samples {
		items = append(items, item{text: s.Label, radius: s.Radius, colours: [2]string{"#8fb0a9", "#5d8a82"}})
	}
	for _, s := range k.Signs {
		items = append(items, item{text: s.Label, sign: s.Kind, radius: figure.SignWidth / 2, colours: [2]string{s.Light, s.Dark}})
	}
	if k.Gradient != nil {
		items = append(items, item{gradient: k.Gradient})
	}
	for i := range items {
		one := &items[i]
		switch {
		case one.gradient != nil:
			one.width = length(one.gradient) + 20
		case one.heading:
			one.width = m.Width(one.text, l.size, l.bold) + 6
		default:
			one.width = one.before() + 2*one.radius + 6 + m.Width(one.text, l.size, l.bold)
		}
	}
	return items
}

// add puts the items of a key into rows of a width, or each into a row of its own.
func (b *Around) add(k *figure.Key, m *text.Metrics, width float64, each bool) {
	x, l := belowEdge, b.key
	row := []item{}
	for _, one := range keyItems(k, m, l) {
		if (each || x+one.width > width-belowEdge) && len(row) > 0 {
			b.rows = append(b.rows, row)
			row, x = []item{}, belowEdge
		}
		if room := width - belowEdge - x - one.before() - 2*one.radius - 6; one.gradient == nil &&
			m.Width(one.text, l.size, l.bold) > room {
			one.text = text.Wrap(m, one.text, l.size, l.bold, room, 1)[0]
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

// DrawAround draws what stands about a figure. Where keys stand over it, the figure has been
// moved down by that much.
func DrawAround(f *figure.Figure, b *Around, pen Pen, o Options) {
	if o.Look == nil {
		o.Look = &Looks[0]
	}
	if b.Top+b.Right+b.Bottom == 0 {
		return
	}
	d := &drawing{f: f, pen: pen, look: o.Look, o: o}
	p := &Path{}
	p.Box(0, f.Height, f.Width+b.Right, b.Bottom)
	if b.Right > 0 {
		p.Box(f.Width, 0, b.Right, f.Height)
	}
	if !o.Clear {
		pen.Open("paper")
		pen.Path(p, Paint{Fill: d.look.Paper, Opacity: 1})
		pen.Close()
	}
	k := d.k()
	row := keyRow * b.key.size * k
	x, y := 0.0, f.Height+row/2
	switch {
	case b.Top > 0:
		y = 6*k + row/2
	case b.Right > 0:
		x, y = f.Width-belowEdge*k/2, f.Panels[0].Box.Top+row/2
	}
	if len(b.rows) > 0 {
		pen.Open("key")
		for _, items := range b.rows {
			for _, one := range items {
				one.x = x + one.x*k
				d.item(one, y, b.key)
			}
			y += row
		}
		pen.Close()
	}
	if b.Top > 0 || b.Right > 0 {
		y = f.Height + row/2
	}
	y += 4 * k
	for _, line := range b.note {
		pen.Text(Words{Text: line, X: belowEdge * k, Y: y, Anchor: "start", Size: b.words.size * k, Bold: b.words.bold,
			Fill: d.look.Ink, Class: "note"})
		y += noteLine * b.words.size * k
	}
}

func (d *drawing) item(one item, y float64, l letters) {
	k := d.k()
	size := l.size * k
	switch {
	case one.heading:
		d.pen.Text(Words{Text: one.text, X: one.x, Y: y + middle*size, Anchor: "start", Size: size, Bold: l.bold, Fill: d.look.Muted})
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
	if one.line {
		line := &Path{}
		line.Move(one.x, y)
		line.Line(one.x+lineLength*k, y)
		d.pen.Path(line, Paint{Stroke: paint.Fill, Width: 2, Dash: one.dash, StrokeOpacity: 1})
		one.x += one.before() * k
	}
	if one.sign != "" {
		d.sign(one, y, paint)
	} else if one.shape == "" || one.shape == "circle" {
		d.pen.Circle(one.x+one.radius, y, one.radius, paint)
	} else {
		d.pen.Path(shape(one.shape, one.x+one.radius, y, one.radius), paint)
	}
	words := Words{Text: one.text, X: one.x + 2*one.radius + 6*k, Y: y + middle*size, Anchor: "start", Size: size, Bold: l.bold}
	words.Fill = d.look.Ink
	d.pen.Text(words)
}

// sign draws a band with its line, or an interval with its ends.
func (d *drawing) sign(one item, y float64, paint Paint) {
	p, line := &Path{}, &Path{}
	wide, middle := 2*one.radius, one.x+one.radius
	stroke := Paint{Stroke: paint.Fill, Width: 1.6, StrokeOpacity: 1}
	if one.sign == "band" {
		p.Box(one.x, y-5.5, wide, 11)
		d.pen.Path(p, Paint{Fill: paint.Fill, Opacity: 0.25})
		line.Move(one.x, y)
		line.Line(one.x+wide, y)
	} else {
		for _, end := range []float64{-6, 6} {
			line.Move(middle-4, y+end)
			line.Line(middle+4, y+end)
		}
		line.Move(middle, y-6)
		line.Line(middle, y+6)
	}
	d.pen.Path(line, stroke)
}

// length is how long a gradient is drawn; those of figures from before say nothing of it.
func length(g *figure.Gradient) float64 { return cmp.Or(g.Length, 150) }

func (d *drawing) gradient(one item, y float64) {
	g := one.gradient
	colours := g.Light
	if d.look.Dark {
		colours = g.Dark
	}
	const steps = 50
	k := d.k()
	width := length(g) * k
	for i := range steps {
		p := &Path{}
		p.Box(one.x+width*float64(i)/steps, y-6*k, width/steps+0.3, 10*k)
		d.pen.Path(p, Paint{Fill: d.shade(colours[i*(len(colours)-1)/(steps-1)], colours[i*(len(colours)-1)/(steps-1)]), Opacity: 1})
	}
	for _, tick := range g.Ticks {
		share := 0.5
		if g.High > g.Low {
			share = magnitude.Share(tick.Value, g.Low, g.High)
		}
		anchor := "middle"
		if share < figure.StartsAt {
			anchor = "start"
		}
		d.pen.Text(Words{Text: tick.Label, X: one.x + width*share, Y: y + 18*k, Anchor: anchor, Size: 11 * k, Fill: d.look.Muted})
	}
}

// insideKeys draws the keys that stand inside the chart, one thing under the other.
func (d *drawing) insideKeys() {
	in := d.f.Manner.Inside
	if in == nil {
		return
	}
	k, m := d.k(), text.Hanken()
	d.pen.Open("key")
	y, l := in.Top+4*k, lettersOf(d.f, chart.KeyLetters, keySize)
	for i := range d.f.Keys {
		for _, one := range keyItems(&d.f.Keys[i], m, l) {
			one.x = in.Left + 8*k
			room := max(figure.KeyInsideRow*k*l.size/keySize, 2*one.radius+2)
			d.item(one, y+room/2, l)
			y += room
			if one.gradient != nil {
				y += room
			}
		}
	}
	d.pen.Close()
}
