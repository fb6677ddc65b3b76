package app

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/page"
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
	Words    string              // what changed from the document it was compared with
	Small    string              // its small picture as SVG, where that was asked for
	GoesOut  []GoesOut           // what sharing it would publish; nil in what is shared
	Said     []reading.Statement // of its reading, where a page shows it
	Of       *Chart              // which chart it is, where a page shows it
}

// Wanted is what a picture is asked for: a document or, when Typed is not empty, a typed
// sentence, amended by Changes. Words are told against Before, which may be nil.
type Wanted struct {
	Document *chart.Document      `json:"document,omitempty"`
	Typed    string               `json:"typed,omitempty" maxLength:"100000" doc:"a typed sentence, instead of a document"`
	Changes  []sentence.Amendment `json:"changes,omitempty" maxItems:"60" doc:"what becomes otherwise of the document, one after the other"`
	Before   *chart.Document      `json:"before,omitempty" doc:"what the words of the change are told against"`
	Width    float64              `json:"width,omitempty" minimum:"0" maximum:"8000"`
	Height   float64              `json:"height,omitempty" minimum:"0" maximum:"8000"`
	Fine     bool                 `json:"fine,omitempty" doc:"the positions of dots are as exact as they can be, for looking closely at a part of the chart"`
	Small    *SmallSize           `json:"small,omitempty" doc:"asks for a small picture of it as well, as its step in the trail shows it"`
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
	parts := map[string]any{
		"reading":  p.Reading,
		"spoken":   p.Spoken,
		"typed":    p.Typed,
		"document": p.Document,
		"relation": p.Document.Relation(),
		"words":    p.Words,
		"small":    p.Small,
	}
	if p.GoesOut != nil {
		parts["goes_out"] = p.GoesOut
	}
	if p.Said != nil {
		parts["said"], parts["chart"] = p.Said, p.Of
	}
	err := p.Figure.Encode(&out, parts)
	return out.Bytes(), err
}

// encodeShared is Encode for readers of a share: what is asked of a table that stays elsewhere, and what keeps it from being
// asked, speaks of what was prepared, and of columns that stay at home perhaps. What is of all rows and what of a sample
// stands with each paragraph.
func (p *Picture) encodeShared() ([]byte, error) {
	shared, without := *p, *p.Figure
	without.Elsewhere, shared.Figure = nil, &without
	return shared.Encode()
}

// JSON is the same without what a browser needs: the figure with plain numbers, its reading, and the typed sentence.
func (p *Picture) JSON() ([]byte, error) {
	written, err := json.MarshalIndent(map[string]any{"figure": p.Figure, "reading": p.Reading, "typed": p.Typed}, "", " ")
	return append(written, '\n'), err
}

