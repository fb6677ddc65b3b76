// Package scale maps values to positions along an axis, chooses ticks and
// writes numbers and dates for people.
//
// Positions are in drawn space, from 0 at the lower end of the domain to 1 at
// its upper end; a scale turned round has From above To. The same rules stand
// in TypeScript for a moving mouse; contract/ticks.json holds both to them.
package scale

import (
	"math"

	"copperlark/core/magnitude"
)

// Kind says how values become positions.
type Kind string

// The kinds of scale.
const (
	Linear     Kind = "linear"
	Log        Kind = "log"         // the domain lies above zero
	NearLinear Kind = "near-linear" // linear about zero, logarithmic far from it
	Date       Kind = "date"        // linear in seconds since 1970-01-01T00:00:00Z
	Groups     Kind = "groups"
)

// Scale maps the domain From … To onto 0 … 1.
type Scale struct {
	Kind   Kind      `json:"kind"`
	From   float64   `json:"from"`
	To     float64   `json:"to"`
	Base   float64   `json:"base,omitempty" doc:"whose powers carry the ticks of a log scale; 0 is 10"`
	Near   float64   `json:"near,omitempty" doc:"of a near-linear scale: up to where it is about linear; 0 is 1"`
	Every  float64   `json:"every,omitempty" doc:"the step between ticks, where one was said"`
	At     []float64 `json:"at,omitempty" doc:"where ticks stand, where that was said"`
	Form   string    `json:"form,omitempty" doc:"how numbers are written: 120k, percent, plain, currency and its sign, decimals and how many"`
	Levels []string  `json:"levels,omitempty"` // of a scale of groups: level i stands at i
}

// Drawn is a value in the space that is drawn: its log10 on a log scale, whatever its
// base; asinh(v / (2 near)) / ln 10 on a near-linear one, which is v / (2 near ln 10)
// about zero and ±log10(|v| / near) far from it.
func (s *Scale) Drawn(v float64) float64 {
	switch s.Kind {
	case Log:
		return magnitude.Log10(v)
	case NearLinear:
		near := s.near()
		if a := math.Abs(v); a/near > farOut {
			return math.Copysign(magnitude.Log10(a)-magnitude.Log10(near), v)
		}
		return math.Asinh(v/near/2) / math.Ln10
	}
	return v
}

// Undrawn is the inverse of Drawn, within what can be written.
func (s *Scale) Undrawn(u float64) float64 {
	switch s.Kind {
	case Log:
		return min(max(math.Pow(10, u), math.SmallestNonzeroFloat64), math.MaxFloat64)
	case NearLinear:
		near := s.near()
		if a := math.Abs(u); a > math.Log10(farOut) {
			return math.Copysign(min(math.Pow(10, a+magnitude.Log10(near)), math.MaxFloat64), u)
		}
		return min(max(near*(2*math.Sinh(u*math.Ln10)), -math.MaxFloat64), math.MaxFloat64)
	}
	return u
}

// farOut is how many times what is near zero a value is from where on asinh is a
// logarithm to all digits.
const farOut = 1e9

func (s *Scale) near() float64 {
	if s.Near > 0 {
		return s.Near
	}
	return 1
}

// Place is a value in drawn space, or NaN for one that the scale has no place for.
func (s *Scale) Place(v float64) float64 {
	if s.Kind == Log && v <= 0 {
		return math.NaN()
	}
	return s.Drawn(v)
}

// Share gives where a value in drawn space stands: 0 at From, 1 at To.
func (s *Scale) Share(drawn float64) float64 {
	return magnitude.Share(drawn, s.Drawn(s.From), s.Drawn(s.To))
}

// Position gives where a value stands: 0 at From, 1 at To. A value that a log
// scale has no place for gives NaN.
func (s *Scale) Position(v float64) float64 {
	return s.Share(s.Place(v))
}

// Padded widens a domain of observed values for marks that reach out by
// share of the axis at either end. A domain of one value gets room of its own.
func Padded(kind Kind, low, high, share float64) Scale {
	s := &Scale{Kind: kind}
	if kind == Groups {
		s.From, s.To = low-0.5, high+0.5
		return *s
	}
	return PaddedAs(s, s.Drawn(low), s.Drawn(high), share)
}

// PaddedAs is Padded for a domain a to b in the drawn space of a scale.
func PaddedAs(like *Scale, a, b, share float64) Scale {
	s, kind := *like, like.Kind
	if a == b {
		room := 0.5
		if kind == Linear {
			room = max(0.5, math.Abs(a)*0.05)
		}
		if kind == Date {
			room = 43200
		}
		a, b = max(a-room, -math.MaxFloat64), min(b+room, math.MaxFloat64)
	}
	share /= 1 - 2*share
	from, to := s.Undrawn(magnitude.Between(a, b, -share)), s.Undrawn(magnitude.Between(a, b, 1+share))
	s.From, s.To = max(from, -math.MaxFloat64), min(to, math.MaxFloat64)
	if s.From == s.To { // at the ends of what can be written
		s.From -= math.Abs(s.From) / 2
	}
	return s
}

// Tick is a place on an axis that carries a label; minor ticks carry none.
type Tick struct {
	Value float64 `json:"value"`
	Label string  `json:"label"`
}

