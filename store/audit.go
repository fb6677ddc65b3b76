package store

import (
	"context"

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

// Audit lists what was done in a space, the newest first: those before an entry, or the
// newest of all for 0.
func (s *Store) Audit(ctx context.Context, spaceID, before int64, most int) ([]app.AuditEntry, error) {
	return collect(ctx, s, func(row pgx.Row) (app.AuditEntry, error) {
		var e app.AuditEntry
		err := row.Scan(&e.ID, &e.Who, &e.Did, &e.What, &e.Address, &e.At)
		return e, err
	}, `select id, who, did, what, address, created_at from audit where space_id = $1 and ($2 = 0 or id < $2) order by id desc limit $3`,
		spaceID, before, most)
}
