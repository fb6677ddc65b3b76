package store

import (
	"bytes"
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

const keyQuery = `select k.id, k.name, k.scopes, coalesce(k.dataset_id, 0), coalesce(d.name, ''), p.name, p.id, k.created_at,
	k.expires_at, k.used_at from keys k join people p on p.id = k.person_id left join datasets d on d.id = k.dataset_id `

func keyInto(k *app.Key) []any {
	return []any{&k.ID, &k.Name, &k.Scopes, &k.DatasetID, &k.Dataset, &k.By, &k.ByID, &k.CreatedAt, &k.ExpiresAt, &k.UsedAt}
}

func scanKey(row pgx.Row) (k app.Key, err error) {
	return k, found(row.Scan(keyInto(&k)...))
}

// AddKey keeps a key.
func (s *Store) AddKey(ctx context.Context, spaceID, personID int64, tokenHash []byte, key app.Key) (app.Key, error) {
	var id int64
	if err := s.pool.QueryRow(ctx, `insert into keys (space_id, person_id, name, token_hash, scopes, dataset_id, expires_at)
		values ($1, $2, $3, $4, $5, nullif($6::bigint, 0), $7) returning id`, spaceID, personID, key.Name, tokenHash, key.Scopes, key.DatasetID,
		key.ExpiresAt).Scan(&id); err != nil {
		return key, err
	}
	return scanKey(s.pool.QueryRow(ctx, keyQuery+`where k.id = $1`, id))
}

// Keys lists those that can still be used.
func (s *Store) Keys(ctx context.Context, spaceID int64) ([]app.Key, error) {
	return collect(ctx, s, scanKey, keyQuery+`where k.space_id = $1 and k.expires_at > now() order by k.id desc`, spaceID)
}

// DropKey takes one back.
func (s *Store) DropKey(ctx context.Context, spaceID, id, personID int64) (app.Key, error) {
	key, err := scanKey(
		s.pool.QueryRow(ctx, keyQuery+`where k.space_id = $1 and k.id = $2 and ($3 = 0 or k.person_id = $3)`, spaceID, id, personID),
	)
	if err != nil {
		return key, err
	}
	return key, affected(s.pool.Exec(ctx, `delete from keys where id = $1`, id))
}

// KeyByToken finds a key that can be used, with its person in its space; once in a while it writes down that it was used.
func (s *Store) KeyByToken(ctx context.Context, tokenHash []byte) (key app.Key, person app.Person, err error) {
	err = found(
		s.pool.QueryRow(ctx, `select k.id, k.name, k.scopes, coalesce(k.dataset_id, 0), '', p.name, p.id, k.created_at, k.expires_at, k.used_at,
		p.email, s.id, s.name, coalesce(m.role, '') from keys k join people p on p.id = k.person_id join spaces s on s.id = k.space_id
		left join members m on m.space_id = s.id and m.person_id = p.id where k.token_hash = $1 and k.expires_at > now()`, tokenHash).
			Scan(append(keyInto(&key), &person.Email, &person.SpaceID, &person.SpaceName, &person.Role)...),
	)
	person.ID, person.Name = key.ByID, key.By
	if err != nil || key.UsedAt != nil && time.Since(*key.UsedAt) < seenEvery {
		return key, person, err
	}
	_, err = s.pool.Exec(ctx, `update keys set used_at = now() where id = $1`, key.ID)
	return key, person, err
}

// answering is how long a request may be answered before the same one, sent again, is taken for the first.
const answering = 10 * time.Minute

// BeginAnswer notes that a request is answered.
func (s *Store) BeginAnswer(ctx context.Context, keyID int64, said string, requestHash []byte) (*app.KeptAnswer, error) {
	tag, err := s.pool.Exec(ctx, `insert into key_answers (key_id, said, request_hash, status) values ($1, $2, $3, 0)
		on conflict (key_id, said) do update set created_at = now(), request_hash = $3
		where key_answers.status = 0 and key_answers.created_at < now() - $4::interval`, keyID, said, requestHash, answering)
	if err != nil || tag.RowsAffected() == 1 {
		return nil, err
	}
	var answer app.KeptAnswer
	var hash []byte
	if err := s.pool.QueryRow(ctx, `select status, kind, body, request_hash from key_answers where key_id = $1 and said = $2`, keyID, said).
		Scan(&answer.Status, &answer.Kind, &answer.Body, &hash); err != nil {
		return nil, found(err)
	}
	if answer.Status == 0 || !bytes.Equal(hash, requestHash) {
		return nil, app.ErrTwice
	}
	return &answer, nil
}

// KeepAnswer keeps what a request was answered.
func (s *Store) KeepAnswer(ctx context.Context, keyID int64, said string, answer app.KeptAnswer) error {
	return affected(s.pool.Exec(ctx, `update key_answers set status = $3, kind = $4, body = $5 where key_id = $1 and said = $2`, keyID, said,
		answer.Status, answer.Kind, answer.Body))
}

// DropAnswer forgets that a request was answered.
func (s *Store) DropAnswer(ctx context.Context, keyID int64, said string) error {
	_, err := s.pool.Exec(ctx, `delete from key_answers where key_id = $1 and said = $2`, keyID, said)
	return err
}
