package prepare

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"copperlark/core/clause"
	"copperlark/core/scale"
	"copperlark/core/table"
)

var keepColumnsClause = says(
	clause.Clause[Step]{Name: "keep columns", Help: "these columns alone, in this order", Example: "keep columns apiary, season, honey_kg",
		Pieces: clause.Columns(func(k *keepColumns) *[]string { return &k.Columns })},
	func(k *keepColumns, s *clause.Speech) {
		s.Sentence("Keep the columns ")
		speakNames(s, k.Columns)
	},
)

// keepColumns keeps the named columns, in the order in which they are named.
type keepColumns struct{ Columns []string }

func (k *keepColumns) do(w *work) (*table.Table, Effect) {
	before := len(w.table.Columns())
	columns := w.columns(k.Columns)
	return w.build(columns), Effect{Words: scale.Counted(len(columns)-before, "column")}
}

var dropColumnsClause = says(clause.Clause[Step]{Name: "drop columns", Help: "takes columns away", Example: "drop columns remarks, photo",
	Pieces: clause.Columns(func(d *dropColumns) *[]string { return &d.Columns })},
	func(d *dropColumns, s *clause.Speech) {
		s.Sentence("Drop the columns ")
		speakNames(s, d.Columns)
	})

type dropColumns struct{ Columns []string }

func (d *dropColumns) do(w *work) (*table.Table, Effect) {
	away := w.columns(d.Columns)
	columns := slices.DeleteFunc(slices.Clone(w.table.Columns()), func(c *table.Column) bool { return slices.Contains(away, c) })
	if len(columns) == 0 {
		w.fail(w.whole, "this leaves no column", "keep one column at least")
	}
	return w.build(columns), Effect{Words: scale.Counted(len(columns)-len(w.table.Columns()), "column")}
}

var renameClause = says(
	clause.Clause[Step]{Name: "rename", Help: "gives columns other names", Example: "rename honey_kg to yield, mites to mite_load",
		Pieces: []clause.Piece{clause.Each(
			func(r *rename) *[]*newName { return &r.Names },
			clause.Column(
				func(n *newName) *string { return &n.Column },
			),
			clause.Say("to"),
			clause.Name(func(n *newName) *string { return &n.Name }),
		)}},
	func(r *rename, s *clause.Speech) {
		s.Sentence("Rename ")
		for i, n := range r.Names {
			if i > 0 {
				s.Say(", ")
			}
			s.Column(n.Column, slot)
			s.Say(" to " + n.Name)
		}
	},
)

// rename gives columns other names, all at once, so that two can change places. What people
// call a column goes with its old name.
type rename struct{ Names []*newName }

type newName struct{ Column, Name string }

func (r *rename) do(w *work) (*table.Table, Effect) {
	columns := slices.Clone(w.table.Columns())
	for _, n := range r.Names {
		at := slices.Index(w.table.Columns(), w.column(n.Column))
		named := *columns[at]
		named.Name, named.Label = n.Name, ""
		columns[at] = &named
	}
	called := map[string]int{}
	for _, column := range columns {
		called[column.Name]++
	}
	for _, n := range r.Names {
		if called[n.Name] > 1 {
			w.fail(
				w.at(&n.Name),
				fmt.Sprintf("two columns would be called %s", n.Name),
				"choose another name, or drop the other column first",
			)
		}
	}
	return w.build(columns), Effect{Words: scale.Counted(len(r.Names), "name")}
}

var fillDownClause = says(
	clause.Clause[Step]{Name: "fill down", Help: "missing values take the last one above them", Example: "fill down district, season",
		Pieces: append(clause.Columns(func(f *fillDown) *[]string { return &f.Columns }),
			listed(func(f *fillDown) *[]string { return &f.Within }, "never from one group into another", clause.Say("within")))},
	func(f *fillDown, s *clause.Speech) {
		s.Sentence("Fill down ")
		speakNames(s, f.Columns)
		if f.Within != nil {
			s.Say(" within ")
			speakNames(s, f.Within)
		}
	},
)

// fillDown puts the last value above into missing places, as sheets leave them where a
// value is written once for the rows below. Within groups, the last value of the same
// group; a row without a group is not filled.
type fillDown struct{ Columns, Within []string }

func (f *fillDown) do(w *work) (*table.Table, Effect) {
	groups, count := w.groups(f.Within)
	var made []*table.Column
	filled := 0
	for _, column := range w.columns(f.Columns) {
		last, from := slices.Repeat([]int{-1}, count), make([]int, len(groups))
		for row := range from {
			from[row] = row
			group := groups[row]
			switch {
			case group < 0:
			case !column.Missing(row):
				last[group] = row
			case last[group] >= 0:
				from[row] = last[group]
				filled++
			}
		}
		made = append(made, column.Pick(from))
	}
	return w.with(made...), Effect{Words: scale.Counted(filled, "value") + " filled"}
}

// groups codes the combinations of groups of columns; without columns all rows are one group.
func (w *work) groups(names []string) (codes []int32, count int) {
	if names == nil {
		return make([]int32, w.table.Rows()), 1
	}
	codes, combinations := combine(groupings(w.columns(names)), w.table.Rows(), false)
	return codes, len(combinations)
}

var sampleClause = says(
	clause.Clause[Step]{Name: "sample", Help: "so many rows by chance, the same ones each time", Example: "sample 500 rows",
		Pieces: []clause.Piece{
			clause.Count(
				func(s *sample) *int { return &s.Count },
				clause.Range{From: 1, To: DefaultMaxRows, Expected: "how many rows", Message: "expected how many rows"},
			),
			clause.OneOf(
				"rows",
				clause.Option[sample]{Pieces: []clause.Piece{clause.Say("rows")}, Is: func(s *sample) bool { return s.Count != 1 }},
				clause.Option[sample]{Pieces: []clause.Piece{clause.Say("row")}, Is: func(s *sample) bool { return s.Count == 1 }},
			),
			listed(func(s *sample) *[]string { return &s.Each }, "so many of each group", clause.Say("of each")),
		}},
	func(a *sample, s *clause.Speech) {
		s.Sentence("Sample ")
		s.Way(scale.Counted(a.Count, "row"), slot)
		if a.Each != nil {
			s.Say(" of each ")
			speakNames(s, a.Each)
		}
	},
)

// sample keeps rows drawn without replacement, every set of that size equally likely, in
// the order in which they stood; of each group where groups are said, and then rows without
// a group leave. A group of fewer rows is kept whole. The same seed draws the same rows.
// Method: reservoir sampling (Vitter 1985, algorithm R).
type sample struct {
	Count int
	Each  []string
}

func (s *sample) do(w *work) (*table.Table, Effect) {
	groups, count := w.groups(s.Each)
	source := rand.New(rand.NewPCG(w.seed, uint64(s.Count)))
	drawn, seen := make([][]int, count), make([]int, count)
	for row, group := range groups {
		if group < 0 {
			continue
		}
		seen[group]++
		if len(drawn[group]) < s.Count {
			drawn[group] = append(drawn[group], row)
		} else if at := source.IntN(seen[group]); at < s.Count {
			drawn[group][at] = row
		}
	}
	chosen := make([]bool, len(groups))
	for _, list := range drawn {
		for _, row := range list {
			chosen[row] = true
		}
	}
	t, away := w.chosen(func(row int) bool { return chosen[row] })
	return t, gone(away)
}
