package store

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

// chartStates are what a chart is asked to be, as conditions; chartOrders how they stand.
var (
	chartStates = map[string]string{"all": "true", "kept": "not (" + lookedAt + ")", "try": lookedAt,
		"shared": "exists (select from shares s where s.chart_id = c.id)"}
	chartOrders = map[string]string{"changed": "c.changed_at desc, c.id desc", "name": "lower(c.name), c.id",
		"maker": "lower(p.name), lower(c.name), c.id"}
)

// FindCharts lists charts, and counts them.
func (s *Store) FindCharts(ctx context.Context, spaceID int64, wanted app.ChartsWanted) (out app.FoundCharts, err error) {
	where, arguments := []string{"c.space_id = $1"}, []any{spaceID}
	and := func(condition string, value any) {
		arguments = append(arguments, value)
		where = append(where, fmt.Sprintf(condition, len(arguments)))
	}
	if wanted.ID != 0 {
		and("c.id = $%d", wanted.ID)
	}
	if wanted.DatasetID != 0 {
		and("v.dataset_id = $%d", wanted.DatasetID)
	}
	if wanted.MakerID != 0 {
		and("c.created_by = $%d", wanted.MakerID)
	}
	for _, word := range strings.Fields(strings.ToLower(wanted.Find)) {
		and(`strpos(lower(concat_ws(' ', c.name, d.name, p.name)) || ' ' || c.found_by, $%d) > 0`, word)
	}
	if state := chartStates[wanted.State]; state != "" {
		where = append(where, state)
	}
	order := chartOrders[wanted.Order]
	if order == "" {
		order = chartOrders[app.ChartOrders[0]]
	}
	const from = ` from charts c join dataset_versions v on v.id = c.version_id join datasets d on d.id = v.dataset_id
		left join people p on p.id = c.created_by where `
	condition := strings.Join(where, " and ")
	if err := s.pool.QueryRow(ctx, `select count(*)`+from+condition, arguments...).Scan(&out.Total); err != nil {
		return out, err
	}
	arguments = append(arguments, wanted.From, wanted.Most)
	out.Charts, err = collect(ctx, s, func(row pgx.Row) (c app.FoundChart, err error) {
		return c, row.Scan(&c.ID, &c.Name, &c.Named, &c.Shared, &c.By, &c.DatasetID, &c.DatasetName, &c.VersionID, &c.HeadStepID, &c.ChangedAt,
			&c.Notes)
	}, `select c.id, c.name, c.named, exists (select from shares s where s.chart_id = c.id), coalesce(p.name, ''), d.id, d.name, c.version_id,
		coalesce(c.head_step_id, 0), c.changed_at, (select count(*) from notes n where n.chart_id = c.id and n.resolved_at is null)`+from+
		condition+fmt.Sprintf(" order by %s offset $%d limit $%d", order, len(arguments)-1, len(arguments)), arguments...)
	return out, err
}

// FindDatasets are the datasets in which every word stands.
func (s *Store) FindDatasets(ctx context.Context, spaceID int64, find string) ([]int64, error) {
	return collect(ctx, s, func(row pgx.Row) (id int64, err error) { return id, row.Scan(&id) }, `select d.id from datasets d
		join lateral (select id, file_name from dataset_versions where dataset_id = d.id order by number desc limit 1) v on true
		where d.space_id = $1 and not exists (select from unnest($2::text[]) word where strpos(lower(concat_ws(' ', d.name, d.about, d.origin,
			d.one_row, v.file_name,
			(select string_agg(concat_ws(' ', c.name, c.label, c.unit, c.meaning), ' ') from dataset_columns c where c.version_id = v.id),
			(select string_agg(concat_ws(' ', m.label, m.unit, m.meaning), ' ') from column_meanings m where m.dataset_id = d.id))), word) = 0)`,
		spaceID, strings.Fields(strings.ToLower(find)))
}

// LastCharts are the charts that were changed last, one of each dataset.
func (s *Store) LastCharts(ctx context.Context, spaceID int64) (map[int64]app.LastChart, error) {
	last := map[int64]app.LastChart{}
	_, err := collect(ctx, s, func(row pgx.Row) (dataset int64, err error) {
		var c app.LastChart
		err = row.Scan(&dataset, &c.ChartID, &c.StepID, &c.VersionID)
		last[dataset] = c
		return dataset, err
	}, `select distinct on (v.dataset_id) v.dataset_id, c.id, c.head_step_id, c.version_id from charts c
		join dataset_versions v on v.id = c.version_id where c.space_id = $1 and c.head_step_id is not null
		order by v.dataset_id, c.named desc, c.changed_at desc`, spaceID)
	return last, err
}

// worded is what the words of a chart are for.
const wordedFor = `concat_ws(' ', c.head_step_id, c.version_id, d.changes)`

// ChartsToWord are charts whose words are not those of where they stand.
func (s *Store) ChartsToWord(ctx context.Context, settled time.Duration, most int) ([]app.ToWord, error) {
	return collect(ctx, s, func(row pgx.Row) (w app.ToWord, err error) {
		return w, row.Scan(&w.SpaceID, &w.ChartID, &w.Worded)
	}, `select c.space_id, c.id, `+wordedFor+` from charts c join dataset_versions v on v.id = c.version_id
		join datasets d on d.id = v.dataset_id where c.worded <> `+wordedFor+` and c.changed_at < now() - $1::interval
		order by c.changed_at desc limit $2`, settled, most)
}

// WordChart keeps what a chart is found by.
func (s *Store) WordChart(ctx context.Context, chartID int64, worded, words string) error {
	_, err := s.pool.Exec(ctx, `update charts set worded = $2, found_by = $3 where id = $1`, chartID, worded, words)
	return err
}
