package app

import (
	"context"
	"encoding/json"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/page"
)

// spansKey is what the spans of a chart's axes are held by.
type spansKey struct {
	version  int64
	document string
}

// spansBytes is about what the spans of a chart take.
const spansBytes = 400

// spansOf are the spans of the axes of a chart as a page shows it: held, or drawn. A chart that cannot be drawn has none.
func (a *App) spansOf(ctx context.Context, spaceID int64, of Side) ([]figure.Span, error) {
	kept, err := a.sideAt(ctx, spaceID, of)
	if err != nil {
		return nil, err
	}
	said, err := json.Marshal(kept.Document)
	if err != nil {
		return nil, err
	}
	key := spansKey{kept.VersionID, string(said)}
	if held, known := a.held.Get(key); known {
		return held.([]figure.Span), nil
	}
	picture, _, err := a.DrawStep(ctx, spaceID, of, PartSize{})
	if err != nil {
		return nil, err
	}
	spans := picture.Figure.Spans()
	a.held.Put(key, spans, int64(len(said)+spansBytes))
	return spans, nil
}

// together are the ends of the axes that the charts of a page share, where it says that they do.
func (a *App) together(ctx context.Context, spaceID int64, contents *page.Contents) (figure.Together, error) {
	if !contents.SameAxes {
		return nil, nil
	}
	var all [][]figure.Span
	for _, b := range contents.Blocks {
		if b.Chart == nil {
			continue
		}
		spans, err := a.spansOf(ctx, spaceID, Side{ShownChart: *b.Chart})
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err == nil { // one that cannot be drawn says so itself
			all = append(all, spans)
		}
	}
	return figure.TogetherOf(all), nil
}

// DrawPart draws a chart as a page shows it: with the axes that its charts share, where they do.
func (a *App) DrawPart(ctx context.Context, spaceID, pageID int64, of page.ShownChart, size PartSize) (*Picture, error) {
	kept, err := a.store.Page(ctx, spaceID, pageID)
	if err != nil {
		return nil, err
	}
	if size.Together, err = a.together(ctx, spaceID, kept.Contents); err != nil {
		return nil, err
	}
	picture, _, err := a.DrawStep(ctx, spaceID, Side{ShownChart: of}, size)
	return picture, err
}

// sharing is a document with the ends of the axes that its chart shares; where it shares none, as it is.
func (a *App) sharing(
	ctx context.Context,
	spaceID int64,
	of Side,
	document *chart.Document,
	with figure.Together,
) (*chart.Document, error) {
	if len(with) == 0 {
		return document, nil
	}
	spans, err := a.spansOf(ctx, spaceID, of)
	if err != nil {
		return nil, err
	}
	return with.On(document, spans), nil
}
