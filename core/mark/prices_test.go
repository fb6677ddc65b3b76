package mark

import (
	"context"
	"math"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/table"
	"copperlark/core/text"
)

// pricesCase is a case of four columns along y, a row in each of which a value is not missing.
func pricesCase(t *testing.T, rows [][5]float64) (*Case, *Bound) {
	t.Helper()
	of := [5][]float64{}
	for _, row := range rows {
		for j, v := range row {
			of[j] = append(of[j], v)
		}
	}
	columns := []*table.Column{{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: of[0]}}
	for j, name := range []string{"open", "high", "low", "close"} {
		columns = append(columns, &table.Column{Name: name, Unit: "£", Kind: table.Number, Numbers: of[j+1]})
	}
	data, err := table.New(columns...)
	if err != nil {
		t.Fatal(err)
	}
	d := &chart.Document{Version: chart.Version, Y: chart.Variable{Column: "open"}, AlsoY: []string{"high", "low", "close"},
		X: chart.Variable{Column: "day"}}
	d.SetMarks("price bars")
	bound := Bind(d, data)
	c := &Case{Document: d, Table: data, X: bound.X, Y: bound.Y, Channels: Channels{Tones: 1}}
	for j := range 4 {
		for i, v := range of[j+1] {
			if !math.IsNaN(v) {
				c.Rows, c.U, c.V, c.Codes = append(c.Rows, uint32(i)), append(c.U, of[0][i]), append(c.V, v), append(c.Codes, int32(j))
			}
		}
	}
	return c, bound
}

// TestPriceBarsShowEachDate works two dates out by hand, in the other order, one that rises and one that falls, beside rows
// that are left out with their reasons.
func TestPriceBarsShowEachDate(t *testing.T) {
	const day = 86400.0
	nan := math.NaN()
	c, bound := pricesCase(t, [][5]float64{{2 * day, 12, 13, 9, 10}, {day, 10, 14, 8, 12}, {3 * day, 10, 11, 9, nan},
		{4 * day, 10, 8, 12, 11}, {5 * day, 7, 7, 7, 7}})
	if problems := bound.Problems(); problems != nil {
		t.Fatal(problems[0])
	}
	found, err := computePrices(context.Background(), c)
	if err != nil {
		t.Fatal(err)
	}
	if len(found.LeftOut) != 2 || found.LeftOut[0].Count != 1 || found.LeftOut[1].Count != 1 {
		t.Errorf("left out: %v", found.LeftOut)
	}
	x, y := bound.X.Scale(), bound.Y.Scale()
	x.From, x.To, y.From, y.To = 0, 10*day, 0, 20
	sink := &Sink{}
	found.Draw(&Panel{X: x, Y: y, Width: 600, Height: 400, Metrics: text.Hanken()}, sink)
	if len(sink.Layers) != 3 {
		t.Fatalf("%d layers", len(sink.Layers))
	}
	near := func(got, want float64) bool { return math.Abs(got-want) < 1e-3 }
	for i, want := range []struct{ at, open, high, low, end, tone float64 }{{1, 10, 14, 8, 12, 0}, {2, 12, 13, 9, 10, 1}, {5, 7, 7, 7, 7, 2}} {
		upright, open, end := sink.Layers[0], sink.Layers[1], sink.Layers[2]
		if !near(upright.X.At(i), want.at/10) || !near(upright.X2.At(i), want.at/10) || !near(upright.Y.At(i), want.low/20) ||
			!near(upright.Y2.At(i), want.high/20) {
			t.Errorf("bar %d goes from %v to %v", i, upright.Y.At(i), upright.Y2.At(i))
		}
		if !near(open.Y.At(i), want.open/20) || open.X.At(i) >= upright.X.At(i) || !near(end.Y.At(i), want.end/20) ||
			end.X2.At(i) <= upright.X.At(i) {
			t.Errorf("bar %d opens at %v and closes at %v", i, open.Y.At(i), end.Y.At(i))
		}
		if upright.Colour.At(i) != want.tone || upright.Keys.Colour != 1 {
			t.Errorf("bar %d has the colour %v", i, upright.Colour.At(i))
		}
	}
	facts := sink.Layers[0].Cards[0].Facts
	if len(facts) != 5 || facts[3].Name != "close" || !strings.HasPrefix(facts[4].Value, "+£2") {
		t.Errorf("the card of the first date: %v", facts)
	}
}

// TestPriceBarsThatCannotBeDrawnSayWhy holds several rows a date, too few columns, and groups along x.
func TestPriceBarsThatCannotBeDrawnSayWhy(t *testing.T) {
	c, bound := pricesCase(t, [][5]float64{{0, 1, 2, 1, 2}, {0, 2, 3, 1, 1}})
	if _, err := computePrices(context.Background(), c); err == nil || !strings.Contains(err.Error(), "several rows stand at 1970-01-01") {
		t.Errorf("two rows a date: %v", err)
	}
	few := bound.Document.Clone()
	few.AlsoY = few.AlsoY[:1]
	if problems := Bind(few, c.Table).Problems(); problems == nil || !strings.Contains(problems[0].Message, "open, high, low and close") {
		t.Errorf("two columns: %v", problems)
	}
}
