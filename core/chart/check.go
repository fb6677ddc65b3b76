package chart

import (
	"fmt"
	"math"

	"copperlark/core/table"
	"copperlark/core/words"
)

// Problem is a clause that the chart cannot honour, with the reason and what
// to do instead.
type Problem struct {
	Clause  string `json:"clause" doc:"the clause at fault, such as colour or fit"`
	Column  string `json:"column,omitempty"`
	Message string `json:"message"`
	Advice  string `json:"advice,omitempty"`
}

func (p *Problem) Error() string { return p.Clause + ": " + p.Message }

// Limits on groups, so that colours and shapes can still be told apart.
const (
	MaxColours    = 10
	MaxShapes     = 8
	MaxAxisGroups = 60
	MaxFitGroups  = 60
)

// MaxFits is how many fits a chart has. A fit for each group counts once.
const MaxFits = 8

// Check finds what keeps a document from being drawn with a table; nil means
// that every clause can be honoured.
func Check(d *Document, t *table.Table) []Problem {
	check := &checking{document: d, table: t}
	if d.Y == "" || d.X == "" {
		check.add("plot", "", "the chart needs two columns", "say one after Plot and one after against")
	}
	check.axis("plot", d.Y, d.LogY, d.YAxis)
	check.axis("plot", d.X, d.LogX, d.XAxis)
	check.groups()
	if size := check.column("size", d.Size); size != nil && size.Kind.Coded() && size.Kind != table.YesNo {
		check.add("size", d.Size, fmt.Sprintf("size needs numbers; %s holds %s values", d.Size, size.Kind), "colour or shape can show groups")
	}
	if d.Opacity < 0 || d.Opacity > 1 || math.IsNaN(d.Opacity) {
		check.add("opacity", "", "opacity goes from 0 to 1", "say a number such as 0.5")
	}
	if len(d.Fits) > MaxFits {
		check.add("fit", "", fmt.Sprintf("a chart holds at most %d fits; this one has %d", MaxFits, len(d.Fits)), "take some out, or keep them as another chart")
		return check.problems
	}
	for _, fit := range d.Fits {
		check.fit(fit)
	}
	return check.problems
}

type checking struct {
	document *Document
	table    *table.Table
	problems []Problem
}

func (c *checking) add(clause, column, message, advice string) {
	c.problems = append(c.problems, Problem{clause, column, message, advice})
}

func (c *checking) column(clause, name string) *table.Column {
	if name == "" {
		return nil
	}
	column := c.table.Column(name)
	if column == nil {
		message, advice := words.UnknownColumn(name, c.table.Names())
		c.add(clause, name, message, advice)
	}
	return column
}

func (c *checking) axis(clause, name string, log bool, axis Axis) {
	column := c.column(clause, name)
	if column == nil {
		return
	}
	if column.Kind.Coded() && column.Kind != table.YesNo && len(column.Levels) > MaxAxisGroups {
		c.add(clause, name, fmt.Sprintf("an axis holds at most %d groups; %s has %d", MaxAxisGroups, name, len(column.Levels)), "put a number or a date there, and show this column on the card")
	}
	if log && column.Kind != table.Number {
		c.add("log", name, fmt.Sprintf("a log scale needs numbers; %s holds %s values", name, column.Kind), "take the log scale out")
	}
	if limits := axis.Limits; limits != nil {
		switch {
		case limits.From == limits.To:
			c.add("limits", name, "both ends of the axis are the same", "say two different numbers")
		case log && (limits.From <= 0 || limits.To <= 0):
			c.add("limits", name, "a log scale has no place for zero or less", "say limits above zero")
		}
	}
}

func (c *checking) groups() {
	d := c.document
	if colour := c.column("colour", d.Colour); colour != nil && colour.Kind.Coded() && len(colour.Levels) > MaxColours {
		c.add("colour", d.Colour, fmt.Sprintf("colour tells at most %d groups apart; %s has %d", MaxColours, d.Colour, len(colour.Levels)), "the card can show it")
	}
	if shape := c.column("shape", d.Shape); shape != nil {
		if groups := shape.AsGroups(MaxShapes); groups == nil {
			c.add("shape", d.Shape, fmt.Sprintf("shape tells at most %d groups apart; %s has more", MaxShapes, d.Shape), "colour or size can show it")
		}
	}
}

func (c *checking) fit(fit Fit) {
	for _, name := range []string{c.document.X, c.document.Y} {
		if column := c.table.Column(name); column != nil && column.Kind.Coded() && column.Kind != table.YesNo {
			c.add("fit", name, fmt.Sprintf("a fit needs numbers along both axes; %s holds %s values", name, column.Kind), "take the fit out, or put a number there")
			return
		}
	}
	if each := c.column("fit", fit.Each); each != nil {
		if groups := each.AsGroups(MaxFitGroups); groups == nil {
			c.add("fit", fit.Each, fmt.Sprintf("a fit for each group needs at most %d groups; %s has more", MaxFitGroups, fit.Each), "choose a column with fewer groups")
		}
	}
	if fit.Kind == FitCurve && (fit.Degree < 2 || fit.Degree > 5) {
		c.add("fit", "", "a curve has a degree from 2 to 5", "say fit curve degree 2")
	}
	if fit.Kind == FitLocal && fit.Span != 0 && (fit.Span < 0.2 || fit.Span > 1) {
		c.add("fit", "", "a span is a share of the rows from 0.2 to 1", "say span 0.75")
	}
	if fit.Band != nil && !(fit.Band.Level >= 50 && fit.Band.Level <= 99.9) {
		c.add("fit", "", "a band has a level from 50 % to 99.9 %", "say with band 95%")
	}
	if fit.Band != nil && fit.Band.Kind == Prediction && (fit.Kind == FitLocal || fit.Kind == FitSpline || fit.Kind == FitRobust) {
		c.add("fit", "", fmt.Sprintf("a %s has no prediction band", fitName(fit.Kind)), "fit a line or a curve for that, or ask for a confidence band")
	}
	if fit.LeavingOutliers && fit.Kind != FitLine {
		c.add("fit", "", "outliers are judged against a straight line", "say fit line leaving out outliers, or fit robust line")
	}
}

func fitName(kind FitKind) string {
	switch kind {
	case FitLocal:
		return "local regression"
	case FitSpline:
		return "smoothing spline"
	}
	return string(kind)
}
