package app

import (
	"cmp"
	"context"
	"math"
	"path/filepath"
	"slices"
	"sort"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/describe"
	"copperlark/core/mark"
	"copperlark/core/parallel"
	"copperlark/core/reader"
	"copperlark/core/table"
)

// Preview is what a file looks like before it is kept.
type Preview struct {
	Key     string          `json:"key"`
	Name    string          `json:"name"`
	Rows    int             `json:"rows"`
	Columns []ColumnProfile `json:"columns"`
	First   [][]string      `json:"first" doc:"the first rows, as text; empty text is missing"`
	Report  *reader.Report  `json:"report"`
}

// ColumnProfile is what the head of a column shows.
type ColumnProfile struct {
	Name     string         `json:"name"`
	Label    string         `json:"label" doc:"as people say it"`
	Prose    string         `json:"prose" doc:"the label as it stands inside a sentence"`
	Unit     string         `json:"unit,omitempty"`
	Meaning  string         `json:"meaning,omitempty"`
	Form     string         `json:"form,omitempty" doc:"how its numbers are written"`
	Kind     table.Kind     `json:"kind" enum:"number,category,ordered,yes / no,date,duration,text"`
	Grain    string         `json:"grain,omitempty"`
	Missing  int            `json:"missing"`
	Gaps     []float64      `json:"gaps,omitempty" doc:"where values are missing: the share that is, in equal stretches from the first row to the last"`
	Distinct int            `json:"distinct" doc:"different values; of numbers and dates counted up to 1,000"`
	Low      string         `json:"low,omitempty"`
	High     string         `json:"high,omitempty"`
	Decimals int            `json:"decimals,omitempty" doc:"of a column of numbers: how many its values are shown with"`
	Groups   bool           `json:"groups" doc:"whether the column can tell groups apart by colour"`
	Bars     []describe.Bar `json:"bars"`
}

const (
	mostDistinct     = 1000
	missingStretches = 28
)

// ProfileOf describes a column for its head.
func ProfileOf(c *table.Column) ColumnProfile {
	p := ColumnProfile{
		Name:    c.Name,
		Label:   c.ReadableName(),
		Prose:   c.Prose(),
		Unit:    c.Unit,
		Meaning: c.Meaning,
		Form:    mark.FormOf(c),
		Kind:    c.Kind,
		Grain:   string(c.Grain),
		Missing: c.MissingCount(),
	}
	if p.Missing > 0 {
		p.Gaps = describe.Gaps(c, missingStretches)
	}
	if c.Kind.Coded() {
		p.Distinct = len(c.Levels)
		p.Groups = c.Kind != table.Text && p.Distinct <= chart.MaxColours
		p.Bars = describe.Picture(c, 6)
		return p
	}
	p.Bars = describe.Picture(c, 16)
	p.Groups = c.SuggestsGroups() && c.AsGroups(chart.MaxColours) != nil
	low, high := math.Inf(1), math.Inf(-1)
	distinct := map[float64]struct{}{}
	for _, v := range c.Numbers {
		if math.IsNaN(v) {
			continue
		}
		low, high = min(low, v), max(high, v)
		if len(distinct) < mostDistinct {
			distinct[v] = struct{}{}
		}
	}
	p.Distinct = len(distinct)
	if c.Kind == table.Number {
		p.Decimals = decimals(c, max(math.Abs(low), math.Abs(high)))
	}
	if low <= high {
		written := func(v float64) string {
			if c.Kind.Moment() {
				return table.FormatDate(v, c.Grain)
			}
			return table.FormatNumber(v)
		}
		p.Low, p.High = written(low), written(high)
	}
	return p
}

// decimals is how many decimals the values of a column are shown with: as many as write them exactly, or where six
// are not enough, as many as show six digits of the largest value.
func decimals(c *table.Column, largest float64) int {
	if needed := describe.Shown(c); needed <= describe.MostDecimals {
		return needed
	}
	return int(min(max(6-math.Ceil(math.Log10(max(largest, 1e-6))), 0), 12))
}

const previewRows = 12

func preview(ctx context.Context, key string, file WaitingFile, read waitingTable) (*Preview, error) {
	p := &Preview{Key: key, Name: file.Name, Rows: read.table.Rows(), Report: read.report, First: RowValues(read.table, 0, previewRows)}
	var err error
	p.Columns, err = profiles(ctx, read.table)
	return p, err
}

// RowValues gives rows as text, from a row on; empty text is missing.
func RowValues(t *table.Table, from, count int) [][]string {
	rows := [][]string{}
	for i := max(from, 0); i < min(from+count, t.Rows()); i++ {
		row := make([]string, len(t.Columns()))
		for j, c := range t.Columns() {
			row[j] = c.Value(i)
		}
		rows = append(rows, row)
	}
	return rows
}

