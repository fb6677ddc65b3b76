package table

import (
	"context"
	"fmt"
	"math"
	"testing"
)

func TestWhatChangedBetweenTables(t *testing.T) {
	nan := math.NaN()
	category := func(name string, levels []string, codes ...int32) *Column {
		return &Column{Name: name, Kind: Category, Levels: levels, Codes: codes}
	}
	make := func(columns ...*Column) *Table {
		made, err := New(columns...)
		if err != nil {
			t.Fatal(err)
		}
		return made
	}
	before := make(NewNumbers("kg", []float64{1, 2, 2, nan, 0}), category("g", []string{"a", "b"}, 0, 1, 1, -1, 0),
		NewNumbers("old", []float64{1, 2, 3, 4, 5}), category("n", []string{"7"}, 0, 0, 0, 0, 0))
	for name, test := range map[string]struct {
		after *Table
		want  string
	}{
		"itself": {before, "5 5 5 [] [] []"},
		"levels in another order, a row more, a row once less": {make(NewNumbers("kg", []float64{2, 1, nan, math.Copysign(0, -1), 9, 8}),
			category("g", []string{"b", "a"}, 0, 1, -1, 1, 0, 0),
			NewNumbers("n", []float64{7, 7, 7, 7, 7, 7}), NewNumbers("fresh", []float64{0, 0, 0, 0, 0, 0})),
			"5 6 4 [fresh] [old] [{n category number}]"},
		"no row":              {make(NewNumbers("kg", nil)), "5 0 0 [] [g old n] []"},
		"nothing that it had": {make(NewNumbers("else", []float64{1})), "5 1 0 [else] [kg g old n] []"},
	} {
		d, err := Between(context.Background(), before, test.after)
		if got := fmt.Sprint(d.RowsBefore, d.RowsAfter, d.RowsSame, d.New, d.Gone, d.Changed); err != nil || got != test.want {
			t.Errorf("%s: %s, %v; want %s", name, got, err, test.want)
		}
	}
}
