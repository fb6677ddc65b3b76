package store

import (
	"context"
	"errors"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"copperlark/app"
)

// channel is where servers tell each other of what changed: "chart 5".
const channel = "lark_changed"

// happened numbers what happened on the trail of a chart, within the transaction that did it, and tells all servers once it is
// committed. stepID is a step that was kept; 0: the trail is to be read again.
func happened(ctx context.Context, tx pgx.Tx, chartID, stepID int64) error {
	if _, err := tx.Exec(ctx, `with told as (update charts set events = events + 1 where id = $1 returning events)
		insert into chart_events (chart_id, number, step_id) select $1, events, nullif($2::bigint, 0) from told`, chartID, stepID); err != nil {
		return err
	}
	return tellOf(ctx, tx, app.Subject{ChartID: chartID})
}

// ChartEvents gives what happened on the trail of a chart after a number, and up to which number that is. Where it is no longer
// known, it is that the trail is to be read again.
func (s *Store) ChartEvents(ctx context.Context, chartID, after int64) (list []app.ChartEvent, last int64, err error) {
	if err := s.pool.QueryRow(ctx, `select events from charts where id = $1`, chartID).Scan(&last); err != nil {
		return nil, 0, found(err)
	}
	if last <= after {
		return nil, after, nil
	}
	list, err = collect(ctx, s, func(row pgx.Row) (e app.ChartEvent, err error) {
		var t app.Step
		var created *time.Time
		if err := row.Scan(&e.Number, &t.ID, &t.ParentID, &t.Words, &t.Name, &t.Pinned, &created, &t.PersonID, &t.By); err != nil {
			return e, err
		}
		if t.ID != 0 && created != nil {
			t.CreatedAt = *created
			e.Step = &t
		}
		return e, nil
	}, `select e.number, coalesce(t.id, 0), coalesce(t.parent_id, 0), coalesce(t.words, ''), coalesce(t.name, ''), coalesce(t.pinned, false),
		t.created_at, coalesce(t.created_by, 0), coalesce(p.name, '')
		from chart_events e left join steps t on t.id = e.step_id and t.taken_out_at is null left join people p on p.id = t.created_by
		where e.chart_id = $1 and e.number > $2 and e.number <= $3 order by e.number`, chartID, after, last)
	if err == nil && (len(list) == 0 || list[0].Number > after+1) { // forgotten: see DropOld
		list = []app.ChartEvent{{Number: last}}
	}
	return list, last, err
}

// IsThere is nothing where a subject belongs to a space.
func (s *Store) IsThere(ctx context.Context, spaceID int64, of app.Subject) error {
	return found(s.pool.QueryRow(ctx, `select true from charts where space_id = $1 and id = $2 union all
		select true from datasets where space_id = $1 and id = $3 union all select true from pages where space_id = $1 and id = $4`,
		spaceID, of.ChartID, of.DatasetID, of.PageID).Scan(new(bool)))
}

// Stamps tell whether a subject, and the notes on it, changed since they were read.
func (s *Store) Stamps(ctx context.Context, of app.Subject) (stamps app.Stamps, err error) {
	err = s.pool.QueryRow(ctx, `select coalesce((select changes::text from datasets where id = $2), (select revision::text from pages
			where id = $3), ''),
		(select count(*)::text || ' ' || coalesce(max(changed_at)::text, '') from notes
			where chart_id = nullif($1::bigint, 0) or dataset_id = nullif($2::bigint, 0) or page_id = nullif($3::bigint, 0))`,
		of.ChartID, of.DatasetID, of.PageID).Scan(&stamps.Itself, &stamps.Notes)
	return stamps, err
}

// windowTime is how long after it was last seen a window is still one.
const windowTime = 25 * time.Second

// SeeWindow keeps that a window has a subject open; others are told where it is a new one.
func (s *Store) SeeWindow(ctx context.Context, id string, of app.Subject, personID int64) error {
	var fresh bool
	err := s.pool.QueryRow(ctx, `insert into windows (id, chart_id, dataset_id, page_id, person_id)
		values ($1, nullif($2::bigint, 0), nullif($3::bigint, 0), nullif($4::bigint, 0), $5)
		on conflict (id) do update set seen_at = now() returning xmax = 0`, id, of.ChartID, of.DatasetID, of.PageID, personID).Scan(&fresh)
	if err == nil && fresh {
		err = tellOf(ctx, s.pool, of)
	}
	return err
}

