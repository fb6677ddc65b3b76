package app

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/summary"
	"copperlark/core/table"
	"copperlark/source"
)

// MostRowsUnder is how many rows of a table that stays elsewhere are shown of a part of a chart.
const MostRowsUnder = 1000

// UnderWanted is a part of a chart whose rows are looked at.
type UnderWanted struct {
	Document *chart.Document `json:"document"`
	Part     figure.SeenPart `json:"part"`
}

// UnderColumn is a column of the rows that are looked at.
type UnderColumn struct {
	Column string     `json:"column"`
	Label  string     `json:"label"`
	Kind   table.Kind `json:"kind"`
}

// RowsUnder are rows of a table that stays elsewhere, which lie in a part of a chart of it.
type RowsUnder struct {
	Count   int64         `json:"count" doc:"of the rows of the table that lie there"`
	Columns []UnderColumn `json:"columns"`
	Rows    [][]string    `json:"rows" doc:"none, where there are too many to be shown; missing values are empty"`
	Most    int           `json:"most" doc:"how many are shown at the most"`
}

// RowsUnder takes the rows that lie in a part of a chart of a table that stays elsewhere: they are counted first, and of more than
// can be looked at none are taken. Nothing of them is kept.
func (a *App) RowsUnder(ctx context.Context, person Person, versionID int64, wanted UnderWanted) (*RowsUnder, error) {
	var asked *summary.Question
	var dataset Dataset
	find := func(ctx context.Context, t *shown, d Dataset) error {
		dataset = d
		whole := a.wholeOf(ctx, person.SpaceID, t, d)
		if whole == nil || wanted.Document == nil {
			return &Invalid{Message: "the rows of this chart are here", Advice: "choose them on the chart"}
		}
		bound, err := t.suits(wanted.Document)
		if err != nil {
			return err
		}
		var bars string
		if asked, bars = figure.Under(bound, whole, wanted.Part); bars != "" {
			return &Invalid{Message: "the rows that lie there cannot be asked for: " + bars, Advice: "look at a part of a chart of two numbers"}
		}
		return nil
	}
	if err := a.onSpelled(ctx, person.SpaceID, versionID, "which rows lie there", lightWork, find); err != nil {
		return nil, err
	}
	out := &RowsUnder{Columns: []UnderColumn{}, Rows: [][]string{}, Most: MostRowsUnder}
	return out, a.where(ctx, person, dataset, "rows of a part of a chart",
		func(ctx context.Context, snapshot source.Snapshot, parts func(done, of int)) error {
			counted, err := snapshot.Groups(ctx, asked, parts)
			if err != nil {
				return err
			}
			if out.Count = counted.Rows(); out.Count == 0 || out.Count > MostRowsUnder {
				return nil
			}
			cells := a.limits.MemoryBytes / cacheShare / bytesAValue
			drawn, err := snapshot.Rows(ctx, source.Draw{Rows: MostRowsUnder, Cells: cells, Counted: asked})
			if err == nil {
				out.take(drawn.Table)
			}
			return err
		})
}

// take writes the rows of a table.
func (u *RowsUnder) take(t *table.Table) {
	for _, c := range t.Columns() {
		u.Columns = append(u.Columns, UnderColumn{c.Name, c.ReadableName(), c.Kind})
	}
	for row := range t.Rows() {
		cells := make([]string, len(u.Columns))
		for i, c := range t.Columns() {
			cells[i] = c.Value(row)
		}
		u.Rows = append(u.Rows, cells)
	}
}
