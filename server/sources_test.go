package server

import (
	"bytes"
	"context"
	"fmt"
	"net/url"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/table"
	"copperlark/files"
	"copperlark/internal/test/databases"
	"copperlark/source"
)

// elsewhere makes a database with a table of 40,000 hours of scales in five districts, whose reader may see that table
// alone but for one column, and names it as a source.
func elsewhere(t *testing.T, spaces ...int64) (app.OfferedSource, func(statement string)) {
	t.Helper()
	address := databases.Owned(t)
	c, err := pgx.Connect(t.Context(), address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = c.Close(context.Background()) })
	run := func(statement string) {
		t.Helper()
		if _, err := c.Exec(t.Context(), statement); err != nil {
			t.Fatal(err)
		}
	}
	at, err := url.Parse(address)
	if err != nil {
		t.Fatal(err)
	}
	reader := "reader_" + strings.TrimPrefix(at.Path, "/")
	run(`create table scale_hours (id bigint, district text, kg double precision, keeper text);
		insert into scale_hours select i, 'district ' || i % 5, i / 100.0, 'zzkeeper' || i from generate_series(1, 40000) i;
		create table zzwages (keeper text); analyze;
		comment on table scale_hours is 'Scales under hives, by the hour';
		create role ` + reader + ` login password 'zzpassword'; grant select (id, district, kg) on scale_hours to ` + reader)
	at.User = url.UserPassword(reader, "zzpassword")
	p, err := source.NewPostgres(source.Named{Name: "valley", Address: at.String(), Tables: []source.NamedTable{
		{Name: "public.scale_hours", Key: "id"}, {Name: "public.zzwages"}}})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(p.Close)
	return app.OfferedSource{Source: p, Spaces: spaces}, run
}

// TestRowsOfATableThatStaysElsewhere are taken, kept, shared and taken again, with what they are said in each place; nothing of what the
// program may not read, and nothing of how it reads, is in any answer.
func TestRowsOfATableThatStaysElsewhere(t *testing.T) {
	anwen, bram, _ := world(t)
	offered, run := elsewhere(t, number(want[object](anwen, 200, "GET", "/api/me", nil), "space_id"))
	anwen.app.Reach(app.Outside{Sources: []app.OfferedSource{offered}})
	listed := anwen.send("GET", "/api/sources", nil)
	list := want[[]app.ListedSource](anwen, 200, "GET", "/api/sources", nil)
	if len(list) != 1 || len(list[0].Tables) != 2 || list[0].Tables[0].Rows != 40_000 || list[0].Tables[0].Columns != 3 ||
		list[0].Tables[0].Meaning != "Scales under hives, by the hour" || list[0].Tables[1].Trouble != "the program may not read this table" {
		t.Errorf("%+v", list)
	}
	if other := want[[]app.ListedSource](bram, 200, "GET", "/api/sources", nil); len(other) != 0 {
		t.Errorf("another space sees %+v", other)
	}
	wanted := object{"source": "valley", "table": "public.scale_hours", "rows": 2000, "seed": 42}
	want[object](bram, 404, "POST", "/api/sources/rows", wanted)
	preview := anwen.send("POST", "/api/sources/rows", wanted)
	taken := want[object](anwen, 200, "POST", "/api/sources/rows", wanted)
	kept := want[app.Dataset](anwen, 200, "POST", "/api/uploads/"+taken["key"].(string)+"/keep", object{"name": "Hours"})
	const words = "2,000 of about 40,000 rows, drawn at random with seed 42, of public.scale_hours in the database valley"
	if kept.Rows != 2000 || kept.Columns != 3 || kept.FileName != "scale_hours.parquet" {
		t.Errorf("kept %+v", kept)
	}
	if got := want[object](anwen, 200, "GET", fmt.Sprintf("/api/datasets/%d", kept.ID), nil)["dataset"].(object); got["drawn"] != words {
		t.Errorf("the dataset says %v", got["drawn"])
	}
	// Prepared, it is as much a sample; shared, its readers are told.
	prepared := want[app.Version](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", kept.VersionID),
		object{"typed": "work out pounds = kg * 2.2"})
	shared := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": prepared.ID,
		"document": plotted("kg", "id", nil), "title": "By the hour"})
	page := anwen.send("GET", "/s/"+shared["key"].(string), nil).Body.String()
	if !strings.Contains(page, "these are "+words) {
		t.Errorf("the share does not say that it is a sample: %s", page)
	}
	for name, answer := range map[string]string{"the list": listed.Body.String(), "the preview": preview.Body.String(), "the page": page} {
		for _, hidden := range []string{"zzkeeper", "zzpassword", "reader_", "127.0.0.1", "postgres://", "select "} {
			if strings.Contains(answer, hidden) {
				t.Errorf("%s holds %s", name, hidden)
			}
		}
	}
	for name, one := range map[string]struct {
		code int
		body object
		says string
	}{
		"no such source":            {404, object{"source": "hills", "table": "public.scale_hours", "rows": 10, "seed": 1}, ""},
		"a table that is not named": {404, object{"source": "valley", "table": "pg_catalog.pg_authid", "rows": 10, "seed": 1}, ""},
		"one that is not readable":  {422, object{"source": "valley", "table": "public.zzwages", "rows": 10, "seed": 1}, "may not read"},
		"no row":                    {422, object{"source": "valley", "table": "public.scale_hours", "rows": 0, "seed": 1}, "rows"},
	} {
		if got := anwen.send("POST", "/api/sources/rows", one.body); got.Code != one.code || !strings.Contains(got.Body.String(), one.says) {
			t.Errorf("%s: %d %s", name, got.Code, got.Body.String())
		}
	}
	takenAgain(t, anwen, kept.ID, run)
}

