package app

import (
	"context"
	"errors"
	"fmt"
	"math"

	"copperlark/core/mark"
	"copperlark/core/prepare"
	"copperlark/core/reader"
	"copperlark/core/table"
)

// Renewal is what another file would change of a dataset.
type Renewal struct {
	FileName   string           `json:"file_name"`
	Before     string           `json:"before" doc:"the name of the file that is there"`
	Version    int              `json:"version" doc:"the number that the next version would have"`
	Difference table.Difference `json:"difference" doc:"from the file that is there to the new one"`
	Report     *reader.Report   `json:"report"`
	Anew       string           `json:"anew,omitempty" doc:"why it was not read as the last file was"`

	Clauses []prepare.Clause `json:"clauses" doc:"of the preparation that would be made again"`
	Mistake *prepare.Mistake `json:"mistake,omitempty" doc:"of the preparation on the new file: the file would be kept without it"`
	Rows    int              `json:"rows" doc:"after the preparation, where there is no mistake in it"`
	Misfits []ChartMisfit    `json:"misfits" doc:"charts that could not be moved to it as they are"`
}

// ChartMisfit is a chart that does not fit a version.
type ChartMisfit struct {
	Name string `json:"name"`
	Why  string `json:"why"`
}

// renewal is a waiting file read as the dataset's last file was.
type renewal struct {
	Renewal
	file WaitingFile
	read waitingTable
}

// CompareFile tells what a waiting file would change of a dataset: it is read as the
// dataset's last file was, and prepared as its newest version is.
func (a *App) CompareFile(ctx context.Context, person Person, datasetID int64, key string) (*Renewal, error) {
	r, err := a.renewed(ctx, person, datasetID, key)
	if err != nil {
		return nil, err
	}
	charts, err := a.store.ChartsOf(ctx, person.SpaceID, datasetID)
	if err != nil {
		return nil, err
	}
	prepared := r.read.table
	if len(r.Clauses) > 0 {
		state, err := a.prepareNew(ctx, person, datasetID, r)
		if err != nil && !errors.As(err, &r.Mistake) {
			return nil, err
		}
		switch {
		case r.Mistake != nil: // the file is kept as it is: this is what charts would be moved to
		case state.Table.Rows() == 0:
			r.Mistake = &prepare.Mistake{
				Clause:  len(r.Clauses) - 1,
				Message: "it leaves no row of the new file",
				Advice:  "change the clause that takes them away",
			}
		default:
			prepared = state.Table
		}
	}
	r.Rows, r.Misfits = prepared.Rows(), []ChartMisfit{}
	for _, c := range charts {
		if problems := mark.Bind(c.Document, prepared).Problems(); problems != nil {
			r.Misfits = append(r.Misfits, ChartMisfit{c.Name, problems[0].Message})
		}
	}
	return &r.Renewal, nil
}

// prepareNew applies the dataset's clauses to the new file.
func (a *App) prepareNew(ctx context.Context, person Person, datasetID int64, r *renewal) (state *prepare.State, err error) {
	ctx, leave, err := a.begin(ctx, "a preparation", weighPrepare*int64(r.read.table.Rows()))
	if err != nil {
		return nil, err
	}
	defer leave()
	dataset, err := a.store.Dataset(ctx, person.SpaceID, datasetID)
	if err != nil {
		return nil, err
	}
	return prepare.Run(ctx, r.read.table, r.Clauses, a.environment(person.SpaceID, dataset.Name, nil))
}

