package formula

import (
	"math"
	"strconv"
	"strings"
	"time"

	"copperlark/core/table"
)

// What expressions may make of texts, so that doubling one again and again ends: a
// longer text has no value, and more of them together are refused.
const (
	mostTextBytes = 100_000
	allTextBytes  = 512 << 20
)

// texts makes a text vector by a function of the row; false is missing.
func (e *evaluation) texts(constant bool, of func(i int) (string, bool)) *vector {
	rows := e.rows
	if constant {
		rows = 1
	}
	coder := table.NewCoder()
	out := &vector{kind: Text, constant: constant, codes: make([]int32, rows)}
	bytes := 0
	for i := range out.codes {
		out.codes[i] = table.MissingCode
		text, ok := of(i)
		if !ok {
			continue
		}
		known := len(coder.Levels())
		if out.codes[i] = coder.Code([]byte(text)); len(coder.Levels()) > known {
			bytes += len(text)
		}
		if bytes > allTextBytes {
			panic(&Error{0, 1, "the texts of this expression take more than 512 MB", "make them shorter, or keep fewer rows first"})
		}
		if i%4096 == 0 && e.ctx.Err() != nil {
			break
		}
	}
	out.levels = coder.Levels()
	return out
}

// eachLevel applies a function of a text to the levels alone, once each.
func (e *evaluation) eachLevel(v *vector, of func(string) string) *vector {
	coder := table.NewCoder()
	codes := make([]int32, len(v.levels))
	for i, level := range v.levels {
		codes[i] = coder.Code([]byte(of(level)))
	}
	out := &vector{kind: Text, constant: v.constant, codes: make([]int32, len(v.codes)), levels: coder.Levels()}
	for i, code := range v.codes {
		out.codes[i] = table.MissingCode
		if code >= 0 {
			out.codes[i] = codes[code]
		}
	}
	return out
}

// measureLevel applies a function from a text to a number to the levels alone.
func (e *evaluation) measureLevel(v *vector, k Kind, of func(string) float64) *vector {
	values := make([]float64, len(v.levels))
	for i, level := range v.levels {
		values[i] = of(level)
	}
	out := e.numbers(k, v)
	for i := range out.numbers {
		out.numbers[i] = math.NaN()
		if code := v.codes[i]; code >= 0 {
			if out.numbers[i] = values[code]; math.IsNaN(values[code]) {
				e.faults++
			}
		}
	}
	return out
}

// within makes a text of so many bytes, or counts a fault where that is too long.
func (e *evaluation) within(bytes int, of func() string) (string, bool) {
	if bytes > mostTextBytes {
		e.faults++
		return "", false
	}
	return of(), true
}

func (e *evaluation) concatenate(v, w *vector) *vector {
	return e.texts(v.constant && w.constant, func(i int) (string, bool) {
		if v.missing(i) || w.missing(i) {
			return "", false
		}
		return e.within(len(v.text(i))+len(w.text(i)), func() string { return v.text(i) + w.text(i) })
	})
}

func (e *evaluation) like(v, pattern *vector) *vector {
	if pattern.constant && !pattern.missing(0) {
		p := []rune(pattern.text(0))
		return e.measureLevel(v, Boolean, func(text string) float64 { return truth(matches([]rune(text), p)) })
	}
	out := e.numbers(Boolean, v, pattern)
	for i := range out.numbers {
		out.numbers[i] = math.NaN()
		if !v.missing(i) && !pattern.missing(i) {
			out.numbers[i] = truth(matches([]rune(v.text(i)), []rune(pattern.text(i))))
		}
	}
	return out
}

func truth(holds bool) float64 {
	if holds {
		return 1
	}
	return 0
}

// matches is SQL's like: % is any text, _ any character, \ takes the next one as
// it is. It goes back to the last % only, so that no pattern takes long.
func matches(text, pattern []rune) bool {
	t, p, star, retry := 0, 0, -1, 0
	for t < len(text) {
		literal, step := rune(-1), 1
		if p < len(pattern) {
			literal = pattern[p]
			if literal == '\\' && p+1 < len(pattern) {
				literal, step = pattern[p+1], 2
			}
		}
		switch {
		case p < len(pattern) && step == 1 && literal == '%':
			star, retry = p, t
			p++
		case p < len(pattern) && ((step == 1 && literal == '_') || literal == text[t]):
			t++
			p += step
		case star >= 0:
			retry++
			p, t = star+1, retry
		default:
			return false
		}
	}
	for p < len(pattern) && pattern[p] == '%' {
		p++
	}
	return p == len(pattern)
}

