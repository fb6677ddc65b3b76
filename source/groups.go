package source

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/jackc/pgx/v5"

	"copperlark/core/magnitude"
	"copperlark/core/scale"
	"copperlark/core/summary"
)

// A table of its own is asked in so many parts, from so many rows on, so that one sees how far it is.
const (
	tableParts = 8
	partedRows = 1_000_000
)

// part is a piece of a table that is asked by itself: a stretch of its pages, a partition, or a server's share.
type part struct {
	from    string // in a statement
	within  string // a condition; empty: all of it
	foreign bool   // it is on another server: such parts are asked at once, in one statement
	holds   string // what rows of a partition on another server are to be, which nothing there sees to; empty: nobody can say
}

// Groups implements Snapshot.
func (s *snapshot) Groups(ctx context.Context, q *summary.Question, told func(done, of int)) (*Told, error) {
	ctx, cancel := context.WithTimeout(ctx, rowsPatience)
	defer cancel()
	out, err := s.groups(ctx, q, told)
	return out, s.of.trouble(ctx, err)
}

func (s *snapshot) groups(ctx context.Context, q *summary.Question, told func(done, of int)) (*Told, error) {
	if err := q.Check(); err != nil {
		return nil, err
	}
	columns, _, _, err := s.columns(ctx)
	if err != nil {
		return nil, err
	}
	if s.parts == nil {
		if s.parts, err = s.divided(ctx); err != nil {
			return nil, err
		}
	}
	g := &asking{snapshot: s, question: q, columns: columns, of: len(s.parts), told: told}
	told(0, g.of)
	var far []part
	for _, one := range s.parts {
		if one.foreign {
			far = append(far, one)
		}
	}
	if len(far) > 0 {
		if _, err := s.tx.Exec(ctx, pushing); err != nil {
			return nil, err
		}
		if err := g.ask(ctx, far); err != nil {
			return nil, err
		}
		if _, err := s.tx.Exec(ctx, pushingNoMore); err != nil {
			return nil, err
		}
	}
	for _, one := range s.parts {
		if !one.foreign {
			if err := g.ask(ctx, []part{one}); err != nil {
				return nil, err
			}
		}
	}
	return &Told{g.gathered.Answer(), g.statement, g.of}, nil
}

// Of the ways to group, the coordinator is to take the one that the servers do themselves: it must not hash or sort rows
// here. Having them sorted there is the third way, which is dearer, but for tables of few rows, where asking costs most.
const (
	pushing       = "set local enable_hashagg = off; set local enable_sort = off"
	pushingNoMore = "set local enable_hashagg = on; set local enable_sort = on"
)

// leaving tells of the leaves of a partitioned table: what each is, whether it may be read, and of one on another server what its
// rows are to be. Where that is told by a hash the other server cannot be asked.
const leaving = `select n.nspname, c.relname, c.relkind::text, has_any_column_privilege(c.oid, 'select'),
		case when c.relkind = 'f' and has_table_privilege(c.oid, 'select') and pg_get_partition_constraintdef(c.oid) not like '%satisfies_hash%'
			then pg_get_partition_constraintdef(c.oid) else '' end
	from pg_partition_tree(to_regclass($1)) t join pg_class c on c.oid = t.relid join pg_namespace n on n.oid = c.relnamespace
	where t.isleaf order by 1, 2`

// divided finds the parts of the table.
func (s *snapshot) divided(ctx context.Context) ([]part, error) {
	whole := part{from: identifier(s.named.Name), foreign: s.kind == "f"}
	switch s.kind {
	case "r", "m":
		if s.about.Rows < partedRows {
			return []part{whole}, nil
		}
		var pages int64
		err := s.tx.QueryRow(ctx, "select pg_relation_size(to_regclass($1)) / current_setting('block_size')::bigint", whole.from).Scan(&pages)
		if err != nil {
			return nil, err
		}
		parts := make([]part, tableParts)
		for i := range parts {
			parts[i] = whole
			parts[i].within = fmt.Sprintf("ctid >= '(%d,0)'::tid", pages*int64(i)/tableParts)
			if i < tableParts-1 {
				parts[i].within += fmt.Sprintf(" and ctid < '(%d,0)'::tid", pages*int64(i+1)/tableParts)
			}
		}
		return parts, nil
	case "p":
		return s.leaves(ctx, whole)
	}
	return []part{whole}, nil
}

func (s *snapshot) leaves(ctx context.Context, whole part) (parts []part, err error) {
	rows, err := s.tx.Query(ctx, leaving, whole.from)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var schema, name, kind, holds string
		var allowed bool
		if err := rows.Scan(&schema, &name, &kind, &allowed, &holds); err != nil {
			return nil, err
		}
		if !allowed && kind == "f" {
			return nil, &Trouble{"the program may read the table, and not its parts on other servers", "tell whoever runs this server"}
		}
		if !allowed { // asked through the whole
			return []part{whole}, nil
		}
		parts = append(parts, part{from: pgx.Identifier{schema, name}.Sanitize(), foreign: kind == "f", holds: holds})
	}
	if len(parts) == 0 {
		parts = []part{whole}
	}
	return parts, rows.Err()
}

// asking is a question while it is asked, part by part.
type asking struct {
	*snapshot
	question  *summary.Question
	columns   []sqlColumn
	gathered  summary.Gathering
	statement string
	done, of  int
	told      func(done, of int)
	known     func(name string) (sqlColumn, error) // of the statement that was written last
}

