package app

import (
	"bytes"
	"context"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/reading"
	"copperlark/core/sentence"
	"copperlark/core/table"
)

// Picture is a drawn chart: the figure, the reading beside it, and the sentence
// in both forms.
type Picture struct {
	Figure   *figure.Figure
	Reading  *reading.Reading
	Spoken   []sentence.Part
	Typed    string
	Document *chart.Document
	Words    string // what changed from the document it was compared with
}

// Encode writes the picture as an encoded figure whose head also holds reading
// and sentence.
func (p *Picture) Encode() ([]byte, error) {
	var out bytes.Buffer
	err := p.Figure.Encode(&out, map[string]any{"reading": p.Reading, "spoken": p.Spoken, "typed": p.Typed, "document": p.Document, "words": p.Words})
	return out.Bytes(), err
}

// Draw states a chart as a document or, when typed is not empty, as a typed
// sentence, and draws it. before is what words are told against; it may be nil.
func (a *App) Draw(ctx context.Context, spaceID, versionID int64, document *chart.Document, typed string, before *chart.Document, width, height float64) (*Picture, error) {
	t, _, err := a.Spelled(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
	return DrawTable(ctx, t, document, typed, before, figure.Options{Width: width, Height: height, Metrics: a.metrics})
}

// DrawTable is Draw for a table at hand.
func DrawTable(ctx context.Context, t *table.Table, document *chart.Document, typed string, before *chart.Document, options figure.Options) (*Picture, error) {
	if typed != "" {
		parsed, mistakes := sentence.Parse(typed, t.Names())
		if mistakes != nil {
			return nil, &Invalid{Message: mistakes[0].Message, Advice: mistakes[0].Advice, Mistakes: mistakes}
		}
		document = parsed
	}
	if document == nil {
		return nil, &Invalid{Message: "the chart says nothing to plot", Advice: "say which column to plot against which"}
	}
	document.Version = chart.Version
	f, problems, err := figure.Build(ctx, document, t, options)
	if err != nil {
		return nil, err
	}
	if problems != nil {
		return nil, &Invalid{Message: problems[0].Message, Advice: problems[0].Advice, Problems: problems}
	}
	return &Picture{Figure: f, Reading: reading.Of(f), Spoken: sentence.Spoken(document, t), Typed: sentence.Print(document), Document: document,
		Words: sentence.Change(before, document, t)}, nil
}

// FirstLook is the sentence that a chart of a dataset begins with: the two
// columns of numbers that go together most, the one with the wider spread along
// x. A table with fewer than two columns of numbers gives what it has.
func (a *App) FirstLook(ctx context.Context, spaceID, versionID int64) (*chart.Document, error) {
	t, _, err := a.Spelled(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
	return firstLook(t), nil
}

func (a *App) checked(ctx context.Context, spaceID, versionID int64, document *chart.Document) (*table.Table, error) {
	t, _, err := a.Spelled(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
	document.Version = chart.Version
	if problems := chart.Check(document, t); problems != nil {
		return nil, &Invalid{Message: problems[0].Message, Advice: problems[0].Advice, Problems: problems}
	}
	return t, nil
}

// AddChart keeps a new chart with its first step.
func (a *App) AddChart(ctx context.Context, person Person, versionID int64, name string, document *chart.Document) (Chart, error) {
	t, err := a.checked(ctx, person.SpaceID, versionID, document)
	if err != nil {
		return Chart{}, err
	}
	if name = strings.TrimSpace(name); name == "" {
		name = defaultName(document, t)
	}
	return a.store.AddChart(ctx, person.SpaceID, versionID, person.ID, name, document, sentence.Change(nil, document, t))
}

func defaultName(d *chart.Document, t *table.Table) string {
	if d.Title != "" {
		return d.Title
	}
	return t.Column(d.Y).ReadableName() + " against " + t.Column(d.X).Prose()
}

// AddStep keeps a change of a chart: a step after the given one. Whoever goes on
// from an earlier step branches the trail.
func (a *App) AddStep(ctx context.Context, person Person, chartID, parentID int64, document *chart.Document) (Step, error) {
	kept, err := a.store.Chart(ctx, person.SpaceID, chartID)
	if err != nil {
		return Step{}, err
	}
	t, err := a.checked(ctx, person.SpaceID, kept.VersionID, document)
	if err != nil {
		return Step{}, err
	}
	var before *chart.Document
	for _, step := range kept.Steps {
		if step.ID == parentID {
			before = step.Document
		}
	}
	if before == nil {
		return Step{}, ErrNotFound
	}
	return a.store.AddStep(ctx, person.SpaceID, chartID, parentID, person.ID, document, sentence.Change(before, document, t))
}

// MoveTo makes a chart stand at one of its steps.
func (a *App) MoveTo(ctx context.Context, spaceID, chartID, stepID int64) error {
	return a.store.MoveHead(ctx, spaceID, chartID, stepID)
}

// Charts lists a space's charts, the last changed first.
func (a *App) Charts(ctx context.Context, spaceID int64) ([]Chart, error) {
	return a.store.Charts(ctx, spaceID)
}

// Chart gives a chart with its trail.
func (a *App) Chart(ctx context.Context, spaceID, id int64) (Chart, error) {
	return a.store.Chart(ctx, spaceID, id)
}

// RenameChart gives a chart another name.
func (a *App) RenameChart(ctx context.Context, spaceID, id int64, name string) error {
	if name = strings.TrimSpace(name); name == "" || len(name) > 300 {
		return &Invalid{Message: "a chart's name has from 1 to 300 characters", Advice: "type a short name"}
	}
	return a.store.RenameChart(ctx, spaceID, id, name)
}

// DropChart deletes a chart with its trail; shared fixed copies stay.
func (a *App) DropChart(ctx context.Context, spaceID, id int64) error {
	return a.store.DropChart(ctx, spaceID, id)
}
