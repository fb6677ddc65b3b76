package reader

import (
	"bytes"
	"math"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"
)

// isMissing reports whether a trimmed field stands for no value.
func isMissing(field []byte) bool {
	switch len(field) {
	case 0:
		return true
	case 1:
		return field[0] == '-' || field[0] == '.'
	case 2:
		return (field[0]|0x20) == 'n' && (field[1]|0x20) == 'a'
	case 3:
		if field[0] == 0xE2 { // – or — or −
			text := string(field)
			return text == "–" || text == "—" || text == "−"
		}
		return bytes.EqualFold(field, []byte("nan")) || bytes.EqualFold(field, []byte("n/a"))
	case 4:
		return bytes.EqualFold(field, []byte("null")) || bytes.EqualFold(field, []byte("#n/a"))
	}
	return false
}

var powersOfTen = [...]float64{1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22}

// number reads a trimmed field as a number and gives the currency or percent
// sign that stood with it. decimal is '.' or ','; the other one may stand
// between groups of three digits, and so may a space or an apostrophe.
func number(field []byte, decimal byte) (value float64, sign string, ok bool) {
	if value, ok = plainNumber(field, decimal); ok {
		return value, "", true
	}
	if len(field) == 0 || len(field) > 64 {
		return 0, "", false
	}
	text := string(field)
	negative := false
	if strings.HasPrefix(text, "(") && strings.HasSuffix(text, ")") { // accountants' minus
		negative, text = true, text[1:len(text)-1]
	}
	text, sign = takeSign(text)
	text = strings.Replace(text, "−", "-", 1)
	if rest, found := strings.CutPrefix(text, "-"); found {
		negative = !negative
		text = rest
	} else {
		text = strings.TrimPrefix(text, "+")
	}
	if sign == "" { // -£5
		text, sign = takeSign(text)
	}
	text, ok = ungroup(text, decimal)
	if !ok || text == "" || text[0] == '-' || text[0] == '+' {
		return 0, "", false
	}
	for i := range len(text) { // ParseFloat also knows "inf", hexadecimals and underscores
		if c := text[i]; (c < '0' || c > '9') && c != '.' && c != 'e' && c != 'E' && c != '-' && c != '+' {
			return 0, "", false
		}
	}
	value, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsInf(value, 0) {
		return 0, "", false
	}
	if negative {
		value = -value
	}
	return value, sign, true
}

// plainNumber is the fast way for fields such as -12.5: at most 15 digits, so
// that the digits and the power of ten are both exact and one division rounds
// correctly (Clinger 1990, How to read floating point numbers accurately).
func plainNumber(field []byte, decimal byte) (float64, bool) {
	i, negative := 0, false
	if len(field) > 0 && field[0] == '-' {
		negative, i = true, 1
	}
	mantissa, digits, decimals, seenMark := int64(0), 0, 0, false
	for ; i < len(field); i++ {
		c := field[i]
		switch {
		case c >= '0' && c <= '9':
			mantissa = mantissa*10 + int64(c-'0')
			digits++
			if seenMark {
				decimals++
			}
		case c == decimal && !seenMark:
			seenMark = true
		default:
			return 0, false
		}
	}
	if digits == 0 || digits > 15 {
		return 0, false
	}
	value := float64(mantissa) / powersOfTen[decimals]
	if negative {
		value = -value
	}
	return value, true
}

var moneySigns = []string{"£", "$", "€", "¥", "%", "kr"}

func takeSign(text string) (rest, sign string) {
	text = strings.TrimSpace(text)
	for _, s := range moneySigns {
		if after, found := strings.CutSuffix(text, s); found {
			return strings.TrimSpace(after), s
		}
		if after, found := strings.CutPrefix(text, s); found && s != "%" {
			return strings.TrimSpace(after), s
		}
	}
	return text, ""
}

// ungroup takes out thousands marks and turns the decimal mark into a point.
// A mark that does not divide groups of three digits makes it no number.
func ungroup(text string, decimal byte) (string, bool) {
	whole, fraction, hasFraction := strings.Cut(text, string(decimal))
	if strings.ContainsAny(fraction, "., '") || strings.ContainsRune(fraction, ' ') {
		return "", false
	}
	thousands := byte('.')
	if decimal == '.' {
		thousands = ','
	}
	for _, mark := range []string{string(thousands), " ", "\u00a0", "\u202f", "'", "’"} {
		if !strings.Contains(whole, mark) {
			continue
		}
		groups := strings.Split(whole, mark)
		for i, group := range groups {
			if (i == 0 && (len(group) < 1 || len(group) > 3)) || (i > 0 && len(group) != 3) {
				return "", false
			}
		}
		whole = strings.Join(groups, "")
		break
	}
	if hasFraction {
		return whole + "." + fraction, true
	}
	return whole, true
}

// dateForm is one way of writing dates.
type dateForm int

