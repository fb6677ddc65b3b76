package server

import (
	"context"
	"net/http"
	"reflect"
	"regexp"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/render"
	english "copperlark/core/words"
)

// routes is every route on one screen. signedIn routes answer 401 without a
// session, and 404 for what belongs to another space. open routes say why they
// are open.
func (s *Server) routes() {
	open(s, http.MethodPost, "/api/sign-in", "Sign in with a password", s.signIn) // how a session begins
	signedIn(s, http.MethodPost, "/api/sign-out", "End the session", s.signOut)
	signedIn(s, http.MethodGet, "/api/me", "Who is signed in", s.me)

	signedIn(s, http.MethodPut, "/api/uploads/{key}", "Read a waiting file again with other options", s.readAgain)
	signedIn(s, http.MethodPost, "/api/uploads/{key}/keep", "Keep a waiting file as a dataset", s.keep)
	signedIn(s, http.MethodDelete, "/api/uploads/{key}", "Discard a waiting file", s.discard)

	signedIn(s, http.MethodGet, "/api/datasets", "List datasets", s.datasets)
	signedIn(s, http.MethodGet, "/api/datasets/{id}", "A dataset with its columns", s.dataset)
	signedIn(s, http.MethodPost, "/api/datasets", "Make a dataset from nothing", s.make)
	signedIn(s, http.MethodGet, "/api/style", "How charts of the space look from their beginning on", s.style)
	signedIn(s, http.MethodPut, "/api/style", "Make what a chart says of its looks the style of the space", s.setStyle)
	signedIn(s, http.MethodGet, "/api/versions/{version}/sayable",
		"Everything that can be said of a chart, with examples of its columns", s.sayable)
	signedIn(s, http.MethodGet, "/api/examples", "Sentences that show what can be said", s.examples)
	signedIn(s, http.MethodPost, "/api/built", "The picture of a table that somebody builds to learn from, with what could explain its slope",
		s.build)
	s.answersBytes("/api/built", figureType)
	signedIn(s, http.MethodPatch, "/api/datasets/{id}", "Rename or describe a dataset", s.describe)
	signedIn(s, http.MethodGet, "/api/datasets/{id}/meanings", "What people know of the columns", s.meanings)
	signedIn(s, http.MethodPut, "/api/datasets/{id}/meanings", "Say what a column means", s.setMeaning)
	signedIn(s, http.MethodPost, "/api/datasets/{id}/meanings/file", "Read meanings from a table of two columns", s.importMeanings)
	signedIn(s, http.MethodGet, "/api/language", "What expressions and clauses can say", s.language)
	signedIn(s, http.MethodDelete, "/api/datasets/{id}", "Delete a dataset with its charts", s.dropDataset)
	signedIn(s, http.MethodGet, "/api/datasets/{id}/versions", "A dataset's versions, the newest first", s.versions)
	signedIn(s, http.MethodGet, "/api/datasets/{id}/draft", "What a person tries with a dataset and has not kept", s.draft)
	signedIn(s, http.MethodPut, "/api/datasets/{id}/draft", "Keep what a person tries, until it is kept as a version or dropped", s.keepDraft)
	signedIn(s, http.MethodPost, "/api/datasets/{id}/files/{key}", "What another file would change of a dataset", s.compareFile)
	signedIn(s, http.MethodPost, "/api/datasets/{id}/files/{key}/keep",
		"Keep another file as a dataset's next version, prepared as the last one was", s.keepFile)
	signedIn(s, http.MethodGet, "/api/datasets/{id}/one-row", "What one row of a dataset could be called", s.oneRow)
	signedIn(s, http.MethodPost, "/api/datasets/{id}/edited", "Keep changes made by hand as a dataset's next version", s.edit)
	signedIn(s, http.MethodPost, "/api/versions/{version}/preparation", "Try a preparation on a version", s.prepare)
	signedIn(s, http.MethodPost, "/api/versions/{version}/preparation/completions", "What could be typed next in a preparation",
		s.completePreparation)
	signedIn(s, http.MethodPost, "/api/versions/{version}/prepared", "Keep a preparation as the next version", s.keepPreparation)
	signedIn(s, http.MethodPost, "/api/versions/{version}/view", "Rows of a version after a preparation, as text", s.view)
	signedIn(s, http.MethodGet, "/api/versions/{version}/rows/{row}", "The exact values of one row", s.row)
	signedIn(s, http.MethodPost, "/api/versions/{version}/numbers", "The numbers of some columns in some rows", s.numbers)
	signedIn(s, http.MethodGet, "/api/versions/{version}/goes-with/{column}", "How much of a column's spread the others account for",
		s.goesWith)
	signedIn(s, http.MethodGet, "/api/versions/{version}/first-look", "A first sentence for the dataset", s.firstLook)
	signedIn(s, http.MethodPost, "/api/versions/{version}/summary", "Every column in numbers", s.summary)
	signedIn(s, http.MethodPost, "/api/versions/{version}/groups", "Every group of a column with its rows", s.groups)
	signedIn(s, http.MethodPost, "/api/versions/{version}/explanations", "What else could explain the relation on screen", s.explanations)
	signedIn(s, http.MethodPost, "/api/versions/{version}/holds", "Whether the slope on screen holds, looked at in many ways", s.holds)
	signedIn(s, http.MethodPost, "/api/versions/{version}/with-and-without", "The line with some of the rows, and without them",
		s.withAndWithout)
	signedIn(s, http.MethodPost, "/api/versions/{version}/pairs", "Columns of numbers two at a time", s.pairs)
	s.answersBytes("/api/versions/{version}/pairs", figureType)
	signedIn(s, http.MethodPost, "/api/versions/{version}/evidence", "What stands behind the finding of a column", s.evidence)
	signedIn(s, http.MethodPost, "/api/versions/{version}/figure", "Draw a chart without keeping it", s.figure)
	s.answersBytes("/api/versions/{version}/figure", figureType)
	signedIn(s, http.MethodPost, "/api/versions/{version}/drawing", "Draw a chart into a file: "+english.Or(render.FormatNames()), s.drawing)
	s.answersBytes("/api/versions/{version}/drawing", drawingTypes()...)
	signedIn(s, http.MethodPost, "/api/versions/{version}/choices", "What pressing a word of a chart's sentence offers", s.choices)
	signedIn(s, http.MethodPost, "/api/versions/{version}/additions", "What can be said next in a chart's sentence", s.additions)
	signedIn(s, http.MethodPost, "/api/versions/{version}/completions", "What could be typed next in the sentence of a chart", s.complete)

	signedIn(s, http.MethodGet, "/api/charts", "List charts", s.charts)
	signedIn(s, http.MethodPost, "/api/charts", "Keep a new chart", s.addChart)
	signedIn(s, http.MethodGet, "/api/charts/{id}", "A chart with its trail", s.chart)
	signedIn(s, http.MethodPatch, "/api/charts/{id}", "Rename a chart, stand it at another step, or move it to another version", s.changeChart)
	signedIn(s, http.MethodDelete, "/api/charts/{id}", "Delete a chart with its trail", s.dropChart)
	signedIn(s, http.MethodPost, "/api/charts/{id}/steps", "Keep a step of the trail", s.addStep)

	signedIn(s, http.MethodPost, "/api/charts/{id}/asked", "Ask the rows that were set aside, once, whether a chart's relation holds",
		s.askAside)

	s.raw(route{http.MethodGet, "/api/charts/{id}/steps/{step}/picture.svg", "The small picture of a step", true, types("image/svg+xml"),
		sizeParameters()}, s.picture)

	signedIn(s, http.MethodGet, "/api/shares", "List shared charts", s.shares)
	signedIn(s, http.MethodPost, "/api/shares", "Share a fixed copy of a chart", s.share)
	signedIn(s, http.MethodDelete, "/api/shares/{id}", "Withdraw a shared chart", s.withdraw)

	s.raw(route{http.MethodGet, "/api/versions/{version}/table/{form}", "Download the rows of a version: csv, jsonl or parquet", true,
		tableTypes(), nil}, s.export)
	s.raw(route{http.MethodPost, "/api/uploads", "Read a file for a preview", true, jsonOf[app.Preview](s, "Preview"),
		[]*huma.Param{{Name: "name", In: "query", Description: "the file's name", Schema: &huma.Schema{Type: "string"}}}}, s.upload)
	signedIn(s, http.MethodGet, "/api/work", "What the heavy work of whoever asks does: what runs, and what waits", s.work)
	signedIn(s, http.MethodGet, "/api/audit", "Who did what in the space, for its owners", s.audit)

	// Shared pages are for whoever has their unguessable address.
	s.raw(route{http.MethodGet, "/s/{key}", "The page of a shared chart", false, page, nil}, s.asReader(1, s.sharedPage))
	s.raw(route{http.MethodGet, "/s/{key}/figure", "The encoded figure of a shared chart", false, types(figureType), nil},
		s.asReader(1, s.ofShared(s.sharedFigure(false))))
	s.raw(route{http.MethodGet, "/s/{key}/figure/exact", "The same with the places of dots as exact as they can be, for looking closely",
		false, types(figureType), nil}, s.asReader(1, s.ofShared(s.sharedFigure(true))))
	s.raw(route{http.MethodGet, "/s/{key}/rows/{row}", "The values of a row that a shared chart publishes", false,
		jsonOf[map[string]string](s, "Row"), nil}, s.asReader(1, s.ofShared(s.sharedRow)))
	s.raw(route{http.MethodGet, "/s/{key}/table.csv", "The rows that a shared chart publishes", false, types("text/csv"), nil},
		s.asReader(wholeTableCost, s.ofShared(s.sharedTable)))
	// A sign-in link carries its own proof, and works once.
	s.raw(route{http.MethodGet, "/sign-in/{link}", "Ask whoever opens a sign-in link to press a button", false, page, nil}, s.linkPage)
	s.raw(route{http.MethodPost, "/sign-in/{link}", "Sign in with a link", false, page, nil}, s.useLink)
	// For whoever runs the server: alive, ready, and, with a token, measured.
	s.raw(route{http.MethodGet, "/health", "Whether the program is alive", false, jsonOf[state](s, "State"), nil}, s.health)
	s.raw(route{http.MethodGet, "/ready", "Whether the database answers", false, jsonOf[state](s, "State"), nil}, s.ready)
	s.raw(route{http.MethodGet, "/metrics", "What is counted, for Prometheus; with a token", false, types("text/plain"), nil}, s.metrics)
	// The application itself holds no data.
	s.router.GET("/assets/*file", s.asset)
	for _, view := range views {
		s.router.GET(view, s.application)
	}
	s.router.NoRoute(s.nothing)
}

