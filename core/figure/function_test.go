package figure_test

import (
	"context"
	"strings"
	"testing"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/reading"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// TestFunctionsNeedNoTable draws functions without rows: gaps where y has no value, and the words
// beside them say the same.
func TestFunctionsNeedNoTable(t *testing.T) {
	empty, err := table.New()
	if err != nil {
		t.Fatal(err)
	}
	for typed, want := range map[string]struct {
		drawn, runs int
		says        string
	}{
		"plot y = x ^ 2 for x from -3 to 3":                                {401, 1, "the highest 9, at x = −3"},
		"plot y = 1 / x for x from -3 to 3 at 13 values\nas line and dots": {12, 2, "At 1 of them it has no value"},
		"plot y = ln(x) for x from -1 to 1 at 5 values\nlog x":             {2, 1, "At 3 of them it has no value"},
		"plot y = 5 for x from 0 to 1":                                     {401, 1, "the highest 5, at x = 0"},
	} {
		d, mistakes := sentence.Parse(typed, empty)
		if mistakes != nil {
			t.Fatalf("%s: %v", typed, mistakes[0])
		}
		f, problems, err := figure.Build(context.Background(), mark.Bind(d, empty), figure.Options{Metrics: text.Hanken()})
		if err != nil || problems != nil {
			t.Fatalf("%s: %v %v", typed, problems, err)
		}
		runs := 0
		for _, l := range f.Layers {
			if l.Kind == primitive.Paths {
				runs += l.Count
			}
		}
		said := ""
		for _, p := range reading.Of(f).Paragraphs {
			for _, s := range p.Spans {
				said += s.Text
			}
		}
		if f.Rows.Drawn != want.drawn || runs != want.runs || !strings.Contains(said, want.says) {
			t.Errorf("%s: %d values in %d lines, %q", typed, f.Rows.Drawn, runs, said)
		}
	}
	for _, typed := range []string{"plot y = x for x from 3 to -3", "plot y = ln(-x) for x from 1 to 2",
		"plot y = x for x from 0 to 1e308\ncolour by district"} {
		d, mistakes := sentence.Parse(typed, nil)
		if mistakes != nil {
			t.Fatal(mistakes[0])
		}
		if _, problems, _ := figure.Build(context.Background(), mark.Bind(d, empty), figure.Options{Metrics: text.Hanken()}); problems == nil {
			t.Errorf("%s: is drawn", typed)
		}
	}
}
