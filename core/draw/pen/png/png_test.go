package png

import (
	"image"
	"math"
	"testing"

	"copperlark/core/draw"
)

// middle is where all circles of these tests stand, on a paper of side pixels.
const side, middleX, middleY = 60, 30.25, 29.5

// painted paints on a clear paper.
func painted(paint func(*Pen)) *image.NRGBA {
	p := New(side, side, 1)
	paint(p)
	return p.img
}

// furthest is by how much of 255 a picture's cover differs at most from that of a ring between two radii, whose pixels are
// each looked at in 256 places.
func furthest(img *image.NRGBA, hole, r, opacity float64) (most float64) {
	for y := range side {
		for x := range side {
			inside := 0.0
			for k := range 256 {
				d := math.Hypot(float64(x)+(float64(k%16)+0.5)/16-middleX, float64(y)+(float64(k/16)+0.5)/16-middleY)
				if hole <= d && d <= r {
					inside++
				}
			}
			most = max(most, math.Abs(inside/256*255*opacity-float64(img.Pix[img.PixOffset(x, y)+3])))
		}
	}
	return most
}

// TestStampsAreCircles holds the stamps of circles and of rims to what they cover.
func TestStampsAreCircles(t *testing.T) {
	for r := 1.5; r < 20; r += 1.375 {
		disc := painted(func(p *Pen) { p.Circle(middleX, middleY, r, draw.Paint{Fill: "#203040", Opacity: 0.5}) })
		rim := painted(func(p *Pen) { p.Circle(middleX, middleY, r, draw.Paint{Stroke: "#102030", Width: 2}) })
		if off := furthest(disc, 0, r, 0.5); off > 8 {
			t.Errorf("a disc of %g is off by %.1f", r, off)
		}
		if off := furthest(rim, r-1, r+1, 1); off > 16 {
			t.Errorf("a rim of %g is off by %.1f", r, off)
		}
	}
}

// TestALineThatTurnsHasNoGaps holds a line around a circle, in pieces that each turn a little, to the ring that it is, both
// ways round.
func TestALineThatTurnsHasNoGaps(t *testing.T) {
	for pieces, most := range map[int]float64{40: 90, 200: 80} {
		for _, way := range []float64{1, -1} {
			const r, width = 20.0, 6.0
			img := painted(func(p *Pen) {
				path := &draw.Path{}
				for i := range pieces {
					sin, cos := math.Sincos(way * 2 * math.Pi * float64(i) / float64(pieces))
					if i == 0 {
						path.Move(middleX+r*cos, middleY+r*sin)
					} else {
						path.Line(middleX+r*cos, middleY+r*sin)
					}
				}
				path.End()
				p.Path(path, draw.Paint{Stroke: "#102030", Width: width})
			})
			if off := furthest(img, r-width/2, r+width/2, 1); off > most {
				t.Errorf("%d pieces, %g: off by %.1f", pieces, way, off)
			}
		}
	}
}
