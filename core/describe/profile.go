package describe

import (
	"math"
	"sort"

	"copperlark/core/magnitude"
	"copperlark/core/table"
)

// Bar is one bar of the small picture of a column: a level with its rows, or a
// stretch of numbers.
type Bar struct {
	Name  string  `json:"name,omitempty"`
	From  float64 `json:"from,omitempty"`
	To    float64 `json:"to,omitempty"`
	Count int     `json:"count"`
}

// Picture gives the bars of a column's small picture: at most most levels, the
// most frequent first where there are more, or most equal stretches of numbers.
func Picture(c *table.Column, most int) []Bar {
	if c.Kind.Coded() {
		return levelBars(c, most)
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range c.Numbers {
		if !math.IsNaN(v) && !math.IsInf(v, 0) {
			low, high = min(low, v), max(high, v)
		}
	}
	if low > high {
		return []Bar{}
	}
	if low == high {
		return []Bar{{From: low, To: high, Count: c.Len() - c.MissingCount()}}
	}
	bars := make([]Bar, most)
	edge := func(i int) float64 { return magnitude.Between(low, high, float64(i)/float64(most)) }
	for i := range bars {
		bars[i].From, bars[i].To = edge(i), edge(i+1)
	}
	for _, v := range c.Numbers {
		if v >= low && v <= high { // neither NaN nor infinite
			bars[min(int(float64(most)*magnitude.Share(v, low, high)), most-1)].Count++
		}
	}
	return bars
}

// Gaps says where values of a column are missing: the share that is, in each of so
// many equal stretches of the rows (fewer where there are fewer rows), from the first
// to the last. A column without rows has none.
func Gaps(c *table.Column, stretches int) []float64 {
	n := c.Len()
	stretches = min(stretches, n)
	shares := make([]float64, stretches)
	for s := range shares {
		from, to := s*n/stretches, (s+1)*n/stretches
		for i := from; i < to; i++ {
			if c.Missing(i) {
				shares[s] += 1 / float64(to-from)
			}
		}
	}
	return shares
}

func levelBars(c *table.Column, most int) []Bar {
	bars := make([]Bar, len(c.Levels))
	for i, level := range c.Levels {
		bars[i].Name = level
	}
	for _, code := range c.Codes {
		if code >= 0 {
			bars[code].Count++
		}
	}
	if len(bars) > most {
		sort.SliceStable(bars, func(i, j int) bool { return bars[i].Count > bars[j].Count })
		bars = bars[:most]
	}
	return bars
}

// GoesWith is how much of the spread of a column another one accounts for, from
// 0 to 1: r² between numbers, epsilon squared between groups and numbers, and the
// square of Cramér's V between groups, each corrected for what chance gives so many rows
// and groups (1 − (1 − r²)(n − 1)/(n − 2); GroupDifferences; CramersV), and 0 where
// nothing more is there. NaN where that is not defined.
func GoesWith(a, b *table.Column) float64 {
	switch {
	case !a.Kind.Coded() && !b.Kind.Coded():
		p, err := PearsonOf(a.Numbers, b.Numbers)
		if err != nil {
			return math.NaN()
		}
		if p.N < 3 {
			return math.NaN()
		}
		return max(0, 1-(1-p.R*p.R)*float64(p.N-1)/float64(p.N-2))
	case a.Kind.Coded() && b.Kind.Coded():
		v := CramersV(a.Codes, len(a.Levels), b.Codes, len(b.Levels))
		return v * v
	case a.Kind.Coded():
		return max(0, GroupDifferences(a.Codes, len(a.Levels), b.Numbers).Epsilon2)
	}
	return max(0, GroupDifferences(b.Codes, len(b.Levels), a.Numbers).Epsilon2)
}
