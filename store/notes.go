package store

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

// noteQuery reads notes with their answers, for the person $2.
const noteQuery = `select n.id, coalesce(n.chart_id, 0), coalesce(n.dataset_id, 0), coalesce(n.page_id, 0), n.spot, n.text,
	coalesce(n.created_by, 0), coalesce(p.name, ''), n.created_at, coalesce(r.name, ''), n.resolved_at,
	coalesce(c.name, d.name, g.contents->>'title', ''), coalesce(v.dataset_id, n.dataset_id, 0),
	coalesce(w.seen_at is null and w.note_id is not null, false), coalesce(w.named, false),
	coalesce((select json_agg(json_build_object('id', a.id, 'text', a.text, 'person_id', coalesce(a.created_by, 0),
		'by', coalesce(q.name, ''), 'created_at', a.created_at) order by a.id)
		from note_answers a left join people q on q.id = a.created_by where a.note_id = n.id), '[]')
	from notes n left join people p on p.id = n.created_by left join people r on r.id = n.resolved_by
	left join charts c on c.id = n.chart_id left join dataset_versions v on v.id = c.version_id
	left join datasets d on d.id = n.dataset_id left join pages g on g.id = n.page_id
	left join note_news w on w.note_id = n.id and w.person_id = $2 `

func scanNote(row pgx.Row) (n app.Note, err error) {
	var spot, answers []byte
	if err := row.Scan(&n.ID, &n.ChartID, &n.DatasetID, &n.PageID, &spot, &n.Text, &n.PersonID, &n.By, &n.CreatedAt, &n.ResolvedBy,
		&n.ResolvedAt, &n.Name, &n.OfDataset, &n.Fresh, &n.Named, &answers); err != nil {
		return n, found(err)
	}
	if err := json.Unmarshal(spot, &n.Spot); err != nil {
		return n, err
	}
	return n, json.Unmarshal(answers, &n.Answers)
}

// Notes lists notes: of one chart, dataset or page the first one first, of a whole space the last one first.
func (s *Store) Notes(ctx context.Context, spaceID, personID int64, wanted app.NotesWanted, most int) ([]app.Note, error) {
	where, arguments := []string{"n.space_id = $1"}, []any{spaceID, personID}
	and := func(condition string, value any) {
		arguments = append(arguments, value)
		where = append(where, fmt.Sprintf(condition, len(arguments)))
	}
	order := "n.id"
	switch {
	case wanted.ID != 0:
		and("n.id = $%d", wanted.ID)
	case wanted.ChartID != 0:
		and("n.chart_id = $%d", wanted.ChartID)
	case wanted.DatasetID != 0:
		and("n.dataset_id = $%d", wanted.DatasetID)
	case wanted.PageID != 0:
		and("n.page_id = $%d", wanted.PageID)
	default:
		order = "n.changed_at desc, n.id desc"
	}
	if wanted.Open {
		where = append(where, "n.resolved_at is null")
	}
	if wanted.Fresh {
		where = append(where, "w.note_id is not null and w.seen_at is null")
	}
	for _, word := range strings.Fields(wanted.Find) {
		and(`strpos(lower(concat_ws(' ', n.text, p.name, c.name, d.name, g.contents->>'title',
			(select string_agg(a.text, ' ') from note_answers a where a.note_id = n.id))), lower($%d)) > 0`, word)
	}
	arguments = append(arguments, most)
	return collect(ctx, s, scanNote, noteQuery+"where "+strings.Join(where, " and ")+" order by "+order+
		fmt.Sprintf(" limit $%d", len(arguments)), arguments...)
}

// CountNotes is how many there are on a chart, a dataset or a page.
func (s *Store) CountNotes(ctx context.Context, spaceID int64, on app.Subject) (count int, err error) {
	err = s.pool.QueryRow(ctx, `select count(*) from notes where space_id = $1 and
		(chart_id = nullif($2::bigint, 0) or dataset_id = nullif($3::bigint, 0) or page_id = nullif($4::bigint, 0))`,
		spaceID, on.ChartID, on.DatasetID, on.PageID).Scan(&count)
	return count, err
}

