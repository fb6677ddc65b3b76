package sentence

import (
	"fmt"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// radius is a number of pixels that a mark can have.
var radius = clause.Range{
	From:    chart.SmallestDot,
	To:      chart.LargestDot,
	Message: "marks are from 0.5 to 30 pixels in radius",
	Advice:  "say size by a column from 2 to 12",
}

// sizeClause lets the sizes of marks have a smallest and a largest radius.
func sizeClause(c clause.Clause[document]) clause.Clause[document] {
	c.Pieces = append(
		c.Pieces,
		clause.Maybe(
			func(d *document) bool { return d.Sizes != chart.Sizes{} },
			nil,
			clause.Suggestion{Text: "from ", Help: "the smallest and the largest radius, in pixels"},
			clause.Say("from"),
			clause.Number(func(d *document) *float64 { return &d.Sizes.Smallest }, radius),
			clause.Say("to"),
			clause.Number(func(d *document) *float64 { return &d.Sizes.Largest }, radius),
		),
	)
	speak, changed := c.Speak, c.Changed
	c.Speak = func(d *document, s *clause.Speech) {
		if speak(d, s); d.Size != "" && (d.Sizes != chart.Sizes{}) {
			s.Say(" ")
			s.Way(sizesText(d.Sizes), "sizes")
		}
	}
	c.Changed = func(before, after *document, readable func(string) string) []string {
		if before.Size == after.Size && before.Sizes != after.Sizes {
			return []string{"sizes " + sizesText(after.Sizes)}
		}
		return changed(before, after, readable)
	}
	first := c.Add
	c.Add = func(d *document, t *table.Table) []addition {
		if d.Size != "" && d.Sizes == (chart.Sizes{}) {
			return []addition{
				{
					Key:    "sizes",
					Rank:   9,
					Label:  "smaller or larger marks …",
					Detail: "the smallest and the largest radius",
					Opens:  "sizes",
					Also:   "size range bubble radius",
				},
			}
		}
		return first(d, t)
	}
	without := c.Menus[0].Without
	c.Menus[0].Without = func(d *document, index int) *document {
		next := without(d, index)
		if next != nil {
			next.Sizes = chart.Sizes{}
		}
		return next
	}
	c.Menus = append(c.Menus, menu{Slot: "sizes", Title: "Sizes of marks", Find: "Find sizes",
		Without: func(d *document, _ int) *document {
			return with(d, func(next *document) { next.Sizes = chart.Sizes{} })
		},
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for _, of := range []chart.Sizes{{Smallest: 1, Largest: 6}, {Smallest: 1.5, Largest: 10}, {Smallest: 2, Largest: 14},
				{Smallest: 2, Largest: 20}, {Smallest: 3, Largest: 30}} {
				list = append(
					list,
					choice{
						Key:     sizesText(of),
						Label:   sizesText(of),
						Detail:  "area is value; none is smaller than the smallest",
						D:       with(d, func(next *document) { next.Sizes = of }),
						Current: d.Sizes == of,
					},
				)
			}
			return list
		}})
	return c
}

func sizesText(s chart.Sizes) string {
	if s == (chart.Sizes{}) {
		return "as usual"
	}
	return fmt.Sprintf("from %s to %s px", table.FormatNumber(s.Smallest), table.FormatNumber(s.Largest))
}
