package chart

import (
	"slices"

	"copperlark/core/formula"
)

// Columns lists the columns that the chart maps, each once, in the order in which a
// sentence names them.
func (d *Document) Columns() []string {
	var names named
	names.add(d.mapped()...)
	if d.Card != nil {
		names.add(d.Card.Heading)
		names.add(d.Card.Shows...)
	}
	names.add(d.written()...)
	return names
}

// Drawn lists the columns of its own table without which the chart cannot be drawn as it is,
// each once: those that it maps, and those that choose and order its rows and groups. What
// only a card shows is none of them. A condition that cannot be read names none.
func (d *Document) Drawn() []string {
	var names named
	names.add(d.mapped()...)
	names.add(d.written()...)
	if d.Where != "" {
		if f, err := formula.Parse(d.Where); err == nil {
			names.add(f.Columns()...)
		}
	}
	if d.Order != nil {
		names.add(d.Order.Column, d.Order.By)
	}
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

// mapped lists what stands along the axes and what the marks of rows look like, with what divides them.
func (d *Document) mapped() (names []string) {
	if d.Function == nil {
		names = append(names, d.Y.Column)
	}
	names = append(names, d.AlsoY...)
	if d.Function == nil {
		names = append(names, d.X.Column)
	}
	names = append(names, d.TakeOut, d.Colour, d.Paired, d.Size, d.Shape, d.Centres)
	for _, fit := range d.Fits() {
		names = append(names, fit.Each)
	}
	return append(names, d.Step, d.Follow)
}

// written lists what labels say, and the panels.
func (d *Document) written() (names []string) {
	if d.Label != nil {
		names = append(names, d.Label.With, d.Label.By)
	}
	return append(names, d.Panels.By...)
}
