package server

import (
	"context"

	"copperlark/app"
	story "copperlark/core/page"
)

type findPagesInput struct {
	Find string `query:"find" maxLength:"300" doc:"words that must stand in a page, in any order"`
}

// ListedPage is a page in a list: its title, and what it shows.
type ListedPage struct {
	ID        int64              `json:"id"`
	Title     string             `json:"title"`
	Lead      string             `json:"lead"`
	By        string             `json:"by"`
	ChangedAt string             `json:"changed_at"`
	Charts    []story.ShownChart `json:"charts" nullable:"false" doc:"those that it shows first, four at most"`
	Blocks    int                `json:"blocks"`
}

const listedCharts = 4

func (s *Server) storyPages(ctx context.Context, who app.Person, in *findPagesInput) (*body[[]ListedPage], error) {
	list, err := s.app.Pages(ctx, who.SpaceID, in.Find)
	out := []ListedPage{}
	for _, g := range list {
		one := ListedPage{ID: g.ID, Title: g.Contents.Title, Lead: g.Contents.Lead, By: g.By, Charts: []story.ShownChart{},
			Blocks:    len(g.Contents.Blocks),
			ChangedAt: g.ChangedAt.UTC().Format("2006-01-02T15:04:05Z")}
		for _, b := range g.Contents.Blocks {
			if b.Chart != nil && len(one.Charts) < listedCharts {
				one.Charts = append(one.Charts, *b.Chart)
			}
		}
		out = append(out, one)
	}
	return of(out), err
}

type newPageInput struct {
	Body struct {
		Contents *story.Contents `json:"contents,omitempty" doc:"missing: an empty page"`
	}
}

func (s *Server) addPage(ctx context.Context, who app.Person, in *newPageInput) (*body[app.Page], error) {
	made, err := s.app.AddPage(ctx, who, in.Body.Contents)
	return of(made), err
}

func (s *Server) storyPage(ctx context.Context, who app.Person, in *idInput) (*body[app.Page], error) {
	got, err := s.app.Page(ctx, who.SpaceID, in.ID)
	return of(got), err
}

type writePageInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Base     *story.Contents `json:"base,omitempty" doc:"what it was made from: what others kept since stays; missing: what is kept now"`
		Contents *story.Contents `json:"contents"`
	}
}

// WrittenPage is a page as it is kept after it was written.
type WrittenPage struct {
	app.Page
	Twice int `json:"twice" doc:"how many blocks and lines are kept as both wrote them, since two changed the same one"`
}

func (s *Server) writePageOf(ctx context.Context, who app.Person, in *writePageInput) (*body[WrittenPage], error) {
	written, twice, err := s.app.WritePage(ctx, who, in.ID, in.Body.Base, in.Body.Contents)
	return of(WrittenPage{written, twice}), err
}

func (s *Server) dropPage(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return nil, s.app.DropPage(ctx, who, in.ID)
}

func (s *Server) pageVersions(ctx context.Context, who app.Person, in *idInput) (*body[[]app.PageVersion], error) {
	list, err := s.app.PageVersions(ctx, who.SpaceID, in.ID)
	return of(list), err
}

type pageVersionInput struct {
	ID      int64 `path:"id"`
	Version int64 `path:"version" doc:"of the page's earlier versions"`
}

func (s *Server) pageVersion(ctx context.Context, who app.Person, in *pageVersionInput) (*body[app.PageVersion], error) {
	got, err := s.app.PageVersion(ctx, who.SpaceID, in.ID, in.Version)
	return of(got), err
}

type followInput struct {
	Body struct {
		Contents *story.Contents `json:"contents"`
	}
}

func (s *Server) followPage(ctx context.Context, who app.Person, in *followInput) (*body[app.Followed], error) {
	if in.Body.Contents == nil {
		return nil, &app.Invalid{Message: "there is no page in what was sent", Advice: "send its contents"}
	}
	if err := in.Body.Contents.Check(); err != nil {
		return nil, &app.Invalid{Message: err.Error(), Advice: "keep the page within what it can hold"}
	}
	followed, err := s.app.FollowPage(ctx, who.SpaceID, in.Body.Contents)
	return of(followed), err
}

type stepFigureInput struct {
	ID     int64   `path:"id"`
	Step   int64   `path:"step" doc:"0: where the chart stands"`
	Width  float64 `query:"width" minimum:"0" maximum:"8000" doc:"in pixels; 0: as usual"`
	Height float64 `query:"height" minimum:"0" maximum:"8000" doc:"in pixels; 0: as usual"`
	Page   int64   `query:"page" doc:"a page that shows it: it is drawn with the axes that the charts of this page share; 0: as it is"`
}

func (s *Server) stepFigure(ctx context.Context, who app.Person, in *stepFigureInput) (*figureOutput, error) {
	of, size := story.ShownChart{ID: in.ID, Step: in.Step}, app.PartSize{Width: in.Width, Height: in.Height}
	var picture *app.Picture
	var err error
	if in.Page != 0 {
		picture, err = s.app.DrawPart(ctx, who.SpaceID, in.Page, of, size)
	} else {
		picture, _, err = s.app.DrawStep(ctx, who.SpaceID, app.Side{ShownChart: of}, size)
	}
	if err != nil {
		return nil, err
	}
	encoded, err := picture.Encode()
	return figureOf(encoded), err
}
