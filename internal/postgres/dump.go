package postgres

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
)

// Dump writes the archive of a database, as it is at one moment.
func Dump(ctx context.Context, address string, out io.Writer) error {
	return client(ctx, address, nil, out, "pg_dump", "--format=custom", "--no-owner", "--no-privileges", "--compress=1")
}

// Restore fills an empty database from an archive, in one transaction.
func Restore(ctx context.Context, address string, in io.Reader) error {
	return client(ctx, address, in, io.Discard, "pg_restore", "--no-owner", "--no-privileges", "--exit-on-error", "--single-transaction")
}

// client runs a program of PostgreSQL's against a database; its password is in the
// environment, where others cannot read it, and not among the arguments.
func client(ctx context.Context, address string, in io.Reader, out io.Writer, name string, arguments ...string) error {
	programs, err := findPrograms()
	if err != nil {
		return err
	}
	u, err := url.Parse(address)
	if err != nil {
		return fmt.Errorf("the database address cannot be read: %w", err)
	}
	password, _ := u.User.Password()
	u.User = url.User(u.User.Username())
	command := exec.CommandContext(ctx, filepath.Join(programs, name), append(arguments, "--dbname="+u.String())...)
	command.Env = append(os.Environ(), "PGPASSWORD="+password, "LC_ALL=C.UTF-8")
	var said bytes.Buffer
	command.Stdin, command.Stdout, command.Stderr = in, out, &said
	if err := command.Run(); err != nil {
		return fmt.Errorf("%s: %w: %s", name, err, lastLines(said.Bytes(), 6))
	}
	return nil
}
