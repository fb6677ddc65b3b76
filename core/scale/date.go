package scale

import (
	"fmt"
	"math"
	"time"

	"copperlark/core/table"
)

// dateStep is a step between ticks on a date axis: whole months, or seconds.
type dateStep struct {
	months  int
	seconds float64
}

const (
	minute = 60.0
	hour   = 3600.0
	day    = 86400.0
	month  = 30.44 * day
)

var dateSteps = []dateStep{
	{0, 1}, {0, 5}, {0, 15}, {0, 30}, {0, minute}, {0, 5 * minute}, {0, 15 * minute}, {0, 30 * minute},
	{0, hour}, {0, 3 * hour}, {0, 6 * hour}, {0, 12 * hour}, {0, day}, {0, 2 * day}, {0, 7 * day}, {0, 14 * day},
	{1, month}, {3, 3 * month}, {6, 6 * month}, {12, 12 * month}, {24, 24 * month}, {60, 60 * month}, {120, 120 * month},
	{300, 300 * month}, {600, 600 * month}, {1200, 1200 * month}, {2400, 2400 * month},
	{6000, 6000 * month}, {12000, 12000 * month}, {24000, 24000 * month},
}

// dateTicks gives ticks at round moments (UTC). The label says what changes
// from tick to tick, and the year or the day where a new one begins.
func dateTicks(low, high float64, count int) []Tick {
	low, high = max(low, table.EarliestDate), min(high, table.LatestDate)
	rough := (high - low) / float64(count)
	if rough < 0.5 {
		return fractionTicks(low, high, count) // finer than a calendar goes
	}
	step := dateSteps[len(dateSteps)-1]
	for i, candidate := range dateSteps {
		if candidate.seconds >= rough*0.999 || (i+1 < len(dateSteps) && math.Sqrt(candidate.seconds*dateSteps[i+1].seconds) > rough) {
			step = candidate
			break
		}
	}
	var ticks []Tick
	previous := time.Time{}
	for moment := firstTick(low, step); float64(moment.Unix()) <= high; moment = nextTick(moment, step) {
		if value := float64(moment.Unix()); value >= low {
			ticks = append(ticks, Tick{value, dateLabel(moment, previous, step)})
			previous = moment
		}
		if len(ticks) > 1000 {
			return nil
		}
	}
	return ticks
}

// mostFraction is how many digits of a second are written: no more are kept of today's dates.
const mostFraction = 6

// fractionTicks gives ticks at round fractions of a second; the first of them says the day.
func fractionTicks(low, high float64, count int) []Tick {
	var ticks []Tick
	digits := min(stepDecimals(Step(low, high, count)), mostFraction)
	unit := math.Pow(10, float64(digits))
	last := ""
	for _, tick := range linearTicks(low, high, count) {
		whole := math.Floor(tick.Value + 0.5/unit)
		fraction := math.Floor((tick.Value-whole)*unit + 0.5)
		moment := time.Unix(int64(whole), 0).UTC()
		label := moment.Format("15:04:05")
		if digits > 0 {
			label += fmt.Sprintf(".%0*d", digits, int(max(fraction, 0)))
		}
		if label == last { // nearer than can be told
			continue
		}
		if last = label; ticks == nil {
			label = moment.Format("2 Jan ") + label
		}
		ticks = append(ticks, Tick{tick.Value, label})
	}
	return ticks
}

func firstTick(low float64, step dateStep) time.Time {
	start := time.Unix(int64(math.Floor(low)), 0).UTC()
	if step.months > 0 {
		months := start.Year()*12 + int(start.Month()) - 1
		months -= ((months % step.months) + step.months) % step.months
		return time.Date(0, time.Month(months+1), 1, 0, 0, 0, 0, time.UTC)
	}
	if step.seconds >= 7*day { // weeks begin on Monday; 1970-01-05 was one
		offset := 4 * day
		return time.Unix(int64(offset+math.Floor((low-offset)/step.seconds)*step.seconds), 0).UTC()
	}
	return time.Unix(int64(math.Floor(low/step.seconds)*step.seconds), 0).UTC()
}

func nextTick(moment time.Time, step dateStep) time.Time {
	if step.months > 0 {
		return moment.AddDate(0, step.months, 0)
	}
	return moment.Add(time.Duration(step.seconds) * time.Second)
}

func dateLabel(moment, previous time.Time, step dateStep) string {
	newYear := previous.IsZero() || previous.Year() != moment.Year()
	newDay := newYear || previous.YearDay() != moment.YearDay()
	switch {
	case step.months >= 12:
		return moment.Format("2006")
	case step.months > 0:
		if newYear {
			return moment.Format("Jan 2006")
		}
		return moment.Format("Jan")
	case step.seconds >= day:
		if newYear {
			return moment.Format("2 Jan 2006")
		}
		return moment.Format("2 Jan")
	case newDay:
		return moment.Format("2 Jan 15:04")
	case step.seconds >= minute:
		return moment.Format("15:04")
	}
	return moment.Format("15:04:05")
}
