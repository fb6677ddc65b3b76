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
	"copperlark/core/mark"
	"copperlark/core/reading"
	"copperlark/core/summary"
	"copperlark/core/table"
	"copperlark/core/text"
)

// Format is a form that a chart can be written in.
type Format struct {
	Name, Type, Help string
	write            func(ctx context.Context, p *paper, out io.Writer) error
}

// writer is a pen that can be written.
type writer interface {
	draw.Pen
	Write(io.Writer) error
}

// Formats lists the forms.
var Formats = []Format{
	{
		Name: "svg",
		Type: "image/svg+xml",
		Help: "vector graphics, text stays text",
		write: func(ctx context.Context, p *paper, out io.Writer) error {
			pen := svg.New(p.width(), p.height(), p.o.Fonts)
			pen.Title = p.o.Title
			return p.elements(ctx, pen, out)
		},
	},
	{Name: "png", Type: "image/png", Help: "a picture of pixels", write: func(ctx context.Context, p *paper, out io.Writer) error {
		return png.Write(ctx, out, p.width(), p.height(), p.o.Scale, png.BandPixels, func(pen draw.Pen) { p.draw(pen, false) })
	}},
	{Name: "pdf", Type: "application/pdf", Help: "a page with its fonts", write: func(ctx context.Context, p *paper, out io.Writer) error {
		return p.elements(ctx, pdf.New(p.width(), p.height(), p.o.Title, p.o.Clock), out)
	}},
}

// Pixels is how many pixels drawing a paper takes, for weighing the work: those of a PNG are painted, and
// other forms put crowds of points as a picture of the paper's own size.
func Pixels(format *Format, width, height, scale float64) int64 {
	width, height, scale = sizes(width, height, scale)
	if format.Name != "png" {
		scale = 1
	}
	return int64(width * scale * height * scale)
}

// sizes holds the size of a paper, and the scale of its pixels, to what there is.
func sizes(width, height, scale float64) (float64, float64, float64) {
	if width == 0 {
		width = figure.DefaultWidth
	}
	if height == 0 {
		height = figure.DefaultHeight
	}
	width, height = min(max(width, 160), MostPixels), min(max(height, 120), MostPixels)
	return width, height, min(max(scale, 1), MostScale, MostPixels*2/max(width, height))
}

// FormatNames lists what forms are called.
func FormatNames() (names []string) {
	for _, f := range Formats {
		names = append(names, f.Name)
	}
	return names
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
	Clear         bool    // without paper: what lies below is seen
	Fonts         svg.Fonts
	Title         string    // of the file
	Clock         time.Time // when a PDF says that it was made
	Metrics       *text.Metrics
	// Elsewhere is as in figure.Options.
	Elsewhere *summary.Whole
	// Dataset gives the table of another dataset by its name; nil: there are no others.
	Dataset func(ctx context.Context, name string) (*table.Table, error)
}

// The largest paper, in its own pixels, and how many pixels of a PNG one of them becomes at most.
const (
	MostPixels = chart.MostPaper
	MostScale  = 8.0
)

type paper struct {
	figure *figure.Figure
	around *draw.Around
	look   *draw.Look
	o      Options
	stop   func() bool
}

// Chart draws a chart with a table. Clauses that cannot be honoured are given as problems.
func Chart(ctx context.Context, b *mark.Bound, format *Format, o Options, out io.Writer) ([]chart.Problem, error) {
	look := draw.LookNamed(o.Look)
	if look == nil {
		return []chart.Problem{{Clause: "look", Message: fmt.Sprintf("there is no look %s", o.Look), Advice: "say " + lookNames()}}, nil
	}
	o.Width, o.Height = OnPaper(b.Document, o.Width, o.Height)
	o.Width, o.Height, o.Scale = sizes(o.Width, o.Height, o.Scale)
	computed, problems, err := figure.Prepare(
		ctx,
		b,
		figure.Options{Width: o.Width, Height: o.Height, Metrics: o.Metrics, Still: true, Dataset: o.Dataset, Elsewhere: o.Elsewhere},
	)
	if err != nil || problems != nil {
		return problems, err
	}
	f, problems, err := computed.Figure(ctx, o.Width, o.Height)
	if err != nil || problems != nil {
		return problems, err
	}
	note := func() { reading.Note(f, nil) }
	note()
	around := draw.About(f, o.Metrics, o.Width)
	if taken := around.Top + around.Bottom; taken > 0 || around.Right > 0 { // the paper stays as large as was said
		if f, problems, err = computed.Figure(ctx, o.Width-around.Right, max(o.Height-taken, o.Height*0.4)); err != nil || problems != nil {
			return problems, err
		}
		note()
	}
	f.Down(around.Top)
	if o.Title == "" {
		o.Title = b.Document.Title
	}
	p := &paper{f, around, look, o, func() bool { return ctx.Err() != nil }}
	return nil, format.write(ctx, p, out)
}

// Figure draws a figure that was laid out before, as large as it is, with its keys and its note; heading stands over it, in lines
// as wide as it is; empty: none. A scale below 1 makes a small picture of it. Of a figure that is stepped through the last step is drawn.
func Figure(ctx context.Context, f *figure.Figure, heading string, format *Format, o Options, out io.Writer) error {
	look := draw.LookNamed(o.Look)
	if look == nil {
		return fmt.Errorf("there is no look %s: say %s", o.Look, lookNames())
	}
	f.LastStep()
	around := draw.About(f, o.Metrics, f.Width)
	f.Down(around.Top)
	f.Head(heading, o.Metrics)
	if o.Scale = min(o.Scale, MostScale, MostPixels*2/max(f.Width, f.Height)); o.Scale <= 0 {
		o.Scale = 1
	}
	return format.write(ctx, &paper{f, around, look, o, func() bool { return ctx.Err() != nil }}, out)
}

// OnPaper gives the size that is asked for or, where that is 0, the one that the chart says.
func OnPaper(d *chart.Document, width, height float64) (float64, float64) {
	if d != nil && d.Paper != nil {
		said := d.Paper.Pixels()
		if width == 0 {
			width = said.Width
		}
		if height == 0 {
			height = said.Height
		}
	}
	return width, height
}

// elements draws with a pen that keeps elements, and writes them.
func (p *paper) elements(ctx context.Context, pen writer, out io.Writer) error {
	p.draw(pen, true)
	if err := ctx.Err(); err != nil {
		return err
	}
	return pen.Write(out)
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
	o := draw.Options{Look: p.look, Clear: p.o.Clear, Stopped: p.stop}
	if raster {
		o.Raster = png.Raster
	}
	draw.Draw(p.figure, pen, o)
	draw.DrawAround(p.figure, p.around, pen, o)
}
