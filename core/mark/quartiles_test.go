package mark

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/describe"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// TestBoxesOfAllRowsAreThoseOfAllRows holds boxes that are found by scans against those of the rows, to the last digit.
func TestBoxesOfAllRowsAreThoseOfAllRows(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 2031))
	for name, value := range map[string]func(i, g int) float64{
		"measured":        func(_, g int) float64 { return float64(g) + source.NormFloat64() },
		"far from zero":   func(_, g int) float64 { return 1e9 + float64(g) + source.Float64()*1e-3 },
		"skewed, tiny":    func(_, _ int) float64 { return 1e-9 * math.Exp(3*source.NormFloat64()) },
		"whole, many tie": func(i, g int) float64 { return float64((i*7 + g) % 5) },
		"all the same":    func(_, _ int) float64 { return -2.5 },
		"two values":      func(i, _ int) float64 { return float64(i % 2) },
		"with far ones": func(i, _ int) float64 {
			return source.NormFloat64() * map[bool]float64{true: 1e6, false: 1}[i%400 == 0]
		},
	} {
		const n, groups = 40_000, 4
		group := &table.Column{Name: "district", Kind: table.Category, Levels: []string{"Brindle", "Dee", "Low Fen", "Tarn"}}
		column := &table.Column{Name: "kg", Kind: table.Number}
		var kept []int
		for i := range n {
			g := i % groups
			if g == 1 && i > 40 { // a group of few rows
				g = 0
			}
			group.Codes, column.Numbers = append(group.Codes, int32(g)), append(column.Numbers, value(i, g))
			if source.IntN(10) == 0 || g == 1 {
				kept = append(kept, i)
			}
		}
		whole, err := table.New(group, column)
		if err != nil {
			t.Fatal(err)
		}
		sample, sampled, all := whole.Select(kept), map[int32][]float64{}, map[int32][]float64{}
		for i, code := range sample.Column("district").Codes {
			sampled[code] = append(sampled[code], sample.Column("kg").Numbers[i])
		}
		for i, code := range group.Codes {
			all[code] = append(all[code], column.Numbers[i])
		}
		known := map[string]*summary.Answer{}
		var got map[int32]exactBox
		for scan := 0; ; scan++ {
			asked := &summary.Whole{Raw: sample, Known: func(q *summary.Question) *summary.Answer { return known[q.Name()] }}
			e := &Elsewhere{Whole: asked, Needs: []summary.Need{{Column: "kg"}, {Column: "district"}}, Unknown: map[string]map[string]int64{}}
			var is bool
			if got, is = e.boxesOf(sample.Column("district"), sample.Column("kg"), sampled); is {
				break
			}
			for _, one := range asked.Asked() {
				if one.Answer == nil {
					if known[one.Question.Name()], err = summary.Of(t.Context(), whole, one.Question); err != nil {
						t.Fatal(name, err)
					}
				}
			}
			if scan > 6 {
				t.Fatalf("%s: it scans for ever: %+v", name, asked.Asked())
			}
		}
		for g, values := range all {
			want, _ := describe.TukeyBox(values)
			b := got[g]
			has := fmt.Sprint(b.N, b.Q1, b.Median, b.Q3, b.WhiskerLow, b.WhiskerHigh, b.beyond)
			if has != fmt.Sprint(want.N, want.Q1, want.Median, want.Q3, want.WhiskerLow, want.WhiskerHigh, len(want.Outliers)) {
				t.Errorf("%s, group %d: %s, want %+v", name, g, has, *want)
			}
			far := want.Outliers
			above, below := len(far) > 0 && far[len(far)-1] > want.Q3, len(far) > 0 && far[0] < want.Q1
			if above && b.Outliers[len(b.Outliers)-1] != far[len(far)-1] || below && b.Outliers[0] != far[0] {
				t.Errorf("%s, group %d: the furthest are %v and %v", name, g, b.Outliers[0], b.Outliers[len(b.Outliers)-1])
			}
		}
	}
}
