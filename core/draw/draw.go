package draw

import (
	"cmp"
	"image"
	"iter"
	"math"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/figure"
	"copperlark/core/primitive"
)

// Look is the colours of paper and ink.
type Look struct {
	Name                    string
	Paper, Ink, Muted, Line string
	Dark                    bool
	Both                    bool                       // colours are written as light|dark, for a pen that shows each where it is preferred
	Shade                   func(colour string) string // of marks; nil: as they are
}

// Looks lists the looks that a drawing can have; the first one is the one without being
// said.
var Looks = []Look{
	{Name: "light", Paper: "#ffffff", Ink: "#16302e", Muted: "#58706c", Line: "#dfe7e5"},
	{Name: "dark", Paper: "#172e2c", Ink: "#e3efec", Muted: "#94ada8", Line: "#2b4744", Dark: true},
	{Name: "ink", Paper: "#ffffff", Ink: "#000000", Muted: "#333333", Line: "#d9d9d9", Shade: colour.Grey},
}

// LookNamed finds a look; nil when there is none.
func LookNamed(name string) *Look {
	for i := range Looks {
		if Looks[i].Name == name || name == "" && i == 0 {
			return &Looks[i]
		}
	}
	return nil
}

// rasterAbove is the most points that are drawn one by one where a pen keeps them as
// elements; more are put as a picture.
const rasterAbove = 20_000

// Options are what a drawing is made with.
type Options struct {
	Look *Look
	// Raster draws points as a picture at the scale of the paper; nil: one by one, however
	// many.
	Raster func(width, height int, draw func(Pen)) image.Image
	// Bare leaves out everything but marks.
	Bare bool
	// Clear leaves out the paper, so that what lies below is seen.
	Clear bool
	// Stopped is asked while much is drawn; nil: never.
	Stopped func() bool
}

type drawing struct {
	f    *figure.Figure
	pen  Pen
	look *Look
	o    Options
}

// Draw draws a figure.
func Draw(f *figure.Figure, pen Pen, o Options) {
	if o.Look == nil {
		o.Look = &Looks[0]
	}
	d := &drawing{f: f, pen: pen, look: o.Look, o: o}
	if !o.Bare && !o.Clear {
		d.paper()
	}
	pen.Open("plot")
	if !o.Bare {
		for i := range f.Panels {
			d.grid(i)
		}
	}
	for i := range f.Layers {
		if l := &f.Layers[i]; l.Kind != primitive.Texts {
			d.layer(l)
		}
	}
	pen.Close()
	if o.Bare {
		return
	}
	for i := range f.Panels {
		d.ticks(i)
	}
	d.labels()
	d.texts()
	d.insideKeys()
}

func (d *drawing) paper() {
	p := &Path{}
	p.Box(0, 0, d.f.Width, d.f.Height)
	d.pen.Open("paper")
	d.pen.Path(p, Paint{Fill: d.look.Paper, Opacity: 1})
	d.pen.Close()
}

// shade is a colour of the figure as the look shows it.
func (d *drawing) shade(light, dark string) string {
	colour := light
	if d.look.Both && light != "" {
		return light + "|" + dark
	}
	if d.look.Dark {
		colour = dark
	}
	if colour == "" {
		colour = d.look.Ink
	}
	if d.look.Shade != nil {
		colour = d.look.Shade(colour)
	}
	return colour
}

// palette gives the colours of a layer's primitives, by their entry or step.
func (d *drawing) palette(l *primitive.Layer) []string {
	if l.Keys.Colour > 0 && l.Colour.Len() > 0 {
		key := d.f.Keys[l.Keys.Colour-1]
		var list []string
		if key.Gradient != nil {
			for i := range key.Gradient.Light {
				list = append(list, d.shade(key.Gradient.Light[i], key.Gradient.Dark[i]))
			}
			return list
		}
		for _, e := range key.Entries {
			list = append(list, d.shade(e.Light, e.Dark))
		}
		return list
	}
	return []string{d.shade(l.Style.Light, l.Style.Dark)}
}

func colourOf(palette []string, l *primitive.Layer, i int) string {
	if l.Colour.Len() > i && len(palette) > 1 {
		if at := int(l.Colour.At(i)); at < len(palette) {
			return palette[at]
		}
	}
	return palette[0]
}

// frame maps shares of a panel to the paper.
type frame struct{ figure.Box }

func (f frame) x(u float64) float64 { return f.Left + u*f.Width }
func (f frame) y(v float64) float64 { return f.Top + f.Height - v*f.Height }

// draws says how each primitive is drawn: one entry a primitive.
var draws = map[primitive.Kind]func(*drawing, *primitive.Layer, frame, []string){
	primitive.Points: (*drawing).points, primitive.Paths: (*drawing).paths, primitive.Areas: (*drawing).areas,
	primitive.Rects:    (*drawing).rects,
	primitive.Polygons: (*drawing).polygons, primitive.Segments: (*drawing).segments,
}

