// Package store keeps everything in PostgreSQL. It is the only importer of pgx.
//
// What a call acknowledges is committed; a call that writes more than one row
// does so in one transaction. Tables are stored by column, each column packed
// and compressed on its own (see columns.go), and never change once written.
package store

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"strconv"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"

	"copperlark/app"
	"copperlark/core/scale"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is the storage of the program.
type Store struct{ pool pool }

// The time that the database gives to one statement, to waiting for a lock, and to a
// transaction that says nothing.
const (
	statementTime = 2 * time.Minute
	lockTime      = 20 * time.Second
	idleTime      = 2 * time.Minute
	mostIdle      = 30 * time.Minute
)

// Open connects and brings the schema up to date.
func Open(ctx context.Context, url string) (*Store, error) {
	connections, err := connect(ctx, url)
	if err != nil {
		return nil, err
	}
	if err := migrate(ctx, connections); err != nil {
		connections.Close()
		return nil, fmt.Errorf("bringing the database up to date: %w", err)
	}
	return &Store{pool{connections}}, nil
}

func connect(ctx context.Context, url string) (*pgxpool.Pool, error) {
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("the database address cannot be read: %w", err)
	}
	milliseconds := func(d time.Duration) string { return strconv.FormatInt(d.Milliseconds(), 10) }
	parameters := config.ConnConfig.RuntimeParams
	parameters["application_name"] = "lark"
	parameters["statement_timeout"] = milliseconds(statementTime)
	parameters["lock_timeout"] = milliseconds(lockTime)
	parameters["idle_in_transaction_session_timeout"] = milliseconds(idleTime)
	config.ConnConfig.ConnectTimeout = 5 * time.Second
	config.MaxConnIdleTime = mostIdle
	config.MaxConns = max(config.MaxConns, leastConnections)
	connections, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, fmt.Errorf("the database address cannot be read: %w", err)
	}
	if err := connections.Ping(ctx); err != nil {
		connections.Close()
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	return connections, nil
}

// leastConnections is how many requests can talk with the database at once: one person's
// uploads must not keep another's small questions waiting.
const leastConnections = 16

// migrate brings the schema up to date; of several programs that start at once, one does.
// A schema that a newer program made is refused.
func migrate(ctx context.Context, connections *pgxpool.Pool) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return err
	}
	db := stdlib.OpenDBFromPool(connections)
	defer func() { _ = db.Close() }()
	provider, err := goose.NewProvider(goose.DialectPostgres, db, files, goose.WithSessionLocker(locker))
	if err != nil {
		return err
	}
	current, newest, err := provider.GetVersions(ctx)
	if err != nil {
		return err
	}
	if current > newest {
		return fmt.Errorf(
			"it was written by a newer program (its schema is %d, this program knows %d): start the newer one, or restore a backup made with this one",
			current,
			newest,
		)
	}
	if _, err = provider.Up(ctx); err != nil {
		return err
	}
	return nil
}

// Schema tells which schema a database has, 0 for none, and which one this program would make of it.
func Schema(ctx context.Context, url string) (was, becomes int64, err error) {
	connections, err := connect(ctx, url)
	if err != nil {
		return 0, 0, err
	}
	defer connections.Close()
	names, err := fs.Glob(migrations, "migrations/*.sql")
	if err != nil || len(names) == 0 {
		return 0, 0, err
	}
	if becomes, err = goose.NumericComponent(names[len(names)-1]); err != nil {
		return 0, 0, err
	}
	var there bool
	if err := connections.QueryRow(ctx, `select to_regclass('goose_db_version') is not null`).Scan(&there); err != nil || !there {
		return 0, becomes, err
	}
	err = connections.QueryRow(ctx, `select coalesce(max(version_id) filter (where is_applied), 0) from goose_db_version`).Scan(&was)
	return was, becomes, err
}

// Ready reports whether the database answers.
func (s *Store) Ready(ctx context.Context) error { return s.pool.Ping(ctx) }

// Close gives the connections back.
func (s *Store) Close() { s.pool.Pool.Close() }

// found turns "no rows" into the error that the app knows.
func found(err error) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return app.ErrNotFound
	}
	return err
}

// affected is found for a statement that must have touched a row.
func affected(tag pgconn.CommandTag, err error) error {
	if err == nil && tag.RowsAffected() == 0 {
		return app.ErrNotFound
	}
	return err
}

// Held says in words what a database holds.
func Held(ctx context.Context, url string) (string, error) {
	connections, err := connect(ctx, url)
	if err != nil {
		return "", err
	}
	defer connections.Close()
	var words []string
	for _, one := range []struct{ name, table string }{{"space", "spaces"}, {"person", "people"}, {"dataset", "datasets"},
		{"version", "dataset_versions"}, {"chart", "charts"}, {"step", "steps"}, {"shared chart", "shares"}} {
		var n int
		if err := connections.QueryRow(ctx, `select count(*) from `+one.table).Scan(&n); err != nil {
			return "", err
		}
		counted := scale.Counted(n, one.name)
		if one.table == "people" && n != 1 {
			counted = scale.Number(float64(n), 0) + " people"
		}
		words = append(words, counted)
	}
	return strings.Join(words[:len(words)-1], ", ") + " and " + words[len(words)-1], nil
}

// Empty reports whether a database holds no table yet.
func Empty(ctx context.Context, url string) (empty bool, err error) {
	connections, err := connect(ctx, url)
	if err != nil {
		return false, err
	}
	defer connections.Close()
	err = connections.QueryRow(ctx, `select not exists (select from pg_tables where schemaname = 'public')`).Scan(&empty)
	return empty, err
}
