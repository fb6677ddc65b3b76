package clause

import (
	"slices"
	"strings"

	"copperlark/core/table"
)

// Change is what becomes otherwise, in words: first the clauses that are named are no longer said, then lines are said
// on top of what is.
type Change struct {
	Drop []string `json:"drop,omitempty" maxItems:"60" doc:"names of clauses that are no longer said, as title, fit"`
	Say  []string `json:"say,omitempty" maxItems:"60" doc:"clauses, each as it is typed: a part that is said already changes, the rest of its clause stays"`
}

// Amended is what a D says after a change. What is dropped and not said changes nothing. A line takes the place of what its
// clause said, but adds to a clause that can be said several times, and sets what it names of a clause of parts: "x titled
// 'Area'" leaves the limits of x as they are. Mistakes are placed in the lines of the change. The D that is given stays as it is.
func (g *Grammar[D]) Amended(d *D, change Change, columns *table.Table) (*D, []*Error) {
	dropped := slices.Clone(change.Drop)
	for _, name := range dropped {
		if g.named(name) == nil {
			return nil, []*Error{{Line: 1, Column: 1, Length: 1, Message: "there is no clause " + name,
				Advice: "name it as a typed sentence begins it"}}
		}
	}
	typed := strings.Join(change.Say, "\n")
	lines, err := lex(typed)
	if err != nil {
		return nil, []*Error{err}
	}
	p := &parser{columns: columns, said: map[string]token{}, runes: []rune(typed)}
	for _, line := range lines {
		p.tokens, p.position = line, 0
		if c := g.begun(p); c != nil && c.New == nil && !c.Parts {
			dropped = append(dropped, c.Name)
		}
	}
	w := &writer{reserved: g.reserved}
	for i := range g.Clauses {
		if c := &g.Clauses[i]; !slices.Contains(dropped, c.Name) {
			c.lines(w, d)
		}
	}
	into := new(D)
	kept, err := lex(w.text.String())
	if err != nil {
		return nil, []*Error{err}
	}
	before := &parser{said: map[string]token{}, runes: []rune(w.text.String())}
	g.read(before, kept, into)
	p.errors = nil
	g.read(p, lines, into)
	if len(p.errors) > 0 {
		return nil, p.errors
	}
	if !said(before, g.First) && !said(p, g.First) {
		return nil, []*Error{{Line: 1, Column: 1, Length: 1, Message: g.Missing, Advice: g.MissingAdvice}}
	}
	return into, nil
}

func said(p *parser, clause string) bool { _, is := p.said[clause]; return is || clause == "" }

// named is the clause of a name; nil: there is none.
func (g *Grammar[D]) named(name string) *Clause[D] {
	for i := range g.Clauses {
		if g.Clauses[i].Name == name {
			return &g.Clauses[i]
		}
	}
	return nil
}

// read reads lines, on top of what is said.
func (g *Grammar[D]) read(p *parser, lines [][]token, into *D) {
	for _, line := range lines {
		if len(p.errors) >= mostMistakes {
			return
		}
		p.tokens, p.position, p.failed = line, 0, false
		g.clause(p, into)
	}
}

// mostMistakes is how many mistakes of a text are told: looking for what was meant takes longer than reading.
const mostMistakes = 50

// Clause tells how many tokens one of the grammar's clauses takes from a token on; 0 where none stands there.
func (g *Grammar[D]) Clause(h *Hearing, at int) int {
	end := at
	for end < len(h.tokens) && h.tokens[end].kind != endToken {
		end++
	}
	p := &parser{columns: h.Table, said: map[string]token{}, runes: h.runes, tokens: h.tokens[at:end], quiet: true, named: h.columns()}
	into := new(D)
	c := g.begun(p)
	if c == nil {
		return 0
	}
	about := any(into)
	if c.New != nil {
		about = c.New(into)
	}
	before := p.position
	for _, piece := range c.Pieces {
		piece.parse(p, about)
		if p.failed {
			return 0
		}
	}
	if p.position == before && c.alternatives() != "" {
		return 0
	}
	return p.position
}
