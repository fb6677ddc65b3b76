package prepare

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"copperlark/core/table"
	"copperlark/internal/test/databases"
)

func TestMain(m *testing.M) { databases.Main(m) }

// measured is a table of groups g, numbers x and y and texts s with missing values, and the
// statements that make it in PostgreSQL.
func measured(source *rand.Rand, rows int) (*table.Table, string) {
	levels := []string{"a", "b", "c", "d"}
	x, y := make([]float64, rows), make([]float64, rows)
	g, s := make([]int32, rows), make([]int32, rows)
	statements := []string{"create table measured (id int, g text, x float8, y float8, s text)"}
	for i := range rows {
		x[i], y[i] = float64(source.IntN(9)), source.NormFloat64()
		g[i], s[i] = int32(source.IntN(len(levels))), int32(source.IntN(len(levels)))
		said := []string{"'" + levels[g[i]] + "'", fmt.Sprint(x[i]), fmt.Sprintf("%.17g", y[i]), "'" + levels[s[i]] + "'"}
		for j, miss := range []func(){func() { g[i] = table.MissingCode }, func() { x[i] = math.NaN() }, func() { y[i] = math.NaN() },
			func() { s[i] = table.MissingCode }} {
			if source.IntN(5) == 0 {
				miss()
				said[j] = "null"
			}
		}
		statements = append(statements, fmt.Sprintf("insert into measured values (%d, %s)", i, strings.Join(said, ", ")))
	}
	t, err := table.New(&table.Column{Name: "g", Kind: table.Category, Codes: g, Levels: levels}, table.NewNumbers("x", x),
		table.NewNumbers("y", y),
		&table.Column{Name: "s", Kind: table.Category, Codes: s, Levels: levels})
	if err != nil {
		panic(err)
	}
	return t, strings.Join(statements, ";")
}

// TestAggregatesAreThoseOfPostgreSQL asks for every aggregate by group of both.
func TestAggregatesAreThoseOfPostgreSQL(t *testing.T) {
	ctx := context.Background()
	connection, err := pgx.Connect(ctx, databases.Throwaway(t))
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = connection.Close(ctx) }()
	source := rand.New(rand.NewPCG(4, 7))
	compared := map[string]bool{}
	for range 12 {
		data, statements := measured(source, 4+source.IntN(60))
		if _, err := connection.Exec(ctx, statements); err != nil {
			t.Fatal(err)
		}
		for ours, theirs := range map[string]string{
			"count()": "count(*)", "count(x)": "count(x)", "count(distinct s)": "count(distinct s)", "count(distinct x)": "count(distinct x)",
			"sum(x + y)": "sum(x + y)", "mean(y)": "avg(y)", "median(y)": "percentile_cont(0.5) within group (order by y)",
			"quantile(x, 0.8)": "percentile_cont(0.8) within group (order by x)",
			"min(y)":           "min(y)", "max(y)": "max(y)", "stddev(y)": "stddev_samp(y)", "corr(x, y)": "corr(y, x)",
			"regr_slope(y, x)": "regr_slope(y, x)",
			"first(x)":         "(array_agg(x order by id) filter (where x is not null))[1]",
			"last(x)":          "(array_agg(x order by id desc) filter (where x is not null))[1]",
			"mode(x)":          "mode() within group (order by x)", "mode(s)": "mode() within group (order by s)",
			"string_agg(s, ', ')": "string_agg(s, ', ' order by id)", "string_agg(s || '(', ')')": "string_agg(s || '(', ')' order by id)",
		} {
			compared[ours[:strings.IndexByte(ours, '(')]] = true
			state, err := Run(ctx, data, Parse("for each g: value = "+ours), Environment{})
			if err != nil {
				t.Fatalf("%s: %v", ours, err)
			}
			rows, err := connection.Query(ctx, "select coalesce(g, ''), ("+theirs+")::text from measured group by g order by measured.g")
			if err != nil {
				t.Fatalf("%s: %v", theirs, err)
			}
			at, value := 0, state.Table.Column("value")
			for ; rows.Next(); at++ {
				var group string
				var want *string
				if err := rows.Scan(&group, &want); err != nil {
					t.Fatal(err)
				}
				if got := value.Value(at); !alike(got, want) || state.Table.Column("g").Value(at) != group {
					t.Errorf("%s of %s is %q, PostgreSQL says %v", ours, group, got, want)
				}
			}
			if at != state.Table.Rows() {
				t.Errorf("%s has %d rows, PostgreSQL %d", ours, state.Table.Rows(), at)
			}
		}
		if _, err := connection.Exec(ctx, "drop table measured"); err != nil {
			t.Fatal(err)
		}
	}
	for _, name := range aggregateNames {
		if !compared[name] {
			t.Errorf("%s is compared with nothing", name)
		}
	}
}

// alike says whether two values are one, numbers to twelve digits.
func alike(got string, want *string) bool {
	if want == nil || got == "" {
		return want == nil && got == ""
	}
	var a, b float64
	if n, _ := fmt.Sscan(got, &a); n == 0 {
		return got == *want
	}
	_, _ = fmt.Sscan(*want, &b)
	return math.Abs(a-b) <= 1e-12*(1+math.Abs(a)+math.Abs(b))
}

// TestFillDownLooksUpwards compares with a walk upwards from every missing value.
func TestFillDownLooksUpwards(t *testing.T) {
	source := rand.New(rand.NewPCG(5, 8))
	for range 200 {
		data, _ := measured(source, source.IntN(30))
		state, err := Run(context.Background(), data, Parse("fill down x, s within g"), Environment{})
		if err != nil {
			t.Fatal(err)
		}
		for _, name := range []string{"x", "s"} {
			before, after, groups := data.Column(name), state.Table.Column(name), data.Column("g")
			for row := range data.Rows() {
				from := row
				for above := row; before.Missing(from) && above >= 0 && !groups.Missing(row); above-- {
					if groups.Codes[above] == groups.Codes[row] && !before.Missing(above) {
						from = above
					}
				}
				if after.Value(row) != before.Value(from) {
					t.Fatalf("row %d of %s is %q, the last value above is %q", row, name, after.Value(row), before.Value(from))
				}
			}
		}
	}
}

func TestUnitsSurvive(t *testing.T) {
	for typed, want := range map[string]string{
		"for each district: m = mean(kg), n = count(kg), s = stddev(kg), f = first(kg), d = sum(kg * 2)": "m kg|n |s kg|f kg|d ",
		"for all: q = quantile(kg, 0.9), r = corr(kg, h1), b = regr_slope(kg, h1)":                       "q kg|r |b ",
		"stack kg, h1 into what, amount":                  "amount ",
		"read h1 in 'kg'\nstack kg, h1 into what, amount": "amount kg",
		"rename kg to mass":                               "mass kg",
		"join stands by apiary = stand":                   "kg kg",
	} {
		state, err := Run(context.Background(), load(t), Parse("read kg in 'kg'\n"+typed), others)
		if err != nil {
			t.Errorf("%s: %v", typed, err)
			continue
		}
		var said []string
		for _, part := range strings.Split(want, "|") {
			name, _, _ := strings.Cut(part, " ")
			if column := state.Table.Column(name); column != nil {
				said = append(said, name+" "+column.Unit)
			}
		}
		if !slices.Equal(said, strings.Split(want, "|")) {
			t.Errorf("%s: units %v, want %s", typed, said, want)
		}
	}
}
