package app

import (
	"context"
	"time"

	"copperlark/core/prepare"
)

// Draft is a preparation that a person tries with a dataset and has not kept.
type Draft struct {
	Typed     string    `json:"typed" doc:"empty: there is none"`
	ChangedAt time.Time `json:"changed_at"`
}

// Draft gives what a person tries with a dataset.
func (a *App) Draft(ctx context.Context, person Person, datasetID int64) (Draft, error) {
	return a.store.Draft(ctx, person.SpaceID, person.ID, datasetID)
}

// KeepDraft keeps what a person tries, right or wrong, until it is kept as a version or
// dropped. Clauses without anything drop it.
func (a *App) KeepDraft(ctx context.Context, person Person, datasetID int64, typed string) error {
	if typed = prepare.Print(prepare.Parse(typed)); typed != "" {
		if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
			return err
		}
	}
	return a.store.SetDraft(ctx, person.SpaceID, person.ID, datasetID, typed)
}
