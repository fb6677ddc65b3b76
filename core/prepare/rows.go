package prepare

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"strconv"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/parallel"
	"copperlark/core/scale"
	"copperlark/core/table"
)

var takeClause = says(clause.Clause[Step]{Name: "take", Help: "names the table, and changes nothing", Example: "take hive_seasons",
	Pieces: []clause.Piece{clause.Rest(func(t *take) *string { return &t.Name })}},
	func(t *take, s *clause.Speech) {
		s.Sentence("Take ")
		s.Way(t.Name, slot)
	})

type take struct{ Name string }

func (*take) do(w *work) (*table.Table, Effect) {
	return w.table, Effect{Words: scale.Counted(w.table.Rows(), "row") + ", " + scale.Counted(len(w.table.Columns()), "column")}
}

func (w *work) chosen(keep func(row int) bool) (*table.Table, int) {
	rows := make([]int, 0, w.table.Rows())
	for i := range w.table.Rows() {
		if keep(i) {
			rows = append(rows, i)
		}
	}
	selected := w.table.Select(rows)
	columns := make([]*table.Column, len(selected.Columns()))
	for i, column := range selected.Columns() {
		columns[i] = pruned(column)
	}
	w.rows = rows
	return w.build(columns), w.table.Rows() - len(rows)
}

// pruned drops the levels that no row has any more.
func pruned(column *table.Column) *table.Column {
	if !column.Kind.Coded() || column.Kind == table.YesNo {
		return column
	}
	newCode := make([]int32, len(column.Levels))
	for _, code := range column.Codes {
		if code >= 0 {
			newCode[code] = 1
		}
	}
	kept := *column
	kept.Levels, kept.Codes = nil, make([]int32, len(column.Codes))
	for old, used := range newCode {
		if used == 1 {
			newCode[old] = int32(len(kept.Levels))
			kept.Levels = append(kept.Levels, column.Levels[old])
		}
	}
	if len(kept.Levels) == len(column.Levels) {
		return column
	}
	for i, code := range column.Codes {
		kept.Codes[i] = table.MissingCode
		if code >= 0 {
			kept.Codes[i] = newCode[code]
		}
	}
	return &kept
}

func gone(rows int) Effect {
	return Effect{Words: scale.Counted(-rows, "row")}
}

// listed is a piece of columns that may be left out altogether.
func listed[T any](at func(*T) *[]string, help string, before ...clause.Piece) clause.Piece {
	return clause.Maybe(
		func(t *T) bool { return len(*at(t)) > 0 },
		nil,
		clause.Suggestion{Help: help},
		append(before, clause.Columns(at)...)...)
}

var leaveOutClause = says(
	clause.Clause[Step]{
		Name:    "leave out missing",
		Help:    "rows without a value, in some columns or in any",
		Example: "leave out missing honey_kg, forage_ha",
		Pieces:  []clause.Piece{clause.Does(func(*leaveOut) {}), listed(func(l *leaveOut) *[]string { return &l.Columns }, "")},
	},
	func(l *leaveOut, s *clause.Speech) {
		s.Sentence("Leave out rows missing ")
		if l.Columns == nil {
			s.Words("any value", slot)
			return
		}
		speakNames(s, l.Columns)
	},
)

// leaveOut takes away rows with a missing value in the columns, or in any.
type leaveOut struct{ Columns []string }

func (l *leaveOut) do(w *work) (*table.Table, Effect) {
	columns := w.table.Columns()
	if l.Columns != nil {
		columns = w.columns(l.Columns)
	}
	t, away := w.chosen(func(row int) bool { return !anyMissing(columns, row) })
	return t, gone(away)
}

var keepClause = says(
	clause.Clause[Step]{
		Name:    "keep",
		Help:    "the rows for which a condition holds",
		Example: "keep season >= 2029 and district in ('Brindle', 'Tarn')",
		Pieces: []clause.Piece{
			clause.Expression(
				clause.ExpressionOf[keep]{At: func(k *keep) *string { return &k.Condition }, What: "a condition", Check: formula.Mistake,
					Drawn: []string{"season >= 2029 and district <> 'Tarn'", `"a b" is null`}},
			),
		},
	},
	func(k *keep, s *clause.Speech) {
		s.Sentence("Keep rows where ")
		s.Way(formula.SpokenCondition(k.Condition, s.Readable, s.Value), slot)
	},
)

