package scale

import (
	"math"
	"strconv"
	"strings"
)

// Form is a way of writing the numbers along an axis.
type Form struct {
	Name string `json:"name"`
	Help string `json:"help"`
	More string `json:"more,omitempty" doc:"what must be said with it"`
}

// Forms lists the ways of writing numbers that can be said of an axis.
var Forms = []Form{{Name: "120k", Help: "thousands as k, millions as M"}, {Name: "percent", Help: "a share of one in percent"},
	{Name: "plain", Help: "no marks between thousands, as years are written"},
	{Name: "currency", Help: "with the sign of a currency before them", More: "its sign"},
	{Name: "decimals", Help: "with so many decimals", More: "how many"},
	{Name: "duration", Help: "seconds as hours, minutes and seconds"}}

// Minus is the true minus sign.
const Minus = "−"

// Number writes v for people, with the given number of decimals, a comma
// between thousands and a true minus sign. From 10^15 on, and where more than
// 8 decimals would be needed, it is written as a power of ten.
func Number(v float64, decimals int) string {
	switch {
	case math.IsNaN(v):
		return ""
	case math.IsInf(v, 1):
		return "∞"
	case math.IsInf(v, -1):
		return Minus + "∞"
	case v != 0 && (math.Abs(v) >= 1e15 || decimals > 8):
		return power(v)
	}
	if decimals > 8 {
		decimals = 0 // a zero among powers of ten
	}
	text := strconv.FormatFloat(math.Abs(v), 'f', max(0, decimals), 64)
	whole, fraction, _ := strings.Cut(text, ".")
	written := grouped(whole)
	if fraction != "" {
		written += "." + fraction
	}
	if v < 0 && strings.Trim(text, "0.") != "" {
		return Minus + written
	}
	return written
}

func grouped(digits string) string {
	if len(digits) <= 3 {
		return digits
	}
	head := len(digits) % 3
	var parts []string
	if head > 0 {
		parts = append(parts, digits[:head])
	}
	for i := head; i < len(digits); i += 3 {
		parts = append(parts, digits[i:i+3])
	}
	return strings.Join(parts, ",")
}

var superscripts = strings.NewReplacer(
	"-",
	"⁻",
	"+",
	"",
	"0",
	"⁰",
	"1",
	"¹",
	"2",
	"²",
	"3",
	"³",
	"4",
	"⁴",
	"5",
	"⁵",
	"6",
	"⁶",
	"7",
	"⁷",
	"8",
	"⁸",
	"9",
	"⁹",
)

// power writes v as a few digits times a power of ten.
func power(v float64) string { return powerOf(v, 6) }

// powerOf writes v with so many decimals before the power of ten, without zeros at their end.
func powerOf(v float64, decimals int) string {
	text := strconv.FormatFloat(math.Abs(v), 'e', decimals, 64)
	digits, exponent, _ := strings.Cut(text, "e")
	if strings.Contains(digits, ".") {
		digits = strings.TrimRight(strings.TrimRight(digits, "0"), ".")
	}
	n, _ := strconv.Atoi(exponent)
	written := digits + " × 10" + superscripts.Replace(strconv.Itoa(n))
	if v < 0 {
		return Minus + written
	}
	return written
}

// Counted writes a number of things: 1 row, −2 rows.
func Counted(n int, one string) string {
	if n != 1 && n != -1 {
		one += "s"
	}
	return Number(float64(n), 0) + " " + one
}

// Value writes a number of data or of a result with about the given number of
// significant digits, without trailing zeros and never fewer digits than its
// whole part has: 1234.5678 at 4 digits is 1,235; 0.0012345 is 0.001235.
func Value(v float64, digits int) string {
	if v == 0 || math.IsNaN(v) || math.IsInf(v, 0) {
		return Number(v, 0)
	}
	decimals := digits - 1 - int(math.Floor(math.Log10(math.Abs(v))))
	if math.Abs(v) < 1e-6 {
		return powerOf(v, max(digits, 1)-1)
	}
	text := Number(v, min(max(decimals, 0), 8))
	if strings.Contains(text, ".") && !strings.Contains(text, "×") {
		text = strings.TrimRight(strings.TrimRight(text, "0"), ".")
	}
	return text
}

// Signed is Value with a plus sign on what is above zero.
func Signed(v float64, digits int) string {
	if v > 0 {
		return "+" + Value(v, digits)
	}
	return Value(v, digits)
}

// Pence is an amount of money as people write it: 12.5 is 12.50. What has no decimal, or more than one, stays.
func Pence(text string) string {
	if at := strings.IndexByte(text, '.'); at >= 0 && at == len(text)-2 {
		return text + "0"
	}
	return text
}
