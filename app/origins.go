package app

import (
	"context"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"copperlark/core/prepare"
)

// OriginEvery are how often an origin is asked; the first by a press alone.
var OriginEvery = []struct {
	Name string
	Time time.Duration
}{{"never", 0}, {"hour", time.Hour}, {"day", 24 * time.Hour}, {"week", 7 * 24 * time.Hour}}

// mostRuns is how many runs of an origin are kept; leastShare what share of its rows a new state must have, or it stops.
const (
	mostRuns   = 100
	leastShare = 0.5
)

// Origin is where a dataset's file comes from again.
type Origin struct {
	Place     string      `json:"place" doc:"folder:NAME/file.csv, an https address, or source:NAME/schema.table?rows=1000&seed=42"`
	Every     string      `json:"every" enum:"never,hour,day,week"`
	HasSecret bool        `json:"has_secret" doc:"something is told to the host; it is never shown"`
	NextAt    *time.Time  `json:"next_at,omitempty"`
	Stopped   string      `json:"stopped,omitempty" doc:"why it is asked no longer"`
	By        string      `json:"by" doc:"who said so"`
	Runs      []OriginRun `json:"runs" nullable:"false" doc:"the last first"`

	DatasetID, SpaceID, PersonID int64     `json:"-"`
	Secret                       []byte    `json:"-"`
	Known                        FileState `json:"-"`
}

// OriginRun is one time that an origin was asked.
type OriginRun struct {
	At        time.Time `json:"at"`
	Outcome   string    `json:"outcome" enum:"new,same,stopped,failed"`
	Words     string    `json:"words"`
	VersionID int64     `json:"version_id,omitempty" doc:"that came of it"`
	By        string    `json:"by,omitempty" doc:"who asked; empty: it was time"`
}

// OriginWanted says where a file comes from; Secret nil stays as it is, empty is forgotten.
type OriginWanted struct {
	Place  string  `json:"place" maxLength:"2000"`
	Every  string  `json:"every" enum:"never,hour,day,week"`
	Secret *string `json:"secret,omitempty" maxLength:"4000" doc:"what the host is told as Authorization; kept sealed, and never shown"`
}

// OriginPlaces are where files may come from, as whoever runs the server said.
type OriginPlaces struct {
	Folders   map[string][]string `json:"folders" doc:"the files of each folder"`
	Addresses []string            `json:"addresses" nullable:"false"`
	Secrets   bool                `json:"secrets" doc:"whether secrets can be kept here"`
}

// FetchPatience is how long a file has to come, from the first word to the last.
const FetchPatience = 10 * time.Minute

// FileState is what a file was when it was read: by it an unchanged one is told apart.
type FileState struct{ ETag, LastModified string }

// FetchedFile is a file that came; Unchanged: it is what was known, and there is no content.
type FetchedFile struct {
	Name      string
	Content   io.ReadCloser
	Size      int64 // as it is said; -1: it is not
	Unchanged bool
	State     FileState
}

// Fetch reads files from where whoever runs the server lets it.
type Fetch interface {
	Folders() (map[string][]string, error)
	Addresses() []string
	Fits(place string) error
	Ask(ctx context.Context, place string, known FileState, authorization string) (FetchedFile, error)
}

// Seal keeps secrets.
type Seal interface {
	Seal(text, about string) []byte
	Open(sealed []byte, about string) (string, error)
}

// OriginStorage is what the program keeps of origins.
type OriginStorage interface {
	SetOrigin(ctx context.Context, spaceID int64, o Origin, keepSecret bool, next *time.Time) error
	Origin(ctx context.Context, spaceID, datasetID int64) (Origin, error) // with its runs
	DropOrigin(ctx context.Context, spaceID, datasetID int64) error
	// DueOrigin takes one whose time has come, and says when it comes again; of several servers one takes it.
	DueOrigin(ctx context.Context, next func(every string) time.Time) (Origin, error)
	// OriginRan keeps a run, what is known of the file by now, and why it stops, where it does.
	OriginRan(ctx context.Context, datasetID, askedBy int64, run OriginRun, known FileState, stopped bool, most int) error
}

