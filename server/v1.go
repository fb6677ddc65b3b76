package server

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/render"
)

// Hello is what a key is answered first.
type Hello struct {
	Space     string      `json:"space"`
	Address   string      `json:"address" doc:"of the space, for people"`
	Key       string      `json:"key" doc:"its name"`
	Scopes    []app.Scope `json:"scopes" nullable:"false"`
	DatasetID int64       `json:"dataset_id,omitempty" doc:"the only dataset that it may add rows to"`
	By        string      `json:"by"`
	ExpiresAt string      `json:"expires_at"`
}

func (s *Server) hello(ctx context.Context, who app.Person, _ *empty) (*body[Hello], error) {
	key := keyOf(ctx)
	return of(Hello{who.SpaceName, s.atSpace(ctx, who), key.Name, key.Scopes, key.DatasetID, key.By,
		key.ExpiresAt.UTC().Format("2006-01-02T15:04:05Z")}), nil
}

// atSpace is the address of somebody's space, as a browser opens it.
func (s *Server) atSpace(ctx context.Context, who app.Person) string {
	return originOf(ctx) + spaceAddress(who.SpaceID, who.SpaceName)
}

// ListInput is what is asked of a list.
type ListInput struct {
	After int64  `query:"after" doc:"what the part before said as next; 0: from the newest on"`
	Name  string `query:"name" maxLength:"300" doc:"words that its name must hold"`
	Limit int    `query:"limit" minimum:"1" maximum:"500" default:"100"`
}

func (in ListInput) wanted() app.ListWanted {
	return app.ListWanted{After: in.After, Name: in.Name, Limit: in.Limit}
}

func (s *Server) listDatasets(ctx context.Context, who app.Person, in *ListInput) (*body[app.Listed[app.Dataset]], error) {
	list, err := s.app.ListDatasets(ctx, who.SpaceID, in.wanted())
	return of(list), err
}

// KeptChart is a chart as a script knows it.
type KeptChart struct {
	ID        int64           `json:"id"`
	Name      string          `json:"name"`
	VersionID int64           `json:"version_id"`
	DatasetID int64           `json:"dataset_id"`
	Sentence  string          `json:"sentence,omitempty" doc:"as it is read; not in lists"`
	Document  *chart.Document `json:"document"`
	Address   string          `json:"address" doc:"where people open it"`
}

func (s *Server) keptChart(ctx context.Context, who app.Person, c app.Chart, sentence string) KeptChart {
	return KeptChart{c.ID, c.Name, c.VersionID, c.DatasetID, sentence, c.Document,
		fmt.Sprintf("%s/dataset/%d/chart/%d", s.atSpace(ctx, who), c.DatasetID, c.ID)}
}

type listChartsInput struct {
	ListInput
	Dataset int64 `query:"dataset" doc:"charts of this dataset alone; 0: of all"`
}

func (s *Server) listCharts(ctx context.Context, who app.Person, in *listChartsInput) (*body[app.Listed[KeptChart]], error) {
	list, err := s.app.ListCharts(ctx, who.SpaceID, in.Dataset, in.wanted())
	out := app.Listed[KeptChart]{Items: []KeptChart{}, Next: list.Next}
	for _, c := range list.Items {
		out.Items = append(out.Items, s.keptChart(ctx, who, c, ""))
	}
	return of(out), err
}

func (s *Server) listShares(ctx context.Context, who app.Person, in *ListInput) (*body[app.Listed[SharedChart]], error) {
	list, err := s.app.ListShares(ctx, who.SpaceID, in.wanted())
	out := app.Listed[SharedChart]{Items: []SharedChart{}, Next: list.Next}
	for _, share := range list.Items {
		out.Items = append(out.Items, sharedChart(ctx, share))
	}
	return of(out), err
}

// SharedChart is a shared chart, with its address.
type SharedChart struct {
	app.Share
	Address string `json:"address" doc:"where anybody reads it"`
}

func sharedChart(ctx context.Context, share app.Share) SharedChart {
	return SharedChart{share, originOf(ctx) + "/s/" + share.Key}
}

