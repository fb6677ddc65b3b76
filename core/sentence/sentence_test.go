package sentence

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/table"
)

const whole = `plot honey_kg against forage_ha
log x
log y
colour by district
size by frames
shape by hive_type
opacity 0.5
fit line for each district and overall with band 95%
fit curve degree 3 with prediction band 90%
fit local span 0.6 for each "Hive type"
fit spline
fit robust line
fit line leaving out outliers
y reversed
x from 1 to 2500 titled 'Forage area within 2 km' in 'ha'
y from 40 to 0 titled 'Honey''s yield'
title 'More forage, more honey'
note 'First line
second line'
`

func TestPrintIsWhatWasTyped(t *testing.T) {
	document, errors := Parse(whole, nil)
	if errors != nil {
		t.Fatalf("Parse: %v", errors[0])
	}
	if got := Print(document); got != whole {
		t.Errorf("got\n%s\nwant\n%s", got, whole)
	}
}

// withColumns is a table with such columns and no rows.
func withColumns(t *testing.T, names ...string) *table.Table {
	t.Helper()
	var columns []*table.Column
	for _, name := range names {
		columns = append(columns, table.NewNumbers(name, nil))
	}
	out, err := table.New(columns...)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func TestFreeWaysOfTypingMeanTheSame(t *testing.T) {
	columns := withColumns(t, "honey_kg", "forage_ha", "district", "log")
	columns.Column("honey_kg").Label = "Honey yield"
	for typed, want := range map[string]string{
		"PLOT Honey_KG AGAINST forage_ha\n\n  Log X":                                                      "plot honey_kg against forage_ha\nlog x\n",
		"plot honey_kg against forage_ha\ncolor by district":                                              "plot honey_kg against forage_ha\ncolour by district\n",
		"plot \"honey yield\" against \"Forage ha\"\nfit line for each District":                          "plot honey_kg against forage_ha\nfit line for each district\n",
		"plot \"log\" against forage_ha":                                                                  "plot \"log\" against forage_ha\n",
		"colour by district\nplot honey_kg against forage_ha":                                             "plot honey_kg against forage_ha\ncolour by district\n",
		"plot honey_kg against forage_ha\nfit line overall":                                               "plot honey_kg against forage_ha\nfit line\n",
		"plot honey_kg against forage_ha\nfit line overall and for each district with confidence band 95": "plot honey_kg against forage_ha\nfit line for each district and overall with band 95%\n",
	} {
		document, errors := Parse(typed, columns)
		if errors != nil {
			t.Errorf("%q: %v", typed, errors[0])
		} else if got := Print(document); got != want {
			t.Errorf("%q: got %q", typed, got)
		}
	}
}

func TestMistakesSayWhereAndWhatToDo(t *testing.T) {
	columns := withColumns(t, "honey_kg", "forage_ha", "district")
	for _, test := range []struct {
		typed, message, advice string
		line, column, length   int
	}{
		{"plot honey_kgs against forage_ha", "no column honey_kgs", "did you mean honey_kg?", 1, 6, 9},
		{"plot honey_kg against forage_ha\ncolour district", "expected the word by", "colour by district", 2, 8, 8},
		{"plot honey_kg against forage_ha\ncolor by", "expected a column", "colour by district", 2, 9, 1},
		{"plot honey_kg against forage_ha\nlog z", "expected x or y", "log x", 2, 5, 1},
		{"plot honey_kg against forage_ha\ncolor by district\ncolour by district", "colour is said twice", "line 2", 3, 1, 6},
		{"plot honey_kg against forage_ha\nsise by district", "no clause begins with sise", "did you mean size?", 2, 1, 4},
		{"plot honey_kg against forage_ha\ntitle 'open", "never closed", "close it with '", 2, 7, 1},
		{"plot honey_kg against forage_ha logg x", "logg is not expected here", "new line", 1, 33, 4},
		{"plot honey_kg against forage_ha\nfit line with band 120%", "50 % to 99.9 %", "band 95%", 2, 20, 3},
		{"plot honey_kg against forage_ha\nfit curve degree 9", "degree from 2 to 5", "degree 2", 2, 18, 1},
		{"log x", "nothing to plot", "plot … against …", 1, 1, 1},
		{"plot honey_kg against forage_ha\nx from 1 to", "expected a number", "x from 1 to 2500", 2, 12, 1},
		{"plot honey_kg & forage_ha", "\"&\" has no meaning here", "double quotes", 1, 15, 1},
	} {
		document, errors := Parse(test.typed, columns)
		if document != nil || len(errors) == 0 {
			t.Errorf("%q was accepted", test.typed)
			continue
		}
		got := errors[0]
		if !strings.Contains(got.Message, test.message) || !strings.Contains(got.Advice, test.advice) ||
			got.Line != test.line || got.Column != test.column || got.Length != test.length {
			t.Errorf("%q: got %+v", test.typed, *got)
		}
	}
}

func TestEveryMistakeIsReported(t *testing.T) {
	_, errors := Parse("plot honey against forage\nlog z\nsize by\n", withColumns(t, "honey_kg", "forage_ha"))
	if len(errors) != 3 {
		t.Errorf("got %d mistakes, want 3: %v", len(errors), errors)
	}
}

// alone is a document without a table.
func alone(d *document) *mark.Bound { return &mark.Bound{Document: d} }

func TestSpoken(t *testing.T) {
	document, _ := Parse("plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall with band 95%\nfit spline\n", nil)
	var text strings.Builder
	slots := map[string]string{}
	for _, part := range Spoken(alone(document)) {
		text.WriteString(part.Text)
		if part.Slot != "" {
			slots[part.Slot] = part.Text
		}
	}
	want := "Plot honey kg against forage ha on a log scale, coloured by district. Fit a straight line to each district and overall with 95 % confidence bands. Fit a smoothing spline to all rows."
	if text.String() != want {
		t.Errorf("got  %s\nwant %s", text.String(), want)
	}
	wantSlots := map[string]string{"y": "honey kg", "x": "forage ha", "scale-x": "log scale", "colour": "district",
		"fit-kind:0": "a straight line",
		"fit-for:0":  "each district and overall", "fit-band:0": "95 % confidence bands", "fit-kind:1": "a smoothing spline",
		"fit-for:1": "all rows"}
	if !reflect.DeepEqual(slots, wantSlots) {
		t.Errorf("slots: %v", slots)
	}
}

func TestChange(t *testing.T) {
	parse := func(typed string) *chart.Document {
		document, errors := Parse(typed, nil)
		if errors != nil {
			t.Fatal(errors[0])
		}
		return document
	}
	const plot = "plot a against b\n"
	for _, test := range []struct{ before, after, want string }{
		{plot, plot + "log x", "log x"},
		{plot + "log x", plot, "linear x"},
		{plot, plot + "colour by g", "colour: g"},
		{plot + "colour by g", plot, "no colour"},
		{plot, plot + "fit line", "+ line"},
		{plot + "fit line", plot + "fit line for each g and overall", "line per g"},
		{plot + "fit line", plot + "fit line with band 90%", "90 % confidence band"},
		{plot + "fit line\nfit spline with band 90%", plot + "fit line\nfit spline", "no band"},
		{plot, "plot c against b\nlog x\nsize by s", "y: c and 2 more"},
		{plot, plot, "the same again"},
	} {
		if got := Change(alone(parse(test.before)), alone(parse(test.after))); got != test.want {
			t.Errorf("%q to %q: got %q, want %q", test.before, test.after, got, test.want)
		}
	}
}

// FuzzRoundTrip holds that parsing never panics, that what parses prints to a
// text that parses to the same document, and that printing is stable.
func FuzzRoundTrip(f *testing.F) {
	f.Add(whole)
	f.Add("plot \"a \"\"b\"\"\" against 'x")
	f.Add("plot a against b\nopacity 1e-3\nx from -1e300 to −2 in ''")
	f.Fuzz(func(t *testing.T, typed string) {
		document, errors := Parse(typed, nil)
		if errors != nil {
			return
		}
		printed := Print(document)
		again, errors := Parse(printed, nil)
		if errors != nil {
			t.Fatalf("%q printed as %q: %v", typed, printed, errors[0])
		}
		if !reflect.DeepEqual(document, again) {
			t.Fatalf("%q printed as %q means something else:\n%+v\n%+v", typed, printed, document, again)
		}
		if twice := Print(again); twice != printed {
			t.Fatalf("printing is not stable: %q then %q", printed, twice)
		}
		Spoken(alone(document))
	})
}

// TestColumnsCalledOtherwiseAndBack draws documents at random, calls all their columns
// otherwise, and back again.
func TestColumnsCalledOtherwiseAndBack(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 4))
	moved := 0
	for range 500 {
		d, names, back := grammar.Draw(source), map[string]string{}, map[string]string{}
		for i, name := range append(d.Columns(), "frames", "mites") {
			names[name] = fmt.Sprintf("column %d", i)
			back[names[name]] = name
		}
		other, mistakes := Renamed(d, names)
		if mistakes != nil {
			t.Fatalf("%s: %v", Print(d), mistakes[0])
		}
		for _, name := range other.Columns() {
			if back[name] == "" {
				t.Fatalf("%s still names %s", Print(other), name)
			}
		}
		if Print(other) != Print(d) {
			moved++
		}
		again, _ := Renamed(other, back)
		again.Where, d.Where = strings.ReplaceAll(again.Where, `"`, ""), strings.ReplaceAll(d.Where, `"`, "") // names in expressions come back in quotes
		if Print(again) != Print(d) {
			t.Fatalf("%s\nbecame\n%s", Print(d), Print(again))
		}
	}
	if moved < 400 {
		t.Errorf("only %d documents name columns", moved)
	}
}

