package server

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"testing"

	"copperlark/app"
	"copperlark/core/figure"
)

// writtenPage is a page with one block about a chart of a table of hives.
func writtenPage(v *visitor) (made, chart object) {
	v.t.Helper()
	rows := strings.Builder{}
	rows.WriteString("forage_ha,honey_kg,district\n")
	for i := range 40 {
		fmt.Fprintf(&rows, "%d,%d,%s\n", i+1, 60-i+i%5, []string{"Tarn", "Brindle"}[i%2])
	}
	preview := want[object](v, 200, "POST", "/api/uploads?name=hives.csv", rows.String())
	dataset := want[object](v, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{"name": "Hives"})
	chart = want[object](v.withKey(nil, app.ScopeMake), 200, "POST", "/api/v1/charts", object{"version": dataset["version_id"],
		"typed": "plot honey_kg against forage_ha\ncolour by district\nfit line", "name": "Falls"})
	made = want[object](v, 200, "POST", "/api/pages", object{"contents": object{"version": 1, "title": "Honey", "blocks": []object{
		{"id": "a", "text": "It falls.", "chart": object{"id": chart["id"]}}}}})
	return made, chart
}

func at(made object) string { return fmt.Sprintf("/api/pages/%d", number(made, "id")) }

func TestAPageIsWrittenByTwoAndLosesNothing(t *testing.T) {
	anwen, bram, _ := world(t)
	made, _ := writtenPage(anwen)
	mab := anwen.come("mab", anwensSpace, app.Maker)
	base := made["contents"]
	with := func(text string) object {
		return object{"version": 1, "title": "Honey", "blocks": []object{
			{"id": "a", "text": text, "chart": base.(object)["blocks"].([]any)[0].(object)["chart"]}}}
	}
	var both sync.WaitGroup
	for i, who := range []*visitor{anwen, mab} {
		both.Go(func() {
			answer := who.send("PUT", at(made), object{"base": base, "contents": with(fmt.Sprint("written by ", i))})
			if answer.Code != 200 {
				t.Errorf("%d %s", answer.Code, answer.Body)
			}
		})
	}
	both.Wait()
	kept := want[object](anwen, 200, "GET", at(made), nil)
	if all := fmt.Sprint(kept); !strings.Contains(all, "written by 0") || !strings.Contains(all, "written by 1") {
		t.Errorf("two wrote at once: %v", kept)
	}
	versions := want[[]object](anwen, 200, "GET", at(made)+"/versions", nil)
	if len(versions) != 2 { // as it began, and as the first of the two left it
		t.Fatalf("earlier versions: %v", versions)
	}
	first := want[object](anwen, 200, "GET", fmt.Sprintf("%s/versions/%d", at(made), number(versions[1], "id")), nil)
	if fmt.Sprint(first["contents"]) != fmt.Sprint(base) {
		t.Errorf("the first version is %v", first)
	}
	// The same again is no version more, and what is wrong is refused with nothing changed.
	again := want[object](anwen, 200, "PUT", at(made), object{"base": kept["contents"], "contents": kept["contents"]})
	if again["revision"] != kept["revision"] {
		t.Errorf("nothing was written, and the revision is %v", again["revision"])
	}
	want[object](anwen, 422, "PUT", at(made), object{"contents": object{"version": 1, "title": "x", "blocks": []object{
		{"id": "a", "chart": object{"id": 999999}}}}})
	for method, path := range map[string]string{"GET": "", "PUT": "", "DELETE": ""} {
		want[object](bram, 404, method, at(made)+path, object{"contents": kept["contents"]})
	}
	want[object](bram, 422, "POST", "/api/pages", object{"contents": kept["contents"]}) // the chart is of another space
	if found := want[[]object](anwen, 200, "GET", "/api/pages?find=WRITTEN+by+1", nil); len(found) != 1 {
		t.Errorf("found %v", found)
	}
	if found := want[[]object](anwen, 200, "GET", "/api/pages?find=mead", nil); len(found) != 0 {
		t.Errorf("found %v", found)
	}
	want[object](mab, 204, "DELETE", at(made), nil)
	want[object](anwen, 404, "GET", at(made), nil)
}

