package sentence

import (
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"sync"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/table"
)

// Error is a mistake in a typed sentence.
type Error = clause.Error

// Parse reads a typed sentence. Column names are looked up in the columns of a
// table, by stored or by readable name; no table accepts any name. What is not written clause by clause is
// understood as people say it (see Heard). Every mistake that can be told apart is reported; the document is
// nil when there is one.
func Parse(typed string, columns *table.Table) (*chart.Document, []*Error) {
	d, mistakes := grammar.Parse(typed, columns)
	if mistakes != nil && columns != nil {
		d, mistakes = heardOr(typed, columns, mistakes)
	}
	if d != nil {
		d.Version = chart.Version
	}
	return d, mistakes
}

// heardOr is a sentence as it is said freely; where that is not understood either, the mistakes of the way in which more of
// it was.
func heardOr(typed string, columns *table.Table, mistakes []*Error) (*chart.Document, []*Error) {
	clauses, mistake := Heard(typed, columns)
	if mistake != nil {
		if mistake.From <= mistakes[0].From {
			return nil, mistakes
		}
		return nil, []*Error{mistake}
	}
	d, wrong := grammar.Parse(clauses, columns)
	if wrong == nil {
		return d, nil
	}
	if slices.ContainsFunc(mistakes, func(m *Error) bool { return m.Message == wrong[0].Message }) {
		return nil, mistakes
	}
	first, _, _ := strings.Cut(typed, "\n")
	return nil, []*Error{{Line: 1, Column: 1, Length: max(1, len([]rune(first))), Message: wrong[0].Message, Advice: wrong[0].Advice}}
}

// AtRandom gives a document that says what to plot and so many clauses more, at random, of
// columns of these names: for trying whatever can be said on tables of any kind.
func AtRandom(source *rand.Rand, clauses int, columns []string) *chart.Document {
	d := &chart.Document{Version: chart.Version}
	plotClause.DrawInto(source, d, columns)
	for range clauses {
		grammar.Clauses[source.IntN(len(grammar.Clauses))].DrawInto(source, d, columns)
	}
	return d
}

// Print writes the typed form of a document, one clause a line.
func Print(d *chart.Document) string { return grammar.Print(d) }

// Renamed is a document whose columns are called otherwise, wherever it names them.
func Renamed(d *chart.Document, names map[string]string) (*chart.Document, []*Error) {
	return Parse(grammar.PrintRenamed(d, names, formula.Renamed), nil)
}

// Expected gives what could be typed next after the beginning of a sentence (see
// clause.Grammar).
func Expected(before string) (list []clause.Expectation, replace int, word string) {
	list, replace, word = grammar.Expected(before)
	head := strings.TrimRight(strings.TrimSuffix(strings.ToLower(before), word), " \t")
	if len(word) < leastHeard || head != "" && !strings.HasSuffix(head, "\n") {
		return list, replace, word
	}
	first := func(text string) string { return strings.Split(text, " ")[0] }
	for _, opening := range openings() { // what people say without knowing the clause
		same := func(e clause.Expectation) bool { return first(e.Text) == first(opening.Text) }
		if strings.HasPrefix(opening.Text, word) && !slices.ContainsFunc(list, same) {
			list = append(list, clause.Expectation{Suggestion: clause.Suggestion{Text: opening.Text, Help: "the same as: " + opening.Is}})
		}
	}
	return list, replace, word
}

// leastHeard is from how many letters on free wordings are proposed, too: before, clauses alone are.
const leastHeard = 2

// held is what a wording holds.
var held = regexp.MustCompile(`\{[^}]*\}`)

// openings are how free wordings begin, each once.
var openings = sync.OnceValue(func() (list []clause.Opening) {
	for _, w := range wordings() {
		if o := w.Opening(); o.Text != "" && !strings.Contains(o.Text, "(") {
			o.Is = held.ReplaceAllString(strings.NewReplacer(";", ", ", "[", "", "]", "").Replace(o.Is), "…")
			if !slices.ContainsFunc(list, func(other clause.Opening) bool { return other.Text == o.Text }) {
				list = append(list, o)
			}
		}
	}
	return list
})

// ColumnText writes a column's name as a typed sentence reads it.
func ColumnText(name string) string { return grammar.ColumnText(name) }