// TestADifferenceMakesTheOtherDocument takes pairs of documents at random, and applies to each what makes the other of it.
func TestADifferenceMakesTheOtherDocument(t *testing.T) {
	source := rand.New(rand.NewPCG(5, 6))
	for range 2000 {
		a, b := grammar.Draw(source), grammar.Draw(source)
		difference := Difference(a, b)
		made, mistakes := Amended(a, nil, difference)
		if mistakes != nil {
			t.Fatalf("%s\nto\n%s\nby %+v: %v", Print(a), Print(b), difference, mistakes[0])
		}
		if Print(made) != Print(b) {
			t.Fatalf("%s\nto\n%s\nby %+v became\n%s", Print(a), Print(b), difference, Print(made))
		}
		if same := Difference(b, b); len(same.Drop)+len(same.Say) != 0 || len(Differing(b, b)) != 0 {
			t.Fatalf("%s differs from itself by %+v", Print(b), same)
		}
		if len(Differing(a, b)) == 0 && Print(a) != Print(b) {
			t.Fatalf("nothing differs between\n%s\nand\n%s", Print(a), Print(b))
		}
	}
}

// TestChangesInWords holds what lines that are said on top of a sentence make of it, and what dropped clauses leave.
func TestChangesInWords(t *testing.T) {
	const before = "plot honey_kg, frames against forage_ha\ncolour by district\nfit line overall\nx from 1 to 2500 titled 'Forage'\ntitle 'A' centred"
	parse := func(typed string) *chart.Document {
		document, mistakes := Parse(typed, nil)
		if mistakes != nil {
			t.Fatal(typed, mistakes[0])
		}
		return document
	}
	for _, test := range []struct {
		drop, say []string
		want      string
	}{
		{want: before},
		{say: []string{"colour by hive_type"}, want: strings.Replace(before, "district", "hive_type", 1)},
		{say: []string{"x from 2 to 3"}, want: strings.Replace(before, "from 1 to 2500", "from 2 to 3", 1)},
		{drop: []string{"x"}, say: []string{"x titled 'Area'"}, want: strings.Replace(before, "from 1 to 2500 titled 'Forage'", "titled 'Area'",
			1)},
		{say: []string{"title 'C'"}, want: strings.Replace(before, "'A' centred", "'C'", 1)},
		{say: []string{"plot frames against forage_ha"}, want: strings.Replace(before, "honey_kg, ", "", 1)},
		{say: []string{"fit line for each district"}, want: strings.Replace(before, "overall", "overall\nfit line for each district", 1)},
		{drop: []string{"fit", "colour"}, want: "plot honey_kg, frames against forage_ha\nx from 1 to 2500 titled 'Forage'\ntitle 'A' centred"},
		{say: []string{"note 'it''s\ntwo lines'"}, want: before + "\nnote 'it''s\ntwo lines'"},
		{drop: []string{"note", "size"}, want: before},
	} {
		given, wanted := parse(before), parse(test.want)
		got, mistakes := Amended(given, nil, Amendment{Change: clause.Change{Drop: test.drop, Say: test.say}})
		if mistakes != nil || Print(got) != Print(wanted) {
			t.Errorf("without %q and with %q it is\n%s(%v), not\n%s", test.drop, test.say, Print(got), mistakes, Print(wanted))
		}
		if Print(given) != Print(parse(before)) {
			t.Errorf("without %q and with %q the document that was given changed", test.drop, test.say)
		}
	}
	was := parse("plot honey_kg against forage_ha\ntake out district\nfit curve degree 3\nfit line")
	split, _ := Amended(was, nil, Amendment{Split: "hive_type"})
	united, _ := Amended(split, nil, Amendment{Unite: "hive_type"})
	for _, test := range []struct{ got, want string }{
		{Print(split), "plot honey_kg against forage_ha\ncolour by hive_type\nfit curve degree 3 for each hive_type and overall\nfit line\n"},
		{Print(united), "plot honey_kg against forage_ha\nfit curve degree 3\nfit line\n"},
	} {
		if test.got != test.want {
			t.Errorf("got\n%snot\n%s", test.got, test.want)
		}
	}
	for _, test := range []struct {
		drop, say []string
		line      int
		message   string
	}{
		{[]string{"titel"}, nil, 1, "there is no clause titel"},
		{nil, []string{"title 'C'", "opacity 7"}, 2, "opacity goes from 0 to 1"},
		{nil, []string{"title 'C'", "title 'D'"}, 2, "title is said twice"},
		{nil, []string{"note 'open"}, 1, "the quote is opened and never closed"},
		{[]string{"plot"}, nil, 1, "the sentence says nothing to plot"},
	} {
		got, mistakes := Amended(parse(before), nil, Amendment{Change: clause.Change{Drop: test.drop, Say: test.say}})
		if got != nil || len(mistakes) == 0 || mistakes[0].Line != test.line || mistakes[0].Message != test.message {
			t.Errorf("without %q and with %q: got %v, want %q in line %d", test.drop, test.say, mistakes, test.message, test.line)
		}
	}
}

// Looking for what was meant takes longer than reading: of a text of mistakes some are told.
func TestSoManyMistakesAreTold(t *testing.T) {
	data := withColumns(t, "honey_kg", "forage_ha")
	if _, mistakes := grammar.Parse(strings.Repeat("plot hony against forage\n", 500), data); len(mistakes) < 10 || len(mistakes) > 60 {
		t.Errorf("%d mistakes", len(mistakes))
	}
}
