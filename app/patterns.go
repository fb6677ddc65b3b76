package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/page"
	"copperlark/core/pattern"
	"copperlark/core/sentence"
	"copperlark/core/table"
)

// The most that a space keeps to be used again.
const (
	mostPatterns  = 2_000
	mostLooks     = 500
	longestKept   = 200 // letters of a name
	mostRenamings = 200
)

// Pattern is a sentence whose columns are blanks.
type Pattern struct {
	ID        int64           `json:"id"`
	Name      string          `json:"name"`
	Blanks    []pattern.Blank `json:"blanks" nullable:"false"`
	Document  *chart.Document `json:"document"`
	ChartID   int64           `json:"chart_id,omitempty" doc:"the chart that it was made of, while it is there"`
	StepID    int64           `json:"step_id,omitempty"`
	VersionID int64           `json:"version_id,omitempty" doc:"of that chart"`
	By        string          `json:"by"`
	CreatedAt time.Time       `json:"created_at"`
}

// KeptLook is what a chart said of its looks and its scales, under a name.
type KeptLook struct {
	ID        int64     `json:"id"`
	Name      string    `json:"name"`
	Looks     []string  `json:"looks" nullable:"false" doc:"clauses, as they are typed"`
	Scales    []string  `json:"scales" nullable:"false" doc:"of the axes"`
	By        string    `json:"by"`
	CreatedAt time.Time `json:"created_at"`
}

// AgainStorage is what the program keeps to be used again.
type AgainStorage interface {
	AddPattern(ctx context.Context, spaceID, personID int64, p Pattern) (Pattern, error)
	Patterns(ctx context.Context, spaceID int64) ([]Pattern, error)
	Pattern(ctx context.Context, spaceID, id int64) (Pattern, error)
	RenamePattern(ctx context.Context, spaceID, id int64, name string) error
	DropPattern(ctx context.Context, spaceID, id int64) error
	AddLook(ctx context.Context, spaceID, personID int64, look KeptLook) (KeptLook, error)
	Looks(ctx context.Context, spaceID int64) ([]KeptLook, error)
	DropLook(ctx context.Context, spaceID, id int64) error
}

// keptName is a name for something that is kept.
func keptName(name string) (string, error) {
	name = strings.TrimSpace(name)
	if name == "" || utf8.RuneCountInString(name) > longestKept {
		return "", &Invalid{Message: fmt.Sprintf("a name has from 1 to %d characters", longestKept), Advice: "type a short name"}
	}
	return name, nil
}

// AddPattern makes a pattern of a chart at a step, 0 where it stands.
func (a *App) AddPattern(ctx context.Context, person Person, name string, chartID, stepID int64) (Pattern, error) {
	name, err := keptName(name)
	if err != nil {
		return Pattern{}, err
	}
	there, err := a.store.Patterns(ctx, person.SpaceID)
	if err != nil {
		return Pattern{}, err
	}
	if len(there) >= mostPatterns {
		return Pattern{}, &Full{"the space has as many patterns as it may", "delete some that nobody uses"}
	}
	kept, err := a.chartAt(ctx, person.SpaceID, page.ShownChart{ID: chartID, Step: stepID})
	if err != nil {
		return Pattern{}, err
	}
	p := Pattern{Name: name, Document: bare(kept.Document), ChartID: chartID, StepID: stepID}
	if stepID == 0 {
		p.StepID = kept.HeadStepID
	}
	err = a.onSpelled(ctx, person.SpaceID, kept.VersionID, "a pattern", 0, func(_ context.Context, t *shown, _ Dataset) error {
		p.Blanks = pattern.Blanks(namedBy(p.Document), t.Table)
		return nil
	})
	if err != nil {
		return Pattern{}, err
	}
	return a.store.AddPattern(ctx, person.SpaceID, person.ID, p)
}

// bare is a sentence without what is said of one table's rows alone: chosen rows, titles and notes.
func bare(d *chart.Document) *chart.Document {
	next := d.Clone()
	next.Manner.Title, next.Manner.Subtitle, next.Manner.Note = "", "", ""
	next.Chosen = nil
	return next
}

// namedBy are the columns that a sentence names, each once.
func namedBy(d *chart.Document) []string {
	var names []string
	seen := map[string]bool{}
	for _, name := range append(d.Columns(), d.Drawn()...) {
		if !seen[name] {
			seen[name] = true
			names = append(names, name)
		}
	}
	return names
}

// Patterns lists those of a space, the last made first.
func (a *App) Patterns(ctx context.Context, spaceID int64) ([]Pattern, error) {
	return a.store.Patterns(ctx, spaceID)
}

// RenamePattern gives a pattern another name.
func (a *App) RenamePattern(ctx context.Context, spaceID, id int64, name string) error {
	name, err := keptName(name)
	if err != nil {
		return err
	}
	return a.store.RenamePattern(ctx, spaceID, id, name)
}

// DropPattern deletes a pattern; charts that were made by it stay.
func (a *App) DropPattern(ctx context.Context, spaceID, id int64) error {
	return a.store.DropPattern(ctx, spaceID, id)
}

