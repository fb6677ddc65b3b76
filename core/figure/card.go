package figure

import (
	"slices"
	"unicode/utf8"

	"copperlark/core/describe"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// card collects the exact values that hovering over a row shows: a heading that names the
// case, and every column that the chart maps. Values stand in the order of the points of
// the layers of rows, one panel after the other.
func (b *Drawn) card() {
	b.figure.Card = Card{Columns: []CardColumn{}}
	points := b.figure.Points()
	if len(points) == 0 && !b.showsRows() {
		return
	}
	usual := *b.Document
	usual.Card = nil
	names, heading := usual.Columns(), HeadingColumn(b.Table)
	if said := b.Document.Card; said != nil {
		if len(said.Shows) > 0 {
			names = said.Shows
		}
		if said.Heading != "" {
			heading = b.Table.Column(said.Heading)
		}
	}
	if heading != nil {
		b.figure.Card.Heading = heading.Name
		names = append([]string{heading.Name}, names...)
	}
	var rows []uint32
	first := 0
	for _, l := range points {
		l.First = first
		first += l.Count
		if len(b.rows.rows) <= MaxCardDots {
			rows = append(rows, b.parts[l.Panel].c.Rows...)
		}
	}
	for i, name := range names {
		c := b.Table.Column(name)
		if c == nil || i > 0 && heading != nil && name == heading.Name {
			continue
		}
		b.figure.Card.Columns = append(b.figure.Card.Columns, cardColumn(c, rows))
	}
}

// showsRows reports whether the values of each row are seen, and keeps which rows are.
func (b *Drawn) showsRows() bool {
	if b.X.Aggregated() || b.Y.Aggregated() || !slices.ContainsFunc(b.Marks, func(m *mark.Mark) bool { return m.Rows }) {
		return false
	}
	for i, p := range b.parts {
		at := b.figure.Panels[i]
		x, y := &b.figure.Scales[at.X], &b.figure.Scales[at.Y]
		for j, row := range p.c.Rows {
			if within(x.Share(p.c.U[j])) && within(y.Share(p.c.V[j])) {
				b.figure.shown = append(b.figure.shown, row)
			}
		}
	}
	return true
}

// mostFixed is up to how many decimals the numbers of a card all have.
const mostFixed = 3

func cardColumn(c *table.Column, rows []uint32) CardColumn {
	out := CardColumn{
		Column: c.Name,
		Name:   c.ReadableName(),
		Unit:   c.Unit,
		Form:   mark.FormOf(c),
		Kind:   string(c.Kind),
		Grain:  string(c.Grain),
	}
	if c.Kind == table.Number && out.Form == "" {
		if decimals := describe.Shown(c); decimals <= mostFixed {
			out.Fixed = decimals // 12.5 beside 3.25 is 12.50
		}
	}
	if len(rows) == 0 {
		return out
	}
	if !c.Kind.Coded() {
		values := make([]float64, len(rows))
		for i, row := range rows {
			values[i] = c.Numbers[row]
		}
		out.Numbers = primitive.NewArray(values)
		return out
	}
	// Only the levels that are drawn travel.
	newCode := map[int32]int32{}
	codes := make([]int32, len(rows))
	for i, row := range rows {
		code := c.Codes[row]
		if code < 0 {
			codes[i] = table.MissingCode
			continue
		}
		short, seen := newCode[code]
		if !seen {
			short = int32(len(out.Levels))
			newCode[code] = short
			out.Levels = append(out.Levels, c.Levels[code])
		}
		codes[i] = short
	}
	out.Codes = primitive.NewArray(codes)
	return out
}

// RowName is what a row is called: by the column that names rows, or by its number.
func RowName(t *table.Table, row int) string {
	if c := HeadingColumn(t); c != nil && !c.Missing(row) {
		return c.Value(row)
	}
	return "row " + scale.Number(float64(row)+1, 0)
}

// HeadingColumn chooses the column that names a row on its card: the first text
// column whose values are short, or nil.
func HeadingColumn(t *table.Table) *table.Column {
	for _, c := range t.Columns() {
		if c.Kind != table.Text || len(c.Levels) == 0 {
			continue
		}
		length := 0
		sample := c.Levels[:min(len(c.Levels), 200)]
		for _, level := range sample {
			length += utf8.RuneCountInString(level)
		}
		if length <= 30*len(sample) {
			return c
		}
	}
	return nil
}
