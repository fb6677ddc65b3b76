package app

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"

	"copperlark/core/figure"
	"copperlark/core/parallel"
	"copperlark/core/table"
)

// Visitor is who opens a share: a person where they are signed in, and what the browser has for shares with a password.
type Visitor struct {
	Person Person
	Token  func(shareID int64) string
}

// Shared opens a share, or a chart of one, by its key: for anybody who has the key, but where a password, an end or the people
// of a space are asked.
func (a *App) Shared(ctx context.Context, key string, visitor Visitor) (Share, error) {
	if len(key) > longestKey {
		return Share{}, ErrNotFound
	}
	share, err := a.store.ShareByKey(ctx, key)
	switch {
	case err != nil:
		return Share{}, err
	case share.WithdrawnAt != nil:
		return share, ErrWithdrawn
	case share.Until != nil && !a.now().Before(*share.Until):
		return share, ErrShareOver
	case share.PeopleOnly && (visitor.Person.ID == 0 || !a.isIn(ctx, visitor.Person, share.SpaceID)):
		return share, ErrPeopleOnly
	case share.Locked && (visitor.Token == nil || !hmac.Equal([]byte(visitor.Token(share.Root())), []byte(share.Token()))):
		return share, ErrLocked
	}
	a.follow(ctx, share)
	return share, nil
}

const longestKey = 100

// isIn reports whether somebody is in a space, and has the second factor that it asks.
func (a *App) isIn(ctx context.Context, person Person, spaceID int64) bool {
	if person.SpaceID == spaceID {
		return person.Role.May(Reader) && !person.LacksFactor()
	}
	places, err := a.store.Places(ctx, person.ID)
	return err == nil && slices.ContainsFunc(places, func(p Place) bool { return p.ID == spaceID })
}

// Token proves that the password of a share was said: whoever changes the password makes it worthless.
func (s Share) Token() string {
	mac := hmac.New(sha256.New, []byte(s.PasswordHash))
	_, _ = fmt.Fprintf(mac, "share %d", s.Root())
	return hex.EncodeToString(mac.Sum(nil))
}

// Unlock gives the token of a share to whoever says its password.
func (a *App) Unlock(ctx context.Context, key, password string) (share Share, token string, err error) {
	share, err = a.Shared(ctx, key, Visitor{})
	if !errors.Is(err, ErrLocked) {
		return share, "", err
	}
	err = a.guarded(ctx, fmt.Sprintf("share %d", share.Root()), func() error {
		if !passwordMatches(password, share.PasswordHash) {
			return ErrWrongPassword
		}
		return nil
	})
	return share, share.Token(), err
}

// Opened counts that somebody opened the page of a share; nothing is kept of them.
func (a *App) Opened(ctx context.Context, share Share) {
	ctx = context.WithoutCancel(ctx)
	parallel.Beside(func() {
		if err := a.store.CountOpen(ctx, share.Root()); err != nil {
			a.log.ErrorContext(ctx, "an opening could not be counted", "error", err)
		}
	}, func(f *parallel.Fault) { a.log.ErrorContext(ctx, "counting an opening failed", "fault", f) })
}

// SharedParts are the charts of a shared page; of a shared chart itself.
func (a *App) SharedParts(ctx context.Context, share Share) ([]Share, error) {
	if share.Contents == nil {
		return []Share{share}, nil
	}
	return a.store.ShareParts(ctx, share.ID)
}

// EarlierShare is what a live share was before it followed the last time.
func (a *App) EarlierShare(ctx context.Context, share Share) (Share, error) {
	return a.store.EarlierShare(ctx, share.Root())
}

// FigureOf says which figure of a share is wanted.
type FigureOf string

// The figures of a share: as a first look needs it, with places as exact as they can be, and laid out for a phone.
const (
	FirstFigure FigureOf = "first"
	ExactFigure FigureOf = "exact"
	PhoneFigure FigureOf = "phone"
)

type (
	sharedFigureKey struct {
		share int64
		of    string // what it is made of: a live one changes
		which FigureOf
	}
	sharedTableKey struct {
		share int64
		of    string
	}
)

// SharedFigure gives an encoded figure of a share.
func (a *App) SharedFigure(ctx context.Context, share Share, which FigureOf) ([]byte, error) {
	if share.Contents != nil {
		return nil, ErrNotFound // a page has none: its charts have
	}
	key := sharedFigureKey{share.ID, share.MadeOf, which}
	if encoded, held := a.held.Get(key); held {
		return encoded.([]byte), nil
	}
	encoded, err := a.store.SharedFigure(ctx, share.ID, which)
	if err == nil { // shares of earlier versions of the program keep their figures for ever
		encoded, err = figure.Upgrade(encoded)
	}
	if err == nil {
		a.held.Put(key, encoded, int64(len(encoded)))
	}
	return encoded, err
}

