package confound

import (
	"cmp"
	"math"
	"regexp"
	"slices"

	"copperlark/core/table"
)

// order is a way in which rows follow each other.
type order struct {
	column   *table.Column
	sequence []int
}

// timeNames are names of columns of numbers that tell when.
var timeNames = regexp.MustCompile(`(?i)^(t|time|year|jahr|année|month|week|day|hour|minute|step|period|tick|index|sequence)$`)

// ordersOf lists how the rows of a table may follow each other: where x itself is a moment or counts rows, along
// it; else along each column that does; and where there is none, as they stand in the table, unless the table is
// sorted by one of its columns.
func ordersOf(t *table.Table, rows []uint32, xName, yName string) (list []order) {
	counts := func(c *table.Column) bool {
		return c.Kind == table.Date ||
			c.Kind.Quantity() && (c.CountsRows() || timeNames.MatchString(c.Name) && differentValues(c, rows)*2 > len(rows))
	}
	if x := t.Column(xName); x != nil && counts(x) {
		return []order{{x, along(x, rows)}}
	}
	var others []*table.Column
	for _, c := range t.Columns() {
		if c.Name == yName || !counts(c) {
			others = append(others, c)
		} else if sequence := along(c, rows); 2*len(sequence) > len(rows) {
			list = append(list, order{c, sequence})
		}
	}
	if list == nil && !slices.ContainsFunc(others, func(c *table.Column) bool { return sorts(c, rows) }) {
		places := make([]int, len(rows))
		for i := range places {
			places[i] = i
		}
		list = append(list, order{nil, places})
	}
	return list
}

// along are the places of the rows in ascending order of a column; those of one value stay as they stand.
func along(c *table.Column, rows []uint32) []int {
	places := make([]int, 0, len(rows))
	for i, row := range rows {
		if !c.Missing(int(row)) {
			places = append(places, i)
		}
	}
	ascending := func(a, b int) int { return cmp.Compare(c.Numbers[rows[a]], c.Numbers[rows[b]]) }
	switch {
	case slices.IsSortedFunc(places, ascending):
	case len(places) < fewestDigits:
		slices.SortStableFunc(places, ascending)
	default:
		places = byDigits(places, func(place int) float64 { return c.Numbers[rows[place]] })
	}
	return places
}

// fewestDigits is from how many places on they are sorted by the digits of their values.
const fewestDigits = 10_000

// byDigits sorts places by values that are not missing, ascending, those of one value as they stand: by 16 bits at a
// time from the last (Knuth, The Art of Computer Programming 3, 5.2.5). The bits of a number of one sign ascend with it.
func byDigits(places []int, value func(place int) float64) []int {
	keys := make([]uint64, len(places))
	for i, place := range places {
		bits := math.Float64bits(value(place) + 0) // no zero below zero
		if bits>>63 == 1 {
			bits = ^bits
		} else {
			bits |= 1 << 63
		}
		keys[i] = bits
	}
	otherKeys, other := make([]uint64, len(places)), make([]int, len(places))
	for shift := 0; shift < 64; shift += 16 {
		var counts [1 << 16]int32
		for _, key := range keys {
			counts[uint16(key>>shift)]++
		}
		if counts[uint16(keys[0]>>shift)] == int32(len(keys)) {
			continue // all alike in these bits
		}
		next := int32(0)
		for digit, n := range counts {
			counts[digit], next = next, next+n
		}
		for i, key := range keys {
			at := &counts[uint16(key>>shift)]
			otherKeys[*at], other[*at] = key, places[i]
			*at++
		}
		keys, otherKeys, places, other = otherKeys, keys, other, places
	}
	return places
}

func differentValues(c *table.Column, rows []uint32) int {
	seen := map[float64]bool{}
	for _, row := range rows {
		if v := c.Numbers[row]; v == v {
			seen[v] = true
		}
	}
	return len(seen)
}

// sorts reports whether rows stand in the order of a column: nearly all steps go one way, or groups stand together.
func sorts(c *table.Column, rows []uint32) bool {
	steps, up, down, changes := 0, 0, 0, 0
	if c.Kind.Coded() {
		counts := make([]float64, len(c.Levels)+1)
		for i, row := range rows {
			counts[c.Codes[row]+1]++
			if i > 0 && c.Codes[row] != c.Codes[rows[i-1]] {
				changes++
			}
		}
		same := 0.0
		for _, n := range counts {
			same += n / float64(len(rows)) * n / float64(len(rows))
		}
		return same < 1 && float64(changes) < blockedShare*(1-same)*float64(len(rows)-1)
	}
	for i := 1; i < len(rows); i++ {
		a, b := c.Numbers[rows[i-1]], c.Numbers[rows[i]]
		switch {
		case a < b:
			up++
		case a > b:
			down++
		case a == b:
		default:
			continue
		}
		steps++
	}
	return steps > 0 && up != down && float64(max(up, down)+steps-up-down) >= sortedShare*float64(steps) && float64(max(up, down)) > 0
}

// stretches are at most so many places, in pieces of followers that are spread evenly over all.
func stretches(sequence []int, most int) []int {
	if len(sequence) <= most {
		return sequence
	}
	const pieces = 20
	out := make([]int, 0, most)
	for i := range pieces {
		begin := i * (len(sequence) - most/pieces) / (pieces - 1)
		out = append(out, sequence[begin:begin+most/pieces]...)
	}
	return out
}
