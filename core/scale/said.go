package scale

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"copperlark/core/magnitude"
	"copperlark/core/table"
)

// mostSaidTicks is how many ticks a step that was said may ask for; with more of them the
// program's own step is taken.
const mostSaidTicks = 100

// everyTicks are ticks at the multiples of a step that was said; nil where none was, or
// where it gives none or too many.
func (s *Scale) everyTicks(low, high float64) []Tick {
	if len(s.At) > 0 && s.Kind != Groups && s.Kind != Date {
		return s.atTicks(low, high)
	}
	if !(s.Every > 0) || s.Kind == Groups || s.Kind == Date {
		return nil
	}
	first, last := math.Ceil(low/s.Every-1e-9), math.Floor(high/s.Every+1e-9)
	if !(last-first < mostSaidTicks) || last < first || max(math.Abs(first), math.Abs(last)) > 1<<52 {
		return nil
	}
	decimals := saidDecimals(s.Every)
	var ticks []Tick
	for i := first; i <= last; i++ {
		if value := round(i*s.Every, decimals); s.Kind != Log || value > 0 {
			ticks = append(ticks, Tick{value, Number(value, decimals)})
		}
	}
	return ticks
}

// atTicks are ticks at values that were said, those that lie within the domain.
func (s *Scale) atTicks(low, high float64) []Tick {
	ticks := []Tick{}
	sorted := slices.Clone(s.At)
	slices.Sort(sorted)
	for _, v := range slices.Compact(sorted) {
		if v >= low && v <= high && (s.Kind != Log || v > 0) {
			ticks = append(ticks, Tick{v, Value(v, 6)})
		}
	}
	return ticks
}

// saidDecimals is how many decimals a step is said with, up to 8.
func saidDecimals(step float64) int {
	for decimals := range 8 {
		if scaled := step * math.Pow(10, float64(decimals)); math.Abs(scaled-math.Round(scaled)) < 1e-9*scaled {
			return decimals
		}
	}
	return 8
}

// baseTicks are powers of a base: every one, or every k-th where there are many.
func baseTicks(low, high, base float64, count int) []Tick {
	unit := magnitude.Log10(base)
	first, last := math.Ceil(magnitude.Log10(low)/unit-1e-9), math.Floor(magnitude.Log10(high)/unit+1e-9)
	if last-first < 1 {
		return logTicks(low, high, count)
	}
	stride := max(1, math.Ceil((last-first)/float64(count)))
	var ticks []Tick
	for power := math.Ceil(first/stride) * stride; power <= last; power += stride {
		value := math.Pow(base, power)
		if value > 0 && !math.IsInf(value, 0) {
			ticks = append(ticks, Tick{value, powerLabel(base, int(power), value)})
		}
	}
	return ticks
}

// powerLabel writes a power of a base; those of e, which have no end, and those with more
// than six digits by their exponent.
func powerLabel(base float64, power int, value float64) string {
	name := "e"
	if base != math.E {
		if value < 1e6 && value > 1e-4 {
			return Value(value, 4)
		}
		name = Value(base, 6)
	}
	switch power {
	case 0:
		return "1"
	case 1:
		return name
	}
	return name + superscripts.Replace(strconv.Itoa(power))
}

// nearTicks are zero and the powers of ten on both sides, down to where the scale is
// about linear.
func nearTicks(s *Scale, low, high float64, count int) []Tick {
	near := s.near()
	if max(math.Abs(low), math.Abs(high)) <= 4*near {
		return linearTicks(low, high, count)
	}
	powers := func(most float64) float64 {
		return max(0, math.Floor(magnitude.Log10(most)-magnitude.Log10(near)+1e-9))
	}
	up, down := 0.0, 0.0
	if high > near {
		up = powers(high)
	}
	if low < -near {
		down = powers(-low)
	}
	stride := max(1, math.Ceil((up+down+1)/float64(count)))
	var ticks []Tick
	add := func(value float64) {
		if value >= low && value <= high {
			ticks = append(ticks, Tick{value, Value(value, 4)})
		}
	}
	for power := math.Floor(down/stride) * stride; power >= 0 && low < 0; power -= stride {
		add(-near * math.Pow(10, power))
	}
	add(0)
	for power := 0.0; power <= up && high > 0; power += stride {
		add(near * math.Pow(10, power))
	}
	return ticks
}

// formed writes the labels of ticks in the form that was said.
func (s *Scale) formed(ticks []Tick) []Tick {
	if s.Form == "" {
		return ticks
	}
	for i := range ticks {
		ticks[i].Label = InForm(s.Form, ticks[i].Value, ticks[i].Label)
	}
	return ticks
}

// CheckForm tells what is wrong with a form that is written in one line, as a column and a
// scale hold it: 120k, percent, plain, currency £, decimals 3. Empty is none.
func CheckForm(form string) error {
	if form == "" {
		return nil
	}
	name, more, _ := strings.Cut(form, " ")
	digits, err := strconv.Atoi(more)
	switch {
	case !slices.ContainsFunc(Forms, func(f Form) bool { return f.Name == name }):
		return fmt.Errorf("no way of writing numbers is called %s", name)
	case name == "currency" && (strings.TrimSpace(more) == "" || utf8.RuneCountInString(more) > mostSymbol):
		return fmt.Errorf("a currency needs its sign, of at most %d letters", mostSymbol)
	case name == "decimals" && (err != nil || digits < 0 || digits > 8):
		return errors.New("numbers have from 0 to 8 decimals")
	case name != "currency" && name != "decimals" && more != "":
		return fmt.Errorf("%s says nothing more", name)
	}
	return nil
}

// mostSymbol is how many letters the sign of a currency may have.
const mostSymbol = 8

// InForm writes a number in a form of Forms; plain is how it is written without one.
func InForm(form string, v float64, plain string) string {
	name, more, _ := strings.Cut(form, " ")
	switch name {
	case "currency":
		plain = Pence(plain)
		if rest, below := strings.CutPrefix(plain, Minus); below {
			return Minus + more + rest
		}
		return more + plain
	case "decimals":
		digits, _ := strconv.Atoi(more)
		return Number(v, digits)
	case "percent":
		return Value(100*v, 6) + " %"
	case "plain":
		return strings.ReplaceAll(plain, ",", "")
	case "120k":
		return short(v)
	case durationForm:
		if said := table.SayDuration(v); said != "" {
			return said
		}
	}
	return plain
}

// short writes thousands as k, millions as M and thousands of millions as bn.
func short(v float64) string {
	for _, unit := range []struct {
		size float64
		name string
	}{{1e9, "bn"}, {1e6, "M"}, {1e3, "k"}} {
		if a := math.Abs(v); a >= unit.size && a < 1e15 {
			return Value(v/unit.size, 4) + unit.name
		}
	}
	return Value(v, 4)
}