// TestWordsOfAPageFollowItsChart ties words to a chart, changes the chart, and looks what the page says.
func TestWordsOfAPageFollowItsChart(t *testing.T) {
	anwen, _, _ := world(t)
	_, chart := writtenPage(anwen)
	drawn := anwen.send("GET", fmt.Sprintf("/api/charts/%d/steps/0/figure?width=560&height=300", number(chart, "id")), nil)
	if drawn.Code != 200 || !bytes.Contains(drawn.Body.Bytes(), []byte(`"said":[`)) {
		t.Fatalf("the chart of a page: %d %.300s", drawn.Code, drawn.Body)
	}
	falls := keyOfStatement(t, drawn.Body.Bytes(), "falls by")
	tied := func(words string) object {
		return object{"version": 1, "title": "Honey", "blocks": []object{
			{"id": "a", "text": fmt.Sprintf("Honey [%s](reading:%s) there.", words, falls), "chart": object{"id": chart["id"]}}}}
	}
	followed := want[object](anwen, 200, "POST", "/api/pages/followed", object{"contents": tied("falls by 9 kg")})
	text := followed["contents"].(object)["blocks"].([]any)[0].(object)["text"].(string)
	if !strings.Contains(text, `"was: falls by 9 kg"`) || len(followed["changes"].([]any)) != 1 {
		t.Errorf("the words are %s, %v", text, followed["changes"])
	}
	// The chart says something else of other columns: the words stay, and are said to be gone.
	first := number(want[object](anwen, 200, "GET", fmt.Sprintf("/api/charts/%d", number(chart, "id")), nil), "head_step_id")
	want[object](anwen.withKey(nil, app.ScopeMake), 200, "PATCH", fmt.Sprintf("/api/v1/charts/%d", number(chart, "id")),
		object{"typed": "plot honey_kg against district"})
	followed = want[object](anwen, 200, "POST", "/api/pages/followed", object{"contents": tied("falls by 9 kg")})
	if text := followed["contents"].(object)["blocks"].([]any)[0].(object)["text"].(string); !strings.Contains(text, ` "gone")`) {
		t.Errorf("the words are %s", text)
	}
	// As it was at the first step it says so still.
	at := tied("falls by 9 kg")
	at["blocks"].([]object)[0]["chart"] = object{"id": chart["id"], "step": first}
	followed = want[object](anwen, 200, "POST", "/api/pages/followed", object{"contents": at})
	if text := followed["contents"].(object)["blocks"].([]any)[0].(object)["text"].(string); strings.Contains(text, `gone`) {
		t.Errorf("the words are %s", text)
	}
}

// headOf decodes the head of an encoded figure.
func headOf[T any](t *testing.T, encoded []byte) (head T) {
	t.Helper()
	const fixed = 12
	length := binary.LittleEndian.Uint32(encoded[fixed-4:])
	if err := json.Unmarshal(encoded[fixed:fixed+length], &head); err != nil {
		t.Fatal(err)
	}
	return head
}

// keyOfStatement finds the key of the shortest statement that holds words, in the head of a figure.
func keyOfStatement(t *testing.T, encoded []byte, words string) (key string) {
	t.Helper()
	shortest := ""
	for _, s := range headOf[struct {
		Said []struct{ Key, Text string }
	}](t, encoded).Said {
		if strings.Contains(s.Text, words) && (shortest == "" || len(s.Text) < len(shortest)) {
			key, shortest = s.Key, s.Text
		}
	}
	if key == "" {
		t.Fatalf("nothing says %q", words)
	}
	return key
}

