package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/chart"
)

// personColumns are who somebody is, in the space that lastPlace joins.
const personColumns = `p.id, p.name, p.email, coalesce(s.id, 0), coalesce(s.name, ''), coalesce(m.role, ''), coalesce(s.factor_of, '{}'),
	coalesce(s.leaves_at, '0001-01-01'), p.letters, ` + hasFactor

// hasFactor is whether a person p could show more than a password.
const hasFactor = `(exists (select 1 from second_factors f where f.person_id = p.id and f.confirmed_at is not null)
	or exists (select 1 from passkeys k where k.person_id = p.id))`

// lastPlace joins the space that a person was in last, or the one that is asked for (the placeholder; 0: any).
func lastPlace(placeholder string) string {
	return ` left join lateral (select m.space_id, m.role from members m where m.person_id = p.id
		and (` + placeholder + `::bigint = 0 or m.space_id = ` +
		placeholder + `) order by m.visited_at desc nulls last, m.space_id limit 1) m on true left join spaces s on s.id = m.space_id `
}

func scanPerson(row pgx.Row, extra ...any) (app.Person, error) {
	var p app.Person
	var leaves time.Time
	into := []any{&p.ID, &p.Name, &p.Email, &p.SpaceID, &p.SpaceName, &p.Role, &p.FactorOf, &leaves, &p.Letters, &p.HasFactor}
	err := row.Scan(append(into, extra...)...)
	if leaves.Year() > 1 {
		p.LeavesAt = leaves
	}
	return p, found(err)
}

// PersonByEmail finds a person by address, in any case, with the stored hash.
func (s *Store) PersonByEmail(ctx context.Context, email string) (app.Person, string, error) {
	var hash string
	p, err := scanPerson(s.pool.QueryRow(ctx, `select `+personColumns+`, p.password_hash from people p`+lastPlace("$2")+`
		where lower(p.email) = lower($1)`, email, 0), &hash)
	return p, hash, err
}

// AddPerson makes a person, and a space that they own where it has a name.
func (s *Store) AddPerson(ctx context.Context, email, name, passwordHash, spaceName string) (app.Person, error) {
	p := app.Person{Name: name, Email: email}
	err := s.pool.in(ctx, func(tx pgx.Tx) error {
		var err error
		if p.ID, err = addPerson(ctx, tx, email, name, passwordHash); err != nil || spaceName == "" {
			return err
		}
		p.SpaceName, p.Role = spaceName, app.Owner
		p.SpaceID, err = addSpace(ctx, tx, p.ID, spaceName)
		return err
	})
	return p, err
}

// addPerson gives the number of a new person; ErrKnown where somebody has the address.
func addPerson(ctx context.Context, tx pgx.Tx, email, name, passwordHash string) (id int64, err error) {
	err = tx.QueryRow(ctx, `insert into people (email, name, password_hash) values ($1, $2, $3) on conflict do nothing returning id`,
		email, name, passwordHash).Scan(&id)
	if found(err) == app.ErrNotFound {
		return 0, app.ErrKnown
	}
	return id, err
}

func addSpace(ctx context.Context, tx pgx.Tx, personID int64, name string) (id int64, err error) {
	if err := tx.QueryRow(ctx, `insert into spaces (name) values ($1) returning id`, name).Scan(&id); err != nil {
		return 0, err
	}
	_, err = tx.Exec(ctx, `insert into members (space_id, person_id, role, visited_at) values ($1, $2, 'owner', now())`, id, personID)
	return id, err
}

// AddSpace makes a space that somebody owns.
func (s *Store) AddSpace(ctx context.Context, personID int64, name string) (app.Place, error) {
	place := app.Place{Name: name, Role: app.Owner}
	err := s.pool.in(ctx, func(tx pgx.Tx) (err error) {
		place.ID, err = addSpace(ctx, tx, personID, name)
		return err
	})
	return place, err
}

// ChangePerson changes a name, and whether letters are wanted; nil stays as it is.
func (s *Store) ChangePerson(ctx context.Context, personID int64, name *string, letters *bool) error {
	return affected(s.pool.Exec(ctx, `update people set name = coalesce($2, name), letters = coalesce($3, letters) where id = $1`,
		personID, name, letters))
}

