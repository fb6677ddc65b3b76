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
	"second heading under title caption",
	"subtitle 'Five districts, 2027 to 2031'",
	func(d *document) *string { return &d.Subtitle },
)

// titleOver is what stands over the chart, noteClause what stands under it.
var (
	titleOver = titleClause(
		words(
			"title",
			"words over the chart",
			"heading caption name centre center align",
			"title 'More forage, more honey' centred",
			func(d *document) *string { return &d.Title },
		),
	)
	noteClause = words("note", "words under the chart", "caption footnote source comment", "note 'Hives weighed at the autumn check'",
		func(d *document) *string { return &d.Note })
)

func words(name, help, trade, example string, at func(*document) *string) clause.Clause[document] {
	return clause.Clause[document]{Name: name, Help: help, Trade: trade, Example: example,
		Pieces: []clause.Piece{clause.Text(at)}, Said: func(d *document) bool { return *at(d) != "" }, Aloud: clause.Aloud{Slot: name},
		Add: opens(
			func(*document) bool { return name != "title" },
			addition{Key: name, Rank: 9, Label: name, Detail: help, Opens: name, Also: "note caption heading subtitle"},
		)}
}
