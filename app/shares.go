package app

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"fmt"
	"slices"
	"strings"

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
}

// Share makes a fixed copy of a chart under an unguessable address.
func (a *App) Share(ctx context.Context, person Person, wanted NewShare) (Share, error) {
	title, body := strings.TrimSpace(wanted.Title), strings.TrimSpace(wanted.Body)
	switch {
	case title == "":
		return Share{}, &Invalid{Message: "the shared chart has no title", Advice: "say in a few words what it shows"}
	case len(title) > 500 || len(body) > 10_000:
		return Share{}, &Invalid{Message: "the title or the text is too long", Advice: "keep the title under 500 characters and the text under 10,000"}
	}
	document := wanted.Document.Clone()
	document.Title = "" // the page has it as its heading
	picture, err := a.Draw(ctx, person.SpaceID, wanted.VersionID, document, "", nil, shareWidth, shareHeight)
	if err != nil {
		return Share{}, err
	}
	_, dataset, err := a.Table(ctx, person.SpaceID, wanted.VersionID)
	if err != nil {
		return Share{}, err
	}
	encoded, err := picture.Encode()
	if err != nil {
		return Share{}, err
	}
	raw := make([]byte, 16)
	_, _ = rand.Read(raw)
	return a.store.AddShare(ctx, Share{Key: base64.RawURLEncoding.EncodeToString(raw), ChartID: wanted.ChartID, Title: title, Body: body,
		Source: sourceLine(picture.Figure, dataset), Typed: picture.Typed, SpaceID: person.SpaceID, SpaceName: person.SpaceName,
		PersonID: person.ID, VersionID: wanted.VersionID, Figure: encoded, CreatedAt: a.now()})
}

// sourceLine says what rows a shared chart shows and where they come from.
func sourceLine(f *figure.Figure, dataset Dataset) string {
	line := fmt.Sprintf("%s, %s of %s rows", dataset.Name, scale.Number(float64(f.Rows.Drawn), 0), scale.Number(float64(f.Rows.Total), 0))
	if f.Rows.Drawn == f.Rows.Total {
		line = fmt.Sprintf("%s, all %s rows", dataset.Name, scale.Number(float64(f.Rows.Total), 0))
	}
	var reasons []string
	for _, reason := range f.Rows.LeftOut {
		reasons = append(reasons, fmt.Sprintf("%s: %s", reason.Reason, scale.Number(float64(reason.Count), 0)))
	}
	if len(reasons) > 0 {
		line += "; left out: " + strings.Join(reasons, ", ")
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
func (a *App) Withdraw(ctx context.Context, spaceID, id int64) error {
	return a.store.WithdrawShare(ctx, spaceID, id)
}

// Shared opens a shared chart by its key; anybody who has the key may.
func (a *App) Shared(ctx context.Context, key string) (Share, error) {
	share, err := a.store.ShareByKey(ctx, key)
	if err != nil {
		return Share{}, err
	}
	if share.WithdrawnAt != nil {
		return Share{}, ErrWithdrawn
	}
	return share, nil
}

// RowCard gives the exact values of one row for its card: the columns named, or
// all when none is.
func (a *App) RowCard(ctx context.Context, spaceID, versionID int64, row int, columns []string) (map[string]string, error) {
	t, _, err := a.Spelled(ctx, spaceID, versionID)
	if err != nil {
		return nil, err
	}
	return rowCard(t, row, columns)
}

// SharedRow is RowCard for a shared chart: only the columns that it shows.
func (a *App) SharedRow(ctx context.Context, share Share, row int) (map[string]string, error) {
	t, columns, err := a.sharedColumns(ctx, share)
	if err != nil {
		return nil, err
	}
	return rowCard(t, row, columns)
}

// SharedTable gives the rows behind a shared chart, for whoever reads it: only the
// columns that it shows.
func (a *App) SharedTable(ctx context.Context, share Share) (*table.Table, error) {
	t, names, err := a.sharedColumns(ctx, share)
	if err != nil {
		return nil, err
	}
	var columns []*table.Column
	for _, name := range names {
		if c := t.Column(name); c != nil && !slices.Contains(columns, c) {
			columns = append(columns, c)
		}
	}
	return table.New(columns...)
}

// sharedColumns names the columns that the cards of a shared chart show.
func (a *App) sharedColumns(ctx context.Context, share Share) (*table.Table, []string, error) {
	if share.VersionID == 0 {
		return nil, nil, ErrNotFound
	}
	t, _, err := a.Spelled(ctx, share.SpaceID, share.VersionID)
	if err != nil {
		return nil, nil, err
	}
	picture, err := DrawTable(ctx, t, nil, share.Typed, nil, figure.Options{Metrics: a.metrics})
	if err != nil {
		return nil, nil, err
	}
	var columns []string
	for _, c := range picture.Figure.Card.Columns {
		columns = append(columns, c.Column)
	}
	return t, columns, nil
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
