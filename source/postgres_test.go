package source

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"copperlark/core/table"
	"copperlark/internal/test/databases"
)

func TestMain(m *testing.M) { databases.Main(m) }

// posted makes a database with what statements make, and a source of tables of it.
func posted(t *testing.T, statements string, tables ...NamedTable) (*Postgres, *pgx.Conn) {
	t.Helper()
	address := databases.Owned(t)
	c, err := pgx.Connect(t.Context(), address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = c.Close(context.Background()) })
	if _, err := c.Exec(t.Context(), statements); err != nil {
		t.Fatal(err)
	}
	p, err := NewPostgres(Named{Name: "Scales", Address: address, Tables: tables})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(p.Close)
	return p, c
}

func drawn(t *testing.T, p *Postgres, name string, draw Draw) (*Drawn, error) {
	t.Helper()
	s, err := p.Begin(t.Context(), name)
	if err != nil {
		return nil, err
	}
	defer s.End()
	if draw.Cells == 0 {
		draw.Cells = 1e8
	}
	return s.Rows(t.Context(), draw)
}

func values(c *table.Column) string {
	out := make([]string, c.Len())
	for i := range out {
		out[i] = c.Value(i)
	}
	return fmt.Sprintf("%s|%s|%s", c.Name, c.Kind, strings.Join(out, "~"))
}

func TestEveryTypeIsReadAsWhatItIs(t *testing.T) {
	p, _ := posted(t, `
		create type queen as enum ('old', 'young');
		create domain kg as numeric(8, 3);
		create table "Odd ""names" (id bigint, "we""ight; drop" kg, n int, f real, d double precision, fed boolean, day date, at timestamp,
			moment timestamptz, took interval, hive text, q queen, u uuid, big bigint, blob bytea, secret text);
		comment on column "Odd ""names".n is 'how many';
		insert into "Odd ""names" values
			(1, 31.250, 3, 0.1, 1e300, true, '2031-03-09', '2031-03-09 01:02:03.5', '2031-03-09 01:02:03+02', '90 min', 'Tarn', 'old',
				'00000000-0000-0000-0000-000000000001', 9007199254740993, 'x', 'zzsecret'),
			(2, null, -4, 'NaN', 'infinity', null, 'infinity', '-infinity', null, null, '', null, null, 4, null, 'zzsecret'),
			(3, 'NaN', null, null, -0.5, false, '0044-03-15 BC', '1969-12-31', '1970-01-01 00:00+00', '1 sec', '蜜蜂', 'young', null, null, null, '');
		`, NamedTable{Name: `public.Odd "names`, Key: "id"})
	got, err := drawn(t, p, `public.Odd "names`, Draw{Rows: 10, Seed: 42})
	if err != nil {
		t.Fatal(err)
	}
	want := []string{"id|number|1~2~3", `we"ight; drop|number|31.25~~`, "n|number|3~-4~", "f|number|0.1~~", "d|number|1e+300~~-0.5",
		"fed|yes / no|yes~~no", "day|date|2031-03-09~~", "at|date|2031-03-09 01:02:03.500~~1969-12-31 00:00:00",
		"moment|date|2031-03-08 23:02:03~~1970-01-01 00:00:00", "took|duration|1:30:00~~0:00:01", "hive|category|Tarn~~蜜蜂", "q|category|old~~young",
		"u|category|00000000-0000-0000-0000-000000000001~~", "big|category|9007199254740993~4~", "secret|category|zzsecret~zzsecret~"}
	for i, c := range got.Table.Columns() {
		if have := values(c); have != want[i] {
			t.Errorf("got %s, want %s", have, want[i])
		}
	}
	if !got.All || got.Of != 3 || len(got.Table.Columns()) != len(want) || got.Table.Columns()[2].Meaning != "how many" {
		t.Errorf("%+v", got)
	}
	notes := strings.Join(got.Notes, "\n")
	if !strings.Contains(notes, "blob: the column holds bytea") || !strings.Contains(notes, "at: values") {
		t.Errorf("notes %s", notes)
	}
}

