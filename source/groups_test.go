package source

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"copperlark/core/summary"
	"copperlark/internal/test/databases"
)

// odd is a table of values that break sums: missing ones, NaN, infinities, zeros, negatives, an offset of a million,
// dates without an end. Where shard is said, the rows are of that server.
const odd = `insert into odd select %[1]d, i, (array['Tarn', 'Brindle', 'Low Fen', '', null, '蜜蜂', 'it''s "so"'])[1 + i %% 7],
	case i %% 23 when 0 then null when 1 then 'NaN' when 2 then 'infinity' when 3 then '-infinity' when 4 then 0 when 5 then -i
		else exp(sin(i) * 4) * 100 end,
	1e6 + cos(i * 7) * 10 + case when i %% 7 < 3 then i %% 7 else 0 end, i %% 3 - 1, i %% 2 = 0,
	case i %% 11 when 0 then 'infinity'::date when 1 then null else '2030-01-01'::date + i %% 400 end, (i %% 50)::numeric / 10
	from generate_series(%[2]d, %[3]d) i where i %% %[4]d = %[1]d;`

const oddTable = `table odd (shard int, id bigint, district text, metres double precision, load double precision, way int, fed bool,
	day date, kg numeric)`

// laid makes the table in one of the ways in which a database lays tables out, and gives a source of it.
func laid(t *testing.T, rows int, way string) *Postgres {
	t.Helper()
	named := NamedTable{Name: "public.odd", Key: "id"}
	all := fmt.Sprintf(odd, 0, 1, rows, 1)
	switch way {
	case "plain":
		p, _ := posted(t, "create "+oddTable+";"+all+"analyze odd", named)
		return p
	case "partitions":
		p, _ := posted(t, "create "+oddTable+` partition by range (id); create table odd_1 partition of odd for values from (0) to (500);
			create table odd_2 partition of odd for values from (500) to (100000000);`+all+"analyze odd", named)
		return p
	}
	p, c := posted(t, "create extension postgres_fdw; create "+oddTable+" partition by list (shard)", named)
	for shard := range 3 {
		foreign(t, c, shard, "create "+oddTable+";"+fmt.Sprintf(odd, shard, 1, rows, 3)+"analyze odd",
			fmt.Sprintf("create foreign table odd_%d partition of odd for values in (%d) server s%d options (table_name 'odd'); analyze odd_%d",
				shard, shard, shard, shard))
	}
	return p
}

// foreign makes another server, as a database of its own, and names it to the first.
func foreign(t *testing.T, c *pgx.Conn, number int, there, here string) (server *pgx.Conn) {
	t.Helper()
	address := databases.Owned(t)
	config, _ := pgx.ParseConfig(address)
	server, err := pgx.Connect(t.Context(), address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = server.Close(context.Background()) })
	for _, one := range []struct {
		of        *pgx.Conn
		statement string
	}{{server, there}, {c, fmt.Sprintf(`create server s%d foreign data wrapper postgres_fdw options (host '%s', port '%d', dbname '%s',
			async_capable 'true'); create user mapping for current_user server s%d options (user '%s', password '%s');%s`,
		number, config.Host, config.Port, config.Database, number, config.User, config.Password, here)}} {
		if _, err := one.of.Exec(t.Context(), one.statement); err != nil {
			t.Fatal(err)
		}
	}
	return server
}