// handler is one use of the program over HTTP.
type handler[I, O any] func(ctx context.Context, who app.Person, in *I) (*O, error)

// ownPace leaves how long a body may take to paced. A deadline of the library's own would stand on after the body
// was read: when it is over, the connection is taken for broken, and work that takes longer is cancelled.
const ownPace = -1

func signedIn[I, O any](s *Server, method, path, summary string, handle handler[I, O]) {
	s.private[method+" "+ginPath(path)] = true
	operation := huma.Operation{Method: method, Path: path, Summary: summary, OperationID: operationID(method, path),
		Security: []map[string][]string{{"session": {}}}, BodyReadTimeout: ownPace}
	huma.Register(s.api, operation, func(ctx context.Context, in *I) (*O, error) {
		who, err := person(ctx)
		if err != nil {
			return nil, s.answerFor(ctx, err)
		}
		return answered(s, ctx, who, in, handle)
	})
}

func open[I, O any](s *Server, method, path, summary string, handle handler[I, O]) {
	operation := huma.Operation{Method: method, Path: path, Summary: summary, OperationID: operationID(method, path), BodyReadTimeout: ownPace}
	huma.Register(s.api, operation, func(ctx context.Context, in *I) (*O, error) {
		return answered(s, ctx, app.Person{}, in, handle)
	})
}

