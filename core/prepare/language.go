package prepare

import (
	"strings"

	"copperlark/core/clause"
	"copperlark/core/table"
)

// Step is what one clause says.
type Step struct{ Action Action }

// Action is something that is done to a table.
type Action interface {
	do(w *work) (*table.Table, Effect)
}

// grammar is the list of what can be said of a table, one clause a line.
var grammar = clause.New(clause.Grammar[Step]{Clauses: []clause.Clause[Step]{
	makeClause, takeClause, readClause, leaveOutClause, keepTopClause, keepColumnsClause, keepClause, dropColumnsClause, renameClause,
	fillDownClause,
	workOutClause, binClause, recodeClause, joinNamesClause, orderClause, sampleClause, setAsideClause,
	forEachClause, forAllClause, joinClause, addRowsClause, stackClause, layOutClause, sortByClause, dropDuplicatesClause,
}})

// says makes a row of the list: a clause about an action of a type of its own, and how it
// is spoken.
func says[A any, P interface {
	*A
	Action
}](c clause.Clause[Step], speak func(a P, s *clause.Speech)) clause.Clause[Step] {
	c.New = func(step *Step) any {
		a := new(A)
		step.Action = P(a)
		return a
	}
	c.Items = func(step *Step) []any {
		if a, is := step.Action.(P); is {
			return []any{(*A)(a)}
		}
		return nil
	}
	c.Speak = func(step *Step, s *clause.Speech) {
		if a, is := step.Action.(P); is {
			speak(a, s)
		}
	}
	return c
}

// slot is what pressing a word of a spoken clause opens: the clause.
const slot = "clause"

// speakNames adds names of columns, with commas between them.
func speakNames(s *clause.Speech, names []string) {
	readable := make([]string, len(names))
	for i, name := range names {
		readable[i] = s.Readable(name)
	}
	s.Words(strings.Join(readable, ", "), slot)
}

// Spoken is a clause in words; readable gives what people call a column. A clause with a
// mistake is spoken as it is typed.
func Spoken(c Clause, readable func(column string) string) []clause.Part {
	step, mistakes := grammar.Parse(c.Text, nil)
	if mistakes != nil || step.Action == nil {
		return []clause.Part{{Text: c.Text}}
	}
	parts := grammar.Speak(step, clause.Voice{Readable: readable})
	last := &parts[len(parts)-1] // the end of the sentence stands behind what the clause did
	if last.Text = strings.TrimSuffix(last.Text, "."); last.Text == "" {
		parts = parts[:len(parts)-1]
	}
	return parts
}

// Expected gives what could be typed next at the end of a clause (see clause.Grammar).
func Expected(before string) (list []clause.Expectation, replace int, word string) {
	line, off := strings.TrimLeft(before, " "), false
	if len(line) >= len(offMark) && strings.EqualFold(line[:len(offMark)], offMark) {
		line, off = line[len(offMark):], true
	}
	list, replace, word = grammar.Expected(line)
	if !off && strings.HasPrefix("off", word) && !strings.Contains(line, " ") {
		list = append(
			list,
			clause.Expectation{
				Kind:       clause.ExpectWord,
				Suggestion: clause.Suggestion{Text: offMark, Help: "a clause that is kept and not applied"},
			},
		)
	}
	return list, replace, word
}

// ColumnText writes a column's name as a clause reads it.
func ColumnText(name string) string { return grammar.ColumnText(name) }

// Kind is a kind of clause: the words that begin it, what it does, and an example.
type Kind struct {
	Name    string `json:"name"`
	Begins  string `json:"begins" doc:"what surely stands at its beginning"`
	Help    string `json:"help"`
	Example string `json:"example"`
}

// Kinds lists the kinds of clause, for help and for choosing the next one.
func Kinds() []Kind {
	var list []Kind
	for i := range grammar.Clauses {
		c := &grammar.Clauses[i]
		list = append(list, Kind{c.Name, c.Beginning(), c.Help, c.Example})
	}
	return list
}

// Examples lists the kinds of clause with an example each.
func Examples() [][2]string {
	var list [][2]string
	for _, k := range Kinds() {
		list = append(list, [2]string{k.Name, k.Example})
	}
	return list
}

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
			c = Clause{Text: strings.TrimSpace(line[len(offMark):]), Off: true}
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
