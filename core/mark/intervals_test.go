package mark

import (
	"context"
	"fmt"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// TestWhatIsDrawnAboutAStatistic holds the ends of what is drawn about means, shares and
// medians of known rows: Student's, Wilson's, that of order statistics, a deviation. How many
// groups have one stands before them: one row has none, but the share of one row has.
func TestWhatIsDrawnAboutAStatistic(t *testing.T) {
	numbers := []float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 4}
	fed := []int32{1, 0, 0, 0, 1, 0, 1, 0, 0, 0, 1}
	groups := make([]string, len(numbers))
	for i := range groups {
		groups[i] = "many"
	}
	groups[10] = "one"
	data, err := table.New(table.NewNumbers("n", numbers), &table.Column{Name: "fed", Kind: table.YesNo, Codes: fed,
		Levels: []string{"no", "yes"}}, table.NewCategory("g", groups))
	if err != nil {
		t.Fatal(err)
	}
	for _, test := range []struct {
		column string
		of     chart.Aggregate
		said   chart.Interval
		want   string
	}{
		{"n", chart.Mean, chart.Interval{Level: 95}, "1: 3.334 to 7.666, 95 % interval"},
		{"n", chart.Mean, chart.Interval{Level: 99.9}, "1: 0.923 to 10.077, 99.9 % interval"},
		{"n", chart.Mean, chart.Interval{Deviation: true}, "1: 2.472 to 8.528, standard deviation"},
		{"n", chart.Median, chart.Interval{Level: 95}, "1: 2 to 9, 95 % interval"},
		{"fed", chart.Mean, chart.Interval{Level: 95}, "2: 0.108 to 0.603, 95 % interval"},
	} {
		for _, m := range []*Mark{bars, dots, line} {
			d := &chart.Document{X: chart.Variable{Column: "g"}, Y: chart.Variable{Column: test.column, Of: test.of},
				Layers: []chart.Layer{{Mark: chart.IntervalLayer, Interval: &test.said}}}
			if problems := chart.Check(d, data); problems != nil {
				t.Fatal(problems)
			}
			c := &Case{Document: d, Table: data, X: Bind(d, data).X, Y: Bind(d, data).Y, U: make([]float64, len(numbers)), V: numbers}
			if test.column == "fed" {
				c.V = make([]float64, len(fed))
				for i, yes := range fed {
					c.V[i] = float64(yes)
				}
			}
			c.U[10] = 1
			found, err := ComputeIntervals(context.Background(), c, m)
			if err != nil {
				t.Fatal(err)
			}
			p := &Panel{X: c.X.Scale(), Y: &scale.Scale{Kind: scale.Linear, To: 1}, Width: 100, Height: 100}
			p.X.From, p.X.To = 0, 1
			sink := &Sink{}
			found.Draw(p, sink)
			l := sink.Layers[0]
			got := fmt.Sprintf("%d: %.5g to %.5g, %s", l.Count/3, round3(l.Y.At(0)), round3(l.Y2.At(0)), l.Cards[0].Facts[1].Name)
			if got != test.want {
				t.Errorf("%s of %s as %s: %s, want %s", test.of, test.column, m.Name, got, test.want)
			}
		}
	}
}

func round3(v float64) float64 { return float64(int(v*1000+0.5)) / 1000 }
