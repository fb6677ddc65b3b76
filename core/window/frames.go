package window

import (
	"cmp"
	"context"
	"math"
	"slices"

	"copperlark/core/parallel"
)

// Key is a column by which rows are ordered: numbers, or the places of texts in their order.
// A missing value (NaN) stands last, or first where that is said.
type Key struct {
	Values       []float64
	Descending   bool
	MissingFirst bool
}

// compare says which of two rows comes first.
func (k *Key) compare(a, b int) int {
	x, y := k.Values[a], k.Values[b]
	if x != x || y != y {
		order := cmp.Compare(missing(x), missing(y))
		if k.MissingFirst {
			return -order
		}
		return order
	}
	if k.Descending {
		x, y = y, x
	}
	return cmp.Compare(x, y)
}

// Ordered are rows in their groups, each group in order; rows that no key tells apart are
// peers, and without keys all rows of a group are.
type Ordered struct {
	*Rows
	keys []Key
}

// ArrangeBy puts n rows into groups, numbered from 0 (nil for one group), and orders each by
// keys, the first one first; peers stay as they came.
func ArrangeBy(ctx context.Context, n int, group []int32, keys []Key) (*Ordered, error) {
	for _, k := range keys {
		if len(k.Values) != n {
			return nil, ErrLengths
		}
	}
	rows, err := Arrange(ctx, n, group, nil)
	if err != nil {
		return nil, err
	}
	o := &Ordered{rows, keys}
	compare := func(a, b int) int {
		for i := range keys {
			if order := keys[i].compare(a, b); order != 0 {
				return order
			}
		}
		return 0
	}
	if len(keys) > 0 {
		for _, list := range rows.groups {
			if err := parallel.SortStable(ctx, list, compare); err != nil {
				return nil, err
			}
		}
	}
	return o, nil
}

// peers gives, for each place of a group in order, where its peers begin and where they end.
func (o *Ordered) peers(rows []int) (from, to []int) {
	from, to = make([]int, len(rows)), make([]int, len(rows))
	for begin := 0; begin < len(rows); {
		end := begin + 1
		for end < len(rows) && o.same(rows[begin], rows[end]) {
			end++
		}
		for i := begin; i < end; i++ {
			from[i], to[i] = begin, end
		}
		begin = end
	}
	return from, to
}

func (o *Ordered) same(a, b int) bool {
	return !slices.ContainsFunc(o.keys, func(k Key) bool { return k.compare(a, b) != 0 })
}

// Bound is one end of a frame: so many rows from the current one, fewer than 0 before it,
// or the end of the group.
type Bound struct {
	Unbounded bool
	Rows      int
}

// Frame are the rows that a value is computed from: from a row to a row, both of them
// included. With Peers the current row stands for all its peers, and Rows of both ends is 0.
type Frame struct {
	From, To Bound
	Peers    bool
}

// Default is the frame where none is said: from the first row of the group to the last peer
// of the current one.
var Default = Frame{From: Bound{Unbounded: true}, Peers: true}

// ends gives the places from and up to which, for every place of a group, its frame goes.
// Both only rise along the group.
func (o *Ordered) ends(f Frame, rows []int) (from, to []int) {
	n := len(rows)
	if f.Peers {
		from, to = o.peers(rows)
	} else {
		from, to = make([]int, n), make([]int, n)
		for i := range rows {
			from[i], to[i] = max(0, min(n, i+f.From.Rows)), max(0, min(n, i+f.To.Rows+1))
		}
	}
	for i := range rows {
		if f.From.Unbounded {
			from[i] = 0
		}
		if f.To.Unbounded {
			to[i] = n
		}
	}
	return from, to
}

// inGroups works out every group, told its rows in order.
func (o *Ordered) inGroups(of func(rows []int)) {
	for _, rows := range o.groups {
		if o.ctx.Err() != nil { // whoever asked has gone
			return
		}
		of(rows)
	}
}

// numbered makes a number for each row.
func (o *Ordered) numbered(of func(rows []int, out func(place int, v float64))) []float64 {
	result := make([]float64, o.n)
	o.inGroups(func(rows []int) { of(rows, func(place int, v float64) { result[rows[place]] = v }) })
	return result
}

// found names a row for each row, -1 for none.
func (o *Ordered) found(of func(rows []int, out func(place, at int))) []int {
	result := slices.Repeat([]int{-1}, o.n)
	o.inGroups(func(rows []int) {
		of(rows, func(place, at int) {
			if at >= 0 && at < len(rows) {
				result[rows[place]] = rows[at]
			}
		})
	})
	return result
}

// RowNumber counts the rows of each group from 1.
func (o *Ordered) RowNumber() []float64 {
	return o.numbered(func(rows []int, out func(int, float64)) {
		for i := range rows {
			out(i, float64(i+1))
		}
	})
}

// Ranked gives each row 1 and the rows before its peers, or dense, 1 and how many values
// there are before it.
func (o *Ordered) Ranked(dense bool) []float64 {
	return o.numbered(func(rows []int, out func(int, float64)) {
		from, _ := o.peers(rows)
		values := 0
		for i := range rows {
			if from[i] == i {
				values++
			}
			if dense {
				out(i, float64(values))
			} else {
				out(i, float64(from[i]+1))
			}
		}
	})
}

