package server

import (
	"fmt"
	"strings"
	"testing"

	"copperlark/app"
)

// keep uploads a file and keeps it as a dataset.
func (v *visitor) keep(name, content string) object {
	v.t.Helper()
	return want[object](v, 200, "POST", "/api/uploads/"+v.read(name+".csv", content)+"/keep", object{"name": name})
}

// TestAPatternIsUsedOverAnotherTable whose columns are called otherwise: they are proposed, what was chosen stays, what does not fit is
// told before anything is made, and what comes of it is drawn.
func TestAPatternIsUsedOverAnotherTable(t *testing.T) {
	anwen, bram, _ := world(t)
	_, chartOf := writtenPage(anwen)
	pattern := want[app.Pattern](anwen, 200, "POST", "/api/patterns", object{"name": " Yield by land ", "chart_id": chartOf["id"]})
	if pattern.Name != "Yield by land" || len(pattern.Blanks) != 3 || pattern.Blanks[0].Column != "honey_kg" ||
		pattern.Blanks[0].Unit != "kg" {
		t.Errorf("the pattern: %+v", pattern)
	}
	other := anwen.keep("Orchards", "plot_ha,apples_kg,valley\n1,5,Tarn\n2,7,Tarn\n3,8,Brindle\n4,12,Brindle\n")
	at := fmt.Sprintf("/api/versions/%d/fitted", number(other, "version_id"))
	fitted := want[app.Fitted](anwen, 200, "POST", at, object{"pattern_id": pattern.ID})
	got := ""
	for _, p := range fitted.Blanks {
		got += p.Column + "=" + p.Chosen + " "
	}
	if got != "honey_kg=apples_kg forage_ha=plot_ha district=valley " || fitted.Document == nil || len(fitted.Misfits) != 0 {
		t.Fatalf("proposed: %s%+v", got, fitted)
	}
	drawn := anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", number(other, "version_id")), object{"document": fitted.Document})
	if drawn.Code != 200 {
		t.Errorf("what comes of it: %d %s", drawn.Code, drawn.Body)
	}
	chosen := want[app.Fitted](anwen, 200, "POST", at, object{"pattern_id": pattern.ID,
		"columns": object{"honey_kg": "plot_ha", "district": ""}})
	if chosen.Document != nil || chosen.Blanks[0].Chosen != "plot_ha" || chosen.Blanks[1].Chosen != "apples_kg" ||
		fmt.Sprint(chosen.Lacking) != "[District]" {
		t.Errorf("chosen by hand: %+v", chosen)
	}
	without := want[app.Fitted](anwen, 200, "POST", at, object{"pattern_id": pattern.ID, "columns": object{"district": ""},
		"without": []string{"district"}})
	if without.Document == nil || without.Document.Colour != "" || without.Document.Y.Column != "apples_kg" || len(without.Lacking) != 0 {
		t.Errorf("without a column: %+v", without)
	}
	words := anwen.keep("Words", "who,where\nAnwen,Tarn\nBram,Brindle\n")
	none := want[app.Fitted](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/fitted", number(words, "version_id")),
		object{"pattern_id": pattern.ID})
	if none.Document != nil || len(none.Lacking) != 2 || len(none.Misfits) == 0 {
		t.Errorf("over a table of words: %+v", none)
	}
	// The sentence of another version, without a pattern.
	plain := want[app.Fitted](anwen, 200, "POST", at, object{"from_version_id": chartOf["version_id"],
		"document": plotted("honey_kg", "forage_ha", object{"title": "Of one table alone"})})
	if plain.Document == nil || plain.Document.Title != "" || plain.Document.Y.Column != "apples_kg" {
		t.Errorf("a sentence: %+v", plain)
	}
	for _, refused := range []struct {
		method, path string
		body         object
		code         int
	}{
		{"POST", at, object{"pattern_id": pattern.ID, "columns": object{"honey_kg": "nowhere"}}, 422},
		{"POST", at, object{}, 422},
		{"POST", at, object{"pattern_id": pattern.ID, "without": []string{"honey_kg"}}, 422},
		{"POST", at, object{"pattern_id": pattern.ID + 99}, 404},
		{"POST", "/api/patterns", object{"name": " ", "chart_id": chartOf["id"]}, 422},
		{"POST", "/api/patterns", object{"name": strings.Repeat("名", 201), "chart_id": chartOf["id"]}, 422},
		{"POST", "/api/patterns", object{"name": "x", "chart_id": 999999}, 404},
	} {
		if answer := anwen.send(refused.method, refused.path, refused.body); answer.Code != refused.code {
			t.Errorf("%v: %d %s", refused.body, answer.Code, answer.Body)
		}
	}
	one := fmt.Sprintf("/api/patterns/%d", pattern.ID)
	want[object](bram, 404, "PATCH", one, object{"name": "Mine"})
	want[object](bram, 404, "DELETE", one, nil)
	want[object](anwen, 204, "PATCH", one, object{"name": "Renamed"})
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/charts/%d", number(chartOf, "id")), nil) // the pattern stays
	list := want[[]app.Pattern](anwen, 200, "GET", "/api/patterns", nil)
	if len(list) != 1 || list[0].Name != "Renamed" || list[0].ChartID != 0 {
		t.Errorf("the patterns: %+v", list)
	}
	want[object](anwen, 204, "DELETE", one, nil)
}

