package chart

import (
	"fmt"
	"math"

	"copperlark/core/formula"
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

// MaxPanels is how many groups a column has that panels are by; MaxPanelsInAll how many
// panels a chart has.
const (
	MaxPanels      = 40
	MaxPanelsInAll = 100
)

// MaxTicks is how many ticks of an axis are said one by one.
const MaxTicks = 40

// MaxColumns is how many columns stand along y at once, MaxReferences how many reference
// lines and bands a chart has.
const (
	MaxColumns    = MaxColours
	MaxReferences = 12
)

// Check finds what keeps a document from being drawn with a table; nil means
// that every clause can be honoured. What the marks need is checked by package mark.
func Check(d *Document, t *table.Table) []Problem {
	check := &checking{document: d, table: t}
	if d.Y.Empty() || d.X.Empty() {
		check.add("plot", "", "the chart needs two columns", "say one after Plot and one after against")
	}
	check.function()
	check.where()
	check.axis("y")
	check.axis("x")
	check.columns()
	check.groups()
	check.gradient()
	if size := check.column("size", d.Size); size != nil && size.Kind.Coded() && size.Kind != table.YesNo {
		check.add(
			"size",
			d.Size,
			fmt.Sprintf("size needs numbers; %s holds %s values", d.Size, size.Kind),
			"colour or shape can show groups",
		)
	}
	if s := d.Sizes; s != (Sizes{}) && (d.Size == "" || !(s.Smallest >= SmallestDot && s.Smallest < s.Largest && s.Largest <= LargestDot)) {
		check.add(
			"size",
			d.Size,
			fmt.Sprintf("marks are sized from one radius to a larger one, between %v and %v pixels", SmallestDot, LargestDot),
			"say size by a column from 2 to 12",
		)
	}
	if d.Opacity < 0 || d.Opacity > 1 || math.IsNaN(d.Opacity) {
		check.add("opacity", "", "opacity goes from 0 to 1", "say a number such as 0.5")
	}
	check.takeOut()
	check.centres()
	check.marks()
	check.contours()
	check.bins()
	check.interval()
	check.label()
	check.card()
	check.fixed()
	check.dressing()
	check.also()
	check.strokes()
	check.chosen()
	check.looks()
	check.letters()
	check.order()
	check.panels()
	if n := len(d.Fits()); n > MaxFits {
		check.add(
			"fit",
			"",
			fmt.Sprintf("a chart holds at most %d fits; this one has %d", MaxFits, n),
			"take some out, or keep them as another chart",
		)
		return check.problems
	}
	for _, fit := range d.Fits() {
		check.fit(fit)
	}
	check.references()
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

// MostTakenOut is how many groups a column that is taken out may have.
const MostTakenOut = 60

func (c *checking) takeOut() {
	d := c.document
	column := c.column("take out", d.TakeOut)
	if column == nil {
		return
	}
	for _, axis := range []string{"x", "y"} {
		v := d.Along(axis)
		along := c.table.Column(v.Column)
		switch {
		case d.TakeOut == v.Column:
			c.add("take out", d.TakeOut, fmt.Sprintf("%s stands along %s itself", d.TakeOut, axis), "take out a third column")
		case v.Of != NoAggregate:
			c.add("take out", d.TakeOut, "a statistic stands along "+axis+", and taking out moves single rows", "plot the column itself")
		case along != nil && (v.As == AsGroups || along.Kind.Coded() && along.Kind != table.YesNo && v.As != AsNumber):
			c.add("take out", d.TakeOut, v.Column+" holds groups, which cannot be moved", "put numbers along both axes")
		}
	}
	if len(d.AlsoY) > 0 {
		c.add("take out", d.TakeOut, "a column is taken out of one relation at a time", "plot one column along y")
	}
	if column.Kind.Coded() && len(column.Levels) > MostTakenOut {
		c.add(
			"take out",
			d.TakeOut,
			fmt.Sprintf("%s has more than %d groups", d.TakeOut, MostTakenOut),
			"take out a column with fewer groups",
		)
	}
}

func (c *checking) centres() {
	d := c.document
	column := c.column("centres", d.Centres())
	if column == nil {
		return
	}
	if column.AsGroups(MaxFitGroups) == nil {
		c.add(
			"centres",
			d.Centres(),
			fmt.Sprintf("centres need at most %d groups; %s has more", MaxFitGroups, d.Centres()),
			"choose a column with fewer groups",
		)
	}
	for _, axis := range []string{"x", "y"} {
		v := d.Along(axis)
		along := c.table.Column(v.Column)
		if v.Of != NoAggregate ||
			along != nil && (v.As == AsGroups || along.Kind.Coded() && along.Kind != table.YesNo && v.As != AsNumber) {
			c.add("centres", d.Centres(), "groups have a centre where numbers stand along both axes", "plot a number against a number")
			return
		}
	}
	if len(d.AlsoY) > 0 {
		c.add("centres", d.Centres(), "groups have a centre of one column along y", "plot one column along y")
	}
}

func (c *checking) interval() {
	said := c.document.Interval()
	if said == nil {
		return
	}
	of := c.document.Y.Of
	if of == NoAggregate || of == Count {
		of = c.document.X.Of
	}
	switch {
	case of != Mean && of != Median:
		c.add("interval", "", "an interval stands about a mean or a median", "say plot mean(…) against …")
	case said.Deviation && of == Median:
		c.add("interval", "", "a standard deviation stands about a mean", "say interval 95%, or plot mean(…)")
	case !said.Deviation && !validLevel(said.Level):
		c.add("interval", "", LevelMessage("an interval"), "say interval 95%")
	}
}

// LowestLevel and HighestLevel are where the levels of bands and intervals lie, in percent.
const LowestLevel, HighestLevel = 50, 99.9

func validLevel(level float64) bool { return level >= LowestLevel && level <= HighestLevel }

// LevelMessage says of a band or an interval where its level lies.
func LevelMessage(of string) string {
	return fmt.Sprintf("%s has a level from %d %% to %v %%", of, LowestLevel, HighestLevel)
}

// MostMarks is how many marks of rows lie over each other.
const MostMarks = 3

func (c *checking) marks() {
	if len(c.document.Marks()) > MostMarks {
		c.add("as", "", fmt.Sprintf("at most %d marks lie over each other", MostMarks), "take one out")
	}
}

// mostContours is how many shares of rows contours hold.
const mostContours = 6

func (c *checking) contours() {
	for _, share := range c.document.Contours() {
		if !(share > 0 && share < 100) {
			c.add("contours hold", "", "contours hold more than 0 % and less than 100 % of the rows", "say contours hold 50, 80, 95%")
			return
		}
	}
	if len(c.document.Contours()) > mostContours {
		c.add("contours hold", "", fmt.Sprintf("contours hold at most %d shares of the rows", mostContours), "take some out")
	}
}

// quantityAlong reports whether numbers or durations stand along an axis, or nobody knows yet.
func quantityAlong(v Variable, t *table.Table) bool {
	column := ColumnOf(v, t)
	return column == nil || column.Kind.Quantity()
}

// bins holds the bins that are said to what an axis of numbers or dates can have.
func (c *checking) bins() {
	b := c.document.Bins()
	switch {
	case b == nil:
	case (b.Count == 0) == (b.Width == 0):
		c.add("bins", "", "bins are so many, or so wide", "say bins 20, or bins of 5")
	case b.Count < 0 || b.Count > MostBins:
		c.add("bins", "", fmt.Sprintf("a histogram has from 1 to %d bins", MostBins), "say bins 20")
	case !(b.Width >= 0):
		c.add("bins", "", "a bin is wider than 0", "say bins of 5")
	case b.Width > 0 && c.document.Scales.X.Scale != "":
		c.add("bins", "", "bins of one width stand on a linear axis", "say how many: bins 20")
	case b.Width > 0 && !quantityAlong(c.document.X, c.table):
		c.add("bins", "", "bins of a width need numbers", "say how many: bins 20")
	}
}

func (c *checking) where() {
	if c.document.Where == "" {
		return
	}
	f, err := formula.Parse(c.document.Where)
	if err != nil {
		c.add("of rows where", "", err.Error(), "write it as SQL: season >= 2029 and district <> 'Tarn'")
		return
	}
	for _, name := range f.Columns() {
		c.column("of rows where", name)
	}
}

func (c *checking) axis(axis string) {
	v, said := c.document.Along(axis), c.document.Scale(axis)
	column := c.column("plot", v.Column)
	if v.Of != NoAggregate {
		c.aggregate(axis, v, column)
	}
	if column == nil && v.Column != "" {
		return
	}
	read := column
	if column != nil {
		if read = ColumnOf(*v, c.table); read == nil {
			if v.As == AsNumber {
				c.add("plot", v.Column, fmt.Sprintf("no value of %s is a number", v.Column), "take “as number” out")
			} else {
				c.add("plot", v.Column, fmt.Sprintf("an axis holds at most %d groups; %s has more", MaxAxisGroups, v.Column), "take “as groups” out")
			}
			return
		}
	}
	coded := read != nil && read.Kind.Coded() && read.Kind != table.YesNo && v.Of == NoAggregate
	if coded && len(read.Levels) > MaxAxisGroups {
		c.add(
			"plot",
			v.Column,
			fmt.Sprintf("an axis holds at most %d groups; %s has %d", MaxAxisGroups, v.Column, len(read.Levels)),
			"put a number or a date there, and show this column on the card",
		)
	}
	if said.Scale != "" && v.Of == NoAggregate && read != nil && !read.Kind.Quantity() {
		c.add("log", v.Column, fmt.Sprintf("a log scale needs numbers; %s holds %s values", v.Column, read.Kind), "take the log scale out")
	}
	c.said(v.Column, said, coded)
}

// said checks limits, base and step of an axis.
func (c *checking) said(name string, said *Axis, coded bool) {
	if said.Base != 0 && !(said.Base > 1 && said.Base <= 1000) {
		c.add("log", name, "the base of a log scale is above 1", "say base 2, or base 10")
	}
	if said.Every < 0 || math.IsInf(said.Every, 0) || math.IsNaN(said.Every) {
		c.add("ticks", name, "the step between ticks is above zero", "say ticks every 10")
	}
	if len(said.Ticks) > MaxTicks {
		c.add("ticks", name, fmt.Sprintf("an axis has at most %d ticks that are said", MaxTicks), "say a step: ticks every 10")
	}
	limits := said.Limits
	switch {
	case limits == nil:
	case limits.From == limits.To:
		c.add("limits", name, "both ends of the axis are the same", "say two different numbers")
	case said.Log() && (limits.From <= 0 || limits.To <= 0):
		c.add("limits", name, "a log scale has no place for zero or less", "say limits above zero")
	case coded && (math.Abs(limits.From) > MaxAxisGroups*2 || math.Abs(limits.To) > MaxAxisGroups*2):
		c.add("limits", name, "an axis of groups counts them from 0", "take the limits out")
	}
}

func (c *checking) aggregate(axis string, v *Variable, column *table.Column) {
	other := c.document.X
	if axis == "x" {
		other = c.document.Y
	}
	switch {
	case other.Of != NoAggregate && axis == "y":
		c.add("plot", "", "a statistic can stand along one axis only", "put a column along the other")
	case v.Of == Spread && axis == "x":
		c.add("plot", "", "a spread stands along y", "say plot spread of …")
	case v.Of == Count || v.Of == Spread:
	case v.Column == "":
		c.add("plot", "", fmt.Sprintf("%s of what?", v.Of), fmt.Sprintf("say %s(honey_kg)", v.Of))
	case column != nil && column.Kind.Coded() && column.Kind != table.YesNo && v.As != AsNumber:
		c.add(
			"plot",
			v.Column,
			fmt.Sprintf("a %s needs numbers; %s holds %s values", v.Of, v.Column, column.Kind),
			"say count(), or choose a column of numbers",
		)
	case column != nil && column.Kind == table.Date && v.Of == Sum:
		c.add("plot", v.Column, "dates have no sum", "say count(), or a mean")
	}
}

// columns checks several columns along y.
func (c *checking) columns() {
	d := c.document
	if len(d.AlsoY) == 0 {
		return
	}
	if len(d.AlsoY) >= MaxColumns {
		c.add("plot", "", fmt.Sprintf("at most %d columns stand along an axis", MaxColumns), "take some out")
	}
	if d.Y.As == AsGroups {
		c.add(
			"plot",
			d.Y.Column,
			fmt.Sprintf("several columns along one axis are numbers; %s is read as groups", d.Y.Column),
			"take the other columns out",
		)
	}
	for _, name := range append([]string{d.Y.Column}, d.AlsoY...) {
		if column := c.column("plot", name); column != nil && !column.Kind.Quantity() {
			c.add(
				"plot",
				name,
				fmt.Sprintf("several columns along one axis are numbers; %s holds %s values", name, column.Kind),
				"take it out",
			)
		}
	}
	for _, said := range []struct{ clause, column string }{{"colour", d.Colour}, {"size", d.Size}, {"shape", d.Shape}} {
		if said.column != "" {
			c.add(
				said.clause,
				said.column,
				"with several columns along y, colour says which is which",
				"take the "+said.clause+" out, or all columns but one",
			)
		}
	}
	if d.Y.Of != NoAggregate || d.X.Of != NoAggregate {
		c.add("plot", "", "a statistic is of one column", "take the other columns out")
	}
}

func (c *checking) order() {
	o := c.document.Order
	if o == nil {
		return
	}
	if column := c.column("order", o.Column); column != nil && o.Column != c.document.X.Column && o.Column != c.document.Y.Column {
		c.add("order", o.Column, fmt.Sprintf("%s stands along no axis", o.Column), "order the groups along x or y")
	}
	if by := c.column("order", o.By); by != nil && by.Kind.Coded() && by.Kind != table.YesNo {
		c.add(
			"order",
			o.By,
			fmt.Sprintf("a %s needs numbers; %s holds %s values", o.Of, o.By, by.Kind),
			"order by count(), or by a column of numbers",
		)
	}
	if o.By == "" && o.Of != Count {
		c.add("order", "", fmt.Sprintf("%s of what?", o.Of), "say order district by mean(honey_kg)")
	}
}
