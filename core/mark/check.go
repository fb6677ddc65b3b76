package mark

import (
	"fmt"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/table"
)

// check finds what keeps a document from being drawn with a table; nil means that
// every clause can be honoured.
func check(b *Bound) []chart.Problem {
	d, t := b.Document, b.Table
	problems := chart.Check(d, t)
	for _, name := range d.Marks() {
		if Named(name) == nil {
			problems = append(problems, chart.Problem{Clause: "as", Message: "there is no mark " + name, Advice: "say as dots"})
		}
	}
	if len(problems) > 0 || !d.Whole() {
		return problems
	}
	c := &Case{Document: d, Table: t, X: b.X, Y: b.Y}
	problems = append(problems, untaken(b.Marks, d, t)...)
	for _, m := range b.Marks {
		if m.Check != nil {
			problems = append(problems, m.Check(c)...)
		}
	}
	if len(d.Jitter) > 0 && !slices.Contains(b.Marks, dots) {
		problems = append(
			problems,
			chart.Problem{
				Clause:  "jitter",
				Message: "jitter moves dots, and there are none",
				Advice:  "say as dots, or as strips for groups",
			},
		)
	}
	return append(problems, checkEdges(c)...)
}

// checkEdges says what keeps a chart from having something along its edges.
func checkEdges(c *Case) []chart.Problem {
	d := c.Document
	refused := func(message, advice string) []chart.Problem {
		return []chart.Problem{{Clause: "edges", Message: message, Advice: advice}}
	}
	for _, name := range d.Edges() {
		if EdgeNamed(name) == nil {
			return refused("nothing called "+name+" stands along edges", "say histogram, curve or boxes")
		}
	}
	switch {
	case len(d.Edges()) == 0:
	case !c.X.Numeric() || !c.Y.Numeric():
		return refused("edges tell how numbers are spread: numbers stand along both axes", "plot a number against a number")
	case len(d.AlsoY) > 0:
		return refused("edges tell the spread of one column along y", "plot one column along y")
	case len(d.Panels.By) > 0 || d.Step != "":
		return refused("panels have no room for edges", "take panels out")
	}
	return nil
}

// problem is a refusal of a mark.
func problem(message, advice string) []chart.Problem {
	return []chart.Problem{{Clause: "as", Message: message, Advice: advice}}
}

// untaken says which columns of a chart none of its marks shows.
func untaken(marks []*Mark, d *chart.Document, t *table.Table) (problems []chart.Problem) {
	colour := GroupColour
	if d.Gradient.Of(t.Column(d.Colour)) {
		colour = NumberColour
	}
	for _, said := range []struct {
		clause, column string
		channel        Channel
	}{{"colour", d.Colour, colour}, {"size", d.Size, Size}, {"shape", d.Shape, Shape}} {
		takes := func(m *Mark) bool { return slices.Contains(m.Takes, said.channel) }
		if said.column == "" || slices.ContainsFunc(marks, takes) {
			continue
		}
		var names []string
		for _, m := range marks {
			names = append(names, m.Name)
		}
		what := "no " + said.clause
		if said.channel == NumberColour {
			what = "no colour for numbers"
		}
		problems = append(
			problems,
			chart.Problem{
				Clause:  said.clause,
				Column:  said.column,
				Message: fmt.Sprintf("as %s, the chart has %s; %s cannot be shown", strings.Join(names, " and "), what, said.column),
				Advice:  "say as dots, or take the " + said.clause + " out",
			},
		)
	}
	return problems
}