// TestLooksAreKeptAndLaidOnOthers with the scales of axes; titles are of one chart alone.
func TestLooksAreKeptAndLaidOnOthers(t *testing.T) {
	anwen, bram, _ := world(t)
	_, chartOf := writtenPage(anwen)
	figure := fmt.Sprintf("/api/versions/%d/figure", number(chartOf, "version_id"))
	dressed := want[object](anwen.withKey(nil, app.ScopeMake), 200, "POST", "/api/v1/charts", object{"version": chartOf["version_id"],
		"typed": "plot honey_kg against forage_ha\nlog x\nx titled 'Land'\ngrid off\ntitle 'Land'"})
	kept := want[app.KeptLook](anwen, 200, "POST", "/api/looks", object{"name": "For the yearbook", "document": dressed["document"]})
	if fmt.Sprint(kept.Looks, kept.Scales) != "[grid off] [log x]" {
		t.Errorf("kept: %+v", kept)
	}
	drawn := anwen.send("POST", figure, object{"document": plotted("honey_kg", "forage_ha", nil),
		"changes": []object{{"say": append(kept.Looks, kept.Scales...)}, {"swap": true}}})
	if drawn.Code != 200 || !strings.Contains(drawn.Body.String(), "plot forage_ha against honey_kg\\nlog y\\ngrid off") {
		t.Errorf("laid on another, and turned: %d", drawn.Code)
	}
	bare := object{"name": "Nothing", "document": plotted("honey_kg", "forage_ha", nil)}
	if answer := anwen.send("POST", "/api/looks", bare); answer.Code != 422 {
		t.Errorf("a chart that says nothing of its looks: %d", answer.Code)
	}
	if list := want[[]app.KeptLook](bram, 200, "GET", "/api/looks", nil); len(list) != 0 {
		t.Errorf("another space sees %+v", list)
	}
	want[object](bram, 404, "DELETE", fmt.Sprintf("/api/looks/%d", kept.ID), nil)
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/looks/%d", kept.ID), nil)
}

