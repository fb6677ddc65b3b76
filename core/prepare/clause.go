package prepare

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"copperlark/core/formula"
	"copperlark/core/table"
	"copperlark/core/words"
)

// clause is one clause being read and applied.
type clause struct {
	ctx         context.Context
	table       *table.Table
	seed        uint64
	environment Environment
	runes       []rune
	tokens      []formula.Token
	position    int
	example     string

	result *table.Table
	rows   []int // for each row of the result the row of the table that it was; nil: the same rows
	fresh  bool  // rows of the result are no rows of the table
}

func apply(ctx context.Context, t *table.Table, text string, position int, environment Environment) (c *clause, effect Effect, err error) {
	tokens, err := formula.Tokens(text)
	if err != nil {
		return nil, effect, err
	}
	c = &clause{ctx: ctx, table: t, seed: environment.Seed + uint64(position), environment: environment, runes: []rune(text), tokens: tokens}
	defer func() {
		if fault := recover(); fault != nil {
			mistake, ours := fault.(*Mistake)
			if !ours {
				panic(fault)
			}
			err = mistake
		}
	}()
	for _, k := range kinds {
		if c.words(strings.Fields(k.words)...) {
			c.example = k.example
			c.result, effect = k.run(c)
			c.end()
			return c, effect, ctx.Err()
		}
	}
	var known []string
	for _, k := range kinds {
		known = append(known, k.words)
	}
	first := c.here()
	advice := "a clause begins with " + strings.Join(known, ", ")
	if near := words.Nearest(first.Text, known); near != "" {
		advice = fmt.Sprintf("did you mean %s?", near)
	}
	c.fail(first, fmt.Sprintf("no clause begins with %s", first.Text), advice)
	return nil, effect, nil
}

func (c *clause) fail(t formula.Token, message, advice string) {
	if advice == "" {
		advice = "say it like this: " + c.example
	}
	panic(&Mistake{From: t.From, To: max(t.To, t.From+1), Message: message, Advice: advice})
}

// check turns an error of an expression that stands from a character on into one of
// the clause.
func (c *clause) check(err error, from int) {
	var mistake *formula.Error
	if errors.As(err, &mistake) {
		panic(&Mistake{From: from + mistake.From, To: from + mistake.To, Message: mistake.Message, Advice: mistake.Advice})
	}
	if err != nil {
		c.fail(formula.Token{From: from, To: from + 1}, err.Error(), "")
	}
}

func (c *clause) here() formula.Token {
	if c.position < len(c.tokens) {
		return c.tokens[c.position]
	}
	return formula.Token{From: len(c.runes), To: len(c.runes) + 1}
}

func (c *clause) ended() bool { return c.position >= len(c.tokens) }

func (c *clause) end() {
	if !c.ended() {
		c.fail(c.here(), fmt.Sprintf("%s is not expected here", c.here().Text), "")
	}
}

func (c *clause) words(words ...string) bool {
	for i, word := range words {
		if c.position+i >= len(c.tokens) {
			return false
		}
		t := c.tokens[c.position+i]
		if t.Quoted || t.IsText || !strings.EqualFold(t.Text, word) {
			return false
		}
	}
	c.position += len(words)
	return true
}

func (c *clause) need(word string) {
	if !c.words(word) {
		c.fail(c.here(), "expected "+word, "")
	}
}

// name reads a name that need not be that of a column yet.
func (c *clause) name() (string, formula.Token) {
	t := c.here()
	if c.ended() || t.IsText || t.IsNumber || t.Text == "" {
		c.fail(t, "expected a name", "")
	}
	c.position++
	return t.Text, t
}

func (c *clause) column() *table.Column {
	name, t := c.name()
	found := c.table.Column(name)
	if found == nil {
		message, advice := words.UnknownColumn(name, c.table.Names())
		c.fail(t, message, advice)
	}
	return found
}

func (c *clause) columns() []*table.Column {
	list := []*table.Column{c.column()}
	for c.words(",") {
		list = append(list, c.column())
	}
	return list
}

func (c *clause) text() string {
	t := c.here()
	if !t.IsText {
		c.fail(t, "expected a text in single quotes", "")
	}
	c.position++
	return t.Text
}

// rest is the text from here to the end, or to one of the stops outside brackets.
func (c *clause) rest(stops ...string) (text string, from int) {
	start := c.here().From
	depth := 0
	for !c.ended() {
		t := c.here()
		plain := !t.IsText && !t.Quoted
		if plain && depth == 0 {
			for _, stop := range stops {
				if strings.EqualFold(t.Text, stop) {
					return string(c.runes[start:t.From]), start
				}
			}
		}
		if plain && t.Text == "(" {
			depth++
		}
		if plain && t.Text == ")" {
			depth--
		}
		c.position++
	}
	return string(c.runes[start:]), start
}

// with gives the table with a column added, or put in the place of its namesake.
func (c *clause) with(column *table.Column) *table.Table {
	columns := make([]*table.Column, 0, len(c.table.Columns())+1)
	replaced := false
	for _, old := range c.table.Columns() {
		if old.Name == column.Name {
			old, replaced = column, true
		}
		columns = append(columns, old)
	}
	if !replaced {
		columns = append(columns, column)
	}
	return c.build(columns)
}

func (c *clause) build(columns []*table.Column) *table.Table {
	t, err := table.New(columns...)
	if err != nil {
		c.fail(formula.Token{To: len(c.runes)}, err.Error(), "choose another name")
	}
	return t
}
