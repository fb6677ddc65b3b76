package chart

import (
	"slices"

	"copperlark/core/table"
)

// Style is how charts of a space look from their beginning on: what is said of looks, and nothing of
// the data.
type Style struct {
	Look    string   `json:"look,omitempty"`
	Grid    string   `json:"grid,omitempty"`
	Text    string   `json:"text,omitempty"`
	Weight  string   `json:"weight,omitempty"`
	Key     string   `json:"key,omitempty"`
	Palette []string `json:"palette,omitempty"`
	Outline *Outline `json:"outline,omitempty"`
	Paper   *Paper   `json:"paper,omitempty"`
}

// StyleSlots are the words of a sentence that are of its style.
var StyleSlots = []string{"look", "grid", "text", "weight", "key", "palette", "outline", "paper"}

// Style is what a chart says of its looks.
func (d *Document) Style() Style {
	return Style{Look: d.Look, Grid: d.Grid, Text: d.Text, Weight: d.Weight, Key: d.Key, Palette: slices.Clone(d.Palette), Outline: copyOf(d.Outline), Paper: copyOf(d.Paper)}
}

// Styled is the chart with these looks in the place of its own.
func (d *Document) Styled(s Style) *Document {
	next := d.Clone()
	next.Look, next.Grid, next.Text, next.Weight, next.Key, next.Palette, next.Outline, next.Paper = s.Look, s.Grid, s.Text, s.Weight, s.Key, slices.Clone(s.Palette), copyOf(s.Outline), copyOf(s.Paper)
	return next
}

// Check finds what keeps a style from being one.
func (s Style) Check() []Problem {
	empty, err := table.New()
	if err != nil {
		return []Problem{{Clause: "look", Message: err.Error()}}
	}
	c := &checking{document: (&Document{}).Styled(s), table: empty}
	c.looks()
	c.dressing()
	return c.problems
}
