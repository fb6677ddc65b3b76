package prepare

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"copperlark/core/describe"
	"copperlark/core/formula"
	"copperlark/core/table"
)

// workOut adds a column by an expression.
func (c *clause) workOut() (*table.Table, Effect) {
	name, _ := c.name()
	c.need("=")
	text, from := c.rest()
	f, err := formula.Parse(text)
	c.check(err, from)
	column, faults, err := f.Column(c.ctx, c.table, name, c.seed)
	c.check(err, from)
	effect := Effect{Faults: faults, Words: string(column.Kind)}
	if faults > 0 {
		effect.Words = fmt.Sprintf("%s, %d without a value", column.Kind, faults)
	}
	return c.with(column), effect
}

var kindWords = map[string]table.Kind{"number": table.Number, "category": table.Category, "ordered": table.Ordered, "date": table.Date, "text": table.Text}

// read sets the kind, the unit, the meaning and the spoken name of a column.
func (c *clause) read() (*table.Table, Effect) {
	column := *c.column()
	var said []string
	if c.words("as") {
		kind, at := table.YesNo, c.here()
		if c.words("yes", "/", "no") {
		} else {
			word, t := c.name()
			var known bool
			if kind, known = kindWords[strings.ToLower(word)]; !known {
				c.fail(t, fmt.Sprintf("no kind is called %s", word), "say number, category, ordered, yes/no, date or text")
			}
		}
		c.become(&column, kind, at)
		said = append(said, string(kind))
	}
	if c.words("in") {
		column.Unit = c.text()
		said = append(said, "in "+column.Unit)
	}
	if c.words("meaning") {
		column.Meaning = c.text()
		said = append(said, "meaning")
	}
	if c.words("called") {
		column.Label = c.text()
		said = append(said, "called "+column.Label)
	}
	if len(said) == 0 {
		c.fail(c.here(), "expected as, in, meaning or called", "")
	}
	return c.with(&column), Effect{Words: strings.Join(said, ", ")}
}

// become reads a column as another kind, by the text of its values.
func (c *clause) become(column *table.Column, kind table.Kind, at formula.Token) {
	if column.Kind == kind {
		return
	}
	if kind == table.Number || kind == table.Date || kind == table.YesNo {
		to := map[table.Kind]string{table.Number: "number", table.Date: "date", table.YesNo: "boolean"}[kind]
		name := `"` + strings.ReplaceAll(column.Name, `"`, `""`) + `"`
		f, err := formula.Parse("cast(" + name + " as " + to + ")")
		c.check(err, 0)
		made, _, err := f.Column(c.ctx, c.table, column.Name, 0)
		c.check(err, at.From)
		if before, after := column.MissingCount(), made.MissingCount(); after > before && after == made.Len() {
			c.fail(at, fmt.Sprintf("no value of %s can be read as %s", column.Name, kind), "choose another kind")
		}
		column.Kind, column.Numbers, column.Codes, column.Levels, column.Grain = kind, made.Numbers, made.Codes, made.Levels, made.Grain
		return
	}
	if column.Kind.Coded() {
		column.Kind = kind
		return
	}
	groups := column.AsGroups(math.MaxInt)
	column.Kind, column.Numbers, column.Codes, column.Levels = kind, nil, groups.Codes, groups.Levels
}

// grouping reads a column as groups.
func (c *clause) grouping(column *table.Column) *table.Column {
	if column.Kind.Coded() {
		return column
	}
	return column.AsGroups(math.MaxInt)
}

// joinNames makes every combination of two columns or more that occurs, ordered by
// the first, then the second.
func (c *clause) joinNames() (*table.Table, Effect) {
	parts := c.columns()
	c.need("into")
	name, _ := c.name()
	for i := range parts {
		parts[i] = c.grouping(parts[i])
	}
	codes, combinations := combine(parts, c.table.Rows())
	levels := make([]string, len(combinations))
	for i, combination := range combinations {
		words := make([]string, len(parts))
		for j, code := range combination {
			words[j] = parts[j].Levels[code]
		}
		levels[i] = strings.Join(words, " · ")
	}
	return c.with(&table.Column{Name: name, Kind: table.Ordered, Codes: codes, Levels: levels}), Effect{Words: fmt.Sprintf("%d groups", len(levels))}
}

