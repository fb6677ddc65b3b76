package main

import (
	"os"
	"path/filepath"
	"testing"
)

// TestWhatOthersWroteIsListed holds THIRD-PARTY.md to what the program is made of, and every licence to be known.
func TestWhatOthersWroteIsListed(t *testing.T) {
	root := filepath.Join("..", "..")
	want, err := Page(root)
	if err != nil {
		t.Fatal(err)
	}
	if got, err := os.ReadFile(filepath.Join(root, "THIRD-PARTY.md")); err != nil || string(got) != want {
		t.Errorf("THIRD-PARTY.md is not what is linked and bundled (%v): run make licences", err)
	}
}

// TestLicencesAreToldByTheirWords holds each of the licences that are known, and that others are not guessed.
func TestLicencesAreToldByTheirWords(t *testing.T) {
	for words, want := range map[string]string{
		"The MIT License\n\nPermission is hereby granted,\nfree of charge, to":            "MIT",
		"                  Apache License\nVersion 2.0":                                   "Apache-2.0",
		"Redistributions in binary form must reproduce the above.\n* Neither the name of": "BSD-3-Clause",
		"Redistributions in binary form must reproduce the above":                         "BSD-2-Clause",
		"Mozilla Public License Version 2.0":                                              "MPL-2.0", "All rights reserved.": "",
	} {
		folder := t.TempDir()
		if err := os.WriteFile(filepath.Join(folder, "LICENSE"), []byte(words), 0o600); err != nil {
			t.Fatal(err)
		}
		if got := licenceIn(folder); got != want {
			t.Errorf("%.30q is told as %q, not %q", words, got, want)
		}
	}
}
