package server

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/render"
	"copperlark/internal/admission"
)

// Of pictures of a share: how wide they are where nothing is said, and at most; what drawing one costs beside one request, and
// how long whoever has one keeps it without asking whether it is still that.
const (
	sharedPictureWidth = 1200
	mostSharedWidth    = 4000
	drawCost           = 40
	sharedPictureAge   = "public, max-age=60, must-revalidate"
)

// sharedAs answers with a share as a picture or a file.
func (s *Server) sharedAs(c *gin.Context, share app.Share, ending string) error {
	paper := app.SharedPaper{Format: ending, Look: c.Query("look"), Paper: c.Query("paper"), Clear: c.Query("ground") == "none"}
	if said := c.Query("width"); said != "" {
		width, err := strconv.Atoi(said)
		if err != nil || width < 100 || width > mostSharedWidth {
			return &app.Invalid{Message: fmt.Sprintf("a picture cannot be %q wide", said),
				Advice: fmt.Sprintf("say from 100 to %d pixels", mostSharedWidth)}
		}
		paper.Width = width
	} else {
		paper.Width = sharedPictureWidth
	}
	sum := sha256.Sum256(fmt.Appendf(nil, "%s %s %v %s", share.Key, share.MadeOf, paper, s.pages.version))
	tag := `"` + hex.EncodeToString(sum[:12]) + `"`
	c.Header("ETag", tag)
	c.Header("Cache-Control", sharedPictureAge)
	if share.Locked || share.PeopleOnly {
		c.Header("Cache-Control", "private, no-cache")
	}
	c.Header("Cross-Origin-Resource-Policy", "cross-origin") // for mails and wikis
	if header := c.GetHeader("If-None-Match"); header != "" && matches(header, tag) {
		c.Status(http.StatusNotModified)
		c.Writer.WriteHeaderNow()
		return nil
	}
	if !s.visitors.allow(c.ClientIP(), drawCost) {
		return &admission.Busy{Why: "too many requests come from your address", After: 5 * time.Second}
	}
	if ending == "html" {
		return s.sharedFile(c, share)
	}
	content, err := s.app.SharedDrawing(c.Request.Context(), share, paper)
	if err != nil {
		return err
	}
	if ending != "png" && ending != "svg" {
		c.Header("Content-Disposition", disposition(app.FileName(share.Title, ending)))
	}
	c.Data(http.StatusOK, render.FormatNamed(ending).Type, content)
	return nil
}

// inFile is what a page holds in itself where it is a single file.
type inFile struct {
	Policy string
	Style  template.CSS
	Script template.JS
}

var (
	fontAddress = regexp.MustCompile(`url\(["']?/assets/([^)"']+\.woff2)["']?\)`)
	otherFonts  = regexp.MustCompile(`,\s*url\([^)]*\.woff["']?\)\s*format\(["']?woff["']?\)`)
	scriptEnd   = regexp.MustCompile(`(?i)</(script)`)
)

// mostInFile is how large the figures of a share may be together to go into a single file, in bytes: what a mail takes, and a
// browser opens at once. A test lowers it.
var mostInFile = 24 << 20

// mostTableInFile is how large the rows of a chart may be to go into a single file, in bytes.
const mostTableInFile = 4 << 20

// sharedFile answers with a share as a single file that works from a disk or a mail, without any network.
func (s *Server) sharedFile(c *gin.Context, share app.Share) error {
	v, err := s.viewOf(c, share)
	if err != nil {
		return err
	}
	parts, err := s.app.SharedParts(c.Request.Context(), share)
	if err != nil {
		return err
	}
	room := mostInFile
	for i, part := range parts {
		if err := s.intoFile(c.Request.Context(), v.Parts[i], part, &room); err != nil {
			return err
		}
	}
	content, err := s.asFile(v)
	if err != nil {
		return err
	}
	c.Header("Content-Security-Policy", "sandbox; default-src 'none'") // opened here it is a file that somebody takes, and runs nothing
	c.Header("Content-Disposition", disposition(app.FileName(share.Title, "html")))
	c.Data(http.StatusOK, "text/html; charset=utf-8", content)
	return nil
}

// intoFile puts the figures of a chart, its links and its rows into what a file shows of it, as far as there is room.
func (s *Server) intoFile(ctx context.Context, v *partView, part app.Share, room *int) error {
	v.Figures = map[string]string{}
	for _, which := range []app.FigureOf{app.FirstFigure, app.PhoneFigure} {
		encoded, err := s.app.SharedFigure(ctx, part, which)
		if err != nil {
			return err
		}
		if *room -= len(encoded); *room < 0 {
			return &app.Invalid{Message: fmt.Sprintf("this is larger than the %d MB that a single file may be", mostInFile>>20),
				Advice: "open it by its link, or take its rows"}
		}
		v.Figures[string(which)] = base64.StdEncoding.EncodeToString(encoded)
	}
	if part.Linked {
		links, err := s.app.SharedLinks(ctx, part)
		if err != nil {
			return err
		}
		v.Figures["links"] = base64.StdEncoding.EncodeToString(links)
	}
	if !part.GivesRows || part.Rows < 0 {
		return nil
	}
	t, err := s.app.SharedTable(ctx, part)
	if err != nil {
		return err
	}
	var rows bytes.Buffer
	if err := forms["csv"].write(ctx, &rows, t); err == nil && rows.Len() <= mostTableInFile {
		encoded := base64.StdEncoding.EncodeToString(rows.Bytes())
		v.Table = template.URL("data:text/csv;charset=utf-8;base64," + encoded) //nolint:gosec // made here
	}
	return nil
}

