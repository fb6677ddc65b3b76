package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/chart"
)

const personColumns = `p.id, p.name, p.email, s.id, s.name, m.role`

const personJoin = ` join members m on m.person_id = p.id join spaces s on s.id = m.space_id`

func scanPerson(row pgx.Row, extra ...any) (app.Person, error) {
	var p app.Person
	err := row.Scan(append([]any{&p.ID, &p.Name, &p.Email, &p.SpaceID, &p.SpaceName, &p.Role}, extra...)...)
	return p, found(err)
}

// PersonByEmail finds a person by address, in any case, with the stored hash.
func (s *Store) PersonByEmail(ctx context.Context, email string) (app.Person, string, error) {
	var hash string
	p, err := scanPerson(s.pool.QueryRow(ctx, `select `+personColumns+`, p.password_hash from people p`+personJoin+`
		where lower(p.email) = lower($1) order by s.id limit 1`, email), &hash)
	return p, hash, err
}

// PersonBySession finds whose session a token is.
func (s *Store) PersonBySession(ctx context.Context, tokenHash []byte) (app.Person, error) {
	return scanPerson(s.pool.QueryRow(ctx, `select `+personColumns+` from sessions t join people p on p.id = t.person_id`+personJoin+`
		where t.token_hash = $1 and t.expires_at > now() order by s.id limit 1`, tokenHash))
}

// AddSession keeps a session.
func (s *Store) AddSession(ctx context.Context, tokenHash []byte, personID int64, until time.Time) error {
	_, err := s.pool.Exec(ctx, `insert into sessions (token_hash, person_id, expires_at) values ($1, $2, $3)`, tokenHash, personID, until)
	return err
}

// DropSession ends a session, if there is one.
func (s *Store) DropSession(ctx context.Context, tokenHash []byte) error {
	_, err := s.pool.Exec(ctx, `delete from sessions where token_hash = $1 or expires_at < now()`, tokenHash)
	return err
}

// AddSignInLink keeps a link, and forgets those that are too old.
func (s *Store) AddSignInLink(ctx context.Context, tokenHash []byte, personID int64, until time.Time) error {
	if _, err := s.pool.Exec(ctx, `delete from sign_in_links where expires_at < now()`); err != nil {
		return err
	}
	_, err := s.pool.Exec(
		ctx,
		`insert into sign_in_links (token_hash, person_id, expires_at) values ($1, $2, $3)`,
		tokenHash,
		personID,
		until,
	)
	return err
}

// UseSignInLink marks a link as used and says whose it is; of two calls at the
// same time one gets it.
func (s *Store) UseSignInLink(ctx context.Context, tokenHash []byte) (personID int64, err error) {
	err = s.pool.QueryRow(ctx, `update sign_in_links set used_at = now() where token_hash = $1 and used_at is null and expires_at > now()
		returning person_id`, tokenHash).Scan(&personID)
	return personID, found(err)
}

// AddPerson makes a person and a space that they own.
func (s *Store) AddPerson(ctx context.Context, email, name, passwordHash, spaceName string) (app.Person, error) {
	p := app.Person{Name: name, Email: email, SpaceName: spaceName, Role: "owner"}
	err := s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `insert into spaces (name) values ($1) returning id`, spaceName).Scan(&p.SpaceID); err != nil {
			return err
		}
		if err := tx.QueryRow(ctx, `insert into people (email, name, password_hash) values ($1, $2, $3) returning id`, email, name,
			passwordHash).Scan(&p.ID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `insert into members (space_id, person_id, role) values ($1, $2, 'owner')`, p.SpaceID, p.ID)
		return err
	})
	return p, err
}

// SpaceStyle gives how charts of a space look from their beginning on.
func (s *Store) SpaceStyle(ctx context.Context, spaceID int64) (style chart.Style, err error) {
	err = s.pool.QueryRow(ctx, `select style from spaces where id = $1`, spaceID).Scan(&style)
	return style, found(err)
}

// SetSpaceStyle changes it.
func (s *Store) SetSpaceStyle(ctx context.Context, spaceID int64, style chart.Style) error {
	_, err := s.pool.Exec(ctx, `update spaces set style = $2 where id = $1`, spaceID, style)
	return err
}
