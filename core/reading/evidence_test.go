package reading

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// told examines a column z of groups or numbers of a table made row by row.
func told(t *testing.T, n int, row func(i int) (x, y float64, z any)) *Evidence {
	t.Helper()
	xs, ys, rows := make([]float64, n), make([]float64, n), make([]uint32, n)
	groups, numbers := make([]string, n), make([]float64, n)
	grouped := false
	for i := range n {
		var z any
		xs[i], ys[i], z = row(i)
		rows[i] = uint32(i)
		switch v := z.(type) {
		case string:
			groups[i], grouped = v, true
		case float64:
			numbers[i] = v
		}
	}
	z := table.NewNumbers("altitude", numbers)
	if grouped {
		z = table.NewCategory("district", groups)
	}
	other := make([]float64, n)
	for i := range other {
		other[i] = math.Sin(float64(i*i)) + 0.2*xs[i] + 0.1*ys[i]
	}
	x, y := table.NewNumbers("forage", xs), table.NewNumbers("honey", ys)
	data, err := table.New(x, y, z, table.NewNumbers("frames", other))
	if err != nil {
		t.Fatal(err)
	}
	found, err := confound.Examine(t.Context(), xs, ys, rows, z, []*table.Column{data.Column("frames")}, confound.NoOthers)
	if err != nil {
		t.Fatal(err)
	}
	document := &chart.Document{X: chart.Variable{Column: "forage"}, Y: chart.Variable{Column: "honey"}}
	return EvidenceOf(found, z, mark.Bind(document, data).X, mark.Bind(document, data).Y,
		func(name string) string { return data.Column(name).Prose() })
}

// TestEvidenceIsToldAsItIs holds the sentence of each way in which a column can work, that no
// sentence is said of another way, and that places on the axis are those of the numbers.
func TestEvidenceIsToldAsItIs(t *testing.T) {
	wobble := func(i int) float64 { return math.Sin(float64(7*i)) + 0.5*math.Cos(float64(13*i)) }
	district := func(i int) string { return []string{"Tarn", "Fen", "Brindle"}[i%3] }
	for name, test := range map[string]struct {
		row           func(i int) (x, y float64, z any)
		says, saysNot string
	}{
		"their line wins": {func(i int) (float64, float64, any) {
			u := wobble(i)
			return 4*float64(i%3) + u, -9*float64(i%3) + 2*u + wobble(3*i+1)/3, district(i)
		}, "Groups of district with higher forage have lower honey, and 9# % of the spread in forage lies between them, so their line wins: inside them honey rises with forage.", "only"},
		"the same way": {func(i int) (float64, float64, any) {
			u := wobble(i)
			return 2*float64(i%3) + u, 3*float64(i%3) + 2*u + wobble(3*i+1)/3, district(i)
		}, "as rows inside them do", "wins"},
		"explained": {func(i int) (float64, float64, any) {
			return 2*float64(i%3) + wobble(i), 3*float64(i%3) + wobble(31*i+7), district(i)
		}, "inside them nothing clear is left", "as rows"},
		"at the same place": {func(i int) (float64, float64, any) {
			return wobble(i / 3), 5*float64(i%3) + 2*wobble(i/3) + wobble(11*i)/3, district(i)
		}, "stand at about the same forage", "wins"},
		"a number": {func(i int) (float64, float64, any) {
			z := wobble(i)
			x := 2*z + wobble(5*i+2)/2
			return x, -3*z + x + wobble(17*i)/4, z
		}, "Altitude: forage rises with it (r = 0.9#), and honey falls with it (r = −0.#). With it held fixed, honey rises with forage.",
			"Groups"},
	} {
		t.Run(name, func(t *testing.T) {
			e := told(t, 240, test.row)
			why := Paragraph{Spans: e.Why}.Text()
			pattern := strings.Split(test.says, "#")
			for _, part := range pattern {
				if !strings.Contains(why, part) {
					t.Errorf("says %q, want %q", why, part)
				}
			}
			if strings.Contains(why, test.saysNot) {
				t.Errorf("says %q, which it must not", why)
			}
			if len(e.Rows) < 5 || e.Rows[0].Role != "overall" || e.Rows[1].Role != "within" {
				t.Fatalf("rows %+v", e.Rows)
			}
			for _, row := range e.Rows {
				if row.At == nil || *row.At < row.Low || *row.At > row.High || row.Low < 0 || row.High > 1 {
					t.Errorf("%s stands at %v of %v to %v", row.Name, row.At, row.Low, row.High)
				}
			}
			hidden := Paragraph{Spans: e.Hidden}.Text()
			if clear := e.Rows[1].Interval[:1] == strings.Split(e.Rows[1].Interval, " to ")[1][:1]; clear != strings.Contains(hidden,
				"a hidden cause would have to") {
				t.Errorf("within %s: %s", e.Rows[1].Interval, hidden)
			}
		})
	}
}

// TestEvidenceOfLittle holds that what is set aside says so and holds nothing else.
func TestEvidenceOfLittle(t *testing.T) {
	copied := told(t, 60, func(i int) (float64, float64, any) { return float64(i), math.Sin(float64(i)), float64(2 * i) })
	if copied.Problem != "nearly the same as forage: set aside" || len(copied.Rows) != 0 {
		t.Errorf("a copy: %+v", copied)
	}
	lonely := told(t, 40, func(i int) (float64, float64, any) {
		g := "Tarn"
		if i < 3 {
			g = fmt.Sprint("Fen ", i)
		}
		return float64(i), float64(i * i % 7), g
	})
	if !strings.HasPrefix(lonely.Problem, "too few groups") {
		t.Errorf("one group: %+v", lonely)
	}
}

// TestTheColumnThatSizesIsComparedToo gives each group the mean of the rows that have it.
func TestTheColumnThatSizesIsComparedToo(t *testing.T) {
	g := table.NewCategory("g", []string{"a", "b", "a", "b", "a", "b", "a", "b"})
	size := table.NewNumbers("size", []float64{1, 10, 3, math.NaN(), 5, 30, math.NaN(), 20})
	size.Unit = "kg"
	e := &Evidence{Rows: []EvidenceRow{{Role: "overall"}, {Role: "within"}, {Role: "group"}, {Role: "group"}}}
	e.Sized(&confound.Evidence{Each: []confound.OneGroup{{Code: 0}, {Code: 1}}}, g, size, []uint32{0, 1, 2, 3, 4, 5, 6, 7})
	got := []string{e.Size}
	for _, row := range e.Rows {
		got = append(got, row.Size)
	}
	if want := []string{"Size, kg", "11.5", "", "3", "20"}; !slices.Equal(got, want) {
		t.Errorf("%q, want %q", got, want)
	}
}
