package reading

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// looked checks a slope in every way, of a table with one column of groups and one number.
func looked(t *testing.T, n int, row func(s *rand.Rand, i int) (x, y float64, group string)) *Holds {
	t.Helper()
	s := rand.New(rand.NewPCG(4, 4))
	x, y, z, groups, rows := make([]float64, n), make([]float64, n), make([]float64, n), make([]string, n), make([]uint32, n)
	for i := range n {
		x[i], y[i], groups[i] = row(s, i)
		z[i], rows[i] = s.NormFloat64(), uint32(i)
	}
	data, err := table.New(table.NewNumbers("forage", x), table.NewNumbers("honey", y), table.NewNumbers("frames", z),
		table.NewCategory("district", groups))
	if err != nil {
		t.Fatal(err)
	}
	checks, err := confound.Checks(t.Context(), x, y, rows, []*table.Column{data.Column("frames"), data.Column("district")}, confound.NoOthers)
	if err != nil {
		t.Fatal(err)
	}
	d := &chart.Document{X: chart.Variable{Column: "forage"}, Y: chart.Variable{Column: "honey"}}
	return HoldsOf(checks, mark.Bind(d, data).X, mark.Bind(d, data).Y, 0, 10, func(name string) string { return name },
		func(place int) string { return fmt.Sprint("TA-", place) }, nil, false)
}

// TestWhetherItHoldsIsToldAsItIs holds the words against what is built in: a slope that holds,
// one that turns with its groups, noise, and one that a single row makes.
func TestWhetherItHoldsIsToldAsItIs(t *testing.T) {
	group := func(i int) string { return []string{"Tarn", "Fen", "Brindle"}[i%3] }
	for name, test := range map[string]struct {
		row  func(s *rand.Rand, i int) (float64, float64, string)
		want []string
	}{
		"holds": {func(s *rand.Rand, i int) (float64, float64, string) {
			x := 10 * s.Float64()
			return x, 2*x + s.NormFloat64(), group(i)
		}, []string{"Honey rises with forage, clearly, over all rows and in each of 10 other ways of looking."}},
		"turns": {func(s *rand.Rand, i int) (float64, float64, string) {
			u := s.NormFloat64()
			return 3*float64(i%3) + u, -6*float64(i%3) + 2*u + 0.3*s.NormFloat64(), group(i)
		}, []string{"Honey falls with forage over all rows", "It goes the other way: ", "district held fixed"}},
		"noise": {func(s *rand.Rand, i int) (float64, float64, string) {
			return s.NormFloat64(), s.NormFloat64(), group(i)
		}, []string{"The slope over all rows is not clear"}},
		"one row": {func(s *rand.Rand, i int) (float64, float64, string) {
			if i == 7 {
				return 300, 300, group(i)
			}
			return 10 * s.Float64(), 10 * s.Float64(), group(i)
		}, []string{"not clear: ", "robust line"}},
	} {
		h := looked(t, 240, test.row)
		said := Paragraph{Spans: h.Words}.Text()
		for _, part := range test.want {
			if !strings.Contains(said, part) {
				t.Errorf("%s: says %q, without %q", name, said, part)
			}
		}
		for _, r := range h.Rows {
			if r.At == nil || *r.At < 0 || *r.At > 1 || r.Low > *r.At || r.High < *r.At {
				t.Errorf("%s: %s stands at %v of %v to %v", name, r.Name, r.At, r.Low, r.High)
			}
		}
		if name == "one row" && !strings.HasPrefix(h.Named, "The most influential: TA-7") {
			t.Errorf("named: %s", h.Named)
		}
	}
}

// TestChecksOfFewRows holds that what cannot be looked at says why, and nothing is NaN.
func TestChecksOfFewRows(t *testing.T) {
	h := looked(t, 4, func(_ *rand.Rand, i int) (float64, float64, string) { return float64(i), float64(i * i), "Tarn" })
	unknown := 0
	for _, r := range h.Rows {
		if strings.Contains(r.Slope+r.Interval, "NaN") || r.At != nil && math.IsNaN(*r.At) {
			t.Errorf("%+v", r)
		}
		if r.Interval == "not known" {
			unknown++
		}
		if r.Says == "agrees" && r.Interval == "not known" {
			t.Errorf("%s agrees without an interval", r.Name)
		}
	}
	if unknown < 4 { // each half has two rows
		t.Errorf("%d ways have no interval", unknown)
	}
}