// AddNote keeps a note, and that it concerns who is named in it and who made what it is on.
func (s *Store) AddNote(ctx context.Context, spaceID, personID int64, note app.NewNote, named []int64) (id int64, err error) {
	spot, err := json.Marshal(note.Spot)
	if err != nil {
		return 0, err
	}
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `insert into notes (space_id, chart_id, dataset_id, page_id, spot, text, created_by)
			select $1, (select id from charts where space_id = $1 and id = $2), (select id from datasets where space_id = $1 and id = $3),
				(select id from pages where space_id = $1 and id = $4), $5, $6, nullif($7::bigint, 0)
			where exists (select from charts where space_id = $1 and id = $2) or exists (select from datasets where space_id = $1 and id = $3)
				or exists (select from pages where space_id = $1 and id = $4) returning id`,
			spaceID, note.ChartID, note.DatasetID, note.PageID, spot, note.Text, personID).Scan(&id); err != nil {
			return found(err)
		}
		return concerns(ctx, tx, id, personID, named)
	})
	return id, err
}

// concerns keeps that what was just said in a note is news for who is named in it and for whom it concerned before, for who made
// what it is on, and for who wrote it or answered; not for who says it. All servers are told.
func concerns(ctx context.Context, tx pgx.Tx, noteID, personID int64, named []int64) error {
	if _, err := tx.Exec(ctx, `insert into note_news (note_id, person_id, named)
		select n.id, m.person_id, m.person_id = any($3) from notes n
			left join charts c on c.id = n.chart_id left join steps t on t.id = (n.spot->>'step')::bigint and t.chart_id = c.id
			left join datasets d on d.id = n.dataset_id left join pages g on g.id = n.page_id
			join members m on m.space_id = n.space_id and m.person_id <> $2 and (m.person_id = any($3) or m.person_id = n.created_by
				or m.person_id in (c.created_by, t.created_by, d.created_by, g.created_by)
				or exists (select from note_answers a where a.note_id = n.id and a.created_by = m.person_id)
				or exists (select from note_news w where w.note_id = n.id and w.person_id = m.person_id))
			where n.id = $1
		on conflict (note_id, person_id) do update set named = note_news.named or excluded.named, at = now(), seen_at = null,
			posted_at = null`,
		noteID, personID, nonNil(named)); err != nil {
		return err
	}
	return tellOfNote(ctx, tx, noteID)
}

func nonNil(ids []int64) []int64 {
	if ids == nil {
		return []int64{}
	}
	return ids
}

// tellOfNote tells all servers that the notes of something changed.
func tellOfNote(ctx context.Context, tx pgx.Tx, noteID int64) error {
	var on app.Subject
	if err := tx.QueryRow(ctx, `select `+subjectOfNote+` from notes where id = $1`, noteID).
		Scan(&on.ChartID, &on.DatasetID, &on.PageID); err != nil {
		return err
	}
	return tellOf(ctx, tx, on)
}

const subjectOfNote = `coalesce(chart_id, 0), coalesce(dataset_id, 0), coalesce(page_id, 0)`

// onNote changes a note by a statement whose first parameters are the space and the note, and tells of it.
func (s *Store) onNote(ctx context.Context, spaceID, noteID int64, statement string, more []any, then func(pgx.Tx) error) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		if err := affected(tx.Exec(ctx, statement, append([]any{spaceID, noteID}, more...)...)); err != nil {
			return err
		}
		return then(tx)
	})
}

// AnswerNote keeps an answer.
func (s *Store) AnswerNote(ctx context.Context, spaceID, personID, noteID int64, text string, named []int64) error {
	return s.onNote(ctx, spaceID, noteID, `with n as (update notes set changed_at = now() where space_id = $1 and id = $2 returning id)
		insert into note_answers (note_id, text, created_by) select id, $3, nullif($4::bigint, 0) from n`, []any{text, personID},
		func(tx pgx.Tx) error { return concerns(ctx, tx, noteID, personID, named) })
}

// ResolveNote keeps that a note is resolved, or open again; whom it concerns is told of the first.
func (s *Store) ResolveNote(ctx context.Context, spaceID, personID, noteID int64, resolved bool) error {
	return s.onNote(ctx, spaceID, noteID, `update notes set changed_at = now(), resolved_by = case when $3 then nullif($4::bigint, 0) end,
		resolved_at = case when $3 then now() end where space_id = $1 and id = $2`, []any{resolved, personID},
		func(tx pgx.Tx) error { return tellOfNote(ctx, tx, noteID) })
}

// RewriteNote says a note of one's own otherwise; who is named in it by now is told.
func (s *Store) RewriteNote(ctx context.Context, spaceID, personID, noteID int64, text string, named []int64) error {
	return s.onNote(ctx, spaceID, noteID, `update notes set text = $3, changed_at = now() where space_id = $1 and id = $2 and created_by = $4`,
		[]any{text, personID}, func(tx pgx.Tx) error {
			if _, err := tx.Exec(ctx, `insert into note_news (note_id, person_id, named) select $1, m.person_id, true from members m
				where m.space_id = $4 and m.person_id = any($3) and m.person_id <> $2 on conflict do nothing`,
				noteID, personID, nonNil(named), spaceID); err != nil {
				return err
			}
			return tellOfNote(ctx, tx, noteID)
		})
}

