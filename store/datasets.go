package store

import (
	"context"
	"encoding/json"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/prepare"
	"copperlark/core/reader"
	"copperlark/core/table"
)

// AddDataset keeps a table as the first version of a new dataset.
func (s *Store) AddDataset(ctx context.Context, n app.NewDataset) (app.Dataset, error) {
	report, reading, err := readAs(n)
	if err != nil {
		return app.Dataset{}, err
	}
	d := app.Dataset{Name: n.Name, About: n.About, Version: 1, Rows: n.Table.Rows(), Columns: len(n.Table.Columns()), FileName: n.FileName}
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx,
			`insert into datasets (space_id, name, about, created_by) values ($1, $2, $3, nullif($4::bigint, 0)) returning id, created_at`,
			n.SpaceID, n.Name, n.About, n.PersonID).Scan(&d.ID, &d.CreatedAt); err != nil {
			return err
		}
		if err := tx.QueryRow(ctx,
			`insert into dataset_versions (dataset_id, number, row_count, file_name, report, reading) values ($1, 1, $2, $3, $4, $5) returning id`,
			d.ID, d.Rows, n.FileName, report, reading).Scan(&d.VersionID); err != nil {
			return err
		}
		return addColumns(ctx, tx, d.VersionID, n.Table)
	})
	return d, err
}

// readAs is how the file of a dataset was read, and how it was wanted read, as stored.
func readAs(n app.NewDataset) (report, reading []byte, err error) {
	if report, err = json.Marshal(n.Report); err == nil {
		reading, err = json.Marshal(n.Reading)
	}
	return report, reading, err
}

// AddFileVersion keeps the table of another file as the next version of a dataset.
func (s *Store) AddFileVersion(ctx context.Context, datasetID int64, n app.NewDataset) (app.Version, error) {
	report, reading, err := readAs(n)
	if err != nil {
		return app.Version{}, err
	}
	var id int64
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		var there bool
		if err := tx.QueryRow(ctx, `select true from datasets where space_id = $1 and id = $2 for update`, n.SpaceID,
			datasetID).Scan(&there); err != nil {
			return found(err)
		}
		if err := tx.QueryRow(ctx, `insert into dataset_versions (dataset_id, number, row_count, file_name, report, reading, appended)
			select $1, max(number) + 1, $2, $3, $4, $5, $6 from dataset_versions where dataset_id = $1 returning id`,
			datasetID, n.Table.Rows(), n.FileName, report, reading, n.Appended).Scan(&id); err != nil {
			return err
		}
		if err := addColumns(ctx, tx, id, n.Table); err != nil {
			return err
		}
		return datasetChanged(ctx, tx, datasetID)
	})
	if err != nil {
		return app.Version{}, err
	}
	return scanVersion(s.pool.QueryRow(ctx, `select `+versionColumns+` from dataset_versions v where v.id = $1`, id))
}

// Reading tells how a person wanted the file of a version read.
func (s *Store) Reading(ctx context.Context, versionID int64) (options reader.Options, err error) {
	var stored []byte
	if err := s.pool.QueryRow(ctx, `select reading from dataset_versions where id = $1`, versionID).Scan(&stored); err != nil {
		return options, found(err)
	}
	return options, json.Unmarshal(stored, &options)
}

const originPlace = `coalesce((select o.place from origins o where o.dataset_id = d.id), ''), v.prepared_from is not null`

const datasetQuery = `select d.id, d.name, d.about, d.origin, d.one_row, d.created_at, v.id, v.number, v.row_count, v.file_name,
	(select count(*) from dataset_columns c where c.version_id = v.id), coalesce(v.report->>'drawn', ''), ` + originPlace + `,
	coalesce(v.preparation::text like '%"set aside %', false),
	coalesce((select p.name from people p where p.id = d.created_by), '') from datasets d
	join lateral (select * from dataset_versions where dataset_id = d.id order by number desc limit 1) v on true `

func scanDataset(row pgx.Row) (app.Dataset, error) {
	var d app.Dataset
	err := row.Scan(&d.ID, &d.Name, &d.About, &d.Origin, &d.OneRow, &d.CreatedAt, &d.VersionID, &d.Version, &d.Rows, &d.FileName,
		&d.Columns, &d.Drawn, &d.OriginPlace, &d.Prepared, &d.Aside, &d.By)
	d.Settle()
	return d, found(err)
}