// combine codes the combinations of groups that occur, in the order of their levels;
// a row with a missing part is missing.
func combine(parts []*table.Column, rows int) (codes []int32, combinations [][]int32) {
	codes = make([]int32, rows)
	index := map[string]int32{}
	key := make([]byte, 4*len(parts))
	for row := range codes {
		codes[row] = table.MissingCode
		combination, whole := make([]int32, len(parts)), true
		for j, part := range parts {
			code := part.Codes[row]
			combination[j], whole = code, whole && code >= 0
			key[4*j], key[4*j+1], key[4*j+2], key[4*j+3] = byte(code>>24), byte(code>>16), byte(code>>8), byte(code)
		}
		if !whole {
			continue
		}
		code, seen := index[string(key)]
		if !seen {
			code = int32(len(combinations))
			index[string(key)] = code
			combinations = append(combinations, combination)
		}
		codes[row] = code
	}
	order := make([]int, len(combinations))
	for i := range order {
		order[i] = i
	}
	sort.Slice(order, func(i, j int) bool { return slices.Compare(combinations[order[i]], combinations[order[j]]) < 0 })
	sorted, position := make([][]int32, len(order)), make([]int32, len(order))
	for i, old := range order {
		sorted[i], position[old] = combinations[old], int32(i)
	}
	for row, code := range codes {
		if code >= 0 {
			codes[row] = position[code]
		}
	}
	return codes, sorted
}

// order puts the groups of a column in the order of an aggregate, or of names that
// are said.
func (c *clause) order() (*table.Table, Effect) {
	column := *c.grouping(c.column())
	rank := make([]float64, len(column.Levels))
	sign := 1.0
	if c.words("as") {
		for i := range rank {
			rank[i] = float64(len(rank)) // what is not said comes last
		}
		for position := 0.0; ; position++ {
			t := c.here()
			at := slices.Index(column.Levels, c.text())
			if at < 0 {
				c.fail(t, fmt.Sprintf("%s has no group %s", column.Name, t.Text), "say its groups as they stand")
			}
			rank[at] = position
			if !c.words(",") {
				break
			}
		}
	} else {
		c.need("by")
		rank = c.aggregates(column.Codes, len(column.Levels), c.aggregate("descending", "ascending"))
		if c.words("descending") {
			sign = -1
		} else {
			c.words("ascending")
		}
	}
	by := map[string]float64{}
	for i, level := range column.Levels {
		by[level] = rank[i]
	}
	column.Codes = slices.Clone(column.Codes)
	column.Kind = table.Ordered
	column.SortLevels(func(a, b string) bool {
		if math.IsNaN(by[a]) || math.IsNaN(by[b]) {
			return !math.IsNaN(by[a]) && math.IsNaN(by[b])
		}
		return sign*by[a] < sign*by[b]
	})
	return c.with(&column), Effect{Words: strings.Join(column.Levels[:min(3, len(column.Levels))], ", ") + " …"}
}

// aggregate is a function over the rows of a group.
type aggregate struct {
	name   string
	values *table.Column // nil for count()
	share  float64       // of quantile
}

var aggregateNames = []string{"count", "sum", "mean", "median", "min", "max", "stddev", "quantile"}

