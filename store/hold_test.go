package store_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/table"
	"copperlark/internal/test/databases"
	"copperlark/store"
)

// TestAnOlderProgramRefusesANewerSchema has the database say that a newer program was here.
func TestAnOlderProgramRefusesANewerSchema(t *testing.T) {
	url := databases.Throwaway(t)
	var all sync.WaitGroup
	for range 4 { // several that start at once wait for each other
		all.Go(func() {
			s, err := store.Open(t.Context(), url)
			if err != nil {
				t.Error(err)
				return
			}
			s.Close()
		})
	}
	all.Wait()
	db, err := pgx.Connect(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = db.Close(t.Context()) }()
	if _, err := db.Exec(t.Context(), `insert into goose_db_version (version_id, is_applied) values (9999, true)`); err != nil {
		t.Fatal(err)
	}
	if _, err := store.Open(t.Context(), url); err == nil || !strings.Contains(err.Error(), "written by a newer program (its schema is 9999") {
		t.Errorf("a newer schema: %v", err)
	}
}

// TestTheProgramIsNoSuperuser holds what the program's own database is made with.
func TestTheProgramIsNoSuperuser(t *testing.T) {
	db, err := pgx.Connect(t.Context(), databases.Throwaway(t))
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = db.Close(t.Context()) }()
	var might bool
	var checksums string
	if err := db.QueryRow(t.Context(),
		`select rolsuper or rolcreaterole or rolcreatedb or rolreplication or rolbypassrls from pg_roles where rolname = current_user`).Scan(&might); err != nil || might {
		t.Errorf("the program's role may do more than it needs: %v, %v", might, err)
	}
	if err := db.QueryRow(t.Context(), `show data_checksums`).Scan(&checksums); err != nil || checksums != "on" {
		t.Errorf("data checksums are %s, %v", checksums, err)
	}
}

// charted is a store with a chart in it, and a way to its database beside the program's.
func charted(t *testing.T) (*store.Store, app.Person, app.Dataset, app.Chart, *pgx.Conn) {
	url := databases.Throwaway(t)
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	p, err := s.AddPerson(t.Context(), "a@b.example", "A", "", "Space")
	if err != nil {
		t.Fatal(err)
	}
	d := keep(t, s, p, table.NewNumbers("a", []float64{1}), table.NewNumbers("b", []float64{1}))
	c, err := s.AddChart(t.Context(), p.SpaceID, d.VersionID, p.ID, "C", true,
		&chart.Document{Version: chart.Version, Y: chart.Variable{Column: "a"}, X: chart.Variable{Column: "b"}}, "first look")
	if err != nil {
		t.Fatal(err)
	}
	db, err := pgx.Connect(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = db.Close(context.Background()) })
	return s, p, d, c, db
}

// TestRelationsAreCountedInDocumentsOfEveryVersion counts the pairs of columns that were looked at in steps as older programs
// kept them.
func TestRelationsAreCountedInDocumentsOfEveryVersion(t *testing.T) {
	s, p, d, c, db := charted(t)
	for _, document := range []string{
		`{"version":1,"y":"b","x":"a"}`,
		`{"version":2,"y":{"column":"a"},"x":{"column":"b"},"where":"a > 1"}`,
		`{"version":3,"y":{"column":"b"},"x":{"column":"a"},"rows":{"where":"a > 1"}}`,
		`{"version":3,"y":{"column":"b"},"x":{"column":"c"}}`,
		`{"version":3,"y":{"of":"count"},"x":{"column":"c"}}`,
	} {
		if _, err := db.Exec(t.Context(), `insert into steps (chart_id, parent_id, document, words, created_by) values ($1, $2, $3, 'then', $4)`,
			c.ID, c.HeadStepID, document, p.ID); err != nil {
			t.Fatal(err)
		}
	}
	if n, err := s.RelationsLooked(t.Context(), p.SpaceID, d.ID); err != nil || n != 3 { // a with b, some of them, b with c
		t.Errorf("%d relations were looked at: %v", n, err)
	}
}

