package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// Amendment is what becomes otherwise of a document: clauses that are dropped, lines that are said, or what is pressed
// beside a finding.
type Amendment struct {
	clause.Change
	Split string `json:"split,omitempty" doc:"a column by whose groups the chart is split: they have colours, and a fit for each beside that of all rows"`
	Unite string `json:"unite,omitempty" doc:"a column by which the chart is split no longer"`
	Swap  bool   `json:"swap,omitempty" doc:"what stands along x stands along y, and the other way round"`
}

// Amended is a document after changes, one after the other (see clause.Grammar). The document that is given stays as it is.
func Amended(d *chart.Document, columns *table.Table, amendments ...Amendment) (*chart.Document, []*Error) {
	for _, a := range amendments {
		next, mistakes := grammar.Amended(d, a.Change, columns)
		if mistakes != nil {
			return nil, mistakes
		}
		if a.Split != "" {
			splitBy(next, a.Split)
		}
		if a.Unite != "" {
			unite(next, a.Unite)
		}
		if a.Swap {
			swapped, mistake := Swapped(next)
			if mistake != nil {
				return nil, []*Error{mistake}
			}
			next = swapped
		}
		d = next
	}
	d.Version = chart.Version
	return d, nil
}

// Difference is what makes one document of another, in clauses.
func Difference(before, after *chart.Document) Amendment {
	return Amendment{Change: grammar.Difference(before, after)}
}

// Differing are the names of the clauses that two documents say otherwise.
func Differing(a, b *chart.Document) []string { return grammar.Differing(a, b) }

// splitBy colours a chart by a column and makes its first fit one for each of its groups, beside that of all rows; a chart
// without a fit gets a line.
func splitBy(d *chart.Document, column string) {
	d.TakeOut, d.Colour = "", column
	if len(d.Fits()) == 0 {
		d.AddFit(chart.Fit{Kind: chart.FitLine})
	}
	fit := d.Fits()[0]
	fit.Each, fit.Overall = column, true
}

// unite makes the fits for each group of a column fits of all rows, and takes its colours away.
func unite(d *chart.Document, column string) {
	if d.Colour == column {
		d.Colour = ""
	}
	for _, fit := range d.Fits() {
		if fit.Each == column {
			fit.Each, fit.Overall = "", true
		}
	}
}
