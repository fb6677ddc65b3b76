// Gallery draws every example with the demo's data into docs/gallery, and writes the page
// that shows them.
package main

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"copperlark/app"
	"copperlark/core/examples"
	"copperlark/core/reader"
	"copperlark/core/render"
	"copperlark/core/table"
	"copperlark/core/text"
	"copperlark/demo"
)

const width, height = 440, 300

func main() {
	if err := draw(context.Background()); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func draw(ctx context.Context) error {
	tables, err := demoTables(ctx)
	if err != nil {
		return err
	}
	folder := filepath.Join("docs", "gallery")
	if err := os.RemoveAll(folder); err != nil {
		return err
	}
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return err
	}
	for _, e := range examples.List {
		bound, err := app.Stated(tables[e.Table], nil, e.Typed)
		if err != nil {
			return fmt.Errorf("%s: %w", e.Name, err)
		}
		var picture bytes.Buffer
		problems, err := render.Chart(
			ctx,
			bound,
			render.FormatNamed("png"),
			render.Options{Width: width, Height: height, Metrics: text.Hanken()},
			&picture,
		)
		if err != nil || problems != nil {
			return fmt.Errorf("%s: %v %v", e.Name, err, problems)
		}
		if err := os.WriteFile(filepath.Join(folder, e.Slug()+".png"), picture.Bytes(), 0o644); err != nil {
			return err
		}
	}
	return os.WriteFile(filepath.Join("docs", "gallery.md"), []byte(examples.Page()), 0o644)
}

// demoTables reads the files of the demo as the program does, with what their columns mean.
func demoTables(ctx context.Context) (map[string]*table.Table, error) {
	tables := map[string]*table.Table{}
	for _, set := range demo.Datasets {
		var file bytes.Buffer
		if err := set.Write(&file); err != nil {
			return nil, err
		}
		t, _, err := reader.Read(ctx, &file, reader.Options{})
		if err != nil {
			return nil, err
		}
		if tables[strings.TrimSuffix(set.File, ".csv")], err = set.Describe(t); err != nil {
			return nil, err
		}
	}
	return tables, nil
}
