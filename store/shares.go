package store

import (
	"context"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/table"
)

// AddShare keeps a fixed copy with the table that it publishes.
func (s *Store) AddShare(ctx context.Context, share app.Share, published *table.Table) (app.Share, error) {
	err := s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `insert into shares (key, space_id, chart_id, version_id, title, body, source, typed, figure, exact, created_by, made)
			values ($1, $2, (select id from charts where id = $3 and space_id = $2), $4, $5, $6, $7, $8, $9, $10, nullif($11::bigint, 0), $12) returning id, created_at`,
			share.Key, share.SpaceID, share.ChartID, share.VersionID, share.Title, share.Body, share.Source, share.Typed,
			compressor.EncodeAll(share.Figure, nil), packedExact(share.Exact), share.PersonID, share.Made).Scan(&share.ID,
			&share.CreatedAt); err != nil {
			return err
		}
		return publish(ctx, tx, share.ID, published)
	})
	return share, err
}

func publish(ctx context.Context, tx pgx.Tx, shareID int64, t *table.Table) error {
	if _, err := tx.Exec(ctx, `update shares set row_count = $2 where id = $1`, shareID, t.Rows()); err != nil {
		return err
	}
	return packColumns(ctx, t, func(position int, c packedColumn) error {
		return c.insert(ctx, tx, `insert into share_columns (share_id, position, `+packedValues, shareID, position)
	})
}

// Publish keeps the table of a share that was made before tables were kept, unless
// another program did meanwhile.
func (s *Store) Publish(ctx context.Context, shareID int64, t *table.Table) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `select from shares where id = $1 and row_count is null for update`, shareID)
		if err != nil || tag.RowsAffected() == 0 {
			return err
		}
		return publish(ctx, tx, shareID, t)
	})
}

// PublishedTable reads the table that a share publishes.
func (s *Store) PublishedTable(ctx context.Context, shareID int64, rows int) (*table.Table, error) {
	return s.unpacked(ctx, `select `+packedNames+` from share_columns where share_id = $1 order by position`, shareID, rows)
}

const shareColumns = `h.id, h.key, coalesce(h.chart_id, 0), h.title, h.body, h.source, h.typed, h.created_at, h.withdrawn_at, s.name, s.id, coalesce(h.version_id, 0), coalesce(h.row_count, -1), h.made`

func scanShare(row pgx.Row, extra ...any) (app.Share, error) {
	var h app.Share
	err := row.Scan(
		append(
			[]any{
				&h.ID,
				&h.Key,
				&h.ChartID,
				&h.Title,
				&h.Body,
				&h.Source,
				&h.Typed,
				&h.CreatedAt,
				&h.WithdrawnAt,
				&h.SpaceName,
				&h.SpaceID,
				&h.VersionID,
				&h.Rows,
				&h.Made,
			},
			extra...)...)
	return h, found(err)
}

// Shares lists a space's fixed copies without their figures, the newest first.
func (s *Store) Shares(ctx context.Context, spaceID int64) ([]app.Share, error) {
	return collect(
		ctx,
		s,
		func(row pgx.Row) (app.Share, error) { return scanShare(row) },
		`select `+shareColumns+` from shares h join spaces s on s.id = h.space_id where h.space_id = $1 order by h.created_at desc, h.id desc`,
		spaceID,
	)
}

// WithdrawShare marks a fixed copy as withdrawn and forgets its figure and its rows.
func (s *Store) WithdrawShare(ctx context.Context, spaceID, id int64) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx,
			`update shares set withdrawn_at = coalesce(withdrawn_at, now()), figure = '', exact = null, made = '' where space_id = $1 and id = $2`,
			spaceID, id)); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `delete from share_columns where share_id = $1`, id)
		return err
	})
}

// ShareByKey finds a fixed copy, withdrawn or not, without its figure.
func (s *Store) ShareByKey(ctx context.Context, key string) (app.Share, error) {
	return scanShare(s.pool.QueryRow(ctx, `select `+shareColumns+` from shares h join spaces s on s.id = h.space_id where h.key = $1`, key))
}

// packedExact packs a figure with exact places; null where there is none.
func packedExact(encoded []byte) []byte {
	if len(encoded) == 0 {
		return nil
	}
	return compressor.EncodeAll(encoded, nil)
}

// SharedFigure reads the encoded figure of a fixed copy, or the one with exact places where it has one.
func (s *Store) SharedFigure(ctx context.Context, shareID int64, exact bool) ([]byte, error) {
	var packed []byte
	if err := s.pool.QueryRow(ctx,
		`select case when $2 then coalesce(exact, figure) else figure end from shares where id = $1 and withdrawn_at is null`, shareID,
		exact).Scan(&packed); err != nil {
		return nil, found(err)
	}
	return decompressor.DecodeAll(packed, nil)
}
