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
// Case does not matter in keywords. A column name that is not a plain word, or
// that is a keyword, stands in double quotes; texts stand in single quotes; a
// quote inside is doubled. Parse and Print are inverses: Parse(Print(d)) is d
// for every document, and Print(Parse(t)) is the same however often it is done.
package sentence

import (
	"fmt"
	"math"
	"strings"

	"copperlark/core/chart"
)

// clauses lists the words that can begin a clause.
var clauses = []string{"plot", "log", "colour", "size", "shape", "opacity", "fit", "x", "y", "title", "note"}

// keywords are words that the grammar uses after the first of a clause; a
// column of such a name is printed in double quotes.
var keywords = map[string]bool{"against": true, "by": true, "for": true, "each": true, "and": true, "overall": true, "with": true,
	"band": true, "prediction": true, "confidence": true, "leaving": true, "out": true, "outliers": true, "degree": true, "span": true,
	"from": true, "to": true, "titled": true, "in": true}

// Parse reads a typed sentence. Column names are looked up in columns, exactly
// or without regard to case; nil columns accept any name. Every mistake that can
// be told apart is reported; the document is nil when there is one.
func Parse(typed string, columns []string) (*chart.Document, []*Error) {
	lines, err := lex(typed)
	if err != nil {
		return nil, []*Error{err}
	}
	p := &parser{columns: columns, document: &chart.Document{Version: chart.Version}, said: map[string]token{}}
	for _, line := range lines {
		p.tokens, p.position = line, 0
		p.clause()
	}
	if _, plotted := p.said["plot"]; !plotted && len(p.errors) == 0 {
		p.errors = append(p.errors, &Error{Line: 1, Column: 1, Length: 1, Message: "the sentence says nothing to plot", Advice: "begin with: plot … against …"})
	}
	if len(p.errors) > 0 {
		return nil, p.errors
	}
	return p.document, nil
}

type parser struct {
	columns  []string
	document *chart.Document
	said     map[string]token
	tokens   []token
	position int
	errors   []*Error
	failed   bool // in the clause being read
}

func (p *parser) fail(t token, message, advice string) {
	if p.failed {
		return // what follows a mistake is guesswork
	}
	p.failed = true
	p.errors = append(p.errors, &Error{Line: t.line, Column: t.column, Length: t.length, Message: message, Advice: advice})
}

// here is the next token, or one past the last word of the clause.
func (p *parser) here() token {
	if p.position < len(p.tokens) {
		return p.tokens[p.position]
	}
	last := p.tokens[len(p.tokens)-1]
	return token{kind: endToken, line: last.line, column: last.column + last.length, length: 1}
}

func (p *parser) word(words ...string) bool {
	saved := p.position
	for _, word := range words {
		t := p.here()
		if t.kind != wordToken || !strings.EqualFold(t.text, word) {
			p.position = saved
			return false
		}
		p.position++
	}
	return true
}

func (p *parser) need(word, example string) {
	if !p.word(word) {
		p.fail(p.here(), fmt.Sprintf("expected the word %s", word), "say it like this: "+example)
	}
}

// once refuses a clause that was said before.
func (p *parser) once(clause string, t token) {
	if before, twice := p.said[clause]; twice {
		p.fail(t, fmt.Sprintf("%s is said twice", clause), fmt.Sprintf("it stands in line %d already", before.line))
	}
	p.said[clause] = t
}

func (p *parser) clause() {
	p.failed = false
	first := p.here()
	name := strings.ToLower(first.text)
	if name == "color" {
		name = "colour"
	}
	if first.kind != wordToken {
		name = ""
	}
	p.position++
	d := p.document
	if name != "fit" && name != "log" {
		p.once(name, first)
	}
	switch name {
	case "plot":
		d.Y = p.column("plot honey_kg against forage_ha")
		p.need("against", "plot honey_kg against forage_ha")
		d.X = p.column("plot honey_kg against forage_ha")
	case "log":
		p.log(first)
	case "colour":
		p.need("by", "colour by district")
		d.Colour = p.column("colour by district")
	case "size":
		p.need("by", "size by frames")
		d.Size = p.column("size by frames")
	case "shape":
		p.need("by", "shape by hive_type")
		d.Shape = p.column("shape by hive_type")
	case "opacity":
		at := p.here()
		d.Opacity = p.number("opacity 0.5")
		if !(d.Opacity > 0 && d.Opacity <= 1) {
			p.fail(at, "opacity goes from 0 to 1", "say a number such as 0.5")
		}
	case "fit":
		p.fit()
	case "x":
		d.XAxis = p.axis("x")
	case "y":
		d.YAxis = p.axis("y")
	case "title":
		d.Title = p.text("title 'More forage, more honey'")
	case "note":
		d.Note = p.text("note 'Hives weighed at the autumn check'")
	default:
		advice := "a clause begins with " + strings.Join(clauses[:len(clauses)-1], ", ") + " or " + clauses[len(clauses)-1]
		if near := chart.Nearest(first.text, clauses); near != "" && len(first.text) > 2 {
			advice = fmt.Sprintf("did you mean %s?", near)
		}
		p.fail(first, fmt.Sprintf("no clause begins with %s", shown(first)), advice)
	}
	if rest := p.here(); rest.kind != endToken {
		p.fail(rest, fmt.Sprintf("%s is not expected here", shown(rest)), "begin a new line for the next clause")
	}
}

