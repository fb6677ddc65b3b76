package server

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"mime"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/formula"
	"copperlark/core/prepare"
	"copperlark/core/reader"
	"copperlark/core/scale"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/files"
)

// operationID names an operation by its method and path: get-datasets-id.
func operationID(method, path string) string {
	path = strings.Trim(strings.TrimPrefix(path, "/api"), "/")
	return strings.ToLower(method) + "-" + strings.NewReplacer("/", "-", "{", "", "}", "", ".", "-").Replace(path)
}

type empty struct{}

// body is an answer with a JSON body.
type body[T any] struct{ Body T }

func of[T any](value T) *body[T] { return &body[T]{value} }

// Job is heavy work that runs or waits.
type Job struct {
	What    string  `json:"what"`
	Running bool    `json:"running" doc:"false: it waits until there is room"`
	Seconds float64 `json:"seconds" doc:"since it was asked for"`
	Done    string  `json:"done,omitempty" doc:"how far it is, in words; missing: it does not say"`
}

func (s *Server) work(ctx context.Context, _ app.Person, _ *empty) (*body[[]Job], error) {
	list := []Job{}
	for _, job := range s.app.Work(ctx) {
		list = append(list, Job{job.What, job.Running, time.Since(job.Since).Seconds(), job.Done})
	}
	return of(list), nil
}

// forms are the formats in which a table leaves, by their endings.
var forms = map[string]struct {
	kind  string
	write func(context.Context, io.Writer, *table.Table) error
}{
	"csv":     {"text/csv; charset=utf-8", app.WriteCSV},
	plainCSV:  {"text/csv; charset=utf-8", app.WritePlainCSV},
	"arrow":   {"application/vnd.apache.arrow.stream", files.WriteArrow},
	"jsonl":   {"application/x-ndjson", app.WriteJSONLines},
	"parquet": {"application/vnd.apache.parquet", files.WriteParquet},
}

// plainCSV is a CSV whose cells are as they are; it is asked for as csv, with ?plain.
const plainCSV = "csv plain"

// export streams a version's table as a file.
func (s *Server) export(c *gin.Context) {
	ctx := c.Request.Context()
	version, err := strconv.ParseInt(c.Param("version"), 10, 64)
	who, whoErr := person(ctx)
	if _, known := forms[c.Param("form")]; whoErr != nil {
		err = whoErr
	} else if err != nil || !known {
		err = app.ErrNotFound
	}
	if err == nil {
		var t *table.Table
		var dataset app.Dataset
		if t, dataset, err = s.app.TakeTable(ctx, who, version); err == nil {
			s.send(c, c.Param("form"), dataset.Name, t)
			return
		}
	}
	s.refuse(c.Writer, ctx, err)
}

// send streams a table as a file of a name.
func (s *Server) send(c *gin.Context, form, name string, t *table.Table) {
	file := app.FileName(name, strings.TrimSuffix(form, " plain"))
	s.attach(c, forms[form].kind, file, func() error { return forms[form].write(c.Request.Context(), c.Writer, t) })
}

// attach answers with a file that write writes. Where it breaks off the connection does too, so that nobody takes half a file
// for a whole one.
func (s *Server) attach(c *gin.Context, kind, file string, write func() error) {
	c.Header("Content-Type", kind)
	c.Header("Content-Disposition", disposition(file))
	c.Status(http.StatusOK)
	if err := write(); err != nil && c.Request.Context().Err() == nil {
		s.log.ErrorContext(c.Request.Context(), "a download broke off", "error", err)
		panic(http.ErrAbortHandler)
	}
}

// disposition says that an answer is a file of a name.
func disposition(file string) string {
	return mime.FormatMediaType("attachment", map[string]string{"filename": file})
}

type keyInput struct {
	Key string `path:"key"`
}

