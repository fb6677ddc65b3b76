package prepare

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// other is another dataset that a clause names, with the version that is wanted.
type other struct {
	Name    string
	Version int // 0: the newest
}

// otherDataset are the pieces that name another dataset.
func otherDataset[T any](at func(*T) *other) []clause.Piece {
	return []clause.Piece{clause.TableName(func(t *T) *string { return &at(t).Name }),
		clause.Maybe(
			func(t *T) bool { return at(t).Version != 0 },
			nil,
			clause.Suggestion{Text: "version ", Help: "not the newest one"},
			clause.Say("version"),
			clause.Count(
				func(t *T) *int { return &at(t).Version },
				clause.Range{
					From:     1,
					To:       1_000_000,
					Expected: "the number of a version",
					Message:  "expected the number of a version",
					Advice:   "say version 2, or nothing for the newest",
				},
			),
		)}
}

// dataset is the table of another dataset.
func (w *work) dataset(o *other) *table.Table {
	at := w.at(&o.Name)
	if w.environment.Dataset == nil {
		w.fail(at, "there are no other datasets here", "bring the other table first")
	}
	found, err := w.environment.Dataset(w.ctx, o.Name, o.Version)
	if err != nil {
		if w.ctx.Err() == nil {
			w.fail(at, err.Error(), "say the name of a dataset of this space, in quotes where it is more than one word")
		}
		found, _ = table.New()
	}
	return found
}

var joinClause = says(
	clause.Clause[Step]{
		Name:    "join",
		Help:    "the columns of another dataset, where keys are equal, or the nearest date is",
		Example: "join apiaries by apiary = stand keeping matched rows",
		Pieces: append(
			otherDataset(func(j *join) *other { return &j.Other }),
			clause.Say("by"),
			clause.EachUntil(
				func(j *join) *[]*joinKey { return &j.Keys },
				clause.Say("nearest"),
				clause.Column(func(k *joinKey) *string { return &k.Here }),
				clause.Maybe(
					func(k *joinKey) bool { return k.There != "" },
					nil,
					clause.Suggestion{Help: "its name in the other dataset"},
					clause.Sign("="),
					clause.Name(func(k *joinKey) *string { return &k.There }),
				),
			),
			nearestPiece,
			clause.Maybe(
				func(j *join) bool { return j.Matched },
				func(j *join) { j.Matched = true },
				clause.Suggestion{Text: "keeping matched rows", Help: "only those that have a partner"},
				clause.Say("keeping matched rows"),
			),
		),
	},
	func(j *join, s *clause.Speech) {
		s.Sentence("Join ")
		s.Way(j.Other.Name, slot)
		s.Say(" by ")
		for i, key := range j.Keys {
			if i > 0 {
				s.Say(", ")
			}
			s.Column(key.Here, slot)
			if key.There != "" {
				s.Say(" = " + key.There)
			}
		}
		if j.Nearest != "" {
			s.Say(", ")
			s.Way(j.nearestWords(), slot)
		}
		if j.Matched {
			s.Say(", matched rows only")
		}
	},
)

// join brings in the columns of another dataset where keys are equal, as they are
// written. Every row is kept unless only matched rows are asked for; a row that
// matches several is repeated; a missing key matches nothing (as in SQL). With nearest, the
// last key need not be equal (see nearest.go).
type join struct {
	Other   other
	Keys    []*joinKey
	Nearest string // which way the last key may differ; empty: it may not
	Within  float64
	Unit    string // of Within
	Matched bool
}

// joinKey is a column here, and the one there where its name is another.
type joinKey struct{ Here, There string }

func (j *join) do(w *work) (*table.Table, Effect) {
	at, name, matchedOnly := w.at(&j.Other.Name), j.Other.Name, j.Matched
	other := w.dataset(&j.Other)
	left, right := j.keys(w, other)
	partners, equal := j.partners(w, left, right, other.Rows()), right
	if j.Nearest != "" {
		equal = right[:len(right)-1] // of what is only near both are shown
	}
	var leftRows, rightRows []int
	width := len(w.table.Columns()) + len(other.Columns())
	used := make([]bool, other.Rows())
	matched := 0
	for row := range w.table.Rows() {
		found := partners(row)
		for _, partner := range found {
			leftRows, rightRows, used[partner] = append(leftRows, row), append(rightRows, partner), true
		}
		if len(found) > 0 {
			matched++
		} else if !matchedOnly {
			leftRows, rightRows = append(leftRows, row), append(rightRows, -1)
		}
		w.bound(len(leftRows), width, at, "join by more columns, or drop duplicates of the key first")
	}
	unused := 0
	for _, was := range used {
		if !was {
			unused++
		}
	}
	w.rows = leftRows
	words := fmt.Sprintf(
		"%s of %s matched; %s of %s of %s not used",
		count(matched),
		scale.Counted(w.table.Rows(), "row"),
		count(unused),
		scale.Counted(other.Rows(), "row"),
		name,
	)
	return w.joined(other, name, equal, leftRows, rightRows), Effect{Words: words}
}