func answered[I, O any](s *Server, ctx context.Context, who app.Person, in *I, handle handler[I, O]) (*O, error) {
	out, err := handle(ctx, who, in)
	if err != nil {
		return nil, s.answerFor(ctx, err)
	}
	return out, nil
}

// route describes a route that huma does not answer itself: a page, or a stream.
type route struct {
	method, path, summary string
	signedIn              bool
	answers               map[string]*huma.MediaType
	parameters            []*huma.Param
}

// answersBytes says of a route that it answers with files of some types.
func (s *Server) answersBytes(path string, names ...string) {
	s.api.OpenAPI().Paths[path].Post.Responses["200"].Content = types(names...)
}

// raw registers such a route, with its place in the description.
func (s *Server) raw(r route, handle gin.HandlerFunc) {
	s.router.Handle(r.method, ginPath(r.path), handle)
	operation := &huma.Operation{Method: r.method, Path: r.path, Summary: r.summary, OperationID: operationID(r.method, r.path),
		Parameters: r.parameters,
		Responses: map[string]*huma.Response{"200": {Description: "what was asked for", Content: r.answers},
			"default": {Description: "why not", Content: jsonOf[answer](s, "Answer")}}}
	if r.signedIn {
		s.private[r.method+" "+ginPath(r.path)] = true
		operation.Security = []map[string][]string{{"session": {}}}
	}
	for _, name := range inPath.FindAllStringSubmatch(r.path, -1) {
		operation.Parameters = append(operation.Parameters, &huma.Param{Name: name[1], In: "path", Required: true,
			Schema: &huma.Schema{Type: "string"}})
	}
	if r.path == "/api/uploads" {
		operation.RequestBody = &huma.RequestBody{Required: true, Content: types("application/octet-stream")}
	}
	s.api.OpenAPI().AddOperation(operation)
}

var inPath = regexp.MustCompile(`\{([a-z]+)\}`)

// ginPath writes a path's parameters as gin does.
func ginPath(path string) string { return inPath.ReplaceAllString(path, ":$1") }

func types(names ...string) map[string]*huma.MediaType {
	content := map[string]*huma.MediaType{}
	for _, name := range names {
		content[name] = &huma.MediaType{Schema: &huma.Schema{Type: "string"}}
	}
	return content
}

var page = types("text/html")

func tableTypes() map[string]*huma.MediaType {
	var names []string
	for _, form := range forms {
		kind, _, _ := strings.Cut(form.kind, ";")
		names = append(names, kind)
	}
	return types(names...)
}

func jsonOf[T any](s *Server, name string) map[string]*huma.MediaType {
	return map[string]*huma.MediaType{"application/json": {Schema: s.api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[T](), true,
		name)}}
}
