package app

import (
	"context"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/sentence"
)

// SpaceStyle is how charts of a space look from their beginning on. Charts that were begun before stay
// as they are: each says its own looks in its sentence.
type SpaceStyle struct {
	Style chart.Style `json:"style"`
	Says  []string    `json:"says" doc:"its clauses, as they are typed; none: as the program has it"`
	Hard  []string    `json:"hard" doc:"what in its palette is hard to see or to tell apart"`
	Slots []string    `json:"slots" doc:"the words of a sentence that are of its style"`
}

// Style gives the style of a space.
func (a *App) Style(ctx context.Context, spaceID int64) (*SpaceStyle, error) {
	style, err := a.store.SpaceStyle(ctx, spaceID)
	if err != nil {
		return nil, err
	}
	return told(style), nil
}

// SetStyle makes what a chart says of its looks the style of the space. A chart that says nothing
// brings the program's own back.
func (a *App) SetStyle(ctx context.Context, person Person, document *chart.Document) (*SpaceStyle, error) {
	if document == nil {
		document = &chart.Document{}
	}
	style := document.Style()
	if problems := style.Check(); problems != nil {
		return nil, refused(problems)
	}
	if err := a.store.SetSpaceStyle(ctx, person.SpaceID, style); err != nil {
		return nil, err
	}
	out := told(style)
	what := strings.Join(out.Says, ", ")
	if what == "" {
		what = "the program's own"
	}
	a.did(ctx, person, "set the style of the space", what)
	return out, nil
}

func told(style chart.Style) *SpaceStyle {
	out := &SpaceStyle{Style: style, Says: []string{}, Slots: chart.StyleSlots, Hard: colour.Hard(style.Palette, style.Palette)}
	if out.Hard == nil {
		out.Hard = []string{}
	}
	bare := &chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}
	out.Says = append(out.Says, strings.Split(strings.TrimSpace(sentence.Print(bare.Styled(style))), "\n")[1:]...)
	return out
}
