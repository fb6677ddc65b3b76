package store

import (
	"context"
	"encoding/json"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/summary"
)

// mostAnswers is how many answers of a version are kept; of more the oldest go, and are asked again where a chart needs them.
const mostAnswers = 500

// WholeAnswer gives what was answered to a question.
func (s *Store) WholeAnswer(ctx context.Context, versionID int64, name string) (*summary.Answer, error) {
	var packed []byte
	err := s.pool.QueryRow(ctx, `select answer from answers where version_id = $1 and name = $2`, versionID, name).Scan(&packed)
	if err != nil {
		return nil, found(err)
	}
	written, err := decompressor.DecodeAll(packed, nil)
	if err != nil {
		return nil, err
	}
	answer := &summary.Answer{}
	return answer, json.Unmarshal(written, answer)
}

// WholeAnswers tells what was asked, the last first.
func (s *Store) WholeAnswers(ctx context.Context, versionID int64) ([]app.WholeAnswer, error) {
	return collect(ctx, s, func(row pgx.Row) (k app.WholeAnswer, err error) {
		var took int64
		err = row.Scan(&k.Key, &k.Statement, &took, &k.Parts, &k.AskedAt, &k.By)
		k.Seconds = float64(took) / 1000
		return k, err
	}, `select a.name, a.statement, a.took_ms, a.parts, a.asked_at, coalesce(p.name, '') from answers a
		left join people p on p.id = a.asked_by where a.version_id = $1 order by a.asked_at desc limit $2`, versionID, mostAnswers)
}

// KeepWholeAnswer keeps what was answered; asked twice at once, the later one stays.
func (s *Store) KeepWholeAnswer(ctx context.Context, versionID, personID int64, k app.WholeAnswer) error {
	written, err := json.Marshal(k.Answer)
	if err != nil {
		return err
	}
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `insert into answers (version_id, name, answer, statement, took_ms, parts, asked_at, asked_by)
			values ($1, $2, $3, $4, $5, $6, $7, nullif($8::bigint, 0))
			on conflict (version_id, name) do update set answer = excluded.answer, statement = excluded.statement,
				took_ms = excluded.took_ms, parts = excluded.parts, asked_at = excluded.asked_at, asked_by = excluded.asked_by`,
			versionID, k.Key, compressor.EncodeAll(written, nil), k.Statement, int64(k.Seconds*1000), k.Parts, k.AskedAt,
			personID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `delete from answers where version_id = $1 and name in
			(select name from answers where version_id = $1 order by asked_at desc, name offset $2)`, versionID, mostAnswers)
		return err
	})
}

// DropWholeAnswers forgets what was answered.
func (s *Store) DropWholeAnswers(ctx context.Context, versionID int64) error {
	_, err := s.pool.Exec(ctx, `delete from answers where version_id = $1`, versionID)
	return translated(err)
}
