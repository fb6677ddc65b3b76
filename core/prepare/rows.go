package prepare

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"strconv"
	"strings"

	"copperlark/core/formula"
	"copperlark/core/parallel"
	"copperlark/core/table"
)

// take names the dataset; it stands first and changes nothing.
func (c *clause) take() (*table.Table, Effect) {
	c.position = len(c.tokens)
	return c.table, Effect{Words: counted(c.table.Rows(), "row") + ", " + counted(len(c.table.Columns()), "column")}
}

func (c *clause) chosen(keep func(row int) bool) (*table.Table, int) {
	rows := make([]int, 0, c.table.Rows())
	for i := range c.table.Rows() {
		if keep(i) {
			rows = append(rows, i)
		}
	}
	selected := c.table.Select(rows)
	columns := make([]*table.Column, len(selected.Columns()))
	for i, column := range selected.Columns() {
		columns[i] = pruned(column)
	}
	c.rows = rows
	return c.build(columns), c.table.Rows() - len(rows)
}

// pruned drops the levels that no row has any more.
func pruned(column *table.Column) *table.Column {
	if !column.Kind.Coded() || column.Kind == table.YesNo {
		return column
	}
	newCode := make([]int32, len(column.Levels))
	for _, code := range column.Codes {
		if code >= 0 {
			newCode[code] = 1
		}
	}
	kept := *column
	kept.Levels, kept.Codes = nil, make([]int32, len(column.Codes))
	for old, used := range newCode {
		if used == 1 {
			newCode[old] = int32(len(kept.Levels))
			kept.Levels = append(kept.Levels, column.Levels[old])
		}
	}
	if len(kept.Levels) == len(column.Levels) {
		return column
	}
	for i, code := range column.Codes {
		kept.Codes[i] = table.MissingCode
		if code >= 0 {
			kept.Codes[i] = newCode[code]
		}
	}
	return &kept
}

func gone(rows int) Effect {
	return Effect{Words: counted(-rows, "row")}
}

// leaveOut takes away rows with a missing value in the columns, or in any.
func (c *clause) leaveOut() (*table.Table, Effect) {
	columns := c.table.Columns()
	if !c.ended() {
		columns = c.columns()
	}
	t, away := c.chosen(func(row int) bool { return !anyMissing(columns, row) })
	return t, gone(away)
}

// keep keeps rows for which a condition holds.
func (c *clause) keep() (*table.Table, Effect) {
	text, from := c.rest()
	f, err := formula.Parse(text)
	c.check(err, from)
	holds, err := f.Rows(c.ctx, c.table, c.seed)
	c.check(err, from)
	t, away := c.chosen(func(row int) bool { return holds[row] })
	return t, gone(away)
}

// dropDuplicates keeps the first of rows that are equal in the columns, or in all.
func (c *clause) dropDuplicates() (*table.Table, Effect) {
	columns := c.table.Columns()
	if c.words("of") {
		columns = c.columns()
	}
	seen := map[string]bool{}
	t, away := c.chosen(func(row int) bool {
		key := rowKey(columns, row)
		if seen[key] {
			return false
		}
		seen[key] = true
		return true
	})
	return t, gone(away)
}

// rowKey is a text that two rows share only when their values in the columns are
// equal as they are written: the number 2029 is the group 2029.
func rowKey(columns []*table.Column, row int) string {
	if len(columns) == 1 {
		return columns[0].Value(row)
	}
	var key strings.Builder
	for _, column := range columns {
		value := column.Value(row)
		key.WriteString(strconv.Itoa(len(value)) + ":" + value) // the length keeps "a,b" apart from "a" and "b"
	}
	return key.String()
}

// sortBy sorts by columns, missing values last.
func (c *clause) sortBy() (*table.Table, Effect) {
	var keys []func(i, j int) int
	for {
		column := c.column()
		descending := c.words("descending")
		if !descending {
			c.words("ascending")
		}
		keys = append(keys, column.Ordering(descending))
		if !c.words(",") {
			break
		}
	}
	rows := make([]int, c.table.Rows())
	for i := range rows {
		rows[i] = i
	}
	_ = parallel.SortStable(c.ctx, rows, func(i, j int) int { // apply looks at the context
		for _, compare := range keys {
			if order := compare(i, j); order != 0 {
				return order
			}
		}
		return 0
	})
	c.rows = rows
	return c.table.Select(rows), Effect{Words: "sorted"}
}

// keepTop keeps the rows of the groups with the largest aggregates; the others are
// gathered under a name when one is said, and leave otherwise. Ties keep the order
// of the levels.
func (c *clause) keepTop() (*table.Table, Effect) {
	t := c.here()
	count, err := strconv.Atoi(t.Text)
	if err != nil || count < 1 {
		c.fail(t, "expected how many groups to keep", "")
	}
	c.position++
	groups := c.grouping(c.column())
	c.need("by")
	values := c.aggregates(groups.Codes, len(groups.Levels), c.aggregate(","))
	rest := ""
	if c.words(",") {
		c.need("rest")
		c.need("as")
		rest = c.text()
	}
	order := make([]int, len(groups.Levels))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(i, j int) bool { return compareMissingLast(values[order[j]], values[order[i]]) < 0 })
	top := map[int32]bool{}
	for _, code := range order[:min(count, len(order))] {
		top[int32(code)] = true
	}
	if rest == "" {
		kept, away := c.chosen(func(row int) bool { return groups.Codes[row] >= 0 && top[groups.Codes[row]] })
		return kept, gone(away)
	}
	gathered := *groups
	gathered.Kind, gathered.Codes, gathered.Levels = table.Ordered, make([]int32, len(groups.Codes)), nil
	newCode := map[int32]int32{}
	for _, code := range order[:min(count, len(order))] {
		newCode[int32(code)] = int32(len(gathered.Levels))
		gathered.Levels = append(gathered.Levels, groups.Levels[code])
	}
	other := int32(len(gathered.Levels))
	if at := slices.Index(gathered.Levels, rest); at >= 0 {
		other = int32(at)
	} else {
		gathered.Levels = append(gathered.Levels, rest)
	}
	for i, code := range groups.Codes {
		gathered.Codes[i] = table.MissingCode
		if code >= 0 {
			gathered.Codes[i] = other
			if position, isTop := newCode[code]; isTop {
				gathered.Codes[i] = position
			}
		}
	}
	return c.with(&gathered), Effect{Words: fmt.Sprintf("%d groups, the rest as %s", min(count, len(order)), rest)}
}

// compareMissingLast orders numbers so that NaN is smallest, which is last where
// the largest come first.
func compareMissingLast(a, b float64) int {
	switch {
	case math.IsNaN(a) && math.IsNaN(b):
		return 0
	case math.IsNaN(a):
		return -1
	case math.IsNaN(b):
		return 1
	}
	return cmp.Compare(a, b)
}
