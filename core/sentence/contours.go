package sentence

import (
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// contoursClause says which shares of the rows contours hold.
var contoursClause = clause.Clause[document]{
	Name:    "contours hold",
	Trade:   "levels density isolines",
	Help:    "which shares of the rows lie inside contours, in percent",
	Example: "contours hold 50, 80, 95%",
	Pieces:  []clause.Piece{clause.Numbers(func(d *document) *[]float64 { return &d.Layer(chart.ContoursMark).Shares }), clause.Mark("%")},
	Said:    func(d *document) bool { return len(d.Contours()) > 0 },
	Speak: func(d *document, s *clause.Speech) {
		if len(d.Contours()) > 0 {
			s.Sentence("Contours hold ")
			s.Way(sharesText(d.Contours())+" of the rows", "contours")
		}
	},
	Changed: func(_, after *document, _ func(string) string) []string {
		if len(after.Contours()) == 0 {
			return []string{"usual contours"}
		}
		return []string{"contours: " + sharesText(after.Contours())}
	},
	Menus: []menu{{Slot: "contours", Title: "Contours hold", Find: "Find which shares of the rows",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.SetContours(nil) }) },
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for _, shares := range [][]float64{{50, 80, 95}, {50}, {90}, {25, 50, 75}, {10, 20, 30, 40, 50}} {
				list = append(
					list,
					choice{
						Key:    sharesText(shares),
						Label:  sharesText(shares),
						Detail: "of the rows lie inside",
						D:      with(d, func(next *document) { next.SetContours(shares) }),
					},
				)
			}
			return list
		}}},
	Add: func(d *document, t *table.Table) []addition {
		for _, m := range mark.Bind(d, t).Marks {
			if m.Name == "contours" && len(d.Contours()) == 0 {
				return []addition{
					{
						Key:    "contours",
						Rank:   10,
						Label:  "contours hold 50 %",
						Detail: "which shares of the rows lie inside",
						Also:   "levels",
						D:      with(d, func(next *document) { next.SetContours([]float64{50}) }),
					},
				}
			}
		}
		return nil
	},
}

func sharesText(shares []float64) string {
	texts := make([]string, len(shares))
	for i, v := range shares {
		texts[i] = table.FormatNumber(v)
	}
	return strings.Join(texts, ", ") + " %"
}
