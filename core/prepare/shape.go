package prepare

import (
	"fmt"
	"slices"
	"strings"

	"copperlark/core/formula"
	"copperlark/core/table"
)

// forEach makes one row for each combination of groups that occurs.
func (c *clause) forEach() (*table.Table, Effect) {
	keys := c.keys()
	parts := make([]*table.Column, len(keys))
	for i, key := range keys {
		parts[i] = c.grouping(key)
	}
	codes, combinations := combine(parts, c.table.Rows())
	first := make([]int, len(combinations)) // a row of each combination
	for row := c.table.Rows() - 1; row >= 0; row-- {
		if codes[row] >= 0 {
			first[codes[row]] = row
		}
	}
	keysOnly := c.build(keys)
	columns := slices.Clone(keysOnly.Select(first).Columns())
	for {
		name, _ := c.name()
		c.need("=")
		a := c.aggregate(",")
		made := table.NewNumbers(name, c.aggregates(codes, len(combinations), a))
		if a.values != nil && a.values.Kind == table.Date && a.name != "count" && a.name != "sum" && a.name != "stddev" {
			made.Kind, made.Grain = table.Date, a.values.Grain
		}
		columns = append(columns, made)
		if !c.words(",") {
			break
		}
	}
	c.fresh = true
	return c.build(columns), Effect{Words: counted(len(combinations), "row") + ", one a group"}
}

// keys reads the columns of "for each", up to the colon.
func (c *clause) keys() []*table.Column {
	list := c.columns()
	c.need(":")
	return list
}

// stack turns columns of numbers into one column of names and one of values.
func (c *clause) stack() (*table.Table, Effect) {
	columns := c.stacked()
	c.need("into")
	name, _ := c.name()
	c.need(",")
	value, _ := c.name()
	for _, column := range columns {
		if column.Kind.Coded() || column.Kind != columns[0].Kind {
			c.fail(formula.Token{To: len(c.runes)}, fmt.Sprintf("stack needs columns of numbers; %s holds %s values", column.Name, column.Kind), "")
		}
	}
	n, k := c.table.Rows(), len(columns)
	c.bound(n*k, len(c.table.Columns())-k+2, formula.Token{To: len(c.runes)}, "keep fewer rows first, or stack fewer columns")
	rows := make([]int, 0, n*k)
	names := &table.Column{Name: name, Kind: table.Ordered, Codes: make([]int32, 0, n*k)}
	values := &table.Column{Name: value, Kind: columns[0].Kind, Grain: columns[0].Grain, Unit: columns[0].Unit, Numbers: make([]float64, 0, n*k)}
	for _, column := range columns {
		names.Levels = append(names.Levels, column.Name)
	}
	for row := range n {
		for j, column := range columns {
			rows = append(rows, row)
			names.Codes = append(names.Codes, int32(j))
			values.Numbers = append(values.Numbers, column.Numbers[row])
		}
	}
	var others []*table.Column
	for _, column := range c.table.Columns() {
		if !slices.Contains(columns, column) {
			others = append(others, column)
		}
	}
	result := []*table.Column{names, values}
	if len(others) > 0 {
		result = append(slices.Clone(c.build(others).Select(rows).Columns()), names, values)
	}
	c.rows = rows
	return c.build(result), Effect{Words: fmt.Sprintf("%d columns into 2", k)}
}

// stacked reads "hive_1 to hive_6", or a list.
func (c *clause) stacked() []*table.Column {
	list := c.columns()
	if len(list) > 1 || !c.words("to") {
		return list
	}
	all := c.table.Columns()
	from, to := slices.Index(all, list[0]), slices.Index(all, c.column())
	return all[min(from, to) : max(from, to)+1]
}

