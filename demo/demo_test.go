package demo

import (
	"bytes"
	"context"
	"io"
	"math"
	"testing"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/reader"
	"copperlark/core/reading"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

func load(t *testing.T, write func(io.Writer) error) *table.Table {
	t.Helper()
	var file bytes.Buffer
	if err := write(&file); err != nil {
		t.Fatal(err)
	}
	got, _, err := reader.Read(context.Background(), &file, reader.Options{})
	if err != nil {
		t.Fatal(err)
	}
	return got
}

func build(t *testing.T, data *table.Table, typed string) *figure.Figure {
	t.Helper()
	document, mistakes := sentence.Parse(typed, data)
	if mistakes != nil {
		t.Fatal(mistakes[0])
	}
	f, problems, err := figure.Build(context.Background(), mark.Bind(document, data), figure.Options{Metrics: text.Hanken()})
	if err != nil || problems != nil {
		t.Fatalf("%v %v", problems, err)
	}
	return f
}

// TestTheProgramFindsTheTruth holds that what is built into the data is what
// the models find in it.
func TestTheProgramFindsTheTruth(t *testing.T) {
	seasons := load(t, HiveSeasons)
	if seasons.Rows() != 1180 {
		t.Fatalf("%d rows", seasons.Rows())
	}
	f := build(t, seasons, "plot honey_kg against forage_ha\nlog x\ncolour by district")
	compared := f.Relation.Compared
	if slope := compared.Pooled.Slope; slope > -4 || slope < -7 {
		t.Errorf("overall honey changes by %.2f kg a tenfold, built in is about -5", slope)
	}
	if within := compared.Within.Slope; math.Abs(within-9) > 1 {
		t.Errorf("within districts honey changes by %.2f kg a tenfold, built in is 9", within)
	}
	for g, line := range compared.Lines {
		if line.Slope < 5 {
			t.Errorf("in %s the slope is %.2f", f.Relation.Levels[g], line.Slope)
		}
	}
	if said := reading.Of(f); said.Paragraphs[1].Kind != "warning" {
		t.Errorf("the reversal is not warned of: %s", said.Text())
	}
	hive := build(t, seasons, "plot honey_kg against forage_ha\nlog x\ncolour by hive_type").Relation.Compared
	if change := hive.Within.Slope - hive.Pooled.Slope; math.Abs(change) > 0.3 {
		t.Errorf("hive_type moves the slope by %.2f", change)
	}
	season := build(t, seasons, "plot price against queen_age_y\ncolour by season").Relation.Compared
	if !(season.Pooled.PSlope() < 1e-6) || season.Within.Significant(0.99) {
		t.Errorf("season does not explain the price away: p %.2g overall, %.2g within", season.Pooled.PSlope(), season.Within.P)
	}
	school := build(t, seasons, "plot honey_kg against mites_per_100\ncolour by keeper_school").Relation.Compared
	if share := school.Within.Slope / school.Pooled.Slope; share < 0.05 || share > 0.8 {
		t.Errorf("within schools %.2f of the slope remains", share)
	}
	lots := build(t, load(t, MarketLots), "plot quantity against unit_price\nlog x\nlog y\n").Relation.Line
	if math.Abs(lots.Slope+0.8) > 0.1 {
		t.Errorf("quantity goes with the %.2f-th power of the price, built in is -0.8", lots.Slope)
	}
	if days := load(t, ScaleDays); days.Rows() != 731 || days.Column("date").Kind != table.Date {
		t.Errorf("scale_days has %d rows and its date is %s", days.Rows(), days.Column("date").Kind)
	}
}

func TestMissingValuesAndOddText(t *testing.T) {
	seasons := load(t, HiveSeasons)
	missing := 0
	for _, name := range []string{"hive_type", "forage_ha", "honey_kg", "price", "first_flow"} {
		missing += seasons.Column(name).MissingCount()
	}
	if share := float64(missing) / (5 * 1180); share < 0.02 || share > 0.04 {
		t.Errorf("%.3f of the values are missing", share)
	}
	if kind := seasons.Column("fed").Kind; kind != table.YesNo {
		t.Errorf("fed is read as %s", kind)
	}
}

func TestFlightMinutes(t *testing.T) {
	flights := load(t, func(w io.Writer) error { return FlightMinutes(w, 20000) })
	if flights.Rows() != 20000 || flights.Column("moment").Kind != table.Date || flights.Column("light_lux").Kind != table.Number {
		t.Errorf("%d rows", flights.Rows())
	}
}
