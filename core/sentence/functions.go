package sentence

import (
	"fmt"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// speakFunction speaks of a chart whose y is worked out from x.
func speakFunction(s *clause.Speech, f *chart.Function, d *document) {
	s.Way("y = "+f.Formula, "function")
	speakScale(s, &d.Scales.Y, "scale-y")
	s.Say(" for x ")
	s.Way(functionEnds(f), "function-ends")
	speakScale(s, &d.Scales.X, "scale-x")
	if f.Values != 0 {
		s.Say(fmt.Sprintf(" at %d values", f.Values))
	}
}

func functionEnds(f *chart.Function) string {
	return fmt.Sprintf("from %s to %s", table.FormatNumber(f.From), table.FormatNumber(f.To))
}

// functionsOffered are functions to begin with, with ends between which they can be seen.
var functionsOffered = []struct {
	chart.Function
	help, also string
}{
	{chart.Function{Formula: "x ^ 2", From: -3, To: 3}, "a parabola", "square quadratic"},
	{chart.Function{Formula: "2 * x + 1", From: -3, To: 3}, "a straight line", "linear"},
	{chart.Function{Formula: "exp(x)", From: -3, To: 3}, "growth by the same share", "exponential"},
	{chart.Function{Formula: "ln(x)", From: 0.1, To: 10}, "the natural logarithm", "log"},
	{chart.Function{Formula: "sqrt(x)", From: 0, To: 10}, "the square root", ""},
	{chart.Function{Formula: "1 / (1 + exp(-x))", From: -6, To: 6}, "a rise that levels off", "logistic sigmoid"},
	{chart.Function{Formula: "exp(-x ^ 2 / 2) / 2.5066", From: -4, To: 4}, "the normal density", "gaussian bell"},
}

var functionMenu = menu{Slot: "function", Title: "Function", Find: "Find a function",
	Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
		for _, f := range functionsOffered {
			list = append(
				list,
				choice{
					Key:     f.Formula,
					Label:   "y = " + f.Formula,
					Detail:  f.help,
					Also:    f.also,
					Current: d.Function != nil && d.Function.Formula == f.Formula,
					D:       with(d, func(next *document) { next.SetFunction(f.Function) }),
				},
			)
		}
		return list
	}}

var functionEndsMenu = menu{Slot: "function-ends", Title: "x from … to …", Find: "Find where x begins and ends",
	Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
		if d.Function == nil {
			return nil
		}
		for _, ends := range [][2]float64{{-3, 3}, {-1, 1}, {-10, 10}, {0, 1}, {0, 10}, {0, 100}, {1, 1000}} {
			next := with(d, func(next *document) { next.Function.From, next.Function.To = ends[0], ends[1] })
			list = append(
				list,
				choice{
					Key:     functionEnds(next.Function),
					Label:   functionEnds(next.Function),
					D:       next,
					Current: functionEnds(d.Function) == functionEnds(next.Function),
				},
			)
		}
		return list
	}}

// addColumnsAgain offers a chart of the table's columns in the place of that of a function.
func addColumnsAgain(d *document, t *table.Table) []addition {
	var numbers []string
	for _, c := range t.Columns() {
		if c.Kind.Quantity() && len(numbers) < 2 {
			numbers = append(numbers, c.Name)
		}
	}
	if d.Function == nil || len(numbers) < 2 {
		return nil
	}
	return []addition{
		{
			Key:    "columns",
			Rank:   1,
			Label:  "plot columns of the table instead",
			Detail: table.Prose(table.Readable(numbers[1])) + " against " + table.Prose(table.Readable(numbers[0])),
			Also:   "data rows scatter",
			D:      &document{Version: d.Version, X: chart.Variable{Column: numbers[0]}, Y: chart.Variable{Column: numbers[1]}},
		},
	}
}

// addFunction offers a chart of a function.
func addFunction(d *document, _ *table.Table) []addition {
	if d.Function != nil {
		return nil
	}
	return []addition{
		{
			Key:    "function",
			Rank:   30,
			Label:  "plot y = x ^ 2 instead",
			Detail: "a function of x, without rows of the table",
			Also:   "function curve formula equation",
			D: func() *document {
				next := &document{Version: d.Version}
				next.SetFunction(functionsOffered[0].Function)
				return next
			}(),
		},
	}
}