var errNoOrigins = &Invalid{Message: "this server asks no files",
	Advice: "whoever runs it names folders, addresses or databases in its settings"}

// asks reports whether anything can be asked again.
func (a *App) asks() bool { return a.outside.Fetch != nil || len(a.outside.Sources) > 0 }

// fits says what is wrong with the place of an origin.
func (a *App) fits(spaceID int64, place string) error {
	if strings.HasPrefix(place, sourcePlace) {
		w, is := rowsOf(place)
		if !is {
			return &Invalid{Message: "the rows of a database are written as source:NAME/schema.table?rows=1000&seed=42",
				Advice: "choose the table from the list"}
		}
		_, err := a.sourceOf(spaceID, w)
		if errors.Is(err, ErrNotFound) {
			return &Invalid{Message: "the settings of this server name no database " + w.Source, Advice: "choose the table from the list"}
		}
		return err
	}
	if a.outside.Fetch == nil {
		return errNoOrigins
	}
	if err := a.outside.Fetch.Fits(place); err != nil {
		return &Invalid{Message: err.Error(),
			Advice: "name a file of one of its folders, or an address below one of its list"}
	}
	return nil
}

// OriginPlaces tells where files may come from.
func (a *App) OriginPlaces() (OriginPlaces, error) {
	out := OriginPlaces{Folders: map[string][]string{}, Addresses: []string{}, Secrets: a.outside.Seal != nil}
	if a.outside.Fetch == nil {
		return out, nil
	}
	out.Addresses = append(out.Addresses, a.outside.Fetch.Addresses()...)
	folders, err := a.outside.Fetch.Folders()
	if err != nil {
		return out, &Invalid{Message: err.Error(), Advice: "tell whoever runs this server"}
	}
	out.Folders = folders
	return out, nil
}

// aboutOrigin is what a secret is sealed about.
func aboutOrigin(datasetID int64, place string) string {
	return fmt.Sprintf("origin %d %s", datasetID, place)
}

// SetOrigin says where a dataset's file comes from. A secret goes with its place: at another one it is forgotten.
func (a *App) SetOrigin(ctx context.Context, person Person, datasetID int64, wanted OriginWanted) (Origin, error) {
	if err := a.fits(person.SpaceID, wanted.Place); err != nil {
		return Origin{}, err
	}
	if _, err := a.store.Dataset(ctx, person.SpaceID, datasetID); err != nil {
		return Origin{}, err
	}
	before, err := a.store.Origin(ctx, person.SpaceID, datasetID)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Origin{}, err
	}
	o := Origin{DatasetID: datasetID, Place: wanted.Place, Every: wanted.Every, PersonID: person.ID}
	keep := wanted.Secret == nil && before.Place == wanted.Place
	if wanted.Secret != nil && *wanted.Secret != "" {
		if a.outside.Seal == nil {
			return Origin{}, &Invalid{Message: "secrets cannot be kept here", Advice: "whoever runs this server sets LARK_SECRETS_KEY"}
		}
		o.Secret = a.outside.Seal.Seal(*wanted.Secret, aboutOrigin(datasetID, wanted.Place))
	}
	var next *time.Time
	if every := everyTime(wanted.Every); every > 0 {
		at := a.now() // at once, and then as often
		next = &at
	}
	if err := a.store.SetOrigin(ctx, person.SpaceID, o, keep, next); err != nil {
		return Origin{}, err
	}
	a.did(ctx, person, didOrigin, wanted.Place)
	return a.store.Origin(ctx, person.SpaceID, datasetID)
}

func everyTime(name string) time.Duration {
	for _, one := range OriginEvery {
		if one.Name == name {
			return one.Time
		}
	}
	return 0
}

