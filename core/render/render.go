// Package render draws a chart into a file: as SVG, PDF or PNG, with its keys and its note
// on the paper; and as a small picture.
package render

import (
	"context"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"copperlark/core/chart"
	"copperlark/core/draw"
	"copperlark/core/draw/pen/pdf"
	"copperlark/core/draw/pen/png"
	"copperlark/core/draw/pen/svg"
	"copperlark/core/figure"
	"copperlark/core/table"
	"copperlark/core/text"
)

// Format is a form that a chart can be written in.
type Format struct {
	Name, Type, Help string
	pixels           bool // it keeps no elements
	pen              func(*paper) writer
}

// writer is a pen that can be written.
type writer interface {
	draw.Pen
	Write(io.Writer) error
}

// Formats lists the forms.
var Formats = []Format{
	{Name: "svg", Type: "image/svg+xml", Help: "vector graphics, text stays text", pen: func(p *paper) writer {
		pen := svg.New(p.width(), p.height(), p.o.Fonts)
		pen.Title = p.o.Title
		return pen
	}},
	{Name: "png", Type: "image/png", Help: "a picture of pixels", pixels: true, pen: func(p *paper) writer { return png.New(p.width(), p.height(), p.o.Scale) }},
	{Name: "pdf", Type: "application/pdf", Help: "a page with its fonts", pen: func(p *paper) writer { return pdf.New(p.width(), p.height(), p.o.Title, p.o.Clock) }},
}

// FormatNamed finds a form; nil when there is none.
func FormatNamed(name string) *Format {
	i := slices.IndexFunc(Formats, func(f Format) bool { return f.Name == name })
	if i < 0 {
		return nil
	}
	return &Formats[i]
}

// Options are the paper and its looks.
type Options struct {
	Width, Height float64 // of the whole paper, in pixels; 0 is the default
	Scale         float64 // of a PNG: pixels a pixel of the paper; 0 is 1
	Look          string  // of draw.Looks
	Fonts         svg.Fonts
	Title         string    // of the file
	Clock         time.Time // when a PDF says that it was made
	Metrics       *text.Metrics
	// Dataset gives the table of another dataset by its name; nil: there are no others.
	Dataset func(ctx context.Context, name string) (*table.Table, error)
}

// The largest paper, in its own pixels and in those of a PNG.
const (
	MostPixels = chart.MostPaper
	mostScale  = 8.0
)

type paper struct {
	figure *figure.Figure
	around *draw.Around
	look   *draw.Look
	o      Options
	stop   func() bool
}

// Chart draws a chart with a table. Clauses that cannot be honoured are given as problems.
func Chart(ctx context.Context, d *chart.Document, t *table.Table, format *Format, o Options, out io.Writer) ([]chart.Problem, error) {
	look := draw.LookNamed(o.Look)
	if look == nil {
		return []chart.Problem{{Clause: "look", Message: fmt.Sprintf("there is no look %s", o.Look), Advice: "say " + lookNames()}}, nil
	}
	if o.Width == 0 {
		o.Width = figure.DefaultWidth
		if d.Paper != nil {
			o.Width = d.Paper.Pixels().Width
		}
	}
	if o.Height == 0 {
		o.Height = figure.DefaultHeight
		if d.Paper != nil {
			o.Height = d.Paper.Pixels().Height
		}
	}
	o.Width, o.Height = min(max(o.Width, 160), MostPixels), min(max(o.Height, 120), MostPixels)
	o.Scale = min(max(o.Scale, 1), mostScale, MostPixels*2/max(o.Width, o.Height))
	build := func(width, height float64) (*figure.Figure, []chart.Problem, error) {
		return figure.Build(ctx, d, t, figure.Options{Width: width, Height: height, Metrics: o.Metrics, Still: true, Dataset: o.Dataset})
	}
	f, problems, err := build(o.Width, o.Height)
	if err != nil || problems != nil {
		return problems, err
	}
	around := draw.About(f, o.Metrics, o.Width)
	if taken := around.Top + around.Bottom; taken > 0 || around.Right > 0 { // the paper stays as large as was said
		if f, problems, err = build(o.Width-around.Right, max(o.Height-taken, o.Height*0.4)); err != nil || problems != nil {
			return problems, err
		}
	}
	f.Down(around.Top)
	if o.Title == "" {
		o.Title = d.Title
	}
	p := &paper{f, around, look, o, func() bool { return ctx.Err() != nil }}
	pen := format.pen(p)
	p.draw(pen, !format.pixels)
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	return nil, pen.Write(out)
}

func lookNames() string {
	var names []string
	for _, l := range draw.Looks {
		names = append(names, l.Name)
	}
	return strings.Join(names[:len(names)-1], ", ") + " or " + names[len(names)-1]
}

func (p *paper) width() float64 { return p.figure.Width + p.around.Right }

func (p *paper) height() float64 { return p.figure.Height + p.around.Bottom }

func (p *paper) draw(pen draw.Pen, raster bool) {
	o := draw.Options{Look: p.look, Stopped: p.stop}
	if raster {
		o.Raster = png.Raster
	}
	draw.Draw(p.figure, pen, o)
	draw.DrawAround(p.figure, p.around, pen, o)
}
