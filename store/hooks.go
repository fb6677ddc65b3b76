package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

func scanHook(row pgx.Row) (h app.Hook, err error) {
	return h, found(row.Scan(&h.ID, &h.Address, &h.CreatedAt, &h.By))
}

const hookQuery = `select h.id, h.address, h.created_at, coalesce(p.name, '') from hooks h left join people p on p.id = h.made_by `

// AddHook keeps an address.
func (s *Store) AddHook(ctx context.Context, spaceID, personID int64, address, secret string) (app.Hook, error) {
	var id int64
	if err := s.pool.QueryRow(ctx, `insert into hooks (space_id, made_by, address, secret) values ($1, $2, $3, $4) returning id`, spaceID,
		personID, address, secret).Scan(&id); err != nil {
		return app.Hook{}, err
	}
	return scanHook(s.pool.QueryRow(ctx, hookQuery+`where h.id = $1`, id))
}

// Hooks lists the addresses of a space.
func (s *Store) Hooks(ctx context.Context, spaceID int64) ([]app.Hook, error) {
	return collect(ctx, s, scanHook, hookQuery+`where h.space_id = $1 order by h.id`, spaceID)
}

// DropHook forgets an address, with its calls.
func (s *Store) DropHook(ctx context.Context, spaceID, id int64) (app.Hook, error) {
	hook, err := scanHook(s.pool.QueryRow(ctx, hookQuery+`where h.space_id = $1 and h.id = $2`, spaceID, id))
	if err != nil {
		return hook, err
	}
	return hook, affected(s.pool.Exec(ctx, `delete from hooks where id = $1`, id))
}

// AddHookCalls notes a call for each hook of a space.
func (s *Store) AddHookCalls(ctx context.Context, spaceID int64, event string, body []byte) error {
	_, err := s.pool.Exec(
		ctx,
		`insert into hook_calls (hook_id, event, body) select id, $2, $3 from hooks where space_id = $1`,
		spaceID,
		event,
		body,
	)
	return err
}

// HookCalls lists the last calls of a space, the newest first.
func (s *Store) HookCalls(ctx context.Context, spaceID int64, most int) ([]app.HookCall, error) {
	return collect(ctx, s, func(row pgx.Row) (c app.HookCall, err error) {
		return c, row.Scan(&c.ID, &c.HookID, &c.Event, &c.Body, &c.Tries, &c.NextAt, &c.Over, &c.Said, &c.CreatedAt)
	}, `select c.id, c.hook_id, c.event, c.body, c.tries, c.next_at, c.over, c.said, c.created_at from hook_calls c
		join hooks h on h.id = c.hook_id where h.space_id = $1 order by c.id desc limit $2`, spaceID, most)
}

// DueCalls takes calls that are to be made now.
func (s *Store) DueCalls(ctx context.Context, most int, within time.Duration) ([]app.HookCall, error) {
	return collect(ctx, s, func(row pgx.Row) (c app.HookCall, err error) {
		return c, row.Scan(&c.ID, &c.Event, &c.Body, &c.Tries, &c.Address, &c.Secret)
	}, `update hook_calls c set next_at = now() + $2::interval from hooks h where h.id = c.hook_id and c.id in (
		select id from hook_calls where not over and next_at <= now() order by next_at limit $1 for update skip locked)
		returning c.id, c.event, c.body, c.tries, h.address, h.secret`, most, within)
}

// TriedCall writes down what came of a call.
func (s *Store) TriedCall(ctx context.Context, id int64, over bool, next time.Time, said string) error {
	_, err := s.pool.Exec(
		ctx,
		`update hook_calls set tries = tries + 1, over = $2, next_at = $3, said = $4 where id = $1`,
		id,
		over,
		next,
		said,
	)
	return err
}