// aggregate reads mean(honey_kg * price), count() or quantile(x, 0.9).
func (c *clause) aggregate(stops ...string) aggregate {
	text, from := c.rest(stops...)
	trimmed := strings.TrimSpace(text)
	open := strings.IndexByte(trimmed, '(')
	at := formula.Token{From: from, To: from + max(1, len([]rune(trimmed)))}
	if open < 0 || !strings.HasSuffix(trimmed, ")") {
		c.fail(at, "expected an aggregate such as mean(honey_kg)", "take one of "+strings.Join(aggregateNames, ", "))
	}
	a := aggregate{name: strings.ToLower(strings.TrimSpace(trimmed[:open])), share: 0.5}
	if !slices.Contains(aggregateNames, a.name) {
		c.fail(at, fmt.Sprintf("no aggregate is called %s", trimmed[:open]), "take one of "+strings.Join(aggregateNames, ", "))
	}
	inner := trimmed[open+1 : len(trimmed)-1]
	innerFrom := from + len([]rune(text[:strings.IndexByte(text, '(')+1]))
	if a.name == "quantile" {
		comma := strings.LastIndexByte(inner, ',')
		if comma < 0 {
			c.fail(at, "a quantile needs its share", "say quantile(honey_kg, 0.9)")
		}
		if _, err := fmt.Sscan(inner[comma+1:], &a.share); err != nil || !(a.share >= 0 && a.share <= 1) {
			c.fail(at, "the share of a quantile goes from 0 to 1", "say quantile(honey_kg, 0.9)")
		}
		inner = inner[:comma]
	}
	if a.name == "count" && (strings.TrimSpace(inner) == "" || strings.TrimSpace(inner) == "*") {
		return a
	}
	f, err := formula.Parse(inner)
	c.check(err, innerFrom)
	values, _, err := f.Column(c.ctx, c.table, "value", c.seed)
	c.check(err, innerFrom)
	if values.Kind == table.YesNo && a.name != "count" { // the mean of yes / no is the share of yes
		values = &table.Column{Name: "value", Kind: table.Number, Numbers: asNumbers(values.Codes)}
	}
	if a.name != "count" && values.Kind.Coded() {
		c.fail(at, fmt.Sprintf("%s needs numbers", a.name), "count() counts rows of any kind")
	}
	a.values = values
	return a
}

func asNumbers(codes []int32) []float64 {
	values := make([]float64, len(codes))
	for i, code := range codes {
		values[i] = float64(code)
		if code < 0 {
			values[i] = math.NaN()
		}
	}
	return values
}

// aggregates computes one value a group; missing values take no part, and a group
// without values has none (a count has 0).
func (c *clause) aggregates(codes []int32, groups int, a aggregate) []float64 {
	out := make([]float64, groups)
	if a.name == "count" {
		for row, code := range codes {
			if code >= 0 && (a.values == nil || !a.values.Missing(row)) {
				out[code]++
			}
		}
		return out
	}
	byGroup := make([][]float64, groups)
	for row, code := range codes {
		if code >= 0 && !a.values.Missing(row) {
			byGroup[code] = append(byGroup[code], a.values.Numbers[row])
		}
	}
	for g, values := range byGroup {
		s := describe.Summarise(values)
		switch a.name {
		case "sum":
			out[g] = s.Mean * float64(s.N)
			if s.N > 0 {
				out[g] = 0
				for _, v := range values {
					out[g] += v
				}
			}
		case "mean":
			out[g] = s.Mean
		case "median":
			out[g] = s.Median
		case "min":
			out[g] = s.Min
		case "max":
			out[g] = s.Max
		case "stddev":
			out[g] = s.SD
		case "quantile":
			slices.Sort(values)
			out[g] = describe.Quantile(values, a.share)
		}
	}
	return out
}

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
	return c.build(columns), Effect{Words: fmt.Sprintf("%d rows, one a group", len(combinations))}
}

// keys reads the columns of "for each", up to the colon.
func (c *clause) keys() []*table.Column {
	list := []*table.Column{c.column()}
	for c.words(",") {
		list = append(list, c.column())
	}
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
	return c.build(result), Effect{Words: fmt.Sprintf("%d columns into 2", k)}
}

// stacked reads "hive_1 to hive_6", or a list.
func (c *clause) stacked() []*table.Column {
	first := c.column()
	if !c.words("to") {
		list := []*table.Column{first}
		for c.words(",") {
			list = append(list, c.column())
		}
		return list
	}
	last := c.column()
	all := c.table.Columns()
	from, to := slices.Index(all, first), slices.Index(all, last)
	return all[min(from, to) : max(from, to)+1]
}
