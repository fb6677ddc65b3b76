package main

import (
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/danielgtaylor/huma/v2"

	"copperlark/core/render"
	"copperlark/core/text"
	"copperlark/demo"
)

// TestRenderWithoutAServer draws the demo from files, as a person would.
func TestRenderWithoutAServer(t *testing.T) {
	folder := t.TempDir()
	data, chart, out := filepath.Join(folder, "hives.csv"), filepath.Join(folder, "chart.lark"), filepath.Join(folder, "chart.json")
	if err := writeFile(data, demo.HiveSeasons); err != nil {
		t.Fatal(err)
	}
	options := render.Options{Width: 640, Height: 480, Metrics: text.Hanken()}
	say := func(typed string) error {
		if err := os.WriteFile(chart, []byte(typed), 0o600); err != nil {
			t.Fatal(err)
		}
		return renderFile(context.Background(), data, chart, out, options)
	}
	if err := say("plot honey_kg against forage_ha\nlog x\nfit line\n"); err != nil {
		t.Fatal(err)
	}
	figure, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	var written struct {
		Figure struct {
			Width  float64
			Layers []struct {
				Count int
				X     []float64
			}
		}
		Typed string
	}
	if err := json.Unmarshal(figure, &written); err != nil {
		t.Fatal(err)
	}
	if f := written.Figure; f.Width != 640 || len(f.Layers) != 2 || f.Layers[0].Count < 1000 || len(f.Layers[0].X) != f.Layers[0].Count ||
		written.Typed != "plot honey_kg against forage_ha\nlog x\nfit line\n" {
		t.Errorf("%v wide, %d layers", f.Width, len(f.Layers))
	}
	if err := say("plot nectar against forage_ha"); err == nil || !strings.Contains(err.Error(), "no column nectar") {
		t.Errorf("a wrong column: %v", err)
	}
	if err := renderFile(context.Background(), data, chart, filepath.Join(folder, "chart.docx"), options); err == nil ||
		!strings.Contains(err.Error(), ".docx") {
		t.Errorf("a form that cannot be written: %v", err)
	}
	if err := renderFile(context.Background(), filepath.Join(folder, "none.csv"), chart, out, options); err == nil {
		t.Error("a file that is not there was read")
	}
	for ending, begins := range map[string]string{"svg": "<svg ", "png": "\x89PNG", "pdf": "%PDF-"} {
		to := filepath.Join(folder, "chart."+ending)
		if err := renderFile(context.Background(), data, "plot honey_kg against forage_ha\ncolour by district", to, options); err != nil {
			t.Fatal(err)
		}
		if written, err := os.ReadFile(to); err != nil || !strings.HasPrefix(string(written), begins) || len(written) < 10_000 {
			t.Errorf("%s: %v, %d bytes", ending, err, len(written))
		}
	}
}

// TestTheSchemaRefusesWhatTheProgramRefuses holds documents against the schema of charts.
func TestTheSchemaRefusesWhatTheProgramRefuses(t *testing.T) {
	text, err := os.ReadFile("../../docs/chart.schema.json")
	if err != nil {
		t.Fatal(err)
	}
	var schema struct {
		ID   string                  `json:"$id"`
		Defs map[string]*huma.Schema `json:"$defs"`
	}
	// The validator looks references up by the name of components.
	forIt := strings.NewReplacer("#/$defs/", "#/components/schemas/", `"$ref"`, `"Ref"`).Replace(string(text)) // as it names them
	forIt = regexp.MustCompile(`"type": \[\s*"(\w+)",\s*"null"\s*\]`).ReplaceAllString(forIt, `"type": "$1", "nullable": true`)
	if err := json.Unmarshal([]byte(forIt), &schema); err != nil || schema.ID == "" {
		t.Fatal(err, schema.ID)
	}
	registry := huma.NewMapRegistry("#/components/schemas/", huma.DefaultSchemaNamer)
	for name, one := range schema.Defs {
		one.PrecomputeMessages()
		registry.Map()[name] = one
	}
	for said, fits := range map[string]bool{
		`{"version":3,"x":{"column":"a"},"y":{"column":"b"},"layers":[{"mark":"dots"}]}`:                                  true,
		`{"version":3,"x":{"column":"a"},"y":{"column":"b"},"layers":[{"mark":"fit","fit":{"kind":"curve","degree":3}}]}`: true,
		`{"version":99,"x":{"column":"a"},"y":{"column":"b"},"layers":[{"mark":"dots"}]}`:                                 false,
		`{"version":3,"x":{"column":"a"},"y":{"column":"b"},"layers":[{"mark":"blobs"}]}`:                                 false,
		`{"version":3,"x":{"column":"a"},"y":{"column":"b"},"layers":[{"mark":"fit","fit":{"kind":"curve","degree":9}}]}`: false,
		`{"version":3,"x":{"column":"a"},"y":{"column":"b"},"layers":[{"mark":"dots"}],"manner":{"palette":["red"]}}`:     false,
		`{"version":3,"x":{"column":"a"},"y":{"column":"b"},"layers":[{"mark":"dots"}],"manner":{"palette":["#1f7a6d"]}}`: true,
	} {
		var value any
		if err := json.Unmarshal([]byte(said), &value); err != nil {
			t.Fatal(err)
		}
		var result huma.ValidateResult
		huma.Validate(registry, schema.Defs["Document"], huma.NewPathBuffer(nil, 0), huma.ModeWriteToServer, value, &result)
		if (len(result.Errors) == 0) != fits {
			t.Errorf("%s: %v", said, result.Errors)
		}
	}
}