// CloseWindow forgets one, and tells others.
func (s *Store) CloseWindow(ctx context.Context, id string, of app.Subject) error {
	if _, err := s.pool.Exec(ctx, `delete from windows where id = $1`, id); err != nil {
		return err
	}
	return tellOf(ctx, s.pool, of)
}

// sameSubject is whether two windows have the same open.
const sameSubject = `coalesce(o.chart_id, 0) = coalesce(w.chart_id, 0) and coalesce(o.dataset_id, 0) = coalesce(w.dataset_id, 0)
	and coalesce(o.page_id, 0) = coalesce(w.page_id, 0)`

// StandIn puts a window somewhere; of two who come at once, one is told that the other has it.
func (s *Store) StandIn(ctx context.Context, personID int64, window, place string) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		var of app.Subject
		if err := tx.QueryRow(ctx, `select coalesce(chart_id, 0), coalesce(dataset_id, 0), coalesce(page_id, 0) from windows
			where id = $1 and person_id = $2`, window, personID).Scan(&of.ChartID, &of.DatasetID, &of.PageID); err != nil {
			return found(err)
		}
		if _, err := tx.Exec(ctx, `select pg_advisory_xact_lock(hashtext($1), hashtext($2))`, of.String(), place); err != nil {
			return err
		}
		taken := app.ErrTaken{}
		err := tx.QueryRow(ctx, `select p.name from windows w join windows o on o.id <> w.id and `+sameSubject+`
			join people p on p.id = o.person_id where w.id = $1 and $2 <> '' and o.place = $2 and o.person_id <> w.person_id
			and o.seen_at > now() - make_interval(secs => $3) limit 1`, window, place, windowTime.Seconds()).Scan(&taken.By)
		if err == nil {
			return &taken
		}
		if !errors.Is(err, pgx.ErrNoRows) {
			return err
		}
		if _, err := tx.Exec(ctx, `update windows set place = $2, seen_at = now() where id = $1`, window, place); err != nil {
			return err
		}
		return tellOf(ctx, tx, of)
	})
}

// tellOf tells all servers that something, its people or its notes changed; within a transaction, once it is committed.
func tellOf(ctx context.Context, by interface {
	Exec(context.Context, string, ...any) (pgconn.CommandTag, error)
}, of app.Subject) error {
	_, err := by.Exec(ctx, `select pg_notify($1, $2)`, channel, of.String())
	return err
}

// HereNow are the people who have a subject open, each once: of a chart with the step at which they stand, else with where they
// write.
func (s *Store) HereNow(ctx context.Context, of app.Subject) ([]app.Here, error) {
	return collect(ctx, s, func(row pgx.Row) (h app.Here, err error) {
		return h, row.Scan(&h.PersonID, &h.Name, &h.StepID, &h.Place)
	}, `select p.id, p.name, coalesce(k.step_id, c.head_step_id, 0), w.place from
		(select person_id, max(place) as place from windows where seen_at > now() - make_interval(secs => $4)
			and (chart_id = nullif($1::bigint, 0) or dataset_id = nullif($2::bigint, 0) or page_id = nullif($3::bigint, 0))
			group by person_id) w
		join people p on p.id = w.person_id left join charts c on c.id = $1
		left join chart_cursors k on k.chart_id = c.id and k.person_id = p.id order by p.id`,
		of.ChartID, of.DatasetID, of.PageID, windowTime.Seconds())
}

// Listen tells of what changed, by this server or another, until its context ends or the connection is lost; ready is called once
// nothing can be missed any more.
func (s *Store) Listen(ctx context.Context, ready func(), changed func(of app.Subject)) error {
	connection, err := s.pool.Acquire(ctx)
	if err != nil {
		return translated(err)
	}
	own := connection.Hijack() // it is never another's: what it listens for stays with it
	defer func() { _ = own.Close(context.WithoutCancel(ctx)) }()
	if _, err := own.Exec(ctx, "listen "+channel); err != nil {
		return translated(err)
	}
	ready()
	for {
		told, err := own.WaitForNotification(ctx)
		if errors.Is(err, context.Canceled) {
			return nil
		}
		if err != nil {
			return translated(err)
		}
		if of := app.SubjectOf(told.Payload); of.Name() != "" {
			changed(of)
		}
	}
}
