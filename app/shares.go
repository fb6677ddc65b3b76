package app

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// The size that a shared figure is laid out for.
const shareWidth, shareHeight = 1000, 540

// NewShare is what somebody says when sharing a chart.
type NewShare struct {
	ChartID   int64
	VersionID int64
	Document  *chart.Document
	Title     string
	Body      string
	Columns   []string // that go out, of goesOut; nil: those that the sentence names
}

// How many characters the title and the text of a shared chart have at most.
const longestTitle, longestBody = 500, 10_000

// Share makes a fixed copy of a chart under an unguessable address.
func (a *App) Share(ctx context.Context, person Person, wanted NewShare) (Share, error) {
	title, body := strings.TrimSpace(wanted.Title), strings.TrimSpace(wanted.Body)
	switch {
	case title == "":
		return Share{}, &Invalid{Message: "the shared chart has no title", Advice: "say in a few words what it shows"}
	case utf8.RuneCountInString(title) > longestTitle || utf8.RuneCountInString(body) > longestBody:
		return Share{}, &Invalid{
			Message: "the title or the text is too long",
			Advice:  "keep the title under 500 characters and the text under 10,000",
		}
	}
	if wanted.Document == nil {
		return Share{}, &Invalid{Message: "the chart says nothing to plot", Advice: "say which column to plot against which"}
	}
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Share{}, err
	}
	document := wanted.Document.Clone()
	document.Title = "" // the page has it as its heading
	if strings.Contains(body, strings.TrimSpace(document.Note)) {
		document.Note = "" // the page has it in its text
	}
	var share Share
	err := a.onSpelled(
		ctx,
		person.SpaceID,
		wanted.VersionID,
		"a shared chart",
		3*weightOf(document, ""),
		func(ctx context.Context, t *shown, d Dataset) error {
			answer, err := a.answerOf(ctx, person.SpaceID, wanted.ChartID, document)
			if err != nil {
				return err
			}
			if answer != "" {
				body = strings.TrimSpace(body + "\n\n" + answer)
			}
			copied, err := NewFixedCopy(
				ctx,
				t.Table,
				document,
				wanted.Columns,
				figure.Options{Metrics: a.metrics, Dataset: a.others(person.SpaceID)},
			)
			if err != nil {
				return err
			}
			m, err := a.madeOf(ctx, person.SpaceID, d)
			if err != nil {
				return err
			}
			first := t.Table
			if m.first.ID != d.VersionID && m.first.ID != 0 {
				if first, _, err = a.Table(ctx, person.SpaceID, m.first.ID); err != nil {
					return err
				}
			}
			if speaksOf(d.OneRow, m.hidden(copied.Table, t.Table, first.Names())) {
				d.OneRow = "" // what one row is names a column that stays at home
			}
			raw := make([]byte, 16)
			_, _ = rand.Read(raw)
			share, err = a.store.AddShare(
				ctx,
				Share{Key: base64.RawURLEncoding.EncodeToString(raw), ChartID: wanted.ChartID, Title: title, Body: body,
					Source: copied.sourceLine(
						d,
						m.first.Rows,
					), Typed: copied.Picture.Typed, Made: strings.Join(m.lines(copied.Table, t.Table, first.Names()), "\n"), SpaceID: person.SpaceID,
					SpaceName: person.SpaceName,
					PersonID:  person.ID, VersionID: wanted.VersionID, Figure: copied.Figure, Exact: copied.Exact, CreatedAt: a.now()},
				copied.Table,
			)
			return err
		},
	)
	if err == nil {
		a.did(ctx, person, didShare, "the chart “"+title+"”")
	}
	return share, err
}

// answerOf is what rows that were set aside said of the relation that a chart is shared with;
// empty where they were not asked, or about another one. A chart of another space is none.
func (a *App) answerOf(ctx context.Context, spaceID, chartID int64, document *chart.Document) (string, error) {
	if chartID == 0 {
		return "", nil
	}
	kept, err := a.store.Chart(ctx, spaceID, chartID)
	if err != nil || kept.Answer == nil || !kept.Answer.IsOf(document) {
		return "", err
	}
	return kept.Answer.Words, nil
}

// FixedCopy is all of a chart that leaves the house when it is shared.
type FixedCopy struct {
	Picture *Picture
	Figure  []byte       // encoded
	Exact   []byte       // the same with places as exact as they can be, where those of Figure are whole steps
	Table   *table.Table // the rows that are shown, of the columns that are published
}

