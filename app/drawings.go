package app

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"

	"copperlark/core/chart"
	"copperlark/core/draw/pen/svg"
	"copperlark/core/mark"
	"copperlark/core/page"
	"copperlark/core/render"
	"copperlark/core/words"
)

// Paper is what a drawing is asked for.
type Paper struct {
	Format string  `json:"format" doc:"a form that charts are saved in: svg, png or pdf"`
	Width  float64 `json:"width,omitempty" minimum:"0" maximum:"8000" doc:"of the paper, in pixels; 0 is 900"`
	Height float64 `json:"height,omitempty" minimum:"0" maximum:"8000" doc:"0 is 560"`
	Scale  float64 `json:"scale,omitempty" minimum:"0" maximum:"8" doc:"of a PNG: pixels a pixel of the paper"`
	Look   string  `json:"look,omitempty" enum:"light,dark,ink"`
	Clear  bool    `json:"clear,omitempty" doc:"without paper: what lies below is seen"`
	Fonts  string  `json:"fonts,omitempty" enum:"named,embedded,outlines" doc:"of an SVG: named for whoever has them, in the file, or letters as outlines"`
}

// Drawing is a file of a drawn chart.
type Drawing struct {
	Name, Type string
	Content    []byte
}

// Export draws a chart into a file.
func (a *App) Export(ctx context.Context, spaceID, versionID int64, document *chart.Document, paper Paper) (out *Drawing, err error) {
	format := render.FormatNamed(paper.Format)
	if format == nil {
		return nil, &Invalid{Message: fmt.Sprintf("a chart cannot be written as %s", paper.Format),
			Advice: "say " + words.Or(render.FormatNames())}
	}
	width, height := render.OnPaper(document, paper.Width, paper.Height)
	pixels := max(render.Pixels(format, width, height, paper.Scale)-lightPixels, 0)
	ctx = heavier(ctx, pixels/pixelsAWeight)
	err = a.onSpelled(ctx, spaceID, versionID, "a drawing", 2*weightOf(document, ""), func(ctx context.Context, t *shown, d Dataset) error {
		bound, err := t.suits(document)
		if err != nil {
			return err
		}
		name := nameOf(bound)
		var content bytes.Buffer
		problems, err := render.Chart(
			ctx,
			bound,
			format,
			render.Options{
				Width:   paper.Width,
				Height:  paper.Height,
				Scale:   paper.Scale,
				Look:    paper.Look,
				Clear:   paper.Clear,
				Fonts:   svg.Fonts(paper.Fonts),
				Title:   name,
				Clock:   a.now().UTC(),
				Metrics: a.metrics,
				Dataset: a.others(spaceID),

				Elsewhere: a.wholeOf(ctx, spaceID, t, d),
			},
			&content,
		)
		if problems != nil {
			return refused(problems)
		}
		out = &Drawing{Name: FileName(name, format.Name), Type: format.Type, Content: content.Bytes()}
		return err
	})
	return out, err
}

// The sizes that small pictures are drawn in.
const smallestPicture, largestPicture = 40, 800

// pictureKey is what a small picture is held by: what it shows.
type pictureKey struct {
	version  int64
	document string
	size     SmallSize
}

func smallKey(versionID int64, document *chart.Document, size SmallSize) (pictureKey, error) {
	size.Width, size.Height = min(max(size.Width, smallestPicture), largestPicture), min(max(size.Height, smallestPicture), largestPicture)
	said, err := json.Marshal(document)
	return pictureKey{versionID, string(said), size}, err
}

// Picture gives the small picture of a step of a chart, or of where it stands (0), as SVG.
func (a *App) Picture(ctx context.Context, spaceID, chartID, stepID int64, size SmallSize) (drawn []byte, err error) {
	kept, err := a.chartAt(ctx, spaceID, page.ShownChart{ID: chartID, Step: stepID})
	if err != nil {
		return nil, err
	}
	key, err := smallKey(kept.VersionID, kept.Document, size)
	if err != nil {
		return nil, err
	}
	if drawn, held := a.held.Get(key); held {
		return drawn.([]byte), nil
	}
	err = a.onSpelled(ctx, spaceID, kept.VersionID, "a small picture", weighPicture, func(ctx context.Context, t *shown, _ Dataset) error {
		bound, err := t.stated(kept.Document, "")
		if err != nil {
			return err
		}
		drawn, err = a.small(ctx, key, bound)
		return err
	})
	return drawn, err
}

// small draws the small picture of what is stated, or gives the one that is held. The
// picture of what cannot be drawn is empty.
func (a *App) small(ctx context.Context, key pictureKey, bound *mark.Bound) ([]byte, error) {
	if drawn, held := a.held.Get(key); held {
		return drawn.([]byte), nil
	}
	var content bytes.Buffer
	problems, err := render.Small(ctx, bound, float64(key.size.Width), float64(key.size.Height), a.metrics, &content)
	if problems != nil {
		content.Reset()
		fmt.Fprintf(&content, `<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d"/>`, key.size.Width, key.size.Height)
	}
	if err != nil {
		return nil, err
	}
	a.held.Put(key, content.Bytes(), int64(content.Len()+len(key.document)))
	return content.Bytes(), nil
}
