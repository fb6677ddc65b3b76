package formula

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/core/table"
	"copperlark/internal/test/databases"
)

func day(t *testing.T, text string) float64 {
	t.Helper()
	seconds, ok := ReadDate(text)
	if !ok {
		t.Fatalf("%s is not a date", text)
	}
	return seconds
}

func TestDatesAreRead(t *testing.T) {
	for text, want := range map[string]float64{"1970-01-01": 0, " 1970-01-02 ": 86_400, "1970-01-01 00:01": 60, "1970-01-01T00:00:05": 5,
		"1969-12-31 23:59:59": -1} {
		if got, ok := ReadDate(text); !ok || got != want {
			t.Errorf("%q is read as %v, %v", text, got, ok)
		}
	}
	for _, text := range []string{"", "1970-02-30", "01/02/1970", "1970-01-01 25:00", "today"} {
		if _, ok := ReadDate(text); ok {
			t.Errorf("%q is read as a date", text)
		}
	}
}

// TestMonthsAndTruncationsAgainstPostgreSQL asks the database for the same dates.
func TestMonthsAndTruncationsAgainstPostgreSQL(t *testing.T) {
	ctx := context.Background()
	connection, err := pgx.Connect(ctx, databases.Throwaway(t))
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = connection.Close(ctx) }()
	source := rand.New(rand.NewPCG(11, 1))
	const rows = 600
	seconds, months := make([]float64, rows), make([]float64, rows)
	var values []string
	for i := range rows {
		seconds[i], months[i] = math.Floor(4e9*(source.Float64()-0.3)), float64(source.IntN(400)-200)
		if i%3 == 0 { // the last days of months are where it matters
			at := time.Unix(int64(seconds[i]), 0).UTC()
			seconds[i] = float64(time.Date(at.Year(), at.Month()+1, 0, 0, 0, 0, 0, time.UTC).Unix())
		}
		values = append(values, fmt.Sprintf("(%d, %.0f, %.0f)", i, seconds[i], months[i]))
	}
	data, err := table.New(&table.Column{Name: "d", Kind: table.Date, Grain: table.Second, Numbers: seconds}, table.NewNumbers("n", months))
	if err != nil {
		t.Fatal(err)
	}
	asked := map[string]string{"add_months(d, n)": "at + make_interval(months => n::int)"}
	for _, part := range []string{"year", "quarter", "month", "week", "day", "hour", "minute"} {
		asked[fmt.Sprintf("date_trunc('%s', d)", part)] = fmt.Sprintf("date_trunc('%s', at)", part)
	}
	for ours, theirs := range asked {
		f, err := Parse(ours)
		if err != nil {
			t.Fatal(err)
		}
		got, faults, err := f.Column(ctx, data, "got", 1)
		if err != nil || faults != 0 || got.Kind != table.Date {
			t.Fatalf("%s: %v, %d faults", ours, err, faults)
		}
		answers, err := connection.Query(ctx,
			fmt.Sprintf("select i, extract(epoch from %s)::float8 from (select i, to_timestamp(s) at time zone 'UTC' as at, n from (values %s) v(i, s, n)) w order by i", theirs, strings.Join(values, ",")))
		if err != nil {
			t.Fatal(err)
		}
		for answers.Next() {
			var i int
			var want float64
			if err := answers.Scan(&i, &want); err != nil {
				t.Fatal(err)
			}
			if got.Numbers[i] != want {
				t.Errorf("%s of %s and %v: %s, PostgreSQL says %s", ours, table.FormatDate(seconds[i], table.Second), months[i],
					table.FormatDate(got.Numbers[i], table.Second), table.FormatDate(want, table.Second))
			}
		}
		if answers.Err() != nil {
			t.Fatal(answers.Err())
		}
	}
}

// businessDaysSlowly walks day by day.
func businessDaysSlowly(seconds float64, n int) float64 {
	weekend := func() bool {
		weekday := time.Unix(int64(math.Floor(seconds)), 0).UTC().Weekday()
		return weekday == time.Saturday || weekday == time.Sunday
	}
	for weekend() {
		seconds += secondsADay
	}
	for ; n != 0; n -= sign(n) {
		seconds += float64(sign(n)) * secondsADay
		for weekend() {
			seconds += float64(sign(n)) * secondsADay
		}
	}
	return seconds
}

func sign(n int) int {
	if n < 0 {
		return -1
	}
	return 1
}

func TestBusinessDaysAgainstWalkingDayByDay(t *testing.T) {
	source := rand.New(rand.NewPCG(12, 1))
	for range 2000 {
		seconds, n := math.Floor(4e9*(source.Float64()-0.3)), source.IntN(80)-40
		if got, want := AddBusinessDays(seconds, n), businessDaysSlowly(seconds, n); got != want {
			t.Fatalf("%d business days after %s: %s, want %s", n, table.FormatDate(seconds, table.Second), table.FormatDate(got, table.Second),
				table.FormatDate(want, table.Second))
		}
	}
}

func TestDatesOutOfAllRangeAreMissing(t *testing.T) {
	data, err := table.New(&table.Column{Name: "d", Kind: table.Date, Numbers: []float64{day(t, "2031-01-31"), math.NaN(), 1e15}},
		table.NewNumbers("n", []float64{1e18, 1, 1}))
	if err != nil {
		t.Fatal(err)
	}
	for _, text := range []string{"add_months(d, n)", "add_business_days(d, n)", "date_trunc('month', add_months(d, n))"} {
		f, err := Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		got, _, err := f.Column(context.Background(), data, "got", 1)
		if err != nil || got.MissingCount() != 3 {
			t.Errorf("%s: %v, %v", text, got.Numbers, err)
		}
	}
	f, err := Parse("date_trunc('moon', d)")
	if err == nil {
		_, _, err = f.Column(context.Background(), data, "got", 1)
	}
	if err == nil || !strings.Contains(err.Error(), "no beginning of moon") {
		t.Errorf("a part that dates do not have: %v", err)
	}
}
