package server

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image/png"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"copperlark/app"
)

// waitFor asks again until something is so, for some seconds at most.
func waitFor(t *testing.T, what string, so func() bool) {
	t.Helper()
	for range 100 {
		if so() {
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
	t.Fatalf("waited in vain until %s", what)
}

// TestWhoMayOpenAShare asks a share with a password, one for people of the space and one with an end, and all that hangs on them, as
// everybody.
func TestWhoMayOpenAShare(t *testing.T) {
	anwen, bram, nobody := world(t)
	made, _ := writtenPage(anwen)
	share := func(more object) string {
		return want[object](anwen, 200, "POST", at(made)+"/share", more)["key"].(string)
	}
	part := func(v *visitor, key string) string {
		page := v.send("GET", "/s/"+key, nil).Body.String()
		_, rest, _ := strings.Cut(page, `data-chart="`)
		found, _, _ := strings.Cut(rest, `"`)
		return found
	}
	all := func(key, partKey string) (paths []string) {
		for _, path := range []string{"", ".png", ".svg", ".pdf", ".html", "/figure", "/figure/exact", "/figure/phone", "/links", "/rows/1",
			"/state",
			"/preview.png", "/table.csv", "/table.parquet"} {
			paths = append(paths, "/s/"+key+path, "/s/"+partKey+path)
		}
		return append(paths, "/embed/"+key, "/embed/"+partKey, "/oembed?url=x/s/"+key)
	}
	refused := func(who string, v *visitor, status int, paths []string) {
		t.Helper()
		for _, path := range paths {
			if answer := v.send("GET", path, nil); answer.Code != status {
				t.Errorf("%s asks %s: %d", who, path, answer.Code)
			} else if strings.Contains(answer.Body.String(), "Brindle") {
				t.Errorf("%s is told at %s", who, path)
			}
		}
	}
	// For people of the space: another one is kept out, a reader of it is not.
	key := share(object{"people_only": true})
	reader := anwen.come("rhys", anwensSpace, app.Reader)
	inner := part(reader, key)
	refused("nobody", nobody, http.StatusUnauthorized, all(key, inner))
	refused("somebody of another space", bram, http.StatusUnauthorized, all(key, inner))
	if answer := reader.send("GET", "/s/"+inner+"/table.csv", nil); answer.Code != 200 || !strings.Contains(answer.Body.String(), "Brindle") {
		t.Errorf("a reader of the space asks the rows: %d", answer.Code)
	}
	// With a password: a wrong one is told, the right one opens all of it for this browser, and it is no other share's.
	key = share(object{"password": "green heather"})
	want[object](anwen, 422, "POST", at(made)+"/share", object{"password": "short"})
	form := func(password string) (status int, cookie *http.Cookie) {
		answer := nobody.sendAs("POST", "/s/"+key, strings.NewReader(url.Values{"password": {password}}.Encode()),
			map[string]string{"Content-Type": "application/x-www-form-urlencoded"})
		for _, c := range answer.Result().Cookies() {
			cookie = c
		}
		return answer.Code, cookie
	}
	if status, cookie := form("red heather"); status != http.StatusUnauthorized || cookie != nil {
		t.Errorf("a wrong password: %d", status)
	}
	status, cookie := form("green heather")
	if status != http.StatusSeeOther || cookie == nil || !cookie.HttpOnly || cookie.Path != "/s/" {
		t.Fatalf("the right password: %d %v", status, cookie)
	}
	with := func(path string) int {
		return nobody.sendAs("GET", path, nil, map[string]string{"Cookie": cookie.Name + "=" + cookie.Value}).Code
	}
	if got := with("/s/" + key); got != 200 {
		t.Errorf("with the password it answers %d", got)
	}
	other := share(object{"password": "green heather"})
	if got := with("/s/" + other); got != http.StatusUnauthorized {
		t.Errorf("another share with the same password answers %d", got)
	}
	refused("nobody", nobody, http.StatusUnauthorized, []string{"/s/" + key, "/s/" + key + ".html", "/embed/" + key,
		"/s/" + key + "/preview.png"})
	// With an end.
	want[object](anwen, 422, "POST", at(made)+"/share", object{"until": time.Now().Add(-time.Hour)})
	key = share(object{"until": time.Now().Add(time.Hour)})
	inner = part(nobody, key)
	if inner == "" {
		t.Error("before its end it does not open")
	}
	anwen.inDatabase(`update shares set until = now() - interval '1 second' where until is not null`)
	refused("nobody", nobody, http.StatusGone, all(key, inner))
	// Withdrawn: at once, with all that hangs on it.
	taken := want[object](anwen, 200, "POST", at(made)+"/share", object{})
	inner = part(nobody, taken["key"].(string))
	want[object](bram, 404, "GET", fmt.Sprintf("/api/shares/%d/opens", number(taken, "id")), nil)
	waitFor(t, "the opening is counted", func() bool {
		days := want[[]object](anwen, 200, "GET", fmt.Sprintf("/api/shares/%d/opens", number(taken, "id")), nil)
		return len(days) == 1 && number(days[0], "opened") == 1
	})
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/shares/%d", number(taken, "id")), nil)
	refused("nobody", nobody, http.StatusGone, all(taken["key"].(string), inner))
}

// TestReadersGetNoMoreThanTheyAreGiven shares a page without its rows and without how it was made.
func TestReadersGetNoMoreThanTheyAreGiven(t *testing.T) {
	anwen, _, nobody := world(t)
	made, _ := writtenPage(anwen)
	share := want[object](anwen, 200, "POST", at(made)+"/share", object{"keep_rows": true, "keep_made": true})
	page := nobody.send("GET", "/s/"+share["key"].(string), nil).Body.String()
	_, rest, _ := strings.Cut(page, `data-chart="`)
	part, _, _ := strings.Cut(rest, `"`)
	for _, path := range []string{"/table.csv", "/table.parquet"} {
		if answer := nobody.send("GET", "/s/"+part+path, nil); answer.Code != 404 {
			t.Errorf("%s answers %d", path, answer.Code)
		}
	}
	file := nobody.send("GET", "/s/"+share["key"].(string)+".html", nil).Body.String()
	for _, told := range []string{"table.csv", "data:text/csv", "plot honey_kg", "How this was made"} {
		if strings.Contains(page, told) || strings.Contains(file, told) {
			t.Errorf("readers are told %q", told)
		}
	}
}

// TestWhatIsNotTickedIsInNoByteOfAPage plants values in columns that stay at home and searches all that a reader can ask for.
func TestWhatIsNotTickedIsInNoByteOfAPage(t *testing.T) {
	anwen, _, nobody := worldWith(t, limitsOf(0, 0, 0), Config{ReaderRate: 1e6})
	rows := strings.Builder{}
	rows.WriteString("forage_ha,honey_kg,keeper,district,zzdebt\n")
	for i := range 60 {
		fmt.Fprintf(&rows, "%d,%d,zzkeeper%d,%s,%d\n", i+1, 80-i+i%7, i, []string{"Tarn", "Brindle"}[i%2], 77_000_000+i)
	}
	preview := want[object](anwen, 200, "POST", "/api/uploads?name=hives.csv", rows.String())
	dataset := want[object](anwen, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{"name": "Hives"})
	script := anwen.withKey(nil, app.ScopeMake)
	chartOf := func(version any, typed string) object {
		return want[object](script, 200, "POST", "/api/v1/charts", object{"version": version, "typed": typed})
	}
	prepared := want[object](script, 200, "POST", fmt.Sprintf("/api/v1/versions/%d/prepared", number(dataset, "version_id")),
		object{"typed": "keep zzdebt < 77000050"})
	one := chartOf(prepared["id"], "plot honey_kg against forage_ha\nfit line\ncard headed by keeper")
	two := chartOf(prepared["id"], "of rows where forage_ha > 20\nplot honey_kg against forage_ha\ncolour by district")
	made := want[object](anwen, 200, "POST", "/api/pages", object{"contents": object{"version": 1, "title": "Hives", "blocks": []object{
		{"id": "a", "text": "One [is said](reading:0123456789abcdef)", "chart": object{"id": one["id"]}},
		{"id": "b", "text": "Two", "chart": object{"id": two["id"]}, "place": "below"}}}})
	anwen.noted(object{"chart_id": one["id"]}, object{"kind": "whole"}, "zznote")
	anwen.noted(object{"dataset_id": dataset["id"]}, object{"kind": "column", "column": "honey_kg"}, "zznote")
	anwen.noted(object{"page_id": made["id"]}, object{"kind": "paragraph", "block": "a"}, "zznote")
	share := want[object](anwen, 200, "POST", at(made)+"/share", object{"columns": object{"a": []string{"honey_kg", "forage_ha"}}})
	key := share["key"].(string)
	paths := []string{"/s/" + key, "/embed/" + key, "/oembed?url=x/s/" + key}
	page := nobody.send("GET", "/s/"+key, nil).Body.String()
	var parts []string
	for _, after := range strings.Split(page, `data-chart="`)[1:] {
		part, _, _ := strings.Cut(after, `"`)
		parts = append(parts, part)
	}
	if len(parts) != 2 {
		t.Fatalf("the page shows %d charts:\n%s", len(parts), page)
	}
	// What else was looked at is told by name where the column is shared, and counted where it stays at home.
	for _, told := range []string{"<pre>1 column was tried that is not shared (holds: 1)", "<pre>district: "} {
		if !strings.Contains(page, told) {
			t.Errorf("the page does not say %q:\n%s", told, page)
		}
	}
	for _, of := range append(parts, key) {
		for _, path := range []string{"", ".png", ".svg", ".svg?look=ink", ".pdf", ".pdf?paper=wide", ".html", "/figure", "/figure/exact",
			"/figure/phone",
			"/links", "/preview.png", "/table.csv", "/table.parquet", "/rows/1", "/rows/4", "/state"} {
			paths = append(paths, "/s/"+of+path)
		}
	}
	looked := 0
	for _, path := range paths {
		answer := nobody.send("GET", path, nil)
		if answer.Code == 200 {
			looked++
		} else if answer.Code != http.StatusNotFound && answer.Code != http.StatusUnprocessableEntity {
			t.Errorf("%s answers %d", path, answer.Code)
		}
		for _, planted := range []string{"zzkeeper", "zzdebt", "zznote", "77000", "77,000"} {
			if bytes.Contains(answer.Body.Bytes(), []byte(planted)) {
				t.Errorf("%s holds %q", path, planted)
			}
		}
	}
	if looked < 40 {
		t.Errorf("only %d answers were looked at", looked)
	}
	if !strings.Contains(page, "the chart no longer says this") && !strings.Contains(page, `class="tie gone"`) {
		t.Error("words that the copy does not say are not marked")
	}
	// The rows of both charts are called alike: the same row of the table by the same name.
	of := func(part string) (names []uint32, honey []string) {
		links := nobody.send("GET", "/s/"+part+"/links", nil).Body.Bytes()
		for i := 0; i+4 <= len(links); i += 4 {
			names = append(names, binary.LittleEndian.Uint32(links[i:]))
		}
		for _, line := range strings.Split(strings.TrimSpace(nobody.send("GET", "/s/"+part+"/table.csv", nil).Body.String()), "\n")[1:] {
			value, _, _ := strings.Cut(strings.TrimSpace(line), ",")
			honey = append(honey, value)
		}
		return names, honey
	}
	_, all := of(parts[0])
	names, some := of(parts[1])
	if len(all) != 50 || len(some) != 30 || len(names) != len(some) {
		t.Fatalf("%d and %d rows, %d names", len(all), len(some), len(names))
	}
	for i, name := range names {
		if all[name] != some[i] {
			t.Errorf("row %d of the second chart is called %d, which is %s in the first one, not %s", i, name, all[name], some[i])
		}
	}
}

// TestALiveShareFollows changes a chart and its data, and looks what readers see.
func TestALiveShareFollows(t *testing.T) {
	anwen, _, nobody := world(t)
	made, chart := writtenPage(anwen)
	live := want[object](anwen, 200, "POST", at(made)+"/share", object{"live": true})
	fixed := want[object](anwen, 200, "POST", at(made)+"/share", object{})
	alone := want[object](anwen, 200, "POST", "/api/shares", object{"chart_id": chart["id"], "version_id": chart["version_id"],
		"document": chart["document"], "title": "Alone", "live": true})
	shows := func(share object) string { return nobody.send("GET", "/s/"+share["key"].(string), nil).Body.String() }
	before := shows(fixed)
	state := want[object](nobody, 200, "GET", "/s/"+live["key"].(string)+"/state", nil)["of"]
	preview := want[object](anwen, 200, "POST", "/api/uploads?name=hives.csv",
		"forage_ha,honey_kg,district\n1,90,Tarn\n2,80,Tarn\n3,75,Brindle\n4,60,Brindle\n")
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/datasets/%d/files/%s/keep", number(chart, "dataset_id"), preview["key"]), object{})
	for _, share := range []object{live, alone} {
		waitFor(t, "the live share follows the data", func() bool { return strings.Contains(shows(share), "all 4 rows") })
	}
	if want[object](nobody, 200, "GET", "/s/"+live["key"].(string)+"/state", nil)["of"] == state {
		t.Error("an open page is not told that it changed")
	}
	if shows(fixed) != before {
		t.Error("a fixed copy changed")
	}
	// As it was before is there still.
	earlier := nobody.send("GET", "/s/"+live["key"].(string)+"/earlier", nil)
	was := nobody.send("GET", earlier.Header().Get("Location"), nil).Body.String()
	if earlier.Code != http.StatusSeeOther || !strings.Contains(was, "all 40 rows") {
		t.Errorf("as it was before: %d %s", earlier.Code, earlier.Header().Get("Location"))
	}
	// What is written is followed too, and a chart that cannot be shared any more leaves the share as it was.
	contents := made["contents"].(object)
	contents["title"] = "Mead"
	want[object](anwen, 200, "PUT", at(made), object{"contents": contents})
	waitFor(t, "the live page follows what is written", func() bool { return strings.Contains(shows(live), "<h1>Mead</h1>") })
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/charts/%d", number(chart, "id")), nil)
	waitFor(t, "its maker is told that it does not follow", func() bool {
		shows(live)
		for _, share := range want[[]object](anwen, 200, "GET", "/api/shares", nil) {
			if share["key"] == live["key"] && share["trouble"] != nil {
				return true
			}
		}
		return false
	})
	if !strings.Contains(shows(live), "<h1>Mead</h1>") {
		t.Error("a live page whose chart is gone does not stay as it was")
	}
	earlier = nobody.send("GET", "/s/"+live["key"].(string)+"/earlier", nil)
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/shares/%d", number(live, "id")), nil)
	if gone := nobody.send("GET", earlier.Header().Get("Location"), nil); gone.Code != http.StatusGone {
		t.Errorf("what it was before answers %d after it was withdrawn", gone.Code)
	}
}

// TestPicturesOfAShare asks pictures of a share at sizes and looks, and what is too large.
func TestPicturesOfAShare(t *testing.T) {
	anwen, _, nobody := world(t)
	made, _ := writtenPage(anwen)
	key := want[object](anwen, 200, "POST", at(made)+"/share", object{})["key"].(string)
	for _, width := range []int{320, 1200} {
		answer := nobody.send("GET", fmt.Sprintf("/s/%s.png?width=%d", key, width), nil)
		picture, err := png.Decode(answer.Body)
		if err != nil || picture.Bounds().Dx() != width {
			t.Errorf("a picture %d wide: %d %v", width, answer.Code, err)
		}
		tag := answer.Header().Get("ETag")
		again := nobody.sendAs("GET", fmt.Sprintf("/s/%s.png?width=%d", key, width), nil, map[string]string{"If-None-Match": tag})
		if tag == "" || again.Code != http.StatusNotModified || again.Body.Len() > 0 {
			t.Errorf("asked again: %d", again.Code)
		}
	}
	picture, err := png.Decode(nobody.send("GET", "/s/"+key+"/preview.png", nil).Body)
	if err != nil || picture.Bounds().Dx() != previewWidth || picture.Bounds().Dy() != previewHeight {
		t.Errorf("the preview: %v", err)
	}
	for _, wrong := range []string{"width=99", "width=4001", "width=x", "look=neon"} {
		want[object](nobody, 422, "GET", "/s/"+key+".png?"+wrong, nil)
	}
	want[object](nobody, 422, "GET", "/s/"+key+".pdf?paper=parchment", nil)
	if file := nobody.send("GET", "/s/"+key+".html", nil); file.Code != 200 {
		t.Errorf("the single file: %d", file.Code)
	}
	defer func(was int) { mostInFile = was }(mostInFile)
	mostInFile = 1000
	want[object](nobody, 422, "GET", "/s/"+key+".html", nil)
	if pdf := nobody.send("GET", "/s/"+key+".pdf", nil).Body.String(); !strings.HasPrefix(pdf, "%PDF") {
		t.Error("the PDF is none")
	}
}

// TestWhatWasLookedAtNamesNoGroupThatStaysAtHome shares a chart whose limits hold a group back that the check would speak of.
func TestWhatWasLookedAtNamesNoGroupThatStaysAtHome(t *testing.T) {
	anwen, _, nobody := world(t)
	rows := strings.Builder{}
	rows.WriteString("x,y,district\n")
	for i := range 60 {
		x := i % 10
		fmt.Fprintf(&rows, "%d,%d,Tarn\n%g,%d,Brindle\n%d,%d,zzfar\n", x, (i*7)%11, float64(x)+0.5, (i*5)%13, 20+x, 5*x+i%3)
	}
	version := anwen.upload("far.csv", rows.String(), "Far")["version_id"]
	made := want[object](anwen.withKey(nil, app.ScopeMake), 200, "POST", "/api/v1/charts",
		object{"version": version, "typed": "plot y against x\ncolour by district\nfit line\nx from -1 to 12"})
	kept := want[object](anwen, 200, "GET", fmt.Sprintf("/api/charts/%d", number(made, "id")), nil)
	share := want[object](anwen, 200, "POST", "/api/shares",
		object{"version_id": version, "document": kept["document"], "title": "Near", "text": ""})
	page := nobody.send("GET", "/s/"+share["key"].(string), nil).Body.String()
	if !strings.Contains(page, "Looked at as other explanations") {
		t.Errorf("it is not told what was looked at:\n%s", page)
	}
	if strings.Contains(page, "zzfar") {
		t.Errorf("the page names a group that is not shared:\n%s", page[strings.Index(page, "zzfar")-200:])
	}
}
