package app

import (
	"context"
	"slices"
	"strings"
	"time"

	"copperlark/core/figure"
	"copperlark/core/sentence"
)

// FoundChart is a chart in a list: without what it says.
type FoundChart struct {
	ID          int64     `json:"id"`
	Name        string    `json:"name"`
	Named       bool      `json:"named" doc:"whether a person said the name"`
	Shared      bool      `json:"shared"`
	By          string    `json:"by" doc:"who made it"`
	DatasetID   int64     `json:"dataset_id"`
	DatasetName string    `json:"dataset_name"`
	VersionID   int64     `json:"version_id"`
	HeadStepID  int64     `json:"head_step_id"`
	ChangedAt   time.Time `json:"changed_at"`
	Notes       int       `json:"notes" doc:"how many open notes are on it"`
}

// FoundCharts is a part of the charts that are found, with how many there are in all.
type FoundCharts struct {
	Charts []FoundChart `json:"charts" nullable:"false"`
	Total  int          `json:"total"`
}

// ChartsWanted says which charts are looked for; what is 0 or empty is not looked at.
type ChartsWanted struct {
	ID        int64  // this one alone
	Find      string // every word of it must stand in what a chart is found by
	DatasetID int64
	MakerID   int64
	State     string // one of ChartStates
	Order     string // one of ChartOrders
	From      int
	Most      int
}

// ChartStates are what a chart can be asked to be; ChartOrders how they can stand. The first is without being said.
var (
	ChartStates = []string{"all", "kept", "shared", "try"}
	ChartOrders = []string{"changed", "name", "maker"}
)

// MostFound is how many are listed at once.
const MostFound = 200

// FoundStorage is what finds things.
type FoundStorage interface {
	FindCharts(ctx context.Context, spaceID int64, wanted ChartsWanted) (FoundCharts, error)
	// FindDatasets are those in whose names, columns and meanings every word stands.
	FindDatasets(ctx context.Context, spaceID int64, find string) ([]int64, error)
	LastCharts(ctx context.Context, spaceID int64) (map[int64]LastChart, error) // by their dataset
	// ChartsToWord are charts whose words are not those of where they stand, of no space in particular; whoever words them has a
	// while for it.
	ChartsToWord(ctx context.Context, settled time.Duration, most int) ([]ToWord, error)
	WordChart(ctx context.Context, chartID int64, worded, words string) error
}

// ToWord is a chart whose words are to be found out, and what these are for.
type ToWord struct {
	SpaceID, ChartID int64
	Worded           string
}

// FindCharts lists the charts of a space that are looked for.
func (a *App) FindCharts(ctx context.Context, spaceID int64, wanted ChartsWanted) (FoundCharts, error) {
	if wanted.Most <= 0 || wanted.Most > MostFound {
		wanted.Most = MostFound
	}
	return a.store.FindCharts(ctx, spaceID, wanted)
}

// FindDatasets lists the datasets of a space in whose names, columns and meanings every word stands.
func (a *App) FindDatasets(ctx context.Context, spaceID int64, find string) ([]Dataset, error) {
	all, err := a.store.Datasets(ctx, spaceID)
	if err != nil {
		return all, err
	}
	last, err := a.store.LastCharts(ctx, spaceID)
	if err != nil {
		return all, err
	}
	for i := range all {
		if chart, known := last[all[i].ID]; known {
			all[i].Last = &chart
		}
	}
	if strings.TrimSpace(find) == "" {
		return all, nil
	}
	ids, err := a.store.FindDatasets(ctx, spaceID, find)
	return slices.DeleteFunc(all, func(d Dataset) bool { return !slices.Contains(ids, d.ID) }), err
}

// How charts are worded: so many at once, once they stood still for a while; of larger tables the reading is not looked for; so many
// letters are kept.
const (
	wordedAtOnce  = 5
	wordedAfter   = 4 * time.Second
	wordedPause   = 300 * time.Millisecond
	readingRows   = 200_000
	mostWordBytes = 6_000
)

// WordCharts finds out what charts that changed are found by: their sentence, columns with meanings, titles, and reading.
func (a *App) WordCharts(ctx context.Context) error {
	for {
		list, err := a.store.ChartsToWord(ctx, wordedAfter, wordedAtOnce)
		if err != nil || len(list) == 0 {
			return err
		}
		for _, one := range list {
			words, err := a.wordsOf(ctx, one)
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if err != nil { // it is found by its name
				a.log.WarnContext(ctx, "a chart could not be worded", "chart", one.ChartID, "error", err)
			}
			if err := a.store.WordChart(ctx, one.ChartID, one.Worded, words); err != nil {
				return err
			}
		}
		if len(list) < wordedAtOnce {
			return nil
		}
		if err := pause(ctx, wordedPause); err != nil { // who works now goes first
			return err
		}
	}
}

func (a *App) wordsOf(ctx context.Context, one ToWord) (string, error) {
	kept, err := a.store.ChartHead(ctx, one.SpaceID, one.ChartID)
	if err != nil {
		return "", err
	}
	var words []string
	err = a.onSpelled(ctx, one.SpaceID, kept.VersionID, "words of a chart", 0, func(ctx context.Context, t *shown, d Dataset) error {
		bound, err := t.suits(kept.Document)
		if err != nil {
			return err
		}
		for _, part := range sentence.Spoken(bound) {
			words = append(words, part.Text)
		}
		manner := kept.Document.Manner
		words = append(words, manner.Title, manner.Subtitle, manner.Note)
		for _, name := range namedBy(kept.Document) {
			if c := t.Column(name); c != nil {
				words = append(words, name, c.ReadableName(), c.Meaning)
			}
		}
		if d.Rows > readingRows {
			return nil
		}
		picture, err := draw(ctx, bound, figure.Options{Width: movedWidth, Height: movedTall, Metrics: a.metrics,
			Dataset: a.others(one.SpaceID)})
		if err == nil {
			words = append(words, picture.Reading.Text())
		}
		return err
	})
	all := strings.ToLower(strings.Join(words, " "))
	return strings.ToValidUTF8(all[:min(len(all), mostWordBytes)], ""), err
}
