package app

import (
	"strings"
	"testing"

	"copperlark/core/prepare"
	"copperlark/core/table"
)

// TestProposalsTakeThePlaceOfTheWordThatIsTyped holds what is proposed to somebody who types.
func TestProposalsTakeThePlaceOfTheWordThatIsTyped(t *testing.T) {
	honey := table.NewNumbers("honey_kg", []float64{1})
	honey.Label, honey.Unit = "Honey yield", "kg"
	data, err := table.New(honey, table.NewNumbers("forage ha", []float64{1}), table.NewCategory("district", []string{"Tarn"}),
		table.NewNumbers("log", []float64{1}))
	if err != nil {
		t.Fatal(err)
	}
	for before, want := range map[string]string{
		"plot a against b\nlo":               "log x |log y |look ",
		"plot ":                              `spread of |count() |mean(|median(|sum(|honey_kg|"forage ha"|district|"log"`,
		"plot honey_kg ag":                   "against ",
		"plot honey_kg against yi":           "honey_kg", // by what people call it
		"plot honey_kg against ha":           `"forage ha"`,
		"plot \"fo":                          `"forage ha"`,
		"colour by d":                        "district",
		"fit r":                              "robust line ",
		"fit line with":                      "with band 95% ",
		"fit line for each di":               "district",
		"title 'plot ":                       "",
		"opacity 0.":                         "",
		"plot honey_kg against district\nco": "colour by |contours hold |coloured by |counts against ",
		"plot honey_kg against district\ncolour by w": "",
	} {
		completion := complete(data, nil, before)
		var texts []string
		for _, s := range completion.Suggestions {
			texts = append(texts, s.Text)
		}
		if got := strings.Join(texts, "|"); got != want {
			t.Errorf("after %q: %s, want %s", before, got, want)
		}
	}
	if got := complete(data, nil, "plot \"fo"); got.Replace != 3 || complete(data, nil, "plot 漢").Replace != 1 {
		t.Errorf("takes the place of %d units", got.Replace)
	}
	if s := complete(data, nil, "plot ho").Suggestions[0]; s.Help != "Honey yield · kg" || s.Kind != "number" {
		t.Errorf("a column is proposed as %+v", s)
	}
}

// TestValuesAreProposedWhereAClauseListsThem also leaves out those that stand there.
// TestAWholeWordThatBeginsOthersIsGoneOnFrom holds that a column whose name begins another's can be chosen and gone on from.
func TestAWholeWordThatBeginsOthersIsGoneOnFrom(t *testing.T) {
	data, err := table.New(table.NewNumbers("kg", []float64{1}), table.NewNumbers("kg_total", []float64{1}),
		table.NewCategory("by", []string{"a"}))
	if err != nil {
		t.Fatal(err)
	}
	got := complete(data, nil, "plot kg")
	var texts []string
	for _, s := range got.Suggestions {
		texts = append(texts, s.Text)
	}
	if want := "kg, |kg against |kg_total"; got.Replace != 2 || !strings.HasSuffix(strings.Join(texts, "|"), "kg_total") ||
		!strings.Contains(strings.Join(texts, "|"), "kg against ") {
		t.Errorf("after a whole word: %q replacing %d, want %s", strings.Join(texts, "|"), got.Replace, want)
	}
}

func TestValuesAreProposedWhereAClauseListsThem(t *testing.T) {
	data, err := table.New(table.NewNumbers("kg", []float64{1, 2, 3}), table.NewCategory("district", []string{"Tarn", "Low Fen", "Bran's"}))
	if err != nil {
		t.Fatal(err)
	}
	p := proposer{columns: data.Columns(), columnText: prepare.ColumnText, expected: prepare.Expected}
	for before, want := range map[string]string{
		"recode district: ":               "'Bran''s'|'Low Fen'|'Tarn'",
		"recode district: 'Tarn', ":       "'Bran''s'|'Low Fen'",
		"recode district: 'l":             "'Low Fen'",
		"recode district: 'Tarn' as ":     "",
		"recode kg: ":                     "",
		"order district as 'Bran''s', ":   "'Low Fen'|'Tarn'",
		"for each mo":                     "month of ",
		"join stands by kg, nearest bef":  "before ",
		"work out r = dense":              "dense_rank(",
		"for each district: n = string_a": "string_agg(",
	} {
		var texts []string
		for _, s := range p.complete(before).Suggestions {
			texts = append(texts, s.Text)
		}
		if got := strings.Join(texts, "|"); got != want {
			t.Errorf("after %q: %s, want %s", before, got, want)
		}
	}
}