// TestWhatANewVersionChangesIsToldBeforeAndAfter ranks charts by how much it moved them: one whose groups turn round before one that
// only has more rows; one that does not fit says why; nothing of another space.
func TestWhatANewVersionChangesIsToldBeforeAndAfter(t *testing.T) {
	anwen, bram, _ := world(t)
	rows := func(turned float64) string {
		out := "land,honey,wind,place\n"
		for i := range 60 {
			group := i % 2
			y := 40 - 30*float64(group) + turned*float64(i%10) + float64(i%3)
			out += fmt.Sprintf("%d,%.1f,%d,%s\n", i%10+10*group, y, i%7, []string{"Tarn", "Brindle"}[group])
		}
		return out
	}
	dataset := anwen.keep("Hives", rows(2))
	script := anwen.withKey(nil, app.ScopeMake)
	chartOf := func(typed string) int64 {
		return number(want[object](script, 200, "POST", "/api/v1/charts", object{"version": dataset["version_id"], "typed": typed}), "id")
	}
	turns := chartOf("plot honey against land\ncolour by place\nfit line for each place and overall")
	gone := chartOf("plot honey against wind")
	same := chartOf("plot land against place")
	next := ""
	for _, line := range strings.Split(strings.TrimSpace(rows(-2)), "\n") { // without the wind
		cells := strings.Split(line, ",")
		next += strings.Join([]string{cells[0], cells[1], cells[3]}, ",") + "\n"
	}
	key := anwen.read("next.csv", next)
	told := want[app.MovedCharts](anwen, 200, "GET", fmt.Sprintf("/api/datasets/%d/files/%s/moved", number(dataset, "id"), key), nil)
	found := map[int64]app.MovedChart{}
	for _, c := range told.Charts {
		found[c.ID] = c
	}
	if told.Of != 3 || found[turns].Moved == nil || !found[turns].Moved.Clear || found[gone].Why == "" || found[same].Moved == nil ||
		found[same].Moved.Score != 0 || found[turns].Moved.Score < 20 {
		t.Fatalf("before it is kept: %+v", told)
	}
	if all := strings.Join(found[turns].Moved.Words, "; "); !strings.Contains(all, "clearly") || !strings.Contains(all, "was ") {
		t.Errorf("in words: %s", all)
	}
	kept := want[object](anwen, 200, "POST", fmt.Sprintf("/api/datasets/%d/files/%s/keep", number(dataset, "id"), key), object{})
	at := fmt.Sprintf("/api/datasets/%d/moved?version=%d", number(dataset, "id"), number(kept, "id"))
	after := want[app.MovedCharts](anwen, 200, "GET", at, nil)
	if fmt.Sprint(after.Charts[0].Moved) != fmt.Sprint(told.Charts[0].Moved) || after.Of != 3 {
		t.Errorf("after it was kept: %+v", after)
	}
	if rest := want[app.MovedCharts](anwen, 200, "GET", at+"&from=2", nil); len(rest.Charts) != 1 || rest.Of != 3 {
		t.Errorf("from the second on: %+v", rest)
	}
	want[object](bram, 404, "GET", at, nil)
}

// TestAComparisonIsKept at the steps where its charts stand, and goes with either of them.
func TestAComparisonIsKept(t *testing.T) {
	anwen, bram, _ := world(t)
	id, steps := anwen.stepped(0, "district")
	other, _ := anwen.stepped(0)
	sides := object{"a": id, "a_step": steps[0], "a_version": 0, "b": other, "b_step": 0, "b_version": 0}
	kept := want[app.KeptComparison](anwen, 200, "POST", "/api/comparisons", object{"name": "Before and after", "sides": sides})
	if kept.Sides.AStep != steps[0] || kept.Sides.BStep == 0 || kept.DatasetID == 0 {
		t.Errorf("kept: %+v", kept)
	}
	if code := bram.send("POST", "/api/comparisons", object{"name": "Mine", "sides": sides}).Code; code != 404 {
		t.Errorf("of charts of another space: %d", code)
	}
	want[object](bram, 404, "DELETE", fmt.Sprintf("/api/comparisons/%d", kept.ID), nil)
	if list := want[app.FoundCharts](anwen, 200, "GET", "/api/found/charts?state=try", nil); list.Total != 0 {
		t.Errorf("what is compared is a try: %+v", list)
	}
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/charts/%d", other), nil)
	if list := want[[]app.KeptComparison](anwen, 200, "GET", "/api/comparisons", nil); len(list) != 0 {
		t.Errorf("without one of its charts: %+v", list)
	}
}
