package app

import (
	"context"
	"io"
	"time"

	"copperlark/core/chart"
	"copperlark/core/prepare"
	"copperlark/core/reader"
	"copperlark/core/table"
)

// Dataset is a table with its versions; the version is the newest.
type Dataset struct {
	ID        int64     `json:"id"`
	Name      string    `json:"name"`
	About     string    `json:"about"`
	Origin    string    `json:"origin" doc:"where it comes from: a web address, or words"`
	OneRow    string    `json:"one_row" doc:"what one row is, as people say it: a hive in one season"`
	CreatedAt time.Time `json:"created_at"`
	VersionID int64     `json:"version_id"`
	Version   int       `json:"version"`
	Rows      int       `json:"rows"`
	Columns   int       `json:"columns"`
	FileName  string    `json:"file_name"`
	Drawn     string    `json:"drawn,omitempty" doc:"which rows of a larger table these are, drawn at random; missing: all that there were"`
	Stays     *Stays    `json:"stays,omitempty" doc:"the table that it is a sample of, where charts ask all rows of that"`
	Aside     bool      `json:"aside,omitempty" doc:"rows of the version are set aside"`
	By        string    `json:"by,omitempty" doc:"who brought it"`

	Last *LastChart `json:"last,omitempty" doc:"in a list: the chart of it that was changed last"`

	OriginPlace string `json:"-"` // where it comes from again
	Prepared    bool   `json:"-"` // the version was made by a preparation
}

// LastChart is a chart whose picture stands for its dataset.
type LastChart struct {
	ChartID   int64 `json:"chart_id"`
	StepID    int64 `json:"step_id"`
	VersionID int64 `json:"version_id"`
}

// Description is what people say of a dataset; what is nil stays as it is.
type Description struct {
	Name   *string `json:"name,omitempty" maxLength:"300"`
	About  *string `json:"about,omitempty" maxLength:"5000"`
	Origin *string `json:"origin,omitempty" maxLength:"2000" doc:"where it comes from: a web address, or words"`
	OneRow *string `json:"one_row,omitempty" maxLength:"200" doc:"what one row is: a hive in one season"`
}

// NewDataset is what is stored when a table is kept.
type NewDataset struct {
	SpaceID, PersonID     int64
	Name, About, FileName string
	Table                 *table.Table
	Report                *reader.Report
	Reading               reader.Options // how a person wanted the file read
	Appended              bool           // rows were added to those of the version before; of such versions a day keeps the last
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
	Dropped      string           `json:"dropped,omitempty" doc:"of a file that was just kept: why the preparation of the last one was not made again; it is the person's draft"`
}

// Step is one state of a chart's trail.
type Step struct {
	ID        int64           `json:"id"`
	ParentID  int64           `json:"parent_id,omitempty"`
	Words     string          `json:"words" doc:"what changed"`
	Name      string          `json:"name,omitempty" doc:"that a person gave it"`
	Pinned    bool            `json:"pinned,omitempty"`
	Document  *chart.Document `json:"document,omitempty" doc:"not in a trail: of one step that is asked for or was just kept"`
	CreatedAt time.Time       `json:"created_at"`
	PersonID  int64           `json:"person_id,omitempty" doc:"who made it"`
	By        string          `json:"by,omitempty" doc:"their name"`
}

