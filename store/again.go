package store

import (
	"context"
	"encoding/json"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/chart"
)

const patternQuery = `select t.id, t.name, t.document, t.blanks, coalesce(t.chart_id, 0), coalesce(t.step_id, 0),
	coalesce(c.version_id, 0), coalesce(p.name, ''), t.created_at
	from patterns t left join people p on p.id = t.created_by left join charts c on c.id = t.chart_id `

func scanPattern(row pgx.Row) (t app.Pattern, err error) {
	var document, blanks []byte
	if err := row.Scan(&t.ID, &t.Name, &document, &blanks, &t.ChartID, &t.StepID, &t.VersionID, &t.By, &t.CreatedAt); err != nil {
		return t, found(err)
	}
	if t.Document, err = chart.Read(document); err != nil {
		return t, err
	}
	return t, json.Unmarshal(blanks, &t.Blanks)
}

// AddPattern keeps a pattern.
func (s *Store) AddPattern(ctx context.Context, spaceID, personID int64, p app.Pattern) (app.Pattern, error) {
	document, err := json.Marshal(p.Document)
	if err != nil {
		return p, err
	}
	blanks, err := json.Marshal(p.Blanks)
	if err != nil {
		return p, err
	}
	var id int64
	if err := s.pool.QueryRow(ctx, `insert into patterns (space_id, name, document, blanks, chart_id, step_id, created_by)
		values ($1, $2, $3, $4, nullif($5::bigint, 0), nullif($6::bigint, 0), nullif($7::bigint, 0)) returning id`,
		spaceID, p.Name, document, blanks, p.ChartID, p.StepID, personID).Scan(&id); err != nil {
		return p, err
	}
	return s.Pattern(ctx, spaceID, id)
}

// Patterns lists those of a space, the last made first.
func (s *Store) Patterns(ctx context.Context, spaceID int64) ([]app.Pattern, error) {
	return collect(ctx, s, scanPattern, patternQuery+`where t.space_id = $1 order by t.id desc`, spaceID)
}

// Pattern gives one.
func (s *Store) Pattern(ctx context.Context, spaceID, id int64) (app.Pattern, error) {
	return scanPattern(s.pool.QueryRow(ctx, patternQuery+`where t.space_id = $1 and t.id = $2`, spaceID, id))
}

// RenamePattern gives one another name.
func (s *Store) RenamePattern(ctx context.Context, spaceID, id int64, name string) error {
	return affected(s.pool.Exec(ctx, `update patterns set name = $3 where space_id = $1 and id = $2`, spaceID, id, name))
}

// DropPattern deletes one.
func (s *Store) DropPattern(ctx context.Context, spaceID, id int64) error {
	return affected(s.pool.Exec(ctx, `delete from patterns where space_id = $1 and id = $2`, spaceID, id))
}

const lookQuery = `select l.id, l.name, l.looks, l.scales, coalesce(p.name, ''), l.created_at
	from looks l left join people p on p.id = l.created_by `

func scanLook(row pgx.Row) (l app.KeptLook, err error) {
	return l, found(row.Scan(&l.ID, &l.Name, &l.Looks, &l.Scales, &l.By, &l.CreatedAt))
}

// AddLook keeps looks under a name.
func (s *Store) AddLook(ctx context.Context, spaceID, personID int64, look app.KeptLook) (app.KeptLook, error) {
	var id int64
	if err := s.pool.QueryRow(ctx, `insert into looks (space_id, name, looks, scales, created_by)
		values ($1, $2, coalesce($3::text[], '{}'), coalesce($4::text[], '{}'), nullif($5::bigint, 0)) returning id`,
		spaceID, look.Name, look.Looks, look.Scales, personID).Scan(&id); err != nil {
		return look, err
	}
	return scanLook(s.pool.QueryRow(ctx, lookQuery+`where l.space_id = $1 and l.id = $2`, spaceID, id))
}

// Looks lists those of a space, the last kept first.
func (s *Store) Looks(ctx context.Context, spaceID int64) ([]app.KeptLook, error) {
	return collect(ctx, s, scanLook, lookQuery+`where l.space_id = $1 order by l.id desc`, spaceID)
}

// DropLook forgets looks.
func (s *Store) DropLook(ctx context.Context, spaceID, id int64) error {
	return affected(s.pool.Exec(ctx, `delete from looks where space_id = $1 and id = $2`, spaceID, id))
}

const comparisonQuery = `select k.id, k.name, k.sides, v.dataset_id, coalesce(p.name, ''), k.created_at from comparisons k
	join charts c on c.id = k.a_chart_id join dataset_versions v on v.id = c.version_id left join people p on p.id = k.created_by `

func scanComparison(row pgx.Row) (k app.KeptComparison, err error) {
	var sides []byte
	if err := row.Scan(&k.ID, &k.Name, &sides, &k.DatasetID, &k.By, &k.CreatedAt); err != nil {
		return k, found(err)
	}
	return k, json.Unmarshal(sides, &k.Sides)
}

// AddComparison keeps a comparison, whose charts must belong to the space.
func (s *Store) AddComparison(ctx context.Context, spaceID, personID int64, k app.KeptComparison) (app.KeptComparison, error) {
	sides, err := json.Marshal(k.Sides)
	if err != nil {
		return k, err
	}
	var id int64
	if err := s.pool.QueryRow(ctx, `insert into comparisons (space_id, name, sides, a_chart_id, b_chart_id, created_by)
		select $1, $2, $3, a.id, b.id, nullif($6::bigint, 0) from charts a, charts b
		where a.space_id = $1 and a.id = $4 and b.space_id = $1 and b.id = $5 returning id`,
		spaceID, k.Name, sides, k.Sides.A, k.Sides.B, personID).Scan(&id); err != nil {
		return k, found(err)
	}
	return scanComparison(s.pool.QueryRow(ctx, comparisonQuery+`where k.space_id = $1 and k.id = $2`, spaceID, id))
}

// Comparisons lists those of a space, the last kept first.
func (s *Store) Comparisons(ctx context.Context, spaceID int64) ([]app.KeptComparison, error) {
	return collect(ctx, s, scanComparison, comparisonQuery+`where k.space_id = $1 order by k.id desc`, spaceID)
}

// DropComparison forgets one.
func (s *Store) DropComparison(ctx context.Context, spaceID, id int64) error {
	return affected(s.pool.Exec(ctx, `delete from comparisons where space_id = $1 and id = $2`, spaceID, id))
}
