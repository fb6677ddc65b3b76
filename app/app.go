// Package app holds what people do with the program: sign in, bring a table,
// draw a chart, keep its steps, share it. It is the only place where the core
// and storage meet; it declares the storage that it needs.
package app

import (
	"context"
	"errors"
	"log/slog"
	"sync"
	"time"

	"copperlark/core/chart"
	"copperlark/core/prepare"
	"copperlark/core/reader"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// The errors that a caller tells apart; everything else is a fault of ours.
var (
	ErrNotFound     = errors.New("there is nothing here, or it is not yours")
	ErrNotSignedIn  = errors.New("sign in first")
	ErrWrongSignIn  = errors.New("the address or the password is wrong")
	ErrLinkUsed     = errors.New("the sign-in link was used already, or is too old")
	ErrWithdrawn    = errors.New("the shared chart was withdrawn")
	ErrTooManyTries = errors.New("too many wrong passwords; wait a minute")
	ErrTooBusy      = errors.New("too many files are waiting to be kept; keep or discard one first")
)

// Invalid is input that cannot be taken, with what to do about it.
type Invalid struct {
	Message, Advice string
	Problems        []chart.Problem   // of a document
	Mistakes        []*sentence.Error // of a typed sentence
}

func (i *Invalid) Error() string { return i.Message }

// Person is somebody with a place in a space.
type Person struct {
	ID        int64
	Name      string
	Email     string
	SpaceID   int64
	SpaceName string
	Role      string
}

// Dataset is a table with its versions; the version is the newest.
type Dataset struct {
	ID        int64     `json:"id"`
	Name      string    `json:"name"`
	About     string    `json:"about"`
	Origin    string    `json:"origin" doc:"where it comes from: a web address, or words"`
	CreatedAt time.Time `json:"created_at"`
	VersionID int64     `json:"version_id"`
	Version   int       `json:"version"`
	Rows      int       `json:"rows"`
	Columns   int       `json:"columns"`
	FileName  string    `json:"file_name"`
}

// NewDataset is what is stored when a table is kept.
type NewDataset struct {
	SpaceID, PersonID     int64
	Name, About, FileName string
	Table                 *table.Table
	Report                *reader.Report
}

// Version is one version of a dataset. A prepared one names the version it was made
// from and the clauses that made it.
type Version struct {
	ID           int64            `json:"id"`
	Number       int              `json:"number"`
	Rows         int              `json:"rows"`
	PreparedFrom int64            `json:"prepared_from,omitempty"`
	Preparation  []prepare.Clause `json:"preparation,omitempty"`
	CreatedAt    time.Time        `json:"created_at"`
}

// Step is one state of a chart's trail.
type Step struct {
	ID        int64           `json:"id"`
	ParentID  int64           `json:"parent_id,omitempty"`
	Words     string          `json:"words"`
	Document  *chart.Document `json:"document"`
	CreatedAt time.Time       `json:"created_at"`
}

// Chart is a chart with its trail; Head is the step it stands at.
type Chart struct {
	ID          int64           `json:"id"`
	Name        string          `json:"name"`
	VersionID   int64           `json:"version_id"`
	DatasetID   int64           `json:"dataset_id"`
	DatasetName string          `json:"dataset_name"`
	ChangedAt   time.Time       `json:"changed_at"`
	HeadStepID  int64           `json:"head_step_id"`
	Document    *chart.Document `json:"document" doc:"of the step it stands at"`
	Steps       []Step          `json:"steps,omitempty"`
}

// Share is a fixed copy of a chart under an address of its own.
type Share struct {
	ID          int64      `json:"id"`
	Key         string     `json:"key"`
	ChartID     int64      `json:"chart_id,omitempty"`
	Title       string     `json:"title"`
	Body        string     `json:"body"`
	Source      string     `json:"source"`
	Typed       string     `json:"typed"`
	CreatedAt   time.Time  `json:"created_at"`
	WithdrawnAt *time.Time `json:"withdrawn_at,omitempty"`
	SpaceName   string     `json:"-"`
	SpaceID     int64      `json:"-"`
	VersionID   int64      `json:"-"`
	PersonID    int64      `json:"-"`
	Figure      []byte     `json:"-"` // encoded
}

// Storage is what the program keeps, all of it acknowledged only once durable.
// Every call that takes a space finds only what belongs to it, and gives
// ErrNotFound for the rest.
type Storage interface {
	PersonByEmail(ctx context.Context, email string) (person Person, passwordHash string, err error)
	PersonBySession(ctx context.Context, tokenHash []byte) (Person, error)
	AddSession(ctx context.Context, tokenHash []byte, personID int64, until time.Time) error
	DropSession(ctx context.Context, tokenHash []byte) error
	AddSignInLink(ctx context.Context, tokenHash []byte, personID int64, until time.Time) error
	UseSignInLink(ctx context.Context, tokenHash []byte) (personID int64, err error)
	AddPerson(ctx context.Context, email, name, passwordHash, spaceName string) (Person, error)

	AddDataset(ctx context.Context, dataset NewDataset) (Dataset, error)
	Datasets(ctx context.Context, spaceID int64) ([]Dataset, error)
	Dataset(ctx context.Context, spaceID, id int64) (Dataset, error)
	DropDataset(ctx context.Context, spaceID, id int64) error
	Version(ctx context.Context, spaceID, versionID int64) (*table.Table, Dataset, error)
	Versions(ctx context.Context, spaceID, datasetID int64) ([]Version, error)
	AddVersion(ctx context.Context, spaceID, fromVersionID int64, t *table.Table, clauses []prepare.Clause) (Version, error)
	DescribeDataset(ctx context.Context, spaceID, id int64, name, about, origin *string) error
	Meanings(ctx context.Context, datasetID int64) (Meanings, error)
	SetMeanings(ctx context.Context, datasetID int64, meanings []Meaning) error // an empty one is forgotten
	MoveChart(ctx context.Context, spaceID, chartID, versionID int64) error

	AddChart(ctx context.Context, spaceID, versionID, personID int64, name string, document *chart.Document, words string) (Chart, error)
	Charts(ctx context.Context, spaceID int64) ([]Chart, error)
	Chart(ctx context.Context, spaceID, id int64) (Chart, error)
	AddStep(ctx context.Context, spaceID, chartID, parentID, personID int64, document *chart.Document, words string) (Step, error)
	MoveHead(ctx context.Context, spaceID, chartID, stepID int64) error
	RenameChart(ctx context.Context, spaceID, chartID int64, name string) error
	DropChart(ctx context.Context, spaceID, id int64) error

	AddShare(ctx context.Context, share Share) (Share, error)
	Shares(ctx context.Context, spaceID int64) ([]Share, error)
	WithdrawShare(ctx context.Context, spaceID, id int64) error
	ShareByKey(ctx context.Context, key string) (Share, error)
}

// App is the program without its transport.
type App struct {
	store   Storage
	metrics *text.Metrics
	now     func() time.Time
	log     *slog.Logger
	limits  Limits
	tables  *tableCache
	waiting *waitingFiles
	tries   *signInTries

	preparations preparedCache
	views        viewCache
}

// Limits are settings of whoever runs the program.
type Limits struct {
	FileBytes  int64 // of one unpacked file
	CacheBytes int64 // of tables held in memory
	Columns    int   // of one file; 0: reader.DefaultMaxColumns
}

// New makes the program over its storage. now is the clock.
func New(store Storage, limits Limits, now func() time.Time, log *slog.Logger) *App {
	if limits.FileBytes == 0 {
		limits.FileBytes = reader.DefaultMaxBytes
	}
	if limits.CacheBytes == 0 {
		limits.CacheBytes = 2 << 30
	}
	return &App{store: store, metrics: text.Hanken(), now: now, log: log, limits: limits,
		tables: &tableCache{limit: limits.CacheBytes, entries: map[int64]*cachedTable{}}, waiting: newWaitingFiles(), tries: &signInTries{failed: map[string][]time.Time{}}}
}

// tableCache holds tables by version, the least recently used dropped first.
type tableCache struct {
	mutex   sync.Mutex
	limit   int64
	size    int64
	tick    int64
	entries map[int64]*cachedTable
}

type cachedTable struct {
	table   *table.Table
	dataset Dataset
	spaceID int64
	size    int64
	used    int64
}

func (c *tableCache) get(spaceID, versionID int64) (*cachedTable, bool) {
	c.mutex.Lock()
	defer c.mutex.Unlock()
	entry, ok := c.entries[versionID]
	if !ok || entry.spaceID != spaceID {
		return nil, false
	}
	c.tick++
	entry.used = c.tick
	return entry, true
}

func (c *tableCache) put(versionID int64, entry *cachedTable) {
	c.mutex.Lock()
	defer c.mutex.Unlock()
	if _, there := c.entries[versionID]; there {
		return
	}
	entry.size = tableBytes(entry.table)
	for c.size+entry.size > c.limit && len(c.entries) > 0 {
		oldest, least := int64(0), int64(0)
		for id, e := range c.entries {
			if oldest == 0 || e.used < least {
				oldest, least = id, e.used
			}
		}
		c.size -= c.entries[oldest].size
		delete(c.entries, oldest)
	}
	c.tick++
	entry.used = c.tick
	c.entries[versionID] = entry
	c.size += entry.size
}

func (c *tableCache) drop(datasetID int64) {
	c.mutex.Lock()
	defer c.mutex.Unlock()
	for id, entry := range c.entries {
		if entry.dataset.ID == datasetID {
			c.size -= entry.size
			delete(c.entries, id)
		}
	}
}

func tableBytes(t *table.Table) int64 {
	total := int64(0)
	for _, c := range t.Columns() {
		total += int64(8*len(c.Numbers) + 4*len(c.Codes))
		for _, level := range c.Levels {
			total += int64(len(level)) + 16
		}
	}
	return total
}

// Table gives the table of a version that belongs to the space.
func (a *App) Table(ctx context.Context, spaceID, versionID int64) (*table.Table, Dataset, error) {
	if entry, ok := a.tables.get(spaceID, versionID); ok {
		return entry.table, entry.dataset, nil
	}
	t, dataset, err := a.store.Version(ctx, spaceID, versionID)
	if err != nil {
		return nil, Dataset{}, err
	}
	a.tables.put(versionID, &cachedTable{table: t, dataset: dataset, spaceID: spaceID})
	return t, dataset, nil
}
