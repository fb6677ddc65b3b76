// Package window computes values of a row from the rows about it: the one before, a running
// sum, a moving mean, a rank within its group. Rows are put in order within each group; all
// values come back in the order of the rows as they came.
//
// Missing values (NaN) follow one rule: a row whose own value is missing gets a missing value
// and does not count, except in moving means, which fill it from its neighbours, and in lag
// and lead, which look at rows and not at values.
package window

import (
	"cmp"
	"context"
	"math"
	"slices"
)

// Error is the reason why nothing can be computed.
type Error string

func (e Error) Error() string { return string(e) }

// The errors.
const (
	ErrLengths = Error("columns differ in length")
	ErrCount   = Error("k must be a whole number of at least 1")
)

// Rows are rows in their groups, each group in order.
type Rows struct {
	ctx    context.Context // of whoever asked: between groups it is looked at
	n      int
	groups [][]int // rows of each group, in order
}

// Arrange puts n rows into groups and in order. group may be nil for one group, and holds -1
// for rows of no group, which are one of their own; order may be nil for the order of the
// rows. Rows with equal orders stay as they came, those without one come last.
func Arrange(ctx context.Context, n int, group []int32, order []float64) (*Rows, error) {
	if group != nil && len(group) != n || order != nil && len(order) != n {
		return nil, ErrLengths
	}
	r := &Rows{ctx: ctx, n: n}
	at := map[int32]int{}
	for i := range n {
		g := int32(0)
		if group != nil {
			g = group[i]
		}
		place, known := at[g]
		if !known {
			place = len(r.groups)
			at[g] = place
			r.groups = append(r.groups, nil)
		}
		r.groups[place] = append(r.groups[place], i)
	}
	if order != nil {
		for _, rows := range r.groups {
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			slices.SortStableFunc(rows, func(a, b int) int {
				x, y := order[a], order[b]
				if x != x || y != y { // the missing ones last
					return cmp.Compare(missing(x), missing(y))
				}
				return cmp.Compare(x, y)
			})
		}
	}
	return r, nil
}

func missing(v float64) int {
	if v != v {
		return 1
	}
	return 0
}

// each computes a value for every row of each group, given the values of the group in order.
func (r *Rows) each(values []float64, of func(in, out []float64)) []float64 {
	result := make([]float64, r.n)
	for _, rows := range r.groups {
		if r.ctx.Err() != nil { // whoever asked has gone
			break
		}
		in, out := make([]float64, len(rows)), make([]float64, len(rows))
		for i, row := range rows {
			in[i], out[i] = values[row], math.NaN()
		}
		of(in, out)
		for i, row := range rows {
			result[row] = out[i]
		}
	}
	return result
}

// Lag gives the value k rows before.
func (r *Rows) Lag(values []float64, k int) ([]float64, error) { return r.shift(values, k, -k) }

// Lead gives the value k rows after.
func (r *Rows) Lead(values []float64, k int) ([]float64, error) { return r.shift(values, k, k) }

func (r *Rows) shift(values []float64, k, by int) ([]float64, error) {
	if k < 1 {
		return nil, ErrCount
	}
	return r.each(values, func(in, out []float64) {
		for i := range in {
			if at := i + by; at >= 0 && at < len(in) {
				out[i] = in[at]
			}
		}
	}), nil
}

// sum adds without losing what is small beside what is large (Neumaier 1974, ZAMM 54).
type sum struct{ total, lost float64 }

func (s *sum) add(v float64) {
	t := s.total + v
	if math.Abs(s.total) >= math.Abs(v) {
		s.lost += (s.total - t) + v
	} else {
		s.lost += (v - t) + s.total
	}
	s.total = t
}

func (s *sum) value() float64 { return s.total + s.lost }

// RunningSum gives the sum of the values up to each row.
func (r *Rows) RunningSum(values []float64) []float64 {
	return r.each(values, func(in, out []float64) {
		var s sum
		for i, v := range in {
			if v == v {
				s.add(v)
				out[i] = s.value()
			}
		}
	})
}

// MovingMean gives the mean of the values in a window of k rows: this one and those before,
// or, centred, half of them before and after, one more before where k is even. The window is
// cut at the ends of the group.
func (r *Rows) MovingMean(values []float64, k int, centred bool) ([]float64, error) {
	if k < 1 {
		return nil, ErrCount
	}
	before, after := k-1, 0
	if centred {
		before, after = k/2, (k-1)/2
	}
	return r.each(values, func(in, out []float64) {
		for i := range in {
			var s sum
			n := 0
			for _, v := range in[max(0, i-before):min(len(in), i+after+1)] {
				if v == v {
					s.add(v)
					n++
				}
			}
			if n > 0 {
				out[i] = s.value() / float64(n)
			}
		}
	}), nil
}

// present are the places of the values that are there, in ascending order of the values.
func present(in []float64) []int {
	var places []int
	for i, v := range in {
		if v == v {
			places = append(places, i)
		}
	}
	slices.SortStableFunc(places, func(a, b int) int { return cmp.Compare(in[a], in[b]) })
	return places
}

// Rank gives the rank of each value within its group, from 1. Equal values have the lowest
// of their ranks, or the mean of them.
func (r *Rows) Rank(values []float64, middle bool) []float64 {
	return r.each(values, func(in, out []float64) {
		places := present(in)
		for from := 0; from < len(places); {
			to := from
			for to < len(places) && in[places[to]] == in[places[from]] {
				to++
			}
			rank := float64(from + 1)
			if middle {
				rank = float64(from+1+to) / 2
			}
			for _, place := range places[from:to] {
				out[place] = rank
			}
			from = to
		}
	})
}

// Share gives each value over the sum of its group; missing where that is 0.
func (r *Rows) Share(values []float64) []float64 {
	return r.each(values, func(in, out []float64) {
		var s sum
		for _, v := range in {
			if v == v {
				s.add(v)
			}
		}
		if total := s.value(); total != 0 {
			for i, v := range in {
				out[i] = v / total
			}
		}
	})
}

// ZScore gives how many standard deviations each value lies from the mean of its group;
// missing where there are fewer than two values, or all are equal.
func (r *Rows) ZScore(values []float64) []float64 {
	return r.each(values, func(in, out []float64) {
		var total sum
		n, first, spread := 0.0, math.NaN(), false
		for _, v := range in {
			if v != v {
				continue
			}
			if n == 0 {
				first = v
			}
			spread = spread || v != first
			total.add(v - first)
			n++
		}
		if n < 2 || !spread {
			return
		}
		mean := total.value() / n
		var squares sum
		for _, v := range in {
			if v == v {
				d := v - first - mean
				squares.add(d * d)
			}
		}
		sd := math.Sqrt(squares.value() / (n - 1))
		for i, v := range in {
			out[i] = (v - first - mean) / sd
		}
	})
}

// EqualGroups cuts the values of each group, in ascending order, into k parts numbered from
// 1, the first ones one larger where they cannot be equal (the NTILE of SQL).
func (r *Rows) EqualGroups(values []float64, k int) ([]float64, error) {
	if k < 1 {
		return nil, ErrCount
	}
	return r.each(values, func(in, out []float64) {
		places := present(in)
		size, more := len(places)/k, len(places)%k
		from := 0
		for part := 1; part <= k && from < len(places); part++ {
			to := from + size
			if part <= more {
				to++
			}
			for _, place := range places[from:to] {
				out[place] = float64(part)
			}
			from = to
		}
	}), nil
}