type readAgainInput struct {
	Key  string `path:"key"`
	Body struct {
		Separator string   `json:"separator,omitempty" maxLength:"1" doc:"empty: found out"`
		Decimal   string   `json:"decimal,omitempty" maxLength:"1" doc:"point or comma; empty: found out"`
		TitleRow  int      `json:"title_row,omitempty" minimum:"-1" maximum:"1000" doc:"0: found out; -1: the file has none"`
		Sheet     string   `json:"sheet,omitempty" maxLength:"100" doc:"of a workbook; empty: the first that holds something"`
		Keep      []string `json:"keep,omitempty" doc:"columns to keep; empty: all"`

		Encoding   string            `json:"encoding,omitempty" maxLength:"40" doc:"empty: found out"`
		MonthFirst bool              `json:"month_first,omitempty" doc:"of dates that can be read two ways"`
		KeepBelow  bool              `json:"keep_below,omitempty" doc:"keeps lines under the table as rows"`
		LeaveSum   bool              `json:"leave_sum,omitempty" doc:"leaves out rows that sum up others"`
		As         map[string]string `json:"as,omitempty" doc:"by the name of the column: text, number, limit or half (numbers, and <0.1 as 0.1 or as 0.05), date, gap (what may stand for a missing value, as 9999 or NA, is one), value (it is none), bare (a unit stays in the name)"`
	}
}

func (s *Server) readAgain(ctx context.Context, who app.Person, in *readAgainInput) (*body[*app.Preview], error) {
	options := reader.Options{
		TitleRow:   in.Body.TitleRow,
		Sheet:      in.Body.Sheet,
		Keep:       in.Body.Keep,
		Encoding:   in.Body.Encoding,
		MonthFirst: in.Body.MonthFirst,
		KeepBelow:  in.Body.KeepBelow,
		LeaveSum:   in.Body.LeaveSum,
		As:         in.Body.As,
	}
	if in.Body.Separator != "" {
		options.Separator = in.Body.Separator[0]
	}
	if in.Body.Decimal != "" {
		options.Decimal = in.Body.Decimal[0]
	}
	for name, reading := range in.Body.As {
		if !slices.Contains(reader.Readings, reader.Offer(reading)) {
			return nil, &app.Invalid{
				Message: fmt.Sprintf("%s cannot be read as %s", name, reading),
				Advice:  "say text, number, limit or half",
			}
		}
	}
	preview, err := s.app.ReadAgain(ctx, who.SpaceID, in.Key, options)
	return of(preview), err
}

type keepInput struct {
	Key  string `path:"key"`
	Body struct {
		Name string `json:"name,omitempty" maxLength:"300"`
	}
}

func (s *Server) keep(ctx context.Context, who app.Person, in *keepInput) (*body[app.Dataset], error) {
	dataset, err := s.app.Keep(ctx, who, in.Key, in.Body.Name)
	return of(dataset), err
}

func (s *Server) discard(ctx context.Context, who app.Person, in *keyInput) (*empty, error) {
	return &empty{}, s.app.Discard(ctx, who.SpaceID, in.Key)
}

type idInput struct {
	ID int64 `path:"id"`
}

// DatasetWithColumns is a dataset and what the heads of its columns show.
type DatasetWithColumns struct {
	Dataset app.Dataset         `json:"dataset"`
	Columns []app.ColumnProfile `json:"columns"`
}

func (s *Server) dataset(ctx context.Context, who app.Person, in *idInput) (*body[DatasetWithColumns], error) {
	dataset, columns, err := s.app.Dataset(ctx, who.SpaceID, in.ID)
	return of(DatasetWithColumns{dataset, columns}), err
}

func (s *Server) versions(ctx context.Context, who app.Person, in *idInput) (*body[[]app.Version], error) {
	list, err := s.app.Versions(ctx, who.SpaceID, in.ID)
	return of(list), err
}

type preparationInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Typed string `json:"typed" maxLength:"100000" doc:"one clause a line"`
	}
}

func (s *Server) prepare(ctx context.Context, who app.Person, in *preparationInput) (*body[*app.Prepared], error) {
	prepared, err := s.app.Prepare(ctx, who.SpaceID, in.Version, in.Body.Typed)
	return of(prepared), err
}

func (s *Server) keepPreparation(ctx context.Context, who app.Person, in *preparationInput) (*body[app.Version], error) {
	version, err := s.app.KeepPreparation(ctx, who, in.Version, in.Body.Typed)
	return of(version), err
}

type describeInput struct {
	ID   int64 `path:"id"`
	Body app.Description
}

func (s *Server) describe(ctx context.Context, who app.Person, in *describeInput) (*empty, error) {
	return &empty{}, s.app.Describe(ctx, who.SpaceID, in.ID, in.Body)
}

type makeInput struct {
	Body struct {
		Name  string `json:"name" maxLength:"300"`
		Typed string `json:"typed" maxLength:"100000" doc:"a preparation that begins with make"`
	}
}

