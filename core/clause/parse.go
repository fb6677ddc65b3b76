package clause

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/table"
	"copperlark/core/words"
)

// Parse reads a text. Column names are looked up in the columns of a table, by stored or by readable
// name; no table accepts any name. Every mistake that can be told apart is reported; the
// D is nil when there is one.
func (g *Grammar[D]) Parse(typed string, columns *table.Table) (*D, []*Error) {
	d, _, mistakes := g.ParsePlaced(typed, columns)
	return d, mistakes
}

// ParsePlaced is Parse, with the places where the parts of the D were said.
func (g *Grammar[D]) ParsePlaced(typed string, columns *table.Table) (*D, Places, []*Error) {
	lines, err := lex(typed)
	if err != nil {
		return nil, nil, []*Error{err}
	}
	p := &parser{columns: columns, said: map[string]token{}, runes: []rune(typed), places: Places{}}
	into := new(D)
	g.read(p, lines, into)
	if _, said := p.said[g.First]; g.First != "" && !said && len(p.errors) == 0 {
		p.errors = append(p.errors, &Error{Line: 1, Column: 1, Length: 1, Message: g.Missing, Advice: g.MissingAdvice})
	}
	if len(p.errors) > 0 {
		return nil, nil, p.errors
	}
	return into, p.places, nil
}

// Place is where something was said: characters of the text from 0, To not included.
type Place struct{ From, To int }

// Places are the places of what was read, by the address of the field that holds it; the
// items of a list by an Item.
type Places map[any]Place

// Item names one item of a list by the list's address.
type Item struct {
	List  any
	Index int
}

func (p *parser) placed(at any, from, to int) {
	if p.places != nil && !p.failed {
		p.places[at] = Place{from, to}
	}
}

type parser struct {
	columns  *table.Table
	said     map[string]token // clauses
	runes    []rune           // the whole text
	tokens   []token
	position int
	errors   []*Error
	places   Places            // nil: not asked for
	failed   bool              // in the clause being read: what follows a mistake is guesswork
	quiet    bool              // whether it is right is asked, not what is wrong
	named    map[string]string // then: the columns by how they can be said, in small letters
	example  func() string     // of the clause being read

	completing bool
	expected   []Expectation
}

func (p *parser) fail(t token, message, advice string) {
	if p.failed {
		return
	}
	p.failed = true
	if advice == "" && p.example != nil {
		advice = "say it like this: " + p.example()
	}
	p.errors = append(p.errors, &Error{Line: t.line, Column: t.column, Length: t.length, Message: message, Advice: advice, From: t.from})
}

// here is the next token, or one past the last word of the clause.
func (p *parser) here() token {
	if p.position < len(p.tokens) {
		return p.tokens[p.position]
	}
	end := token{kind: endToken, line: 1, column: 1, length: 1}
	if len(p.tokens) > 0 {
		last := p.tokens[len(p.tokens)-1]
		end.line, end.column, end.from, end.to = last.line, last.column+last.length, last.to, last.to
	}
	return end
}

// ahead reports whether words stand here, without taking them.
func (p *parser) ahead(words string) bool {
	fields := strings.Fields(words)
	for i, word := range fields {
		at := p.position + i
		if at >= len(p.tokens) {
			p.expectAt(at, Expectation{Kind: ExpectWord, Suggestion: Suggestion{Text: strings.Join(fields[i:], " ")}})
			return false
		}
		if t := p.tokens[at]; t.kind != wordToken || !strings.EqualFold(t.text, word) {
			return false
		}
	}
	return true
}

func (p *parser) take(words string) bool {
	if !p.ahead(words) {
		return false
	}
	p.position += len(strings.Fields(words))
	return true
}

func (p *parser) need(word string) {
	if !p.failed && !p.take(word) {
		p.fail(p.here(), "expected the word "+word, "")
	}
}

