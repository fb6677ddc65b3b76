package app

import (
	"bufio"
	"context"
	"encoding/csv"
	"encoding/json"
	"io"
	"strings"
	"unicode/utf8"

	"copperlark/core/table"
)

// TakeTable gives the table of a version that leaves the program, and writes down that it did.
func (a *App) TakeTable(ctx context.Context, person Person, versionID int64) (*table.Table, Dataset, error) {
	t, dataset, err := a.Table(ctx, person.SpaceID, versionID)
	if err == nil {
		a.did(ctx, person, didExport, "“"+dataset.Name+"”")
	}
	return t, dataset, err
}

// WriteCSV writes a table as CSV (RFC 4180, UTF-8). Text that a spreadsheet would
// run as a formula gets an apostrophe before it, which spreadsheets hide.
func WriteCSV(ctx context.Context, w io.Writer, t *table.Table) error {
	return writeCSV(ctx, w, t, harmless)
}

// WritePlainCSV writes a table as CSV with its cells as they are, for programs: a spreadsheet may run some of them.
func WritePlainCSV(ctx context.Context, w io.Writer, t *table.Table) error {
	return writeCSV(ctx, w, t, func(text string) string { return text })
}

func writeCSV(ctx context.Context, w io.Writer, t *table.Table, harmless func(string) string) error {
	out := csv.NewWriter(w)
	row := t.Names()
	for i := range row {
		row[i] = harmless(row[i])
	}
	if err := out.Write(row); err != nil {
		return err
	}
	for i := range t.Rows() {
		if i%4096 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		for j, c := range t.Columns() {
			row[j] = c.Value(i)
			if c.Kind.Coded() {
				row[j] = harmless(row[j])
			}
		}
		if err := out.Write(row); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// The signs that make a spreadsheet run what follows, in both widths that they are written in.
const runs = "=+-@\t\r\n＝＋－＠"

func harmless(text string) string {
	if first, size := utf8.DecodeRuneInString(text); size > 0 && strings.ContainsRune(runs, first) {
		return "'" + text
	}
	return text
}

// WriteJSONLines writes a table as one JSON record a line; missing is null.
func WriteJSONLines(ctx context.Context, w io.Writer, t *table.Table) error {
	out := bufio.NewWriter(w)
	names := make([][]byte, len(t.Columns()))
	for j, c := range t.Columns() {
		names[j], _ = json.Marshal(c.Name)
	}
	for i := range t.Rows() {
		if i%4096 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		separator := byte('{')
		for j, c := range t.Columns() {
			_ = out.WriteByte(separator)
			separator = ','
			_, _ = out.Write(names[j])
			_ = out.WriteByte(':')
			value := []byte("null")
			switch {
			case c.Missing(i):
			case c.Kind == table.Number:
				value, _ = json.Marshal(c.Numbers[i])
			default:
				value, _ = json.Marshal(c.Value(i))
			}
			if _, err := out.Write(value); err != nil {
				return err
			}
		}
		_, _ = out.WriteString("}\n")
	}
	return out.Flush()
}