func (s *Server) make(ctx context.Context, who app.Person, in *makeInput) (*body[app.Dataset], error) {
	dataset, err := s.app.Make(ctx, who, in.Body.Name, in.Body.Typed)
	return of(dataset), err
}

func (s *Server) meanings(ctx context.Context, who app.Person, in *idInput) (*body[[]app.Meaning], error) {
	list, err := s.app.Meanings(ctx, who.SpaceID, in.ID)
	return of(list), err
}

type meaningInput struct {
	ID   int64 `path:"id"`
	Body app.Meaning
}

func (s *Server) setMeaning(ctx context.Context, who app.Person, in *meaningInput) (*empty, error) {
	return &empty{}, s.app.SetMeaning(ctx, who.SpaceID, in.ID, in.Body)
}

type meaningsFileInput struct {
	ID      int64 `path:"id"`
	RawBody []byte
}

func (s *Server) importMeanings(ctx context.Context, who app.Person, in *meaningsFileInput) (*body[*app.ImportedMeanings], error) {
	out, err := s.app.ImportMeanings(ctx, who.SpaceID, in.ID, bytes.NewReader(in.RawBody))
	return of(out), err
}

// Language is what the expressions and clauses of a preparation can say, for help
// and completion.
type Language struct {
	Functions []LanguageWord `json:"functions"`
	Clauses   []prepare.Kind `json:"clauses"`
	Forms     []scale.Form   `json:"forms" doc:"ways of writing numbers"`
	Encodings []string       `json:"encodings" doc:"of files"`
}

// LanguageWord is a function.
type LanguageWord struct {
	Name    string `json:"name"`
	Help    string `json:"help,omitempty"`
	Example string `json:"example"`
}

func (s *Server) language(context.Context, app.Person, *empty) (*body[Language], error) {
	out := Language{Functions: []LanguageWord{}, Clauses: prepare.Kinds(), Forms: scale.Forms, Encodings: reader.EncodingNames()}
	for _, f := range formula.Functions() {
		out.Functions = append(out.Functions, LanguageWord{f.Name, f.Help, f.Example})
	}
	return of(out), nil
}

func (s *Server) dropDataset(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.DropDataset(ctx, who, in.ID)
}

type viewInput struct {
	Version int64 `path:"version"`
	Body    app.ViewRequest
}

func (s *Server) view(ctx context.Context, who app.Person, in *viewInput) (*body[*app.View], error) {
	view, err := s.app.View(ctx, who.SpaceID, in.Version, in.Body)
	return of(view), err
}

type rowInput struct {
	Version int64    `path:"version"`
	Row     int      `path:"row" minimum:"1" doc:"which row, from 1"`
	Columns []string `query:"columns,explode" doc:"the columns wanted; none: all"`
}

func (s *Server) row(ctx context.Context, who app.Person, in *rowInput) (*body[map[string]string], error) {
	values, err := s.app.RowCard(ctx, who.SpaceID, in.Version, in.Row-1, in.Columns)
	return of(values), err
}

type numbersInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Rows    []int    `json:"rows" maxItems:"5000" doc:"from 1, as they stand in the table"`
		Columns []string `json:"columns" maxItems:"64"`
	}
}

func (s *Server) numbers(ctx context.Context, who app.Person, in *numbersInput) (*body[[][]*float64], error) {
	rows := make([]int, len(in.Body.Rows))
	for i, row := range in.Body.Rows {
		rows[i] = row - 1
	}
	out, err := s.app.Numbers(ctx, who.SpaceID, in.Version, rows, in.Body.Columns)
	return of(out), err
}

type columnInput struct {
	Version int64  `path:"version"`
	Column  string `path:"column"`
}

func (s *Server) goesWith(ctx context.Context, who app.Person, in *columnInput) (*body[[]app.Companion], error) {
	companions, err := s.app.GoesWith(ctx, who.SpaceID, in.Version, in.Column)
	return of(companions), err
}

type versionInput struct {
	Version int64 `path:"version"`
}

func (s *Server) firstLook(ctx context.Context, who app.Person, in *versionInput) (*body[*chart.Document], error) {
	document, err := s.app.FirstLook(ctx, who.SpaceID, in.Version)
	return of(document), err
}

func (s *Server) style(ctx context.Context, who app.Person, _ *empty) (*body[*app.SpaceStyle], error) {
	out, err := s.app.Style(ctx, who.SpaceID)
	return of(out), err
}

