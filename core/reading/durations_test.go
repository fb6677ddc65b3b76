package reading

import (
	"context"
	"strings"
	"testing"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// TestSlopesOfDurationsAreToldInUnitsOfTime holds what is said of how long something takes, along both axes, and what stands
// at the ticks and on cards.
func TestSlopesOfDurationsAreToldInUnitsOfTime(t *testing.T) {
	var took, kilometres []float64
	for i := range 40 {
		kilometres, took = append(kilometres, float64(i%20)+1), append(took, float64(i%20+1)*330+float64(i%3)*20)
	}
	data, err := table.New(&table.Column{Name: "took", Kind: table.Duration, Numbers: took},
		&table.Column{Name: "way", Unit: "km", Kind: table.Number, Numbers: kilometres})
	if err != nil {
		t.Fatal(err)
	}
	for typed, want := range map[string][]string{
		"plot took against way\nfit line": {"took rises by 5.5 min for every 1 km more of way"},
		"plot way against took\nfit line": {"way rises by 0.18 km for every minute more of took"},
		"plot mean(took) against way":     {"mean of took", " min"}, "plot took against way\nlog y\nlog x\nfit line": {"% for 1 % more way"},
	} {
		d, mistakes := sentence.Parse(typed, data)
		if mistakes != nil {
			t.Fatal(mistakes[0])
		}
		f, problems, err := figure.Build(context.Background(), mark.Bind(d, data), figure.Options{Metrics: text.Hanken()})
		if err != nil || problems != nil {
			t.Fatalf("%s: %v %v", typed, problems, err)
		}
		var said strings.Builder
		for _, p := range Of(f).Paragraphs {
			said.WriteString(p.Text() + " ")
		}
		for _, words := range want {
			if !strings.Contains(said.String(), words) {
				t.Errorf("%s: %q does not say %q", typed, said.String(), words)
			}
		}
		if len(f.Fits) == 1 && typed == "plot took against way\nfit line" && f.Fits[0].Facts[0].Value != "took in min = 0.3342 + 5.499 × way" {
			t.Errorf("the equation is %s", f.Fits[0].Facts[0].Value)
		}
		for _, s := range f.Scales {
			for _, tick := range s.Ticks {
				if s.Column == "took" && !strings.HasSuffix(tick.Label, " min") && !strings.HasSuffix(tick.Label, " h") && tick.Label != "0 s" {
					t.Errorf("%s: a tick at %v says %s", typed, tick.Value, tick.Label)
				}
			}
		}
	}
}
