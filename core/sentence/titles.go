package sentence

import (
	"copperlark/core/clause"
	"copperlark/core/table"
)

// titleClause lets the title stand over the middle.
func titleClause(c clause.Clause[document]) clause.Clause[document] {
	c.Pieces = append(
		c.Pieces,
		clause.Maybe(
			func(d *document) bool { return d.Centred },
			func(d *document) { d.Centred = true },
			clause.Suggestion{Help: "over the middle of the chart"},
			clause.Say("centred"),
		),
	)
	first := c.Add
	c.Add = func(d *document, t *table.Table) []addition {
		if d.Title == "" || d.Centred {
			return first(d, t)
		}
		return append(
			first(d, t),
			addition{
				Key:    "centred",
				Rank:   24,
				Label:  "title centred",
				Detail: "over the middle of the chart",
				Also:   "center align middle heading",
				D:      with(d, func(next *document) { next.Centred = true }),
			},
		)
	}
	return c
}

// subtitleClause is a smaller line under the title.
var subtitleClause = words(
	"subtitle",
	"a smaller line under the title",
	"subtitle 'Five districts, 2027 to 2031'",
	func(d *document) *string { return &d.Subtitle },
)
