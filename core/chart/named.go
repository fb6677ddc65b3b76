package chart

import (
	"slices"

	"copperlark/core/formula"
)

// Columns lists the columns that the chart maps, each once, in the order in which a
// sentence names them.
func (d *Document) Columns() []string {
	var names named
	names.add(d.said(mapped)...)
	names.add(d.said(carded, labelled)...)
	return names
}

// Drawn lists the columns of its own table without which the chart cannot be drawn as it is,
// each once: those that it maps, and those that choose and order its rows and groups. What
// only a card shows is none of them. A condition that cannot be read names none.
func (d *Document) Drawn() []string {
	var names named
	names.add(d.said(mapped)...)
	names.add(d.said(labelled)...)
	for _, expression := range d.said(condition) {
		if f, err := formula.Parse(expression); expression != "" && err == nil {
			names.add(f.Columns()...)
		}
	}
	names.add(d.said(ordering)...)
	for _, also := range d.Also {
		if also.Table == "" {
			names.add(also.Y, also.X)
		}
	}
	return names
}

// named is a list of names, each once; the empty one is none.
type named []string

func (n *named) add(names ...string) {
	for _, name := range names {
		if name != "" && !slices.Contains(*n, name) {
			*n = append(*n, name)
		}
	}
}