// Chart is a chart with its trail; Head is the step it stands at.
type Chart struct {
	ID          int64           `json:"id"`
	Name        string          `json:"name"`
	Named       bool            `json:"named" doc:"whether a person said the name; else it follows the sentence"`
	By          string          `json:"by,omitempty" doc:"who made it, whether or not they are still in the space"`
	Shared      bool            `json:"shared" doc:"whether there is a shared copy of it; a chart that nobody named or shared is a try"`
	VersionID   int64           `json:"version_id"`
	DatasetID   int64           `json:"dataset_id"`
	DatasetName string          `json:"dataset_name"`
	ChangedAt   time.Time       `json:"changed_at"`
	HeadStepID  int64           `json:"head_step_id" doc:"where the chart stands: its latest step, or where its maker walked to"`
	AtStepID    int64           `json:"at_step_id,omitempty" doc:"with its trail: where whoever asks stands"`
	Document    *chart.Document `json:"document" doc:"of the step it stands at; with its trail, of that where whoever asks stands"`
	Events      int64           `json:"events,omitempty" doc:"the number of the last that happened on its trail"`
	Steps       []Step          `json:"steps,omitempty"`
	Answer      *AsideAnswer    `json:"answer,omitempty" doc:"of the rows that were set aside"`
}

// ChartChange says what changes of a chart; what is empty stays.
type ChartChange struct {
	Name              string
	Follows           string // the name that the sentence gives, for a chart that nobody named
	StepID, VersionID int64
	Columns           map[string]string // with a version: what its columns are called there
}

// WaitingFile is a file that was read and not yet kept.
type WaitingFile struct {
	KeyHash           []byte
	SpaceID, PersonID int64
	Name              string
	Bytes             int64 // unpacked
	Options           reader.Options
}

// AuditEntry is something that somebody did.
type AuditEntry struct {
	ID       int64     `json:"id"`
	Who      string    `json:"who" doc:"the name, or the address that was given"`
	Did      string    `json:"did"`
	What     string    `json:"what"`
	Address  string    `json:"address" doc:"where the request came from"`
	At       time.Time `json:"at"`
	SpaceID  int64     `json:"-"`
	PersonID int64     `json:"-"`
}

