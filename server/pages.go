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
	"path"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/table"
)

//go:embed pages/*.html
var pageFiles embed.FS

// pages are the pages that the server writes itself: shared charts, and words
// for people where there is nothing else to show.
type pages struct {
	templates *template.Template
	version   string // of the reader's script and style, so that a browser fetches new ones
}

func newPages(assets fs.FS) (*pages, error) {
	templates, err := template.ParseFS(pageFiles, "pages/*.html")
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

func (s *Server) sharedPage(c *gin.Context) {
	share, err := s.app.Shared(c.Request.Context(), c.Param("key"))
	if err != nil {
		a := s.answerFor(c.Request.Context(), err)
		page := words{s.pages.version, "There is no chart here", "The address may be cut short, or the chart was never shared. Check the link, or ask whoever sent it."}
		if errors.Is(err, app.ErrWithdrawn) {
			page.Title, page.Text = "This chart was withdrawn", "Whoever shared it has taken it back. Ask them for a new link if you still need it."
		}
		s.writePage(c, a.status, "words.html", page)
		return
	}
	s.writePage(c, http.StatusOK, "shared.html", map[string]any{
		"Version": s.pages.version, "Key": share.Key, "Title": share.Title, "Paragraphs": paragraphs(share.Body), "Source": share.Source,
		"Space": share.SpaceName, "Date": share.CreatedAt.UTC().Format("2 January 2006"), "Typed": share.Typed,
	})
}

func paragraphs(text string) []string {
	var list []string
	for _, p := range strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n\n") {
		if p = strings.TrimSpace(p); p != "" {
			list = append(list, p)
		}
	}
	return list
}

func (s *Server) sharedFigure(c *gin.Context) {
	share, err := s.app.Shared(c.Request.Context(), c.Param("key"))
	if err != nil {
		a := s.answerFor(c.Request.Context(), err)
		writeJSON(c.Writer, a.status, a)
		return
	}
	c.Data(http.StatusOK, figureType, share.Figure)
}

func (s *Server) sharedRow(c *gin.Context) {
	ctx := c.Request.Context()
	row, err := strconv.Atoi(c.Param("row"))
	var values map[string]string
	if err != nil {
		err = app.ErrNotFound
	} else {
		var share app.Share
		if share, err = s.app.Shared(ctx, c.Param("key")); err == nil {
			values, err = s.app.SharedRow(ctx, share, row)
		}
	}
	if err != nil {
		a := s.answerFor(ctx, err)
		writeJSON(c.Writer, a.status, a)
		return
	}
	writeJSON(c.Writer, http.StatusOK, values)
}

// sharedTable sends the rows behind a shared chart as CSV.
func (s *Server) sharedTable(c *gin.Context) {
	ctx := c.Request.Context()
	share, err := s.app.Shared(ctx, c.Param("key"))
	var t *table.Table
	if err == nil {
		t, err = s.app.SharedTable(ctx, share)
	}
	if err != nil {
		a := s.answerFor(ctx, err)
		writeJSON(c.Writer, a.status, a)
		return
	}
	s.send(c, "csv", share.Title, t)
}

// useLink turns a one-time link into a session. It answers with a redirect, so
// that the link does not stay in the address bar.
func (s *Server) useLink(c *gin.Context) {
	token, err := s.app.UseSignInLink(c.Request.Context(), c.Param("link"))
	if err != nil {
		a := s.answerFor(c.Request.Context(), err)
		if a.status == http.StatusUnauthorized {
			if _, signed := person(c.Request.Context()); signed == nil {
				c.Redirect(http.StatusSeeOther, "/") // a second press of the link that signed this browser in
				return
			}
		}
		s.writePage(c, a.status, "words.html", words{s.pages.version, "This link does not sign you in", capitalised(a.Message) + ". " + capitalised(a.Advice) + "."})
		return
	}
	s.setSession(c, token, int(app.SessionTime.Seconds()))
	c.Redirect(http.StatusSeeOther, "/")
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

// application serves the front end for every address that it routes itself.
func (s *Server) application(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, "/api/") || c.Request.Method != http.MethodGet {
		a := s.answerFor(c.Request.Context(), app.ErrNotFound)
		writeJSON(c.Writer, a.status, a)
		return
	}
	page, err := fs.ReadFile(s.assets, "index.html")
	if err != nil {
		s.writePage(c, http.StatusServiceUnavailable, "words.html", words{s.pages.version, "The front end is not built", fmt.Sprintf("Run make start, or npm run build in web. (%v)", err)})
		return
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", page)
}
