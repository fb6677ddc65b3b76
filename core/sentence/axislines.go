package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// axisLinesClause draws lines along the axes, with their colour and width.
var axisLinesClause = clause.Clause[document]{
	Name:    "axis lines",
	Trade:   "border frame spine colour width axes thickness",
	Help:    "lines along the axes, with their colour and width",
	Example: "axis lines in '#58706c' width 2",
	Pieces: append(
		[]clause.Piece{clause.Does(func(d *document) { d.AxisLines = &chart.Stroke{} })},
		strokePieces(func(d *document) *chart.Stroke { return d.AxisLines })...),
	Said:  func(d *document) bool { return d.AxisLines != nil },
	Aloud: clause.Aloud{Slot: "axis lines"},
	Changed: func(_, after *document, _ func(string) string) []string {
		if after.AxisLines == nil {
			return []string{"no lines along the axes"}
		}
		return []string{"lines along the axes"}
	},
	Menus: []menu{{Slot: "axis lines", Title: "Lines along the axes", Find: "Find how the lines look",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.AxisLines = nil }) },
		Choices: func(d *document, _ int, _ *table.Table) []choice {
			var now chart.Stroke
			if d.AxisLines != nil {
				now = *d.AxisLines
			}
			list := []choice{{Key: "none", Label: "none", Detail: "no lines, unless the look has them", Current: d.AxisLines == nil,
				D: with(d, func(next *document) { next.AxisLines = nil })}}
			return append(list, strokeChoices(d, now, func(next *document, s chart.Stroke) { next.AxisLines = &s })...)
		}}},
	Add: func(d *document, _ *table.Table) []addition {
		if d.AxisLines != nil {
			return nil
		}
		return []addition{{Key: "axis lines", Rank: 18, Label: "lines along the axes", Detail: "with a colour and a width of their own",
			Also: "border frame spine axes", D: with(d, func(next *document) { next.AxisLines = &chart.Stroke{} })}}
	},
}