func (e *evaluation) cast(n *node) *vector {
	v := e.eval(n.args[0])
	switch n.text {
	case "text":
		v = v.as(Text)
		if v.kind == Text {
			return v
		}
		return e.texts(v.constant, func(i int) (string, bool) { return v.written(i) })
	case "number", "integer":
		v = e.toNumber(v.as(Number))
		if n.text == "integer" {
			return e.each1(v, Number, math.RoundToEven)
		}
		return v
	case "date":
		v = v.as(Date)
		if v.kind == Text {
			return e.toDate(v)
		}
		if v.kind != Date {
			refuse(n.args[0], "a "+string(v.kind)+" is no date", "write dates as 2029-03-14")
		}
		return e.each1(v, Date, func(a float64) float64 { return math.Floor(a/secondsADay) * secondsADay })
	}
	v = v.as(Boolean)
	switch v.kind {
	case Number:
		return e.each1(v, Boolean, func(a float64) float64 { return truth(a != 0) })
	case Text:
		return e.measureLevel(v, Boolean, func(text string) float64 {
			switch strings.ToLower(strings.TrimSpace(text)) {
			case "yes", "true", "y", "t", "1", "on":
				return 1
			case "no", "false", "n", "f", "0", "off":
				return 0
			}
			return math.NaN()
		})
	case Date:
		refuse(n.args[0], "a date is neither true nor false", "compare it with another date")
	}
	return v
}

func (e *evaluation) toNumber(v *vector) *vector {
	switch v.kind {
	case Text:
		return e.measureLevel(v, Number, func(text string) float64 {
			value, err := strconv.ParseFloat(strings.TrimSpace(text), 64)
			if err != nil || math.IsInf(value, 0) {
				return math.NaN()
			}
			return value
		})
	case Boolean:
		return &vector{kind: Number, constant: v.constant, numbers: v.numbers}
	case Date:
		return e.each1(v, Number, func(a float64) float64 { return a / secondsADay })
	}
	return v
}

func (e *evaluation) toDate(v *vector) *vector {
	return e.measureLevel(v, Date, func(text string) float64 {
		if seconds, ok := ReadDate(text); ok {
			return seconds
		}
		return math.NaN()
	})
}

// written is value i as text.
func (v *vector) written(i int) (string, bool) {
	if v.missing(i) {
		return "", false
	}
	switch v.kind {
	case Text:
		return v.text(i), true
	case Boolean:
		return map[float64]string{0: "no", 1: "yes"}[v.number(i)], true
	case Date:
		value := v.number(i)
		if math.Mod(value, secondsADay) == 0 {
			return table.FormatDate(value, table.Day), true
		}
		return table.FormatDate(value, table.Second), true
	}
	return table.FormatNumber(v.number(i)), true
}

func moment(seconds float64) time.Time {
	whole := math.Floor(seconds)
	return time.Unix(int64(whole), int64((seconds-whole)*1e9)).UTC()
}

// dateFields are what extract takes from a date.
var dateFields = map[string]func(float64) float64{
	"year":    dateField(func(t time.Time) int { return t.Year() }),
	"quarter": dateField(func(t time.Time) int { return (int(t.Month()) + 2) / 3 }),
	"month":   dateField(func(t time.Time) int { return int(t.Month()) }),
	"week":    dateField(func(t time.Time) int { _, week := t.ISOWeek(); return week }),
	"day":     dateField(func(t time.Time) int { return t.Day() }),
	"dow":     dateField(func(t time.Time) int { return int(t.Weekday()) }),
	"doy":     dateField(func(t time.Time) int { return t.YearDay() }),
	"hour":    dateField(func(t time.Time) int { return t.Hour() }),
	"minute":  dateField(func(t time.Time) int { return t.Minute() }),
	"second":  dateField(func(t time.Time) int { return t.Second() }),
}

func dateField(of func(time.Time) int) func(float64) float64 {
	return func(seconds float64) float64 {
		if math.IsNaN(seconds) {
			return seconds
		}
		return float64(of(moment(seconds)))
	}
}
