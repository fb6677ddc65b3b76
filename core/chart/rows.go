package chart

import (
	"fmt"
	"math"
	"slices"

	"copperlark/core/table"
)

// MaxChosen is how many rows can be chosen by hand, MaxLabels how many labels can be asked for
// by rank.
const (
	MaxChosen = 2000
	MaxLabels = 200
)

func (c *checking) chosen() {
	if said := c.document.Chosen; said != nil {
		clause := "only rows"
		if said.Without {
			clause = "without rows"
		}
		c.rowNumbers(clause, said.Rows)
	}
}

// MaxCardColumns is how many columns a card shows.
const MaxCardColumns = 30

func (c *checking) card() {
	said := c.document.Card
	if said == nil {
		return
	}
	if c.document.X.Aggregated() || c.document.Y.Aggregated() {
		c.add("card", "", "the card of a statistic says what it is made of", "take the card out, or plot the column itself")
	}
	if len(said.Shows) > MaxCardColumns {
		c.add("card", "", fmt.Sprintf("a card shows at most %d columns", MaxCardColumns), "take some out")
	}
	c.column("card", said.Heading)
	for i, name := range said.Shows {
		if c.column("card", name); slices.Contains(said.Shows[:i], name) {
			c.add("card", name, fmt.Sprintf("%s stands on the card twice", name), "take one of the two out")
		}
	}
}

func (c *checking) label() {
	said := c.document.Label
	if said == nil {
		return
	}
	if said.With == "" {
		c.add("label", "", "a label needs a column whose values are written", "say label all with, and a column")
	}
	c.column("label", said.With)
	by := c.column("label", said.By)
	switch {
	case said.Top < 0 || said.Top > MaxLabels:
		c.add("label", "", fmt.Sprintf("at most %d labels are asked for by rank", MaxLabels), "say label top 5 by …, or label all")
	case said.Top > 0 && said.By == "":
		c.add("label", "", "the top rows are those of a column", "say label top 5 by, and a column of numbers")
	case by != nil && by.Kind.Coded() && by.Kind != table.YesNo:
		c.add(
			"label",
			said.By,
			fmt.Sprintf("%s holds %s values, which have no highest", said.By, by.Kind),
			"say top … by a column of numbers or dates",
		)
	case c.document.X.Aggregated() || c.document.Y.Aggregated():
		c.add("label", "", "labels name single rows; a statistic stands along an axis", "plot the column itself")
	}
	if said.Rows != nil {
		c.rowNumbers("label", said.Rows)
	}
}

// rowNumbers checks rows that are counted from 1.
func (c *checking) rowNumbers(clause string, rows []float64) {
	if len(rows) == 0 || len(rows) > MaxChosen {
		c.add(clause, "", fmt.Sprintf("from 1 to %s rows can be chosen by hand", "2,000"), "say of rows where … for more")
	}
	for _, row := range rows {
		if row != math.Trunc(row) || row < 1 || row > float64(c.table.Rows()) {
			c.add(
				clause,
				"",
				fmt.Sprintf("there is no row %s; the table has %d", table.FormatNumber(row), c.table.Rows()),
				"rows are counted from 1, as they stand in Data",
			)
			return
		}
	}
}

// Relation is what of a document decides which rows stand where: how y goes with x follows from it alone, however the chart
// looks, is divided or is fitted.
func (d *Document) Relation() *Document {
	scaled := func(a Axis) Axis { return Axis{Scale: a.Scale, Base: a.Base} }
	bare := &Document{
		Version: d.Version, Rows: Rows{Where: d.Where, Chosen: d.Chosen, TakeOut: d.TakeOut}, Function: d.Function,
		Y: d.Y, AlsoY: d.AlsoY, X: d.X, Scales: Scales{X: scaled(d.Scales.X), Y: scaled(d.Scales.Y)},
	}
	return bare.Clone()
}