// asFile writes a page with its style, fonts and script inside, and a policy that lets nothing else in.
func (s *Server) asFile(v *sharedView) ([]byte, error) {
	style, err := fs.ReadFile(s.assets, "assets/reader.css")
	if err != nil {
		return nil, err
	}
	script, err := fs.ReadFile(s.assets, "assets/reader.js")
	if err != nil {
		return nil, err
	}
	style = otherFonts.ReplaceAll(style, nil)
	style = fontAddress.ReplaceAllFunc(style, func(address []byte) []byte {
		font, err := fs.ReadFile(s.assets, "assets/"+string(fontAddress.FindSubmatch(address)[1]))
		if err != nil {
			return address
		}
		return fmt.Appendf(nil, "url(data:font/woff2;base64,%s)", base64.StdEncoding.EncodeToString(font))
	})
	script = scriptEnd.ReplaceAll(script, []byte(`<\/$1`))
	policy := fmt.Sprintf("default-src 'none'; script-src 'sha256-%s' 'wasm-unsafe-eval'; style-src 'sha256-%s'; "+
		"img-src data: blob:; font-src data:", digest(script), digest(style))
	v.Inside = &inFile{Policy: policy, Style: template.CSS(style), Script: template.JS(script)} //nolint:gosec // both are files of the program
	var out bytes.Buffer
	err = s.pages.templates.ExecuteTemplate(&out, "shared.html", v)
	return out.Bytes(), err
}

func digest(content []byte) string {
	sum := sha256.Sum256(content)
	return base64.StdEncoding.EncodeToString(sum[:])
}

// lookAtShare answers with what a reader would get of a chart.
func (s *Server) lookAtShare(c *gin.Context) {
	var in shareInput
	s.look(c, &in.Body, func(ctx context.Context, who app.Person) (app.Share, []app.Share, error) {
		return s.app.LookAtShare(ctx, who, in.wanted())
	})
}

// lookAtPage answers with what a reader would get of a page.
func (s *Server) lookAtPage(c *gin.Context) {
	var in sharePageInput
	s.look(c, &in.Body, func(ctx context.Context, who app.Person) (app.Share, []app.Share, error) {
		id, err := strconv.ParseInt(c.Param("id"), 10, 64)
		if err != nil {
			return app.Share{}, nil, app.ErrNotFound
		}
		return s.app.LookAtPage(ctx, who, id, in.Body.wanted())
	})
}

// look answers with a share that is not kept, as a page in itself for a frame of the program's own. Its form says what is wanted, as
// the JSON that sharing takes, and the theme.
func (s *Server) look(c *gin.Context, wanted any, made func(context.Context, app.Person) (app.Share, []app.Share, error)) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, mostJSON)
	ctx := c.Request.Context()
	content, policy, err := func() ([]byte, string, error) {
		who, err := person(ctx)
		if err != nil {
			return nil, "", err
		}
		if err := json.Unmarshal([]byte(c.PostForm("wanted")), wanted); err != nil {
			return nil, "", &app.Invalid{Message: "what is wanted cannot be read", Advice: "say it in the field wanted, as JSON"}
		}
		share, parts, err := made(ctx, who)
		if err != nil {
			return nil, "", err
		}
		v, err := s.viewOfParts(ctx, share, parts, func(part app.Share) ([]byte, error) { return part.Figure, nil })
		if err != nil {
			return nil, "", err
		}
		if theme := c.PostForm("theme"); theme == "light" || theme == "dark" {
			v.Theme = theme
		}
		for i, part := range parts {
			one := v.Parts[i]
			one.Figures = map[string]string{string(app.FirstFigure): base64.StdEncoding.EncodeToString(part.Figure),
				string(app.PhoneFigure): base64.StdEncoding.EncodeToString(part.Phone)}
			if one.Linked = len(part.Links) > 0; one.Linked {
				one.Figures["links"] = base64.StdEncoding.EncodeToString(part.Links)
			}
		}
		content, err := s.asFile(v)
		return content, v.Inside.Policy, err
	}()
	if err != nil {
		c.Header("Content-Security-Policy", framedPolicy)
		s.writeWords(c, s.answerFor(ctx, err), "")
		return
	}
	c.Header("Content-Security-Policy", policy+"; sandbox allow-scripts; frame-ancestors 'self'")
	c.Data(http.StatusOK, "text/html; charset=utf-8", content)
}

