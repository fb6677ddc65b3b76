package prepare

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/formula"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// dataset reads the name of another dataset, with the version that is wanted.
func (c *clause) dataset() (*table.Table, string) {
	t := c.here()
	if c.ended() || t.IsNumber || t.Text == "" {
		c.fail(t, "expected the name of a dataset", "")
	}
	c.position++
	version := 0
	if c.words("version") {
		number := c.here()
		v, err := strconv.Atoi(number.Text)
		if err != nil || v < 1 {
			c.fail(number, "expected the number of a version", "say version 2, or nothing for the newest")
		}
		version, c.position = v, c.position+1
	}
	if c.environment.Dataset == nil {
		c.fail(t, "there are no other datasets here", "bring the other table first")
	}
	other, err := c.environment.Dataset(c.ctx, t.Text, version)
	if err != nil {
		if c.ctx.Err() == nil {
			c.fail(t, err.Error(), "say the name of a dataset of this space, in quotes where it is more than one word")
		}
		other, _ = table.New()
	}
	return other, t.Text
}

// join brings in the columns of another dataset where keys are equal, as they are
// written. Every row is kept unless only matched rows are asked for; a row that
// matches several is repeated; a missing key matches nothing (as in SQL).
func (c *clause) join() (*table.Table, Effect) {
	at := c.here()
	other, name := c.dataset()
	left, right := c.joinKeys(other, name)
	matchedOnly := false
	if c.words("keeping") {
		c.need("matched")
		c.need("rows")
		matchedOnly = true
	}
	partners := map[string][]int{}
	for row := range other.Rows() {
		if !anyMissing(right, row) {
			key := rowKey(right, row)
			partners[key] = append(partners[key], row)
		}
	}
	var leftRows, rightRows []int
	width := len(c.table.Columns()) + len(other.Columns())
	used := make([]bool, other.Rows())
	matched := 0
	for row := range c.table.Rows() {
		var found []int
		if !anyMissing(left, row) {
			found = partners[rowKey(left, row)]
		}
		for _, partner := range found {
			leftRows, rightRows, used[partner] = append(leftRows, row), append(rightRows, partner), true
		}
		if len(found) > 0 {
			matched++
		} else if !matchedOnly {
			leftRows, rightRows = append(leftRows, row), append(rightRows, -1)
		}
		c.bound(len(leftRows), width, at, "join by more columns, or drop duplicates of the key first")
	}
	unused := 0
	for _, was := range used {
		if !was {
			unused++
		}
	}
	c.rows = leftRows
	words := fmt.Sprintf("%s of %s matched; %s of %s of %s not used", count(matched), counted(c.table.Rows(), "row"), count(unused), counted(other.Rows(), "row"), name)
	return c.joined(other, name, right, leftRows, rightRows), Effect{Words: words}
}

func count(n int) string { return scale.Number(float64(n), 0) }

// counted writes a number of things: 1 row, −2 rows.
func counted(n int, one string) string {
	if n == 1 || n == -1 {
		return count(n) + " " + one
	}
	return count(n) + " " + one + "s"
}

// maxTableCells bounds the tables that clauses make, rows times columns.
const maxTableCells = 200_000_000

// bound refuses to make more rows than the limit, or a table of too many cells.
func (c *clause) bound(rows, columns int, at formula.Token, advice string) {
	limit := c.environment.MaxRows
	if limit == 0 {
		limit = DefaultMaxRows
	}
	if rows > limit {
		c.fail(at, fmt.Sprintf("this makes more than %s rows, the limit for a clause", count(limit)), advice)
	}
	if rows > maxTableCells/max(columns, 1) {
		c.fail(at, fmt.Sprintf("this makes a table of more than %s values, the limit for a clause", count(maxTableCells)), advice)
	}
}

func anyMissing(columns []*table.Column, row int) bool {
	return slices.ContainsFunc(columns, func(column *table.Column) bool { return column.Missing(row) })
}

// joinKeys reads "by apiary, season = year": a column here, and the one there where
// its name is another.
func (c *clause) joinKeys(other *table.Table, name string) (left, right []*table.Column) {
	c.need("by")
	for {
		t := c.here()
		key := c.column()
		there := key.Name
		if c.words("=") {
			there, t = c.name()
		}
		partner := other.Column(there)
		if partner == nil {
			c.fail(t, fmt.Sprintf("%s has no column %s", name, there), "its columns are "+clipped(other.Names())+"; say by apiary = stand where the names differ")
		}
		left, right = append(left, key), append(right, partner)
		if !c.words(",") {
			return left, right
		}
	}
}

func clipped(names []string) string {
	if len(names) > 8 {
		return strings.Join(names[:8], ", ") + " …"
	}
	return strings.Join(names, ", ")
}

// joined puts the columns side by side. A column of the other table that is called
// as one here gets the other table's name behind its own.
func (c *clause) joined(other *table.Table, name string, keys []*table.Column, leftRows, rightRows []int) *table.Table {
	columns := slices.Clone(c.table.Select(leftRows).Columns())
	used := map[string]bool{}
	for _, column := range columns {
		used[column.Name] = true
	}
	for _, column := range other.Columns() {
		if slices.Contains(keys, column) {
			continue
		}
		picked := column.Pick(rightRows)
		if used[picked.Name] {
			picked.Name, picked.Label = picked.Name+"_"+strings.ReplaceAll(name, " ", "_"), ""
		}
		picked.Name = freeName(picked.Name, used)
		columns = append(columns, picked)
	}
	return c.build(columns)
}

