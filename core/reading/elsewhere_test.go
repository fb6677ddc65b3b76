package reading

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/sentence"
	"copperlark/core/summary"
	"copperlark/core/table"
	"copperlark/core/text"
)

// flown is a made-up table in which the trend turns round within districts, with values that count for nothing here and
// there; n rows, of which the sample has about every tenth. Where rare is, a district has few rows, and none in the sample.
func flown(t *testing.T, n int, rare bool) (whole, sample *table.Table) {
	t.Helper()
	district := &table.Column{Name: "district", Kind: table.Category, Levels: []string{"Ashcombe", "Brindle", "Dee", "Low Fen", "Tarn"}}
	fed := &table.Column{Name: "fed", Kind: table.YesNo, Levels: []string{"no", "yes"}}
	metres, load := &table.Column{Name: "metres", Kind: table.Number, Unit: "m"}, &table.Column{Name: "load", Kind: table.Number, Unit: "mg"}
	season := &table.Column{Name: "season", Kind: table.Number}
	height := &table.Column{Name: "height", Kind: table.Number, Unit: "m"}
	var kept []int
	for i := range n {
		noise := math.Sin(float64(i)*12.9898) * 43758.5453
		noise -= math.Floor(noise)
		g := []int32{0, 1, 3, 4}[i%4]
		if rare && i%997 == 5 {
			g = 2
		}
		u := 2 + 0.4*float64(g) + 0.5*math.Cos(float64(i)*0.7) + 0.2*noise
		x, y := math.Pow(10, u), 60-9*float64(g)+5*u+8*noise
		switch i % 101 {
		case 7:
			x = math.NaN()
		case 8:
			x = -1
		case 9:
			y = math.NaN()
		case 10:
			g = table.MissingCode
		}
		district.Codes, fed.Codes = append(district.Codes, g), append(fed.Codes, int32(i%3/2))
		metres.Numbers, load.Numbers = append(metres.Numbers, x), append(load.Numbers, y)
		season.Numbers = append(season.Numbers, float64(2029+i%6))
		height.Numbers = append(height.Numbers, 210+300*noise)
		if i%303 == 11 {
			height.Numbers[i] = math.NaN()
		}
		if noise*10-math.Floor(noise*10) < 0.1 && g != 2 {
			kept = append(kept, i)
		}
	}
	whole, err := table.New(district, fed, metres, load, season, height)
	if err != nil {
		t.Fatal(err)
	}
	sample = whole.Select(kept)
	some := *sample.Column("district")
	sample, err = table.New(append([]*table.Column{some.UsedLevels()}, sample.Columns()[1:]...)...)
	if err != nil {
		t.Fatal(err)
	}
	return whole, sample
}

func drawnBy(t *testing.T, of *table.Table, typed string, whole *summary.Whole) (*figure.Figure, *Reading) {
	t.Helper()
	document, mistakes := sentence.Parse(typed, of)
	if mistakes != nil {
		t.Fatal(typed, mistakes[0])
	}
	f, problems, err := figure.Build(t.Context(), mark.Bind(document, of), figure.Options{Metrics: text.Hanken(), Elsewhere: whole})
	if err != nil || problems != nil {
		t.Fatal(typed, err, problems)
	}
	return f, Of(f)
}

// answered draws a chart of a sample until all that it asks of all rows is known.
func answered(t *testing.T, whole, sample *table.Table, typed string) (*figure.Figure, *Reading) {
	t.Helper()
	known := map[string]*summary.Answer{}
	for range 5 {
		f, told := drawnBy(t, sample, typed,
			&summary.Whole{Raw: sample, Known: func(q *summary.Question) *summary.Answer { return known[q.Name()] }})
		if f.Elsewhere == nil || f.Elsewhere.Bars != "" || len(f.Elsewhere.Questions) == 0 {
			t.Fatalf("%s: nothing is asked: %+v", typed, f.Elsewhere)
		}
		open := false
		for _, q := range f.Elsewhere.Questions {
			if q.Known {
				continue
			}
			answer, err := summary.Of(t.Context(), whole, q.Of)
			if err != nil {
				t.Fatal(typed, q.Words, err)
			}
			open, known[q.Of.Name()] = true, answer
		}
		if !open {
			return f, told
		}
	}
	t.Fatal(typed, "it asks for ever")
	return nil, nil
}

