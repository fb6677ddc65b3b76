package app

import (
	"bytes"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"

	"copperlark/core/page"
	"copperlark/core/reader"
	"copperlark/core/table"
)

// CopiedShare is what was made of a share in somebody's own space.
type CopiedShare struct {
	PageID    int64 `json:"page_id,omitempty"`
	DatasetID int64 `json:"dataset_id" doc:"of its first chart"`
	ChartID   int64 `json:"chart_id" doc:"its first chart"`
}

// CopyShared makes datasets, charts and, of a page, the page of what a share publishes, in the space of whoever asks. The password
// is that of the share, where it has one.
func (a *App) CopyShared(ctx context.Context, person Person, key, password string) (out CopiedShare, err error) {
	share, err := a.Shared(ctx, key, Visitor{Person: person})
	if errors.Is(err, ErrLocked) {
		share, _, err = a.Unlock(ctx, key, password)
	}
	if err != nil {
		return out, err
	}
	if !share.GivesRows {
		return out, &Invalid{Message: "whoever shared this keeps its rows", Advice: "ask them for the data"}
	}
	parts, err := a.SharedParts(ctx, share)
	if err != nil {
		return out, err
	}
	c := &copier{App: a, person: person, share: share, datasets: map[[sha256.Size]byte]Dataset{}}
	charts := map[string]int64{}
	for _, part := range parts {
		dataset, chart, err := c.chart(ctx, part)
		if err != nil {
			return out, err
		}
		charts[part.Block] = chart
		if out.ChartID == 0 {
			out.DatasetID, out.ChartID = dataset, chart
		}
	}
	if share.Contents == nil {
		return out, nil
	}
	contents := share.Contents.Clone()
	for i := range contents.Blocks {
		if b := &contents.Blocks[i]; b.Chart != nil {
			b.Chart = &page.ShownChart{ID: charts[b.ID]}
		}
	}
	made, err := a.AddPage(ctx, person, contents)
	out.PageID = made.ID
	return out, err
}

// copier makes a dataset of each different table that a share publishes.
type copier struct {
	*App
	person   Person
	share    Share
	datasets map[[sha256.Size]byte]Dataset
}

func (c *copier) chart(ctx context.Context, part Share) (datasetID, chartID int64, err error) {
	t, err := c.sharedTable(ctx, part)
	if err != nil {
		return 0, 0, err
	}
	bound, err := newShown(t).stated(nil, part.Typed)
	if err == nil {
		_, err = newShown(t).suits(bound.Document)
	}
	var unfit *Invalid
	if errors.As(err, &unfit) {
		return 0, 0, &Invalid{Message: fmt.Sprintf("“%s” shows statistics of rows that are not shared", short(part.Title, 60)),
			Advice: "take its values from the table below it, or ask whoever shared it for the data"}
	}
	if err != nil {
		return 0, 0, err
	}
	dataset, err := c.dataset(ctx, part, t)
	if err != nil {
		return 0, 0, err
	}
	chart, err := c.AddChart(ctx, c.person, dataset.VersionID, short(part.Title, longestName), bound.Document)
	return dataset.ID, chart.ID, err
}

func (c *copier) dataset(ctx context.Context, part Share, t *table.Table) (Dataset, error) {
	var rows bytes.Buffer
	if err := WritePlainCSV(ctx, &rows, t); err != nil {
		return Dataset{}, err
	}
	sum := sha256.Sum256(rows.Bytes())
	if dataset, known := c.datasets[sum]; known {
		return dataset, nil
	}
	dataset, err := c.AddTable(ctx, NewDataset{SpaceID: c.person.SpaceID, PersonID: c.person.ID,
		Name: short("Rows of “"+c.share.Title+"”", 300), About: short(part.Source, 2000), FileName: FileName(c.share.Title, "csv"), Table: t, Report: &reader.Report{}})
	if err == nil {
		origin := "shared by " + c.share.SpaceName
		err = c.Describe(ctx, c.person.SpaceID, dataset.ID, Description{Origin: &origin})
	}
	c.datasets[sum] = dataset
	return dataset, err
}