// PercentRank is (rank − 1) / (rows − 1), 0 in a group of one row.
func (o *Ordered) PercentRank() []float64 {
	return o.numbered(func(rows []int, out func(int, float64)) {
		from, _ := o.peers(rows)
		for i := range rows {
			out(i, float64(from[i])/float64(max(1, len(rows)-1)))
		}
	})
}

// Cumulative is the share of the rows up to the last peer of each.
func (o *Ordered) Cumulative() []float64 {
	return o.numbered(func(rows []int, out func(int, float64)) {
		_, to := o.peers(rows)
		for i := range rows {
			out(i, float64(to[i])/float64(len(rows)))
		}
	})
}

// Tile cuts each group into k parts numbered from 1, the first ones one row larger where
// they cannot be equal.
func (o *Ordered) Tile(k int) ([]float64, error) {
	if k < 1 {
		return nil, ErrCount
	}
	return o.numbered(func(rows []int, out func(int, float64)) {
		size, larger := len(rows)/k, len(rows)%k
		for i := range rows {
			if border := larger * (size + 1); i < border {
				out(i, float64(i/(size+1)+1))
			} else {
				out(i, float64(larger+(i-border)/size+1))
			}
		}
	}), nil
}

// Shifted is the row so many rows after each, before it where by is below 0.
func (o *Ordered) Shifted(by int) []int {
	return o.found(func(rows []int, out func(int, int)) {
		for i := range rows {
			out(i, i+by)
		}
	})
}

// Nth is the k-th row of each frame, counted from 1; from the end, -1 being the last, where
// it is below 0.
func (o *Ordered) Nth(f Frame, k int) []int {
	return o.found(func(rows []int, out func(int, int)) {
		from, to := o.ends(f, rows)
		for i := range rows {
			at := from[i] + k - 1
			if k < 0 {
				at = to[i] + k
			}
			if at >= from[i] && at < to[i] {
				out(i, at)
			}
		}
	})
}

// Counted is the number of rows of each frame that count; all do where counts is nil.
func (o *Ordered) Counted(f Frame, counts func(row int) bool) []float64 {
	return o.numbered(func(rows []int, out func(int, float64)) {
		from, to := o.ends(f, rows)
		before := make([]int, len(rows)+1)
		for i, row := range rows {
			before[i+1] = before[i]
			if counts == nil || counts(row) {
				before[i+1]++
			}
		}
		for i := range rows {
			out(i, float64(max(0, before[to[i]]-before[from[i]]))) // a frame of no rows may end before it begins
		}
	})
}

// Summed is the sum of the values of each frame, or their mean; missing (NaN) where it has
// none. Missing values do not count.
func (o *Ordered) Summed(f Frame, values []float64, mean bool) []float64 {
	type part struct {
		sum
		n int
	}
	return o.numbered(func(rows []int, out func(int, float64)) {
		from, to := o.ends(f, rows)
		along(from, to, part{},
			func(place int) (p part) {
				if v := values[rows[place]]; v == v {
					p.total, p.n = v, 1
				}
				return p
			},
			func(a, b part) part {
				a.add(b.total)
				a.lost += b.lost
				a.n += b.n
				return a
			},
			func(place int, p part) {
				switch {
				case p.n == 0:
					out(place, math.NaN())
				case mean:
					out(place, p.value()/float64(p.n))
				default:
					out(place, p.value())
				}
			})
	})
}

// Extreme names, for each row, the row of its frame with the least value, or the greatest;
// of equal ones the first.
func (o *Ordered) Extreme(f Frame, values []float64, greatest bool) []int {
	return o.found(func(rows []int, out func(int, int)) {
		from, to := o.ends(f, rows)
		along(from, to, -1,
			func(place int) int {
				if v := values[rows[place]]; v != v {
					return -1
				}
				return place
			},
			func(a, b int) int {
				switch {
				case a < 0:
					return b
				case b < 0:
					return a
				}
				x, y := values[rows[a]], values[rows[b]]
				if greatest {
					x, y = y, x
				}
				if y < x {
					return b
				}
				return a
			},
			out)
	})
}

// along combines what stands in a frame that moves along a group, one place at a time: each
// place is combined a bounded number of times and nothing is ever taken out of a sum.
// What lies before a border is kept combined up to that border, from each place on; what lies
// behind it is combined as it comes; when the frame has left the border behind, it is set anew.
func along[T any](from, to []int, none T, one func(place int) T, both func(a, b T) T, out func(place int, v T)) {
	upTo := make([]T, 0, len(from)) // of place border − 1 − i up to the border
	border, reached, behind := 0, 0, none
	for i := range from {
		begin, end := from[i], max(from[i], to[i])
		for ; reached < end; reached++ {
			behind = both(behind, one(reached))
		}
		if begin > border {
			upTo, behind = upTo[:0], none
			whole := none
			for place := end - 1; place >= begin; place-- {
				whole = both(one(place), whole)
				upTo = append(upTo, whole)
			}
			border = end
		}
		value := behind
		if begin < border {
			value = both(upTo[border-1-begin], behind)
		}
		if end == begin {
			value = none
		}
		out(i, value)
	}
}
