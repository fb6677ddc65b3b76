package source

import (
	"context"
	"errors"
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgconn/ctxwatch"
	"github.com/jackc/pgx/v5/pgxpool"
)

// The limits of asking a database.
const (
	connectPatience  = 10 * time.Second
	describePatience = 30 * time.Second
	rowsPatience     = 30 * time.Minute
	mostConnections  = 4
	// mostUnmarked is how many rows of a table without a key are read to draw from, where the database cannot draw.
	mostUnmarked = 50_000_000
	// progressRows is after how many rows progress is told.
	progressRows = 10_000
)

// Postgres is a source that speaks PostgreSQL's protocol: one server, partitions, or foreign partitions over several.
type Postgres struct {
	named Named
	pool  *pgxpool.Pool
}

// NewPostgres makes a source; it connects when it is first asked.
func NewPostgres(named Named) (*Postgres, error) {
	config, err := pgxpool.ParseConfig(named.Address)
	if err != nil {
		return nil, fmt.Errorf("source %s: its address cannot be read", named.Name) // pgx would say it, password and all
	}
	config.MaxConns, config.MinConns, config.MaxConnIdleTime = mostConnections, 0, 5*time.Minute
	config.ConnConfig.ConnectTimeout = connectPatience
	for name, value := range map[string]string{
		"application_name":                    "copper lark",
		"default_transaction_read_only":       "on",
		"enable_partitionwise_aggregate":      "on",
		"plan_cache_mode":                     "force_custom_plan",
		"idle_in_transaction_session_timeout": "60000",
	} {
		config.ConnConfig.RuntimeParams[name] = value
	}
	// A question whose asker left is taken back at once: the servers behind are idle then.
	config.ConnConfig.BuildContextWatcherHandler = func(c *pgconn.PgConn) ctxwatch.Handler {
		return &pgconn.CancelRequestContextWatcherHandler{Conn: c, DeadlineDelay: 5 * time.Second}
	}
	pool, err := pgxpool.NewWithConfig(context.Background(), config)
	if err != nil {
		return nil, fmt.Errorf("source %s cannot be made ready: %w", named.Name, err)
	}
	return &Postgres{named: named, pool: pool}, nil
}

// Name implements Source.
func (p *Postgres) Name() string { return p.named.Name }

// Close ends its connections.
func (p *Postgres) Close() { p.pool.Close() }

// identifier writes a table's name so that it cannot be anything else.
func identifier(name string) string { return pgx.Identifier(strings.SplitN(name, ".", 2)).Sanitize() }

// describing tells of one table: what it is, what the database reckons of its leaves, and whether it may be read.
const describing = `
	with leaves as (
		select coalesce(t.relid, c.oid) as id from pg_class c
		left join lateral (select relid from pg_partition_tree(c.oid) where isleaf) t on true
		where c.oid = to_regclass($1))
	select c.relkind::text, coalesce(obj_description(c.oid, 'pg_class'), ''), has_any_column_privilege(c.oid, 'select'),
		(select case when min(l.reltuples) < 0 then -1 else sum(l.reltuples) end::float8 from leaves join pg_class l on l.oid = leaves.id),
		(select coalesce(sum(pg_table_size(id)), 0)::bigint from leaves),
		(select max(greatest(s.last_analyze, s.last_autoanalyze)) from leaves join pg_stat_all_tables s on s.relid = leaves.id),
		(select count(*) from pg_attribute a where a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
			and has_column_privilege(c.oid, a.attnum, 'select'))
	from pg_class c where c.oid = to_regclass($1)`

// Describe implements Source.
func (p *Postgres) Describe(ctx context.Context) ([]Table, error) {
	ctx, cancel := context.WithTimeout(ctx, describePatience)
	defer cancel()
	connection, err := p.pool.Acquire(ctx)
	if err != nil {
		return nil, p.trouble(ctx, err)
	}
	defer connection.Release()
	tables := make([]Table, len(p.named.Tables))
	for i, named := range p.named.Tables {
		tables[i], _, err = describe(ctx, connection, named)
		if err != nil {
			trouble := p.trouble(ctx, err)
			if ctx.Err() != nil || connection.Conn().IsClosed() {
				return nil, trouble
			}
			tables[i] = Table{Name: named.Name, Rows: -1, Trouble: trouble.Error()}
		}
	}
	return tables, nil
}

// asker is a connection, or a transaction on one.
type asker interface {
	Query(ctx context.Context, statement string, arguments ...any) (pgx.Rows, error)
	QueryRow(ctx context.Context, statement string, arguments ...any) pgx.Row
}

func describe(ctx context.Context, by asker, named NamedTable) (t Table, kind string, err error) {
	t = Table{Name: named.Name, Key: named.Key, Rows: -1}
	var rows *float64
	var allowed bool
	err = by.QueryRow(ctx, describing, identifier(named.Name)).Scan(&kind, &t.Meaning, &allowed, &rows, &t.Bytes, &t.AsOf, &t.Columns)
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		return t, "", &Trouble{"the database has no table of this name", "tell whoever runs this server"}
	case err != nil:
		return t, "", err
	case !allowed:
		return t, "", &Trouble{"the program may not read this table", "tell whoever runs this server"}
	}
	if rows != nil && *rows >= 0 && kind != "v" {
		t.Rows = int64(*rows)
	}
	return t, kind, nil
}

