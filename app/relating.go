package app

import (
	"context"
	"fmt"
	"math"

	"copperlark/core/confound"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// The most groups that are compared, and the fewest rows of one.
const (
	mostCompared   = 12
	fewestCompared = 5
)

// relation is one of numbers, which is explained: that of a chart itself, or, where groups
// stand along an axis, two of them as 0 and 1, so that the slope is the difference between them.
type relation struct {
	x, y         []float64
	rows         []uint32
	xAxis, yAxis *mark.Axis
	groups       bool // two groups are compared
	shares       bool // y is the share of a group, in percent
}

// relate makes a relation of numbers out of what a chart shows. Of the groups along one axis
// that have at least fewestCompared rows, the one that stands highest along the other is compared
// with the one that stands lowest; of two groups along y it is the share of the second, in percent.
func relate(ctx context.Context, b *mark.Bound) (*relation, error) {
	x, y := b.X, b.Y
	if x.Numeric() && y.Numeric() || x.Aggregated() || y.Aggregated() || len(b.Document.AlsoY) > 0 || x.Column == nil || y.Column == nil {
		xs, ys, rows, err := figure.Relate(ctx, b)
		return &relation{x: xs, y: ys, rows: rows, xAxis: x, yAxis: y}, err
	}
	xs, ys, rows, err := figure.RelateGroups(ctx, b)
	if err != nil {
		return nil, err
	}
	r := &relation{x: xs, y: ys, rows: rows, xAxis: x, yAxis: y, groups: true}
	if x.Numeric() && y.Grouped() && len(y.Column.Levels) != 2 { // a number by groups, turned on its side
		r.x, r.y, r.xAxis, r.yAxis = r.y, r.x, y, x
	}
	if r.yAxis.Grouped() || r.yAxis.Column.Kind == table.YesNo {
		levels := r.yAxis.Column.Levels
		if len(levels) != 2 {
			return nil, fmt.Errorf(
				"%s holds %s: what differs is told of numbers, and of the share of one of two groups",
				r.yAxis.Prose(),
				scale.Counted(len(levels), "group"),
			)
		}
		r.shares = true
		r.yAxis = asShare(r.yAxis.Column, levels[1])
		for i := range r.y {
			r.y[i] *= 100
		}
	}
	if r.xAxis.Numeric() && r.xAxis.Column.Kind != table.YesNo { // the share of a group against a number
		r.groups = false
		return r, nil
	}
	return r, r.twoGroups()
}

// elsewhere asks all rows of a table that stays elsewhere what the sample at hand tells of two numbers.
func (r *relation) elsewhere(b *mark.Bound, whole *summary.Whole) confound.All {
	if whole != nil && (r.groups || r.shares) && whole.Bars == "" {
		whole.Bars = "differences between groups are told of the sample"
	}
	return figure.RelatedElsewhere(b, whole)
}

// asShare is an axis of the share of a group of a column, in percent.
func asShare(c *table.Column, level string) *mark.Axis {
	return &mark.Axis{
		Kind:   scale.Linear,
		Column: &table.Column{Name: "share of " + level, Label: "share of " + level + " in " + c.Prose(), Kind: table.Number, Unit: "%"},
	}
}

// twoGroups keeps the rows of the two groups along x that lie furthest apart along y.
func (r *relation) twoGroups() error {
	levels := r.xAxis.Column.Levels
	if len(levels) > mostCompared {
		return fmt.Errorf("%s has more than %d groups", r.xAxis.Prose(), mostCompared)
	}
	n, mean := make([]float64, len(levels)), make([]float64, len(levels))
	for i, code := range r.x {
		g := int(code)
		n[g]++
		mean[g] += (r.y[i] - mean[g]) / n[g]
	}
	low, high := -1, -1
	for g := range levels {
		if n[g] < fewestCompared || math.IsNaN(mean[g]) {
			continue
		}
		if low < 0 || mean[g] < mean[low] {
			low = g
		}
		if high < 0 || mean[g] >= mean[high] {
			high = g
		}
	}
	if low < 0 || low == high {
		return fmt.Errorf("fewer than two groups of %s have %d rows", r.xAxis.Prose(), fewestCompared)
	}
	var x, y []float64
	var rows []uint32
	for i, code := range r.x {
		if g := int(code); g == low || g == high {
			x, y, rows = append(x, map[bool]float64{true: 1}[g == high]), append(y, r.y[i]), append(rows, r.rows[i])
		}
	}
	r.x, r.y, r.rows = x, y, rows
	r.xAxis = &mark.Axis{Kind: scale.Linear, Between: [2]string{levels[low], levels[high]},
		Column: &table.Column{Name: "share of " + levels[high], Label: "share of " + levels[high], Kind: table.Number}}
	return nil
}
