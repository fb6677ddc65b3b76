package table

import (
	"math"
	"regexp"
	"strconv"
	"strings"
)

// TimeStep is a unit in which people count how long something takes.
type TimeStep struct {
	Name    string // as it stands behind a number
	Many    string // as it stands in a sentence: for every hour
	Seconds float64
}

// TimeSteps are the units of durations, the longest first.
var TimeSteps = []TimeStep{{"d", "day", 86400}, {"h", "hour", 3600}, {"min", "minute", 60}, {"s", "second", 1}}

// timeWords are what units of durations are called in files.
var timeWords = map[string]float64{
	"d": 86400, "day": 86400, "days": 86400, "h": 3600, "hr": 3600, "hrs": 3600, "hour": 3600, "hours": 3600,
	"m": 60, "min": 60, "mins": 60, "minute": 60, "minutes": 60, "s": 1, "sec": 1, "secs": 1, "second": 1, "seconds": 1, "ms": 1e-3,
}

// TimeUnit is how many seconds a unit of time has, as a column may be measured in: min, h, days; 0 for what is none.
func TimeUnit(unit string) float64 {
	if unit == "m" { // metres
		return 0
	}
	return timeWords[strings.ToLower(strings.TrimSpace(unit))]
}

// LongestDuration is how long a duration may be, in seconds: about 300,000 years.
const LongestDuration = 1e13

var (
	clockDuration = regexp.MustCompile(`^(?:(\d{1,9}):)?(\d{1,9}):([0-5]?\d(?:[.,]\d{1,9})?)$`)
	partDuration  = regexp.MustCompile(`^(\d{1,12}(?:[.,]\d{1,9})?)\s*([a-zA-Z]+)[\s,]*`)
	isoDuration   = regexp.MustCompile(
		`^P(?:(\d+(?:[.,]\d+)?)W)?(?:(\d+(?:[.,]\d+)?)D)?(?:T(?:(\d+(?:[.,]\d+)?)H)?(?:(\d+(?:[.,]\d+)?)M)?(?:(\d+(?:[.,]\d+)?)S)?)?$`,
	)
)

// DurationForm is how a duration is written.
type DurationForm int

// The forms of durations: hours, minutes and seconds; two numbers, which may be minutes and seconds; a number with one unit;
// several numbers with units; ISO 8601.
const (
	NoDuration DurationForm = iota
	ClockDuration
	ShortClock
	OneUnit
	SeveralUnits
	ISODuration
)

// ParseDuration reads a duration in seconds: 1:30:00, 90 min, 2 h 5 min, PT1H, each with a sign before it where it is
// negative. Two numbers, as 5:30, are minutes and seconds. Years and months of ISO 8601 have no length and are refused.
func ParseDuration(text string) (seconds float64, form DurationForm) {
	text = strings.TrimSpace(text)
	sign := 1.0
	for _, minus := range []string{"-", "−"} {
		if rest, found := strings.CutPrefix(text, minus); found {
			sign, text = -1, strings.TrimSpace(rest)
			break
		}
	}
	if len(text) == 0 || len(text) > 60 {
		return 0, NoDuration
	}
	switch {
	case text[0] == 'P':
		seconds, form = isoSeconds(text)
	case strings.Contains(text, ":"):
		seconds, form = clockSeconds(text)
	default:
		seconds, form = unitSeconds(text)
	}
	if form == NoDuration || !(seconds <= LongestDuration) {
		return 0, NoDuration
	}
	return sign*seconds + 0, form // no minus sign on a zero
}

func decimal(text string) float64 {
	v, _ := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64) // empty is zero
	return v
}

func isoSeconds(text string) (float64, DurationForm) {
	parts := isoDuration.FindStringSubmatch(text)
	if parts == nil || len(text) < 3 || strings.HasSuffix(text, "T") {
		return 0, NoDuration
	}
	total := 0.0
	for i, each := range []float64{7 * 86400, 86400, 3600, 60, 1} {
		total += each * decimal(parts[i+1])
	}
	return total, ISODuration
}

