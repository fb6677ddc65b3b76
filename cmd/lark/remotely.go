package main

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/url"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"copperlark/app"
)

// remoteCommands are those that speak with a server. All take --json.
func remoteCommands() []*cobra.Command {
	list := []*cobra.Command{loginCommand(), pushCommand(), listCommand(), prepareCommand(), chartCommand(), numbersCommand(), pageCommand(),
		pullCommand(), shareCommand()}
	for _, command := range list[1:] {
		command.Flags().Bool("json", false, "write what the server answers, as JSON")
	}
	return list
}

// answerWith writes the server's answer as it came, or words of it.
func answerWith(c *cobra.Command, raw []byte, words string, arguments ...any) error {
	if asJSON, _ := c.Flags().GetBool("json"); asJSON {
		_, err := os.Stdout.Write(append(raw, '\n'))
		return err
	}
	_, err := fmt.Printf(words+"\n", arguments...)
	return err
}

func loginCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "login ADDRESS",
		Short: "Keep a server and a key for the commands that speak with it; the key is read from LARK_KEY or standard input",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			r := &remote{Address: arguments[0], Key: os.Getenv("LARK_KEY")}
			if err := r.tidy(); err != nil {
				return err
			}
			if r.Key == "" {
				say("the key, made under People in the space:")
				line, err := bufio.NewReader(os.Stdin).ReadString('\n')
				if err != nil && !errors.Is(err, io.EOF) {
					return err
				}
				r.Key = strings.TrimSpace(line)
			}
			var hello struct {
				Space  string   `json:"space"`
				Key    string   `json:"key"`
				Scopes []string `json:"scopes"`
			}
			if _, err := r.get(c.Context(), "", &hello); err != nil {
				return err
			}
			file, err := savedLogin()
			if err != nil {
				return err
			}
			if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
				return err
			}
			text, err := json.Marshal(r)
			if err != nil {
				return err
			}
			if err := writeWhole(file, text); err != nil {
				return err
			}
			say("%s at %s, by the key “%s”: %s", hello.Space, r.Address, hello.Key, strings.Join(hello.Scopes, ", "))
			return nil
		},
	}
}

// input opens a file, or standard input for -.
func input(name string) (io.ReadCloser, error) {
	if name == "-" {
		return io.NopCloser(os.Stdin), nil
	}
	return os.Open(name)
}

func pushCommand() *cobra.Command {
	var name, of, key, format string
	var isAppend, isReplace bool
	command := &cobra.Command{
		Use:   "push FILE",
		Short: "Send a table: as a new dataset, or as the next version of one (--of with --append or --replace); - is standard input",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			if isAppend && isReplace || (isAppend || isReplace) != (of != "") || key != "" && !isAppend {
				return usage{errors.New("say --of DATASET with --append (and --key COLUMN,…) or with --replace, or none of them for a new dataset")}
			}
			r, err := theServer()
			if err != nil {
				return err
			}
			file, err := input(arguments[0])
			if err != nil {
				return err
			}
			defer func() { _ = file.Close() }()
			base := filepath.Base(arguments[0])
			if arguments[0] == "-" {
				base = "standard input." + format
			}
			query := url.Values{"file": {base}}
			method, path := "POST", "/datasets"
			if of == "" {
				if name != "" {
					query.Set("name", name)
				}
			} else {
				dataset, err := r.find(c.Context(), "dataset", of)
				if err != nil {
					return err
				}
				method, path = "PUT", fmt.Sprintf("/datasets/%d/rows", dataset.ID)
				query.Set("how", map[bool]string{true: "append", false: "replace"}[isAppend])
				if key != "" {
					query.Set("key", key)
				}
			}
			return push(c, r, method, path+"?"+query.Encode(), file)
		},
	}
	command.Flags().StringVar(&name, "name", "", "what the new dataset is called; empty: as the file is")
	command.Flags().StringVar(&of, "of", "", "the dataset, by its name or number")
	command.Flags().BoolVar(&isAppend, "append", false, "add the rows behind those of the dataset")
	command.Flags().BoolVar(&isReplace, "replace", false, "the file takes the place of the dataset's rows")
	command.Flags().
		StringVar(&key, "key", "", "with --append: columns, with commas, whose values tell rows apart; a row that is there is replaced")
	command.Flags().StringVar(&format, "format", "csv", "of standard input: csv, tsv, json, parquet, arrow …")
	return command
}

