package app

import (
	"context"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// mostOthers is how many other datasets are offered to be plotted over a chart.
const mostOthers = 12

// OtherNumbers is another dataset with its columns of numbers.
type OtherNumbers struct {
	DatasetID int64
	Name      string
	Columns   []string
}

// overlays lists the datasets that could be plotted over a chart of numbers, but for its own; those that have its columns first.
func (a *App) overlays(ctx context.Context, spaceID, datasetID int64, d *chart.Document, t *table.Table) ([]OtherNumbers, error) {
	x := t.Column(d.X.Column)
	if x == nil || x.Kind.Coded() || d.X.Aggregated() || d.Y.Of == chart.Spread || len(d.Also) > chart.MostAlso {
		return nil, nil
	}
	all, err := a.store.NumberColumns(ctx, spaceID)
	if err != nil {
		return nil, err
	}
	list := slices.DeleteFunc(all, func(o OtherNumbers) bool { return o.DatasetID == datasetID || len(o.Columns) < 2 })
	shared := func(o OtherNumbers) int {
		n := 0
		for _, name := range []string{d.X.Column, d.Y.Column} {
			if slices.Contains(o.Columns, name) {
				n++
			}
		}
		return n
	}
	slices.SortStableFunc(list, func(a, b OtherNumbers) int { return shared(b) - shared(a) })
	return list[:min(len(list), mostOthers)], nil
}

// alsoOf is what of another dataset is drawn over a chart: the columns that it shares, else its first.
func alsoOf(o OtherNumbers, d *chart.Document) chart.Also {
	out := chart.Also{Table: o.Name, X: d.X.Column, Y: d.Y.Column}
	if !slices.Contains(o.Columns, out.X) {
		out.X = o.Columns[0]
	}
	if !slices.Contains(o.Columns, out.Y) || out.Y == out.X {
		out.Y = o.Columns[slices.IndexFunc(o.Columns, func(name string) bool { return name != out.X })]
	}
	return out
}

func alsoWords(of chart.Also) string {
	return clause.PlainName(of.Y) + " against " + clause.PlainName(of.X) + " of " + clause.Quoted(of.Table)
}

// otherAdditions offers other datasets where something more can be said.
func (a *App) otherAdditions(
	ctx context.Context, spaceID, datasetID int64, d *chart.Document, t *table.Table,
) (list []Addition, err error) {
	if len(d.Also) >= chart.MostAlso {
		return nil, nil
	}
	others, err := a.overlays(ctx, spaceID, datasetID, d, t)
	for _, o := range others {
		next, of := d.Clone(), alsoOf(o, d)
		next.Also = append(next.Also, of)
		list = append(list, Addition{Key: "also of " + o.Name, Label: "also plot " + alsoWords(of), Detail: "another dataset, over the same axes",
			Also: "overlay other table combine compare second", Document: next})
	}
	return list, err
}

// otherChoices offers other datasets, and the other columns of the one that is drawn, in the place of what is plotted besides.
func (a *App) otherChoices(
	ctx context.Context, spaceID, datasetID int64, d *chart.Document, t *table.Table, at int,
) (list []Choice, err error) {
	others, err := a.overlays(ctx, spaceID, datasetID, d, t)
	offer := func(of chart.Also, detail string) {
		now := d.Also[at]
		next := d.Clone()
		of.As, of.Stroke = now.As, now.Stroke
		next.Also[at] = of
		current := now.Table == of.Table && now.X == of.X && now.Y == of.Y
		list = append(list, Choice{Key: "of " + alsoWords(of), Label: alsoWords(of), Detail: detail, Document: next, Current: current})
	}
	for _, o := range others {
		if !strings.EqualFold(o.Name, d.Also[at].Table) {
			offer(alsoOf(o, d), "another dataset")
			continue
		}
		for _, y := range o.Columns {
			if x := d.Also[at].X; y != x {
				offer(chart.Also{Table: d.Also[at].Table, X: x, Y: y}, "of the same dataset")
			}
		}
	}
	return list, err
}