// TestWhatASampleIsOfStaysAtHome where it speaks of a column that does: that it is a sample is told all the same.
func TestWhatASampleIsOfStaysAtHome(t *testing.T) {
	anwen, _, _ := world(t)
	numbers := func(name string, values ...float64) *table.Column {
		return &table.Column{Name: name, Kind: table.Number, Numbers: values}
	}
	data, err := table.New(numbers("kg", 1, 2, 3.5), numbers("day", 4, 6, 5), numbers("zzwage", 7, 9, 8))
	if err != nil {
		t.Fatal(err)
	}
	var file bytes.Buffer
	if err := files.WriteParquetOf(t.Context(), &file, data, files.Told{Drawn: "3 of 9 rows, of public.zzwage_days"}); err != nil {
		t.Fatal(err)
	}
	kept := want[app.Dataset](anwen, 200, "POST", "/api/uploads/"+anwen.read("days.parquet", file.String())+"/keep", object{"name": "Days"})
	shared := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": kept.VersionID,
		"document": plotted("kg", "day", nil), "title": "By the day"})
	page := anwen.send("GET", "/s/"+shared["key"].(string), nil).Body.String()
	if strings.Contains(page, "zzwage") || !strings.Contains(page, "these are a sample of a larger table") {
		t.Errorf("the page says %s", page)
	}
}

// takenAgain asks the table again: as it was, with other numbers, with another column, and gone.
func takenAgain(t *testing.T, anwen *visitor, id int64, run func(string)) {
	t.Helper()
	origin := fmt.Sprintf("/api/datasets/%d/origin", id)
	for _, place := range []string{"source:valley/public.scale_hours", "source:hills/public.scale_hours?rows=10&seed=1",
		"source:valley/public.scale_hours?rows=99999999&seed=1", "source:valley/public.scale_hours?seed=1&rows=10"} {
		if code := anwen.send("PUT", origin, object{"place": place, "every": "day"}).Code; code != 422 {
			t.Errorf("%s is answered %d", place, code)
		}
	}
	want[app.Origin](anwen, 200, "PUT", origin, object{"place": "source:valley/public.scale_hours?rows=2000&seed=42", "every": "day"})
	for _, step := range []struct{ before, outcome, words string }{
		{"", "same", "same rows"},
		{"update scale_hours set kg = kg + 1", "new", "2000 rows"},
		{"alter table scale_hours rename kg to weight", "stopped", "columns that are gone: kg; columns that came: weight"},
		{"drop table scale_hours", "failed", "no table of this name"},
	} {
		if step.before != "" {
			run(step.before)
		}
		o := want[app.Origin](anwen, 200, "POST", origin+"/asked", object{})
		if got := o.Runs[0]; got.Outcome != step.outcome || !strings.Contains(got.Words, step.words) {
			t.Errorf("after %q: %+v", step.before, got)
		}
	}
}