// framedPolicy lets a page of the program stand in a frame of its own.
var framedPolicy = strings.Replace(contentPolicy, "frame-ancestors 'none'", "frame-ancestors 'self'", 1)

// embedded answers with a share for a frame in a page of somebody else, where the settings let that site have it.
func (s *Server) embedded(c *gin.Context) {
	policy := strings.Replace(contentPolicy, "frame-ancestors 'none'", "frame-ancestors "+s.config.EmbedSites, 1)
	c.Header("Content-Security-Policy", policy)
	c.Header("Cross-Origin-Resource-Policy", "cross-origin")
	share, err := s.app.Shared(c.Request.Context(), c.Param("key"), app.Visitor{})
	if errors.Is(err, app.ErrLocked) { // a frame keeps no proof of a password
		s.writePage(c, http.StatusUnauthorized, "words.html", words{s.pages.version, "This asks for a password",
			"Open it by its link, and say the password there: " + originOf(c.Request.Context()) + "/s/" + share.Key})
		return
	}
	if err != nil {
		s.sharedRefused(c, share, err)
		return
	}
	v, err := s.viewOf(c, share)
	if err != nil {
		s.writeWords(c, s.answerFor(c.Request.Context(), err), "")
		return
	}
	v.Embedded = true
	if theme := c.Query("theme"); theme == "light" || theme == "dark" {
		v.Theme = theme
	}
	s.app.Opened(c.Request.Context(), share)
	s.writePage(c, http.StatusOK, "shared.html", v)
}

// Embedding is how a share is put into a page of somebody else, as oEmbed says.
type Embedding struct {
	Version      string `json:"version" enum:"1.0"`
	Type         string `json:"type" enum:"rich"`
	Provider     string `json:"provider_name"`
	Title        string `json:"title"`
	HTML         string `json:"html"`
	Width        int    `json:"width"`
	Height       int    `json:"height"`
	Thumbnail    string `json:"thumbnail_url,omitempty"`
	ThumbnailX   int    `json:"thumbnail_width,omitempty"`
	ThumbnailY   int    `json:"thumbnail_height,omitempty"`
	CacheSeconds int    `json:"cache_age"`
}

// The size of an embedded share where nothing is said, and of the picture for previews.
const (
	embedWidth, embedHeight     = 900, 620
	previewWidth, previewHeight = 1200, 630
)

// oembed answers whoever found the address of a share with how it is embedded.
func (s *Server) oembed(c *gin.Context) {
	ctx := c.Request.Context()
	_, key, _ := strings.Cut(c.Query("url"), "/s/")
	key, _, _ = strings.Cut(key, "?")
	if form := c.Query("format"); form != "" && form != "json" {
		s.refuse(c.Writer, ctx, &app.Invalid{Message: "only JSON is answered here", Advice: "ask with format=json"})
		return
	}
	share, err := s.app.Shared(ctx, key, app.Visitor{})
	if err != nil {
		s.refuse(c.Writer, ctx, err)
		return
	}
	width, height := embedWidth, embedHeight
	if most, err := strconv.Atoi(c.Query("maxwidth")); err == nil && most > 0 {
		width = min(width, most)
	}
	if most, err := strconv.Atoi(c.Query("maxheight")); err == nil && most > 0 {
		height = min(height, most)
	}
	e := Embedding{Version: "1.0", Type: "rich", Provider: "Copper Lark", Title: share.Title, Width: width, Height: height, CacheSeconds: 300,
		HTML: frameOf(originOf(ctx), share, width, height)}
	if share.Previewed {
		e.Thumbnail, e.ThumbnailX, e.ThumbnailY = originOf(ctx)+"/s/"+share.Key+"/preview.png", previewWidth, previewHeight
	}
	writeJSON(c.Writer, http.StatusOK, e)
}

// frameOf is the frame that shows a share in a page of somebody else.
func frameOf(origin string, share app.Share, width, height int) string {
	return fmt.Sprintf(`<iframe src="%s/embed/%s" title="%s" width="%d" height="%d" frameborder="0" loading="lazy"></iframe>`,
		origin, share.Key, template.HTMLEscapeString(share.Title), width, height)
}

// embedScript answers with the script that makes frames as high as what they show.
func (s *Server) embedScript(c *gin.Context) {
	script, _ := pageFiles.ReadFile("pages/embed.js")
	c.Header("Cross-Origin-Resource-Policy", "cross-origin")
	c.Header("Cache-Control", sharedPictureAge)
	c.Data(http.StatusOK, "text/javascript; charset=utf-8", script)
}

// sharedPreview answers with the picture for previews of a link.
func (s *Server) sharedPreview(c *gin.Context, share app.Share) error {
	picture, err := s.app.SharedPreview(c.Request.Context(), share)
	if err == nil {
		c.Header("Cache-Control", sharedPictureAge)
		c.Header("Cross-Origin-Resource-Policy", "cross-origin")
		c.Data(http.StatusOK, "image/png", picture)
	}
	return err
}
