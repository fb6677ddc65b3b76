package table

import (
	"math"
	"testing"
)

// TestACellIsTypedAsPeopleWriteIt, into a copy, and what does not suit its column is refused.
func TestACellIsTypedAsPeopleWriteIt(t *testing.T) {
	yes := &Column{Name: "fed", Kind: YesNo, Codes: []int32{0}, Levels: []string{"no", "yes"}}
	date := &Column{Name: "day", Kind: Date, Grain: Day, Numbers: []float64{0}}
	took := &Column{Name: "took", Kind: Duration, Numbers: []float64{0}}
	for _, test := range []struct {
		c           *Column
		typed, want string
	}{
		{NewNumbers("kg", []float64{1}), " 1,250.5 ", "1250.5"},
		{NewNumbers("kg", []float64{1}), "−3", "-3"},
		{NewNumbers("kg", []float64{1}), "", ""},
		{NewNumbers("kg", []float64{1}), "much", "refused"},
		{NewCategory("g", []string{"Tarn"}), "Low Fen", "Low Fen"},
		{NewCategory("g", []string{"Tarn"}), "", ""},
		{yes, "yes", "yes"},
		{yes, "perhaps", "refused"},
		{date, "2031-05-04", "2031-05-04"},
		{date, "May", "refused"},
		{took, "1:30:00", "1:30:00"},
		{took, "long", "refused"},
	} {
		before := test.c.Value(0)
		changed, err := test.c.Changed(0, test.typed)
		got := "refused"
		if err == nil {
			if got = changed.Value(0); changed.Missing(0) {
				got = ""
			}
		}
		if got != test.want || test.c.Value(0) != before {
			t.Errorf("%s typed into %s is %q, want %q; before %q, now %q", test.typed, test.c.Name, got, test.want, before, test.c.Value(0))
		}
	}
	if c, _ := NewNumbers("kg", []float64{1}).Changed(0, ""); !math.IsNaN(c.Numbers[0]) {
		t.Error(c.Numbers)
	}
}
