package prepare

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/table"
)

var workOutClause = says(
	clause.Clause[Step]{Name: "work out", Help: "a column from others, by an expression", Example: "work out income = honey_kg * price",
		Pieces: []clause.Piece{clause.Name(func(o *workOut) *string { return &o.Name }), clause.Sign("="),
			clause.Expression(
				clause.ExpressionOf[workOut]{
					At:    func(o *workOut) *string { return &o.Expression },
					What:  "an expression",
					Check: formula.Mistake,
					Drawn: []string{"honey_kg * price", `ln("a b" + 1)`},
				},
			)}},
	func(o *workOut, s *clause.Speech) {
		s.Sentence("Work out ")
		s.Column(o.Name, slot)
		s.Say(" = ")
		s.Way(formula.Spoken(o.Expression, s.Readable), slot)
	},
)

// workOut adds a column by an expression.
type workOut struct{ Name, Expression string }

func (o *workOut) do(w *work) (*table.Table, Effect) {
	column, faults := w.expression(&o.Expression, o.Name)
	effect := Effect{Faults: faults, Words: string(column.Kind), Makes: o.Name}
	if faults > 0 {
		effect.Words = fmt.Sprintf("%s, %d without a value", column.Kind, faults)
	}
	return w.with(column), effect
}

// kindWays are the kinds that a column can be read as.
var kindWays = []clause.Way[table.Kind]{
	{Words: "number", Value: table.Number}, {Words: "category", Value: table.Category}, {Words: "ordered", Value: table.Ordered},
	{Words: "yes/no", Pieces: []clause.Piece{clause.Say("yes"), clause.Sign("/"), clause.Say("no")}, Value: table.YesNo},
	{Words: "date", Value: table.Date}, {Words: "duration", Value: table.Duration}, {Words: "text", Value: table.Text},
}

var readClause = says(
	clause.Clause[Step]{
		Name:    "read",
		Help:    "says what a column is: its kind, unit, meaning and name, and names for its values",
		Example: "read fed as yes/no",
		Pieces: []clause.Piece{clause.Column(func(r *read) *string { return &r.Column }),
			clause.Maybe(
				func(r *read) bool { return r.Kind != "" },
				nil,
				clause.Suggestion{Help: "another kind"},
				clause.Say("as"),
				clause.OneOf(
					"a kind: "+clause.Spoken(kindWays),
					clause.Listed(func(r *read) *table.Kind { return &r.Kind }, kindWays...)...),
			),
			clause.Maybe(
				func(r *read) bool { return r.With != nil },
				nil,
				clause.Suggestion{Help: "names for its values"},
				clause.Say("with"),
				clause.Each(
					func(r *read) *[]*renamed { return &r.With },
					clause.Text(func(v *renamed) *string { return &v.Value }),
					clause.Say("as"),
					clause.Text(func(v *renamed) *string { return &v.Name }),
				),
			),
			told("in", "its unit", func(r *read) **string { return &r.Unit }),
			told("meaning", "what it holds, in words", func(r *read) **string { return &r.Meaning }),
			told("called", "what people call it", func(r *read) **string { return &r.Label }),
			clause.Need(func(r *read) bool {
				return r.Kind != "" || r.With != nil || r.Unit != nil || r.Meaning != nil || r.Label != nil
			}, "as, with, in, meaning or called", func(r *read) { r.Unit = new(string) })},
	},
	func(r *read, s *clause.Speech) {
		s.Sentence("Read ")
		s.Column(r.Column, slot)
		for _, said := range r.ways() {
			s.Say(said.words)
			s.Way(said.way, slot)
		}
	},
)

// told is a piece of a word and a text behind it, which may be empty.
func told(word, help string, at func(*read) **string) clause.Piece {
	return clause.Maybe(
		func(r *read) bool { return *at(r) != nil },
		func(r *read) { *at(r) = new(string) },
		clause.Suggestion{Help: help},
		clause.Say(word),
		clause.Text(func(r *read) *string { return *at(r) }),
	)
}

// read sets the kind, the unit, the meaning and the spoken name of a column.
type read struct {
	Column               string
	Kind                 table.Kind
	With                 []*renamed
	Unit, Meaning, Label *string
}

// renamed is a value and what is to stand for it.
type renamed struct{ Value, Name string }

func (r *read) ways() (list []struct{ words, way string }) {
	add := func(words, way string) { list = append(list, struct{ words, way string }{words, way}) }
	if r.Kind != "" {
		add(" as ", string(r.Kind))
	}
	for i, v := range r.With {
		words := ", "
		if i == 0 {
			words = " with "
		}
		add(words+v.Value+" as ", v.Name)
	}
	for _, text := range []struct {
		words string
		said  *string
	}{{" in ", r.Unit}, {", meaning ", r.Meaning}, {", called ", r.Label}} {
		if text.said != nil {
			add(text.words, *text.said)
		}
	}
	return list
}

