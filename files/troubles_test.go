package files

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"copperlark/core/reader"
	"copperlark/internal/test/golden"
)

// TestTroublesAreRead reads a folder of small files, each with a trouble of its own, and
// holds what is kept of each, and what is said of it, to the table beside it.
func TestTroublesAreRead(t *testing.T) {
	names, err := filepath.Glob("testdata/troubles/*")
	if err != nil {
		t.Fatal(err)
	}
	count := 0
	for _, name := range names {
		if strings.HasSuffix(name, ".want") {
			continue
		}
		count++
		raw, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		golden.Compare(t, name+".want", []byte(asRead(t, filepath.Base(name), raw, reader.Options{})))
	}
	if count < 60 {
		t.Errorf("%d files are there", count)
	}
}

// asRead writes what is kept of a file: a line a column with its values, and the notes.
func asRead(t *testing.T, name string, raw []byte, options reader.Options) string {
	t.Helper()
	got, report, err := Read(context.Background(), name, raw, options)
	var refused *reader.Error
	if errors.As(err, &refused) {
		return "refused: " + refused.Error() + "; " + refused.Advice + "\n"
	}
	if err != nil {
		t.Fatalf("%s: %v", name, err)
	}
	var written bytes.Buffer
	if err := WriteJSON(&written, got, report); err != nil {
		t.Fatal(err)
	}
	var back struct {
		Columns []WrittenColumn
		Rows    [][]any
		Notes   []reader.Remark
	}
	if err := json.Unmarshal(written.Bytes(), &back); err != nil {
		t.Fatal(err)
	}
	var out strings.Builder
	for i, c := range back.Columns {
		fmt.Fprintf(&out, "%s | %s | %s | %s | %d missing |", c.Name, c.Label, c.Kind, c.Unit, c.Missing)
		for _, row := range back.Rows[:min(len(back.Rows), 8)] {
			value := fmt.Sprint(row[i])
			if row[i] == nil {
				value = "·"
			} else if v, is := row[i].(float64); is {
				value = fmt.Sprintf("%.15g", v)
			}
			out.WriteString(" " + strings.ReplaceAll(value, "\n", "⏎"))
			out.WriteByte(',')
		}
		out.WriteByte('\n')
	}
	fmt.Fprintf(&out, "%d rows, %s\n", len(back.Rows), report.Encoding)
	for _, note := range back.Notes {
		fmt.Fprintf(&out, "- %d %s: %s\n", note.Line, note.Column, note.Message)
	}
	return out.String()
}
