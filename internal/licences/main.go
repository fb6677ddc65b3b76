// Licences lists what others wrote and the program holds: the Go modules that are linked into it, the npm packages that
// are bundled into its pages, and the fonts, each with its licence. `make licences` writes the list to THIRD-PARTY.md;
// a test holds that it is what the program is made of.
package main

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
)

func main() {
	page, err := Page(".")
	if err == nil {
		err = os.WriteFile("THIRD-PARTY.md", []byte(page), 0o644)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// part is something that somebody else wrote.
type part struct{ name, version, licence string }

// Page is the list, of the program whose root is given.
func Page(root string) (string, error) {
	modules, err := linked(root)
	if err != nil {
		return "", err
	}
	packages, err := bundled(filepath.Join(root, "web", "package-lock.json"))
	if err != nil {
		return "", err
	}
	fonts := []part{
		{"Hanken Grotesk", "", "OFL-1.1"},
		{"Literata", "", "OFL-1.1"},
		{"Noto Sans, with its Hebrew, Arabic and Japanese", "", "OFL-1.1"},
	}
	var page strings.Builder
	page.WriteString(
		"# What others wrote\n\nMade by `make licences`, from what is linked and bundled. Tools that only build and test are not listed.\n",
	)
	for _, list := range []struct {
		title string
		parts []part
	}{{"Go modules, linked into the program", modules}, {"npm packages, bundled into its pages", packages},
		{"Fonts, in the pages and in drawings", fonts}} {
		fmt.Fprintf(&page, "\n## %s\n\n| what | version | licence |\n| --- | --- | --- |\n", list.title)
		for _, p := range list.parts {
			if p.licence == "" {
				return "", fmt.Errorf("nobody knows the licence of %s", p.name)
			}
			fmt.Fprintf(&page, "| %s | %s | %s |\n", p.name, p.version, p.licence)
		}
	}
	return page.String(), nil
}

// tags are those that the Makefile builds with.
const tags = "nomsgpack,arrow_json_stdlib"

// linked lists the modules whose packages are compiled into the program.
func linked(root string) ([]part, error) {
	list := exec.Command("go", "list", "-tags", tags, "-deps", "-json=Module", "./cmd/lark")
	list.Dir = root
	out, err := list.Output()
	if err != nil {
		return nil, fmt.Errorf("go list: %w", err)
	}
	var parts []part
	for decoder := json.NewDecoder(strings.NewReader(string(out))); decoder.More(); {
		var listed struct {
			Module *struct {
				Path, Version, Dir string
				Main               bool
				Replace            *struct{ Version string }
			}
		}
		if err := decoder.Decode(&listed); err != nil {
			return nil, err
		}
		m := listed.Module
		if m == nil || m.Main || m.Replace != nil && m.Replace.Version == "" { // of the standard library, ours, or in the place of another
			continue
		}
		if !slices.ContainsFunc(parts, func(p part) bool { return p.name == m.Path }) {
			parts = append(parts, part{m.Path, m.Version, licenceIn(m.Dir)})
		}
	}
	slices.SortFunc(parts, func(a, b part) int { return strings.Compare(a.name, b.name) })
	return parts, nil
}

// licences are told by words that stand in no other.
var licences = []struct{ name, words string }{
	{"Apache-2.0", "Apache License"},
	{"MPL-2.0", "Mozilla Public License"},
	{"ISC", "Permission to use, copy, modify, and/or distribute this software for any purpose"},
	{"ISC", "Permission to use, copy, modify, and distribute this software for any"},
	{"MIT", "Permission is hereby granted, free of charge"},
	{"BSD-3-Clause", "Neither the name of"},
	{"BSD-3-Clause", "names of its contributors may"},
	{"BSD-2-Clause", "Redistributions in binary form must reproduce"},
	{"Unlicense", "This is free and unencumbered software"},
}

// licenceIn tells the licence of a module by its file; empty where it cannot be told.
func licenceIn(folder string) string {
	for _, name := range []string{"LICENSE", "LICENSE.txt", "LICENSE.md", "LICENCE", "LICENSE-APACHE", "COPYING", "license", "License",
		"LICENSE.MIT"} {
		text, err := os.ReadFile(filepath.Join(folder, name))
		if err != nil {
			continue
		}
		words := strings.Join(strings.Fields(string(text)), " ")
		for _, l := range licences {
			if strings.Contains(words, l.words) {
				return l.name
			}
		}
	}
	return ""
}

// folderOf is where npm keeps packages.
const folderOf = "node_modules/"

// bundled lists the packages that the pages are built from, by what is locked.
func bundled(lock string) ([]part, error) {
	text, err := os.ReadFile(lock)
	if err != nil {
		return nil, err
	}
	var locked struct {
		Packages map[string]struct {
			Version, License string
			Dev              bool
		}
	}
	if err := json.Unmarshal(text, &locked); err != nil {
		return nil, err
	}
	var parts []part
	for path, p := range locked.Packages {
		at := strings.LastIndex(path, folderOf)
		if at < 0 || p.Dev { // the front end itself, or a tool
			continue
		}
		if name := path[at+len(folderOf):]; !strings.HasPrefix(name, "@types/") {
			parts = append(parts, part{name, p.Version, p.License})
		}
	}
	slices.SortFunc(parts, func(a, b part) int { return strings.Compare(a.name+" "+a.version, b.name+" "+b.version) })
	return slices.Compact(parts), nil
}
