package sentence

import (
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/table"
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
		Spoken(alone(drawn))
		Change(alone(drawn), alone(back))
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
			word, _, _ = strings.Cut(word, "(")
			if strings.ContainsAny(word, "'0123456789%<>=*+") || strings.Count(before, "'")%2 == 1 { // a text or a number
				continue
			}
			list, _, _ := Expected(before)
			proposed := slices.ContainsFunc(list, func(e clause.Expectation) bool {
				return e.Kind != clause.ExpectWord || strings.HasPrefix(e.Text, word)
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
	var marks []string
	for _, m := range mark.List {
		marks = append(marks, m.Name)
	}
	const clauses = "only rows |without rows |take out |as |log x |log y |near-linear at zero x|near-linear at zero y|colour by |size by |shape by |one colour |one size |one shape |outline |in front |palette |opacity |jitter |overlap |panels |step through |order |also plot |fit |line at |line y = |diagonal |band |interval |label |card |centres of |contours hold |bins |edges |x reversed|y reversed|x from |y from |ticks x |ticks y |look |text |weight |letters of |grid |axis lines |guides |key in order |key |paper |title |subtitle |note "
	for before, want := range map[string]string{
		"":                                    "of rows where |plot |" + clauses,
		"plot ":                               "spread of|count()|mean(|median(|sum(|column|y =",
		"plot mean(":                          "column",
		"plot a ":                             "as|,|against",
		"plot a as ":                          "number|groups",
		"of rows where ":                      "column",
		"of rows where a > 3 ":                "and|or|not",
		"of rows where a > 3 and ":            "column",
		"as ":                                 strings.Join(marks, "|"),
		"ticks x ":                            "at|every",
		"as line ":                            "and",
		"panels by g ":                        "each with own|in 3 columns",
		"line at ":                            "mean(|median(|y|x",
		"plot a against b\n":                  "of rows where |" + clauses,
		"plot a against b\ncolour by g\nlog ": "x|y",
		"plot a against b\ncolour by g\nfit ": "line|curve|local|spline|robust line",
		"fit line ":                           "for each|overall|with band 95%|leaving out outliers|in '#b4531a'|width 3|solid|dashed|dotted",
		"fit line for each ":                  "column",
		"fit line for each g ":                "and overall|with band 95%|leaving out outliers|in '#b4531a'|width 3|solid|dashed|dotted",
		"fit curve ":                          "degree 2|for each|overall|with band 95%|leaving out outliers|in '#b4531a'|width 3|solid|dashed|dotted",
		"fit line with ":                      "prediction|confidence|band",
		"fit line with prediction ":           "band",
		"fit line with band 95% ":             "leaving out outliers|in '#b4531a'|width 3|solid|dashed|dotted",
		"x ":                                  "reversed|from |titled |untitled|in |as 120k",
		"x from 1 ":                           "to",
		"x from 1 to 5 ":                      "titled |untitled|in |as 120k",
		"title 'More ":                        "",
		"plot a against b and ":               "",
	} {
		list, _, _ := Expected(before)
		var texts []string
		for _, e := range list {
			if e.Kind != clause.ExpectWord {
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
		Pieces: []clause.Piece{clause.Say("the"), clause.Text(func(d *document) *string { return &d.Scales.Y.Unit })},
		Said:   func(d *document) bool { return d.Scales.Y.Unit == "words" }})})
	const typed = "plot a against b\ny in 'words'\nunder the 'words'\n"
	d, mistakes := more.Parse(typed, nil)
	if mistakes != nil || more.Print(d) != typed {
		t.Errorf("%v: %s", mistakes, more.Print(d))
	}
	if _, mistakes = more.Parse("plot a against b\nunder a", nil); mistakes == nil || mistakes[0].Message != "expected the word the, behind under" ||
		mistakes[0].Advice != "say it like this: under the 'words'" {
		t.Errorf("a mistake: %v", mistakes)
	}
	if list, _, _ := more.Expected("un"); !slices.ContainsFunc(list, func(e clause.Expectation) bool {
		return e.Text == "under the " &&
			e.Help == "a word under the chart"
	}) {
		t.Errorf("completion: %v", list)
	}
	if quoted := more.Print(&document{X: chart.Variable{Column: "under"}, Y: chart.Variable{Column: "b"}}); !strings.Contains(quoted,
		`"under"`) {
		t.Errorf("a column of the name is written %s", quoted)
	}
}

// hives is a small table of every kind of column.
func hives(t *testing.T) *table.Table {
	t.Helper()
	stands, types := make([]string, 70), make([]string, 70)
	kg, ha, none := make([]float64, 70), make([]float64, 70), make([]float64, 70)
	for i := range stands {
		stands[i], types[i] = fmt.Sprint("S", i), []string{"long", "skep"}[i%2]
		kg[i], ha[i], none[i] = float64(i)+0.5, float64(i*i)-30.5, math.NaN()
	}
	stand := table.NewCategory("stand", stands)
	day := &table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: slices.Repeat([]float64{86400}, 70)}
	data, err := table.New(table.NewNumbers("kg", kg), table.NewNumbers("ha", ha), table.NewCategory("hive_type", types), stand, day,
		table.NewNumbers("none", none))
	if err != nil {
		t.Fatal(err)
	}
	return data
}

