package store

import (
	"context"
	"encoding/json"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/table"
)

// AddShare keeps a share with what it publishes and, of a page, its charts.
func (s *Store) AddShare(ctx context.Context, share app.Share, parts []app.Share) (app.Share, error) {
	err := s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := addShare(ctx, tx, &share); err != nil {
			return err
		}
		return addParts(ctx, tx, share, share.ID, parts)
	})
	return share, err
}

// addParts keeps the charts of a page below the row of its share, or of what it was earlier.
func addParts(ctx context.Context, tx pgx.Tx, share app.Share, parentID int64, parts []app.Share) error {
	for i := range parts {
		part := parts[i]
		part.ParentID, part.RootID, part.Position = parentID, share.ID, i
		part.SpaceID, part.PersonID, part.GivesRows, part.TellsMade = share.SpaceID, share.PersonID, share.GivesRows, share.TellsMade
		if err := addShare(ctx, tx, &part); err != nil {
			return err
		}
	}
	return nil
}

func addShare(ctx context.Context, tx pgx.Tx, share *app.Share) error {
	contents, err := jsonOrNull(share.Contents)
	if err != nil {
		return err
	}
	if err := tx.QueryRow(ctx, `insert into shares (key, space_id, chart_id, version_id, title, body, source, typed, figure, exact,
		created_by, made, checked, parent_id, root_id, position, block, page_id, contents, phone, preview, links, live, people_only,
		password_hash, 		until, gives_rows, tells_made, columns, made_of)
		values ($1, $2, (select id from charts where id = $3 and space_id = $2), nullif($4::bigint, 0), $5, $6, $7, $8, $9, $10,
		nullif($11::bigint, 0), $12, $13, nullif($14::bigint, 0), nullif($15::bigint, 0), $16, $17,
		(select id from pages where id = $18 and space_id = $2), $19, $20, $21, $22, $23, $24, $25, $26, $27, $28, $29, $30)
		returning id, created_at`,
		share.Key, share.SpaceID, share.ChartID, share.VersionID, share.Title, share.Body, share.Source, share.Typed,
		compressor.EncodeAll(share.Figure, nil), packedOrNull(share.Exact), share.PersonID, share.Made, share.Checked, share.ParentID,
		share.RootID, share.Position, share.Block, share.PageID, contents, packedOrNull(share.Phone), share.Preview, share.Links, share.Live,
		share.PeopleOnly, share.PasswordHash, share.Until, share.GivesRows, share.TellsMade, share.Columns,
		share.MadeOf).Scan(&share.ID, &share.CreatedAt); err != nil {
		return err
	}
	if share.Table == nil {
		return nil
	}
	return publish(ctx, tx, share.ID, share.Table)
}

func jsonOrNull[T any](value *T) ([]byte, error) {
	if value == nil {
		return nil, nil
	}
	return json.Marshal(value)
}

func publish(ctx context.Context, tx pgx.Tx, shareID int64, t *table.Table) error {
	if _, err := tx.Exec(ctx, `update shares set row_count = $2 where id = $1`, shareID, t.Rows()); err != nil {
		return err
	}
	return packColumns(ctx, t, func(position int, c packedColumn) error {
		return c.insert(ctx, tx, `insert into share_columns (share_id, position, `+packedValues, shareID, position)
	})
}

// Publish keeps the table of a share that was made before tables were kept, unless
// another program did meanwhile.
func (s *Store) Publish(ctx context.Context, shareID int64, t *table.Table) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `select from shares where id = $1 and row_count is null for update`, shareID)
		if err != nil || tag.RowsAffected() == 0 {
			return err
		}
		return publish(ctx, tx, shareID, t)
	})
}