// ask asks parts in one statement.
func (g *asking) ask(ctx context.Context, parts []part) error {
	statement, arguments, err := g.written(parts)
	if err != nil {
		return err
	}
	if err := g.pushed(ctx, statement, arguments); err != nil {
		return err
	}
	rows, err := g.tx.Query(ctx, statement, arguments...)
	if err != nil {
		return err
	}
	defer rows.Close()
	read := newGroupRow(g.question, g.known)
	seen := map[int32]bool{}
	begun := g.done
	for rows.Next() {
		if err := rows.Scan(read.into...); err != nil {
			return err
		}
		if !seen[read.part] { // one whose first group is here is as good as done
			seen[read.part] = true
			g.done = begun + len(seen)
			g.told(min(g.done, g.of), g.of)
		}
		if read.astray > 0 {
			return &Trouble{"rows of the table lie on a server that is not theirs: some may count twice, or not at all",
				"tell whoever runs this server: each foreign partition is to hold its own rows alone"}
		}
		if group, counts := read.group(); counts {
			if err := g.gathered.Add(group); err != nil {
				return unanswered(err)
			}
		}
	}
	g.done = begun + len(parts)
	g.told(g.done, g.of)
	return rows.Err()
}

// unanswered says why an answer cannot be taken.
func unanswered(err error) error {
	switch {
	case errors.Is(err, summary.ErrManyGroups):
		return &Trouble{"there are more groups than an answer holds", "ask for fewer: bins, or a column with fewer values"}
	case errors.Is(err, magnitude.ErrOutOfRange):
		return &Trouble{"the table holds numbers that are too large to be squared", "leave them out by a condition"}
	}
	return err
}

// moments are what is asked of x and y, in the order in which they are read.
const moments = `regr_avgx(y, x), regr_avgy(y, x), regr_sxx(y, x), regr_sxy(y, x), regr_syy(y, x), min(x), max(x), min(y), max(y)`

// written is the statement that asks parts of a table, each its own groups.
func (g *asking) written(parts []part) (string, []any, error) {
	t := newTerms(&postgresDialect, g.columns)
	within, err := t.workOut(g.question)
	if err != nil {
		return "", nil, err
	}
	if !g.question.ByReason() {
		t.leaves(g.question.Needs)
	}
	g.known = t.column
	keys, err := t.keys(g.question)
	if err != nil {
		return "", nil, err
	}
	needs := []string{}
	if !g.question.ByReason() {
		if needs, err = t.needs(g.question); err != nil {
			return "", nil, err
		}
	}
	inner, outer := []string{}, []string{}
	counts := []string{}
	for i, k := range keys {
		name := fmt.Sprintf("k%d", i+1)
		inner, outer = append(inner, k+" as "+name), append(outer, name)
		if !slices.ContainsFunc(g.question.By, func(k summary.Key) bool { return !t.hasKey(k) }) {
			continue
		}
		counts = append(counts, name+" is not null")
	}
	wanted := append([]string{"count(*)", "%s"}, outer...)
	for _, one := range []struct {
		name string
		of   *summary.Value
	}{{"x", g.question.X}, {"y", g.question.Y}} {
		if g.question.X == nil {
			break
		}
		written := "0::float8"
		if one.of != nil {
			if written, err = t.value(one.of); err != nil {
				return "", nil, err
			}
			if !t.has(one.of) {
				counts = append(counts, one.name+" is not null")
			}
		}
		inner = append(inner, written+" as "+one.name)
	}
	if g.question.X != nil {
		wanted = append(wanted, moments)
	}
	if len(inner) == 0 {
		inner = []string{"1"}
	}
	each := make([]string, len(parts))
	for i, p := range parts {
		where := append([]string{}, needs...)
		if within != "" {
			where = append(where, within)
		}
		if p.within != "" {
			where = append(where, p.within)
		}
		astray, within := "0::bigint", inner
		if p.holds != "" {
			astray, within = "count(*) filter (where astray)", append(slices.Clip(inner), "not ("+p.holds+") as astray")
		}
		each[i] = fmt.Sprintf("select %d, %s\nfrom (select %s\n  from %s%s) s%s%s", i, fmt.Sprintf(strings.Join(wanted, ", "), astray),
			strings.Join(within, ",\n    "), p.from, listed("\n  where ", "\n    and ", where), listed("\nwhere ", " and ", counts),
			listed("\ngroup by ", ", ", outer))
	}
	g.statement = each[0]
	if more := len(parts) - 1; more > 0 {
		g.statement += fmt.Sprintf("\n-- union all, and the same of %s more, each on its own server", scale.Counted(more, "part"))
	}
	return strings.Join(each, "\nunion all "), t.arguments, nil
}

func listed(begins, between string, list []string) string {
	if len(list) == 0 {
		return ""
	}
	return begins + strings.Join(list, between)
}

// plan is what a database would do.
type plan struct {
	Type  string `json:"Node Type"`
	Plans []plan `json:"Plans"`
}

// pushed refuses a statement that would bring the rows of other servers here, to be grouped.
func (g *asking) pushed(ctx context.Context, statement string, arguments []any) error {
	var told []byte
	if err := g.tx.QueryRow(ctx, "explain (verbose, format json) "+statement, arguments...).Scan(&told); err != nil {
		return err
	}
	var plans []struct{ Plan plan }
	if err := json.Unmarshal(told, &plans); err != nil {
		return err
	}
	for _, p := range plans {
		if brings(p.Plan, false) {
			return &Trouble{"the servers of the database would send their rows here to answer this, instead of counting them there",
				"take rows of the table as a dataset, or tell whoever runs this server: analyze on its foreign tables may be all that is missing"}
		}
	}
	return nil
}

// brings reports whether rows of other servers are grouped on this one.
func brings(p plan, grouped bool) bool {
	if p.Type == "Foreign Scan" {
		return grouped
	}
	grouped = grouped || p.Type == "Aggregate" || p.Type == "Group"
	for _, below := range p.Plans {
		if brings(below, grouped) {
			return true
		}
	}
	return false
}