// clause reads one line.
func (g *Grammar[D]) clause(p *parser, into *D) {
	first := p.here()
	c := g.begun(p)
	if c == nil {
		return
	}
	if c.New == nil {
		if before, twice := p.said[c.Name]; twice {
			p.fail(first, c.Name+" is said twice", fmt.Sprintf("it stands in line %d already", before.line))
		}
	}
	p.said[c.Name] = first
	p.example = func() string { return g.ExampleOf(c, p.columns) }
	about := any(into)
	if c.New != nil {
		about = c.New(into)
	}
	after := p.position
	for _, piece := range c.Pieces {
		if !p.failed {
			piece.parse(p, about)
		}
	}
	if alternatives := c.alternatives(); p.position == after && alternatives != "" { // all of it may be left out, and was
		p.fail(p.here(), "expected "+alternatives, "")
	}
	if p.failed {
		p.inClause(c.Name)
	}
	if rest := p.here(); rest.kind != endToken {
		advice := "begin a new line for the next clause, or say it like this: " + p.example()
		if rest.kind == markToken {
			advice = "put a column name that is not a plain word in double quotes"
		}
		p.fail(rest, shown(rest)+" is not expected here", advice)
	}
}

// inClause names the clause of the mistake that was found last, unless it is named.
func (p *parser) inClause(name string) {
	if len(p.errors) == 0 { // what could be typed next is asked, not what is wrong
		return
	}
	if last := p.errors[len(p.errors)-1]; strings.HasPrefix(last.Message, "expected ") {
		last.Message += ", behind " + name
	}
}

// alternatives are the words that the pieces of a clause begin with.
func (c *Clause[D]) alternatives() string {
	var list []string
	for _, piece := range c.Pieces {
		if _, silent := piece.(interface{ silent() }); silent { // the clause's name says enough
			return ""
		}
		if opening := piece.opening(); opening != "" {
			list = append(list, opening)
		}
	}
	return words.Or(list)
}

// begun finds the clause that the line begins, and takes its words.
func (g *Grammar[D]) begun(p *parser) *Clause[D] {
	first := p.here()
	var nearly []string // clauses of which the first word stands there
	for i := range g.Clauses {
		c := &g.Clauses[i]
		for _, name := range append([]string{c.Name}, c.Also...) {
			if p.take(name) {
				return c
			}
			if begin, rest, more := strings.Cut(name, " "); more && first.kind == wordToken && strings.EqualFold(begin, first.text) {
				nearly = append(nearly, rest)
			}
		}
	}
	if p.quiet {
		p.failed = true
		return nil
	}
	if nearly != nil {
		p.position++
		p.example = func() string { return strings.ToLower(first.text) + " " + nearly[0] }
		p.fail(p.here(), "expected "+words.Or(nearly), "")
		return nil
	}
	var names []string
	for _, c := range g.Clauses {
		if name := c.words()[0]; !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	advice := "a clause begins with " + words.Or(names)
	if near := words.Nearest(first.text, names); near != "" && len(first.text) > 2 {
		advice = fmt.Sprintf("did you mean %s?", near)
	}
	p.fail(first, "no clause begins with "+shown(first), advice)
	return nil
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

func (p *parser) column() string {
	t := p.here()
	p.expect(Expectation{Kind: ExpectColumn})
	if t.kind != wordToken && t.kind != nameToken {
		p.fail(t, "expected a column", "")
		return ""
	}
	p.position++
	if t.text == "" {
		p.fail(t, "a column's name is not empty", "")
	}
	if p.columns == nil {
		return t.text
	}
	if p.quiet {
		name := p.named[strings.ToLower(t.text)]
		p.failed = name == ""
		return name
	}
	c := p.columns.Said(t.text)
	if c == nil {
		message, advice := words.UnknownColumn(t.text, p.columns.Names())
		p.fail(t, message, advice)
		return ""
	}
	return c.Name
}

func (p *parser) number() float64 {
	t := p.here()
	if t.kind != numberToken {
		p.fail(t, "expected a number", "")
		return math.NaN()
	}
	p.position++
	return t.number
}

func (p *parser) text() string {
	t := p.here()
	if t.kind != textToken {
		p.fail(t, "expected a text in single quotes", "")
		return ""
	}
	p.position++
	return t.text
}
