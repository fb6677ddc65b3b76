package app

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"
	"unicode"

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
	LeftOut int              `json:"left_out" doc:"rows of the version that clauses took away"`
	Columns []ColumnProfile  `json:"columns"`
	First   [][]string       `json:"first" doc:"the first rows, as text"`
}

// preparationSeed is what random expressions draw from: a preparation always makes
// the same table.
const preparationSeed = 2027

// preparedCache holds the last states by version and clauses, so that keeping what
// was just tried, adding a clause to it, or looking at it otherwise computes nothing
// again.
type preparedCache struct {
	mutex   sync.Mutex
	entries []preparedEntry
}

type preparedEntry struct {
	version int64
	typed   string // of the clauses so far
	uses    []usedDataset
	state   *prepare.State
	size    int64
}

// usedDataset is another dataset that a clause names, and the version that it was
// found to be: when the name means another version, the result is no longer good.
type usedDataset struct {
	name             string
	number           int
	spaceID, version int64
}

const (
	preparedEntries = 24
	preparedBytes   = 1 << 30
)

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
	e.size = tableBytes(e.state.Table)
	p.mutex.Lock()
	defer p.mutex.Unlock()
	p.entries = slices.DeleteFunc(p.entries, func(old preparedEntry) bool { return old.version == e.version && old.typed == e.typed })
	p.entries = append(p.entries, e)
	size := int64(0)
	for _, kept := range p.entries {
		size += kept.size
	}
	for len(p.entries) > 1 && (len(p.entries) > preparedEntries || size > preparedBytes) {
		size -= p.entries[0].size
		p.entries = p.entries[1:]
	}
}

// oneWord is a dataset's name as one word of a clause: "Hive seasons" is hive_seasons.
func oneWord(name string) string {
	return strings.Join(strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), "_")
}

// versionNamed finds the version of a space's dataset that a clause means.
func (a *App) versionNamed(ctx context.Context, spaceID int64, name string, number int) (int64, error) {
	datasets, err := a.store.Datasets(ctx, spaceID)
	if err != nil {
		return 0, err
	}
	var found []Dataset
	var names []string
	for _, d := range datasets {
		names = append(names, d.Name)
		if strings.EqualFold(d.Name, name) || oneWord(d.Name) == oneWord(name) {
			found = append(found, d)
		}
	}
	if len(found) == 0 {
		message := fmt.Sprintf("no dataset is called %s", name)
		if near := chart.Nearest(name, names); near != "" {
			message += "; there is " + near
		}
		return 0, &Invalid{Message: message}
	}
	if len(found) > 1 {
		return 0, &Invalid{Message: fmt.Sprintf("%d datasets are called %s; give one of them another name", len(found), found[0].Name)}
	}
	if number == 0 {
		return found[0].VersionID, nil
	}
	versions, err := a.store.Versions(ctx, spaceID, found[0].ID)
	if err != nil {
		return 0, err
	}
	for _, v := range versions {
		if v.Number == number {
			return v.ID, nil
		}
	}
	return 0, &Invalid{Message: fmt.Sprintf("%s has no version %d", found[0].Name, number)}
}

// stillGood reports whether the names in a state's clauses mean what they meant.
func (a *App) stillGood(ctx context.Context, e preparedEntry) bool {
	for _, used := range e.uses {
		if now, err := a.versionNamed(ctx, used.spaceID, used.name, used.number); err != nil || now != used.version {
			return false
		}
	}
	return true
}

// prepared applies clauses from the longest beginning that was computed before. On
// a mistake the state is that before it.
func (a *App) prepared(ctx context.Context, spaceID, versionID int64, clauses []prepare.Clause) (*prepare.State, error) {
	t, dataset, err := a.Table(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
	state := prepare.Begin(t)
	var uses []usedDataset
	for n := len(clauses); n > 0; n-- {
		if e, ok := a.preparations.get(versionID, prepare.Print(clauses[:n])); ok && a.stillGood(ctx, e) {
			state, uses = e.state, e.uses
			break
		}
	}
	environment := prepare.Environment{Seed: preparationSeed, Name: dataset.Name, Dataset: func(ctx context.Context, name string, number int) (*table.Table, error) {
		version, err := a.versionNamed(ctx, spaceID, name, number)
		if err != nil {
			return nil, err
		}
		uses = append(slices.Clone(uses), usedDataset{name, number, spaceID, version})
		other, _, err := a.Table(ctx, spaceID, version)
		return other, err
	}}
	for i := len(state.Effects); i < len(clauses); i++ {
		next, err := state.Apply(ctx, clauses[i], environment)
		if err != nil {
			return state, err
		}
		state = next
		a.preparations.put(preparedEntry{version: versionID, typed: prepare.Print(clauses[:i+1]), uses: uses, state: state})
	}
	return state, nil
}

// tried is prepared for looking at: a mistake is no error, and what stands before it
// is shown.
func (a *App) tried(ctx context.Context, spaceID, versionID int64, typed string) (*prepare.State, *prepare.Mistake, error) {
	state, err := a.prepared(ctx, spaceID, versionID, prepare.Parse(typed))
	var mistake *prepare.Mistake
	if errors.As(err, &mistake) {
		return state, mistake, nil
	}
	return state, nil, err
}

// Prepare tries a typed preparation on a version, without keeping it. A mistake is
// part of the answer, with what the clauses before it make.
func (a *App) Prepare(ctx context.Context, spaceID, versionID int64, typed string) (*Prepared, error) {
	clauses := prepare.Parse(typed)
	state, mistake, err := a.tried(ctx, spaceID, versionID, typed)
	if err != nil {
		return nil, err
	}
	meanings, err := a.meaningsOf(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
	out := &Prepared{Typed: prepare.Print(clauses), Clauses: clauses, Effects: state.Effects, Mistake: mistake, Rows: state.Table.Rows(), LeftOut: len(state.LeftOut), First: RowValues(state.Table, 0, 20)}
	if out.Clauses == nil {
		out.Clauses = []prepare.Clause{}
	}
	if out.Effects == nil {
		out.Effects = []prepare.Effect{}
	}
	out.Columns, err = profiles(ctx, meanings.on(state.Table))
	return out, err
}

// KeepPreparation keeps a prepared table as the dataset's next version.
func (a *App) KeepPreparation(ctx context.Context, spaceID, versionID int64, typed string) (Version, error) {
	clauses := prepare.Parse(typed)
	if len(clauses) == 0 {
		return Version{}, &Invalid{Message: "the preparation says nothing", Advice: "add a clause, such as keep frames > 6"}
	}
	state, err := a.prepared(ctx, spaceID, versionID, clauses)
	var mistake *prepare.Mistake
	if errors.As(err, &mistake) {
		return Version{}, &Invalid{Message: mistake.Message, Advice: mistake.Advice}
	}
	if err != nil {
		return Version{}, err
	}
	t := state.Table
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
		var misfits []string
		for _, p := range problems {
			misfits = append(misfits, fmt.Sprintf("%s (%s)", p.Clause, p.Message))
		}
		return &Invalid{Message: "these clauses of the chart do not fit the newer version: " + strings.Join(misfits, "; "), Advice: "say them otherwise, or keep a version that has what they need", Problems: problems}
	}
	return a.store.MoveChart(ctx, spaceID, chartID, versionID)
}
