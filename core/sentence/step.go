package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// stepClause shows one picture for each value of a column, one after the other in one place.
var stepClause = clause.Clause[document]{Name: "step through", Help: "one picture for each value, one after the other, with axes held", Example: "step through season",
	Pieces: []clause.Piece{clause.Column(func(d *document) *string { return &d.Step })},
	Said:   func(d *document) bool { return d.Step != "" },
	Speak: func(d *document, s *clause.Speech) {
		if d.Step != "" {
			s.Say(", step by step through ")
			s.Column(d.Step, "step")
		}
	},
	Changed: func(_, after *document, readable func(string) string) []string {
		if after.Step == "" {
			return []string{"no steps"}
		}
		return []string{"steps: " + readable(after.Step)}
	},
	Menus: []menu{columnMenu("step", "Step through", func(d *document) *string { return &d.Step }, true, func(next *document, _ *table.Column) { next.Panels = chart.Panels{} }, true)},
	Add:   opens(func(d *document) bool { return d.Step != "" || len(d.Panels.By) > 0 }, addition{Key: "step", Rank: 10, Label: "step through …", Detail: "one picture for each value, with axes held", Opens: "step", Also: "animate animation play frames slider time"})}
