package main

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"os"
	"runtime"
	"runtime/debug"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/describe"
	"copperlark/core/reader"
	"copperlark/core/table"
	"copperlark/internal/postgres"
	"copperlark/store"
)

// readings is a file of 1,000,000 rows and 10 columns, 64 MB: six columns of numbers, a
// date, and three of texts.
func readings() []byte {
	source := rand.New(rand.NewPCG(3, 3))
	districts := []string{"Ashcombe", "Brindle", "Low Fen", "Scarhead", "Tarn"}
	var file bytes.Buffer
	file.Grow(72 << 20)
	file.WriteString("day,district,hive_type,hive,weight_kg,departures,arrivals,temperature,humidity,rain_mm\n")
	day := time.Date(2029, 1, 1, 0, 0, 0, 0, time.UTC)
	for i := range rows {
		fmt.Fprintf(
			&file,
			"%s,%s,%s,H-%04d,%.3f,%d,%d,%.2f,%.1f,%.2f\n",
			day.AddDate(0, 0, i/1400).Format("2006-01-02"),
			districts[source.IntN(5)],
			[]string{"long", "skep", "stacked"}[source.IntN(3)],
			source.IntN(
				1400,
			),
			30+10*source.NormFloat64(),
			source.IntN(10_000),
			source.IntN(10_000),
			15+8*source.NormFloat64(),
			100*source.Float64(),
			5*source.ExpFloat64(),
		)
	}
	return file.Bytes()
}

func benchReading(r *report) {
	raw := readings()
	plain := func() {
		records := csv.NewReader(bytes.NewReader(raw))
		records.ReuseRecord = true
		for {
			record, err := records.Read()
			if err == io.EOF {
				return
			}
			for _, field := range record[4:] {
				v, err := strconv.ParseFloat(field, 64)
				runtime.KeepAlive(v)
				runtime.KeepAlive(err)
			}
		}
	}
	took, baseline := medians(func() { described(raw) }, plain)
	r.row(fmt.Sprintf("baseline: encoding/csv and ParseFloat of 6 columns, %d MB, 10 columns, one thread", len(raw)>>20), "", baseline, 0)
	r.row("CSV read, kinds inferred, every column described", "at most 0.7", took, baseline)
	benchImport(r, raw)
}

func described(raw []byte) *table.Table {
	t, _, err := reader.ReadBytes(ctx, raw, reader.Options{})
	check(err)
	var wait sync.WaitGroup
	for _, c := range t.Columns() {
		wait.Add(1)
		go func() { defer wait.Done(); describe.Picture(c, 16) }()
	}
	wait.Wait()
	return t
}

// benchImport measures the whole way of a file until it is durable in PostgreSQL,
// against PostgreSQL's own COPY into a table with typed columns.
func benchImport(r *report, raw []byte) {
	folder, err := os.MkdirTemp("", "lark-bench-*")
	check(err)
	defer func() { _ = os.RemoveAll(folder) }()
	check(os.Chmod(folder, 0o755)) // the user postgres must get in
	cluster, err := postgres.Start(folder+"/postgres", "bench", postgres.DefaultPatience)
	check(err)
	defer func() { _ = cluster.Stop() }()
	check(cluster.Prepare("bench"))
	connection, err := pgx.Connect(ctx, cluster.URL("bench"))
	check(err)
	_, err = connection.Exec(
		ctx,
		`create table readings (day date, district text, hive_type text, hive text, weight_kg float8, departures int, arrivals int, temperature float8, humidity float8, rain_mm float8)`,
	)
	check(err)
	copied := median(func() {
		_, err := connection.Exec(ctx, "truncate readings")
		check(err)
		_, err = connection.PgConn().CopyFrom(ctx, bytes.NewReader(raw), "copy readings from stdin (format csv, header)")
		check(err)
	})
	defer func() { _ = connection.Close(ctx) }()
	kept, err := store.Open(ctx, cluster.URL("bench"))
	check(err)
	defer kept.Close()
	person, err := kept.AddPerson(ctx, "bench@thornwick.example", "Bench", "", "Bench")
	check(err)
	r.row("baseline: PostgreSQL's COPY of the file into a typed table", "", copied, 0)
	program := app.New(kept, app.Limits{}, time.Now, slog.New(slog.NewTextHandler(io.Discard, nil)))
	bring := func() app.Dataset {
		preview, err := program.ReadFile(ctx, person, "readings.csv", bytes.NewReader(raw))
		check(err)
		dataset, err := program.Keep(ctx, person, preview.Key, "")
		check(err)
		return dataset
	}
	r.row("the file uploaded, read, described and durable in PostgreSQL", "at most 0.5", median(func() {
		dataset := bring()
		check(program.DropDataset(context.Background(), person, dataset.ID))
	}), copied)
	var dataset app.Dataset
	peak := peakMemory(func() { dataset = bring() })
	t, _, err := program.Table(ctx, person.SpaceID, dataset.VersionID)
	check(err)
	size := int64(0)
	for _, c := range t.Columns() {
		size += int64(8*len(c.Numbers) + 4*len(c.Codes))
	}
	r.lines = append(
		r.lines,
		fmt.Sprintf(
			"| peak memory of that, beside the file: %d MB for a table of %d MB |  | %s | at most 2 tables and 64 MB |",
			peak>>20,
			size>>20,
			strings.TrimSuffix(strconv.FormatFloat(float64(peak-64<<20)/float64(size), 'f', 2, 64), "0"),
		),
	)
	fmt.Fprintln(os.Stderr, r.lines[len(r.lines)-1])
	benchWindows(r, connection, t)
}

// peakMemory is the most memory in use by the heap while work goes on, above what was
// in use before, garbage that was not collected yet included.
func peakMemory(work func()) int64 {
	runtime.GC()
	debug.FreeOSMemory()
	var before, now runtime.MemStats
	runtime.ReadMemStats(&before)
	done, most := make(chan struct{}), uint64(0)
	var watch sync.WaitGroup
	watch.Add(1)
	go func() {
		defer watch.Done()
		for {
			select {
			case <-done:
				return
			case <-time.After(2 * time.Millisecond):
				runtime.ReadMemStats(&now)
				most = max(most, now.HeapInuse)
			}
		}
	}()
	work()
	close(done)
	watch.Wait()
	return int64(most) - int64(before.HeapInuse)
}
