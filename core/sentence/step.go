package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// stepClause shows one picture for each value of a column, one after the other in one place.
var stepClause = clause.Clause[document]{
	Name:    "step through",
	Trade:   "animate animation play frames slider time",
	Help:    "one picture for each value, one after the other, with axes held",
	Example: "step through season",
	Pieces: []clause.Piece{clause.Column(func(d *document) *string { return &d.Step }),
		clause.Maybe(
			func(d *document) bool { return d.Follow != "" },
			nil,
			clause.Suggestion{Text: "following ", Help: "a column by which the dots of one step are found in the next: they move"},
			clause.Say("following"),
			clause.Column(func(d *document) *string { return &d.Follow }),
		)},
	Said: func(d *document) bool { return d.Step != "" },
	Speak: func(d *document, s *clause.Speech) {
		if d.Step != "" {
			s.Say(", step by step through ")
			s.Column(d.Step, "step")
			if d.Follow != "" {
				s.Say(", following ")
				s.Column(d.Follow, "follow")
			}
		}
	},
	Changed: func(before, after *document, readable func(string) string) []string {
		if before.Step == after.Step && after.Follow != "" {
			return []string{"following " + readable(after.Follow)}
		}
		if after.Step == "" {
			return []string{"no steps"}
		}
		return []string{"steps: " + readable(after.Step)}
	},
	Menus: []menu{
		stepMenu(),
		columnMenu("follow", "Following", field(func(d *document) *string { return &d.Follow }), true, func(*document, *table.Column) {}, true),
	},
	Add: func(d *document, t *table.Table) []addition {
		if d.Step != "" && d.Follow == "" {
			return []addition{
				{
					Key:    "follow",
					Rank:   10,
					Label:  "following …",
					Detail: "dots move from one step to the next",
					Opens:  "follow",
					Also:   "same row identity entity animate transition",
				},
			}
		}
		return offerSteps(d, t)
	},
}

// stepMenu offers what to step through; without steps nothing is followed.
func stepMenu() menu {
	m := columnMenu(
		"step",
		"Step through",
		field(func(d *document) *string { return &d.Step }),
		true,
		func(next *document, _ *table.Column) { next.Panels = chart.Panels{} },
		true,
	)
	without := m.Without
	m.Without = func(d *document, index int) *document {
		next := without(d, index)
		if next != nil {
			next.Follow = ""
		}
		return next
	}
	return m
}

var offerSteps = opens(
	func(d *document) bool { return d.Step != "" || len(d.Panels.By) > 0 },
	addition{
		Key:    "step",
		Rank:   10,
		Label:  "step through …",
		Detail: "one picture for each value, with axes held",
		Opens:  "step",
		Also:   "animate animation play frames slider time",
	},
)
