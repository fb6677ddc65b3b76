package prepare

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/describe"
	"copperlark/core/formula"
	"copperlark/core/magnitude"
	"copperlark/core/table"
)

// aggregateWay is an aggregate of the list: one of its functions works it out from the
// rows of a group that have a value.
type aggregateWay struct {
	name     string
	tally    func(values *table.Column, rows []int) float64 // of values of any kind
	of       func(values []float64, share float64) float64  // of numbers
	pick     func(values *table.Column, rows []int) int     // a row whose value stands for the group
	pair     func(a, b []float64) float64                   // of two expressions
	text     func(texts []string, separator string) string  // of groups
	second   func(a *written, text string) bool             // reads what stands behind a comma and is the same for all rows
	example  string                                         // of what takes two things
	moves    bool                                           // it is a place on the scale of its values: of dates it is a date
	unitless bool
}

// aggregateWays is the list of aggregates.
var aggregateWays = []aggregateWay{
	{name: "count", tally: func(_ *table.Column, rows []int) float64 { return float64(len(rows)) }, unitless: true},
	{name: "sum", of: func(values []float64, _ float64) float64 {
		if len(values) == 0 {
			return math.NaN()
		}
		total := 0.0
		for _, v := range values {
			total += v
		}
		return total
	}},
	{name: "mean", of: func(values []float64, _ float64) float64 { return describe.Summarise(values).Mean }, moves: true},
	{name: "median", of: func(values []float64, _ float64) float64 { return describe.Summarise(values).Median }, moves: true},
	{name: "min", of: func(values []float64, _ float64) float64 { return describe.Summarise(values).Min }, moves: true},
	{name: "max", of: func(values []float64, _ float64) float64 { return describe.Summarise(values).Max }, moves: true},
	{name: "stddev", of: func(values []float64, _ float64) float64 { return describe.Summarise(values).SD }},
	{name: "quantile", of: func(values []float64, share float64) float64 {
		slices.Sort(values)
		return describe.Quantile(values, share)
	}, moves: true, second: func(a *written, text string) bool {
		_, err := fmt.Sscan(text, &a.share)
		return err == nil && a.share >= 0 && a.share <= 1
	}, example: "quantile(honey_kg, 0.9), with a share from 0 to 1"},
	{name: "string_agg", text: strings.Join, second: func(a *written, text string) bool {
		tokens, err := formula.Tokens(text)
		if err != nil || len(tokens) != 1 || !tokens[0].IsText {
			return false
		}
		a.separator = tokens[0].Text
		return true
	}, example: "string_agg(apiary, ', '), with what stands between them"},
	{name: "first", pick: func(_ *table.Column, rows []int) int { return rows[0] }, moves: true},
	{name: "last", pick: func(_ *table.Column, rows []int) int { return rows[len(rows)-1] }, moves: true},
	{name: "mode", pick: mostFrequent, moves: true},
	{name: "corr", pair: func(a, b []float64) float64 {
		p, err := describe.PearsonOf(a, b)
		if err != nil {
			return math.NaN()
		}
		return p.R
	}, unitless: true, example: "corr(honey_kg, mites)"},
	{name: "regr_slope", pair: func(y, x []float64) float64 { return slope(x, y) }, unitless: true, example: "regr_slope(honey_kg, mites)"},
}

// distinctWay is count(distinct …): of values that are equal one counts.
var distinctWay = aggregateWay{name: "count", tally: func(values *table.Column, rows []int) float64 {
	seen := map[float64]bool{}
	for _, row := range rows {
		seen[comparable64(values, row)] = true
	}
	return float64(len(seen))
}, unitless: true}

// comparable64 is a number that two rows share only when their values are equal.
func comparable64(values *table.Column, row int) float64 {
	if values.Kind.Coded() {
		return float64(values.Codes[row])
	}
	return values.Numbers[row]
}

// mostFrequent is a row with the value that comes most often; of several the lowest, or the
// first in the order of the groups.
func mostFrequent(values *table.Column, rows []int) int {
	times := map[float64]int{}
	for _, row := range rows {
		times[comparable64(values, row)]++
	}
	best := rows[0]
	for _, row := range rows[1:] {
		a, b := comparable64(values, row), comparable64(values, best)
		if times[a] > times[b] || times[a] == times[b] && a < b {
			best = row
		}
	}
	return best
}

// slope is that of the least-squares line of y over x, Sxy / Sxx; missing where x does not vary.
func slope(x, y []float64) float64 {
	x, unitX := magnitude.Scaled(x)
	y, unitY := magnitude.Scaled(y)
	mx, my := describe.Summarise(x).Mean, describe.Summarise(y).Mean
	xy, xx := 0.0, 0.0
	for i := range x {
		xy += (x[i] - mx) * (y[i] - my)
		xx += (x[i] - mx) * (x[i] - mx)
	}
	if !(xx > 0) {
		return math.NaN()
	}
	return xy / xx * (unitY / unitX)
}

