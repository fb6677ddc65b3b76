package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

// AddAudit keeps who did what.
func (s *Store) AddAudit(ctx context.Context, e app.AuditEntry) error {
	_, err := s.pool.Exec(
		ctx,
		`insert into audit (space_id, person_id, who, did, what, address) values (nullif($1::bigint, 0), nullif($2::bigint, 0), $3, $4, $5, $6)`,
		e.SpaceID,
		e.PersonID,
		e.Who,
		e.Did,
		e.What,
		e.Address,
	)
	return err
}

// Audit lists what was done in a space, the newest first: those that are wanted.
func (s *Store) Audit(ctx context.Context, spaceID int64, wanted app.AuditWanted, most int) ([]app.AuditEntry, error) {
	instant := func(at time.Time) *time.Time {
		if at.IsZero() {
			return nil
		}
		return &at
	}
	return collect(ctx, s, func(row pgx.Row) (app.AuditEntry, error) {
		var e app.AuditEntry
		err := row.Scan(&e.ID, &e.Who, &e.Did, &e.What, &e.Address, &e.At)
		return e, err
	}, `select id, who, did, what, address, created_at from audit where space_id = $1 and ($2 = 0 or id < $2)
		and ($4 = '' or strpos(lower(who), lower($4)) > 0) and ($5::text[] is null or did = any($5))
		and ($6::timestamptz is null or created_at >= $6) and ($7::timestamptz is null or created_at < $7) order by id desc limit $3`,
		spaceID, wanted.Before, most, wanted.Who, wanted.Dids(), instant(wanted.From), instant(wanted.To))
}