// renewed reads a waiting file as the last file of a dataset was.
func (a *App) renewed(ctx context.Context, person Person, datasetID int64, key string) (*renewal, error) {
	versions, err := a.store.Versions(ctx, person.SpaceID, datasetID)
	if err != nil {
		return nil, err
	}
	if len(versions) == 0 {
		return nil, ErrNotFound
	}
	m := wayTo(versions, versions[0].ID)
	last := m.first
	r := &renewal{Renewal: Renewal{Version: versions[0].Number + 1, Clauses: m.clauses}}
	if r.Clauses == nil {
		r.Clauses = []prepare.Clause{}
	}
	options, err := a.store.Reading(ctx, last.ID)
	if err != nil {
		return nil, err
	}
	options.Keep = nil // what only the new file has must be seen
	r.file, r.read, err = a.waiting(ctx, person.SpaceID, key, func(f *WaitingFile) { f.Options = options })
	var refused *Invalid
	if errors.As(err, &refused) {
		r.Anew = refused.Message
		r.file, r.read, err = a.waiting(ctx, person.SpaceID, key, func(f *WaitingFile) { f.Options = reader.Options{} })
	}
	if err != nil {
		return nil, err
	}
	before, dataset, err := a.Table(ctx, person.SpaceID, last.ID)
	if err != nil {
		return nil, err
	}
	r.FileName, r.Before, r.Report = r.file.Name, dataset.FileName, r.read.report
	ctx, leave, err := a.begin(ctx, "comparing two files", weighSummary*int64(before.Rows()+r.read.table.Rows()))
	if err != nil {
		return nil, err
	}
	defer leave()
	r.Difference, err = table.Between(ctx, before, r.read.table)
	return r, err
}

// KeepFile keeps a waiting file as a dataset's next version, and what the preparation of the
// newest one makes of it as the version after that. Where the preparation has a mistake on
// the new file, it becomes the person's draft.
func (a *App) KeepFile(ctx context.Context, person Person, datasetID int64, key string) (Version, error) {
	r, err := a.renewed(ctx, person, datasetID, key)
	if err != nil {
		return Version{}, err
	}
	t := r.read.table
	if t.Rows() == 0 || t.Rows() > math.MaxInt32 {
		return Version{}, &Invalid{Message: fmt.Sprintf("the file has %d rows", t.Rows()), Advice: "bring a file with rows"}
	}
	n := NewDataset{SpaceID: person.SpaceID, PersonID: person.ID, FileName: r.file.Name, Table: t, Report: r.read.report,
		Reading: r.file.Options}
	kept, err := a.keepNext(ctx, person, datasetID, n, r.Clauses, "the file “"+r.file.Name+"”")
	if err != nil {
		return kept, err
	}
	return kept, a.forget(context.WithoutCancel(ctx), person.SpaceID, key)
}

// keepNext keeps a table as a dataset's next version, and what clauses make of it as the one after that.
func (a *App) keepNext(
	ctx context.Context, person Person, datasetID int64, n NewDataset, clauses []prepare.Clause, what string,
) (Version, error) {
	if err := a.roomFor(ctx, person.SpaceID, tableBytes(n.Table)/packedShare, int64(n.Table.Rows())); err != nil {
		return Version{}, err
	}
	kept, err := a.store.AddFileVersion(ctx, datasetID, n)
	if err != nil {
		return Version{}, err
	}
	a.hold(kept.ID, n.Table)
	a.did(ctx, person, didRenew, what)
	if len(clauses) == 0 {
		a.versionKept(ctx, person, datasetID, kept)
	} else {
		prepared, err := a.KeepPreparation(ctx, person, kept.ID, prepare.Print(clauses))
		var refused *Invalid
		switch {
		case errors.As(err, &refused): // the file is kept; what does not fit it waits to be mended
			if err := a.KeepDraft(ctx, person, datasetID, prepare.Print(clauses)); err != nil {
				return kept, err
			}
			kept.Dropped = refused.Message
			a.versionKept(ctx, person, datasetID, kept)
		case err != nil:
			return kept, err
		default:
			kept = prepared
			if n.Appended {
				err = a.store.MarkAppended(ctx, kept.ID)
			}
			return kept, err
		}
	}
	return kept, nil
}

// versionKept tells the programs that want to know that a dataset has a new version.
func (a *App) versionKept(ctx context.Context, person Person, datasetID int64, version Version) {
	a.happened(ctx, person.SpaceID, EventVersion, map[string]any{"space": person.SpaceName, "dataset_id": datasetID, "version_id": version.ID,
		"version": version.Number, "rows": version.Rows, "by": person.Name})
}