// aggregateNames are the names of the aggregates.
var aggregateNames = func() (names []string) {
	for _, way := range aggregateWays {
		names = append(names, way.name)
	}
	return names
}()

// aggregate is an aggregate over the rows of a table, with what stands in its brackets
// worked out.
type aggregate struct {
	way       *aggregateWay
	values    *table.Column // nil for count()
	other     *table.Column // the second of a pair
	share     float64       // of quantile
	separator string        // of string_agg
	unit      string        // of what it gives
}

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

// written is an aggregate as it is written: the expressions in its brackets, and where.
type written struct {
	way       *aggregateWay
	inner     []inner // none for count()
	share     float64
	separator string // of string_agg
	said      string // the second thing, as it was said
}

type inner struct {
	text string
	from int // in characters of the aggregate
}

// distinctWord begins what count tells apart.
const distinctWord = "distinct "

// readAggregate reads mean(honey_kg * price), count(), count(distinct apiary),
// corr(honey_kg, mites) or quantile(x, 0.9).
func readAggregate(text string) (written, *formula.Error) {
	brackets := strings.IndexByte(text, '(')
	wrong := func(message, advice string) (written, *formula.Error) {
		return written{}, &formula.Error{From: 0, To: len([]rune(text)), Message: message, Advice: advice}
	}
	if brackets < 0 || !strings.HasSuffix(text, ")") {
		return wrong("expected an aggregate such as mean(honey_kg)", "take one of "+strings.Join(aggregateNames, ", "))
	}
	at := slices.Index(aggregateNames, strings.ToLower(strings.TrimSpace(text[:brackets])))
	if at < 0 {
		return wrong(fmt.Sprintf("no aggregate is called %s", text[:brackets]), "take one of "+strings.Join(aggregateNames, ", "))
	}
	a := written{way: &aggregateWays[at], share: 0.5, inner: []inner{{text[brackets+1 : len(text)-1], len([]rune(text[:brackets+1]))}}}
	only := &a.inner[0]
	trimmed := strings.TrimSpace(only.text)
	switch {
	case a.way.second != nil || a.way.pair != nil:
		comma := formula.Comma(only.text)
		if comma < 0 {
			needs := map[bool]string{true: "two columns", false: "two things"}[a.way.pair != nil]
			return wrong(fmt.Sprintf("%s needs %s, with a comma between them", a.way.name, needs), "say "+a.way.example)
		}
		behind := inner{only.text[comma+1:], only.from + len([]rune(only.text[:comma+1]))}
		if only.text = only.text[:comma]; a.way.pair != nil {
			a.inner = append(a.inner, behind)
		} else if a.said = strings.TrimSpace(behind.text); !a.way.second(&a, a.said) {
			return written{}, &formula.Error{From: behind.from, To: behind.from + len([]rune(behind.text)),
				Message: "this is not what " + a.way.name + " needs here", Advice: "say " + a.way.example}
		}
	case a.way.name == "count" && (trimmed == "" || trimmed == "*"):
		a.inner = nil
	case a.way.name == "count" && len(trimmed) > len(distinctWord) && strings.EqualFold(trimmed[:len(distinctWord)], distinctWord):
		cut := strings.Index(only.text, trimmed) + len(distinctWord)
		a.way, a.inner[0] = &distinctWay, inner{only.text[cut:], only.from + len([]rune(only.text[:cut]))}
	}
	for _, in := range a.inner {
		if from, to, message, advice := formula.Mistake(in.text); message != "" {
			return written{}, &formula.Error{From: in.from + from, To: in.from + to, Message: message, Advice: advice}
		}
	}
	return a, nil
}

// spokenAggregate speaks an aggregate, columns by their readable names.
func spokenAggregate(text string, readable func(column string) string) string {
	a, mistake := readAggregate(text)
	if mistake != nil || a.inner == nil {
		return text
	}
	var said []string
	for _, in := range a.inner {
		said = append(said, formula.Spoken(in.text, readable))
	}
	if a.way.second != nil {
		said = append(said, a.said)
	}
	if a.way == &distinctWay {
		said[0] = distinctWord + said[0]
	}
	return a.way.name + "(" + strings.Join(said, ", ") + ")"
}

// aggregate works out what stands in the brackets of an aggregate that gives numbers.
func (w *work) aggregate(text *string) aggregate { return w.aggregateOf(text, false) }

