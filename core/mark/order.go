package mark

import (
	"cmp"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/table"
)

// inOrder gives a column with its groups in the order that a chart says: by a statistic of
// their rows, those without one last. Other columns stay as they are. The groups of the
// table keep their order, and with it their colours.
func inOrder(o *chart.Order, c *table.Column, t *table.Table) *table.Column {
	if o == nil || c == nil || c.Name != o.Column || !c.Kind.Coded() {
		return c
	}
	by := t.Column(o.By)
	counts, collected := make([]int, len(c.Levels)), make([][]float64, len(c.Levels))
	for i, code := range c.Codes {
		if code < 0 {
			continue
		}
		counts[code]++
		if by != nil && !by.Missing(i) {
			v := 0.0
			if by.Kind.Coded() {
				v = float64(by.Codes[i])
			} else {
				v = by.Numbers[i]
			}
			collected[code] = append(collected[code], v)
		}
	}
	values, order := make([]float64, len(c.Levels)), make([]int32, len(c.Levels))
	for g := range values {
		order[g], values[g] = int32(g), math.NaN()
		if o.Of == chart.Count || len(collected[g]) > 0 {
			values[g] = statistic(o.Of, counts[g], collected[g])
			if o.Of != chart.Count {
				values[g] = statistic(o.Of, len(collected[g]), collected[g])
			}
		}
	}
	slices.SortStableFunc(order, func(a, b int32) int {
		x, y := values[a], values[b]
		if math.IsNaN(x) || math.IsNaN(y) {
			return cmp.Compare(boolean(math.IsNaN(x)), boolean(math.IsNaN(y)))
		}
		if o.Descending {
			return cmp.Compare(y, x)
		}
		return cmp.Compare(x, y)
	})
	place, levels := make([]int32, len(order)), make([]string, len(order))
	for i, g := range order {
		place[g], levels[i] = int32(i), c.Levels[g]
	}
	sorted := *c
	sorted.Levels, sorted.Codes = levels, make([]int32, len(c.Codes))
	for i, code := range c.Codes {
		sorted.Codes[i] = table.MissingCode
		if code >= 0 {
			sorted.Codes[i] = place[code]
		}
	}
	return &sorted
}

func boolean(b bool) int {
	if b {
		return 1
	}
	return 0
}
