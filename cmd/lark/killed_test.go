package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"
)

// built compiles the program into a folder that the user postgres may enter.
func built(t *testing.T) (binary, data string) {
	t.Helper()
	folder := t.TempDir()
	for _, open := range []string{filepath.Dir(folder), folder} {
		if err := os.Chmod(open, 0o755); err != nil {
			t.Fatal(err)
		}
	}
	binary = filepath.Join(folder, "lark")
	if output, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, output)
	}
	return binary, filepath.Join(folder, "data")
}

// try sends a request and reports whether it was acknowledged, with the answer.
func (p *program) try(method, path, kind string, body []byte, into any) bool {
	request, err := http.NewRequest(method, p.address+path, bytes.NewReader(body))
	if err != nil {
		return false
	}
	request.Header.Set("Content-Type", kind)
	answer, err := p.client.Do(request)
	if err != nil {
		return false
	}
	defer func() { _ = answer.Body.Close() }()
	content, err := io.ReadAll(answer.Body)
	return err == nil && answer.StatusCode < 300 && (into == nil || json.Unmarshal(content, into) == nil)
}

func (p *program) say(method, path string, body, into any) bool {
	text, _ := json.Marshal(body)
	return p.try(method, path, "application/json", text, into)
}

// kept is what was acknowledged, to be found again.
type kept struct {
	mutex                    sync.Mutex
	steps                    map[int64]int // chart to its acknowledged steps
	datasets, versions, keys map[string]bool
}

// load works on the program until told to stop: steps, uploads, preparations, shares.
func (k *kept) load(p *program, chart, version int64, stop <-chan struct{}) *sync.WaitGroup {
	var all sync.WaitGroup
	document := map[string]any{"version": 2, "x": map[string]any{"column": "forage_ha"}, "y": map[string]any{"column": "honey_kg"}}
	again := func(work func(i int)) {
		all.Go(func() {
			for i := 0; ; i++ {
				select {
				case <-stop:
					return
				default:
					work(i)
				}
			}
		})
	}
	again(func(i int) {
		var head struct {
			HeadStepID int64 `json:"head_step_id"`
		}
		if !p.say("GET", fmt.Sprintf("/api/charts/%d", chart), nil, &head) {
			time.Sleep(5 * time.Millisecond)
			return
		}
		document["title"] = fmt.Sprint("step ", rand.Int64())
		if p.say("POST", fmt.Sprintf("/api/charts/%d/steps", chart), map[string]any{"parent_id": head.HeadStepID, "document": document}, nil) {
			k.mutex.Lock()
			k.steps[chart]++
			k.mutex.Unlock()
		}
	})
	again(func(i int) {
		name := fmt.Sprint("upload ", rand.Int64())
		var preview struct {
			Key string `json:"key"`
		}
		if p.try("POST", "/api/uploads?name=a.csv", "application/octet-stream", []byte("a,b\n1,2\n3,4\n5,7\n"), &preview) &&
			p.say("POST", "/api/uploads/"+preview.Key+"/keep", map[string]any{"name": name}, nil) {
			k.mutex.Lock()
			k.datasets[name] = true
			k.mutex.Unlock()
		}
		time.Sleep(5 * time.Millisecond)
	})
	again(func(i int) {
		var made struct {
			ID int64 `json:"id"`
		}
		if p.say("POST", fmt.Sprintf("/api/versions/%d/prepared", version), map[string]any{"typed": fmt.Sprintf("keep honey_kg > %d", i%7)},
			&made) {
			k.mutex.Lock()
			k.versions[fmt.Sprint(made.ID)] = true
			k.mutex.Unlock()
		}
		time.Sleep(20 * time.Millisecond)
	})
	again(func(i int) {
		var share struct {
			Key string `json:"key"`
		}
		if p.say("POST", "/api/shares", map[string]any{"version_id": version, "title": "kept",
			"document": map[string]any{"version": 2, "x": map[string]any{"column": "forage_ha"}, "y": map[string]any{"column": "honey_kg"}}},
			&share) {
			k.mutex.Lock()
			k.keys[share.Key] = true
			k.mutex.Unlock()
		}
		time.Sleep(20 * time.Millisecond)
	})
	return &all
}

// missing tells what was acknowledged and is not there.
func (k *kept) missing(t *testing.T, p *program, dataset, chart int64) {
	t.Helper()
	var trail struct {
		Steps []struct{} `json:"steps"`
	}
	p.send(t, "GET", fmt.Sprintf("/api/charts/%d", chart), nil, &trail)
	if len(trail.Steps) < k.steps[chart] {
		t.Errorf("%d of %d acknowledged steps are there", len(trail.Steps), k.steps[chart])
	}
	names := func(path string, of func(one map[string]any) string) map[string]bool {
		var list []map[string]any
		p.send(t, "GET", path, nil, &list)
		found := map[string]bool{}
		for _, one := range list {
			found[of(one)] = true
		}
		return found
	}
	for what, pair := range map[string][2]map[string]bool{
		"dataset": {k.datasets, names("/api/datasets", func(one map[string]any) string { return one["name"].(string) })},
		"version": {k.versions, names(fmt.Sprintf("/api/datasets/%d/versions", dataset),
			func(one map[string]any) string { return fmt.Sprint(int64(one["id"].(float64))) })},
		"share": {k.keys, names("/api/shares", func(one map[string]any) string { return one["key"].(string) })},
	} {
		for name := range pair[0] {
			if !pair[1][name] {
				t.Errorf("the acknowledged %s %s is lost", what, name)
			}
		}
	}
	for key := range k.keys { // one of them, whole
		if !p.say("GET", "/s/"+key+"/rows/1", nil, &map[string]string{}) {
			t.Errorf("the shared chart %s has no rows", key)
		}
		break
	}
}

