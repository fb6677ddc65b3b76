// Package svg is a pen that writes SVG. Text stays text, in the two house fonts, unless it
// is asked for as outlines; groups carry plain class names: paper, plot, grid, marks, axis,
// label, key, title, note.
package svg

import (
	"bytes"
	"encoding/base64"
	"encoding/xml"
	"fmt"
	"image"
	"image/png"
	"io"
	"strconv"
	"strings"

	"copperlark/core/draw"
	"copperlark/core/figure"
)

// Fonts says what becomes of the fonts.
type Fonts string

// The ways: named for whoever has them, brought along in the file, or as outlines.
const (
	Named    Fonts = "named"
	Embedded Fonts = "embedded"
	Outlines Fonts = "outlines"
)

// Pen writes SVG.
type Pen struct {
	width, height float64
	body          strings.Builder
	defs          strings.Builder
	clips         int
	fonts         Fonts
	used          map[string]bool // weights of the house fonts
	Title         string          // for who cannot see it
}

// New takes a paper of a size.
func New(width, height float64, fonts Fonts) *Pen {
	return &Pen{width: width, height: height, fonts: fonts, used: map[string]bool{}}
}

// number writes a coordinate with a hundredth of a pixel.
func number(v float64) string {
	text := strconv.FormatFloat(v, 'f', 2, 64)
	text = strings.TrimRight(strings.TrimRight(text, "0"), ".")
	if text == "-0" || text == "" {
		return "0"
	}
	return text
}

func escaped(text string) string {
	var out bytes.Buffer
	_ = xml.EscapeText(&out, []byte(strings.Map(func(r rune) rune {
		if r < ' ' || r == 0xFFFE || r == 0xFFFF {
			return ' '
		}
		return r
	}, text)))
	return out.String()
}

// Open begins a group.
func (p *Pen) Open(class string) { fmt.Fprintf(&p.body, "<g class=%q>\n", class) }

// Clip begins a group that is cut at a box.
func (p *Pen) Clip(class string, box figure.Box) {
	p.clips++
	fmt.Fprintf(
		&p.defs,
		`<clipPath id="c%d"><rect x="%s" y="%s" width="%s" height="%s"/></clipPath>`+"\n",
		p.clips,
		number(box.Left),
		number(box.Top),
		number(box.Width),
		number(box.Height),
	)
	fmt.Fprintf(&p.body, "<g class=%q clip-path=\"url(#c%d)\">\n", class, p.clips)
}

// Close ends a group.
func (p *Pen) Close() { p.body.WriteString("</g>\n") }

func (p *Pen) paint(paint draw.Paint) {
	if paint.Fill == "" {
		p.body.WriteString(` fill="none"`)
	} else {
		fmt.Fprintf(&p.body, ` fill="%s"`, paint.Fill)
		if paint.Opacity < 1 {
			fmt.Fprintf(&p.body, ` fill-opacity="%s"`, number(paint.Opacity))
		}
	}
	if paint.Stroke == "" || paint.Width <= 0 {
		return
	}
	fmt.Fprintf(&p.body, ` stroke="%s" stroke-width="%s" stroke-linejoin="round"`, paint.Stroke, number(paint.Width))
	if paint.StrokeOpacity > 0 && paint.StrokeOpacity < 1 {
		fmt.Fprintf(&p.body, ` stroke-opacity="%s"`, number(paint.StrokeOpacity))
	}
	if len(paint.Dash) > 0 {
		var dashes []string
		for _, d := range paint.Dash {
			dashes = append(dashes, number(d))
		}
		fmt.Fprintf(&p.body, ` stroke-dasharray="%s"`, strings.Join(dashes, " "))
	}
}

// Path draws a path.
func (p *Pen) Path(path *draw.Path, paint draw.Paint) {
	if len(path.Ops) == 0 {
		return
	}
	p.body.WriteString(`<path d="`)
	writePath(&p.body, path)
	p.body.WriteByte('"')
	p.paint(paint)
	p.body.WriteString("/>\n")
}

func writePath(out *strings.Builder, path *draw.Path) {
	path.Walk(func(op draw.Op, points []float64) {
		out.WriteByte(byte(op))
		for i, v := range points {
			if i > 0 {
				out.WriteByte(' ')
			}
			out.WriteString(number(v))
		}
	})
}