// NameOfFile is a file's name as people say it.
func NameOfFile(file string) string {
	name := strings.TrimSuffix(file, ".gz")
	name = strings.TrimSuffix(name, filepath.Ext(name))
	readable := []rune(table.Readable(name))
	if len(readable) == 0 {
		return "Table"
	}
	return strings.ToUpper(string(readable[:1])) + string(readable[1:])
}

// AddTable stores a table as a new dataset.
func (a *App) AddTable(ctx context.Context, dataset NewDataset) (Dataset, error) {
	if err := a.roomFor(ctx, dataset.SpaceID, tableBytes(dataset.Table)/packedShare, int64(dataset.Table.Rows())); err != nil {
		return Dataset{}, err
	}
	return a.store.AddDataset(ctx, dataset)
}

// packedShare is about how much smaller a table is once it is packed.
const packedShare = 3

// Datasets lists a space's datasets.
func (a *App) Datasets(ctx context.Context, spaceID int64) ([]Dataset, error) {
	return a.store.Datasets(ctx, spaceID)
}

// Dataset gives a dataset with the profiles of its newest version's columns.
func (a *App) Dataset(ctx context.Context, spaceID, id int64) (Dataset, []ColumnProfile, error) {
	dataset, err := a.store.Dataset(ctx, spaceID, id)
	if err != nil {
		return Dataset{}, nil, err
	}
	profiles, err := a.Profiles(ctx, spaceID, dataset.VersionID)
	return dataset, profiles, err
}

// Profiles describes the columns of a version.
func (a *App) Profiles(ctx context.Context, spaceID, versionID int64) (list []ColumnProfile, err error) {
	known, held := a.held.Get(profilesKey{versionID})
	each := int64(weighSummary)
	if held {
		each = 0
	}
	err = a.on(ctx, spaceID, versionID, "the columns", each, func(ctx context.Context, l *loaded, d Dataset) error {
		t := l.table
		meanings, err := a.store.Meanings(ctx, d.ID)
		if err != nil {
			return err
		}
		if !held {
			bare, err := profiles(ctx, t)
			if err != nil {
				return err
			}
			known = bare
			a.held.Put(profilesKey{versionID}, bare, int64(len(bare))*profileBytes)
		}
		list = slices.Clone(known.([]ColumnProfile))
		for i, c := range meanings.on(t).Columns() { // what people say may have changed
			list[i].Label, list[i].Prose, list[i].Unit, list[i].Meaning = c.ReadableName(), c.Prose(), c.Unit, c.Meaning
			list[i].Form = cmp.Or(c.Form, list[i].Form)
		}
		return nil
	})
	return list, err
}

// profilesKey is what the profiles of a version's columns are held by, as the file has
// them; profileBytes is about what one takes.
type profilesKey struct{ version int64 }

const profileBytes = 2000

// profiles describes the columns of a table.
func profiles(ctx context.Context, t *table.Table) ([]ColumnProfile, error) {
	list := make([]ColumnProfile, len(t.Columns()))
	err := parallel.Each(ctx, len(list), func(i int) error {
		list[i] = ProfileOf(t.Columns()[i])
		return nil
	})
	return list, err
}

// DropDataset deletes a dataset with its charts; shared fixed copies stay.
func (a *App) DropDataset(ctx context.Context, person Person, id int64) error {
	dataset, err := a.store.Dataset(ctx, person.SpaceID, id)
	if err != nil {
		return err
	}
	if err := a.publishLates(ctx, person.SpaceID, id); err != nil {
		return err
	}
	if err := a.store.DropDataset(ctx, person.SpaceID, id); err != nil {
		return err
	}
	a.did(ctx, person, didDelete, "the dataset “"+dataset.Name+"”")
	return nil
}

// Companion is how much of the spread of a column another one accounts for.
type Companion struct {
	Column string  `json:"column"`
	Share  float64 `json:"share" doc:"from 0 to 1; -1 where it is not defined"`
}

// GoesWith measures every column against one.
func (a *App) GoesWith(ctx context.Context, spaceID, versionID int64, column string) (companions []Companion, err error) {
	err = a.on(ctx, spaceID, versionID, "what goes with a column", weighSummary, func(ctx context.Context, l *loaded, _ Dataset) error {
		companions, err = goesWith(ctx, l.table, column)
		return err
	})
	return companions, err
}

func goesWith(ctx context.Context, t *table.Table, column string) ([]Companion, error) {
	of := t.Column(column)
	if of == nil {
		return nil, ErrNotFound
	}
	companions := []Companion{}
	for _, c := range t.Columns() {
		if c == of {
			continue
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		share := -1.0
		// A text with a value for each row accounts for everything and says nothing.
		if c.Kind != table.Text && of.Kind != table.Text {
			if s := describe.GoesWith(c, of); !math.IsNaN(s) {
				share = s
			}
		}
		companions = append(companions, Companion{c.Name, share})
	}
	sort.SliceStable(companions, func(i, j int) bool { return companions[i].Share > companions[j].Share })
	return companions, nil
}