// TestEverySpokenWordOpensChoicesThatCanBeHonoured draws documents and presses every word:
// each choice can be drawn, or says why not, and one at most is said now.
func TestEverySpokenWordOpensChoicesThatCanBeHonoured(t *testing.T) {
	data := hives(t)
	source := rand.New(rand.NewPCG(9, 2))
	elsewhere := []string{"title", "subtitle", "note", "limits-x", "limits-y", "where"} // forms
	opened := map[string]bool{}
	for range 300 {
		d := grammar.Draw(source)
		names := data.Names()
		pick := func(at *string) {
			if *at != "" {
				*at = names[source.IntN(len(names))]
			}
		}
		for _, at := range []*string{&d.X.Column, &d.Y.Column, &d.Colour, &d.Size, &d.Shape} {
			pick(at)
		}
		for _, fit := range d.Fits() {
			pick(&fit.Each)
		}
		for i := range d.AlsoY {
			pick(&d.AlsoY[i])
		}
		for i := range d.Panels.By {
			pick(&d.Panels.By[i])
		}
		if d.Order != nil {
			pick(&d.Order.Column)
			pick(&d.Order.By)
		}
		d.Version, d.Scales.X.Limits, d.Scales.Y.Limits = chart.Version, nil, nil
		known := map[string]bool{}
		for _, p := range mark.Bind(d, data).Problems() {
			known[p.Message] = true
		}
		for _, part := range Spoken(mark.Bind(d, data)) {
			if part.Slot == "" || slices.Contains(elsewhere, part.Slot) {
				continue
			}
			menu := Open(part.Slot, d, data)
			if menu == nil || len(menu.Choices) == 0 {
				t.Fatalf("%s of %q opens nothing", part.Slot, Print(d))
			}
			name, _, _ := strings.Cut(part.Slot, ":")
			opened[name] = true
			current := 0
			for i, c := range menu.Choices {
				if i > 0 && c.Barred == "" && menu.Choices[i-1].Barred != "" {
					t.Errorf("%s of %q: %s can be chosen and stands behind %s, which cannot", part.Slot, Print(d), c.Label, menu.Choices[i-1].Label)
				}
				if c.Current {
					current++
				}
				if c.Barred != "" {
					continue
				}
				for _, p := range mark.Bind(c.D, data).Problems() {
					if !known[p.Message] {
						t.Errorf("%s: %s is offered in %q, and %s", part.Slot, c.Label, Print(d), p.Message)
					}
				}
			}
			if current > 1 {
				t.Errorf("%s of %q: %d choices are said now", part.Slot, Print(d), current)
			}
		}
		for _, add := range Additions(d, data) {
			if (add.D == nil) == (add.Opens == "") || add.Label == "" || add.Detail == "" {
				t.Errorf("%+v neither says nor opens", add)
			}
		}
	}
	for _, slot := range grammar.Slots() {
		if !opened[slot] {
			t.Errorf("no word opened %s", slot)
		}
	}
}

func parsed(t *testing.T, typed string) *chart.Document {
	t.Helper()
	d, mistakes := Parse(typed, nil)
	if mistakes != nil {
		t.Fatalf("%s: %v", typed, mistakes[0])
	}
	return d
}

func TestWhatAWordOffers(t *testing.T) {
	data := hives(t)
	said := parsed(t, "plot kg against ha\nlog x\ncolour by hive_type\nfit line\nx titled 'Old'")
	of := func(slot, key string) clause.Choice[chart.Document] {
		for _, c := range Open(slot, said, data).Choices {
			if c.Key == key {
				return c
			}
		}
		t.Fatalf("%s offers no %s", slot, key)
		return clause.Choice[chart.Document]{}
	}
	groups := of("x", "hive_type")
	if d := groups.D; d.X.Column != "hive_type" || !reflect.DeepEqual(d.Scales.X, chart.Axis{}) || d.Fits() != nil || groups.Barred != "" {
		t.Errorf("groups along x: %+v", groups)
	}
	if same := of("x", "ha").D; !reflect.DeepEqual(same, said) {
		t.Errorf("what is said now is another document: %+v", same)
	}
	for _, barred := range []struct{ slot, key, why string }{{"x", "stand", "at most 60 groups"}, {"size", "hive_type", "size needs numbers"},
		{"y", "none", "all of it is missing"}} {
		if c := of(barred.slot, barred.key); !strings.Contains(c.Barred, barred.why) {
			t.Errorf("%s in %s is barred by %q", barred.key, barred.slot, c.Barred)
		}
	}
	if many := of("colour", "stand"); many.Barred != "" || many.D.Top != 9 || of("colour", "hive_type").D.Top != 0 {
		t.Errorf("a column of many groups colours as %+v", many)
	}
	if menu := Open("colour", said, data); menu.Without.Colour != "" || menu.Measure != "kg" || menu.Choices[0].Key != "hive_type" ||
		menu.Choices[len(menu.Choices)-1].Barred == "" {
		t.Errorf("colour opens %+v", menu)
	}
	var labels []string
	for _, c := range Open("fit-for:0", said, data).Choices {
		if c.Barred == "" {
			labels = append(labels, c.Label)
		}
	}
	if got := strings.Join(labels, "|"); got != "all rows|each hive type and overall|each hive type" {
		t.Errorf("a fit is offered to %s", got)
	}
	if Open("fit-kind:3", said, data) != nil || Open("limits-x", said, data) != nil || Open("nothing", said, data) != nil {
		t.Error("a slot without a menu opens one")
	}
	if spline := of("fit-kind:0", "robust line 0").D.Fits()[0]; spline.Band != nil || spline.Kind != chart.FitRobust {
		t.Errorf("a robust line: %+v", spline)
	}
	var keys []string
	for _, add := range Additions(parsed(t, "plot kg against ha\ncolour by hive_type"), data)[:3] {
		keys = append(keys, add.Key)
	}
	if got := strings.Join(keys, "|"); got != "fit|log x|log y" {
		t.Errorf("first is offered %s", got)
	}
}

