package main

import (
	"context"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"copperlark/core/page"
)

// pageCommand makes a page of a file, so that a story lives in version control.
func pageCommand() *cobra.Command {
	var of string
	command := &cobra.Command{
		Use:   "page FILE",
		Short: "Make a page of Markdown whose fenced lark blocks are charts; the page of the same title is written again",
		Long: `The page of the same title, or the one of --of, is written again; where there is none, one is made. Its address is written.

# The title
What it comes to, in a paragraph.

## At first sight
Over all hives, yield [[falls by]] for every tenfold gain in forage.

` + "```" + `lark Hive seasons (below)
plot honey_kg against forage_ha
log x
fit line
` + "```" + `

Behind lark stands the dataset, then, in brackets, where the chart stands (right, left, below, above). Words in double square
brackets are put in from the chart's reading and follow it. A chart that says what it said stays the chart that it is.`,
		Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			file, err := input(arguments[0])
			if err != nil {
				return err
			}
			defer func() { _ = file.Close() }()
			text, err := io.ReadAll(io.LimitReader(file, mostPageFile+1))
			if err != nil {
				return err
			}
			if len(text) > mostPageFile {
				return fmt.Errorf("%s is larger than %d bytes: write it as two pages", arguments[0], mostPageFile)
			}
			said, err := page.Read(string(text))
			if err != nil {
				return fmt.Errorf("%s: %w", arguments[0], err)
			}
			r, id, err := pageToWrite(c.Context(), of, said.Title)
			if err != nil {
				return err
			}
			method, path := "POST", "/pages"
			if id != 0 {
				method, path = "PUT", fmt.Sprintf("/pages/%d", id)
			}
			var made struct {
				named
				Charts  int `json:"charts_made"`
				Missing []string
			}
			raw, err := r.send(c.Context(), method, path, map[string]any{"markdown": string(text)}, &made)
			if err != nil {
				return fmt.Errorf("%s: %w", arguments[0], err)
			}
			for _, words := range made.Missing {
				fmt.Fprintf(os.Stderr, "%s: no reading says [[%s]]: it stands as plain words\n", arguments[0], words)
			}
			if id != 0 {
				fmt.Fprintf(os.Stderr, "page %d is written again, with %d new charts; how it was is under its earlier versions\n", id, made.Charts)
			}
			return answerWith(c, raw, "%d\t%s", made.ID, made.Address)
		},
	}
	command.Flags().StringVar(&of, "of", "", "the page that is written again, by its title or number; empty: the one of the same title")
	return command
}

// mostPageFile is how large a page's file may be.
const mostPageFile = 500_000

// pageToWrite gives the server, and the page that a file makes anew; 0: none has its title.
func pageToWrite(ctx context.Context, of, title string) (*remote, int64, error) {
	if of != "" {
		r, one, err := oneOf(ctx, "page", of)
		return r, one.ID, err
	}
	r, err := theServer()
	if err != nil {
		return nil, 0, err
	}
	list, err := r.all(ctx, "/pages")
	if err != nil {
		return nil, 0, err
	}
	id := int64(0)
	for _, one := range list {
		switch {
		case one.called() != title:
		case id != 0:
			return nil, 0, fmt.Errorf("several pages are called %q: say one by --of and its number", title)
		default:
			id = one.ID
		}
	}
	return r, id, nil
}
