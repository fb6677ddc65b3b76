package app

import (
	"context"
	"strings"
	"unicode"

	"copperlark/core/clause"
	"copperlark/core/sentence"
	"copperlark/core/table"
)

// Completion is what could be typed next.
type Completion struct {
	Replace     int          `json:"replace" doc:"how many UTF-16 units before the caret a proposal takes the place of"`
	Suggestions []Suggestion `json:"suggestions"`
}

// Suggestion is words that could be typed.
type Suggestion struct {
	Text string `json:"text" doc:"to be put in the place of the word at the caret"`
	Name string `json:"name" doc:"as it is shown"`
	Help string `json:"help"`
	Kind string `json:"kind,omitempty" doc:"of a column"`
}

// mostSuggestions is how many proposals are made at once.
const mostSuggestions = 9

// Complete says what could be typed next in the sentence of a chart, after what stands
// before the caret.
func (a *App) Complete(ctx context.Context, spaceID, versionID int64, before string) (out *Completion, err error) {
	err = a.on(ctx, spaceID, versionID, "a completion", 0, func(ctx context.Context, t *table.Table, d Dataset) error {
		if t, err = a.spelled(ctx, t, d); err == nil {
			out = complete(t, before)
		}
		return err
	})
	return out, err
}

func complete(t *table.Table, before string) *Completion {
	expected, replace, word := sentence.Expected(before)
	out := &Completion{Replace: replace, Suggestions: []Suggestion{}}
	add := func(s Suggestion) {
		if len(out.Suggestions) < mostSuggestions {
			out.Suggestions = append(out.Suggestions, s)
		}
	}
	for _, e := range expected {
		if e.Kind == clause.ExpectWord {
			if lower := strings.ToLower(strings.TrimSpace(e.Text)); strings.HasPrefix(lower, word) && lower != word {
				add(Suggestion{Text: strings.TrimRight(e.Text, " ") + " ", Name: strings.TrimSpace(e.Text), Help: e.Help})
			}
			continue
		}
		for _, c := range t.Columns() {
			if !begunBy(c.Name, word) && !begunBy(c.ReadableName(), word) {
				continue
			}
			help := c.Unit
			if readable := c.ReadableName(); readable != c.Name {
				help = strings.Join(strings.Fields(readable+" · "+c.Unit), " ")
				help = strings.TrimSuffix(help, " ·")
			}
			add(Suggestion{Text: sentence.ColumnText(c.Name), Name: c.Name, Help: help, Kind: string(c.Kind)})
		}
	}
	return out
}

// begunBy reports whether a name, or one of its words, begins with what is typed.
func begunBy(name, word string) bool {
	name = strings.ToLower(name)
	if strings.HasPrefix(name, word) {
		return true
	}
	for _, part := range strings.FieldsFunc(name, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }) {
		if strings.HasPrefix(part, word) {
			return true
		}
	}
	return false
}
