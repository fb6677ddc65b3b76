package table

import (
	"context"
	"math"
)

// keyColumns bounds the search for what tells rows apart: so many columns are looked at, the first ones.
const keyColumns = 12

// TellApart gives the columns whose values tell the rows of a table apart: the first that does alone, else the first two that do
// together; nil where none do, or where there are fewer than two rows. A column with a missing value, of measures, or one that only
// counts rows tells none apart. It costs O(rows) a pair of columns, and ends with its context.
func TellApart(ctx context.Context, t *Table) ([]*Column, error) {
	if t.Rows() < 2 {
		return nil, ctx.Err()
	}
	var columns []*Column
	var codes [][]int32
	for _, c := range t.Columns() {
		if c.CountsRows() || len(columns) == keyColumns || c.MissingCount() > 0 {
			continue
		}
		own, err := codesOf(ctx, c)
		if err != nil {
			return nil, err
		}
		if own != nil {
			columns, codes = append(columns, c), append(codes, own)
		}
	}
	for i := range columns {
		if distinct(ctx, t.Rows(), codes[i], nil) {
			return columns[i : i+1], ctx.Err()
		}
	}
	for i := range columns {
		for j := i + 1; j < len(columns); j++ {
			if distinct(ctx, t.Rows(), codes[i], codes[j]) {
				return []*Column{columns[i], columns[j]}, ctx.Err()
			}
		}
	}
	return nil, ctx.Err()
}

// codesOf numbers the values of a column that can tell rows apart: words, moments and whole numbers; nil: measures cannot.
func codesOf(ctx context.Context, c *Column) ([]int32, error) {
	if c.Kind.Coded() {
		return c.Codes, nil
	}
	if whole, _ := c.Whole(); !whole && c.Kind != Date {
		return nil, nil
	}
	known := map[float64]int32{}
	codes := make([]int32, len(c.Numbers))
	for i, v := range c.Numbers {
		if i%lookEvery == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		code, seen := known[v]
		if !seen {
			code = int32(len(known))
			known[v] = code
		}
		codes[i] = code
	}
	return codes, nil
}

// lookEvery is after how many rows it is looked whether whoever asked has left.
const lookEvery = 1 << 14

// distinct reports whether no two rows share the codes of one column, or of two; anything where the context ended.
func distinct(ctx context.Context, rows int, a, b []int32) bool {
	seen := map[[2]int32]bool{} // most columns have two alike among their first rows
	for i := range rows {
		if i%lookEvery == 0 && ctx.Err() != nil {
			return true
		}
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

// KeyOf is what columns hold in a row, as text (see Column.Value).
func KeyOf(columns []*Column, row int) []string {
	key := make([]string, len(columns))
	for i, c := range columns {
		key[i] = c.Value(row)
	}
	return key
}

// RowsOfKeys finds, for each key, the first row in which columns hold it; -1 where none does. A key is as long as there are columns.
// What a column cannot hold (no number, an unknown level) is in no row. Values are compared as the column holds them, so that 7.0
// and 7 are one number. It looks at each row once.
func RowsOfKeys(columns []*Column, keys [][]string) []int {
	rows := make([]int, len(keys))
	wanted := map[string]int{} // what a row holds, as bytes of codes and numbers: which key
	for k, key := range keys {
		rows[k] = -1
		if packed, can := packedKey(columns, key); can {
			if _, twice := wanted[packed]; !twice {
				wanted[packed] = k
			}
		}
	}
	if len(columns) == 0 || len(wanted) == 0 {
		return rows
	}
	left := len(wanted)
	packed := make([]byte, 0, 8*len(columns))
	for row := range columns[0].Len() {
		packed = packed[:0]
		for _, c := range columns {
			packed = appendHeld(packed, c, row)
		}
		if k, is := wanted[string(packed)]; is && rows[k] < 0 {
			if rows[k], left = row, left-1; left == 0 {
				break
			}
		}
	}
	for k, key := range keys { // the same key said twice is the same row
		if packed, can := packedKey(columns, key); can && rows[k] < 0 {
			rows[k] = rows[wanted[packed]]
		}
	}
	return rows
}

// packedKey is what a row holds that has a key; false where no row can.
func packedKey(columns []*Column, key []string) (string, bool) {
	if len(key) != len(columns) {
		return "", false
	}
	var packed []byte
	for i, c := range columns {
		if c.Kind.Coded() {
			code, err := c.codeOf(key[i])
			if err != nil || int(code) >= len(c.Levels) {
				return "", false
			}
			packed = appendBits(packed, uint64(uint32(code)))
			continue
		}
		v, err := c.numberOf(key[i])
		if err != nil {
			return "", false
		}
		packed = appendBits(packed, bitsOf(v))
	}
	return string(packed), true
}

func appendHeld(packed []byte, c *Column, row int) []byte {
	if c.Kind.Coded() {
		return appendBits(packed, uint64(uint32(c.Codes[row])))
	}
	return appendBits(packed, bitsOf(c.Numbers[row]))
}

// bitsOf is one pattern for every value: all missing values are alike, and so are the zeros.
func bitsOf(v float64) uint64 {
	switch {
	case math.IsNaN(v):
		v = math.NaN()
	case v == 0:
		v = 0
	}
	return math.Float64bits(v)
}

func appendBits(packed []byte, bits uint64) []byte {
	for shift := 0; shift < 64; shift += 8 {
		packed = append(packed, byte(bits>>shift))
	}
	return packed
}