func (d *drawing) layer(l *primitive.Layer) {
	f := frame{d.f.Panels[l.Panel].Box}
	d.pen.Clip("marks "+l.Mark, f.Box)
	draws[l.Kind](d, l, f, d.palette(l))
	d.pen.Close()
}

func opacity(s primitive.Style) float64 {
	if s.Opacity == 0 {
		return 1
	}
	return s.Opacity
}

func (d *drawing) points(l *primitive.Layer, f frame, palette []string) {
	if l.Count > rasterAbove && d.o.Raster != nil {
		const scale = 2
		picture := d.o.Raster(int(math.Ceil(f.Width*scale)), int(math.Ceil(f.Height*scale)), func(pen Pen) {
			inner := &drawing{f: d.f, pen: pen, look: d.look, o: Options{Stopped: d.o.Stopped}}
			inner.each(l, frame{figure.Box{Width: f.Width * scale, Height: f.Height * scale}}, palette, scale)
		})
		d.pen.Picture(f.Box, picture)
		d.shaded(l, f)
		return
	}
	d.each(l, f, palette, 1)
	d.shaded(l, f)
}

// each draws the points one by one, big ones first.
func (d *drawing) each(l *primitive.Layer, f frame, palette []string, scale float64) {
	var shapes []figure.Entry
	if l.Keys.Shape > 0 {
		shapes = d.f.Keys[l.Keys.Shape-1].Entries
	}
	paint := Paint{Opacity: opacity(l.Style)}
	if l.Style.Outline {
		paint.Width, paint.StrokeOpacity = scale, min(1, opacity(l.Style)+0.35)
	}
	letters := letterPaths{}
	n := 0
	for i := range inOrder(l) {
		if n++; n%8192 == 1 && d.o.Stopped != nil && d.o.Stopped() {
			return
		}
		u, v := l.X.At(i), l.Y.At(i)
		if !(u >= -0.01 && u <= 1.01 && v >= -0.01 && v <= 1.01) {
			continue
		}
		r := l.Style.Fixed
		if l.Radius.Len() > 0 {
			r = l.Radius.At(i) * l.Style.Largest / 255
		}
		r *= scale
		paint.Fill = colourOf(palette, l, i)
		paint.Stroke = ""
		if l.Style.Outline {
			paint.Stroke = paint.Fill
		}
		d.rim(l.Style.Rim, &paint, scale)
		name := cmp.Or(l.Style.Shape, "circle")
		if l.Shape.Len() > 0 && !d.o.Bare {
			name = shapes[int(l.Shape.At(i))].Shape
		}
		switch {
		case chart.IsCharacter(name):
			d.pen.Path(letters.at(name, scale*CharacterSize(r/scale), f.x(u), f.y(v)), Paint{Fill: paint.Fill, Opacity: 1})
		case name == "circle":
			d.pen.Circle(f.x(u), f.y(v), r, paint)
		default:
			d.pen.Path(shape(name, f.x(u), f.y(v), r), paint)
		}
	}
}

// rim paints the outline that a layer has.
func (d *drawing) rim(r *primitive.Rim, paint *Paint, scale float64) {
	if r != nil {
		paint.Stroke, paint.Width, paint.StrokeOpacity = d.shade(r.Light, r.Dark), r.Width*scale, 1
	}
}

// leastCharacter is the smallest size of a letter that stands for a dot, in pixels: one that can be read.
const leastCharacter = 9

// CharacterSize is the size of a letter that stands for a dot of a radius.
func CharacterSize(radius float64) float64 { return max(leastCharacter, 2.6*radius) }

// letterPaths are the outlines of letters that stand for dots, about the place where these stand, by letter and size.
type letterPaths map[letterPath]*Path

type letterPath struct {
	text string
	size float64
}

// at gives the outline of a letter about a place.
func (l letterPaths) at(text string, size, x, y float64) *Path {
	key := letterPath{text, size}
	if l[key] == nil {
		l[key] = Outline(Words{Text: text, Y: middle * size, Anchor: "middle", Size: size, Bold: true})
	}
	return l[key].moved(x, y)
}

// inOrder goes through the primitives of a layer as they are painted.
func inOrder(l *primitive.Layer) iter.Seq[int] {
	order := l.Order()
	return func(yield func(int) bool) {
		for i := range l.Count {
			if order != nil {
				i = order[i]
			}
			if !yield(i) {
				return
			}
		}
	}
}

