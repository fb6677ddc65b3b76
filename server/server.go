// Package server speaks HTTP: it is the only importer of gin. routes.go lists
// every route with who may use it; errors.go maps errors to answers.
package server

import (
	"context"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"

	"copperlark/app"
)

// Server answers requests.
type Server struct {
	app    *app.App
	log    *slog.Logger
	assets fs.FS
	router *gin.Engine
	api    huma.API
	pages  *pages
	secure bool
}

// New makes the server over the program and the built front end. secure marks
// cookies for TLS only.
func New(a *app.App, assets fs.FS, secure bool, log *slog.Logger) (*Server, error) {
	gin.SetMode(gin.ReleaseMode)
	router := gin.New()
	router.UseRawPath = false
	s := &Server{app: a, log: log, assets: assets, router: router, secure: secure}
	var err error
	if s.pages, err = newPages(assets); err != nil {
		return nil, err
	}
	router.Use(s.recovered, securityHeaders, s.whoIsIt)
	config := huma.DefaultConfig("Copper Lark", "1")
	config.Info.Description = "Datasets, charts and shared charts of a team space. Figures travel as typed arrays behind a JSON head; see docs/formats.md."
	config.DocsPath, config.SchemasPath, config.CreateHooks = "", "", nil
	config.OpenAPIPath = "/api/openapi"
	s.api = humagin.New(router, config)
	s.routes()
	return s, nil
}

// Handler is the whole server: cross-site requests that would change something
// are refused, and answers are compressed.
func (s *Server) Handler() (http.Handler, error) {
	guard := http.NewCrossOriginProtection()
	guard.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeJSON(w, http.StatusForbidden, answer{Message: "the request comes from another site", Advice: "use the program's own pages"})
	}))
	compress, err := gzhttp.NewWrapper(gzhttp.MinSize(1024))
	if err != nil {
		return nil, err
	}
	return compress(guard.Handler(s.router)), nil
}

// OpenAPI is the description of the interface, as indented JSON.
func (s *Server) OpenAPI() ([]byte, error) { return s.api.OpenAPI().MarshalJSON() }

type contextKey int

const (
	personKey contextKey = iota
	tokenKey
)

const sessionCookie = "lark_session"

// whoIsIt finds out who sends a request; routes decide whether they may.
func (s *Server) whoIsIt(c *gin.Context) {
	token, err := c.Cookie(sessionCookie)
	if err != nil || token == "" {
		c.Next()
		return
	}
	person, err := s.app.Who(c.Request.Context(), token)
	if err == nil {
		ctx := context.WithValue(c.Request.Context(), personKey, person)
		c.Request = c.Request.WithContext(context.WithValue(ctx, tokenKey, token))
	}
	c.Next()
}

func person(ctx context.Context) (app.Person, error) {
	p, ok := ctx.Value(personKey).(app.Person)
	if !ok {
		return p, app.ErrNotSignedIn
	}
	return p, nil
}

func (s *Server) setSession(c *gin.Context, token string, age int) {
	http.SetCookie(c.Writer, s.cookie(token, age))
}

func (s *Server) cookie(token string, age int) *http.Cookie {
	return &http.Cookie{Name: sessionCookie, Value: token, Path: "/", MaxAge: age, HttpOnly: true, Secure: s.secure, SameSite: http.SameSiteLaxMode}
}

const contentPolicy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' blob: data:; font-src 'self'; connect-src 'self'; " +
	"base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

func securityHeaders(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", contentPolicy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
	if strings.HasPrefix(c.Request.URL.Path, "/assets/") {
		h.Set("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		h.Set("Cache-Control", "no-store")
	}
	c.Next()
}

// recovered keeps a panic inside its request.
func (s *Server) recovered(c *gin.Context) {
	defer func() {
		if fault := recover(); fault != nil {
			if fault == http.ErrAbortHandler {
				panic(fault)
			}
			s.log.Error("a request failed by panic", "path", c.Request.URL.Path, "fault", fault, "stack", stack())
			if !c.Writer.Written() {
				writeJSON(c.Writer, http.StatusInternalServerError, answer{Message: "something went wrong on our side", Advice: "try again; nothing that was kept is lost"})
			}
			c.Abort()
		}
	}()
	c.Next()
}
