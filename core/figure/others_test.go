package figure

import (
	"context"
	"errors"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// TestOtherColumnsStandOverTheSameAxes draws more over a chart: of its own rows and of another table, on
// log scales and among groups, with what has no place counted, and refuses what cannot be.
func TestOtherColumnsStandOverTheSameAxes(t *testing.T) {
	targets, err := table.New(table.NewNumbers("ha", []float64{500, 1, 10, -5, nan}), table.NewNumbers("kg", []float64{4, 1, 3, 2, 2}),
		table.NewCategory("g", []string{"b", "a", "z", "b", "a"}))
	if err != nil {
		t.Fatal(err)
	}
	dataset := func(_ context.Context, name string) (*table.Table, error) {
		if name != "Targets" {
			return nil, errors.New("no dataset is called " + name)
		}
		return targets, nil
	}
	build := func(typed string) (*Figure, []chart.Problem) {
		d, mistakes := sentence.Parse(typed, small(t))
		if mistakes != nil {
			t.Fatalf("%s: %v", typed, mistakes[0])
		}
		f, problems, err := Build(context.Background(), mark.Bind(d, small(t)), Options{Metrics: text.Hanken(), Dataset: dataset})
		if err != nil {
			t.Fatal(err)
		}
		return f, problems
	}
	for typed, want := range map[string]struct {
		kind     primitive.Kind
		vertices int
		caution  string
	}{
		"plot y against x\nlog x\nalso plot kg against ha of 'Targets' named 'target'": {primitive.Paths, 3, "2 rows"},
		"plot y against x\nalso plot kg against ha of targets as steps":                {primitive.Paths, 0, "no dataset"},
		"plot y against x\ncolour by g\nalso plot s against x as dots":                 {primitive.Points, 6, ""},
		"plot y against g\nalso plot kg against g of 'Targets' as dots":                {primitive.Points, 4, "1 row"},
		"plot mean(y) against g\nalso plot kg against g of 'Targets' as dots":          {primitive.Points, 4, "1 row"},
		"plot y against x\nalso plot kg against g of 'Targets'":                        {"", 0, "numbers stand along the axis"},
		"plot y against x\nalso plot honey against ha of 'Targets'":                    {"", 0, "no column honey"},
	} {
		f, problems := build(typed)
		if problems != nil {
			if !strings.Contains(problems[0].Message, want.caution) || problems[0].Clause != "also plot" {
				t.Errorf("%s: %+v", typed, problems[0])
			}
			continue
		}
		found := false
		for _, l := range f.Layers {
			if l.Mark == chart.AlsoLayer && l.Kind == want.kind {
				found = l.X.Len() == want.vertices && f.Keys[l.Keys.Colour-1].Channels[0] == chart.AlsoLayer
			}
		}
		if !found || want.caution == "" != (len(f.Cautions) == 0) || want.caution != "" && !strings.Contains(f.Cautions[0], want.caution) {
			t.Errorf("%s: %v, %+v", typed, f.Cautions, f.Layers)
		}
	}
}
