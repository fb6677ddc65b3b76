package reading

import (
	"fmt"
	"math"
	"strings"
	"unicode/utf8"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// Units is how slopes are told: for how much of x, in what of y. Everything that is said of
// slopes beside a chart is said by them, so that numbers can be compared.
type Units struct {
	X, Y         string // names, inside a sentence
	Per          string // for every tenfold gain in forage area
	Short        string // kg per ×10 ha, at the head of a column of slopes
	xKind, yKind scale.Kind
	xUnit, yUnit string
	times        float64        // of y, in what it is told: 100 for a share
	xStep        table.TimeStep // of durations along x: in which they are told
	step         float64        // how much of x a slope is told for, in drawn space
	between      [2]string      // of two groups along x: which; then a slope is the difference from one to the other
}

// Told says in what slopes are told, to begin a sentence.
func (u *Units) Told() string {
	switch {
	case u.between[1] != "":
		if unit, in := strings.CutSuffix(u.Short, u.Per); in && unit != "" {
			return "Differences in " + strings.TrimSpace(unit) + ", " + u.Per
		}
		return "Differences " + u.Per
	case strings.HasPrefix(u.Short, "per "):
		return "Slopes " + u.Short
	}
	return "Slopes in " + u.Short
}

func unitsOf(f *figure.Figure, low, high float64) *Units {
	x, y := f.X(), f.Y()
	u := &Units{
		X:     table.Prose(x.Name),
		Y:     table.Prose(y.Name),
		xKind: x.Kind,
		yKind: y.Kind,
		xUnit: x.Unit,
		yUnit: y.Unit,
		times: 1,
		xStep: x.TimeStep,
	}
	u.inTime(y.TimeStep)
	u.choose(high - low)
	return u
}

// asShare has y told as the share of the second of its two groups, where a line goes through them.
func (u *Units) asShare(y *figure.Scale, span float64) {
	if y.Kind == scale.Groups && len(y.Levels) == 2 {
		u.Y, u.yUnit, u.times = fmt.Sprintf("the share of %s in %s", y.Levels[1], u.Y), "%", 100
		u.choose(span)
	}
}

// betweenValues has slopes told as the difference from one of two values of x to the other, so far apart.
func (u *Units) betweenValues(values [2]string, apart float64) {
	if values[1] == "" || u.xKind != scale.Linear {
		return
	}
	short := strings.TrimSuffix(u.Short, shortPer(u))
	u.step, u.Per = apart, fmt.Sprintf("from %s to %s", values[0], values[1])
	u.Short = strings.TrimSpace(strings.TrimSpace(short) + " " + u.Per)
}

// shortPer is the part of the head of a column of slopes that says for how much of x.
func shortPer(u *Units) string {
	if at := strings.Index(u.Short, "per "); at >= 0 {
		return u.Short[at:]
	}
	return ""
}

// UnitsOf are those of two axes between two values of x in drawn space.
func UnitsOf(x, y *mark.Axis, low, high float64) *Units {
	u := &Units{
		X:       x.Prose(),
		Y:       y.Prose(),
		xKind:   x.Kind,
		yKind:   y.Kind,
		xUnit:   x.Unit(),
		yUnit:   y.Unit(),
		between: x.Between,
		times:   1,
		xStep:   x.TimeStep(),
	}
	u.inTime(y.TimeStep())
	u.choose(high - low)
	return u
}

// inTime has y told in a unit of time, where it is a duration.
func (u *Units) inTime(step table.TimeStep) {
	if step.Seconds > 0 && u.yKind != scale.Log {
		u.times, u.yUnit = 1/step.Seconds, step.Name
	}
}

// choose settles for how much of x a slope is told: a tenfold gain on a log axis, a day or a
// year of dates, else a power of ten that fits the range.
func (u *Units) choose(span float64) {
	switch {
	case u.between[1] != "":
		u.step, u.Per = 1, fmt.Sprintf("from %s to %s", u.between[0], u.between[1])
		u.Short = u.Per
	case u.xKind == scale.Log && u.yKind == scale.Log:
		u.step, u.Per, u.Short = 1, fmt.Sprintf("for 1 %% more %s", u.X), "% per 1 %"
		if u.xUnit == "%" {
			u.Per = fmt.Sprintf("for each relative gain of 1 %% in %s", u.X)
		}
		return
	case u.xKind == scale.Log:
		u.step, u.Per = 1, fmt.Sprintf("for every tenfold gain in %s", u.X)
		u.Short = strings.TrimSpace("per ×10 " + u.xUnit)
	case u.xKind == scale.Date:
		for _, unit := range table.DateSteps {
			u.step, u.Per, u.Short = unit.Seconds, "for every "+unit.Name, "per "+unit.Name
			if span >= 2*unit.Seconds {
				break
			}
		}
	case u.xStep.Seconds > 0:
		for _, unit := range table.TimeSteps {
			u.step, u.Per, u.Short = unit.Seconds, fmt.Sprintf("for every %s more of %s", unit.Many, u.X), "per "+unit.Many
			if span >= 2*unit.Seconds {
				break
			}
		}
	default:
		u.step = math.Pow(10, math.Floor(math.Log10(span/2)))
		if span >= 2 && span <= 100 || !(u.step > 0) || math.IsInf(u.step, 0) {
			u.step = 1
		}
		amount := strings.TrimSpace(scale.Value(u.step, 3) + " " + u.xUnit)
		if u.step == 1 && u.xUnit == "" {
			amount = "unit"
		}
		u.Per = fmt.Sprintf("for every %s more of %s", amount, u.X)
		u.Short = "per " + amount
	}
	switch {
	case u.yKind == scale.Log:
		u.Short = "% " + u.Short
	case u.yKind == scale.Date:
		u.Short = "days " + u.Short
	default:
		u.Short = strings.TrimSpace(u.unit() + " " + u.Short)
	}
}

// unit is what an amount of y is told in.
func (u *Units) unit() string {
	switch {
	case u.yKind == scale.Log && u.yUnit == "%":
		return "% of itself"
	case u.yKind == scale.Log:
		return "%"
	case u.yKind == scale.Date:
		return "days"
	case u.yKind == scale.NearLinear:
		return "on its near-linear scale"
	case u.yUnit == "%":
		return "percentage points"
	}
	return shortUnit(u.yUnit)
}

// withUnit puts the unit of y behind a number, or before it where people write it so.
func (u *Units) withUnit(text string) string {
	switch unit := u.unit(); unit {
	case "":
		return text
	case "£", "$", "€", "¥":
		text = scale.Pence(text)
		if sign, size := utf8.DecodeRuneInString(text); sign == '+' || string(sign) == scale.Minus {
			return text[:size] + unit + text[size:]
		}
		return unit + text
	case "percentage points", "days":
		if strings.TrimLeft(text, "+"+scale.Minus) == "1" {
			unit = strings.TrimSuffix(unit, "s")
		}
		return text + " " + unit
	default:
		return text + " " + unit
	}
}

// value is a slope in these units: in percent where y is logged, in days where it is a date.
func (u *Units) value(slope float64) float64 {
	value := slope * u.step
	if u.times != 0 {
		value *= u.times
	}
	switch {
	case u.yKind == scale.Log && u.xKind != scale.Log:
		return 100 * (math.Pow(10, value) - 1)
	case u.yKind == scale.Date:
		return value / secondsADay
	}
	return value
}

// mostTold is from where on a change in percent is told in words.
const mostTold = 1000

// amount is what a slope means for the step, with its sign or, with its unit, without: in units of y, in
// percent where y is drawn on a log scale, or in days.
func (u *Units) amount(slope float64, signed bool) string {
	value := u.value(slope)
	switch {
	case u.yKind == scale.Log && u.xKind != scale.Log && value > mostTold:
		return "more than tenfold"
	case signed:
		return scale.Signed(value, 2)
	}
	return u.withUnit(scale.Value(math.Abs(value), 2))
}

// told is a slope with its sign, with as many digits as show the width of its interval.
func (u *Units) told(slope float64, interval model.Interval) string {
	low, high := u.value(interval.Low), u.value(interval.High)
	return u.write(u.value(slope), high-low)
}

// range is the interval of a slope, with digits as told has them.
func (u *Units) interval(interval model.Interval) string {
	low, high := u.value(interval.Low), u.value(interval.High)
	return u.write(low, high-low) + " to " + u.write(high, high-low)
}

// beside tells a slope and its interval with the digits of another one, or one digit more than
// its own, so that rows of a table can be compared.
func (u *Units) beside(slope float64, interval, other model.Interval) (told, between string) {
	low, high := u.value(interval.Low), u.value(interval.High)
	width := high - low
	if of := u.value(other.High) - u.value(other.Low); of > 0 && width > of {
		width = max(width/10, of)
	}
	return u.write(u.value(slope), width), u.write(low, width) + " to " + u.write(high, width)
}

// write writes a number with the digits that half the width of its interval begins with.
func (u *Units) write(v, width float64) string {
	if u.yKind == scale.Log && u.xKind != scale.Log && v > mostTold {
		return "more than tenfold"
	}
	if !(width > 0) || math.IsInf(width, 0) {
		return scale.Signed(v, 3)
	}
	decimals := -int(math.Floor(math.Log10(width / 2)))
	if decimals > 8 || math.Abs(v) >= 1e6 {
		return scale.Signed(v, 3)
	}
	if decimals < 0 {
		decimals = 0
	}
	text := scale.Number(v, decimals)
	for more := 1; more <= 3 && v != 0 && strings.Trim(text, "0.,"+scale.Minus) == ""; more++ { // a slope that is there has a sign
		text = scale.Number(v, decimals+more)
	}
	if v > 0 && strings.Trim(text, "0.,") != "" {
		return "+" + text
	}
	return text
}

// shortUnit keeps "kg" of "kg per hive": the sentence says the rest.
func shortUnit(unit string) string {
	short, _, _ := strings.Cut(unit, " per ")
	return short
}