func push(c *cobra.Command, r *remote, method, path string, file io.Reader) error {
	answer, err := r.ask(c.Context(), method, path, "application/octet-stream", file)
	if err != nil {
		return err
	}
	var made struct {
		Dataset named
		Version struct {
			ID     int64
			Number int
			Rows   int
		}
		Rows, Added, Replaced int
		Report                struct {
			Notes []struct {
				Line            int
				Column, Message string
			}
		}
	}
	raw, err := read(answer, &made)
	if err != nil {
		return err
	}
	for _, note := range made.Report.Notes {
		fmt.Fprintf(os.Stderr, "the table%s: %s %s\n", ofLine(note.Line), note.Column, note.Message)
	}
	if method == "POST" {
		return answerWith(
			c,
			raw,
			"dataset %d, %s, version %d: %d rows",
			made.Dataset.ID,
			made.Dataset.Name,
			made.Dataset.VersionID,
			made.Dataset.Rows,
		)
	}
	return answerWith(c, raw, "version %d: %d rows, %d new, %d replaced; %d after the preparation", made.Version.ID, made.Rows, made.Added,
		made.Replaced, made.Version.Rows)
}

func listCommand() *cobra.Command {
	return &cobra.Command{
		Use:       "list datasets|charts|pages|shares",
		Short:     "List what there is, the newest first: number and name, with a tab between",
		Args:      cobra.MatchAll(cobra.ExactArgs(1), cobra.OnlyValidArgs),
		ValidArgs: []string{"datasets", "charts", "pages", "shares"},
		RunE: func(c *cobra.Command, arguments []string) error {
			r, err := theServer()
			if err != nil {
				return err
			}
			if asJSON, _ := c.Flags().GetBool("json"); asJSON {
				var part map[string]any
				raw, err := r.get(c.Context(), "/"+arguments[0]+"?limit=500", &part)
				if err != nil {
					return err
				}
				if part["next"] != nil {
					say("there are more than 500: the rest is not written")
				}
				return answerWith(c, raw, "")
			}
			all, err := r.all(c.Context(), "/"+arguments[0])
			if err != nil {
				return err
			}
			for _, one := range all {
				fmt.Printf("%d\t%s\n", one.ID, one.called())
			}
			return nil
		},
	}
}

// stated is the text of an argument: of a file, of standard input, or as it stands.
func stated(argument string) (string, error) {
	if argument == "-" {
		text, err := io.ReadAll(io.LimitReader(os.Stdin, 1<<20))
		return string(text), err
	}
	text, err := os.ReadFile(argument)
	if err == nil {
		return string(text), nil
	}
	if strings.ContainsAny(argument, " \n") { // a sentence, right or wrong, and no name of a file
		return argument, nil
	}
	return "", err
}

func prepareCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "prepare DATASET CLAUSES",
		Short: "Prepare a dataset by clauses, one a line, typed, in a file, or from -; they make its next version",
		Args:  cobra.ExactArgs(2),
		RunE: func(c *cobra.Command, arguments []string) error {
			r, dataset, typed, err := of(c.Context(), arguments[0], arguments[1])
			if err != nil {
				return err
			}
			var made struct {
				ID   int64
				Rows int
			}
			raw, err := r.send(c.Context(), "POST", fmt.Sprintf("/versions/%d/prepared", dataset.VersionID), map[string]any{"typed": typed}, &made)
			if err != nil {
				return err
			}
			return answerWith(c, raw, "version %d: %d rows", made.ID, made.Rows)
		},
	}
}

// of gives a server, a dataset of it, and what is said of that.
func of(ctx context.Context, called, said string) (*remote, named, string, error) {
	typed, err := stated(said)
	if err != nil {
		return nil, named{}, "", err
	}
	r, dataset, err := oneOf(ctx, "dataset", called)
	return r, dataset, typed, err
}

func chartCommand() *cobra.Command {
	var dataset, name string
	command := &cobra.Command{
		Use:   "chart SENTENCE --of DATASET",
		Short: "Make a chart of a dataset: of a sentence, of a file that holds it, or of -; its address is written",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			r, found, typed, err := of(c.Context(), dataset, arguments[0])
			if err != nil {
				return err
			}
			var made struct {
				ID                int64
				Address, Sentence string
			}
			raw, err := r.send(c.Context(), "POST", "/charts", map[string]any{"version": found.VersionID, "typed": typed, "name": name}, &made)
			if err != nil {
				return err
			}
			fmt.Fprintln(os.Stderr, made.Sentence)
			return answerWith(c, raw, "%d\t%s", made.ID, made.Address)
		},
	}
	command.Flags().StringVar(&dataset, "of", "", "the dataset, by its name or number")
	command.Flags().StringVar(&name, "name", "", "of the chart; empty: it follows the sentence")
	_ = command.MarkFlagRequired("of")
	return command
}

func numbersCommand() *cobra.Command {
	var dataset string
	command := &cobra.Command{
		Use:   "numbers CHART | numbers SENTENCE --of DATASET",
		Short: "Write every fit and every finding of a chart as numbers, in JSON",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			var raw []byte
			if dataset != "" {
				r, found, typed, err := of(c.Context(), dataset, arguments[0])
				if err != nil {
					return err
				}
				if raw, err = r.send(c.Context(), "POST", "/numbers", map[string]any{"version": found.VersionID, "typed": typed}, nil); err != nil {
					return err
				}
			} else {
				r, chart, err := oneOf(c.Context(), "chart", arguments[0])
				if err != nil {
					return err
				}
				if raw, err = r.get(c.Context(), fmt.Sprintf("/charts/%d/numbers", chart.ID), nil); err != nil {
					return err
				}
			}
			_, err := os.Stdout.Write(raw)
			return err
		},
	}
	command.Flags().StringVar(&dataset, "of", "", "the dataset of a sentence, by its name or number")
	return command
}

