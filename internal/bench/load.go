package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"copperlark/core/chart"
)

// How long each load lasts.
const loadTime = 20 * time.Second

// running is a started program under load.
type running struct {
	command       *exec.Cmd
	address, data string
}

// startProgram starts bin/lark on a folder of its own.
func startProgram() *running {
	folder, err := os.MkdirTemp("", "lark-load-*")
	check(err)
	check(os.Chmod(folder, 0o755))
	p := &running{
		command: exec.Command("bin/lark", "start", "--data", filepath.Join(folder, "data"), "--port", "0"),
		data:    filepath.Join(folder, "data"),
	}
	p.command.Env = append(os.Environ(), "LARK_LOG=warnings")
	output, err := p.command.StdoutPipe()
	check(err)
	check(p.command.Start())
	line, err := bufio.NewReader(output).ReadString('\n')
	check(err)
	link := strings.TrimSpace(line[strings.Index(line, "http"):])
	p.address = link[:strings.Index(link, "/sign-in")]
	return p
}

func (p *running) stop() {
	_ = p.command.Process.Signal(os.Interrupt)
	_ = p.command.Wait()
	_ = os.RemoveAll(filepath.Dir(p.data))
}

// memory is what the process has resident, and the most that it had.
func (p *running) memory() (now, most int64) {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.command.Process.Pid))
	check(err)
	for line := range strings.Lines(string(text)) {
		name, value, _ := strings.Cut(line, ":")
		kilobytes, _ := strconv.ParseInt(strings.TrimSuffix(strings.TrimSpace(value), " kB"), 10, 64)
		switch name {
		case "VmRSS":
			now = kilobytes << 10
		case "VmHWM":
			most = kilobytes << 10
		}
	}
	return now, most
}

// somebody is a person with a session, or nobody.
type somebody struct {
	address string
	client  *http.Client
}

func (p *running) person(name string) *somebody {
	email := name + "@thornwick.example"
	command := exec.Command("bin/lark", "person", "--data", p.data, "--email", email, "--name", name, "--new-space", name)
	command.Env = append(os.Environ(), "LARK_PASSWORD=correct horse")
	output, err := command.CombinedOutput()
	if err != nil {
		panic(string(output))
	}
	one := p.nobody()
	jar, _ := cookiejar.New(nil)
	one.client.Jar = jar
	one.ask("POST", "/api/sign-in", "application/json", []byte(`{"email":"`+email+`","password":"correct horse"}`), nil)
	return one
}

func (p *running) nobody() *somebody {
	return &somebody{p.address, &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: 300, MaxIdleConns: 1000}}}
}

// ask sends a request and gives its status.
func (s *somebody) ask(method, path, kind string, body []byte, into any) (int, error) {
	request, err := http.NewRequest(method, s.address+path, bytes.NewReader(body))
	check(err)
	request.Header.Set("Content-Type", kind)
	answer, err := s.client.Do(request)
	if err != nil {
		return 0, err
	}
	defer func() { _ = answer.Body.Close() }()
	content, err := io.ReadAll(answer.Body)
	if err == nil && into != nil {
		err = json.Unmarshal(content, into)
	}
	return answer.StatusCode, err
}

func (s *somebody) say(method, path string, body, into any) (int, error) {
	text, err := json.Marshal(body)
	check(err)
	return s.ask(method, path, "application/json", text, into)
}

// bring uploads and keeps a table of so many rows and gives its version.
func (s *somebody) bring(rows int) int64 { return s.keep(tableOf(rows, 3)) }

// tableOf is a table of delimited text, of so many rows, from a seed.
func tableOf(rows int, seed uint64) []byte {
	source := rand.New(rand.NewPCG(seed, uint64(rows)))
	var file bytes.Buffer
	file.WriteString("x,y,z,w,g,h\n")
	for range rows {
		x, z := source.NormFloat64(), source.NormFloat64()
		fmt.Fprintf(
			&file,
			"%.4f,%.4f,%.4f,%.4f,%c,%c\n",
			x,
			x+z+source.NormFloat64(),
			z,
			source.Float64(),
			'a'+rune(source.IntN(5)),
			'p'+rune(source.IntN(3)),
		)
	}
	return file.Bytes()
}