// FollowShare puts what a live share is by now in place of what it was, which stays as the one that it was earlier.
func (s *Store) FollowShare(ctx context.Context, root app.Share, fresh app.Share, parts []app.Share, earlierKey string) error {
	contents, err := jsonOrNull(fresh.Contents)
	if err != nil {
		return err
	}
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `select from shares where id = $1 and withdrawn_at is null and made_of is distinct from $2 for update`, root.ID,
			fresh.MadeOf)
		if err != nil || tag.RowsAffected() == 0 {
			return err // another server did it, or it was withdrawn
		}
		if _, err := tx.Exec(ctx, `delete from shares where parent_id = $1 and earlier`, root.ID); err != nil {
			return err
		}
		var was int64
		if err := tx.QueryRow(ctx, `insert into shares (key, space_id, chart_id, version_id, title, body, source, typed, figure, exact,
			created_by, made, checked, parent_id, root_id, earlier, page_id, contents, phone, row_count, gives_rows, tells_made, columns,
			made_of, created_at)
			select $2, space_id, chart_id, version_id, title, body, source, typed, figure, exact, created_by,
			made, checked, id, id, true, page_id, contents, phone, row_count, gives_rows, tells_made, columns, made_of,
			coalesce(changed_at, created_at)
			from shares where id = $1 returning id`, root.ID, earlierKey).Scan(&was); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update shares set parent_id = $2 where parent_id = $1 and not earlier`, root.ID, was); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update share_columns set share_id = $2 where share_id = $1`, root.ID, was); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update shares set version_id = nullif($2::bigint, 0), title = $3, source = $4, typed = $5, figure = $6,
			exact = $7, made = $8, contents = $9, phone = $10, preview = $11, made_of = $12, checked = $13, changed_at = now(), trouble = ''
			where id = $1`, root.ID, fresh.VersionID, fresh.Title, fresh.Source, fresh.Typed, compressor.EncodeAll(fresh.Figure, nil),
			packedOrNull(fresh.Exact), fresh.Made, contents, packedOrNull(fresh.Phone), fresh.Preview, fresh.MadeOf,
			fresh.Checked); err != nil {
			return err
		}
		if fresh.Table != nil {
			if err := publish(ctx, tx, root.ID, fresh.Table); err != nil {
				return err
			}
		}
		return addParts(ctx, tx, root, root.ID, parts)
	})
}

// TroubleShare says why a live share stays as it is; made_of is what it would be of.
func (s *Store) TroubleShare(ctx context.Context, id int64, trouble string) error {
	_, err := s.pool.Exec(ctx, `update shares set trouble = $2 where id = $1`, id, trouble)
	return err
}

// PublishedTable reads the table that a share publishes.
func (s *Store) PublishedTable(ctx context.Context, shareID int64, rows int) (*table.Table, error) {
	return s.unpacked(ctx, `select `+packedNames+` from share_columns where share_id = $1 order by position`, shareID, rows)
}

const shareQuery = `select h.id, h.key, coalesce(h.chart_id, 0), h.title, h.body, h.source, h.typed, h.created_at, r.withdrawn_at, s.name,
	s.id, coalesce(h.version_id, 0), coalesce(h.row_count, -1), h.made, h.checked, coalesce(h.parent_id, 0),
	coalesce(h.root_id, 0), h.earlier, h.block,
	coalesce(h.page_id, 0), h.contents, r.live, r.people_only, r.password_hash, r.until, r.gives_rows, r.tells_made, h.columns, h.made_of,
	h.changed_at, r.trouble, coalesce(h.created_by, 0), coalesce(p.name, ''), h.preview is not null, h.links is not null,
	coalesce((select sum(o.opened) from share_opens o where o.share_id = h.id), 0)
	from shares h join spaces s on s.id = h.space_id join shares r on r.id = coalesce(h.root_id, h.id)
	left join people p on p.id = h.created_by `

func scanShare(row pgx.Row) (h app.Share, err error) {
	var contents []byte
	if err := row.Scan(&h.ID, &h.Key, &h.ChartID, &h.Title, &h.Body, &h.Source, &h.Typed, &h.CreatedAt, &h.WithdrawnAt, &h.SpaceName,
		&h.SpaceID, &h.VersionID, &h.Rows, &h.Made, &h.Checked, &h.ParentID, &h.RootID, &h.Earlier, &h.Block, &h.PageID, &contents, &h.Live,
		&h.PeopleOnly, &h.PasswordHash, &h.Until, &h.GivesRows, &h.TellsMade, &h.Columns, &h.MadeOf, &h.ChangedAt, &h.Trouble, &h.PersonID,
		&h.By, &h.Previewed, &h.Linked, &h.Opened); err != nil {
		return h, found(err)
	}
	h.Locked = h.PasswordHash != ""
	if contents != nil {
		err = json.Unmarshal(contents, &h.Contents)
	}
	return h, err
}

// Shares lists a space's shares without what they show, the newest first.
func (s *Store) Shares(ctx context.Context, spaceID int64) ([]app.Share, error) {
	return collect(ctx, s, scanShare, shareQuery+`where h.space_id = $1 and h.parent_id is null
		order by h.created_at desc, h.id desc`, spaceID)
}

// ShareParts lists the charts of a shared page, in their order.
func (s *Store) ShareParts(ctx context.Context, shareID int64) ([]app.Share, error) {
	return collect(ctx, s, scanShare, shareQuery+`where h.parent_id = $1 and not h.earlier order by h.position`, shareID)
}

// EarlierShare gives what a live share was before it followed.
func (s *Store) EarlierShare(ctx context.Context, shareID int64) (app.Share, error) {
	return scanShare(s.pool.QueryRow(ctx, shareQuery+`where h.parent_id = $1 and h.earlier`, shareID))
}

// WithdrawShare marks a share as withdrawn and forgets what it showed, and its rows.
func (s *Store) WithdrawShare(ctx context.Context, spaceID, id int64) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx,
			`update shares set withdrawn_at = coalesce(withdrawn_at, now()), figure = '', exact = null, made = '', checked = '', phone = null,
			preview = null, contents = null where space_id = $1 and id = $2 and parent_id is null`,
			spaceID, id)); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update shares set figure = '', exact = null, made = '', checked = '', typed = '', title = '', source = '',
			phone = null, links = null, contents = null where root_id = $1`, id); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `delete from share_columns where share_id in (select id from shares where id = $1 or root_id = $1)`, id)
		return err
	})
}

