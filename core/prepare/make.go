package prepare

import (
	"fmt"
	"slices"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// maxMadeGroups is how many groups "make … in each of" may begin.
const maxMadeGroups = 1000

var makeClause = says(
	clause.Clause[Step]{
		Name:    "make",
		Help:    "rows from nothing, also with groups, evenly spaced numbers and dates",
		Example: "make 60 rows in each of 3 groups",
		Pieces: []clause.Piece{
			clause.Count(
				func(m *makeRows) *int { return &m.Count },
				clause.Range{From: 1, To: 1e12, Expected: "how many rows to make", Message: "expected how many rows to make"},
			),
			plural("row", func(m *makeRows) bool { return m.Count == 1 }),
			clause.Maybe(
				func(m *makeRows) bool { return m.Groups != 0 || m.Names != nil },
				nil,
				clause.Suggestion{Text: "in each of ", Help: "groups"},
				clause.Say("in each of"),
				clause.OneOf(
					"how many groups, or their names in quotes",
					clause.Option[makeRows]{
						Is:     func(m *makeRows) bool { return m.Names != nil },
						Pieces: []clause.Piece{clause.Texts(func(m *makeRows) *[]string { return &m.Names })},
					},
					clause.Option[makeRows]{Is: func(m *makeRows) bool { return m.Groups != 0 }, Pieces: []clause.Piece{
						clause.Count(
							func(m *makeRows) *int { return &m.Groups },
							clause.Range{From: 1, To: maxMadeGroups, Message: "from 1 to 1,000 groups can be made"},
						), plural("group", func(m *makeRows) bool { return m.Groups == 1 })}},
				),
			),
			clause.Maybe(
				func(m *makeRows) bool { return m.With != nil },
				nil,
				clause.Suggestion{Text: "with ", Help: "a column of evenly spaced numbers or dates"},
				clause.Say("with"),
				clause.Each(func(m *makeRows) *[]*spaced { return &m.With }, spacedPieces...),
			),
		},
	},
	func(m *makeRows, s *clause.Speech) {
		s.Sentence("Make ")
		s.Way(scale.Counted(m.Count, "row"), slot)
		switch {
		case m.Names != nil:
			s.Say(" in each of ")
			s.Way(strings.Join(m.Names, ", "), slot)
		case m.Groups != 0:
			s.Say(" in each of ")
			s.Way(scale.Counted(m.Groups, "group"), slot)
		}
		for i, with := range m.With {
			s.Say([]string{" with ", ", "}[min(i, 1)])
			s.Column(with.Name, slot)
			if with.Every != "" {
				s.Say(" every " + with.Every + " from " + with.Start)
				continue
			}
			s.Say(" from " + table.FormatNumber(with.From) + " to " + table.FormatNumber(with.To))
		}
	},
)

// plural is a piece of a word in the number that its count has; both are understood.
func plural[T any](one string, isOne func(*T) bool) clause.Piece {
	return clause.OneOf(
		"the word "+one+"s",
		clause.Option[T]{Pieces: []clause.Piece{clause.Say(one + "s")}, Is: func(t *T) bool { return !isOne(t) }},
		clause.Option[T]{Pieces: []clause.Piece{clause.Say(one)}, Is: isOne},
	)
}

// spacedPieces say one column of evenly spaced numbers or dates.
var spacedPieces = []clause.Piece{clause.Name(func(c *spaced) *string { return &c.Name }), clause.OneOf(
	"from or every",
	clause.Option[spaced]{
		Help: "dates",
		Is:   func(c *spaced) bool { return c.Every != "" },
		Pieces: []clause.Piece{
			clause.Say("every"),
			clause.OneOf(
				"a step: "+clause.Spoken(stepWays()),
				clause.Listed(func(c *spaced) *string { return &c.Every }, stepWays()...)...),
			clause.Say("from"),
			clause.Text(func(c *spaced) *string { return &c.Start }),
		},
	},
	clause.Option[spaced]{
		Help: "numbers",
		Is:   func(c *spaced) bool { return c.Every == "" },
		Pieces: []clause.Piece{clause.Say("from"), clause.Number(func(c *spaced) *float64 { return &c.From }, clause.Range{}),
			clause.Say("to"), clause.Number(func(c *spaced) *float64 { return &c.To }, clause.Range{})},
	},
)}

// makeRows starts a table from nothing: a column row that counts from 1, and what
// is asked for: groups, evenly spaced values, dates.
//
//	make 500 rows
//	make 60 rows in each of 3 groups            columns row, group (A, B, C), group_number (1, 2, 3)
//	make 60 rows in each of 'Brindle', 'Tarn'   groups with names of their own
//	make 200 rows with x from -3 to 3           both ends are reached
//	make 250 rows with day every business day from '2031-01-01'
type makeRows struct {
	Count, Groups int
	Names         []string
	With          []*spaced
}

// spaced is a column of evenly spaced numbers, or of dates a step apart; it begins anew in
// each group.
type spaced struct {
	Name         string
	From, To     float64
	Every, Start string
}

func (m *makeRows) do(w *work) (*table.Table, Effect) {
	if len(w.table.Columns()) > 0 {
		w.fail(w.begins, "make starts a table from nothing, and there is one already", "begin a new table on the front page")
	}
	at := w.at(&m.Count)
	rows, each, groups := m.Count, m.Count, m.groups(w)
	w.bound(rows, 3, at, "make fewer") // before it is multiplied
	if groups != nil {
		rows *= len(groups)
	}
	w.bound(rows, 3, at, "make fewer")
	numbers := make([]float64, rows)
	for i := range numbers {
		numbers[i] = float64(i + 1)
	}
	columns := []*table.Column{table.NewNumbers("row", numbers)}
	if groups != nil {
		group := &table.Column{Name: "group", Kind: table.Category, Levels: groups, Codes: make([]int32, rows)}
		number := make([]float64, rows)
		for i := range rows {
			group.Codes[i], number[i] = int32(i/each), float64(i/each+1)
		}
		columns = append(columns, group, table.NewNumbers("group_number", number))
	}
	for _, with := range m.With {
		columns = append(columns, with.column(w, rows, each))
	}
	w.fresh = true
	return w.build(columns), Effect{Words: scale.Counted(rows, "row")}
}

// groups are the names of the groups; nil: there are none.
func (m *makeRows) groups(w *work) []string {
	for i, name := range m.Names {
		if slices.Contains(m.Names[:i], name) {
			w.fail(w.item(&m.Names, i), fmt.Sprintf("the group %s is named twice", name), "")
		}
	}
	if m.Groups == 0 {
		return m.Names
	}
	names := make([]string, m.Groups)
	for i := range names {
		names[i] = letters(i)
	}
	return names
}

// letters are A … Z, AA, AB, …
func letters(i int) string {
	if i < 26 {
		return string(rune('A' + i))
	}
	return letters(i/26-1) + string(rune('A'+i%26))
}

func (c *spaced) column(w *work, rows, each int) *table.Column {
	values := make([]float64, rows)
	if c.Every == "" {
		for i := range values {
			values[i] = c.From
			if each > 1 {
				values[i] = c.From + (c.To-c.From)*float64(i%each)/float64(each-1)
			}
		}
		return table.NewNumbers(c.Name, values)
	}
	start, ok := formula.ReadDate(c.Start)
	if !ok {
		w.fail(w.at(&c.Start), fmt.Sprintf("%s is not a date", c.Start), "write it like '2031-01-31'")
	}
	step := dateSteps[slices.IndexFunc(dateSteps, func(s dateStep) bool { return s.name == c.Every })]
	grain := table.Day
	if step.within || table.FormatDate(start, table.Second) != table.FormatDate(start, table.Day)+" 00:00:00" {
		grain = table.Second
	}
	for i := range values {
		values[i] = step.after(start, i%each)
	}
	return &table.Column{Name: c.Name, Kind: table.Date, Grain: grain, Numbers: values}
}

// dateStep is how a column of dates goes on.
type dateStep struct {
	name   string
	within bool // a step within a day
	after  func(start float64, n int) float64
}

var dateSteps = []dateStep{
	{"business day", false, func(start float64, n int) float64 {
		return formula.AddBusinessDays(formula.AddBusinessDays(start, 0), n)
	}},
	{"day", false, func(start float64, n int) float64 { return start + 86400*float64(n) }},
	{"week", false, func(start float64, n int) float64 { return start + 7*86400*float64(n) }},
	{"month", false, func(start float64, n int) float64 { return formula.AddMonths(start, n) }},
	{"quarter", false, func(start float64, n int) float64 { return formula.AddMonths(start, 3*n) }},
	{"year", false, func(start float64, n int) float64 { return formula.AddMonths(start, 12*n) }},
	{"hour", true, func(start float64, n int) float64 { return start + 3600*float64(n) }},
	{"minute", true, func(start float64, n int) float64 { return start + 60*float64(n) }},
	{"second", true, func(start float64, n int) float64 { return start + float64(n) }},
}

func stepWays() (list []clause.Way[string]) {
	for _, step := range dateSteps {
		list = append(list, clause.Way[string]{Words: step.name, Value: step.name})
	}
	return list
}
