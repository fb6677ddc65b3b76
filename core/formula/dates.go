package formula

import (
	"fmt"
	"math"
	"strings"
	"time"
)

// ReadDate reads a date of ISO 8601, with or without a time of day, as seconds since
// 1970-01-01T00:00:00Z.
func ReadDate(text string) (seconds float64, ok bool) {
	for _, layout := range []string{"2006-01-02", "2006-01-02 15:04:05", "2006-01-02 15:04", "2006-01-02T15:04:05"} {
		if moment, err := time.Parse(layout, strings.TrimSpace(text)); err == nil {
			return float64(moment.Unix()), true
		}
	}
	return 0, false
}

// AddMonths gives the same day of the month n months later, or the last day where
// the month is shorter (as PostgreSQL adds an interval of months).
func AddMonths(seconds float64, n int) float64 {
	at := moment(seconds)
	first := time.Date(at.Year(), at.Month()+time.Month(n), 1, 0, 0, 0, 0, time.UTC)
	last := first.AddDate(0, 1, -1).Day()
	day := first.AddDate(0, 0, min(at.Day(), last)-1)
	return float64(day.Unix()) + seconds - math.Floor(seconds/secondsADay)*secondsADay
}

// AddBusinessDays gives the n-th day from Monday to Friday after a date, or before
// it for n below 0. A date on a weekend counts as the Monday after it.
func AddBusinessDays(seconds float64, n int) float64 {
	within := seconds - math.Floor(seconds/secondsADay)*secondsADay
	days := int(math.Floor(seconds / secondsADay))
	weekday := ((days+3)%7 + 7) % 7 // 0 is Monday; 1970-01-01 was a Thursday
	if weekday > 4 {
		days, weekday = days+7-weekday, 0
	}
	monday := days - weekday
	at := weekday + n
	weeks := int(math.Floor(float64(at) / 5))
	return float64(monday+7*weeks+at-5*weeks)*secondsADay + within
}

// truncations are the beginnings that date_trunc knows.
var truncations = map[string]func(time.Time) time.Time{
	"year":    func(t time.Time) time.Time { return time.Date(t.Year(), 1, 1, 0, 0, 0, 0, time.UTC) },
	"quarter": func(t time.Time) time.Time { return time.Date(t.Year(), (t.Month()-1)/3*3+1, 1, 0, 0, 0, 0, time.UTC) },
	"month":   func(t time.Time) time.Time { return time.Date(t.Year(), t.Month(), 1, 0, 0, 0, 0, time.UTC) },
	"week": func(t time.Time) time.Time {
		return time.Date(t.Year(), t.Month(), t.Day()-(int(t.Weekday())+6)%7, 0, 0, 0, 0, time.UTC)
	},
	"day":    func(t time.Time) time.Time { return t.Truncate(24 * time.Hour) },
	"hour":   func(t time.Time) time.Time { return t.Truncate(time.Hour) },
	"minute": func(t time.Time) time.Time { return t.Truncate(time.Minute) },
}

func init() {
	functions["date_trunc"] = &Function{
		Name:    "date_trunc",
		Help:    "the beginning of the year, quarter, month, week, day, hour or minute",
		Example: "date_trunc('month', day)",
		least:   2,
		most:    2,
		whole:   dateTrunc,
	}
	// A hundred thousand years either way, so that no date runs out of its range.
	later := func(most float64, add func(float64, int) float64) func(e *evaluation, n *node) *vector {
		return func(e *evaluation, n *node) *vector {
			return e.each2(e.need(n.args[0], Date), e.need(n.args[1], Number), Date, func(seconds, by float64) float64 {
				if !(math.Abs(by) <= most && math.Abs(seconds) <= 1e13) { // NaN too
					return math.NaN()
				}
				return add(seconds, int(math.Trunc(by)))
			})
		}
	}
	functions["add_months"] = &Function{
		Name:    "add_months",
		Help:    "the same day so many months later",
		Example: "add_months(day, 1)",
		least:   2,
		most:    2,
		whole:   later(1.2e6, AddMonths),
	}
	functions["add_business_days"] = &Function{
		Name:    "add_business_days",
		Help:    "so many days from Monday to Friday later",
		Example: "add_business_days(day, row)",
		least:   2,
		most:    2,
		whole:   later(2.6e7, AddBusinessDays),
	}
}

func dateTrunc(e *evaluation, n *node) *vector {
	part := n.args[0]
	begin := truncations[strings.ToLower(part.text)]
	if part.op != "text" || begin == nil {
		refuse(
			part,
			fmt.Sprintf("a date has no beginning of %s", part.text),
			"say date_trunc('month', day), with year, quarter, month, week, day, hour or minute",
		)
	}
	return e.each1(e.need(n.args[1], Date), Date, func(seconds float64) float64 { return Truncate(strings.ToLower(part.text), seconds) })
}

// Truncate gives the beginning of the year, quarter, month, week, day, hour or minute that
// a date is in; missing of a missing one.
func Truncate(part string, seconds float64) float64 {
	if math.IsNaN(seconds) {
		return seconds
	}
	return float64(truncations[part](moment(seconds)).Unix())
}