// snapshot is one state of a table of a database.
type snapshot struct {
	of         *Postgres
	connection *pgxpool.Conn
	tx         pgx.Tx
	named      NamedTable
	about      Table
	kind       string // of pg_class: r a table, p a partitioned one, f a foreign one, v a view, m a materialised one
	parts      []part // of Groups, once they are known
}

// Begin implements Source.
func (p *Postgres) Begin(ctx context.Context, name string) (Snapshot, error) {
	for _, named := range p.named.Tables {
		if named.Name != name {
			continue
		}
		connection, err := p.pool.Acquire(ctx)
		if err != nil {
			return nil, p.trouble(ctx, err)
		}
		tx, err := connection.BeginTx(ctx, pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly})
		if err != nil {
			connection.Release()
			return nil, p.trouble(ctx, err)
		}
		s := &snapshot{of: p, connection: connection, tx: tx, named: named}
		if s.about, s.kind, err = describe(ctx, tx, named); err != nil {
			s.End()
			return nil, p.trouble(ctx, err)
		}
		return s, nil
	}
	return nil, ErrUnknown
}

// End implements Snapshot.
func (s *snapshot) End() {
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	_ = s.tx.Rollback(ctx)
	s.connection.Release()
}

// Rows implements Snapshot.
func (s *snapshot) Rows(ctx context.Context, draw Draw) (*Drawn, error) {
	ctx, cancel := context.WithTimeout(ctx, rowsPatience)
	defer cancel()
	columns, key, out, err := s.columns(ctx)
	if err != nil {
		return nil, s.of.trouble(ctx, err)
	}
	if err := draw.fits(columns); err != nil {
		return nil, err
	}
	asked, err := s.drawing(columns, key, draw)
	if err != nil {
		return nil, err
	}
	g, err := s.gathered(ctx, columns, asked, draw)
	if err != nil {
		return nil, s.of.trouble(ctx, err)
	}
	out.Of, out.Counted, out.All = s.about.Rows, asked.whole, asked.whole && g.came <= int64(draw.Rows)
	if draw.Counted != nil {
		out.Of, out.Counted, out.All = -1, false, g.came <= int64(draw.Rows)
	} else if asked.whole {
		out.Of = g.came
	} else if expected := asked.share * float64(out.Of); math.Abs(float64(g.came)-expected) > 5*math.Sqrt(expected) {
		out.Of = twoDigits(float64(g.came) / asked.share) // the database reckoned long ago
	}
	for _, c := range g.columns {
		if c.strange > 0 {
			out.Notes = append(out.Notes, fmt.Sprintf("%s: values that are no finite number or lie outside of any calendar were read as missing: %d",
				c.column.Name, c.strange))
		}
	}
	out.Table, err = g.table()
	if err == nil && out.Table.Rows() == 0 {
		return nil, &Trouble{"the table has no rows", "ask again when it has"}
	}
	return out, err
}

// columns are those that can be read, the key's, and what is said of those that cannot.
func (s *snapshot) columns(ctx context.Context) (columns []sqlColumn, key *sqlColumn, out *Drawn, err error) {
	out = &Drawn{}
	rows, err := s.tx.Query(ctx, `select a.attname, coalesce(b.typname, t.typname), coalesce(b.typtype, t.typtype)::text,
			coalesce(col_description(a.attrelid, a.attnum), ''), has_column_privilege(a.attrelid, a.attnum, 'select')
		from pg_attribute a join pg_type t on t.oid = a.atttypid left join pg_type b on b.oid = t.typbasetype and t.typtype = 'd'
		where a.attrelid = to_regclass($1) and a.attnum > 0 and not a.attisdropped order by a.attnum`, identifier(s.named.Name))
	if err != nil {
		return nil, nil, nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var name, typed, sort, meaning string
		var allowed bool
		if err := rows.Scan(&name, &typed, &sort, &meaning, &allowed); err != nil {
			return nil, nil, nil, err
		}
		if !allowed {
			continue // a column that may not be read is not spoken of
		}
		how := howRead(typed, sort)
		if how == nil {
			out.Notes = append(out.Notes, fmt.Sprintf("%s: the column holds %s and was left out", name, typed))
			continue
		}
		columns = append(columns, sqlColumn{name: name, meaning: meaning, how: how, in: &postgresDialect})
		if name == s.named.Key {
			key = &sqlColumn{name: name, how: how, in: &postgresDialect}
		}
	}
	return columns, key, out, rows.Err()
}

// question is a statement that draws. whole: it reads every row; marked: the mark of a row comes last.
type question struct {
	statement     string
	arguments     []any
	whole, marked bool
	share         float64 // of all rows, that are expected to come
}

// twoDigits rounds a count to its first two digits, which is what a sample tells of it.
func twoDigits(v float64) int64 {
	unit := math.Pow(10, math.Floor(math.Log10(max(v, 10)))-1)
	return int64(math.Round(v/unit) * unit)
}

