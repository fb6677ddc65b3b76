// Package prepare gets a table into shape: clauses that read, leave out, keep, work
// out, join, order, group, stack and sort, each a line of text, applied one after
// the other. The table that is given is never changed.
//
// A worked example:
//
//	leave out missing honey_kg
//	keep season >= 2029 and district in ('Brindle', 'Tarn')
//	work out income = honey_kg * price
//	for each district: mean_income = mean(income), hives = count()
//	sort by mean_income descending
package prepare

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/formula"
	"copperlark/core/table"
)

// Clause is one step of a preparation; one that is off is kept and not applied.
type Clause struct {
	Text string `json:"text" maxLength:"10000"`
	Off  bool   `json:"off,omitempty"`
}

// Effect is what a clause did.
type Effect struct {
	Before int    `json:"before" doc:"rows before the clause"`
	After  int    `json:"after" doc:"rows after it"`
	Faults int    `json:"faults,omitempty" doc:"values that an operation did not have, such as a division by zero"`
	Words  string `json:"words" doc:"what it did, in a few words"`
}

// Mistake is an error in a clause. From and To count characters of the clause from 0.
type Mistake struct {
	Clause  int    `json:"clause" doc:"the clause at fault, 0 for the first"`
	From    int    `json:"from"`
	To      int    `json:"to"`
	Message string `json:"message"`
	Advice  string `json:"advice"`
}

func (e *Mistake) Error() string { return e.Message }

// offMark begins a clause that is switched off, in the typed form.
const offMark = "off "

// Parse cuts a typed preparation into clauses, one a line. A line that begins with
// "off" is a clause that is switched off; an empty line is passed over.
func Parse(typed string) []Clause {
	var clauses []Clause
	for _, line := range strings.Split(strings.ReplaceAll(typed, "\r\n", "\n"), "\n") {
		line = strings.TrimSpace(line)
		if line == "" {
			continue
		}
		c := Clause{Text: line}
		if len(line) > len(offMark) && strings.EqualFold(line[:len(offMark)], offMark) {
			c = Clause{strings.TrimSpace(line[len(offMark):]), true}
		}
		clauses = append(clauses, c)
	}
	return clauses
}

// Print is the typed form of a preparation.
func Print(clauses []Clause) string {
	var typed strings.Builder
	for _, c := range clauses {
		if c.Off {
			typed.WriteString(offMark)
		}
		typed.WriteString(c.Text + "\n")
	}
	return typed.String()
}

// Run applies clauses to a table. Random expressions draw from the seed. On a
// mistake it gives an *Mistake that names the clause, and the effects so far.
func Run(ctx context.Context, t *table.Table, clauses []Clause, seed uint64) (*table.Table, []Effect, error) {
	effects := make([]Effect, 0, len(clauses))
	for i, c := range clauses {
		if err := ctx.Err(); err != nil {
			return nil, effects, err
		}
		if c.Off {
			effects = append(effects, Effect{Before: t.Rows(), After: t.Rows(), Words: "switched off"})
			continue
		}
		next, effect, err := apply(ctx, t, c.Text, seed+uint64(i))
		if err != nil {
			var mistake *Mistake
			var inFormula *formula.Error
			switch {
			case errors.As(err, &mistake):
				mistake.Clause = i
			case errors.As(err, &inFormula):
				err = &Mistake{i, inFormula.From, inFormula.To, inFormula.Message, inFormula.Advice}
			}
			return nil, effects, err
		}
		effect.Before, effect.After = t.Rows(), next.Rows()
		effects = append(effects, effect)
		t = next
	}
	return t, effects, nil
}

// kinds of clause by their first words, with an example each.
var kinds = []struct {
	words   string
	example string
	run     func(*clause) (*table.Table, Effect)
}{
	{"take", "take hive_seasons", (*clause).take},
	{"read", "read fed as yes/no", (*clause).read},
	{"leave out missing", "leave out missing honey_kg, forage_ha", (*clause).leaveOut},
	{"keep top", "keep top 12 item by sum(income), rest as 'Other'", (*clause).keepTop},
	{"keep", "keep season >= 2029 and district in ('Brindle', 'Tarn')", (*clause).keep},
	{"work out", "work out income = honey_kg * price", (*clause).workOut},
	{"join names", "join names district, hive_type into plot_group", (*clause).joinNames},
	{"order", "order district by mean(honey_kg)", (*clause).order},
	{"for each", "for each season, district: mean_yield = mean(honey_kg), hives = count()", (*clause).forEach},
	{"stack", "stack hive_1 to hive_6 into hive, weight_kg", (*clause).stack},
	{"sort by", "sort by income descending", (*clause).sortBy},
	{"drop duplicates", "drop duplicates of apiary, season", (*clause).dropDuplicates},
}

// Examples lists the kinds of clause with an example each, for help.
func Examples() [][2]string {
	var list [][2]string
	for _, k := range kinds {
		list = append(list, [2]string{k.words, k.example})
	}
	return list
}

// clause is one clause being read and applied.
type clause struct {
	ctx      context.Context
	table    *table.Table
	seed     uint64
	runes    []rune
	tokens   []formula.Token
	position int
	example  string
}

func apply(ctx context.Context, t *table.Table, text string, seed uint64) (result *table.Table, effect Effect, err error) {
	tokens, err := formula.Tokens(text)
	if err != nil {
		return nil, effect, err
	}
	c := &clause{ctx: ctx, table: t, seed: seed, runes: []rune(text), tokens: tokens}
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
			result, effect = k.run(c)
			c.end()
			return result, effect, ctx.Err()
		}
	}
	var known []string
	for _, k := range kinds {
		known = append(known, k.words)
	}
	first := c.here()
	advice := "a clause begins with " + strings.Join(known, ", ")
	if near := chart.Nearest(first.Text, known); near != "" {
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
		message, advice := chart.UnknownColumn(name, c.table.Names())
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