// trace is the path of some vertices, without what lies far outside.
func trace(l *primitive.Layer, f frame, i int) *Path {
	p := &Path{}
	from, to := l.Vertices(i)
	for k := from; k < to; k++ {
		x, y := f.x(bounded(l.X.At(k))), f.y(bounded(l.Y.At(k)))
		switch {
		case x != x || y != y: // a fit that has no value there
		case len(p.Ops) == 0:
			p.Move(x, y)
		default:
			p.Line(x, y)
		}
	}
	return p
}

// bounded keeps positions within what every reader of a drawing can tell apart.
func bounded(share float64) float64 { return min(max(share, -50), 50) }

func stroke(s primitive.Style, colour string) Paint {
	if s.Width <= 0 {
		return Paint{}
	}
	return Paint{Stroke: colour, Width: s.Width, Dash: s.Dash, StrokeOpacity: opacity(s)}
}

func (d *drawing) paths(l *primitive.Layer, f frame, palette []string) {
	for i := range inOrder(l) {
		paint := stroke(l.Style, colourOf(palette, l, i))
		if own := d.patternOf(l, i); own != nil && len(l.Style.Dash) == 0 {
			paint.Dash = own
		}
		d.pen.Path(trace(l, f, i), paint)
	}
}

// patternOf is the pattern of the group that a path is of; nil for a solid one.
func (d *drawing) patternOf(l *primitive.Layer, i int) []float64 {
	if l.Keys.Colour == 0 || l.Colour.Len() <= i {
		return nil
	}
	entries := d.f.Keys[l.Keys.Colour-1].Entries
	if at := int(l.Colour.At(i)); at < len(entries) {
		return entries[at].Dash
	}
	return nil
}

func (d *drawing) areas(l *primitive.Layer, f frame, palette []string) {
	for i := range inOrder(l) {
		p := trace(l, f, i)
		from, to := l.Vertices(i)
		for k := to - 1; k >= from; k-- {
			if x, y := f.x(bounded(l.X.At(k))), f.y(bounded(l.Y2.At(k))); x == x && y == y && len(p.Ops) > 0 {
				p.Line(x, y)
			}
		}
		p.End()
		d.pen.Path(p, Paint{Fill: colourOf(palette, l, i), Opacity: opacity(l.Style)})
	}
}

func (d *drawing) polygons(l *primitive.Layer, f frame, palette []string) {
	for i := range inOrder(l) {
		p := trace(l, f, i)
		p.End()
		paint := stroke(l.Style, colourOf(palette, l, i))
		paint.StrokeOpacity = 1
		if l.Style.Fill {
			paint.Fill, paint.Opacity = colourOf(palette, l, i), opacity(l.Style)
		}
		d.rim(l.Style.Rim, &paint, 1)
		d.pen.Path(p, paint)
	}
}

func (d *drawing) rects(l *primitive.Layer, f frame, palette []string) {
	gap := 0.0
	if l.Style.Width < 0 { // paper between neighbours
		gap = -l.Style.Width / 2
	}
	for i := range l.Count {
		x, x2 := f.x(inside(l.X.At(i))), f.x(inside(l.X2.At(i)))
		y, y2 := f.y(inside(l.Y.At(i))), f.y(inside(l.Y2.At(i)))
		p := &Path{}
		p.Box(min(x, x2)+gap, min(y, y2), max(math.Abs(x2-x)-2*gap, 0.5), math.Abs(y2-y))
		paint := stroke(l.Style, colourOf(palette, l, i))
		paint.StrokeOpacity = 1
		if l.Style.Fill {
			paint.Fill, paint.Opacity = colourOf(palette, l, i), opacity(l.Style)
		}
		d.rim(l.Style.Rim, &paint, 1)
		d.pen.Path(p, paint)
	}
}

// inside cuts a share at the edges of the panel, a little beyond where lines are drawn.
func inside(share float64) float64 { return min(max(share, 0), 1) }

func (d *drawing) segments(l *primitive.Layer, f frame, palette []string) {
	for i := range l.Count {
		x, y, x2, y2 := f.x(inside(l.X.At(i))), f.y(inside(l.Y.At(i))), f.x(inside(l.X2.At(i))), f.y(inside(l.Y2.At(i)))
		if l.DX.Len() > 0 {
			x2, y2 = x2+l.DX.At(i), y2+l.DY.At(i)
		}
		p := &Path{}
		p.Move(x, y)
		p.Line(x2, y2)
		if length := math.Hypot(x2-x, y2-y); l.Style.Cap > 0 && length > 0 {
			nx, ny := -(y2-y)/length*l.Style.Cap, (x2-x)/length*l.Style.Cap
			for _, end := range [][2]float64{{x, y}, {x2, y2}} {
				p.Move(end[0]-nx, end[1]-ny)
				p.Line(end[0]+nx, end[1]+ny)
			}
		}
		d.pen.Path(p, stroke(l.Style, colourOf(palette, l, i)))
	}
}
