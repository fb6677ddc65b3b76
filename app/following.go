package app

import (
	"context"
	"errors"
	"fmt"
	"time"

	"copperlark/core/page"
	"copperlark/core/parallel"
)

// How often a live share is looked at for what changed, and how long its copying may take.
const (
	lookAtLive = 2 * time.Second
	afterAMiss = time.Minute // until one that cannot follow is tried again
	copyLive   = 2 * time.Minute
)

// chartTag is what a chart of a share is made of: the step that it shows, and the newest version of its dataset.
func (a *App) chartTag(ctx context.Context, spaceID int64, of page.ShownChart) (tag string, newestVersionID int64, err error) {
	step, version, err := a.store.ChartNow(ctx, spaceID, of.ID)
	if of.Step != 0 {
		step = of.Step
	}
	return fmt.Sprintf("chart %d at %d of %d", of.ID, step, version), version, err
}

// pageTag is what a page of charts is made of, and of each block the newest version of the dataset of its chart; 0: it has none.
func (a *App) pageTag(ctx context.Context, spaceID int64, kept Page) (tag string, newestVersionIDs []int64, err error) {
	tag = fmt.Sprint("page ", kept.Revision)
	newestVersionIDs = make([]int64, len(kept.Contents.Blocks))
	for i, b := range kept.Contents.Blocks {
		if b.Chart == nil {
			continue
		}
		of, version, err := a.chartTag(ctx, spaceID, *b.Chart)
		if err != nil {
			return "", nil, err
		}
		tag += "; " + of
		newestVersionIDs[i] = version
	}
	return tag, newestVersionIDs, nil
}

type lookedKey struct{ share int64 }

// follow looks, now and then, whether a live share is not what is kept any more, and makes it anew beside the request: whoever
// asks meanwhile is answered with what it was.
func (a *App) follow(ctx context.Context, share Share) {
	if !share.Live || share.Earlier {
		return
	}
	root := share.Root()
	if last, held := a.held.Get(lookedKey{root}); held && a.now().Sub(last.(time.Time)) < lookAtLive {
		return
	}
	a.held.Put(lookedKey{root}, a.now(), 1)
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), copyLive)
	parallel.Beside(func() {
		defer cancel()
		_, err, _ := a.follows.Do(fmt.Sprint(root), func() (any, error) { return nil, a.Follow(ctx, share.SpaceID, root) })
		if err != nil && !errors.Is(err, ErrNotFound) {
			a.log.ErrorContext(ctx, "a live share does not follow", "share", root, "error", err)
		}
	}, func(f *parallel.Fault) {
		cancel()
		a.log.ErrorContext(ctx, "following a live share failed", "fault", f)
	})
}

// Follow makes a live share what is kept by now. Where that cannot be shared, since it would show a column that was not ticked
// or does not fit, the share stays as it was, and whoever shared it is told.
func (a *App) Follow(ctx context.Context, spaceID, id int64) error {
	share, err := a.store.ShareByID(ctx, spaceID, id)
	if err != nil || !share.Live || share.WithdrawnAt != nil {
		return err
	}
	person := Person{ID: share.PersonID, SpaceID: share.SpaceID, SpaceName: share.SpaceName}
	ctx = WithCaller(ctx, Caller{Person: person})
	fresh, parts, err := a.fresh(ctx, person, share)
	var unfit *Invalid
	switch {
	case errors.As(err, &unfit), errors.Is(err, ErrNotFound):
		a.held.Put(lookedKey{share.ID}, a.now().Add(afterAMiss-lookAtLive), 1)
		return a.store.TroubleShare(ctx, share.ID, short(err.Error(), 300))
	case err == nil && fresh.MadeOf == share.MadeOf && share.Trouble != "": // it is again what it was
		return a.store.TroubleShare(ctx, share.ID, "")
	case err != nil || fresh.MadeOf == share.MadeOf:
		return err
	}
	return a.store.FollowShare(ctx, share, fresh, parts, newKey())
}

// fresh is a live share as it would be made now; where nothing changed it is as it was.
func (a *App) fresh(ctx context.Context, person Person, share Share) (Share, []Share, error) {
	if share.PageID == 0 {
		tag, version, err := a.chartTag(ctx, person.SpaceID, page.ShownChart{ID: share.ChartID})
		if err != nil || tag == share.MadeOf {
			return share, nil, err
		}
		kept, err := a.store.ChartHead(ctx, person.SpaceID, share.ChartID)
		if err != nil {
			return share, nil, err
		}
		fresh, err := a.copiedShare(ctx, person, NewShare{ChartID: share.ChartID, VersionID: version, Document: kept.Document, Title: share.Title,
			Body: share.Body, Columns: share.Columns})
		fresh.MadeOf = tag
		return fresh, nil, err
	}
	kept, err := a.store.Page(ctx, person.SpaceID, share.PageID)
	if err != nil {
		return share, nil, err
	}
	tag, _, err := a.pageTag(ctx, person.SpaceID, kept)
	if err != nil || tag == share.MadeOf {
		return share, nil, err
	}
	before, err := a.store.ShareParts(ctx, share.ID)
	if err != nil {
		return share, nil, err
	}
	columns := map[string][]string{}
	for _, part := range before {
		if part.Columns != nil {
			columns[part.Block] = part.Columns
		}
	}
	return a.copiedPage(ctx, person, kept, columns)
}
