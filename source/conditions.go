package source

import (
	"fmt"
	"strconv"
	"strings"

	"copperlark/core/formula"
	"copperlark/core/table"
)

// termKind is what a part of a condition gives, once it is put into the database's language. Dates are numbers, as
// they are in the program: seconds from 1970.
type termKind string

const (
	numberTerm  termKind = "number"
	textTerm    termKind = "text"
	booleanTerm termKind = "condition"
)

// condition puts a condition into the database's language, so that it is true of the same rows.
func (t *terms) condition(p formula.Part) (string, error) {
	w := &wording{terms: t}
	written := w.need(p, booleanTerm)
	return written, w.wrong
}

// wording is one condition while it is put into words; the first thing that cannot be said stays.
type wording struct {
	*terms
	wrong error
}

func (w *wording) fail(err error) (string, termKind) {
	if w.wrong == nil {
		w.wrong = err
	}
	return "null", ""
}

func (w *wording) need(p formula.Part, kind termKind) string {
	written, is := w.write(p)
	if is != kind && w.wrong == nil {
		_, _ = w.fail(cannot("a condition in which %s stands where a %s is wanted", called(p), kind))
	}
	return written
}

func called(p formula.Part) string {
	if p.Text != "" {
		return p.Text
	}
	return p.Op
}

// sqlFunctions are the functions of one number that mean the same there and here, and are worked out where the rows are.
var sqlFunctions = map[string]bool{"abs": true, "floor": true, "ceil": true}

func (w *wording) write(p formula.Part) (string, termKind) {
	switch p.Op {
	case "number":
		return w.number(p.Number), numberTerm
	case "text":
		if p.Text == "" { // which is missing, here as there
			return "null", textTerm
		}
		return w.argument(p.Text, "text"), textTerm
	case "boolean":
		return fmt.Sprintf("(1 = %d)", int(p.Number)), booleanTerm
	case "column":
		return w.ofColumn(p.Text)
	case "negative":
		return "(- " + w.need(p.Args[0], numberTerm) + ")", numberTerm
	case "+", "-", "*", "/":
		a, b := w.need(p.Args[0], numberTerm), w.need(p.Args[1], numberTerm)
		if w.dated(p.Args...) { // days are added to dates, which are seconds here
			return w.fail(cannot("reckoning with dates"))
		}
		if p.Op == "/" {
			b = fmt.Sprintf("case when %[1]s <> 0 then %[1]s end", b)
		}
		return fmt.Sprintf("(%s %s %s)", a, p.Op, b), numberTerm
	case "=", "<>", "<", "<=", ">", ">=":
		return w.compare(p.Op, p.Args[0], p.Args[1]), booleanTerm
	case "and", "or":
		return fmt.Sprintf("(%s %s %s)", w.need(p.Args[0], booleanTerm), p.Op, w.need(p.Args[1], booleanTerm)), booleanTerm
	case "not":
		return "(not " + w.need(p.Args[0], booleanTerm) + ")", booleanTerm
	case "is null":
		written, _ := w.write(p.Args[0])
		return "(" + written + " is null)", booleanTerm
	case "between":
		return fmt.Sprintf("(%s and %s)", w.compare(">=", p.Args[0], p.Args[1]), w.compare("<=", p.Args[0], p.Args[2])), booleanTerm
	case "in":
		any := make([]string, len(p.Args)-1)
		for i, one := range p.Args[1:] {
			any[i] = w.compare("=", p.Args[0], one)
		}
		return "(" + strings.Join(any, " or ") + ")", booleanTerm
	case "case":
		return w.cases(p)
	case "cast":
		return w.cast(p)
	case "call":
		if len(p.Args) == 1 && !p.Over && sqlFunctions[p.Text] {
			return p.Text + "(" + w.need(p.Args[0], numberTerm) + ")", numberTerm
		}
	}
	return w.fail(cannot("a condition with %s in it", called(p)))
}

// cast is the text of a whole number: others are written otherwise in each database. A text is one already.
func (w *wording) cast(p formula.Part) (string, termKind) {
	if c, is := w.spelled(p); is {
		return fmt.Sprintf(w.in.text, c.quoted()), textTerm
	}
	if c, err := w.terms.column(p.Args[0].Text); p.Text == "text" && p.Args[0].Op == "column" && err == nil && c.how.kind == table.Text {
		return w.ofColumn(p.Args[0].Text)
	}
	return w.fail(cannot("%s read as another kind", called(p.Args[0])))
}

