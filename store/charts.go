package store

import (
	"context"
	"encoding/json"
	"errors"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/chart"
)

const chartQuery = `select c.id, c.name, c.named, c.version_id, d.id, d.name, c.changed_at,
	coalesce(c.head_step_id, 0), coalesce(t.document, '{}'),
	exists (select 1 from shares s where s.chart_id = c.id), coalesce((select p.name from people p where p.id = c.created_by), ''), c.events
	from charts c join dataset_versions v on v.id = c.version_id join datasets d on d.id = v.dataset_id
	left join steps t on t.id = c.head_step_id `

func scanChart(row pgx.Row) (app.Chart, error) {
	var c app.Chart
	var stored []byte
	if err := row.Scan(&c.ID, &c.Name, &c.Named, &c.VersionID, &c.DatasetID, &c.DatasetName, &c.ChangedAt, &c.HeadStepID,
		&stored, &c.Shared, &c.By, &c.Events); err != nil {
		return c, found(err)
	}
	var err error
	c.Document, err = chart.Read(stored)
	return c, err
}

// AddChart keeps a chart with its first step. The version must belong to the
// space.
func (s *Store) AddChart(
	ctx context.Context,
	spaceID, versionID, personID int64,
	name string,
	named bool,
	document *chart.Document,
	words string,
) (app.Chart, error) {
	stored, err := json.Marshal(document)
	if err != nil {
		return app.Chart{}, err
	}
	var id int64
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `insert into charts (space_id, version_id, name, created_by, named)
			select d.space_id, v.id, $3, nullif($4::bigint, 0), $5 from dataset_versions v join datasets d on d.id = v.dataset_id where d.space_id = $1 and v.id = $2 returning id`,
			spaceID, versionID, name, personID, named).Scan(&id); err != nil {
			return found(err)
		}
		return addStep(ctx, tx, id, 0, personID, stored, words, name, new(app.Step))
	})
	if err != nil {
		return app.Chart{}, err
	}
	return s.Chart(ctx, spaceID, id)
}

func addStep(ctx context.Context, tx pgx.Tx, chartID, parentID, personID int64, stored []byte, words, name string, into *app.Step) error {
	into.ParentID, into.Words = parentID, words
	if err := tx.QueryRow(ctx, `insert into steps (chart_id, parent_id, document, words, created_by)
		values ($1, nullif($2::bigint, 0), $3, $4, nullif($5::bigint, 0)) returning id, created_at`,
		chartID, parentID, stored, words, personID).Scan(&into.ID, &into.CreatedAt); err != nil {
		return err
	}
	_, err := tx.Exec(
		ctx,
		`update charts set head_step_id = $2, changed_at = now(), name = case when named then name else $3 end where id = $1`,
		chartID,
		into.ID,
		name,
	)
	if err != nil {
		return err
	}
	into.PersonID = personID
	if err := stand(ctx, tx, chartID, into.ID, personID); err != nil {
		return err
	}
	return happened(ctx, tx, chartID, into.ID)
}

// Charts lists a space's charts without their trails.
func (s *Store) Charts(ctx context.Context, spaceID int64) ([]app.Chart, error) {
	return collect(ctx, s, scanChart, chartQuery+`where c.space_id = $1 order by c.changed_at desc, c.id desc`, spaceID)
}

// ChartsOf lists those of one dataset, the last changed first.
func (s *Store) ChartsOf(ctx context.Context, spaceID, datasetID int64) ([]app.Chart, error) {
	return collect(ctx, s, scanChart, chartQuery+`where c.space_id = $1 and d.id = $2 order by c.changed_at desc, c.id desc`,
		spaceID, datasetID)
}

// ChartHead gives one as it stands, without its trail.
func (s *Store) ChartHead(ctx context.Context, spaceID, id int64) (app.Chart, error) {
	return scanChart(s.pool.QueryRow(ctx, chartQuery+`where c.space_id = $1 and c.id = $2`, spaceID, id))
}

// Chart gives one with its trail, the first step first.
func (s *Store) Chart(ctx context.Context, spaceID, id int64) (app.Chart, error) {
	c, err := s.ChartHead(ctx, spaceID, id)
	if err != nil {
		return c, err
	}
	if c.Answer, err = s.answer(ctx, id); err != nil {
		return c, err
	}
	c.Steps, err = s.Trail(ctx, id)
	return c, err
}

// answer is what rows that were set aside said of a chart; nil where it has not asked.
func (s *Store) answer(ctx context.Context, chartID int64) (*app.AsideAnswer, error) {
	var a app.AsideAnswer
	var stored []byte
	err := s.pool.QueryRow(ctx,
		`select n.words, n.row_count, coalesce(p.name, ''), n.asked_at, n.document from chart_answers n left join people p on p.id = n.asked_by where n.chart_id = $1`, chartID).
		Scan(&a.Words, &a.Rows, &a.By, &a.At, &stored)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	if err == nil {
		a.Document, err = chart.Read(stored)
	}
	return &a, err
}

// AddAnswer keeps what rows that were set aside said; the first answer stays.
func (s *Store) AddAnswer(ctx context.Context, chartID, personID int64, a *app.AsideAnswer) error {
	stored, err := json.Marshal(a.Document)
	if err != nil {
		return err
	}
	return affected(
		s.pool.Exec(
			ctx,
			`insert into chart_answers (chart_id, asked_by, asked_at, row_count, document, words) values ($1, nullif($2::bigint, 0), $3, $4, $5, $6) on conflict do nothing`,
			chartID,
			personID,
			a.At,
			a.Rows,
			stored,
			a.Words,
		),
	)
}

