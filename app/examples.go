package app

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/examples"
	"copperlark/core/sentence"
)

// Example is a sentence that shows what can be said, over a dataset of the space where it has
// one that it fits.
type Example struct {
	Name      string          `json:"name"`
	Does      string          `json:"does"`
	Typed     string          `json:"typed"`
	Picture   string          `json:"picture" doc:"the name of its picture in the gallery"`
	DatasetID int64           `json:"dataset_id,omitempty" doc:"none: the space holds no dataset that it fits"`
	Document  *chart.Document `json:"document,omitempty"`
}

// Examples lists the examples. Those whose dataset the space does not hold can be looked at and
// not opened.
func (a *App) Examples(ctx context.Context, spaceID int64) ([]Example, error) {
	datasets, err := a.store.Datasets(ctx, spaceID)
	if err != nil {
		return nil, err
	}
	list := make([]Example, len(examples.List))
	for i, e := range examples.List {
		list[i] = Example{Name: e.Name, Does: e.Does, Typed: e.Typed, Picture: e.Slug()}
	}
	for _, d := range datasets {
		word := oneWord(d.Name)
		wanted := func(i int) bool { return list[i].DatasetID == 0 && examples.List[i].Table == word }
		some := false
		for i := range list {
			some = some || wanted(i)
		}
		if !some {
			continue
		}
		err := a.onSpelled(ctx, spaceID, d.VersionID, "examples", weighFigure, func(_ context.Context, t *shown, _ Dataset) error {
			for i := range list {
				if !wanted(i) {
					continue
				}
				if document, mistakes := sentence.Parse(list[i].Typed, t.Table); mistakes == nil {
					list[i].DatasetID, list[i].Document = d.ID, document
				}
			}
			return nil
		})
		if err != nil {
			return nil, err
		}
	}
	return list, nil
}