func clockSeconds(text string) (float64, DurationForm) {
	parts := clockDuration.FindStringSubmatch(text)
	if parts == nil {
		return 0, NoDuration
	}
	if parts[1] == "" {
		return 60*decimal(parts[2]) + decimal(parts[3]), ShortClock
	}
	if len(parts[2]) > 2 || decimal(parts[2]) > 59 {
		return 0, NoDuration
	}
	return 3600*decimal(parts[1]) + 60*decimal(parts[2]) + decimal(parts[3]), ClockDuration
}

// unitSeconds reads numbers with units, each unit shorter than the one before.
func unitSeconds(text string) (total float64, form DurationForm) {
	last := math.Inf(1)
	for text != "" {
		parts := partDuration.FindStringSubmatch(text)
		if parts == nil {
			return 0, NoDuration
		}
		each, known := timeWords[strings.ToLower(parts[2])]
		if !known || each >= last {
			return 0, NoDuration
		}
		total, last, text = total+each*decimal(parts[1]), each, text[len(parts[0]):]
		if form++; form > 1 {
			form = 2
		}
	}
	return total, map[DurationForm]DurationForm{1: OneUnit, 2: SeveralUnits}[form]
}

// FormatDuration writes seconds as files hold them, to the microsecond: 1:30:00, −0:00:02.5; "" for what is none.
func FormatDuration(seconds float64) string {
	if !(math.Abs(seconds) <= LongestDuration) {
		return ""
	}
	sign, micro := "", int64(math.Round(math.Abs(seconds)*1e6))
	if seconds < 0 && micro > 0 {
		sign = "-"
	}
	whole, rest := micro/1_000_000, micro%1_000_000
	text := sign + strconv.FormatInt(whole/3600, 10) + ":" + two(whole/60%60) + ":" + two(whole%60)
	if rest > 0 {
		text += strings.TrimRight("."+strconv.FormatInt(1_000_000+rest, 10)[1:], "0")
	}
	return text
}

func two(n int64) string { return strconv.FormatInt(100+n, 10)[1:] }

// SayDuration writes seconds for people, in at most three units: 2 h 5 min, 12.5 s, 3 d 4 h; parts of a second below a
// minute alone, and seconds below two days.
func SayDuration(seconds float64) string {
	if !(math.Abs(seconds) <= LongestDuration) {
		return ""
	}
	sign, rest := "", math.Abs(seconds)
	if seconds < 0 {
		sign = "−"
	}
	switch {
	case rest < 60:
		if rest >= 1e-3 {
			rest = math.Floor(1000*rest+0.5) / 1000
		} else {
			rest, _ = strconv.ParseFloat(strconv.FormatFloat(rest, 'g', 3, 64), 64)
		}
		if text := strings.TrimRight(strings.TrimRight(strconv.FormatFloat(rest, 'f', 12, 64), "0"), "."); rest < 60 {
			if text == "0" {
				sign = ""
			}
			return sign + text + " s"
		}
	case rest >= 2*86400:
		rest = 60 * math.Round(rest/60)
	}
	rest = math.Round(rest)
	var parts []string
	for _, step := range TimeSteps {
		if step.Name == "d" && rest < 2*86400 {
			continue
		}
		if n := math.Floor(rest / step.Seconds); n > 0 {
			parts, rest = append(parts, grouped(n)+" "+step.Name), rest-n*step.Seconds
		}
	}
	return sign + strings.Join(parts, " ")
}

// grouped writes a whole number with a comma between thousands.
func grouped(n float64) string {
	digits := strconv.FormatFloat(n, 'f', 0, 64)
	for at := len(digits) - 3; at > 0; at -= 3 {
		digits = digits[:at] + "," + digits[at:]
	}
	return digits
}

// TimeStepOf is the unit in which slopes of a column of durations are told: the longest of which its largest value has
// ten, or a second.
func TimeStepOf(c *Column) TimeStep {
	largest := 0.0
	for _, v := range c.Numbers {
		if a := math.Abs(v); a > largest {
			largest = a
		}
	}
	for _, step := range TimeSteps {
		if largest >= 10*step.Seconds {
			return step
		}
	}
	return TimeSteps[len(TimeSteps)-1]
}
