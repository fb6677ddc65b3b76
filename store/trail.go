package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/chart"
)

// Trail gives the steps of a chart without their documents, the first one first; those that were taken out are not there.
func (s *Store) Trail(ctx context.Context, chartID int64) ([]app.Step, error) {
	names := map[int64]string{} // joined to each of many steps, they would take as long as the steps
	if _, err := collect(ctx, s, func(row pgx.Row) (id int64, err error) {
		var name string
		err = row.Scan(&id, &name)
		names[id] = name
		return id, err
	}, `select id, name from people where id in (select created_by from steps where chart_id = $1)`, chartID); err != nil {
		return nil, err
	}
	return collect(ctx, s, func(row pgx.Row) (t app.Step, err error) {
		err = row.Scan(&t.ID, &t.ParentID, &t.Words, &t.Name, &t.Pinned, &t.CreatedAt, &t.PersonID)
		t.By = names[t.PersonID]
		return t, err
	}, `select id, coalesce(parent_id, 0), words, name, pinned, created_at, coalesce(created_by, 0) from steps
		where chart_id = $1 and taken_out_at is null order by id`, chartID)
}

// Cursor is the step that a person stands at on the trail of a chart; 0: where the chart stands.
func (s *Store) Cursor(ctx context.Context, chartID, personID int64) (step int64, err error) {
	err = s.pool.QueryRow(ctx, `select coalesce((select step_id from chart_cursors where chart_id = $1 and person_id = $2), 0)`,
		chartID, personID).Scan(&step)
	return step, err
}

// stand puts a person at a step; nobody, where a program made it.
func stand(ctx context.Context, tx pgx.Tx, chartID, stepID, personID int64) error {
	if personID == 0 {
		return nil
	}
	_, err := tx.Exec(ctx, `insert into chart_cursors (chart_id, person_id, step_id) values ($1, $2, $3)
		on conflict (chart_id, person_id) do update set step_id = excluded.step_id, moved_at = now()`, chartID, personID, stepID)
	return err
}

// Walk puts a person at a step of a chart that is not taken out. The chart stands there, too, where the step at which it stands
// is one that they made. follows is what the sentence calls a chart that nobody named.
func (s *Store) Walk(ctx context.Context, spaceID, chartID, stepID, personID int64, follows string) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		var there bool
		if err := tx.QueryRow(ctx, `select true from charts c join steps t on t.chart_id = c.id
			where c.space_id = $1 and c.id = $2 and t.id = $3 and t.taken_out_at is null for update of c`, spaceID, chartID, stepID).
			Scan(&there); err != nil {
			return found(err)
		}
		if err := stand(ctx, tx, chartID, stepID, personID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `update charts c set head_step_id = $2, changed_at = now(),
			name = case when not c.named and $4 <> '' then $4 else c.name end
			where c.id = $1 and exists (select from steps h where h.id = c.head_step_id and h.created_by = $3)`,
			chartID, stepID, personID, follows)
		if err != nil {
			return err
		}
		return tellOf(ctx, tx, app.Subject{ChartID: chartID}) // of where they stand
	})
}

// MarkStep names a step and pins it; nil stays as it is.
func (s *Store) MarkStep(ctx context.Context, spaceID, chartID, stepID int64, name *string, pinned *bool) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx, `update steps t set name = coalesce($4, t.name), pinned = coalesce($5, t.pinned) from charts c
			where c.space_id = $1 and c.id = $2 and t.chart_id = c.id and t.id = $3 and t.taken_out_at is null`,
			spaceID, chartID, stepID, name, pinned)); err != nil {
			return err
		}
		return happened(ctx, tx, chartID, 0)
	})
}

// branch are a step and all that follow it.
const branch = `with recursive branch as (select id from steps where chart_id = $1 and id = $2
	union all select t.id from steps t join branch b on t.parent_id = b.id and t.chart_id = $1) `

