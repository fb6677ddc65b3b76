package reading

import (
	"math"

	"copperlark/core/model"
	"copperlark/core/scale"
)

// IntervalPlace is where a slope and its interval stand on an axis, in shares of it.
type IntervalPlace struct {
	At     *float64 `json:"at,omitempty" doc:"absent where there is no slope"`
	Low    float64  `json:"low"`
	High   float64  `json:"high"`
	Beyond bool     `json:"beyond,omitempty" doc:"the interval goes beyond the axis"`
}

// IntervalTick is a value on such an axis.
type IntervalTick struct {
	At    float64 `json:"at"`
	Label string  `json:"label"`
}

// The measures of an axis of intervals: the least distance of its labels in shares, and how
// many times the span of the slopes it may reach beyond them.
const tickRoom, furthest = 0.25, 1.0

// intervalAxis places slopes and intervals on one axis that holds zero, every slope and the
// whole intervals of the first ones. The intervals of others, of few rows, may go beyond it.
func (u *Units) intervalAxis(slopes []float64, intervals []model.Interval, whole int) (places []IntervalPlace, ticks []IntervalTick) {
	places = make([]IntervalPlace, len(slopes))
	low, high := 0.0, 0.0
	take := func(slope float64) {
		if v := u.value(slope); !math.IsNaN(v) && !math.IsInf(v, 0) {
			low, high = min(low, v), max(high, v)
		}
	}
	for i, slope := range slopes {
		take(slope)
		if i < whole {
			take(intervals[i].Low)
			take(intervals[i].High)
		}
	}
	least, most := low-furthest*(high-low), high+furthest*(high-low)
	for _, interval := range intervals {
		if v := u.value(interval.Low); !math.IsNaN(v) {
			low = min(low, max(v, least))
		}
		if v := u.value(interval.High); !math.IsNaN(v) {
			high = max(high, min(v, most))
		}
	}
	if !(high > low) || math.IsInf(high-low, 0) {
		return places, nil
	}
	share := func(v float64) float64 { return (v - low) / (high - low) }
	for i, slope := range slopes {
		v := u.value(slope)
		if math.IsNaN(v) || math.IsInf(v, 0) {
			continue
		}
		at := share(v)
		places[i] = IntervalPlace{At: &at, Low: at, High: at}
		if from, to := share(u.value(intervals[i].Low)), share(u.value(intervals[i].High)); !math.IsNaN(from) && !math.IsNaN(to) {
			places[i].Low, places[i].High, places[i].Beyond = max(from, 0), min(to, 1), from < -1e-9 || to > 1+1e-9
		}
	}
	s := &scale.Scale{Kind: scale.Linear, From: low, To: high}
	zero := share(0)
	for _, tick := range s.Ticks(3) {
		at := share(tick.Value)
		if tick.Value != 0 && math.Abs(at-zero) < tickRoom || len(ticks) > 0 && at-ticks[len(ticks)-1].At < tickRoom {
			continue
		}
		label := tick.Label
		if tick.Value > 0 {
			label = "+" + label
		}
		ticks = append(ticks, IntervalTick{at, label})
	}
	return places, ticks
}
