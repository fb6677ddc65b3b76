package app

import (
	"math"
	"testing"

	"copperlark/core/table"
)

// TestWhatOneRowIsIsProposed from one column, from two, and from none where measures alone tell rows apart.
func TestWhatOneRowIsIsProposed(t *testing.T) {
	apiary := table.NewCategory("apiary", []string{"A", "B", "A", "B"})
	season := table.NewNumbers("season", []float64{2030, 2030, 2031, 2031})
	lot := table.NewCategory("lot", []string{"l1", "l2", "l3", "l4"})
	honey := table.NewNumbers("honey_kg", []float64{1.5, 2.25, 3.5, 4.75})
	gaps := table.NewNumbers("seen", []float64{1, 2, 3, math.NaN()})
	for _, test := range []struct {
		columns []*table.Column
		want    string
	}{
		{[]*table.Column{honey, apiary, season}, "one apiary in one season"},
		{[]*table.Column{apiary, lot, season}, "one lot"},
		{[]*table.Column{honey, apiary, gaps}, ""},
		{[]*table.Column{table.NewCategory("a", []string{"x"})}, ""},
	} {
		data, err := table.New(test.columns...)
		if err != nil {
			t.Fatal(err)
		}
		if got, err := oneRow(t.Context(), data); err != nil || got != test.want {
			t.Errorf("%v: %q, want %q", data.Names(), got, test.want)
		}
	}
}
