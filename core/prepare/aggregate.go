package prepare

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/describe"
	"copperlark/core/formula"
	"copperlark/core/table"
)

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
