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

// TestUnitsAtTheEndOfANameAreSaid reads a unit alike, however it stands in a name, and leaves it there when asked.
func TestUnitsAtTheEndOfANameAreSaid(t *testing.T) {
	text := "hive,dose_mg,Dose (mg),temp_c,id_no,share_pct\nA,1.5,2,3,4,5\nB,2.5,3,4,6,7\n"
	got, report, err := Read(t.Context(), strings.NewReader(text), Options{})
	if err != nil {
		t.Fatal(err)
	}
	want := "hive::|dose_mg:mg:Dose|Dose (mg):mg:Dose|temp_c::Temp c|id_no::id no|share_pct:%:Share|"
	have := ""
	for _, c := range got.Columns() {
		label := c.ReadableName()
		if c.Kind.Coded() {
			label = ""
		}
		have += fmt.Sprintf("%s:%s:%s|", c.Name, c.Unit, label)
	}
	if have != want {
		t.Errorf("got %s, want %s", have, want)
	}
	if len(report.Notes) != 2 || report.Notes[0].Offers[0] != OfferBare {
		t.Errorf("notes: %+v", report.Notes)
	}
	got, report, err = Read(t.Context(), strings.NewReader(text), Options{As: map[string]string{"dose_mg": "bare", "share_pct": "bare"}})
	if err != nil || got.Column("dose_mg").Unit != "" || len(report.Notes) != 0 {
		t.Errorf("left in the name: %q, %+v, %v", got.Column("dose_mg").Unit, report.Notes, err)
	}
}