const (
	yearFirst  dateForm = iota // 2029-03-14
	dayFirst                   // 14/03/2029
	monthFirst                 // 03/14/2029
	namedMonth                 // 14 March 2029, Mar 14 2029
	dateForms
)

var monthNames = []string{"jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"}

// date reads a trimmed field as a date in the given form, with or without a
// time of day. withTime says whether there was one.
func date(field []byte, form dateForm) (seconds float64, withTime, ok bool) {
	if len(field) < 6 || len(field) > 40 {
		return 0, false, false
	}
	day, clock := splitClock(field)
	var parts [3]int
	if form == namedMonth {
		if parts, ok = namedMonthParts(string(day)); !ok {
			return 0, false, false
		}
	} else if parts, ok = numericParts(day); !ok {
		return 0, false, false
	}
	var year, month, dayOfMonth int
	switch form {
	case yearFirst, namedMonth:
		year, month, dayOfMonth = parts[0], parts[1], parts[2]
	case dayFirst:
		dayOfMonth, month, year = parts[0], parts[1], parts[2]
	case monthFirst:
		month, dayOfMonth, year = parts[0], parts[1], parts[2]
	}
	if year < 1000 || year > 9999 || month < 1 || month > 12 || dayOfMonth < 1 || dayOfMonth > 31 {
		return 0, false, false
	}
	moment := time.Date(year, time.Month(month), dayOfMonth, 0, 0, 0, 0, time.UTC)
	if moment.Day() != dayOfMonth {
		return 0, false, false // 31 February
	}
	seconds = float64(moment.Unix())
	if len(clock) == 0 {
		return seconds, false, true
	}
	offset, ok := clockSeconds(string(clock))
	return seconds + offset, true, ok
}

func splitClock(field []byte) (day, clock []byte) {
	colon := bytes.IndexByte(field, ':')
	if colon < 0 {
		return field, nil
	}
	cut := bytes.LastIndexAny(field[:colon], "T ")
	if cut < 0 {
		return field, nil
	}
	return bytes.TrimRight(field[:cut], " ,"), field[cut+1:]
}

func numericParts(day []byte) (parts [3]int, ok bool) {
	part, digits := 0, 0
	separator := byte(0)
	for _, c := range day {
		switch {
		case c >= '0' && c <= '9':
			parts[part] = parts[part]*10 + int(c-'0')
			if digits++; digits > 4 {
				return parts, false
			}
		case (c == '-' || c == '/' || c == '.') && digits > 0 && part < 2 && (separator == 0 || separator == c):
			separator = c
			part++
			digits = 0
		default:
			return parts, false
		}
	}
	return parts, part == 2 && digits > 0
}

// namedMonthParts gives year, month, day of a date whose month is a word.
func namedMonthParts(text string) (parts [3]int, ok bool) {
	words := strings.FieldsFunc(text, func(r rune) bool { return r == ' ' || r == '-' || r == ',' || r == '.' || r == '/' })
	if len(words) != 3 {
		return parts, false
	}
	var numbers []int
	month := 0
	for _, word := range words {
		if n, err := strconv.Atoi(strings.TrimRight(word, "stndrh")); err == nil {
			numbers = append(numbers, n)
			continue
		}
		if utf8.RuneCountInString(word) < 3 {
			return parts, false
		}
		for i, name := range monthNames {
			if strings.HasPrefix(strings.ToLower(word), name) {
				month = i + 1
			}
		}
	}
	if month == 0 || len(numbers) != 2 {
		return parts, false
	}
	if numbers[0] > 31 {
		return [3]int{numbers[0], month, numbers[1]}, true
	}
	return [3]int{numbers[1], month, numbers[0]}, true
}

// clockSeconds reads a time of day. Plain ones, 10:30 and 10:30:15, are read here;
// the others by package time.
func clockSeconds(clock string) (float64, bool) {
	if n := len(clock); (n == 5 || n == 8) && clock[2] == ':' && (n == 5 || clock[5] == ':') {
		two := func(i int) int {
			a, b := int(clock[i])-'0', int(clock[i+1])-'0'
			if a < 0 || a > 9 || b < 0 || b > 9 {
				return 99
			}
			return 10*a + b
		}
		hour, minute, second := two(0), two(3), 0
		if n == 8 {
			second = two(6)
		}
		return float64(3600*hour + 60*minute + second), hour < 24 && minute < 60 && second < 60
	}
	for _, layout := range []string{"15:04:05", "15:04", "15:04:05Z07:00", "15:04Z07:00", "3:04 PM", "3:04:05 PM"} {
		if moment, err := time.Parse(layout, strings.TrimSpace(clock)); err == nil {
			midnight := time.Date(moment.Year(), moment.Month(), moment.Day(), 0, 0, 0, 0, moment.Location())
			_, zone := moment.Zone()
			return moment.Sub(midnight).Seconds() - float64(zone), true
		}
	}
	return 0, false
}
