package app

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/parallel"
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
	Words    string    // what changed from the document it was compared with
	Small    string    // its small picture as SVG, where that was asked for
	GoesOut  []GoesOut // what sharing it would publish; nil in what is shared
}

// Wanted is what a picture is asked for: a document or, when Typed is not empty, a typed
// sentence. Words are told against Before, which may be nil.
type Wanted struct {
	Document *chart.Document `json:"document,omitempty"`
	Typed    string          `json:"typed,omitempty" maxLength:"100000" doc:"a typed sentence, instead of a document"`
	Before   *chart.Document `json:"before,omitempty" doc:"what the words of the change are told against"`
	Width    float64         `json:"width,omitempty" minimum:"0" maximum:"8000"`
	Height   float64         `json:"height,omitempty" minimum:"0" maximum:"8000"`
	Fine     bool            `json:"fine,omitempty" doc:"the positions of dots are as exact as they can be, for looking closely at a part of the chart"`
	Small    *SmallSize      `json:"small,omitempty" doc:"asks for a small picture of it as well, as its step in the trail shows it"`
}

// SmallSize is the size of a small picture, in pixels; it is held to what can be drawn.
type SmallSize struct {
	Width  int `json:"width"`
	Height int `json:"height"`
}

// Encode writes the picture as an encoded figure whose head also holds reading
// and sentence.
func (p *Picture) Encode() ([]byte, error) {
	var out bytes.Buffer
	parts := map[string]any{"reading": p.Reading, "spoken": p.Spoken, "typed": p.Typed, "document": p.Document, "words": p.Words, "small": p.Small}
	if p.GoesOut != nil {
		parts["goes_out"] = p.GoesOut
	}
	err := p.Figure.Encode(&out, parts)
	return out.Bytes(), err
}

// Draw states a chart and draws it, and its small picture beside that.
func (a *App) Draw(ctx context.Context, spaceID, versionID int64, wanted Wanted) (picture *Picture, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a figure", weightOf(wanted.Document, wanted.Typed), func(ctx context.Context, t *table.Table, _ Dataset) error {
		document, err := Stated(t, wanted.Document, wanted.Typed)
		if err != nil {
			return err
		}
		var beside parallel.Group
		var small []byte
		if wanted.Small != nil {
			beside.Go(func() error {
				key, err := smallKey(versionID, document, *wanted.Small)
				if err == nil {
					small, err = a.small(ctx, key, document, t)
				}
				return err
			})
		}
		picture, err = drawStated(ctx, t, document, wanted.Before, figure.Options{Width: wanted.Width, Height: wanted.Height, Metrics: a.metrics, Dataset: a.others(spaceID), Fine: wanted.Fine})
		if err = errors.Join(beside.Wait(), err); err == nil {
			picture.Small, picture.GoesOut = string(small), goesOut(document, t)
		}
		return err
	})
	return picture, err
}

// weightOf is what drawing a document weighs a row. Of a typed sentence the fits are
// counted by their word.
func weightOf(document *chart.Document, typed string) int64 {
	fits := strings.Count(typed, "fit ")
	if document != nil && typed == "" {
		fits = len(document.Fits())
	}
	return weighFigure + weighFit*int64(min(fits, chart.MaxFits))
}

// Stated gives the document of a chart: the one that was given or, when typed is not
// empty, what was typed; with the marks that its columns suggest.
func Stated(t *table.Table, document *chart.Document, typed string) (*chart.Document, error) {
	if typed != "" {
		parsed, mistakes := sentence.Parse(typed, t)
		if mistakes != nil {
			return nil, &Invalid{Message: mistakes[0].Message, Advice: mistakes[0].Advice, Mistakes: mistakes}
		}
		document = parsed
	}
	if document == nil {
		return nil, &Invalid{Message: "the chart says nothing to plot", Advice: "say which column to plot against which"}
	}
	document.Version = chart.Version
	return mark.Settle(document, t), nil
}

// DrawTable is Draw for a table at hand.
func DrawTable(ctx context.Context, t *table.Table, document *chart.Document, typed string, before *chart.Document, options figure.Options) (*Picture, error) {
	document, err := Stated(t, document, typed)
	if err != nil {
		return nil, err
	}
	return drawStated(ctx, t, document, before, options)
}

