package figure

import (
	"math"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/primitive"
)

// Lines of a chart that looks drawn by hand: how far they stray, and TurnsEvery, how far apart they
// turn, in pixels.
const (
	strays       = 1.3
	TurnsEvery   = 9.0
	mostTurns    = 4000 // of a layer; one with more vertices is left as it is
	sketchedLine = 1.6  // around what is filled
	sketchedFill = 0.55 // how opaque it is
)

// Stray is how far a line that looks drawn by hand strays at its k-th turn, in pixels. The phase tells
// lines apart. The painter of the browser strays in the same way along the axes.
func Stray(k, phase float64) float64 {
	return strays * (0.62*math.Sin(0.71*k+phase) + 0.38*math.Sin(1.93*k+2.1*phase))
}

// sketch makes lines and edges stray as if they were drawn by hand. Where marks stand, what is
// computed and what cards say stay as they are.
func (b *Drawn) sketch() {
	if b.Document.Look != chart.LookSketch || b.Bare {
		return
	}
	for i := range b.figure.Layers {
		l := &b.figure.Layers[i]
		box := b.figure.Panels[l.Panel].Box
		h := &hand{width: box.Width, height: box.Height, phase: float64(i)}
		switch {
		case l.X.Len() > mostTurns || l.Kind == primitive.Rects && l.Count > mostTurns/8:
		case l.Kind == primitive.Paths:
			h.runs(l, false)
		case l.Kind == primitive.Polygons:
			h.runs(l, true)
		case l.Kind == primitive.Areas:
			h.area(l)
		case l.Kind == primitive.Segments && l.Style.Cap == 0 && l.DX.Len() == 0:
			h.boxes(l, func(x, y, x2, y2 float64) [][2]float64 { return [][2]float64{{x, y}, {x2, y2}} }, primitive.Paths)
		case l.Kind == primitive.Rects && mark.Named(l.Mark) != nil:
			h.boxes(l, func(x, y, x2, y2 float64) [][2]float64 {
				return [][2]float64{{x, y}, {x2, y}, {x2, y2}, {x, y2}}
			}, primitive.Polygons)
			if l.Style.Fill {
				l.Style.Opacity, l.Style.Width = sketchedFill, sketchedLine
			}
		}
	}
}

// hand draws lines of a layer, in shares of a panel of a size in pixels.
type hand struct {
	width, height, phase float64
	x, y                 []float64
	start                []uint32
}

// stretch draws from one place to another, without the end; both are shares.
func (h *hand) stretch(x, y, x2, y2 float64) {
	dx, dy := (x2-x)*h.width, (y2-y)*h.height
	length := math.Hypot(dx, dy)
	if !(length > 0) || length > 40*(h.width+h.height) { // a gap, or a line across everything
		h.x, h.y = append(h.x, x), append(h.y, y)
		return
	}
	turns := max(1, int(length/TurnsEvery))
	for k := range turns {
		share := float64(k) / float64(turns)
		stray := Stray(float64(len(h.x)), h.phase)
		h.x, h.y = append(h.x, x+(x2-x)*share-dy/length*stray/h.width), append(h.y, y+(y2-y)*share+dx/length*stray/h.height)
	}
}

// corners draws a line through places and, where it is closed, back to the first.
func (h *hand) corners(list [][2]float64, closed bool) {
	h.start = append(h.start, uint32(len(h.x)))
	for i := 1; i < len(list); i++ {
		h.stretch(list[i-1][0], list[i-1][1], list[i][0], list[i][1])
	}
	last, first := list[len(list)-1], list[0]
	if closed {
		h.stretch(last[0], last[1], first[0], first[1])
	} else {
		h.x, h.y = append(h.x, last[0]), append(h.y, last[1])
	}
	h.phase += 1.7
}

func (h *hand) put(l *primitive.Layer) {
	l.X, l.Y, l.Start = primitive.Shares(h.x), primitive.Shares(h.y), primitive.NewArray(h.start)
}

func (h *hand) runs(l *primitive.Layer, closed bool) {
	for i := range l.Count {
		from, to := l.Vertices(i)
		list := make([][2]float64, 0, to-from)
		for k := from; k < to; k++ {
			list = append(list, [2]float64{l.X.At(k), l.Y.At(k)})
		}
		if len(list) == 0 {
			h.start = append(h.start, uint32(len(h.x)))
			continue
		}
		h.corners(list, closed)
	}
	h.put(l)
}

// area lets both edges of areas stray at the vertices that they have.
func (h *hand) area(l *primitive.Layer) {
	y, y2 := make([]float64, l.X.Len()), make([]float64, l.X.Len())
	for k := range y {
		y[k] = l.Y.At(k) + Stray(float64(k)/3, h.phase)/h.height
		y2[k] = l.Y2.At(k) + Stray(float64(k)/3, h.phase+2)/h.height
	}
	l.Y, l.Y2 = primitive.Shares(y), primitive.Shares(y2)
}

// boxes draws what is between two corners with other primitives.
func (h *hand) boxes(l *primitive.Layer, corners func(x, y, x2, y2 float64) [][2]float64, as primitive.Kind) {
	for i := range l.Count {
		h.corners(corners(bounded(l.X.At(i)), bounded(l.Y.At(i)), bounded(l.X2.At(i)), bounded(l.Y2.At(i))), as == primitive.Polygons)
	}
	h.put(l)
	l.Kind, l.X2, l.Y2 = as, primitive.Array{}, primitive.Array{}
}

// bounded cuts what goes across everything a little beyond the panel.
func bounded(share float64) float64 { return min(max(share, -0.05), 1.05) }
