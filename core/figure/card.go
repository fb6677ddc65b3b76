package figure

import (
	"unicode/utf8"

	"copperlark/core/table"
)

// card collects the exact values that hovering shows: a heading that names the
// case, and every column that the chart maps.
func (b *builder) card() {
	names := b.document.Columns()
	heading := HeadingColumn(b.table)
	card := Card{Columns: []CardColumn{}}
	if heading != nil {
		card.Heading = heading.Name
		names = append([]string{heading.Name}, names...)
	}
	for i, name := range names {
		if i > 0 && heading != nil && name == heading.Name {
			continue
		}
		card.Columns = append(card.Columns, b.cardColumn(b.table.Column(name)))
	}
	b.figure.Card = card
}

func (b *builder) cardColumn(c *table.Column) CardColumn {
	out := CardColumn{Column: c.Name, Name: c.ReadableName(), Unit: c.Unit, Kind: string(c.Kind), Grain: string(c.Grain)}
	if len(b.rows.rows) > MaxCardDots {
		return out
	}
	if !c.Kind.Coded() {
		out.Numbers = NewArray(b.rows.numbers(c))
		return out
	}
	// Only the levels that are drawn travel.
	newCode := map[int32]int32{}
	codes := make([]int32, len(b.rows.rows))
	for i, row := range b.rows.rows {
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
	out.Codes = NewArray(codes)
	return out
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