func drawStated(ctx context.Context, t *table.Table, document, before *chart.Document, options figure.Options) (*Picture, error) {
	f, problems, err := figure.Build(ctx, document, t, options)
	if err != nil {
		return nil, err
	}
	if problems != nil {
		return nil, refused(problems)
	}
	return &Picture{Figure: f, Reading: reading.Of(f), Spoken: sentence.Spoken(document, t), Typed: sentence.Print(document), Document: document,
		Words: sentence.Change(settled(before, t), document, t)}, nil
}

// settled says of a document which marks it is drawn with; of none nothing.
func settled(d *chart.Document, t *table.Table) *chart.Document {
	if d == nil {
		return nil
	}
	return mark.Settle(d, t)
}

// refused is a chart that cannot be honoured.
func refused(problems []chart.Problem) error {
	return &Invalid{Message: problems[0].Message, Advice: problems[0].Advice, Problems: problems}
}

// FirstLook is the sentence that a chart of a dataset begins with: the two
// columns of numbers that go together most, the one with the wider spread along
// x. A table with fewer than two columns of numbers gives what it has.
func (a *App) FirstLook(ctx context.Context, spaceID, versionID int64) (document *chart.Document, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a first look", weighFigure, func(_ context.Context, t *table.Table, _ Dataset) error {
		document = firstLook(t)
		return nil
	})
	if err != nil {
		return nil, err
	}
	style, err := a.store.SpaceStyle(ctx, spaceID)
	if err != nil {
		return nil, err
	}
	return document.Styled(style), nil
}

// suits refuses a document that a table, as charts show it, cannot honour.
func suits(document *chart.Document, t *table.Table) error {
	if document == nil {
		return &Invalid{Message: "the chart says nothing to plot", Advice: "say which column to plot against which"}
	}
	document.Version = chart.Version
	if problems := mark.Check(document, t); problems != nil {
		return refused(problems)
	}
	return nil
}

// checked gives the table of a version, as charts show it, that a document suits.
func (a *App) checked(ctx context.Context, spaceID, versionID int64, document *chart.Document) (t *table.Table, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a chart", 0, func(_ context.Context, of *table.Table, _ Dataset) error {
		t = of
		return suits(document, t)
	})
	return t, err
}

// AddChart keeps a new chart with its first step.
func (a *App) AddChart(ctx context.Context, person Person, versionID int64, name string, document *chart.Document) (Chart, error) {
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Chart{}, err
	}
	t, err := a.checked(ctx, person.SpaceID, versionID, document)
	if err != nil {
		return Chart{}, err
	}
	document = mark.Settle(document, t)
	named := strings.TrimSpace(name) != ""
	if name = strings.TrimSpace(name); !named {
		name = nameOf(document, t)
	}
	return a.store.AddChart(ctx, person.SpaceID, versionID, person.ID, name, named, document, sentence.Change(nil, document, t))
}

// nameOf is what a chart is called by its sentence, until a person says another name.
func nameOf(d *chart.Document, t *table.Table) string {
	if d.Title != "" {
		return short(d.Title, 200)
	}
	if d.Function != nil {
		return "y = " + d.Function.Formula
	}
	x, y := mark.Resolve(d, t, "x"), mark.Resolve(d, t, "y")
	name := y.Name() + " against " + x.Prose()
	switch {
	case y.Of == chart.Spread:
		name = "Spread of " + x.Prose()
	case len(y.More) > 0:
		name = fmt.Sprintf("%s and %d more against %s", y.Name(), len(y.More), x.Prose())
	}
	if c := t.Column(d.Colour); c != nil {
		name += ", by " + c.Prose()
	}
	return short(name, 200)
}

// AddStep keeps a change of a chart: a step after the given one. Whoever goes on
// from an earlier step branches the trail.
func (a *App) AddStep(ctx context.Context, person Person, chartID, parentID int64, document *chart.Document) (Step, error) {
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Step{}, err
	}
	before, versionID, err := a.store.Step(ctx, person.SpaceID, chartID, parentID)
	if err != nil {
		return Step{}, err
	}
	t, err := a.checked(ctx, person.SpaceID, versionID, document)
	if err != nil {
		return Step{}, err
	}
	document = mark.Settle(document, t)
	return a.store.AddStep(ctx, person.SpaceID, chartID, parentID, person.ID, document, sentence.Change(settled(before, t), document, t), nameOf(document, t), MaxStepsADay)
}

// Charts lists a space's charts, the last changed first.
func (a *App) Charts(ctx context.Context, spaceID int64) ([]Chart, error) {
	return a.store.Charts(ctx, spaceID)
}