// said is the column along an axis of a document of any version: the first ones named it alone.
func said(axis string) string {
	return `case jsonb_typeof(t.document->'` + axis + `') when 'string' then t.document->>'` + axis + `' else t.document->'` + axis +
		`'->>'column' end`
}

// RelationsLooked counts the different pairs of columns, whichever stands along x, under
// different conditions, in all steps of the charts of a dataset.
func (s *Store) RelationsLooked(ctx context.Context, spaceID, datasetID int64) (n int, err error) {
	err = s.pool.QueryRow(ctx, `select count(distinct (least(x, y), greatest(x, y), condition)) from (
		select `+said("x")+` x, `+said("y")+` y, coalesce(t.document->'rows'->>'where', t.document->>'where', '') condition
		from charts c join dataset_versions v on v.id = c.version_id join steps t on t.chart_id = c.id
		where c.space_id = $1 and v.dataset_id = $2) looked where x <> '' and y <> ''`, spaceID, datasetID).Scan(&n)
	return n, err
}

// Step gives the document of one step, and the version that its chart uses.
func (s *Store) Step(ctx context.Context, spaceID, chartID, stepID int64) (document *chart.Document, versionID int64, err error) {
	var stored []byte
	if err := s.pool.QueryRow(ctx,
		`select t.document, c.version_id from charts c join steps t on t.chart_id = c.id where c.space_id = $1 and c.id = $2 and t.id = $3`,
		spaceID, chartID, stepID).Scan(&stored, &versionID); err != nil {
		return nil, 0, found(err)
	}
	document, err = chart.Read(stored)
	return document, versionID, err
}

// AddStep keeps a step after another one of the same chart, and moves the chart there. A
// chart that nobody named is called name from then on.
// Whoever kept as many as most within a day is refused.
func (s *Store) AddStep(
	ctx context.Context,
	spaceID, chartID, parentID, personID int64,
	document *chart.Document,
	words, name string,
	most int,
) (app.Step, error) {
	stored, err := json.Marshal(document)
	if err != nil {
		return app.Step{}, err
	}
	step := app.Step{Document: document}
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		var there bool
		if err := tx.QueryRow(ctx,
			`select true from charts c join steps t on t.chart_id = c.id
				where c.space_id = $1 and c.id = $2 and t.id = $3 and t.taken_out_at is null for update of c`,
			spaceID, chartID, parentID).Scan(&there); err != nil {
			return found(err)
		}
		var today int
		if err := tx.QueryRow(ctx, `select count(*) from steps where created_by = $1 and created_at > now() - interval '1 day'`,
			personID).Scan(&today); err != nil {
			return err
		}
		if today >= most {
			return app.ErrTooManySteps
		}
		return addStep(ctx, tx, chartID, parentID, personID, stored, words, name, &step)
	})
	return step, err
}

// ChangeChart changes what a change says of a chart, all of it or nothing: its name, the
// step of its own where it stands, another version of its dataset.
func (s *Store) ChangeChart(ctx context.Context, spaceID, chartID int64, change app.ChartChange) error {
	return affected(s.pool.Exec(ctx, `update charts c set changed_at = now(), named = c.named or $3 <> '',
			name = case when $3 <> '' then $3 when not c.named and $6 <> '' then $6 else c.name end,
			head_step_id = coalesce(nullif($4::bigint, 0), c.head_step_id), version_id = coalesce(nullif($5::bigint, 0), c.version_id)
		where c.space_id = $1 and c.id = $2
			and ($4 = 0 or exists (select from steps t where t.chart_id = c.id and t.id = $4))
			and ($5 = 0 or exists (select from dataset_versions n join dataset_versions o on o.dataset_id = n.dataset_id where n.id = $5 and o.id = c.version_id))`,
		spaceID, chartID, change.Name, change.StepID, change.VersionID, change.Follows))
}

// MoveChart keeps a step after the one where a chart stands, and makes the chart use another
// version of its dataset from there on: both or nothing. called is the name that a person says besides, or empty; follows
// is what the sentence calls a chart that nobody named.
func (s *Store) MoveChart(
	ctx context.Context,
	c app.Chart,
	versionID, personID int64,
	document *chart.Document,
	words, follows, called string,
) error {
	stored, err := json.Marshal(document)
	if err != nil {
		return err
	}
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx, `update charts c set version_id = $2, named = c.named or $3 <> '', name = case when $3 <> '' then $3 else c.name end where c.id = $1
			and exists (select from dataset_versions n join dataset_versions o on o.dataset_id = n.dataset_id where n.id = $2 and o.id = c.version_id)`, c.ID, versionID, called)); err != nil {
			return err
		}
		return addStep(ctx, tx, c.ID, c.HeadStepID, personID, stored, words, follows, &app.Step{})
	})
}

// DropChart deletes a chart with its trail.
func (s *Store) DropChart(ctx context.Context, spaceID, id int64) error {
	return affected(s.pool.Exec(ctx, `delete from charts where space_id = $1 and id = $2`, spaceID, id))
}
