package sentence

import (
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/clause"
)

// TestEveryDocumentReadsBackAsItIsWritten draws documents from the list of clauses.
func TestEveryDocumentReadsBackAsItIsWritten(t *testing.T) {
	source := rand.New(rand.NewPCG(9, 1))
	for range 5000 {
		drawn := grammar.Draw(source)
		drawn.Version = chart.Version
		typed := Print(drawn)
		back, mistakes := Parse(typed, nil)
		if mistakes != nil {
			t.Fatalf("%v\n%s", mistakes[0], typed)
		}
		if !reflect.DeepEqual(back, drawn) {
			t.Fatalf("written\n%s\ncomes back as\n%s", typed, Print(back))
		}
		Spoken(drawn, nil)
		Change(drawn, back, nil)
	}
}

// TestEveryClauseHasHelpAnExampleAndCompletion walks over the examples with the caret: a
// word of the language that stands next is always proposed.
func TestEveryClauseHasHelpAnExampleAndCompletion(t *testing.T) {
	for _, c := range grammar.Clauses {
		if c.Help == "" || c.Example == "" {
			t.Errorf("%s has no help or no example", c.Name)
		}
		typed := c.Example
		if c.Name != "plot" {
			typed = "plot a against b\n" + typed
		}
		if _, mistakes := Parse(typed, nil); mistakes != nil {
			t.Errorf("the example of %s: %v", c.Name, mistakes[0])
		}
		words := strings.Fields(c.Example)
		for i, word := range words {
			before := strings.Join(words[:i], " ")
			if i > 0 {
				before += " "
			}
			if strings.ContainsAny(word, "'0123456789%") || strings.Count(before, "'")%2 == 1 { // a text or a number
				continue
			}
			list, _, _ := Expected(before)
			proposed := slices.ContainsFunc(list, func(e clause.Expectation) bool {
				return e.Kind == clause.ExpectColumn || strings.HasPrefix(e.Text, word)
			})
			if !proposed {
				t.Errorf("after %q nothing begins with %s: %v", before, word, list)
			}
			begun, replace, letters := Expected(before + word[:1])
			if len(begun) != len(list) || replace != 1 || letters != strings.ToLower(word[:1]) {
				t.Errorf("after %q: %d, %q, %v", before+word[:1], replace, letters, begun)
			}
		}
	}
}

func TestWhatCouldBeTypedNext(t *testing.T) {
	for before, want := range map[string]string{
		"":                                    "plot |log x |log y |colour by |size by |shape by |opacity |fit |x from |y from |title |note ",
		"plot ":                               "column",
		"plot a ":                             "against",
		"plot a against b\n":                  "log x |log y |colour by |size by |shape by |opacity |fit |x from |y from |title |note ",
		"plot a against b\ncolour by g\nlog ": "x|y",
		"plot a against b\ncolour by g\nfit ": "line|curve|local|spline|robust line",
		"fit line ":                           "for each|overall|with band 95%|leaving out outliers",
		"fit line for each ":                  "column",
		"fit line for each g ":                "and overall|with band 95%|leaving out outliers",
		"fit curve ":                          "degree 2|for each|overall|with band 95%|leaving out outliers",
		"fit line with ":                      "prediction|confidence|band",
		"fit line with prediction ":           "band",
		"fit line with band 95% ":             "leaving out outliers",
		"x ":                                  "from |titled |in ",
		"x from 1 ":                           "to",
		"x from 1 to 5 ":                      "titled |in ",
		"title 'More ":                        "",
		"plot a against b and ":               "",
	} {
		list, _, _ := Expected(before)
		var texts []string
		for _, e := range list {
			if e.Kind == clause.ExpectColumn {
				e.Text = "column"
			}
			texts = append(texts, e.Text)
		}
		if got := strings.Join(texts, "|"); got != want {
			t.Errorf("after %q: %s, want %s", before, got, want)
		}
	}
}

// TestAddingAClauseIsOneEntry adds one to a copy of the list: it is read, written, drawn,
// completed and refused without a word anywhere else.
func TestAddingAClauseIsOneEntry(t *testing.T) {
	more := clause.New(clause.Grammar[document]{First: "plot", Clauses: append(slices.Clone(grammar.Clauses), clause.Clause[document]{
		Name: "under", Help: "a word under the chart", Example: "under the 'words'",
		Pieces: []clause.Piece{clause.Say("the"), clause.Text(func(d *document) *string { return &d.YAxis.Unit })},
		Said:   func(d *document) bool { return d.YAxis.Unit == "words" }})})
	const typed = "plot a against b\ny in 'words'\nunder the 'words'\n"
	d, mistakes := more.Parse(typed, nil)
	if mistakes != nil || more.Print(d) != typed {
		t.Errorf("%v %v", mistakes, d)
	}
	if _, mistakes = more.Parse("plot a against b\nunder a", nil); mistakes == nil || mistakes[0].Message != "expected the word the" || mistakes[0].Advice != "say it like this: under the 'words'" {
		t.Errorf("a mistake: %v", mistakes)
	}
	if list, _, _ := more.Expected("un"); !slices.ContainsFunc(list, func(e clause.Expectation) bool { return e.Text == "under the " && e.Help == "a word under the chart" }) {
		t.Errorf("completion: %v", list)
	}
	if quoted := more.Print(&document{X: "under", Y: "b"}); !strings.Contains(quoted, `"under"`) {
		t.Errorf("a column of the name is written %s", quoted)
	}
}
