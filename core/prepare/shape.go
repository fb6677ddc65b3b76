package prepare

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/scale"
	"copperlark/core/table"
	"copperlark/core/words"
)

var forEachClause = says(
	clause.Clause[Step]{
		Name:    "for each",
		Help:    "one row for each group, or for each month of a date, with sums, means, counts …",
		Example: "for each season, district: mean_yield = mean(honey_kg), hives = count()",
		Pieces: []clause.Piece{clause.Each(func(f *forEach) *[]*groupKey { return &f.Keys }, groupKeyPiece), clause.Sign(":"),
			clause.Each(func(f *forEach) *[]*summedUp { return &f.Values }, summed...)},
	},
	func(f *forEach, s *clause.Speech) {
		s.Sentence("For each ")
		for i, key := range f.Keys {
			if i > 0 {
				s.Say(", ")
			}
			if key.Step != "" {
				s.Way(key.Step, slot)
				s.Say(" of ")
			}
			s.Column(key.Column, slot)
		}
		s.Say(": ")
		s.Way(spokenSums(f.Values, s.Readable), slot)
	},
)

// summed is an aggregate under a name, as it is written.
var summed = []clause.Piece{
	clause.Name(func(v *summedUp) *string { return &v.Name }),
	clause.Sign("="),
	aggregated(func(v *summedUp) *string { return &v.Value }, ","),
}

func spokenSums(values []*summedUp, readable func(column string) string) string {
	said := make([]string, len(values))
	for i, v := range values {
		said[i] = v.Name + " = " + spokenAggregate(v.Value, readable)
	}
	return strings.Join(said, ", ")
}

var forAllClause = says(
	clause.Clause[Step]{
		Name:    "for all",
		Help:    "one row that sums up all rows",
		Example: "for all: mean_yield = mean(honey_kg), hives = count()",
		Pieces:  []clause.Piece{clause.Sign(":"), clause.Each(func(f *forAll) *[]*summedUp { return &f.Values }, summed...)},
	},
	func(f *forAll, s *clause.Speech) {
		s.Sentence("For all rows: ")
		s.Way(spokenSums(f.Values, s.Readable), slot)
	},
)

// forAll makes one row, also of no rows.
type forAll struct{ Values []*summedUp }

func (f *forAll) do(w *work) (*table.Table, Effect) {
	return w.summedUp(nil, make([]int32, w.table.Rows()), 1, f.Values)
}

// forEach makes one row for each combination of groups that occurs.
type forEach struct {
	Keys   []*groupKey
	Values []*summedUp
}

// summedUp is an aggregate under a name.
type summedUp struct{ Name, Value string }

func (f *forEach) do(w *work) (*table.Table, Effect) {
	keys := w.keyColumns(f.Keys)
	codes, combinations := combine(groupings(keys), w.table.Rows(), true)
	first := make([]int, len(combinations)) // a row of each combination
	for row := w.table.Rows() - 1; row >= 0; row-- {
		if codes[row] >= 0 {
			first[codes[row]] = row
		}
	}
	keysOnly := w.build(keys)
	t, effect := w.summedUp(keysOnly.Select(first).Columns(), codes, len(combinations), f.Values)
	without := 0
	for _, combination := range combinations {
		if slices.Contains(combination, table.MissingCode) {
			without++
		}
	}
	if without > 0 {
		effect.Words += fmt.Sprintf(
			"; %s where %s missing",
			map[bool]string{true: "one", false: count(without)}[without == 1],
			isMissing(keys),
		)
	}
	return t, effect
}

// isMissing says that what tells groups apart is not there: "district is", "district or season are".
func isMissing(keys []*table.Column) string {
	names := make([]string, len(keys))
	for i, key := range keys {
		names[i] = key.Name
	}
	return words.Or(names) + " is"
}

// summedUp is the table of groups: what tells them apart, and their aggregates.
func (w *work) summedUp(keys []*table.Column, codes []int32, groups int, values []*summedUp) (*table.Table, Effect) {
	columns := slices.Clone(keys)
	for _, v := range values {
		columns = append(columns, w.aggregateOf(&v.Value, true).column(w, v.Name, codes, groups))
	}
	w.fresh = true
	return w.build(columns), Effect{Words: scale.Counted(groups, "row") + map[bool]string{true: ", one a group", false: ""}[keys != nil]}
}

