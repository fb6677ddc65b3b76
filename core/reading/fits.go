package reading

import (
	"math"
	"strings"

	"copperlark/core/scale"
)

// table lists the straight fits, with as many decimals as give the largest
// slope two digits, and the same in every row.
func (r *reader) table() {
	r.out.SlopeUnit = r.Short
	largest := 0.0
	several := overall(r.figure.Fits) > 1
	panels := r.figure.Pictures() > 1
	for _, fit := range r.figure.Fits {
		if fit.Model != nil && !math.IsNaN(fit.Model.Slope) && !(panels && fit.Group >= 0 && overall(r.figure.Fits) > 0) {
			largest = max(largest, math.Abs(r.value(fit.Model.Slope)))
		}
	}
	decimals := 0
	if largest > 0 {
		decimals = min(max(1-int(math.Floor(math.Log10(largest))), 0), 8)
	}
	signed := func(slope float64) string {
		if largest > 0 && largest < smallestWritten {
			return scale.Signed(r.value(slope), 2)
		}
		text := scale.Number(r.value(slope), decimals)
		if slope > 0 && strings.Trim(text, "0.") != "" {
			return "+" + text
		}
		return text
	}
	for _, fit := range r.figure.Fits {
		row := FitRow{Name: fit.Name, Group: fit.Group, Light: fit.Light, Dark: fit.Dark, Dash: fit.Dash, Problem: fit.Problem}
		if several && fit.Group < 0 && fit.Model != nil {
			row.Name = fit.Model.Called
		}
		if panels && overall(r.figure.Fits) > 0 {
			if fit.Group >= 0 { // of many panels the fits of all rows are compared; the cards tell those of groups
				continue
			}
			if row.Name = strings.Join(r.figure.Panels[fit.Panel].Titles, ", "); several && fit.Model != nil {
				row.Name += ": " + fit.Model.Called
			}
		} else if panels {
			row.Name = strings.Join(r.figure.Panels[fit.Panel].Titles, ", ") + ": " + row.Name
		}
		if fit.Problem == "" {
			if fit.Model == nil {
				continue
			}
			row.N = scale.Number(float64(fit.Model.N), 0)
			if r.figure.Elsewhere != nil {
				if row.Basis = OfSample; fit.Model.Exact {
					row.Basis = OfAll
				}
			}
			if math.IsNaN(fit.Model.Slope) { // a curve has no one slope: how close it comes is told
				row.Slope, row.Interval = "R² "+Correlation(fit.Model.R2), "no one slope"
				r.out.Fits = append(r.out.Fits, row)
				continue
			}
			row.Slope = signed(fit.Model.Slope)
			if interval := fit.Model.Interval(level); !math.IsNaN(interval.Low) {
				row.Interval = signed(interval.Low) + " to " + signed(interval.High)
			}
		}
		r.out.Fits = append(r.out.Fits, row)
	}
}
