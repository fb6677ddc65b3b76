package prepare

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/clause"
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

// aggregated is a piece that is an aggregate of an expression.
func aggregated[T any](at func(*T) *string, until ...string) clause.Piece {
	var begins []clause.Word
	for _, name := range aggregateNames {
		begins = append(begins, clause.Word{Text: name + "("})
	}
	return clause.Expression(clause.ExpressionOf[T]{At: at, What: "an aggregate such as mean(honey_kg)", Until: until, Begins: begins,
		Check: aggregateMistake,
		Drawn: []string{"count()", "mean(honey_kg * price)", `quantile("a b", 0.9)`}})
}

// aggregateMistake tells what is wrong with an aggregate, and where in it.
func aggregateMistake(text string) (from, to int, message, advice string) {
	if _, mistake := readAggregate(text); mistake != nil {
		return mistake.From, mistake.To, mistake.Message, mistake.Advice
	}
	return 0, 0, "", ""
}

// written is an aggregate as it is written: what stands in its brackets, and where.
type written struct {
	name, inner string
	share       float64
	from        int // of what stands in the brackets, in characters
}

// readAggregate reads mean(honey_kg * price), count() or quantile(x, 0.9).
func readAggregate(text string) (written, *formula.Error) {
	brackets := strings.IndexByte(text, '(')
	wrong := func(message, advice string) (written, *formula.Error) {
		return written{}, &formula.Error{From: 0, To: len([]rune(text)), Message: message, Advice: advice}
	}
	if brackets < 0 || !strings.HasSuffix(text, ")") {
		return wrong("expected an aggregate such as mean(honey_kg)", "take one of "+strings.Join(aggregateNames, ", "))
	}
	a := written{name: strings.ToLower(strings.TrimSpace(text[:brackets])), inner: text[brackets+1 : len(text)-1], share: 0.5, from: len([]rune(text[:brackets+1]))}
	if !slices.Contains(aggregateNames, a.name) {
		return wrong(fmt.Sprintf("no aggregate is called %s", text[:brackets]), "take one of "+strings.Join(aggregateNames, ", "))
	}
	if a.name == "quantile" {
		comma := strings.LastIndexByte(a.inner, ',')
		if comma < 0 {
			return wrong("a quantile needs its share", "say quantile(honey_kg, 0.9)")
		}
		if _, err := fmt.Sscan(a.inner[comma+1:], &a.share); err != nil || !(a.share >= 0 && a.share <= 1) {
			return wrong("the share of a quantile goes from 0 to 1", "say quantile(honey_kg, 0.9)")
		}
		a.inner = a.inner[:comma]
	}
	if a.name == "count" && (strings.TrimSpace(a.inner) == "" || strings.TrimSpace(a.inner) == "*") {
		a.inner = ""
		return a, nil
	}
	if from, to, message, advice := formula.Mistake(a.inner); message != "" {
		return written{}, &formula.Error{From: a.from + from, To: a.from + to, Message: message, Advice: advice}
	}
	return a, nil
}

// spokenAggregate speaks an aggregate, columns by their readable names.
func spokenAggregate(text string, readable func(column string) string) string {
	a, mistake := readAggregate(text)
	if mistake != nil || a.inner == "" {
		return text
	}
	share := ""
	if a.name == "quantile" {
		share = ", " + table.FormatNumber(a.share)
	}
	return a.name + "(" + formula.Spoken(a.inner, readable) + share + ")"
}

// aggregate works out what stands in the brackets of an aggregate.
func (w *work) aggregate(text *string) aggregate {
	said, mistake := readAggregate(*text)
	if mistake != nil {
		w.check(mistake, text)
	}
	a := aggregate{name: said.name, share: said.share}
	if said.inner == "" {
		return a
	}
	place := w.at(text)
	f, err := formula.Parse(said.inner)
	w.check(err, text)
	values, _, err := f.Column(w.ctx, w.table, "value", w.seed)
	if at, ours := err.(*formula.Error); ours {
		w.fail(clause.Place{From: place.From + said.from + at.From, To: place.From + said.from + at.To}, at.Message, at.Advice)
	}
	w.check(err, text)
	if values.Kind == table.YesNo && a.name != "count" { // the mean of yes / no is the share of yes
		values = &table.Column{Name: "value", Kind: table.Number, Numbers: asNumbers(values.Codes)}
	}
	if a.name != "count" && values.Kind.Coded() {
		w.fail(place, fmt.Sprintf("%s needs numbers", a.name), "count() counts rows of any kind")
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
func aggregates(codes []int32, groups int, a aggregate) []float64 {
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
