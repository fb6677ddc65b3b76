package app

import (
	"context"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf16"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/prepare"
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
	err = a.onSpelled(ctx, spaceID, versionID, "choices", 0, func(ctx context.Context, t *shown, of Dataset) error {
		opened := sentence.Open(slot, document, t.Table)
		if opened == nil {
			return ErrNotFound
		}
		out = &Menu{Title: opened.Menu.Title, Find: opened.Menu.Find, Without: opened.Without, Measure: opened.Measure, Choices: []Choice{}}
		for _, c := range opened.Choices {
			out.Choices = append(out.Choices, Choice{c.Key, c.Label, c.Detail, c.Also, c.Column, c.D, c.Current, c.Barred})
		}
		if name, at, _ := strings.Cut(slot, ":"); name == "also" {
			index, _ := strconv.Atoi(at) // the slot was opened
			others, err := a.otherChoices(ctx, spaceID, of.ID, document, t.Table, index)
			out.Choices = append(out.Choices, others...)
			return err
		}
		return nil
	})
	return out, err
}

// Additions tells what can be said next in a chart's sentence, the most useful first.
func (a *App) Additions(ctx context.Context, spaceID, versionID int64, document *chart.Document) (list []Addition, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "additions", 0, func(ctx context.Context, t *shown, of Dataset) error {
		list = []Addition{}
		for _, add := range sentence.Additions(document, t.Table) {
			list = append(list, Addition{add.Key, add.Label, add.Detail, add.Also, add.D, add.Opens})
		}
		others, err := a.otherAdditions(ctx, spaceID, of.ID, document, t.Table)
		list = append(list, others...)
		return err
	})
	return list, err
}

// mostSuggestions is how many proposals are made at once.
const mostSuggestions = 9

// Complete says what could be typed next in the sentence of a chart, after what stands
// before the caret.
func (a *App) Complete(ctx context.Context, spaceID, versionID int64, before string) (out *Completion, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a completion", 0, func(ctx context.Context, t *shown, _ Dataset) error {
		datasets, fault := a.datasetsAsked(ctx, spaceID)
		out = complete(t.Table, datasets, before)
		return *fault
	})
	return out, err
}

func complete(t *table.Table, datasets func() []Dataset, before string) *Completion {
	p := proposer{columns: t.Columns(), datasets: datasets, columnText: sentence.ColumnText, expected: sentence.Expected}
	return p.complete(before)
}

// CompletePreparation says what could be typed next in a preparation, after what stands
// before the caret. The clauses of the lines above decide what columns there are; where
// one of them has a mistake, those before it.
func (a *App) CompletePreparation(ctx context.Context, spaceID, versionID int64, before string) (out *Completion, err error) {
	above, line := "", before
	if at := strings.LastIndexByte(before, '\n'); at >= 0 {
		above, line = before[:at+1], before[at+1:]
	}
	err = a.tried(
		ctx,
		spaceID,
		versionID,
		"a completion",
		0,
		above,
		func(ctx context.Context, state *prepare.State, _ *prepare.Mistake, _ *table.Table, d Dataset) error {
			meanings, err := a.store.Meanings(ctx, d.ID)
			if err != nil {
				return err
			}
			datasets, fault := a.datasetsAsked(ctx, spaceID)
			p := proposer{
				columns:    meanings.spelled(state.Table).Columns(),
				columnText: prepare.ColumnText,
				expected:   prepare.Expected,
				datasets:   datasets,
			}
			out = p.complete(line)
			return *fault
		},
	)
	return out, err
}

// datasetsAsked lists the datasets of a space where a name of one could stand: most completions need
// none. The fault is that of listing them.
func (a *App) datasetsAsked(ctx context.Context, spaceID int64) (list func() []Dataset, fault *error) {
	fault = new(error)
	return func() (datasets []Dataset) {
		datasets, *fault = a.store.Datasets(ctx, spaceID)
		return datasets
	}, fault
}

// proposer knows what can be named, and what a language expects.
type proposer struct {
	columns    []*table.Column
	columnText func(name string) string
	expected   func(before string) (list []clause.Expectation, replace int, word string)
	datasets   func() []Dataset // nil: there are no others
}

