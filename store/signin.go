package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

// seenEvery is how often a session that is used is written down as seen.
const seenEvery = 30 * time.Second

// PersonBySession finds whose session a token is, in one of their spaces (0: where they were last), and writes down now
// and then that they were there. A space that they are not in gives them no role.
func (s *Store) PersonBySession(ctx context.Context, tokenHash []byte, spaceID int64, away time.Duration) (app.Person, error) {
	var session int64
	var strong, old bool
	p, err := scanPerson(s.pool.QueryRow(ctx, `select `+personColumns+`, t.id, t.strong,
		t.seen_at < now() - $4::interval or m.role is not null and not exists (select 1 from members v
			where v.space_id = m.space_id and v.person_id = p.id and v.visited_at > now() - $4::interval)
		from sessions t join people p on p.id = t.person_id`+lastPlace("$2")+`
		where t.token_hash = $1 and t.expires_at > now() and t.seen_at > now() - $3::interval`, tokenHash, spaceID, away, seenEvery),
		&session, &strong, &old)
	p.SessionID, p.Strong = session, strong
	if err != nil || !old {
		return p, err
	}
	_, err = s.pool.Exec(ctx, `with seen as (update sessions set seen_at = now() where id = $1)
		update members set visited_at = now() where space_id = $2 and person_id = $3`, session, p.SpaceID, p.ID)
	return p, err
}

// AddSession keeps a session.
func (s *Store) AddSession(
	ctx context.Context,
	tokenHash []byte,
	personID int64,
	until time.Time,
	device, address string,
	strong bool,
) error {
	_, err := s.pool.Exec(
		ctx,
		`insert into sessions (token_hash, person_id, expires_at, device, address, strong) values ($1, $2, $3, $4, $5, $6)`,
		tokenHash,
		personID,
		until,
		device,
		address,
		strong,
	)
	return err
}

// DropSession ends a session, if there is one.
func (s *Store) DropSession(ctx context.Context, tokenHash []byte) error {
	_, err := s.pool.Exec(ctx, `delete from sessions where token_hash = $1 or expires_at < now()`, tokenHash)
	return err
}

// Sessions lists where somebody is signed in.
func (s *Store) Sessions(ctx context.Context, personID int64, away time.Duration) ([]app.Session, error) {
	return collect(ctx, s, func(row pgx.Row) (t app.Session, err error) {
		return t, row.Scan(&t.ID, &t.Device, &t.Address, &t.Began, &t.Seen, &t.Strong)
	}, `select id, device, address, created_at, seen_at, strong from sessions 
		where person_id = $1 and expires_at > now() and seen_at > now() - $2::interval
		order by seen_at desc, id desc`, personID, away)
}

// EndSession ends a session of somebody.
func (s *Store) EndSession(ctx context.Context, personID, id int64) error {
	return affected(s.pool.Exec(ctx, `delete from sessions where person_id = $1 and id = $2`, personID, id))
}

// Strengthen writes down that a session has shown a second factor.
func (s *Store) Strengthen(ctx context.Context, sessionID int64) error {
	_, err := s.pool.Exec(ctx, `update sessions set strong = true where id = $1`, sessionID)
	return err
}

// AddSignInLink keeps a link, and forgets those that are too old.
func (s *Store) AddSignInLink(ctx context.Context, tokenHash []byte, personID int64, until time.Time, forPassword bool) error {
	if _, err := s.pool.Exec(ctx, `delete from sign_in_links where expires_at < now()`); err != nil {
		return err
	}
	_, err := s.pool.Exec(
		ctx,
		`insert into sign_in_links (token_hash, person_id, expires_at, for_password) values ($1, $2, $3, $4)`,
		tokenHash,
		personID,
		until,
		forPassword,
	)
	return err
}

// UseSignInLink marks a link as used and says whose it is; of two calls at the
// same time one gets it.
func (s *Store) UseSignInLink(ctx context.Context, tokenHash []byte, forPassword bool) (personID int64, err error) {
	err = s.pool.QueryRow(ctx, `update sign_in_links set used_at = now() where token_hash = $1 and for_password = $2 and used_at is null
		and expires_at > now() returning person_id`, tokenHash, forPassword).Scan(&personID)
	return personID, found(err)
}

// LinkPerson says whose a link to a new password is, while it can be used.
func (s *Store) LinkPerson(ctx context.Context, tokenHash []byte) (app.Person, error) {
	return scanPerson(
		s.pool.QueryRow(ctx, `select `+personColumns+` from sign_in_links l join people p on p.id = l.person_id`+lastPlace("$2")+`
		where l.token_hash = $1 and l.for_password and l.used_at is null and l.expires_at > now()`, tokenHash, 0),
	)
}

// SetPassword changes a password; all sessions of the person but one end, and all links.
func (s *Store) SetPassword(ctx context.Context, personID int64, hash string, keptSession int64) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx, `update people set password_hash = $2 where id = $1`, personID, hash)); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `delete from sign_in_links where person_id = $1`, personID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `delete from sessions where person_id = $1 and id <> $2`, personID, keptSession)
		return err
	})
}

// SetFactor keeps the secret of a second factor that is not confirmed yet; a confirmed one stays.
func (s *Store) SetFactor(ctx context.Context, personID int64, secret string) error {
	return affected(s.pool.Exec(ctx, `insert into second_factors (person_id, secret) values ($1, $2)
		on conflict (person_id) do update set secret = $2 where second_factors.confirmed_at is null`, personID, secret))
}

