package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"sync"

	"golang.org/x/sync/singleflight"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/parallel"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/internal/cache"
)

// shown is the table of a version as charts show it, with the charts that were bound to it lately: drawing one, its
// small picture and keeping it as a step bind it once.
type shown struct {
	*table.Table
	raw    *table.Table // as its file has it; nil where nobody knows
	lately *cache.Cache // boundKey to *mark.Bound, changeKey to words
}

// boundRoom is how much memory bound charts of a table may take: a share of it, and so much at least.
const (
	leastBoundRoom = 1 << 20
	boundShare     = 8
)

func boundRoom(t *table.Table) int64 { return leastBoundRoom + tableBytes(t)/boundShare }

func newShown(t *table.Table) *shown { return &shown{Table: t, lately: cache.New(boundRoom(t))} }

type (
	boundKey  struct{ document string }
	changeKey struct{ before, after *mark.Bound }
)

// bind binds a document to the table: anew, or as it was bound before. Of no document it is nil.
func (s *shown) bind(d *chart.Document) (*mark.Bound, error) {
	if d == nil {
		return nil, nil
	}
	said, err := json.Marshal(d)
	if err != nil {
		return nil, err
	}
	key := boundKey{string(said)}
	if bound, held := s.lately.Get(key); held {
		return bound.(*mark.Bound), nil
	}
	b := mark.Bind(d, s.Table)
	if b.Document != d { // who was told what the document says in full asks for it by that
		if full, err := json.Marshal(b.Document); err == nil {
			s.lately.Put(boundKey{string(full)}, b, s.bytesOf(b))
		}
	}
	s.lately.Put(key, b, s.bytesOf(b))
	return b, nil
}

// bytesOf is about how much memory a bound chart takes beside its table.
func (s *shown) bytesOf(b *mark.Bound) int64 {
	total := int64(0)
	for _, a := range []*mark.Axis{b.X, b.Y} {
		if c := a.Column; c != nil && s.Column(c.Name) != c {
			total += columnBytes(c)
		}
	}
	return total
}

// change is what makes one chart out of another, in words.
func (s *shown) change(before, after *mark.Bound) string {
	key := changeKey{before, after}
	if words, held := s.lately.Get(key); held {
		return words.(string)
	}
	words := sentence.Change(before, after)
	s.lately.Put(key, words, int64(len(words)))
	return words
}

// loaded is the table of a version as it is held: as its file has it, and as charts show it.
type loaded struct {
	table *table.Table

	mutex sync.Mutex
	said  string // the dictionary that it is shown with
	shown *shown
}

// spelled is the table with the words of a dictionary.
func (l *loaded) spelled(meanings Meanings) (*shown, error) {
	said, err := json.Marshal(meanings) // maps are written in the order of their keys
	if err != nil {
		return nil, err
	}
	l.mutex.Lock()
	defer l.mutex.Unlock()
	if l.shown == nil || l.said != string(said) {
		l.said, l.shown = string(said), newShown(meanings.spelled(l.table))
		l.shown.raw = l.table
	}
	return l.shown, nil
}

// hold keeps the table of a version for whoever asks next.
func (a *App) hold(versionID int64, t *table.Table) *loaded {
	l := &loaded{table: t}
	a.held.Put(tableKey{versionID}, l, tableBytes(t)+boundRoom(t))
	return l
}

// load gives the table of a version, which never changes: held, or read. Of many who ask at once one reads; where that
// one leaves, another does.
func (a *App) load(ctx context.Context, dataset Dataset) (*loaded, error) {
	for {
		if l, held := a.held.Get(tableKey{dataset.VersionID}); held {
			return l.(*loaded), nil
		}
		read := a.reads.DoChan(fmt.Sprint(dataset.VersionID), func() (any, error) {
			return parallel.Caught(func() (*loaded, error) {
				if l, held := a.held.Get(tableKey{dataset.VersionID}); held { // meanwhile
					return l.(*loaded), nil
				}
				t, err := a.store.Table(ctx, dataset.VersionID, dataset.Rows)
				if err != nil {
					return nil, err
				}
				return a.hold(dataset.VersionID, t), nil
			})
		})
		var got singleflight.Result
		select {
		case <-ctx.Done():
			return nil, ctx.Err()
		case got = <-read:
		}
		switch {
		case got.Err == nil:
			return got.Val.(*loaded), nil
		case ctx.Err() != nil:
			return nil, ctx.Err()
		case !errors.Is(got.Err, context.Canceled) && !errors.Is(got.Err, context.DeadlineExceeded):
			return nil, got.Err
		}
	}
}
