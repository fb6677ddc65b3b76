// Package sample draws rows of a table at random, always the same ones.
//
// Taking every so-many-th row is no sample: where rows come in turn (a row of each district, again and again;
// seven days of a week) it sees some of them alone. Here the rows are cut into as many stretches as rows are
// wanted, all of one length but for one row, and one row of each stretch is drawn (stratified sampling by place:
// Cochran, Sampling Techniques, 3rd ed., ch. 5 and 8): what is drawn spreads evenly over the table, whatever
// order its rows have. With groups, each group has its share, drawn in the same way among its own rows.
package sample

import "math/rand/v2"

// seed is the one that every sample is drawn from: the same question has the same answer.
const seed = 20_270_401

// Rows gives at most so many of n rows, in ascending order; nil where all of them are. codes, where they are not
// nil, are the groups of the rows: each group has its share of the sample, and at least one row (for which the
// sample may be larger by the number of groups). A row without a group, of a code below 0, is of a group of such.
func Rows(n, most int, codes []int32) []int {
	if n <= most || most <= 0 {
		return nil
	}
	source := rand.New(rand.NewPCG(seed, uint64(n)))
	if codes == nil {
		rows := make([]int, most)
		for i := range rows {
			rows[i] = drawn(source, n, most, i)
		}
		return rows
	}
	counts := map[int32]int{}
	for _, code := range codes {
		counts[max(code, -1)]++
	}
	type group struct{ wanted, taken, seen, next int }
	groups := make(map[int32]*group, len(counts))
	for _, code := range codes { // in the order in which they appear: a map has none
		if code = max(code, -1); groups[code] == nil {
			g := &group{wanted: max(1, (counts[code]*most+n/2)/n)}
			g.next = drawn(source, counts[code], g.wanted, 0)
			groups[code] = g
		}
	}
	rows := make([]int, 0, most+len(groups))
	for row, code := range codes {
		code = max(code, -1)
		g := groups[code]
		if g.seen == g.next && g.taken < g.wanted {
			rows = append(rows, row)
			if g.taken++; g.taken < g.wanted {
				g.next = drawn(source, counts[code], g.wanted, g.taken)
			}
		}
		g.seen++
	}
	return rows
}

// drawn is a row of the i-th of so many stretches of n rows.
func drawn(source *rand.Rand, n, stretches, i int) int {
	from, to := i*n/stretches, (i+1)*n/stretches
	return from + source.IntN(max(1, to-from))
}

// Of gives the values of some rows; rows nil are all, and then the values are those that were given.
func Of[T any](values []T, rows []int) []T {
	if rows == nil {
		return values
	}
	out := make([]T, len(rows))
	for i, row := range rows {
		out[i] = values[row]
	}
	return out
}