var stackClause = says(
	clause.Clause[Step]{
		Name:    "stack",
		Help:    "several columns as two: their names, and their values",
		Example: "stack hive_1 to hive_6 into hive, weight_kg",
		Pieces: []clause.Piece{clause.Column(func(k *stack) *string { return &k.First }), clause.OneOf(
			"to, a comma or into",
			clause.Option[stack]{
				Help:   "all columns up to another",
				Is:     func(k *stack) bool { return k.Last != "" },
				Pieces: []clause.Piece{clause.Say("to"), clause.Column(func(k *stack) *string { return &k.Last })},
			},
			clause.Option[stack]{
				Is:     func(k *stack) bool { return k.Last == "" },
				Pieces: []clause.Piece{clause.MoreColumns(func(k *stack) *[]string { return &k.More })},
			},
			clause.Option[stack]{},
		),
			clause.Say(
				"into",
			), clause.Name(func(k *stack) *string { return &k.Names }), clause.Sign(","), clause.Name(func(k *stack) *string { return &k.Values })},
	},
	func(k *stack, s *clause.Speech) {
		s.Sentence("Stack ")
		if k.Last != "" {
			s.Column(k.First, slot)
			s.Say(" to ")
			s.Column(k.Last, slot)
		} else {
			speakNames(s, append([]string{k.First}, k.More...))
		}
		s.Say(" into ")
		speakNames(s, []string{k.Names, k.Values})
	},
)

// stack turns columns of one kind into one column of names and one of values: those from
// the first to the last, or those that are listed.
type stack struct {
	First, Last   string
	More          []string
	Names, Values string
}

func (k *stack) columns(w *work) []*table.Column {
	if k.Last == "" {
		return w.columns(append([]string{k.First}, k.More...))
	}
	all := w.table.Columns()
	from, to := slices.Index(all, w.column(k.First)), slices.Index(all, w.column(k.Last))
	return all[min(from, to) : max(from, to)+1]
}

func (s *stack) do(w *work) (*table.Table, Effect) {
	columns, name, value := s.columns(w), s.Names, s.Values
	n, k := w.table.Rows(), len(columns)
	w.bound(n*k, len(w.table.Columns())-k+2, w.whole, "keep fewer rows first, or stack fewer columns")
	rows := make([]int, 0, n*k)
	names := &table.Column{Name: name, Kind: table.Ordered, Codes: make([]int32, 0, n*k)}
	for _, column := range columns {
		names.Levels = append(names.Levels, column.Name)
	}
	for row := range n {
		for j := range columns {
			rows = append(rows, row)
			names.Codes = append(names.Codes, int32(j))
		}
	}
	values := w.stacked(columns, n)
	values.Name = value
	var others []*table.Column
	for _, column := range w.table.Columns() {
		if !slices.Contains(columns, column) {
			others = append(others, column)
		}
	}
	result := []*table.Column{names, values}
	if len(others) > 0 {
		result = append(slices.Clone(w.build(others).Select(rows).Columns()), names, values)
	}
	w.rows = rows
	return w.build(result), Effect{Words: fmt.Sprintf("%d columns into 2", k)}
}