// layOut is the reverse of stack: one column for each group of a column, one row for
// each combination of the others. Where a cell would hold several values they must
// be summed up by an aggregate, as in mean(weight_kg).
func (c *clause) layOut() (*table.Table, Effect) {
	var a aggregate
	var value *table.Column
	at := c.here()
	if next := c.position + 1; next < len(c.tokens) && strings.EqualFold(c.tokens[next].Text, "by") {
		value = c.column()
	} else {
		a = c.aggregate("by")
	}
	c.need("by")
	over := c.grouping(c.column())
	keys := c.layOutKeys(value, over.Name)
	cells, rows := c.cells(keys, over)
	k := len(over.Levels)
	names := layOutNames(over.Levels, keys)
	columns := make([]*table.Column, 0, len(keys)+k)
	for _, key := range keys {
		columns = append(columns, key.Pick(rows))
	}
	if value == nil {
		values := c.aggregates(cells, len(rows)*k, a)
		for j, name := range names {
			made := make([]float64, len(rows))
			for i := range made {
				made[i] = values[i*k+j]
			}
			columns = append(columns, table.NewNumbers(name, made))
		}
	} else {
		from := make([]int, len(rows)*k) // which row of the table fills each cell
		for i := range from {
			from[i] = -1
		}
		for row, cell := range cells {
			if cell < 0 || value.Missing(row) {
				continue
			}
			if first := from[cell]; first >= 0 {
				c.fail(at, fmt.Sprintf("%s has more than one %s for the same row: rows %d and %d", over.Levels[int(cell)%k], value.Name, first+1, row+1),
					fmt.Sprintf("sum them up, as in lay out mean(%s) by %s", value.Name, over.Name))
			}
			from[cell] = row
		}
		for j, name := range names {
			picked := make([]int, len(rows))
			for i := range picked {
				picked[i] = from[i*k+j]
			}
			made := value.Pick(picked)
			made.Name, made.Label = name, ""
			columns = append(columns, made)
		}
	}
	c.fresh = true
	return c.build(columns), Effect{Words: fmt.Sprintf("%d columns out of %s", k, over.Name)}
}

// layOutKeys reads "for each apiary, season"; unsaid, every other column is a key.
func (c *clause) layOutKeys(value *table.Column, over string) []*table.Column {
	if c.words("for", "each") {
		return c.columns()
	}
	var keys []*table.Column
	for _, column := range c.table.Columns() {
		if column != value && column.Name != over {
			keys = append(keys, column)
		}
	}
	if len(keys) == 0 || value == nil {
		c.fail(c.here(), "expected for each", "say which columns tell the new rows apart: for each apiary, season")
	}
	return keys
}

// cells numbers the cell that each row falls in, row by row of the result, -1 where
// the group is missing; rows are one row of the table for each row of the result,
// in order of appearance.
func (c *clause) cells(keys []*table.Column, over *table.Column) (cells []int32, rows []int) {
	index := map[string]int{}
	cells = make([]int32, c.table.Rows())
	for row := range cells {
		key := rowKey(keys, row)
		at, seen := index[key]
		if !seen {
			at = len(rows)
			index[key] = at
			rows = append(rows, row)
			c.bound(len(rows), len(over.Levels)+len(keys), formula.Token{To: len(c.runes)}, "name fewer columns after for each, or keep fewer groups")
		}
		cells[row] = table.MissingCode
		if code := over.Codes[row]; code >= 0 {
			cells[row] = int32(at*len(over.Levels)) + code
		}
	}
	return cells, rows
}

// layOutNames makes the groups into names of columns, different from the keys'.
func layOutNames(levels []string, keys []*table.Column) []string {
	used := map[string]bool{}
	for _, key := range keys {
		used[key.Name] = true
	}
	names := make([]string, len(levels))
	for j, level := range levels {
		names[j] = freeName(level, used)
	}
	return names
}

// freeName is a name that is not used yet, and marks it as used.
func freeName(name string, used map[string]bool) string {
	if name == "" {
		name = "column"
	}
	free := name
	for n := 2; used[free]; n++ {
		free = fmt.Sprintf("%s_%d", name, n)
	}
	used[free] = true
	return free
}