// partners gives the rows of the other table that match a row.
func (j *join) partners(w *work, left, right []*table.Column, rows int) func(row int) []int {
	if j.Nearest != "" {
		return j.nearest(w, left, right, rows)
	}
	partners := map[string][]int{}
	for row := range rows {
		if !anyMissing(right, row) {
			key := rowKey(right, row)
			partners[key] = append(partners[key], row)
		}
	}
	return func(row int) []int {
		if anyMissing(left, row) {
			return nil
		}
		return partners[rowKey(left, row)]
	}
}

func count(n int) string { return scale.Number(float64(n), 0) }

func anyMissing(columns []*table.Column, row int) bool {
	return slices.ContainsFunc(columns, func(column *table.Column) bool { return column.Missing(row) })
}

// keys are the columns to be equal, here and there.
func (j *join) keys(w *work, other *table.Table) (left, right []*table.Column) {
	for _, key := range j.Keys {
		there, at := key.Here, w.at(&key.Here)
		if key.There != "" {
			there, at = key.There, w.at(&key.There)
		}
		partner := other.Column(there)
		if partner == nil {
			w.fail(
				at,
				fmt.Sprintf("%s has no column %s", j.Other.Name, there),
				"its columns are "+clipped(other.Names())+"; say by apiary = stand where the names differ",
			)
		}
		left, right = append(left, w.column(key.Here)), append(right, partner)
	}
	return left, right
}

func clipped(names []string) string {
	if len(names) > 8 {
		return strings.Join(names[:8], ", ") + " …"
	}
	return strings.Join(names, ", ")
}

// joined puts the columns side by side. A column of the other table that is called
// as one here gets the other table's name behind its own.
func (w *work) joined(other *table.Table, name string, keys []*table.Column, leftRows, rightRows []int) *table.Table {
	columns := slices.Clone(w.table.Select(leftRows).Columns())
	used := map[string]bool{}
	for _, column := range columns {
		used[column.Name] = true
	}
	for _, column := range other.Columns() {
		if slices.Contains(keys, column) {
			continue
		}
		picked := column.Pick(rightRows)
		if used[picked.Name] {
			picked.Name, picked.Label = picked.Name+"_"+strings.ReplaceAll(name, " ", "_"), ""
		}
		picked.Name = freeName(picked.Name, used)
		columns = append(columns, picked)
	}
	return w.build(columns)
}

var addRowsClause = says(
	clause.Clause[Step]{
		Name:    "add rows of",
		Help:    "the rows of other datasets below, column by column of the same name",
		Example: "add rows of hive_seasons_2032 naming each in source",
		Pieces: []clause.Piece{
			clause.Each(func(a *addRows) *[]*other { return &a.Others }, otherDataset(func(o *other) *other { return o })...),
			clause.Maybe(
				func(a *addRows) bool { return a.Naming != "" },
				nil,
				clause.Suggestion{Text: "naming each in ", Help: "a column of which dataset each row is from"},
				clause.Say("naming each in"),
				clause.Name(func(a *addRows) *string { return &a.Naming }),
			),
		},
	},
	func(a *addRows, s *clause.Speech) {
		names := make([]string, len(a.Others))
		for i, o := range a.Others {
			names[i] = o.Name
		}
		s.Sentence("Add the rows of ")
		s.Way(strings.Join(names, ", "), slot)
		if a.Naming != "" {
			s.Say(", naming each in ")
			s.Column(a.Naming, slot)
		}
	},
)

// addRows puts the rows of other datasets below. Columns belong together by their
// names; a column that a table does not have is missing there, and said.
type addRows struct {
	Others []*other
	Naming string
}

