package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

// program is a started lark with a signed-in client.
type program struct {
	command *exec.Cmd
	address string
	client  *http.Client
}

func begin(t *testing.T, binary, data string) *program {
	t.Helper()
	command := exec.Command(binary, "start", "--data", data, "--port", "0")
	command.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	output, err := command.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	command.Stderr = os.Stderr
	if err := command.Start(); err != nil {
		t.Fatal(err)
	}
	line, err := bufio.NewReader(output).ReadString('\n')
	if err != nil {
		t.Fatalf("the program says nothing: %v", err)
	}
	link := strings.TrimSpace(line[strings.Index(line, "http"):])
	jar, _ := cookiejar.New(nil)
	p := &program{command, link[:strings.Index(link, "/sign-in")], &http.Client{Jar: jar}}
	answer, err := p.client.Post(link, "", nil)
	if err != nil {
		t.Fatal(err)
	}
	_ = answer.Body.Close()
	return p
}

func (p *program) send(t *testing.T, method, path string, body, into any) {
	t.Helper()
	text, _ := json.Marshal(body)
	request, _ := http.NewRequest(method, p.address+path, bytes.NewReader(text))
	request.Header.Set("Content-Type", "application/json")
	answer, err := p.client.Do(request)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = answer.Body.Close() }()
	content, _ := io.ReadAll(answer.Body)
	if answer.StatusCode >= 300 {
		t.Fatalf("%s %s: %d %s", method, path, answer.StatusCode, content)
	}
	if into != nil {
		if err := json.Unmarshal(content, into); err != nil {
			t.Fatal(err)
		}
	}
}

// TestKilledProgramLosesNothing kills the server as hard as can be right after
// an acknowledged step, the database with it the second time, and finds the
// step after the next start.
func TestKilledProgramLosesNothing(t *testing.T) {
	if testing.Short() {
		t.Skip("starts the whole program several times")
	}
	folder := t.TempDir()
	if err := os.Chmod(filepath.Dir(folder), 0o755); err != nil { // the user postgres must get in
		t.Fatal(err)
	}
	_ = os.Chmod(folder, 0o755)
	binary := filepath.Join(folder, "lark")
	if output, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, output)
	}
	data := filepath.Join(folder, "data")
	type chart struct {
		ID         int64            `json:"id"`
		HeadStepID int64            `json:"head_step_id"`
		Document   map[string]any   `json:"document"`
		Steps      []map[string]any `json:"steps"`
	}
	var charts []chart
	p := begin(t, binary, data)
	p.send(t, "GET", "/api/charts", nil, &charts)
	id := charts[0].ID
	for round := range 2 {
		var before chart
		p.send(t, "GET", fmt.Sprintf("/api/charts/%d", id), nil, &before)
		title := fmt.Sprintf("kept before kill %d", round)
		before.Document["title"] = title
		p.send(t, "POST", fmt.Sprintf("/api/charts/%d/steps", id), map[string]any{"parent_id": before.HeadStepID, "document": before.Document}, nil)
		_ = p.command.Process.Kill()
		_ = p.command.Wait()
		if round == 1 {
			pid, err := os.ReadFile(filepath.Join(data, "postgres", "postmaster.pid"))
			if err != nil {
				t.Fatal(err)
			}
			var postmaster int
			_, _ = fmt.Sscan(string(pid), &postmaster)
			_ = syscall.Kill(postmaster, syscall.SIGKILL)
			time.Sleep(300 * time.Millisecond)
		}
		p = begin(t, binary, data)
		var after chart
		p.send(t, "GET", fmt.Sprintf("/api/charts/%d", id), nil, &after)
		if after.Document["title"] != title || len(after.Steps) != len(before.Steps)+1 {
			t.Errorf("round %d: the chart stands at %q with %d steps", round, after.Document["title"], len(after.Steps))
		}
	}
	_ = p.command.Process.Signal(os.Interrupt)
	if err := p.command.Wait(); err != nil {
		t.Errorf("the program does not end well: %v", err)
	}
}
