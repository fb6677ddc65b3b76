// Package server speaks HTTP: it is the only importer of gin. routes.go lists
// every route with who may use it; errors.go maps errors to answers.
package server

import (
	"context"
	"io/fs"
	"log/slog"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"

	"copperlark/app"
)

// Config is what whoever runs the server says of it.
type Config struct {
	TLS          bool     // behind a proxy that speaks TLS: cookies and browsers are held to it
	Hosts        []string // the names that it is reached by; none: any
	Proxies      []string // addresses of proxies whose X-Forwarded-For is believed
	ReaderRate   float64  // requests a second of one address for shared pages; 0: DefaultReaderRate
	MetricsToken string   // who shows it may read /metrics; "": nobody, there
	EmbedSites   string   // sites whose pages may show shares in a frame, as frame-ancestors of a policy has them; "": any
	Requests     *slog.Logger
	LeastRate    int64 // bytes a second that a caller must send and take; 0: DefaultLeastRate
	Grace        time.Duration
}

// The defaults of a Config.
const (
	DefaultReaderRate = 400.0
	DefaultLeastRate  = 4 << 10
	DefaultGrace      = 10 * time.Second
)

// Server answers requests.
type Server struct {
	app       *app.App
	log       *slog.Logger
	config    Config
	assets    fs.FS
	router    *gin.Engine
	api       huma.API
	pages     *pages
	visitors  *paces // of shared pages
	measures  *measures
	keyPaces  *paces          // of keys
	strangers *paces          // of what the API answers to anyone
	about     string          // what the routes that are registered now are about
	gates     map[string]gate // who may, by method and path
	told      []toldGroup     // the description, for people
}

// New makes the server over the program and the built front end.
func New(a *app.App, assets fs.FS, config Config, log *slog.Logger) (*Server, error) {
	gin.SetMode(gin.ReleaseMode)
	router := gin.New()
	router.UseRawPath = true // a slash in a column's name is written %2F and stays in its place
	router.UnescapePathValues = true
	router.MaxMultipartMemory = 0
	if err := router.SetTrustedProxies(config.Proxies); err != nil {
		return nil, err
	}
	setDefault(&config.ReaderRate, DefaultReaderRate)
	setDefault(&config.LeastRate, DefaultLeastRate)
	setDefault(&config.EmbedSites, "*")
	setDefault(&config.Grace, DefaultGrace)
	s := &Server{
		app:       a,
		log:       log,
		config:    config,
		assets:    assets,
		router:    router,
		visitors:  newPaces(config.ReaderRate),
		strangers: newPaces(strangerRate),
		keyPaces:  newPaces(keyRate),
		gates:     map[string]gate{},
	}
	s.measures = newMeasures(a)
	var err error
	if s.pages, err = newPages(assets); err != nil {
		return nil, err
	}
	router.Use(s.noted, s.recovered, s.securityHeaders, s.rightHost, s.readable, s.whoIsIt, s.admit, s.wholeJSON, s.repeated)
	api := huma.DefaultConfig("Copper Lark", "1")
	api.Info.Description = "Datasets, charts and shared charts of a team space. Figures travel as typed arrays behind a JSON head; see docs/formats.md."
	api.DocsPath, api.SchemasPath, api.CreateHooks = "", "", nil
	api.Formats = map[string]huma.Format{"application/json": everyVersion(), "json": everyVersion()}
	api.OpenAPIPath = openAPIPath
	api.Components.SecuritySchemes = map[string]*huma.SecurityScheme{
		"key":     {Type: "http", Scheme: "bearer", Description: "a key of a script, made under People"},
		"session": {Type: "apiKey", In: "cookie", Name: sessionCookie, Description: "given by signing in"},
	}
	s.api = humagin.New(router, api)
	s.routes()
	return s, nil
}

// openAPIPath is where the description of the routes is, without the ending of its form.
const openAPIPath = "/api/openapi"

func setDefault[T comparable](setting *T, value T) {
	var zero T
	if *setting == zero {
		*setting = value
	}
}

// Handler is the whole server: requests and answers keep to a pace, cross-site requests
// that would change something are refused, and answers are compressed.
func (s *Server) Handler() (http.Handler, error) {
	guard := http.NewCrossOriginProtection()
	guard.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", problemType)
		writeJSON(w, http.StatusForbidden, answer{Message: "the request comes from another site", Advice: "use the program's own pages",
			status: http.StatusForbidden}.problem())
	}))
	compress, err := gzhttp.NewWrapper(gzhttp.MinSize(1024))
	if err != nil {
		return nil, err
	}
	return s.paced(headed(compress(guard.Handler(s.router)))), nil
}

// OpenAPI is the description of the interface, as indented JSON.
func (s *Server) OpenAPI() ([]byte, error) { return s.api.OpenAPI().MarshalJSON() }

type contextKey int

const (
	personKey contextKey = iota
	tokenKey
	whoErrorKey
	keyKey
	originKey
)

// sessionCookie is the name of the cookie; behind TLS it is bound to this host alone.
const sessionCookie = "lark_session"

func (s *Server) cookieName() string {
	if s.config.TLS {
		return "__Host-" + sessionCookie
	}
	return sessionCookie
}

func person(ctx context.Context) (app.Person, error) {
	p, ok := ctx.Value(personKey).(app.Person)
	if ok {
		return p, nil
	}
	if err, failed := ctx.Value(whoErrorKey).(error); failed {
		return p, err
	}
	return p, app.ErrNotSignedIn
}

// keyOf is the key that a script asks with.
func keyOf(ctx context.Context) app.Key {
	key, _ := ctx.Value(keyKey).(app.Key)
	return key
}

// originOf is the address of the program as whoever asks has it.
func originOf(ctx context.Context) string {
	origin, _ := ctx.Value(originKey).(string)
	return origin
}

func (s *Server) setSession(c *gin.Context, token string, age int) {
	http.SetCookie(c.Writer, s.cookie(token, age))
}

func (s *Server) cookie(token string, age int) *http.Cookie {
	return &http.Cookie{
		Name:     s.cookieName(),
		Value:    token,
		Path:     "/",
		MaxAge:   age,
		HttpOnly: true,
		Secure:   s.config.TLS,
		SameSite: http.SameSiteLaxMode,
	}
}
