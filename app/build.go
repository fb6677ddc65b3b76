package app

import (
	"bytes"
	"context"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/prepare"
	"copperlark/core/table"
)

// BuildWanted asks for the picture of a table that somebody builds.
type BuildWanted struct {
	prepare.Built
	Width  float64 `json:"width" minimum:"0"`
	Height float64 `json:"height" minimum:"0"`
}

// builtSentence shows a built table: the same ends whatever is moved, so that it is seen how.
const builtSentence = "plot y against x\ncolour by group\nfit line for each group and overall\nx from 0 to 100\ny from 0 to 100\n"

// Build makes a table that nobody keeps, and gives its picture encoded, with what else could
// explain its slope and the preparation that makes it.
func (a *App) Build(ctx context.Context, wanted BuildWanted) ([]byte, error) {
	ctx, leave, err := a.begin(ctx, "a built table", int64(wanted.MostRows()*len(wanted.Groups))*(weighPrepare+weighExplain))
	if err != nil {
		return nil, err
	}
	defer leave()
	empty, err := table.New()
	if err != nil {
		return nil, err
	}
	typed := wanted.Typed()
	state, err := prepare.Run(ctx, empty, prepare.Parse(typed), prepare.Environment{Seed: preparationSeed})
	if err != nil {
		if mistake, is := err.(*prepare.Mistake); is {
			return nil, &Invalid{Message: mistake.Message, Advice: mistake.Advice}
		}
		return nil, err
	}
	picture, err := DrawTable(
		ctx,
		state.Table,
		nil,
		builtSentence,
		figure.Options{Width: wanted.Width, Height: wanted.Height, Metrics: a.metrics},
	)
	if err != nil {
		return nil, err
	}
	relation := &chart.Document{Version: chart.Version, X: picture.Document.X, Y: picture.Document.Y}
	found, err := explain(ctx, mark.Bind(relation, state.Table), nil)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = picture.Figure.Encode(
		&out,
		map[string]any{
			"reading":      picture.Reading,
			"document":     picture.Document,
			"explanations": found,
			"preparation":  typed,
			"sentence":     builtSentence,
		},
	)
	return out.Bytes(), err
}