// stacked are the values of columns of n rows each, row by row: numbers of numbers, dates
// of dates, groups of groups, yes / no of the same two words. A column without any value
// fits every kind. A unit that all have in common stays.
func (w *work) stacked(columns []*table.Column, n int) *table.Column {
	whole := slices.DeleteFunc(slices.Clone(columns), func(c *table.Column) bool { return c.MissingCount() == n })
	if len(whole) == 0 {
		whole = columns
	}
	first := whole[0]
	made := &table.Column{Kind: first.Kind, Grain: first.Grain, Unit: first.Unit}
	for _, column := range whole {
		if column.Kind != first.Kind && !(column.Kind.Coded() && first.Kind.Coded()) {
			w.fail(
				w.whole,
				fmt.Sprintf(
					"%s holds %s values and %s %s values: one column cannot hold both",
					first.Name,
					first.Kind,
					column.Name,
					column.Kind,
				),
				fmt.Sprintf("read them as category first, or leave %s out", column.Name),
			)
		}
		if column.Unit != made.Unit {
			made.Unit = ""
		}
		if column.Grain == table.Second {
			made.Grain = table.Second
		}
	}
	coder := table.NewCoder()
	for _, column := range columns {
		switch {
		case first.Kind.Coded():
			appendCodes(made, grouping(column), coder)
		case column.Kind.Coded(): // without any value
			made.Numbers = append(made.Numbers, slices.Repeat([]float64{math.NaN()}, n)...)
		default:
			made.Numbers = append(made.Numbers, column.Numbers...)
		}
	}
	if first.Kind.Coded() {
		made.Levels = coder.Levels()
		mergeKinds(made, whole)
	}
	order := make([]int, 0, n*len(columns))
	for row := range n {
		for j := range columns {
			order = append(order, j*n+row)
		}
	}
	return made.Pick(order)
}

var layOutClause = says(
	clause.Clause[Step]{
		Name:    "lay out",
		Help:    "one column for each group of a column, the reverse of stack",
		Example: "lay out weight_kg by hive for each apiary, season",
		Pieces: []clause.Piece{
			clause.Expression(
				clause.ExpressionOf[layOut]{
					At:    func(l *layOut) *string { return &l.Value },
					What:  "a column, or an aggregate such as mean(weight_kg)",
					Until: []string{"by"},
					Check: columnOrAggregate,
					Drawn: []string{"weight_kg", "mean(weight_kg)", `"a b"`},
				},
			),
			clause.Say("by"),
			clause.Column(func(l *layOut) *string { return &l.Over }),
			listed(func(l *layOut) *[]string { return &l.Each }, "the columns that tell the new rows apart", clause.Say("for each")),
		},
	},
	func(l *layOut, s *clause.Speech) {
		s.Sentence("Lay out ")
		s.Words(l.spoken(s.Readable), slot)
		s.Say(" by ")
		s.Column(l.Over, slot)
		if l.Each != nil {
			s.Say(" for each ")
			speakNames(s, l.Each)
		}
	},
)

// columnOrAggregate tells what is wrong with what is to be laid out.
func columnOrAggregate(text string) (from, to int, message, advice string) {
	if f, err := formula.Parse(text); err == nil && f.Name() != "" {
		return 0, 0, "", ""
	}
	return aggregateMistake(text)
}

// layOut is the reverse of stack: one column for each group of a column, one row for
// each combination of the others. Where a cell would hold several values they must
// be summed up by an aggregate, as in mean(weight_kg).
type layOut struct {
	Value, Over string
	Each        []string
}

func (l *layOut) spoken(readable func(column string) string) string {
	if f, err := formula.Parse(l.Value); err == nil && f.Name() != "" {
		return readable(f.Name())
	}
	return spokenAggregate(l.Value, readable)
}

// value is the column that is laid out; nil: an aggregate is.
func (l *layOut) value(w *work) *table.Column {
	f, err := formula.Parse(l.Value)
	if err != nil || f.Name() == "" {
		return nil
	}
	name := f.Name()
	found := w.column(name)
	if found == nil {
		message, advice := words.UnknownColumn(name, w.table.Names())
		w.fail(w.at(&l.Value), message, advice)
	}
	return found
}

