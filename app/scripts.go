package app

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/reader"
	"copperlark/core/sentence"
	"copperlark/core/table"
)

// What a script asks for in one call, where a person looks in between.

// Brought is a table that was read and kept at once.
type Brought struct {
	Dataset Dataset         `json:"dataset"`
	Columns []ColumnProfile `json:"columns" nullable:"false"`
	Report  *reader.Report  `json:"report" doc:"how the file was read, and what was read otherwise than it stands"`
}

// Bring reads a file and keeps it as a dataset; empty: it is called as the file is.
func (a *App) Bring(ctx context.Context, person Person, fileName, name string, content io.Reader) (*Brought, error) {
	read, err := a.ReadFile(ctx, person, fileName, content)
	if err != nil {
		return nil, err
	}
	dataset, err := a.Keep(ctx, person, read.Key, name)
	if err != nil {
		return nil, errors.Join(err, a.Discard(context.WithoutCancel(ctx), person.SpaceID, read.Key))
	}
	return &Brought{dataset, read.Columns, read.Report}, nil
}

// Renewed is a dataset's next version, and what became of it.
type Renewed struct {
	Version  Version        `json:"version"`
	Rows     int            `json:"rows" doc:"of the table, before its preparation"`
	Added    int            `json:"added" doc:"rows that were not there"`
	Replaced int            `json:"replaced" doc:"rows that took the place of earlier ones, by the key"`
	Report   *reader.Report `json:"report"`
	Lacks    []string       `json:"lacks,omitempty" doc:"columns of the table that added rows do not have: they are missing there"`
	Apart    []string       `json:"apart,omitempty" doc:"before rows are added: columns whose values tell the rows of the table apart"`
}

// Replace keeps a file as a dataset's next version, prepared as the newest one is.
func (a *App) Replace(ctx context.Context, person Person, datasetID int64, fileName string, content io.Reader) (*Renewed, error) {
	read, err := a.ReadFile(ctx, person, fileName, content)
	if err != nil {
		return nil, err
	}
	version, err := a.KeepFile(ctx, person, datasetID, read.Key)
	if err != nil {
		return nil, errors.Join(err, a.Discard(context.WithoutCancel(ctx), person.SpaceID, read.Key))
	}
	return &Renewed{Version: version, Rows: read.Rows, Added: read.Rows, Report: read.Report}, nil
}

// Append adds the rows of a file to a dataset, as its next version; with keys a row that is there already takes the place of
// the earlier one.
func (a *App) Append(
	ctx context.Context,
	person Person,
	datasetID int64,
	fileName string,
	content io.Reader,
	keys []string,
) (*Renewed, error) {
	if _, err := a.store.Dataset(ctx, person.SpaceID, datasetID); err != nil {
		return nil, err
	}
	read, err := a.ReadFile(ctx, person, fileName, content)
	if err != nil {
		return nil, err
	}
	defer func() { _ = a.Discard(context.WithoutCancel(ctx), person.SpaceID, read.Key) }()
	return a.AppendFile(ctx, person, datasetID, read.Key, keys, true)
}

// AppendFile is Append of a file that waits. Where it is not kept, what would become of it is told.
func (a *App) AppendFile(ctx context.Context, person Person, datasetID int64, key string, keys []string, keep bool) (*Renewed, error) {
	versions, err := a.store.Versions(ctx, person.SpaceID, datasetID)
	if err != nil {
		return nil, err
	}
	if len(versions) == 0 {
		return nil, ErrNotFound
	}
	m := wayTo(versions, versions[0].ID)
	options, err := a.store.Reading(ctx, m.first.ID)
	if err != nil {
		return nil, err
	}
	file, more, err := a.waiting(ctx, person.SpaceID, key, func(f *WaitingFile) { f.Options = options })
	if err != nil {
		return nil, err
	}
	base, dataset, err := a.Table(ctx, person.SpaceID, m.first.ID)
	if err != nil {
		return nil, err
	}
	working, leave, err := a.begin(ctx, "adding rows", weighSummary*int64(base.Rows()+more.table.Rows()))
	if err != nil {
		return nil, err
	}
	out, replaced, err := table.Appended(base, more.table, keys)
	if err == nil {
		err = working.Err()
	}
	made := &Renewed{Replaced: replaced, Report: more.report}
	for _, name := range base.Names() {
		if more.table.Column(name) == nil {
			made.Lacks = append(made.Lacks, name)
		}
	}
	if err == nil {
		made.Rows, made.Added = out.Rows(), out.Rows()-base.Rows()
		if !keep {
			made.Apart, err = apart(working, base)
		}
	}
	leave()
	if err != nil {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		return nil, &Invalid{Message: err.Error(), Advice: "send rows with the columns of the table, as it is before its preparation"}
	}
	if out.Rows() > math.MaxInt32 {
		return nil, &Invalid{Message: fmt.Sprintf("the table would have %d rows", out.Rows()), Advice: "keep fewer in one dataset"}
	}
	if !keep {
		return made, nil
	}
	report := *more.report
	report.Drawn = withMore(dataset.Drawn)
	n := NewDataset{
		SpaceID:  person.SpaceID,
		PersonID: person.ID,
		FileName: dataset.FileName,
		Table:    out,
		Report:   &report,
		Reading:  options,
		Appended: true,
	}
	made.Version, err = a.keepNext(ctx, person, datasetID, n, m.clauses, "rows of “"+file.Name+"” for “"+dataset.Name+"”")
	return made, err
}

