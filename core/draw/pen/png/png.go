// Package png is a pen that paints pixels.
package png

import (
	"image"
	"image/color"
	stddraw "image/draw"
	"math"

	xdraw "golang.org/x/image/draw"
	"golang.org/x/image/vector"

	"copperlark/core/draw"
	"copperlark/core/figure"
)

// Pen paints pixels: scale of them a pixel of the figure.
type Pen struct {
	img    *image.NRGBA
	scale  float64
	clips  []image.Rectangle // of the groups that are open
	stamps map[stampKey]*stamp
	opens  []bool // whether each open group is cut
	raster vector.Rasterizer
	cover  []uint8 // of the path that is filled
}

// New takes a paper of a size in pixels of the figure.
func New(width, height, scale float64) *Pen {
	return &Pen{img: image.NewNRGBA(image.Rect(0, 0, int(math.Round(width*scale)), int(math.Round(height*scale)))), scale: scale}
}

// Image is what was painted so far.
func (p *Pen) Image() image.Image { return p.img }

// Raster paints a drawing of its own, for pens that keep elements.
func Raster(width, height int, paint func(draw.Pen)) image.Image {
	p := New(float64(width), float64(height), 1)
	paint(p)
	return p.img
}

// Open begins a group.
func (p *Pen) Open(string) { p.opens = append(p.opens, false) }

// Clip begins a group that is cut at a box.
func (p *Pen) Clip(_ string, b figure.Box) {
	p.opens = append(p.opens, true)
	s := p.scale
	box := image.Rect(
		int(math.Round(b.Left*s)),
		int(math.Round(b.Top*s)),
		int(math.Round((b.Left+b.Width)*s)),
		int(math.Round((b.Top+b.Height)*s)),
	)
	p.clips = append(p.clips, box.Intersect(p.clip()))
}

// Close ends a group.
func (p *Pen) Close() {
	last := len(p.opens) - 1
	if p.opens[last] {
		p.clips = p.clips[:len(p.clips)-1]
	}
	p.opens = p.opens[:last]
}

func (p *Pen) clip() image.Rectangle {
	if n := len(p.clips); n > 0 {
		return p.clips[n-1]
	}
	return p.img.Bounds()
}

// Path fills and strokes a path.
func (p *Pen) Path(path *draw.Path, paint draw.Paint) {
	if paint.Fill != "" {
		p.fill(path, paint.Fill, paint.Opacity)
	}
	if paint.Stroke != "" && paint.Width > 0 {
		p.fill(draw.Stroked(path, paint.Width, paint.Dash), paint.Stroke, strength(paint))
	}
}

// strength is how much of a stroke's colour counts; 0 is all of it.
func strength(paint draw.Paint) float64 {
	if paint.StrokeOpacity == 0 {
		return 1
	}
	return paint.StrokeOpacity
}

// Circle draws a circle: small ones, which come by the thousands, by a stamp of what is in them and one of their rim.
func (p *Pen) Circle(x, y, r float64, paint draw.Paint) {
	s, half := p.scale, paint.Width/2
	if paint.Stroke == "" {
		half = 0
	}
	if (r+half)*s < largestStamp && len(paint.Dash) == 0 {
		if paint.Fill != "" {
			p.stamp(x*s, y*s, r*s, 0, paint.Fill, paint.Opacity)
		}
		if half > 0 {
			p.stamp(x*s, y*s, (r+half)*s, max(r-half, 0)*s, paint.Stroke, strength(paint))
		}
		return
	}
	path := &draw.Path{}
	path.Ring(x, y, r, false)
	p.Path(path, paint)
}

// Text draws the letters of a line of text.
func (p *Pen) Text(w draw.Words) {
	path := draw.Outline(w)
	if w.Halo != "" {
		p.fill(draw.Stroked(path, 3.5, nil), w.Halo, 1)
	}
	p.fill(path, w.Fill, 1)
}

// Picture puts an image over a box.
func (p *Pen) Picture(b figure.Box, picture image.Image) {
	s := p.scale
	box := image.Rect(
		int(math.Round(b.Left*s)),
		int(math.Round(b.Top*s)),
		int(math.Round((b.Left+b.Width)*s)),
		int(math.Round((b.Top+b.Height)*s)),
	)
	xdraw.ApproxBiLinear.Scale(p.img, box, picture, picture.Bounds(), stddraw.Over, nil)
}

// fill fills a path with a colour, cut at the open groups' boxes. Only the pixels that the
// path touches are looked at.
func (p *Pen) fill(path *draw.Path, hex string, opacity float64) {
	low, high := path.Bounds()
	s := p.scale
	box := image.Rect(int(math.Floor(low[0]*s))-1, int(math.Floor(low[1]*s))-1, int(math.Ceil(high[0]*s))+1, int(math.Ceil(high[1]*s))+1).
		Intersect(p.clip())
	if box.Empty() {
		return
	}
	r := &p.raster // one for all paths: its memory is as large as the picture
	r.Reset(box.Dx(), box.Dy())
	ox, oy := float64(box.Min.X), float64(box.Min.Y)
	at := func(points []float64, i int) (float32, float32) {
		return float32(points[i]*s - ox), float32(points[i+1]*s - oy)
	}
	path.Walk(func(op draw.Op, points []float64) {
		switch op {
		case draw.MoveTo:
			r.MoveTo(at(points, 0))
		case draw.LineTo:
			r.LineTo(at(points, 0))
		case draw.CurveTo:
			bx, by := at(points, 0)
			cx, cy := at(points, 2)
			dx, dy := at(points, 4)
			r.CubeTo(bx, by, cx, cy, dx, dy)
		case draw.Close:
			r.ClosePath()
		}
	})
	p.blend(box, colourOf(hex), uint32(math.Round(256*min(max(opacity, 0), 1))))
}

// blend puts a colour where the rasterizer's path covers a box. The cover is taken by itself, which is quick, and blended here:
// the rasterizer would ask the picture for each of its pixels.
func (p *Pen) blend(box image.Rectangle, c color.NRGBA, alpha uint32) {
	if size := box.Dx() * box.Dy(); cap(p.cover) < size {
		p.cover = make([]uint8, size)
	}
	mask := &image.Alpha{Pix: p.cover[:box.Dx()*box.Dy()], Stride: box.Dx(), Rect: image.Rect(0, 0, box.Dx(), box.Dy())}
	p.raster.DrawOp = stddraw.Src
	p.raster.Draw(mask, mask.Rect, image.Opaque, image.Point{})
	for y := range box.Dy() {
		row := p.img.Pix[p.img.PixOffset(box.Min.X, box.Min.Y+y):]
		for x, cover := range mask.Pix[y*mask.Stride : (y+1)*mask.Stride] {
			if a := uint32(cover) * alpha >> 8; a > 0 {
				over(row[4*x:], c, a)
			}
		}
	}
}

func colourOf(hex string) color.NRGBA {
	r, g, b := draw.Channels(hex)
	return color.NRGBA{r, g, b, 255}
}
