package mark

import (
	"slices"
	"sync"

	"copperlark/core/chart"
	"copperlark/core/table"
)

// Bound is the document of a chart and a table, bound once: what stands along the axes, the marks that it is drawn with,
// and what keeps it from being drawn. Figures, sentences, readings and names take it, and none of them binds again. It
// does not change, and may be used by many at once.
type Bound struct {
	Document *chart.Document // as Settle leaves it, in this program's version; the caller's own is left as it is
	Table    *table.Table    // which the chart is of: of a function, that of its values
	X, Y     *Axis
	Marks    []*Mark

	problems func() []chart.Problem
}

// Bind reads a document against a table. Neither is changed.
func Bind(d *chart.Document, t *table.Table) *Bound {
	if d.Version != chart.Version {
		d = d.Clone()
		d.Version = chart.Version
	}
	b := &Bound{Document: d, Table: d.Table(t)}
	b.X, b.Y = resolve(d, b.Table, "x"), resolve(d, b.Table, "y")
	if axis := b.averaged(); axis != "" {
		d = d.Clone()
		d.Along(axis).Of = chart.Mean
		b.X, b.Y = resolve(d, b.Table, "x"), resolve(d, b.Table, "y")
	}
	suggested := dots
	if d.Whole() {
		suggested = b.suggested()
	}
	b.Document = settled(d, suggested)
	for _, name := range d.Marks() {
		if m := Named(name); m != nil {
			b.Marks = append(b.Marks, m)
		}
	}
	if len(d.Marks()) == 0 {
		b.Marks = []*Mark{suggested}
	}
	b.problems = sync.OnceValue(func() []chart.Problem { return check(b) })
	return b
}

// Round reports whether the chart is drawn round a middle, without axes.
func (b *Bound) Round() bool {
	return slices.ContainsFunc(b.Marks, func(m *Mark) bool { return m.Round })
}

// Tones are the colours that the chart's mark has of its own; nil for none.
func (b *Bound) Tones() *Tones {
	for _, m := range b.Marks {
		if m.Tones != nil {
			return m.Tones
		}
	}
	return nil
}

// Along is what stands along an axis, x or y.
func (b *Bound) Along(axis string) *Axis {
	if axis == "x" {
		return b.X
	}
	return b.Y
}

// Problems is what keeps the document from being drawn with the table; nil means that every clause can be honoured.
func (b *Bound) Problems() []chart.Problem { return b.problems() }

// Select is the chart of some rows of the table alone, its groups and their order staying those of all rows.
func (b *Bound) Select(rows []int) *Bound {
	some := *b
	some.Table = b.Table.Select(rows)
	axis := func(a *Axis) *Axis {
		of := *a
		pick := func(c *table.Column) *table.Column {
			switch {
			case c == nil:
				return nil
			case b.Table.Column(c.Name) == c:
				return some.Table.Column(c.Name)
			}
			return c.Pick(rows)
		}
		of.Column, of.More = pick(a.Column), make([]*table.Column, len(a.More))
		for i, c := range a.More {
			of.More[i] = pick(c)
		}
		return &of
	}
	some.X, some.Y = axis(b.X), axis(b.Y)
	return &some
}

// With is the chart of another document that plots the same columns in the same way: its axes, and its marks.
func (b *Bound) With(d *chart.Document) *Bound {
	other := *b
	other.Document = d
	return &other
}

// suggested is the mark that the columns suggest.
func (b *Bound) suggested() *Mark {
	if b.Document.Function != nil {
		return line
	}
	for _, m := range []*Mark{histogram, bars, counts, boxes, line} {
		if m.Suits(b.X, b.Y) && len(untaken([]*Mark{m}, b.Document, b.Table)) == 0 && !(m == line && b.tangled()) {
			return m
		}
	}
	return dots
}

// averaged is the axis of a plain column of numbers whose means are drawn, because a mark is said that draws a statistic: bars
// of a price are bars of its mean, and the document says so. Empty: there is none.
func (b *Bound) averaged() string {
	if !slices.ContainsFunc(b.Document.Marks(), func(name string) bool { m := Named(name); return m != nil && m.Statistic }) ||
		b.X.Aggregated() || b.Y.Aggregated() || len(b.Y.More) > 0 {
		return ""
	}
	for _, one := range []struct {
		axis          string
		value, across *Axis
	}{{"y", b.Y, b.X}, {"x", b.X, b.Y}} {
		plain := b.Document.Along(one.axis).As == chart.AsItIs
		if plain && one.value.Column != nil && one.value.Column.Kind.Quantity() && one.across.Column != nil {
			return one.axis
		}
	}
	return ""
}

// tangled reports whether a line over the dates would run up and down within each of them: several rows of one group share a date.
func (b *Bound) tangled() bool {
	if b.Y.Aggregated() || !b.X.Column.Repeats() {
		return false
	}
	var groups []*table.Column
	for _, name := range append([]string{b.Document.Colour, b.Document.Step}, b.Document.Panels.By...) {
		if c := b.Table.Column(name); c != nil && c.Kind.Coded() {
			groups = append(groups, c)
		}
	}
	if len(groups) == 0 {
		return true
	}
	type place struct {
		date   float64
		groups [4]int32
	}
	seen := map[place]struct{}{}
	for row, date := range b.X.Column.Numbers[:min(b.X.Column.Len(), mostTangled)] {
		if b.X.Column.Missing(row) {
			continue
		}
		at := place{date: date}
		for i, c := range groups[:min(len(groups), len(at.groups))] {
			at.groups[i] = c.Codes[row]
		}
		if _, is := seen[at]; is {
			return true
		}
		seen[at] = struct{}{}
	}
	return false
}

// mostTangled is how many rows are looked at for whether lines of groups tangle.
const mostTangled = 5_000

// settled says of a document which marks it is drawn with, when none is said and the columns suggest another than dots;
// and takes dots out where they go without saying. It gives the document itself when there is nothing to do.
func settled(d *chart.Document, suggested *Mark) *chart.Document {
	if !d.Whole() {
		return d
	}
	said := d.Marks()
	switch {
	case len(said) == 0 && suggested != dots:
		next := d.Clone()
		next.SetMarks(suggested.Name)
		return next
	case len(said) == 1 && said[0] == dots.Name && suggested == dots:
		next := d.Clone()
		next.SetMarks()
		return next
	}
	return d
}
