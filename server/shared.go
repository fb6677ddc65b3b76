package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"path"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/figure"
	story "copperlark/core/page"
	"copperlark/core/reading"
)

// visitor is who opens a share, with what their browser keeps of passwords that were said.
func visitorOf(c *gin.Context) app.Visitor {
	who, _ := person(c.Request.Context())
	return app.Visitor{Person: who, Token: func(id int64) string {
		token, _ := c.Cookie(shareCookie(id))
		return token
	}}
}

func shareCookie(id int64) string { return fmt.Sprintf("lark_share_%d", id) }

// shareTime is how long a browser need not say the password of a share again, in seconds.
const shareTime = 12 * 60 * 60

// sharedView is what the page of a share shows.
type sharedView struct {
	Version, Key, Title string
	Paragraphs          []string
	Blocks              []blockView
	Parts               []*partView // all charts, in their order
	Sources             []string    // where their rows are from, each once
	Story               bool
	Space, Date         string
	Live                bool
	Changed             string // when a live one last followed; "": it never did
	Earlier             bool   // this is what a live one was earlier
	Until               string
	GivesRows           bool
	TellsMade           bool
	Origin              string
	Previewed           bool
	Embedded            bool
	Theme               string
	Inside              *inFile // of a single file
}

type blockView struct {
	Text  template.HTML
	Place string
	Part  *partView
}

type partView struct {
	Key, Title, Source, Typed, Made, Checked, Words string
	Linked                                          bool
	Table                                           template.URL // of a file: its rows as an address of their own
	Figures                                         map[string]string
}

const sharedDay = "2 January 2006"

// viewOf gathers what the page of a share shows.
func (s *Server) viewOf(c *gin.Context, share app.Share) (*sharedView, error) {
	ctx := c.Request.Context()
	parts, err := s.app.SharedParts(ctx, share)
	if err != nil {
		return nil, err
	}
	return s.viewOfParts(ctx, share, parts, func(part app.Share) ([]byte, error) { return s.app.SharedFigure(ctx, part, app.FirstFigure) })
}

// viewOfParts is the same of charts at hand.
func (s *Server) viewOfParts(
	ctx context.Context,
	share app.Share,
	parts []app.Share,
	figureOf func(app.Share) ([]byte, error),
) (*sharedView, error) {
	v := &sharedView{Version: s.pages.version, Key: share.Key, Title: share.Title, Paragraphs: paragraphs(share.Body), Space: share.SpaceName,
		Date: share.CreatedAt.UTC().Format(sharedDay), Live: share.Live, Earlier: share.Earlier, GivesRows: share.GivesRows,
		TellsMade: share.TellsMade, Story: share.Contents != nil, Origin: originOf(ctx), Previewed: share.Previewed}
	if share.ChangedAt != nil {
		v.Changed = share.ChangedAt.UTC().Format("2 January 2006, 15:04 UTC")
	}
	if share.Until != nil {
		v.Until = share.Until.UTC().Format(sharedDay)
	}
	byBlock := map[string]*partView{}
	for _, part := range parts {
		encoded, err := figureOf(part)
		if err != nil {
			return nil, err
		}
		words, err := wordsOf(encoded)
		if err != nil {
			return nil, err
		}
		one := &partView{Key: part.Key, Title: part.Title, Source: part.Source, Typed: part.Typed, Made: part.Made, Checked: part.Checked,
			Linked: part.Linked, Words: words}
		byBlock[part.Block] = one
		v.Parts = append(v.Parts, one)
		if !slices.Contains(v.Sources, part.Source) {
			v.Sources = append(v.Sources, part.Source)
		}
	}
	if share.Contents == nil {
		v.Blocks = []blockView{{Place: "alone", Part: v.Parts[0]}}
		return v, nil
	}
	for _, b := range share.Contents.Blocks {
		text := template.HTML(story.HTML(b.Text)) //nolint:gosec // story.HTML writes nothing but what Markdown says
		one := blockView{Text: text, Place: b.Place, Part: byBlock[b.ID]}
		if one.Place == "" {
			one.Place = story.Places[0]
		}
		if one.Part == nil || strings.TrimSpace(b.Text) == "" {
			one.Place = "alone"
		}
		v.Blocks = append(v.Blocks, one)
	}
	return v, nil
}

// wordsOf is what the reading of an encoded figure says, in plain words.
func wordsOf(encoded []byte) (string, error) {
	head, err := figure.Head(encoded)
	if err != nil {
		return "", err
	}
	var read reading.Reading
	if err := json.Unmarshal(head["reading"], &read); err != nil {
		return "", err
	}
	return read.Text(), nil
}

// sharedEndings are the forms that a share is taken in by the ending of its address.
var sharedEndings = []string{"html", "pdf", "png", "svg"}

// sharedPage answers with the page of a share or, as the ending of its address says, with a picture or a file of it.
func (s *Server) sharedPage(c *gin.Context) {
	key := c.Param("key")
	ending := strings.TrimPrefix(path.Ext(key), ".")
	if !slices.Contains(sharedEndings, ending) {
		ending = ""
	}
	share, err := s.app.Shared(c.Request.Context(), strings.TrimSuffix(key, "."+ending), visitorOf(c))
	if err != nil {
		s.sharedRefused(c, share, err)
		return
	}
	if ending != "" {
		if err := s.sharedAs(c, share, ending); err != nil {
			s.refuse(c.Writer, c.Request.Context(), err)
		}
		return
	}
	v, err := s.viewOf(c, share)
	if err != nil {
		s.writeWords(c, s.answerFor(c.Request.Context(), err), "")
		return
	}
	if !share.Earlier {
		s.app.Opened(c.Request.Context(), share)
	}
	s.writePage(c, http.StatusOK, "shared.html", v)
}