func (r *read) do(w *work) (*table.Table, Effect) {
	column := *w.column(r.Column)
	var said []string
	if r.Kind != "" {
		w.become(&column, r)
		said = append(said, string(r.Kind))
	}
	if r.With != nil {
		said = append(said, w.nameCodes(&column, r.With))
	}
	if r.Unit != nil {
		column.Unit = *r.Unit
		said = append(said, "in "+column.Unit)
	}
	if r.Meaning != nil {
		column.Meaning = *r.Meaning
		said = append(said, "meaning")
	}
	if r.Label != nil {
		column.Label = *r.Label
		said = append(said, "called "+column.Label)
	}
	return w.with(&column), Effect{Words: strings.Join(said, ", ")}
}

// nameCodes names values of a column of groups anew: "'0' as 'not fed', '1' as 'fed'".
// Values that get the same name become one group.
func (w *work) nameCodes(column *table.Column, with []*renamed) string {
	if !column.Kind.Coded() {
		*column = *grouping(column)
	}
	levels := slices.Clone(column.Levels)
	for _, v := range with {
		i := slices.Index(column.Levels, v.Value)
		if i < 0 {
			w.fail(w.at(&v.Value), fmt.Sprintf("%s has no value %s", column.Name, v.Value), "its values are "+clipped(column.Levels))
		}
		if v.Name == "" {
			w.fail(w.at(&v.Name), "a name may not be empty", "")
		}
		levels[i] = v.Name
	}
	made := *column
	made.Levels, made.Codes = nil, make([]int32, 0, len(column.Codes))
	coder := table.NewCoder()
	appendCodes(&made, &table.Column{Codes: column.Codes, Levels: levels}, coder)
	made.Levels = coder.Levels()
	if made.Kind == table.YesNo && len(made.Levels) != 2 {
		made.Kind = table.Category
	}
	*column = made
	return fmt.Sprintf("%d values named", len(with))
}