// postgresProcess finds a process of the cluster: the postmaster, or one of its backends.
func postgresProcess(data string, backend bool) int {
	file, err := os.ReadFile(filepath.Join(data, "postgres", "postmaster.pid"))
	if err != nil {
		return 0
	}
	line, _, _ := strings.Cut(string(file), "\n")
	postmaster, _ := strconv.Atoi(line)
	if !backend {
		return postmaster
	}
	children, _ := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", postmaster, postmaster))
	list := strings.Fields(string(children))
	for _, at := range rand.Perm(len(list)) {
		pid, _ := strconv.Atoi(list[at])
		if command, _ := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid)); bytes.Contains(command, []byte("program lark")) {
			return pid
		}
	}
	return postmaster
}

// back waits until the program can answer again.
func (p *program) back(t *testing.T, within time.Duration) {
	t.Helper()
	begun := time.Now()
	for !p.say("GET", "/api/datasets", nil, nil) {
		if time.Since(begun) > within {
			t.Fatalf("the program did not come back within %v", within)
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// TestKilledAtRandomLosesNothing kills the server, a backend or the postmaster under load,
// at random moments: what was acknowledged is there, and all comes back by itself.
func TestKilledAtRandomLosesNothing(t *testing.T) {
	if testing.Short() {
		t.Skip("starts the whole program many times")
	}
	kills := 6
	if asked, err := strconv.Atoi(os.Getenv("LARK_KILLS")); err == nil {
		kills = asked
	}
	binary, data := built(t)
	p := begin(t, binary, data)
	var charts []struct {
		ID        int64 `json:"id"`
		DatasetID int64 `json:"dataset_id"`
		VersionID int64 `json:"version_id"`
		Document  struct {
			X struct{ Column string } `json:"x"`
		} `json:"document"`
	}
	p.send(t, "GET", "/api/charts", nil, &charts)
	at := 0
	for charts[at].Document.X.Column != "forage_ha" {
		at++
	}
	chart, version, dataset := charts[at].ID, charts[at].VersionID, charts[at].DatasetID
	k := &kept{steps: map[int64]int{chart: 1}, datasets: map[string]bool{}, versions: map[string]bool{}, keys: map[string]bool{}}
	for round := range kills {
		stop := make(chan struct{})
		working := k.load(p, chart, version, stop)
		time.Sleep(time.Duration(100+rand.IntN(700)) * time.Millisecond)
		what := []string{"server", "backend", "postmaster", "all"}[round%4]
		switch what {
		case "server", "all":
			_ = p.command.Process.Kill()
			_ = p.command.Wait()
			if what == "all" {
				_ = syscall.Kill(postgresProcess(data, false), syscall.SIGKILL)
			}
		default:
			_ = syscall.Kill(postgresProcess(data, what == "backend"), syscall.SIGKILL)
			time.Sleep(100 * time.Millisecond) // work meets the lost database
			p.back(t, 5*time.Second)
		}
		close(stop)
		working.Wait()
		if what == "server" || what == "all" {
			p = begin(t, binary, data)
		}
		k.missing(t, p, dataset, chart)
		if t.Failed() {
			t.Fatalf("after kill %d, of %s", round, what)
		}
	}
	t.Logf("%d kills; %d steps, %d datasets, %d versions, %d shares acknowledged", kills, k.steps[chart], len(k.datasets), len(k.versions),
		len(k.keys))
	_ = p.command.Process.Signal(syscall.SIGTERM)
	if err := p.command.Wait(); err != nil {
		t.Errorf("the program does not end well: %v", err)
	}
}

// TestTheFirstStartCanBeKilledAtAnyMoment kills the making of the database; the next start
// finds it whole or begins anew, and nothing secret stays outside the data folder.
func TestTheFirstStartCanBeKilledAtAnyMoment(t *testing.T) {
	if testing.Short() {
		t.Skip("starts the whole program many times")
	}
	binary, data := built(t)
	temporary := t.TempDir()
	if err := os.Chmod(temporary, 0o777); err != nil {
		t.Fatal(err)
	}
	t.Setenv("TMPDIR", temporary)
	for _, after := range []time.Duration{30, 200, 250, 300, 900, 1600} {
		command := exec.Command(binary, "start", "--data", data, "--port", "0", "--no-demo")
		command.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
		if err := command.Start(); err != nil {
			t.Fatal(err)
		}
		time.Sleep(after * time.Millisecond)
		_ = command.Process.Kill()
		_ = command.Wait()
	}
	p := begin(t, binary, data)
	p.send(t, "GET", "/api/me", nil, nil)
	_ = p.command.Process.Signal(os.Interrupt)
	_ = p.command.Wait()
	if left, _ := filepath.Glob(filepath.Join(temporary, "*")); len(left) > 0 {
		t.Errorf("%v stays in the temporary folder", left)
	}
	if left, _ := filepath.Glob(filepath.Join(data, "*.new*")); len(left) > 0 {
		t.Errorf("%v stays in the data folder", left)
	}
}

// TestAStalePidMakesNobodySignalAStranger has postmaster.pid name a process that is none
// of ours: it lives on, and the database starts.
func TestAStalePidMakesNobodySignalAStranger(t *testing.T) {
	if testing.Short() {
		t.Skip("starts the whole program")
	}
	binary, data := built(t)
	p := begin(t, binary, data)
	_ = p.command.Process.Signal(os.Interrupt)
	_ = p.command.Wait()
	stranger := exec.Command("sleep", "60")
	if err := stranger.Start(); err != nil {
		t.Fatal(err)
	}
	defer func() { _ = stranger.Process.Kill(); _ = stranger.Wait() }()
	stale := fmt.Sprintf("%d\n%s\n1700000000\n5999\n\n127.0.0.1\n  5432001   9999999\nready\n", stranger.Process.Pid,
		filepath.Join(data, "postgres"))
	if err := os.WriteFile(filepath.Join(data, "postgres", "postmaster.pid"), []byte(stale), 0o644); err != nil {
		t.Fatal(err)
	}
	p = begin(t, binary, data)
	p.send(t, "GET", "/api/me", nil, nil)
	if err := stranger.Process.Signal(syscall.Signal(0)); err != nil {
		t.Errorf("the stranger was ended: %v", err)
	}
}

// TestAHangingDatabaseIsEnded stops the postmaster's process, which no order reaches then: the program ends all
// the same, and the next start finds what was kept.
func TestAHangingDatabaseIsEnded(t *testing.T) {
	if testing.Short() {
		t.Skip("waits for what hangs")
	}
	binary, data := built(t)
	t.Setenv("LARK_DATABASE_STOP_SECONDS", "2")
	p := begin(t, binary, data)
	hang := func() {
		file, err := os.ReadFile(filepath.Join(data, "postgres", "postmaster.pid"))
		line, _, _ := strings.Cut(string(file), "\n")
		pid, err2 := strconv.Atoi(line)
		if err != nil || err2 != nil || syscall.Kill(pid, syscall.SIGSTOP) != nil {
			t.Fatal("no postmaster to be stopped", err, err2)
		}
	}
	hang()
	_ = p.command.Process.Signal(syscall.SIGTERM)
	if err := p.command.Wait(); err != nil {
		t.Errorf("the program does not end: %v", err)
	}
	p = begin(t, binary, data)
	hang()
	_ = p.command.Process.Kill() // the next start meets a postmaster that hangs
	_ = p.command.Wait()
	p = begin(t, binary, data)
	p.send(t, "GET", "/api/me", nil, nil)
}

// TestRunningRequestsFinishWhenToldToStop sends SIGTERM while a request runs.
func TestRunningRequestsFinishWhenToldToStop(t *testing.T) {
	if testing.Short() {
		t.Skip("starts the whole program")
	}
	binary, data := built(t)
	p := begin(t, binary, data)
	reading, writing := io.Pipe()
	answered := make(chan int, 1)
	go func() {
		request, _ := http.NewRequest("POST", p.address+"/api/uploads?name=slow.csv", reading)
		answer, err := p.client.Do(request)
		if err != nil {
			answered <- 0
			return
		}
		_ = answer.Body.Close()
		answered <- answer.StatusCode
	}()
	_, _ = writing.Write([]byte("a,b\n1,2\n"))
	time.Sleep(200 * time.Millisecond)
	_ = p.command.Process.Signal(syscall.SIGTERM)
	time.Sleep(500 * time.Millisecond)
	_, _ = writing.Write([]byte("3,4\n"))
	_ = writing.Close()
	if status := <-answered; status != http.StatusOK {
		t.Errorf("the request that ran was answered %d", status)
	}
	if err := p.command.Wait(); err != nil {
		t.Errorf("the program does not end well: %v", err)
	}
}

// TestAPortThatWasAskedForIsTakenOrRefused holds that no other port is taken in its place.
func TestAPortThatWasAskedForIsTakenOrRefused(t *testing.T) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = listener.Close() }()
	s := settings{address: "127.0.0.1", port: listener.Addr().(*net.TCPAddr).Port, portGiven: true}
	if _, err := s.listen(); err == nil || !strings.Contains(err.Error(), "is taken") {
		t.Errorf("a taken port: %v", err)
	}
	s.portGiven = false
	other, err := s.listen()
	if err != nil {
		t.Fatal(err)
	}
	_ = other.Close()
}
