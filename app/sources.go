package app

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"copperlark/core/parallel"
	"copperlark/core/scale"
	"copperlark/files"
	"copperlark/source"
)

// What may be asked of a source at once, and how long what is known of its tables is told again without asking.
const (
	MaxDrawnRows  = 20_000_000
	describedTime = 15 * time.Second
	// weighDrawn is how often a drawn table stands in memory at the most: as it comes, packed, and read again.
	weighDrawn = 3
	// usualColumns is how many columns a table counts for that nobody has described.
	usualColumns = 20
	sourcePlace  = "source:"
)

// OfferedSource is a source with the spaces whose makers may take rows of it, by their numbers; none said: all.
type OfferedSource struct {
	source.Source
	Spaces []int64
}

func (o OfferedSource) isFor(spaceID int64) bool {
	return len(o.Spaces) == 0 || slices.Contains(o.Spaces, spaceID)
}

// ListedSource is a database whose tables stay there.
type ListedSource struct {
	Name    string         `json:"name"`
	Tables  []source.Table `json:"tables" nullable:"false"`
	Trouble string         `json:"trouble,omitempty" doc:"why it does not answer"`
	Advice  string         `json:"advice,omitempty"`
}

// described remembers for a moment what sources said of their tables.
type described struct {
	mutex sync.Mutex
	at    time.Time
	list  []ListedSource
}

// Sources tells of the databases that whoever runs the server named for a space, with what they know of their tables.
func (a *App) Sources(ctx context.Context, spaceID int64) ([]ListedSource, error) {
	all, err := a.allSources(ctx)
	own := []ListedSource{}
	for i, one := range all {
		if a.outside.Sources[i].isFor(spaceID) {
			own = append(own, one)
		}
	}
	return own, err
}

func (a *App) allSources(ctx context.Context) ([]ListedSource, error) {
	a.described.mutex.Lock()
	defer a.described.mutex.Unlock() // who comes meanwhile waits for the same answer
	if a.described.list != nil && a.now().Sub(a.described.at) < describedTime {
		return a.described.list, nil
	}
	list := make([]ListedSource, len(a.outside.Sources))
	var all parallel.Group
	for i, from := range a.outside.Sources {
		all.Go(func() error {
			list[i] = ListedSource{Name: from.Name(), Tables: []source.Table{}}
			tables, err := from.Describe(ctx)
			var trouble *source.Trouble
			switch {
			case errors.As(err, &trouble):
				list[i].Trouble, list[i].Advice = trouble.Problem, trouble.Advice
			case err != nil:
				list[i].Trouble = "the database does not answer"
			default:
				list[i].Tables = tables
			}
			return nil
		})
	}
	if err := errors.Join(all.Wait(), ctx.Err()); err != nil {
		return nil, err // whoever asked left: what came of it is no answer
	}
	a.described.at, a.described.list = a.now(), list
	return list, nil
}

// RowsWanted is which rows of a table that stays elsewhere are wanted: all where there are no more, else so many drawn at random.
type RowsWanted struct {
	Source string `json:"source" maxLength:"60"`
	Table  string `json:"table" maxLength:"200" doc:"as the source names it"`
	Rows   int    `json:"rows" minimum:"1" maximum:"20000000"`
	Seed   int64  `json:"seed" minimum:"0" maximum:"999999999" doc:"the same seed draws the same rows, while the table stays as it is"`
	Stays  bool   `json:"stays,omitempty" doc:"charts of these rows ask all rows of the table, where it is"`
}

// place is what an origin says of wanted rows: source:NAME/schema.table?rows=1000&seed=42.
func (w RowsWanted) place() string {
	place := sourcePlace + w.Source + "/" + w.Table + "?rows=" + strconv.Itoa(w.Rows) + "&seed=" + strconv.FormatInt(w.Seed, 10)
	if w.Stays {
		place += "&stays=yes"
	}
	return place
}

// of is how what is said of a sample ends: what it is of.
func (w RowsWanted) of() string { return ", of " + w.Table + " in the database " + w.Source }

