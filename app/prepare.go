package app

import (
	"context"
	"errors"
	"fmt"
	"math"
	"sync"

	"copperlark/core/chart"
	"copperlark/core/prepare"
	"copperlark/core/table"
)

// Prepared is what a preparation makes of a version.
type Prepared struct {
	Typed   string           `json:"typed"`
	Clauses []prepare.Clause `json:"clauses"`
	Effects []prepare.Effect `json:"effects" doc:"of the clauses up to the mistake, if there is one"`
	Mistake *prepare.Mistake `json:"mistake,omitempty"`
	Rows    int              `json:"rows"`
	Columns []ColumnProfile  `json:"columns"`
	First   [][]string       `json:"first" doc:"the first rows, as text"`
}

// preparationSeed is what random expressions draw from: a preparation always makes
// the same table.
const preparationSeed = 2027

// preparedCache holds the last results by version and clauses, so that keeping what
// was just tried, or adding a clause to it, computes nothing again.
type preparedCache struct {
	mutex   sync.Mutex
	entries []preparedEntry
}

type preparedEntry struct {
	version int64
	typed   string // of the clauses so far
	table   *table.Table
	effects []prepare.Effect
}

const preparedEntries = 12

func (p *preparedCache) get(version int64, typed string) (preparedEntry, bool) {
	p.mutex.Lock()
	defer p.mutex.Unlock()
	for _, e := range p.entries {
		if e.version == version && e.typed == typed {
			return e, true
		}
	}
	return preparedEntry{}, false
}

func (p *preparedCache) put(e preparedEntry) {
	p.mutex.Lock()
	defer p.mutex.Unlock()
	p.entries = append(p.entries, e)
	if len(p.entries) > preparedEntries {
		p.entries = p.entries[1:]
	}
}

// prepared applies clauses from the longest beginning that was computed before.
func (a *App) prepared(ctx context.Context, spaceID, versionID int64, clauses []prepare.Clause) (*table.Table, []prepare.Effect, error) {
	t, _, err := a.Table(ctx, spaceID, versionID)
	if err != nil {
		return nil, nil, err
	}
	effects := []prepare.Effect{}
	done := 0
	for n := len(clauses); n > 0; n-- {
		if e, ok := a.preparations.get(versionID, prepare.Print(clauses[:n])); ok {
			t, effects, done = e.table, append(effects, e.effects...), n
			break
		}
	}
	for i := done; i < len(clauses); i++ {
		next, effect, err := prepare.Run(ctx, t, clauses[i:i+1], preparationSeed+uint64(i))
		var mistake *prepare.Mistake
		if errors.As(err, &mistake) {
			mistake.Clause = i
		}
		if err != nil {
			return t, effects, err
		}
		t, effects = next, append(effects, effect...)
		a.preparations.put(preparedEntry{versionID, prepare.Print(clauses[:i+1]), t, append([]prepare.Effect{}, effects...)})
	}
	return t, effects, nil
}

// Prepare tries a typed preparation on a version, without keeping it. A mistake is
// part of the answer, with what the clauses before it make.
func (a *App) Prepare(ctx context.Context, spaceID, versionID int64, typed string) (*Prepared, error) {
	clauses := prepare.Parse(typed)
	t, effects, err := a.prepared(ctx, spaceID, versionID, clauses)
	out := &Prepared{Typed: prepare.Print(clauses), Clauses: clauses, Effects: effects, Columns: []ColumnProfile{}}
	if out.Clauses == nil {
		out.Clauses = []prepare.Clause{}
	}
	if err != nil && !errors.As(err, &out.Mistake) {
		return nil, err
	}
	out.Rows, out.First = t.Rows(), RowValues(t, 0, 200)
	for _, c := range t.Columns() {
		out.Columns = append(out.Columns, ProfileOf(c))
	}
	return out, nil
}

// KeepPreparation keeps a prepared table as the dataset's next version.
func (a *App) KeepPreparation(ctx context.Context, spaceID, versionID int64, typed string) (Version, error) {
	clauses := prepare.Parse(typed)
	if len(clauses) == 0 {
		return Version{}, &Invalid{Message: "the preparation says nothing", Advice: "add a clause, such as keep frames > 6"}
	}
	t, _, err := a.prepared(ctx, spaceID, versionID, clauses)
	var mistake *prepare.Mistake
	if errors.As(err, &mistake) {
		return Version{}, &Invalid{Message: mistake.Message, Advice: mistake.Advice}
	}
	if err != nil {
		return Version{}, err
	}
	if t.Rows() == 0 || t.Rows() > math.MaxInt32 {
		return Version{}, &Invalid{Message: fmt.Sprintf("the prepared table has %d rows", t.Rows()), Advice: "change the clause that took them away"}
	}
	return a.store.AddVersion(ctx, spaceID, versionID, t, clauses)
}

// Versions lists a dataset's versions, the newest first.
func (a *App) Versions(ctx context.Context, spaceID, datasetID int64) ([]Version, error) {
	return a.store.Versions(ctx, spaceID, datasetID)
}

// MoveChart makes a chart use another version of its dataset. Clauses that do not
// fit it are named, and then nothing is changed.
func (a *App) MoveChart(ctx context.Context, spaceID, chartID, versionID int64) error {
	kept, err := a.store.Chart(ctx, spaceID, chartID)
	if err != nil {
		return err
	}
	t, _, err := a.Table(ctx, spaceID, versionID)
	if err != nil {
		return err
	}
	if problems := chart.Check(kept.Document, t); problems != nil {
		return &Invalid{Message: "the chart does not fit the newer version: " + problems[0].Message, Advice: problems[0].Advice, Problems: problems}
	}
	return a.store.MoveChart(ctx, spaceID, chartID, versionID)
}
