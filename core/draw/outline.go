package draw

import (
	"math"

	"github.com/go-text/typesetting/font/opentype"
)

// Width is how wide a line of text is.
func Width(text string, size float64, bold, serif bool) float64 {
	_, width := shapeText(text, size, bold, serif)
	return width
}

// Outline gives the letters of a line of text as a path on the paper.
func Outline(w Words) *Path {
	glyphs, width := shapeText(w.Text, w.Size, w.Bold, w.Serif)
	start := 0.0
	switch w.Anchor {
	case "middle":
		start = -width / 2
	case "end":
		start = -width
	}
	sin, cos := math.Sincos(w.Turn * math.Pi / 180)
	p := &Path{}
	for _, g := range glyphs {
		outline, ok := g.face.GlyphDataOutline(g.id)
		if !ok {
			continue
		}
		place := func(at opentype.SegmentPoint) (float64, float64) {
			x, y := start+g.x+float64(at.X)*g.scale, g.y-float64(at.Y)*g.scale
			return w.X + x*cos - y*sin, w.Y + x*sin + y*cos
		}
		trail := outlinePath{p: p}
		for _, s := range outline.Segments {
			trail.add(s, place)
		}
		trail.close()
	}
	return p
}

// outlinePath turns the stretches of a letter into those of a path.
type outlinePath struct {
	p    *Path
	open bool
	x, y float64
}

func (o *outlinePath) close() {
	if o.open {
		o.p.End()
	}
	o.open = false
}

func (o *outlinePath) add(s opentype.Segment, place func(opentype.SegmentPoint) (float64, float64)) {
	x, y := place(s.Args[0])
	switch s.Op {
	case opentype.SegmentOpMoveTo:
		o.close()
		o.p.Move(x, y)
		o.open = true
	case opentype.SegmentOpLineTo:
		o.p.Line(x, y)
	case opentype.SegmentOpQuadTo: // as a cubic curve
		ex, ey := place(s.Args[1])
		o.p.Curve(o.x+2*(x-o.x)/3, o.y+2*(y-o.y)/3, ex+2*(x-ex)/3, ey+2*(y-ey)/3, ex, ey)
		x, y = ex, ey
	case opentype.SegmentOpCubeTo:
		bx, by := place(s.Args[1])
		ex, ey := place(s.Args[2])
		o.p.Curve(x, y, bx, by, ex, ey)
		x, y = ex, ey
	}
	o.x, o.y = x, y
}