// apart are the names of columns whose values tell the rows of a table apart; none where none do.
func apart(ctx context.Context, t *table.Table) ([]string, error) {
	key, err := table.TellApart(ctx, t)
	var names []string
	for _, c := range key {
		names = append(names, c.Name)
	}
	return names, err
}

// withMore is what is said of a sample that rows were added to.
func withMore(drawn string) string {
	const more = ", with rows that were added"
	if drawn == "" || strings.HasSuffix(drawn, more) {
		return drawn
	}
	return drawn + more
}

// Stated is a chart of a version as it was typed, or as its document says.
func (a *App) Stated(
	ctx context.Context,
	spaceID, versionID int64,
	document *chart.Document,
	typed string,
) (out *chart.Document, spoken string, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a sentence", 0, func(_ context.Context, t *shown, _ Dataset) error {
		bound, err := t.stated(document, typed)
		if err != nil {
			return err
		}
		out, spoken = bound.Document, sentenceOf(sentence.Spoken(bound))
		return nil
	})
	return out, spoken, err
}

// NumbersOf gives the numbers of a chart that is not kept.
func (a *App) NumbersOf(ctx context.Context, spaceID, versionID int64, document *chart.Document, typed string) (*ChartNumbers, error) {
	document, _, err := a.Stated(ctx, spaceID, versionID, document, typed)
	if err != nil {
		return nil, err
	}
	return a.numbersOf(ctx, spaceID, versionID, document)
}

// ChartRows gives the rows that a kept chart draws, of the columns that its sentence names.
func (a *App) ChartRows(ctx context.Context, person Person, c Chart) (out *table.Table, err error) {
	weight := 2 * weightOf(c.Document, "")
	err = a.onSpelled(ctx, person.SpaceID, c.VersionID, "the rows of a chart", weight, func(ctx context.Context, t *shown, _ Dataset) error {
		copied, err := NewFixedCopy(ctx, t.Table, c.Document, nil, figure.Options{Metrics: a.metrics, Dataset: a.others(person.SpaceID)})
		if err == nil {
			out = copied.Table
		}
		return err
	})
	if err == nil {
		a.did(ctx, person, didExport, "the chart “"+c.Name+"”")
	}
	return out, err
}

// Listed is a part of a list, and where it goes on.
type Listed[T any] struct {
	Items []T   `json:"items" nullable:"false"`
	Next  int64 `json:"next,omitempty" doc:"what to say as after for the next part; missing: this is the last"`
}

// ListWanted says which of a list: those after a number, with some words in their name, so many at most.
type ListWanted struct {
	After int64
	Name  string
	Limit int
}

// partOf takes a part of a list that is in order, the newest first.
func partOf[T any](all []T, wanted ListWanted, id func(T) int64, name func(T) string) Listed[T] {
	out := Listed[T]{Items: []T{}}
	words := strings.Fields(strings.ToLower(wanted.Name))
	for _, one := range all {
		if wanted.After != 0 && id(one) >= wanted.After {
			continue
		}
		fits := true
		for _, word := range words {
			fits = fits && strings.Contains(strings.ToLower(name(one)), word)
		}
		if !fits {
			continue
		}
		if len(out.Items) == wanted.Limit {
			out.Next = id(out.Items[len(out.Items)-1])
			break
		}
		out.Items = append(out.Items, one)
	}
	return out
}

// ListDatasets gives a part of a space's datasets.
func (a *App) ListDatasets(ctx context.Context, spaceID int64, wanted ListWanted) (Listed[Dataset], error) {
	all, err := a.store.Datasets(ctx, spaceID)
	slices.SortFunc(all, func(a, b Dataset) int { return cmp.Compare(b.ID, a.ID) })
	return partOf(all, wanted, func(d Dataset) int64 { return d.ID }, func(d Dataset) string { return d.Name }), err
}

// ListCharts gives a part of a space's charts, of one dataset or of all.
func (a *App) ListCharts(ctx context.Context, spaceID, datasetID int64, wanted ListWanted) (Listed[Chart], error) {
	all, err := a.store.Charts(ctx, spaceID)
	all = slices.DeleteFunc(all, func(c Chart) bool { return datasetID != 0 && c.DatasetID != datasetID })
	slices.SortFunc(all, func(a, b Chart) int { return cmp.Compare(b.ID, a.ID) })
	return partOf(all, wanted, func(c Chart) int64 { return c.ID }, func(c Chart) string { return c.Name }), err
}

// ListShares gives a part of what a space shares, withdrawn ones too.
func (a *App) ListShares(ctx context.Context, spaceID int64, wanted ListWanted) (Listed[Share], error) {
	all, err := a.store.Shares(ctx, spaceID)
	slices.SortFunc(all, func(a, b Share) int { return cmp.Compare(b.ID, a.ID) })
	return partOf(all, wanted, func(s Share) int64 { return s.ID }, func(s Share) string { return s.Title }), err
}
