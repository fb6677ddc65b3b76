package main

import (
	"context"
	"database/sql"
	"log/slog"
	"os"
	"path/filepath"
	"testing"

	"github.com/jackc/pgx/v5"
	_ "github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"

	"copperlark/internal/postgres"
	"copperlark/internal/test/databases"
	"copperlark/store"
)

func TestMain(m *testing.M) { databases.Main(m) }

// olderDatabase is a database as the program before roles left it, with somebody in it.
func olderDatabase(t *testing.T) (address string) {
	t.Helper()
	address = databases.Throwaway(t)
	db, err := sql.Open("pgx", address)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = db.Close() }()
	older, err := goose.NewProvider(goose.DialectPostgres, db, os.DirFS("../../store/migrations"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := older.UpTo(t.Context(), 14); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec(`with s as (insert into spaces (name) values ('Thornwick') returning id), p as (
		insert into people (email, name, password_hash) values ('mab@thornwick.example', 'Mab', '') returning id)
		insert into members (space_id, person_id, role) select s.id, p.id, 'member' from s, p`); err != nil {
		t.Fatal(err)
	}
	return address
}

func roleIn(t *testing.T, address string) (role string) {
	t.Helper()
	connection, err := pgx.Connect(t.Context(), address)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = connection.Close(context.Background()) }()
	if err := connection.QueryRow(t.Context(), `select role from members`).Scan(&role); err != nil {
		t.Fatal(err)
	}
	return role
}

// TestWhatWasIsKeptBeforeTheSchemaChanges upgrades an older database: what it held goes into a file first, which leads the way
// back; where no file can be written nothing changes.
func TestWhatWasIsKeptBeforeTheSchemaChanges(t *testing.T) {
	address, folder := olderDatabase(t), t.TempDir()
	inTheWay := filepath.Join(folder, "file")
	if err := os.WriteFile(inTheWay, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	up := func(backups string) error {
		_, _, closeAll, err := open(t.Context(), &settings{databaseURL: address, data: folder, backups: backups}, false, slog.Default())
		if err == nil {
			closeAll()
		}
		return err
	}
	if err := up(filepath.Join(inTheWay, "backups")); err == nil || roleIn(t, address) != "member" {
		t.Fatalf("without a backup it changed: %v", err)
	}
	for i := range 5 { // of earlier changes: the last ones stay
		name := filepath.Join(folder, "backups", "before-schema-9-2020010"+string(rune('1'+i))+"-000000.backup")
		if err := os.MkdirAll(filepath.Dir(name), 0o700); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(name, nil, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	if err := up(""); err != nil || roleIn(t, address) != "maker" {
		t.Fatalf("it did not change: %v", err)
	}
	made, _ := filepath.Glob(filepath.Join(folder, "backups", "before-schema-[^9]*.backup"))
	all, _ := filepath.Glob(filepath.Join(folder, "backups", "*"))
	if len(made) != 1 || len(all) != mostBefore {
		t.Fatalf("backups: %v of %v", made, all)
	}
	if err := up(""); err != nil {
		t.Fatal(err)
	}
	if again, _ := filepath.Glob(filepath.Join(folder, "backups", "*")); len(again) != len(all) {
		t.Error("a start that changes nothing made a backup")
	}
	back := databases.Throwaway(t)
	file, err := os.Open(made[0])
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = file.Close() }()
	if err := postgres.Restore(t.Context(), back, file); err != nil {
		t.Fatal(err)
	}
	if was, _, err := store.Schema(t.Context(), back); err != nil || was != 14 || roleIn(t, back) != "member" {
		t.Errorf("the way back leads to the schema %d, %v", was, err)
	}
}
