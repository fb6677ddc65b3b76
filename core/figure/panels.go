package figure

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// divide makes a part for each panel, in reading order.
func (b *Computed) divide() {
	b.whole = b.caseOf(nil, 0)
	by := b.panelColumns()
	if len(by) == 0 {
		b.parts = []*part{{c: b.whole}}
		return
	}
	of := make([][]int32, len(by))
	for i, c := range by {
		of[i] = b.rows.codes(c)
	}
	columns := 1
	if len(by) == 2 {
		columns = len(by[1].Levels)
	}
	members := make([][]int, len(by[0].Levels)*columns)
	for i := range b.rows.rows {
		at := int(of[0][i]) * columns
		if len(by) == 2 {
			at += int(of[1][i])
		}
		members[at] = append(members[at], i)
	}
	for at, rows := range members {
		titles := []string{by[0].Levels[at/columns]}
		if len(by) == 2 {
			titles = append(titles, by[1].Levels[at%columns])
		} else if len(rows) == 0 {
			continue // a group of which no row is drawn has no panel
		}
		if rows == nil {
			rows = []int{}
		}
		b.parts = append(b.parts, &part{titles: titles, place: b.placeOf(at, columns), c: b.caseOf(rows, len(b.parts))})
	}
}

// placeOf is the row and the column of a panel in the grid; steps stand in one place.
func (b *Computed) placeOf(at, columns int) [2]int {
	if b.step {
		return [2]int{}
	}
	return [2]int{at / columns, at % columns}
}

// panelColumns are the columns that divide, read as groups.
func (b *Dressed) panelColumns() (list []*table.Column) {
	for _, name := range b.Document.Panels.By {
		if c := b.Table.Column(name); c != nil {
			list = append(list, c.AsGroups(chart.MaxPanels))
		}
	}
	return list
}

// caseOf gives what a panel shows: rows lists their places in the selection, nil all.
func (b *Computed) caseOf(rows []int, panel int) *mark.Case {
	c := &mark.Case{
		Document: b.Document,
		Table:    b.Table,
		X:        b.X,
		Y:        b.Y,
		Rows:     b.rows.rows,
		U:        b.rows.x,
		V:        b.rows.y,
		Gaps:     b.rows.gaps,
		Groups:   b.groups,
		Codes:    b.codes,
		Channels: b.channels,
		Panel:    panel,
		Measured: b.rows.measured,

		Elsewhere: b.away,
	}
	if rows != nil {
		c.Rows, c.U, c.V = pick(b.rows.rows, rows), pick(b.rows.x, rows), pick(b.rows.y, rows)
		if b.codes != nil {
			c.Codes = pick(b.codes, rows)
		}
		c.Channels.Colour = b.channels.Colour.Pick(rows)
		c.Channels.Shape = b.channels.Shape.Pick(rows)
		c.Channels.Radius = b.channels.Radius.Pick(rows)
		for i, measured := range b.rows.measured {
			if measured != nil {
				c.Measured[i] = pick(measured, rows)
			}
		}
		c.Gaps = b.gapsOf(c.Rows)
		c.Whole = b.whole
		c.Elsewhere = b.away.In(b.panelOf(c.Rows))
	}
	c.Shared = mark.Share(c)
	return c
}

// panelOf are the groups of the panel of some rows, in the order of the columns that divide.
func (b *Computed) panelOf(rows []uint32) []int32 {
	codes := []int32{}
	for _, c := range b.panelColumns() {
		code := int32(-1) // of a panel without rows
		if len(rows) > 0 {
			code = c.Codes[rows[0]]
		}
		codes = append(codes, code)
	}
	return codes
}

// gapsOf are the rows without y that stand in the panel of some rows.
func (b *Computed) gapsOf(rows []uint32) (gaps []uint32) {
	if len(rows) == 0 {
		return nil
	}
	for _, row := range b.rows.gaps {
		same := true
		for _, c := range b.panelColumns() {
			same = same && c.Codes[row] == c.Codes[rows[0]]
		}
		if same {
			gaps = append(gaps, row)
		}
	}
	return gaps
}

func pick[T any](of []T, at []int) []T {
	out := make([]T, len(at))
	for i, place := range at {
		out[i] = of[place]
	}
	return out
}

// Trained is the scales of a chart, and the panels that they belong to.
type Trained struct {
	*Computed
	scales []Scale
	panels []Panel
	strips strips
}

// Train settles the scales: one along each axis, or one for each panel.
func Train(ctx context.Context, c *Computed) (*Trained, []chart.Problem) {
	t := &Trained{Computed: c}
	return t, t.train(ctx)
}

func (b *Trained) train(ctx context.Context) []chart.Problem {
	own := func(axis string) bool { return slices.Contains(b.Document.Panels.Own, axis) && len(b.parts) > 1 }
	b.panels = make([]Panel, len(b.parts))
	for i, p := range b.parts {
		b.panels[i] = Panel{Titles: p.titles, Rows: len(p.c.Rows)}
	}
	for _, axis := range []string{"x", "y"} {
		parts := [][]*part{b.parts}
		if own(axis) {
			parts = nil
			for _, p := range b.parts {
				parts = append(parts, []*part{p})
			}
		}
		for i, list := range parts {
			s, problem := b.scale(axis, list)
			if problem != nil {
				return []chart.Problem{*problem}
			}
			b.scales = append(b.scales, *s)
			at := len(b.scales) - 1
			for j := range b.parts {
				if len(parts) > 1 && j != i {
					continue
				}
				if axis == "x" {
					b.panels[j].X = at
				} else {
					b.panels[j].Y = at
				}
			}
		}
	}
	b.trainEdges(ctx)
	return nil
}

