package main

import (
	"errors"
	"io"
	"os"
	"path/filepath"
	"testing"
)

// TestWhatFailsLeavesTheEarlierFile writes over a file, once in vain, and through a link.
func TestWhatFailsLeavesTheEarlierFile(t *testing.T) {
	folder := t.TempDir()
	name, link := filepath.Join(folder, "k.svg"), filepath.Join(folder, "link.svg")
	if err := os.WriteFile(name, []byte("earlier"), 0o640); err != nil {
		t.Fatal(err)
	}
	if err := os.Symlink("k.svg", link); err != nil {
		t.Fatal(err)
	}
	fails := errors.New("no such column")
	half := func(out io.Writer) error { _, _ = io.WriteString(out, "half"); return fails }
	whole := func(out io.Writer) error { _, err := io.WriteString(out, "whole"); return err }
	for _, test := range []struct {
		to    string
		write func(io.Writer) error
		err   error
		holds string
	}{{name, half, fails, "earlier"}, {link, half, fails, "earlier"}, {link, whole, nil, "whole"},
		{filepath.Join(folder, "new.svg"), half, fails, ""}} {
		err := writeFile(test.to, test.write)
		held, _ := os.ReadFile(test.to)
		if !errors.Is(err, test.err) || string(held) != test.holds {
			t.Errorf("%s holds %q: %v", filepath.Base(test.to), held, err)
		}
	}
	left, _ := os.ReadDir(folder)
	if about, err := os.Stat(name); err != nil || about.Mode().Perm() != 0o640 || len(left) != 2 {
		t.Errorf("the mode is %v, %v; %d files are left", about.Mode(), err, len(left))
	}
	if about, err := os.Lstat(link); err != nil || about.Mode()&os.ModeSymlink == 0 {
		t.Errorf("the link is gone: %v", err)
	}
}
