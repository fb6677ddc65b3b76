package scale

import (
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/table"
)

// someScale draws a scale of any kind, with ends of any size and either way round.
func someScale(source *rand.Rand) *Scale {
	size := math.Pow(10, float64(source.IntN(14)-6))
	a, b := size*source.NormFloat64(), size*source.NormFloat64()
	s := &Scale{From: a, To: b}
	switch source.IntN(5) {
	case 0:
		s.Kind = Linear
	case 1:
		s.Kind, s.From, s.To = Log, math.Abs(a)+size*1e-6, math.Abs(b)*math.Pow(10, float64(source.IntN(6)))+size*1e-6
		s.Base = []float64{0, 2, math.E, 10}[source.IntN(4)]
	case 2:
		s.Kind, s.Near = NearLinear, size*math.Pow(10, -float64(source.IntN(4)))
	case 3:
		s.Kind, s.From, s.To = Date, float64(source.IntN(2_000_000_000)), float64(source.IntN(2_000_000_000))
	default:
		s.Kind, s.Levels = Groups, []string{"a", "b", "c", "d"}
		s.From, s.To = -0.5, 3.5
	}
	if s.From == s.To {
		s.To++
	}
	return s
}

// TestEveryScaleKeepsPlaceAndOrder holds of scales of every kind that drawn and undrawn are
// each other's inverse, that places go one way from one end to the other, and that the ends
// stand at 0 and 1.
func TestEveryScaleKeepsPlaceAndOrder(t *testing.T) {
	for seed := range uint64(2000) {
		source := rand.New(rand.NewPCG(seed, 21))
		s := someScale(source)
		if a, b := s.Position(s.From), s.Position(s.To); math.Abs(a) > 1e-9 || math.Abs(b-1) > 1e-9 {
			t.Fatalf("%+v: the ends stand at %v and %v", s, a, b)
		}
		low, high := min(s.From, s.To), max(s.From, s.To)
		before := math.NaN()
		for i := range 40 {
			v := low + (high-low)*float64(i)/39
			back := s.Undrawn(s.Drawn(v))
			if math.Abs(back-v) > 1e-9*max(math.Abs(low), math.Abs(high)) {
				t.Fatalf("%+v: %v is drawn at %v, which is %v", s, v, s.Drawn(v), back)
			}
			at := s.Position(v)
			if i > 0 && !(at >= before-1e-12) && s.From < s.To || i > 0 && !(at <= before+1e-12) && s.From > s.To {
				t.Fatalf("%+v: places turn round at %v: %v after %v", s, v, at, before)
			}
			before = at
		}
	}
}

// TestTicksOfEveryScale holds that ticks lie on their scale in ascending order, are told apart
// by their labels, are not too many, and that no label has more digits than it takes.
func TestTicksOfEveryScale(t *testing.T) {
	for seed := range uint64(3000) {
		source := rand.New(rand.NewPCG(seed, 22))
		s := someScale(source)
		count := 2 + source.IntN(9)
		ticks := s.Ticks(count)
		if s.Kind != Groups && len(ticks) > 4*count+6 {
			t.Fatalf("%+v: %d ticks where about %d are asked for", s, len(ticks), count)
		}
		seen := map[string]float64{}
		low, high := min(s.From, s.To), max(s.From, s.To)
		slack := 1e-9 * max(math.Abs(low), math.Abs(high), high-low)
		for i, tick := range ticks {
			if tick.Value < low-slack || tick.Value > high+slack {
				t.Fatalf("%+v: a tick at %v lies beyond the ends", s, tick.Value)
			}
			if i > 0 && !(tick.Value > ticks[i-1].Value) {
				t.Fatalf("%+v: ticks at %v and %v", s, ticks[i-1].Value, tick.Value)
			}
			if other, twice := seen[tick.Label]; twice && tick.Label != "" && s.Kind != Date {
				t.Fatalf("%+v: %v and %v are both called %s", s, other, tick.Value, tick.Label)
			}
			seen[tick.Label] = tick.Value
			if len([]rune(tick.Label)) > 20 {
				t.Fatalf("%+v: a tick is called %s", s, tick.Label)
			}
		}
	}
}

// TestDatesOnTicksAreThoseOfTheirMoment reads the labels of daily and coarser ticks back.
func TestDatesOnTicksAreThoseOfTheirMoment(t *testing.T) {
	for seed := range uint64(400) {
		source := rand.New(rand.NewPCG(seed, 23))
		from := float64(source.IntN(1_900_000_000))
		s := &Scale{Kind: Date, From: from, To: from + 86400*math.Pow(10, 0.5+3.5*source.Float64())}
		for _, tick := range s.Ticks(6) {
			if day := table.FormatDate(tick.Value, table.Second); len(day) < 19 || day[17:] != "00" {
				t.Fatalf("%+v: a tick stands at %s", s, day)
			}
		}
	}
}
