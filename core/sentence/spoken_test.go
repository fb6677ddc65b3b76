package sentence

import (
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/formula"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// A spoken sentence, typed, is the same chart: over tables whose names could be taken for other words, and charts of any clauses.
func TestWhatIsSpokenCanBeTyped(t *testing.T) {
	names := []string{"honey_kg", "Honey kg", "price by market", "district", "dose as groups", "y", "market", "漢字 ש", `a "b"`,
		"mean of all", strings.Repeat("long name ", 6), "bars", "2029", "hive_type", "and", "share (%)", "Tarn", "plot", "of", "month"}
	columns := make([]*table.Column, len(names))
	for i, name := range names {
		columns[i] = table.NewNumbers(name, []float64{1, 2, 3})
		if i%3 == 0 {
			columns[i] = table.NewCategory(name, []string{"Tarn", "Lower Moss", "it's"})
		}
	}
	data, err := table.New(columns...)
	if err != nil {
		t.Fatal(err)
	}
	source := rand.New(rand.NewPCG(22, 1))
	charts := 0
	for range spokenCharts {
		d := AtRandom(source, source.IntN(8), data.Names())
		if d.Function != nil {
			d.Where = "" // there are no rows
		}
		d, wrong := Parse(Print(d), data)
		if wrong != nil {
			continue
		}
		charts++
		said := ""
		for _, part := range Spoken(mark.Bind(d, data)) {
			said += part.Text
		}
		if back, wrong := Parse(said, data); wrong != nil {
			t.Errorf("%s%s\n%v", Print(d), said, wrong[0])
		} else if got, want := canonical(back, data), canonical(d, data); got != want {
			t.Errorf("%s\nis heard as\n%snot\n%s", said, got, want)
		}
		if t.Failed() {
			return
		}
	}
	if charts < spokenCharts*9/10 {
		t.Errorf("only %d of %d are charts", charts, spokenCharts)
	}
}

const spokenCharts = 10_000

// canonical writes a chart with what goes without saying said, its condition in one spelling.
func canonical(d *document, data *table.Table) string {
	d = mark.Bind(d, data).Document.Clone()
	for i := range d.Also {
		d.Also[i].As = d.Also[i].Drawn()
	}
	for _, fit := range d.Fits() {
		if fit.Kind == chart.FitLocal && fit.Span == 0 {
			fit.Span = chart.DefaultSpan
		}
	}
	var where strings.Builder
	tokens, _ := formula.Tokens(d.Where)
	for _, token := range tokens {
		where.WriteString(token.Text + " ")
	}
	d.Where = ""
	return where.String() + Print(d)
}