// collect reads all rows of a query.
func collect[T any](ctx context.Context, s *Store, scan func(pgx.Row) (T, error), query string, arguments ...any) ([]T, error) {
	rows, err := s.pool.Query(ctx, query, arguments...)
	if err != nil {
		return nil, translated(err)
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (T, error) { return scan(row) })
	if list == nil {
		list = []T{}
	}
	return list, translated(err)
}

// Datasets lists a space's datasets, the newest first.
func (s *Store) Datasets(ctx context.Context, spaceID int64) ([]app.Dataset, error) {
	return collect(ctx, s, scanDataset, datasetQuery+`where d.space_id = $1 order by d.created_at desc, d.id desc`, spaceID)
}

// Dataset gives one.
func (s *Store) Dataset(ctx context.Context, spaceID, id int64) (app.Dataset, error) {
	return scanDataset(s.pool.QueryRow(ctx, datasetQuery+`where d.space_id = $1 and d.id = $2`, spaceID, id))
}

// NumberColumns lists the columns of numbers and dates of every dataset's newest version, the newest dataset first.
func (s *Store) NumberColumns(ctx context.Context, spaceID int64) ([]app.OtherNumbers, error) {
	return collect(ctx, s, func(row pgx.Row) (app.OtherNumbers, error) {
		var o app.OtherNumbers
		err := row.Scan(&o.DatasetID, &o.Name, &o.Columns)
		return o, err
	}, `select d.id, d.name, (select coalesce(array_agg(c.name order by c.position), '{}') from dataset_columns c
			where c.version_id = v.id and c.kind in ('number', 'date', 'duration') and c.position < 60)
		from datasets d join lateral (select id from dataset_versions where dataset_id = d.id order by number desc limit 1) v on true
		where d.space_id = $1 order by d.created_at desc, d.id desc limit 200`, spaceID)
}

// DescribeDataset changes what is not nil.
func (s *Store) DescribeDataset(ctx context.Context, spaceID, id int64, said app.Description) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx, `update datasets set name = coalesce($3, name), about = coalesce($4, about),
			origin = coalesce($5, origin), one_row = coalesce($6, one_row) where space_id = $1 and id = $2`,
			spaceID, id, said.Name, said.About, said.Origin, said.OneRow)); err != nil {
			return err
		}
		return datasetChanged(ctx, tx, id)
	})
}

// Meanings gives the dictionary of a dataset.
func (s *Store) Meanings(ctx context.Context, datasetID int64) (app.Meanings, error) {
	list, err := collect(ctx, s, func(row pgx.Row) (app.Meaning, error) {
		var m app.Meaning
		err := row.Scan(&m.Column, &m.Label, &m.Unit, &m.Meaning, &m.Form, &m.Codes, &m.Colours)
		return m, err
	}, `select name, label, unit, meaning, form, codes, colours from column_meanings where dataset_id = $1`, datasetID)
	meanings := app.Meanings{}
	for _, m := range list {
		meanings[m.Column] = m
	}
	return meanings, err
}

// SetMeanings writes the meanings of some columns; an empty one is forgotten.
func (s *Store) SetMeanings(ctx context.Context, datasetID int64, meanings []app.Meaning) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		for _, m := range meanings {
			if m.Codes == nil {
				m.Codes = map[string]string{}
			}
			if m.Colours == nil {
				m.Colours = map[string]string{}
			}
			if _, err := tx.Exec(ctx, `insert into column_meanings (dataset_id, name, label, unit, meaning, form, codes, colours) values ($1, $2, $3, $4, $5, $6, $7, $8)
				on conflict (dataset_id, name) do update set label = excluded.label, unit = excluded.unit, meaning = excluded.meaning, form = excluded.form, codes = excluded.codes, colours = excluded.colours`,
				datasetID, m.Column, m.Label, m.Unit, m.Meaning, m.Form, m.Codes, m.Colours); err != nil {
				return err
			}
		}
		_, err := tx.Exec(
			ctx,
			`delete from column_meanings where dataset_id = $1 and label = '' and unit = '' and meaning = '' and form = '' and codes = '{}' and colours = '{}'`,
			datasetID,
		)
		if err != nil {
			return err
		}
		return datasetChanged(ctx, tx, datasetID)
	})
}