// complete proposes what begins with the word being typed. Behind a word that is whole
// already it proposes what comes after it.
func (p proposer) complete(before string) *Completion {
	if level, open := insideText(before); open {
		return p.values(before, level)
	}
	expected, replace, word := p.expected(before)
	out := &Completion{Replace: replace, Suggestions: p.propose(before, expected, word)}
	whole := slices.IndexFunc(out.Suggestions, func(s Suggestion) bool { return strings.EqualFold(s.Name, word) })
	if word == "" || whole < 0 {
		return out
	}
	expected, _, _ = p.expected(before + " ")
	next := p.propose(before, expected, "")
	for i, s := range next {
		if !strings.HasPrefix(s.Text, ",") {
			next[i].Text = " " + s.Text
		}
	}
	if len(out.Suggestions) == 1 {
		return &Completion{Suggestions: next}
	}
	// The word is whole and begins others, too: what comes after it, then these.
	text := strings.TrimRight(out.Suggestions[whole].Text, " ")
	for i := range next {
		next[i].Text = text + next[i].Text
	}
	next = append(next, slices.Delete(out.Suggestions, whole, whole+1)...)
	out.Suggestions = next[:min(len(next), mostSuggestions)]
	return out
}

// propose makes what is expected into proposals that begin with a word.
func (p proposer) propose(before string, expected []clause.Expectation, word string) []Suggestion {
	list := []Suggestion{}
	for _, e := range expected {
		switch e.Kind {
		case clause.ExpectWord:
			if lower := strings.ToLower(strings.TrimSpace(e.Text)); strings.HasPrefix(lower, word) && lower != word {
				text := strings.TrimRight(e.Text, " ")
				if !strings.HasSuffix(text, "(") {
					text += " "
				}
				list = append(list, Suggestion{Text: text, Name: strings.TrimSpace(e.Text), Help: e.Help})
			}
		case clause.ExpectTable:
			if p.datasets == nil {
				continue
			}
			for _, d := range p.datasets() {
				if begunBy(d.Name, word) || strings.HasPrefix(oneWord(d.Name), word) {
					list = append(list, Suggestion{Text: oneWord(d.Name), Name: oneWord(d.Name), Help: d.Name})
				}
			}
		case clause.ExpectGroup:
			list = append(list, p.groups(before, "")...)
		default:
			list = append(list, p.named(word)...)
			if e.Kind == clause.ExpectValue && word != "" {
				list = append(list, functions(word)...)
			}
		}
	}
	return list[:min(len(list), mostSuggestions)]
}

// named are the columns whose name begins with a word, those by their stored name first.
func (p proposer) named(word string) []Suggestion {
	var first, then []Suggestion
	for _, c := range p.columns {
		help := c.Unit
		if readable := c.ReadableName(); readable != c.Name {
			help = strings.Join(strings.Fields(readable+" · "+c.Unit), " ")
			help = strings.TrimSuffix(help, " ·")
		}
		s := Suggestion{Text: p.columnText(c.Name), Name: c.Name, Help: help, Kind: string(c.Kind)}
		switch {
		case strings.HasPrefix(strings.ToLower(c.Name), word):
			first = append(first, s)
		case begunBy(c.Name, word) || begunBy(c.ReadableName(), word):
			then = append(then, s)
		}
	}
	return append(first, then...)
}

func functions(word string) (list []Suggestion) {
	for _, f := range formula.Functions() {
		if strings.HasPrefix(f.Name, word) {
			list = append(list, Suggestion{Text: f.Name + "(", Name: f.Name + "()", Help: f.Help + ", as in " + f.Example})
		}
	}
	return list
}

// insideText reports whether the caret stands in a text in single quotes, and what of it
// is typed.
func insideText(before string) (typed string, open bool) {
	line := before[strings.LastIndexByte(before, '\n')+1:]
	var quote rune
	from := 0
	for i, r := range line {
		switch {
		case quote == 0 && (r == '"' || r == '\''):
			quote, from = r, i+1
		case r == quote:
			quote = 0
		}
	}
	return line[min(from, len(line)):], quote == '\''
}

// values proposes groups of the column that the line named last.
func (p proposer) values(before, typed string) *Completion {
	return &Completion{Replace: len(utf16.Encode([]rune(typed))) + 1, Suggestions: p.groups(before[:len(before)-len(typed)], typed)}
}

// groups are the groups of the column that the line named last that begin with what is
// typed, those that the line says already left out.
func (p proposer) groups(before, typed string) []Suggestion {
	list, said := []Suggestion{}, before[strings.LastIndexByte(before, '\n')+1:]
	line := strings.ToLower(said)
	var last *table.Column
	at := -1
	for _, c := range p.columns {
		if found := strings.LastIndex(line, strings.ToLower(c.Name)); c.Kind.Coded() && found > at {
			last, at = c, found
		}
	}
	if last == nil {
		return list
	}
	for _, level := range last.Levels {
		text := "'" + strings.ReplaceAll(level, "'", "''") + "'"
		if len(list) < mostSuggestions && strings.HasPrefix(strings.ToLower(level), strings.ToLower(typed)) &&
			!strings.Contains(said, text) {
			list = append(list, Suggestion{Text: text, Name: level, Help: last.ReadableName()})
		}
	}
	return list
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
