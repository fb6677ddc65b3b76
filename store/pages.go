package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/page"
)

const pageQuery = `select g.id, g.contents, g.revision, g.created_at, g.changed_at, coalesce(p.name, ''), coalesce(q.name, '')
	from pages g left join people p on p.id = g.created_by left join people q on q.id = g.changed_by `

func scanPage(row pgx.Row) (g app.Page, err error) {
	var stored []byte
	if err := row.Scan(&g.ID, &stored, &g.Revision, &g.CreatedAt, &g.ChangedAt, &g.By, &g.ChangedBy); err != nil {
		return g, found(err)
	}
	return g, json.Unmarshal(stored, &g.Contents)
}

// AddPage keeps a new page.
func (s *Store) AddPage(ctx context.Context, spaceID, personID int64, contents *page.Contents) (app.Page, error) {
	stored, err := json.Marshal(contents)
	if err != nil {
		return app.Page{}, err
	}
	var id int64
	if err := s.pool.QueryRow(ctx, `insert into pages (space_id, contents, created_by, changed_by)
		values ($1, $2, nullif($3::bigint, 0), nullif($3::bigint, 0)) returning id`,
		spaceID, stored, personID).Scan(&id); err != nil {
		return app.Page{}, err
	}
	return s.Page(ctx, spaceID, id)
}

// Pages lists those of a space, the last changed first.
func (s *Store) Pages(ctx context.Context, spaceID int64) ([]app.Page, error) {
	return collect(ctx, s, scanPage, pageQuery+`where g.space_id = $1 order by g.changed_at desc, g.id desc`, spaceID)
}

// CountPages is how many a space has.
func (s *Store) CountPages(ctx context.Context, spaceID int64) (count int, err error) {
	err = s.pool.QueryRow(ctx, `select count(*) from pages where space_id = $1`, spaceID).Scan(&count)
	return count, err
}

// Page gives one.
func (s *Store) Page(ctx context.Context, spaceID, id int64) (app.Page, error) {
	return scanPage(s.pool.QueryRow(ctx, pageQuery+`where g.space_id = $1 and g.id = $2`, spaceID, id))
}

// WritePage makes a page what write makes of what is kept by then, which nobody else can change meanwhile. As it was stays as an
// earlier version where somebody else wrote it, or where it stood longer than a while; earlier reports that.
func (s *Store) WritePage(
	ctx context.Context,
	spaceID, id, personID int64,
	while time.Duration,
	write func(kept *page.Contents) (*page.Contents, error),
) (written app.Page, earlier bool, err error) {
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		var stored []byte
		var other bool
		if err := tx.QueryRow(ctx, `select contents, changed_by is distinct from $3 or changed_at < now() - $4::interval
			or not exists (select 1 from page_versions v where v.page_id = g.id and v.written_at > now() - $4::interval)
			from pages g where space_id = $1 and id = $2 for update`, spaceID, id, personID, while).Scan(&stored, &other); err != nil {
			return found(err)
		}
		kept := &page.Contents{}
		if err := json.Unmarshal(stored, kept); err != nil {
			return err
		}
		next, err := write(kept)
		if err != nil {
			return err
		}
		fresh, err := json.Marshal(next)
		if err != nil {
			return err
		}
		var differs bool
		err = tx.QueryRow(ctx, `select contents is distinct from $2 from pages where id = $1`, id, fresh).Scan(&differs)
		if err != nil || !differs {
			return err
		}
		if earlier = other; earlier {
			if _, err := tx.Exec(ctx, `insert into page_versions (page_id, contents, written_by, written_at)
				select id, contents, changed_by, changed_at from pages where id = $1`, id); err != nil {
				return err
			}
			if _, err := tx.Exec(ctx, `delete from page_versions where page_id = $1 and id not in
				(select id from page_versions where page_id = $1 order by id desc limit $2)`, id, app.MostPageVersions); err != nil {
				return err
			}
		}
		if _, err = tx.Exec(ctx, `update pages set contents = $2, revision = revision + 1, changed_by = nullif($3::bigint, 0),
			changed_at = now() where id = $1`, id, fresh, personID); err != nil {
			return err
		}
		return tellOf(ctx, tx, app.Subject{PageID: id})
	})
	if err != nil {
		return written, false, err
	}
	written, err = s.Page(ctx, spaceID, id)
	return written, earlier, err
}

// DropPage deletes a page with its earlier versions.
func (s *Store) DropPage(ctx context.Context, spaceID, id int64) error {
	return affected(s.pool.Exec(ctx, `delete from pages where space_id = $1 and id = $2`, spaceID, id))
}

// PageVersions lists how a page was, the latest first, without what it said.
func (s *Store) PageVersions(ctx context.Context, pageID int64) ([]app.PageVersion, error) {
	return collect(ctx, s, func(row pgx.Row) (v app.PageVersion, err error) {
		return v, row.Scan(&v.ID, &v.Title, &v.At, &v.By)
	}, `select v.id, v.contents->>'title', v.written_at, coalesce(p.name, '') from page_versions v left join people p on p.id = v.written_by
		where v.page_id = $1 order by v.id desc`, pageID)
}

// PageVersion gives what a page said.
func (s *Store) PageVersion(ctx context.Context, pageID, id int64) (v app.PageVersion, err error) {
	var stored []byte
	if err := s.pool.QueryRow(ctx, `select v.id, v.contents->>'title', v.written_at, coalesce(p.name, ''), v.contents
		from page_versions v left join people p on p.id = v.written_by where v.page_id = $1 and v.id = $2`, pageID, id).
		Scan(&v.ID, &v.Title, &v.At, &v.By, &stored); err != nil {
		return v, found(err)
	}
	return v, json.Unmarshal(stored, &v.Contents)
}
