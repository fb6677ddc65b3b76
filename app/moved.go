package app

import (
	"context"
	"errors"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/reading"
	"copperlark/core/table"
)

// MovedChart is what becomes of a chart by a new version of its dataset.
type MovedChart struct {
	ID        int64          `json:"id"`
	Name      string         `json:"name"`
	StepID    int64          `json:"step_id"`
	VersionID int64          `json:"version_id" doc:"over which it stands"`
	Named     bool           `json:"named"`
	Shared    bool           `json:"shared"`
	Moved     *reading.Moved `json:"moved,omitempty" doc:"missing: it does not fit, or could not be drawn"`
	Why       string         `json:"why,omitempty" doc:"why it does not fit the new version"`
}

// MovedCharts is a part of the charts that a new version concerns.
type MovedCharts struct {
	Charts []MovedChart `json:"charts" nullable:"false"`
	Of     int          `json:"of" doc:"how many there are in all"`
}

// MostMoved is how many charts are looked at in one request; MovedSize how large they are drawn for that, in pixels.
const (
	MostMoved  = 10
	movedWidth = 640
	movedTall  = 400
)

// Moved tells what a version would make of charts that stand over others of its dataset: of MostMoved of them, from one on. Nothing
// changes by it.
func (a *App) Moved(ctx context.Context, person Person, datasetID, versionID int64, from int) (out MovedCharts, err error) {
	err = a.onSpelled(ctx, person.SpaceID, versionID, "what a version changes of charts", 0,
		func(ctx context.Context, t *shown, d Dataset) error {
			if d.ID != datasetID {
				return ErrNotFound
			}
			out, err = a.movedOver(ctx, person, datasetID, versionID, t.Table, from)
			return err
		})
	return out, err
}

// MovedByFile tells the same of a waiting file, before it is kept.
func (a *App) MovedByFile(ctx context.Context, person Person, datasetID int64, key string, from int) (MovedCharts, error) {
	r, err := a.renewed(ctx, person, datasetID, key)
	if err != nil {
		return MovedCharts{}, err
	}
	prepared := r.read.table
	if len(r.Clauses) > 0 {
		if state, err := a.prepareNew(ctx, person, datasetID, r); err == nil && state.Table.Rows() > 0 {
			prepared = state.Table
		}
	}
	meanings, err := a.store.Meanings(ctx, datasetID)
	if err != nil {
		return MovedCharts{}, err
	}
	return a.movedOver(ctx, person, datasetID, 0, meanings.spelled(prepared), from)
}

func (a *App) movedOver(
	ctx context.Context, person Person, datasetID, versionID int64, t *table.Table, from int,
) (MovedCharts, error) {
	out := MovedCharts{Charts: []MovedChart{}}
	charts, err := a.store.ChartsOf(ctx, person.SpaceID, datasetID)
	if err != nil {
		return out, err
	}
	for _, c := range charts {
		if c.VersionID == versionID {
			continue
		}
		out.Of++
		if out.Of <= from || len(out.Charts) == MostMoved {
			continue
		}
		one := MovedChart{ID: c.ID, Name: c.Name, StepID: c.HeadStepID, VersionID: c.VersionID, Named: c.Named, Shared: c.Shared}
		if err := a.moved(ctx, person, c, t, &one); err != nil {
			return out, err
		}
		out.Charts = append(out.Charts, one)
	}
	return out, nil
}

// moved tells what a table makes of one chart.
func (a *App) moved(ctx context.Context, person Person, c Chart, t *table.Table, into *MovedChart) error {
	bound := mark.Bind(c.Document, t)
	if problems := bound.Problems(); problems != nil {
		into.Why = problems[0].Message
		return nil
	}
	after, err := a.stateOf(ctx, person.SpaceID, bound)
	if err == nil {
		err = a.onSpelled(ctx, person.SpaceID, c.VersionID, "a chart as it was", weightOf(c.Document, ""),
			func(ctx context.Context, t *shown, _ Dataset) error {
				was, err := t.suits(c.Document)
				if err != nil {
					return err
				}
				before, err := a.stateOf(ctx, person.SpaceID, was)
				if err != nil {
					return err
				}
				into.Moved, err = reading.MovedBy(ctx, before, after)
				return err
			})
	}
	var refused *Invalid
	if errors.As(err, &refused) {
		into.Why = refused.Message
		return nil
	}
	return err
}

func (a *App) stateOf(ctx context.Context, spaceID int64, bound *mark.Bound) (s reading.State, err error) {
	s.Bound = bound
	if s.Taken, err = figure.Take(ctx, bound); err != nil {
		return s, err
	}
	picture, err := draw(ctx, bound, figure.Options{Width: movedWidth, Height: movedTall, Metrics: a.metrics, Dataset: a.others(spaceID)})
	if err != nil {
		return s, err
	}
	s.Figure, s.Reading = picture.Figure, picture.Reading
	return s, nil
}
