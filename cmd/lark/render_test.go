package main

import (
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"copperlark/demo"
)

// TestRenderWithoutAServer draws the demo from files, as a person would.
func TestRenderWithoutAServer(t *testing.T) {
	folder := t.TempDir()
	data, chart, out := filepath.Join(folder, "hives.csv"), filepath.Join(folder, "chart.lark"), filepath.Join(folder, "chart.json")
	if err := writeFile(data, demo.HiveSeasons); err != nil {
		t.Fatal(err)
	}
	say := func(typed string) error {
		if err := os.WriteFile(chart, []byte(typed), 0o600); err != nil {
			t.Fatal(err)
		}
		return render(context.Background(), data, chart, out, 640, 480)
	}
	if err := say("plot honey_kg against forage_ha\nlog x\nfit line\n"); err != nil {
		t.Fatal(err)
	}
	text, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	var written struct {
		Figure struct {
			Width float64
			Dots  struct {
				Count int
				X     []float64
			}
			Fits []struct{ X []float64 }
		}
		Typed string
	}
	if err := json.Unmarshal(text, &written); err != nil {
		t.Fatal(err)
	}
	if f := written.Figure; f.Width != 640 || f.Dots.Count < 1000 || len(f.Dots.X) != f.Dots.Count || len(f.Fits) != 1 || written.Typed != "plot honey_kg against forage_ha\nlog x\nfit line\n" {
		t.Errorf("%v wide, %d dots, %d fits", f.Width, f.Dots.Count, len(f.Fits))
	}
	if err := say("plot honey against forage_ha"); err == nil || !strings.Contains(err.Error(), "no column honey") {
		t.Errorf("a wrong column: %v", err)
	}
	if err := render(context.Background(), data, chart, filepath.Join(folder, "chart.docx"), 0, 0); err == nil || !strings.Contains(err.Error(), ".docx") {
		t.Errorf("a form that cannot be written: %v", err)
	}
	if err := render(context.Background(), filepath.Join(folder, "none.csv"), chart, out, 0, 0); err == nil {
		t.Error("a file that is not there was read")
	}
}
