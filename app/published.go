package app

import (
	"fmt"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// GoesOut is a column that sharing a chart would publish, or could.
type GoesOut struct {
	Column string `json:"column"`
	Name   string `json:"name" doc:"as people say it"`
	Drawn  bool   `json:"drawn" doc:"the sentence draws by it: it cannot stay at home while the sentence says so"`
	Heads  bool   `json:"heads" doc:"its values would head the card of each row"`
}

// goesOut lists what sharing a chart of a table publishes: first the columns that the chart is drawn
// by, then what its card shows besides. The heading of the card, which nobody asked for by name, is
// listed as one that could.
func goesOut(document *chart.Document, t *table.Table) []GoesOut {
	out := []GoesOut{}
	add := func(c *table.Column, drawn, heads bool) {
		if c != nil && !slices.ContainsFunc(out, func(o GoesOut) bool { return o.Column == c.Name }) {
			out = append(out, GoesOut{Column: c.Name, Name: c.ReadableName(), Drawn: drawn, Heads: heads})
		}
	}
	for _, name := range document.Drawn() {
		add(t.Said(name), true, false)
	}
	if said := document.Card; said != nil {
		add(t.Said(said.Heading), false, false)
		for _, name := range said.Shows {
			add(t.Said(name), false, false)
		}
	}
	add(figure.HeadingColumn(t), false, true)
	return out
}

// publish gives the table of the columns alone that a chart is shared with, and the chart as it is
// drawn from them: nothing that is drawn, said or written from it can hold a value of another column.
// Chosen nil publishes what the sentence names. A chart that is drawn by a column that was not chosen
// is refused: it could not be drawn without it.
func publish(document *chart.Document, t *table.Table, chosen []string) (*mark.Bound, error) {
	could := goesOut(document, t)
	wanted := map[string]bool{}
	for _, name := range chosen {
		if !slices.ContainsFunc(could, func(o GoesOut) bool { return o.Column == name }) {
			return nil, &Invalid{
				Message: fmt.Sprintf("the chart does not show %s", name),
				Advice:  "share columns that the sentence names, or the one that heads the card",
			}
		}
		wanted[name] = true
	}
	var kept []string
	for _, o := range could {
		switch {
		case chosen == nil && !o.Heads:
			wanted[o.Column] = true
		case o.Drawn && !wanted[o.Column]:
			kept = append(kept, o.Column)
		}
	}
	if kept != nil {
		return nil, &Invalid{Message: fmt.Sprintf("the chart is drawn by %s, which should stay at home", strings.Join(kept, ", ")),
			Advice: "publish it as well, or first take the clauses that name it out of the sentence"}
	}
	var columns []*table.Column
	for _, c := range t.Columns() {
		if wanted[c.Name] {
			columns = append(columns, c)
		}
	}
	published, err := table.New(columns...)
	if err != nil {
		return nil, err
	}
	document = document.Clone()
	if card := document.Card; card != nil {
		if published.Said(card.Heading) == nil {
			card.Heading = ""
		}
		card.Shows = slices.DeleteFunc(card.Shows, func(name string) bool { return published.Said(name) == nil })
		if card.Heading == "" && len(card.Shows) == 0 {
			document.Card = nil
		}
	}
	return mark.Bind(document, published), nil
}
