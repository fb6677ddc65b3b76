package page

import (
	"reflect"
	"strings"
	"testing"
)

const file = `# More forage, *more* honey

Hives near more forage
gave less honey.

## At first sight

It [[falls by]].

` + "```lark Hive seasons (below)\nplot honey_kg against forage_ha\nfit line\n```" + `

Words alone.

` + "```go\nx := `---`\n```" + `

---

` + "~~~lark chart 12 step 40\n~~~\n"

func TestAPageIsReadFromAFile(t *testing.T) {
	got, err := Read(file)
	if err != nil {
		t.Fatal(err)
	}
	want := &File{Title: "More forage, more honey", Lead: "Hives near more forage gave less honey.", Parts: []Part{
		{Text: "## At first sight\n\nIt [[falls by]].", Dataset: "Hive seasons", Typed: "plot honey_kg against forage_ha\nfit line",
			Place: "below", Line: 10},
		{Text: "Words alone.\n\n```go\nx := `---`\n```"},
		{Shown: &ShownChart{12, 40}, Line: 23},
	}}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("%+v", got)
	}
	for source, message := range map[string]string{
		"# T\n\n```lark\nplot a against b\n```": "line 3: the chart does not say which dataset",
		"```lark Hives\n```":                    "line 1: the chart says nothing",
		"a\n\n```lark Hives\nplot a":            "line 3: the chart that begins here has no end",
	} {
		if _, err := Read(source); err == nil || !strings.Contains(err.Error(), message) {
			t.Errorf("%q: %v", source, err)
		}
	}
	if empty, err := Read(""); err != nil || len(empty.Parts) != 0 {
		t.Errorf("nothing is %+v, %v", empty, err)
	}
}

// TestAPageComesBackFromItsFile writes pages as files and reads them again.
func TestAPageComesBackFromItsFile(t *testing.T) {
	d := &Contents{Version: Version, Title: "A *star* [x] # `y`", Lead: "1 < 2 & so on", Blocks: []Block{
		{ID: "a", Text: "One\n\n---\n\nstill one [falls](reading:k1)", Chart: &ShownChart{ID: 3}},
		{ID: "b", Text: "Two"}, {ID: "c", Text: "Three"},
		{ID: "d", Text: "Four", Chart: &ShownChart{ID: 4, Step: 7}, Place: "left"}, {ID: "e", Chart: &ShownChart{ID: 5}},
	}}
	written := d.Markdown(func(c ShownChart) (string, string, bool) { return "Hives (of the fen)", "plot a against b", c.ID != 5 })
	got, err := Read(written)
	if err != nil {
		t.Fatalf("%v\n%s", err, written)
	}
	if got.Title != d.Title || got.Lead != d.Lead || len(got.Parts) != len(d.Blocks) {
		t.Fatalf("%+v\n%s", got, written)
	}
	for i, p := range got.Parts {
		b := d.Blocks[i]
		if want := strings.ReplaceAll(b.Text, "---", "***"); p.Text != want || p.Place != b.Place {
			t.Errorf("block %d came as %+v", i, p)
		}
		if b.ID == "a" && (p.Dataset != "Hives (of the fen)" || p.Typed != "plot a against b") || b.ID == "d" && *p.Shown != *b.Chart {
			t.Errorf("block %d came as %+v", i, p)
		}
	}
}

func TestStatementsArePutIn(t *testing.T) {
	said := map[string]string{"k": "Yield falls by 7 kg.", "k.1": "falls by 7 kg"}
	if put, missing := PutIn("It [[falls by]], not [[rises]].", said); put != "It [falls by 7 kg](reading:k.1), not rises." ||
		!reflect.DeepEqual(missing, []string{"rises"}) {
		t.Errorf("%s %v", put, missing)
	}
}
