// Package pdf is a pen that writes PDF, with the house fonts in it.
package pdf

import (
	"bytes"
	"image"
	"image/png"
	"io"
	"time"

	"codeberg.org/go-pdf/fpdf"

	"copperlark/core/draw"
	"copperlark/core/figure"
)

// point is a pixel of the figure in points: 96 pixels and 72 points are an inch.
const point = 0.75

// Pen writes a PDF of one page.
type Pen struct {
	pdf      *fpdf.Fpdf
	opens    []bool
	pictures int
}

// New takes a paper of a size in pixels. Clock is what the file says of when it was made.
func New(width, height float64, title string, clock time.Time) *Pen {
	pdf := fpdf.NewCustom(&fpdf.InitType{UnitStr: "pt", Size: fpdf.SizeType{Wd: width * point, Ht: height * point}})
	pdf.SetMargins(0, 0, 0)
	pdf.SetAutoPageBreak(false, 0)
	pdf.SetCreationDate(clock)
	pdf.SetModificationDate(clock)
	pdf.SetTitle(title, true)
	pdf.SetCatalogSort(true)
	for _, face := range draw.HouseFaces {
		pdf.AddUTF8FontFromBytes(face.Name, "", draw.TrueType(face.Files[0]))
	}
	pdf.AddPage()
	return &Pen{pdf: pdf}
}

// Page begins another page of the same size.
func (p *Pen) Page() { p.pdf.AddPage() }

// Within draws as if the paper's corner stood at a place, and its pixels were of another size.
func (p *Pen) Within(left, top, scale float64, draw func()) {
	p.pdf.TransformBegin()
	p.pdf.TransformTranslate(left*point, top*point)
	p.pdf.TransformScaleXY(scale*100, 0, 0)
	draw()
	p.pdf.TransformEnd()
}

// Open begins a group.
func (p *Pen) Open(string) { p.opens = append(p.opens, false) }

// Clip begins a group that is cut at a box.
func (p *Pen) Clip(_ string, b figure.Box) {
	p.opens = append(p.opens, true)
	p.pdf.ClipRect(b.Left*point, b.Top*point, b.Width*point, b.Height*point, false)
}

// Close ends a group.
func (p *Pen) Close() {
	last := len(p.opens) - 1
	if p.opens[last] {
		p.pdf.ClipEnd()
	}
	p.opens = p.opens[:last]
}

func (p *Pen) trace(path *draw.Path) {
	path.Walk(func(op draw.Op, at []float64) {
		switch op {
		case draw.MoveTo:
			p.pdf.MoveTo(at[0]*point, at[1]*point)
		case draw.LineTo:
			p.pdf.LineTo(at[0]*point, at[1]*point)
		case draw.CurveTo:
			p.pdf.CurveBezierCubicTo(at[0]*point, at[1]*point, at[2]*point, at[3]*point, at[4]*point, at[5]*point)
		case draw.Close:
			p.pdf.ClosePath()
		}
	})
}

// Path fills and strokes a path.
func (p *Pen) Path(path *draw.Path, paint draw.Paint) {
	if len(path.Ops) == 0 {
		return
	}
	if paint.Fill != "" {
		p.pdf.SetAlpha(bounded(paint.Opacity), "Normal")
		p.pdf.SetFillColor(parts(paint.Fill))
		p.trace(path)
		p.pdf.DrawPath("F")
	}
	if paint.Stroke != "" && paint.Width > 0 {
		opacity := paint.StrokeOpacity
		if opacity == 0 {
			opacity = 1
		}
		p.pdf.SetAlpha(bounded(opacity), "Normal")
		p.pdf.SetDrawColor(parts(paint.Stroke))
		p.pdf.SetLineWidth(paint.Width * point)
		p.pdf.SetLineJoinStyle("round")
		var dash []float64
		for _, d := range paint.Dash {
			dash = append(dash, d*point)
		}
		p.pdf.SetDashPattern(dash, 0)
		p.trace(path)
		p.pdf.DrawPath("D")
	}
	p.pdf.SetAlpha(1, "Normal")
}

func bounded(v float64) float64 { return min(max(v, 0), 1) }

// Circle draws a circle.
func (p *Pen) Circle(x, y, r float64, paint draw.Paint) {
	path := &draw.Path{}
	path.Ring(x, y, r, false)
	p.Path(path, paint)
}

// Text writes a line of text: as text where the house font has all of its letters, so that
// it can be found and copied, else as outlines.
func (p *Pen) Text(w draw.Words) {
	if w.Halo != "" {
		p.Path(draw.Outline(w), draw.Paint{Stroke: w.Halo, Width: 3.5, StrokeOpacity: 1})
	}
	if !draw.Covers(w.Text, w.Bold, w.Serif) {
		p.Path(draw.Outline(w), draw.Paint{Fill: w.Fill, Opacity: 1})
		return
	}
	p.pdf.SetFont(draw.FaceName(w.Bold, w.Serif), "", w.Size*point)
	p.pdf.SetTextColor(parts(w.Fill))
	width := p.pdf.GetStringWidth(w.Text)
	x, y := w.X*point, w.Y*point
	start := x
	switch w.Anchor {
	case "middle":
		start -= width / 2
	case "end":
		start -= width
	}
	if w.Turn != 0 {
		p.pdf.TransformBegin()
		p.pdf.TransformRotate(-w.Turn, x, y)
		defer p.pdf.TransformEnd()
	}
	p.pdf.Text(start, y, w.Text)
}

// Picture puts an image over a box.
func (p *Pen) Picture(b figure.Box, picture image.Image) {
	var encoded bytes.Buffer
	_ = png.Encode(&encoded, picture)
	p.pictures++
	name := "picture " + string(rune('a'+p.pictures))
	p.pdf.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "PNG"}, &encoded)
	p.pdf.ImageOptions(name, b.Left*point, b.Top*point, b.Width*point, b.Height*point, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
}

func parts(hex string) (int, int, int) {
	r, g, b := draw.Channels(hex)
	return int(r), int(g), int(b)
}

// Write writes the file.
func (p *Pen) Write(out io.Writer) error { return p.pdf.Output(out) }