// keep uploads and keeps a file of delimited text, and gives its version.
func (s *somebody) keep(file []byte) int64 {
	var preview struct {
		Key string `json:"key"`
	}
	var dataset struct {
		VersionID int64 `json:"version_id"`
	}
	_, err := s.ask("POST", "/api/uploads?name=load.csv", "application/octet-stream", file, &preview)
	check(err)
	_, err = s.say("POST", "/api/uploads/"+preview.Key+"/keep", map[string]any{"name": "Load"}, &dataset)
	check(err)
	return dataset.VersionID
}

// latencies gathers how long requests took, and what did not go well.
type latencies struct {
	mutex  sync.Mutex
	took   []time.Duration
	faults atomic.Int64
}

func (l *latencies) timed(work func() (int, error)) {
	begun := time.Now()
	status, err := work()
	took := time.Since(begun)
	if err != nil || status >= 400 {
		l.faults.Add(1)
	}
	l.mutex.Lock()
	defer l.mutex.Unlock()
	l.took = append(l.took, took)
}

func (l *latencies) share(p float64) time.Duration {
	slices.Sort(l.took)
	return l.took[min(int(p*float64(len(l.took))), len(l.took)-1)]
}

func (r *report) say(what, measured, target string) {
	r.lines = append(r.lines, fmt.Sprintf("| %s | %s |  | %s |", what, measured, target))
	fmt.Fprintln(os.Stderr, r.lines[len(r.lines)-1])
}

// benchLoad measures the whole program with several people at it. Everything runs on the
// cores that the program has too.
func benchLoad(r *report) {
	if _, err := os.Stat("bin/lark"); errors.Is(err, os.ErrNotExist) {
		panic("make build first")
	}
	p := startProgram()
	defer p.stop()
	loadGreedy(r, p)
	loadReaders(r, p)
	loadStory(r, p)
	loadEditors(r, p)
}

var loadDocument = document("x", nil)

// document is a chart of y against a column, with a fit or none.
func document(x string, fit map[string]any) map[string]any {
	d := map[string]any{"version": chart.Version, "x": map[string]any{"column": x}, "y": map[string]any{"column": "y"}}
	if fit != nil {
		d["layers"] = []any{map[string]any{"mark": "fit", "fit": fit}}
	}
	return d
}

// loadGreedy has one person ask for fifty heavy things at once, and looks how another's
// small request fares.
func loadGreedy(r *report, p *running) {
	greedy, other := p.person("greedy"), p.person("other")
	version := greedy.bring(1_000_000)
	local := document("x", map[string]any{"kind": "local", "each": "g", "overall": true})
	for _, heavy := range []struct {
		what, path string
		body       any
	}{
		{"explanations", fmt.Sprintf("/api/versions/%d/explanations", version), map[string]any{"document": loadDocument}},
		{"local regressions by group", fmt.Sprintf("/api/versions/%d/figure", version), map[string]any{"document": local}},
	} {
		ended := make(chan struct{})
		var asked sync.WaitGroup
		var done, refused atomic.Int64
		for range 50 {
			asked.Go(func() {
				if status, _ := greedy.say("POST", heavy.path, heavy.body, nil); status == http.StatusOK {
					done.Add(1)
				} else {
					refused.Add(1)
				}
			})
		}
		go func() { asked.Wait(); close(ended) }()
		var small latencies
		ask := func() { small.timed(func() (int, error) { return other.say("GET", "/api/me", nil, nil) }) }
		ask()
		for going := true; going; {
			select {
			case <-ended:
				going = false
			case <-time.After(20 * time.Millisecond):
				ask()
			}
		}
		_, most := p.memory()
		r.say(
			fmt.Sprintf(
				"one person asks 50 %s of 1,000,000 rows at once (%d answered, %d told to wait): another's small request, p99 of %d",
				heavy.what,
				done.Load(),
				refused.Load(),
				len(small.took),
			),
			milliseconds(small.share(0.99)),
			"100 ms",
		)
		r.say("the most memory that the process took", fmt.Sprintf("%d MB", most>>20), "its ceiling, 4096 MB")
		if small.faults.Load() > 0 {
			r.say("small requests that failed", strconv.FormatInt(small.faults.Load(), 10), "none")
		}
	}
}

