package examples

import (
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"copperlark/core/mark"
)

// TestEveryMarkHasAnExampleAndEveryExampleAPicture holds the gallery whole: no mark is
// forgotten, no picture is missing or left over, and the page lists them all.
func TestEveryMarkHasAnExampleAndEveryExampleAPicture(t *testing.T) {
	for _, m := range mark.List {
		if !slices.ContainsFunc(List, func(e Example) bool { return strings.Contains(e.Typed+"\n", "\nas "+m.Name+"\n") }) {
			t.Errorf("no example is drawn as %s", m.Name)
		}
	}
	page, err := os.ReadFile(filepath.Join("..", "..", "docs", "gallery.md"))
	if err != nil {
		t.Fatal(err)
	}
	if string(page) != Page() {
		t.Error("docs/gallery.md is not what the examples say: run make gallery")
	}
	pictures, _ := filepath.Glob(filepath.Join("..", "..", "docs", "gallery", "*.png"))
	var names, want []string
	for _, picture := range pictures {
		names = append(names, strings.TrimSuffix(filepath.Base(picture), ".png"))
	}
	for _, e := range List {
		want = append(want, e.Slug())
	}
	slices.Sort(want)
	if slices.Sort(names); !slices.Equal(names, want) || len(slices.Compact(want)) != len(List) {
		t.Errorf("the pictures are %v, want %v: run make gallery", names, want)
	}
}