// become reads a column as another kind, by the text of its values.
func (w *work) become(column *table.Column, r *read) {
	kind := r.Kind
	if column.Kind == kind {
		return
	}
	if kind == table.Duration || column.Kind == table.Duration && kind == table.Number {
		w.becomeDuration(column, r)
		return
	}
	if kind == table.Number || kind == table.Date || kind == table.YesNo {
		to := map[table.Kind]string{table.Number: "number", table.Date: "date", table.YesNo: "boolean"}[kind]
		name := `"` + strings.ReplaceAll(column.Name, `"`, `""`) + `"`
		f, err := formula.Parse("cast(" + name + " as " + to + ")")
		w.check(err, nil)
		made, _, err := f.Column(w.ctx, w.table, column.Name, 0)
		w.check(err, nil)
		if before, after := column.MissingCount(), made.MissingCount(); after > before && after == made.Len() {
			w.fail(w.at(&r.Column), fmt.Sprintf("no value of %s can be read as %s", column.Name, kind), "choose another kind")
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

// becomeDuration reads a column as durations: numbers in their unit, or in seconds where it is none of time, and texts as
// they are written; and durations as numbers of seconds.
func (w *work) becomeDuration(column *table.Column, r *read) {
	switch {
	case r.Kind == table.Number:
		column.Kind, column.Unit = table.Number, "s"
		return
	case column.Kind == table.Date:
		w.fail(
			w.at(&r.Column),
			column.Name+" holds dates, which have no length",
			"work out a difference of two dates, and read that as a duration",
		)
	case !column.Kind.Coded():
		each := table.TimeUnit(column.Unit)
		if each == 0 {
			each = 1
		}
		seconds := make([]float64, len(column.Numbers))
		for i, v := range column.Numbers {
			seconds[i] = v * each
		}
		column.Numbers = seconds
	default:
		values, some := make([]float64, len(column.Levels)), false
		for i, level := range column.Levels {
			var form table.DurationForm
			if values[i], form = table.ParseDuration(level); form == table.NoDuration {
				values[i] = math.NaN()
			}
			some = some || form != table.NoDuration
		}
		if !some {
			w.fail(
				w.at(&r.Column),
				fmt.Sprintf("no value of %s can be read as duration", column.Name),
				"durations are written 1:30:00, 90 min, 2 h 5 min or PT1H",
			)
		}
		seconds := make([]float64, len(column.Codes))
		for i, code := range column.Codes {
			seconds[i] = math.NaN()
			if code >= 0 {
				seconds[i] = values[code]
			}
		}
		column.Numbers, column.Codes, column.Levels = seconds, nil, nil
	}
	column.Kind, column.Unit, column.Form, column.Decimals = table.Duration, "", "", 0
}

var joinNamesClause = says(
	clause.Clause[Step]{
		Name:    "join names",
		Help:    "one column of groups from the combinations of several",
		Example: "join names district, hive_type into plot_group",
		Pieces: append(
			clause.Columns(func(j *joinNames) *[]string { return &j.Columns }),
			clause.Say("into"),
			clause.Name(func(j *joinNames) *string { return &j.Into }),
		),
	},
	func(j *joinNames, s *clause.Speech) {
		s.Sentence("Join the names of ")
		speakNames(s, j.Columns)
		s.Say(" into ")
		s.Column(j.Into, slot)
	},
)

// joinNames makes every combination of two columns or more that occurs, ordered by
// the first, then the second.
type joinNames struct {
	Columns []string
	Into    string
}

func (j *joinNames) do(w *work) (*table.Table, Effect) {
	parts := groupings(w.columns(j.Columns))
	codes, combinations := combine(parts, w.table.Rows(), false)
	levels := make([]string, len(combinations))
	for i, combination := range combinations {
		words := make([]string, len(parts))
		for k, code := range combination {
			words[k] = parts[k].Levels[code]
		}
		levels[i] = strings.Join(words, " · ")
	}
	return w.with(
			&table.Column{Name: j.Into, Kind: table.Ordered, Codes: codes, Levels: levels},
		), Effect{
			Words: fmt.Sprintf("%d groups", len(levels)),
		}
}

// combine codes the combinations of groups that occur, in the order of their levels;
// a row with a missing part is missing or, where gaps are groups too, as in SQL, one of a combination of its own.
func combine(parts []*table.Column, rows int, gaps bool) (codes []int32, combinations [][]int32) {
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
		if !whole && !gaps {
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
	sort.Slice(order, func(i, j int) bool {
		return slices.CompareFunc(combinations[order[i]], combinations[order[j]], missingLast) < 0
	})
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

var orderClause = says(
	clause.Clause[Step]{
		Name:    "order",
		Help:    "the groups of a column, by a sum, mean, count …, or by their names",
		Example: "order district by mean(honey_kg) descending",
		Pieces: []clause.Piece{clause.Column(func(o *order) *string { return &o.Column }), clause.OneOf(
			"by or as",
			clause.Option[order]{Help: "in the order of a value", Is: func(o *order) bool { return o.As == nil },
				Pieces: []clause.Piece{
					clause.Say("by"),
					aggregated(func(o *order) *string { return &o.By }, "descending", "ascending"),
					falling(func(o *order) *bool { return &o.Descending }),
				}},
			clause.Option[order]{
				Help:   "in an order that is said",
				Is:     func(o *order) bool { return o.As != nil },
				Pieces: []clause.Piece{clause.Say("as"), clause.Texts(func(o *order) *[]string { return &o.As })},
			},
		)},
	},
	func(o *order, s *clause.Speech) {
		s.Sentence("Order ")
		s.Column(o.Column, slot)
		if o.As != nil {
			s.Say(" as ")
			s.Way(strings.Join(o.As, ", "), slot)
			return
		}
		s.Say(" by ")
		s.Way(spokenAggregate(o.By, s.Readable), slot)
		if o.Descending {
			s.Say(", the largest first")
		}
	},
)

// order puts the groups of a column in the order of an aggregate, or of names that
// are said.
type order struct {
	Column, By string
	Descending bool
	As         []string
}

func (o *order) do(w *work) (*table.Table, Effect) {
	column := *grouping(w.column(o.Column))
	rank := make([]float64, len(column.Levels))
	sign := 1.0
	if o.Descending {
		sign = -1
	}
	if o.As != nil {
		for i := range rank {
			rank[i] = float64(len(o.As)) // what is not said comes last
		}
		for position, name := range o.As {
			at := slices.Index(column.Levels, name)
			if at < 0 {
				w.fail(w.item(&o.As, position), fmt.Sprintf("%s has no group %s", column.Name, name), "say its groups as they stand")
			}
			rank[at] = float64(position)
		}
	} else {
		rank = aggregates(column.Codes, len(column.Levels), w.aggregate(&o.By))
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
	return w.with(&column), Effect{Words: strings.Join(column.Levels[:min(3, len(column.Levels))], ", ") + " …"}
}

// missingLast orders codes as SQL orders what it groups by: what is missing stands behind the rest.
func missingLast(a, b int32) int { return cmp.Compare(uint32(a), uint32(b)) }
