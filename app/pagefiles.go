package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"copperlark/core/page"
	"copperlark/core/sentence"
)

// PageFile is a page as a file made it.
type PageFile struct {
	Page    Page
	Charts  int      // how many were made anew
	Missing []string // words in double brackets that no reading said
}

// WritePageFile makes a page of a file, or makes a page what a file says (see page.Read). A chart of the page whose dataset and
// sentence are what the file says stays the chart that it is; others are made.
func (a *App) WritePageFile(ctx context.Context, person Person, id int64, source string) (out PageFile, err error) {
	file, err := page.Read(source)
	if err != nil {
		return out, invalidPage(err)
	}
	var before *page.Contents
	if id != 0 {
		kept, err := a.store.Page(ctx, person.SpaceID, id)
		if err != nil {
			return out, err
		}
		before = kept.Contents
	}
	contents := &page.Contents{Version: page.Version, Title: file.Title, Lead: file.Lead, Blocks: []page.Block{}}
	if before != nil {
		contents.SameAxes = before.SameAxes // which the file does not speak of
	}
	if len(file.Parts) > page.MostBlocks {
		return out, &Invalid{Message: fmt.Sprintf("the file has more than %d blocks", page.MostBlocks), Advice: "write it as two pages"}
	}
	w := &fileWriter{App: a, person: person, before: before}
	for i, part := range file.Parts {
		b := page.Block{ID: fmt.Sprintf("file-%d", i+1), Text: part.Text, Place: part.Place, Chart: part.Shown}
		if part.Typed != "" {
			if b.Chart, err = w.chart(ctx, part, titleOf(&b, file.Title)); err != nil {
				return out, err
			}
		}
		if b.Chart != nil && strings.Contains(b.Text, "[[") {
			picture, _, err := a.DrawStep(ctx, person.SpaceID, Side{ShownChart: *b.Chart}, PartSize{})
			if err != nil {
				return out, err
			}
			var missing []string
			b.Text, missing = page.PutIn(b.Text, picture.Reading.Said())
			out.Missing = append(out.Missing, missing...)
		}
		contents.Blocks = append(contents.Blocks, b)
	}
	out.Charts = w.made
	if id == 0 {
		out.Page, err = a.AddPage(ctx, person, contents)
	} else {
		out.Page, _, err = a.WritePage(ctx, person, id, before, contents)
	}
	return out, err
}

// invalidPage is what is wrong with a page as the program says it; nil stays nil.
func invalidPage(err error) error {
	var problem *page.Problem
	if errors.As(err, &problem) {
		return &Invalid{Message: problem.Message, Advice: problem.Advice}
	}
	return err
}

// fileWriter makes the charts of a file.
type fileWriter struct {
	*App
	person   Person
	before   *page.Contents
	datasets []Dataset
	used     []int64 // charts of the page before that stand again
	made     int
}

// chart is the chart that a part says: one that the page had, or a new one.
func (w *fileWriter) chart(ctx context.Context, part page.Part, name string) (*page.ShownChart, error) {
	dataset, err := w.dataset(ctx, part)
	if err != nil {
		return nil, err
	}
	document, _, err := w.Stated(ctx, w.person.SpaceID, dataset.VersionID, nil, part.Typed)
	var unfit *Invalid
	if errors.As(err, &unfit) {
		line := part.Line
		if len(unfit.Mistakes) > 0 {
			line += unfit.Mistakes[0].Line
		}
		return nil, &Invalid{Message: fmt.Sprintf("line %d: %s", line, unfit.Message), Advice: unfit.Advice}
	}
	if err != nil {
		return nil, err
	}
	if w.before != nil {
		for _, b := range w.before.Blocks {
			if b.Chart == nil || b.Chart.Step != 0 || slices.Contains(w.used, b.Chart.ID) {
				continue
			}
			kept, err := w.store.ChartHead(ctx, w.person.SpaceID, b.Chart.ID)
			if err == nil && kept.DatasetID == dataset.ID && sentence.Print(kept.Document) == sentence.Print(document) {
				w.used = append(w.used, kept.ID)
				return &page.ShownChart{ID: kept.ID}, nil
			}
		}
	}
	kept, err := w.AddChart(ctx, w.person, dataset.VersionID, short(name, longestName), document)
	w.made++
	return &page.ShownChart{ID: kept.ID}, err
}

// dataset finds the dataset of a part by its name, the newest of several.
func (w *fileWriter) dataset(ctx context.Context, part page.Part) (Dataset, error) {
	if w.datasets == nil {
		var err error
		if w.datasets, err = w.store.Datasets(ctx, w.person.SpaceID); err != nil {
			return Dataset{}, err
		}
	}
	at := slices.IndexFunc(w.datasets, func(d Dataset) bool { return strings.EqualFold(d.Name, part.Dataset) })
	if at < 0 {
		return Dataset{}, &Invalid{
			Message: fmt.Sprintf("line %d: there is no dataset “%s” in this space", part.Line, short(part.Dataset, 100)),
			Advice:  "write its name as the front page has it",
		}
	}
	return w.datasets[at], nil
}

// PageMarkdown writes a page as a file.
func (a *App) PageMarkdown(ctx context.Context, spaceID, id int64) (string, Page, error) {
	kept, err := a.store.Page(ctx, spaceID, id)
	if err != nil {
		return "", kept, err
	}
	return kept.Contents.Markdown(func(shown page.ShownChart) (dataset, typed string, known bool) {
		c, err := a.store.ChartHead(ctx, spaceID, shown.ID)
		return c.DatasetName, sentence.Print(c.Document), err == nil
	}), kept, nil
}

// ListPages gives a part of a space's pages.
func (a *App) ListPages(ctx context.Context, spaceID int64, wanted ListWanted) (Listed[Page], error) {
	all, err := a.store.Pages(ctx, spaceID)
	slices.SortFunc(all, func(a, b Page) int { return int(b.ID - a.ID) })
	return partOf(all, wanted, func(p Page) int64 { return p.ID }, func(p Page) string { return p.Contents.Title }), err
}