func (a *addRows) do(w *work) (*table.Table, Effect) {
	at := w.at(&a.Others[0].Name)
	first := w.environment.Name
	if first == "" {
		first = "this table"
	}
	tables, names := []*table.Table{w.table}, []string{first}
	rows := w.table.Rows()
	for _, o := range a.Others {
		t := w.dataset(o)
		tables, names, rows = append(tables, t), append(names, o.Name), rows+t.Rows()
		w.bound(rows, len(w.table.Columns())+len(t.Columns()), at, "keep fewer rows in each first")
	}
	var columns []*table.Column
	var lone []string
	for _, wanted := range allColumns(tables) {
		column, everywhere := w.stackedRows(wanted, tables, names, rows, at)
		columns = append(columns, column)
		if !everywhere {
			lone = append(lone, column.Name)
		}
	}
	if a.Naming != "" {
		source := &table.Column{Name: a.Naming, Kind: table.Category, Levels: names}
		for i, t := range tables {
			source.Codes = append(source.Codes, slices.Repeat([]int32{int32(i)}, t.Rows())...)
		}
		columns = append(columns, source)
	}
	w.fresh = true
	effect := Effect{Words: "+" + scale.Counted(rows-w.table.Rows(), "row")}
	if len(lone) > 0 {
		effect.Words += "; not in all: " + clipped(lone)
	}
	return w.build(columns), effect
}

// allColumns lists the columns of tables by name, each once.
func allColumns(tables []*table.Table) []*table.Column {
	var all []*table.Column
	for _, t := range tables {
		for _, column := range t.Columns() {
			if !slices.ContainsFunc(all, func(known *table.Column) bool { return strings.EqualFold(known.Name, column.Name) }) {
				all = append(all, column)
			}
		}
	}
	return all
}

// stackedRows puts one column of several tables under each other.
func (w *work) stackedRows(
	like *table.Column,
	tables []*table.Table,
	names []string,
	rows int,
	at clause.Place,
) (stacked *table.Column, everywhere bool) {
	parts := make([]*table.Column, len(tables))
	everywhere, coded := true, like.Kind.Coded()
	for i, t := range tables {
		parts[i] = t.Column(like.Name)
		if parts[i] == nil {
			everywhere = false
			continue
		}
		coded = coded || parts[i].Kind.Coded()
	}
	out := *like
	if !coded {
		out.Numbers = make([]float64, 0, rows)
	} else {
		out.Numbers, out.Codes, out.Levels = nil, make([]int32, 0, rows), nil
	}
	coder := table.NewCoder()
	for i, part := range parts {
		switch {
		case part == nil:
			part = (&table.Column{Kind: like.Kind}).Pick(slices.Repeat([]int{-1}, tables[i].Rows()))
			if coded != like.Kind.Coded() {
				part = grouping(part)
			}
		case coded:
			part = grouping(part)
		case part.Kind != like.Kind:
			w.fail(
				at,
				fmt.Sprintf("%s is a %s here and a %s in %s", like.Name, like.Kind, part.Kind, names[i]),
				"read it as the same kind in both first",
			)
		}
		if !coded {
			out.Numbers = append(out.Numbers, part.Numbers...)
			if part.Grain == table.Second {
				out.Grain = table.Second
			}
			continue
		}
		appendCodes(&out, part, coder)
	}
	if coded {
		out.Levels = coder.Levels()
		mergeKinds(&out, parts)
	}
	return &out, everywhere
}

func appendCodes(out *table.Column, part *table.Column, coder *table.Coder) {
	code := make([]int32, len(part.Levels))
	for i, level := range part.Levels {
		code[i] = coder.Code([]byte(level))
	}
	for _, old := range part.Codes {
		if old >= 0 {
			old = code[old]
		}
		out.Codes = append(out.Codes, old)
	}
}

// mergeKinds chooses what the coded parts make together: what they all are, else
// groups where one of them is groups; yes / no only with the same two words.
func mergeKinds(out *table.Column, parts []*table.Column) {
	out.Grain = ""
	for _, part := range parts {
		if part != nil && part.Kind != out.Kind && (out.Kind != table.Ordered) {
			out.Kind = table.Category
			if part.Kind == table.Ordered {
				out.Kind = table.Ordered
			}
		}
	}
	if out.Kind == table.YesNo && len(out.Levels) != 2 {
		out.Kind = table.Category
	}
	if out.Kind == table.Category {
		out.SortLevels(nil)
	}
	if out.Kind == table.Ordered && numeric(out.Levels) {
		out.SortLevels(func(a, b string) bool {
			x, _ := strconv.ParseFloat(a, 64)
			y, _ := strconv.ParseFloat(b, 64)
			return x < y
		})
	}
}

func numeric(levels []string) bool {
	for _, level := range levels {
		if _, err := strconv.ParseFloat(level, 64); err != nil {
			return false
		}
	}
	return true
}