// TakeOut takes a step and all that follow it out of the trail, and gives how many these were. The chart, and who stood on
// one of them, stand at the step before. The first step stays.
func (s *Store) TakeOut(ctx context.Context, spaceID, chartID, stepID int64, at time.Time) (n int, err error) {
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		var parent int64
		if err := tx.QueryRow(ctx, `select coalesce(t.parent_id, 0) from charts c join steps t on t.chart_id = c.id
			where c.space_id = $1 and c.id = $2 and t.id = $3 and t.taken_out_at is null for update of c`, spaceID, chartID, stepID).
			Scan(&parent); err != nil {
			return found(err)
		}
		if parent == 0 {
			return app.ErrFirstStep
		}
		tag, err := tx.Exec(ctx, branch+`update steps t set taken_out_at = $3 from branch b where t.id = b.id and t.taken_out_at is null`,
			chartID, stepID, at)
		if err != nil {
			return err
		}
		n = int(tag.RowsAffected())
		if _, err := tx.Exec(ctx, branch+`delete from chart_cursors k using branch b where k.step_id = b.id`, chartID, stepID); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, branch+`update charts c set head_step_id = $3, changed_at = now() from branch b
			where c.id = $1 and c.head_step_id = b.id`, chartID, stepID, parent)
		if err != nil {
			return err
		}
		return happened(ctx, tx, chartID, 0)
	})
	return n, err
}

// PutBack puts a step back into the trail, with all that were taken out with it.
func (s *Store) PutBack(ctx context.Context, spaceID, chartID, stepID int64) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx, `update steps t set taken_out_at = null from charts c, steps first
			where c.space_id = $1 and c.id = $2 and first.chart_id = c.id and first.id = $3 and t.chart_id = c.id
			and t.taken_out_at = first.taken_out_at`, spaceID, chartID, stepID)); err != nil {
			return err
		}
		return happened(ctx, tx, chartID, 0)
	})
}

// LastWord is what a step says, and what the step before it said, where it can be said anew: its maker is the same, it was made
// after since, nothing follows it, nobody else stands on it, and it is neither named nor pinned. Else both are nil.
func (s *Store) LastWord(ctx context.Context, chartID, stepID, personID int64, since time.Time) (was, before *chart.Document, err error) {
	var last, first []byte
	err = s.pool.QueryRow(ctx, `select t.document, b.document from steps t join steps b on b.id = t.parent_id where `+lastWord,
		chartID, stepID, personID, since).Scan(&last, &first)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil, nil
	}
	if err != nil {
		return nil, nil, err
	}
	if was, err = chart.Read(last); err != nil {
		return nil, nil, err
	}
	before, err = chart.Read(first)
	return was, before, err
}

const lastWord = `t.chart_id = $1 and t.id = $2 and t.created_by = $3 and t.created_at > $4 and t.name = '' and not t.pinned
	and not exists (select from steps n where n.parent_id = t.id)
	and not exists (select from chart_cursors k where k.step_id = t.id and k.person_id <> $3)`

// SayAnew says a step otherwise that was made after since; app.ErrNotFound where it can no longer be (see LastWord).
func (s *Store) SayAnew(
	ctx context.Context,
	chartID, stepID, personID int64,
	since time.Time,
	document *chart.Document,
	words, name string,
) (app.Step, error) {
	step := app.Step{ID: stepID, Words: words, Document: document, PersonID: personID}
	stored, err := json.Marshal(document)
	if err != nil {
		return step, err
	}
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `select id from charts where id = $1 for update`, chartID).Scan(new(int64)); err != nil {
			return found(err)
		}
		if err := tx.QueryRow(ctx, `update steps t set document = $5, words = $6, created_at = now() where `+lastWord+`
			returning coalesce(t.parent_id, 0), t.created_at`, chartID, stepID, personID, since, stored, words).
			Scan(&step.ParentID, &step.CreatedAt); err != nil {
			return found(err)
		}
		_, err := tx.Exec(ctx, `update charts set changed_at = now(), name = case when named then name else $2 end where id = $1`,
			chartID, name)
		if err != nil {
			return err
		}
		return happened(ctx, tx, chartID, 0)
	})
	return step, err
}