// Ticks gives about count ticks within the domain, from low to high whichever
// way the scale runs.
func (s *Scale) Ticks(count int) []Tick {
	low, high := min(s.From, s.To), max(s.From, s.To)
	count = max(2, count)
	if ticks := s.everyTicks(low, high); ticks != nil {
		return s.formed(ticks)
	}
	switch s.Kind {
	case Log:
		if s.Base != 0 && s.Base != 10 {
			return s.formed(baseTicks(low, high, s.Base, count))
		}
		if s.Form == durationForm {
			return s.formed(logDurationTicks(low, high, count))
		}
		return s.formed(logTicks(low, high, count))
	case NearLinear:
		return s.formed(nearTicks(s, low, high, count))
	case Date:
		return dateTicks(low, high, count)
	case Groups:
		return groupTicks(s.Levels, low, high)
	}
	if s.Form == durationForm {
		return s.formed(durationTicks(low, high, count))
	}
	return s.formed(linearTicks(low, high, count))
}

// Step gives the step of 1, 2 or 5 times a power of ten that divides the way from low
// to high into about count parts.
func Step(low, high float64, count int) float64 {
	rough := high/float64(count) - low/float64(count)
	if !(rough > 0) || math.IsInf(rough, 0) {
		return 1
	}
	unit := math.Pow(10, math.Floor(math.Log10(rough)))
	if unit == 0 { // below what has a power of ten
		return rough
	}
	switch ratio := rough / unit; {
	case ratio < math.Sqrt2: // halfway to 2 in ratio
		return unit
	case ratio < math.Sqrt(10):
		return 2 * unit
	case ratio < math.Sqrt(50):
		return 5 * unit
	}
	return 10 * unit
}

func linearTicks(low, high float64, count int) []Tick {
	return stepTicks(low, high, Step(low, high, count))
}

// stepTicks are the multiples of a step.
func stepTicks(low, high, step float64) []Tick {
	first, last := math.Ceil(low/step-1e-9), math.Floor(high/step+1e-9)
	if !(low < high) || !(last-first <= 1000) || max(math.Abs(first), math.Abs(last)) > 1<<52 { // no room for a step between neighbours
		return endTicks(low, high)
	}
	var ticks []Tick
	decimals := stepDecimals(step)
	for i := first; i <= last; i++ {
		value := round(i*step, decimals)
		ticks = append(ticks, Tick{value, Number(value, decimals)})
	}
	return ticks
}

// endTicks are the ends of a domain in which no steps can be told apart.
func endTicks(low, high float64) []Tick {
	if math.IsInf(low, 0) || math.IsInf(high, 0) || math.IsNaN(low) || math.IsNaN(high) {
		return nil
	}
	ticks := []Tick{{low, Value(low, 6)}}
	if label := Value(high, 6); label != ticks[0].Label {
		ticks = append(ticks, Tick{high, label})
	}
	return ticks
}

// round takes the noise off a multiple of a step, so that 3*0.1 is 0.3.
func round(v float64, decimals int) float64 {
	if decimals > 15 {
		return v
	}
	unit := math.Pow(10, float64(decimals))
	if rounded := math.Round(v*unit) / unit; !math.IsInf(rounded, 0) && !math.IsNaN(rounded) {
		return rounded + 0 // no negative zero
	}
	return v
}

// stepDecimals is how many decimals tell neighbours a step apart.
func stepDecimals(step float64) int {
	return max(0, int(-math.Floor(math.Log10(step)+1e-9)))
}

// logTicks gives ticks in original units: 1-2-5 per decade where there is
// room, powers of ten (or every k-th) over many decades, and the ticks of a
// linear scale within one decade or less.
func logTicks(low, high float64, count int) []Tick {
	decades := magnitude.Log10(high) - magnitude.Log10(low)
	if decades < 0.7 {
		ticks := linearTicks(low, high, count)
		var above []Tick
		for _, tick := range ticks {
			if tick.Value > 0 {
				above = append(above, tick)
			}
		}
		return above
	}
	multiples := []float64{1}
	switch {
	case 9*decades <= float64(count):
		multiples = []float64{1, 2, 3, 4, 5, 6, 7, 8, 9}
	case 2.2*decades <= float64(count):
		multiples = []float64{1, 2, 5}
	case 1.4*decades <= float64(count):
		multiples = []float64{1, 3}
	}
	stride := max(1, math.Ceil(decades/float64(count)))
	var ticks []Tick
	first, last := math.Floor(math.Log10(low)), math.Ceil(math.Log10(high))
	for power := math.Ceil(first/stride) * stride; power <= last; power += stride {
		for _, multiple := range multiples {
			value := multiple * math.Pow(10, power)
			if power < 0 {
				value = multiple / math.Pow(10, -power) // 3/10 is 0.3, 3*0.1 is not
			}
			if value >= low*(1-1e-9) && value <= high*(1+1e-9) && value <= math.MaxFloat64 {
				ticks = append(ticks, Tick{value, Number(value, max(0, -int(power)))})
			}
		}
	}
	return ticks
}

func groupTicks(levels []string, low, high float64) []Tick {
	var ticks []Tick
	for i, level := range levels {
		if v := float64(i); v >= low && v <= high {
			ticks = append(ticks, Tick{v, level})
		}
	}
	return ticks
}
