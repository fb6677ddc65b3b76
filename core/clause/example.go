package clause

import (
	"slices"
	"strings"

	"copperlark/core/magnitude"
	"copperlark/core/table"
)

// StandIn is a column that examples name, in whose place a column of the table at hand is quoted.
type StandIn struct {
	Name   string
	Groups bool     // one of groups, not of numbers
	Values []string // that examples quote of it
}

// ExampleOf is a clause's example with columns of a table in the place of those that it names. What the table has is quoted as
// it stands; of a table without columns of that kind, any column is.
func (g *Grammar[D]) ExampleOf(c *Clause[D], columns *table.Table) string {
	return g.quoting(c.Example, columns)
}

func (g *Grammar[D]) quoting(example string, columns *table.Table) string {
	if columns == nil || len(columns.Columns()) == 0 || len(g.StandIns) == 0 {
		return example
	}
	instead := g.instead(columns)
	tokens, err := lex(example)
	if err != nil || len(tokens) != 1 {
		return example
	}
	runes := []rune(example)
	var out strings.Builder
	at := 0
	var last *table.Column // the column that was named last
	for _, t := range tokens[0] {
		text := ""
		switch {
		case t.kind == wordToken && instead[t.text] != nil:
			last = instead[t.text]
			text = (&writer{reserved: g.reserved}).columnName(last.Name)
		case t.kind == textToken:
			text = g.valueInstead(t.text, instead)
		case t.kind == numberToken && last != nil && at > 0 && strings.ContainsAny(string(runes[max(0, t.from-2):t.from]), "=<>"):
			text = middleOf(last)
		}
		if text != "" {
			out.WriteString(string(runes[at:t.from]) + text)
			at = t.to
		}
	}
	return out.String() + string(runes[at:])
}

// instead are the columns of a table that are quoted in the place of others.
func (g *Grammar[D]) instead(columns *table.Table) map[string]*table.Column {
	var numbers, groups []*table.Column
	for _, c := range columns.Columns() {
		switch {
		case len([]rune(c.Name)) > longestQuoted:
		case c.Kind.Coded() && len(c.Levels) > 0:
			groups = append(groups, c)
		case c.Kind.Quantity():
			numbers = append(numbers, c)
		}
	}
	any := columns.Columns()
	list := map[string]*table.Column{}
	next := map[bool]int{}
	for _, s := range g.StandIns {
		if c := columns.Column(s.Name); c != nil {
			list[s.Name] = c
			continue
		}
		of := numbers
		if s.Groups {
			of = groups
		}
		if len(of) == 0 {
			of = any
		}
		list[s.Name] = of[next[s.Groups]%len(of)]
		next[s.Groups]++
	}
	return list
}

// longestQuoted is how many letters a name has at most that is quoted in an example, where there is a shorter one.
const longestQuoted = 40

// valueInstead is a value that is quoted in the place of another; empty: the text is no value of a column.
func (g *Grammar[D]) valueInstead(text string, instead map[string]*table.Column) string {
	for _, s := range g.StandIns {
		i := slices.Index(s.Values, text)
		c := instead[s.Name]
		if i < 0 || c == nil || len(c.Levels) == 0 {
			continue
		}
		if slices.ContainsFunc(s.Values, func(value string) bool { return !slices.Contains(c.Levels, value) }) {
			return quotedText(c.Levels[i%len(c.Levels)])
		}
	}
	return ""
}

// middleOf is a number amid those of a column, of few digits; empty: it has none.
func middleOf(c *table.Column) string {
	low, high := 0.0, 0.0
	found := false
	for _, v := range c.Numbers[:min(len(c.Numbers), mostLooked)] {
		if v-v != 0 { // missing, or no number
			continue
		}
		if !found {
			low, high, found = v, v, true
		}
		low, high = min(low, v), max(high, v)
	}
	if !found || c.Kind.Coded() || c.Kind == table.Date {
		return ""
	}
	return table.FormatNumber(magnitude.Digits(low/2+high/2, 3))
}

// mostLooked is at how many rows an example looks.
const mostLooked = 10_000
