package figure

import (
	"fmt"
	"slices"

	"copperlark/core/primitive"
	"copperlark/core/table"
)

// insideTolerance is how far beyond an axis a position may lie for rounding.
const insideTolerance = 1e-6

// Publish makes a figure hold no more than it shows, and gives the rows behind it: of the
// table that it was built from, those that are drawn within the limits of the axes, in
// the order of the points; and the named columns. What else the card would say, the names of
// groups that have no row left, and the numbers of rows in the table are gone. Fits and
// keys stay as they were drawn. A figure that shows statistics gives these.
func (f *Figure) Publish(t *table.Table, columns []string) (*table.Table, error) {
	points := f.Points()
	if len(points) == 0 && f.shown == nil {
		f.Card = Card{Columns: []CardColumn{}}
		return f.told()
	}
	var rows []int
	for _, row := range f.shown {
		rows = append(rows, int(row))
	}
	for _, l := range points {
		l.First = len(rows)
		rows = append(rows, publishPoints(l, t.Rows())...)
	}
	f.published = rows
	published := make([]*table.Column, 0, len(columns))
	card := []CardColumn{}
	for _, c := range f.Card.Columns {
		if !slices.Contains(columns, c.Column) {
			continue
		}
		column := t.Column(c.Column).Pick(rows).UsedLevels()
		published = append(published, column)
		if c.Numbers.Len() > 0 {
			c.Numbers = primitive.NewArray(column.Numbers)
		}
		if c.Codes.Len() > 0 {
			c.Codes, c.Levels = primitive.NewArray(column.Codes), column.Levels
		}
		card = append(card, c)
	}
	f.Card.Columns = card
	if !slices.Contains(columns, f.Card.Heading) {
		f.Card.Heading = ""
	}
	return table.New(published...)
}

// PublishedRows are where the rows that Publish gave stand in the table that the figure was built from; nil where no marks are
// rows.
func (f *Figure) PublishedRows() []int { return f.published }

// Coarse reports whether the places of points are whole steps of the panel, not all that is known of them.
func (f *Figure) Coarse() bool {
	return slices.ContainsFunc(f.Points(), func(l *primitive.Layer) bool { return l.X.Type() == "u16" || l.Y.Type() == "u16" })
}

// publishPoints keeps the points of a layer that are seen, and gives their table rows.
func publishPoints(l *primitive.Layer, total int) []int {
	rows := tableRows(l, total)
	inside := make([]int, 0, len(rows))
	for i := range rows {
		if within(l.X.At(i)) && within(l.Y.At(i)) {
			inside = append(inside, i)
		}
	}
	if len(inside) < len(rows) {
		for _, a := range []*primitive.Array{&l.X, &l.Y, &l.Colour, &l.Shape, &l.Radius, &l.Who} {
			*a = a.Pick(inside)
		}
		rows = pick(rows, inside)
	}
	l.Count, l.Row, l.LeftOut = len(rows), primitive.Array{}, primitive.Array{}
	return rows
}

func within(position float64) bool {
	return position >= -insideTolerance && position <= 1+insideTolerance
}

// tableRows gives the table row of each point.
func tableRows(l *primitive.Layer, total int) []int {
	rows := make([]int, 0, l.Count)
	switch {
	case l.Row.Len() > 0:
		for i := range l.Row.Len() {
			rows = append(rows, int(l.Row.At(i)))
		}
	case l.LeftOut.Len() > 0:
		gone := l.LeftOut.Values().([]uint8)
		for i := range total {
			if gone[i>>3]>>(i&7)&1 == 0 {
				rows = append(rows, i)
			}
		}
	default:
		for i := range l.Count {
			rows = append(rows, i)
		}
	}
	return rows
}

// unsaid gives a name with a number where it is said already.
func unsaid(name string, said func(string) bool) string {
	for i, first := 2, name; said(name); i++ {
		name = fmt.Sprintf("%s (%d)", first, i)
	}
	return name
}

// told gives what the cards of a figure say, as a table: what each statistic is of, and its
// lines.
func (f *Figure) told() (*table.Table, error) {
	var names []string
	values := map[string][]string{}
	n := 0
	add := func(name, value string) {
		name = unsaid(name, func(name string) bool { return len(values[name]) >= n }) // two facts of a card may be called alike
		if _, known := values[name]; !known {
			names = append(names, name)
		}
		for len(values[name]) < n-1 {
			values[name] = append(values[name], "")
		}
		values[name] = append(values[name], value)
	}
	seen := ""
	for _, l := range f.Layers {
		if len(l.Cards) == 0 || seen != "" && l.Mark != seen {
			continue
		}
		seen = l.Mark
		for _, card := range l.Cards {
			n++
			add("of", card.Heading)
			for _, fact := range card.Facts {
				add(fact.Name, fact.Value)
			}
		}
	}
	columns := make([]*table.Column, len(names))
	for i, name := range names {
		for len(values[name]) < n {
			values[name] = append(values[name], "")
		}
		columns[i] = table.NewCategory(name, values[name])
		columns[i].Kind = table.Text
	}
	return table.New(columns...)
}
