package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"copperlark/app"
	"copperlark/core/reader"
	"copperlark/core/table"
	"copperlark/core/words"
	"copperlark/files"
)

// tableForms are the forms in which a table that was read can be written, by the ending of
// the file.
var tableForms = []struct {
	ending string
	write  func(ctx context.Context, w io.Writer, t *table.Table, report *reader.Report) error
}{
	{".json", func(_ context.Context, w io.Writer, t *table.Table, report *reader.Report) error {
		return files.WriteJSON(w, t, report)
	}},
	{".csv", func(ctx context.Context, w io.Writer, t *table.Table, _ *reader.Report) error {
		return app.WriteCSV(ctx, w, t)
	}},
	{".parquet", func(ctx context.Context, w io.Writer, t *table.Table, _ *reader.Report) error {
		return files.WriteParquet(ctx, struct{ io.Writer }{w}, t) // whose library would close the file
	}},
}

func readCommand() *cobra.Command {
	var out, separator, decimal string
	var as []string
	options := reader.Options{}
	command := &cobra.Command{
		Use:   "read FILE",
		Short: "Print the table that would be kept of a file: lark read hives.csv -o hives.json",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			for _, said := range []struct {
				text string
				to   *byte
			}{{separator, &options.Separator}, {decimal, &options.Decimal}} {
				switch text := strings.ReplaceAll(said.text, `\t`, "\t"); len(text) {
				case 0:
				case 1:
					*said.to = text[0]
				default:
					return fmt.Errorf("%q: say one sign", said.text)
				}
			}
			options.As = map[string]string{}
			for _, said := range as {
				name, kind, _ := strings.Cut(said, "=")
				if !slices.Contains(reader.Readings, reader.Offer(kind)) {
					return fmt.Errorf("--as %s: say the name of a column, = and %s", said, words.Or(reader.Readings))
				}
				options.As[name] = kind
			}
			return readFile(c.Context(), arguments[0], out, options)
		},
	}
	flags := command.Flags()
	flags.StringVarP(&out, "out", "o", "-", "file to write, its form by its ending: .json, .csv or .parquet; - is standard output, as JSON")
	flags.IntVar(&options.TitleRow, "title-row", 0, "the row of the file that holds the titles; -1: none; 0: found out")
	flags.StringVar(&separator, "separator", "", `one sign, \t for a tab; empty: found out`)
	flags.StringVar(&decimal, "decimal", "", "the decimal mark; empty: found out")
	flags.StringVar(&options.Encoding, "encoding", "", "of the letters: "+strings.Join(reader.EncodingNames(), ", ")+"; empty: found out")
	flags.StringVar(&options.Sheet, "sheet", "", "of a workbook; empty: the first that holds something")
	flags.BoolVar(&options.MonthFirst, "month-first", false, "in dates that can be read two ways, the month comes first")
	flags.BoolVar(&options.KeepBelow, "keep-below", false, "keep lines under the table as rows")
	flags.BoolVar(&options.LeaveSum, "leave-sum", false, "leave out rows that sum up others")
	flags.StringArrayVar(
		&as,
		"as",
		nil,
		"how a column is read: name=number, name=text, name=limit or name=half for numbers with <0.1 as 0.1 or 0.05, name=date, or name=gap or name=value where 9999 or NA may stand for a missing value",
	)
	return command
}

func readFile(ctx context.Context, name, out string, options reader.Options) error {
	form := tableForms[0]
	if out != "-" {
		found := false
		for _, f := range tableForms {
			if strings.EqualFold(filepath.Ext(out), f.ending) {
				form, found = f, true
			}
		}
		if !found {
			return fmt.Errorf("%s: write .json, .csv or .parquet", out)
		}
	}
	raw, most, err := within(name)
	if err != nil {
		return err
	}
	options.MaxBytes, options.MaxColumns = most.FileBytes, most.Columns
	t, report, err := files.Read(ctx, filepath.Base(name), raw, options)
	if err != nil {
		if refused, is := err.(*reader.Error); is && refused.Advice != "" {
			return fmt.Errorf("%s: %w; %s", name, err, refused.Advice)
		}
		return fmt.Errorf("%s: %w", name, err)
	}
	if out == "-" {
		return form.write(ctx, os.Stdout, t, report)
	}
	return writeFile(out, func(w io.Writer) error { return form.write(ctx, w, t, report) })
}
