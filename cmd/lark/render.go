package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"testing/fstest"

	"github.com/spf13/cobra"

	"copperlark/app"
	"copperlark/core/figure"
	"copperlark/core/reader"
	"copperlark/core/text"
	"copperlark/files"
	"copperlark/server"
)

func renderCommand() *cobra.Command {
	var out string
	var width, height float64
	command := &cobra.Command{
		Use:   "render DATA CHART",
		Short: "Draw a typed sentence with a file of data: lark render data.csv chart.lark -o chart.json",
		Args:  cobra.ExactArgs(2),
		RunE: func(c *cobra.Command, arguments []string) error {
			return render(c.Context(), arguments[0], arguments[1], out, width, height)
		},
	}
	command.Flags().StringVarP(&out, "out", "o", "-", "file to write, by its ending: .json is the figure; - is standard output")
	command.Flags().Float64Var(&width, "width", figure.DefaultWidth, "width of the paper in pixels")
	command.Flags().Float64Var(&height, "height", figure.DefaultHeight, "height of the paper in pixels")
	return command
}

func render(ctx context.Context, data, chart, out string, width, height float64) error {
	if extension := filepath.Ext(out); out != "-" && extension != ".json" {
		return fmt.Errorf("%s: %q is not a form that can be written; .json is", out, extension)
	}
	raw, err := os.ReadFile(data)
	if err != nil {
		return err
	}
	t, report, err := files.Read(ctx, filepath.Base(data), raw, reader.Options{})
	if err != nil {
		return fmt.Errorf("%s: %w", data, err)
	}
	for _, note := range report.Notes {
		fmt.Fprintf(os.Stderr, "%s:%d: %s %s\n", data, note.Line, note.Column, note.Message)
	}
	typed, err := os.ReadFile(chart)
	if err != nil {
		return err
	}
	picture, err := app.DrawTable(ctx, t, nil, string(typed), nil, figure.Options{Width: width, Height: height, Metrics: text.Hanken()})
	var invalid *app.Invalid
	if errors.As(err, &invalid) {
		for _, mistake := range invalid.Mistakes {
			fmt.Fprintf(os.Stderr, "%s:%d:%d: %s; %s\n", chart, mistake.Line, mistake.Column, mistake.Message, mistake.Advice)
		}
		for _, problem := range invalid.Problems {
			fmt.Fprintf(os.Stderr, "%s: %s: %s; %s\n", chart, problem.Clause, problem.Message, problem.Advice)
		}
	}
	if err != nil {
		return err
	}
	written, err := json.MarshalIndent(map[string]any{"figure": picture.Figure, "reading": picture.Reading, "typed": picture.Typed}, "", " ")
	if err != nil {
		return err
	}
	if out == "-" {
		_, err = os.Stdout.Write(append(written, '\n'))
		return err
	}
	return writeFile(out, func(w io.Writer) error { _, err := w.Write(append(written, '\n')); return err })
}

func openapiCommand() *cobra.Command {
	return &cobra.Command{
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
			written, err := json.MarshalIndent(indented, "", " ")
			if err != nil {
				return err
			}
			_, err = os.Stdout.Write(append(written, '\n'))
			return err
		},
	}
}
