package main

import (
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"copperlark/core/reader"
	"copperlark/files"
)

// TestReadPrintsWhatWouldBeKept reads a file as a person would, into each form, and holds
// that each form reads back as the same table.
func TestReadPrintsWhatWouldBeKept(t *testing.T) {
	folder := t.TempDir()
	data := filepath.Join(folder, "check.csv")
	content := "Autumn check;;;\nhive;weight;on;fed\n;kg;;\nA;31,5;2029-03-01;yes\nB;;2029-03-02;no\n\"C <b>\";17;;yes\n\nSource: the keepers\n"
	if err := os.WriteFile(data, []byte(content), 0o600); err != nil {
		t.Fatal(err)
	}
	say := func(arguments ...string) error {
		command := readCommand()
		command.SilenceUsage, command.SilenceErrors = true, true
		command.SetArgs(arguments)
		return command.ExecuteContext(context.Background())
	}
	for _, ending := range []string{".json", ".csv", ".parquet"} {
		if err := say(data, "-o", filepath.Join(folder, "out"+ending)); err != nil {
			t.Fatalf("%s: %v", ending, err)
		}
	}
	var written struct {
		Columns []files.WrittenColumn
		Rows    [][]any
		Notes   []reader.Remark
	}
	raw, err := os.ReadFile(filepath.Join(folder, "out.json"))
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(raw, &written); err != nil {
		t.Fatal(err)
	}
	if len(written.Columns) != 4 || written.Columns[1] != (files.WrittenColumn{Name: "weight", Label: "Weight", Kind: "number", Unit: "kg",
		Missing: 1}) {
		t.Errorf("columns %+v", written.Columns)
	}
	want := `[["A",31.5,"2029-03-01",true],["B",null,"2029-03-02",false],["C <b>",17,null,true]]`
	if got, _ := json.Marshal(written.Rows); strings.ReplaceAll(strings.ReplaceAll(string(got), `\u003c`, "<"), `\u003e`, ">") != want {
		t.Errorf("rows %s", got)
	}
	lines := map[int]bool{}
	for _, note := range written.Notes {
		lines[note.Line] = true
	}
	if !lines[1] || !lines[3] || !lines[8] {
		t.Errorf("notes %+v", written.Notes)
	}
	for _, ending := range []string{".csv", ".parquet"} {
		raw, err := os.ReadFile(filepath.Join(folder, "out"+ending))
		if err != nil {
			t.Fatal(err)
		}
		back, _, err := files.Read(context.Background(), "out"+ending, raw, reader.Options{})
		if err != nil || back.Rows() != 3 || back.Column("weight").Numbers[0] != 31.5 || !back.Column("on").Missing(2) {
			t.Errorf("%s reads back as %d rows (%v)", ending, back.Rows(), err)
		}
	}
}

// TestReadTakesWhatIsSaid holds each option, and that what is said wrongly is refused with
// what to say.
func TestReadTakesWhatIsSaid(t *testing.T) {
	folder := t.TempDir()
	data, out := filepath.Join(folder, "odd.txt"), filepath.Join(folder, "out.json")
	if err := os.WriteFile(data, []byte("x^y\n1.234^3/4/2029\n2.500^5/6/2029\ntotal^\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, test := range []struct{ arguments, wanted, refused string }{
		{"--separator ^", `"name":"y","label":"y","kind":"date"`, ""},
		{"--separator ^ --month-first", `2029-03-04`, ""},
		{"--separator ^ --decimal , --as x=number", `[1234,`, ""},
		{"--separator ^ --as y=text", `"3/4/2029"`, ""},
		{"--separator ^ --as x=number", `"name":"x","label":"x","kind":"number","unit":"","missing":1`, ""},
		{"--separator ^ --title-row -1", `"column_1"`, ""},
		{"--separator ^ --encoding cp1252", `"x"`, ""},
		{"--separator ^^", "", "say one sign"},
		{"--as x=maybe", "", "text, number, limit, half, date, gap, value, bare or unnamed"},
		{"--encoding klingon", "", "choose one of UTF-8"},
		{"-o out.docx", "", "write .json, .csv or .parquet"},
	} {
		command := readCommand()
		command.SilenceUsage, command.SilenceErrors = true, true
		arguments := append([]string{data, "-o", out}, strings.Fields(test.arguments)...)
		command.SetArgs(arguments)
		err := command.ExecuteContext(context.Background())
		if test.refused != "" {
			if err == nil || !strings.Contains(err.Error(), test.refused) {
				t.Errorf("%s: %v, want %q", test.arguments, err, test.refused)
			}
			continue
		}
		if err != nil {
			t.Errorf("%s: %v", test.arguments, err)
			continue
		}
		if raw, _ := os.ReadFile(out); !strings.Contains(string(raw), test.wanted) {
			t.Errorf("%s: %s, want %s", test.arguments, raw, test.wanted)
		}
	}
}
