package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"strings"
	"syscall"
	"testing"
)

// program is a started lark with a signed-in client.
type program struct {
	command *exec.Cmd
	address string
	client  *http.Client
}

// begin starts the program; what still runs when the test ends is ended in order, before its folder is removed.
func begin(t *testing.T, binary, data string, more ...string) *program {
	t.Helper()
	command := exec.Command(binary, append([]string{"start", "--data", data, "--port", "0"}, more...)...)
	command.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	command.Env = append(os.Environ(), "LARK_LOG=warnings")
	var complaints bytes.Buffer
	command.Stderr = &complaints
	output, err := command.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := command.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		if command.ProcessState == nil { // nobody has waited for it
			_ = command.Process.Signal(os.Interrupt)
			_ = command.Wait()
		}
	})
	line, err := bufio.NewReader(output).ReadString('\n')
	if err != nil {
		_ = command.Wait()
		t.Fatalf("the program says nothing: %v\n%s", err, complaints.String())
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

// ask sends a request and gives the status and the content of the answer.
func (p *program) ask(t *testing.T, method, path string, body any) (int, []byte) {
	t.Helper()
	text, _ := json.Marshal(body)
	request, _ := http.NewRequest(method, p.address+path, bytes.NewReader(text))
	request.Header.Set("Content-Type", "application/json")
	answer, err := p.client.Do(request)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = answer.Body.Close() }()
	content, err := io.ReadAll(answer.Body)
	if err != nil {
		t.Fatal(err)
	}
	return answer.StatusCode, content
}

func (p *program) send(t *testing.T, method, path string, body, into any) {
	t.Helper()
	status, content := p.ask(t, method, path, body)
	if status >= 300 {
		t.Fatalf("%s %s: %d %s", method, path, status, content)
	}
	if into != nil {
		if err := json.Unmarshal(content, into); err != nil {
			t.Fatal(err)
		}
	}
}
