package chart

import "fmt"

// Stroke is how a line that is laid over the marks looks, where it is said.
type Stroke struct {
	Colour string  `json:"colour,omitempty" doc:"# and six digits"`
	Width  float64 `json:"width,omitempty" doc:"in pixels"`
	Dash   string  `json:"dash,omitempty" enum:"solid,dashed,dotted"`
}

// The widths that lines can have, in pixels.
const ThinnestLine, ThickestLine = 0.25, 12

// LineMessage says how wide lines are.
var LineMessage = fmt.Sprintf("a line is from %v to %v pixels wide", ThinnestLine, ThickestLine)

// Dashes are the patterns of a line.
var Dashes = []struct {
	Name  string
	Lines []float64 // lengths of dashes and gaps, in widths of the line
}{{Name: "solid", Lines: []float64{}}, {Name: "dashed", Lines: []float64{4, 2.5}}, {Name: "dotted", Lines: []float64{1, 2}}}

// Said reports whether it says anything.
func (s Stroke) Said() bool { return s != Stroke{} }

// Pattern gives the lengths of dashes and gaps of a line of a width, in pixels; nil where nothing is
// said, and none at all where it is solid.
func (s Stroke) Pattern(width float64) []float64 {
	for _, d := range Dashes {
		if d.Name != s.Dash {
			continue
		}
		out := make([]float64, len(d.Lines))
		for i, length := range d.Lines {
			out[i] = length * max(width, 1)
		}
		return out
	}
	return nil
}

// strokes checks the strokes of all lines that are laid over the marks.
func (c *checking) strokes() {
	check := func(clause string, s Stroke) {
		if s.Colour != "" && !ColourWritten(s.Colour) {
			c.add(clause, "", colourMessage, "say in '#b4531a'")
		}
		if s.Width != 0 && !(s.Width >= ThinnestLine && s.Width <= ThickestLine) {
			c.add(clause, "", LineMessage, "say width 3")
		}
		if s.Dash != "" && s.Pattern(1) == nil {
			c.add(clause, "", "there is no pattern called "+s.Dash, "say solid, dashed or dotted")
		}
	}
	for _, f := range c.document.Fits() {
		check("fit", f.Stroke)
	}
	for _, r := range c.document.References() {
		check("line", r.Stroke)
	}
	if s := c.document.AxisLines; s != nil {
		check("axis lines", *s)
	}
	for _, a := range c.document.Also {
		check("also plot", a.Stroke)
	}
}
