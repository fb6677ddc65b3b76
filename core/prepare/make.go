package prepare

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/formula"
	"copperlark/core/table"
)

// makeRows starts a table from nothing: a column row that counts from 1, and what
// is asked for: groups, evenly spaced values, dates.
//
//	make 500 rows
//	make 60 rows in each of 3 groups            columns row, group (A, B, C), group_number (1, 2, 3)
//	make 60 rows in each of 'Brindle', 'Tarn'   groups with names of their own
//	make 200 rows with x from -3 to 3           both ends are reached
//	make 250 rows with day every business day from '2031-01-01'
func (c *clause) makeRows() (*table.Table, Effect) {
	if len(c.table.Columns()) > 0 {
		c.fail(formula.Token{To: 4}, "make starts a table from nothing, and there is one already", "begin a new table on the front page")
	}
	at := c.here()
	rows := c.whole("expected how many rows to make")
	if !c.words("row") {
		c.need("rows")
	}
	each, groups := rows, []string(nil)
	if c.words("in", "each", "of") {
		groups = c.groups()
		if rows > DefaultMaxRows { // before it is multiplied
			c.bound(rows, 3, at, "make fewer")
		}
		rows *= len(groups)
	}
	c.bound(rows, 3, at, "make fewer")
	numbers := make([]float64, rows)
	for i := range numbers {
		numbers[i] = float64(i + 1)
	}
	columns := []*table.Column{table.NewNumbers("row", numbers)}
	if groups != nil {
		group := &table.Column{Name: "group", Kind: table.Category, Levels: groups, Codes: make([]int32, rows)}
		number := make([]float64, rows)
		for i := range rows {
			group.Codes[i], number[i] = int32(i/each), float64(i/each+1)
		}
		columns = append(columns, group, table.NewNumbers("group_number", number))
	}
	for c.words("with") || c.words(",") {
		columns = append(columns, c.spaced(rows, each))
	}
	c.fresh = true
	return c.build(columns), Effect{Words: counted(rows, "row")}
}

// whole reads a whole number from 1 on.
func (c *clause) whole(expected string) int {
	t := c.here()
	n, err := strconv.Atoi(t.Text)
	if err != nil || n < 1 {
		c.fail(t, expected, "")
	}
	c.position++
	return n
}

// groups reads "3 groups", or their names.
func (c *clause) groups() []string {
	if c.here().IsText {
		names := []string{c.text()}
		for c.words(",") {
			t := c.here()
			name := c.text()
			if slices.Contains(names, name) {
				c.fail(t, fmt.Sprintf("the group %s is named twice", name), "")
			}
			names = append(names, name)
		}
		return names
	}
	at := c.here()
	n := c.whole("expected how many groups, or their names in quotes")
	if n > 1000 {
		c.fail(at, "1,000 groups are the most", "")
	}
	if !c.words("group") {
		c.need("groups")
	}
	names := make([]string, n)
	for i := range names {
		names[i] = letters(i)
	}
	return names
}

// letters are A … Z, AA, AB, …
func letters(i int) string {
	if i < 26 {
		return string(rune('A' + i))
	}
	return letters(i/26-1) + string(rune('A'+i%26))
}

// spaced reads one column of evenly spaced numbers or dates; it begins anew in each
// group.
func (c *clause) spaced(rows, each int) *table.Column {
	name, _ := c.name()
	values := make([]float64, rows)
	if c.words("every") {
		step := c.step()
		c.need("from")
		t := c.here()
		start, ok := formula.ReadDate(c.text())
		if !ok {
			c.fail(t, fmt.Sprintf("%s is not a date", t.Text), "write it like '2031-01-31'")
		}
		grain := table.Day
		if step.within || table.FormatDate(start, table.Second) != table.FormatDate(start, table.Day)+" 00:00:00" {
			grain = table.Second
		}
		for i := range values {
			values[i] = step.after(start, i%each)
		}
		return &table.Column{Name: name, Kind: table.Date, Grain: grain, Numbers: values}
	}
	c.need("from")
	from := c.signed()
	c.need("to")
	to := c.signed()
	for i := range values {
		values[i] = from
		if each > 1 {
			values[i] = from + (to-from)*float64(i%each)/float64(each-1)
		}
	}
	return table.NewNumbers(name, values)
}

func (c *clause) signed() float64 {
	sign := 1.0
	if c.words("-") || c.words("−") {
		sign = -1
	}
	t := c.here()
	v, err := strconv.ParseFloat(t.Text, 64)
	if err != nil || t.IsText {
		c.fail(t, "expected a number", "")
	}
	c.position++
	return sign * v
}

// dateStep is how a column of dates goes on.
type dateStep struct {
	within bool // a step within a day
	after  func(start float64, n int) float64
}

var dateSteps = map[string]dateStep{
	"second":  {true, func(start float64, n int) float64 { return start + float64(n) }},
	"minute":  {true, func(start float64, n int) float64 { return start + 60*float64(n) }},
	"hour":    {true, func(start float64, n int) float64 { return start + 3600*float64(n) }},
	"day":     {false, func(start float64, n int) float64 { return start + 86400*float64(n) }},
	"week":    {false, func(start float64, n int) float64 { return start + 7*86400*float64(n) }},
	"month":   {false, func(start float64, n int) float64 { return formula.AddMonths(start, n) }},
	"quarter": {false, func(start float64, n int) float64 { return formula.AddMonths(start, 3*n) }},
	"year":    {false, func(start float64, n int) float64 { return formula.AddMonths(start, 12*n) }},
}

// step reads "business day", "month" and so on.
func (c *clause) step() dateStep {
	if c.words("business", "day") {
		return dateStep{false, func(start float64, n int) float64 {
			return formula.AddBusinessDays(formula.AddBusinessDays(start, 0), n)
		}}
	}
	t := c.here()
	step, known := dateSteps[strings.ToLower(t.Text)]
	if !known {
		c.fail(t, fmt.Sprintf("no step is called %s", t.Text), "say business day, day, week, month, quarter, year, hour, minute or second")
	}
	c.position++
	return step
}
