package server

import (
	"context"
	"net/http"
	"reflect"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/internal/admission"
)

// gate says who may ask a route.
type gate struct {
	name    string
	session bool      // somebody who is signed in
	least   app.Role  // what they must be in the space that is asked about; NoRole: nothing, and there need be no space
	key     app.Scope // a key with this scope, and no session
}

// keys lets scripts in, whose key has a scope. A session is not accepted there, nor a key anywhere else.
func keys(scope app.Scope) gate { return gate{name: "keys (" + string(scope) + ")", key: scope} }

// The gates, from open to closed. Each lets in those of the ones after it.
var (
	anyone     = gate{name: "anyone"}
	themselves = gate{name: "themselves", session: true} // who is signed in, about what is theirs alone
	readers    = gate{name: "readers", session: true, least: app.Reader}
	makers     = gate{name: "makers", session: true, least: app.Maker}
	owners     = gate{name: "owners", session: true, least: app.Owner}
)

func (g gate) security() []map[string][]string {
	if g.key != "" {
		return []map[string][]string{{"key": {}}}
	}
	if !g.session {
		return []map[string][]string{{}} // said, so that nobody takes it for forgotten
	}
	return []map[string][]string{{"session": {}}}
}

func (g gate) described() string { return "Who may: " + g.name + "." }

// keyRate is how many requests a second a key may make; it may save up five seconds of them.
const keyRate = 20

// byKey reports why a key may not ask a route.
func (s *Server) byKey(c *gin.Context, who gate) error {
	ctx := c.Request.Context()
	asks, err := person(ctx)
	if err != nil {
		if !s.strangers.allow(c.ClientIP(), 1) { // who guesses
			return &admission.Busy{Why: "too many requests come from your address", After: time.Second}
		}
		return err
	}
	key := keyOf(ctx)
	if err := app.MayUse(key, asks, who.key); err != nil {
		return err
	}
	if who.key == app.ScopeAppend && key.DatasetID != 0 && c.Param("id") != strconv.FormatInt(key.DatasetID, 10) {
		return app.ErrScope
	}
	if !s.keyPaces.allow(strconv.FormatInt(key.ID, 10), 1) {
		return &admission.Busy{Why: "too many requests are made with this key", After: time.Second}
	}
	return nil
}

// strangerRate is how many requests a second one address may make of what the API answers to anyone.
const strangerRate = 10

// admit lets a request through the gate of its route, before anything of its body is read. A route without a gate is not
// there.
func (s *Server) admit(c *gin.Context) {
	if c.FullPath() == "" {
		return // leads nowhere, and is told so
	}
	who, known := s.gates[c.Request.Method+" "+c.FullPath()]
	if !known {
		s.stop(c, app.ErrNotFound)
		return
	}
	if who.key != "" {
		if err := s.byKey(c, who); err != nil {
			s.stop(c, err)
		}
		return
	}
	if !who.session {
		if strings.HasPrefix(c.FullPath(), "/api/") && !s.strangers.allow(c.ClientIP(), 1) {
			s.stop(c, &admission.Busy{Why: "too many requests come from your address", After: time.Second})
		}
		return
	}
	asks, err := person(c.Request.Context())
	switch {
	case err != nil:
	case who.least == app.NoRole:
	case asks.Role == app.NoRole:
		err = app.ErrNotHere
	case !asks.Role.May(who.least):
		err = app.ErrNotAllowed
	case asks.LacksFactor():
		err = app.ErrNeedsFactor
	}
	if err != nil {
		s.stop(c, err)
	}
}

// page registers a page or a file of the program itself, which holds no data.
func (s *Server) page(path string, handle gin.HandlerFunc) {
	s.gates["GET "+path] = anyone
	s.router.GET(path, handle)
}

// handler is one use of the program over HTTP.
type handler[I, O any] func(ctx context.Context, who app.Person, in *I) (*O, error)

// ownPace leaves how long a body may take to paced. A deadline of the library's own would stand on after the body
// was read: when it is over, the connection is taken for broken, and work that takes longer is cancelled.
const ownPace = -1

