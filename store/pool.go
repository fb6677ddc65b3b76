package store

import (
	"context"
	"errors"
	"io"
	"net"
	"strings"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/puddle/v2"

	"copperlark/app"
)

// pool is the connections to the database. What goes wrong with the database itself
// leaves it as an error that the app knows (see translated).
type pool struct{ *pgxpool.Pool }

func (p pool) Exec(ctx context.Context, query string, arguments ...any) (pgconn.CommandTag, error) {
	tag, err := p.Pool.Exec(ctx, query, arguments...)
	return tag, translated(err)
}

func (p pool) QueryRow(ctx context.Context, query string, arguments ...any) pgx.Row {
	return row{p.Pool.QueryRow(ctx, query, arguments...)}
}

func (p pool) Ping(ctx context.Context) error { return translated(p.Pool.Ping(ctx)) }

// in runs work in one transaction, which is committed when it gives no error.
func (p pool) in(ctx context.Context, work func(pgx.Tx) error) error {
	return translated(pgx.BeginFunc(ctx, p.Pool, work))
}

type row struct{ pgx.Row }

func (r row) Scan(into ...any) error { return translated(r.Row.Scan(into...)) }

// faults are the classes of SQLSTATE (their beginnings) that a caller tells apart:
// https://www.postgresql.org/docs/15/errcodes-appendix.html
var faults = []struct {
	state string
	err   error
}{
	{"53100", app.ErrNoRoom},      // disk full
	{"53", app.ErrUnavailable},    // too many connections, out of memory
	{"57014", app.ErrTookTooLong}, // the statement's time is over
	{"55P03", app.ErrTookTooLong}, // the lock's
	{"57P", app.ErrUnavailable},   // shutting down, crashed, starting
	{"58", app.ErrUnavailable},    // a fault of the system below it
	{"XX", app.ErrUnavailable},    // a damaged page
	{"08", app.ErrUnavailable},    // the connection broke
	{"25006", app.ErrUnavailable}, // read-only, as a standby is
	{"22021", app.ErrNotText},     // a zero byte, or broken UTF-8
	{"22P05", app.ErrNotText},
}

// translated joins what the database says with the error that the app knows.
func translated(err error) error {
	if err == nil || errors.Is(err, context.Canceled) || errors.Is(err, pgx.ErrNoRows) || errors.Is(err, app.ErrNotFound) {
		return err
	}
	var said *pgconn.PgError
	if errors.As(err, &said) {
		for _, fault := range faults {
			if strings.HasPrefix(said.Code, fault.state) {
				if said.Code == "58030" && strings.Contains(said.Message, "No space left") {
					return errors.Join(app.ErrNoRoom, err)
				}
				return errors.Join(fault.err, err)
			}
		}
		return err
	}
	var connecting *pgconn.ConnectError
	var network net.Error
	if errors.As(err, &connecting) || errors.As(err, &network) || errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) ||
		errors.Is(err, net.ErrClosed) ||
		pgconn.SafeToRetry(err) ||
		strings.Contains(err.Error(), "conn closed") ||
		errors.Is(err, puddle.ErrClosedPool) {
		return errors.Join(app.ErrUnavailable, err)
	}
	return err
}