// questions are one of each kind of key, and of each part of a condition.
func questions() map[string]*summary.Question {
	x, y := &summary.Value{Column: "metres", Log: true}, &summary.Value{Column: "load"}
	drawn := []summary.Need{{Column: "load"}, {Column: "metres"}, {Column: "metres", Positive: true}}
	level := summary.Key{Kind: summary.Level, Column: "district"}
	list := map[string]*summary.Question{
		"all rows":       {},
		"a line":         {Needs: drawn, X: x, Y: y},
		"lines by group": {Needs: append([]summary.Need{{Column: "district"}}, drawn...), X: x, Y: y, By: []summary.Key{level}},
		"whole numbers":  {X: y, By: []summary.Key{{Kind: summary.Level, Column: "way"}}},
		"decimals":       {By: []summary.Key{{Kind: summary.Level, Column: "kg"}}},
		"yes and no":     {X: &summary.Value{Column: "fed"}, Y: y, By: []summary.Key{{Kind: summary.Level, Column: "fed"}}},
		"dates":          {X: &summary.Value{Column: "day"}, Y: y, By: []summary.Key{{Kind: summary.Level, Column: "day"}}},
		"steps":          {Needs: drawn, X: x, Y: y, By: []summary.Key{{Kind: summary.Step, Of: x, From: 0.25, Width: 0.013}}},
		"squares": {By: []summary.Key{{Kind: summary.Step, Of: x, From: 0.25, Width: 0.2},
			{Kind: summary.Step, Of: y, From: 999_990, Width: 1.5}}},
		"edges":    {By: []summary.Key{{Kind: summary.Edges, Of: &summary.Value{Column: "kg"}, Edges: []float64{0, 0.1, 2, 4.9}}}},
		"hexagons": {By: []summary.Key{{Kind: summary.Hexagon, Of: x, And: y, From: 0.25, Width: 0.2, FromY: 999_990, WidthY: 1.5}}},
		"reasons": {Where: "way <> 0", Needs: append([]summary.Need{{Column: "district"}, {Column: "fed"}, {Column: "day"}}, drawn...),
			By: []summary.Key{{Kind: summary.Reason}}},
	}
	list["prepared"] = &summary.Question{Within: "kg > 1 and way < 3", With: map[string]string{"kg": `"load"`,
		"side": `case when "way" > 0 then 'up' when "way" < 0 then 'down' end`}, Needs: []summary.Need{{Column: "side"}}, Y: y,
		X: &summary.Value{Column: "kg", Log: true}, By: []summary.Key{{Kind: summary.Level, Column: "side"}}}
	list["worked out"] = &summary.Question{With: map[string]string{"ratio": `("load") / ("way" + 1)`, "hungry": `not "fed"`},
		Where: "not hungry", Needs: []summary.Need{{Column: "ratio"}}, X: &summary.Value{Column: "ratio"}, Y: y,
		By: []summary.Key{{Kind: summary.Level, Column: "hungry"}}}
	list["bands and codes"] = &summary.Question{With: map[string]string{
		"band": "case when (metres) < 10 then 'below 10' when (metres) >= 10 then 'more' end",
		"code": "cast(way as text)"}, Where: "code <> '0'", X: y,
		By: []summary.Key{{Kind: summary.Level, Column: "band"}, {Kind: summary.Level, Column: "code"}}}
	list["why prepared rows do not count"] = &summary.Question{Within: "way <> 0", With: map[string]string{"side": `"district"`},
		Where: "side = 'Tarn'", Needs: []summary.Need{{Column: "side"}, {Column: "day"}}, By: []summary.Key{{Kind: summary.Reason}}}
	for i, where := range []string{"kg between 1 and 3.5 and not way = 1", "district in ('Tarn', '蜜蜂') or district is null",
		"fed and day >= '2030-03-09'", "day < date '2030-03-09'", "load / way > -2000000", "abs(-metres * 2 + 1) <= 50 - floor(kg)",
		"district <> 'it''s \"so\"'", "metres is not null and not (metres > 10 or metres is null)"} {
		list[fmt.Sprintf("condition %d: %s", i, where)] = &summary.Question{Where: where, X: y}
	}
	return list
}

// TestTheDatabaseAnswersAsTheCoreDoes holds every kind of question against the core, over rows that break sums.
func TestTheDatabaseAnswersAsTheCoreDoes(t *testing.T) {
	for _, way := range []string{"plain", "partitions", "three servers"} {
		p := laid(t, 30_000, way)
		rows, err := drawn(t, p, "public.odd", Draw{Rows: 100_000})
		if err != nil || !rows.All {
			t.Fatal(err)
		}
		s, err := p.Begin(t.Context(), "public.odd")
		if err != nil {
			t.Fatal(err)
		}
		defer s.End()
		for name, q := range questions() {
			want, err := summary.Of(t.Context(), rows.Table, q)
			if err != nil {
				t.Fatal(name, err)
			}
			last := 0
			got, err := s.Groups(t.Context(), q, func(done, of int) { last = max(last, done) })
			if err != nil {
				t.Errorf("%s, %s: %v", way, name, err)
				continue
			}
			if last != got.Parts || way != "plain" && got.Parts < 2 {
				t.Errorf("%s, %s: %d of %d parts were told", way, name, last, got.Parts)
			}
			if wrong := differs(got.Answer, want); wrong != "" {
				t.Errorf("%s, %s: %s\n%s", way, name, wrong, got.Statement)
			}
		}
	}
}

// differs says how an answer is otherwise than wanted, to 1e-9.
func differs(got, want *summary.Answer) string {
	if len(got.Groups) != len(want.Groups) {
		return fmt.Sprintf("%d groups, want %d", len(got.Groups), len(want.Groups))
	}
	for i, g := range got.Groups {
		w := want.Groups[i]
		near := func(a, b, scale float64) bool { return math.Abs(a-b) <= 1e-9*max(scale, 1e-300) }
		spread := math.Sqrt(w.XX * w.YY)
		lost := 1e-4 * float64(w.N) * math.Abs(w.Y) * (w.YMax - w.YMin) // what means far from zero lose
		if !slices.Equal(g.Texts, w.Texts) || !slices.Equal(g.Numbers, w.Numbers) || g.N != w.N || !near(g.X, w.X, math.Abs(w.X)) ||
			!near(g.Y, w.Y, math.Abs(w.Y)) || !near(g.XX, w.XX, w.XX+1e-6) ||
			!near(g.XY, w.XY, spread+1e-6+lost) || !near(g.YY, w.YY, w.YY+1e-6+lost) ||
			!near(g.XMin, w.XMin, 1+math.Abs(w.XMin)) || !near(g.XMax, w.XMax, 1+math.Abs(w.XMax)) || g.YMin != w.YMin || g.YMax != w.YMax {
			return fmt.Sprintf("%+v, want %+v", g, w)
		}
	}
	return ""
}