func pullCommand() *cobra.Command {
	var out, format, what string
	command := &cobra.Command{
		Use:     "pull NAME -o FILE",
		Aliases: []string{"picture"},
		Short:   "Take a chart as a picture or its rows, or with --what a dataset or a page; the ending of the file says the form",
		Args:    cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			if format == "" {
				format = strings.ToLower(strings.TrimPrefix(filepath.Ext(out), "."))
			}
			if format == "" {
				return usage{errors.New("say the form by the ending of --out, or with --format")}
			}
			r, one, err := oneOf(c.Context(), what, arguments[0])
			if err != nil {
				return err
			}
			path := fmt.Sprintf("/charts/%d.%s", one.ID, format)
			switch what {
			case "dataset":
				path = fmt.Sprintf("/versions/%d.%s", one.VersionID, format)
			case "page":
				path = fmt.Sprintf("/pages/%d.%s", one.ID, format)
			}
			answer, err := r.ask(c.Context(), "GET", path, "", nil)
			if err != nil {
				return err
			}
			defer func() { _ = answer.Body.Close() }()
			copied := func(w io.Writer) error { _, err := io.Copy(w, answer.Body); return err }
			if out == "-" {
				return copied(os.Stdout)
			}
			return writeFile(out, copied)
		},
	}
	command.Flags().StringVarP(&out, "out", "o", "-", "file to write; - is standard output, with --format")
	command.Flags().StringVar(&format, "format", "", "svg, png, pdf, json, csv, arrow, parquet, jsonl, of a page md; empty: as the file ends")
	command.Flags().StringVar(&what, "what", "chart", "what is called so: chart, dataset or page")
	completes(command, "what", "chart", "dataset", "page")
	completes(command, "format", "svg", "png", "pdf", "json", "csv", "arrow", "parquet", "jsonl", "md")
	return command
}

func shareCommand() *cobra.Command {
	var title, body, what string
	var live bool
	command := &cobra.Command{
		Use:   "share NAME",
		Short: "Share a chart, or with --what a page; the address where anybody reads it is written",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, arguments []string) error {
			if what == "page" && title+body != "" {
				return usage{errors.New("a page has its title and its text: say neither --title nor --text")}
			}
			r, one, err := oneOf(c.Context(), what, arguments[0])
			if err != nil {
				return err
			}
			said := map[string]any{"title": title, "text": body, "live": live}
			if what == "page" {
				said = map[string]any{"live": live}
			}
			var made named
			raw, err := r.send(c.Context(), "POST", fmt.Sprintf("/%ss/%d/share", what, one.ID), said, &made)
			if err != nil {
				return err
			}
			return answerWith(c, raw, "%s", made.Address)
		},
	}
	command.Flags().StringVar(&title, "title", "", "of a chart; empty: its name")
	command.Flags().StringVar(&body, "text", "", "of a chart: paragraphs under its title")
	command.Flags().StringVar(&what, "what", "chart", "what is called so: chart or page")
	command.Flags().BoolVar(&live, "live", false, "it follows what is kept; else it is a fixed copy")
	completes(command, "what", "chart", "page")
	return command
}

// explainCommand is the check without a server.
func explainCommand() *cobra.Command {
	var asJSON bool
	command := &cobra.Command{
		Use:   "explain TABLE SENTENCE",
		Short: "Say what else could explain what a sentence plots of a file of data, without a server",
		Args:  cobra.ExactArgs(2),
		RunE: func(c *cobra.Command, arguments []string) error {
			typed, err := stated(arguments[1])
			if err != nil {
				return err
			}
			t, err := readData(c.Context(), arguments[0])
			if err != nil {
				return err
			}
			numbers, err := app.NumbersOfTable(c.Context(), t, typed)
			if err != nil {
				return told(arguments[1], err)
			}
			if asJSON {
				return json.NewEncoder(os.Stdout).Encode(numbers)
			}
			if numbers.Check.Problem != "" {
				fmt.Println(numbers.Check.Problem)
			}
			for _, finding := range numbers.Check.Findings {
				name := finding.Column
				if finding.With != "" {
					name += " and " + finding.With
				}
				fmt.Printf("%s: %s. %s\n", name, finding.Verdict, finding.Words)
			}
			return nil
		},
	}
	command.Flags().BoolVar(&asJSON, "json", false, "write all of it as numbers: fits and findings")
	return command
}
