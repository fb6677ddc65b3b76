package prepare

import (
	"context"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"copperlark/core/clause"
	"copperlark/core/table"
)

// TestEveryStepReadsBackAsItIsWritten draws steps of every clause of the list.
func TestEveryStepReadsBackAsItIsWritten(t *testing.T) {
	source := rand.New(rand.NewPCG(9, 3))
	for i := range grammar.Clauses {
		for range 300 {
			drawn := new(Step)
			grammar.Clauses[i].DrawInto(source, drawn, nil)
			typed := grammar.Print(drawn)
			back, mistakes := grammar.Parse(typed, nil)
			if mistakes != nil {
				t.Fatalf("%v\n%s", mistakes[0], typed)
			}
			if !reflect.DeepEqual(back, drawn) {
				t.Fatalf("written\n%s\ncomes back as\n%s", typed, grammar.Print(back))
			}
			if parts := Spoken(Clause{Text: typed}, strings.ToUpper); len(parts) < 1 || strings.TrimSpace(parts[0].Text) == "" {
				t.Fatalf("%s is spoken %v", typed, parts)
			}
		}
	}
}

// TestEveryKindHasHelpAnExampleAndCompletion walks over the examples with the caret: a
// word of the language that stands next is always proposed.
func TestEveryKindHasHelpAnExampleAndCompletion(t *testing.T) {
	for _, kind := range Kinds() {
		if kind.Help == "" || !strings.HasPrefix(kind.Example, kind.Name) {
			t.Errorf("%s has no help, or the example %s", kind.Name, kind.Example)
		}
		if _, mistakes := grammar.Parse(kind.Example, nil); mistakes != nil {
			t.Errorf("the example of %s: %v", kind.Name, mistakes[0])
		}
		words := strings.Fields(kind.Example)
		for i, word := range words {
			before := strings.Join(words[:i], " ")
			if i > 0 {
				before += " "
			}
			word, _, _ = strings.Cut(word, "(")
			free := strings.HasPrefix(before, "rename ") && strings.HasSuffix(before, " to ") || strings.HasSuffix(before, "into ") ||
				strings.HasSuffix(before, "work out ") || strings.HasSuffix(before, "take ") || strings.HasSuffix(before, "in ") ||
				strings.HasSuffix(before, ": ") || strings.HasSuffix(before, ", ") || strings.HasSuffix(before, "= ")
			if free || strings.ContainsAny(word, "'0123456789%<>=*") || strings.Count(before, "'")%2 == 1 { // a new name, a text, a number, a sign
				continue
			}
			list, _, _ := Expected(before)
			if !slices.ContainsFunc(list, func(e clause.Expectation) bool {
				return e.Kind != clause.ExpectWord || strings.HasPrefix(e.Text, strings.Trim(word, ",:"))
			}) {
				t.Errorf("after %q nothing begins with %s: %v", before, word, list)
			}
		}
	}
}

func TestWhatCouldBeTypedNextInAClause(t *testing.T) {
	for before, want := range map[string]string{
		"keep ":                      "top|columns|value",
		"keep kg > 3 ":               "and|or|not",
		"off ke":                     strings.Join(beginnings(), "|"),
		"read kg ":                   "as|with|in|meaning|called",
		"read kg as ":                "number|category|ordered|yes/no|date|duration|text",
		"order kg by ":               strings.Join(aggregateNames, "(|") + "(",
		"order kg by mean(":          "value",
		"order kg by mean(kg) ":      "and|or|not|descending|ascending",
		"join ":                      "names|table",
		"join stands by ":            "column",
		"join stands by kg ":         "=|,|, nearest before|keeping matched rows",
		"for each ":                  "column|year of|quarter of|month of|week of|weekday of|day of|hour of",
		"for each kg: n = ":          strings.Join(aggregateNames, "(|") + "(",
		"make 3 rows ":               "in each of |with ",
		"leave out missing ":         "column",
		"drop duplicates ":           "of",
		"drop ":                      "columns|duplicates",
		"fill down kg ":              ",|within",
		"bin kg ":                    "at|in",
		"bin kg in 4 equal ":         "widths|counts",
		"sample 4 rows ":             "of each",
		"recode fed: ":               "group",
		"recode fed: 'no', ":         "group",
		"recode fed: 'no' as 'not' ": ",|; rest as ",
		"stack h1 ":                  "to|,|into",
		"keep top 3 kg by count() ":  "and|or|not|, rest as ",
		"read kg called 'Honey and ": "",
	} {
		list, _, _ := Expected(before)
		var texts []string
		for _, e := range list {
			texts = append(texts, map[clause.ExpectationKind]string{clause.ExpectWord: e.Text, clause.ExpectColumn: "column",
				clause.ExpectValue: "value", clause.ExpectTable: "table", clause.ExpectGroup: "group"}[e.Kind])
		}
		if got := strings.Join(texts, "|"); got != want {
			t.Errorf("after %q: %s, want %s", before, got, want)
		}
	}
}

