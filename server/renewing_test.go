package server

import (
	"fmt"
	"strings"
	"testing"
)

// read uploads a file and leaves it waiting.
func (v *visitor) read(name, content string) (key string) {
	v.t.Helper()
	answer := want[object](v, 200, "POST", "/api/uploads?name="+name, content)
	return answer["key"].(string)
}

func TestADraftIsOnesOwnUntilItIsKept(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.bring()
	draft, version := fmt.Sprintf("/api/datasets/%d/draft", number(dataset, "id")), number(dataset, "version_id")
	said := func() string { return want[object](anwen, 200, "GET", draft, nil)["typed"].(string) }
	if got := said(); got != "" {
		t.Errorf("a draft before anything was tried: %q", got)
	}
	for _, typed := range []string{"keep kg > 1\nsort by", "keep kg > 1", "off keep kg > 1\nsort by kg"} { // also what is not right yet
		want[object](anwen, 204, "PUT", draft, object{"typed": typed})
		if got := said(); got != typed+"\n" {
			t.Errorf("the draft is %q, kept was %q", got, typed)
		}
	}
	want[object](bram, 404, "GET", draft, nil)
	want[object](bram, 404, "PUT", draft, object{"typed": "sort by kg"})
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", version), object{"typed": "sort by kg"})
	if got := said(); got != "" {
		t.Errorf("after keeping, the draft is %q", got)
	}
	want[object](anwen, 204, "PUT", draft, object{"typed": "sort by kg"})
	want[object](anwen, 204, "PUT", draft, object{"typed": " \n"})
	if got := said(); got != "" {
		t.Errorf("after dropping, the draft is %q", got)
	}
}

func TestANewFileIsReadAndPreparedAsTheLast(t *testing.T) {
	anwen, bram, _ := world(t)
	first := "place;kg;lost\nTarn;1,5;a\nTarn;2,5;b\nBrindle;3,5;c\n"
	key := anwen.read("first.csv", first)
	want[object](anwen, 200, "PUT", "/api/uploads/"+key, object{"as": object{"kg": "number"}})
	dataset := want[object](anwen, 200, "POST", "/api/uploads/"+key+"/keep", object{"name": "Places"})
	id, version := number(dataset, "id"), number(dataset, "version_id")
	prepared := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", version),
		object{"typed": "keep kg > 2\nwork out pounds = kg * 2"})
	want[object](anwen, 200, "POST", "/api/charts", object{"version_id": number(prepared, "id"),
		"document": plotted("pounds", "place", object{"colour": "lost"})})

	key = anwen.read("second.csv", "place;kg;found\nTarn;2,5;x\nBrindle;3,5;y\nBrindle;n/a;y\nAshcombe;4;y\n")
	at := fmt.Sprintf("/api/datasets/%d/files/%s", id, key)
	if answer := bram.send("POST", at, object{}); answer.Code != 404 {
		t.Errorf("another space's file and dataset: %d", answer.Code)
	}
	renewal := want[object](anwen, 200, "POST", at, object{})
	difference := renewal["difference"].(object)
	if got := fmt.Sprint(renewal["before"], renewal["version"], renewal["rows"], difference["rows_before"], difference["rows_after"],
		difference["rows_same"], difference["new"], difference["gone"], difference["changed"],
		renewal["mistake"]); got != "first.csv3 3 3 4 2 [found] [lost] [] <nil>" {
		t.Errorf("the difference: %s", got)
	}
	if misfits := fmt.Sprint(renewal["misfits"]); !strings.Contains(misfits, "Pounds against place, by lost") ||
		!strings.Contains(misfits, "no column lost") {
		t.Errorf("misfits: %s", misfits)
	}
	kept := want[object](anwen, 200, "POST", at+"/keep", object{})
	if number(kept, "number") != 4 || number(kept, "rows") != 3 {
		t.Errorf("kept: %v", kept)
	}
	if answer := anwen.send("POST", at+"/keep", object{}); answer.Code != 404 {
		t.Errorf("the file still waits: %d", answer.Code)
	}
	// A preparation that the next file does not suit waits as a draft.
	key = anwen.read("third.csv", "place;weight\nTarn;2,5\n")
	at = fmt.Sprintf("/api/datasets/%d/files/%s", id, key)
	renewal = want[object](anwen, 200, "POST", at, object{})
	if mistake := renewal["mistake"]; mistake == nil || !strings.Contains(fmt.Sprint(mistake), "no column kg") ||
		number(renewal, "rows") != 1 {
		t.Errorf("the mistake: %v; %v rows", mistake, renewal["rows"])
	}
	if misfits := fmt.Sprint(renewal["misfits"]); !strings.Contains(misfits, "no column pounds") {
		t.Errorf("without the preparation, misfits are %s", misfits)
	}
	if kept := want[object](anwen, 200, "POST", at+"/keep", object{}); number(kept, "number") != 5 || number(kept, "rows") != 1 ||
		!strings.Contains(fmt.Sprint(kept["dropped"]), "no column kg") {
		t.Errorf("kept: %v", kept)
	}
	if draft := want[object](anwen, 200, "GET", fmt.Sprintf("/api/datasets/%d/draft", id),
		nil); draft["typed"] != "keep kg > 2\nwork out pounds = kg * 2\n" {
		t.Errorf("the draft: %v", draft)
	}
}

// TestAChartMovesToColumnsCalledOtherwise also walks back to the chart as it was.
func TestAChartMovesToColumnsCalledOtherwise(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.bring()
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": dataset["version_id"],
		"document": plotted("kg", "district", object{"where": "kg > 0 and district <> 'kg'"})})
	version := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", number(dataset, "version_id")),
		object{"typed": "for each district: mean_kg = mean(kg)"})
	at, move := fmt.Sprintf("/api/charts/%d", number(chart, "id")), object{"version_id": version["id"]}
	refused := want[object](anwen, 422, "PATCH", at, move)
	if fmt.Sprint(refused["missing"]) != "[kg]" {
		t.Errorf("refused: %v", refused)
	}
	move["columns"] = object{"kg": "mean kilos"}
	want[object](anwen, 422, "PATCH", at, move)
	move["columns"], move["name"] = object{"kg": "mean_kg"}, "Kilos anew" // one change: all of it or nothing
	want[object](bram, 404, "PATCH", at, move)
	want[object](anwen, 204, "PATCH", at, move)
	moved := want[object](anwen, 200, "GET", at, nil)
	document := moved["document"].(object)
	if moved["version_id"] != version["id"] || moved["name"] != "Kilos anew" || fmt.Sprint(document["y"]) != "map[column:mean_kg]" ||
		document["rows"].(object)["where"] != `"mean_kg" > 0 and district <> 'kg'` {
		t.Errorf("moved: %v", moved)
	}
	if steps := moved["steps"].([]any); len(steps) != 2 || steps[1].(object)["words"] != "columns named anew" {
		t.Errorf("steps: %v", steps)
	}
	if figure := anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", number(version, "id")),
		object{"document": document}); figure.Code != 200 {
		t.Errorf("its figure: %d %s", figure.Code, figure.Body)
	}
}