// Draw states a chart and draws it, and its small picture beside that.
func (a *App) Draw(ctx context.Context, spaceID, versionID int64, wanted Wanted) (picture *Picture, err error) {
	err = a.onSpelled(
		ctx,
		spaceID,
		versionID,
		"a figure",
		weightOf(wanted.Document, wanted.Typed),
		func(ctx context.Context, t *shown, d Dataset) error {
			bound, err := t.stated(wanted.Document, wanted.Typed, wanted.Changes...)
			if err != nil {
				return err
			}
			before, err := t.bind(wanted.Before)
			if err != nil {
				return err
			}
			var beside parallel.Group
			var small []byte
			if wanted.Small != nil {
				beside.Go(func() error {
					key, err := smallKey(versionID, bound.Document, *wanted.Small)
					if err == nil {
						small, err = a.small(ctx, key, bound)
					}
					return err
				})
			}
			picture, err = draw(
				ctx,
				bound,
				figure.Options{
					Width:   wanted.Width,
					Height:  wanted.Height,
					Metrics: a.metrics,
					Dataset: a.others(spaceID),
					Fine:    wanted.Fine,

					Elsewhere: a.wholeOf(ctx, spaceID, t, d),
				},
			)
			if err = errors.Join(beside.Wait(), err); err == nil {
				picture.Words, picture.Small, picture.GoesOut = t.change(before, bound), string(small), goesOut(bound.Document, t.Table)
			}
			return err
		},
	)
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

// Stated binds a chart to a table: the document that was given or, when typed is not empty, what was typed.
func Stated(t *table.Table, document *chart.Document, typed string) (*mark.Bound, error) {
	return newShown(t).stated(document, typed)
}

func (s *shown) stated(document *chart.Document, typed string, changes ...sentence.Amendment) (*mark.Bound, error) {
	var mistakes []*sentence.Error
	if typed != "" {
		document, mistakes = sentence.Parse(typed, s.Table)
	}
	if mistakes == nil && document == nil {
		return nil, &Invalid{Message: "the chart says nothing to plot", Advice: "say which column to plot against which"}
	}
	if mistakes == nil && len(changes) > 0 {
		document, mistakes = sentence.Amended(document, s.Table, changes...)
	}
	if mistakes != nil {
		return nil, &Invalid{Message: mistakes[0].Message, Advice: mistakes[0].Advice, Mistakes: mistakes}
	}
	return s.bind(document)
}

// DrawTable is Draw for a table at hand.
func DrawTable(ctx context.Context, t *table.Table, document *chart.Document, typed string, options figure.Options) (*Picture, error) {
	bound, err := Stated(t, document, typed)
	if err != nil {
		return nil, err
	}
	return draw(ctx, bound, options)
}

func draw(ctx context.Context, bound *mark.Bound, options figure.Options) (*Picture, error) {
	f, problems, err := figure.Build(ctx, bound, options)
	if err != nil {
		return nil, err
	}
	if problems != nil {
		return nil, refused(problems)
	}
	read := reading.Of(f)
	reading.Note(f, read)
	return &Picture{
		Figure:   f,
		Reading:  read,
		Spoken:   spokenWith(f.Note, sentence.Spoken(bound)),
		Typed:    sentence.Print(bound.Document),
		Document: bound.Document,
	}, nil
}

// longestNote is how many letters of a note stand in the sentence.
const longestNote = 105

// spokenWith has the sentence say of a note whose words are tied to the reading what stands under the chart.
func spokenWith(note string, spoken []sentence.Part) []sentence.Part {
	for i, part := range spoken {
		if part.Slot == "note" && page.Words(part.Text) != part.Text {
			spoken[i].Folded = clause.Quoted(short(note, longestNote))
		}
	}
	return spoken
}

// refused is a chart that cannot be honoured.
func refused(problems []chart.Problem) error {
	return &Invalid{Message: problems[0].Message, Advice: problems[0].Advice, Problems: problems}
}

// FirstLook is the sentence that a chart of a dataset begins with: the two
// columns of numbers that go together most, the one with the wider spread along
// x. A table with fewer than two columns of numbers gives what it has.
func (a *App) FirstLook(ctx context.Context, spaceID, versionID int64) (document *chart.Document, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a first look", weighFigure, func(_ context.Context, t *shown, d Dataset) error {
		document = firstLook(t.Table)
		if b := mark.Bind(document, t.Table); d.Stays != nil && b.X.Numeric() && b.Y.Numeric() && len(b.Y.More) == 0 {
			document.SetMarks("hexagons") // dots of all rows would hide each other
		}
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

// Sayable is everything that can be said of a chart of a dataset.
func (a *App) Sayable(ctx context.Context, spaceID, versionID int64) (list []sentence.Sayable, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "what can be said", weighFigure, func(_ context.Context, t *shown, _ Dataset) error {
		list = sentence.Sayables(t.Table)
		return nil
	})
	return list, err
}

// suits binds a document to the table, and refuses one that cannot be honoured.
func (s *shown) suits(document *chart.Document) (*mark.Bound, error) {
	bound, err := s.stated(document, "")
	if err != nil {
		return nil, err
	}
	if problems := bound.Problems(); problems != nil {
		return nil, refused(problems)
	}
	return bound, nil
}

// checked gives the table of a version, as charts show it, with a document that suits it.
func (a *App) checked(ctx context.Context, spaceID, versionID int64, document *chart.Document) (t *shown, bound *mark.Bound, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a chart", 0, func(_ context.Context, of *shown, _ Dataset) error {
		t = of
		bound, err = of.suits(document)
		return err
	})
	return t, bound, err
}

