package formula

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/core/table"
	"copperlark/internal/test/databases"
)

func TestMain(m *testing.M) { databases.Main(m) }

// sample is a table with missing values of every kind, and the statement that
// makes the same one in PostgreSQL.
func sample(source *rand.Rand, rows int) (*table.Table, []string) {
	texts := []string{"", "a", "B", "ab%", "x_y", "Élan", " lark ", "aab"}
	a, b, c, d, id := make([]float64, rows), make([]float64, rows), make([]float64, rows), make([]float64, rows), make([]float64, rows)
	s, u := make([]int32, rows), make([]int32, rows)
	p := make([]int32, rows)
	var statements []string
	sql := func(missing bool, value string) string {
		if missing {
			return "null"
		}
		return value
	}
	number := func(v float64) string { return sql(math.IsNaN(v), fmt.Sprintf("'%v'::double precision", v)) }
	for i := range rows {
		gap := func() bool { return source.IntN(5) == 0 }
		id[i] = float64(i)
		a[i], b[i], c[i] = math.Round(100*source.NormFloat64())/10, float64(source.IntN(5)-2), source.ExpFloat64()
		d[i] = float64(time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, source.IntN(1500)).Unix())
		s[i], u[i], p[i] = int32(source.IntN(len(texts))), int32(source.IntN(len(texts))), int32(source.IntN(2))
		for _, v := range []*float64{&a[i], &b[i], &c[i], &d[i]} {
			if gap() {
				*v = math.NaN()
			}
		}
		for _, v := range []*int32{&s[i], &u[i], &p[i]} {
			if gap() {
				*v = -1
			}
		}
		text := func(code int32) string {
			if code < 0 {
				return "null"
			}
			return "'" + texts[code] + "'"
		}
		date := "null"
		if !math.IsNaN(d[i]) {
			date = "date '" + table.FormatDate(d[i], table.Day) + "'"
		}
		statements = append(statements, fmt.Sprintf("insert into sample values (%d, %s, %s, %s, %s, %s, %s, %s)", i, number(a[i]), number(b[i]),
			number(c[i]),
			text(s[i]), text(u[i]), sql(p[i] < 0, map[int32]string{0: "false", 1: "true"}[p[i]]), date))
	}
	t, err := table.New(table.NewNumbers("id", id), table.NewNumbers("a", a), table.NewNumbers("b", b), table.NewNumbers("c", c),
		&table.Column{Name: "d", Kind: table.Date, Grain: table.Day, Numbers: d},
		&table.Column{Name: "s", Kind: table.Category, Codes: s, Levels: texts},
		&table.Column{Name: "u", Kind: table.Text, Codes: u, Levels: texts},
		&table.Column{Name: "p", Kind: table.YesNo, Codes: p, Levels: []string{"no", "yes"}})
	if err != nil {
		panic(err)
	}
	return t, statements
}

// pair is an expression in our language and in PostgreSQL's, which are the same but
// for operations that PostgreSQL ends with an error and we call missing.
type pair struct{ ours, theirs string }

func both(text string) pair { return pair{text, text} }

func with(form string, args ...pair) pair {
	ours, theirs := make([]any, len(args)), make([]any, len(args))
	for i, a := range args {
		ours[i], theirs[i] = a.ours, a.theirs
	}
	return pair{fmt.Sprintf(form, ours...), fmt.Sprintf(form, theirs...)}
}

type generator struct{ *rand.Rand }

