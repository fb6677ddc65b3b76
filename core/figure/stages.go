package figure

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/summary"
	"copperlark/core/table"
	"copperlark/core/text"
)

// Options are the size of the paper and the font's metrics.
type Options struct {
	Width, Height float64 // pixels; clamped to a size that a chart fits
	Metrics       *text.Metrics
	// Bare draws marks alone, for a small picture: no axes, words or cards, and small dots.
	Bare bool
	// Still puts the steps of a chart side by side, for a picture that cannot be stepped through.
	Still bool
	// Fine gives the positions of points more exactly than a picture of the whole needs, for looking
	// closely at a part of it.
	Fine bool
	// Whole is the table of which the chart's own is a part, some columns of it staying at home: how alike its
	// rows are is asked of it. nil: the chart's own.
	Whole *table.Table
	// Elsewhere is what is known of all rows of a table that stays elsewhere, where the chart's own is a sample of it. nil: it is
	// the whole.
	Elsewhere *summary.Whole
	// Dataset gives the table of another dataset by its name; nil: there are no others.
	Dataset func(ctx context.Context, name string) (*table.Table, error)
}

// The default paper, and the smallest and largest.
const (
	DefaultWidth, DefaultHeight = 900.0, 560.0
	minSize, maxSize            = 100.0, chart.MostPaper
	smallestSize                = 20.0 // of a small picture
)

// A figure is made in stages. Each is a function from the value of the stage before to its own, which nothing changes
// once it is made: the rows that are drawn (Selection), what each looks like (Dressed), what the layers found in each
// panel (Computed), the scales (Trained), where everything stands (Laid), and the primitives (Drawn), over which
// passes go. What was computed can be laid out on papers of several sizes.

// Asked is what all stages read.
type Asked struct {
	*mark.Bound
	Options
	enlarged float64 // the paper is so many times as large as the one that is laid out
	step     bool    // panels stand in one place, and one is seen at a time
	manner   Manner
	letters  lettering
}

// Build makes the figure of a bound chart. Clauses that cannot be honoured are given as problems, and then there is no
// figure. The error is the context's.
func Build(ctx context.Context, bound *mark.Bound, o Options) (*Figure, []chart.Problem, error) {
	computed, problems, err := Prepare(ctx, bound, o)
	if problems != nil || err != nil {
		return nil, problems, err
	}
	return computed.Figure(ctx, o.Width, o.Height)
}

// Prepare makes what does not depend on the size of the paper: rows are selected, dressed and divided into panels, and
// each layer finds what it shows.
func Prepare(ctx context.Context, bound *mark.Bound, o Options) (computed *Computed, problems []chart.Problem, err error) {
	if problems := bound.Problems(); len(problems) > 0 {
		return nil, problems, nil
	}
	d := bound.Document
	a := Asked{Bound: bound.With(d.InPanels()), Options: o, enlarged: 1, manner: manner(d), letters: letters(d)}
	a.step = d.Step != "" && !o.Still && !o.Bare
	if bound.Round() { // nothing stands along its edges
		a.manner.Grid, a.manner.Lines = chart.GridOff, false
	}
	if !o.Bare {
		a.enlarged = d.TextScale() // laid out on a smaller paper, and made larger
	}
	a = a.sized(o.Width, o.Height)
	selection, problems := Select(ctx, a)
	if problems != nil || ctx.Err() != nil {
		return nil, problems, ctx.Err()
	}
	dressed, problems := Dress(ctx, selection)
	if problems != nil || ctx.Err() != nil {
		return nil, problems, ctx.Err()
	}
	computed, problems = Compute(ctx, dressed)
	if problems != nil || ctx.Err() != nil {
		return nil, problems, ctx.Err()
	}
	return computed, nil, nil
}

// sized is what was asked for, on a paper of a size.
func (a Asked) sized(width, height float64) Asked {
	if width == 0 {
		width, height = DefaultWidth, DefaultHeight
	}
	least := minSize
	if a.Bare {
		least = smallestSize
	}
	a.Width, a.Height = min(max(width, least), maxSize)/a.enlarged, min(max(height, least), maxSize)/a.enlarged
	return a
}

// Figure lays what was computed out on a paper of a size in pixels, draws it, and lets the passes go over it.
func (c *Computed) Figure(ctx context.Context, width, height float64) (*Figure, []chart.Problem, error) {
	trained, problems := Train(ctx, c.on(width, height))
	if problems != nil || ctx.Err() != nil {
		return nil, problems, ctx.Err()
	}
	laid, problems := Lay(trained)
	if problems != nil {
		return nil, problems, nil
	}
	drawn, problems := Draw(laid)
	if problems != nil || ctx.Err() != nil {
		return nil, problems, ctx.Err()
	}
	for _, pass := range passes {
		if c.Bare && !pass.bare {
			continue
		}
		if problems := pass.apply(ctx, drawn); problems != nil || ctx.Err() != nil {
			return nil, problems, ctx.Err()
		}
	}
	return drawn.figure, nil, nil
}

// on is what was computed, for a paper of another size.
func (c *Computed) on(width, height float64) *Computed {
	selection, dressed, computed := *c.Selection, *c.Dressed, *c
	selection.Asked = selection.sized(width, height)
	dressed.Selection, computed.Dressed = &selection, &dressed
	return &computed
}