// Factor gives the second factor of somebody.
func (s *Store) Factor(ctx context.Context, personID int64) (f app.Factor, err error) {
	err = s.pool.QueryRow(ctx, `select secret, confirmed_at is not null, last_step,
		(select count(*) from recovery_codes c where c.person_id = $1)
		from second_factors where person_id = $1`, personID).
		Scan(&f.Secret, &f.Confirmed, &f.LastStep, &f.Codes)
	return f, found(err)
}

// ConfirmFactor makes a second factor count, with its recovery codes.
func (s *Store) ConfirmFactor(ctx context.Context, personID, step int64, codeHashes [][]byte) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx, `update second_factors set confirmed_at = now(), last_step = $2
			where person_id = $1 and confirmed_at is null`,
			personID, step)); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `delete from recovery_codes where person_id = $1`, personID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `insert into recovery_codes (person_id, code_hash) select $1, unnest($2::bytea[])`, personID, codeHashes)
		return err
	})
}

// UseFactor writes down that the code of a step was used; none is used twice, and none before it any more.
func (s *Store) UseFactor(ctx context.Context, personID, step int64) error {
	return affected(s.pool.Exec(ctx, `update second_factors set last_step = $2 where person_id = $1 and last_step < $2`, personID, step))
}

// UseRecovery uses a recovery code up.
func (s *Store) UseRecovery(ctx context.Context, personID int64, hash []byte) error {
	return affected(s.pool.Exec(ctx, `delete from recovery_codes where person_id = $1 and code_hash = $2`, personID, hash))
}

// DropFactor takes a second factor away.
func (s *Store) DropFactor(ctx context.Context, personID int64) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `delete from recovery_codes where person_id = $1`, personID); err != nil {
			return err
		}
		return affected(tx.Exec(ctx, `delete from second_factors where person_id = $1`, personID))
	})
}

// Passkeys lists somebody's passkeys.
func (s *Store) Passkeys(ctx context.Context, personID int64) ([]app.Passkey, error) {
	return collect(ctx, s, func(row pgx.Row) (k app.Passkey, err error) {
		return k, row.Scan(&k.ID, &k.Name, &k.Credential, &k.CreatedAt, &k.UsedAt)
	}, `select id, name, credential, created_at, used_at from passkeys where person_id = $1 order by created_at, id`, personID)
}

// AddPasskey keeps one; a key that somebody has is nobody else's.
func (s *Store) AddPasskey(ctx context.Context, personID int64, k app.Passkey) error {
	tag, err := s.pool.Exec(
		ctx,
		`insert into passkeys (id, person_id, name, credential) values ($1, $2, $3, $4) on conflict do nothing`,
		k.ID,
		personID,
		k.Name,
		k.Credential,
	)
	if err == nil && tag.RowsAffected() == 0 {
		return app.ErrKnown
	}
	return err
}

// UsePasskey keeps what has changed of a passkey by its use: its counter.
func (s *Store) UsePasskey(ctx context.Context, k app.Passkey) error {
	return affected(s.pool.Exec(ctx, `update passkeys set credential = $2, used_at = now() where id = $1`, k.ID, k.Credential))
}

// DropPasskey takes one away.
func (s *Store) DropPasskey(ctx context.Context, personID int64, id []byte) error {
	return affected(s.pool.Exec(ctx, `delete from passkeys where person_id = $1 and id = $2`, personID, id))
}

// Handle gives what passkeys know somebody by: 16 bytes.
func (s *Store) Handle(ctx context.Context, personID int64) ([]byte, error) {
	var handle [16]byte
	err := s.pool.QueryRow(ctx, `select handle from people where id = $1`, personID).Scan(&handle)
	return handle[:], found(err)
}

// PersonByHandle finds somebody by what passkeys know them by.
func (s *Store) PersonByHandle(ctx context.Context, handle []byte) (app.Person, error) {
	if len(handle) != 16 {
		return app.Person{}, app.ErrNotFound
	}
	return scanPerson(
		s.pool.QueryRow(ctx, `select `+personColumns+` from people p`+lastPlace("$2")+` where p.handle = $1`, [16]byte(handle), 0),
	)
}

// AddCeremony keeps what a sign-in of several steps remembers.
func (s *Store) AddCeremony(ctx context.Context, tokenHash, held []byte, until time.Time) error {
	_, err := s.pool.Exec(ctx, `insert into ceremonies (token_hash, held, expires_at) values ($1, $2, $3)`, tokenHash, held, until)
	return err
}

// TakeCeremony gives it back, once.
func (s *Store) TakeCeremony(ctx context.Context, tokenHash []byte) (held []byte, err error) {
	err = s.pool.QueryRow(ctx, `delete from ceremonies where token_hash = $1 and expires_at > now() returning held`, tokenHash).Scan(&held)
	return held, found(err)
}

// Identified finds who somebody at an organisation is.
func (s *Store) Identified(ctx context.Context, issuer, subject string) (app.Person, error) {
	return scanPerson(s.pool.QueryRow(ctx, `select `+personColumns+` from identities i join people p on p.id = i.person_id`+lastPlace("$3")+`
		where i.issuer = $1 and i.subject = $2`, issuer, subject, 0))
}

// AddIdentity ties somebody at an organisation to a person.
func (s *Store) AddIdentity(ctx context.Context, issuer, subject string, personID int64) error {
	_, err := s.pool.Exec(
		ctx,
		`insert into identities (issuer, subject, person_id) values ($1, $2, $3) on conflict do nothing`,
		issuer,
		subject,
		personID,
	)
	return err
}