type styleInput struct {
	Body struct {
		Document *chart.Document `json:"document,omitempty" doc:"whose looks are taken; what it says of the data is not looked at; none: the usual looks"`
	}
}

func (s *Server) setStyle(ctx context.Context, who app.Person, in *styleInput) (*body[*app.SpaceStyle], error) {
	out, err := s.app.SetStyle(ctx, who, in.Body.Document)
	return of(out), err
}

func (s *Server) sayable(ctx context.Context, who app.Person, in *versionInput) (*body[[]sentence.Sayable], error) {
	list, err := s.app.Sayable(ctx, who.SpaceID, in.Version)
	return of(list), err
}

func (s *Server) examples(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Example], error) {
	list, err := s.app.Examples(ctx, who.SpaceID)
	return of(list), err
}

func (s *Server) charts(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Chart], error) {
	list, err := s.app.Charts(ctx, who.SpaceID)
	return of(list), err
}

type addChartInput struct {
	Body struct {
		VersionID int64           `json:"version_id"`
		Name      string          `json:"name,omitempty" maxLength:"300"`
		Document  *chart.Document `json:"document"`
	}
}

func (s *Server) addChart(ctx context.Context, who app.Person, in *addChartInput) (*body[app.Chart], error) {
	kept, err := s.app.AddChart(ctx, who, in.Body.VersionID, in.Body.Name, in.Body.Document)
	return of(kept), err
}

func (s *Server) chart(ctx context.Context, who app.Person, in *idInput) (*body[app.Chart], error) {
	kept, err := s.app.Chart(ctx, who, in.ID)
	return of(kept), err
}

func (s *Server) dropChart(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.DropChart(ctx, who, in.ID)
}

func (s *Server) shares(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Share], error) {
	list, err := s.app.Shares(ctx, who.SpaceID)
	return of(list), err
}

type shareInput struct {
	Body struct {
		ChartID   int64           `json:"chart_id,omitempty"`
		VersionID int64           `json:"version_id"`
		Document  *chart.Document `json:"document"`
		Title     string          `json:"title" maxLength:"500"`
		Text      string          `json:"text,omitempty" maxLength:"10000"`
		Columns   *[]string       `json:"columns,omitempty" doc:"the columns whose values readers get, of those on the card; missing: those that the sentence names"`
		app.Access
	}
}

func (in *shareInput) wanted() app.NewShare {
	wanted := app.NewShare{
		ChartID:   in.Body.ChartID,
		VersionID: in.Body.VersionID,
		Document:  in.Body.Document,
		Title:     in.Body.Title,
		Body:      in.Body.Text,
		Access:    in.Body.Access,
	}
	if in.Body.Columns != nil {
		wanted.Columns = append([]string{}, *in.Body.Columns...)
	}
	return wanted
}

func (s *Server) share(ctx context.Context, who app.Person, in *shareInput) (*body[app.Share], error) {
	share, err := s.app.Share(ctx, who, in.wanted())
	return of(share), err
}

// sharedPage is how a page is shared.
type sharedPage struct {
	Columns map[string][]string `json:"columns,omitempty" doc:"of charts, by their blocks: those that readers get; missing: those that the sentence names"`
	app.Access
}

func (w sharedPage) wanted() app.PageShare {
	return app.PageShare{Columns: w.Columns, Access: w.Access}
}

type sharePageInput struct {
	ID   int64 `path:"id"`
	Body sharedPage
}

func (s *Server) sharePage(ctx context.Context, who app.Person, in *sharePageInput) (*body[app.Share], error) {
	share, err := s.app.SharePage(ctx, who, in.ID, in.Body.wanted())
	return of(share), err
}

func (s *Server) shareOpens(ctx context.Context, who app.Person, in *idInput) (*body[[]app.DayOpened], error) {
	list, err := s.app.ShareOpens(ctx, who.SpaceID, in.ID)
	return of(list), err
}

type copyInput struct {
	Body struct {
		Key      string `json:"key" maxLength:"100" doc:"of the share: what stands behind /s/ in its address"`
		Password string `json:"password,omitempty" maxLength:"200" doc:"of the share, where it has one"`
	}
}

func (s *Server) copyShared(ctx context.Context, who app.Person, in *copyInput) (*body[app.CopiedShare], error) {
	copied, err := s.app.CopyShared(ctx, who, in.Body.Key, in.Body.Password)
	return of(copied), err
}

func (s *Server) withdraw(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.Withdraw(ctx, who, in.ID)
}