// TestWhatCannotBePushedIsRefused holds that rows of other servers never come here to be counted.
func TestWhatCannotBePushedIsRefused(t *testing.T) {
	p := laid(t, 30_000, "three servers") // of few rows the coordinator does not care where they are counted
	s, err := p.Begin(t.Context(), "public.odd")
	if err != nil {
		t.Fatal(err)
	}
	defer s.End()
	for name, q := range questions() {
		got, err := s.Groups(t.Context(), q, func(int, int) {})
		if err != nil {
			t.Fatal(name, err)
		}
		g := &asking{snapshot: s.(*snapshot), question: q}
		g.columns, _, _, _ = g.snapshot.columns(t.Context())
		statement, arguments, _ := g.written(g.parts)
		rows, _ := g.tx.Query(t.Context(), "explain verbose "+statement, arguments...)
		lines, err := pgx.CollectRows(rows, pgx.RowTo[string])
		told := strings.Join(lines, "\n")
		if err != nil || strings.Count(told, "Relations: Aggregate on (public.odd_") != 3 || strings.Contains(told, "Filter:") {
			t.Errorf("%s: %d parts, %v\n%s", name, got.Parts, err, told)
		}
	}
	g := &asking{snapshot: s.(*snapshot)}
	for statement, good := range map[string]bool{
		"select 0, count(*) from odd group by kg":                      false,
		"select 0, count(*) from odd_0 group by to_char(day, 'Month')": false,
		"select 0, count(*) from generate_series(1, 9)":                true,
	} {
		if err := g.pushed(t.Context(), statement, nil); (err == nil) != good {
			t.Errorf("%s: %v", statement, err)
		}
	}
	for _, where := range []string{"district > 'A'", "upper(district) = 'TARN'", "day + 1 > '2030-01-01'", "round(kg) = 1", "district = 4",
		"nothing = 1", "kg ^ 2 > 1"} {
		_, err := s.Groups(t.Context(), &summary.Question{Where: where}, func(int, int) {})
		if _, said := err.(*Trouble); !said {
			t.Errorf("%s: %v", where, err)
		}
	}
}

func TestALargeTableIsAskedInParts(t *testing.T) {
	p, _ := posted(t, `create table many (id bigint, kg float8); insert into many select i, i % 10 from generate_series(1, 20000) i;
		analyze many;
		update pg_class set reltuples = 2e6 where relname = 'many'`, NamedTable{Name: "public.many", Key: "id"})
	s, err := p.Begin(t.Context(), "public.many")
	if err != nil {
		t.Fatal(err)
	}
	defer s.End()
	var told []int
	got, err := s.Groups(t.Context(), &summary.Question{By: []summary.Key{{Kind: summary.Level, Column: "kg"}}},
		func(done, of int) { told = append(told, done) })
	if err != nil || len(got.Groups) != 10 || got.Rows() != 20_000 || got.Parts != tableParts || told[len(told)-1] != tableParts {
		t.Errorf("%v, %+v, %v", err, got, told)
	}
	if _, err := s.Groups(t.Context(), &summary.Question{By: []summary.Key{{Kind: "nothing"}}}, func(int, int) {}); err == nil {
		t.Error("an unknown key was answered")
	}
	ctx, leave := context.WithCancel(t.Context())
	leave()
	if _, err := s.Groups(ctx, &summary.Question{}, func(int, int) {}); err == nil {
		t.Error("an answer for nobody")
	}
}

// TestRowsThatCountAreTaken takes the rows of a close look, wherever they lie.
func TestRowsThatCountAreTaken(t *testing.T) {
	q := &summary.Question{Where: "metres >= 100 and metres <= 400 and district = 'Tarn'", Within: "way <> 0",
		With: map[string]string{"side": `"load"`}, Needs: []summary.Need{{Column: "side"}}}
	for _, way := range []string{"plain", "partitions", "three servers"} {
		p := laid(t, 3000, way)
		s, err := p.Begin(t.Context(), "public.odd")
		if err != nil {
			t.Fatal(err)
		}
		defer s.End()
		whole, err := s.Groups(t.Context(), q, func(int, int) {})
		if err != nil || whole.Rows() < 20 {
			t.Fatal(way, err, whole)
		}
		for _, most := range []int{1000, 10} {
			got, err := s.Rows(t.Context(), Draw{Rows: most, Cells: 1e6, Counted: q})
			if err != nil {
				t.Fatal(way, err)
			}
			metres, district := got.Table.Column("metres"), got.Table.Column("district")
			for row := range got.Table.Rows() {
				if v := metres.Numbers[row]; v < 100 || v > 400 || district.Value(row) != "Tarn" {
					t.Errorf("%s: row %d is %g m in %s", way, row, v, district.Value(row))
				}
			}
			if n := int64(got.Table.Rows()); n != min(int64(most), whole.Rows()) || got.All != (whole.Rows() <= int64(most)) {
				t.Errorf("%s: %d rows of %d, all: %v", way, n, whole.Rows(), got.All)
			}
		}
	}
}