// DropNote deletes a note with its answers; writtenBy 0: anybody's.
func (s *Store) DropNote(ctx context.Context, spaceID, noteID, writtenBy int64) error {
	return s.pool.in(ctx, func(tx pgx.Tx) error {
		var on app.Subject
		if err := tx.QueryRow(ctx, `delete from notes where space_id = $1 and id = $2 and ($3::bigint = 0 or created_by = $3)
			returning `+subjectOfNote, spaceID, noteID, writtenBy).Scan(&on.ChartID, &on.DatasetID, &on.PageID); err != nil {
			return found(err)
		}
		return tellOf(ctx, tx, on)
	})
}

// DropNoteAnswer deletes an answer; writtenBy 0: anybody's.
func (s *Store) DropNoteAnswer(ctx context.Context, spaceID, noteID, answerID, writtenBy int64) error {
	return s.onNote(ctx, spaceID, noteID, `with gone as (delete from note_answers a using notes n where n.space_id = $1 and n.id = $2
		and a.note_id = n.id and a.id = $3 and ($4::bigint = 0 or a.created_by = $4) returning n.id)
		update notes set changed_at = now() from gone where notes.id = gone.id`, []any{answerID, writtenBy},
		func(tx pgx.Tx) error { return tellOfNote(ctx, tx, noteID) })
}

// SeeNote keeps that somebody has seen a note that concerns them.
func (s *Store) SeeNote(ctx context.Context, personID, noteID int64) error {
	_, err := s.pool.Exec(ctx, `update note_news set seen_at = now() where note_id = $1 and person_id = $2 and seen_at is null`,
		noteID, personID)
	return err
}

// waiting are the news that a letter would tell of: not seen, not posted, of an open note in a space that the person is in.
const waitingNews = `w.seen_at is null and w.posted_at is null and n.resolved_at is null
	and exists (select from members m where m.space_id = n.space_id and m.person_id = w.person_id)`

// NewsToPost takes what concerns one person whose last letter is older than after.
func (s *Store) NewsToPost(ctx context.Context, after time.Duration) (email string, news []app.PostedNote, err error) {
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		var person int64
		if err := tx.QueryRow(ctx, `update people set posted_at = now() where id = (select p.id from people p
			where p.letters and (p.posted_at is null or p.posted_at < now() - $1::interval)
			and exists (select from note_news w join notes n on n.id = w.note_id where w.person_id = p.id and `+waitingNews+`)
			order by p.id limit 1 for update skip locked) returning id, email`, after).Scan(&person, &email); err != nil {
			return found(err)
		}
		rows, err := tx.Query(ctx, `select n.space_id, s.name, coalesce(q.name, p.name, ''), coalesce(c.name, d.name, g.contents->>'title', ''),
			coalesce(a.text, n.text), w.named, coalesce(c.id, 0), coalesce(v.dataset_id, n.dataset_id, 0), coalesce(g.id, 0), n.id
			from note_news w join notes n on n.id = w.note_id join spaces s on s.id = n.space_id left join people p on p.id = n.created_by
			left join lateral (select * from note_answers where note_id = n.id order by id desc limit 1) a on true
			left join people q on q.id = a.created_by
			left join charts c on c.id = n.chart_id left join dataset_versions v on v.id = c.version_id
			left join datasets d on d.id = n.dataset_id left join pages g on g.id = n.page_id
			where w.person_id = $1 and `+waitingNews+` order by w.at desc`, person)
		if err != nil {
			return err
		}
		if news, err = pgx.CollectRows(rows, scanPosted); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update note_news set posted_at = now() where person_id = $1 and posted_at is null`, person)
		return err
	})
	return email, news, err
}

func scanPosted(row pgx.CollectableRow) (n app.PostedNote, err error) {
	var chart, dataset, page, note int64
	if err := row.Scan(&n.SpaceID, &n.Space, &n.By, &n.Name, &n.Text, &n.Named, &chart, &dataset, &page, &note); err != nil {
		return n, err
	}
	view := fmt.Sprintf("dataset/%d/data", dataset)
	if chart != 0 {
		view = fmt.Sprintf("dataset/%d/chart/%d", dataset, chart)
	} else if page != 0 {
		view = fmt.Sprintf("page/%d", page)
	}
	n.Path = fmt.Sprintf("/in/%d/%s?note=%d", n.SpaceID, view, note)
	return n, nil
}
