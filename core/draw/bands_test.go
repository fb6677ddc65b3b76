package draw_test

import (
	"bytes"
	"context"
	"errors"
	"image"
	"math"
	"testing"

	"copperlark/core/draw"
	"copperlark/core/draw/pen/png"
	"copperlark/core/figure"
)

// busy draws fills, strokes, stamps, words and a picture over the whole of a paper.
func busy(pen draw.Pen) {
	paper := &draw.Path{}
	paper.Box(0, 0, 300, 200)
	pen.Path(paper, draw.Paint{Fill: "#ffffff", Opacity: 1})
	pen.Clip("plot", figure.Box{Left: 12, Top: 7, Width: 270, Height: 180})
	for i := range 60 {
		at := float64(i)
		pen.Circle(5*at, 100+90*math.Sin(at), 2+at/4, draw.Paint{Fill: "#b4531a", Opacity: 0.5})
		line := &draw.Path{}
		line.Move(5*at, 0)
		line.Line(300-5*at, 200)
		pen.Path(line, draw.Paint{Stroke: "#1f7a6d", Width: 1.5})
	}
	pen.Close()
	pen.Text(draw.Words{Text: "Honey by area", X: 40, Y: 100, Size: 40, Fill: "#16302e", Halo: "#ffffff"})
	pen.Picture(figure.Box{Left: 200, Top: 20, Width: 60, Height: 90}, image.NewGray(image.Rect(0, 0, 6, 9)))
}

// TestABandAtATimeIsTheWhole holds what is painted in bands of a few rows to what is painted at once.
func TestABandAtATimeIsTheWhole(t *testing.T) {
	painted := func(most int) image.Image {
		var file bytes.Buffer
		if err := png.Write(t.Context(), &file, 300, 200, 1.5, most, busy); err != nil {
			t.Fatal(err)
		}
		picture, _, err := image.Decode(&file)
		if err != nil {
			t.Fatal(err)
		}
		return picture
	}
	whole := painted(png.BandPixels)
	for _, most := range []int{450 * 7, 450 * 100, 450 * 299} {
		bands := painted(most)
		if bands.Bounds() != whole.Bounds() {
			t.Fatalf("bands make %v of %v", bands.Bounds(), whole.Bounds())
		}
		for y := range 300 {
			for x := range 450 {
				a, b := at(bands, x, y), at(whole, x, y)
				if off := max(math.Abs(float64(a.R)-float64(b.R)), math.Abs(float64(a.G)-float64(b.G)),
					math.Abs(float64(a.B)-float64(b.B))); off > 16 || a.A != b.A {
					t.Fatalf("at %d pixels a band, %d, %d is %v instead of %v", most, x, y, a, b)
				}
			}
		}
	}
}

// TestPaintingEndsWithWhoeverAsked stops in the second of many bands: no third one is painted.
func TestPaintingEndsWithWhoeverAsked(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	bands := 0
	err := png.Write(ctx, &bytes.Buffer{}, 300, 200, 1, 300*10, func(pen draw.Pen) {
		if busy(pen); bands == 1 {
			stop()
		}
		bands++
	})
	if !errors.Is(err, context.Canceled) || bands != 2 {
		t.Errorf("%d bands were painted: %v", bands, err)
	}
}
