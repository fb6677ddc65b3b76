package app

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"
	"time"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/prepare"
	"copperlark/core/summary"
	"copperlark/core/table"
	"copperlark/source"
)

// A chart of a table that stays elsewhere is drawn from a sample, which is a dataset like any other; what it needs of all
// rows it asks, and what was answered is kept with the version that is the sample.

// SampledRows is how many rows stand for a table that stays elsewhere, and SampleSeed by which seed they are drawn.
const SampledRows, SampleSeed = 50_000, 42

// Stays is a table that stays elsewhere.
type Stays struct {
	Source string `json:"source"`
	Table  string `json:"table"`
	Rows   int64  `json:"rows" doc:"about how many it has; -1: nobody knows"`
	About  bool   `json:"about,omitempty" doc:"the database reckons them"`
}

// Settle finds out of what table the version is a sample whose charts ask all rows: one that was drawn for its dataset.
func (d *Dataset) Settle() {
	w, is := rowsOf(d.OriginPlace)
	drawn, rest := strings.CutSuffix(d.Drawn, w.of())
	if !is || !w.Stays || !rest {
		return
	}
	d.Stays = &Stays{Source: w.Source, Table: w.Table, Rows: -1}
	_, of, _ := strings.Cut(drawn, " of ")
	of, d.Stays.About = strings.CutPrefix(of, "about ")
	of, _, _ = strings.Cut(of, " rows")
	if n, err := strconv.ParseInt(strings.ReplaceAll(of, ",", ""), 10, 64); err == nil {
		d.Stays.Rows = n
	}
}

// WholeAnswer is an answer with what was asked for it.
type WholeAnswer struct {
	Key       string          `json:"key" doc:"of the question"`
	Statement string          `json:"statement" doc:"as the database was asked; of many that differ in the part of the table the last"`
	Seconds   float64         `json:"seconds"`
	Parts     int             `json:"parts" doc:"of the table, that were asked by themselves"`
	AskedAt   time.Time       `json:"asked_at"`
	By        string          `json:"by,omitempty"`
	Answer    *summary.Answer `json:"-"`
}

// AnswerStorage keeps answers.
type AnswerStorage interface {
	WholeAnswer(ctx context.Context, versionID int64, name string) (*summary.Answer, error)
	WholeAnswers(ctx context.Context, versionID int64) ([]WholeAnswer, error) // without what was answered
	KeepWholeAnswer(ctx context.Context, versionID, personID int64, answer WholeAnswer) error
	DropWholeAnswers(ctx context.Context, versionID int64) error
}

type answerKey struct {
	version int64
	name    string
}

// wholeOf is what is known of all rows of the table that a version is a sample of; nil: it is no such sample.
func (a *App) wholeOf(ctx context.Context, spaceID int64, t *shown, d Dataset) *summary.Whole {
	if d.Stays == nil || t.raw == nil {
		return nil
	}
	w := &summary.Whole{Raw: t.raw, Known: func(q *summary.Question) *summary.Answer {
		key := answerKey{d.VersionID, q.Key()}
		if known, held := a.held.Get(key); held {
			return known.(*summary.Answer)
		}
		answer, err := a.store.WholeAnswer(ctx, d.VersionID, key.name)
		if err != nil {
			if !errors.Is(err, ErrNotFound) && ctx.Err() == nil {
				a.log.ErrorContext(ctx, "an answer could not be read", "version", d.VersionID, "error", err)
			}
			return nil
		}
		a.held.Put(key, answer, answer.Bytes())
		return answer
	}}
	if d.Prepared {
		a.prepareWhole(ctx, spaceID, d, w)
	}
	return w
}

// prepareWhole has what is asked prepared as the version was, or says why that cannot be.
func (a *App) prepareWhole(ctx context.Context, spaceID int64, d Dataset, w *summary.Whole) {
	w.Bars = "these rows were prepared here, and the table was not"
	m, err := a.madeOf(ctx, spaceID, d)
	if err != nil || m.first.PreparedFrom != 0 {
		return
	}
	first, _, err := a.Table(ctx, spaceID, m.first.ID)
	if err != nil {
		return
	}
	asked, bars := prepare.AskedElsewhere(m.clauses, first)
	if w.Bars = bars; bars == "" {
		w.Within, w.With = asked.Within, asked.Columns
	}
}