// Circle draws a circle.
func (p *Pen) Circle(x, y, r float64, paint draw.Paint) {
	fmt.Fprintf(&p.body, `<circle cx="%s" cy="%s" r="%s"`, number(x), number(y), number(r))
	p.paint(paint)
	p.body.WriteString("/>\n")
}

// Text writes a line of text.
func (p *Pen) Text(w draw.Words) {
	if p.fonts == Outlines {
		p.outlined(w)
		return
	}
	weight, family := "400", `Hanken Grotesk, system-ui, sans-serif`
	if w.Bold {
		weight = "600"
	}
	if w.Serif {
		family = `Literata, Georgia, serif`
	}
	p.used[draw.FaceName(w.Bold, w.Serif)] = true
	if w.Class != "" {
		fmt.Fprintf(&p.body, `<text class=%q`, w.Class)
	} else {
		p.body.WriteString(`<text`)
	}
	fmt.Fprintf(
		&p.body,
		` x="%s" y="%s" font-family=%q font-size="%s" font-weight="%s" fill="%s"`,
		number(w.X),
		number(w.Y),
		family,
		number(w.Size),
		weight,
		w.Fill,
	)
	if w.Anchor == "middle" || w.Anchor == "end" {
		fmt.Fprintf(&p.body, ` text-anchor=%q`, w.Anchor)
	}
	if w.Turn != 0 {
		fmt.Fprintf(&p.body, ` transform="rotate(%s %s %s)"`, number(w.Turn), number(w.X), number(w.Y))
	}
	if w.Halo != "" {
		fmt.Fprintf(&p.body, ` stroke="%s" stroke-width="3.5" stroke-linejoin="round" paint-order="stroke"`, w.Halo)
	}
	fmt.Fprintf(&p.body, ">%s</text>\n", escaped(w.Text))
}

func (p *Pen) outlined(w draw.Words) {
	path := draw.Outline(w)
	if len(path.Ops) == 0 {
		return
	}
	if w.Halo != "" {
		p.Path(path, draw.Paint{Stroke: w.Halo, Width: 3.5, StrokeOpacity: 1})
	}
	fmt.Fprintf(&p.body, `<g role="img" aria-label="%s"`, escaped(w.Text))
	if w.Class != "" {
		fmt.Fprintf(&p.body, ` class=%q`, w.Class)
	}
	p.body.WriteString(">")
	p.Path(path, draw.Paint{Fill: w.Fill, Opacity: 1})
	p.body.WriteString("</g>\n")
}

// Picture puts an image over a box.
func (p *Pen) Picture(box figure.Box, picture image.Image) {
	var encoded bytes.Buffer
	_ = png.Encode(&encoded, picture)
	fmt.Fprintf(
		&p.body,
		`<image x="%s" y="%s" width="%s" height="%s" href="data:image/png;base64,%s"/>`+"\n",
		number(box.Left),
		number(box.Top),
		number(box.Width),
		number(box.Height),
		base64.StdEncoding.EncodeToString(encoded.Bytes()),
	)
}

// Write writes the drawing.
func (p *Pen) Write(out io.Writer) error {
	var head strings.Builder
	fmt.Fprintf(
		&head,
		`<svg xmlns="http://www.w3.org/2000/svg" width="%s" height="%s" viewBox="0 0 %s %s" role="img">`+"\n",
		number(p.width),
		number(p.height),
		number(p.width),
		number(p.height),
	)
	if p.Title != "" {
		fmt.Fprintf(&head, "<title>%s</title>\n", escaped(p.Title))
	}
	if p.fonts == Embedded && len(p.used) > 0 {
		head.WriteString("<style>")
		for _, face := range draw.HouseFaces {
			if !p.used[face.Name] {
				continue
			}
			for _, file := range face.Files {
				fmt.Fprintf(
					&head,
					`@font-face{font-family:%q;font-weight:%d;src:url(data:font/woff;base64,%s) format("woff");unicode-range:%s}`,
					face.Family,
					face.Weight,
					base64.StdEncoding.EncodeToString(file.Woff()),
					file.Range,
				)
			}
		}
		head.WriteString("</style>\n")
	}
	if p.defs.Len() > 0 {
		head.WriteString("<defs>\n" + p.defs.String() + "</defs>\n")
	}
	_, err := io.WriteString(out, head.String()+p.body.String()+"</svg>\n")
	return err
}
