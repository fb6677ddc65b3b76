package prepare

import (
	"fmt"
	"math"
	"time"

	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/table"
)

// groupKey is a column whose groups get a row each; of a date, a step of it.
type groupKey struct{ Step, Column string }

// groupStep is a step in which a column of dates can be summed up.
type groupStep struct {
	name, help string
	of         func(column *table.Column) *table.Column
}

// beginning is the date at which each step begins.
func beginning(part string) func(*table.Column) *table.Column {
	return func(column *table.Column) *table.Column {
		made := *column
		made.Numbers = make([]float64, len(column.Numbers))
		for i, seconds := range column.Numbers {
			made.Numbers[i] = formula.Truncate(part, seconds)
		}
		if part != "hour" {
			made.Grain = table.Day
		}
		return &made
	}
}

// groupSteps is the list of steps.
var groupSteps = []groupStep{
	{"year", "one row a year", func(column *table.Column) *table.Column {
		made := table.NewNumbers("", make([]float64, column.Len()))
		for i, seconds := range column.Numbers {
			made.Numbers[i] = math.NaN()
			if !math.IsNaN(seconds) {
				made.Numbers[i] = float64(time.Unix(int64(math.Floor(seconds)), 0).UTC().Year())
			}
		}
		made.Form = "plain"
		return made
	}},
	{"quarter", "one row a quarter", beginning("quarter")},
	{"month", "one row a month", beginning("month")},
	{"week", "one row a week, which begins on Monday", beginning("week")},
	{"weekday", "Monday to Sunday", func(column *table.Column) *table.Column {
		made := &table.Column{
			Kind:   table.Ordered,
			Codes:  make([]int32, column.Len()),
			Levels: []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"},
		}
		for i, seconds := range column.Numbers {
			made.Codes[i] = table.MissingCode
			if !math.IsNaN(seconds) {
				made.Codes[i] = int32(time.Unix(int64(math.Floor(seconds)), 0).UTC().Weekday()+6) % 7
			}
		}
		return made
	}},
	{"day", "one row a day", beginning("day")},
	{"hour", "one row an hour", beginning("hour")},
}

// groupKeyPiece is the piece that names a column, or a step of one.
var groupKeyPiece = func() clause.Piece {
	column := clause.Column(func(k *groupKey) *string { return &k.Column })
	var options []clause.Option[groupKey]
	for _, step := range groupSteps {
		options = append(
			options,
			clause.Option[groupKey]{Behind: true, Help: step.help, Pieces: []clause.Piece{clause.Phrase(step.name + " of"), column},
				Set: func(k *groupKey) { k.Step = step.name }, Is: func(k *groupKey) bool { return k.Step == step.name }},
		)
	}
	return clause.OneOf(
		"a column",
		append(options, clause.Option[groupKey]{Pieces: []clause.Piece{column}, Is: func(k *groupKey) bool { return k.Step == "" }})...)
}()

// keyColumns are the columns by which rows are summed up. A step of a date is called after
// the step, and after its column too where the name is taken.
func (w *work) keyColumns(keys []*groupKey) []*table.Column {
	columns, used := make([]*table.Column, len(keys)), map[string]bool{}
	for i, key := range keys {
		if columns[i] = w.column(key.Column); key.Step == "" {
			used[columns[i].Name] = true
		}
	}
	for i, key := range keys {
		for _, step := range groupSteps {
			if step.name != key.Step {
				continue
			}
			if columns[i].Kind != table.Date {
				w.fail(
					w.at(&key.Column),
					fmt.Sprintf("%s holds %s values and has no %s", columns[i].Name, columns[i].Kind, step.name),
					fmt.Sprintf("read %s as date first", columns[i].Name),
				)
			}
			name := step.name
			if used[name] {
				name += "_of_" + columns[i].Name
			}
			columns[i] = step.of(columns[i])
			columns[i].Name, columns[i].Label, columns[i].Meaning = freeName(name, used), "", ""
		}
	}
	return columns
}
