package prepare

import (
	"context"
	"errors"
	"math"
	"strings"
	"testing"

	"copperlark/core/model"
	"copperlark/core/table"
)

func made(t *testing.T, typed string, seed uint64) (*State, error) {
	t.Helper()
	empty, err := table.New()
	if err != nil {
		t.Fatal(err)
	}
	return Run(context.Background(), empty, Parse(typed), Environment{Seed: seed, MaxRows: 100_000})
}

func TestRowsAreMadeFromNothing(t *testing.T) {
	for _, test := range []struct{ typed, columns, want string }{
		{"make 3 rows", "row", "number|1~2~3"},
		{"make 1 row", "row", "number|1"},
		{"make 2 rows in each of 3 groups", "group group_number", "category|A~A~B~B~C~C\nnumber|1~1~2~2~3~3"},
		{"make 1 rows in each of 'Tarn', 'Low Fen'", "group", "category|Tarn~Low Fen"},
		{"make 5 rows with x from -1 to 1", "x", "number|-1~-0.5~0~0.5~1"},
		{"make 5 rows with day every business day from '2031-01-03'", "day", "date|2031-01-03~2031-01-06~2031-01-07~2031-01-08~2031-01-09"},
		{"make 3 rows with day every business day from '2031-01-04'", "day", "date|2031-01-06~2031-01-07~2031-01-08"},
		{"make 3 rows with day every month from '2031-01-31'", "day", "date|2031-01-31~2031-02-28~2031-03-31"},
		{"make 2 rows in each of 2 groups with t every hour from '2031-01-01 22:30', x from 0 to 1", "t x",
			"date|2031-01-01 22:30:00~2031-01-01 23:30:00~2031-01-01 22:30:00~2031-01-01 23:30:00\nnumber|0~1~0~1"},
		{"make 4 rows with x from 1 to 4\nwork out y = running_sum(x)", "y", "number|1~3~6~10"},
		{"make 3 rows with d every day from '2031-03-30'\nwork out m = date_trunc('month', d)\nwork out l = add_months(d, 1)\nwork out b = add_business_days(d, -1)", "m l b",
			"date|2031-03-01~2031-03-01~2031-04-01\ndate|2031-04-30~2031-04-30~2031-05-01\ndate|2031-03-28~2031-03-28~2031-03-31"},
	} {
		state, err := made(t, test.typed, 1)
		if err != nil {
			t.Errorf("%s: %v", test.typed, err)
			continue
		}
		if have := shown(state.Table, test.columns); have != test.want {
			t.Errorf("%s: got\n%s\nwant\n%s", test.typed, have, test.want)
		}
	}
	for typed, want := range map[string]string{
		"make 0 rows":                              "expected how many rows",
		"make 100001 rows":                         "more than 100,000 rows",
		"make 1000 rows in each of 101 groups":     "more than 100,000 rows",
		"make 5 rows in each of 'a', 'a'":          "named twice",
		"make 5 rows with day every moon from 'x'": "expected a step: business day, day",
		"make 5 rows with day every day from 'x'":  "x is not a date",
		"make 5 rows with row from 1 to 2":         `two columns are named "row"`,
	} {
		var mistake *Mistake
		if _, err := made(t, typed, 1); !errors.As(err, &mistake) || !strings.Contains(mistake.Message, want) {
			t.Errorf("%s: %v, want %s", typed, err, want)
		}
	}
}

// A reversal can be built: within each group y falls with x, over all it rises; the
// same seed makes the same rows, another seed others.
func TestAReversalCanBeBuilt(t *testing.T) {
	const typed = "make 200 rows in each of 3 groups\nwork out x = normal(10 * group_number, 3)\nwork out y = 20 * group_number - 1.5 * (x - 10 * group_number) + normal(0, 2)"
	state, err := made(t, typed, 7)
	if err != nil {
		t.Fatal(err)
	}
	x, y, group := state.Table.Column("x").Numbers, state.Table.Column("y").Numbers, state.Table.Column("group").Codes
	all, err := model.FitLine(context.Background(), x, y)
	if err != nil || all.Slope < 0.8 {
		t.Errorf("over all: %+v, %v", all, err)
	}
	for g := range int32(3) {
		var gx, gy []float64
		for i, code := range group {
			if code == g {
				gx, gy = append(gx, x[i]), append(gy, y[i])
			}
		}
		within, err := model.FitLine(context.Background(), gx, gy)
		if err != nil || math.Abs(within.Slope+1.5) > 0.2 {
			t.Errorf("group %d: %+v, %v", g, within, err)
		}
	}
	again, _ := made(t, typed, 7)
	other, _ := made(t, typed, 8)
	if shown(again.Table, "x y") != shown(state.Table, "x y") || shown(other.Table, "x") == shown(state.Table, "x") {
		t.Error("the seed does not decide what is made")
	}
}
