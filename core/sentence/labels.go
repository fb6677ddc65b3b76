package sentence

import (
	"fmt"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// ranked is how many rows have a label by rank.
func ranked(word, help string, lowest bool) clause.Option[document] {
	return clause.Option[document]{Help: help, Text: word + " 5 by ",
		Set: func(d *document) { d.Label = &chart.Label{Lowest: lowest} }, Is: func(d *document) bool {
			return d.Label.Top > 0 &&
				d.Label.Lowest == lowest
		},
		Pieces: []clause.Piece{
			clause.Say(word),
			clause.Count(
				func(d *document) *int { return &d.Label.Top },
				clause.Range{
					From:     1,
					To:       chart.MaxLabels,
					Expected: "how many labels",
					Message:  fmt.Sprintf("from 1 to %d labels are asked for by rank", chart.MaxLabels),
				},
			),
			clause.Say("by"),
			clause.Column(func(d *document) *string { return &d.Label.By }),
		}}
}

// labelClause writes the value of a column beside rows.
var labelClause = clause.Clause[document]{
	Name:    "label",
	Trade:   "names annotate text points",
	Help:    "the value of a column beside rows",
	Example: "label top 5 by honey_kg with apiary",
	Pieces: []clause.Piece{clause.OneOf(
		"all, top 5 by a column, bottom 5 by a column, or rows and their numbers",
		ranked("top", "the rows with the highest values", false),
		ranked("bottom", "the rows with the lowest values", true),
		clause.Option[document]{
			Help:   "rows by their numbers",
			Set:    func(d *document) { d.Label = &chart.Label{} },
			Is:     func(d *document) bool { return len(d.Label.Rows) > 0 },
			Pieces: []clause.Piece{clause.Say("rows"), clause.Numbers(func(d *document) *[]float64 { return &d.Label.Rows })},
		},
		clause.Option[document]{
			Help:   "every row, where there is room",
			Set:    func(d *document) { d.Label = &chart.Label{} },
			Is:     func(d *document) bool { return true },
			Pieces: []clause.Piece{clause.Say("all")},
		},
	),
		clause.Say("with"), clause.Column(func(d *document) *string { return &d.Label.With })},
	Said: func(d *document) bool { return d.Label != nil },
	Speak: func(d *document, s *clause.Speech) {
		if d.Label != nil {
			s.Sentence("Label ")
			folded := ""
			if n := len(d.Label.Rows); n > 0 {
				folded = scale.Counted(n, "chosen row")
			}
			s.Fold(labelled(d.Label, s.Readable), folded, "label")
			s.Say(" with ")
			s.Column(d.Label.With, "label-with")
		}
	},
	Changed: func(_, after *document, readable func(string) string) []string {
		if after.Label == nil {
			return []string{"no labels"}
		}
		return []string{"labels: " + readable(after.Label.With)}
	},
	Menus: []menu{labelMenu,
		columnMenu("label-with", "Label with", field(func(d *document) *string {
			if d.Label == nil {
				return new(string)
			}
			return &d.Label.With
		}), false, func(*document, *table.Column) {}, false)},
	Add: addLabels,
}

func labelled(l *chart.Label, readable func(string) string) string {
	switch {
	case len(l.Rows) > 0:
		return rowList(l.Rows)
	case l.Top > 0 && l.Lowest:
		return fmt.Sprintf("the lowest %d by %s", l.Top, readable(l.By))
	case l.Top > 0:
		return fmt.Sprintf("the highest %d by %s", l.Top, readable(l.By))
	}
	return "all rows"
}

var labelMenu = menu{Slot: "label", Title: "Label", Find: "Find which rows",
	Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Label = nil }) },
	Choices: func(d *document, _ int, t *table.Table) (list []choice) {
		now := d.Label
		add := func(l chart.Label) {
			if now != nil {
				l.With = now.With
			}
			list = append(
				list,
				choice{
					Key:   labelled(&l, func(name string) string { return name }),
					Label: labelled(&l, readableOf(t)),
					Also:  "names annotate text",
					D: with(
						d,
						func(next *document) { next.Label = &l },
					),
					Current: now != nil && now.Top == l.Top && now.By == l.By && now.Lowest == l.Lowest && len(now.Rows) == 0,
				},
			)
		}
		for _, name := range []string{d.Y.Column, d.X.Column, d.Size} {
			if c := t.Column(name); c != nil && !c.Kind.Coded() {
				for _, n := range []int{5, 10} {
					add(chart.Label{Top: n, By: name})
					add(chart.Label{Top: n, By: name, Lowest: true})
				}
			}
		}
		add(chart.Label{})
		return list
	}}

