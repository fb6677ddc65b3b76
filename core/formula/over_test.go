package formula

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"copperlark/core/table"
)

// over is a generated call of a window function; bound says whether what it gives depends on
// the order of rows that are peers, which no database promises.
func (g generator) over(name string) (e pair, cast string) {
	number, cast := g.number(1), "float8"
	value, bound := number, true
	if g.IntN(3) == 0 {
		value, cast = g.text(1), "text"
	}
	value.theirs = fmt.Sprintf("(%s)::%s", value.theirs, cast)
	pick := func(list ...string) string { return list[g.IntN(len(list))] }
	var call pair
	switch name {
	case "row_number", "rank", "dense_rank", "percent_rank", "cume_dist":
		call, cast, bound = both(name+"()"), "float8", name == "row_number"
	case "ntile":
		call, cast = both(fmt.Sprintf("ntile(%d)", 1+g.IntN(80))), "float8"
	case "lag", "lead":
		call = with(fmt.Sprintf("%s(%%s, %s)", name, pick("0", "1", "2", "-1", "50")), value)
		if g.IntN(2) == 0 {
			other := g.text(1)
			if cast != "text" {
				other = g.number(1)
			}
			call = with(fmt.Sprintf("%s(%%s, %s, %%s)", name, pick("1", "3")), value, other)
		}
	case "nth_value":
		call = with(fmt.Sprintf("nth_value(%%s, %d)", 1+g.IntN(4)), value)
	case "sum", "avg":
		call, cast = with(name+"(%s)", number), "float8"
	case "count":
		if call, cast = with("count(%s)", value), "float8"; g.IntN(3) == 0 {
			call = both("count(*)")
		}
	default:
		call = with(name+"(%s)", value)
	}
	var inside []pair
	if g.IntN(4) > 0 {
		inside = append(inside, with(pick("partition by %s", "partition by %s, p", "partition by s, %s"), g.condition(1)))
	}
	last := pick("id", "id desc")
	if order := g.IntN(4); order > 0 || bound {
		keys := with("order by %s "+pick("", "asc", "desc")+pick("", " nulls first", " nulls last"), g.number(1))
		if order == 1 {
			keys = with("order by %s "+pick("", "desc nulls last")+", d", g.text(1))
		}
		if bound || g.IntN(2) == 0 {
			keys = with("%s, "+last, keys)
		}
		inside = append(inside, keys)
		frames := []string{"", "range between current row and unbounded following", "range current row",
			"range between unbounded preceding and unbounded following"}
		if strings.Contains(keys.ours, last) { // which rows are before a row is then known
			frames = append(frames, "rows 2 preceding", "rows between 3 preceding and 1 preceding", "rows between 1 following and 4 following",
				"rows between unbounded preceding and 1 following", "rows between 2 preceding and unbounded following",
				"rows between current row and current row", "rows between 40 preceding and 40 following")
		}
		inside = append(inside, both(frames[g.IntN(len(frames))]))
	}
	spec := both("")
	for _, part := range inside {
		spec = with("%s %s", spec, part)
	}
	if cast == "float8" {
		call.theirs = "(" + call.theirs
		return with("%s over (%s)%s", call, spec, pair{"", ")::double precision"}), cast
	}
	return with("%s over (%s)", call, spec), cast
}

func TestWindowsAgainstPostgreSQL(t *testing.T) {
	names := overNames()
	agreeOn(t, 100*len(names), func(g generator, i int) (e pair, cast string) { return g.over(names[i%len(names)]) })
}

func TestMistakesInWindows(t *testing.T) {
	data, err := table.New(table.NewNumbers("a", []float64{1, 2}), table.NewNumbers("b", []float64{1, 1}))
	if err != nil {
		t.Fatal(err)
	}
	for text, want := range map[string]string{
		"sum(a)":                      "sum is of many rows, and does not say over which",
		"a + avg(b)":                  "avg is of many rows, and does not say over which",
		"ln(a) over ()":               "ln does not work over rows",
		"rank(a) over ()":             "rank takes no value",
		"ntile() over (order by a)":   "ntile takes one value",
		"sum(a) over partition by b":  "expected (",
		"sum(a) over (partition by b": "expected )",
		"sum(a) over (rows 2 ahead)":  "expected preceding or following",
		"sum(a) over (rows between 2 preceding and 1.5 following)":       "how many rows must be a whole number",
		"sum(a) over (rows between current row and unbounded preceding)": "the frame cannot begin or end there",
		"sum(a) over (rows between unbounded following and current row)": "the frame cannot begin or end there",
		"sum(a) over (range 2 preceding)":                                "a range goes by peers, not by a number of rows",
		"sum(a) over (rows between 1 following and 1 preceding)":         "this frame ends before it begins",
		"ntile(a) over (order by a)":                                     "this must be a whole number of at least 1, the same for all rows",
		"lag(a, 1.5) over (order by a)":                                  "this must be a whole number of at least -2147483648, the same for all rows",
		"lag(a, 1, 'none') over (order by a)":                            "lag takes values of one kind; this is a text, the first is a number",
		"sum(a) over (order by c)":                                       "no column c",
		"sum('x') over ()":                                               "expected a number; this is a text",
		"max(a > 1) over ()":                                             "max is of numbers, dates or texts; this is a yes / no",
		"sum(a) over (partition by b order by a rows between unbounded preceding and 9999999999 following)": "how many rows must be a whole number",
	} {
		f, err := Parse(text)
		if err == nil {
			_, _, err = f.Column(context.Background(), data, "x", 1)
		}
		if err == nil || !strings.HasPrefix(err.Error(), want) {
			t.Errorf("%s: %v; want %s", text, err, want)
		}
	}
}

// TestColumnsOfAWindow: a preparation must know what a window reads.
func TestColumnsOfAWindow(t *testing.T) {
	f, err := Parse("sum(a) over (partition by b, c order by d descending, e)")
	if err != nil || strings.Join(f.Columns(), "") != "abcde" {
		t.Errorf("columns %v, %v", f.Columns(), err)
	}
}