// spelled is the column of whole numbers of which a part is the text.
func (w *wording) spelled(p formula.Part) (c sqlColumn, is bool) {
	at := p
	if p.Op == "cast" && p.Text == "text" {
		at = p.Args[0]
	}
	if at.Op != "column" {
		return c, false
	}
	c, err := w.terms.column(at.Text)
	return c, err == nil && c.how.whole && c.how.kind == table.Number && (p.Op == "cast" || c.spelled)
}

// neverWhole is a number that no whole number is.
const neverWhole = 0.5

// asSpelled has whole numbers that are read as texts compared as numbers, which servers behind the database can do too.
func (w *wording) asSpelled(a, b formula.Part) (formula.Part, formula.Part) {
	if _, is := w.spelled(a); !is || b.Op != "text" {
		return a, b
	}
	if a.Op == "cast" {
		a = a.Args[0]
	}
	v, err := strconv.ParseFloat(b.Text, 64)
	if err != nil || table.FormatNumber(v) != b.Text {
		v = neverWhole
	}
	return a, formula.Part{Op: "number", Number: v}
}

// cases are values by conditions, of one kind.
func (w *wording) cases(p formula.Part) (string, termKind) {
	var written strings.Builder
	written.WriteString("case")
	kind := termKind("")
	value := func(p formula.Part) string {
		v, is := w.write(p)
		if kind == "" {
			kind = is
		}
		if is != kind {
			_, _ = w.fail(cannot("a case that gives a %s and a %s", kind, is))
		}
		return v
	}
	at := 0
	for ; at+1 < len(p.Args); at += 2 {
		fmt.Fprintf(&written, " when %s then %s", w.need(p.Args[at], booleanTerm), value(p.Args[at+1]))
	}
	if at < len(p.Args) {
		written.WriteString(" else " + value(p.Args[at]))
	}
	return "(" + written.String() + " end)", kind
}

func (w *wording) ofColumn(name string) (string, termKind) {
	c, err := w.column(name)
	switch {
	case err != nil:
		return w.fail(err)
	case c.how.kind == table.YesNo:
		return c.quoted(), booleanTerm
	case c.how.plain != "":
		return c.number(), numberTerm
	}
	return "(" + c.level(false) + ")", textTerm
}

// dated reports whether one of the parts is a column of dates or of durations: the program reckons with these in days.
func (w *wording) dated(parts ...formula.Part) bool {
	for _, p := range parts {
		if c, err := w.terms.column(p.Text); err == nil && p.Op == "column" && c.how.kind != table.Number {
			return true
		}
	}
	return false
}

// compare compares two parts of one kind; a text that a column of dates or durations is compared with is one of these.
// Texts are told apart, and have no order that all databases share.
func (w *wording) compare(sign string, a, b formula.Part) string {
	a, b = w.asSpelled(plain(a), plain(b))
	b, a = w.asSpelled(b, a)
	if b.Op == "text" {
		b = w.asColumn(a, b)
	} else if a.Op == "text" {
		a = w.asColumn(b, a)
	}
	left, is := w.write(a)
	right, other := w.write(b)
	ordered := sign != "=" && sign != "<>"
	switch {
	case w.wrong != nil:
	case is != other:
		_, _ = w.fail(cannot("a condition that compares a %s with a %s", is, other))
	case is != numberTerm && ordered:
		_, _ = w.fail(cannot("a condition that puts %ss in order", is))
	}
	return fmt.Sprintf("(%s %s %s)", left, sign, right)
}

// plain is the text of a date that is written as one: date '2031-03-09'.
func plain(p formula.Part) formula.Part {
	if p.Op == "cast" && p.Text == "date" && p.Args[0].Op == "text" {
		return p.Args[0]
	}
	return p
}

// asColumn reads a text as a column that it is compared with holds its values.
func (w *wording) asColumn(column, text formula.Part) formula.Part {
	c, err := w.terms.column(column.Text)
	if column.Op != "column" || err != nil {
		return text
	}
	switch c.how.kind {
	case table.Date:
		if seconds, is := formula.ReadDate(text.Text); is {
			return formula.Part{Op: "number", Number: seconds}
		}
	case table.Duration:
		if seconds, form := table.ParseDuration(text.Text); form != table.NoDuration {
			return formula.Part{Op: "number", Number: seconds}
		}
	}
	return text
}