// WholeWanted is a question that a chart, or what is told beside it, asks of all rows.
type WholeWanted struct {
	Document *chart.Document `json:"document,omitempty" doc:"of the chart that asks, or beside which something is told"`
	Key      string          `json:"key" maxLength:"64" doc:"of the question, as what asks it tells"`
	For      string          `json:"for,omitempty" enum:"chart,explanations,evidence,checks,summary" doc:"what asks it; unsaid: the chart"`
	Column   string          `json:"column,omitempty" maxLength:"10000" doc:"of evidence: of which column"`
}

// asks are what asks all rows, by its name: each does what it does, and notes its questions on the way.
var asks = map[string]struct {
	weight int64 // beside that of the chart
	do     func(ctx context.Context, t *shown, wanted WholeWanted, o figure.Options) error
}{
	"chart": {0, ofChart(func(ctx context.Context, b *mark.Bound, _ WholeWanted, o figure.Options) error {
		_, err := draw(ctx, b, o)
		return err
	})},
	"explanations": {weighExplain, ofChart(func(ctx context.Context, b *mark.Bound, _ WholeWanted, o figure.Options) error {
		_, err := explain(ctx, b, o.Elsewhere)
		return err
	})},
	"evidence": {weighExplain, ofChart(func(ctx context.Context, b *mark.Bound, wanted WholeWanted, o figure.Options) error {
		_, err := evidence(ctx, b, wanted.Column, o.Elsewhere)
		return err
	})},
	"checks": {weighExplain, ofChart(func(ctx context.Context, b *mark.Bound, _ WholeWanted, o figure.Options) error {
		_, err := holds(ctx, b, o.Elsewhere)
		return err
	})},
	"summary": {weighSummary, func(ctx context.Context, t *shown, _ WholeWanted, o figure.Options) error {
		_, err := summaries(ctx, t.Table, o.Elsewhere)
		return err
	}},
}

// ofChart is what asks by a chart.
func ofChart(
	do func(ctx context.Context, b *mark.Bound, wanted WholeWanted, o figure.Options) error,
) func(ctx context.Context, t *shown, wanted WholeWanted, o figure.Options) error {
	return func(ctx context.Context, t *shown, wanted WholeWanted, o figure.Options) error {
		if wanted.Document == nil {
			return &Invalid{Message: "no chart was given that asks this", Advice: "send its document"}
		}
		bound, err := t.suits(wanted.Document)
		if err != nil {
			return err
		}
		return do(ctx, bound, wanted, o)
	}
}

// questioned finds a question among those that something asks, which is how nobody asks anything else.
func (a *App) questioned(ctx context.Context, person Person, versionID int64, wanted WholeWanted) (
	asked *summary.Asked, dataset Dataset, err error,
) {
	ask, is := asks[cmp.Or(wanted.For, "chart")]
	if !is {
		return nil, dataset, &Invalid{Message: "nothing that is called " + wanted.For + " asks all rows", Advice: "draw the chart again"}
	}
	err = a.onSpelled(ctx, person.SpaceID, versionID, "what all rows are asked", weightOf(wanted.Document, "")+ask.weight,
		func(ctx context.Context, t *shown, d Dataset) error {
			dataset = d
			whole := a.wholeOf(ctx, person.SpaceID, t, d)
			if whole == nil {
				return nil
			}
			options := figure.Options{Metrics: a.metrics, Dataset: a.others(person.SpaceID), Elsewhere: whole}
			if err := ask.do(ctx, t, wanted, options); err != nil {
				return err
			}
			for _, one := range whole.Asked() {
				if one.Question.Key() == wanted.Key {
					asked = &one
				}
			}
			return nil
		})
	if err == nil && asked == nil {
		err = &Invalid{Message: "the chart does not ask this", Advice: "draw it again"}
	}
	return asked, dataset, err
}

// AskWhole asks all rows of a table that stays elsewhere what a chart needs of them, and keeps the answer. Only what a chart
// asks can be asked.
func (a *App) AskWhole(ctx context.Context, person Person, versionID int64, wanted WholeWanted) (kept WholeAnswer, err error) {
	asked, dataset, err := a.questioned(ctx, person, versionID, wanted)
	if err != nil {
		return kept, err
	}
	begun := a.now()
	var told *source.Told
	ask := func(ctx context.Context, snapshot source.Snapshot, parts func(done, of int)) (err error) {
		told, err = snapshot.Groups(ctx, asked.Question, parts)
		return err
	}
	if err = a.where(ctx, person, dataset, asked.Words, ask); err != nil {
		return kept, err
	}
	kept = WholeAnswer{Key: wanted.Key, Statement: told.Statement, Seconds: a.now().Sub(begun).Seconds(), Parts: told.Parts, AskedAt: a.now(),
		By: person.Name, Answer: told.Answer}
	return kept, a.store.KeepWholeAnswer(ctx, versionID, person.ID, kept)
}

