package scale

import "math"

// durationForm writes seconds as hours, minutes and seconds.
const durationForm = "duration"

// durationSteps are the steps between ticks of durations, in seconds; beyond them, days by 1, 2 and 5.
var durationSteps = []float64{1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 2 * 3600, 3 * 3600, 6 * 3600, 12 * 3600, 86400}

// durationTicks gives about count ticks at round hours, minutes or seconds.
func durationTicks(low, high float64, count int) []Tick {
	rough := high/float64(count) - low/float64(count)
	if rough < 0.5 {
		return linearTicks(low, high, count)
	}
	for i, step := range durationSteps {
		if step >= rough*0.999 || i+1 < len(durationSteps) && math.Sqrt(step*durationSteps[i+1]) > rough {
			return stepTicks(low, high, step)
		}
	}
	const day = 86400
	return stepTicks(low, high, day*Step(low/day, high/day, count))
}

// logDurations are where the ticks of durations stand on a log scale, in seconds; below them, by powers of ten.
var logDurations = []float64{1, 10, 60, 600, 3600, 6 * 3600, 86400, 10 * 86400, 100 * 86400, 1000 * 86400, 10_000 * 86400}

// logDurationTicks gives at most about count of them; within two, those of a linear scale.
func logDurationTicks(low, high float64, count int) []Tick {
	var within []float64
	for _, v := range logDurations {
		if v >= low*(1-1e-9) && v <= high*(1+1e-9) {
			within = append(within, v)
		}
	}
	if low < logDurations[0]/10 || high > 10*logDurations[len(logDurations)-1] {
		return logTicks(low, high, count)
	}
	if len(within) < 2 {
		var above []Tick
		for _, tick := range durationTicks(low, high, count) {
			if tick.Value > 0 {
				above = append(above, tick)
			}
		}
		return above
	}
	stride := (len(within) + count - 1) / count
	var ticks []Tick
	for i := 0; i < len(within); i += stride {
		ticks = append(ticks, Tick{within[i], Value(within[i], 6)})
	}
	return ticks
}
