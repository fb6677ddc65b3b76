// Package magnitude keeps sums of squares within what a float64 can hold.
//
// The square of 1e200 is infinite and the square of 1e-200 is zero: a statistic that
// squares such values would be a silent wrong reading. Statistics without a unit (a
// correlation, a share) are taken of Scaled values, which changes nothing in them; fits
// refuse what InRange refuses.
package magnitude

import (
	"math"
	"strconv"
)

// The values that can be squared, multiplied by each other and summed over any table
// without leaving a float64.
const (
	largest  = 1e150
	smallest = 1e-140 // of the largest value of a column
)

// Error is the reason why values cannot be used.
type Error string

func (e Error) Error() string { return string(e) }

// ErrOutOfRange says what to do about values whose squares leave the range.
const ErrOutOfRange = Error("the values are too large or too small to be squared; work out a column in a larger or smaller unit")

// InRange gives ErrOutOfRange where a column holds an infinite value or one beyond
// ±1e150, or where its largest value is below 1e-140 and not zero. NaN is passed over.
func InRange(columns ...[]float64) error {
	for _, values := range columns {
		if !Within(Most(values)) {
			return ErrOutOfRange
		}
	}
	return nil
}

// Within reports whether a column whose largest absolute value this is can be squared.
func Within(most float64) bool { return most == 0 || most >= smallest && most <= largest }

// Most is the largest absolute value; 0 for none. NaN is passed over.
func Most(values []float64) float64 {
	most := 0.0
	for _, v := range values {
		if v > most {
			most = v
		} else if -v > most {
			most = -v
		}
	}
	return most
}

// Scaled gives the values in a unit in which they can be squared, and that unit, a
// power of two, so that no digit is lost: values as they are, and 1, where they can be
// squared already. An infinite value has no unit: it stays.
func Scaled(values []float64) (scaled []float64, unit float64) {
	most := Most(values)
	if Within(most) || math.IsInf(most, 0) {
		return values, 1
	}
	_, exponent := math.Frexp(most)
	exponent = min(exponent, 1023) // what a unit can be; below, even the smallest has one
	scaled = make([]float64, len(values))
	for i, v := range values {
		scaled[i] = math.Ldexp(v, -exponent)
	}
	return scaled, math.Ldexp(1, exponent)
}

// Finite reports whether v is a number: neither infinite nor missing.
func Finite(v float64) bool { return v-v == 0 }

// Log10 is math.Log10, right also for subnormal values, of which the processor's own
// logarithm makes -307.95 whatever they are.
func Log10(v float64) float64 {
	if v > 0 && v < smallestNormal {
		return math.Log10(v*(1<<54)) - 54*math.Log10(2)
	}
	return math.Log10(v)
}

const smallestNormal = 2.2250738585072014e-308

// Between is the point at a share of the way from low to high, also where the distance
// is beyond a float64.
func Between(low, high, share float64) float64 {
	if distance := high - low; !math.IsInf(distance, 0) {
		return low + share*distance
	}
	return low*(1-share) + high*share
}

// Share is how far v lies on the way from low to high: 0 at low, 1 at high, also where
// the distance is beyond a float64. NaN where there is no way.
func Share(v, low, high float64) float64 {
	if distance := high - low; !math.IsInf(distance, 0) && !math.IsInf(v-low, 0) {
		return (v - low) / distance
	}
	return (v/4 - low/4) / (high/4 - low/4)
}

// Digits keeps so many significant digits of a number; one that has no such neighbour (the
// largest of all) stays as it is.
func Digits(v float64, digits int) float64 {
	short, err := strconv.ParseFloat(strconv.FormatFloat(v, 'g', digits, 64), 64)
	if err != nil {
		return v
	}
	return short
}
