package app

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"copperlark/core/figure"
	"copperlark/core/page"
)

// EventPage is what other programs are told of: a page changed.
const EventPage = "page.changed"

// Page is a story of texts and charts.
type Page struct {
	ID        int64          `json:"id"`
	Revision  int64          `json:"revision" doc:"counts what was kept"`
	Contents  *page.Contents `json:"contents"`
	By        string         `json:"by" doc:"who made it"`
	ChangedBy string         `json:"changed_by"`
	CreatedAt time.Time      `json:"created_at"`
	ChangedAt time.Time      `json:"changed_at"`
}

// PageVersion is how a page was.
type PageVersion struct {
	ID       int64          `json:"id"`
	Title    string         `json:"title"`
	By       string         `json:"by"`
	At       time.Time      `json:"at"`
	Contents *page.Contents `json:"contents,omitempty"`
}

// How many earlier versions of a page are kept, and for how long one person's writing is one version.
const (
	MostPageVersions = 200
	oneVersion       = 10 * time.Minute
	mostPages        = 20_000 // of a space
)

// PageStorage is what the program keeps of pages.
type PageStorage interface {
	AddPage(ctx context.Context, spaceID, personID int64, contents *page.Contents) (Page, error)
	Pages(ctx context.Context, spaceID int64) ([]Page, error)
	CountPages(ctx context.Context, spaceID int64) (int, error)
	Page(ctx context.Context, spaceID, id int64) (Page, error)
	WritePage(ctx context.Context, spaceID, id, personID int64, while time.Duration,
		write func(kept *page.Contents) (*page.Contents, error)) (written Page, earlier bool, err error)
	DropPage(ctx context.Context, spaceID, id int64) error
	PageVersions(ctx context.Context, pageID int64) ([]PageVersion, error)
	PageVersion(ctx context.Context, pageID, id int64) (PageVersion, error)
}

// checkedPage refuses a contents that cannot be kept, or that names a chart which is not of the space.
func (a *App) checkedPage(ctx context.Context, spaceID int64, contents *page.Contents, known ...*page.Contents) error {
	if contents == nil {
		return &Invalid{Message: "there is no page in what was sent", Advice: "send its contents"}
	}
	if err := contents.Check(); err != nil {
		return invalidPage(err)
	}
	for _, b := range contents.Blocks {
		if b.Chart == nil || slices.ContainsFunc(known, func(d *page.Contents) bool { return showsChart(d, *b.Chart) }) {
			continue
		}
		if _, err := a.chartAt(ctx, spaceID, *b.Chart); errors.Is(err, ErrNotFound) {
			return &Invalid{Message: "a block shows a chart that is not in this space",
				Advice: "put a chart of the space there, or take the block out"}
		} else if err != nil {
			return err
		}
	}
	return nil
}

func showsChart(d *page.Contents, c page.ShownChart) bool {
	return d != nil && slices.ContainsFunc(d.Blocks, func(b page.Block) bool { return b.Chart != nil && *b.Chart == c })
}

// chartAt is a chart as a block shows it: its document and its version are those of the step.
func (a *App) chartAt(ctx context.Context, spaceID int64, of page.ShownChart) (Chart, error) {
	kept, err := a.store.ChartHead(ctx, spaceID, of.ID)
	if err != nil || of.Step == 0 || of.Step == kept.HeadStepID {
		return kept, err
	}
	kept.Document, kept.VersionID, err = a.store.Step(ctx, spaceID, of.ID, of.Step)
	return kept, err
}

// AddPage keeps a new page; nil: an empty one.
func (a *App) AddPage(ctx context.Context, person Person, contents *page.Contents) (Page, error) {
	if contents == nil {
		contents = &page.Contents{Version: page.Version, Blocks: []page.Block{}}
	}
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Page{}, err
	}
	if err := a.checkedPage(ctx, person.SpaceID, contents); err != nil {
		return Page{}, err
	}
	there, err := a.store.CountPages(ctx, person.SpaceID)
	if err != nil {
		return Page{}, err
	}
	if there >= mostPages {
		return Page{}, &Full{"the space has as many pages as it may", "delete pages that nobody needs"}
	}
	return a.store.AddPage(ctx, person.SpaceID, person.ID, contents)
}

// Pages lists the pages of a space in which every word that is looked for stands; the last changed first.
func (a *App) Pages(ctx context.Context, spaceID int64, find string) ([]Page, error) {
	list, err := a.store.Pages(ctx, spaceID)
	words := strings.Fields(strings.ToLower(find))
	return slices.DeleteFunc(list, func(g Page) bool {
		all := strings.ToLower(wordsOfPage(g.Contents) + "\n" + g.By)
		return slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(all, w) })
	}), err
}

func wordsOfPage(d *page.Contents) string {
	words := []string{d.Title, d.Lead}
	for _, b := range d.Blocks {
		words = append(words, page.Plain(b.Text))
	}
	return strings.Join(words, "\n")
}

