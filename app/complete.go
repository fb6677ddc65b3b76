package app

import (
	"context"
	"strings"
	"unicode"

	"copperlark/core/chart"
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

// Menu is what a pressed word of a chart's sentence offers.
type Menu struct {
	Title   string          `json:"title"`
	Find    string          `json:"find" doc:"what its search looks for"`
	Choices []Choice        `json:"choices"`
	Without *chart.Document `json:"without,omitempty" doc:"the chart without the word, where it can be taken out"`
	Measure string          `json:"measure,omitempty" doc:"the column that shares of spread are measured against"`
}

// Choice is something that could be said in the place of a word: a whole chart.
type Choice struct {
	Key      string          `json:"key"`
	Label    string          `json:"label"`
	Detail   string          `json:"detail,omitempty"`
	Also     string          `json:"also,omitempty" doc:"words that a search finds it by, too"`
	Column   string          `json:"column,omitempty" doc:"the column that it brings in"`
	Document *chart.Document `json:"document"`
	Current  bool            `json:"current"`
	Barred   string          `json:"barred,omitempty" doc:"why it cannot be chosen"`
}

// Addition is something that can be said next: a chart that says it, or a slot to open.
type Addition struct {
	Key      string          `json:"key"`
	Label    string          `json:"label"`
	Detail   string          `json:"detail"`
	Also     string          `json:"also,omitempty"`
	Document *chart.Document `json:"document,omitempty"`
	Opens    string          `json:"opens,omitempty"`
}

// Choices tells what pressing a word of a chart's sentence offers; a slot that offers no
// choices gives ErrNotFound.
func (a *App) Choices(ctx context.Context, spaceID, versionID int64, document *chart.Document, slot string) (out *Menu, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "choices", 0, func(_ context.Context, t *table.Table, _ Dataset) error {
		opened := sentence.Open(slot, document, t)
		if opened == nil {
			return ErrNotFound
		}
		out = &Menu{Title: opened.Menu.Title, Find: opened.Menu.Find, Without: opened.Without, Measure: opened.Measure, Choices: []Choice{}}
		for _, c := range opened.Choices {
			out.Choices = append(out.Choices, Choice{c.Key, c.Label, c.Detail, c.Also, c.Column, c.D, c.Current, c.Barred})
		}
		return nil
	})
	return out, err
}

// Additions tells what can be said next in a chart's sentence, the most useful first.
func (a *App) Additions(ctx context.Context, spaceID, versionID int64, document *chart.Document) (list []Addition, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "additions", 0, func(_ context.Context, t *table.Table, _ Dataset) error {
		list = []Addition{}
		for _, add := range sentence.Additions(document, t) {
			list = append(list, Addition{add.Key, add.Label, add.Detail, add.Also, add.D, add.Opens})
		}
		return nil
	})
	return list, err
}

// mostSuggestions is how many proposals are made at once.
const mostSuggestions = 9

// Complete says what could be typed next in the sentence of a chart, after what stands
// before the caret.
func (a *App) Complete(ctx context.Context, spaceID, versionID int64, before string) (out *Completion, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a completion", 0, func(_ context.Context, t *table.Table, _ Dataset) error {
		out = complete(t, before)
		return nil
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
