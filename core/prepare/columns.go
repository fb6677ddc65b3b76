package prepare

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

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
	if c.words("with") {
		said = append(said, c.nameCodes(&column))
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
		c.fail(c.here(), "expected as, with, in, meaning or called", "")
	}
	return c.with(&column), Effect{Words: strings.Join(said, ", ")}
}

// nameCodes reads "'0' as 'not fed', '1' as 'fed'": what is to stand for the values of
// a column of groups. Values that get the same name become one group.
func (c *clause) nameCodes(column *table.Column) string {
	at := c.here()
	if !column.Kind.Coded() {
		*column = *c.grouping(column)
	}
	levels := slices.Clone(column.Levels)
	named := 0
	for {
		t := c.here()
		code := c.text()
		i := slices.Index(column.Levels, code)
		if i < 0 {
			c.fail(t, fmt.Sprintf("%s has no value %s", column.Name, code), "its values are "+clipped(column.Levels))
		}
		c.need("as")
		levels[i] = c.text()
		named++
		if !c.words(",") {
			break
		}
	}
	if slices.Contains(levels, "") {
		c.fail(at, "a name may not be empty", "")
	}
	renamed := *column
	renamed.Levels, renamed.Codes = nil, make([]int32, 0, len(column.Codes))
	coder := table.NewCoder()
	appendCodes(&renamed, &table.Column{Codes: column.Codes, Levels: levels}, coder)
	renamed.Levels = coder.Levels()
	if renamed.Kind == table.YesNo && len(renamed.Levels) != 2 {
		renamed.Kind = table.Category
	}
	*column = renamed
	return fmt.Sprintf("%d values named", named)
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
