// Package sentence turns a chart document into its typed and spoken forms, and
// a typed sentence into a document.
//
// The typed form has one clause a line:
//
//	plot honey_kg against forage_ha
//	log x
//	colour by district
//	fit line for each district and overall with band 95%
//	x from 1 to 2500 titled 'Forage area' in 'ha'
//	title 'More forage, more honey'
//
// Its clauses are the list below, read by package clause. Parse and Print are inverses:
// Parse(Print(d)) is d for every document, and Print(Parse(t)) is the same however often
// it is done.
package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
)

type document = chart.Document

// grammar lists every clause of a chart, in the order in which they are written.
var grammar = clause.New(clause.Grammar[document]{
	First: "plot", Missing: "the sentence says nothing to plot", MissingAdvice: "begin with: plot … against …",
	StandIns: standIns,
	Clauses: []clause.Clause[document]{
		whereClause, plotClause, onlyRows, withoutRows, takeOutClause, marksClause,
		logScale("x"), logScale("y"), nearLinear("x"), nearLinear("y"),
		colouredBy, sizedBy, shapedBy, oneColour, oneSize, oneShape, outlineClause, frontClause, paletteClause, opacityClause,
		jitterClause, overlapClause, panelsClause, stepClause, orderClause, alsoClause,
		fitClause, lineClause, workedOutClause, diagonalClause, bandClause, intervalClause,
		labelClause, cardClause, centresClause, contoursClause, binsClause, edgesClause,
		reversed("x"), reversed("y"), axisX, axisY, ticks("x"), ticks("y"),
		lookClause, textClause, weightClause, lettersClause, gridClause, axisLinesClause, guidesClause, keyOrderClause, keyClause, paperClause,
		titleOver, subtitleClause, noteClause,
	},
})