// AnyPeople reports whether there is anybody.
func (s *Store) AnyPeople(ctx context.Context) (anybody bool, err error) {
	err = s.pool.QueryRow(ctx, `select exists (select from people)`).Scan(&anybody)
	return anybody, err
}

// AddMember puts somebody into a space; who is in it keeps their role.
func (s *Store) AddMember(ctx context.Context, spaceID, personID int64, role app.Role) error {
	_, err := s.pool.Exec(
		ctx,
		`insert into members (space_id, person_id, role) values ($1, $2, $3) on conflict do nothing`,
		spaceID,
		personID,
		role,
	)
	return err
}

// SpacesNamed finds spaces by their whole name.
func (s *Store) SpacesNamed(ctx context.Context, name string) ([]int64, error) {
	return collect(ctx, s, func(row pgx.Row) (id int64, err error) { return id, row.Scan(&id) },
		`select id from spaces where name = $1 order by id`, name)
}

// Places lists the spaces that somebody is in, by their names.
func (s *Store) Places(ctx context.Context, personID int64) ([]app.Place, error) {
	return collect(
		ctx,
		s,
		func(row pgx.Row) (p app.Place, err error) { return p, row.Scan(&p.ID, &p.Name, &p.Role, &p.LeavesAt) },
		`select s.id, s.name, m.role, s.leaves_at from members m join spaces s on s.id = m.space_id
			where m.person_id = $1 order by lower(s.name), s.id`,
		personID,
	)
}

// SpaceOfDataset finds the space of a dataset, where the person is in it.
func (s *Store) SpaceOfDataset(ctx context.Context, personID, datasetID int64) (id int64, err error) {
	err = s.pool.QueryRow(ctx, `select d.space_id from datasets d join members m on m.space_id = d.space_id
		where d.id = $2 and m.person_id = $1`,
		personID, datasetID).
		Scan(&id)
	return id, found(err)
}

// ChangeSpace changes what is said of a space.
func (s *Store) ChangeSpace(ctx context.Context, spaceID int64, change app.SpaceChange) error {
	var leaves *time.Time
	if change.LeavesAt != nil && !change.LeavesAt.IsZero() {
		leaves = change.LeavesAt
	}
	return affected(s.pool.Exec(ctx, `update spaces set name = coalesce($2, name), factor_of = coalesce($3, factor_of),
		leaves_at = case when $4 then $5::timestamptz else leaves_at end where id = $1`,
		spaceID, change.Name, change.FactorOf, change.LeavesAt != nil, leaves))
}

// presentFor is how long after a sign of life somebody counts as here.
const presentFor = 2 * time.Minute

// Members lists the people of a space: owners, makers, readers, each by name.
func (s *Store) Members(ctx context.Context, spaceID, askedBy int64) ([]app.Member, error) {
	return collect(ctx, s, func(row pgx.Row) (m app.Member, err error) {
		return m, row.Scan(&m.ID, &m.Name, &m.Email, &m.Role, &m.LastHere, &m.Now, &m.HasFactor, &m.AskedFor, &m.Elsewhere)
	}, `select p.id, p.name, p.email, m.role, m.visited_at, coalesce(m.visited_at > now() - $3::interval, false) and
			exists (select 1 from sessions t where t.person_id = p.id and t.expires_at > now()),
		`+hasFactor+`,
		m.role = any(s.factor_of),
		exists (select 1 from members o where o.person_id = p.id
			and not exists (select 1 from members mine where mine.space_id = o.space_id and mine.person_id = $2 and mine.role = 'owner'))
		from members m join people p on p.id = m.person_id join spaces s on s.id = m.space_id where m.space_id = $1
		order by array_position(array['owner', 'maker', 'reader'], m.role), lower(p.name), p.id`, spaceID, askedBy, presentFor)
}

// SetRole gives somebody in a space another role; the last owner keeps theirs.
func (s *Store) SetRole(ctx context.Context, spaceID, personID int64, role app.Role) error {
	return s.withOwner(ctx, spaceID, personID, role, `update members set role = $3 where space_id = $1 and person_id = $2`, role)
}

