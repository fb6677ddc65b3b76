package clause

import (
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf16"
)

// ExpectationKind tells what could stand at a place.
type ExpectationKind int

// The kinds of expectations.
const (
	ExpectWord   ExpectationKind = iota // words of the language
	ExpectColumn                        // a column's name
	ExpectValue                         // a column's name or a function, inside an expression
	ExpectTable                         // the name of another dataset
	ExpectGroup                         // a value of the column that was named last, in quotes
)

// Expectation is something that could be typed next.
type Expectation struct {
	Kind ExpectationKind
	Suggestion
}

// Suggestion is words that completion proposes, with what they do.
type Suggestion struct {
	Text string `json:"text" doc:"to be put in the place of the word at the caret"`
	Help string `json:"help,omitempty"`
}

// expect notes what could be typed where the text ends, while completing.
func (p *parser) expect(e Expectation) { p.expectAt(p.position, e) }

func (p *parser) expectAt(position int, e Expectation) {
	if p.completing && !p.failed && position == len(p.tokens) {
		p.expected = append(p.expected, e)
	}
}

// proposing tests whether a group of pieces begins here; where only the end of the text
// keeps it from that, the group's own suggestion stands for its first word.
func (p *parser) proposing(suggest Suggestion, test func() bool) bool {
	before := len(p.expected)
	found := test()
	if suggest.Text != "" && p.position == len(p.tokens) && len(p.expected) > before && p.expected[before].Kind == ExpectWord {
		p.expected = append(p.expected[:before], Expectation{ExpectWord, suggest})
	}
	return found
}

// partial is the word that is being typed: the end of a text before the caret.
var partial = regexp.MustCompile(`(?:"?[\p{L}_][\p{L}\p{M}\d_]*|")$`)

// Expected gives what could be typed next after a text, and the word that was begun: how
// many UTF-16 units of the text it takes, and its letters in lower case.
func (g *Grammar[D]) Expected(before string) (list []Expectation, replace int, word string) {
	begun := partial.FindString(before)
	head := strings.TrimSuffix(before, begun)
	lines, err := lex(head)
	if err != nil { // inside a text, or behind a mistake
		return nil, 0, ""
	}
	replace, word = len(utf16.Encode([]rune(begun))), strings.ToLower(strings.Trim(begun, `"`))
	p := &parser{completing: true, said: map[string]token{}, runes: []rune(head)}
	into := new(D)
	trimmed := strings.TrimRightFunc(head, func(r rune) bool { return unicode.IsSpace(r) && r != '\n' })
	if trimmed == "" || strings.HasSuffix(trimmed, "\n") {
		lines = append(lines, nil)
	}
	for i, line := range lines {
		p.tokens, p.position, p.failed = line, 0, false
		p.completing = i == len(lines)-1
		if len(line) > 0 {
			g.clause(p, into)
		}
	}
	if last := lines[len(lines)-1]; len(last) > 0 {
		return unique(p.expected), replace, word
	}
	for i := range g.Clauses {
		c := &g.Clauses[i]
		if _, said := p.said[c.Name]; said && c.New == nil {
			continue
		}
		list = append(list, Expectation{ExpectWord, Suggestion{c.Beginning(), c.Help}})
	}
	return list, replace, word
}

// Beginning is what begins a clause and surely stands there.
func (c *Clause[D]) Beginning() string {
	text := c.Name
	if _, silent := c.Pieces[0].(interface{ silent() }); silent && len(c.Pieces) == 1 {
		return text
	}
	if len(c.Pieces) > 0 {
		if opening := c.Pieces[0].opening(); opening != "" {
			text += " " + opening
		}
		return text + " "
	}
	return text
}

func unique(list []Expectation) []Expectation {
	var out []Expectation
	for _, e := range list {
		if !slices.ContainsFunc(out, func(o Expectation) bool { return o.Kind == e.Kind && o.Text == e.Text }) {
			out = append(out, e)
		}
	}
	return out
}
