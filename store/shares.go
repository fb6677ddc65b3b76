package store

import (
	"context"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

// AddShare keeps a fixed copy.
func (s *Store) AddShare(ctx context.Context, share app.Share) (app.Share, error) {
	err := s.pool.QueryRow(ctx, `insert into shares (key, space_id, chart_id, version_id, title, body, source, typed, figure, created_by)
		values ($1, $2, (select id from charts where id = $3 and space_id = $2), $4, $5, $6, $7, $8, $9, nullif($10::bigint, 0)) returning id, created_at`,
		share.Key, share.SpaceID, share.ChartID, share.VersionID, share.Title, share.Body, share.Source, share.Typed,
		compressor.EncodeAll(share.Figure, nil), share.PersonID).Scan(&share.ID, &share.CreatedAt)
	return share, err
}

const shareColumns = `h.id, h.key, coalesce(h.chart_id, 0), h.title, h.body, h.source, h.typed, h.created_at, h.withdrawn_at, s.name, s.id, coalesce(h.version_id, 0)`

func scanShare(row pgx.Row, extra ...any) (app.Share, error) {
	var h app.Share
	err := row.Scan(append([]any{&h.ID, &h.Key, &h.ChartID, &h.Title, &h.Body, &h.Source, &h.Typed, &h.CreatedAt, &h.WithdrawnAt, &h.SpaceName, &h.SpaceID, &h.VersionID}, extra...)...)
	return h, found(err)
}

// Shares lists a space's fixed copies without their figures, the newest first.
func (s *Store) Shares(ctx context.Context, spaceID int64) ([]app.Share, error) {
	return collect(ctx, s, func(row pgx.Row) (app.Share, error) { return scanShare(row) },
		`select `+shareColumns+` from shares h join spaces s on s.id = h.space_id where h.space_id = $1 order by h.created_at desc, h.id desc`, spaceID)
}

// WithdrawShare marks a fixed copy as withdrawn and forgets its figure.
func (s *Store) WithdrawShare(ctx context.Context, spaceID, id int64) error {
	return affected(s.pool.Exec(ctx, `update shares set withdrawn_at = coalesce(withdrawn_at, now()), figure = '' where space_id = $1 and id = $2`, spaceID, id))
}

// ShareByKey finds a fixed copy, withdrawn or not, with its figure.
func (s *Store) ShareByKey(ctx context.Context, key string) (app.Share, error) {
	var packed []byte
	h, err := scanShare(s.pool.QueryRow(ctx, `select `+shareColumns+`, h.figure from shares h join spaces s on s.id = h.space_id where h.key = $1`, key), &packed)
	if err != nil || h.WithdrawnAt != nil {
		return h, err
	}
	h.Figure, err = decompressor.DecodeAll(packed, nil)
	return h, err
}
