package figure

import (
	"slices"

	"copperlark/core/table"
)

// insideTolerance is how far beyond an axis a position may lie for rounding.
const insideTolerance = 1e-6

// Publish makes a figure hold no more than it shows, and gives the rows behind it: of the
// table that it was built from, those that are drawn within the limits of the axes, in
// the order of the dots; and the named columns. What else the card would say, the names of
// groups that have no row left, and the numbers of rows in the table are gone. Fits and
// keys stay as they were drawn.
func (f *Figure) Publish(t *table.Table, columns []string) (*table.Table, error) {
	rows := f.tableRows(t.Rows())
	inside := make([]int, 0, len(rows))
	d := &f.Dots
	for i := range rows {
		if within(d.X.At(i)) && within(d.Y.At(i)) {
			inside = append(inside, i)
		}
	}
	if len(inside) < len(rows) {
		for _, a := range []*Array{&d.X, &d.Y, &d.Colour, &d.Shape, &d.Radius} {
			*a = a.pick(inside)
		}
		kept := make([]int, len(inside))
		for i, dot := range inside {
			kept[i] = rows[dot]
		}
		rows = kept
	}
	d.Count, d.Row, d.LeftOut = len(rows), Array{}, Array{}
	published := make([]*table.Column, 0, len(columns))
	card := []CardColumn{}
	for _, c := range f.Card.Columns {
		if !slices.Contains(columns, c.Column) {
			continue
		}
		column := t.Column(c.Column).Pick(rows).UsedLevels()
		published = append(published, column)
		if c.Numbers.Len() > 0 {
			c.Numbers = NewArray(column.Numbers)
		}
		if c.Codes.Len() > 0 {
			c.Codes, c.Levels = NewArray(column.Codes), column.Levels
		}
		card = append(card, c)
	}
	f.Card.Columns = card
	if !slices.Contains(columns, f.Card.Heading) {
		f.Card.Heading = ""
	}
	return table.New(published...)
}

func within(position float64) bool {
	return position >= -insideTolerance && position <= 1+insideTolerance
}

// tableRows gives the table row of each dot.
func (f *Figure) tableRows(total int) []int {
	rows := make([]int, 0, f.Dots.Count)
	switch {
	case f.Dots.Row.Len() > 0:
		for i := range f.Dots.Row.Len() {
			rows = append(rows, int(f.Dots.Row.At(i)))
		}
	case f.Dots.LeftOut.Len() > 0:
		gone := f.Dots.LeftOut.values.([]uint8)
		for i := range total {
			if gone[i>>3]>>(i&7)&1 == 0 {
				rows = append(rows, i)
			}
		}
	default:
		for i := range f.Dots.Count {
			rows = append(rows, i)
		}
	}
	return rows
}

// pick gives the values at some places; an empty array stays empty.
func (a Array) pick(at []int) Array {
	switch v := a.values.(type) {
	case []float32:
		return picked(v, at)
	case []uint8:
		return picked(v, at)
	case []uint16:
		return picked(v, at)
	}
	return a
}

func picked[T float32 | uint8 | uint16](values []T, at []int) Array {
	out := make([]T, len(at))
	for i, place := range at {
		out[i] = values[place]
	}
	return NewArray(out)
}
