package reader

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
)

// TestNoRowIsLostWhereValuesAreKeptBack reads tables of two and three columns at random, in which some values
// are kept from readers: every row is there, under the titles of the file.
func TestNoRowIsLostWhereValuesAreKeptBack(t *testing.T) {
	source := rand.New(rand.NewPCG(20, 12))
	marks := [][]string{{"c"}, {"(c)"}, {"[x]"}, {"*"}, {"suppressed"}, {"<5"}, {"c", "<5"}, {"z", "x"}, {".."}, {"low"}, {"not available"}}
	places := []string{"Tarn", "Wick", "Moss", "Ash", "Elm", "Oak", "Low Fen", "Scarhead", "St. Anne", "Ashcombe", "Brindle", "Upper Mill"}
	for round := range 1200 {
		rows, hidden, these := 3+source.IntN(38), 0.05+0.55*source.Float64(), marks[source.IntN(len(marks))]
		titles := []string{"area", "cases"}
		if source.IntN(3) == 0 {
			titles = append(titles, "rate")
		}
		var text strings.Builder
		fmt.Fprintln(&text, strings.Join(titles, ","))
		for i := range rows {
			name := places[i%len(places)]
			if i >= len(places) {
				name = fmt.Sprintf("%s %d", name, i/len(places)+1)
			}
			text.WriteString(name)
			for range titles[1:] {
				if source.Float64() < hidden {
					fmt.Fprintf(&text, ",%s", these[source.IntN(len(these))])
				} else {
					fmt.Fprintf(&text, ",%d", source.IntN(400))
				}
			}
			text.WriteByte('\n')
		}
		got, report, err := Read(t.Context(), strings.NewReader(text.String()), Options{})
		if err != nil {
			t.Fatalf("round %d: %v of\n%s", round, err, text.String())
		}
		if got.Rows() != rows || strings.Join(got.Names(), ",") != strings.Join(titles, ",") {
			t.Errorf("round %d: %d rows of %d, named %v, of\n%s%+v", round, got.Rows(), rows, got.Names(), text.String(), report.Notes)
		}
		for _, c := range got.Columns() {
			if c.Unit != "" {
				t.Errorf("round %d: %s has the unit %q of\n%s", round, c.Name, c.Unit, text.String())
			}
		}
	}
}
