package prepare

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/table"
)

// near is a table of so many rows with a group, a time and its row, some of them missing.
func near(source *rand.Rand, rows int, number string, kind table.Kind) *table.Table {
	group := &table.Column{Name: "g", Kind: table.Category, Levels: []string{"a", "b"}, Codes: make([]int32, rows)}
	at := &table.Column{Name: "at", Kind: kind, Numbers: make([]float64, rows)}
	if kind == table.Date {
		at.Grain = table.Second
	}
	row := table.NewNumbers(number, make([]float64, rows))
	for i := range rows {
		group.Codes[i], at.Numbers[i], row.Numbers[i] = int32(source.IntN(3)-1), float64(source.IntN(40))*43200, float64(i)
		if source.IntN(9) == 0 {
			at.Numbers[i] = math.NaN()
		}
	}
	t, err := table.New(group, at, row)
	if err != nil {
		panic(err)
	}
	return t
}

// TestNearestIsTheNearestOfAll compares with a look at every row of the other table.
func TestNearestIsTheNearestOfAll(t *testing.T) {
	source := rand.New(rand.NewPCG(12, 3))
	for range 60 {
		kind := []table.Kind{table.Date, table.Number}[source.IntN(2)]
		here, there := near(source, 1+source.IntN(30), "row", kind), near(source, source.IntN(40), "partner", kind)
		for way, allowed := range map[string]func(distance float64) bool{ // of the other's from the row's own
			"nearest before": func(d float64) bool { return d <= 0 }, "nearest after": func(d float64) bool { return d >= 0 },
			"nearest": func(float64) bool { return true },
		} {
			typed, reach := "join other by g, at, "+way, math.Inf(1)
			if source.IntN(2) == 0 {
				typed, reach = typed+map[table.Kind]string{table.Date: " within 1.5 days", table.Number: " within 129600"}[kind], 1.5*86400
			}
			state, err := Run(context.Background(), here, Parse(typed), Environment{Dataset: func(context.Context, string, int) (*table.Table,
				error) {
				return there, nil
			}})
			if err != nil {
				t.Fatalf("%s: %v", typed, err)
			}
			if state.Table.Rows() != here.Rows() {
				t.Fatalf("%s makes %d rows of %d", typed, state.Table.Rows(), here.Rows())
			}
			g, at, partner := here.Column("g"), here.Column("at"), state.Table.Column("partner")
			for row := range here.Rows() {
				best, nearest := math.NaN(), math.Inf(1)
				for other := range there.Rows() {
					d := there.Column("at").Numbers[other] - at.Numbers[row]
					if g.Codes[row] < 0 || g.Codes[row] != there.Column("g").Codes[other] || math.IsNaN(d) || !allowed(d) || math.Abs(d) > reach {
						continue
					}
					if math.Abs(d) < nearest || math.Abs(d) == nearest && d < 0 &&
						there.Column("at").Numbers[int(best)] > there.Column("at").Numbers[other] {
						best, nearest = float64(other), math.Abs(d)
					}
				}
				if got := partner.Numbers[row]; got != best && !(math.IsNaN(got) && math.IsNaN(best)) {
					t.Fatalf("%s: row %d got %v, the nearest is %v", typed, row, got, best)
				}
			}
		}
	}
}

func TestMistakesOfTheNearest(t *testing.T) {
	source := rand.New(rand.NewPCG(1, 1))
	numbers, dates := near(source, 5, "row", table.Number), near(source, 5, "row", table.Date)
	for typed, want := range map[string]string{
		"join numbers by g, at, nearest within 3 days": "at holds numbers; days are a distance of dates",
		"join dates by at, nearest":                    "nearest is told of dates or of numbers: at is a number here and a date in dates",
		"join numbers by g, nearest":                   "nearest is told of dates or of numbers: g is a category here and a category in numbers",
		"join numbers by at, nearest within 0":         "expected a distance above 0",
		"join numbers by at, nearest within soon":      "expected a distance",
	} {
		_, err := Run(context.Background(), numbers, Parse(typed), Environment{Dataset: func(_ context.Context, name string,
			_ int) (*table.Table, error) {
			return map[string]*table.Table{"numbers": numbers, "dates": dates}[name], nil
		}})
		var mistake *Mistake
		if !errors.As(err, &mistake) || !strings.HasPrefix(mistake.Message, want) {
			t.Errorf("%s: %v, want %s", typed, fmt.Sprint(err), want)
		}
	}
}
