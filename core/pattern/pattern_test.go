package pattern

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"copperlark/core/table"
)

func column(name, label, unit, meaning string, kind table.Kind) *table.Column {
	c := &table.Column{Name: name, Label: label, Unit: unit, Meaning: meaning, Kind: kind}
	if kind.Coded() {
		c.Codes, c.Levels = []int32{0, 0}, []string{"a"}
	} else {
		c.Numbers = []float64{1, 2}
	}
	return c
}

func tableOf(t *testing.T, columns ...*table.Column) *table.Table {
	t.Helper()
	out, err := table.New(columns...)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// TestColumnsAreProposed by name before label, label before unit, unit before meaning, and by their kind where nothing else speaks.
func TestColumnsAreProposed(t *testing.T) {
	from := tableOf(t, column("honey_kg", "Honey yield", "kg", "Weight of the honey taken off", table.Number),
		column("forage_ha", "Forage area", "ha", "Flowering land nearby", table.Number),
		column("district", "", "", "", table.Category), column("day", "", "", "", table.Date))
	for _, test := range []struct {
		to   []*table.Column
		want string
	}{
		{[]*table.Column{column("HONEY kg", "", "", "", table.Number), column("wax", "Honey yield", "kg", "", table.Number),
			column("meadow", "", "ha", "", table.Number), column("place", "", "", "", table.Text)},
			"honey_kg=HONEY kg (same name) forage_ha=meadow (same unit) district=place (kind alone) day= ()"},
		{[]*table.Column{column("a", "", "m", "", table.Number), column("b", "", "", "Land that is flowering", table.Number),
			column("c", "", "", "", table.Category), column("d", "", "", "", table.Category), column("seen", "", "", "", table.Date)},
			"honey_kg=a (kind alone) forage_ha=b (alike in meaning) district=c (kind alone) day=seen (kind alone)"},
		{[]*table.Column{column("district", "", "", "", table.Number), column("x", "", "kg", "", table.Duration)},
			"honey_kg=x (same unit) forage_ha=district (kind alone) district= () day= ()"},
	} {
		got := ""
		for _, p := range Propose(Blanks(from.Names(), from), tableOf(t, test.to...), nil) {
			why := ""
			for _, c := range p.Candidates {
				if c.Column == p.Chosen {
					why = c.Why
				}
			}
			got += fmt.Sprintf(" %s=%s (%s)", p.Column, p.Chosen, why)
		}
		if got != " "+test.want {
			t.Errorf("got%s\nwant %s", got, test.want)
		}
	}
}

// TestProposalsOfRandomTables hold: no column stands in two blanks, what stands fits the kind, what somebody chose stays, and where
// the table is the one that the sentence was made with, each column is proposed for itself.
func TestProposalsOfRandomTables(t *testing.T) {
	source := rand.New(rand.NewPCG(5, 27))
	names := []string{"a", "b", "名前", "שדה", "honey_kg", "Honey kg", "x y", ""}
	kinds := []table.Kind{table.Number, table.Category, table.Date, table.Duration, table.Text, table.YesNo}
	some := func() *table.Table {
		var columns []*table.Column
		for i := range 1 + source.IntN(7) {
			columns = append(columns, column(fmt.Sprint(names[source.IntN(len(names))], i), names[source.IntN(len(names))],
				[]string{"", "kg", "ha"}[source.IntN(3)], "", kinds[source.IntN(len(kinds))]))
		}
		return tableOf(t, columns...)
	}
	for range 500 {
		from, to := some(), some()
		blanks := Blanks(from.Names(), from)
		taken := map[string]string{blanks[0].Column: to.Names()[source.IntN(len(to.Names()))]}
		seen := map[string]bool{}
		for i, p := range Propose(blanks, to, taken) {
			if i == 0 && p.Chosen != taken[p.Column] {
				t.Fatalf("what was chosen is %q", p.Chosen)
			}
			if p.Chosen == "" {
				continue
			}
			if seen[p.Chosen] || i > 0 && !stands(p.Kind, to.Column(p.Chosen).Kind) {
				t.Fatalf("%q is proposed for %v of %v", p.Chosen, p.Blank, to.Names())
			}
			seen[p.Chosen] = true
		}
		for _, p := range Propose(blanks, from, nil) {
			if p.Chosen != p.Column {
				t.Fatalf("over its own table %q is proposed for %q", p.Chosen, p.Column)
			}
		}
	}
}
