// Package source reads tables that stay where a team has them: in a database that an operator names in the
// settings. People never type an address or a statement; what is asked is built from the types of the columns.
//
// A source is asked in snapshots, which see one state of the table and change nothing.
package source

import (
	"context"
	"errors"
	"fmt"
	"time"

	"copperlark/core/summary"
	"copperlark/core/table"
)

// Source is a database with the tables of it that may be read.
type Source interface {
	// Name is what people call it.
	Name() string
	// Describe tells of its tables; one that cannot be read says why in its Trouble.
	Describe(ctx context.Context) ([]Table, error)
	// Begin looks at one table as it stands now. Whoever begins a snapshot ends it.
	Begin(ctx context.Context, table string) (Snapshot, error)
}

// Snapshot is one state of a table.
type Snapshot interface {
	// Rows draws rows.
	Rows(ctx context.Context, draw Draw) (*Drawn, error)
	// Groups answers a question about all rows; part is told how many parts of the table are done, of how many. What would
	// bring the rows themselves here is refused.
	Groups(ctx context.Context, q *summary.Question, part func(done, of int)) (*Told, error)
	End()
}

// Told is an answer with what was asked for it.
type Told struct {
	*summary.Answer
	Statement string // the last one, of many that differ in the part of the table that they are about
	Parts     int
}

// Table is what is known of a table without reading it.
type Table struct {
	Name    string     `json:"name" doc:"as the settings name it"`
	Meaning string     `json:"meaning,omitempty" doc:"what the database says of it"`
	Rows    int64      `json:"rows" doc:"about how many, as the database reckons; -1: it does not know"`
	Bytes   int64      `json:"bytes" doc:"on the database's disks; 0: it does not know"`
	Columns int        `json:"columns" doc:"those that may be read"`
	AsOf    *time.Time `json:"as_of,omitempty" doc:"when the database last reckoned"`
	Key     string     `json:"key,omitempty" doc:"the column by which rows are drawn"`
	Trouble string     `json:"trouble,omitempty" doc:"why it cannot be read"`
}

// Draw is which rows are wanted: at most so many, drawn at random by a seed where there are more.
type Draw struct {
	Rows  int
	Seed  int64
	Cells int64 // rows times columns that may be held; beyond, the draw is refused
	// Counted has the rows taken that count for a question, as many as there are or as may be, in no order; nil: rows are drawn.
	Counted  *summary.Question
	Progress func(taken int) // called from time to time; may be nil
}

// Drawn is what came of a draw.
type Drawn struct {
	Table   *table.Table
	Of      int64    // how many rows there are, -1: nobody knows
	Counted bool     // Of was counted; otherwise the database reckons it
	All     bool     // no row was left out
	Notes   []string // what was read otherwise than it stands, and what was left out
}

// Words say what was drawn: "1,000,000 of about 1,204,000,000 rows, drawn at random with seed 42".
func (d *Drawn) Words(seed int64, grouped func(n int64) string) string {
	n := grouped(int64(d.Table.Rows()))
	switch {
	case d.All:
		return "all " + n + " rows"
	case d.Of < 0:
		return fmt.Sprintf("%s rows, drawn at random with seed %d", n, seed)
	case d.Counted:
		return fmt.Sprintf("%s of %s rows, drawn at random with seed %d", n, grouped(d.Of), seed)
	}
	return fmt.Sprintf("%s of about %s rows, drawn at random with seed %d", n, grouped(d.Of), seed)
}

// Trouble is why a source cannot answer, in words that may be shown: it names no server and holds no statement.
type Trouble struct{ Problem, Advice string }

func (t *Trouble) Error() string { return t.Problem }

// ErrUnknown is met where a table is asked for that the settings do not name.
var ErrUnknown = errors.New("no such table")

// plainTrouble says what is wrong where it has nothing to do with what a database said: nothing, what is in words already,
// that whoever asked left, and that it took too long.
func plainTrouble(ctx context.Context, err error) (said error, is bool) {
	var known *Trouble
	switch {
	case err == nil:
		return nil, true
	case errors.As(err, &known):
		return known, true
	case errors.Is(ctx.Err(), context.Canceled):
		return ctx.Err(), true
	case errors.Is(ctx.Err(), context.DeadlineExceeded) || errors.Is(err, context.DeadlineExceeded):
		return &Trouble{"the database did not answer in time", "ask for fewer rows, or later"}, true
	}
	return nil, false
}
