package store

import (
	"archive/zip"
	"context"
	"encoding/json"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/core/page"
)

// filePage is a page in the file of a whole space; its earlier versions stay where they are.
type filePage struct {
	Contents  *page.Contents `json:"contents"`
	CreatedAt time.Time      `json:"created_at"`
	ChangedAt time.Time      `json:"changed_at"`
}

func filePages(ctx context.Context, tx pgx.Tx, spaceID int64) ([]filePage, error) {
	return gathered(ctx, tx, func(row pgx.CollectableRow) (g filePage, err error) {
		var stored []byte
		if err := row.Scan(&stored, &g.CreatedAt, &g.ChangedAt); err != nil {
			return g, err
		}
		return g, json.Unmarshal(stored, &g.Contents)
	}, `select contents, created_at, changed_at from pages where space_id = $1 order by id`, spaceID)
}

func holds(in *zip.Reader, name string) bool {
	for _, file := range in.File {
		if file.Name == name {
			return true
		}
	}
	return false
}

// readPage keeps a page with the charts that were read before it; a block whose chart is gone keeps its text.
func readPage(ctx context.Context, tx pgx.Tx, spaceID, personID int64, g filePage, charts map[int64]readTrail) error {
	if g.Contents == nil {
		return notASpace("a page says nothing")
	}
	if err := g.Contents.Check(); err != nil {
		return notASpace("a page cannot be kept: %v", err)
	}
	contents := g.Contents.Clone()
	for i := range contents.Blocks {
		shown := contents.Blocks[i].Chart
		if shown == nil {
			continue
		}
		trail, known := charts[shown.ID]
		step, there := trail.steps[shown.Step]
		if !known || shown.Step != 0 && !there {
			contents.Blocks[i].Chart = nil
			continue
		}
		shown.ID, shown.Step = trail.id, step
	}
	stored, err := json.Marshal(contents)
	if err != nil {
		return err
	}
	_, err = tx.Exec(ctx, `insert into pages (space_id, contents, created_by, changed_by, created_at, changed_at)
		values ($1, $2, $3, $3, $4, $5)`, spaceID, stored, personID, g.CreatedAt, g.ChangedAt)
	return err
}
