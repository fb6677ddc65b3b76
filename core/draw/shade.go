package draw

import (
	"image"
	"image/color"
	"math"

	xdraw "golang.org/x/image/draw"

	"copperlark/core/figure"
	"copperlark/core/primitive"
)

// shaded lays over many points how many lie over each other: ink on paper, light on the dark paper.
func (d *drawing) shaded(l *primitive.Layer, f frame) {
	if !l.Style.Shaded || d.o.Bare {
		return
	}
	s := l.Shades(f.Width, f.Height, 1)
	if s == nil {
		return
	}
	r, g, b := Channels(d.look.Ink)
	small := image.NewNRGBA(image.Rect(0, 0, s.Columns, s.Rows))
	for i, v := range s.Values {
		small.SetNRGBA(i%s.Columns, i/s.Columns, color.NRGBA{r, g, b, uint8(math.Round(255 * v))})
	}
	const cell = int(primitive.ShadeCell)
	large := image.NewNRGBA(image.Rect(0, 0, s.Columns*cell, s.Rows*cell))
	xdraw.BiLinear.Scale(large, large.Bounds(), small, small.Bounds(), xdraw.Src, nil)
	width, height := int(f.Width), int(f.Height)
	cut := large.SubImage(image.Rect(0, 0, width, height))
	d.pen.Picture(figure.Box{Left: f.Left, Top: f.Top, Width: float64(width), Height: float64(height)}, cut)
}
