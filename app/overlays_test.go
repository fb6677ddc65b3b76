package app

import (
	"testing"

	"copperlark/core/chart"
)

// TestAnotherDatasetIsDrawnByTheColumnsItShares, else by its first, and never a column against itself.
func TestAnotherDatasetIsDrawnByTheColumnsItShares(t *testing.T) {
	d := &chart.Document{X: chart.Variable{Column: "day"}, Y: chart.Variable{Column: "kg"}}
	for _, test := range []struct {
		columns []string
		want    string
	}{
		{[]string{"rain", "kg", "day"}, "kg against day"},
		{[]string{"rain", "kg"}, "kg against rain"},
		{[]string{"kg", "rain"}, "rain against kg"},
		{[]string{"day", "rain"}, "rain against day"},
		{[]string{"a", "b", "c"}, "b against a"},
	} {
		of := alsoOf(OtherNumbers{Name: "Other", Columns: test.columns}, d)
		if got := of.Y + " against " + of.X; got != test.want || of.Table != "Other" {
			t.Errorf("%v: %s, want %s", test.columns, got, test.want)
		}
	}
}