// Storage is what the program keeps, all of it acknowledged only once durable.
// Every call that takes a space finds only what belongs to it, and gives
// ErrNotFound for the rest.
type Storage interface {
	PeopleStorage
	SignInStorage
	KeyStorage
	HookStorage
	PageStorage
	ShareStorage
	NoteStorage
	AgainStorage
	OriginStorage
	AnswerStorage
	ComparisonStorage
	FoundStorage

	SpaceStyle(ctx context.Context, spaceID int64) (chart.Style, error)
	SetSpaceStyle(ctx context.Context, spaceID int64, style chart.Style) error

	AddDataset(ctx context.Context, dataset NewDataset) (Dataset, error)
	Datasets(ctx context.Context, spaceID int64) ([]Dataset, error)
	Dataset(ctx context.Context, spaceID, id int64) (Dataset, error)
	DropDataset(ctx context.Context, spaceID, id int64) error
	Version(ctx context.Context, spaceID, versionID int64) (Dataset, error)
	Table(ctx context.Context, versionID int64, rows int) (*table.Table, error)
	SpaceUse(ctx context.Context, spaceID int64) (bytes, rows int64, err error)
	Versions(ctx context.Context, spaceID, datasetID int64) ([]Version, error)
	MarkAppended(ctx context.Context, versionID int64) error // as NewDataset.Appended
	AddVersion(ctx context.Context, spaceID, fromVersionID int64, t *table.Table, clauses []prepare.Clause) (Version, error)
	AddFileVersion(ctx context.Context, datasetID int64, file NewDataset) (Version, error) // the name and what it is about stay
	Reading(ctx context.Context, versionID int64) (reader.Options, error)
	Draft(ctx context.Context, spaceID, personID, datasetID int64) (Draft, error)
	SetDraft(ctx context.Context, spaceID, personID, datasetID int64, typed string) error // an empty one is forgotten
	NumberColumns(ctx context.Context, spaceID int64) ([]OtherNumbers, error)             // of the newest versions, the newest dataset first
	DescribeDataset(ctx context.Context, spaceID, id int64, said Description) error
	Meanings(ctx context.Context, datasetID int64) (Meanings, error)
	SetMeanings(ctx context.Context, datasetID int64, meanings []Meaning) error // an empty one is forgotten

	AddChart(
		ctx context.Context,
		spaceID, versionID, personID int64,
		name string,
		named bool,
		document *chart.Document,
		words string,
	) (Chart, error)
	Charts(ctx context.Context, spaceID int64) ([]Chart, error)
	ChartsOf(ctx context.Context, spaceID, datasetID int64) ([]Chart, error)
	Chart(ctx context.Context, spaceID, id int64) (Chart, error)
	ChartHead(ctx context.Context, spaceID, id int64) (Chart, error) // without its trail
	Step(ctx context.Context, spaceID, chartID, stepID int64) (document *chart.Document, versionID int64, err error)
	RelationsLooked(
		ctx context.Context,
		spaceID, datasetID int64,
	) (int, error) // different pairs of columns, under different conditions, in kept steps
	AddStep(
		ctx context.Context,
		spaceID, chartID, parentID, personID int64,
		document *chart.Document,
		words, name string,
		most int,
	) (Step, error)
	ChangeChart(ctx context.Context, spaceID, chartID int64, change ChartChange) error
	Trail(ctx context.Context, chartID int64) ([]Step, error)
	ChartEvents(ctx context.Context, chartID, after int64) (list []ChartEvent, last int64, err error)
	IsThere(ctx context.Context, spaceID int64, of Subject) error
	Stamps(ctx context.Context, of Subject) (Stamps, error)
	SeeWindow(ctx context.Context, id string, of Subject, personID int64) error
	CloseWindow(ctx context.Context, id string, of Subject) error
	StandIn(ctx context.Context, personID int64, window, place string) error // ErrTaken: somebody else stands there
	HereNow(ctx context.Context, of Subject) ([]Here, error)
	Listen(ctx context.Context, ready func(), changed func(of Subject)) error
	Cursor(ctx context.Context, chartID, personID int64) (stepID int64, err error)
	Walk(ctx context.Context, spaceID, chartID, stepID, personID int64, follows string) error
	MarkStep(ctx context.Context, spaceID, chartID, stepID int64, name *string, pinned *bool) error
	TakeOut(ctx context.Context, spaceID, chartID, stepID int64, at time.Time) (steps int, err error)
	PutBack(ctx context.Context, spaceID, chartID, stepID int64) error
	LastWord(ctx context.Context, chartID, stepID, personID int64, since time.Time) (was, before *chart.Document, err error)
	SayAnew(
		ctx context.Context,
		chartID, stepID, personID int64,
		since time.Time,
		document *chart.Document,
		words, name string,
	) (Step, error) // ErrNotFound: it can no longer be said otherwise
	MoveChart(
		ctx context.Context,
		chart Chart,
		versionID, personID int64,
		document *chart.Document,
		words, follows, called string,
	) error // a step more, on another version
	AddAnswer(
		ctx context.Context,
		chartID, personID int64,
		answer *AsideAnswer,
	) error // the first one stays
	DropChart(ctx context.Context, spaceID, id int64) error

	AddWaiting(ctx context.Context, file WaitingFile, content io.Reader) error
	Waiting(ctx context.Context, spaceID int64, keyHash []byte) (WaitingFile, error)
	WaitingContent(ctx context.Context, file WaitingFile, into io.Writer) error // ErrNotFound: a crash of the database forgot it
	ReadWaitingWith(ctx context.Context, file WaitingFile) error
	DropWaiting(ctx context.Context, spaceID int64, keyHash []byte) error
	WaitingUse(ctx context.Context, personID int64) (bytes int64, err error)
	DropTries(ctx context.Context, unchanged time.Duration) (charts int, err error)
	DropOld(ctx context.Context, waitingTime, auditTime time.Duration) error

	AddAudit(ctx context.Context, entry AuditEntry) error
	Audit(ctx context.Context, spaceID int64, wanted AuditWanted, most int) ([]AuditEntry, error)
	Ready(ctx context.Context) error
}
