package reader

import (
	"bytes"
	"math"
	"strconv"
	"strings"
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

// isMark reports whether a trimmed field is one of the marks of missing values that stand in
// columns of numbers and dates; elsewhere such a word may be a value.
func isMark(field []byte) bool {
	if len(field) == 0 || len(field) > 8 {
		return false
	}
	return missingMarks[strings.ToLower(string(field))]
}

var missingMarks = map[string]bool{
	"?":        true,
	"..":       true,
	"...":      true,
	"*":        true,
	"--":       true,
	"---":      true,
	"none":     true,
	"missing":  true,
	"unknown":  true,
	"n.a.":     true,
	"nd":       true,
	"n.d.":     true,
	"inf":      true,
	"-inf":     true,
	"+inf":     true,
	"infinity": true,
	"<na>":     true,
	"nat":      true,
	"#value!":  true,
	"#div/0!":  true,
	"#ref!":    true,
	"#num!":    true,
	"#null!":   true,
	"na.":      true,
	"nil":      true,
	"void":     true,
}

// limitSigns begin a value that only says on which side of a limit it lies, as what
// cannot be measured does.
var limitSigns = []string{"<=", ">=", "≤", "≥", "<", ">"}

// bounded reads a trimmed field such as <0.1 or > 1000 mg as its limit.
func bounded(field []byte, decimal byte) (limit float64, ok bool) {
	for _, sign := range limitSigns {
		if rest, found := bytes.CutPrefix(field, []byte(sign)); found {
			limit, _, ok = number(bytes.TrimSpace(rest), decimal)
			return limit, ok
		}
	}
	return 0, false
}

var powersOfTen = [...]float64{
	1e0,
	1e1,
	1e2,
	1e3,
	1e4,
	1e5,
	1e6,
	1e7,
	1e8,
	1e9,
	1e10,
	1e11,
	1e12,
	1e13,
	1e14,
	1e15,
	1e16,
	1e17,
	1e18,
	1e19,
	1e20,
	1e21,
	1e22,
}

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
	if strings.HasPrefix(text, "(") && strings.HasSuffix(text, ")") && !negative { // $ (12.50)
		negative, text = true, strings.TrimSpace(text[1:len(text)-1])
	}
	if sign == "" {
		text, sign = takeUnit(text)
	}
	text, times := takeMagnitude(text)
	text = strings.Replace(text, "−", "-", 1)
	if rest, found := strings.CutSuffix(text, "-"); found && !strings.HasPrefix(rest, "-") { // 10.5-, as some ledgers write it
		negative, text = !negative, rest
	}
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
	return value * times, sign, !math.IsInf(value*times, 0)
}

// takeUnit takes a known unit from behind a number: 5 kg, 12cm. A single letter must stand
// behind a blank: 5M is no unit.
func takeUnit(text string) (rest, unit string) {
	at := strings.LastIndexAny(text, "0123456789.") + 1
	if at == 0 || at == len(text) {
		return text, ""
	}
	unit = strings.TrimSpace(text[at:])
	if !knownUnits[unit] && unitOf(unit) == "" || len(unit) == 1 && text[at] != ' ' || unit == "e" || unit == "E" || unit == "#" ||
		unit == "-" {
		return text, ""
	}
	return strings.TrimSpace(text[:at]), unit
}

// takeMagnitude takes the letter of thousands, millions or thousands of millions from
// behind a number: 3k, 1.2M, 1.2bn.
func takeMagnitude(text string) (rest string, times float64) {
	for _, m := range []struct {
		letters string
		times   float64
	}{{"bn", 1e9}, {"mn", 1e6}, {"M", 1e6}, {"k", 1e3}, {"K", 1e3}} {
		if rest, found := strings.CutSuffix(text, m.letters); found && len(rest) > 0 && rest[len(rest)-1] >= '0' &&
			rest[len(rest)-1] <= '9' {
			return rest, m.times
		}
	}
	return text, 1
}

// isLong reports whether a number is whole and has more digits than a number of double
// precision keeps: it is a code.
func isLong(field []byte) bool {
	digits := bytes.TrimLeft(bytes.TrimLeft(field, "+-"), "0")
	if len(digits) < 16 {
		return false
	}
	for _, c := range digits {
		if c < '0' || c > '9' {
			return false
		}
	}
	n, err := strconv.ParseUint(string(digits), 10, 64)
	return err != nil || n > 1<<53
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
		if !isGrouped(groups, 3) && !(mark == "," && isGrouped(groups, 2)) {
			return "", false
		}
		whole = strings.Join(groups, "")
		break
	}
	if hasFraction {
		return whole + "." + fraction, true
	}
	return whole, true
}

// isGrouped reports whether digits stand in groups of so many, the last one of three:
// 1,234,567, and 12,34,567 where lakhs and crores are counted.
func isGrouped(groups []string, size int) bool {
	for i, group := range groups {
		want := size
		if i == len(groups)-1 {
			want = 3
		}
		if i == 0 && (len(group) < 1 || len(group) > size) || i > 0 && len(group) != want {
			return false
		}
	}
	return len(groups) > 1
}
