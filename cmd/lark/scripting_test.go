package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// interpreters run the examples of a language; where one is not installed its examples are skipped, and that is said.
var interpreters = map[string][]string{"sh": {"bash", "-euo", "pipefail", "-s"}, "python": {"python3", "-"}, "r": {"Rscript", "-"}}

// TestTheExamplesOfScriptingRun runs docs/scripting.md as it stands, language by language, against the program.
func TestTheExamplesOfScriptingRun(t *testing.T) {
	if testing.Short() {
		t.Skip("starts the whole program")
	}
	binary, data := built(t)
	p := begin(t, binary, data)
	var key struct{ Token string }
	p.send(
		t,
		"POST",
		"/api/keys",
		map[string]any{"name": "examples", "scopes": []string{"read", "add rows", "make", "share"}, "days": 1},
		&key,
	)
	text, err := os.ReadFile("../../docs/scripting.md")
	if err != nil {
		t.Fatal(err)
	}
	examples := map[string]string{}
	for _, block := range strings.Split(string(text), "\n```")[1:] {
		language, code, _ := strings.Cut(block, "\n")
		examples[language] += code + "\n"
	}
	for language, command := range interpreters {
		if examples[language] == "" {
			t.Errorf("there is no example in %s", language)
		}
		if _, err := exec.LookPath(command[0]); err != nil || language == "sh" && !installed("curl") {
			t.Logf("the examples in %s are skipped: it is not installed here", language)
			continue
		}
		run := exec.Command(command[0], command[1:]...)
		run.Dir = t.TempDir()
		run.Stdin = strings.NewReader(examples[language])
		run.Env = append(os.Environ(), "LARK_SERVER="+p.address, "LARK_KEY="+key.Token, "PATH="+filepath.Dir(binary)+":"+os.Getenv("PATH"))
		if output, err := run.CombinedOutput(); err != nil {
			t.Errorf("the examples in %s: %v\n%s", language, err, output)
		}
	}
	theShellKeepsItsWord(t, binary, p, key.Token)
}

func installed(name string) bool { _, err := exec.LookPath(name); return err == nil }

// theShellKeepsItsWord holds what a command ends with, and where its words go.
func theShellKeepsItsWord(t *testing.T, binary string, p *program, key string) {
	t.Helper()
	folder := t.TempDir()
	table := filepath.Join(folder, "t.csv")
	if err := os.WriteFile(table, []byte("a,b,g\n1,2,x\n2,3,y\n3,5,x\n4,4,y\n5,6,x\n6,7,y\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	home := []string{"LARK_SERVER=" + p.address, "LARK_KEY=" + key}
	for _, one := range []struct {
		arguments []string
		input     string
		env       []string
		code      int
		out, err  string
	}{
		{[]string{"--version"}, "", nil, 0, "lark ", ""},
		{[]string{"explain", table, "plot b against a"}, "", nil, 0, "g: ", ""},
		{[]string{"explain", table, "plat b against a"}, "", nil, 1, "", "1:1"},
		{[]string{"explain", table, "sentence.lark"}, "", nil, 1, "", "no such file"},
		{[]string{"explain", "-", "plot b against a", "--json"}, "a,b\n1,2\n2,3\n3,4\n", nil, 0, `"fits":[]`, ""},
		{[]string{"explain", table}, "", nil, 2, "", "accepts 2 arg"},
		{[]string{"explain", table, "plot b against a", "--loud"}, "", nil, 2, "", "unknown flag"},
		{[]string{"explain", table, "plot b against a"}, "", []string{"LARK_MAX_COLUMNS=2"}, 1, "", "2"},
		{[]string{"__complete", "render", "--look", ""}, "", nil, 0, "ink", ""},
		{[]string{"paint"}, "", nil, 2, "", "unknown command"},
		{[]string{"list", "charts"}, "", []string{"HOME=" + folder}, 1, "", "lark login"},
		{[]string{"list", "charts"}, "", home, 0, "\t", ""},
		{[]string{"list", "tables"}, "", home, 2, "", "invalid argument"},
		{[]string{"list", "charts"}, "", []string{"LARK_SERVER=http://127.0.0.1:1", "LARK_KEY=k"}, 3, "", "refused"},
		{[]string{"list", "charts"}, "", []string{"LARK_SERVER=" + p.address, "LARK_KEY=lark-key-guess"}, 1, "", "not known"},
		{[]string{"list", "charts"}, "", []string{"LARK_SERVER=" + p.address}, 1, "", "set both"},
		{[]string{"chart", "plat b against a", "--of", "Hive seasons"}, "", home, 1, "", "1:1"},
		{[]string{"chart", "plot b against a", "--of", "No such thing"}, "", home, 1, "", "no dataset"},
		{[]string{"push", table, "--append"}, "", home, 2, "", "--of"},
		{[]string{"pull", "Hive seasons", "--what", "dataset"}, "", home, 2, "", "--format"},
		{[]string{"page", "-"}, "# T\n\n```lark Hive seasons\nplat b against a\n```\n", home, 1, "", "line 4"},
		{[]string{"page", "-"}, "# T\n\n```lark Hive seasons\nplot", home, 1, "", "has no end"},
		{[]string{"page", "-"}, "# T\n\n```lark No such thing\nplot b against a\n```\n", home, 1, "", "no dataset"},
		{[]string{"share", "T", "--what", "page", "--title", "x"}, "", home, 2, "", "its title"},
		{[]string{"render", table, "plot b against a", "--scale", "900", "-o", "x.png"}, "", nil, 2, "", "--scale"},
		{[]string{"login", "lark.example"}, "", []string{"HOME=" + folder}, 1, "", "no address"},
		{[]string{"login", p.address}, key + "\n", []string{"HOME=" + folder, "XDG_CONFIG_HOME="}, 0, "", "Thornwick apiaries"},
		{[]string{"list", "datasets", "--json"}, "", []string{"HOME=" + folder, "XDG_CONFIG_HOME="}, 0, `{"items":[`, ""},
	} {
		command := exec.Command(binary, one.arguments...)
		command.Env = append(os.Environ(), one.env...)
		command.Stdin = strings.NewReader(one.input)
		var out, told bytes.Buffer
		command.Stdout, command.Stderr = &out, &told
		code := 0
		var ended *exec.ExitError
		if err := command.Run(); errors.As(err, &ended) {
			code = ended.ExitCode()
		}
		if code != one.code || !strings.Contains(out.String(), one.out) || !strings.Contains(told.String(), one.err) {
			t.Errorf("lark %s ends with %d: %s %s", strings.Join(one.arguments, " "), code, out.String(), told.String())
		}
	}
	login := filepath.Join(folder, ".config", "copper-lark", "login")
	if about, err := os.Stat(login); err != nil || about.Mode().Perm() != 0o600 {
		t.Errorf("the login is kept as %v, %v", about, err)
	}
	// What was pushed is there, by the name of its file.
	command := exec.Command(binary, "push", table)
	command.Env = append(os.Environ(), home...)
	if output, err := command.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, output)
	}
	request, _ := http.NewRequest("GET", p.address+"/api/v1/datasets?name=t", nil)
	request.Header.Set("Authorization", "Bearer "+key)
	answer, err := http.DefaultClient.Do(request)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = answer.Body.Close() }()
	var list struct{ Items []struct{ Name string } }
	if err := json.NewDecoder(answer.Body).Decode(&list); err != nil || len(list.Items) == 0 || list.Items[0].Name != "T" {
		t.Errorf("pushed: %v, %s", err, fmt.Sprint(list))
	}
}