func (s *snapshot) drawing(columns []sqlColumn, key *sqlColumn, draw Draw) (question, error) {
	written := make([]string, len(columns))
	for i, c := range columns {
		written[i] = fmt.Sprintf(c.how.written, pgx.Identifier{c.name}.Sanitize())
	}
	from := identifier(s.named.Name)
	all := "select " + strings.Join(written, ", ")
	if draw.Counted != nil {
		where, arguments, err := draw.counting(&postgresDialect, columns)
		return question{statement: all + " from " + from + where, arguments: arguments}, err
	}
	if s.named.Key != "" && (key == nil || key.how.hash == "") {
		return question{}, keyless
	}
	share := draw.share(s.about.Rows)
	switch {
	case key != nil:
		hash := fmt.Sprintf(key.how.hash, pgx.Identifier{key.name}.Sanitize(), "$1::bigint") + " & 9223372036854775807"
		asked := question{statement: all + ", " + hash + " from " + from, arguments: []any{draw.Seed},
			whole: share >= 1, marked: true, share: share}
		if !asked.whole {
			asked.statement += " where (" + hash + ") < $2::bigint"
			asked.arguments = append(asked.arguments, int64(share*(1<<62)*2*(1-1e-15)))
		}
		return asked, nil
	case share < 1 && (s.kind == "r" || s.kind == "m"):
		return question{statement: all + " from " + from + " tablesample bernoulli ($1) repeatable ($2)",
			arguments: []any{100 * share, float64(draw.Seed)}, share: share}, nil
	}
	return question{statement: all + " from " + from, whole: true}, nil
}

// keyless is said where the settings name a key that is none.
var keyless = &Trouble{"the key by which its rows are drawn is not there, or no number or text", "tell whoever runs this server"}

// tooLarge is said of a table that would have to be read whole.
var tooLarge = &Trouble{"the table is too large to be read whole, and the settings name no key by which rows are drawn",
	"tell whoever runs this server"}

// gathered reads the rows of a statement.
func (s *snapshot) gathered(
	ctx context.Context, columns []sqlColumn, asked question, draw Draw,
) (*gathering, error) {
	gathered, into := make([]*gatheredColumn, len(columns)), make([]any, len(columns))
	add := make([]func(), len(columns))
	for i, c := range columns {
		gathered[i] = c.gathered()
		into[i], add[i] = c.how.scan(gathered[i])
	}
	var mark int64
	if asked.marked {
		into = append(into, &mark)
	}
	if asked.whole && !asked.marked && s.about.Rows > mostUnmarked {
		return nil, tooLarge
	}
	g := newGathering(draw.Rows, gathered)
	rows, err := s.tx.Query(ctx, asked.statement, asked.arguments...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return nil, err
		}
		drawn := uint64(mark)
		if !asked.marked {
			drawn = mixed(uint64(g.came), uint64(draw.Seed))
		}
		if g.wanted(drawn) {
			for _, one := range add {
				one()
			}
			g.took(drawn)
		}
		if g.came%progressRows == 0 && draw.Progress != nil {
			draw.Progress(int(g.came))
		}
		if asked.whole && !asked.marked && g.came > mostUnmarked {
			return nil, tooLarge
		}
	}
	return g, rows.Err()
}

// trouble puts an error of a database into words that name no server and hold no statement.
func (p *Postgres) trouble(ctx context.Context, err error) error {
	if said, is := plainTrouble(ctx, err); is {
		return said
	}
	var said *pgconn.PgError
	var connecting *pgconn.ConnectError
	switch {
	case errors.As(err, &said):
		for _, one := range codes {
			if strings.HasPrefix(said.Code, one.begins) {
				return &Trouble{one.problem, one.advice}
			}
		}
		return &Trouble{"the database refuses (" + said.Code + ")", "tell whoever runs this server"}
	case errors.As(err, &connecting), p.pool.Stat().TotalConns() == 0:
		return &Trouble{"the database cannot be reached", "ask again later, or tell whoever runs this server"}
	}
	return &Trouble{"the connection to the database broke", "ask again; what was kept before stays as it is"}
}

// codes are what a database's codes of errors mean to whoever asks; the first that fits counts.
var codes = []struct{ begins, problem, advice string }{
	{"28", "the database does not let the program in", "tell whoever runs this server"},
	{"42501", "the program may not read this table", "tell whoever runs this server"},
	{"42P01", "the database has no table of this name", "tell whoever runs this server"},
	{"42703", "a column of the table is gone or has another name", "ask again; if it stays so, tell whoever runs this server"},
	{"22003", "the table holds a number that is larger than numbers are here", "tell whoever runs this server to name a view without it"},
	{"57014", "the database took the question back: it took longer than it may", "ask for fewer rows"},
	{"57P", "the database was stopped", "ask again later"},
	{"08", "a server of the database cannot be reached", "ask again later, or tell whoever runs this server"},
	{"HV00N", "a server of the database cannot be reached", "ask again later, or tell whoever runs this server"},
	{"53", "the database has no room for the question now", "ask again later"},
	{"25P03", "the question waited too long", "ask again"},
}