// ShareByKey finds a share, withdrawn or not, without what it shows.
func (s *Store) ShareByKey(ctx context.Context, key string) (app.Share, error) {
	return scanShare(s.pool.QueryRow(ctx, shareQuery+`where h.key = $1`, key))
}

// ShareByID finds one of a space.
func (s *Store) ShareByID(ctx context.Context, spaceID, id int64) (app.Share, error) {
	return scanShare(s.pool.QueryRow(ctx, shareQuery+`where h.space_id = $1 and h.id = $2`, spaceID, id))
}

// packedOrNull packs bytes; null where there are none.
func packedOrNull(encoded []byte) []byte {
	if len(encoded) == 0 {
		return nil
	}
	return compressor.EncodeAll(encoded, nil)
}

// figureColumns are where the figures of a share stand; where there is none, the first one stands for it.
var figureColumns = map[app.FigureOf]string{app.FirstFigure: "figure", app.ExactFigure: "exact", app.PhoneFigure: "phone"}

// SharedFigure reads an encoded figure of a share.
func (s *Store) SharedFigure(ctx context.Context, shareID int64, which app.FigureOf) ([]byte, error) {
	var packed []byte
	if err := s.pool.QueryRow(ctx, `select coalesce(h.`+figureColumns[which]+`, h.figure) from shares h
		join shares r on r.id = coalesce(h.root_id, h.id) where h.id = $1 and r.withdrawn_at is null`, shareID).Scan(&packed); err != nil {
		return nil, found(err)
	}
	return decompressor.DecodeAll(packed, nil)
}

// ShareLinks reads what the rows of a chart are called in all charts of its page.
func (s *Store) ShareLinks(ctx context.Context, shareID int64) (links []byte, err error) {
	err = s.pool.QueryRow(ctx, `select coalesce(links, '') from shares where id = $1`, shareID).Scan(&links)
	return links, found(err)
}

// SharePreview reads the picture for previews of its link.
func (s *Store) SharePreview(ctx context.Context, shareID int64) (preview []byte, err error) {
	err = s.pool.QueryRow(ctx, `select coalesce(preview, '') from shares where id = $1`, shareID).Scan(&preview)
	return preview, found(err)
}

// CountOpen counts that a share was opened today.
func (s *Store) CountOpen(ctx context.Context, shareID int64) error {
	_, err := s.pool.Exec(ctx, `insert into share_opens (share_id, day, opened) values ($1, current_date, 1)
		on conflict (share_id, day) do update set opened = share_opens.opened + 1`, shareID)
	return err
}

// ShareOpens is how often a share was opened, by day, the last days first.
func (s *Store) ShareOpens(ctx context.Context, shareID int64, most int) ([]app.DayOpened, error) {
	return collect(ctx, s, func(row pgx.Row) (d app.DayOpened, err error) {
		return d, row.Scan(&d.Day, &d.Opened)
	}, `select to_char(day, 'YYYY-MM-DD'), opened from share_opens where share_id = $1 order by day desc limit $2`, shareID, most)
}

// ChartNow is what a live share of a chart is made of: where the chart stands, and the newest version of its dataset.
func (s *Store) ChartNow(ctx context.Context, spaceID, chartID int64) (stepID, newestVersionID int64, err error) {
	err = s.pool.QueryRow(ctx, `select coalesce(c.head_step_id, 0),
		(select max(w.id) from dataset_versions w where w.dataset_id = v.dataset_id)
		from charts c join dataset_versions v on v.id = c.version_id where c.space_id = $1 and c.id = $2`, spaceID, chartID).
		Scan(&stepID, &newestVersionID)
	return stepID, newestVersionID, found(err)
}