// aggregateOf works out what stands in the brackets of an aggregate; where groups will do
// too, it may pick one of them.
func (w *work) aggregateOf(text *string, groupsToo bool) aggregate {
	said, mistake := readAggregate(*text)
	if mistake != nil {
		w.check(mistake, text)
	}
	a := aggregate{way: said.way, share: said.share, separator: said.separator}
	for i, in := range said.inner {
		values, unit := w.inBrackets(text, in)
		if values.Kind == table.YesNo && a.way.tally == nil && a.way.pick == nil &&
			a.way.text == nil { // the mean of yes / no is the share of yes
			values = &table.Column{Name: "value", Kind: table.Number, Numbers: asNumbers(values.Codes)}
		}
		if a.way.text != nil && !groupsToo {
			w.fail(w.at(text), fmt.Sprintf("%s gives texts; this needs numbers", a.way.name), "count() counts rows of any kind")
		}
		if values.Kind.Coded() && a.way.tally == nil && a.way.text == nil && !(groupsToo && a.way.pick != nil) {
			w.fail(w.at(text), fmt.Sprintf("%s needs numbers", a.way.name), "count() counts rows of any kind")
		}
		if i == 0 {
			a.values = values
			if !a.way.unitless {
				a.unit = unit
			}
		} else {
			a.other = values
		}
	}
	return a
}

// inBrackets works out an expression in the brackets of an aggregate; a column alone keeps
// its unit.
func (w *work) inBrackets(text *string, in inner) (values *table.Column, unit string) {
	place := w.at(text)
	f, err := formula.Parse(in.text)
	w.check(err, text)
	values, _, err = f.Column(w.ctx, w.table, "value", w.seed)
	if at, ours := err.(*formula.Error); ours {
		w.fail(clause.Place{From: place.From + in.from + at.From, To: place.From + in.from + at.To}, at.Message, at.Advice)
	}
	w.check(err, text)
	if values.Kind == table.Number && f.Lasts(w.table) {
		values.Kind = table.Duration
	}
	if name := f.Name(); name != "" {
		unit = w.column(name).Unit
	}
	return values, unit
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

// members are the rows of each group that have a value.
func (a aggregate) members(codes []int32, groups int) [][]int {
	members := make([][]int, groups)
	for row, code := range codes {
		if code >= 0 && (a.values == nil || !a.values.Missing(row)) && (a.other == nil || !a.other.Missing(row)) {
			members[code] = append(members[code], row)
		}
	}
	return members
}

// column is the aggregate of each group as a column: a date of dates, a group of groups,
// in the unit of its values.
func (a aggregate) column(w *work, name string, codes []int32, groups int) *table.Column {
	var made *table.Column
	switch {
	case a.way.pick != nil:
		made = a.values.Pick(a.picked(codes, groups))
		made.Name, made.Label, made.Meaning = name, "", ""
	case a.way.text != nil:
		made = a.texts(w, name, codes, groups)
	default:
		made = table.NewNumbers(name, aggregates(codes, groups, a))
		switch {
		case a.way.moves && a.values.Kind == table.Date:
			made.Kind, made.Grain = table.Date, a.values.Grain
		case a.way.of != nil && !a.way.unitless && a.values.Kind == table.Duration:
			made.Kind = table.Duration
		}
	}
	made.Unit = a.unit
	return made
}

// allJoined bounds the texts that string_agg makes, in bytes.
const allJoined = 256 << 20

// texts puts the values of each group together as one text, in the order of the rows.
func (a aggregate) texts(w *work, name string, codes []int32, groups int) *table.Column {
	made := &table.Column{Name: name, Kind: table.Text, Codes: make([]int32, groups)}
	coder, bytes := table.NewCoder(), 0
	for group, rows := range a.members(codes, groups) {
		made.Codes[group] = table.MissingCode
		if len(rows) == 0 {
			continue
		}
		values := make([]string, len(rows))
		for i, row := range rows {
			values[i] = a.values.Value(row)
			bytes += len(values[i]) + len(a.separator)
		}
		if bytes > allJoined {
			w.fail(w.whole, "the texts that this makes take more than 256 MB", "group by more columns, or put fewer values together")
		}
		made.Codes[group] = coder.Code([]byte(a.way.text(values, a.separator)))
	}
	made.Levels = coder.Levels()
	return made
}

// picked is a row for each group, -1 for a group without values.
func (a aggregate) picked(codes []int32, groups int) []int {
	rows := make([]int, groups)
	for group, members := range a.members(codes, groups) {
		rows[group] = -1
		if len(members) > 0 {
			rows[group] = a.way.pick(a.values, members)
		}
	}
	return rows
}

// aggregates computes one value a group; missing values take no part, and a group
// without values has none (a count has 0).
func aggregates(codes []int32, groups int, a aggregate) []float64 {
	if a.way.pick != nil {
		return a.values.Pick(a.picked(codes, groups)).Numbers
	}
	out := make([]float64, groups)
	take := func(column *table.Column, rows []int) []float64 {
		values := make([]float64, len(rows))
		for i, row := range rows {
			values[i] = column.Numbers[row]
		}
		return values
	}
	for group, rows := range a.members(codes, groups) {
		switch {
		case a.way.tally != nil:
			out[group] = a.way.tally(a.values, rows)
		case a.way.pair != nil:
			out[group] = a.way.pair(take(a.values, rows), take(a.other, rows))
		default:
			out[group] = a.way.of(take(a.values, rows), a.share)
		}
	}
	return out
}