// NewFixedCopy draws a chart of a table from the columns alone that were chosen (nil: those that the
// sentence names), so that nothing of it can hold a value of another one. A chart that needs a column
// that was not chosen is refused.
func NewFixedCopy(
	ctx context.Context,
	t *table.Table,
	document *chart.Document,
	chosen []string,
	options figure.Options,
) (*FixedCopy, error) {
	whole, err := newShown(t).suits(document)
	if err != nil {
		return nil, err
	}
	options.Whole = t
	published, err := publish(whole.Document, t, chosen)
	if err != nil {
		return nil, err
	}
	options.Width, options.Height = shareWidth, shareHeight
	out := &FixedCopy{}
	copied := func(into *[]byte) error {
		if out.Picture, err = draw(ctx, published, options); err != nil {
			return err
		}
		drawn := published.Table // of a function, what is worked out
		if out.Table, err = out.Picture.Figure.Publish(drawn, drawn.Names()); err != nil {
			return err
		}
		*into, err = out.Picture.Encode()
		return err
	}
	if err := copied(&out.Figure); err != nil || !out.Picture.Figure.Coarse() {
		return out, err
	}
	options.Fine = true
	return out, copied(&out.Exact)
}

// sourceLine says what rows a shared chart shows and where they come from: of the version that it is
// drawn from, and of the first rows that this one was prepared from.
func (f *FixedCopy) sourceLine(dataset Dataset, first int) string {
	rows := f.Picture.Figure.Rows
	line := fmt.Sprintf("%s, %s of %s rows", dataset.Name, scale.Number(float64(rows.Drawn), 0), scale.Number(float64(rows.Total), 0))
	if rows.Drawn == rows.Total {
		line = fmt.Sprintf("%s, all %s", dataset.Name, scale.Counted(rows.Total, "row"))
	}
	if first != dataset.Rows && first > 0 {
		line += fmt.Sprintf(" that its preparation made of %s", scale.Number(float64(first), 0))
	}
	var reasons []string
	for _, reason := range rows.LeftOut {
		reasons = append(reasons, fmt.Sprintf("%s: %s", reason.Reason, scale.Number(float64(reason.Count), 0)))
	}
	if len(reasons) > 0 {
		line += "; left out: " + strings.Join(reasons, ", ")
	}
	if beyond := rows.Drawn - f.Table.Rows(); beyond > 0 {
		line += fmt.Sprintf("; beyond the limits of the axes, and not shared: %s", scale.Number(float64(beyond), 0))
	}
	for i := range f.Picture.Document.Also {
		if name := f.Picture.Document.Also[i].Table; name != "" {
			line += "; with rows of " + name
		}
	}
	if dataset.OneRow != "" {
		line += "; each row is " + dataset.OneRow
	}
	if dataset.Origin != "" {
		line += "; from " + dataset.Origin
	}
	return line
}

// Shares lists a space's shared charts, withdrawn ones too.
func (a *App) Shares(ctx context.Context, spaceID int64) ([]Share, error) {
	return a.store.Shares(ctx, spaceID)
}

// Withdraw takes a shared chart back; its address answers with a page that says
// so from then on.
func (a *App) Withdraw(ctx context.Context, person Person, id int64) error {
	if err := a.store.WithdrawShare(ctx, person.SpaceID, id); err != nil {
		return err
	}
	a.did(ctx, person, didWithdraw, fmt.Sprintf("the shared chart %d", id))
	return nil
}

// Shared opens a shared chart by its key; anybody who has the key may.
func (a *App) Shared(ctx context.Context, key string) (Share, error) {
	if len(key) > longestKey {
		return Share{}, ErrNotFound
	}
	share, err := a.store.ShareByKey(ctx, key)
	if err != nil {
		return Share{}, err
	}
	if share.WithdrawnAt != nil {
		return Share{}, ErrWithdrawn
	}
	return share, nil
}

const longestKey = 100

type (
	sharedFigureKey struct {
		share int64
		exact bool
	}
	sharedTableKey struct{ share int64 }
)

// SharedFigure gives the encoded figure of a shared chart, which never changes: with the places of
// dots as exact as they can be, or as a first look needs them.
func (a *App) SharedFigure(ctx context.Context, share Share, exact bool) ([]byte, error) {
	key := sharedFigureKey{share.ID, exact}
	if encoded, held := a.held.Get(key); held {
		return encoded.([]byte), nil
	}
	encoded, err := a.store.SharedFigure(ctx, share.ID, exact)
	if err == nil { // shares of earlier versions of the program keep their figures for ever
		encoded, err = figure.Upgrade(encoded)
	}
	if err == nil {
		a.held.Put(key, encoded, int64(len(encoded)))
	}
	return encoded, err
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
	t, err := a.SharedTable(ctx, share)
	if err != nil {
		return nil, err
	}
	return rowCard(t, row, nil)
}

// SharedTable gives the table that a shared chart publishes, as it was when it was shared.
func (a *App) SharedTable(ctx context.Context, share Share) (*table.Table, error) {
	if t, held := a.held.Get(sharedTableKey{share.ID}); held {
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
		a.held.Put(sharedTableKey{share.ID}, t, tableBytes(t))
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
