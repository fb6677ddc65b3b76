package confound

import (
	"math"

	"copperlark/core/model"
	"copperlark/core/table"
)

// StandardisedDifference is the difference of the means of y between two groups of rows, x of 1
// and of 0, as it would be if both had the mix of a third column that all rows have:
//
//	d = Σ w (ȳ₁ − ȳ₀) over the levels in which both have rows, w = n / Σ n,
//	se² = Σ w² (s₁²/n₁ + s₀²/n₀), s² the mean square about the mean.
//
// Of y 0 and 1 these are standardised rates (CompareRates). share is that of the rows in such
// levels; the difference is NaN where there is none. rows are those of c; rows without a value of
// c are left out.
func StandardisedDifference(x, y []float64, rows []uint32, c *table.Column) (d Ratio, share float64) {
	d = noRatio()
	groups := asGroups(c)
	if groups == nil {
		return d, 0
	}
	type moments struct{ n, mean, squares float64 }
	of := make([][2]moments, len(groups.Levels))
	all := 0.0
	for i, row := range rows {
		if g := groups.Codes[row]; g >= 0 {
			m := &of[g][int(x[i])]
			m.n++
			delta := y[i] - m.mean
			m.mean += delta / m.n
			m.squares += delta * (y[i] - m.mean)
			all++
		}
	}
	used, value, variance := 0.0, 0.0, 0.0
	for _, level := range of {
		if n := level[0].n + level[1].n; level[0].n > 0 && level[1].n > 0 {
			used += n
		}
	}
	if used == 0 {
		return d, 0
	}
	for _, level := range of {
		n := level[0].n + level[1].n
		if level[0].n == 0 || level[1].n == 0 {
			continue
		}
		w := n / used
		value += w * (level[1].mean - level[0].mean)
		for _, m := range level {
			variance += w * w * m.squares / m.n / m.n
		}
	}
	se := math.Sqrt(variance)
	return Ratio{value, se, model.Interval{Low: value - normal975*se, High: value + normal975*se}}, used / all
}

// RatesOf compares shares of y, of 0 and more, between two groups of rows within the levels of a
// column (CompareRates); nil where there is nothing to compare.
func RatesOf(x, y []float64, rows []uint32, c *table.Column) *Rates {
	groups := asGroups(c)
	if groups == nil {
		return nil
	}
	var yes []bool
	var exposed, level []int32
	for i, row := range rows {
		if g := groups.Codes[row]; g >= 0 {
			yes, exposed, level = append(yes, y[i] > 0), append(exposed, int32(x[i])), append(level, g)
		}
	}
	found, err := CompareRates(yes, exposed, 2, level, len(groups.Levels), 1, 0)
	if err != nil {
		return nil
	}
	return found
}