// Page gives a page.
func (a *App) Page(ctx context.Context, spaceID, id int64) (Page, error) {
	return a.store.Page(ctx, spaceID, id)
}

// WritePage keeps what somebody made of a page: base is what they began with. What others kept meanwhile stays (see
// page.Merge); twice is of how many blocks both versions are kept.
func (a *App) WritePage(ctx context.Context, person Person, id int64, base, mine *page.Contents) (written Page, twice int, err error) {
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Page{}, 0, err
	}
	there, err := a.store.Page(ctx, person.SpaceID, id)
	if err != nil {
		return Page{}, 0, err
	}
	if base == nil {
		base = there.Contents
	}
	if err := a.checkedPage(ctx, person.SpaceID, mine, there.Contents); err != nil {
		return Page{}, 0, err
	}
	written, earlier, err := a.store.WritePage(ctx, person.SpaceID, id, person.ID, oneVersion,
		func(kept *page.Contents) (*page.Contents, error) {
			var merged *page.Contents
			merged, twice = page.Merge(base, mine, kept)
			return merged, invalidPage(merged.Check())
		})
	if err == nil && earlier {
		a.happened(ctx, person.SpaceID, EventPage, map[string]any{"page": id, "title": written.Contents.Title, "revision": written.Revision})
	}
	return written, twice, err
}

// DropPage deletes a page; what is shared of it stays until it is withdrawn.
func (a *App) DropPage(ctx context.Context, person Person, id int64) error {
	there, err := a.store.Page(ctx, person.SpaceID, id)
	if err != nil {
		return err
	}
	if err := a.store.DropPage(ctx, person.SpaceID, id); err != nil {
		return err
	}
	a.did(ctx, person, didDelete, "the page “"+there.Contents.Title+"”")
	return nil
}

// PageVersions lists how a page was.
func (a *App) PageVersions(ctx context.Context, spaceID, id int64) ([]PageVersion, error) {
	if _, err := a.store.Page(ctx, spaceID, id); err != nil {
		return nil, err
	}
	return a.store.PageVersions(ctx, id)
}

// PageVersion gives what a page said.
func (a *App) PageVersion(ctx context.Context, spaceID, id, version int64) (PageVersion, error) {
	if _, err := a.store.Page(ctx, spaceID, id); err != nil {
		return PageVersion{}, err
	}
	return a.store.PageVersion(ctx, id, version)
}

// Followed is a page whose tied words are what its charts say now, with what changed.
type Followed struct {
	Contents *page.Contents   `json:"contents"`
	Changes  []page.TieChange `json:"changes" nullable:"false"`
}

// FollowPage makes the tied words of a contents what its charts say now. Nothing is kept. A chart that cannot be drawn any more
// says nothing.
func (a *App) FollowPage(ctx context.Context, spaceID int64, contents *page.Contents) (Followed, error) {
	out := Followed{contents.Clone(), []page.TieChange{}}
	for i := range out.Contents.Blocks {
		b := &out.Contents.Blocks[i]
		if len(page.Ties(b.Text)) == 0 {
			continue
		}
		said := map[string]string{}
		if b.Chart != nil {
			picture, _, err := a.DrawStep(ctx, spaceID, Side{ShownChart: *b.Chart}, PartSize{})
			var unfit *Invalid
			switch {
			case err == nil:
				said = picture.Reading.Said()
			case !errors.As(err, &unfit) && !errors.Is(err, ErrNotFound):
				return out, err
			}
		}
		var changes []page.TieChange
		b.Text, changes = page.Follow(b.Text, said)
		for _, c := range changes {
			c.Block = b.ID
			out.Changes = append(out.Changes, c)
		}
	}
	return out, nil
}

// PartSize is what a chart of a page is drawn for: how large, 0 as usual, and with which ends of its axes.
type PartSize struct {
	Width, Height float64
	Together      figure.Together
}

// DrawStep draws a chart as it is at a step, or where it stands, with the statements of its reading.
func (a *App) DrawStep(
	ctx context.Context,
	spaceID int64,
	of Side,
	size PartSize,
) (picture *Picture, kept Chart, err error) {
	if kept, err = a.sideAt(ctx, spaceID, of); err != nil {
		return nil, kept, err
	}
	err = a.onSpelled(ctx, spaceID, kept.VersionID, "a chart of a page", weightOf(kept.Document, ""),
		func(ctx context.Context, t *shown, d Dataset) error {
			document, err := a.sharing(ctx, spaceID, of, kept.Document, size.Together)
			if err != nil {
				return err
			}
			bound, err := t.stated(document, "")
			if err != nil {
				return err
			}
			options := figure.Options{Width: size.Width, Height: size.Height, Metrics: a.metrics, Dataset: a.others(spaceID),
				Elsewhere: a.wholeOf(ctx, spaceID, t, d)}
			picture, err = draw(ctx, bound, options)
			if err == nil {
				picture.GoesOut = goesOut(bound.Document, t.Table)
				picture.Said = picture.Reading.Statements()
				picture.Of = &kept
			}
			return err
		})
	return picture, kept, err
}