// sharedRefused says in words for people why a share does not open.
func (s *Server) sharedRefused(c *gin.Context, share app.Share, err error) {
	say := func(status int, title, text string) {
		s.writePage(c, status, "words.html", words{s.pages.version, title, text})
	}
	what := "chart"
	if share.Contents != nil || share.PageID != 0 {
		what = "page"
	}
	switch {
	case errors.Is(err, app.ErrWithdrawn):
		say(http.StatusGone, "This "+what+" was withdrawn", "Whoever shared it has taken it back. Ask them for a new link if you still need it.")
	case errors.Is(err, app.ErrShareOver):
		say(http.StatusGone, "This "+what+" is shared no longer", "It was shared until "+share.Until.UTC().Format(sharedDay)+
			". Ask whoever sent it if you still need it.")
	case errors.Is(err, app.ErrPeopleOnly):
		say(http.StatusUnauthorized, "Only people of its space open this",
			"Sign in to Copper Lark, and open the link again. If you are signed in, ask an owner of the space to invite you.")
	case errors.Is(err, app.ErrLocked):
		s.writePage(c, http.StatusUnauthorized, "locked.html", lockedView{s.pages.version, "/s/" + share.Key, false})
	case errors.Is(err, app.ErrNotFound):
		say(http.StatusNotFound, "There is no chart here",
			"The address may be cut short, or the chart was never shared. Check the link, or ask whoever sent it.")
	default:
		s.writeWords(c, s.answerFor(c.Request.Context(), err), "")
	}
}

type lockedView struct {
	Version, To string
	Wrong       bool
}

// unlockCost is what saying a password costs, beside one request.
const unlockCost = 20

// unlock takes the password of a share from its form.
func (s *Server) unlock(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, 4<<10)
	key := c.Param("key")
	share, token, err := s.app.Unlock(c.Request.Context(), key, c.PostForm("password"))
	switch {
	case errors.Is(err, app.ErrWrongPassword):
		s.writePage(c, http.StatusUnauthorized, "locked.html", lockedView{s.pages.version, "/s/" + key, true})
	case err != nil:
		s.sharedRefused(c, share, err)
	default:
		http.SetCookie(c.Writer, &http.Cookie{Name: shareCookie(share.Root()), Value: token, Path: "/s/", MaxAge: shareTime, HttpOnly: true,
			Secure: s.config.TLS, SameSite: http.SameSiteLaxMode})
		c.Redirect(http.StatusSeeOther, "/s/"+share.Key)
	}
}

// ofShared is a route that gives something of a share.
func (s *Server) ofShared(give func(c *gin.Context, share app.Share) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		share, err := s.app.Shared(c.Request.Context(), c.Param("key"), visitorOf(c))
		if err == nil {
			err = give(c, share)
		}
		if err != nil {
			s.refuse(c.Writer, c.Request.Context(), err)
		}
	}
}

// sharedFigure gives a figure of a shared chart.
func (s *Server) sharedFigure(which app.FigureOf) func(c *gin.Context, share app.Share) error {
	return func(c *gin.Context, share app.Share) error {
		encoded, err := s.app.SharedFigure(c.Request.Context(), share, which)
		if err == nil {
			c.Data(http.StatusOK, figureType, encoded)
		}
		return err
	}
}

// sharedLinks gives what the rows of a chart are called in all charts of its page.
func (s *Server) sharedLinks(c *gin.Context, share app.Share) error {
	links, err := s.app.SharedLinks(c.Request.Context(), share)
	if err == nil {
		c.Data(http.StatusOK, figureType, links)
	}
	return err
}

func (s *Server) sharedRow(c *gin.Context, share app.Share) error {
	row, err := strconv.Atoi(c.Param("row"))
	if err != nil {
		return app.ErrNotFound
	}
	values, err := s.app.SharedRow(c.Request.Context(), share, row-1)
	if err == nil {
		writeJSON(c.Writer, http.StatusOK, values)
	}
	return err
}

// sharedTable sends the rows behind a shared chart as a file.
func (s *Server) sharedTable(form string) func(c *gin.Context, share app.Share) error {
	return func(c *gin.Context, share app.Share) error {
		t, err := s.app.SharedTable(c.Request.Context(), share)
		if err == nil {
			s.send(c, form, share.Title, t)
		}
		return err
	}
}

// ShareState tells an open page whether what it shows was followed by something newer.
type ShareState struct {
	Live bool   `json:"live"`
	Of   string `json:"of" doc:"changes when what is shared does"`
}

func (s *Server) sharedState(c *gin.Context, share app.Share) error {
	of := share.CreatedAt
	if share.ChangedAt != nil {
		of = *share.ChangedAt
	}
	writeJSON(c.Writer, http.StatusOK, ShareState{share.Live, strconv.FormatInt(of.UnixMilli(), 36)})
	return nil
}

// sharedEarlier leads to what a live share was before it followed.
func (s *Server) sharedEarlier(c *gin.Context, share app.Share) error {
	earlier, err := s.app.EarlierShare(c.Request.Context(), share)
	if err == nil {
		c.Redirect(http.StatusSeeOther, "/s/"+earlier.Key)
	}
	return err
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