// AddLook keeps what a chart says of its looks and scales under a name.
func (a *App) AddLook(ctx context.Context, person Person, name string, document *chart.Document) (KeptLook, error) {
	name, err := keptName(name)
	if err != nil {
		return KeptLook{}, err
	}
	if document == nil {
		document = &chart.Document{}
	}
	if problems := document.Style().Check(); problems != nil {
		return KeptLook{}, refused(problems)
	}
	look := KeptLook{Name: name}
	look.Looks, look.Scales = sentence.LookOf(document)
	if len(look.Looks)+len(look.Scales) == 0 {
		return KeptLook{}, &Invalid{Message: "the chart says nothing of its looks or scales",
			Advice: "say something of them first: a grid, a palette, a log scale"}
	}
	there, err := a.store.Looks(ctx, person.SpaceID)
	if err != nil {
		return KeptLook{}, err
	}
	if len(there) >= mostLooks {
		return KeptLook{}, &Full{"the space keeps as many looks as it may", "delete some that nobody uses"}
	}
	return a.store.AddLook(ctx, person.SpaceID, person.ID, look)
}

// Looks lists the looks that a space keeps, the last kept first.
func (a *App) Looks(ctx context.Context, spaceID int64) ([]KeptLook, error) {
	return a.store.Looks(ctx, spaceID)
}

// DropLook forgets one; charts that it was laid on stay as they are.
func (a *App) DropLook(ctx context.Context, spaceID, id int64) error {
	return a.store.DropLook(ctx, spaceID, id)
}

// Fitting is what is to be used over a version: a pattern, or what a version's chart says; columns are choices that were made.
type Fitting struct {
	PatternID int64             `json:"pattern_id,omitempty"`
	FromID    int64             `json:"from_version_id,omitempty" doc:"with a document: the version that it was made over"`
	Document  *chart.Document   `json:"document,omitempty"`
	Columns   map[string]string `json:"columns,omitempty" doc:"for blanks, by what they were called: which column stands there; empty: none"`
	Without   []string          `json:"without,omitempty" maxItems:"200" doc:"blanks that are left out, with the clauses that name them"`
}

// Fitted is a sentence over another table, with what does not fit it.
type Fitted struct {
	Blanks   []pattern.Proposal `json:"blanks" nullable:"false"`
	Document *chart.Document    `json:"document,omitempty" doc:"over this version; missing where something does not fit"`
	Spoken   []sentence.Part    `json:"spoken" nullable:"false"`
	Misfits  []chart.Problem    `json:"misfits" nullable:"false" doc:"clauses that do not fit this version"`
	Lacking  []string           `json:"lacking" nullable:"false" doc:"blanks in which nothing stands, as people say them"`
}

// Fit proposes columns of a version for what a sentence names, and tells what of it does not fit. Nothing changes by it.
func (a *App) Fit(ctx context.Context, spaceID, versionID int64, wanted Fitting) (*Fitted, error) {
	if len(wanted.Columns) > mostRenamings {
		return nil, &Invalid{Message: "too many columns are named", Advice: fmt.Sprintf("name at most %d", mostRenamings)}
	}
	document, blanks, err := a.fitting(ctx, spaceID, wanted)
	if err != nil {
		return nil, err
	}
	for _, blank := range wanted.Without {
		less, can := sentence.Without(document, blank)
		if !can {
			return nil, &Invalid{Message: "what is plotted cannot be left out: " + blank, Advice: "choose a column for it"}
		}
		document = less
	}
	out := &Fitted{Spoken: []sentence.Part{}, Misfits: []chart.Problem{}, Lacking: []string{}}
	err = a.onSpelled(ctx, spaceID, versionID, "a sentence over another table", 0, func(_ context.Context, t *shown, _ Dataset) error {
		for blank, column := range wanted.Columns {
			if column != "" && t.Column(column) == nil {
				return &Invalid{Message: fmt.Sprintf("no column is called %s", column), Advice: "choose one for " + blank}
			}
		}
		out.Blanks = pattern.Propose(blanks, t.Table, wanted.Columns)
		names := map[string]string{}
		for _, p := range out.Blanks {
			names[p.Column] = p.Chosen
			if slices.Contains(wanted.Without, p.Column) || p.Chosen == "" {
				delete(names, p.Column)
			}
			if p.Chosen == "" && !slices.Contains(wanted.Without, p.Column) {
				out.Lacking = append(out.Lacking, p.Label)
			}
		}
		return out.over(t.Table, document, names)
	})
	return out, err
}

// fitting is the sentence that is to be used, and its blanks.
func (a *App) fitting(ctx context.Context, spaceID int64, wanted Fitting) (*chart.Document, []pattern.Blank, error) {
	if wanted.PatternID != 0 {
		p, err := a.store.Pattern(ctx, spaceID, wanted.PatternID)
		return p.Document, p.Blanks, err
	}
	if wanted.Document == nil || wanted.FromID == 0 {
		return nil, nil, &Invalid{Message: "nothing is to be used", Advice: "name a pattern, or a sentence with its version"}
	}
	var blanks []pattern.Blank
	document := bare(wanted.Document)
	err := a.onSpelled(ctx, spaceID, wanted.FromID, "a sentence", 0, func(_ context.Context, t *shown, _ Dataset) error {
		blanks = pattern.Blanks(namedBy(document), t.Table)
		return nil
	})
	return document, blanks, err
}

// over says a sentence over a table, with the columns that stand in its blanks.
func (f *Fitted) over(t *table.Table, document *chart.Document, names map[string]string) error {
	renamed, mistakes := sentence.Renamed(document, names)
	if mistakes != nil {
		return &Invalid{Message: mistakes[0].Message, Advice: mistakes[0].Advice, Mistakes: mistakes}
	}
	bound := mark.Bind(renamed, t)
	f.Spoken = sentence.Spoken(bound)
	if problems := bound.Problems(); problems != nil {
		f.Misfits = problems
		return nil
	}
	if len(f.Lacking) == 0 {
		f.Document = bound.Document
	}
	return nil
}