// hours is a table of n rows in five districts, and how its statistics are reckoned.
func hours(n int, more string) string {
	return "create table hours (id bigint, district text, kg double precision);" + inserted(1, n) + more
}

// further brings rows that the statistics do not know of, up to 40,000.
func further(from int) string { return inserted(from, 40_000) }

func inserted(from, to int) string {
	return fmt.Sprintf("insert into hours select i, 'district ' || i %% 5, i from generate_series(%d, %d) i;", from, to)
}

func TestRowsAreDrawnAtRandom(t *testing.T) {
	for name, test := range map[string]struct {
		make string
		key  string
		says string
	}{
		"by a key":                           {hours(40_000, "analyze hours"), "id", "2,000 of about 40,000 rows, drawn at random with seed 42"},
		"by the database":                    {hours(40_000, "analyze hours"), "", "2,000 of about 40,000 rows, drawn at random with seed 42"},
		"where the database reckons nothing": {hours(40_000, ""), "id", "2,000 of 40,000 rows, drawn at random with seed 42"},
		"of a view": {hours(40_000, "alter table hours rename to raw; create view hours as select * from raw"), "",
			"2,000 of 40,000 rows, drawn at random with seed 42"},
		"where the database is far behind": {hours(500, "analyze hours; "+further(501)), "id",
			"2,000 of 40,000 rows, drawn at random with seed 42"},
		"where the database is a little behind": {hours(10_000, "analyze hours; "+further(10_001)), "id",
			"2,000 of about 40,000 rows, drawn at random with seed 42"},
		"by texts": {strings.Replace(hours(40_000, "analyze hours"), "id bigint", "id text", 1), "id",
			"2,000 of about 40,000 rows, drawn at random with seed 42"},
	} {
		p, _ := posted(t, test.make, NamedTable{Name: "public.hours", Key: test.key})
		got, err := drawn(t, p, "public.hours", Draw{Rows: 2000, Seed: 42})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if says := got.Words(42, func(n int64) string { return grouped(n) }); says != test.says {
			t.Errorf("%s: %s, want %s", name, says, test.says)
		}
		// Each district has a fifth of the rows, each half of the rows half: at most five standard deviations off.
		kg, districts := got.Table.Column("kg"), got.Table.Column("district")
		count, low := map[int32]int{}, 0
		for i := range got.Table.Rows() {
			count[districts.Codes[i]]++
			if kg.Numbers[i] <= 20_000 {
				low++
			}
		}
		for code, n := range count {
			if math.Abs(float64(n)-400) > 5*math.Sqrt(2000*0.2*0.8) {
				t.Errorf("%s: %s has %d of 2,000 rows", name, districts.Levels[code], n)
			}
		}
		if math.Abs(float64(low)-1000) > 5*math.Sqrt(2000*0.25) {
			t.Errorf("%s: %d of 2,000 rows are of the first half", name, low)
		}
		sorted := slices.Sorted(slices.Values(kg.Numbers))
		if len(slices.Compact(sorted)) != 2000 {
			t.Errorf("%s: rows came twice", name)
		}
		if test.key == "" {
			continue
		}
		again, err := drawn(t, p, "public.hours", Draw{Rows: 2000, Seed: 42})
		other, errOther := drawn(t, p, "public.hours", Draw{Rows: 2000, Seed: 43})
		if err != nil || errOther != nil || !slices.Equal(slices.Sorted(slices.Values(again.Table.Column("kg").Numbers)), sorted) {
			t.Errorf("%s: the same seed draws other rows: %v %v", name, err, errOther)
		} else if slices.Equal(slices.Sorted(slices.Values(other.Table.Column("kg").Numbers)), sorted) {
			t.Errorf("%s: another seed draws the same rows", name)
		}
	}
}

func grouped(n int64) string {
	if n < 1000 {
		return fmt.Sprint(n)
	}
	return fmt.Sprintf("%s,%03d", grouped(n/1000), n%1000)
}
