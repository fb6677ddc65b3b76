package server

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"copperlark/app"
)

// TestASpaceKeepsAnOwner holds that the last owner neither leaves nor becomes something else, of two who go at once either.
func TestASpaceKeepsAnOwner(t *testing.T) {
	anwen, _, nobody := world(t)
	id := number(want[object](anwen, 200, "GET", "/api/me", nil), "id")
	want[object](anwen, 409, "POST", "/api/space/leave", nil)
	want[object](anwen, 409, "PATCH", fmt.Sprintf("/api/people/%d", id), object{"role": "reader"})
	want[object](anwen, 409, "DELETE", fmt.Sprintf("/api/people/%d", id), nil)
	anwen.space = number(want[object](anwen, 200, "GET", "/api/me", nil), "space_id")
	for round := range 5 {
		other := nobody.come(fmt.Sprintf("owner%d", round), anwensSpace, app.Owner)
		other.space = anwen.space
		var both sync.WaitGroup
		var codes [2]int
		for i, who := range []*visitor{anwen, other} {
			both.Add(1)
			go func() { defer both.Done(); codes[i] = who.send("POST", "/api/space/leave", nil).Code }()
		}
		both.Wait()
		if slices.Sort(codes[:]); codes != [2]int{204, 409} {
			t.Fatalf("two owners leave at once: %v", codes)
		}
		if want[object](anwen, 200, "GET", "/api/me", nil)["role"] == "" {
			anwen = other
		}
	}
}

