package app

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"path/filepath"
	"sort"
	"strings"
	"sync"
	"time"

	"copperlark/core/chart"
	"copperlark/core/describe"
	"copperlark/core/parallel"
	"copperlark/core/reader"
	"copperlark/core/table"
	"copperlark/files"
)

// waitingFiles holds files that were read and not yet kept. They live in memory
// alone, so that nothing is left behind when nobody keeps them.
type waitingFiles struct {
	mutex sync.Mutex
	files map[string]*waitingFile
}

type waitingFile struct {
	spaceID int64
	name    string
	raw     []byte
	table   *table.Table
	report  *reader.Report
	since   time.Time
}

const (
	waitingTime  = 30 * time.Minute
	waitingBytes = 3 << 30
)

func newWaitingFiles() *waitingFiles { return &waitingFiles{files: map[string]*waitingFile{}} }

func (w *waitingFiles) add(file *waitingFile, now time.Time) (string, error) {
	w.mutex.Lock()
	defer w.mutex.Unlock()
	size := len(file.raw)
	for key, other := range w.files {
		if now.Sub(other.since) > waitingTime {
			delete(w.files, key)
			continue
		}
		size += len(other.raw)
	}
	if size > waitingBytes {
		return "", ErrTooBusy
	}
	file.since = now
	key, _ := newToken()
	w.files[key] = file
	return key, nil
}

func (w *waitingFiles) get(spaceID int64, key string) (*waitingFile, error) {
	w.mutex.Lock()
	defer w.mutex.Unlock()
	file, ok := w.files[key]
	if !ok || file.spaceID != spaceID {
		return nil, ErrNotFound
	}
	return file, nil
}

func (w *waitingFiles) replace(key string, file *waitingFile) {
	w.mutex.Lock()
	defer w.mutex.Unlock()
	if _, ok := w.files[key]; ok {
		w.files[key] = file
	}
}

func (w *waitingFiles) drop(key string) {
	w.mutex.Lock()
	defer w.mutex.Unlock()
	delete(w.files, key)
}

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
	Unit     string         `json:"unit,omitempty"`
	Meaning  string         `json:"meaning,omitempty"`
	Kind     table.Kind     `json:"kind" enum:"number,category,ordered,yes / no,date,text"`
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
	p := ColumnProfile{Name: c.Name, Label: c.ReadableName(), Unit: c.Unit, Meaning: c.Meaning, Kind: c.Kind, Grain: string(c.Grain), Missing: c.MissingCount()}
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
		p.Decimals = decimals(c.Numbers, max(math.Abs(low), math.Abs(high)))
	}
	if low <= high {
		written := func(v float64) string {
			if c.Kind == table.Date {
				return table.FormatDate(v, c.Grain)
			}
			return table.FormatNumber(v)
		}
		p.Low, p.High = written(low), written(high)
	}
	return p
}

// decimals is how many decimals write the values of a column exactly, looked at in at
// most 5,000 of them. Where six are not enough, it is how many show six digits of the
// largest value.
func decimals(values []float64, largest float64) int {
	needed, unit := 0, 1.0
	step := max(1, len(values)/5000)
	for i := 0; i < len(values) && needed <= mostDecimals; i += step {
		for v := values[i]; needed <= mostDecimals && !math.IsNaN(v) && math.Abs(v*unit-math.Round(v*unit)) > 1e-9*max(1, math.Abs(v*unit)); {
			needed, unit = needed+1, unit*10
		}
	}
	if needed <= mostDecimals {
		return needed
	}
	return int(min(max(6-math.Ceil(math.Log10(max(largest, 1e-6))), 0), 12))
}

const mostDecimals = 6

// ReadFile reads a file for a preview; it waits to be kept. length is how many bytes
// are announced, or below 0.
func (a *App) ReadFile(ctx context.Context, spaceID int64, name string, content io.Reader, length int64) (*Preview, error) {
	raw, err := readAll(ctx, content, length, a.limits.FileBytes)
	if err != nil {
		return nil, err
	}
	file := &waitingFile{spaceID: spaceID, name: cleanFileName(name), raw: raw}
	if err := a.readWaiting(ctx, file, reader.Options{}); err != nil {
		return nil, err
	}
	key, err := a.waiting.add(file, a.now())
	if err != nil {
		return nil, err
	}
	return preview(ctx, key, file)
}

