package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

const originColumns = `o.dataset_id, d.space_id, coalesce(o.set_by, 0), o.place, o.every, o.secret, o.etag, o.last_modified, o.next_at,
	o.stopped, coalesce((select p.name from people p where p.id = o.set_by), '')`

func scanOrigin(row pgx.Row) (o app.Origin, err error) {
	err = row.Scan(&o.DatasetID, &o.SpaceID, &o.PersonID, &o.Place, &o.Every, &o.Secret, &o.Known.ETag, &o.Known.LastModified, &o.NextAt,
		&o.Stopped, &o.By)
	o.HasSecret = len(o.Secret) > 0
	return o, found(err)
}

// SetOrigin keeps where a dataset's file comes from; what was known of another place is forgotten, and what stopped it.
func (s *Store) SetOrigin(ctx context.Context, spaceID int64, o app.Origin, keepSecret bool, next *time.Time) error {
	return affected(s.pool.Exec(ctx, `insert into origins (dataset_id, place, every, secret, next_at, set_by)
		select id, $3, $4, $5, $6, nullif($7::bigint, 0) from datasets where space_id = $1 and id = $2
		on conflict (dataset_id) do update set place = excluded.place, every = excluded.every, next_at = excluded.next_at,
			set_by = excluded.set_by, set_at = now(), stopped = '',
			etag = case when origins.place = excluded.place then origins.etag else '' end,
			last_modified = case when origins.place = excluded.place then origins.last_modified else '' end,
			secret = case when $8 then origins.secret else excluded.secret end`,
		spaceID, o.DatasetID, o.Place, o.Every, o.Secret, next, o.PersonID, keepSecret))
}

// Origin gives where a dataset's file comes from, with its runs.
func (s *Store) Origin(ctx context.Context, spaceID, datasetID int64) (app.Origin, error) {
	o, err := scanOrigin(s.pool.QueryRow(ctx, `select `+originColumns+` from origins o join datasets d on d.id = o.dataset_id
		where d.space_id = $1 and d.id = $2`, spaceID, datasetID))
	if err != nil {
		return o, err
	}
	o.Runs, err = collect(ctx, s, func(row pgx.Row) (r app.OriginRun, err error) {
		return r, row.Scan(&r.At, &r.Outcome, &r.Words, &r.VersionID, &r.By)
	}, `select r.at, r.outcome, r.words, coalesce(r.version_id, 0), coalesce(p.name, '') from origin_runs r
		left join people p on p.id = r.asked_by where r.dataset_id = $1 order by r.id desc`, datasetID)
	return o, err
}

// DropOrigin forgets where a dataset's file comes from.
func (s *Store) DropOrigin(ctx context.Context, spaceID, datasetID int64) error {
	return affected(s.pool.Exec(ctx, `delete from origins o using datasets d where d.space_id = $1 and d.id = $2 and o.dataset_id = d.id`,
		spaceID, datasetID))
}

// DueOrigin takes one whose time has come.
func (s *Store) DueOrigin(ctx context.Context, next func(every string) time.Time) (o app.Origin, err error) {
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		if o, err = scanOrigin(tx.QueryRow(ctx, `select `+originColumns+` from origins o join datasets d on d.id = o.dataset_id
			where o.next_at <= now() order by o.next_at limit 1 for update of o skip locked`)); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `update origins set next_at = $2 where dataset_id = $1`, o.DatasetID, next(o.Every))
		return err
	})
	return o, err
}

// OriginRan keeps a run.
func (s *Store) OriginRan(
	ctx context.Context, datasetID, askedBy int64, run app.OriginRun, known app.FileState, stopped bool, most int,
) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `insert into origin_runs (dataset_id, outcome, words, version_id, asked_by)
			values ($1, $2, $3, nullif($4::bigint, 0), nullif($5::bigint, 0))`,
			datasetID, run.Outcome, run.Words, run.VersionID, askedBy); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `delete from origin_runs where dataset_id = $1 and id not in
			(select id from origin_runs where dataset_id = $1 order by id desc limit $2)`, datasetID, most); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `update origins set etag = $2, last_modified = $3, stopped = case when $4 then $5 else '' end,
			next_at = case when $4 then null else next_at end where dataset_id = $1`,
			datasetID, known.ETag, known.LastModified, stopped, run.Words)
		return err
	})
}