// addRows puts the rows of other datasets below. Columns belong together by their
// names; a column that a table does not have is missing there, and said.
func (c *clause) addRows() (*table.Table, Effect) {
	at := c.here()
	first := c.environment.Name
	if first == "" {
		first = "this table"
	}
	tables, names := []*table.Table{c.table}, []string{first}
	rows := c.table.Rows()
	for {
		t, name := c.dataset()
		tables, names, rows = append(tables, t), append(names, name), rows+t.Rows()
		c.bound(rows, len(c.table.Columns())+len(t.Columns()), at, "keep fewer rows in each first")
		if !c.words(",") {
			break
		}
	}
	var columns []*table.Column
	var lone []string
	for _, wanted := range allColumns(tables) {
		column, everywhere := c.stackedRows(wanted, tables, names, rows, at)
		columns = append(columns, column)
		if !everywhere {
			lone = append(lone, column.Name)
		}
	}
	if c.words("naming") {
		c.need("each")
		c.need("in")
		name, _ := c.name()
		source := &table.Column{Name: name, Kind: table.Category, Levels: names}
		for i, t := range tables {
			source.Codes = append(source.Codes, slices.Repeat([]int32{int32(i)}, t.Rows())...)
		}
		columns = append(columns, source)
	}
	c.fresh = true
	effect := Effect{Words: "+" + counted(rows-c.table.Rows(), "row")}
	if len(lone) > 0 {
		effect.Words += "; not in all: " + clipped(lone)
	}
	return c.build(columns), effect
}

// allColumns lists the columns of tables by name, each once.
func allColumns(tables []*table.Table) []*table.Column {
	var all []*table.Column
	for _, t := range tables {
		for _, column := range t.Columns() {
			if !slices.ContainsFunc(all, func(known *table.Column) bool { return strings.EqualFold(known.Name, column.Name) }) {
				all = append(all, column)
			}
		}
	}
	return all
}

// stackedRows puts one column of several tables under each other.
func (c *clause) stackedRows(like *table.Column, tables []*table.Table, names []string, rows int, at formula.Token) (stacked *table.Column, everywhere bool) {
	parts := make([]*table.Column, len(tables))
	everywhere, coded := true, like.Kind.Coded()
	for i, t := range tables {
		parts[i] = t.Column(like.Name)
		if parts[i] == nil {
			everywhere = false
			continue
		}
		coded = coded || parts[i].Kind.Coded()
	}
	out := *like
	if !coded {
		out.Numbers = make([]float64, 0, rows)
	} else {
		out.Numbers, out.Codes, out.Levels = nil, make([]int32, 0, rows), nil
	}
	coder := table.NewCoder()
	for i, part := range parts {
		switch {
		case part == nil:
			part = (&table.Column{Kind: like.Kind}).Pick(slices.Repeat([]int{-1}, tables[i].Rows()))
			if coded != like.Kind.Coded() {
				part = c.grouping(part)
			}
		case coded:
			part = c.grouping(part)
		case part.Kind != like.Kind:
			c.fail(at, fmt.Sprintf("%s is a %s here and a %s in %s", like.Name, like.Kind, part.Kind, names[i]), "read it as the same kind in both first")
		}
		if !coded {
			out.Numbers = append(out.Numbers, part.Numbers...)
			if part.Grain == table.Second {
				out.Grain = table.Second
			}
			continue
		}
		appendCodes(&out, part, coder)
	}
	if coded {
		out.Levels = coder.Levels()
		mergeKinds(&out, parts)
	}
	return &out, everywhere
}

func appendCodes(out *table.Column, part *table.Column, coder *table.Coder) {
	code := make([]int32, len(part.Levels))
	for i, level := range part.Levels {
		code[i] = coder.Code([]byte(level))
	}
	for _, old := range part.Codes {
		if old >= 0 {
			old = code[old]
		}
		out.Codes = append(out.Codes, old)
	}
}

// mergeKinds chooses what the coded parts make together: what they all are, else
// groups where one of them is groups; yes / no only with the same two words.
func mergeKinds(out *table.Column, parts []*table.Column) {
	out.Grain = ""
	for _, part := range parts {
		if part != nil && part.Kind != out.Kind && (out.Kind != table.Ordered) {
			out.Kind = table.Category
			if part.Kind == table.Ordered {
				out.Kind = table.Ordered
			}
		}
	}
	if out.Kind == table.YesNo && len(out.Levels) != 2 {
		out.Kind = table.Category
	}
	if out.Kind == table.Category {
		out.SortLevels(nil)
	}
	if out.Kind == table.Ordered && numeric(out.Levels) {
		out.SortLevels(func(a, b string) bool {
			x, _ := strconv.ParseFloat(a, 64)
			y, _ := strconv.ParseFloat(b, 64)
			return x < y
		})
	}
}

func numeric(levels []string) bool {
	for _, level := range levels {
		if _, err := strconv.ParseFloat(level, 64); err != nil {
			return false
		}
	}
	return true
}