// TestALongTrailGoesAtOnce deletes a chart of 22,000 steps, and holds that every reference
// of the schema has an index behind it.
func TestALongTrailGoesAtOnce(t *testing.T) {
	s, p, _, c, db := charted(t)
	if _, err := db.Exec(t.Context(), `insert into steps (chart_id, parent_id, document, words, created_by)
		select $1, $2, (select document from steps where id = $2), 'again', $3 from generate_series(1, 22000)`, c.ID, c.HeadStepID, p.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.AddStep(t.Context(), p.SpaceID, c.ID, c.HeadStepID, p.ID, c.Document, "one more", "N", app.MaxStepsADay); !errors.Is(err,
		app.ErrTooManySteps) {
		t.Errorf("after 22,000 steps of a day: %v", err)
	}
	begun := time.Now()
	if err := s.DropChart(t.Context(), p.SpaceID, c.ID); err != nil {
		t.Fatal(err)
	}
	if took := time.Since(begun); took > 3*time.Second { // a second on a machine of one's own
		t.Errorf("deleting 22,000 steps took %v", took)
	}
	var bare []string
	if err := db.QueryRow(t.Context(), `select coalesce(array_agg(c.conrelid::regclass || '.' || a.attname order by 1), '{}') from pg_constraint c
		join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
		where c.contype = 'f' and c.connamespace = 'public'::regnamespace
		and not exists (select from pg_index i where i.indrelid = c.conrelid and i.indkey[0] = c.conkey[1])`).Scan(&bare); err != nil {
		t.Fatal(err)
	}
	if len(bare) > 0 {
		t.Errorf("references without an index: %v", bare)
	}
}

// TestConnectionsHealAfterTheirBackendsAreKilled kills every backend of the pool.
func TestConnectionsHealAfterTheirBackendsAreKilled(t *testing.T) {
	url := databases.Throwaway(t)
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	var all sync.WaitGroup
	for range 12 { // fill the pool
		all.Go(func() { _, _ = s.Charts(t.Context(), 1) })
	}
	all.Wait()
	db, err := pgx.Connect(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = db.Close(t.Context()) }()
	if _, err := db.Exec(t.Context(),
		`select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()`); err != nil {
		t.Fatal(err)
	}
	healed := 0
	for range 60 {
		switch _, err := s.Charts(t.Context(), 1); {
		case err == nil:
			healed++
		case !errors.Is(err, app.ErrUnavailable):
			t.Errorf("a killed backend gives %v", err)
		}
	}
	if healed < 60-20 {
		t.Errorf("only %d of 60 calls were answered after all backends were killed", healed)
	}
}

// TestTriesGo deletes charts that nobody named, kept or shared, and that are not changed any more; all others stay.
func TestTriesGo(t *testing.T) {
	s, p, d, named, db := charted(t)
	document := &chart.Document{Version: chart.Version, Y: chart.Variable{Column: "a"}, X: chart.Variable{Column: "b"}}
	try := func() app.Chart {
		c, err := s.AddChart(t.Context(), p.SpaceID, d.VersionID, p.ID, "a against b", false, document, "first look")
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	old, pinned, shown, shared := try(), try(), try(), try()
	if err := s.MarkStep(t.Context(), p.SpaceID, pinned.ID, pinned.HeadStepID, nil, new(true)); err != nil {
		t.Fatal(err)
	}
	for _, query := range []string{
		fmt.Sprintf(`insert into pages (space_id, contents) values (%d, '{"blocks": [{"id": "t"}, {"id": "c", "chart": {"id": %d}}]}')`,
			p.SpaceID, shown.ID),
		fmt.Sprintf(`insert into pages (space_id, contents) values (%d, '{"blocks": null}')`, p.SpaceID),
		fmt.Sprintf(`insert into shares (key, space_id, chart_id, title, body, source, typed, figure)
			values ('k', %d, %d, '', '', '', '', '')`, p.SpaceID, shared.ID),
		`update charts set changed_at = now() - interval '40 days'`,
	} {
		if _, err := db.Exec(t.Context(), query); err != nil {
			t.Fatal(query, err)
		}
	}
	fresh := try()
	if n, err := s.DropTries(t.Context(), 30*24*time.Hour); err != nil || n != 1 {
		t.Errorf("%d went: %v", n, err)
	}
	left, err := s.Charts(t.Context(), p.SpaceID)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range left {
		if c.ID == old.ID {
			t.Error("the old try is there")
		}
	}
	if len(left) != 5 {
		t.Errorf("%d charts are left of %v", len(left), []int64{named.ID, pinned.ID, shown.ID, shared.ID, fresh.ID})
	}
}
