// Package prepare gets a table into shape: clauses that read, leave out, keep, work
// out, join, order, group, stack and sort, each a line of text, applied one after
// the other. Tables that are given are never changed.
//
// A worked example:
//
//	leave out missing honey_kg
//	keep season >= 2029 and district in ('Brindle', 'Tarn')
//	work out income = honey_kg * price
//	for each district: mean_income = mean(income), hives = count()
//	sort by mean_income descending
package prepare

import (
	"context"
	"errors"
	"slices"

	"copperlark/core/table"
)

// Clause is one step of a preparation; one that is off is kept and not done.
type Clause struct {
	Text string `json:"text" maxLength:"10000"`
	Off  bool   `json:"off,omitempty"`

	Kept *Effect `json:"kept,omitempty" doc:"what it did to the version that it was kept for"`
}

// WithEffects are the clauses with what each did, as they are kept.
func WithEffects(clauses []Clause, effects []Effect) []Clause {
	kept := slices.Clone(clauses)
	for i := range min(len(kept), len(effects)) {
		kept[i].Kept = &effects[i]
	}
	return kept
}

// Effect is what a clause did.
type Effect struct {
	Before int    `json:"before" doc:"rows before the clause"`
	After  int    `json:"after" doc:"rows after it"`
	Faults int    `json:"faults,omitempty" doc:"values that an operation did not have, such as a division by zero"`
	Words  string `json:"words" doc:"what it did, in a few words"`
	Makes  string `json:"makes,omitempty" doc:"the column that it works out"`
}

// Mistake is an error in a clause. From and To count characters of the clause from 0.
type Mistake struct {
	Clause  int    `json:"clause" doc:"the clause at fault, 0 for the first"`
	From    int    `json:"from"`
	To      int    `json:"to"`
	Message string `json:"message"`
	Advice  string `json:"advice"`
}

func (e *Mistake) Error() string { return e.Message }

// offMark begins a clause that is switched off, in the typed form.
const offMark = "off "

// Environment is what clauses may reach beside the table that they are given.
type Environment struct {
	Seed    uint64 // what random expressions draw from
	Name    string // of the table, for "add rows of … naming each in source"
	MaxRows int    // that a clause may make; 0: DefaultMaxRows
	Aside   bool   // it is run for the rows that are set aside, and not for the others

	// Weigh is told of values before a clause makes them, a million and more at a time, and may keep it
	// waiting; its error ends the preparation. nil: nobody weighs.
	Weigh func(ctx context.Context, values int64) error

	// Dataset gives the table of another dataset by the name that people gave it, or
	// that name as one word; version 0 is the newest. Its error is told as it stands.
	// nil: there are no others.
	Dataset func(ctx context.Context, name string, version int) (*table.Table, error)
}

// DefaultMaxRows is the most rows that a clause may make.
const DefaultMaxRows = 20_000_000

// LeftOut is a row of the table that was begun with and the clause that took it away.
type LeftOut struct {
	Row    int32
	Clause int
}

// State is a table on its way through a preparation. A state is never changed:
// applying a clause gives a new one, so that states can be kept and gone on from.
type State struct {
	Table   *table.Table
	Effects []Effect
	// LeftOut are the rows that clauses took away, in the order of the clauses, as
	// long as rows were rows of the table that was begun with: summing up, laying
	// out, adding and making rows ends the counting.
	LeftOut []LeftOut

	rows []int32 // which row of the first table each row is; nil: the same
	lost bool    // rows are no longer rows of the first table
}

// Begin is the state before the first clause.
func Begin(t *table.Table) *State { return &State{Table: t} }

// Run applies clauses to a table. On a mistake it gives an *Mistake that names the
// clause, and the state before it.
func Run(ctx context.Context, t *table.Table, clauses []Clause, environment Environment) (*State, error) {
	state := Begin(t)
	for _, c := range clauses {
		next, err := state.Apply(ctx, c, environment)
		if err != nil {
			return state, err
		}
		state = next
	}
	return state, nil
}

// Apply applies one more clause. A mistake is an *Mistake.
func (s *State) Apply(ctx context.Context, c Clause, environment Environment) (*State, error) {
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	next := *s
	position := len(s.Effects)
	if c.Off {
		next.Effects = append(slices.Clone(s.Effects), Effect{Before: s.Table.Rows(), After: s.Table.Rows(), Words: "switched off"})
		return &next, nil
	}
	done, result, effect, err := apply(ctx, s.Table, c.Text, position, environment)
	if err != nil {
		var mistake *Mistake
		if errors.As(err, &mistake) {
			mistake.Clause = position
		}
		return nil, err
	}
	next.Table = result
	effect.Before, effect.After = s.Table.Rows(), result.Rows()
	next.Effects = append(slices.Clone(s.Effects), effect)
	next.follow(done, s.Table.Rows(), position)
	return &next, nil
}

// follow keeps count of which rows are left of the first table.
func (s *State) follow(done *work, before, position int) {
	switch {
	case s.lost:
		return
	case done.fresh:
		s.lost, s.rows = true, nil
		return
	case done.rows == nil:
		return
	}
	first := func(row int) int32 {
		if s.rows == nil {
			return int32(row)
		}
		return s.rows[row]
	}
	present := make([]bool, before)
	rows := make([]int32, len(done.rows))
	for i, row := range done.rows {
		present[row], rows[i] = true, first(row)
	}
	gone := slices.Clone(s.LeftOut)
	for row, there := range present {
		if !there && !done.unseen {
			gone = append(gone, LeftOut{first(row), position})
		}
	}
	s.rows, s.LeftOut = rows, gone
}
