package draw_test

import (
	"bytes"
	"encoding/xml"
	"image"
	"io"
	"strings"
	"testing"
	"time"

	"copperlark/core/draw"
	"copperlark/core/draw/pen/pdf"
	"copperlark/core/draw/pen/png"
	"copperlark/core/draw/pen/svg"
	"copperlark/core/figure"
)

// hostile are words as files and people may hold them.
var hostile = []string{"<script>alert(1)</script>", "a & b < c > d \"e\" 'f'", "]]></text><image href=\"http://elsewhere\"/>",
	"\x00\x01\x1b[31m", "\U0001F41D bees", "عسل ثم honey", strings.Repeat("long ", 400), "\uFFFE\uFFFF\uD7FF", "%s %d \\u0041 ${x}", ""}

// everyPen draws the same with every pen and gives what each writes.
func everyPen(t *testing.T, with func(draw.Pen)) map[string][]byte {
	t.Helper()
	out := map[string][]byte{}
	write := func(name string, pen draw.Pen, write func(io.Writer) error) {
		with(pen)
		var file bytes.Buffer
		if err := write(&file); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		out[name] = file.Bytes()
	}
	for _, fonts := range []svg.Fonts{svg.Named, svg.Embedded, svg.Outlines} {
		pen := svg.New(300, 200, fonts)
		write("svg "+string(fonts), pen, pen.Write)
	}
	paper := pdf.New(300, 200, hostile[0], time.Unix(0, 0).UTC())
	write("pdf", paper, paper.Write)
	var file bytes.Buffer
	if err := png.Write(t.Context(), &file, 300, 200, 2, png.BandPixels, with); err != nil {
		t.Fatalf("png: %v", err)
	}
	out["png"] = file.Bytes()
	return out
}

// TestHostileWordsStayWords holds that no text becomes an element, an address or an end of a
// file in any form, and that files stay readable.
func TestHostileWordsStayWords(t *testing.T) {
	for _, text := range hostile {
		for name, file := range everyPen(t, func(pen draw.Pen) {
			pen.Open("plot")
			pen.Text(draw.Words{Text: text, X: 20, Y: 50, Size: 14, Fill: "#16302e", Halo: "#ffffff", Class: "label"})
			pen.Text(draw.Words{Text: text, X: 20, Y: 150, Size: 14, Fill: "#16302e", Turn: -90, Bold: true, Serif: true, Anchor: "middle"})
			pen.Close()
		}) {
			switch {
			case strings.HasPrefix(name, "svg"):
				elements := map[string]int{}
				decoder := xml.NewDecoder(bytes.NewReader(file))
				for {
					token, err := decoder.Token()
					if err == io.EOF {
						break
					}
					if err != nil {
						t.Fatalf("%s of %q is no XML: %v", name, text, err)
					}
					if start, is := token.(xml.StartElement); is {
						elements[start.Name.Local]++
						for _, a := range start.Attr {
							if strings.HasPrefix(a.Name.Local, "on") || a.Name.Local == "href" {
								t.Errorf("%s of %q has %s=%q", name, text, a.Name.Local, a.Value)
							}
						}
					}
				}
				if elements["script"] > 0 || elements["image"] > 0 || elements["foreignObject"] > 0 {
					t.Errorf("%s of %q holds %v", name, text, elements)
				}
			case name == "pdf":
				if !bytes.HasPrefix(file, []byte("%PDF")) || !bytes.Contains(file[len(file)-64:], []byte("%%EOF")) ||
					bytes.Contains(file, []byte("/JavaScript")) {
					t.Errorf("the PDF of %q is damaged", text)
				}
			default:
				if _, _, err := image.Decode(bytes.NewReader(file)); err != nil {
					t.Errorf("the PNG of %q: %v", text, err)
				}
			}
		}
	}
}

// TestWhatIsCutStaysWithinItsBox holds clips, also one in another, of the pen that has pixels.
func TestWhatIsCutStaysWithinItsBox(t *testing.T) {
	pen := png.New(100, 100, 1)
	all := &draw.Path{}
	all.Box(-50, -50, 300, 300)
	pen.Clip("outer", figure.Box{Left: 10, Top: 10, Width: 60, Height: 60})
	pen.Clip("inner", figure.Box{Left: 40, Top: 0, Width: 90, Height: 40})
	pen.Path(all, draw.Paint{Fill: "#ff0000", Opacity: 1})
	pen.Close()
	pen.Circle(20, 60, 30, draw.Paint{Fill: "#0000ff", Opacity: 1})
	pen.Close()
	for _, test := range []struct {
		x, y int
		want string
	}{{50, 20, "red"}, {50, 50, ""}, {80, 20, ""}, {50, 5, ""}, {20, 60, "blue"}, {5, 60, ""}, {20, 75, ""}, {45, 60, "blue"}} {
		c, got := at(pen.Image(), test.x, test.y), ""
		switch {
		case c.A > 128 && c.R > c.B:
			got = "red"
		case c.A > 128:
			got = "blue"
		}
		if got != test.want {
			t.Errorf("pixel %d, %d is %q, want %q", test.x, test.y, got, test.want)
		}
	}
}

// TestTheSameDrawingIsTheSameFile holds that a file depends on what is drawn alone.
func TestTheSameDrawingIsTheSameFile(t *testing.T) {
	with := func(pen draw.Pen) {
		ring := &draw.Path{}
		ring.Ring(50, 50, 20, false)
		pen.Path(ring, draw.Paint{Fill: "#123456", Opacity: 0.5, Stroke: "#654321", Width: 2, Dash: []float64{3, 1}, StrokeOpacity: 1})
		pen.Text(draw.Words{Text: "Honey 蜂蜜", X: 10, Y: 20, Size: 12, Fill: "#000000"})
	}
	first, second := everyPen(t, with), everyPen(t, with)
	for name, file := range first {
		if !bytes.Equal(file, second[name]) {
			t.Errorf("%s differs from one time to the next", name)
		}
	}
}
