package app

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"

	"copperlark/core/clause"
	"copperlark/core/prepare"
	"copperlark/core/table"
	"copperlark/core/words"
)

// Prepared is what a preparation makes of a version.
type Prepared struct {
	Typed   string           `json:"typed"`
	Clauses []prepare.Clause `json:"clauses"`
	Spoken  [][]clause.Part  `json:"spoken" doc:"each clause in words, without the end of its sentence"`
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

// preparedKey is what a state is held by, so that keeping what was just tried, adding a
// clause to it, or looking at it otherwise computes nothing again.
type preparedKey struct {
	version int64
	typed   string // of the clauses so far
}

type preparedState struct {
	uses  []usedDataset
	state *prepare.State
}

// usedDataset is another dataset that a clause names, and the version that it was
// found to be: when the name means another version, the result is no longer good.
type usedDataset struct {
	name             string
	number           int
	spaceID, version int64
}

// weight is what a state takes beside the table before it: columns that a clause left
// alone are that table's.
func (p preparedState) weight(before *table.Table) int64 {
	shared := map[*table.Column]bool{}
	for _, c := range before.Columns() {
		shared[c] = true
	}
	total := int64(12 * len(p.state.LeftOut))
	for _, c := range p.state.Table.Columns() {
		if !shared[c] {
			total += columnBytes(c)
		}
	}
	return total
}

// oneWord is a dataset's name as one word of a clause: "Hive seasons" is hive_seasons.
func oneWord(name string) string {
	return strings.Join(
		strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }),
		"_",
	)
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
		if near := words.Nearest(name, names); near != "" {
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
func (a *App) stillGood(ctx context.Context, e preparedState) bool {
	for _, used := range e.uses {
		if now, err := a.versionNamed(ctx, used.spaceID, used.name, used.number); err != nil || now != used.version {
			return false
		}
	}
	return true
}

// prepared applies clauses from the longest beginning that was computed before. On
// a mistake the state is that before it.
func (a *App) prepared(
	ctx context.Context,
	t *table.Table,
	dataset Dataset,
	spaceID int64,
	clauses []prepare.Clause,
) (*prepare.State, error) {
	versionID := dataset.VersionID
	state := prepare.Begin(t)
	var uses []usedDataset
	for n := len(clauses); n > 0; n-- {
		if held, is := a.held.Get(preparedKey{versionID, prepare.Print(clauses[:n])}); is && a.stillGood(ctx, held.(preparedState)) {
			state, uses = held.(preparedState).state, held.(preparedState).uses
			break
		}
	}
	environment := a.environment(spaceID, dataset.Name, func(u usedDataset) { uses = append(slices.Clone(uses), u) })
	for i := len(state.Effects); i < len(clauses); i++ {
		next, err := state.Apply(ctx, clauses[i], environment)
		if err != nil {
			return state, err
		}
		made := preparedState{uses, next}
		a.held.Put(preparedKey{versionID, prepare.Print(clauses[:i+1])}, made, made.weight(state.Table))
		state = next
	}
	return state, nil
}

// environment is what clauses may reach; used is told each other dataset that they do, and may
// be nil.
func (a *App) environment(spaceID int64, name string, used func(usedDataset)) prepare.Environment {
	return prepare.Environment{
		Seed:  preparationSeed,
		Name:  name,
		Weigh: a.weighValues,
		Dataset: func(ctx context.Context, name string, number int) (*table.Table, error) {
			version, err := a.versionNamed(ctx, spaceID, name, number)
			if err != nil {
				return nil, err
			}
			if used != nil {
				used(usedDataset{name, number, spaceID, version})
			}
			other, _, err := a.Table(ctx, spaceID, version)
			return other, err
		},
	}
}

// others gives the newest rows of another dataset of the space by its name, as charts show them.
func (a *App) others(spaceID int64) func(context.Context, string) (*table.Table, error) {
	return func(ctx context.Context, name string) (t *table.Table, err error) {
		version, err := a.versionNamed(ctx, spaceID, name, 0)
		if err != nil {
			return nil, err
		}
		err = a.onSpelled(ctx, spaceID, version, "the rows of another dataset", 0, func(_ context.Context, of *shown, _ Dataset) error {
			t = of.Table
			return nil
		})
		return t, err
	}
}

// tried does work on what a typed preparation makes, for looking at: a mistake is no
// error, and what stands before it is shown.
func (a *App) tried(ctx context.Context, spaceID, versionID int64, what string, each int64, typed string,
	do func(ctx context.Context, state *prepare.State, mistake *prepare.Mistake, t *table.Table, d Dataset) error) error {
	if strings.TrimSpace(typed) != "" {
		each = max(each, weighPrepare)
	}
	return a.on(ctx, spaceID, versionID, what, each, func(ctx context.Context, l *loaded, d Dataset) error {
		t := l.table
		state, err := a.prepared(ctx, t, d, spaceID, prepare.Parse(typed))
		var mistake *prepare.Mistake
		if err != nil && !errors.As(err, &mistake) {
			return err
		}
		return do(ctx, state, mistake, t, d)
	})
}

// Prepare tries a typed preparation on a version, without keeping it. A mistake is
// part of the answer, with what the clauses before it make.
func (a *App) Prepare(ctx context.Context, spaceID, versionID int64, typed string) (out *Prepared, err error) {
	err = a.tried(
		ctx,
		spaceID,
		versionID,
		"a preparation",
		weighPrepare,
		typed,
		func(ctx context.Context, state *prepare.State, mistake *prepare.Mistake, t *table.Table, d Dataset) error {
			clauses := prepare.Parse(typed)
			meanings, err := a.store.Meanings(ctx, d.ID)
			if err != nil {
				return err
			}
			out = &Prepared{
				Typed:   prepare.Print(clauses),
				Clauses: clauses,
				Effects: state.Effects,
				Mistake: mistake,
				Rows:    state.Table.Rows(),
				LeftOut: len(state.LeftOut),
				First:   RowValues(state.Table, 0, 20),
			}
			if out.Clauses == nil {
				out.Clauses = []prepare.Clause{}
			}
			if out.Effects == nil {
				out.Effects = []prepare.Effect{}
			}
			shown := meanings.on(state.Table)
			out.Spoken = [][]clause.Part{}
			readable := spokenNames(shown, meanings.on(t))
			for _, c := range clauses {
				out.Spoken = append(out.Spoken, prepare.Spoken(c, readable))
			}
			out.Columns, err = profiles(ctx, shown)
			return err
		},
	)
	return out, err
}

// spokenNames gives what people call a column inside a sentence, in any of some tables.
func spokenNames(tables ...*table.Table) func(name string) string {
	return func(name string) string {
		for _, t := range tables {
			if c := t.Column(name); c != nil {
				return c.Prose()
			}
		}
		return name
	}
}

// KeepPreparation keeps a prepared table as the dataset's next version; what the person
// tried with the dataset is then no draft any more.
func (a *App) KeepPreparation(ctx context.Context, person Person, versionID int64, typed string) (kept Version, err error) {
	spaceID := person.SpaceID
	clauses := prepare.Parse(typed)
	if len(clauses) == 0 {
		return Version{}, &Invalid{Message: "the preparation says nothing", Advice: "add a clause, such as keep frames > 6"}
	}
	err = a.tried(
		ctx,
		spaceID,
		versionID,
		"a preparation",
		weighPrepare,
		typed,
		func(ctx context.Context, state *prepare.State, mistake *prepare.Mistake, _ *table.Table, d Dataset) error {
			if mistake != nil {
				return &Invalid{Message: mistake.Message, Advice: mistake.Advice}
			}
			t := state.Table
			if t.Rows() == 0 || t.Rows() > math.MaxInt32 {
				return &Invalid{
					Message: fmt.Sprintf("the prepared table has %d rows", t.Rows()),
					Advice:  "change the clause that took them away",
				}
			}
			if err := a.roomFor(ctx, spaceID, tableBytes(t)/packedShare, int64(t.Rows())); err != nil {
				return err
			}
			if kept, err = a.store.AddVersion(ctx, spaceID, versionID, t, prepare.WithEffects(clauses, state.Effects)); err != nil {
				return err
			}
			a.versionKept(ctx, person, d.ID, kept)
			return a.store.SetDraft(ctx, spaceID, person.ID, d.ID, "")
		},
	)
	return kept, err
}

// Versions lists a dataset's versions, the newest first.
func (a *App) Versions(ctx context.Context, spaceID, datasetID int64) ([]Version, error) {
	if _, err := a.store.Dataset(ctx, spaceID, datasetID); err != nil {
		return nil, err
	}
	return a.store.Versions(ctx, spaceID, datasetID)
}