// loadReaders has 200 readers of a shared chart, each loading it or hovering once a second.
func loadReaders(r *report, p *running) {
	owner := p.person("owner")
	version := owner.bring(1000)
	var share struct {
		Key string `json:"key"`
	}
	_, err := owner.say("POST", "/api/shares", map[string]any{"version_id": version, "title": "Load", "document": loadDocument}, &share)
	check(err)
	reader := p.nobody()
	before, _ := p.memory()
	var all latencies
	var readers sync.WaitGroup
	until := time.Now().Add(loadTime)
	for i := range 200 {
		readers.Go(func() {
			time.Sleep(time.Duration(i) * 5 * time.Millisecond)
			for n := 0; time.Now().Before(until); n++ {
				path := fmt.Sprintf("/s/%s/rows/%d", share.Key, 1+rand.IntN(1000))
				if n%10 == 0 {
					path = "/s/" + share.Key + "/figure"
				}
				all.timed(func() (int, error) { return reader.ask("GET", path, "", nil, nil) })
				time.Sleep(time.Second)
			}
		})
	}
	readers.Wait()
	after, _ := p.memory()
	r.say(
		fmt.Sprintf(
			"200 readers of a shared chart of 1,000 rows, each asking once a second: p99 of %d, %d failed",
			len(all.took),
			all.faults.Load(),
		),
		milliseconds(all.share(0.99)),
		"50 ms, none",
	)
	r.say("memory beyond what it was before", fmt.Sprintf("%d MB", max(after-before, 0)>>20), "64 MB")
}

// loadEditors has 20 people change charts of 100,000 rows, once a second.
func loadEditors(r *report, p *running) {
	var all latencies
	var people sync.WaitGroup
	type editor struct {
		*somebody
		version, chart, step int64
	}
	var editors []*editor
	for i := range 20 {
		one := &editor{somebody: p.person(fmt.Sprint("editor", i))}
		one.version = one.bring(100_000)
		var chart struct {
			ID         int64 `json:"id"`
			HeadStepID int64 `json:"head_step_id"`
		}
		_, err := one.say("POST", "/api/charts", map[string]any{"version_id": one.version, "document": loadDocument}, &chart)
		check(err)
		one.chart, one.step = chart.ID, chart.HeadStepID
		editors = append(editors, one)
	}
	until := time.Now().Add(loadTime)
	for i, one := range editors {
		people.Go(func() {
			time.Sleep(time.Duration(i) * 50 * time.Millisecond)
			for n := 0; time.Now().Before(until); n++ {
				document := document([]string{"x", "z", "w"}[n%3], map[string]any{"kind": "line", "each": "g", "overall": true})
				document["colour"], document["title"] = "g", fmt.Sprint(n)
				all.timed(func() (int, error) {
					return one.say("POST", fmt.Sprintf("/api/versions/%d/figure", one.version), map[string]any{"document": document}, nil)
				})
				var step struct {
					ID int64 `json:"id"`
				}
				if status, _ := one.say("POST", fmt.Sprintf("/api/charts/%d/steps", one.chart),
					map[string]any{"parent_id": one.step, "document": document}, &step); status == http.StatusOK {
					one.step = step.ID
				}
				time.Sleep(time.Second)
			}
		})
	}
	people.Wait()
	r.say(
		fmt.Sprintf("20 people changing charts of 100,000 rows, once a second: p95 of %d figures", len(all.took)),
		milliseconds(all.share(0.95)),
		"250 ms",
	)
}