// StatedChart is what a script says of a chart: typed, or as a document.
type StatedChart struct {
	Version  int64           `json:"version" doc:"of the dataset whose rows it draws"`
	Typed    string          `json:"typed,omitempty" maxLength:"100000" doc:"the sentence, one clause a line, or as one would say it"`
	Document *chart.Document `json:"document,omitempty" doc:"in place of typed"`
	Name     string          `json:"name,omitempty" maxLength:"300" doc:"empty: it follows the sentence"`
}

type statedInput struct{ Body StatedChart }

func (s *Server) newChart(ctx context.Context, who app.Person, in *statedInput) (*body[KeptChart], error) {
	document, sentence, err := s.app.Stated(ctx, who.SpaceID, in.Body.Version, in.Body.Document, in.Body.Typed)
	if err != nil {
		return nil, err
	}
	kept, err := s.app.AddChart(ctx, who, in.Body.Version, in.Body.Name, document)
	if err != nil {
		return nil, err
	}
	return of(s.keptChart(ctx, who, kept, sentence)), nil
}

func (s *Server) numbersOfStated(ctx context.Context, who app.Person, in *statedInput) (*body[*app.ChartNumbers], error) {
	numbers, err := s.app.NumbersOf(ctx, who.SpaceID, in.Body.Version, in.Body.Document, in.Body.Typed)
	return of(numbers), err
}

type chartInput struct {
	Chart int64 `path:"chart"`
}

func (s *Server) numbersOfChart(ctx context.Context, who app.Person, in *chartInput) (*body[*app.ChartNumbers], error) {
	numbers, err := s.app.ChartNumbers(ctx, who.SpaceID, in.Chart)
	return of(numbers), err
}

type shareChartInput struct {
	Chart int64 `path:"chart"`
	Body  struct {
		Title   string    `json:"title,omitempty" maxLength:"2000" doc:"empty: the name of the chart"`
		Text    string    `json:"text,omitempty" maxLength:"20000" doc:"paragraphs apart by an empty line"`
		Columns *[]string `json:"columns,omitempty" doc:"the columns whose values readers get; missing: those that the sentence names"`
		app.Access
	}
}

func (s *Server) shareChart(ctx context.Context, who app.Person, in *shareChartInput) (*body[SharedChart], error) {
	kept, err := s.app.KeptChart(ctx, who.SpaceID, in.Chart)
	if err != nil {
		return nil, err
	}
	wanted := app.NewShare{
		ChartID:   kept.ID,
		VersionID: kept.VersionID,
		Document:  kept.Document,
		Title:     cmp.Or(in.Body.Title, kept.Name),
		Body:      in.Body.Text,
		Access:    in.Body.Access,
	}
	if in.Body.Columns != nil {
		wanted.Columns = append([]string{}, *in.Body.Columns...)
	}
	share, err := s.app.Share(ctx, who, wanted)
	return of(sharedChart(ctx, share)), err
}

type preparedInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Typed string `json:"typed" maxLength:"200000" doc:"the clauses, one a line"`
	}
}

func (s *Server) prepareVersion(ctx context.Context, who app.Person, in *preparedInput) (*body[app.Version], error) {
	version, err := s.app.KeepPreparation(ctx, who, in.Version, in.Body.Typed)
	return of(version), err
}

// bringDataset reads a file from the body as it arrives, and keeps it.
func (s *Server) bringDataset(c *gin.Context) {
	s.withFile(c, func(ctx context.Context, who app.Person, sent *sentFile) (any, error) {
		return s.app.Bring(ctx, who, sent.name, c.Query("name"), sent.content)
	})
}

// renewDataset keeps a file as a dataset's next version, or its rows behind those that are there.
func (s *Server) renewDataset(c *gin.Context) {
	s.withFile(c, func(ctx context.Context, who app.Person, sent *sentFile) (any, error) {
		id, err := strconv.ParseInt(c.Param("id"), 10, 64)
		if err != nil {
			return nil, app.ErrNotFound
		}
		if err := s.datasetAsSeen(ctx, who, id, c.GetHeader("If-Match")); err != nil {
			return nil, err
		}
		switch how := c.Query("how"); how {
		case "", "replace":
			return s.app.Replace(ctx, who, id, sent.name, sent.content)
		case "append":
			var keys []string
			if said := c.Query("key"); said != "" {
				keys = strings.Split(said, ",")
			}
			return s.app.Append(ctx, who, id, sent.name, sent.content, keys)
		default:
			return nil, &app.Invalid{Message: fmt.Sprintf("rows cannot come as %q", how), Advice: "say how=replace or how=append"}
		}
	})
}