// rowsOf reads the place of an origin; false: it is no place of a source.
func rowsOf(place string) (w RowsWanted, is bool) {
	rest, is := strings.CutPrefix(place, sourcePlace)
	name, table, is1 := strings.Cut(rest, "/")
	at := strings.LastIndex(table, "?")
	if !is || !is1 || at < 0 {
		return w, false
	}
	asked, err := url.ParseQuery(table[at+1:])
	if err != nil {
		return w, false
	}
	rows, err1 := strconv.Atoi(asked.Get("rows"))
	seed, err2 := strconv.ParseInt(asked.Get("seed"), 10, 64)
	w = RowsWanted{Source: name, Table: table[:at], Rows: rows, Seed: seed, Stays: asked.Get("stays") == "yes"}
	return w, errors.Join(err1, err2) == nil && w.place() == place
}

// sourceOf finds what wanted rows are of, for a space, and says what is wrong with what is wanted.
func (a *App) sourceOf(spaceID int64, w RowsWanted) (source.Source, error) {
	if w.Rows < 1 || w.Rows > MaxDrawnRows || w.Seed < 0 {
		return nil, &Invalid{Message: fmt.Sprintf("between 1 and %s rows can be taken", scale.Number(MaxDrawnRows, 0)), Advice: "ask for fewer"}
	}
	for _, from := range a.outside.Sources {
		if from.Name() == w.Source && from.isFor(spaceID) {
			return from, nil
		}
	}
	return nil, ErrNotFound
}

// DrawRows takes rows of a table that stays elsewhere, for a preview; they wait to be kept, as a file does.
func (a *App) DrawRows(ctx context.Context, person Person, wanted RowsWanted) (*Preview, error) {
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return nil, err
	}
	var preview *Preview
	err := a.drawn(ctx, person.SpaceID, wanted, func(ctx context.Context, name string, content io.Reader) (err error) {
		preview, err = a.ReadFile(ctx, person, name, content)
		return err
	})
	if err == nil {
		a.did(ctx, person, didDraw, wanted.Table+" of "+wanted.Source)
	}
	return preview, err
}

// drawn takes rows for a space and gives them on as a file, while the work is weighed.
func (a *App) drawn(
	ctx context.Context, spaceID int64, w RowsWanted, take func(ctx context.Context, name string, content io.Reader) error,
) error {
	from, err := a.sourceOf(spaceID, w)
	if err != nil {
		return err
	}
	weight := weighDrawn * int64(w.Rows) * int64(a.columnsOf(w)) * bytesAValue / bytesAWeight
	ctx, leave, err := a.begin(ctx, fmt.Sprintf("taking rows of %s", w.Table), max(weight, lightWork))
	if err != nil {
		return err
	}
	defer leave()
	snapshot, err := from.Begin(ctx, w.Table)
	if err != nil {
		return ofSource(err)
	}
	rows, err := snapshot.Rows(ctx, source.Draw{
		Rows: w.Rows, Seed: w.Seed, Cells: min(a.limits.MemoryBytes/cacheShare/bytesAValue, a.limits.FileBytes/4),
		Progress: func(taken int) { say(ctx, scale.Number(float64(taken), 0)+" rows read") },
	})
	snapshot.End()
	if err != nil {
		return ofSource(err)
	}
	words := rows.Words(w.Seed, func(n int64) string { return scale.Number(float64(n), 0) })
	told := files.Told{Notes: rows.Notes}
	if !rows.All {
		told.Drawn = words + w.of()
	}
	say(ctx, words)
	reads, writes := io.Pipe()
	var both parallel.Group // who takes the file is told what goes wrong with its writing
	both.Go(func() error {
		err := io.ErrUnexpectedEOF // should it panic
		defer func() { _ = writes.CloseWithError(err) }()
		err = files.WriteParquetOf(ctx, writes, rows.Table, told)
		return nil
	})
	_, name, _ := strings.Cut(w.Table, ".")
	err = take(ctx, name+".parquet", reads)
	return errors.Join(err, reads.Close(), both.Wait())
}

// columnsOf is how many columns a table is known to have.
func (a *App) columnsOf(w RowsWanted) int {
	a.described.mutex.Lock()
	defer a.described.mutex.Unlock()
	for _, from := range a.described.list {
		for _, t := range from.Tables {
			if from.Name == w.Source && t.Name == w.Table && t.Columns > 0 {
				return t.Columns
			}
		}
	}
	return usualColumns
}

// ofSource makes what a source says an error that is shown.
func ofSource(err error) error {
	var trouble *source.Trouble
	switch {
	case errors.As(err, &trouble):
		return &Invalid{Message: trouble.Problem, Advice: trouble.Advice}
	case errors.Is(err, source.ErrUnknown):
		return ErrNotFound
	}
	return err
}