// Chart gives a chart with its trail.
func (a *App) Chart(ctx context.Context, spaceID, id int64) (Chart, error) {
	return a.store.Chart(ctx, spaceID, id)
}

// ChangeChart gives a chart another name, makes it stand at another of its steps, or
// makes it use another version of its dataset: all that is said, or nothing. Clauses
// that do not fit the version are named.
func (a *App) ChangeChart(ctx context.Context, person Person, id int64, change ChartChange) error {
	spaceID := person.SpaceID
	if name := strings.TrimSpace(change.Name); change.Name != "" && (name == "" || len(name) > 300) {
		return &Invalid{Message: "a chart's name has from 1 to 300 characters", Advice: "type a short name"}
	}
	change.Name = strings.TrimSpace(change.Name)
	if change.VersionID != 0 && len(change.Columns) > 0 {
		if change.StepID != 0 {
			return &Invalid{Message: "columns are named anew for the step where the chart stands", Advice: "stand at the step first"}
		}
		if err := a.moveAnew(ctx, person, id, change); err != nil {
			return err
		}
		change.VersionID = 0
	}
	if change.VersionID != 0 {
		if err := a.fitsVersion(ctx, spaceID, id, change); err != nil {
			return err
		}
	}
	if change.StepID != 0 {
		document, versionID, err := a.store.Step(ctx, spaceID, id, change.StepID)
		if err != nil {
			return err
		}
		if t, err := a.checked(ctx, spaceID, versionID, document); err == nil {
			change.Follows = nameOf(document, t)
		}
	}
	if change.Name == "" && change.StepID == 0 && change.VersionID == 0 {
		_, err := a.store.Chart(ctx, spaceID, id)
		return err
	}
	return a.store.ChangeChart(ctx, spaceID, id, change)
}

func (a *App) fitsVersion(ctx context.Context, spaceID, id int64, change ChartChange) error {
	kept, err := a.store.Chart(ctx, spaceID, id)
	if err != nil {
		return err
	}
	document := kept.Document
	if change.StepID != 0 {
		if document, _, err = a.store.Step(ctx, spaceID, id, change.StepID); err != nil {
			return err
		}
	}
	t, _, err := a.Table(ctx, spaceID, change.VersionID)
	if err != nil {
		return err
	}
	return fits(document, t)
}

// fits tells which clauses of a chart do not fit a table, and which columns it lacks.
func fits(document *chart.Document, t *table.Table) error {
	problems := mark.Check(document, t)
	if problems == nil {
		return nil
	}
	var misfits, missing []string
	for _, p := range problems {
		misfits = append(misfits, fmt.Sprintf("%s (%s)", p.Clause, p.Message))
	}
	for _, name := range append(document.Columns(), document.Drawn()...) {
		if !slices.Contains(missing, name) && t.Column(name) == nil {
			missing = append(missing, name)
		}
	}
	return &Invalid{Missing: missing, Message: "these clauses of the chart do not fit the newer version: " + strings.Join(misfits, "; "), Advice: "say them otherwise, or keep a version that has what they need", Problems: problems}
}

// moveAnew moves a chart to a version whose columns are called otherwise: as a step more, so
// that the chart as it was can be walked back to.
func (a *App) moveAnew(ctx context.Context, person Person, id int64, change ChartChange) error {
	kept, err := a.store.Chart(ctx, person.SpaceID, id)
	if err != nil {
		return err
	}
	t, _, err := a.Table(ctx, person.SpaceID, change.VersionID)
	if err != nil {
		return err
	}
	document, mistakes := sentence.Renamed(kept.Document, change.Columns)
	if mistakes != nil {
		return &Invalid{Message: mistakes[0].Message, Advice: mistakes[0].Advice, Mistakes: mistakes}
	}
	if err := fits(document, t); err != nil {
		return err
	}
	document = mark.Settle(document, t)
	return a.store.MoveChart(ctx, kept, change.VersionID, person.ID, document, "columns named anew", nameOf(document, t))
}

// DropChart deletes a chart with its trail; shared fixed copies stay.
func (a *App) DropChart(ctx context.Context, person Person, id int64) error {
	kept, err := a.store.Chart(ctx, person.SpaceID, id)
	if err != nil {
		return err
	}
	if err := a.store.DropChart(ctx, person.SpaceID, id); err != nil {
		return err
	}
	a.did(ctx, person, didDelete, "the chart “"+kept.Name+"”")
	return nil
}
