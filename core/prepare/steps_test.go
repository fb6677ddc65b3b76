package prepare

import (
	"context"
	"errors"
	"strings"
	"testing"

	"copperlark/core/reader"
)

// visits are of the turn of a year: 2029-12-31 is a Monday, in the first week of 2030.
const visits = `day,at,month,kg
2029-12-30,2029-12-30 23:10,a,1
2029-12-31,2029-12-31 00:05,a,2
2030-01-01,2030-01-01 00:50,b,4
2030-01-06,2030-01-06 07:00,b,8
,,b,16
2030-02-28,2030-02-28 07:59,b,32
`

func TestStepsOfDates(t *testing.T) {
	data, _, err := reader.Read(context.Background(), strings.NewReader(visits), reader.Options{})
	if err != nil {
		t.Fatal(err)
	}
	for typed, want := range map[string]string{
		"for each year of day: s = sum(kg)":                "2029 3 | 2030 44 |  16",
		"for each quarter of day: s = sum(kg)":             "2029-10-01 3 | 2030-01-01 44 |  16",
		"for each month of day: s = sum(kg)":               "2029-12-01 3 | 2030-01-01 12 | 2030-02-01 32 |  16",
		"for each week of day: s = sum(kg)":                "2029-12-24 1 | 2029-12-31 14 | 2030-02-25 32 |  16",
		"for each weekday of day: s = sum(kg)":             "Monday 2 | Tuesday 4 | Thursday 32 | Sunday 9 |  16",
		"for each day of at: s = sum(kg)":                  "2029-12-30 1 | 2029-12-31 2 | 2030-01-01 4 | 2030-01-06 8 | 2030-02-28 32 |  16",
		"for each hour of at: s = count()":                 "2029-12-30 23:00:00 1 | 2029-12-31 00:00:00 1 | 2030-01-01 00:00:00 1 | 2030-01-06 07:00:00 1 | 2030-02-28 07:00:00 1 |  1",
		"for each month: s = sum(kg)":                      "a 3 | b 60",
		"for each month, month of day: s = sum(kg)":        "a 2029-12-01 3 | b 2030-01-01 12 | b 2030-02-01 32 | b  16",
		"for each year of day: s = string_agg(month, '+')": "2029 a+a | 2030 b+b+b |  b",
	} {
		state, err := Run(context.Background(), data, Parse(typed), Environment{})
		if err != nil {
			t.Errorf("%s: %v", typed, err)
			continue
		}
		var rows []string
		for row := range state.Table.Rows() {
			var values []string
			for _, column := range state.Table.Columns() {
				values = append(values, column.Value(row))
			}
			rows = append(rows, strings.Join(values, " "))
		}
		if got := strings.Join(rows, " | "); got != want {
			t.Errorf("%s: %s, want %s", typed, got, want)
		}
	}
	var mistake *Mistake
	if _, err := Run(context.Background(), data, Parse("for each month of kg: n = count()"), Environment{}); !errors.As(err, &mistake) ||
		mistake.From != 18 || mistake.Message != "kg holds number values and has no month" {
		t.Errorf("a month of a number: %+v, %v", mistake, err)
	}
}
