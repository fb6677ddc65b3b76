package app_test

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"io"
	"log/slog"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"copperlark/app"
	"copperlark/core/table"
	"copperlark/internal/test/databases"
	"copperlark/store"
)

func TestMain(m *testing.M) { databases.Main(m) }

var ctx = context.Background()

// migrated makes a database ready, once for all tests.
func migrated(url string) error {
	kept, err := store.Open(context.Background(), url)
	if err == nil {
		kept.Close()
	}
	return err
}

// program is the program over a database of its own, with somebody in it.
func program(t *testing.T) (*app.App, app.Person) {
	t.Helper()
	kept, err := store.Open(ctx, databases.Prepared(t, migrated))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(kept.Close)
	a := app.New(kept, app.Limits{FileBytes: 8 << 20}, time.Now, slog.New(slog.NewTextHandler(io.Discard, nil)))
	person, err := a.AddPerson(ctx, "anwen@thornwick.example", "Anwen", "correct horse", "Thornwick")
	if err != nil {
		t.Fatal(err)
	}
	return a, person
}

// bring keeps a table that stands in a text.
func bring(t *testing.T, a *app.App, person app.Person, name, text string) app.Dataset {
	t.Helper()
	preview, err := a.ReadFile(ctx, person, name+".csv", strings.NewReader(text))
	if err != nil {
		t.Fatal(err)
	}
	dataset, err := a.Keep(ctx, person, preview.Key, name)
	if err != nil {
		t.Fatal(err)
	}
	return dataset
}

// hives is a text with 400 rows, missing values and ties among them.
func hives() string {
	source := rand.New(rand.NewPCG(5, 5))
	var text strings.Builder
	text.WriteString("stand,district,kg,day\n")
	for i := range 400 {
		kg := fmt.Sprintf("%.1f", 20+10*source.NormFloat64())
		if source.IntN(9) == 0 {
			kg = ""
		}
		district := []string{"Tarn", "Low Fen", "Brindle", ""}[source.IntN(4)]
		fmt.Fprintf(&text, "S-%03d,%s,%s,2031-05-%02d\n", i, district, kg, 1+source.IntN(28))
	}
	return text.String()
}

// viewedSlowly looks at rows the plain way.
func viewedSlowly(t *table.Table, request app.ViewRequest) []int {
	var rows []int
	for row := range t.Rows() {
		held := request.Find == ""
		for _, c := range t.Columns() {
			held = held || strings.Contains(strings.ToLower(c.Value(row)), strings.ToLower(request.Find))
		}
		if held {
			rows = append(rows, row+1)
		}
	}
	if c := t.Column(request.Sort); c != nil {
		slices.SortStableFunc(rows, func(i, j int) int {
			a, b := c.Value(i-1), c.Value(j-1)
			if a == "" || b == "" {
				return cmp.Compare(len(b), len(a)) * map[bool]int{true: 1, false: 0}[a != b]
			}
			order := strings.Compare(a, b)
			if c.Kind == table.Number {
				order = cmp.Compare(c.Numbers[i-1], c.Numbers[j-1])
			}
			if request.Descending {
				order = -order
			}
			return order
		})
	}
	return rows
}

func TestViewsAgainstLookingThePlainWay(t *testing.T) {
	a, person := program(t)
	dataset := bring(t, a, person, "Hives", hives())
	data, _, err := a.Table(ctx, person.SpaceID, dataset.VersionID)
	if err != nil {
		t.Fatal(err)
	}
	for _, find := range []string{"", "tarn", "S-1", "2031-05-07", "19.", "nowhere", "low f"} {
		for _, column := range []string{"", "kg", "district", "day", "stand", "none such"} {
			for _, descending := range []bool{false, true} {
				request := app.ViewRequest{Find: find, Sort: column, Descending: descending, Count: 1000}
				view, err := a.View(ctx, person.SpaceID, dataset.VersionID, request)
				if err != nil {
					t.Fatal(err)
				}
				if want := viewedSlowly(data, request); !slices.Equal(view.Numbers, want) {
					t.Errorf("%+v: %v, want %v", request, view.Numbers, want)
				}
				request.From, request.Count = 3, 5
				part, err := a.View(ctx, person.SpaceID, dataset.VersionID, request)
				if err != nil || part.Rows != view.Rows || !slices.Equal(part.Numbers, view.Numbers[min(3, view.Rows):min(8, view.Rows)]) {
					t.Errorf("%+v: the part is %v, %v", request, part.Numbers, err)
				}
			}
		}
	}
}

// Rows that are left and rows that are left out are all rows, each once.
func TestLeftAndLeftOutAreAllRows(t *testing.T) {
	a, person := program(t)
	dataset := bring(t, a, person, "Hives", hives())
	for _, typed := range []string{"leave out missing kg", "keep kg > 20\nsort by kg\nkeep district <> 'Tarn'",
		"off keep kg > 20\ndrop duplicates of day", "keep top 2 district by count()", "keep kg > 1000"} {
		left, err := a.Prepare(ctx, person.SpaceID, dataset.VersionID, typed)
		if err != nil {
			t.Fatal(err)
		}
		gone, err := a.View(ctx, person.SpaceID, dataset.VersionID, app.ViewRequest{Typed: typed, Which: "left out", Count: 1000})
		if err != nil {
			t.Fatal(err)
		}
		if left.Rows+gone.Rows != dataset.Rows || left.LeftOut != gone.Rows {
			t.Errorf("%s: %d rows left, %d left out of %d", typed, left.Rows, gone.Rows, dataset.Rows)
		}
		if len(gone.Clauses) != len(gone.Numbers) || !slices.IsSorted(gone.Numbers) ||
			len(slices.Compact(slices.Clone(gone.Numbers))) != len(gone.Numbers) {
			t.Errorf("%s: rows left out %v", typed, gone.Numbers)
		}
	}
}