func (l *layOut) do(w *work) (*table.Table, Effect) {
	at := w.at(&l.Value)
	var a aggregate
	value := l.value(w)
	if value == nil {
		a = w.aggregate(&l.Value)
	}
	over := withGap(grouping(w.column(l.Over)))
	keys := l.keys(w, value)
	cells, rows := w.cells(keys, over)
	k := len(over.Levels)
	names := layOutNames(over.Levels, keys)
	columns := make([]*table.Column, 0, len(keys)+k)
	for _, key := range keys {
		columns = append(columns, key.Pick(rows))
	}
	if value == nil {
		values := aggregates(cells, len(rows)*k, a)
		for j, name := range names {
			made := make([]float64, len(rows))
			for i := range made {
				made[i] = values[i*k+j]
			}
			columns = append(columns, table.NewNumbers(name, made))
		}
	} else {
		from := make([]int, len(rows)*k) // which row of the table fills each cell
		for i := range from {
			from[i] = -1
		}
		for row, cell := range cells {
			if cell < 0 || value.Missing(row) {
				continue
			}
			if first := from[cell]; first >= 0 {
				w.fail(at, fmt.Sprintf("%s has more than one %s for the same row: rows %d and %d", over.Levels[int(cell)%k], value.Name, first+1,
					row+1),
					fmt.Sprintf("sum them up, as in lay out mean(%s) by %s", value.Name, over.Name))
			}
			from[cell] = row
		}
		for j, name := range names {
			picked := make([]int, len(rows))
			for i := range picked {
				picked[i] = from[i*k+j]
			}
			made := value.Pick(picked)
			made.Name, made.Label = name, ""
			columns = append(columns, made)
		}
	}
	w.fresh = true
	effect := Effect{Words: fmt.Sprintf("%d columns out of %s", k, over.Name)}
	if last := k - 1; last >= 0 && over.Levels[last] == gapName(over.Name) {
		effect.Words += fmt.Sprintf(", %s for rows where it is missing", over.Levels[last])
	}
	return w.build(columns), effect
}

func gapName(column string) string { return "no_" + column }

// withGap gives rows in which a column is missing a level of their own: they are laid out too.
func withGap(over *table.Column) *table.Column {
	if over.MissingCount() == 0 {
		return over
	}
	whole := *over
	whole.Codes, whole.Levels = slices.Clone(over.Codes), append(slices.Clone(over.Levels), gapName(over.Name))
	for row, code := range whole.Codes {
		if code < 0 {
			whole.Codes[row] = int32(len(over.Levels))
		}
	}
	return &whole
}

// keys are the columns that tell the new rows apart; unsaid, every other column is one.
func (l *layOut) keys(w *work, value *table.Column) []*table.Column {
	if l.Each != nil {
		return w.columns(l.Each)
	}
	var keys []*table.Column
	for _, column := range w.table.Columns() {
		if column != value && column.Name != l.Over {
			keys = append(keys, column)
		}
	}
	if len(keys) == 0 || value == nil {
		w.fail(
			clause.Place{From: w.whole.To, To: w.whole.To + 1},
			"expected for each",
			"say which columns tell the new rows apart: for each apiary, season",
		)
	}
	return keys
}

// cells numbers the cell that each row falls in, row by row of the result, -1 where
// the group is missing; rows are one row of the table for each row of the result,
// in order of appearance.
func (w *work) cells(keys []*table.Column, over *table.Column) (cells []int32, rows []int) {
	index := map[string]int{}
	cells = make([]int32, w.table.Rows())
	for row := range cells {
		key := rowKey(keys, row)
		at, seen := index[key]
		if !seen {
			at = len(rows)
			index[key] = at
			rows = append(rows, row)
			w.bound(len(rows), len(over.Levels)+len(keys), w.whole, "name fewer columns after for each, or keep fewer groups")
		}
		cells[row] = table.MissingCode
		if code := over.Codes[row]; code >= 0 {
			cells[row] = int32(at*len(over.Levels)) + code
		}
	}
	return cells, rows
}

// layOutNames makes the groups into names of columns, different from the keys'.
func layOutNames(levels []string, keys []*table.Column) []string {
	used := map[string]bool{}
	for _, key := range keys {
		used[key.Name] = true
	}
	names := make([]string, len(levels))
	for j, level := range levels {
		names[j] = freeName(level, used)
	}
	return names
}

// freeName is a name that is not used yet, and marks it as used.
func freeName(name string, used map[string]bool) string {
	if name == "" {
		name = "column"
	}
	free := name
	for n := 2; used[free]; n++ {
		free = fmt.Sprintf("%s_%d", name, n)
	}
	used[free] = true
	return free
}