// scale makes a scale from what some panels draw along an axis, or from the limits that
// were said.
func (b *Trained) scale(axis string, parts []*part) (*Scale, *chart.Problem) {
	a, said, extent := b.Y, b.Document.Scales.Y, mark.None()
	length := b.Height
	if axis == "x" {
		a, said, length = b.X, b.Document.Scales.X, b.Width
	}
	for _, p := range parts {
		for _, l := range p.computed {
			if axis == "x" {
				extent = extent.Union(l.X)
			} else {
				extent = extent.Union(l.Y)
			}
		}
	}
	if before := b.rows.before; b.Document.TakeOut != "" && !extent.Empty() { // limits stay, so that it is seen how rows move
		if axis == "x" {
			extent = extent.Union(before.x)
		} else {
			extent = extent.Union(before.y)
		}
	}
	s := a.Scale()
	zero := mark.Zeroed(b.Marks, b.X) == axis
	switch {
	case said.Limits != nil:
		s.From, s.To = said.Limits.From, said.Limits.To
		if zero && (s.From > 0) == (s.To > 0) && s.From != 0 && s.To != 0 {
			return nil, &chart.Problem{
				Clause:  "limits",
				Message: "bars begin at zero, which lies outside these limits",
				Advice:  "say limits that hold zero, or draw dots",
			}
		}
	case s.Kind == scale.Groups:
		padded := scale.Padded(s.Kind, 0, float64(len(a.Column.Levels)-1), 0)
		s.From, s.To = padded.From, padded.To
		if !extent.Empty() { // what rises above the first place, or beyond the last
			s.From, s.To = min(s.From, extent.Low), max(s.To, extent.High)
		}
		if axis == "y" { // groups are read from the top down
			s.From, s.To = s.To, s.From
		}
	case extent.Empty():
		s.From, s.To = 1, 10
	case zero && b.shares():
		s.From, s.To = 0, 1
		if said.Written() == "" {
			s.Form = "percent"
		}
	default:
		share := min((b.channels.Largest+5)/max(length/b.alongside(axis)-80, 100), 0.2)
		if zero { // from zero itself
			s.From, s.To = extent.Low, extent.High
			if s.From == s.To {
				s.To = s.From + 1
			}
			break
		}
		padded := scale.PaddedAs(s, extent.Low, extent.High, share)
		s.From, s.To = padded.From, padded.To
	}
	if said.Reversed {
		s.From, s.To = s.To, s.From
	}
	return b.named(axis, a, said, s), nil
}

// shares reports whether what stands along the values is a share of a whole.
func (b *Trained) shares() bool {
	return slices.ContainsFunc(b.Marks, func(m *mark.Mark) bool { return m.Shares })
}

// alongside is how many panels share the paper along an axis.
func (b *Trained) alongside(axis string) float64 {
	rows, columns := b.grid()
	if axis == "x" {
		return float64(columns)
	}
	return float64(rows)
}

// named says what stands along a scale.
func (b *Trained) named(axis string, a *mark.Axis, said chart.Axis, s *scale.Scale) *Scale {
	out := &Scale{Channel: axis, Scale: *s, Unit: a.Unit(), TimeStep: a.TimeStep(), Name: strings.TrimSpace(said.Title)}
	if a.Column != nil {
		out.Column, out.Grain, out.Exact = a.Column.Name, string(a.Column.Grain), a.Column.Exact
		if c := b.Table.Column(a.Column.Name); c != nil {
			out.Read = string(c.Kind)
		}
	}
	if out.Name == "" {
		out.Name = a.Name()
		if len(a.More) > 0 {
			out.Name = ""
		}
	}
	if mark.Zeroed(b.Marks, b.X) == axis && b.shares() && strings.TrimSpace(said.Title) == "" {
		out.Name, out.Unit = "Share of "+table.Prose(out.Name), ""
	}
	if out.Title = out.Name; out.Title == "" && len(a.More) > 0 {
		out.Title = a.Together()
	}
	var notes []string
	if out.Unit != "" {
		notes = append(notes, out.Unit)
	}
	switch s.Kind {
	case scale.Log:
		if s.Base != 0 && s.Base != 10 {
			notes = append(notes, fmt.Sprintf("log scale, base %s", baseName(s.Base)))
		} else {
			notes = append(notes, "log scale")
		}
	case scale.NearLinear:
		notes = append(notes, "near-linear at zero")
	}
	if len(notes) > 0 {
		text := notes[0]
		if len(notes) > 1 {
			text += ", " + notes[1]
		}
		if out.Title == "" {
			out.Title = text
		} else {
			out.Title += " (" + text + ")"
		}
	}
	return out
}

func baseName(base float64) string {
	if math.Abs(base-math.E) < 1e-9 {
		return "e"
	}
	return scale.Value(base, 4)
}
