package app

import (
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/describe"
	"copperlark/core/mark"
	"copperlark/core/sample"
	"copperlark/core/table"
)

// lookColumns and lookRows bound the work of choosing a first look.
const (
	lookColumns = 24
	lookRows    = 5000
)

func firstLook(t *table.Table) *chart.Document {
	document := &chart.Document{Version: chart.Version}
	var numbers, dates, groups []*table.Column
	for _, c := range t.Columns() {
		switch {
		case c.CountsRows():
		case c.Kind.Quantity() && !c.SuggestsGroups() && len(numbers) < lookColumns:
			numbers = append(numbers, c)
		case c.Kind == table.Date:
			dates = append(dates, c)
		case c.Kind.Groups() && len(c.Levels) <= chart.MaxAxisGroups:
			groups = append(groups, c)
		}
	}
	x, y := &document.X, &document.Y
	switch {
	case len(numbers) >= 2:
		x.Column, y.Column = closest(numbers)
	case len(numbers) == 1 && len(dates) > 0:
		y.Column, x.Column = numbers[0].Name, dates[0].Name
	case len(numbers) == 1 && len(groups) > 0:
		y.Column, x.Column = numbers[0].Name, groups[0].Name
	case len(numbers) == 1:
		y.Of, x.Column = chart.Spread, numbers[0].Name
	case len(groups) >= 2:
		y.Column, x.Column = groups[0].Name, groups[1].Name
	case len(groups) == 1:
		y.Of, x.Column = chart.Count, groups[0].Name
	case len(dates) > 0:
		y.Of, x.Column = chart.Spread, dates[0].Name
	default:
		anything(document, t)
	}
	dressed(document, t)
	return mark.Bind(document, t).Document
}

// anything is a look at a table of which no column is an amount, a date or a few groups: the spread of whatever numbers there are.
func anything(d *chart.Document, t *table.Table) {
	for _, c := range t.Columns() {
		if c.Kind.Quantity() && c.MissingCount() < c.Len() {
			d.Y.Of, d.X.Column = chart.Spread, c.Name
			return
		}
	}
}

// dressed gives a look what makes it read well at first sight: a log scale where a column is plainly skewed, means where a date
// has several rows, bars in the order of their values unless the groups have one.
func dressed(d *chart.Document, t *table.Table) {
	if d.X.Of == chart.NoAggregate && skewed(t.Column(d.X.Column)) {
		d.Scales.X.Scale = chart.LogScale
	}
	if d.Y.Of == chart.NoAggregate && skewed(t.Column(d.Y.Column)) {
		d.Scales.Y.Scale = chart.LogScale
	}
	x := t.Column(d.X.Column)
	switch {
	case x == nil:
	case x.Kind == table.Date && d.Y.Of == chart.NoAggregate && x.Repeats():
		d.Y.Of = chart.Mean
	case x.Kind == table.Category && d.Y.Of == chart.Count:
		d.Order = &chart.Order{Column: x.Name, Of: chart.Count, Descending: true}
	}
}

// skewed reports whether numbers read plainly better on a log scale.
func skewed(c *table.Column) bool {
	if c == nil || c.Kind != table.Number {
		return false
	}
	values := sample.Of(c.Numbers, sample.Rows(c.Len(), lookRows, nil))
	at := describe.Quantiles(describe.Present(values), 0, 1)
	return len(at) == 2 && describe.SuggestsLog(describe.Skew(values), at[0], at[1]) &&
		!slices.ContainsFunc(c.Numbers, func(v float64) bool { return v <= 0 })
}

// closest gives the two columns of numbers with the largest rank correlation
// short of being each other's copy, over a sample of rows. The
// later column, which tables tend to keep for results, goes along y.
func closest(numbers []*table.Column) (x, y string) {
	sampled := make([][]float64, len(numbers))
	rows := sample.Rows(numbers[0].Len(), lookRows, nil)
	for i, c := range numbers {
		sampled[i] = sample.Of(c.Numbers, rows)
	}
	best := -1.0
	x, y = numbers[0].Name, numbers[1].Name
	for i := range numbers {
		for j := i + 1; j < len(numbers); j++ {
			correlation, err := describe.Correlate(sampled[i], sampled[j])
			if err != nil {
				continue
			}
			if r := math.Abs(correlation.Spearman); r > best && r < 0.98 {
				best, x, y = r, numbers[i].Name, numbers[j].Name
			}
		}
	}
	return x, y
}