// TestWhatASchemaAllowsIsWhatCanBeSaid holds the values that the document's schema lists to the lists of the language.
func TestWhatASchemaAllowsIsWhatCanBeSaid(t *testing.T) {
	allowed := func(of any, field string) []string {
		f, _ := reflect.TypeOf(of).FieldByName(field)
		return strings.Split(f.Tag.Get("enum"), ",")
	}
	named := func(options []chart.Option) (names []string) {
		for _, o := range options {
			names = append(names, o.Name)
		}
		return names
	}
	var forms []string
	for _, f := range scale.Forms {
		forms = append(forms, f.Name)
	}
	for field, test := range map[string]struct {
		of   any
		list []string
	}{
		"Form": {chart.Axis{}, forms}, "Look": {chart.Manner{}, named(chart.Looks)}, "Grid": {chart.Manner{}, named(chart.Grids)},
		"Text": {chart.Manner{}, named(chart.Texts)}, "Weight": {chart.Manner{}, named(chart.Weights)},
		"Overlap": {chart.Manner{}, named(chart.Overlaps)}, "Key": {chart.Manner{}, named(chart.Keys)},
	} {
		if got := allowed(test.of, field); !slices.Equal(got, test.list) {
			t.Errorf("a schema allows of %s %v, and %v can be said", field, got, test.list)
		}
	}
}

func TestExamplesQuoteTheTableAtHand(t *testing.T) {
	data := stall(t)
	for _, s := range Sayables(data) {
		if d, wrong := Parse(s.Example, data); wrong != nil && wrong[0].Message != grammar.Missing {
			t.Errorf("%s: %v", s.Example, wrong[0])
		} else if d != nil && !slices.Contains([]string{"", "name"}, d.Y.Column) && data.Column(d.Y.Column) == nil {
			t.Errorf("%s: there is no %s", s.Example, d.Y.Column)
		}
	}
	for name, want := range map[string]string{
		"of rows where": "of rows where forage_area >= 2 and district <> 'Lower Moss'",
		"in front":      "in front 'Lower Moss', 'Tarn'",
		"take out":      "take out district",
		"step through":  "step through forage_area",
	} {
		at := slices.IndexFunc(grammar.Clauses, func(c clause.Clause[document]) bool { return c.Name == name })
		if got := grammar.ExampleOf(&grammar.Clauses[at], data); got != want {
			t.Errorf("%s, not %s", got, want)
		}
	}
	_, wrong := Parse("plot price against dose\ncolour", data)
	if wrong == nil || !strings.Contains(wrong[0].Message, "behind colour") || !strings.Contains(wrong[0].Advice, "colour by district") {
		t.Error(wrong)
	}
}

// TestEverythingThatCanBeSaidCanBeLookedUp holds it of clauses and marks, in words of the trade.
func TestEverythingThatCanBeSaidCanBeLookedUp(t *testing.T) {
	list := Sayables(nil)
	if len(list) != len(grammar.Clauses)+len(mark.List) {
		t.Errorf("%d things can be looked up, of %d clauses and %d marks", len(list), len(grammar.Clauses), len(mark.List))
	}
	for _, s := range list {
		if s.Help == "" || s.Example == "" || s.Also == "" {
			t.Errorf("%s: %+v", s.Name, s)
		}
	}
	const plain = "thousands currency decimals prediction correlation dashed dotted reverse percent money legend ticks gridlines transparency " +
		"smoother regression median average outliers facets animate annotate heading caption bold width square logarithmic bins error " +
		"confidence deviation density sort rank highlight exclude percentile scatter bubble stacked tooltip printer colourblind symbol " +
		"thickness border duration years units baseline"
	for _, word := range strings.Fields(plain) {
		if !slices.ContainsFunc(list, func(s Sayable) bool {
			return strings.Contains(strings.ToLower(s.Name+" "+s.Help+" "+s.Also+" "+s.Example), word)
		}) {
			t.Errorf("%s leads to nothing that can be said", word)
		}
	}
}
