package chart

import (
	"fmt"
	"slices"

	"copperlark/core/words"
)

// Option is one way in which what is about the marks can look. What is not said is as usual.
type Option struct {
	Name string
	Help string
	Also string // words that a search finds it by, too
}

// The looks of a chart, what lies behind its marks, and where its keys stand.
var (
	Looks = []Option{
		{LookRuled, "lines along the axes, with ticks, and no grid", "axis lines frame classic"},
		{LookInk, "greys, and a shape for each group: for printers without colours", "black and white monochrome print"},
	}
	Grids = []Option{
		{GridOff, "no lines behind the marks", "no gridlines clean"},
		{GridHalves, "a line between those of the ticks, too", "minor gridlines"},
	}
	Texts = []Option{
		{TextSmall, "a sixth smaller than usual", "font size"},
		{TextLarge, "a quarter larger than usual, for a slide", "font size readable legible"},
		{TextLarger, "half as large again, for a poster", "font size readable legible"},
	}
	Keys = []Option{
		{KeyTop, "over the chart", "legend above position"},
		{KeyRight, "beside the chart", "legend side position"},
		{KeyOff, "no key", "legend hide remove"},
	}
)

// The names of looks, of grids and of places of keys.
const (
	LookRuled, LookInk       = "ruled", "ink"
	GridOff, GridHalves      = "off", "halves"
	KeyTop, KeyRight, KeyOff = "top", "right", "off"

	TextSmall, TextLarge, TextLarger = "small", "large", "larger"
)

// TextScale is how many times as large as usual the words of a chart are.
func (d *Document) TextScale() float64 {
	return map[string]float64{TextSmall: 0.85, TextLarge: 1.25, TextLarger: 1.5, "": 1}[d.Text]
}

// Paper is the size of the paper that a chart has for itself, in pixels.
type Paper struct {
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
}

// The smallest and the largest paper that can be said.
const (
	LeastPaper = 160.0
	MostPaper  = 8000.0
)

func (c *checking) looks() {
	d := c.document
	for _, said := range []struct {
		clause, name string
		options      []Option
	}{{"look", d.Look, Looks}, {"grid", d.Grid, Grids}, {"key", d.Key, Keys}, {"text", d.Text, Texts}} {
		if said.name == "" || slices.ContainsFunc(said.options, func(o Option) bool { return o.Name == said.name }) {
			continue
		}
		var names []string
		for _, o := range said.options {
			names = append(names, o.Name)
		}
		c.add(said.clause, "", fmt.Sprintf("there is no %s %s", said.clause, said.name), "say "+said.clause+" "+words.Or(names))
	}
	if d.Look == LookInk && d.Gradient.Said() && d.Gradient.Colours().TwoWays() {
		c.add("look", d.Colour, "in greys, colours that go two ways look the same on both sides", "take the middle out, or the look")
	}
	if p := d.Paper; p != nil && !(min(p.Width, p.Height) >= LeastPaper && max(p.Width, p.Height) <= MostPaper) {
		c.add("paper", "", fmt.Sprintf("a paper is from %v to %v pixels wide and high", LeastPaper, MostPaper), "say paper 900 by 560")
	}
}
