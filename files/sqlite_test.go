package files

import (
	"bytes"
	"context"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/ncruces/go-sqlite3"

	"copperlark/core/reader"
)

// sqliteOf is a database file after some statements.
func sqliteOf(t testing.TB, statements string) []byte {
	t.Helper()
	at := filepath.Join(t.TempDir(), "hives.sqlite")
	c, err := sqlite3.Open(at)
	if err != nil {
		t.Fatal(err)
	}
	if err := c.Exec(statements); err != nil {
		t.Fatal(err)
	}
	if err := c.Close(); err != nil {
		t.Fatal(err)
	}
	raw, err := os.ReadFile(at)
	if err != nil {
		t.Fatal(err)
	}
	return raw
}

const sqliteHives = `create table "blank" (a);
	create table hives (id integer primary key, "the name" text, kg real, day text, fed boolean, photo blob,
		twice real generated always as (kg * 2), number integer);
	insert into hives (id, "the name", kg, day, fed, photo, number) values (1, 'hive "A"', 31.25, '2031-03-01', 1, x'0102', 9007199254740993),
		(2, 'ruche
é', null, '2031-03-02', 0, null, 2), (3, null, 1e-9, '2031-03-03', 1, 'a text', 3), (4, 'x', 9e999, null, 0, x'03', 4);
	create table keeper (who text primary key, since int) without rowid; insert into keeper values ('Anwen', 2019), ('Bram', 2024);
	create table pictures (of, size, photo); insert into pictures values ('hive', 2, x'01');
	create view zzview as select * from hives; create index zzindex on hives (kg)`

func TestDatabaseFilesAreRead(t *testing.T) {
	raw := sqliteOf(t, sqliteHives)
	for sheet, want := range map[string]string{
		"": "id|number||1~2~3~4\nthe name|category||hive \"A\"~ruche\né~~x\nkg|number||31.25~~1e-09~\n" +
			"day|date||2031-03-01~2031-03-02~2031-03-03~\nfed|yes / no||yes~no~yes~no\nphoto|category||~~a text~\n" +
			"number|category||9007199254740993~2~3~4",
		"pictures": "of|category||hive\nsize|number||2",
		"keeper":   "who|category||Anwen~Bram\nsince|number||2019~2024",
	} {
		got, report, err := Read(t.Context(), "hives.sqlite", raw, reader.Options{Sheet: sheet})
		if err != nil {
			t.Fatal(err)
		}
		if have := shown(got); strings.ReplaceAll(have, "|text|", "|category|") != want ||
			strings.Join(report.Sheets, ",") != "blank,hives,keeper,pictures" || report.Format != "SQLite file" {
			t.Errorf("%q: got\n%s\nwant\n%s\n%+v", sheet, have, want, report)
		}
		if notes := report.NoteCount; sheet == "" && notes < 2 {
			t.Errorf("notes %+v", report.Notes)
		}
	}
	for what, test := range map[string]struct {
		raw  []byte
		open reader.Options
		says string
	}{
		"a table that is not there": {raw, reader.Options{Sheet: "wages"}, "choose one of blank, hives, keeper, pictures"},
		"a table without a row":     {raw, reader.Options{Sheet: "blank"}, "no row"},
		"views alone":               {sqliteOf(t, "create view v as select 1"), reader.Options{}, "no table"},
		"a view":                    {raw, reader.Options{Sheet: "zzview"}, "the file has no table"},
		"more than the limit": {sqliteOf(t, "create table t as with recursive n(i) as (select 1 union all select i + 1 from n where i < 60000) "+
			"select i, 'some text of the row' as words from n"), reader.Options{MaxBytes: 1 << 20}, "larger than"},
		"too wide": {raw, reader.Options{MaxColumns: 3}, "columns"},
		"half":     {raw[:len(raw)/2], reader.Options{}, "damaged"},
	} {
		_, _, err := Read(t.Context(), "a.sqlite", test.raw, test.open)
		var refused *reader.Error
		if !errors.As(err, &refused) || !strings.Contains(refused.Problem+refused.Advice, test.says) {
			t.Errorf("%s: %v, want %q", what, err, test.says)
		}
	}
	for at := 0; at < len(raw); at += 7 { // with a byte that is another, anywhere
		other := bytes.Clone(raw)
		other[at] ^= 0xa5
		_, _, _ = Read(context.Background(), "a.sqlite", other, reader.Options{MaxBytes: 1 << 20})
	}
	ctx, leave := context.WithCancel(t.Context())
	leave()
	if _, _, err := Read(ctx, "a.sqlite", raw, reader.Options{}); err != context.Canceled {
		t.Errorf("a file for nobody: %v", err)
	}
}
