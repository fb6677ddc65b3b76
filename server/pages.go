package server

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"mime"
	"net/http"
	"net/url"
	"path"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"github.com/gin-gonic/gin"

	"copperlark/app"
)

//go:embed pages/*.html pages/embed.js
var pageFiles embed.FS

// pages are the pages that the server writes itself: shared charts, and words
// for people where there is nothing else to show.
type pages struct {
	templates *template.Template
	version   string // of the reader's script and style, so that a browser fetches new ones
}

func newPages(assets fs.FS) (*pages, error) {
	templates, err := template.New("").Funcs(template.FuncMap{"dict": dict}).ParseFS(pageFiles, "pages/*.html")
	if err != nil {
		return nil, err
	}
	sum := sha256.New()
	for _, name := range []string{"assets/reader.js", "assets/reader.css"} {
		file, err := fs.ReadFile(assets, name)
		if err != nil && !errors.Is(err, fs.ErrNotExist) {
			return nil, err
		}
		_, _ = sum.Write(file)
	}
	return &pages{templates, hex.EncodeToString(sum.Sum(nil)[:8])}, nil
}

// dict is a map of names and values, for a template that another one calls.
func dict(pairs ...any) map[string]any {
	out := map[string]any{}
	for i := 0; i+1 < len(pairs); i += 2 {
		out[fmt.Sprint(pairs[i])] = pairs[i+1]
	}
	return out
}

func (s *Server) writePage(c *gin.Context, status int, name string, data any) {
	var out bytes.Buffer
	if err := s.pages.templates.ExecuteTemplate(&out, name, data); err != nil {
		s.log.ErrorContext(c.Request.Context(), "a page cannot be written", "page", name, "error", err)
		status = http.StatusInternalServerError
		out.Reset()
	}
	c.Data(status, "text/html; charset=utf-8", out.Bytes())
}

// words is a page that only says something.
type words struct{ Version, Title, Text string }

// titles are what pages that say no are headed with; others are headed by their message.
var titles = map[int]string{
	http.StatusNotFound:            "There is nothing here",
	http.StatusServiceUnavailable:  "The database does not answer just now",
	http.StatusTooManyRequests:     "Too much at once",
	http.StatusBadRequest:          "This address cannot be read",
	http.StatusMisdirectedRequest:  "This server is not called that",
	http.StatusInternalServerError: "Something went wrong on our side",
}

// writeWords answers with a page that says an error to people.
func (s *Server) writeWords(c *gin.Context, a answer, title string) {
	for name, values := range a.GetHeaders() {
		c.Writer.Header()[name] = values
	}
	if title == "" {
		title = titles[a.status]
	}
	text := capitalised(a.Message) + "."
	if title == "" {
		title, text = capitalised(a.Message), ""
	}
	if a.Advice != "" {
		text += " " + capitalised(a.Advice) + "."
	}
	s.writePage(c, a.status, "words.html", words{s.pages.version, title, text})
}

func capitalised(text string) string {
	if text == "" {
		return text
	}
	return strings.ToUpper(text[:1]) + text[1:]
}

func (s *Server) asset(c *gin.Context) {
	name := path.Clean("assets/" + strings.TrimPrefix(c.Param("file"), "/"))
	file, err := fs.ReadFile(s.assets, name)
	if err != nil || !strings.HasPrefix(name, "assets/") {
		c.Header("Cache-Control", "no-store")
		c.Data(http.StatusNotFound, "text/plain; charset=utf-8", []byte("There is no such file.\n"))
		return
	}
	kind := mime.TypeByExtension(path.Ext(name))
	switch path.Ext(name) {
	case ".js":
		kind = "text/javascript; charset=utf-8"
	case ".woff2":
		kind = "font/woff2"
	}
	c.Data(http.StatusOK, kind, file)
}

// The addresses that the front end routes itself; web/src/app/App.tsx has the same lists. Those of a space stand behind
// its address, /in/3-thornwick-apiaries, as well; without one they lead to the space that one was in last.
var (
	viewsOfASpace = []string{
		"/",
		"/people",
		"/audit",
		"/build",
		"/examples",
		"/page/:page",
		"/copy/:share",
		"/dataset/:dataset/data",
		"/dataset/:dataset/pairs",
		"/dataset/:dataset/compare",
		"/dataset/:dataset/chart",
		"/dataset/:dataset/chart/:chart",
		"/dataset/:dataset/shared",
	}
	viewsOfNone = []string{"/account", "/invited/:key", "/password/:link", "/first/:link"}
)

// application serves the front end. A view of a space that was asked for without its address leads to the address with it.
func (s *Server) application(c *gin.Context) {
	if to := s.withSpace(c); to != "" {
		c.Redirect(http.StatusSeeOther, to)
		return
	}
	page, err := fs.ReadFile(s.assets, "index.html")
	if err != nil {
		s.writePage(
			c,
			http.StatusServiceUnavailable,
			"words.html",
			words{s.pages.version, "The front end is not built", fmt.Sprintf("Run make start, or npm run build in web. (%v)", err)},
		)
		return
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", page)
}

// withSpace gives the address of a view with its space in it; "" where it has one, needs none, or nobody is signed in.
func (s *Server) withSpace(c *gin.Context) string {
	who, err := person(c.Request.Context())
	if err != nil || !slices.Contains(viewsOfASpace, c.FullPath()) {
		return ""
	}
	places, err := s.app.Places(c.Request.Context(), who)
	if err != nil {
		return ""
	}
	in := who.SpaceID
	if dataset, err := strconv.ParseInt(c.Param("dataset"), 10, 64); err == nil {
		if of, err := s.app.InSpace(c.Request.Context(), who, dataset); err == nil {
			in = of
		}
	}
	for _, place := range places {
		if place.ID == in {
			at := url.URL{Path: spaceAddress(place.ID, place.Name) + strings.TrimSuffix(c.Request.URL.Path, "/"), RawQuery: c.Request.URL.RawQuery}
			return at.String()
		}
	}
	return ""
}

// mostOfName is how many letters of a space's name stand in its address.
const mostOfName = 40

// spaceAddress is where a space is: its number, which finds it, and its name, for people.
func spaceAddress(id int64, name string) string {
	var words []rune
	for _, r := range strings.ToLower(name) {
		switch {
		case len(words) >= mostOfName:
		case unicode.IsLetter(r) || unicode.IsDigit(r):
			words = append(words, r)
		case len(words) > 0 && words[len(words)-1] != '-':
			words = append(words, '-')
		}
	}
	return strings.TrimSuffix(fmt.Sprintf("/in/%d-%s", id, string(words)), "-")
}

// nothing is for addresses that lead nowhere.
func (s *Server) nothing(c *gin.Context) { s.stop(c, app.ErrNotFound) }
