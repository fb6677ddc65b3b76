package draw_test

import (
	"image"
	"image/color"
	"math"
	"testing"

	"copperlark/core/draw"
	"copperlark/core/draw/pen/png"
)

func at(img image.Image, x, y int) color.NRGBA {
	return color.NRGBAModel.Convert(img.At(x, y)).(color.NRGBA)
}

// TestPixelsLieWhereTheyAreDrawn holds fills, strokes, dashes, cuts and stamps to the pixels
// that they must touch, and no others.
func TestPixelsLieWhereTheyAreDrawn(t *testing.T) {
	p := png.New(100, 60, 2)
	box := &draw.Path{}
	box.Box(10, 10, 20, 20)
	p.Path(box, draw.Paint{Fill: "#ff0000", Opacity: 1})
	line := &draw.Path{}
	line.Move(40, 20)
	line.Line(90, 20)
	p.Path(line, draw.Paint{Stroke: "#00ff00", Width: 2, Dash: []float64{10, 10}})
	p.Circle(20, 45, 5, draw.Paint{Fill: "#0000ff", Opacity: 0.5})
	p.Circle(20, 45, 5, draw.Paint{Fill: "#0000ff", Opacity: 0.5})
	img := p.Image()
	for _, test := range []struct {
		x, y int
		want color.NRGBA
	}{
		{40, 40, color.NRGBA{255, 0, 0, 255}}, {18, 40, color.NRGBA{}}, {62, 40, color.NRGBA{}},
		{90, 40, color.NRGBA{0, 255, 0, 255}}, {110, 40, color.NRGBA{}}, {130, 40, color.NRGBA{0, 255, 0, 255}}, {90, 44, color.NRGBA{}},
		{40, 90, color.NRGBA{0, 0, 255, 191}}, {40, 102, color.NRGBA{}},
	} {
		got := at(img, test.x, test.y)
		if math.Abs(float64(got.A)-float64(test.want.A)) > 3 || got.A > 0 && (got.R != test.want.R || got.G != test.want.G ||
			got.B != test.want.B) {
			t.Errorf("pixel %d, %d is %v, want %v", test.x, test.y, got, test.want)
		}
	}
}

// TestStampsAgreeWithPaths holds the fast way of small circles to the slow one.
func TestStampsAgreeWithPaths(t *testing.T) {
	for _, c := range [][3]float64{{20, 20, 3}, {20.3, 19.8, 4.7}, {21.75, 20.5, 1.6}} {
		fast, slow := png.New(40, 40, 1), png.New(40, 40, 1)
		fast.Circle(c[0], c[1], c[2], draw.Paint{Fill: "#204060", Opacity: 0.8})
		ring := &draw.Path{}
		ring.Ring(c[0], c[1], c[2], false)
		slow.Path(ring, draw.Paint{Fill: "#204060", Opacity: 0.8})
		for y := range 40 {
			for x := range 40 {
				if a, b := at(fast.Image(), x, y), at(slow.Image(), x, y); math.Abs(float64(a.A)-float64(b.A)) > 60 {
					t.Errorf("circle %v: pixel %d, %d has %d, by path %d", c, x, y, a.A, b.A)
				}
			}
		}
	}
}

// TestWordsAreSetInTheirLetters holds width, direction and fallback: every script has
// outlines, and none is the same as that of a letter that no font has.
func TestWordsAreSetInTheirLetters(t *testing.T) {
	none := draw.Outline(draw.Words{Text: "\U0010FFFD", Size: 20})
	seen := map[int]string{}
	for _, text := range []string{"Honey", "Größe", "Мёд", "μέλι", "דבש", "عسل", "蜂蜜", "मधु", "mật ong"} {
		p := draw.Outline(draw.Words{Text: text, Size: 20})
		low, high := p.Bounds()
		width := draw.Width(text, 20, false, false)
		if len(p.Ops) == len(none.Ops) || high[0]-low[0] < 10 || math.Abs(width-(high[0]-low[0])) > 8 {
			t.Errorf("%s: %d stretches over %v, as wide as %v", text, len(p.Ops), high[0]-low[0], width)
		}
		if other := seen[len(p.Ops)]; other != "" {
			t.Errorf("%s is drawn like %s", text, other)
		}
		seen[len(p.Ops)] = text
	}
	if a, b := draw.Width("AV", 20, false, false), draw.Width("A", 20, false, false)+draw.Width("V", 20, false, false); a >= b {
		t.Errorf("AV is %v wide, its letters alone %v: no kerning", a, b)
	}
	left, right := draw.Outline(draw.Words{Text: "ab", Size: 20}), draw.Outline(draw.Words{Text: "ab", Size: 20, Anchor: "end"})
	if high := func(p *draw.Path) float64 { _, h := p.Bounds(); return h[0] }; high(left) < 15 || high(right) > 1 {
		t.Error("anchors are not kept")
	}
	turned := draw.Outline(draw.Words{Text: "Honey", Size: 20, Turn: -90})
	if low, high := turned.Bounds(); high[1]-low[1] < high[0]-low[0] {
		t.Error("turned words are not upright")
	}
}
