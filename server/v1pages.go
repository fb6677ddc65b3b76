package server

import (
	"context"
	"fmt"
	"net/http"
	"path"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"copperlark/app"
	story "copperlark/core/page"
)

// KeptPage is a page as a script knows it.
type KeptPage struct {
	ID       int64           `json:"id"`
	Title    string          `json:"title"`
	Revision int64           `json:"revision" doc:"counts what was kept"`
	Address  string          `json:"address" doc:"where people open it"`
	Contents *story.Contents `json:"contents,omitempty" doc:"not in lists"`
	Charts   int             `json:"charts_made,omitempty" doc:"of a file: how many charts were made"`
	Missing  []string        `json:"missing,omitempty" doc:"of a file: words in double brackets that no reading said"`
}

func (s *Server) keptPage(ctx context.Context, who app.Person, g app.Page) KeptPage {
	return KeptPage{ID: g.ID, Title: g.Contents.Title, Revision: g.Revision, Address: fmt.Sprintf("%s/page/%d", s.atSpace(ctx, who), g.ID)}
}

func (s *Server) listPages(ctx context.Context, who app.Person, in *ListInput) (*body[app.Listed[KeptPage]], error) {
	list, err := s.app.ListPages(ctx, who.SpaceID, in.wanted())
	out := app.Listed[KeptPage]{Items: []KeptPage{}, Next: list.Next}
	for _, g := range list.Items {
		out.Items = append(out.Items, s.keptPage(ctx, who, g))
	}
	return of(out), err
}

// PageSource is a page as Markdown whose fenced lark blocks are charts.
type PageSource struct {
	Markdown string `json:"markdown" maxLength:"500000"`
}

type pageSourceInput struct{ Body PageSource }

type pageAgainInput struct {
	Page int64 `path:"page"`
	Body PageSource
}

func (s *Server) newPage(ctx context.Context, who app.Person, in *pageSourceInput) (*body[KeptPage], error) {
	return s.pageOfFile(ctx, who, 0, in.Body.Markdown)
}

func (s *Server) pageAgain(ctx context.Context, who app.Person, in *pageAgainInput) (*body[KeptPage], error) {
	if in.Page <= 0 {
		return nil, app.ErrNotFound
	}
	return s.pageOfFile(ctx, who, in.Page, in.Body.Markdown)
}

func (s *Server) pageOfFile(ctx context.Context, who app.Person, id int64, markdown string) (*body[KeptPage], error) {
	made, err := s.app.WritePageFile(ctx, who, id, markdown)
	if err != nil {
		return nil, err
	}
	kept := s.keptPage(ctx, who, made.Page)
	kept.Contents, kept.Charts, kept.Missing = made.Page.Contents, made.Charts, made.Missing
	return of(kept), nil
}

// pageFile answers with a page or, as the ending says, its Markdown.
func (s *Server) pageFile(c *gin.Context) {
	ctx := c.Request.Context()
	name := c.Param("page")
	ending := path.Ext(name)
	id, err := strconv.ParseInt(strings.TrimSuffix(name, ending), 10, 64)
	who, whoErr := person(ctx)
	switch {
	case whoErr != nil:
		err = whoErr
	case err != nil || ending != "" && ending != ".md":
		err = app.ErrNotFound
	default:
		var markdown string
		var kept app.Page
		if markdown, kept, err = s.app.PageMarkdown(ctx, who.SpaceID, id); err != nil {
			break
		}
		if ending == ".md" {
			c.Data(http.StatusOK, "text/markdown; charset=utf-8", []byte(markdown))
			return
		}
		one := s.keptPage(ctx, who, kept)
		one.Contents = kept.Contents
		writeJSON(c.Writer, http.StatusOK, one)
		return
	}
	s.refuse(c.Writer, ctx, err)
}

type sharePageByKeyInput struct {
	Page int64 `path:"page"`
	Body sharedPage
}

func (s *Server) sharePageByKey(ctx context.Context, who app.Person, in *sharePageByKeyInput) (*body[SharedChart], error) {
	share, err := s.app.SharePage(ctx, who, in.Page, in.Body.wanted())
	return of(sharedChart(ctx, share)), err
}
