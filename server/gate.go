package server

import (
	"context"
	"net/http"
	"reflect"
	"regexp"
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
	session bool     // somebody who is signed in
	least   app.Role // what they must be in the space that is asked about; NoRole: nothing, and there need be no space
}

// The gates, from open to closed. Each lets in those of the ones after it.
var (
	anyone     = gate{"anyone", false, app.NoRole}
	themselves = gate{"themselves", true, app.NoRole} // who is signed in, about what is theirs alone
	readers    = gate{"readers", true, app.Reader}
	makers     = gate{"makers", true, app.Maker}
	owners     = gate{"owners", true, app.Owner}
)

func (g gate) security() []map[string][]string {
	if !g.session {
		return []map[string][]string{{}} // said, so that nobody takes it for forgotten
	}
	return []map[string][]string{{"session": {}}}
}

func (g gate) described() string { return "Who may: " + g.name + "." }

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
		Security: who.security(), Description: who.described(), BodyReadTimeout: ownPace}
	huma.Register(s.api, operation, func(ctx context.Context, in *I) (*O, error) {
		var asks app.Person
		if who.session {
			var err error
			if asks, err = person(ctx); err != nil {
				return nil, s.answerFor(ctx, err)
			}
		}
		return answered(s, ctx, asks, in, handle)
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
	answers               map[string]*huma.MediaType
	parameters            []*huma.Param
}

// answersBytes says of a route that it answers with files of some types.
func (s *Server) answersBytes(path string, names ...string) {
	s.api.OpenAPI().Paths[path].Post.Responses["200"].Content = types(names...)
}

// raw registers such a route, with its place in the description.
func (s *Server) raw(who gate, r route, handle gin.HandlerFunc) {
	s.gates[r.method+" "+ginPath(r.path)] = who
	s.router.Handle(r.method, ginPath(r.path), handle)
	operation := &huma.Operation{Method: r.method, Path: r.path, Summary: r.summary, OperationID: operationID(r.method, r.path),
		Parameters: r.parameters, Security: who.security(), Description: who.described(),
		Responses: map[string]*huma.Response{"200": {Description: "what was asked for", Content: r.answers},
			"default": {Description: "why not", Content: jsonOf[answer](s, "Answer")}}}
	for _, name := range inPath.FindAllStringSubmatch(r.path, -1) {
		operation.Parameters = append(operation.Parameters, &huma.Param{Name: name[1], In: "path", Required: true,
			Schema: &huma.Schema{Type: "string"}})
	}
	if r.method == http.MethodPost && strings.HasPrefix(r.path, "/api/") {
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
