package draw_test

import (
	"fmt"
	"image"
	"math"
	"strings"
	"testing"

	"copperlark/core/draw"
	"copperlark/core/draw/pen/png"
	"copperlark/core/figure"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// recorder is a pen that writes down what it is told to draw.
type recorder struct{ calls []string }

func (r *recorder) note(format string, more ...any) {
	r.calls = append(r.calls, fmt.Sprintf(format, more...))
}
func (r *recorder) Open(class string) { r.note("open %s", class) }
func (r *recorder) Clip(class string, b figure.Box) {
	r.note("clip %s %v %v %v %v", class, b.Left, b.Top, b.Width, b.Height)
}
func (r *recorder) Close() { r.note("close") }
func (r *recorder) Path(p *draw.Path, paint draw.Paint) {
	var text strings.Builder
	p.Walk(func(op draw.Op, points []float64) {
		text.WriteByte(map[draw.Op]byte{draw.MoveTo: 'M', draw.LineTo: 'L', draw.CurveTo: 'C', draw.Close: 'Z'}[op])
		for i, v := range points {
			if i > 0 {
				text.WriteByte(' ')
			}
			fmt.Fprintf(&text, "%g", math.Round(100*v)/100)
		}
	})
	r.note("path %s %s", text.String(), painted(paint))
}
func (r *recorder) Circle(x, y, radius float64, paint draw.Paint) {
	r.note("circle %g %g %.4g %s", math.Round(100*x)/100, math.Round(100*y)/100, radius, painted(paint))
}
func (r *recorder) Text(w draw.Words) { r.note("text %q %g %g %s", w.Text, w.X, w.Y, w.Anchor) }
func (r *recorder) Picture(b figure.Box, p image.Image) {
	r.note("picture %v %v", b, p.Bounds())
}

func painted(p draw.Paint) string {
	var parts []string
	if p.Fill != "" {
		parts = append(parts, fmt.Sprintf("fill %s %g", p.Fill, p.Opacity))
	}
	if p.Stroke != "" {
		parts = append(parts, fmt.Sprintf("stroke %s %g %g %v", p.Stroke, p.Width, p.StrokeOpacity, p.Dash))
	}
	return strings.Join(parts, " ")
}

// onPaper is a figure of one panel of 200 by 100 pixels at 10, 20, with some layers.
func onPaper(layers ...primitive.Layer) *figure.Figure {
	f := &figure.Figure{Width: 240, Height: 150, Panels: []figure.Panel{{Box: figure.Box{Left: 10, Top: 20, Width: 200, Height: 100}, X: 0,
		Y: 1}},
		Keys: []figure.Key{{Channels: []string{"colour", "shape"}, Entries: []figure.Entry{{Name: "a", Light: "#aa0000", Dark: "#ff5555",
			Shape: "circle"}, {Name: "b", Light: "#0000aa", Dark: "#5555ff", Shape: "square"}}}}}
	for _, channel := range []string{"x", "y"} {
		f.Scales = append(f.Scales, figure.Scale{Channel: channel, Scale: scale.Scale{Kind: scale.Linear, From: 0, To: 1}})
	}
	f.Layers = layers
	return f
}

func places(values ...float64) primitive.Array { return primitive.Shares(values) }

// TestPrimitivesAreDrawnAsTheySay holds each primitive to the calls that a pen must get.
func TestPrimitivesAreDrawnAsTheySay(t *testing.T) {
	keyed := primitive.Keys{Colour: 1}
	both := primitive.Keys{Colour: 1, Shape: 1}
	for name, test := range map[string]struct {
		layer primitive.Layer
		look  string
		want  []string
	}{
		"points": {layer: primitive.Layer{Kind: primitive.Points, Count: 2, X: places(0, 0.5), Y: places(0, 1),
			Style: primitive.Style{Light: "#123456", Dark: "#abcdef", Fixed: 3, Opacity: 0.5}},
			want: []string{"circle 10 120 3 fill #123456 0.5", "circle 110 20 3 fill #123456 0.5"}},
		"points of the dark look": {layer: primitive.Layer{Kind: primitive.Points, Count: 1, X: places(0), Y: places(0),
			Style: primitive.Style{Light: "#123456", Dark: "#abcdef", Fixed: 3}}, look: "dark",
			want: []string{"circle 10 120 3 fill #abcdef 1"}},
		"big points lie below": {layer: primitive.Layer{Kind: primitive.Points, Count: 3, X: places(0.1, 0.2, 0.3), Y: places(0, 0, 0),
			Radius: primitive.NewArray([]uint8{51, 255, 102}), Style: primitive.Style{Light: "#123456", Largest: 10}},
			want: []string{"circle 50 120 10 fill #123456 1", "circle 70 120 4 fill #123456 1", "circle 30 120 2 fill #123456 1"}},
		"points with outlines and shapes": {layer: primitive.Layer{Kind: primitive.Points, Count: 2, X: places(0, 0.5), Y: places(0, 0),
			Colour: primitive.NewArray([]uint8{1, 0}), Shape: primitive.NewArray([]uint8{1, 0}), Keys: both,
			Style: primitive.Style{Fixed: 10, Outline: true, Opacity: 0.5}},
			want: []string{"path M1.14 111.14L18.86 111.14L18.86 128.86L1.14 128.86Z fill #0000aa 0.5 stroke #0000aa 1 0.85 []",
				"circle 110 120 10 fill #aa0000 0.5 stroke #aa0000 1 0.85 []"}},
		"points off the panel": {layer: primitive.Layer{Kind: primitive.Points, Count: 3, X: places(-0.1, math.NaN(), 1.2), Y: places(0, 0, 0),
			Style: primitive.Style{Fixed: 3}}},
		"paths": {layer: primitive.Layer{Kind: primitive.Paths, Count: 2, X: places(0, 1, 0, 0.5, 1), Y: places(0, 1, 1, math.NaN(), 0),
			Start: primitive.NewArray([]uint32{0, 2}), Colour: primitive.NewArray([]uint8{0, 1}), Keys: keyed,
			Style: primitive.Style{Width: 2, Dash: []float64{4, 2}, Opacity: 0.9}},
			want: []string{"path M10 120L210 20 stroke #aa0000 2 0.9 [4 2]", "path M10 20L210 120 stroke #0000aa 2 0.9 [4 2]"}},
		"paths far beyond": {layer: primitive.Layer{Kind: primitive.Paths, Count: 1, X: places(0, 1), Y: places(-1e30, 1e30),
			Start: primitive.NewArray([]uint32{0}), Style: primitive.Style{Light: "#123456", Width: 1}},
			want: []string{"path M10 5120L210 -4880 stroke #123456 1 1 []"}},
		"areas": {layer: primitive.Layer{Kind: primitive.Areas, Count: 1, X: places(0, 1), Y: places(0, 0), Y2: places(0.5, 1),
			Start: primitive.NewArray([]uint32{0}), Style: primitive.Style{Light: "#123456", Opacity: 0.15}},
			want: []string{"path M10 120L210 120L210 20L10 70Z fill #123456 0.15"}},
		"rects": {layer: primitive.Layer{Kind: primitive.Rects, Count: 2, X: places(0, 0.5), Y: places(0, 0.5), X2: places(0.25, 2),
			Y2: places(1, 0.25), Style: primitive.Style{Light: "#123456", Fill: true, Width: 1, Opacity: 0.7}},
			want: []string{"path M10 20L60 20L60 120L10 120Z fill #123456 0.7 stroke #123456 1 1 []",
				"path M110 70L210 70L210 95L110 95Z fill #123456 0.7 stroke #123456 1 1 []"}},
		"rects with paper between": {layer: primitive.Layer{Kind: primitive.Rects, Count: 1, X: places(0), Y: places(0), X2: places(0.5),
			Y2: places(1), Style: primitive.Style{Light: "#123456", Fill: true, Width: -1}},
			want: []string{"path M10.5 20L109.5 20L109.5 120L10.5 120Z fill #123456 1"}},
		"polygons": {layer: primitive.Layer{Kind: primitive.Polygons, Count: 1, X: places(0, 1, 0.5), Y: places(0, 0, 1),
			Start: primitive.NewArray([]uint32{0}), Style: primitive.Style{Light: "#123456", Width: 1.5}},
			want: []string{"path M10 120L210 120L110 20Z stroke #123456 1.5 1 []"}},
		"segments": {layer: primitive.Layer{Kind: primitive.Segments, Count: 1, X: places(0.5), Y: places(0), X2: places(0.5), Y2: places(3),
			Style: primitive.Style{Light: "#123456", Width: 1, Cap: 4}},
			want: []string{"path M110 120L110 20M106 120L114 120M106 20L114 20 stroke #123456 1 1 []"}},
		"a print in ink": {layer: primitive.Layer{Kind: primitive.Segments, Count: 1, X: places(0), Y: places(0), X2: places(1), Y2: places(1),
			Style: primitive.Style{Light: "#808080", Width: 1}}, look: "ink",
			want: []string{"path M10 120L210 20 stroke #808080 1 1 []"}},
	} {
		test.layer.Mark = "any"
		pen := &recorder{}
		draw.Draw(onPaper(test.layer), pen, draw.Options{Look: draw.LookNamed(test.look), Bare: name != "points with outlines and shapes"})
		from := 0
		for i, call := range pen.calls {
			if call == "clip marks any 10 20 200 100" {
				from = i + 1
			}
		}
		if from == 0 {
			t.Errorf("%s: nothing is cut at the panel: %v", name, pen.calls)
			continue
		}
		var got []string
		for _, call := range pen.calls[from:] {
			if call == "close" {
				break
			}
			got = append(got, call)
		}
		if strings.Join(got, "\n") != strings.Join(test.want, "\n") {
			t.Errorf("%s draws\n\t%s\nwant\n\t%s", name, strings.Join(got, "\n\t"), strings.Join(test.want, "\n\t"))
		}
	}
}

// TestManyPointsBecomeAPicture holds that a pen that keeps elements gets a picture of points
// above a number, with the same pixels as the points themselves.
func TestManyPointsBecomeAPicture(t *testing.T) {
	const n = 20_001
	x, y := make([]float64, n), make([]float64, n)
	for i := range x {
		x[i], y[i] = float64(i%200)/200, float64(i/200)/101
	}
	f := onPaper(primitive.Layer{Kind: primitive.Points, Mark: "dots", Count: n, X: places(x...), Y: places(y...),
		Style: primitive.Style{Light: "#123456", Fixed: 2}})
	pen := &recorder{}
	asked := 0
	options := draw.Options{Bare: true, Raster: func(width, height int, with func(draw.Pen)) image.Image {
		asked++
		inner := png.New(float64(width), float64(height), 1)
		with(inner)
		return inner.Image()
	}}
	draw.Draw(f, pen, options)
	if asked != 1 || len(pen.calls) < 3 || !strings.HasPrefix(pen.calls[len(pen.calls)-3], "picture {10 20 200 100} (0,0)-(400,200)") {
		t.Errorf("asked for %d pictures, %d calls, the last: %v", asked, len(pen.calls), pen.calls[max(0, len(pen.calls)-4):])
	}
	stopped := 0
	options.Raster, options.Stopped = nil, func() bool { stopped++; return stopped > 1 }
	draw.Draw(f, pen, options)
	if drawn := len(pen.calls); drawn > 9000 {
		t.Errorf("%d calls after it was stopped", drawn)
	}
}

// TestEveryShapeCoversAboutTheSame holds the area of every shape to that of a circle.
func TestEveryShapeCoversAboutTheSame(t *testing.T) {
	const r = 12.0
	for i, name := range primitive.Shapes {
		f := onPaper(primitive.Layer{Kind: primitive.Points, Mark: "dots", Count: 1, X: places(0.5), Y: places(0.5),
			Shape: primitive.NewArray([]uint8{uint8(i)}), Keys: primitive.Keys{Shape: 1}, Style: primitive.Style{Light: "#000000", Fixed: r}})
		f.Keys[0].Entries = nil
		for _, shape := range primitive.Shapes {
			f.Keys[0].Entries = append(f.Keys[0].Entries, figure.Entry{Name: shape, Shape: shape})
		}
		bare, full := png.New(240, 150, 2), png.New(240, 150, 2)
		f.Layers[0].Count = 0
		draw.Draw(f, bare, draw.Options{})
		f.Layers[0].Count = 1
		draw.Draw(f, full, draw.Options{})
		covered := 0.0
		for y := range 300 {
			for x := range 480 {
				a, b := at(bare.Image(), x, y), at(full.Image(), x, y)
				covered += math.Abs(float64(a.R)-float64(b.R)) / 255 / 4
			}
		}
		if want := math.Pi * r * r; math.Abs(covered-want)/want > 0.12 {
			t.Errorf("a %s covers %.0f pixels, a circle %.0f", name, covered, want)
		}
	}
}
