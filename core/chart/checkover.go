package chart

import (
	"fmt"

	"copperlark/core/formula"
	"copperlark/core/table"
)

// What is said over the axes: panels, reference lines, and fits.

// InPanels is the document with the steps side by side, where it steps.
func (d *Document) InPanels() *Document {
	if d.Step == "" {
		return d
	}
	next := d.Clone()
	next.Step, next.Panels = "", Panels{By: []string{d.Step}}
	return next
}

func (c *checking) panels() {
	p := c.document.Panels
	if follow := c.column("step through", c.document.Follow); follow != nil && c.document.Step == "" {
		c.add(
			"step through",
			c.document.Follow,
			"dots are followed from one step to the next, and there are no steps",
			"say step through season following "+c.document.Follow,
		)
	}
	if step := c.column("step through", c.document.Step); step != nil {
		if len(p.By) > 0 {
			c.add("step through", c.document.Step, "a chart is stepped through or divided into panels", "take one of the two out")
		}
		if step.AsGroups(MaxPanels) == nil {
			c.add(
				"step through",
				c.document.Step,
				fmt.Sprintf("at most %d values are stepped through; %s has more", MaxPanels, c.document.Step),
				"bin it in Data, or take some of its rows",
			)
		}
	}
	all := 1
	for i, name := range p.By {
		column := c.column("panels", name)
		if column == nil {
			continue
		}
		if i > 0 && name == p.By[0] {
			c.add("panels", name, "panels are by two different columns", "take one out")
		}
		groups := column.AsGroups(MaxPanels)
		if groups == nil {
			c.add(
				"panels",
				name,
				fmt.Sprintf("panels show at most %d groups; %s has more", MaxPanels, name),
				"colour or the card can show it, or keep its top groups in Data",
			)
			continue
		}
		all *= len(groups.Levels)
	}
	if all > MaxPanelsInAll {
		c.add(
			"panels",
			"",
			fmt.Sprintf("a chart holds at most %d panels; these are %d", MaxPanelsInAll, all),
			"take one of the columns out",
		)
	}
	if len(p.By) > 2 {
		c.add("panels", "", "panels are by one column or two", "take the others out")
	}
}

func (c *checking) references() {
	list := c.document.References()
	if len(list) > MaxReferences {
		c.add("line at", "", fmt.Sprintf("a chart holds at most %d reference lines and bands", MaxReferences), "take some out")
	}
	for _, r := range list {
		v := c.document.Along(r.Axis)
		if column := ColumnOf(*v, c.table); v.Of == NoAggregate && column != nil && column.Kind.Coded() && column.Kind != table.YesNo {
			c.add(
				"line at",
				v.Column,
				fmt.Sprintf("a line stands at a number; %s holds %s values", v.Column, column.Kind),
				"put it along the other axis",
			)
		}
		if r.Formula != "" {
			c.curve(r.Formula)
		}
		if r.To != nil && *r.To == r.At {
			c.add("band", "", "both ends of the band are the same", "say two different numbers, or a line at one")
		}
	}
}

// curve checks a line along which y is worked out from x.
func (c *checking) curve(expression string) {
	if x := ColumnOf(c.document.X, c.table); x == nil || c.document.X.Aggregated() || !x.Kind.Quantity() {
		c.add("line y", "", "a line worked out from x needs numbers along x", "say line at y = and a number")
	}
	if _, _, message, advice := formula.CurveMistake(expression); message != "" {
		c.add("line y", "", message, advice)
	}
}

func (c *checking) groups() {
	d := c.document
	colour := c.column("colour", d.Colour)
	switch {
	case d.Patterns && (colour == nil || d.Gradient.Of(colour)):
		c.add("colour", d.Colour, "patterns are those of groups", "say colour by a column of groups, or take with patterns out")
	case d.Top < 0 || d.Top >= MaxColours:
		c.add("colour", d.Colour, fmt.Sprintf("from 1 to %d groups have a colour each beside the rest", MaxColours-1), "say top 9")
	case d.Top > 0 && (colour == nil || !colour.Kind.Coded()):
		c.add("colour", d.Colour, "the most frequent are those of a column of groups", "say colour by a column of groups")
	case colour != nil && colour.Kind.Coded() && len(colour.Levels) > MaxColours && d.Top == 0:
		c.add(
			"colour",
			d.Colour,
			fmt.Sprintf("colour tells at most %d groups apart; %s has %d", MaxColours, d.Colour, len(colour.Levels)),
			fmt.Sprintf("say colour by %s top %d, which gives the rest one colour", d.Colour, MaxColours-1),
		)
	}
	if shape := c.column("shape", d.Shape); shape != nil {
		if groups := shape.AsGroups(MaxShapes); groups == nil {
			c.add(
				"shape",
				d.Shape,
				fmt.Sprintf("shape tells at most %d groups apart; %s has more", MaxShapes, d.Shape),
				"colour or size can show it",
			)
		}
	}
}

func (c *checking) fit(fit *Fit) {
	for _, v := range []Variable{c.document.X, c.document.Y} {
		name := v.Column
		if v.Of != NoAggregate {
			c.add("fit", name, "a fit is made of rows, not of a statistic of them", "take the fit out, or plot the column itself")
			return
		}
		if column := ColumnOf(v, c.table); column != nil && column.Kind.Coded() && column.Kind != table.YesNo {
			c.add(
				"fit",
				name,
				fmt.Sprintf("a fit needs numbers along both axes; %s holds %s values", name, column.Kind),
				"take the fit out, or put a number there",
			)
			return
		}
	}
	if each := c.column("fit", fit.Each); each != nil {
		if groups := each.AsGroups(MaxFitGroups); groups == nil {
			c.add(
				"fit",
				fit.Each,
				fmt.Sprintf("a fit for each group needs at most %d groups; %s has more", MaxFitGroups, fit.Each),
				"choose a column with fewer groups",
			)
		}
	}
	if fit.Kind == FitCurve && (fit.Degree < LeastDegree || fit.Degree > MostDegree) {
		c.add("fit", "", "a curve has a degree from 2 to 5", "say fit curve degree 2")
	}
	if fit.Kind == FitLocal && fit.Span != 0 && (fit.Span < 0.2 || fit.Span > 1) {
		c.add("fit", "", "a span is a share of the rows from 0.2 to 1", "say span 0.75")
	}
	if fit.Band != nil && !validLevel(fit.Band.Level) {
		c.add("fit", "", LevelMessage("a band"), "say with band 95%")
	}
	if fit.Band != nil && fit.Band.Kind == Prediction && (fit.Kind == FitLocal || fit.Kind == FitSpline || fit.Kind == FitRobust) {
		c.add(
			"fit",
			"",
			fmt.Sprintf("a %s has no prediction band", fitName(fit.Kind)),
			"fit a line or a curve for that, or ask for a confidence band",
		)
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
