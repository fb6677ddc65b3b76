// Mutants changes lines of the program one at a time, without touching the tree, and tells which changes no test sees: a
// line whose change is not seen has no test. `make mutants` runs it; its arguments are words that the file of a mutant
// must hold.
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// leastKilled is the share of changes that tests must see.
const leastKilled = 0.95

// patience is how long the tests of a room may take: a change may let them run for ever.
const patience = 4 * time.Minute

func main() {
	root, err := os.Getwd()
	if err != nil {
		fail(err)
	}
	tried, stale, survivors := 0, 0, []string{}
	for i, m := range mutants {
		if len(os.Args) > 1 && !slices.ContainsFunc(os.Args[1:], func(word string) bool { return strings.Contains(m.file, word) }) {
			continue
		}
		killed, err := m.killed(root)
		if err != nil { // the list has fallen behind
			fmt.Printf("%3d of %d STALE     %s: %v\n", i+1, len(mutants), m.file, err)
			stale++
			continue
		}
		tried++
		told := "seen"
		if !killed {
			told = "NOT SEEN"
			survivors = append(survivors, fmt.Sprintf("%s: %s", m.file, m.was))
		}
		fmt.Printf("%3d of %d %-9s %s: %.90s\n", i+1, len(mutants), told, m.file, m.was)
	}
	fmt.Printf("%d of %d changed lines are seen by a test\n", tried-len(survivors), tried)
	for _, s := range survivors {
		fmt.Println("not seen:", s)
	}
	if stale > 0 || float64(tried-len(survivors)) < leastKilled*float64(tried) {
		os.Exit(1)
	}
}

func fail(err error) {
	fmt.Fprintln(os.Stderr, err)
	os.Exit(2)
}

// killed reports whether the tests of a mutant's room fail with it.
func (m mutant) killed(root string) (bool, error) {
	text, err := os.ReadFile(filepath.Join(root, m.file))
	if err != nil {
		return false, err
	}
	if !bytes.Contains(text, []byte(m.was)) {
		return false, fmt.Errorf("there is no line %s", m.was)
	}
	changed := bytes.Replace(text, []byte(m.was), []byte(m.is), 1)
	folder, err := os.MkdirTemp("", "mutant")
	if err != nil {
		return false, err
	}
	defer os.RemoveAll(folder)
	ctx, stop := context.WithTimeout(context.Background(), patience)
	defer stop()
	if strings.HasPrefix(m.file, "web/") {
		return m.killedInWeb(ctx, root, folder, changed)
	}
	// The file is changed in the eyes of the compiler alone.
	beside := filepath.Join(folder, filepath.Base(m.file))
	overlay := filepath.Join(folder, "overlay.json")
	said, _ := json.Marshal(map[string]any{"Replace": map[string]string{filepath.Join(root, m.file): beside}})
	if err := os.WriteFile(beside, changed, 0o600); err != nil {
		return false, err
	}
	if err := os.WriteFile(overlay, said, 0o600); err != nil {
		return false, err
	}
	room := m.tests
	if room == "" {
		room = filepath.Dir(m.file)
	}
	if out, err := command(ctx, root, "go", "build", "-overlay", overlay, "./"+filepath.Dir(m.file)).CombinedOutput(); err != nil {
		return false, fmt.Errorf("does not compile: %s", out)
	}
	return command(ctx, root, "go", "test", "-failfast", "-overlay", overlay, "./"+room).Run() != nil, nil
}

// killedInWeb runs the units of the browser on a copy of its sources.
func (m mutant) killedInWeb(ctx context.Context, root, folder string, changed []byte) (bool, error) {
	for _, part := range []string{"src", "test", "package.json", "tsconfig.json", "playwright.units.config.ts"} {
		if err := command(ctx, root, "cp", "-r", "--parents", filepath.Join("web", part), folder).Run(); err != nil {
			return false, fmt.Errorf("copying %s: %w", part, err)
		}
	}
	for _, whole := range []string{"contract", "docs", "web/node_modules", "core"} { // what units read besides
		if err := os.Symlink(filepath.Join(root, whole), filepath.Join(folder, whole)); err != nil {
			return false, err
		}
	}
	if err := os.WriteFile(filepath.Join(folder, m.file), changed, 0o600); err != nil {
		return false, err
	}
	return command(
		ctx,
		filepath.Join(folder, "web"),
		"npx",
		"playwright",
		"test",
		"--config",
		"playwright.units.config.ts",
		"--reporter",
		"dot",
		"-x",
	).Run() !=
		nil, nil
}

func command(ctx context.Context, folder, name string, arguments ...string) *exec.Cmd {
	c := exec.CommandContext(ctx, name, arguments...)
	c.Dir = folder
	return c
}
