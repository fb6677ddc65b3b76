package chart

import (
	"fmt"
	"math"
	"reflect"

	"copperlark/core/colour"
	"copperlark/core/table"
)

// Gradient says how a column of numbers or dates colours the marks. Without anything said it
// goes from the least value to the most, in the usual colours, darker for more.
type Gradient struct {
	Log    bool     `json:"log,omitempty" doc:"equal ratios are equally far apart in colour"`
	Limits *Limits  `json:"limits,omitempty" doc:"where colours begin and end: what lies beyond takes the last one; from above to turns them round"`
	About  *float64 `json:"about,omitempty" doc:"two colours, one to each side of this value and pale between"`
	Less   bool     `json:"darker_for_less,omitempty"`
	Using  string   `json:"using,omitempty" doc:"the name of the colours"`
}

// Said reports whether anything is said.
func (g *Gradient) Said() bool { return *g != Gradient{} }

// Same reports whether two say the same.
func (g *Gradient) Same(other *Gradient) bool { return reflect.DeepEqual(g, other) }

// Of reports whether a column colours along a gradient: numbers and dates do, but for few whole
// numbers, which are read as groups unless a gradient is asked for.
func (g *Gradient) Of(c *table.Column) bool {
	return c != nil && !c.Kind.Coded() && (g.Said() || !c.SuggestsGroups())
}

// Turned reports whether less is darker.
func (g *Gradient) Turned() bool { return g.Less != (g.Limits != nil && g.Limits.From > g.Limits.To) }

// Colours are those that are said, or the usual ones.
func (g *Gradient) Colours() *colour.Gradient {
	if named := colour.GradientNamed(g.Using); named != nil {
		return named
	}
	if g.About != nil {
		return &colour.Watershed
	}
	return &colour.Moss
}

func (c *checking) gradient() {
	d := c.document
	g, column := &d.Gradient, c.table.Column(d.Colour)
	if !g.Said() || d.Colour != "" && column == nil {
		return
	}
	if column == nil || column.Kind.Coded() {
		c.add("colour", d.Colour, "a scale of colours is of numbers or dates", "say colour by a column of numbers, or take the scale out")
		return
	}
	dates := column.Kind == table.Date
	if dates && (g.Log || g.About != nil) {
		c.add("colour", d.Colour, "dates are coloured from the first to the last", "take the log scale or the middle out")
	}
	if l := g.Limits; l != nil {
		switch {
		case l.From == l.To || math.IsNaN(l.From) || math.IsNaN(l.To):
			c.add("colour", d.Colour, "colours go from one value to another one", "say from 0 to 150")
		case l.Dates != dates:
			c.add(
				"colour",
				d.Colour,
				fmt.Sprintf("the limits of colours are values of %s, which holds %ss", d.Colour, column.Kind),
				"say from and to such values",
			)
		case g.Log && min(l.From, l.To) <= 0:
			c.add("colour", d.Colour, "a log scale of colours begins above zero", "say from 1 to 150")
		}
	}
	if g.Log && g.About != nil && *g.About <= 0 {
		c.add("colour", d.Colour, "a log scale has no place for its middle at or below zero", "say about a value above zero")
	}
	if g.Using != "" && colour.GradientNamed(g.Using) == nil {
		c.add("colour", d.Colour, fmt.Sprintf("there are no colours called %s", g.Using), "say using "+colour.Moss.Name)
	}
}