func (g generator) number(depth int) pair {
	if depth == 0 || g.IntN(6) == 0 {
		leaves := []pair{both("a"), both("b"), both("c"), {"2.5", "2.5::double precision"}, {"-3", "-3::double precision"},
			{"null", "null::double precision"}}
		return leaves[g.IntN(len(leaves))]
	}
	x, y := g.number(depth-1), g.number(depth-1)
	switch g.IntN(16) {
	case 0:
		return with("(%s + %s)", x, y)
	case 1:
		return with("%s - (%s)", x, y)
	case 2:
		return with("(%s) * (%s)", x, y)
	case 3:
		return pair{fmt.Sprintf("(%s) / (%s)", x.ours, y.ours), fmt.Sprintf("(%s) / nullif(%s, 0)", x.theirs, y.theirs)}
	case 4:
		return pair{fmt.Sprintf("ln(%s)", x.ours), fmt.Sprintf("(select ln(v) from (select %s as v) l where v > 0)", x.theirs)}
	case 5:
		return with("abs(%s)", x)
	case 6:
		return with("floor(%s) + ceiling(%s)", x, y)
	case 7:
		return with("round(%s)", x)
	case 8:
		return pair{fmt.Sprintf("sqrt(%s)", x.ours), fmt.Sprintf("(select sqrt(v) from (select %s as v) l where v >= 0)", x.theirs)}
	case 9:
		return with("case when %s then %s else %s end", g.condition(depth-1), x, y)
	case 10:
		return with("coalesce(%s, %s)", x, y)
	case 11:
		return with("least(%s, %s)", x, y)
	case 12:
		return with("nullif(%s, %s)", x, y)
	case 14:
		return float(with("position(%s in %s)", g.text(depth-1), g.text(depth-1)))
	case 13:
		return float(with("char_length(%s)", g.text(depth-1)))
	}
	fields := []string{"year", "quarter", "month", "week", "day", "dow", "doy"}
	return float(with("extract("+fields[g.IntN(len(fields))]+" from %s)", g.date(depth-1)))
}

// float makes PostgreSQL go on in double precision, as all our numbers are.
func float(p pair) pair { return pair{p.ours, "(" + p.theirs + ")::double precision"} }

func (g generator) date(depth int) pair {
	if depth <= 0 || g.IntN(3) == 0 {
		return both("d")
	}
	return with("case when %s then %s else date '2029-02-28' end", g.condition(depth-1), g.date(depth-1))
}

func (g generator) text(depth int) pair {
	if depth == 0 || g.IntN(5) == 0 {
		leaves := []pair{both("s"), both("u"), both("'aB'"), both("'it''s'"), {"null", "null::text"}}
		return leaves[g.IntN(len(leaves))]
	}
	x, y := g.text(depth-1), g.text(depth-1)
	switch g.IntN(12) {
	case 7:
		return with(fmt.Sprintf("left(%%s, %d)", g.IntN(7)-3), x)
	case 8:
		return with(fmt.Sprintf("right(%%s, %d)", g.IntN(7)-3), x)
	case 9:
		return with("initcap(%s)", x)
	case 10:
		return with(fmt.Sprintf("split_part(%%s, 'a', %d)", []int{-2, -1, 1, 2, 3}[g.IntN(5)]), x)
	case 11:
		return with(fmt.Sprintf("regexp_replace(%%s, '%s', '%s', '%s')", []string{"a", "[a-z]+", "(.)(b)", "^."}[g.IntN(4)],
			[]string{"x", `<\1>`, `\&\&`, "$1"}[g.IntN(4)], []string{"g", "i", "gi"}[g.IntN(3)]), x)
	case 0:
		return with("(%s || %s)", x, y)
	case 1:
		return with("upper(%s)", x)
	case 2:
		return with("lower(trim(%s))", x)
	case 3:
		return with(fmt.Sprintf("substring(%%s from %d for %d)", g.IntN(5)-1, g.IntN(4)), x)
	case 4:
		return with("replace(%s, 'a', %s)", x, y)
	case 5:
		return with("case when %s then %s end", g.condition(depth-1), x)
	}
	return with("coalesce(%s, %s)", x, y)
}

