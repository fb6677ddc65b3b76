package table

import (
	"context"
	"hash/maphash"
	"math"
)

// Difference is what tells a table from an earlier one. Rows are compared by the columns
// that both have, of the same kind; a row that stands twice in one and once in the other is the same once.
type Difference struct {
	RowsBefore int          `json:"rows_before"`
	RowsAfter  int          `json:"rows_after"`
	RowsSame   int          `json:"rows_same" doc:"that stand in both, by the columns that both have"`
	New        []string     `json:"new" doc:"columns that only the later table has"`
	Gone       []string     `json:"gone" doc:"columns that only the earlier one has"`
	Changed    []KindChange `json:"changed" doc:"columns of another kind than before"`
}

// KindChange is a column whose kind is another.
type KindChange struct {
	Column string `json:"column"`
	Before Kind   `json:"before"`
	After  Kind   `json:"after"`
}

// Between tells what changed from one table to a later one. The work stops with the context.
func Between(ctx context.Context, before, after *Table) (Difference, error) {
	d := Difference{RowsBefore: before.Rows(), RowsAfter: after.Rows(), New: []string{}, Gone: []string{}, Changed: []KindChange{}}
	var common [][2]*Column
	for _, b := range before.Columns() {
		a := after.Column(b.Name)
		switch {
		case a == nil:
			d.Gone = append(d.Gone, b.Name)
		case a.Kind != b.Kind:
			d.Changed = append(d.Changed, KindChange{b.Name, b.Kind, a.Kind})
			if a.Kind.Coded() == b.Kind.Coded() { // its values can still be the same
				common = append(common, [2]*Column{b, a})
			}
		default:
			common = append(common, [2]*Column{b, a})
		}
	}
	for _, a := range after.Columns() {
		if before.Column(a.Name) == nil {
			d.New = append(d.New, a.Name)
		}
	}
	if len(common) == 0 {
		return d, ctx.Err()
	}
	seed := maphash.MakeSeed()
	times := make(map[uint64]int32, before.Rows())
	for _, hash := range rowHashes(ctx, seed, common, 0, before.Rows()) {
		times[hash]++
	}
	for _, hash := range rowHashes(ctx, seed, common, 1, after.Rows()) {
		if times[hash] > 0 {
			times[hash]--
			d.RowsSame++
		}
	}
	return d, ctx.Err()
}

// rowHashes gives a number for each row of one of two tables that only rows with the same
// values share, but for one chance in 2^64 a pair.
func rowHashes(ctx context.Context, seed maphash.Seed, columns [][2]*Column, which, rows int) []uint64 {
	hashes := make([]uint64, rows)
	for _, pair := range columns {
		if ctx.Err() != nil {
			break
		}
		c := pair[which]
		levels := make([]uint64, len(c.Levels))
		for i, level := range c.Levels {
			levels[i] = maphash.String(seed, level)
		}
		for row := range hashes {
			value := uint64(1)
			switch {
			case c.Missing(row):
			case c.Kind.Coded():
				value = levels[c.Codes[row]]
			default:
				value = maphash.Comparable(seed, math.Float64bits(c.Numbers[row]+0)) // −0 is 0
			}
			hashes[row] = maphash.Comparable(seed, [2]uint64{hashes[row], value})
		}
	}
	return hashes
}
