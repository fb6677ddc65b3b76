package main

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing/fstest"
	"time"

	"github.com/spf13/cobra"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/draw/pen/svg"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/reader"
	"copperlark/core/render"
	"copperlark/core/table"
	"copperlark/core/text"
	"copperlark/files"
	"copperlark/server"
)

func renderCommand() *cobra.Command {
	var out, size, look, fonts string
	var scale float64
	command := &cobra.Command{
		Use:   "render [TABLE] SENTENCE",
		Short: "Draw a sentence with a file of data: lark render hives.csv chart.lark -o chart.svg",
		Long: "Draw a typed sentence, or the file that holds it, with a file of data; a sentence that works y out from x needs none. The ending of the file to write says in which form: " + strings.Join(
			endings(),
			", ",
		) + ".",
		Args: cobra.RangeArgs(1, 2),
		RunE: func(c *cobra.Command, arguments []string) error {
			if scale < 1 || scale > render.MostScale {
				return usage{fmt.Errorf("--scale is from 1 to %g", render.MostScale)}
			}
			options := render.Options{Scale: scale, Look: look, Fonts: svg.Fonts(fonts), Metrics: text.Hanken(), Clock: time.Now().UTC()}
			if _, err := fmt.Sscanf(size, "%gx%g", &options.Width, &options.Height); size != "" && err != nil {
				return fmt.Errorf("--size %s: a size is written as 900x560", size)
			}
			if !slices.Contains([]svg.Fonts{svg.Named, svg.Embedded, svg.Outlines}, options.Fonts) {
				return fmt.Errorf("--fonts %s: say %s, %s or %s", fonts, svg.Named, svg.Embedded, svg.Outlines)
			}
			if len(arguments) == 1 {
				arguments = []string{"", arguments[0]}
			}
			return renderFile(c.Context(), arguments[0], arguments[1], out, options)
		},
	}
	command.Flags().StringVarP(&out, "out", "o", "-", "file to write, its form by its ending; - is standard output, as JSON")
	command.Flags().
		StringVar(&size, "size", "", fmt.Sprintf("of the paper, in pixels: that of the sentence or, where it has none, %gx%g",
			figure.DefaultWidth, figure.DefaultHeight))
	command.Flags().Float64Var(&scale, "scale", 1, "of a PNG: pixels a pixel of the paper")
	command.Flags().StringVar(&look, "look", "light", "light, dark or ink (for printers without colours)")
	command.Flags().StringVar(&fonts, "fonts", string(svg.Named), "of an SVG: named, embedded or outlines")
	completes(command, "look", "light", "dark", "ink")
	completes(command, "fonts", string(svg.Named), string(svg.Embedded), string(svg.Outlines))
	return command
}

// completes has a shell complete the values of a flag.
func completes(command *cobra.Command, flag string, values ...string) {
	_ = command.RegisterFlagCompletionFunc(flag, cobra.FixedCompletions(values, cobra.ShellCompDirectiveNoFileComp))
}

// endings are the forms that can be written.
func endings() []string {
	list := []string{".json"}
	for _, f := range render.Formats {
		list = append(list, "."+f.Name)
	}
	return list
}

func renderFile(ctx context.Context, data, sentence, out string, options render.Options) error {
	extension := strings.ToLower(strings.TrimPrefix(filepath.Ext(out), "."))
	format := render.FormatNamed(extension)
	if out != "-" && extension != "json" && format == nil {
		return fmt.Errorf("%s: %q is not a form that can be written; %s are", out, filepath.Ext(out), strings.Join(endings(), ", "))
	}
	t, err := readData(ctx, data)
	if err != nil {
		return err
	}
	typed, err := stated(sentence)
	if err != nil {
		return err
	}
	if format == nil {
		return renderJSON(ctx, t, typed, sentence, out, options)
	}
	bound, err := app.Stated(t, nil, typed)
	if err != nil {
		return told(sentence, err)
	}
	return writeFile(out, func(w io.Writer) error {
		problems, err := render.Chart(ctx, bound, format, options, w)
		if problems != nil {
			err = &app.Invalid{Message: problems[0].Message, Advice: problems[0].Advice, Problems: problems}
		}
		return told(sentence, err)
	})
}

// readData reads a file of data and tells what is doubtful in it. No file is an empty table, for a
// sentence that works y out from x.
func readData(ctx context.Context, data string) (*table.Table, error) {
	if data == "" {
		return table.New()
	}
	raw, most, err := within(data)
	if err != nil {
		return nil, err
	}
	t, report, err := files.Read(ctx, filepath.Base(data), raw, reader.Options{MaxBytes: most.FileBytes, MaxColumns: most.Columns})
	if err != nil {
		return nil, fmt.Errorf("%s: %w", data, err)
	}
	for _, note := range report.Notes {
		fmt.Fprintf(os.Stderr, "%s%s: %s %s\n", data, ofLine(note.Line), note.Column, note.Message)
	}
	return t, nil
}

