package source

import (
	"context"
	"errors"
	"fmt"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/core/summary"
)

// overTwo makes a table over two servers, each a database of its own; the connections are to the first database and to the servers.
func overTwo(t *testing.T, there string) (p *Postgres, c *pgx.Conn, servers [2]*pgx.Conn) {
	t.Helper()
	p, c = posted(t, `create extension postgres_fdw; create table hours (shard int, id bigint, kg double precision) partition by list (shard)`,
		NamedTable{Name: "public.hours", Key: "id"})
	for shard := range servers {
		servers[shard] = foreign(t, c, shard, fmt.Sprintf(there, shard), fmt.Sprintf(
			"create foreign table hours_%d partition of hours for values in (%d) server s%d options (table_name 'hours')", shard, shard, shard))
	}
	return p, c, servers
}

// counts asks how many rows there are.
func counts(ctx context.Context, p *Postgres) (int64, error) {
	s, err := p.Begin(ctx, "public.hours")
	if err != nil {
		return 0, err
	}
	defer s.End()
	told, err := s.Groups(ctx, &summary.Question{X: &summary.Value{Column: "kg"}}, func(int, int) {})
	if err != nil {
		return 0, err
	}
	return told.Rows(), nil
}

const plainHours = `create table hours (shard int, id bigint, kg double precision);
	insert into hours select %[1]d, i, i from generate_series(1, 3000) i; analyze hours`

// TestAServerThatComesBackAnswersAgain closes the servers' connections between two questions, as a restart does.
func TestAServerThatComesBackAnswersAgain(t *testing.T) {
	p, _, servers := overTwo(t, plainHours)
	for range 2 {
		if n, err := counts(t.Context(), p); err != nil || n != 6000 {
			t.Fatal(n, err)
		}
		_, err := servers[1].Exec(t.Context(), `select pg_terminate_backend(pid) from pg_stat_activity
			where datname = current_database() and pid <> pg_backend_pid()`)
		if err != nil {
			t.Fatal(err)
		}
	}
}

// TestASilentServerIsNotWaitedForForEver has a server that takes the connection and says nothing.
func TestASilentServerIsNotWaitedForForEver(t *testing.T) {
	p, c, _ := overTwo(t, plainHours)
	silent, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = silent.Close() }()
	_, port, _ := strings.Cut(silent.Addr().String(), ":")
	if _, err := c.Exec(t.Context(), fmt.Sprintf("alter server s1 options (set port '%s', add connect_timeout '2')", port)); err != nil {
		t.Fatal(err)
	}
	_, err = counts(t.Context(), p)
	var trouble *Trouble
	if !errors.As(err, &trouble) || !strings.Contains(trouble.Problem, "cannot be reached") || strings.Contains(err.Error(), port) {
		t.Errorf("%v", err)
	}
}

// TestASlowServerIsLetGo leaves a question of a slow server: it is idle then.
func TestASlowServerIsLetGo(t *testing.T) {
	p, _, servers := overTwo(t, `create view hours as select %[1]d as shard, i as id, case when pg_sleep(0.01) is not null then i::float8 end
		as kg
		from generate_series(1, 100000) i`)
	watching, err := pgx.ConnectConfig(t.Context(), servers[0].Config().Copy())
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = watching.Close(context.Background()) }()
	busy := func() (n int) {
		if err := watching.QueryRow(t.Context(), `select count(*) from pg_stat_activity where datname = current_database()
			and state = 'active' and pid <> pg_backend_pid()`).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	ctx, leave := context.WithCancel(t.Context())
	done := make(chan error, 1)
	go func() { _, err := counts(ctx, p); done <- err }()
	until := func(what string, is func() bool) {
		t.Helper()
		for begun := time.Now(); !is(); time.Sleep(20 * time.Millisecond) {
			if time.Since(begun) > 20*time.Second {
				t.Fatal(what)
			}
		}
	}
	until("the server is never asked", func() bool { return busy() > 0 })
	leave()
	if err := <-done; !errors.Is(err, context.Canceled) {
		t.Errorf("%v", err)
	}
	until("the server goes on", func() bool { return busy() == 0 })
}