// TestWhoIsTakenOutLeavesWhatTheyMade holds that charts stay, and that the removal holds for the next request.
func TestWhoIsTakenOutLeavesWhatTheyMade(t *testing.T) {
	anwen, _, nobody := world(t)
	mab := nobody.come("mab", anwensSpace, app.Maker)
	dataset := mab.bring()
	want[object](mab, 200, "POST", "/api/charts", object{"version_id": dataset["version_id"], "document": plotted("kg", "district", nil)})
	id := number(want[object](mab, 200, "GET", "/api/me", nil), "id")
	want[object](anwen, 204, "PATCH", fmt.Sprintf("/api/people/%d", id), object{"role": "reader"})
	want[object](mab, 403, "DELETE", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/people/%d", id), nil)
	want[object](mab, 404, "GET", "/api/datasets", nil)
	if charts := want[[]object](anwen, 200, "GET", "/api/charts", nil); len(charts) != 1 {
		t.Errorf("%d charts stay", len(charts))
	}
	want[object](anwen, 404, "DELETE", fmt.Sprintf("/api/people/%d", id), nil)
}

// TestReadersAreNotToldAddresses searches what a reader is told of the people for what is the owners'.
func TestReadersAreNotToldAddresses(t *testing.T) {
	anwen, _, nobody := world(t)
	rhys := nobody.come("rhys", anwensSpace, app.Reader)
	if told := rhys.send("GET", "/api/people", nil).Body.String(); strings.Contains(told, "@") || !strings.Contains(told, `"role":"owner"`) {
		t.Errorf("a reader is told %s", told)
	}
	if told := anwen.send("GET", "/api/people", nil).Body.String(); !strings.Contains(told, "rhys@thornwick.example") {
		t.Errorf("an owner is told %s", told)
	}
}

type letters struct{ sent chan string }

func (l letters) Send(_ context.Context, to, _, text string) error {
	l.sent <- to + "\n" + text
	return nil
}

// TestTheAuditIsFilteredAndTaken holds its filters, and that its file cannot run in a spreadsheet.
func TestTheAuditIsFilteredAndTaken(t *testing.T) {
	anwen, _, nobody := world(t)
	nobody.come("=cmd", anwensSpace, app.Maker)
	look := func(query string) (did []string) {
		for _, entry := range want[auditPage](anwen, 200, "GET", "/api/audit?"+query, nil).Entries {
			did = append(did, entry["did"].(string))
		}
		return did
	}
	if did := look("about=people&who=CMD"); !slices.Equal(did, []string{"came in"}) {
		t.Errorf("of people: %q", did)
	}
	if did := look("about=signing+in&who=somebody"); !slices.Equal(did, []string{"signed in", "made a sign-in link for"}) {
		t.Errorf("of signing in: %q", did)
	}
	if did := look("to=2001-01-01T00:00:00Z"); len(did) != 0 {
		t.Errorf("of long ago: %q", did)
	}
	want[object](anwen, 422, "GET", "/api/audit?about=everything", nil)
	file := anwen.send("GET", "/api/audit.csv?about=people", nil).Body.String()
	if !strings.HasPrefix(file, "when,who,did,what,from\n") || !strings.Contains(file, ",'=cmd,came in,") {
		t.Errorf("the file is %s", file)
	}
	anwen.app.Reach(app.Outside{AuditTime: time.Microsecond})
	if err := anwen.app.Tidy(t.Context()); err != nil || len(look("")) != 0 {
		t.Errorf("entries that are too old stay: %v", err)
	}
}

// TestASpaceLeavesInAWeek holds that deleting waits, can be taken back, and then takes everything.
func TestASpaceLeavesInAWeek(t *testing.T) {
	anwen, bram, _ := world(t)
	anwen.bring()
	change := func(leaves bool) { want[object](anwen, 204, "PATCH", "/api/space", object{"leaves": leaves}) }
	change(true)
	at, err := time.Parse(time.RFC3339, fmt.Sprint(want[object](anwen, 200, "GET", "/api/me", nil)["leaves_at"]))
	if wait := time.Until(at); err != nil || wait < 6*24*time.Hour || wait > 8*24*time.Hour {
		t.Errorf("it leaves in %v, %v", wait, err)
	}
	change(false)
	if said := want[object](anwen, 200, "GET", "/api/me", nil); said["leaves_at"] != nil {
		t.Errorf("it was kept, and leaves %v", said["leaves_at"])
	}
	change(true)
	if err := anwen.app.Tidy(t.Context()); err != nil || len(want[[]object](anwen, 200, "GET", "/api/datasets", nil)) != 1 {
		t.Errorf("it left before its time: %v", err)
	}
	past := time.Now().Add(-time.Minute)
	id := number(want[object](anwen, 200, "GET", "/api/me", nil), "space_id")
	if err := anwen.kept.ChangeSpace(t.Context(), id, app.SpaceChange{LeavesAt: &past}); err != nil {
		t.Fatal(err)
	}
	if err := anwen.app.Tidy(t.Context()); err != nil {
		t.Fatal(err)
	}
	want[object](anwen, 404, "GET", "/api/datasets", nil)
	want[[]object](bram, 200, "GET", "/api/datasets", nil)
}

// TestASpaceIsTakenAndBrought takes a space out and brings it to somebody else: figures and trails are the same, and what is of
// the server it came from stands in no byte.
func TestASpaceIsTakenAndBrought(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.bring()
	want[object](
		anwen,
		204,
		"PUT",
		fmt.Sprintf("/api/datasets/%d/meanings", number(dataset, "id")),
		object{"column": "kg", "label": "Honey", "unit": "kg"},
	)
	prepared := want[object](
		anwen,
		200,
		"POST",
		fmt.Sprintf("/api/versions/%d/prepared", number(dataset, "version_id")),
		object{"typed": "keep kg > 2"},
	)
	chart := want[object](
		anwen,
		200,
		"POST",
		"/api/charts",
		object{"version_id": prepared["id"], "document": plotted("kg", "district", nil), "name": "Kept"},
	)
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/charts/%d/steps", number(chart, "id")),
		object{"parent_id": chart["head_step_id"], "document": plotted("kg", "district", object{"size": "kg"})})
	want[object](
		anwen,
		200,
		"POST",
		"/api/shares",
		object{"version_id": prepared["id"], "document": plotted("kg", "district", nil), "title": "A planted title"},
	)
	want[object](anwen, 200, "POST", "/api/datasets", object{"name": "Made", "typed": "make 3 rows\nwork out x = row"}) // of nothing
	want[object](anwen, 200, "POST", "/api/pages", object{"contents": object{"version": 1, "title": "Told", "blocks": []object{
		{"id": "a", "text": "As it was", "chart": object{"id": chart["id"], "step": chart["head_step_id"]}}}}})
	want[object](anwen, 200, "POST", "/api/patterns", object{"name": "Kept pattern", "chart_id": chart["id"]})
	want[object](anwen, 200, "POST", "/api/looks", object{"name": "Kept look",
		"document": plotted("kg", "district", object{"grid": "off"})})
	want[object](anwen, 200, "POST", "/api/comparisons", object{"name": "Kept comparison", "sides": object{"a": chart["id"],
		"a_step": chart["head_step_id"], "a_version": 0, "b": chart["id"], "b_step": 0, "b_version": prepared["id"]}})
	anwen.noted(object{"chart_id": chart["id"]}, object{"kind": "whole"}, "A planted note")
	file := anwen.send("GET", "/api/space/file", nil)
	for _, planted := range []string{"Somebody", "argon2", "A planted title", "A planted note"} {
		if strings.Contains(unzipped(t, file.Body.Bytes()), planted) {
			t.Errorf("the file holds %q", planted)
		}
	}
	brought := want[object](bram, 200, "POST", "/api/spaces/file", file.Body.String())
	bram.space = number(brought, "id")
	if brought["name"] != anwensSpace || brought["role"] != "owner" {
		t.Errorf("brought: %v", brought)
	}
	of := func(v *visitor) (figure string, words []any) {
		kept := want[[]object](v, 200, "GET", "/api/charts", nil)[0]
		whole := want[object](v, 200, "GET", fmt.Sprintf("/api/charts/%d", number(kept, "id")), nil)
		for _, step := range whole["steps"].([]any) {
			words = append(words, step.(map[string]any)["words"])
		}
		drawn := v.send(
			"POST",
			fmt.Sprintf("/api/versions/%d/drawing", number(kept, "version_id")),
			object{"document": kept["document"], "format": "svg"},
		)
		return drawn.Body.String(), append(words, kept["name"], kept["named"])
	}
	told := want[[]object](bram, 200, "GET", "/api/pages", nil)
	if shown := told[0]["charts"].([]any)[0].(object); told[0]["title"] != "Told" || number(shown, "id") == number(chart, "id") ||
		bram.send("GET", fmt.Sprintf("/api/charts/%d/steps/%d/figure", number(shown, "id"), number(shown, "step")), nil).Code != 200 {
		t.Errorf("the page came as %v", told)
	}
	again := ""
	for _, path := range []string{"/api/patterns", "/api/looks", "/api/comparisons"} {
		for _, one := range want[[]object](bram, 200, "GET", path, nil) {
			again += fmt.Sprint(one["name"], "; ")
		}
	}
	compared := want[[]app.KeptComparison](bram, 200, "GET", "/api/comparisons", nil)
	if again != "Kept pattern; Kept look; Kept comparison; " || compared[0].Sides.A == number(chart, "id") ||
		compared[0].Sides.BVersion == number(prepared, "id") || compared[0].Sides.BStep == 0 {
		t.Errorf("what is used again came as %s%+v", again, compared)
	}
	here, trail := of(anwen)
	there, brang := of(bram)
	if here != there || !strings.Contains(here, "Honey") || !slices.Equal(trail, brang) || len(trail) != 4 {
		t.Errorf("the chart came otherwise: %v, %v, %d and %d letters", trail, brang, len(here), len(there))
	}
	datasets := want[[]object](bram, 200, "GET", "/api/datasets", nil)
	slices.SortFunc(datasets, func(a, b object) int { return strings.Compare(a["name"].(string), b["name"].(string)) })
	if len(datasets) != 2 || number(datasets[0], "rows") != 3 {
		t.Fatalf("datasets: %v", datasets)
	}
	versions := want[[]object](bram, 200, "GET", fmt.Sprintf("/api/datasets/%d/versions", number(datasets[1], "id")), nil)
	if len(versions) != 2 || number(versions[0], "prepared_from") != number(versions[1], "id") {
		t.Errorf("versions: %v", versions)
	}
}