// within reads a file, or standard input, within the limits that the settings say.
func within(name string) ([]byte, app.Limits, error) {
	var s settings
	if err := s.read(os.LookupEnv); err != nil {
		return nil, s.limits, err
	}
	s.limits.FileBytes = cmp.Or(s.limits.FileBytes, reader.DefaultMaxBytes)
	file, err := input(name)
	if err != nil {
		return nil, s.limits, err
	}
	defer func() { _ = file.Close() }()
	raw, err := io.ReadAll(io.LimitReader(file, s.limits.FileBytes+1))
	if err == nil && int64(len(raw)) > s.limits.FileBytes {
		err = fmt.Errorf("%s is larger than %d MB, the limit for one file: raise LARK_MAX_FILE_MB", name, s.limits.FileBytes>>20)
	}
	return raw, s.limits, err
}

// ofLine is the line that a note is about, where it is about one.
func ofLine(line int) string {
	if line > 0 {
		return fmt.Sprintf(":%d", line)
	}
	return ""
}

// told writes what is wrong with a sentence, by its place.
func told(sentence string, err error) error {
	var invalid *app.Invalid
	if errors.As(err, &invalid) {
		for _, mistake := range invalid.Mistakes {
			fmt.Fprintf(os.Stderr, "%s:%d:%d: %s; %s\n", sentence, mistake.Line, mistake.Column, mistake.Message, mistake.Advice)
		}
		for _, problem := range invalid.Problems {
			fmt.Fprintf(os.Stderr, "%s: %s: %s; %s\n", sentence, problem.Clause, problem.Message, problem.Advice)
		}
	}
	return err
}

func renderJSON(ctx context.Context, t *table.Table, typed, sentence, out string, options render.Options) error {
	picture, err := app.DrawTable(
		ctx,
		t,
		nil,
		typed,
		figure.Options{Width: options.Width, Height: options.Height, Metrics: options.Metrics},
	)
	if err != nil {
		return told(sentence, err)
	}
	written, err := picture.JSON()
	if err != nil {
		return err
	}
	if out == "-" {
		_, err = os.Stdout.Write(written)
		return err
	}
	return writeFile(out, func(w io.Writer) error { _, err := w.Write(written); return err })
}

// chartSchema is the JSON Schema (2020-12) of a chart document, out of the description of
// the server.
func chartSchema(description map[string]any) map[string]any {
	schemas := description["components"].(map[string]any)["schemas"].(map[string]any)
	defs := map[string]any{}
	var gather func(value any)
	gather = func(value any) {
		switch v := value.(type) {
		case map[string]any:
			if ref, is := v["$ref"].(string); is {
				name := ref[strings.LastIndex(ref, "/")+1:]
				v["$ref"] = "#/$defs/" + name
				if _, known := defs[name]; !known {
					defs[name] = schemas[name]
					gather(schemas[name])
				}
			}
			for _, inner := range v {
				gather(inner)
			}
		case []any:
			for _, inner := range v {
				gather(inner)
			}
		}
	}
	gather(map[string]any{"$ref": "#/components/schemas/Document"})
	refuse(defs)
	return map[string]any{
		"$schema": "https://json-schema.org/draft/2020-12/schema",
		"$id":     "https://copper-lark.example/schemas/chart-" + strconv.Itoa(chart.Version) + ".json",
		"title":   "A chart of Copper Lark",
		"$ref":    "#/$defs/Document",
		"$defs":   defs,
	}
}

// refuse has the schema refuse what the program refuses whatever the table: other versions, marks that there are not, degrees
// and colours that cannot be. The server itself says more about them, and takes older versions.
func refuse(defs map[string]any) {
	property := func(of, name string) map[string]any {
		return defs[of].(map[string]any)["properties"].(map[string]any)[name].(map[string]any)
	}
	property("Document", "version")["enum"] = []int{chart.Version}
	names := []string{chart.FitLayer, chart.ReferenceLayer, chart.IntervalLayer, chart.CentresLayer, chart.EdgesLayer}
	for _, m := range mark.List {
		names = append(names, m.Name)
	}
	slices.Sort(names)
	property("Layer", "mark")["enum"] = slices.Compact(names)
	degree := property("Fit", "degree")
	degree["minimum"], degree["maximum"] = chart.LeastDegree, chart.MostDegree
	property("Manner", "palette")["items"].(map[string]any)["pattern"] = "^#[0-9a-fA-F]{6}$"
}

func openapiCommand() *cobra.Command {
	var schema bool
	command := &cobra.Command{
		Use:   "openapi",
		Short: "Print the OpenAPI description of the server",
		Args:  cobra.NoArgs,
		RunE: func(*cobra.Command, []string) error {
			s, err := server.New(nil, fstest.MapFS{}, server.Config{}, slog.Default())
			if err != nil {
				return err
			}
			description, err := s.OpenAPI()
			if err != nil {
				return err
			}
			var indented map[string]any
			if err := json.Unmarshal(description, &indented); err != nil {
				return err
			}
			if schema {
				indented = chartSchema(indented)
			}
			written, err := json.MarshalIndent(indented, "", " ")
			if err != nil {
				return err
			}
			_, err = os.Stdout.Write(append(written, '\n'))
			return err
		},
	}
	command.Flags().BoolVar(&schema, "chart", false, "print the JSON Schema of a chart document instead")
	return command
}