// TestTheNoteOfAChartFollowsItsReading ties words of a note: in the figure, in a drawing and in what is shared they are what the
// reading says, and words that it says no more are told to be that.
func TestTheNoteOfAChartFollowsItsReading(t *testing.T) {
	anwen, _, nobody := world(t)
	_, chart := writtenPage(anwen)
	drawn := anwen.send("GET", fmt.Sprintf("/api/charts/%d/steps/0/figure", number(chart, "id")), nil).Body.Bytes()
	key := keyOfStatement(t, drawn, "falls by")
	typed := "plot honey_kg against forage_ha\ncolour by district\nfit line\nnote 'It [falls by 9 tons](reading:" + key +
		"), and [shines](reading:0123456789abcdef).'"
	said := want[object](anwen.withKey(nil, app.ScopeMake), 200, "POST", "/api/v1/charts",
		object{"version": chart["version_id"], "typed": typed, "name": "Noted"})
	share := want[object](anwen, 200, "POST", "/api/shares", object{"chart_id": said["id"], "version_id": chart["version_id"],
		"document": said["document"], "title": "Noted"})
	read := anwen.withKey(nil, app.ScopeRead)
	for name, content := range map[string]string{
		"the figure": anwen.send("GET", fmt.Sprintf("/api/charts/%d/steps/0/figure", number(said, "id")), nil).Body.String(),
		"an SVG":     read.send("GET", fmt.Sprintf("/api/v1/charts/%d.svg", number(said, "id")), nil).Body.String(),
		"the share":  nobody.send("GET", "/s/"+share["key"].(string)+"/figure", nil).Body.String(),
	} {
		if !strings.Contains(content, "falls by 0.") || strings.Contains(content, "It falls by 9") ||
			!strings.Contains(content, "the chart no longer says") {
			t.Errorf("%s: the note does not follow", name)
		}
	}
}

// TestChartsOfAPageShareTheirAxes looks at two charts of one column, as the page is written and as it is shared.
func TestChartsOfAPageShareTheirAxes(t *testing.T) {
	anwen, _, nobody := world(t)
	version := number(anwen.upload("line.csv", "x,y\n1,2\n2,3\n3,5\n80,90\n90,95\n", "Line"), "version_id")
	script := anwen.withKey(nil, app.ScopeMake)
	var blocks []object
	for i, typed := range []string{"plot y against x", "of rows where x < 10\nplot y against x"} {
		made := want[object](script, 200, "POST", "/api/v1/charts", object{"version": version, "typed": typed})
		blocks = append(blocks, object{"id": fmt.Sprint("b", i), "text": "Read it", "chart": object{"id": made["id"]}})
	}
	contents := object{"version": 1, "title": "Lines", "blocks": blocks}
	page := want[object](anwen, 200, "POST", "/api/pages", object{"contents": contents})
	ends := func(v *visitor, path string) [4]float64 {
		answer := v.send("GET", path, nil)
		f, _, err := figure.Decode(answer.Body.Bytes())
		if err != nil {
			t.Fatalf("%s: %d %v", path, answer.Code, err)
		}
		x, y := f.Scales[f.Panels[0].X], f.Scales[f.Panels[0].Y]
		return [4]float64{x.From, x.To, y.From, y.To}
	}
	second := blocks[1]["chart"].(object)["id"]
	written := fmt.Sprintf("/api/charts/%v/steps/0/figure?page=%d", second, number(page, "id"))
	shared := func() (list [][4]float64) {
		key := want[object](anwen, 200, "POST", at(page)+"/share", object{})["key"].(string)
		for _, after := range strings.Split(nobody.send("GET", "/s/"+key, nil).Body.String(), `data-chart="`)[1:] {
			part, _, _ := strings.Cut(after, `"`)
			list = append(list, ends(nobody, "/s/"+part+"/figure"))
		}
		return list
	}
	if own := ends(anwen, written); own[1] > 50 {
		t.Errorf("without being said, the axes span %v", own)
	}
	if both := shared(); len(both) != 2 || both[0] == both[1] {
		t.Errorf("without being said, they are shared: %v", both)
	}
	contents["same_axes"] = true
	want[object](anwen, 200, "PUT", at(page), object{"base": page["contents"], "contents": contents})
	if same := ends(anwen, written); same[1] < 80 {
		t.Errorf("the axes span %v", same)
	}
	if both := shared(); both[0] != both[1] {
		t.Errorf("shared, the axes span %v", both)
	}
	want[object](anwen, 404, "GET", fmt.Sprintf("/api/charts/%v/steps/0/figure?page=999999", second), nil)
}
