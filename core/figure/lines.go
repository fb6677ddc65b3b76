package figure

import (
	"context"
	"fmt"

	"copperlark/core/chart"
	"copperlark/core/compare"
	"copperlark/core/mark"
)

// Taken is the rows that a chart draws, and what straight lines are laid through.
type Taken struct {
	Why     []uint8  // of each row of the table: 0 where it is drawn, else one more than the number of its reason
	Reasons []string // why rows are left out
	Total   int
	Drawn   int
	Lines   []NamedLine
	NoLines string // why there are none that can be compared; empty: there are, or nothing is fitted
}

// NamedLine is what a straight line of all rows, or of a group, is laid through.
type NamedLine struct {
	Name    string
	Overall bool
	compare.Line
}

// Take selects the rows of a bound chart as drawing it does, and says why it leaves the others out. Lines are those of its first
// straight-line fit: of the groups of its column, and of all rows.
func Take(ctx context.Context, b *mark.Bound) (*Taken, error) {
	d := b.Document
	if d.Function != nil {
		return &Taken{NoLines: "y is worked out from x: there are no rows"}, nil
	}
	s := &selection{why: make([]uint8, b.Table.Rows())}
	if problem := s.take(ctx, d, b.Table, b.X, b.Y); problem != nil {
		return nil, fmt.Errorf("%s", problem.Message)
	}
	out := &Taken{Why: s.why, Total: s.counts.Total, Drawn: s.counts.Drawn}
	for _, reason := range s.counts.LeftOut {
		out.Reasons = append(out.Reasons, reason.Reason)
	}
	out.NoLines = s.lines(b, out)
	return out, ctx.Err()
}

// lines gathers what straight lines are laid through, or says why there are none.
func (s *selection) lines(b *mark.Bound, into *Taken) string {
	d := b.Document
	var fit *chart.Fit
	for _, f := range d.Fits() {
		if f.Kind == chart.FitLine || f.Kind == "" {
			fit = f
			break
		}
	}
	switch {
	case fit == nil && len(d.Fits()) > 0:
		return "slopes are compared of straight lines"
	case fit == nil:
		return ""
	case fit.LeavingOutliers:
		return "slopes are compared of fits that leave no rows out"
	case len(d.Panels.By) > 0:
		return "slopes are compared where there are no panels"
	case !b.X.Numeric() || !b.Y.Numeric() || s.series != nil:
		return "slopes are compared of single rows with a number along each axis"
	}
	all := NamedLine{Name: mark.AllRows, Overall: true, Line: compare.Line{X: s.x, Y: s.y, Rows: s.rows}}
	c := b.Table.Column(fit.Each)
	if c != nil {
		all.Name = "all " + mark.Plural(c.Prose())
	}
	if c == nil || fit.Overall {
		into.Lines = append(into.Lines, all)
	}
	if c == nil {
		return ""
	}
	if c = c.AsGroups(chart.MaxColours); c == nil {
		return "there are too many groups"
	}
	groups := make([]NamedLine, len(c.Levels))
	for i, row := range s.rows {
		if code := c.Codes[row]; code >= 0 {
			g := &groups[code]
			g.X, g.Y, g.Rows = append(g.X, s.x[i]), append(g.Y, s.y[i]), append(g.Rows, row)
		}
	}
	for code, level := range c.Levels {
		if g := groups[code]; len(g.Rows) > 0 {
			g.Name = level
			into.Lines = append(into.Lines, g)
		}
	}
	return ""
}