// add registers a route of the description with who may ask it: there is no route without.
func add[I, O any](s *Server, who gate, method, path, summary string, handle handler[I, O]) {
	s.gates[method+" "+ginPath(path)] = who
	operation := huma.Operation{Method: method, Path: path, Summary: summary, OperationID: operationID(method, path),
		Security: who.security(), Description: who.described(),
		Tags: []string{s.about}, BodyReadTimeout: ownPace}
	huma.Register(s.api, operation, func(ctx context.Context, in *I) (*O, error) {
		var asks app.Person
		if who.session || who.key != "" {
			var err error
			if asks, err = person(ctx); err != nil {
				return nil, s.answerFor(ctx, err).problem()
			}
		}
		return answered(s, ctx, asks, in, handle)
	})
}

func answered[I, O any](s *Server, ctx context.Context, who app.Person, in *I, handle handler[I, O]) (*O, error) {
	out, err := handle(ctx, who, in)
	if err != nil {
		return nil, s.answerFor(ctx, err).problem()
	}
	return out, nil
}

// route describes a route that huma does not answer itself: a page, or a stream.
type route struct {
	method, path, summary string
	answers               map[string]*huma.MediaType
	parameters            []*huma.Param
}

// answersBytes says of a route that it answers with files of some types.
func (s *Server) answersBytes(path string, names ...string) {
	for _, operation := range methods(s.api.OpenAPI().Paths[path]) {
		operation.Responses["200"].Content = types(names...)
	}
}

// raw registers such a route, with its place in the description.
func (s *Server) raw(who gate, r route, handle gin.HandlerFunc) {
	s.gates[r.method+" "+ginPath(r.path)] = who
	s.router.Handle(r.method, ginPath(r.path), handle)
	operation := &huma.Operation{Method: r.method, Path: r.path, Summary: r.summary, OperationID: operationID(r.method, r.path),
		Parameters: r.parameters, Security: who.security(), Description: who.described(), Tags: []string{s.about}, BodyReadTimeout: ownPace,
		Responses: map[string]*huma.Response{"200": {Description: "what was asked for", Content: r.answers},
			"default": {Description: "why not", Content: problemOf(s)}}}
	for _, name := range inPath.FindAllStringSubmatch(r.path, -1) {
		operation.Parameters = append(operation.Parameters, &huma.Param{Name: name[1], In: "path", Required: true,
			Schema: &huma.Schema{Type: "string"}})
	}
	if r.method != http.MethodGet && strings.HasPrefix(r.path, "/api/") {
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

// problemOf is the body of an error, in the description.
func problemOf(s *Server) map[string]*huma.MediaType {
	return map[string]*huma.MediaType{problemType: jsonOf[answer](s, "Answer")["application/json"]}
}

func inQuery(name, means string) *huma.Param {
	return &huma.Param{Name: name, In: "query", Description: means, Schema: &huma.Schema{Type: "string"}}
}

// fileParameters are those of a route that takes a file as its body or in a form.
func fileParameters(name, means string) []*huma.Param {
	return []*huma.Param{inQuery("file", "the file's name, whose ending can tell its format"), inQuery(name, means)}
}

func pictureParameters() []*huma.Param {
	return []*huma.Param{inQuery("width", "of a picture: in pixels; missing: 900"), inQuery("height", "missing: 560"),
		inQuery("scale", "of a PNG: pixels a pixel of the paper"), inQuery("look", "light, dark or ink"),
		inQuery(
			"fonts",
			"of an SVG: named, embedded or outlines",
		), inQuery("plain", "of CSV: cells as they are, also those that a spreadsheet would run")}
}

func chartTypes(s *Server) map[string]*huma.MediaType {
	all := types(figureType, "application/json") // of the chart itself KeptChart, of .json its figure
	all["application/json"] = &huma.MediaType{
		Schema: &huma.Schema{AnyOf: []*huma.Schema{jsonOf[KeptChart](s, "KeptChart")["application/json"].Schema,
			{Type: "object", Description: "the figure, its reading and its typed sentence"}}},
	}
	for name, kind := range types(drawingTypes()...) {
		if all[name] == nil {
			all[name] = kind
		}
	}
	for name, kind := range tableTypes() {
		all[name] = kind
	}
	return all
}

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
