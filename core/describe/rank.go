package describe

import (
	"math"
	"slices"

	"copperlark/core/magnitude"
)

// Ranks gives each value its rank from 1; tied values get the mean of the ranks
// that they span.
func Ranks(values []float64) []float64 {
	order := sortedOrder(values)
	ranks := make([]float64, len(values))
	for from := 0; from < len(order); {
		to := from + 1
		for to < len(order) && values[order[to]] == values[order[from]] {
			to++
		}
		for _, i := range order[from:to] {
			ranks[i] = float64(from+to+1) / 2
		}
		from = to
	}
	return ranks
}

func sortedOrder(values []float64) []int32 {
	order := make([]int32, len(values))
	for i := range order {
		order[i] = int32(i)
	}
	slices.SortFunc(order, func(a, b int32) int {
		switch {
		case values[a] < values[b]:
			return -1
		case values[a] > values[b]:
			return 1
		}
		return 0
	})
	return order
}

// kendall is tau-b = (C - D)/√((n0 - n1)(n0 - n2)) in O(n log n): rows are
// sorted by x and then y, and discordant pairs are the exchanges of a merge sort
// by y (Knight 1966, "A computer method for calculating Kendall's tau with
// ungrouped data", JASA 61).
func kendall(x, y []float64) float64 {
	n := len(x)
	order := make([]int32, n)
	for i := range order {
		order[i] = int32(i)
	}
	slices.SortFunc(order, func(a, b int32) int {
		switch {
		case x[a] < x[b]:
			return -1
		case x[a] > x[b]:
			return 1
		case y[a] < y[b]:
			return -1
		case y[a] > y[b]:
			return 1
		}
		return 0
	})
	sorted := make([]float64, n)
	for i, row := range order {
		sorted[i] = y[row]
	}
	pairs := func(run int) float64 { return float64(run) * float64(run-1) / 2 }
	tiedX, tiedBoth := 0.0, 0.0
	for from := 0; from < n; {
		to := from + 1
		for to < n && x[order[to]] == x[order[from]] {
			to++
		}
		tiedX += pairs(to - from)
		for a := from; a < to; {
			b := a + 1
			for b < to && sorted[b] == sorted[a] {
				b++
			}
			tiedBoth += pairs(b - a)
			a = b
		}
		from = to
	}
	discordant := exchanges(sorted, make([]float64, n))
	tiedY := 0.0
	for from := 0; from < n; { // sorted by the merge sort now
		to := from + 1
		for to < n && sorted[to] == sorted[from] {
			to++
		}
		tiedY += pairs(to - from)
		from = to
	}
	all := pairs(n)
	concordantMinusDiscordant := all - tiedX - tiedY + tiedBoth - 2*discordant
	return concordantMinusDiscordant / (math.Sqrt(all-tiedX) * math.Sqrt(all-tiedY))
}

// exchanges sorts values and counts the pairs that stood the wrong way round.
func exchanges(values, scratch []float64) float64 {
	n := len(values)
	if n < 2 {
		return 0
	}
	middle := n / 2
	count := exchanges(values[:middle], scratch[:middle]) + exchanges(values[middle:], scratch[middle:])
	left, right := 0, middle
	for k := range n {
		if right >= n || (left < middle && values[left] <= values[right]) {
			scratch[k] = values[left]
			left++
		} else {
			scratch[k] = values[right]
			right++
			count += float64(middle - left)
		}
	}
	copy(values, scratch)
	return count
}

// EtaSquared is the share of the spread of y that lies between the groups:
// Σ n_g(ȳ_g - ȳ)²/Syy. Rows with a negative code or a missing y are left out. NaN
// when y has no spread or there are fewer than two rows.
func EtaSquared(codes []int32, groups int, y []float64) float64 {
	y, _ = magnitude.Scaled(y)
	counts, sums := make([]float64, groups), make([]float64, groups)
	n, total := 0.0, 0.0
	for i, code := range codes {
		if code >= 0 && !math.IsNaN(y[i]) {
			counts[code]++
			sums[code] += y[i]
			n++
			total += y[i]
		}
	}
	if n < 2 {
		return math.NaN()
	}
	m := total / n
	between, whole := 0.0, 0.0
	for g, count := range counts {
		if count > 0 {
			d := sums[g]/count - m
			between += count * d * d
		}
	}
	for i, code := range codes {
		if code >= 0 && !math.IsNaN(y[i]) {
			whole += (y[i] - m) * (y[i] - m)
		}
	}
	if whole == 0 {
		return math.NaN()
	}
	return min(between/whole, 1)
}

// CramersV is the bias-corrected V of two columns of groups (Bergsma 2013, "A
// bias-correction for Cramér's V and Tschuprow's T", Journal of the Korean
// Statistical Society 42). NaN with fewer than two groups on a side.
func CramersV(a []int32, groupsA int, b []int32, groupsB int) float64 {
	table := make([]float64, groupsA*groupsB)
	for i, code := range a {
		if code >= 0 && b[i] >= 0 {
			table[int(code)*groupsB+int(b[i])]++
		}
	}
	return CramersVOf(table, groupsA, groupsB)
}

// CramersVOf is CramersV of a table of counts, the groups of a down and those of b across.
func CramersVOf(table []float64, groupsA, groupsB int) float64 {
	rows, columns := make([]float64, groupsA), make([]float64, groupsB)
	n := 0.0
	for i, count := range table {
		rows[i/groupsB] += count
		columns[i%groupsB] += count
		n += count
	}
	filled := func(counts []float64) float64 {
		k := 0.0
		for _, c := range counts {
			if c > 0 {
				k++
			}
		}
		return k
	}
	r, c := filled(rows), filled(columns)
	if r < 2 || c < 2 || n < 2 {
		return math.NaN()
	}
	phi := -1.0 // χ²/n = Σ n_ij²/(n_i n_j) - 1
	for i, row := range rows {
		for j, column := range columns {
			if row > 0 && column > 0 {
				count := table[i*groupsB+j]
				phi += count * count / (row * column)
			}
		}
	}
	phi = max(0, phi-(r-1)*(c-1)/(n-1))
	r -= (r - 1) * (r - 1) / (n - 1)
	c -= (c - 1) * (c - 1) / (n - 1)
	return min(math.Sqrt(phi/(min(r, c)-1)), 1)
}
