package store

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/klauspost/compress/s2"

	"copperlark/app"
)

// waitingPart is how many bytes of a file stand in one row.
const waitingPart = 4 << 20

// AddWaiting keeps a file that waits, a part after the other as they are read.
func (s *Store) AddWaiting(ctx context.Context, file app.WaitingFile, content io.Reader) error {
	options, err := json.Marshal(file.Options)
	if err != nil {
		return err
	}
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `set local synchronous_commit = off`); err != nil { // see waiting_parts
			return err
		}
		if _, err := tx.Exec(ctx,
			`insert into waiting_files (key_hash, space_id, person_id, name, byte_size, options) values ($1, $2, $3, $4, $5, $6)`,
			file.KeyHash, file.SpaceID, file.PersonID, file.Name, file.Bytes, options); err != nil {
			return err
		}
		part := make([]byte, waitingPart)
		var packed []byte
		for position := 0; ; position++ {
			n, err := io.ReadFull(content, part)
			if n > 0 {
				packed = s2.Encode(packed[:cap(packed)], part[:n])
				if _, err := tx.Exec(ctx, `insert into waiting_parts (key_hash, position, data) values ($1, $2, $3)`, file.KeyHash, position,
					packed); err != nil {
					return err
				}
			}
			if err == io.EOF || err == io.ErrUnexpectedEOF {
				return nil
			}
			if err != nil {
				return err
			}
		}
	})
}

// unpackWaiting unpacks a part of a file that waits, into the room of another. It is packed with s2, which
// is the fastest: it stands for hours at most. Earlier versions of the program packed it with zstd.
func unpackWaiting(packed, room []byte) ([]byte, error) {
	if bytes.HasPrefix(packed, []byte{0x28, 0xb5, 0x2f, 0xfd}) {
		return decompressor.DecodeAll(packed, room[:0])
	}
	if size, err := s2.DecodedLen(packed); err != nil || size > waitingPart {
		return nil, errors.Join(err, errWaiting)
	}
	return s2.Decode(room[:cap(room)], packed)
}

var errWaiting = errors.New("a part of a waiting file is damaged")

// Waiting finds a file that waits, of a space.
func (s *Store) Waiting(ctx context.Context, spaceID int64, keyHash []byte) (app.WaitingFile, error) {
	file := app.WaitingFile{KeyHash: keyHash, SpaceID: spaceID}
	var options []byte
	if err := s.pool.QueryRow(ctx, `select person_id, name, byte_size, options from waiting_files where space_id = $1 and key_hash = $2`,
		spaceID, keyHash).
		Scan(&file.PersonID, &file.Name, &file.Bytes, &options); err != nil {
		return file, found(err)
	}
	return file, json.Unmarshal(options, &file.Options)
}

// WaitingContent writes what a waiting file holds. After a crash of the database that may
// be gone: app.ErrNotFound.
func (s *Store) WaitingContent(ctx context.Context, file app.WaitingFile, into io.Writer) error {
	left := file.Bytes
	rows, err := s.pool.Query(ctx, `select data from waiting_parts where key_hash = $1 order by position`, file.KeyHash)
	if err != nil {
		return translated(err)
	}
	defer rows.Close()
	var part []byte
	for rows.Next() {
		var packed []byte
		if err := rows.Scan(&packed); err != nil {
			return translated(err)
		}
		if part, err = unpackWaiting(packed, part); err != nil {
			return err
		}
		if _, err := into.Write(part); err != nil {
			return err
		}
		left -= int64(len(part))
	}
	if err := rows.Err(); err != nil {
		return translated(err)
	}
	if left != 0 {
		return app.ErrNotFound
	}
	return nil
}

// ReadWaitingWith says how a waiting file is read from now on.
func (s *Store) ReadWaitingWith(ctx context.Context, file app.WaitingFile) error {
	options, err := json.Marshal(file.Options)
	if err != nil {
		return err
	}
	return affected(
		s.pool.Exec(
			ctx,
			`update waiting_files set options = $3 where space_id = $1 and key_hash = $2`,
			file.SpaceID,
			file.KeyHash,
			options,
		),
	)
}

// DropWaiting forgets a waiting file.
func (s *Store) DropWaiting(ctx context.Context, spaceID int64, keyHash []byte) error {
	return affected(s.pool.Exec(ctx, `delete from waiting_files where space_id = $1 and key_hash = $2`, spaceID, keyHash))
}

// lookedAt is a chart that nobody named or shared, that no page shows, on which no note is, that no comparison is of, and of which no
// step has a name or a pin;
// aTry is one that no page showed before either.
const (
	lookedAt = `not c.named and not exists (select from shares s where s.chart_id = c.id)
		and not exists (select from steps t where t.chart_id = c.id and (t.pinned or t.name <> ''))
		and not exists (select from notes n where n.chart_id = c.id)
		and not exists (select from comparisons k where c.id in (k.a_chart_id, k.b_chart_id))
		and c.id not in (select ` + chartsShown + ` from pages p)`
	aTry = lookedAt + ` and c.id not in (select ` + chartsShown + ` from page_versions p)`
	// A page without blocks has null in their place, which a path passes over.
	chartsShown = `jsonb_path_query(p.contents, '$.blocks[*].chart.id ? (@.type() == "number")')::bigint`
)

// DropTries deletes charts that are tries and were not changed for so long, and gives how many these were.
func (s *Store) DropTries(ctx context.Context, unchanged time.Duration) (int, error) {
	tag, err := s.pool.Exec(ctx, `delete from charts c where c.changed_at < now() - $1::interval and `+aTry, unchanged)
	return int(tag.RowsAffected()), err
}

// DropOld forgets waiting files, sessions and sign-in links whose time is over.
func (s *Store) DropOld(ctx context.Context, waitingTime, auditTime time.Duration) error {
	for _, old := range []struct {
		statement string
		after     time.Duration
	}{
		{`delete from waiting_files where created_at < now() - $1::interval`, waitingTime},
		{`delete from sessions where expires_at < now() - $1::interval`, waitingTime},
		{`delete from sign_in_links where expires_at < now() - $1::interval`, waitingTime},
		{`delete from keys where expires_at < now() - $1::interval`, 0},
		{`delete from key_answers where created_at < now() - interval '1 day' - $1::interval`, 0},
		{`delete from hook_calls where over and next_at < now() - interval '30 days' - $1::interval`, 0},
		{`delete from chart_events where at < now() - interval '1 day' - $1::interval`, 0},
		{foldAppended, 0},
		{`delete from windows where seen_at < now() - interval '5 minutes' - $1::interval`, 0},
		{`delete from ceremonies where expires_at < now() - $1::interval`, 0},
		{`delete from invitations where expires_at < now() - $1::interval`, 0},
		{`delete from spaces where leaves_at < now() - $1::interval`, 0},
		{`delete from audit where $1::interval > interval '0' and created_at < now() - $1::interval`, auditTime},
	} {
		if _, err := s.pool.Exec(ctx, old.statement, old.after); err != nil {
			return err
		}
	}
	return nil
}

// WaitingUse tells how many bytes the waiting files of a person unpack to.
func (s *Store) WaitingUse(ctx context.Context, personID int64) (bytes int64, err error) {
	err = s.pool.QueryRow(ctx, `select coalesce(sum(byte_size), 0) from waiting_files where person_id = $1`, personID).Scan(&bytes)
	return bytes, err
}
