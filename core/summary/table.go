package summary

import (
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/density"
	"copperlark/core/formula"
	"copperlark/core/magnitude"
	"copperlark/core/table"
)

// Of answers a question about a table that is in memory.
func Of(ctx context.Context, t *table.Table, q *Question) (*Answer, error) {
	if err := q.Check(); err != nil {
		return nil, err
	}
	t, within, err := prepared(ctx, t, q)
	if err != nil {
		return nil, err
	}
	for _, name := range q.Columns() {
		if t.Column(name) == nil {
			return nil, fmt.Errorf("there is no column %s", name)
		}
	}
	why, err := reasons(ctx, t, q)
	if err != nil {
		return nil, err
	}
	keys := make([]func(row int, into *Group) bool, len(q.By))
	for i, k := range q.By {
		keys[i] = keyOf(t, k, why)
	}
	x, y := valueOf(t, q.X), valueOf(t, q.Y)
	var gathered Gathering
	for row := range t.Rows() {
		if row%65536 == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if why[row] > 0 && !q.ByReason() || within != nil && !within[row] {
			continue
		}
		var g Group
		u, v := x(row), y(row)
		counts := u == u && v == v
		for _, key := range keys {
			counts = counts && key(row, &g)
		}
		if !counts {
			continue
		}
		g.Moments = Moments{N: 1, X: u, Y: v, XMin: u, XMax: u, YMin: v, YMax: v}
		if err := gathered.Add(g); err != nil {
			return nil, err
		}
	}
	return gathered.Answer(), nil
}

// prepared is the table with the columns that are worked out, and which rows are of it.
func prepared(ctx context.Context, t *table.Table, q *Question) (*table.Table, []bool, error) {
	var within []bool
	if q.Within != "" {
		f, err := formula.Parse(q.Within)
		if err != nil {
			return nil, nil, err
		}
		if within, err = f.Rows(ctx, t, 0); err != nil {
			return nil, nil, err
		}
	}
	if len(q.With) == 0 {
		return t, within, nil
	}
	var columns []*table.Column
	for _, c := range t.Columns() {
		if q.With[c.Name] == "" {
			columns = append(columns, c)
		}
	}
	for name, written := range q.With {
		f, err := formula.Parse(written)
		if err != nil {
			return nil, nil, err
		}
		c, _, err := f.Column(ctx, t, name, 0)
		if err != nil {
			return nil, nil, err
		}
		columns = append(columns, c)
	}
	with, err := table.New(columns...)
	return with, within, err
}

// reasons are why rows do not count: 0 where they do.
func reasons(ctx context.Context, t *table.Table, q *Question) ([]int64, error) {
	why := make([]int64, t.Rows())
	if q.Where != "" {
		f, err := formula.Parse(q.Where)
		if err != nil {
			return nil, err
		}
		keep, err := f.Rows(ctx, t, 0)
		if err != nil {
			return nil, err
		}
		for row := range why {
			if !keep[row] {
				why[row] = 1
			}
		}
	}
	for i, need := range q.Needs {
		c := t.Column(need.Column)
		for row := range why {
			if why[row] == 0 && (c.Missing(row) || !c.Kind.Coded() && (!c.Drawable(c.Numbers[row]) || need.Positive && c.Numbers[row] <= 0)) {
				why[row] = int64(i) + 2
			}
		}
	}
	return why, ctx.Err()
}

// valueOf gives a value of a row; NaN where it has none. Of nothing it is zero.
func valueOf(t *table.Table, v *Value) func(row int) float64 {
	if v == nil {
		return func(int) float64 { return 0 }
	}
	c := t.Column(v.Column)
	of := func(row int) float64 { return c.Numbers[row] }
	if c.Kind.Coded() {
		of = func(row int) float64 {
			if c.Missing(row) {
				return math.NaN()
			}
			return float64(c.Codes[row])
		}
	}
	if !v.Log {
		return of
	}
	return func(row int) float64 {
		if v := of(row); v > 0 {
			return magnitude.Log10(v)
		}
		return math.NaN()
	}
}

// keyOf gives the key of a row; false where it has none.
func keyOf(t *table.Table, k Key, why []int64) func(row int, into *Group) bool {
	of, and := valueOf(t, k.Of), valueOf(t, k.And)
	number := func(place func(v float64) int64) func(int, *Group) bool {
		return func(row int, into *Group) bool {
			v := of(row)
			if v == v {
				into.Numbers = append(into.Numbers, place(v))
			}
			return v == v
		}
	}
	c := t.Column(k.Column)
	switch k.Kind {
	case Level:
		return func(row int, into *Group) bool {
			into.Texts = append(into.Texts, c.Value(row))
			return !c.Missing(row)
		}
	case Step:
		return number(func(v float64) int64 { return int64(math.Floor((v - k.From) / k.Width)) })
	case Edges:
		return number(func(v float64) int64 { return k.Edge(v) })
	case Hexagon:
		lattice := density.Lattice{OriginX: k.From, OriginY: k.FromY, StepX: k.Width, StepY: k.WidthY}
		return func(row int, into *Group) bool {
			u, v := of(row), and(row)
			if u != u || v != v {
				return false
			}
			i, j := lattice.Nearest(u, v)
			into.Numbers = append(into.Numbers, int64(i), int64(j))
			return true
		}
	}
	return func(row int, into *Group) bool { into.Numbers = append(into.Numbers, why[row]); return true }
}

// Edge is the place of a value between edges, from 0; -1 below the first, and as many as there are places above the last.
func (k Key) Edge(v float64) int64 {
	last := len(k.Edges) - 1
	if v == k.Edges[last] {
		return int64(last) - 1
	}
	place, found := slices.BinarySearch(k.Edges, v)
	if !found {
		place--
	}
	return int64(place)
}
