package main

import (
	"context"
	"fmt"
	"math"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/core/density"
	"copperlark/core/model"
	"copperlark/core/summary"
	"copperlark/source"
)

// elsewhereRows is how many rows the table has that stays elsewhere, in all; elsewhereServers on how many servers.
const elsewhereRows, elsewhereServers = 12_000_000, 3

const elsewhereTable = `table flights (shard int, id bigint, district text, distance_m float8, load_mg float8)`

// filled makes the rows of one server of so many.
func filled(shard, of int) string {
	return fmt.Sprintf(`insert into flights select %[1]d, i, (array['Low Fen', 'Brindle', 'Ashcombe', 'Tarn', 'Scarhead'])[1 + i %% 5],
		10 ^ u, 40 - 6 * (i %% 5) + 5 * u + 6 * random() from (select i, 2 + 0.3 * (i %% 5) + 0.8 * random() as u
		from generate_series(%[1]d, %[3]d, %[2]d) i) each;
		create index on flights ((hashint8extended(id, 42) & 9223372036854775807)); analyze flights`, shard, of, elsewhereRows-1)
}

// benchElsewhere asks a table of 12 million rows on a coordinator with three servers, the same on one plain server, and the
// same in memory, of which all are on this machine: what it costs, and not how it grows.
func benchElsewhere(r *report) {
	owner, stop := startDatabases()
	defer stop()
	named := func(database string) string {
		at := *owner
		at.Path = "/" + database
		return at.String()
	}
	run := func(database, statements string) {
		c, err := pgx.Connect(ctx, named(database))
		check(err)
		defer func() { check(c.Close(ctx)) }()
		_, err = c.Exec(ctx, statements)
		check(err)
	}
	for _, database := range []string{"plain", "coordinator"} {
		run("postgres", "create database "+database)
	}
	run("plain", "create "+elsewhereTable+";"+filled(0, 1))
	run("coordinator", "create extension postgres_fdw; create "+elsewhereTable+" partition by list (shard)")
	password, _ := owner.User.Password()
	for shard := range elsewhereServers {
		name := fmt.Sprintf("server_%d", shard)
		run("postgres", "create database "+name)
		run(name, "create "+elsewhereTable+";"+filled(shard, elsewhereServers))
		run("coordinator", fmt.Sprintf(`create server s%[1]d foreign data wrapper postgres_fdw options (host '%[2]s', port '%[3]s',
			dbname '%[4]s', async_capable 'true', fetch_size '10000');
			create user mapping for current_user server s%[1]d options (user '%[5]s', password '%[6]s');
			create foreign table flights_%[1]d partition of flights for values in (%[1]d) server s%[1]d options (table_name 'flights');
			analyze flights_%[1]d`, shard, owner.Hostname(), owner.Port(), name, owner.User.Username(), password))
	}
	plain, spread := tableAt(named("plain")), tableAt(named("coordinator"))
	for _, p := range []*source.Postgres{plain, spread} { // pages are read from the disk once
		askedOf(p, &summary.Question{X: &summary.Value{Column: "load_mg"}})
	}
	x, y, group := inMemory()
	lowX, highX := 2.0, 4.0
	logX, load := &summary.Value{Column: "distance_m", Log: true}, &summary.Value{Column: "load_mg"}
	needs := []summary.Need{{Column: "load_mg"}, {Column: "distance_m"}, {Column: "district"}, {Column: "distance_m", Positive: true}}
	byDistrict := []summary.Key{{Kind: summary.Level, Column: "district"}}
	hexagon := summary.Key{Kind: summary.Hexagon, Of: logX, And: load, From: lowX, Width: 0.05, FromY: 20, WidthY: 1}
	began := time.Now()
	_, err := drawnOf(spread)
	check(err)
	first := time.Since(began)
	began = time.Now()
	_, err = drawnOf(plain)
	check(err)
	r.row("50,000 rows drawn by their key's hash, of 12 million on three servers; baseline: on one", "", first, time.Since(began))
	for _, one := range []struct {
		what string
		q    *summary.Question
		core func()
	}{
		{"sums for lines by five districts", &summary.Question{Needs: needs, X: logX, Y: load, By: byDistrict},
			func() { _, errs := model.FitLines(ctx, x, y, group, 5); check(errs[0]) }},
		{"rows in hexagons", &summary.Question{Needs: needs, By: []summary.Key{hexagon}},
			func() {
				_, err := density.Lattice{OriginX: lowX, StepX: 0.05, OriginY: 20, StepY: 1}.Count(ctx, x, y)
				check(err)
			}},
		{"sums in 1,200 bins", &summary.Question{Needs: needs, X: logX, Y: load, By: []summary.Key{{Kind: summary.Step, Of: logX,
			From: lowX, Width: (highX - lowX) / 1200}}}, nil},
		{"why rows do not count", &summary.Question{Needs: needs, By: []summary.Key{{Kind: summary.Reason}}}, nil},
	} {
		took := askedOf(spread, one.q)
		r.row(one.what+", 12 million rows on three servers; baseline: on one", "", took, askedOf(plain, one.q))
		if one.core != nil {
			began := time.Now()
			one.core()
			r.row("the same in memory; baseline: on three servers", "", time.Since(began), took)
		}
	}
}

func tableAt(address string) *source.Postgres {
	p, err := source.NewPostgres(source.Named{Name: "bench", Address: address,
		Tables: []source.NamedTable{{Name: "public.flights", Key: "id"}}})
	check(err)
	return p
}

func drawnOf(p *source.Postgres) (*source.Drawn, error) {
	s, err := p.Begin(ctx, "public.flights")
	check(err)
	defer s.End()
	return s.Rows(ctx, source.Draw{Rows: 50_000, Seed: 42, Cells: 1e9})
}

func askedOf(p *source.Postgres, q *summary.Question) time.Duration {
	s, err := p.Begin(ctx, "public.flights")
	check(err)
	defer s.End()
	began := time.Now()
	answer, err := s.Groups(ctx, q, func(int, int) {})
	check(err)
	if answer.Rows() < elsewhereRows {
		panic(fmt.Sprint(answer.Rows(), " rows"))
	}
	return time.Since(began)
}

// inMemory is the table as the core has it, with x in drawn space.
func inMemory() (x, y []float64, group []int32) {
	x, y, group = make([]float64, elsewhereRows), make([]float64, elsewhereRows), make([]int32, elsewhereRows)
	for i := range x {
		noise := math.Mod(float64(i)*0.6180339887498949, 1)
		group[i] = int32(i % 5)
		x[i] = 2 + 0.3*float64(i%5) + 0.8*noise
		y[i] = 40 - 6*float64(i%5) + 5*x[i] + 6*math.Mod(float64(i)*0.7548776662466927, 1)
	}
	return x, y, group
}

// startDatabases starts a PostgreSQL of its own.
func startDatabases() (owner *url.URL, stop func()) {
	folder, err := os.MkdirTemp("", "lark-bench-")
	check(err)
	check(os.Chmod(folder, 0o755))
	at := filepath.Join(folder, "postgres")
	say := func(command string) string {
		said, err := exec.CommandContext(context.Background(), "bin/testdb", command, at).Output()
		check(err)
		return strings.TrimSpace(string(said))
	}
	say("start")
	owner, err = url.Parse(say("owner"))
	check(err)
	return owner, func() {
		say("stop")
		_ = os.RemoveAll(folder)
	}
}