// AddChart keeps a new chart with its first step.
func (a *App) AddChart(ctx context.Context, person Person, versionID int64, name string, document *chart.Document) (Chart, error) {
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Chart{}, err
	}
	t, bound, err := a.checked(ctx, person.SpaceID, versionID, document)
	if err != nil {
		return Chart{}, err
	}
	named := strings.TrimSpace(name) != ""
	if name = strings.TrimSpace(name); !named {
		name = nameOf(bound)
	}
	return a.store.AddChart(ctx, person.SpaceID, versionID, person.ID, name, named, bound.Document, t.change(nil, bound))
}

// nameOf is what a chart is called by its sentence, until a person says another name.
func nameOf(b *mark.Bound) string {
	d, x, y := b.Document, b.X, b.Y
	if d.Title != "" {
		return short(d.Title, 200)
	}
	if d.Function != nil {
		return "y = " + d.Function.Formula
	}
	name := y.Name() + " against " + x.Prose()
	switch {
	case y.Of == chart.Spread:
		name = "Spread of " + x.Prose()
	case len(y.More) > 0:
		name = y.Together() + " against " + x.Prose()
	}
	if c := b.Table.Column(d.Colour); c != nil {
		name += ", by " + c.Prose()
	}
	return short(name, 200)
}

// Charts lists a space's charts, the last changed first.
func (a *App) Charts(ctx context.Context, spaceID int64) ([]Chart, error) {
	return a.store.Charts(ctx, spaceID)
}

// KeptChart gives a chart as it stands, with its trail.
func (a *App) KeptChart(ctx context.Context, spaceID, id int64) (Chart, error) {
	return a.store.Chart(ctx, spaceID, id)
}

// longestName is how many characters the name of a chart has at most.
const longestName = 300

// ChangeChart gives a chart another name, makes it stand at another of its steps, or
// makes it use another version of its dataset: all that is said, or nothing. Clauses
// that do not fit the version are named.
func (a *App) ChangeChart(ctx context.Context, person Person, id int64, change ChartChange) error {
	spaceID := person.SpaceID
	if name := strings.TrimSpace(change.Name); change.Name != "" && (name == "" || utf8.RuneCountInString(name) > longestName) {
		return &Invalid{Message: "a chart's name has from 1 to 300 characters", Advice: "type a short name"}
	}
	change.Name = strings.TrimSpace(change.Name)
	if change.VersionID != 0 && len(change.Columns) > 0 {
		if change.StepID != 0 {
			return &Invalid{Message: "columns are named anew for the step where the chart stands", Advice: "stand at the step first"}
		}
		return a.moveAnew(ctx, person, id, change)
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
		if _, bound, err := a.checked(ctx, spaceID, versionID, document); err == nil {
			change.Follows = nameOf(bound)
		}
	}
	if change.StepID != 0 && change.VersionID == 0 {
		if err := a.store.Walk(ctx, spaceID, id, change.StepID, person.ID, change.Follows); err != nil {
			return err
		}
		change.StepID, change.Follows = 0, ""
		if change.Name == "" {
			return nil
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
	return fits(mark.Bind(document, t))
}

// fits tells which clauses of a chart do not fit a table, and which columns it lacks.
func fits(b *mark.Bound) error {
	document, problems := b.Document, b.Problems()
	if problems == nil {
		return nil
	}
	var misfits, missing []string
	for _, p := range problems {
		misfits = append(misfits, fmt.Sprintf("%s (%s)", p.Clause, p.Message))
	}
	for _, name := range append(document.Columns(), document.Drawn()...) {
		if !slices.Contains(missing, name) && b.Table.Column(name) == nil {
			missing = append(missing, name)
		}
	}
	return &Invalid{
		Missing:  missing,
		Message:  "these clauses of the chart do not fit the newer version: " + strings.Join(misfits, "; "),
		Advice:   "say them otherwise, or keep a version that has what they need",
		Problems: problems,
	}
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
	bound := mark.Bind(document, t)
	if err := fits(bound); err != nil {
		return err
	}
	return a.store.MoveChart(ctx, kept, change.VersionID, person.ID, bound.Document, "columns named anew", nameOf(bound), change.Name)
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