// DropMember takes somebody out of a space; the last owner stays. What they set up to try there leaves with them.
func (s *Store) DropMember(ctx context.Context, spaceID, personID int64) error {
	return s.withOwner(ctx, spaceID, personID, app.NoRole, `delete from members where space_id = $1 and person_id = $2`)
}

// withOwner changes a membership so that the space keeps an owner: of two owners who go at once, one stays.
func (s *Store) withOwner(ctx context.Context, spaceID, personID int64, becomes app.Role, statement string, more ...any) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `select from spaces where id = $1 for update`, spaceID); err != nil {
			return err
		}
		var is app.Role
		var owners int
		if err := tx.QueryRow(ctx, `select role, (select count(*) from members where space_id = $1 and role = 'owner') from members
			where space_id = $1 and person_id = $2`, spaceID, personID).Scan(&is, &owners); err != nil {
			return found(err)
		}
		if is == app.Owner && becomes != app.Owner && owners == 1 {
			return app.ErrLastOwner
		}
		_, err := tx.Exec(ctx, statement, append([]any{spaceID, personID}, more...)...)
		return err
	})
}

const invitationQuery = `select i.id, i.key, i.role, i.email, i.most_uses, i.uses, i.expires_at, coalesce(p.name, ''), s.id, s.name
	from invitations i join spaces s on s.id = i.space_id left join people p on p.id = i.made_by
	where i.uses < i.most_uses and i.expires_at > now() and `

func scanInvitation(row pgx.Row) (i app.Invitation, err error) {
	return i, found(row.Scan(&i.ID, &i.Key, &i.Role, &i.Email, &i.MostUses, &i.Uses, &i.ExpiresAt, &i.MadeBy, &i.SpaceID, &i.SpaceName))
}

// AddInvitation keeps an invitation.
func (s *Store) AddInvitation(ctx context.Context, spaceID int64, i app.Invitation) (app.Invitation, error) {
	err := s.pool.QueryRow(ctx, `insert into invitations (space_id, key, role, email, most_uses, made_by, expires_at)
		values ($1, $2, $3, $4, $5, nullif($6::bigint, 0), $7) returning id`,
		spaceID, i.Key, i.Role, i.Email, i.MostUses, i.MakerID, i.ExpiresAt).
		Scan(&i.ID)
	return i, err
}

// Invitations lists those that can still be used, the newest first.
func (s *Store) Invitations(ctx context.Context, spaceID int64) ([]app.Invitation, error) {
	return collect(ctx, s, scanInvitation, invitationQuery+`i.space_id = $1 order by i.id desc`, spaceID)
}

// DropInvitation takes one back.
func (s *Store) DropInvitation(ctx context.Context, spaceID, id int64) error {
	return affected(s.pool.Exec(ctx, `delete from invitations where space_id = $1 and id = $2`, spaceID, id))
}

// InvitationByKey gives one that can still be used.
func (s *Store) InvitationByKey(ctx context.Context, key string) (app.Invitation, error) {
	return scanInvitation(s.pool.QueryRow(ctx, invitationQuery+`i.key = $1`, key))
}

// UseInvitation puts somebody into the space of an invitation, all of it or nothing. Who is in the space already uses
// nothing up and keeps their role.
func (s *Store) UseInvitation(ctx context.Context, key string, newcomer app.Newcomer) (id int64, err error) {
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		var invitation, space int64
		var role app.Role
		if err := tx.QueryRow(ctx, `select id, space_id, role from invitations where key = $1 and uses < most_uses and expires_at > now()
			for update`, key).Scan(&invitation, &space, &role); err != nil {
			if found(err) == app.ErrNotFound {
				return app.ErrInvitationOver
			}
			return err
		}
		if id = newcomer.PersonID; id == 0 {
			if id, err = addPerson(ctx, tx, newcomer.Email, newcomer.Name, newcomer.PasswordHash); err != nil {
				return err
			}
		}
		tag, err := tx.Exec(
			ctx,
			`insert into members (space_id, person_id, role, visited_at) values ($1, $2, $3, now()) on conflict do nothing`,
			space,
			id,
			role,
		)
		if err != nil || tag.RowsAffected() == 0 {
			return err
		}
		_, err = tx.Exec(ctx, `update invitations set uses = uses + 1 where id = $1`, invitation)
		return err
	})
	return id, err
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
