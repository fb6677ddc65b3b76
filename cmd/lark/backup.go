package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"copperlark/internal/postgres"
	"copperlark/store"
)

func backupCommand() *cobra.Command {
	var data string
	command := &cobra.Command{
		Use:   "backup FILE",
		Short: "Write everything that is kept into a file, as it is at one moment; the program may run meanwhile",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			return withDatabase(data, func(address string) error { return backup(c.Context(), address, arguments[0]) })
		},
	}
	command.Flags().StringVar(&data, "data", "data", "folder of the program's own PostgreSQL")
	return command
}

func restoreCommand() *cobra.Command {
	var data string
	command := &cobra.Command{
		Use:   "restore FILE",
		Short: "Fill an empty database from a backup; for a new one say lark start --from FILE",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			return withDatabase(data, func(address string) error { return restore(c.Context(), address, arguments[0]) })
		},
	}
	command.Flags().StringVar(&data, "data", "data", "folder of the program's own PostgreSQL")
	return command
}

// withDatabase does work with the address of the database that the settings name, or of
// the program's own.
func withDatabase(data string, work func(address string) error) error {
	s, err := settingsFor(data)
	if err != nil {
		return err
	}
	if s.databaseURL != "" {
		return work(s.databaseURL)
	}
	cluster, release, err := ownCluster(data, false, s.databaseStop, slog.Default())
	if err != nil {
		return err
	}
	defer release()
	return work(cluster.URL("lark"))
}

// mostBefore is how many backups of before a change of the schema are kept.
const mostBefore = 3

// beforeChange makes a backup where this program is about to change the schema that an older one made: the way back is that
// program over a database of that file. A database that cannot be saved is not changed.
func beforeChange(ctx context.Context, s *settings, address string) error {
	was, becomes, err := store.Schema(ctx, address)
	if err != nil || was == 0 || was >= becomes || s.backups == "none" {
		return err
	}
	folder := s.backups
	if folder == "" {
		folder = filepath.Join(s.data, "backups")
	}
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return fmt.Errorf("LARK_BACKUPS: %w", err)
	}
	file := filepath.Join(folder, fmt.Sprintf("before-schema-%d-%s.backup", becomes, time.Now().UTC().Format("20060102-150405")))
	say("the schema changes from %d to %d; what there is goes to %s first", was, becomes, file)
	if err := backup(ctx, address, file); err != nil {
		return fmt.Errorf(
			"the backup before the schema changes could not be made, and nothing was changed (LARK_BACKUPS=none goes on without): %w",
			err,
		)
	}
	made, err := filepath.Glob(filepath.Join(folder, "before-schema-*.backup"))
	if err != nil {
		return err
	}
	moment := func(name string) string { return name[strings.LastIndex(name[:strings.LastIndex(name, "-")], "-"):] }
	slices.SortFunc(made, func(a, b string) int { return strings.Compare(moment(b), moment(a)) }) // the newest first
	for _, old := range made[min(mostBefore, len(made)):] {
		if err := os.Remove(old); err != nil {
			return err
		}
	}
	return nil
}

// backup writes a dump of one moment, in PostgreSQL's own archive format. The file is
// there whole or not at all.
func backup(ctx context.Context, address, file string) error {
	unfinished := file + ".unfinished"
	out, err := os.OpenFile(unfinished, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	defer func() { _ = os.Remove(unfinished) }()
	err = postgres.Dump(ctx, address, out)
	if err = errors.Join(err, out.Sync(), out.Close()); err != nil {
		return err
	}
	held, err := store.Held(ctx, address)
	if err != nil {
		return err
	}
	size, err := os.Stat(unfinished)
	if err != nil {
		return err
	}
	if err := os.Rename(unfinished, file); err != nil {
		return err
	}
	say("%s holds %s, in %d MB; keep it like the data: it can be read without a password", filepath.Base(file), held, size.Size()>>20+1)
	return nil
}

// restore fills an empty database, all of it or nothing, and brings it up to date.
func restore(ctx context.Context, address, file string) error {
	in, err := os.Open(file)
	if err != nil {
		return err
	}
	defer func() { _ = in.Close() }()
	empty, err := store.Empty(ctx, address)
	if err != nil {
		return err
	}
	if !empty {
		return errors.New(
			"the database holds something already: say lark start --data NEW-FOLDER --from FILE for a new one, or name an empty database",
		)
	}
	if err := postgres.Restore(ctx, address, io.Reader(in)); err != nil {
		return fmt.Errorf("%s cannot be restored: %w", file, err)
	}
	kept, err := store.Open(ctx, address)
	if err != nil {
		return err
	}
	kept.Close()
	say("restored")
	return nil
}