// where asks the table that a version is the newest sample of where it stays; parts is told how far a question is.
func (a *App) where(
	ctx context.Context, person Person, dataset Dataset, words string,
	ask func(ctx context.Context, snapshot source.Snapshot, parts func(done, of int)) error,
) error {
	if err := a.isNewestSample(ctx, person.SpaceID, dataset); err != nil {
		return err
	}
	w, _ := rowsOf(dataset.OriginPlace)
	from, err := a.sourceOf(person.SpaceID, w)
	if errors.Is(err, ErrNotFound) {
		return &Invalid{Message: "the settings of this server name this table no longer", Advice: "what is known of it stays"}
	}
	if err != nil {
		return err
	}
	ctx, leave, err := a.begin(ctx, "asking "+w.Source+": "+words, lightWork)
	if err != nil {
		return err
	}
	defer leave()
	snapshot, err := from.Begin(ctx, w.Table)
	if err != nil {
		return ofSource(err)
	}
	defer snapshot.End()
	if err := ask(ctx, snapshot, func(done, of int) { say(ctx, fmt.Sprintf("%d of %d parts", done, of)) }); err != nil {
		return ofSource(err)
	}
	a.did(ctx, person, didAskWhole, w.Table+" of "+w.Source)
	return nil
}

// isNewestSample refuses to ask the table as it stands now for a sample of what it was before.
func (a *App) isNewestSample(ctx context.Context, spaceID int64, d Dataset) error {
	versions, err := a.store.Versions(ctx, spaceID, d.ID)
	if err != nil {
		return err
	}
	if len(versions) > 0 && wayTo(versions, versions[0].ID).first.ID != wayTo(versions, d.VersionID).first.ID {
		return &Invalid{Message: "a newer sample of the table was drawn since",
			Advice: "move the chart over to the newest version, and it asks there"}
	}
	return nil
}

// Answers tells what was asked of the table that a version is a sample of, the last first.
func (a *App) Answers(ctx context.Context, spaceID, versionID int64) ([]WholeAnswer, error) {
	if _, err := a.store.Version(ctx, spaceID, versionID); err != nil {
		return nil, err
	}
	return a.store.WholeAnswers(ctx, versionID)
}

// DropAnswers forgets what was answered, so that it is asked anew.
func (a *App) DropAnswers(ctx context.Context, person Person, versionID int64) error {
	if _, err := a.store.Version(ctx, person.SpaceID, versionID); err != nil {
		return err
	}
	a.held.Drop(func(held any) bool { one, is := held.(answerKey); return is && one.version == versionID })
	return a.store.DropWholeAnswers(ctx, versionID)
}

// StayingWanted is a table whose charts ask it where it is.
type StayingWanted struct {
	Source string `json:"source" maxLength:"60"`
	Table  string `json:"table" maxLength:"200" doc:"as the source names it"`
}

// ChartStaying makes a dataset of a sample of a table that stays elsewhere, or finds the one that the space has.
func (a *App) ChartStaying(ctx context.Context, person Person, wanted StayingWanted) (Dataset, error) {
	w := RowsWanted{Source: wanted.Source, Table: wanted.Table, Rows: SampledRows, Seed: SampleSeed, Stays: true}
	if _, err := a.sourceOf(person.SpaceID, w); err != nil {
		return Dataset{}, err
	}
	known, err := a.store.Datasets(ctx, person.SpaceID)
	if err != nil {
		return Dataset{}, err
	}
	for _, d := range known {
		if d.OriginPlace == w.place() {
			return d, nil
		}
	}
	preview, err := a.DrawRows(ctx, person, w)
	if err != nil {
		return Dataset{}, err
	}
	_, name, _ := strings.Cut(w.Table, ".")
	dataset, err := a.Keep(ctx, person, preview.Key, table.Readable(name))
	if err != nil {
		return Dataset{}, errors.Join(err, a.Discard(context.WithoutCancel(ctx), person.SpaceID, preview.Key))
	}
	if _, err := a.SetOrigin(ctx, person, dataset.ID, OriginWanted{Place: w.place(), Every: "never"}); err != nil {
		return Dataset{}, err
	}
	return a.store.Dataset(ctx, person.SpaceID, dataset.ID)
}