func shown(t token) string {
	switch t.kind {
	case nameToken:
		return `"` + t.text + `"`
	case textToken:
		return "'" + t.text + "'"
	case endToken:
		return "the end of the line"
	}
	return t.text
}

func (p *parser) log(first token) {
	switch {
	case p.word("x"):
		p.once("log x", first)
		p.document.LogX = true
	case p.word("y"):
		p.once("log y", first)
		p.document.LogY = true
	default:
		p.fail(p.here(), "expected x or y", "say log x or log y")
	}
}

func (p *parser) column(example string) string {
	t := p.here()
	if t.kind != wordToken && t.kind != nameToken {
		p.fail(t, "expected a column", "say it like this: "+example)
		return ""
	}
	p.position++
	if t.text == "" {
		p.fail(t, "a column's name is not empty", "say it like this: "+example)
	}
	if p.columns == nil {
		return t.text
	}
	folded := ""
	for _, name := range p.columns {
		if name == t.text {
			return name
		}
		if folded == "" && strings.EqualFold(name, t.text) {
			folded = name
		}
	}
	if folded == "" {
		message, advice := chart.UnknownColumn(t.text, p.columns)
		p.fail(t, message, advice)
	}
	return folded
}

func (p *parser) number(example string) float64 {
	t := p.here()
	if t.kind != numberToken {
		p.fail(t, "expected a number", "say it like this: "+example)
		return math.NaN()
	}
	p.position++
	return t.number
}

func (p *parser) text(example string) string {
	t := p.here()
	if t.kind != textToken {
		p.fail(t, "expected a text in single quotes", "say it like this: "+example)
		return ""
	}
	p.position++
	return t.text
}

func (p *parser) axis(name string) (axis chart.Axis) {
	example := name + " from 1 to 2500 titled 'Forage area' in 'ha'"
	if p.word("from") {
		from := p.number(example)
		p.need("to", example)
		axis.Limits = &chart.Limits{From: from, To: p.number(example)}
	}
	if p.word("titled") {
		axis.Title = p.text(example)
	}
	if p.word("in") {
		axis.Unit = p.text(example)
	}
	if axis == (chart.Axis{}) {
		p.fail(p.here(), "expected from, titled or in", "say it like this: "+example)
	}
	return axis
}

func (p *parser) fit() {
	const example = "fit line for each district and overall with band 95%"
	fit := chart.Fit{}
	switch {
	case p.word("line"):
		fit.Kind = chart.FitLine
	case p.word("robust", "line"):
		fit.Kind = chart.FitRobust
	case p.word("spline"):
		fit.Kind = chart.FitSpline
	case p.word("local"):
		fit.Kind = chart.FitLocal
		if p.word("span") {
			fit.Span = p.number("fit local span 0.6")
		}
	case p.word("curve"):
		fit.Kind, fit.Degree = chart.FitCurve, 2
		if p.word("degree") {
			at := p.here()
			degree := p.number("fit curve degree 2")
			if degree != 2 && degree != 3 && degree != 4 && degree != 5 {
				p.fail(at, "a curve has a degree from 2 to 5", "say fit curve degree 2")
				return
			}
			fit.Degree = int(degree)
		}
	default:
		p.fail(p.here(), "expected line, curve, local, spline or robust line", "say it like this: "+example)
		return
	}
	p.fitFor(&fit)
	p.band(&fit)
	if p.word("leaving") {
		p.need("out", "fit line leaving out outliers")
		p.need("outliers", "fit line leaving out outliers")
		fit.LeavingOutliers = true
	}
	p.document.Fits = append(p.document.Fits, fit)
}

// fitFor reads whose fit it is: nothing said means all rows.
func (p *parser) fitFor(fit *chart.Fit) {
	const example = "fit line for each district and overall"
	if p.word("overall") {
		fit.Overall = true
		if p.word("and") {
			p.need("for", example)
			p.need("each", example)
			fit.Each = p.column(example)
		}
		return
	}
	if !p.word("for") {
		fit.Overall = true
		return
	}
	p.need("each", example)
	fit.Each = p.column(example)
	if p.word("and") {
		p.need("overall", example)
		fit.Overall = true
	}
}

func (p *parser) band(fit *chart.Fit) {
	if !p.word("with") {
		return
	}
	band := &chart.Band{Kind: chart.Confidence}
	if p.word("prediction") {
		band.Kind = chart.Prediction
	} else {
		p.word("confidence")
	}
	p.need("band", "fit line with band 95%")
	at := p.here()
	band.Level = p.number("fit line with band 95%")
	if t := p.here(); t.kind == markToken && t.text == "%" {
		p.position++
	}
	if !(band.Level >= 50 && band.Level <= 99.9) {
		p.fail(at, "a band has a level from 50 % to 99.9 %", "say with band 95%")
	}
	fit.Band = band
}