func (g generator) condition(depth int) pair {
	if depth <= 0 {
		leaves := []pair{both("p"), both("a > 0"), both("s is null"), both("true"), {"null", "null::boolean"}}
		return leaves[g.IntN(len(leaves))]
	}
	operators := []string{"=", "<>", "<", "<=", ">", ">="}
	op := operators[g.IntN(len(operators))]
	switch g.IntN(9) {
	case 0:
		return with("(%s and %s)", g.condition(depth-1), g.condition(depth-1))
	case 1:
		return with("(%s or %s)", g.condition(depth-1), g.condition(depth-1))
	case 2:
		return with("(not (%s))", g.condition(depth-1))
	case 3:
		return with("((%s) "+op+" (%s))", g.number(depth-1), g.number(depth-1))
	case 4:
		return with("((%s) "+op+" (%s))", g.text(depth-1), g.text(depth-1))
	case 5:
		return with("((%s) between (%s) and (%s))", g.number(depth-1), g.number(depth-1), g.number(depth-1))
	case 6:
		return with("((%s) not in (%s, %s))", g.text(depth-1), g.text(depth-1), g.text(depth-1))
	case 7:
		patterns := []string{"'%a%'", "'_'", "'x\\_y'", "'%'", "'a_b\\%'", "''"}
		return with("((%s) like "+strings.ReplaceAll(patterns[g.IntN(len(patterns))], "%", "%%")+")", g.text(depth-1))
	}
	return with("((%s) is not null)", g.number(depth-1))
}

// TestAgainstPostgreSQL evaluates thousands of generated expressions over the same
// rows in both.
func TestAgainstPostgreSQL(t *testing.T) {
	agreeOn(t, 3000, func(g generator, i int) (e pair, cast string) {
		switch i % 3 {
		case 0:
			return g.number(3), "float8"
		case 1:
			return g.text(3), "text"
		}
		return g.condition(3), "boolean"
	})
}

// agreeOn evaluates so many expressions over the same rows in both.
func agreeOn(t *testing.T, times int, next func(g generator, i int) (e pair, cast string)) {
	t.Helper()
	ctx := context.Background()
	connection, err := pgx.Connect(ctx, databases.Throwaway(t))
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = connection.Close(ctx) }()
	g := generator{rand.New(rand.NewPCG(20, 27))}
	data, statements := sample(g.Rand, 60)
	if _, err := connection.Exec(ctx,
		"create table sample (id int, a float8, b float8, c float8, s text, u text, p boolean, d date);"+strings.Join(statements,
			";")); err != nil {
		t.Fatal(err)
	}
	compared, refused := 0, 0
	for i := range times {
		e, cast := next(g, i)
		query := fmt.Sprintf("select (%s)::%s::text from sample order by id", e.theirs, cast)
		rows, err := connection.Query(ctx, query)
		if err != nil {
			t.Fatalf("%v: %s", err, query)
		}
		theirs, err := pgx.CollectRows(rows, pgx.RowTo[*string])
		if err != nil {
			refused++ // an overflow, say
			continue
		}
		f, err := Parse(e.ours)
		if err != nil {
			t.Fatalf("%s: %v", e.ours, err)
		}
		v, _, err := f.evaluate(ctx, data, 1)
		if err != nil {
			t.Fatalf("%s: %v", e.ours, err)
		}
		for row, want := range theirs {
			if !agrees(v, row, want) {
				got, ok := v.written(row)
				t.Fatalf("%s\nrow %d: got %q (%v), PostgreSQL says %v", e.ours, row, got, ok, show(want))
			}
		}
		compared++
	}
	if compared < times*29/30 {
		t.Errorf("only %d expressions were compared; PostgreSQL refused %d", compared, refused)
	}
}

func show(text *string) string {
	if text == nil {
		return "null"
	}
	return *text
}

func agrees(v *vector, row int, want *string) bool {
	if want == nil || v.missing(row) {
		return want == nil && v.missing(row)
	}
	switch v.kind {
	case Number:
		var number float64
		if _, err := fmt.Sscan(*want, &number); err != nil {
			return false
		}
		return math.Abs(v.number(row)-number) <= 1e-9*math.Max(1, math.Abs(number))
	case Boolean:
		return (*want == "true") == (v.number(row) == 1)
	}
	got, _ := v.written(row)
	return got == *want
}