// keep keeps rows for which a condition holds.
type keep struct{ Condition string }

func (k *keep) do(w *work) (*table.Table, Effect) {
	f, err := formula.Parse(k.Condition)
	w.check(err, &k.Condition)
	holds, err := f.Rows(w.ctx, w.table, w.seed)
	w.check(err, &k.Condition)
	t, away := w.chosen(func(row int) bool { return holds[row] })
	return t, gone(away)
}

var dropDuplicatesClause = says(
	clause.Clause[Step]{
		Name:    "drop duplicates",
		Help:    "all but the first of rows that are equal, in some columns or in all",
		Example: "drop duplicates of apiary, season",
		Pieces: []clause.Piece{
			clause.Does(func(*dropDuplicates) {}),
			listed(func(d *dropDuplicates) *[]string { return &d.Columns }, "equal in some columns", clause.Say("of")),
		},
	},
	func(d *dropDuplicates, s *clause.Speech) {
		if d.Columns == nil {
			s.Sentence("Keep one of each ")
			s.Way("row", slot)
			return
		}
		s.Sentence("Keep one row for each ")
		speakNames(s, d.Columns)
	},
)

// dropDuplicates keeps the first of rows that are equal in the columns, or in all.
type dropDuplicates struct{ Columns []string }

func (d *dropDuplicates) do(w *work) (*table.Table, Effect) {
	columns := w.table.Columns()
	if d.Columns != nil {
		columns = w.columns(d.Columns)
	}
	seen := map[string]bool{}
	t, away := w.chosen(func(row int) bool {
		key := rowKey(columns, row)
		if seen[key] {
			return false
		}
		seen[key] = true
		return true
	})
	return t, gone(away)
}

// rowKey is a text that two rows share only when their values in the columns are
// equal as they are written: the number 2029 is the group 2029.
func rowKey(columns []*table.Column, row int) string {
	if len(columns) == 1 {
		return columns[0].Value(row)
	}
	var key strings.Builder
	for _, column := range columns {
		value := column.Value(row)
		key.WriteString(strconv.Itoa(len(value)) + ":" + value) // the length keeps "a,b" apart from "a" and "b"
	}
	return key.String()
}

var sortByClause = says(
	clause.Clause[Step]{Name: "sort by", Help: "sorts the rows, missing values last", Example: "sort by income descending",
		Pieces: []clause.Piece{
			clause.Each(func(o *sortBy) *[]*sortKey { return &o.Keys }, clause.Column(func(k *sortKey) *string { return &k.Column }),
				falling(func(k *sortKey) *bool { return &k.Descending })),
		}},
	func(o *sortBy, s *clause.Speech) {
		s.Sentence("Sort by ")
		for i, key := range o.Keys {
			if i > 0 {
				s.Say(", ")
			}
			s.Column(key.Column, slot)
			if key.Descending {
				s.Say(", the largest first")
			}
		}
	},
)

// falling is a piece that says which end comes first.
func falling[T any](at func(*T) *bool) clause.Piece {
	return clause.OneOf(
		"descending",
		clause.Option[T]{
			Pieces: []clause.Piece{clause.Say("descending")},
			Help:   "the largest first",
			Set:    func(t *T) { *at(t) = true },
			Is:     func(t *T) bool { return *at(t) },
		},
		clause.Option[T]{Pieces: []clause.Piece{clause.Say("ascending")}, Help: "the smallest first"},
		clause.Option[T]{Is: func(t *T) bool { return !*at(t) }},
	)
}

// sortBy sorts by columns, missing values last.
type sortBy struct{ Keys []*sortKey }

type sortKey struct {
	Column     string
	Descending bool
}

