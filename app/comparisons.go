package app

import (
	"context"
	"time"
)

// ComparedSides are two charts, each at a step (0: where it stands) and over a version (0: its own).
type ComparedSides struct {
	A        int64 `json:"a"`
	AStep    int64 `json:"a_step"`
	AVersion int64 `json:"a_version"`
	B        int64 `json:"b"`
	BStep    int64 `json:"b_step"`
	BVersion int64 `json:"b_version"`
	Own      bool  `json:"own,omitempty" doc:"each with axes of its own"`
}

// KeptComparison is a comparison that is kept under a name.
type KeptComparison struct {
	ID        int64         `json:"id"`
	Name      string        `json:"name"`
	Sides     ComparedSides `json:"sides"`
	DatasetID int64         `json:"dataset_id" doc:"of the first chart"`
	By        string        `json:"by"`
	CreatedAt time.Time     `json:"created_at"`
}

// mostComparisons is how many a space keeps.
const mostComparisons = 2_000

// ComparisonStorage is what the program keeps of comparisons.
type ComparisonStorage interface {
	AddComparison(ctx context.Context, spaceID, personID int64, c KeptComparison) (KeptComparison, error)
	Comparisons(ctx context.Context, spaceID int64) ([]KeptComparison, error)
	DropComparison(ctx context.Context, spaceID, id int64) error
}

// KeepComparison keeps a comparison under a name. Steps where charts stand are kept as the steps that they are now.
func (a *App) KeepComparison(ctx context.Context, person Person, name string, sides ComparedSides) (KeptComparison, error) {
	name, err := keptName(name)
	if err != nil {
		return KeptComparison{}, err
	}
	for _, side := range []struct {
		chart int64
		step  *int64
	}{{sides.A, &sides.AStep}, {sides.B, &sides.BStep}} {
		head, err := a.store.ChartHead(ctx, person.SpaceID, side.chart)
		if err != nil {
			return KeptComparison{}, err
		}
		if *side.step == 0 {
			*side.step = head.HeadStepID
		}
	}
	there, err := a.store.Comparisons(ctx, person.SpaceID)
	if err != nil {
		return KeptComparison{}, err
	}
	if len(there) >= mostComparisons {
		return KeptComparison{}, &Full{"the space keeps as many comparisons as it may", "delete some that nobody looks at"}
	}
	return a.store.AddComparison(ctx, person.SpaceID, person.ID, KeptComparison{Name: name, Sides: sides})
}

// Comparisons lists those that a space keeps, the last kept first.
func (a *App) Comparisons(ctx context.Context, spaceID int64) ([]KeptComparison, error) {
	return a.store.Comparisons(ctx, spaceID)
}

// DropComparison forgets one; its charts stay.
func (a *App) DropComparison(ctx context.Context, spaceID, id int64) error {
	return a.store.DropComparison(ctx, spaceID, id)
}
