package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// figures are all that can be seen of a program's charts and shared charts, by name.
func (p *program) figures(t *testing.T) map[string][]byte {
	t.Helper()
	seen := map[string][]byte{}
	content := func(method, path string, body any) []byte {
		t.Helper()
		status, all := p.ask(t, method, path, body)
		if status != http.StatusOK {
			t.Fatalf("%s: %d %s", path, status, all)
		}
		return all
	}
	var charts []struct {
		ID        int64           `json:"id"`
		VersionID int64           `json:"version_id"`
		Name      string          `json:"name"`
		Document  json.RawMessage `json:"document"`
	}
	p.send(t, "GET", "/api/charts", nil, &charts)
	for _, c := range charts {
		seen["chart "+c.Name] = content("POST", fmt.Sprintf("/api/versions/%d/figure", c.VersionID), map[string]any{"document": c.Document})
		seen["trail "+c.Name] = content("GET", fmt.Sprintf("/api/charts/%d", c.ID), nil)
		seen["rows of "+c.Name] = content("GET", fmt.Sprintf("/api/versions/%d/table/csv", c.VersionID), nil)
	}
	var shares []struct {
		Key string `json:"key"`
	}
	p.send(t, "GET", "/api/shares", nil, &shares)
	for _, s := range shares {
		for _, part := range []string{"", "/figure", "/table.csv", "/rows/3"} {
			shown := content("GET", "/s/"+s.Key+part, nil) // its page says where it is
			for _, address := range []string{p.address, strings.NewReplacer(":", "%3a", "/", "%2f").Replace(p.address)} {
				shown = bytes.ReplaceAll(shown, []byte(address), nil)
			}
			seen["shared "+s.Key+part] = shown
		}
	}
	return seen
}

// TestABackupHoldsEverything backs up a running program, restores into another folder, and
// compares every figure, trail, table and shared chart.
func TestABackupHoldsEverything(t *testing.T) {
	if testing.Short() {
		t.Skip("starts the whole program")
	}
	binary, data := built(t)
	p := begin(t, binary, data)
	var charts []struct {
		ID        int64          `json:"id"`
		VersionID int64          `json:"version_id"`
		Document  map[string]any `json:"document"`
	}
	p.send(t, "GET", "/api/charts", nil, &charts)
	for _, c := range charts {
		p.send(t, "POST", "/api/shares", map[string]any{"version_id": c.VersionID, "chart_id": c.ID, "title": "Backed up",
			"document": c.Document}, nil)
	}
	file := filepath.Join(filepath.Dir(data), "all.backup")
	run := func(arguments ...string) (string, error) {
		output, err := exec.Command(binary, arguments...).CombinedOutput()
		return string(output), err
	}
	output, err := run("backup", file, "--data", data)
	if err != nil || !strings.Contains(output, fmt.Sprintf("%d charts", len(charts))) || !strings.Contains(output, "1 person,") {
		t.Fatalf("%v: %s", err, output)
	}
	if info, err := os.Stat(file); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the backup is %v, %v", info.Mode(), err)
	}
	if output, err := run("restore", file, "--data", data); err == nil || !strings.Contains(output, "holds something already") {
		t.Errorf("restored over a running program: %v %s", err, output)
	}
	before := p.figures(t)
	if len(before) < 3*len(charts)+4*len(charts) {
		t.Fatalf("only %d things are compared", len(before))
	}
	other := filepath.Join(filepath.Dir(data), "other")
	t.Setenv("LARK_PASSWORD", "correct horse battery")
	for _, command := range [][]string{{"backup", filepath.Join(filepath.Dir(data), "wrong.backup")}, {"restore", file},
		{"person", "--email", "a@b.example", "--name", "A", "--new-space", "S"}, {"demo", "--large"}} {
		output, err := run(append(command, "--data", other)...)
		if err == nil || !strings.Contains(output, "there is no database in the folder") {
			t.Errorf("%s in a folder without a database: %v %s", command[0], err, output)
		}
	}
	if _, err := os.Stat(other); err == nil {
		t.Error("a folder was made by a wrong word")
	}
	if _, err := os.Stat(filepath.Join(filepath.Dir(data), "wrong.backup")); err == nil {
		t.Error("a backup was written of nothing")
	}
	q := begin(t, binary, other, "--from", file)
	if output, err := run("start", "--port", "0", "--data", data, "--from", file); err == nil {
		t.Errorf("restored over a running program: %s", output)
	}
	after := q.figures(t)
	for name, content := range before {
		if !bytes.Equal(content, after[name]) {
			t.Errorf("%s came back otherwise", name)
		}
	}
	if len(after) != len(before) {
		t.Errorf("%d things came back of %d", len(after), len(before))
	}
	for _, one := range []*program{p, q} {
		_ = one.command.Process.Signal(os.Interrupt)
		_ = one.command.Wait()
	}
	broken := filepath.Join(filepath.Dir(data), "broken.backup")
	whole, _ := os.ReadFile(file)
	if err := os.WriteFile(broken, whole[:len(whole)/2], 0o600); err != nil {
		t.Fatal(err)
	}
	third := filepath.Join(filepath.Dir(data), "third")
	if output, err := run("start", "--port", "0", "--data", third, "--from", broken); err == nil {
		t.Errorf("half a backup was restored: %s", output)
	}
	if output, err := run("restore", file, "--data", third); err != nil {
		t.Errorf("after half a backup was refused: %v %s", err, output)
	}
	if output, err := run("start", "--port", "0", "--data", third, "--from", file); err == nil ||
		!strings.Contains(output, "holds something already") {
		t.Errorf("restored twice: %v %s", err, output)
	}
}