// SharedLinks gives what the rows of a chart are called in all charts of its page: numbers of 4 bytes.
func (a *App) SharedLinks(ctx context.Context, share Share) ([]byte, error) {
	return a.store.ShareLinks(ctx, share.ID)
}

// SharedPreview gives the picture of a share for previews of its link.
func (a *App) SharedPreview(ctx context.Context, share Share) ([]byte, error) {
	preview, err := a.store.SharePreview(ctx, share.Root())
	if err == nil && len(preview) == 0 {
		err = ErrNotFound
	}
	return preview, err
}

// RowCard gives the exact values of one row for its card: the columns named, or
// all when none is.
func (a *App) RowCard(ctx context.Context, spaceID, versionID int64, row int, columns []string) (card map[string]string, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a row", 0, func(_ context.Context, t *shown, _ Dataset) error {
		card, err = rowCard(t.Table, row, columns)
		return err
	})
	return card, err
}

// SharedRow gives the values of a row that a shared chart publishes.
func (a *App) SharedRow(ctx context.Context, share Share, row int) (map[string]string, error) {
	t, err := a.sharedTable(ctx, share)
	if err != nil {
		return nil, err
	}
	return rowCard(t, row, nil)
}

// SharedTable gives the table that a shared chart publishes, to be taken: where whoever shared it lets readers.
func (a *App) SharedTable(ctx context.Context, share Share) (*table.Table, error) {
	if !share.GivesRows {
		return nil, ErrNotFound
	}
	return a.sharedTable(ctx, share)
}

func (a *App) sharedTable(ctx context.Context, share Share) (*table.Table, error) {
	key := sharedTableKey{share.ID, share.MadeOf}
	if t, held := a.held.Get(key); held {
		return t.(*table.Table), nil
	}
	if share.Rows < 0 {
		return a.publishLate(ctx, share)
	}
	ctx, leave, err := a.begin(ctx, "the rows of a shared chart", weighLoad*int64(share.Rows))
	if err != nil {
		return nil, err
	}
	defer leave()
	t, err := a.store.PublishedTable(ctx, share.ID, share.Rows)
	if err == nil {
		a.held.Put(key, t, tableBytes(t))
	}
	return t, err
}

// publishLate keeps the table of a share that was made before tables were kept with it,
// while its version is still there: from then on it stays as it is. Its figure stays too,
// and names the rows of its version, so they are published whole.
func (a *App) publishLate(ctx context.Context, share Share) (published *table.Table, err error) {
	if share.VersionID == 0 {
		return nil, ErrNotFound
	}
	err = a.onSpelled(
		ctx,
		share.SpaceID,
		share.VersionID,
		"the rows of a shared chart",
		2*weighFigure,
		func(ctx context.Context, t *shown, _ Dataset) error {
			bound, err := t.stated(nil, share.Typed)
			if err != nil {
				return err
			}
			var columns []*table.Column
			for _, c := range goesOut(bound.Document, t.Table) {
				columns = append(columns, t.Column(c.Column))
			}
			if published, err = table.New(columns...); err != nil {
				return err
			}
			return a.store.Publish(ctx, share.ID, published)
		},
	)
	return published, err
}

// publishLates keeps the tables of all shares of a dataset that were made before tables were kept
// with them: once the dataset is gone, nothing could be published any more. What cannot be stays as it is.
func (a *App) publishLates(ctx context.Context, spaceID, datasetID int64) error {
	shares, err := a.store.Shares(ctx, spaceID)
	if err != nil {
		return err
	}
	versions, err := a.store.Versions(ctx, spaceID, datasetID)
	if err != nil {
		return err
	}
	for _, share := range shares {
		if share.Rows >= 0 || share.WithdrawnAt != nil ||
			!slices.ContainsFunc(versions, func(v Version) bool { return v.ID == share.VersionID }) {
			continue
		}
		var unfit *Invalid
		if _, err := a.publishLate(ctx, share); err != nil && !errors.As(err, &unfit) && !errors.Is(err, ErrNotFound) {
			return err
		}
	}
	return nil
}

func rowCard(t *table.Table, row int, columns []string) (map[string]string, error) {
	if row < 0 || row >= t.Rows() {
		return nil, ErrNotFound
	}
	if len(columns) == 0 {
		columns = t.Names()
	}
	values := map[string]string{}
	for _, name := range columns {
		c := t.Column(name)
		if c == nil {
			return nil, ErrNotFound
		}
		values[name] = c.Value(row)
	}
	return values, nil
}