// The random look takes different rows, the same for the same seed.
func TestRandomRows(t *testing.T) {
	a, person := program(t)
	dataset := bring(t, a, person, "Hives", hives())
	look := func(seed uint64) []int {
		view, err := a.View(ctx, person.SpaceID, dataset.VersionID, app.ViewRequest{Which: "random", Seed: seed, Count: 1000})
		if err != nil || view.Rows != 100 || len(slices.Compact(slices.Clone(view.Numbers))) != 100 {
			t.Fatalf("%v, %d rows: %v", err, view.Rows, view.Numbers)
		}
		return view.Numbers
	}
	if !slices.Equal(look(1), look(1)) || slices.Equal(look(1), look(2)) {
		t.Error("the seed does not decide which rows are taken")
	}
}

// What a preparation makes comes back from storage as it was shown, whatever was
// tried before, and is made the same again from nothing.
func TestPreparationsAreTheSameTriedKeptAndMadeAgain(t *testing.T) {
	const typed = "leave out missing district\nwork out noise = normal(0, 1)\nwork out high = kg > 20\nfor each district, high: n = count(), m = mean(kg), q = quantile(noise, 0.25)\nsort by m descending"
	shown := func(a *app.App, person app.Person, version int64, typed string) [][]string {
		view, err := a.View(ctx, person.SpaceID, version, app.ViewRequest{Typed: typed, Count: 1000})
		if err != nil {
			t.Fatal(err)
		}
		return view.Values
	}
	var before [][]string
	for range 2 {
		a, person := program(t)
		dataset := bring(t, a, person, "Hives", hives())
		clauses := strings.Split(typed, "\n")
		for n := range clauses { // as somebody adds them one by one
			if _, err := a.Prepare(ctx, person.SpaceID, dataset.VersionID, strings.Join(clauses[:n+1], "\n")); err != nil {
				t.Fatal(err)
			}
		}
		tried := shown(a, person, dataset.VersionID, typed)
		version, err := a.KeepPreparation(ctx, person, dataset.VersionID, typed)
		if err != nil {
			t.Fatal(err)
		}
		if kept := shown(a, person, version.ID, ""); !slices.EqualFunc(kept, tried, slices.Equal) {
			t.Errorf("kept is\n%v\ntried was\n%v", kept, tried)
		}
		if before != nil && !slices.EqualFunc(before, tried, slices.Equal) {
			t.Errorf("made again it is\n%v\nand was\n%v", tried, before)
		}
		before = tried
	}
	if len(before) != 9 { // of three, whether they are fed is missing
		t.Errorf("%d rows: %v", len(before), before)
	}
}

func TestFormsOfDownloadHoldTheSameValues(t *testing.T) {
	nan := math.NaN()
	data, err := table.New(
		&table.Column{Name: "kg", Kind: table.Number, Numbers: []float64{1.5, nan, 1e-300}},
		&table.Column{Name: `odd "name", of a column`, Kind: table.Text, Codes: []int32{0, 1, -1},
			Levels: []string{"=HYPERLINK(\"x\")", "two\nlines"}},
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: []float64{0, nan, 86_400}},
	)
	if err != nil {
		t.Fatal(err)
	}
	var csv, lines bytes.Buffer
	if err := app.WriteCSV(ctx, &csv, data); err != nil {
		t.Fatal(err)
	}
	if err := app.WriteJSONLines(ctx, &lines, data); err != nil {
		t.Fatal(err)
	}
	const wantCSV = "kg,\"odd \"\"name\"\", of a column\",day\n1.5,\"'=HYPERLINK(\"\"x\"\")\",1970-01-01\n,\"two\nlines\",\n1e-300,,1970-01-02\n"
	const wantLines = `{"kg":1.5,"odd \"name\", of a column":"=HYPERLINK(\"x\")","day":"1970-01-01"}` + "\n" +
		`{"kg":null,"odd \"name\", of a column":"two\nlines","day":null}` + "\n" +
		`{"kg":1e-300,"odd \"name\", of a column":null,"day":"1970-01-02"}` + "\n"
	if csv.String() != wantCSV {
		t.Errorf("CSV:\n%s", csv.String())
	}
	if lines.String() != wantLines {
		t.Errorf("JSON lines:\n%s", lines.String())
	}
	stopped, stop := context.WithCancel(ctx)
	stop()
	for name, write := range map[string]func(context.Context, io.Writer, *table.Table) error{"CSV": app.WriteCSV,
		"JSON lines": app.WriteJSONLines} {
		if err := write(stopped, io.Discard, data); err == nil {
			t.Errorf("%s is not stopped", name)
		}
	}
}
