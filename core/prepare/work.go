package prepare

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/table"
)

// work is a step being done to a table.
type work struct {
	ctx         context.Context
	table       *table.Table
	seed        uint64
	environment Environment

	places  clause.Places
	whole   clause.Place // of the clause
	begins  clause.Place // of the words that begin it
	example string

	rows   []int // for each row of the result the row of the table that it was; nil: the same rows
	fresh  bool  // rows of the result are no rows of the table
	unseen bool  // rows that are taken away are not told

	weighed int // values that the clause makes, of which Environment.Weigh knows
}

// halted ends a step for a reason that is no mistake of the clause.
type halted struct{ err error }

// apply reads a clause and does it.
func apply(
	ctx context.Context,
	t *table.Table,
	text string,
	position int,
	environment Environment,
) (w *work, result *table.Table, effect Effect, err error) {
	step, places, mistakes := grammar.ParsePlaced(text, t)
	if mistakes != nil {
		m := mistakes[0]
		return nil, nil, effect, &Mistake{From: m.From, To: m.From + max(1, m.Length), Message: m.Message, Advice: m.Advice}
	}
	entry := grammar.Of(step)
	w = &work{ctx: ctx, table: t, seed: environment.Seed + uint64(position), environment: environment, places: places,
		whole: clause.Place{To: len([]rune(text))}, begins: clause.Place{To: len(entry.Name)}, example: entry.Example}
	defer func() {
		if fault := recover(); fault != nil {
			switch fault := fault.(type) {
			case *Mistake:
				err = fault
			case halted:
				err = fault.err
			default:
				panic(fault)
			}
		}
	}()
	result, effect = step.Action.do(w)
	return w, result, effect, ctx.Err()
}

// fail ends the step; without advice it says the clause's example.
func (w *work) fail(at clause.Place, message, advice string) {
	if advice == "" {
		advice = "say it like this: " + w.example
	}
	panic(&Mistake{From: at.From, To: max(at.To, at.From+1), Message: message, Advice: advice})
}

// at is where something was said, by the address of what holds it; the whole clause where
// it was not said.
func (w *work) at(address any) clause.Place {
	if place, said := w.places[address]; said {
		return place
	}
	return w.whole
}

func (w *work) item(list *[]string, i int) clause.Place {
	return w.at(clause.Item{List: list, Index: i})
}

// check turns an error of the expression at an address into one of the clause.
func (w *work) check(err error, address any) {
	place := w.at(address)
	var mistake *formula.Error
	if errors.As(err, &mistake) {
		w.fail(clause.Place{From: place.From + mistake.From, To: place.From + mistake.To}, mistake.Message, mistake.Advice)
	}
	if err != nil {
		w.fail(place, err.Error(), "")
	}
}

// column is a column that the clause names: reading it made sure that there is one.
func (w *work) column(name string) *table.Column { return w.table.Said(name) }

func (w *work) columns(names []string) []*table.Column {
	list := make([]*table.Column, len(names))
	for i, name := range names {
		list[i] = w.column(name)
	}
	return list
}

// expression works out the expression at an address.
func (w *work) expression(text *string, name string) (*table.Column, int) {
	f, err := formula.Parse(*text)
	w.check(err, text)
	column, faults, err := f.Column(w.ctx, w.table, name, w.seed)
	w.check(err, text)
	if column.Kind == table.Number && f.Lasts(w.table) {
		column.Kind = table.Duration
	}
	return column, faults
}

// with gives the table with columns added, or put in the place of their namesakes.
func (w *work) with(made ...*table.Column) *table.Table {
	columns := slices.Clone(w.table.Columns())
	for _, column := range made {
		if at := slices.IndexFunc(columns, func(old *table.Column) bool { return old.Name == column.Name }); at >= 0 {
			columns[at] = column
		} else {
			columns = append(columns, column)
		}
	}
	return w.build(columns)
}

func (w *work) build(columns []*table.Column) *table.Table {
	t, err := table.New(columns...)
	if err != nil {
		w.fail(w.whole, err.Error(), "choose another name")
	}
	return t
}

// grouping reads a column as groups.
func grouping(column *table.Column) *table.Column {
	if column.Kind.Coded() {
		return column
	}
	return column.AsGroups(math.MaxInt)
}

// groupings reads columns as groups.
func groupings(columns []*table.Column) []*table.Column {
	parts := make([]*table.Column, len(columns))
	for i, column := range columns {
		parts[i] = grouping(column)
	}
	return parts
}

// maxTableCells bounds the tables that clauses make, rows times columns.
const maxTableCells = 200_000_000

// weighStep is how many values a clause makes before they are weighed again.
const weighStep = 1 << 20

// bound refuses to make more rows than the limit, or a table of too many cells, and weighs what is made
// before memory is taken for it.
func (w *work) bound(rows, columns int, at clause.Place, advice string) {
	limit := w.environment.MaxRows
	if limit == 0 {
		limit = DefaultMaxRows
	}
	if rows > limit {
		w.fail(at, fmt.Sprintf("this makes more than %s rows, the limit for a clause", count(limit)), advice)
	}
	if rows > maxTableCells/max(columns, 1) {
		w.fail(at, fmt.Sprintf("this makes a table of more than %s values, the limit for a clause", count(maxTableCells)), advice)
	}
	if made := rows*max(columns, 1) - w.weighed; made >= weighStep && w.environment.Weigh != nil {
		if err := w.environment.Weigh(w.ctx, int64(made)); err != nil {
			panic(halted{err})
		}
		w.weighed += made
	}
}
