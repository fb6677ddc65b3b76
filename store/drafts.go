package store

import (
	"context"

	"copperlark/app"
)

// Draft gives what a person tries with a dataset and has not kept; the empty draft where
// there is none.
func (s *Store) Draft(ctx context.Context, spaceID, personID, datasetID int64) (app.Draft, error) {
	var d app.Draft
	err := s.pool.QueryRow(ctx, `select coalesce(f.typed, ''), coalesce(f.changed_at, d.created_at)
		from datasets d left join drafts f on f.dataset_id = d.id and f.person_id = $2 where d.space_id = $1 and d.id = $3`, spaceID, personID, datasetID).Scan(&d.Typed, &d.ChangedAt)
	return d, found(err)
}

// SetDraft keeps a draft in the place of the one before; an empty one is forgotten.
func (s *Store) SetDraft(ctx context.Context, spaceID, personID, datasetID int64, typed string) error {
	if typed == "" {
		_, err := s.pool.Exec(ctx, `delete from drafts where person_id = $1 and dataset_id = $2`, personID, datasetID)
		return translated(err)
	}
	return affected(
		s.pool.Exec(
			ctx,
			`insert into drafts (person_id, dataset_id, typed) select $2, d.id, $4 from datasets d where d.space_id = $1 and d.id = $3
		on conflict (person_id, dataset_id) do update set typed = excluded.typed, changed_at = now()`,
			spaceID,
			personID,
			datasetID,
			typed,
		),
	)
}