func (o *sortBy) do(w *work) (*table.Table, Effect) {
	var keys []func(i, j int) int
	for _, key := range o.Keys {
		keys = append(keys, w.column(key.Column).Ordering(key.Descending))
	}
	rows := make([]int, w.table.Rows())
	for i := range rows {
		rows[i] = i
	}
	_ = parallel.SortStable(w.ctx, rows, func(i, j int) int { // apply looks at the context
		for _, compare := range keys {
			if order := compare(i, j); order != 0 {
				return order
			}
		}
		return 0
	})
	w.rows = rows
	return w.table.Select(rows), Effect{Words: "sorted"}
}

var keepTopClause = says(
	clause.Clause[Step]{
		Name:    "keep top",
		Help:    "the groups with the largest sum, mean, count …, the rest gathered under a name or left out",
		Example: "keep top 12 item by sum(income), rest as 'Other'",
		Pieces: []clause.Piece{
			clause.Count(
				func(k *keepTop) *int { return &k.Count },
				clause.Range{From: 1, To: 1_000_000, Expected: "how many groups to keep", Message: "expected how many groups to keep"},
			),
			clause.Column(
				func(k *keepTop) *string { return &k.Column },
			),
			clause.Say("by"),
			aggregated(func(k *keepTop) *string { return &k.By }, ","),
			clause.Maybe(
				func(k *keepTop) bool { return k.Rest != "" },
				nil,
				clause.Suggestion{Text: ", rest as ", Help: "the other groups under one name"},
				clause.Sign(","),
				clause.Say("rest as"),
				clause.Text(func(k *keepTop) *string { return &k.Rest }),
			),
		},
	},
	func(k *keepTop, s *clause.Speech) {
		s.Sentence("Keep the top " + count(k.Count) + " of ")
		s.Column(k.Column, slot)
		s.Say(" by ")
		s.Way(spokenAggregate(k.By, s.Readable), slot)
		if k.Rest != "" {
			s.Say(", the rest as " + k.Rest)
		}
	},
)

// keepTop keeps the rows of the groups with the largest aggregates; the others are
// gathered under a name when one is said, and leave otherwise. Ties keep the order
// of the levels.
type keepTop struct {
	Count            int
	Column, By, Rest string
}

func (k *keepTop) do(w *work) (*table.Table, Effect) {
	groups := grouping(w.column(k.Column))
	values := aggregates(groups.Codes, len(groups.Levels), w.aggregate(&k.By))
	order := make([]int, len(groups.Levels))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(i, j int) bool { return compareMissingLast(values[order[j]], values[order[i]]) < 0 })
	top := map[int32]bool{}
	for _, code := range order[:min(k.Count, len(order))] {
		top[int32(code)] = true
	}
	if k.Rest == "" {
		kept, away := w.chosen(func(row int) bool { return groups.Codes[row] >= 0 && top[groups.Codes[row]] })
		return kept, gone(away)
	}
	gathered := *groups
	gathered.Kind, gathered.Codes, gathered.Levels = table.Ordered, make([]int32, len(groups.Codes)), nil
	newCode := map[int32]int32{}
	for _, code := range order[:min(k.Count, len(order))] {
		newCode[int32(code)] = int32(len(gathered.Levels))
		gathered.Levels = append(gathered.Levels, groups.Levels[code])
	}
	other := int32(len(gathered.Levels))
	if at := slices.Index(gathered.Levels, k.Rest); at >= 0 {
		other = int32(at)
	} else {
		gathered.Levels = append(gathered.Levels, k.Rest)
	}
	for i, code := range groups.Codes {
		gathered.Codes[i] = table.MissingCode
		if code >= 0 {
			gathered.Codes[i] = other
			if position, isTop := newCode[code]; isTop {
				gathered.Codes[i] = position
			}
		}
	}
	return w.with(&gathered), Effect{Words: fmt.Sprintf("%d groups, the rest as %s", min(k.Count, len(order)), k.Rest)}
}

// compareMissingLast orders numbers so that NaN is smallest, which is last where
// the largest come first.
func compareMissingLast(a, b float64) int {
	switch {
	case math.IsNaN(a) && math.IsNaN(b):
		return 0
	case math.IsNaN(a):
		return -1
	case math.IsNaN(b):
		return 1
	}
	return cmp.Compare(a, b)
}
