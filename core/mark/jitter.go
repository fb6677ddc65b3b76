package mark

import (
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/scale"
)

// wideSteps is the most different values among which the smallest distance is looked for; of
// more whole numbers it is 1.
const wideSteps = 1000

// checkJitter finds what keeps dots from being moved apart along an axis.
func checkJitter(c *Case) (problems []chart.Problem) {
	for _, name := range c.Document.Jitter {
		a := c.X
		if name == "y" {
			a = c.Y
		}
		switch {
		case a.Aggregated():
			problems = append(
				problems,
				chart.Problem{
					Clause:  "jitter",
					Message: fmt.Sprintf("a statistic stands along %s, which is one dot", name),
					Advice:  "take the jitter out",
				},
			)
		case !a.Grouped() && !(a.Kind == scale.Linear && a.Whole()):
			problems = append(
				problems,
				chart.Problem{
					Clause:  "jitter",
					Column:  a.Column.Name,
					Message: fmt.Sprintf("jitter tells rows apart that share a group or a whole number; along %s stand others", name),
					Advice:  "take the jitter out, or read the column as groups",
				},
			)
		}
	}
	return problems
}

// jittered moves values apart that share a place along an axis, where that is said: at random,
// by a share of the smallest distance between two places that belongs to the row alone. Nothing
// that is computed from the rows moves with them.
func (c *Case) jittered(axis string, values []float64) []float64 {
	if !slices.Contains(c.Document.Jitter, axis) {
		return values
	}
	step, side := smallestStep(values), uint32(0)
	if axis == "y" {
		side = 1 << 31 // so that a row does not move along a diagonal
	}
	moved := make([]float64, len(values))
	for i, v := range values {
		moved[i] = v + step*strew(c.Rows[i]^side)
	}
	return moved
}

// smallestStep is the smallest distance between two different values; 1 where there is none, or
// where there are many values.
func smallestStep(values []float64) float64 {
	seen := map[float64]bool{}
	for _, v := range values {
		if seen[v] = true; len(seen) > wideSteps {
			return 1
		}
	}
	places := make([]float64, 0, len(seen))
	for v := range seen {
		places = append(places, v)
	}
	slices.Sort(places)
	step := math.Inf(1)
	for i := 1; i < len(places); i++ {
		step = min(step, places[i]-places[i-1])
	}
	if math.IsInf(step, 0) {
		return 1
	}
	return step
}
