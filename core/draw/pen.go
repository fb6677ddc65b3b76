// Package draw draws figures with pens: as SVG, PDF and PNG, at any size. What it draws is
// what the painter in the browser paints, from the same figure: the primitives, the axes
// and the words, and beside them the keys, which the application shows as elements of the
// page.
package draw

import (
	"image"
	"strconv"
	"strings"

	"copperlark/core/figure"
)

// Paint is how a path is filled and stroked; an empty colour leaves that out.
type Paint struct {
	Fill, Stroke  string // #rrggbb
	Opacity       float64
	StrokeOpacity float64
	Width         float64
	Dash          []float64
}

// Words are a line of text, anchored on its baseline.
type Words struct {
	Text   string
	X, Y   float64
	Anchor string  // start, middle or end
	Turn   float64 // degrees, clockwise, about the anchor
	Size   float64
	Bold   bool
	Serif  bool
	Fill   string
	Halo   string // a colour around the letters; empty for none
	Class  string
}

// Pen draws on a paper whose upper left corner is 0, 0, in pixels.
type Pen interface {
	// Open begins a group of a class; Clip one that is cut at a box. Close ends either.
	Open(class string)
	Clip(class string, box figure.Box)
	Close()
	Path(p *Path, paint Paint)
	Circle(x, y, r float64, paint Paint)
	Text(w Words)
	// Picture puts an image over a box.
	Picture(box figure.Box, picture image.Image)
}

// Path is a list of straight and curved stretches.
type Path struct {
	Ops    []Op
	Points []float64 // two numbers a point
}

// Op is a stretch of a path: what it is says how many points it takes.
type Op byte

// The stretches: to a point without drawing, straight, by a cubic curve, back to the start.
const (
	MoveTo  Op = 'M' // one point
	LineTo  Op = 'L' // one point
	CurveTo Op = 'C' // three points
	Close   Op = 'Z' // none
)

// Move, Line and Curve add stretches, End closes.
func (p *Path) Move(x, y float64) { p.add(MoveTo, x, y) }

// Line goes straight to a point.
func (p *Path) Line(x, y float64) { p.add(LineTo, x, y) }

// Curve goes to the last point by two that pull.
func (p *Path) Curve(x1, y1, x2, y2, x, y float64) { p.add(CurveTo, x1, y1, x2, y2, x, y) }

// End goes back to where the stretch began.
func (p *Path) End() { p.add(Close) }

func (p *Path) add(op Op, points ...float64) {
	p.Ops = append(p.Ops, op)
	p.Points = append(p.Points, points...)
}

// moved is the path at another place.
func (p *Path) moved(dx, dy float64) *Path {
	points := make([]float64, len(p.Points))
	for i := range points {
		points[i] = p.Points[i] + dx
		dx, dy = dy, dx
	}
	return &Path{p.Ops, points}
}

// Box adds a rectangle.
func (p *Path) Box(x, y, width, height float64) {
	p.Move(x, y)
	p.Line(x+width, y)
	p.Line(x+width, y+height)
	p.Line(x, y+height)
	p.End()
}

// round is how far the pulling points of a quarter of a circle lie from its ends.
const round = 0.5522847498

// Ring adds a circle; inner ones run the other way round.
func (p *Path) Ring(x, y, r float64, inner bool) {
	k := round * r
	if inner {
		p.Move(x+r, y)
		p.Curve(x+r, y-k, x+k, y-r, x, y-r)
		p.Curve(x-k, y-r, x-r, y-k, x-r, y)
		p.Curve(x-r, y+k, x-k, y+r, x, y+r)
		p.Curve(x+k, y+r, x+r, y+k, x+r, y)
	} else {
		p.Move(x+r, y)
		p.Curve(x+r, y+k, x+k, y+r, x, y+r)
		p.Curve(x-k, y+r, x-r, y+k, x-r, y)
		p.Curve(x-r, y-k, x-k, y-r, x, y-r)
		p.Curve(x+k, y-r, x+r, y-k, x+r, y)
	}
	p.End()
}

// numbersOf is how many numbers each kind of step has.
var numbersOf = [...]int{MoveTo: 2, LineTo: 2, CurveTo: 6, Close: 0}

// Walk calls a function for every stretch with its points.
func (p *Path) Walk(visit func(op Op, points []float64)) {
	at := 0
	for _, op := range p.Ops {
		n := numbersOf[op]
		visit(op, p.Points[at:at+n])
		at += n
	}
}

// shape traces a mark so that every shape covers about the area of a circle of the radius.
// The twin of web/src/painter/shapes.ts.
func shape(name string, x, y, r float64) *Path {
	p := &Path{}
	switch name {
	case "square":
		a := r * 0.886
		p.Box(x-a, y-a, 2*a, 2*a)
	case "triangle", "down":
		a := r * 1.555
		if name == "down" {
			a = -a
		}
		p.Move(x, y-a)
		p.Line(x+a*0.866, y+a/2)
		p.Line(x-a*0.866, y+a/2)
		p.End()
	case "diamond":
		a := r * 1.253
		p.Move(x, y-a)
		p.Line(x+a, y)
		p.Line(x, y+a)
		p.Line(x-a, y)
		p.End()
	case "cross":
		a, b := r*1.15, r*0.42
		for i, d := range [][2]float64{{-b, -a}, {b, -a}, {b, -b}, {a, -b}, {a, b}, {b, b}, {b, a}, {-b, a}, {-b, b}, {-a, b}, {-a, -b},
			{-b, -b}} {
			if i == 0 {
				p.Move(x+d[0], y+d[1])
			} else {
				p.Line(x+d[0], y+d[1])
			}
		}
		p.End()
	case "bar":
		p.Box(x-r*0.5, y-r*1.4, r, r*2.8)
	case "ring":
		p.Ring(x, y, r*1.05, false)
		p.Ring(x, y, r*0.45, true)
	default:
		p.Ring(x, y, r, false)
	}
	return p
}

// Channels gives the red, green and blue of #rrggbb; black of anything else.
func Channels(hex string) (r, g, b uint8) {
	n, err := strconv.ParseUint(strings.TrimPrefix(hex, "#"), 16, 32)
	if err != nil || len(hex) != 7 {
		return 0, 0, 0
	}
	return uint8(n >> 16), uint8(n >> 8), uint8(n)
}