// datasetAsSeen holds that a dataset is what somebody saw of it.
func (s *Server) datasetAsSeen(ctx context.Context, who app.Person, id int64, ifMatch string) error {
	if ifMatch == "" {
		return nil
	}
	dataset, _, err := s.app.Dataset(ctx, who.SpaceID, id)
	if err != nil {
		return err
	}
	return unchanged(ifMatch, datasetTag(dataset))
}

// withFile answers with what work makes of the file of a request.
func (s *Server) withFile(c *gin.Context, work func(context.Context, app.Person, *sentFile) (any, error)) {
	ctx := c.Request.Context()
	who, err := person(ctx)
	if err == nil {
		var sent *sentFile
		if sent, err = fileOf(c.Request, c.Query("file")); err == nil {
			var made any
			if made, err = work(ctx, who, sent); err == nil {
				if err = sent.alone(); err == nil {
					writeJSON(c.Writer, http.StatusOK, made)
					return
				}
			}
		}
	}
	s.refuse(c.Writer, ctx, err)
}

// versionFile sends the rows of a version, as its ending says: 12.csv.
func (s *Server) versionFile(c *gin.Context) {
	ctx := c.Request.Context()
	who, err := person(ctx)
	id, ending, errName := numbered(c.Param("version"))
	if err = errors.Join(err, errName); err == nil && forms[ending].write == nil {
		err = noSuchForm(ending, endings(forms))
	}
	if err == nil {
		t, dataset, errTable := s.app.TakeTable(ctx, who, id)
		if err = errTable; err == nil {
			s.send(c, s.plainly(c, ending), dataset.Name, t)
			return
		}
	}
	s.refuse(c.Writer, ctx, err)
}

// plainly is the form of a file that was asked for: a CSV with ?plain has its cells as they are, also those that a spreadsheet
// would run.
func (s *Server) plainly(c *gin.Context, ending string) string {
	if _, said := c.GetQuery("plain"); said && ending == "csv" {
		return plainCSV
	}
	return ending
}

// chartFile sends a kept chart, as its ending says: itself, its picture, its figure, or its rows.
func (s *Server) chartFile(c *gin.Context) {
	ctx := c.Request.Context()
	who, err := person(ctx)
	id, ending, errName := numbered(c.Param("chart"))
	var kept app.Chart
	if err = errors.Join(err, errName); err == nil {
		kept, err = s.app.KeptChart(ctx, who.SpaceID, id)
	}
	if err == nil {
		err = s.sendChart(c, who, kept, ending)
	}
	if err != nil {
		s.refuse(c.Writer, ctx, err)
	}
}

func (s *Server) sendChart(c *gin.Context, who app.Person, kept app.Chart, ending string) error {
	ctx := c.Request.Context()
	sum := sha256.Sum256([]byte(c.Request.URL.RequestURI() + c.GetHeader("Accept")))
	tag := chartTag(kept)
	if ending != "" { // the form is of it too, and what columns are called
		meant, err := s.app.Meant(ctx, kept.DatasetID)
		if err != nil {
			return err
		}
		tag = strings.TrimSuffix(tag, `"`) + "-" + hex.EncodeToString(sum[:4]) + "-" + meant + `"`
	}
	if tagged(c, tag) {
		return nil
	}
	packed := ending == "" && strings.Contains(c.GetHeader("Accept"), figureType)
	switch {
	case ending == "json" || packed:
		paper, err := paperOf(ending, c.Request.URL.Query())
		if err != nil {
			return err
		}
		picture, err := s.app.Draw(
			ctx,
			who.SpaceID,
			kept.VersionID,
			app.Wanted{Document: kept.Document, Width: paper.Width, Height: paper.Height},
		)
		if err != nil {
			return err
		}
		write, kind := picture.JSON, "application/json"
		if packed {
			write, kind = picture.Encode, figureType
		}
		content, err := write()
		if err == nil {
			c.Data(http.StatusOK, kind, content)
		}
		return err
	case ending == "":
		_, sentence, err := s.app.Stated(ctx, who.SpaceID, kept.VersionID, kept.Document, "")
		if err == nil {
			writeJSON(c.Writer, http.StatusOK, s.keptChart(ctx, who, kept, sentence))
		}
		return err
	case render.FormatNamed(ending) != nil:
		paper, err := paperOf(ending, c.Request.URL.Query())
		if err != nil {
			return err
		}
		drawing, err := s.app.Export(ctx, who.SpaceID, kept.VersionID, kept.Document, paper)
		if err == nil {
			c.Data(http.StatusOK, drawing.Type, drawing.Content)
		}
		return err
	case forms[ending].write != nil:
		t, err := s.app.ChartRows(ctx, who, kept)
		if err == nil {
			s.send(c, s.plainly(c, ending), kept.Name, t)
		}
		return err
	}
	return noSuchForm(ending, append(append(render.FormatNames(), "json"), endings(forms)...))
}

