// Package clause is the machine of a typed language: what can be said is a list of
// clauses, each a list of pieces, and reading, writing, speaking, completing and drawing at
// random are interpreters of that list. To add a clause is to add one entry.
//
// A text has one clause a line. A column's name that is not a plain word, or that the
// language uses itself, stands in double quotes; texts stand in single quotes; a quote
// inside is doubled. Case does not matter in the language's own words.
//
//	grammar := clause.New(clause.Grammar[Chart]{Clauses: []clause.Clause[Chart]{
//		{Name: "colour", Pieces: []clause.Piece{clause.Say("by"), clause.Column(func(c *Chart) *string { return &c.Colour })},
//			Said: func(c *Chart) bool { return c.Colour != "" }, Help: "groups by colour", Example: "colour by district"},
//	}})
//	chart, mistakes := grammar.Parse("colour by district", columns)
package clause

import (
	"strings"

	"copperlark/core/table"
)

// Grammar is a language about a D.
type Grammar[D any] struct {
	Clauses []Clause[D]
	// First is the clause without which nothing is said, with the mistake when it is missing.
	First, Missing, MissingAdvice string

	// StandIns are the columns that examples name.
	StandIns []StandIn

	reserved map[string]bool // words that the grammar uses itself: a column of such a name is quoted
}

// New makes a grammar ready for use.
func New[D any](g Grammar[D]) *Grammar[D] {
	g.reserved = map[string]bool{}
	add := func(words string) {
		for _, word := range strings.Fields(words) {
			g.reserved[strings.ToLower(word)] = true
		}
	}
	for _, c := range g.Clauses {
		add(c.Name)
		for _, other := range c.Also {
			add(other)
		}
		for _, piece := range c.Pieces {
			piece.words(add)
		}
	}
	return &g
}

// Clause is one thing that can be said.
type Clause[D any] struct {
	Name    string   // the words that begin it
	Also    []string // other words that begin it
	Pieces  []Piece
	Help    string // what it does, in a few words
	Example string // a line that is right, for help and advice
	Trade   string // words of the trade that it is looked up by

	// Parts tells that what a change does not name of it stays as it is: each of its pieces begins with a word of its own.
	Parts bool

	// Said reports whether a D says it, so that it is written. A clause that can be said
	// several times gives what it is said of instead: Items, which are there, and New,
	// which begins another.
	Said  func(*D) bool
	Items func(*D) []any
	New   func(*D) any

	// Speak adds what a D says to the spoken form; nil where it is spoken as it is typed (Aloud), or another clause speaks of it.
	Speak func(*D, *Speech)
	Aloud Aloud
	// Changed says in a few words each what became otherwise; nil: the clause's name.
	Changed func(before, after *D, readable func(column string) string) []string
	// Menus are what its words open, and Add what of it can be said next.
	Menus []Menu[D]
	Add   func(d *D, t *table.Table) []Addition[D]
}

// Of is the clause that a D says first; nil when it says none.
func (g *Grammar[D]) Of(d *D) *Clause[D] {
	for i := range g.Clauses {
		if c := &g.Clauses[i]; c.Items != nil && len(c.Items(d)) > 0 || c.Said != nil && c.Said(d) {
			return c
		}
	}
	return nil
}

// words are the words of a clause's name.
func (c *Clause[D]) words() []string { return strings.Fields(c.Name) }

// Piece is a part of a clause. Pieces are made by the functions of this package and are
// about the D of their clause, or about an item of it.
type Piece interface {
	// parse reads the piece and sets what it says.
	parse(p *parser, into any)
	// begins reports whether the piece can begin with what is typed here.
	begins(p *parser) bool
	// print writes the piece as a D says it.
	print(w *writer, from any)
	// words tells the words of the language that the piece uses.
	words(add func(word string))
	// opening are the words that surely stand at its beginning.
	opening() string
	// draw sets the piece at random.
	draw(d *drawing, into any)
}