// TestASampleThatAsksTellsWhatAllRowsTell holds charts of a sample, which ask all that they can, against charts of all rows:
// what they say is of all rows is said of all rows.
func TestASampleThatAsksTellsWhatAllRowsTell(t *testing.T) {
	whole, sample := flown(t, 20_000, false)
	for typed, exact := range map[string]int{ // how many paragraphs are of all rows at the least
		"plot load against metres; log x; as hexagons; fit line for each district and overall":            3,
		"plot load against metres; log x; as squares; fit line overall with band 95 %; of rows where fed": 2,
		"plot load against metres; log x; fit line overall":                                               2,
		"plot load against metres; log x; colour by district":                                             3,
		"plot load against metres; log x; as hexagons; panels by fed; fit line for each district":         2,
		"plot load against metres; log x; as hexagons; fit curve degree 3":                                2,
		"plot load against season; fit line overall":                                                      2,
		"plot mean(load) against district; as bars; interval 95 %":                                        1,
		"plot count() against season as groups; as bars":                                                  1,
		"plot count() against district; colour by fed; as stacked bars":                                   1,
		"plot district against fed; as counts":                                                            2,
		"plot load against district":                                                                      2,
		"plot mean(load) against district; as bars; colour by district; order district by mean(load)":     1,
		"plot load against district; as boxes":                                                            2,
		"plot load against season as groups; as boxes; panels by fed":                                     2,
		"plot spread of load; as histogram; colour by district":                                           0,
	} {
		typed = strings.ReplaceAll(typed, "; ", "\n")
		got, told := answered(t, whole, sample, typed)
		want, all := drawnBy(t, whole, typed, nil)
		var texts []string
		for _, p := range all.Paragraphs {
			// That the relation bends is seen in single rows.
			texts = append(texts, strings.Replace(p.Text(), "; of a straight line, and the relation bends", "", 1))
		}
		found := 0
		for _, p := range told.Paragraphs {
			if p.Basis != OfAll {
				continue
			}
			if found++; !slices.Contains(texts, p.Text()) {
				t.Errorf("%s: %q is said of all rows, of which is said\n%s", typed, p.Text(), strings.Join(texts, "\n"))
			}
		}
		if found < exact {
			t.Errorf("%s: %d paragraphs are of all rows, want %d: %+v", typed, found, exact, told.Paragraphs)
		}
		// A histogram has as many bins as that of the sample.
		if len(got.Elsewhere.Sampled) == 0 && len(all.Fits) == 0 && !strings.Contains(typed, "histogram") && cardsOf(got) != cardsOf(want) {
			t.Errorf("%s: marks tell\n%s, want\n%s", typed, cardsOf(got), cardsOf(want))
		}
		rows := map[string]string{}
		for _, fit := range all.Fits {
			rows[fit.Name] = fmt.Sprint(fit.Slope, fit.Interval, fit.N)
		}
		for _, fit := range told.Fits {
			if has := fmt.Sprint(fit.Slope, fit.Interval, fit.N); fit.Basis != OfAll || rows[fit.Name] != has {
				t.Errorf("%s: fit %s is %s, want %s (%s)", typed, fit.Name, has, rows[fit.Name], fit.Basis)
			}
		}
		if len(got.Elsewhere.Sampled) == 0 && fmt.Sprintf("%+v", got.Rows) != fmt.Sprintf("%+v", want.Rows) {
			t.Errorf("%s: rows %+v, want %+v", typed, got.Rows, want.Rows)
		}
		for _, p := range told.Paragraphs {
			if p.Basis == "" && p.Kind == "plain" {
				t.Errorf("%s: %q does not say what it is of", typed, p.Text())
			}
		}
	}
}

// cardsOf is what all marks of a figure tell, but for single rows far away, of which a sample has few.
func cardsOf(f *figure.Figure) (words string) {
	for _, l := range f.Layers {
		if l.Kind != primitive.Points {
			words += fmt.Sprintln(l.Kind, l.Cards)
		}
	}
	return words
}

// TestWhatASampleCannotAskIsTold holds that groups without a row in the sample are told, and why nothing can be asked.
func TestWhatASampleCannotAskIsTold(t *testing.T) {
	whole, sample := flown(t, 20_000, true)
	for _, typed := range []string{"plot load against metres\nlog x\ncolour by district", "plot count() against district\nas bars",
		"plot district against fed\nas counts"} {
		if _, told := answered(t, whole, sample, typed); !strings.Contains(told.Text(), "1 group of district more, of about ") {
			t.Errorf("%s: that the sample misses a group is not told: %s", typed, told.Text())
		}
	}
	for typed, why := range map[string]string{
		"only rows 1, 2, 3, 4\nplot load against metres":            "by hand",
		"plot load against metres\ntake out district":               "moves every row",
		"plot load and season against metres":                       "several columns",
		"plot load against metres\nnear-linear at zero x":           "near-linear",
		"plot load against metres\nof rows where district = 'Tarn'": "",
	} {
		f, told := drawnBy(t, sample, typed, &summary.Whole{Raw: sample})
		if (f.Elsewhere.Bars == "") != (why == "") || !strings.Contains(f.Elsewhere.Bars, why) || told.Paragraphs[0].Basis == OfAll {
			t.Errorf("%s: %q", typed, f.Elsewhere.Bars)
		}
	}
}