// numbered splits 12.svg.
func numbered(text string) (id int64, ending string, err error) {
	number, ending, _ := strings.Cut(text, ".")
	if id, err = strconv.ParseInt(number, 10, 64); err != nil {
		return 0, "", app.ErrNotFound
	}
	return id, strings.ToLower(ending), nil
}

func endings[T any](forms map[string]T) (names []string) {
	for name := range forms {
		if name != plainCSV {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	return names
}

func noSuchForm(ending string, known []string) error {
	return &app.Invalid{Message: fmt.Sprintf("there is no form %q", ending), Advice: "say " + strings.Join(known, ", ")}
}

// paperOf reads what a picture is asked for beside its form.
func paperOf(format string, query url.Values) (app.Paper, error) {
	paper := app.Paper{Format: format, Look: query.Get("look"), Fonts: query.Get("fonts")}
	for name, into := range map[string]*float64{"width": &paper.Width, "height": &paper.Height, "scale": &paper.Scale} {
		if said := query.Get(name); said != "" {
			v, err := strconv.ParseFloat(said, 64)
			if err != nil || !(v >= 0 && v <= 8000) {
				return paper, &app.Invalid{Message: fmt.Sprintf("the %s cannot be %q", name, said), Advice: "say a number from 0 to 8000"}
			}
			*into = v
		}
	}
	if paper.Look != "" && !slices.Contains([]string{"light", "dark", "ink"}, paper.Look) {
		return paper, &app.Invalid{Message: fmt.Sprintf("there is no look %q", paper.Look), Advice: "say light, dark or ink"}
	}
	if paper.Fonts != "" && !slices.Contains([]string{"named", "embedded", "outlines"}, paper.Fonts) {
		return paper, &app.Invalid{Message: fmt.Sprintf("fonts cannot be %q", paper.Fonts), Advice: "say named, embedded or outlines"}
	}
	return paper, nil
}

// NewKey is a key that was made, with its token, which is shown this once.
type NewKey struct {
	app.Key
	Token string `json:"token"`
}

type keyWantedInput struct{ Body app.KeyWanted }

func (s *Server) addKey(ctx context.Context, who app.Person, in *keyWantedInput) (*body[NewKey], error) {
	key, token, err := s.app.AddKey(ctx, who, in.Body)
	return of(NewKey{key, token}), err
}

func (s *Server) keysOf(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Key], error) {
	list, err := s.app.Keys(ctx, who)
	return of(list), err
}

func (s *Server) dropKey(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return nil, s.app.DropKey(ctx, who, in.ID)
}

func (s *Server) hooks(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Hook], error) {
	list, err := s.app.Hooks(ctx, who)
	return of(list), err
}

// NewHook is an address that was named, with the secret that calls are signed with, which is shown this once.
type NewHook struct {
	app.Hook
	Secret string `json:"secret"`
}

type hookInput struct {
	Body struct {
		Address string `json:"address" maxLength:"2000" doc:"https://other.example/told"`
	}
}

func (s *Server) addHook(ctx context.Context, who app.Person, in *hookInput) (*body[NewHook], error) {
	hook, secret, err := s.app.AddHook(ctx, who, in.Body.Address)
	return of(NewHook{hook, secret}), err
}

func (s *Server) dropHook(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return nil, s.app.DropHook(ctx, who, in.ID)
}

func (s *Server) hookLog(ctx context.Context, who app.Person, _ *empty) (*body[[]app.HookCall], error) {
	list, err := s.app.HookLog(ctx, who)
	return of(list), err
}
