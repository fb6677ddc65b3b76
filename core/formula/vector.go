package formula

import (
	"math"
	"strconv"
	"strings"

	"copperlark/core/table"
)

// Kind is what the values of an expression are.
type Kind string

// The kinds. Unknown is that of a lone null.
const (
	Number  Kind = "number"
	Text    Kind = "text"
	Boolean Kind = "yes / no"
	Date    Kind = "date"
	Unknown Kind = "missing"
)

// vector is a column of values, or one value for all rows when constant. Numbers,
// dates (seconds) and booleans (0 and 1) are float64 with NaN for missing; texts
// are codes into levels with -1 for missing.
type vector struct {
	kind     Kind
	constant bool
	numbers  []float64
	codes    []int32
	levels   []string
}

// stride is 0 for one value for all rows, else 1: value i is at i*stride.
func (v *vector) stride() int {
	if v.constant {
		return 0
	}
	return 1
}

func (v *vector) missing(i int) bool {
	i *= v.stride()
	if v.kind == Text {
		return v.codes[i] < 0
	}
	return math.IsNaN(v.numbers[i])
}

func (v *vector) text(i int) string { return v.levels[v.codes[i*v.stride()]] }

func (v *vector) number(i int) float64 { return v.numbers[i*v.stride()] }

func constantNumber(k Kind, value float64) *vector {
	return &vector{kind: k, constant: true, numbers: []float64{value}}
}

func constantText(value string) *vector {
	return &vector{kind: Text, constant: true, codes: []int32{0}, levels: []string{value}}
}

// as gives a lone null the kind that its neighbours have.
func (v *vector) as(k Kind) *vector {
	if v.kind != Unknown || k == Unknown {
		return v
	}
	if k == Text {
		return &vector{kind: Text, constant: true, codes: []int32{-1}}
	}
	return constantNumber(k, math.NaN())
}

// asNumbers reads texts that are all numbers as these; others stay as they are.
func (v *vector) asNumbers() *vector {
	if len(v.levels) == 0 {
		return v
	}
	values := make([]float64, len(v.levels))
	for i, level := range v.levels {
		n, err := strconv.ParseFloat(strings.TrimSpace(level), 64)
		if err != nil || !Number.holds(n) {
			return v
		}
		values[i] = n
	}
	out := &vector{kind: Number, constant: v.constant, numbers: make([]float64, len(v.codes))}
	for i, code := range v.codes {
		out.numbers[i] = math.NaN()
		if code >= 0 {
			out.numbers[i] = values[code]
		}
	}
	return out
}

// fromColumn reads a column without copying it.
func fromColumn(c *table.Column) *vector {
	switch c.Kind {
	case table.Number, table.Duration: // of a duration the seconds
		return &vector{kind: Number, numbers: c.Numbers}
	case table.Date:
		return &vector{kind: Date, numbers: c.Numbers}
	case table.YesNo:
		values := make([]float64, len(c.Codes))
		for i, code := range c.Codes {
			values[i] = float64(code)
			if code < 0 {
				values[i] = math.NaN()
			}
		}
		return &vector{kind: Boolean, numbers: values}
	}
	return &vector{kind: Text, codes: c.Codes, levels: c.Levels}
}

// column makes a column of rows values out of the vector.
func (v *vector) column(name string, rows int) *table.Column {
	if v.kind == Text {
		codes := make([]int32, rows)
		for i := range codes {
			codes[i] = v.codes[i*v.stride()]
		}
		c := &table.Column{Name: name, Kind: table.Category, Codes: codes, Levels: v.levels}
		if len(v.levels) > 100 {
			c.Kind = table.Text
		} else {
			c.SortLevels(nil)
		}
		return c
	}
	values := make([]float64, rows)
	for i := range values {
		values[i] = v.number(i)
	}
	switch v.kind {
	case Boolean:
		codes := make([]int32, rows)
		for i, value := range values {
			codes[i] = table.MissingCode
			if !math.IsNaN(value) {
				codes[i] = int32(value)
			}
		}
		return &table.Column{Name: name, Kind: table.YesNo, Codes: codes, Levels: []string{"no", "yes"}}
	case Date:
		grain := table.Day
		for i, value := range values {
			if !Date.holds(value) {
				values[i] = math.NaN()
				continue
			}
			if math.Mod(value, 86400) != 0 {
				grain = table.Second
			}
		}
		return &table.Column{Name: name, Kind: table.Date, Grain: grain, Numbers: values}
	}
	return table.NewNumbers(name, values)
}
