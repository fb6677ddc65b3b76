package chart

import (
	"fmt"
	"slices"
	"unicode"

	"copperlark/core/colour"
	"copperlark/core/primitive"
	"copperlark/core/table"
)

// Outline is the line around dots, bars and cells, beside what fills them.
type Outline struct {
	Off    bool    `json:"off,omitempty" doc:"none"`
	Colour string  `json:"colour,omitempty" doc:"# and six digits"`
	Width  float64 `json:"width,omitempty" doc:"in pixels; 0: 1"`
}

// The widths that outlines can have, in pixels, and that of one that says none.
const ThinnestOutline, ThickestOutline, usualOutline = 0.25, 6, 1

// Thick is how wide an outline is.
func (o *Outline) Thick() float64 {
	if o.Width == 0 {
		return usualOutline
	}
	return o.Width
}

// MostOutlined is how many dots have an outline of their own, or a character as their shape. More dots than
// ApartUpTo are painted all at once, and shaded where they hide each other.
const (
	MostOutlined = 200_000
	ApartUpTo    = 4000
)

// IsCharacter reports whether a shape is a letter or sign of the chart's own.
func IsCharacter(shape string) bool {
	seen := 0
	for _, r := range shape {
		switch {
		case unicode.Is(unicode.M, r):
		case unicode.IsControl(r) || unicode.IsSpace(r):
			return false
		default:
			seen++
		}
	}
	return seen == 1
}

// GroupColours is the palette that groups are coloured from where their values have no colour of
// their own: that of the chart, else ours.
func (d *Document) GroupColours() *colour.Palette {
	if len(d.Palette) == 0 {
		return &colour.Hedgerow
	}
	return colour.Own(d.Palette)
}

// MostFront is how many groups are named to lie on top, or in the order of a key.
const MostFront = MaxAxisGroups

func (c *checking) dressing() {
	d := c.document
	if o := d.Outline; o != nil && !o.Off {
		if !ColourWritten(o.Colour) {
			c.add("outline", "", colourMessage, "say outline '#16302e' width 1.5")
		}
		if o.Width != 0 && !(o.Width >= ThinnestOutline && o.Width <= ThickestOutline) {
			c.add("outline", "", OutlineMessage, "say outline '#16302e' width 1.5")
		}
	}
	for i, hex := range d.Palette {
		switch {
		case !ColourWritten(hex):
			c.add("palette", "", colourMessage, "say palette '#b4531a', '#1f7a6d'")
		case slices.Contains(d.Palette[:i], hex):
			c.add("palette", "", hex+" stands in the palette twice", "say it once")
		}
	}
	if len(d.Palette) > MaxColours {
		c.add("palette", "", fmt.Sprintf("a palette holds at most %d colours", MaxColours), "take some out")
	}
	c.named("in front", d.Front)
	c.named("key in order", d.KeyOrder)
	c.paired()
}

// OutlineMessage says how wide outlines are.
var OutlineMessage = fmt.Sprintf("an outline is from %v to %v pixels wide", ThinnestOutline, ThickestOutline)

// named holds that groups that are named are groups that colour, each once.
func (c *checking) named(clause string, names []string) {
	d := c.document
	if len(names) == 0 {
		return
	}
	if d.Colour == "" && len(d.AlsoY) == 0 {
		c.add(clause, "", "no groups are coloured that could be put in order", "say colour by a column")
		return
	}
	if len(names) > MostFront {
		c.add(clause, "", fmt.Sprintf("at most %d groups are named", MostFront), "take some out")
	}
	for i, name := range names {
		if slices.Contains(names[:i], name) {
			c.add(clause, "", name+" is named twice", "say it once")
		}
	}
}

func (c *checking) paired() {
	d := c.document
	first, second := c.table.Column(d.Colour), c.column("colour", d.Paired)
	if d.Paired == "" {
		return
	}
	switch {
	case d.Colour == "" || d.Colour == d.Paired:
		c.add(
			"colour",
			d.Paired,
			"two columns are paired: one gives the hue, the other how dark it is",
			"say colour by district paired with hive_type",
		)
		return
	case first == nil || second == nil:
		return
	case d.Top > 0 || d.Gradient.Said():
		c.add("colour", d.Paired, "paired colours are of all groups of two columns", "take the rest of the clause out")
	}
	for _, of := range []struct {
		column *table.Column
		most   int
		gives  string
	}{{first, colour.PairedHues, "hues"}, {second, colour.PairedDepths, "depths"}} {
		if groups := of.column.AsGroups(of.most); groups == nil || len(groups.Levels) > of.most {
			c.add(
				"colour",
				of.column.Name,
				fmt.Sprintf("paired colours have %d %s; %s has more groups", of.most, of.gives, of.column.Name),
				"pair a column of fewer groups, or show one of the two by shape",
			)
		}
	}
}

// fixedShape reports whether a shape can be that of all dots.
func fixedShape(shape string) bool {
	return slices.Contains(primitive.Shapes, shape) || IsCharacter(shape)
}