func beginnings() (list []string) {
	for _, kind := range Kinds() {
		list = append(list, kind.Begins)
	}
	return list
}

func TestClausesAreSpoken(t *testing.T) {
	readable := func(column string) string {
		return map[string]string{"kg": "honey yield"}[column] + strings.Repeat(column, min(1, len(column)-2))
	}
	for typed, want := range map[string]string{
		"keep kg >= 3 and fed in ('a', 'b')":        "Keep rows where |honey yield is at least 3 and fed in (a, b)|",
		"leave out missing kg, price":               "Leave out rows missing |honey yield, price|",
		"work out income = kg * ln(price + 1)":      "Work out |income| = |honey yield * ln(price + 1)|",
		"sort by kg descending, fed":                "Sort by |honey yield|, the largest first, |fed|",
		"read fed as yes/no called 'Fed in autumn'": "Read |fed| as |yes / no|, called |Fed in autumn|",
		"for each fed: m = mean(kg), n = count()":   "For each |fed|: |m = mean(honey yield), n = count()|",
		"make 1 row":                                                 "Make |1 row|",
		"keep columns fed, kg":                                       "Keep the columns |fed, honey yield|",
		"rename kg to mass, fed to ate":                              "Rename |honey yield| to mass, |fed| to ate|",
		"fill down kg within fed":                                    "Fill down |honey yield| within |fed|",
		"sample 500 rows of each fed":                                "Sample |500 rows| of each |fed|",
		"bin kg in 4 equal counts into band":                         "Cut |honey yield| in 4 equal counts| into |band|",
		"recode fed: 'a', 'b' as 'x', 'c' as 'y'; rest as 'z'":       "Recode |fed|: |a, b| as x, |c| as y, the rest as z|",
		"keep kg >":                                                  "keep kg >|",
		"join weather by kg, day = on, nearest before within 3 days": "Join |weather| by |honey yield|, |day| = on, |the nearest before within 3 days|",
		"join stands by apiary = stand keeping matched rows":         "Join |stands| by |apiary| = stand, matched rows only|",
	} {
		var said strings.Builder
		for _, part := range Spoken(Clause{Text: typed}, readable) {
			said.WriteString(part.Text + "|")
		}
		if said.String() != want {
			t.Errorf("%s is spoken %s, want %s", typed, said.String(), want)
		}
	}
}

// reverseRows is a clause that only this test knows.
type reverseRows struct{}

func (*reverseRows) do(w *work) (*table.Table, Effect) {
	for i := w.table.Rows() - 1; i >= 0; i-- {
		w.rows = append(w.rows, i)
	}
	return w.table.Select(w.rows), Effect{Words: "turned round"}
}

// TestAddingAClauseIsOneEntry adds one to a copy of the list: it is read, done, spoken and
// completed without a word anywhere else.
func TestAddingAClauseIsOneEntry(t *testing.T) {
	before := grammar
	defer func() { grammar = before }()
	grammar = clause.New(clause.Grammar[Step]{Clauses: append(slices.Clone(before.Clauses),
		says(clause.Clause[Step]{Name: "turn the rows round", Help: "the last first", Example: "turn the rows round",
			Pieces: []clause.Piece{clause.Does(func(*reverseRows) {})}}, func(_ *reverseRows,
			s *clause.Speech) {
			s.Sentence("Turn the rows round")
		}))})
	state, err := Run(context.Background(), load(t), Parse("turn the rows round\nkeep kg > 9"), others)
	if err != nil || shown(state.Table, "apiary") != "category|A1~A4~A2~A1" {
		t.Errorf("%v %v", err, state.Table)
	}
	if parts := Spoken(Clause{Text: "turn the rows round"}, nil); parts[0].Text != "Turn the rows round" {
		t.Errorf("spoken %v", parts)
	}
	if list, _, _ := Expected("tu"); !slices.ContainsFunc(list, func(e clause.Expectation) bool { return e.Text == "turn the rows round" }) {
		t.Errorf("completed %v", list)
	}
}