// Origin gives where a dataset's file comes from, with what came of asking.
func (a *App) Origin(ctx context.Context, spaceID, datasetID int64) (Origin, error) {
	return a.store.Origin(ctx, spaceID, datasetID)
}

// DropOrigin forgets where a dataset's file comes from; its versions stay.
func (a *App) DropOrigin(ctx context.Context, person Person, datasetID int64) error {
	return a.store.DropOrigin(ctx, person.SpaceID, datasetID)
}

// AskOrigin asks an origin by a press. Nevertheless keeps a state that would stop it.
func (a *App) AskOrigin(ctx context.Context, person Person, datasetID int64, nevertheless bool) (Origin, error) {
	if !a.asks() {
		return Origin{}, errNoOrigins
	}
	o, err := a.store.Origin(ctx, person.SpaceID, datasetID)
	if err != nil {
		return o, err
	}
	if nevertheless {
		o.Known = FileState{} // what stopped it is known already
	}
	if err := a.runOrigin(ctx, person, o, person.ID, nevertheless); err != nil {
		return o, err
	}
	return a.store.Origin(ctx, person.SpaceID, datasetID)
}

// AskOrigins asks all origins whose time has come, one after the other; whoever runs the program calls it again and again. What was
// missed meanwhile is asked once.
func (a *App) AskOrigins(ctx context.Context) error {
	if !a.asks() {
		return nil
	}
	for {
		o, err := a.store.DueOrigin(ctx, func(every string) time.Time { return a.now().Add(everyTime(every)) })
		if errors.Is(err, ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		person := Person{ID: o.PersonID, SpaceID: o.SpaceID, Role: Maker}
		if err := a.runOrigin(ctx, person, o, 0, false); err != nil {
			return err
		}
	}
}

// runOrigin asks an origin once, and keeps what came of it.
func (a *App) runOrigin(ctx context.Context, person Person, o Origin, askedBy int64, nevertheless bool) error {
	run, known := a.askedOrigin(ctx, person, o, nevertheless)
	if ctx.Err() != nil {
		return ctx.Err()
	}
	return a.store.OriginRan(ctx, o.DatasetID, askedBy, run, known, run.Outcome == "stopped", mostRuns)
}

// askedOrigin is what came of asking: a new version, the same as before, why it stops, or what failed.
func (a *App) askedOrigin(ctx context.Context, person Person, o Origin, nevertheless bool) (run OriginRun, known FileState) {
	if w, is := rowsOf(o.Place); is {
		known = o.Known
		if err := a.drawn(ctx, person.SpaceID, w, func(ctx context.Context, name string, content io.Reader) error {
			run = a.came(ctx, person, o, name, content, nevertheless)
			return nil
		}); errors.Is(err, ErrNotFound) {
			run = OriginRun{Outcome: "failed", Words: "the settings of this server name this table no longer"}
		} else if err != nil {
			run = a.brokeOrigin(ctx, o, err)
		}
		return run, known
	}
	failed := func(words string) (OriginRun, FileState) {
		return OriginRun{Outcome: "failed", Words: words}, o.Known
	}
	if a.outside.Fetch == nil {
		return failed(errNoOrigins.Message)
	}
	authorization := ""
	if len(o.Secret) > 0 {
		if a.outside.Seal == nil {
			return failed("its secret cannot be opened: LARK_SECRETS_KEY is not set")
		}
		var err error
		if authorization, err = a.outside.Seal.Open(o.Secret, aboutOrigin(o.DatasetID, o.Place)); err != nil {
			return failed("its secret cannot be opened: " + err.Error())
		}
	}
	ctx, cancel := context.WithTimeout(ctx, FetchPatience)
	defer cancel()
	found, err := a.outside.Fetch.Ask(ctx, o.Place, o.Known, authorization)
	if err != nil {
		return failed(err.Error())
	}
	if found.Unchanged {
		return OriginRun{Outcome: "same", Words: "the file is the one that was read last"}, o.Known
	}
	defer func() { _ = found.Content.Close() }()
	if found.Size > a.limits.FileBytes { // nobody waits for what is not taken
		return failed(a.tooLarge().Message)
	}
	if run = a.came(ctx, person, o, found.Name, found.Content, nevertheless); run.Outcome == "failed" {
		return run, o.Known
	}
	return run, found.State
}

// brokeOrigin is the run of an origin that could not be read.
func (a *App) brokeOrigin(ctx context.Context, o Origin, err error) OriginRun {
	words := "something went wrong on our side"
	var refused *Invalid
	var full *Full
	switch {
	case errors.As(err, &refused):
		words = refused.Message
	case errors.As(err, &full):
		words = full.Message
	default:
		a.log.ErrorContext(ctx, "an origin could not be read", "dataset", o.DatasetID, "error", err)
	}
	return OriginRun{Outcome: "failed", Words: words}
}

// came is what becomes of a file that came: a new version, the same as before, or why it stops.
func (a *App) came(ctx context.Context, person Person, o Origin, name string, content io.Reader, nevertheless bool) OriginRun {
	broke := func(err error) OriginRun { return a.brokeOrigin(ctx, o, err) }
	preview, err := a.ReadFile(ctx, person, name, content)
	if err != nil {
		return broke(err)
	}
	defer func() { _ = a.Discard(context.WithoutCancel(ctx), person.SpaceID, preview.Key) }()
	renewal, err := a.renewed(ctx, person, o.DatasetID, preview.Key)
	if err != nil {
		return broke(err)
	}
	words, err := a.stops(ctx, person, o.DatasetID, renewal)
	if err != nil {
		return broke(err)
	}
	if words != "" && !nevertheless {
		return OriginRun{Outcome: "stopped", Words: words}
	}
	d := renewal.Difference
	if d.RowsBefore == d.RowsAfter && d.RowsSame == d.RowsAfter && len(d.New)+len(d.Gone)+len(d.Changed) == 0 {
		return OriginRun{Outcome: "same", Words: "it was read anew, and has the same rows"}
	}
	version, err := a.KeepFile(ctx, person, o.DatasetID, preview.Key)
	if err != nil {
		return broke(err)
	}
	return OriginRun{Outcome: "new", VersionID: version.ID, Words: fmt.Sprintf("version %d: %d rows, %d of them as before", version.Number,
		version.Rows, d.RowsSame)}
}

// stops is why a new state is not kept without somebody saying so; empty: it is.
func (a *App) stops(ctx context.Context, person Person, datasetID int64, r *renewal) (string, error) {
	d := r.Difference
	var why []string
	if len(d.Gone) > 0 {
		why = append(why, "columns that are gone: "+strings.Join(d.Gone, ", "))
	}
	if len(d.New) > 0 {
		why = append(why, "columns that came: "+strings.Join(d.New, ", "))
	}
	for _, c := range d.Changed {
		why = append(why, fmt.Sprintf("%s was %s and is %s", c.Column, c.Before, c.After))
	}
	if float64(d.RowsAfter) < leastShare*float64(d.RowsBefore) {
		why = append(why, fmt.Sprintf("%d rows, where there were %d", d.RowsAfter, d.RowsBefore))
	}
	if r.Anew != "" {
		why = append(why, "it cannot be read as the last file was: "+r.Anew)
	}
	if len(why) == 0 && len(r.Clauses) > 0 {
		state, err := a.prepareNew(ctx, person, datasetID, r)
		var mistake *prepare.Mistake
		switch {
		case errors.As(err, &mistake):
			why = append(why, "the preparation does not suit it: "+mistake.Message)
		case err != nil:
			return "", err
		case state.Table.Rows() == 0:
			why = append(why, "the preparation leaves no row of it")
		}
	}
	return strings.Join(why, "; "), nil
}