func unzipped(t *testing.T, file []byte) string {
	t.Helper()
	in, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	if err != nil {
		t.Fatal(err)
	}
	var all strings.Builder
	for _, one := range in.File {
		content, err := one.Open()
		if err != nil {
			t.Fatal(err)
		}
		if _, err := io.Copy(&all, content); err != nil {
			t.Fatal(err)
		}
	}
	return all.String()
}

// TestASpaceThatIsNone brings what is no space, or one that lies: each is refused in words, and leaves nothing behind.
func TestASpaceThatIsNone(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.bring()
	want[object](anwen, 200, "POST", "/api/charts", object{"version_id": dataset["version_id"], "document": plotted("kg", "district", nil)})
	good := anwen.send("GET", "/api/space/file", nil).Body.Bytes()
	replaced := func(name string, change func(string) string) string {
		in, _ := zip.NewReader(bytes.NewReader(good), int64(len(good)))
		var file bytes.Buffer
		out := zip.NewWriter(&file)
		for _, one := range in.File {
			content, _ := one.Open()
			text, _ := io.ReadAll(content)
			if one.Name == name || name == "columns" && strings.HasPrefix(one.Name, name) {
				text = []byte(change(string(text)))
			}
			to, _ := out.Create(one.Name)
			_, _ = to.Write(text)
		}
		_ = out.Close()
		return file.String()
	}
	swap := func(from, to string) func(string) string {
		return func(text string) string {
			if !strings.Contains(text, from) {
				t.Errorf("%q does not stand in the file", from)
			}
			return strings.ReplaceAll(text, from, to)
		}
	}
	empty := func(string) string { return "" }
	for name, file := range map[string]string{
		"nothing":             "",
		"a table":             oddFile,
		"another format":      replaced("space.json", swap("copper-lark-space", "something")),
		"a newer program":     replaced("space.json", swap(`"version":1`, `"version":99`)),
		"no name":             replaced("space.json", swap(anwensSpace, "")),
		"broken lists":        replaced("datasets.json", func(text string) string { return text[:len(text)/2] }),
		"no versions":         replaced("datasets.json", swap(`"versions":[{`, `"versions":[],"v":[{`)),
		"more rows":           replaced("datasets.json", swap(`"rows":4`, `"rows":5`)),
		"too many rows":       replaced("datasets.json", swap(`"rows":4`, `"rows":2000000000`)),
		"a kind there is not": replaced("datasets.json", swap(`"kind":"category"`, `"kind":"mood"`)),
		"numbers as groups":   replaced("datasets.json", swap(`"kind":"number"`, `"kind":"category"`)),
		"a chart of nothing":  replaced("charts.json", swap(`"version_id":`, `"version_id":9`)),
		"a broken trail":      replaced("charts.json", swap(`"words":`, `"parent":77,"words":`)),
		"no columns":          replaced("columns", empty),
		"columns of noise":    replaced("columns", func(string) string { return "noise" }),
	} {
		answer := bram.send("POST", "/api/spaces/file", file)
		if answer.Code != 422 || !strings.Contains(answer.Body.String(), "no space that this program can read") {
			t.Errorf("%s: %d %s", name, answer.Code, answer.Body)
		}
	}
	if places := want[object](bram, 200, "GET", "/api/me", nil)["spaces"].([]any); len(places) != 1 {
		t.Errorf("bram is in %d spaces", len(places))
	}
}
