package png

import (
	"context"
	"image"
	"image/color"
	"image/png"
	"io"
	"math"

	"copperlark/core/draw"
)

// BandPixels is how many pixels are in memory at once: a larger picture is painted one band of rows after the
// other, and each is written before the next one is painted.
const BandPixels = 8 << 20

// quick writes in two thirds of the time files that are a twenty-fifth larger.
var quick = png.Encoder{CompressionLevel: png.BestSpeed}

// Write paints a picture and writes it, with at most so many pixels in memory at once. What is painted must
// cover the paper, and is painted once for each band. It ends soon after its context.
func Write(ctx context.Context, out io.Writer, width, height, scale float64, most int, paint func(draw.Pen)) error {
	columns, rows := int(math.Round(width*scale)), int(math.Round(height*scale))
	b := &bands{Pen: &Pen{scale: scale}, paint: paint, whole: image.Rect(0, 0, columns, rows), rows: max(1, most/max(columns, 1))}
	to := &stopping{ctx, out}
	if rows <= b.rows {
		b.next(0)
		if err := ctx.Err(); err != nil {
			return err
		}
		return quick.Encode(to, b.img)
	}
	b.ctx = ctx
	return quick.Encode(to, b)
}

// bands is a picture of which one band is there: that of the row that was asked for last. It is written from
// the top to the bottom.
type bands struct {
	*Pen
	ctx   context.Context // of the one picture that is being written
	paint func(draw.Pen)
	whole image.Rectangle
	rows  int // of a band
	pixel pixel
}

// next paints the band that begins at a row.
func (b *bands) next(top int) {
	box := image.Rect(0, top, b.whole.Max.X, min(top+b.rows, b.whole.Max.Y))
	if b.img != nil && len(b.img.Pix) >= 4*box.Dx()*box.Dy() {
		clear(b.img.Pix)
		b.img = &image.NRGBA{Pix: b.img.Pix[:4*box.Dx()*box.Dy()], Stride: 4 * box.Dx(), Rect: box}
	} else {
		b.img = image.NewNRGBA(box)
	}
	if b.ctx == nil || b.ctx.Err() == nil {
		b.paint(b.Pen)
	}
}

func (b *bands) ColorModel() color.Model { return color.NRGBAModel }
func (b *bands) Bounds() image.Rectangle { return b.whole }
func (b *bands) Opaque() bool            { return true }

// At gives a pixel, which is good until the next one is asked for: one for all of them takes no memory.
func (b *bands) At(x, y int) color.Color {
	if b.img == nil || y >= b.img.Rect.Max.Y {
		b.next(y)
	}
	at := b.img.PixOffset(x, y)
	b.pixel = pixel{b.img.Pix[at], b.img.Pix[at+1], b.img.Pix[at+2]}
	return &b.pixel
}

type pixel [3]uint8

// RGBA gives an opaque colour, as color.Color wants it.
func (p *pixel) RGBA() (r, g, b, a uint32) {
	return uint32(p[0]) * 0x101, uint32(p[1]) * 0x101, uint32(p[2]) * 0x101, 0xffff
}

// stopping ends what is written with its context.
type stopping struct {
	ctx context.Context
	out io.Writer
}

func (s *stopping) Write(bytes []byte) (int, error) {
	if err := s.ctx.Err(); err != nil {
		return 0, err
	}
	return s.out.Write(bytes)
}