// readableOf gives the readable names of columns, inside a sentence.
func readableOf(t *table.Table) func(string) string {
	return func(name string) string {
		if c := t.Column(name); c != nil {
			return c.Prose()
		}
		return name
	}
}

// addLabels offers labels by the column that tells rows apart best.
func addLabels(d *document, t *table.Table) []addition {
	y := chart.ColumnOf(d.Y, t)
	if d.Label != nil || !d.Whole() || y == nil || y.Kind.Coded() {
		return nil
	}
	next := with(d, func(next *document) { next.Label = &chart.Label{Top: 5, By: y.Name, With: naming(t)} })
	if next.Label.With == "" || chart.Check(next, t) != nil {
		return nil
	}
	return []addition{
		{
			Key:    "label",
			Rank:   9,
			Label:  "label the highest 5",
			Detail: "with " + t.Column(next.Label.With).Prose(),
			Also:   "names annotate text points",
			D:      next,
		},
	}
}

// naming is the column of names that has the most different ones; empty where there is none.
func naming(t *table.Table) (name string) {
	most := 0
	for _, c := range t.Columns() {
		if c.Kind.Coded() && c.Kind != table.YesNo && len(c.Levels) > most {
			name, most = c.Name, len(c.Levels)
		}
	}
	return name
}

var (
	onlyRows    = chosenClause("only rows", "the chart is of some rows alone", "filter subset selection lasso pick", false)
	withoutRows = chosenClause("without rows", "the chart is of all rows but some", "exclude drop remove outliers hide points", true)
)

// rowList is which rows.
func rowList(list []float64) string {
	said := make([]string, len(list))
	for i, v := range list {
		said[i] = table.FormatNumber(v)
	}
	if len(said) == 1 {
		return "row " + said[0]
	}
	return "rows " + strings.Join(said[:len(said)-1], ", ") + " and " + said[len(said)-1]
}

// chosenClause is the rows of a chart that were chosen by hand, or all but those.
func chosenClause(name, help, trade string, without bool) clause.Clause[document] {
	one := clause.Clause[document]{Name: name, Help: help, Trade: trade, Example: name + " 17, 203",
		Pieces: []clause.Piece{
			clause.Does(func(d *document) { d.Chosen = &chart.Chosen{Without: without} }),
			clause.Numbers(func(d *document) *[]float64 { return &d.Chosen.Rows }),
		},
		Said: func(d *document) bool { return d.Chosen != nil && d.Chosen.Without == without },
		Speak: func(d *document, s *clause.Speech) {
			if d.Chosen == nil || d.Chosen.Without != without {
				return
			}
			s.Say(map[bool]string{true: ", without ", false: ", only "}[without])
			s.Fold(rowList(d.Chosen.Rows), scale.Counted(len(d.Chosen.Rows), "chosen row"), "chosen")
		},
		Changed: func(_, after *document, _ func(string) string) []string {
			if after.Chosen == nil {
				return []string{"no rows chosen"}
			}
			return []string{
				map[bool]string{true: "without ", false: "of "}[after.Chosen.Without] + scale.Counted(len(after.Chosen.Rows), "chosen row"),
			}
		}}
	if !without { // one menu for both
		one.Menus = []menu{chosenMenu}
	}
	return one
}

var chosenMenu = menu{Slot: "chosen", Title: "Chosen rows", Find: "Find what is done with them",
	Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Chosen = nil }) },
	Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
		if d.Chosen == nil {
			return nil
		}
		for _, without := range []bool{false, true} {
			label := map[bool]string{true: "without these", false: "only these"}[without]
			list = append(
				list,
				choice{
					Key:     label,
					Label:   label,
					Detail:  scale.Counted(len(d.Chosen.Rows), "row"),
					D:       with(d, func(next *document) { next.Chosen.Without = without }),
					Current: d.Chosen.Without == without,
				},
			)
		}
		return list
	}}
