package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"syscall"

	"github.com/spf13/cobra"

	"copperlark/app"
	"copperlark/core/page"
	"copperlark/core/reader"
	"copperlark/core/sentence"
	"copperlark/demo"
	"copperlark/store"
)

const demoEmail = "anwen@thornwick.example"

// loadDemo makes the demo's owner, datasets and charts, once.
func loadDemo(ctx context.Context, kept *store.Store, a *app.App) (app.Person, error) {
	owner, _, err := kept.PersonByEmail(ctx, demoEmail)
	if !errors.Is(err, app.ErrNotFound) {
		return owner, err
	}
	say("loading the demo data")
	if owner, err = a.AddPerson(ctx, demoEmail, "Anwen Tarrow", "", "Thornwick apiaries"); err != nil {
		return owner, err
	}
	for i := len(demo.Datasets) - 1; i >= 0; i-- { // the first of the list is the newest
		if err := addDemo(ctx, a, owner, demo.Datasets[i], demo.Datasets[i].Write); err != nil {
			return owner, fmt.Errorf("%s: %w", demo.Datasets[i].Name, err)
		}
	}
	for _, told := range demo.Pages {
		if err := addDemoPage(ctx, a, owner, told); err != nil {
			return owner, fmt.Errorf("%s: %w", told.Title, err)
		}
	}
	return owner, nil
}

// addDemoPage makes a page of the demo, whose words from readings are tied to its charts.
func addDemoPage(ctx context.Context, a *app.App, owner app.Person, told demo.Page) error {
	charts, err := a.Charts(ctx, owner.SpaceID)
	if err != nil {
		return err
	}
	contents := &page.Contents{Version: page.Version, Title: told.Title, Lead: told.Lead, Blocks: []page.Block{}}
	for i, b := range told.Blocks {
		at := slices.IndexFunc(charts, func(c app.Chart) bool { return c.Name == b.Chart })
		if at < 0 {
			return fmt.Errorf("there is no chart %q", b.Chart)
		}
		shown := page.ShownChart{ID: charts[at].ID}
		picture, _, err := a.DrawStep(ctx, owner.SpaceID, app.Side{ShownChart: shown}, app.PartSize{})
		if err != nil {
			return err
		}
		text, missing := page.PutIn(b.Text, picture.Reading.Said())
		if missing != nil {
			return fmt.Errorf("no reading says %q", missing)
		}
		contents.Blocks = append(contents.Blocks, page.Block{ID: fmt.Sprintf("block-%d", i+1), Text: text, Chart: &shown})
	}
	_, err = a.AddPage(ctx, owner, contents)
	return err
}

func addDemo(ctx context.Context, a *app.App, owner app.Person, dataset demo.Dataset, write func(io.Writer) error) error {
	var file bytes.Buffer
	if err := write(&file); err != nil {
		return err
	}
	t, report, err := reader.Read(ctx, &file, reader.Options{})
	if err != nil {
		return err
	}
	if t, err = dataset.Describe(t); err != nil {
		return err
	}
	added, err := a.AddTable(
		ctx,
		app.NewDataset{
			SpaceID:  owner.SpaceID,
			PersonID: owner.ID,
			Name:     dataset.Name,
			About:    dataset.About,
			FileName: dataset.File,
			Table:    t,
			Report:   report,
		},
	)
	if err != nil {
		return err
	}
	if err := a.Describe(ctx, owner.SpaceID, added.ID, app.Description{OneRow: &dataset.OneRow}); err != nil {
		return err
	}
	for i := len(dataset.Charts) - 1; i >= 0; i-- {
		document, mistakes := sentence.Parse(dataset.Charts[i].Typed, t)
		if mistakes != nil {
			return mistakes[0]
		}
		if _, err := a.AddChart(ctx, owner, added.VersionID, dataset.Charts[i].Name, document); err != nil {
			return err
		}
	}
	return nil
}

func demoCommand() *cobra.Command {
	var large bool
	var out, data string
	var rows int
	command := &cobra.Command{
		Use:   "demo",
		Short: "Write the demo files, or add the large dataset to the demo space",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if large {
				return addLarge(c.Context(), data, rows)
			}
			for _, dataset := range demo.Datasets {
				if err := writeFile(out+"/"+dataset.File, dataset.Write); err != nil {
					return err
				}
			}
			return nil
		},
	}
	command.Flags().BoolVar(&large, "large", false, "add flight_minutes, 1,000,000 rows, to the demo space")
	command.Flags().IntVar(&rows, "rows", 1_000_000, "rows of the large dataset")
	command.Flags().StringVar(&out, "out", ".", "folder for the demo files")
	command.Flags().StringVar(&data, "data", "data", "folder of the program's own PostgreSQL")
	return command
}

// writeFile writes a file beside its place and puts it there when it is whole: what fails leaves an earlier
// file as it was. What is no file, such as a pipe, is written to as it is.
func writeFile(name string, write func(io.Writer) error) error {
	if about, err := os.Stat(name); err == nil && !about.Mode().IsRegular() {
		file, err := os.OpenFile(name, os.O_WRONLY, 0)
		if err != nil {
			return err
		}
		return errors.Join(write(file), file.Close())
	}
	place := name
	if led, err := filepath.EvalSymlinks(name); err == nil {
		place = led
	}
	file, err := os.CreateTemp(filepath.Dir(place), "."+filepath.Base(place)+".*")
	if err != nil {
		return err
	}
	defer func() { _ = os.Remove(file.Name()) }() // is gone already where all went well
	if err := errors.Join(write(file), file.Chmod(modeOf(place)), file.Close()); err != nil {
		return err
	}
	return os.Rename(file.Name(), place)
}

// modeOf is who may do what with a file that takes the place of another, or is new.
func modeOf(name string) os.FileMode {
	if about, err := os.Stat(name); err == nil {
		return about.Mode().Perm()
	}
	mask := syscall.Umask(0)
	syscall.Umask(mask)
	return 0o666 &^ os.FileMode(mask)
}

func addLarge(ctx context.Context, data string, rows int) error {
	s, err := settingsFor(data)
	if err != nil {
		return err
	}
	kept, a, closeAll, err := open(ctx, s, false, slog.Default())
	if err != nil {
		return err
	}
	defer closeAll()
	owner, err := loadDemo(ctx, kept, a)
	if err != nil {
		return err
	}
	dataset := demo.Dataset{Name: "Flight minutes", File: "flight_minutes.csv",
		About: "Bees leaving and coming back, counted each minute at the hive's gate, with the weather. Made up.",
		Meanings: map[string]demo.Meaning{
			"moment":    {Label: "Moment", Meaning: "Minute of the count"},
			"temp_c":    {Label: "Temperature", Unit: "°C"},
			"light_lux": {Label: "Light", Unit: "lux"},
			"wind_ms": {
				Label: "Wind",
				Unit:  "m/s",
			},
			"departures": {Label: "Departures", Unit: "per minute"},
			"returns":    {Label: "Returns", Unit: "per minute"},
		},
		Charts: []demo.Chart{
			{Name: "Light and departures", Typed: "plot departures against light_lux\nlog x\ncolour by temp_c\nfit line\n"},
		}}
	if err := addDemo(ctx, a, owner, dataset, func(w io.Writer) error { return demo.FlightMinutes(w, rows) }); err != nil {
		return err
	}
	fmt.Printf("Flight minutes: %d rows added to %s\n", rows, owner.SpaceName)
	return nil
}

// settingsFor are the settings of a command that works beside the running program.
func settingsFor(data string) (*settings, error) {
	s := &settings{data: data}
	return s, s.read(os.LookupEnv)
}