func readAll(ctx context.Context, content io.Reader, length, limit int64) ([]byte, error) {
	var whole bytes.Buffer
	if length > 0 { // no growing by doubling, and no belief in what is announced beyond 64 MB
		whole.Grow(int(min(length, limit, 64<<20)) + bytes.MinRead)
	}
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		n, err := io.CopyN(&whole, content, 1<<20)
		if int64(whole.Len()) > limit {
			return nil, &Invalid{Message: fmt.Sprintf("the file is larger than %d MB, the limit for one file", limit>>20), Advice: "split the file, or ask whoever runs this server to raise LARK_MAX_FILE_MB"}
		}
		if errors.Is(err, io.EOF) {
			return whole.Bytes(), nil
		}
		if err != nil {
			return nil, fmt.Errorf("reading the upload after %d bytes: %w", whole.Len(), err)
		}
		if n == 0 {
			return whole.Bytes(), nil
		}
	}
}

// cleanFileName keeps the last part of a path, printable and of bounded length.
func cleanFileName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if r < ' ' || r == 0x7f {
			return -1
		}
		return r
	}, name)
	if runes := []rune(name); len(runes) > 200 {
		name = string(runes[:200])
	}
	if name == "" || name == "." || name == "/" {
		return "table"
	}
	return name
}

func (a *App) readWaiting(ctx context.Context, file *waitingFile, options reader.Options) error {
	options.MaxBytes, options.MaxColumns = a.limits.FileBytes, a.limits.Columns
	t, report, err := files.Read(ctx, file.name, file.raw, options)
	var refused *reader.Error
	if errors.As(err, &refused) {
		return &Invalid{Message: refused.Error(), Advice: refused.Advice}
	}
	if err != nil {
		return err
	}
	file.table, file.report = t, report
	return nil
}

const previewRows = 12

func preview(ctx context.Context, key string, file *waitingFile) (*Preview, error) {
	p := &Preview{Key: key, Name: file.name, Rows: file.table.Rows(), Report: file.report, First: RowValues(file.table, 0, previewRows)}
	var err error
	p.Columns, err = profiles(ctx, file.table)
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

// ReadAgain reads a waiting file with other options.
func (a *App) ReadAgain(ctx context.Context, spaceID int64, key string, options reader.Options) (*Preview, error) {
	file, err := a.waiting.get(spaceID, key)
	if err != nil {
		return nil, err
	}
	again := *file
	if err := a.readWaiting(ctx, &again, options); err != nil {
		return nil, err
	}
	a.waiting.replace(key, &again)
	return preview(ctx, key, &again)
}

// Keep stores a waiting file as a dataset.
func (a *App) Keep(ctx context.Context, person Person, key, name string) (Dataset, error) {
	file, err := a.waiting.get(person.SpaceID, key)
	if err != nil {
		return Dataset{}, err
	}
	if name = strings.TrimSpace(name); name == "" {
		name = NameOfFile(file.name)
	}
	dataset, err := a.store.AddDataset(ctx, NewDataset{SpaceID: person.SpaceID, PersonID: person.ID, Name: name, About: file.report.About, FileName: file.name, Table: file.table, Report: file.report})
	if err != nil {
		return Dataset{}, err
	}
	a.waiting.drop(key)
	a.tables.put(dataset.VersionID, &cachedTable{table: file.table, dataset: dataset, spaceID: person.SpaceID})
	return dataset, nil
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

// Discard forgets a waiting file.
func (a *App) Discard(spaceID int64, key string) error {
	if _, err := a.waiting.get(spaceID, key); err != nil {
		return err
	}
	a.waiting.drop(key)
	return nil
}

// AddTable stores a table that was made by the program itself.
func (a *App) AddTable(ctx context.Context, dataset NewDataset) (Dataset, error) {
	return a.store.AddDataset(ctx, dataset)
}

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
func (a *App) Profiles(ctx context.Context, spaceID, versionID int64) ([]ColumnProfile, error) {
	t, _, err := a.Table(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
	meanings, err := a.meaningsOf(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
	return profiles(ctx, meanings.on(t))
}

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
func (a *App) DropDataset(ctx context.Context, spaceID, id int64) error {
	if err := a.store.DropDataset(ctx, spaceID, id); err != nil {
		return err
	}
	a.tables.drop(id)
	return nil
}

// Companion is how much of the spread of a column another one accounts for.
type Companion struct {
	Column string  `json:"column"`
	Share  float64 `json:"share" doc:"from 0 to 1; -1 where it is not defined"`
}

// GoesWith measures every column against one.
func (a *App) GoesWith(ctx context.Context, spaceID, versionID int64, column string) ([]Companion, error) {
	t, _, err := a.Table(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
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