// datasetChanged counts that a dataset changed, and tells of it.
func datasetChanged(ctx context.Context, tx pgx.Tx, datasetID int64) error {
	if _, err := tx.Exec(ctx, `update datasets set changes = changes + 1 where id = $1`, datasetID); err != nil {
		return err
	}
	return tellOf(ctx, tx, app.Subject{DatasetID: datasetID})
}

// DropDataset deletes one with its versions and charts.
func (s *Store) DropDataset(ctx context.Context, spaceID, id int64) error {
	return affected(s.pool.Exec(ctx, `delete from datasets where space_id = $1 and id = $2`, spaceID, id))
}

func scanVersion(row pgx.Row) (app.Version, error) {
	var v app.Version
	var clauses []byte
	if err := row.Scan(&v.ID, &v.Number, &v.Rows, &v.PreparedFrom, &clauses, &v.CreatedAt); err != nil {
		return v, found(err)
	}
	if clauses == nil {
		return v, nil
	}
	return v, json.Unmarshal(clauses, &v.Preparation)
}

const versionColumns = `v.id, v.number, v.row_count, coalesce(v.prepared_from, 0), v.preparation, v.created_at`

// Versions lists a dataset's versions, the newest first.
func (s *Store) Versions(ctx context.Context, spaceID, datasetID int64) ([]app.Version, error) {
	return collect(ctx, s, scanVersion, `select `+versionColumns+` from dataset_versions v join datasets d on d.id = v.dataset_id
		where d.space_id = $1 and d.id = $2 order by v.number desc`, spaceID, datasetID)
}

// AddVersion keeps a prepared table as the next version of the dataset that the
// version it was made from belongs to.
func (s *Store) AddVersion(
	ctx context.Context,
	spaceID, fromVersionID int64,
	t *table.Table,
	clauses []prepare.Clause,
) (app.Version, error) {
	stored, err := json.Marshal(clauses)
	if err != nil {
		return app.Version{}, err
	}
	var id int64
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		var datasetID int64
		var fileName string
		var report []byte
		if err := tx.QueryRow(ctx, `select d.id, v.file_name, v.report from dataset_versions v join datasets d on d.id = v.dataset_id
			where d.space_id = $1 and v.id = $2 for update of d`, spaceID, fromVersionID).Scan(&datasetID, &fileName, &report); err != nil {
			return found(err)
		}
		if err := tx.QueryRow(ctx, `insert into dataset_versions (dataset_id, number, row_count, file_name, report, prepared_from, preparation)
			values ($1, (select max(number) + 1 from dataset_versions where dataset_id = $1), $2, $3, $4, $5, $6) returning id`,
			datasetID, t.Rows(), fileName, report, fromVersionID, stored).Scan(&id); err != nil {
			return err
		}
		if err := addColumns(ctx, tx, id, t); err != nil {
			return err
		}
		return datasetChanged(ctx, tx, datasetID)
	})
	if err != nil {
		return app.Version{}, err
	}
	return scanVersion(s.pool.QueryRow(ctx, `select `+versionColumns+` from dataset_versions v where v.id = $1`, id))
}

// foldAppended deletes versions that rows were added by more than an hour ago and that a later one of their day has taken the place
// of, with what was made of them, unless something stands on them: a chart (whose steps, pages and notes are of it), a share, a note on
// rows, a comparison, or what a person made of them.
const foldAppended = `with recursive old as (
	select v.id, v.id as made, v.dataset_id from dataset_versions v
	where v.appended and v.prepared_from is null and v.created_at < now() - interval '1 hour' - $1::interval and exists (
		select from dataset_versions n where n.dataset_id = v.dataset_id and n.appended and n.prepared_from is null and n.number > v.number
			and date_trunc('day', n.created_at at time zone 'UTC') = date_trunc('day', v.created_at at time zone 'UTC'))
	union all select o.id, v.id, v.dataset_id from old o join dataset_versions v on v.prepared_from = o.made),
used as (
	select o.id from old o join dataset_versions v on v.id = o.made where not v.appended
		or exists (select from charts c where c.version_id = o.made) or exists (select from shares h where h.version_id = o.made)
		or exists (select from notes t where (t.spot->>'version_id')::bigint = o.made)
		or exists (select from comparisons k where o.made in ((k.sides->>'a_version')::bigint, (k.sides->>'b_version')::bigint)))
delete from dataset_versions where id in (select id from old except select id from used)`

