package app

import (
	"bytes"
	"context"
	"fmt"
	"slices"

	"copperlark/core/draw/pen/svg"
	"copperlark/core/figure"
	"copperlark/core/render"
)

// SharedPaper is what a picture of a share is asked for.
type SharedPaper struct {
	Format string
	Width  int    // of a PNG, in pixels
	Look   string // light, dark or ink
	Paper  string // of a page as PDF: a4 or wide
	Clear  bool   // without paper behind it
}

type sharedDrawingKey struct {
	share int64
	of    string
	paper SharedPaper
}

// SharedDrawing draws a share into a file, from nothing but what it publishes: a chart with its title, its keys and its note;
// of a page its first chart or, as PDF, all of it.
func (a *App) SharedDrawing(ctx context.Context, share Share, paper SharedPaper) ([]byte, error) {
	if paper.Format != "png" {
		paper.Width = 0
	}
	key := sharedDrawingKey{share.ID, share.MadeOf, paper}
	if drawn, held := a.held.Get(key); held {
		return drawn.([]byte), nil
	}
	parts, err := a.SharedParts(ctx, share)
	if err != nil {
		return nil, err
	}
	if share.Contents != nil && paper.Format == "pdf" {
		return a.pagePDF(ctx, share, parts, paper)
	}
	if len(parts) == 0 {
		return nil, &Invalid{Message: "this page has no chart to draw", Advice: "open it, or take it as a file"}
	}
	encoded, err := a.SharedFigure(ctx, parts[0], FirstFigure)
	if err != nil {
		return nil, err
	}
	f, _, err := figure.Decode(encoded)
	if err != nil {
		return nil, err
	}
	ctx, leave, err := a.begin(ctx, "a picture of a share", int64(max(parts[0].Rows, 0))+int64(paper.Width*paper.Width)/pixelsAWeight)
	if err != nil {
		return nil, err
	}
	defer leave()
	var out bytes.Buffer
	o := render.Options{Look: paper.Look, Fonts: svg.Embedded, Title: share.Title, Clock: share.CreatedAt.UTC(), Metrics: a.metrics,
		Scale: float64(paper.Width) / f.Width, Clear: paper.Clear}
	heading := share.Title
	if share.ParentID != 0 && !share.Earlier {
		heading = "" // it stands beside its text
	}
	if err := render.Figure(ctx, f, heading, render.FormatNamed(paper.Format), o, &out); err != nil {
		return nil, &Invalid{Message: err.Error(), Advice: "ask for light, dark or ink"}
	}
	a.held.Put(key, out.Bytes(), int64(out.Len()))
	return out.Bytes(), nil
}

// pagePDF writes all of a shared page onto paper.
func (a *App) pagePDF(ctx context.Context, share Share, parts []Share, paper SharedPaper) ([]byte, error) {
	on := slices.IndexFunc(render.StoryPapers, func(p render.StoryPaper) bool { return p.Name == paper.Paper })
	if on < 0 && paper.Paper != "" {
		return nil, &Invalid{Message: fmt.Sprintf("there is no paper %q", paper.Paper), Advice: "say a4 or wide"}
	}
	rows := 0
	for _, part := range parts {
		rows += max(part.Rows, 0)
	}
	ctx, leave, err := a.begin(ctx, "a page as PDF", int64(rows))
	if err != nil {
		return nil, err
	}
	defer leave()
	s := &render.Story{Title: share.Title, Lead: share.Body, Source: "Shared by " + share.SpaceName + " on " +
		share.CreatedAt.UTC().Format("2 January 2006") + ". Made with Copper Lark."}
	for _, b := range share.Contents.Blocks {
		block := render.StoryBlock{Text: b.Text, Above: b.Place == "above"}
		if at := slices.IndexFunc(parts, func(p Share) bool { return p.Block == b.ID }); at >= 0 {
			encoded, err := a.SharedFigure(ctx, parts[at], FirstFigure)
			if err != nil {
				return nil, err
			}
			if block.Figure, _, err = figure.Decode(encoded); err != nil {
				return nil, err
			}
		}
		s.Blocks = append(s.Blocks, block)
	}
	var out bytes.Buffer
	err = render.WriteStory(ctx, s, render.StoryPapers[max(on, 0)], render.Options{Look: paper.Look, Metrics: a.metrics,
		Clock: share.CreatedAt.UTC()}, &out)
	return out.Bytes(), err
}
