package server

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
)

// TestDocumentsOfVersionOnePassTheSameDoor keeps a step as an older program said it.
func TestDocumentsOfVersionOnePassTheSameDoor(t *testing.T) {
	anwen, _, _ := world(t)
	version := number(anwen.bring(), "version_id")
	first := object{"version": 1, "y": "kg", "x": "kg", "log_x": true, "fits": []object{{"kind": "line", "overall": true}},
		"x_axis": object{"title": "Frames"}}
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version, "document": first})
	steps := want[object](anwen, 200, "GET", fmt.Sprintf("/api/charts/%d", number(chart, "id")), nil)["steps"].([]any)
	step := number(steps[0].(object), "id")
	document := want[object](anwen, 200, "GET", fmt.Sprintf("/api/charts/%d/steps/%d", number(chart, "id"), step), nil)["document"].(object)
	if x, layers := document["x"].(object)["column"], document["layers"].([]any); number(document, "version") != 3 || x != "kg" ||
		len(layers) != 1 {
		t.Errorf("it is kept as %v", document)
	}
	if scale := document["scales"].(object)["x"].(object); scale["scale"] != "log" || scale["title"] != "Frames" {
		t.Errorf("its scale is kept as %v", scale)
	}
	want[object](anwen, 422, "POST", "/api/charts", object{"version_id": version, "document": object{"version": 1, "y": 7, "x": "frames"}})
}

// TestWhatCouldExplainItIsToldAndTakenOut asks as the page does, with a column taken out and
// without, and holds that charts of taken out columns are kept, drawn and refused in words.
func TestWhatCouldExplainItIsToldAndTakenOut(t *testing.T) {
	anwen, bram, _ := world(t)
	var file strings.Builder
	file.WriteString("ha,kg,district,twice\n")
	for i := range 120 {
		g, u := i%3, float64(i/3)/10
		fmt.Fprintf(&file, "%.2f,%.2f,%s,%.2f\n", 3*float64(g)+u, 60-9*float64(g)+2*u+float64(i*i%7)/5, []string{"Tarn", "Fen", "Brindle"}[g],
			6*float64(g)+2*u)
	}
	preview := want[object](anwen, 200, "POST", "/api/uploads?name=x.csv", file.String())
	dataset := want[object](anwen, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{"name": "Turned"})
	version := number(dataset, "version_id")
	path := fmt.Sprintf("/api/versions/%d/explanations", version)
	found := want[object](anwen, 200, "POST", path, object{"document": plotted("kg", "ha", nil)})
	findings := found["findings"].([]any)
	if first := findings[0].(object); first["column"] != "district" || first["verdict"] != "reverses" || number(found, "tried") != 2 {
		t.Errorf("found: %v", found)
	}
	if last := findings[len(findings)-1].(object); last["verdict"] != "too alike" {
		t.Errorf("a copy of x: %v", last)
	}
	// Five pairs.
	for _, pair := range [][2]string{
		{"kg", "ha"}, {"ha", "kg"}, {"kg", "twice"}, {"ha", "twice"}, {"kg", "district"}, {"twice", "district"}, {"twice", "kg"},
	} {
		want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version, "document": plotted(pair[0], pair[1], nil)})
	}
	if again := want[object](anwen, 200, "POST", path, object{"document": plotted("kg", "ha", nil)}); found["looked"] != nil ||
		!strings.Contains(fmt.Sprint(again["looked"]), "looked at 5 relations") {
		t.Errorf("before: %v, after seven charts of five pairs: %v", found["looked"], again["looked"])
	}
	if first := want[object](anwen, 200, "POST", path, object{"document": plotted("kg", "ha",
		object{"also_y": []string{"twice"}})}); !strings.HasPrefix(fmt.Sprint(first["told"]), "This is of kg, the first of the columns. ") {
		t.Errorf("of several columns is told %v", first["told"])
	}
	out := plotted("kg", "ha", object{"take_out": "district"})
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version, "document": out})
	if !strings.Contains(fmt.Sprint(chart["name"]), "kg against ha") {
		t.Errorf("it is called %v", chart["name"])
	}
	drawn := anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", version),
		object{"typed": "plot kg against ha\ntake out district\nfit line"}).Body.String()
	for _, words := range []string{"with district taken out", "rises", "take out district"} {
		if !strings.Contains(drawn, words) {
			t.Errorf("the figure does not say %q", words)
		}
	}
	for _, wrong := range []string{"kg", "nobody"} {
		want[object](anwen, 422, "POST", "/api/charts", object{"version_id": version, "document": plotted("kg", "ha", object{"take_out": wrong})})
	}
	want[object](bram, 404, "POST", path, object{"document": out})
	behind := fmt.Sprintf("/api/versions/%d/evidence", version)
	plain, taken := object{"document": plotted("kg", "ha", nil), "column": "district"}, object{"document": out, "column": "district"}
	one, other := anwen.send("POST", behind, plain).Body.String(), anwen.send("POST", behind, taken).Body.String()
	if one != other || !strings.Contains(one, "so their line wins") || strings.Count(one, `"role":"group"`) != 3 {
		t.Errorf("the evidence is %s, and with it taken out %s", one, other)
	}
	held := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/holds", version), object{"document": plotted("kg", "ha", nil)})
	if said := fmt.Sprint(held["words"]); len(held["rows"].([]any)) < 9 || !strings.Contains(said, "goes the other way") ||
		!strings.Contains(said, "district held fixed") {
		t.Errorf("whether it holds: %v", held)
	}
	if grouped := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/holds", version),
		object{"document": plotted("kg", "district", nil)}); !strings.Contains(fmt.Sprint(grouped["words"]), "share of Tarn") ||
		strings.Contains(fmt.Sprint(grouped["rows"]), "half of share") {
		t.Errorf("groups along x: %v", grouped)
	}
	want[object](bram, 404, "POST", fmt.Sprintf("/api/versions/%d/holds", version), object{"document": out})
	together := fmt.Sprintf("/api/versions/%d/pairs", version)
	for body, words := range map[string][]string{`{}`: {`"by":"district"`, `"turns":true`, `inside groups of district`, `"rows":120`},
		`{"by":"none","columns":["kg","ha"],"rows":50}`: {`"by":"none"`, `"rows":50`, `"ranked":[0]`},
		`{"columns":["nobody"]}`:                        {`"pairs":[]`}} {
		var asked object
		if err := json.Unmarshal([]byte(body), &asked); err != nil {
			t.Fatal(err)
		}
		answer := anwen.send("POST", together, asked)
		for _, part := range words {
			if answer.Code != 200 || !strings.HasPrefix(answer.Body.String(), "LARKFIG1") || !strings.Contains(answer.Body.String(), part) {
				t.Errorf("pairs %s: %d, without %s", body, answer.Code, part)
			}
		}
	}
	want[object](anwen, 422, "POST", together, object{"rank": "beauty"})
	want[object](bram, 404, "POST", together, object{})
	want[object](anwen, 422, "POST", behind, object{"document": out, "column": "kg"})
	if grouped := anwen.send("POST", behind, object{"document": plotted("kg", "district", nil),
		"column": "ha"}).Body.String(); !strings.Contains(grouped, `"unit":"from Brindle to Tarn"`) {
		t.Errorf("the evidence between groups: %s", grouped)
	}
	want[object](bram, 404, "POST", behind, plain)
}