// MarkAppended says that a version was made of one that rows were just added by, and goes with it.
func (s *Store) MarkAppended(ctx context.Context, versionID int64) error {
	return affected(s.pool.Exec(ctx, `update dataset_versions set appended = true where id = $1`, versionID))
}

func addColumns(ctx context.Context, tx pgx.Tx, versionID int64, t *table.Table) error {
	size := int64(0)
	if err := packColumns(ctx, t, func(position int, c packedColumn) error {
		size += int64(len(c.data) + len(c.levels))
		return c.insert(ctx, tx, `insert into dataset_columns (version_id, position, `+packedValues, versionID, position)
	}); err != nil {
		return err
	}
	_, err := tx.Exec(ctx, `update dataset_versions set byte_size = $2 where id = $1`, versionID, size)
	return err
}

// packedNames are the columns of a packed column; packedValues writes them after the two that say whose it is.
const (
	packedNames  = `name, label, unit, meaning, kind, grain, encoding, levels, data, decimals`
	packedValues = packedNames + `) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)`
)

func (c *packedColumn) insert(ctx context.Context, tx pgx.Tx, into string, of int64, position int) error {
	_, err := tx.Exec(
		ctx,
		into,
		of,
		position,
		c.name,
		c.label,
		c.unit,
		c.meaning,
		c.kind,
		c.grain,
		c.encoding,
		c.levels,
		c.data,
		c.decimals,
	)
	return err
}

// Version tells of a version that belongs to a space.
func (s *Store) Version(ctx context.Context, spaceID, versionID int64) (app.Dataset, error) {
	var d app.Dataset
	err := s.pool.QueryRow(ctx, `select d.id, d.name, d.about, d.origin, d.one_row, d.created_at, v.id, v.number, v.row_count, v.file_name,
			(select count(*) from dataset_columns c where c.version_id = v.id), coalesce(v.report->>'drawn', ''), `+originPlace+`
		from dataset_versions v join datasets d on d.id = v.dataset_id where d.space_id = $1 and v.id = $2`, spaceID, versionID).
		Scan(&d.ID, &d.Name, &d.About, &d.Origin, &d.OneRow, &d.CreatedAt, &d.VersionID, &d.Version, &d.Rows, &d.FileName,
			&d.Columns, &d.Drawn, &d.OriginPlace, &d.Prepared)
	d.Settle()
	return d, found(err)
}

// Table reads the table of a version, which never changes.
func (s *Store) Table(ctx context.Context, versionID int64, rows int) (*table.Table, error) {
	return s.unpacked(ctx, `select `+packedNames+` from dataset_columns where version_id = $1 order by position`, versionID, rows)
}

func (s *Store) unpacked(ctx context.Context, query string, of int64, rows int) (*table.Table, error) {
	packed, err := collect(ctx, s, func(row pgx.Row) (packedColumn, error) {
		var c packedColumn
		err := row.Scan(&c.name, &c.label, &c.unit, &c.meaning, &c.kind, &c.grain, &c.encoding, &c.levels, &c.data, &c.decimals)
		return c, err
	}, query, of)
	if err != nil {
		return nil, err
	}
	return unpackColumns(ctx, packed, rows)
}

// SpaceUse tells how much a space keeps: packed bytes, and rows of all versions, with
// those of waiting files and shares.
func (s *Store) SpaceUse(ctx context.Context, spaceID int64) (bytes, rows int64, err error) {
	err = s.pool.QueryRow(ctx, `select
		coalesce((select sum(v.byte_size) from dataset_versions v join datasets d on d.id = v.dataset_id where d.space_id = $1), 0)
		+ coalesce((select sum(byte_size) from waiting_files where space_id = $1), 0)
		+ coalesce((select sum(length(figure) + coalesce(length(exact), 0)) from shares where space_id = $1), 0),
		coalesce((select sum(v.row_count) from dataset_versions v join datasets d on d.id = v.dataset_id where d.space_id = $1), 0)`, spaceID).Scan(&bytes, &rows)
	return bytes, rows, err
}
