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
	err = a.onSpelled(ctx, spaceID, d.VersionID, "what one row is", 0, func(_ context.Context, t *shown, _ Dataset) error {
		out.Words = oneRow(t.Table)
		return nil
	})
	return out, err
}

// keyColumns and keyRows bound the search for what tells rows apart.
const (
	keyColumns = 12
	keyRows    = 20_000
)

// oneRow proposes what one row of a table is, from the columns that tell rows apart: one alone, or one in another; empty where
// none of the first do.
func oneRow(t *table.Table) string {
	if t.Rows() < 2 || t.Rows() > keyRows {
		return ""
	}
	var names []string
	var codes [][]int32
	for _, c := range t.Columns() {
		if c.CountsRows() || len(names) == keyColumns || c.MissingCount() > 0 {
			continue
		}
		if own := codesOf(c); own != nil {
			names, codes = append(names, c.Prose()), append(codes, own)
		}
	}
	for i := range names {
		if distinct(t.Rows(), codes[i], nil) {
			return "one " + names[i]
		}
	}
	for i := range names {
		for j := i + 1; j < len(names); j++ {
			if distinct(t.Rows(), codes[i], codes[j]) {
				return "one " + names[i] + " in one " + names[j]
			}
		}
	}
	return ""
}

// codesOf numbers the values of a column that can tell rows apart: words, moments and whole numbers; nil: measures cannot.
func codesOf(c *table.Column) []int32 {
	if c.Kind.Coded() {
		return c.Codes
	}
	if whole, _ := c.Whole(); !whole && c.Kind != table.Date {
		return nil
	}
	known := map[float64]int32{}
	codes := make([]int32, len(c.Numbers))
	for i, v := range c.Numbers {
		code, seen := known[v]
		if !seen {
			code = int32(len(known))
			known[v] = code
		}
		codes[i] = code
	}
	return codes
}

// distinct reports whether no two rows share the codes of one column, or of two.
func distinct(rows int, a, b []int32) bool {
	seen := map[[2]int32]bool{} // most columns have two alike among their first rows
	for i := range rows {
		key := [2]int32{a[i]}
		if b != nil {
			key[1] = b[i]
		}
		if seen[key] {
			return false
		}
		seen[key] = true
	}
	return true
}
