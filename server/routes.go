package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"copperlark/app"
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
	signedIn(s, http.MethodPatch, "/api/datasets/{id}", "Rename or describe a dataset", s.describe)
	signedIn(s, http.MethodGet, "/api/datasets/{id}/meanings", "What people know of the columns", s.meanings)
	signedIn(s, http.MethodPut, "/api/datasets/{id}/meanings", "Say what a column means", s.setMeaning)
	signedIn(s, http.MethodPost, "/api/datasets/{id}/meanings/file", "Read meanings from a table of two columns", s.importMeanings)
	signedIn(s, http.MethodGet, "/api/language", "What expressions and clauses can say", s.language)
	signedIn(s, http.MethodDelete, "/api/datasets/{id}", "Delete a dataset with its charts", s.dropDataset)
	signedIn(s, http.MethodGet, "/api/datasets/{id}/versions", "A dataset's versions, the newest first", s.versions)
	signedIn(s, http.MethodPost, "/api/versions/{version}/preparation", "Try a preparation on a version", s.prepare)
	signedIn(s, http.MethodPost, "/api/versions/{version}/prepared", "Keep a preparation as the next version", s.keepPreparation)
	signedIn(s, http.MethodPost, "/api/versions/{version}/view", "Rows of a version after a preparation, as text", s.view)
	signedIn(s, http.MethodGet, "/api/versions/{version}/rows/{row}", "The exact values of one row", s.row)
	signedIn(s, http.MethodGet, "/api/versions/{version}/goes-with/{column}", "How much of a column's spread the others account for", s.goesWith)
	signedIn(s, http.MethodGet, "/api/versions/{version}/first-look", "A first sentence for the dataset", s.firstLook)
	signedIn(s, http.MethodPost, "/api/versions/{version}/summary", "Every column in numbers", s.summary)
	signedIn(s, http.MethodPost, "/api/versions/{version}/explanations", "What else could explain the relation on screen", s.explanations)
	signedIn(s, http.MethodPost, "/api/versions/{version}/figure", "Draw a chart without keeping it", s.figure)

	signedIn(s, http.MethodGet, "/api/charts", "List charts", s.charts)
	signedIn(s, http.MethodPost, "/api/charts", "Keep a new chart", s.addChart)
	signedIn(s, http.MethodGet, "/api/charts/{id}", "A chart with its trail", s.chart)
	signedIn(s, http.MethodPatch, "/api/charts/{id}", "Rename a chart, stand it at another step, or move it to another version", s.changeChart)
	signedIn(s, http.MethodDelete, "/api/charts/{id}", "Delete a chart with its trail", s.dropChart)
	signedIn(s, http.MethodPost, "/api/charts/{id}/steps", "Keep a step of the trail", s.addStep)

	signedIn(s, http.MethodGet, "/api/shares", "List shared charts", s.shares)
	signedIn(s, http.MethodPost, "/api/shares", "Share a fixed copy of a chart", s.share)
	signedIn(s, http.MethodDelete, "/api/shares/{id}", "Withdraw a shared chart", s.withdraw)

	s.router.GET("/api/versions/:version/table/:form", s.export)                  // checks the session itself; a stream
	s.raw(http.MethodPost, "/api/uploads", "Read a file for a preview", s.upload) // checks the session itself
	// Shared pages are for whoever has their unguessable address.
	s.router.GET("/s/:key", s.sharedPage)
	s.router.GET("/s/:key/figure", s.sharedFigure)
	s.router.GET("/s/:key/rows/:row", s.sharedRow)
	s.router.GET("/s/:key/table.csv", s.sharedTable)
	// A sign-in link carries its own proof.
	s.router.GET("/sign-in/:link", s.useLink)
	// The application itself holds no data.
	s.router.GET("/assets/*file", s.asset)
	s.router.NoRoute(s.application)
}

// handler is one use of the program over HTTP.
type handler[I, O any] func(ctx context.Context, who app.Person, in *I) (*O, error)

func signedIn[I, O any](s *Server, method, path, summary string, handle handler[I, O]) {
	operation := huma.Operation{Method: method, Path: path, Summary: summary, OperationID: operationID(method, path),
		Security: []map[string][]string{{"session": {}}}}
	huma.Register(s.api, operation, func(ctx context.Context, in *I) (*O, error) {
		who, err := person(ctx)
		if err != nil {
			return nil, s.answerFor(ctx, err)
		}
		return answered(s, ctx, who, in, handle)
	})
}

func open[I, O any](s *Server, method, path, summary string, handle handler[I, O]) {
	operation := huma.Operation{Method: method, Path: path, Summary: summary, OperationID: operationID(method, path)}
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

// raw registers a route whose body is a stream, with its place in the
// description.
func (s *Server) raw(method, path, summary string, handle gin.HandlerFunc) {
	s.router.Handle(method, path, handle)
	s.api.OpenAPI().AddOperation(&huma.Operation{Method: method, Path: path, Summary: summary, OperationID: operationID(method, path),
		Security:    []map[string][]string{{"session": {}}},
		Parameters:  []*huma.Param{{Name: "name", In: "query", Description: "the file's name", Schema: &huma.Schema{Type: "string"}}},
		RequestBody: &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"application/octet-stream": {}}},
		Responses: map[string]*huma.Response{"200": {Description: "the preview", Content: map[string]*huma.MediaType{"application/json": {
			Schema: s.api.OpenAPI().Components.Schemas.Schema(previewType, true, "Preview")}}}}})
}
