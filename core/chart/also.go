package chart

import (
	"fmt"
	"slices"

	"copperlark/core/words"
)

// Also is something more over the same axes: two other columns of the table, or of another dataset.
type Also struct {
	Y      string `json:"y"`
	X      string `json:"x"`
	Table  string `json:"table,omitempty" doc:"the name of another dataset, of which the newest version is read; empty: the chart's own rows"`
	As     string `json:"as,omitempty" enum:"line,steps,dots" doc:"empty: line"`
	Name   string `json:"name,omitempty"`
	Stroke Stroke `json:"stroke,omitzero"`
}

// AlsoMarks are how something more is drawn, the usual way first.
var AlsoMarks = []Option{
	{Name: "line", Help: "values joined in the order of x"},
	{Name: "steps", Help: "values that hold until the next one"},
	{Name: "dots", Help: "a dot for each row"},
}

// AlsoLayer names what more is drawn among the layers.
const AlsoLayer = "also"

// MostAlso is how many things more a chart draws, MostAlsoRows how many rows each of them has.
const (
	MostAlso     = 4
	MostAlsoRows = 100_000
)

// Drawn is how it is drawn.
func (a *Also) Drawn() string {
	if a.As == "" {
		return AlsoMarks[0].Name
	}
	return a.As
}

// Called is what its entry of the key says.
func (a *Also) Called(readable func(string) string) string {
	switch {
	case a.Name != "":
		return a.Name
	case a.Table != "":
		return fmt.Sprintf("%s of %s", readable(a.Y), a.Table)
	}
	return readable(a.Y)
}

func (c *checking) also() {
	d := c.document
	if len(d.Also) > MostAlso {
		c.add("also plot", "", fmt.Sprintf("a chart draws at most %d things more", MostAlso), "take some out")
	}
	for i := range d.Also {
		one := &d.Also[i]
		if one.X == "" || one.Y == "" {
			c.add("also plot", "", "two columns are needed", "say also plot target_kg against forage_ha")
		}
		if !slices.ContainsFunc(AlsoMarks, func(o Option) bool { return o.Name == one.Drawn() }) {
			c.add("also plot", "", "there is no way to draw it called "+one.As, "say as line, as steps or as dots")
		}
		if one.Table != "" {
			continue // told when it is read
		}
		for _, name := range []string{one.Y, one.X} {
			if name != "" && c.table.Said(name) == nil {
				message, advice := words.UnknownColumn(name, c.table.Names())
				c.add("also plot", name, message, advice)
			}
		}
	}
}
