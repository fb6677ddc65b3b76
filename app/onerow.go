package app

import (
	"context"

	"copperlark/core/table"
)

// ProposedRow is what one row of a dataset could be called where nobody said it.
type ProposedRow struct {
	Words string `json:"words" doc:"as: one hive in one season; empty where nothing tells rows apart, or somebody said it"`
}

// ProposedRow proposes what one row of a dataset is.
func (a *App) ProposedRow(ctx context.Context, spaceID, id int64) (out ProposedRow, err error) {
	d, err := a.store.Dataset(ctx, spaceID, id)
	if err != nil || d.OneRow != "" || d.Rows > keyRows {
		return out, err
	}
	err = a.onSpelled(ctx, spaceID, d.VersionID, "what one row is", 0, func(ctx context.Context, t *shown, _ Dataset) error {
		out.Words, err = oneRow(ctx, t.Table)
		return err
	})
	return out, err
}

// keyRows bounds the search for what tells rows apart.
const keyRows = 20_000

// oneRow proposes what one row of a table is, from the columns that tell rows apart: one alone, or one in another; empty where
// none of the first do.
func oneRow(ctx context.Context, t *table.Table) (string, error) {
	if t.Rows() > keyRows {
		return "", nil
	}
	key, err := table.TellApart(ctx, t)
	switch len(key) {
	case 1:
		return "one " + key[0].Prose(), err
	case 2:
		return "one " + key[0].Prose() + " in one " + key[1].Prose(), err
	}
	return "", err
}
