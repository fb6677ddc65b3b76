package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/httptest"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"copperlark/app"
)

// strangeTables are files at the ends of what a table can be.
var strangeTables = map[string]string{
	"the file of fifteen bytes": "a\n1e308\n-1e308\n",
	"largest and smallest":      "a,b,c\n1.7976931348623157e308,5e-324,1\n-1.7976931348623157e308,-5e-324,2\n0,2e-308,3\n1e308,1e-320,4\n",
	"one row":                   "a,b\n1e308,5e-324\n",
	"one value":                 "a,b\n1e308,1e308\n1e308,1e308\n1e308,1e308\n",
	"all missing":               "a,b\n,\n,\n,\n",
	"two groups":                "a,b,g\n1,1e150,x\n2,1e151,y\n3,-1e200,x\n4,1e-200,y\n5,0,x\n6,7,y\n",
	"dates":                     "a,day\n1e300,0001-01-01\n2,9999-12-31\n3,2030-05-05\n",
	"ordinary":                  "a,b,g\n1,2,x\n2,3,y\n3,5,x\n4,4,y\n5,8,x\n6,7,y\n7,9,x\n8,8,y\n",
	"long names":                strings.Repeat("n", 300) + ",b\n" + strings.Repeat("ש", 200) + ",1\n漢字漢字,2\n",
}

// TestExtremeNumbersAreAnsweredOrRefused asks for every kind of work on strange tables,
// with documents and preparations at random: nothing is answered 500, and every answer is
// whole.
func TestExtremeNumbersAreAnsweredOrRefused(t *testing.T) {
	anwen, _, _ := world(t)
	source := rand.New(rand.NewPCG(8, 2))
	one := func(list ...string) string { return list[source.IntN(len(list))] }
	numbers := []string{"1e308", "-1e308", "5e-324", "0", "1", "1e150", "-1"}
	preparations := func(names []string) string {
		column, other := one(names...), one(names...)
		clauses := []string{"work out z = " + column + " * power(10, 308)", "work out z = " + column + " / " + other,
			"work out z = row_number() * power(10, " + one("300", "308", "-320") + ")",
			"work out z = exp(" + column + ")", "work out z = cast(" + column + " as date) + " + one(numbers...),
			"keep " + column + " > " + one(numbers...), "sort by " + column,
			"for each " + column + ": m = mean(" + other + "), s = sum(" + other + "), d = stddev(" + other + ")",
			"read " + column + " as " + one("category", "number", "text", "date"),
			"work out z = running_sum(" + column + ")", "make 5 rows\nwork out z = normal(0, " + one(numbers...) + ")",
			"make 4 rows with x from " + one(numbers...) + " to " + one(numbers...)}
		return one(clauses...) + "\n" + one(append(clauses, "")...)
	}
	document := func(names []string) object {
		pick := func() string { return one(append(names, "")...) }
		variable := func() object {
			if source.IntN(4) == 0 {
				return object{"column": one(names...), "of": one("count", "sum", "mean", "median")}
			}
			return object{"column": one(names...), "as": one("number", "groups")}
		}
		axis := func() object { return object{"scale": one("log", "near-linear")} }
		d := object{"version": 2, "x": object{"column": one(names...)}, "y": object{"column": one(names...)}, "colour": pick(), "size": pick(),
			"shape": pick()}
		if source.IntN(3) == 0 {
			d["x"], d["y"] = variable(), variable()
		}
		if source.IntN(3) == 0 {
			d["scales"] = object{"x": axis(), "y": axis()}
		}
		if source.IntN(3) == 0 {
			d["scales"] = object{"x": object{"limits": object{"from": json.Number(one(numbers...)), "to": json.Number(one(numbers...))}}}
		}
		if source.IntN(3) == 0 {
			d["panels"], d["where"] = object{"by": []string{one(names...)}, "own": []string{"x", "y"}}, one(names...)+" > "+one(numbers...)
		}
		layers := []object{}
		if source.IntN(2) == 0 {
			layers = append(layers, object{"mark": one("dots", "line", "bars", "boxes", "histogram", "counts", "nothing")})
		}
		fit := object{"kind": one("line", "curve", "local", "spline", "robust line"), "overall": true, "each": pick(),
			"band": object{"kind": one("confidence", "prediction"), "level": 95}}
		if fit["kind"] == "curve" {
			fit["degree"] = 2 + source.IntN(4)
		}
		if source.IntN(2) == 0 {
			layers = append(layers, object{"mark": "fit", "fit": fit})
		}
		if source.IntN(3) == 0 {
			layers = append(layers, object{"mark": "reference", "reference": object{"axis": one("x", "y"), "at": json.Number(one(numbers...)),
				"to": json.Number(one(numbers...))}})
		}
		d["layers"] = layers
		return d
	}
	asked, refused := 0, 0
	whole := func(what, method, path string, body any) *httptest.ResponseRecorder {
		answer := anwen.send(method, path, body)
		asked++
		text := answer.Body.Bytes()
		if answer.Code >= 400 {
			refused++
		}
		if answer.Code >= 500 || strings.HasPrefix(answer.Header().Get("Content-Type"), "application/json") && answer.Code != 204 &&
			!json.Valid(text) {
			t.Errorf("%s: %s %s %v: %d %.300s", what, method, path, body, answer.Code, text)
		}
		return answer
	}
	for _, name := range sorted(strangeTables) {
		upload := whole(name, "POST", "/api/uploads?name=strange.csv", strangeTables[name])
		var preview object
		_ = json.Unmarshal(upload.Body.Bytes(), &preview)
		if preview["key"] == nil {
			continue
		}
		dataset := want[object](anwen, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{"name": name})
		var names []string
		for _, c := range preview["columns"].([]any) {
			if n := c.(object)["name"].(string); len(n) < 100 {
				names = append(names, n)
			}
		}
		version := fmt.Sprintf("/api/versions/%d", number(dataset, "version_id"))
		whole(name, "GET", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)
		whole(name, "POST", version+"/summary", object{"typed": ""})
		whole(name, "GET", version+"/first-look", nil)
		whole(name, "GET", version+"/table/jsonl", nil)
		for range 25 {
			d := document(names)
			whole(name, "POST", version+"/figure", object{"document": d})
			whole(name, "POST", version+"/explanations", object{"document": d})
			typed := preparations(names)
			whole(name, "POST", version+"/preparation", object{"typed": typed})
			whole(name, "POST", version+"/summary", object{"typed": typed})
			whole(name, "POST", version+"/view", object{"typed": typed, "count": 5, "sort": one(names...)})
			whole(name, "GET", version+"/goes-with/"+names[0], nil)
		}
		kept := whole(name, "POST", version+"/prepared", object{"typed": "work out z9 = row_number() * power(10, 308)"})
		var made object
		_ = json.Unmarshal(kept.Body.Bytes(), &made)
		whole(name, "GET", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)
		whole(name, "POST", fmt.Sprintf("/api/versions/%d/figure", number(made, "id")), object{"document": plotted(names[0], "z9", nil)})
	}
	if asked < 1000 || refused == 0 || refused > asked*3/4 {
		t.Errorf("%d of %d requests were refused", refused, asked)
	}
}

func sorted(of map[string]string) []string {
	var names []string
	for name := range of {
		names = append(names, name)
	}
	slices.Sort(names)
	return names
}

// TestZeroBytesAndBrokenTextAreRefused sends them to every route that takes a body, and in
// addresses.
func TestZeroBytesAndBrokenTextAreRefused(t *testing.T) {
	anwen, _, nobody := world(t)
	s, err := New(nil, fstest.MapFS{}, Config{}, quiet())
	if err != nil {
		t.Fatal(err)
	}
	script := anwen.withKey(nil, app.ScopeRead, app.ScopeAppend, app.ScopeMake, app.ScopeShare)
	for _, route := range s.router.Routes() {
		path := pathParameter.ReplaceAllString(route.Path, "1")
		if !strings.HasPrefix(path, "/api/") || route.Method == "GET" || route.Method == "DELETE" || path == "/api/uploads" ||
			strings.HasSuffix(path, "/file") || path == "/api/sign-out" || path == "/api/v1/datasets" || strings.HasSuffix(path, "/rows") {
			continue
		}
		for _, body := range []string{`{"name":"a\u0000b","typed":"a\u0000b"}`, "{\"name\":\"a\xffb\"}", "{\"name\":\"a\x00b\"}",
			`{"name":"a\\\u0000"}`} {
			r := httptest.NewRequest(route.Method, path, strings.NewReader(body))
			r.Header.Set("Content-Type", "application/json")
			r.AddCookie(&http.Cookie{Name: sessionCookie, Value: anwen.cookie})
			r.Header.Set("Authorization", "Bearer "+script.key)
			w := httptest.NewRecorder()
			anwen.handler.ServeHTTP(w, r)
			if w.Code != 400 || !strings.Contains(w.Body.String(), "zero byte") {
				t.Errorf("%s %s with %q: %d %s", route.Method, path, body, w.Code, w.Body)
			}
		}
	}
	if holdsZero([]byte(`{"name":"a\\u0000"}`)) {
		t.Error("a backslash before u0000 is a zero byte")
	}
	for _, path := range []string{"/s/%00", "/s/%ff", "/s/%ff/figure", "/sign-in/%00", "/api/uploads?name=%ff",
		"/api/versions/1/goes-with/%00"} {
		if got := nobody.send("GET", path, nil).Code; got != 400 {
			t.Errorf("%s: %d", path, got)
		}
	}
}

// TestUnknownAddressesAreNotThePage holds that only what the front end routes is its page.
func TestUnknownAddressesAreNotThePage(t *testing.T) {
	anwen, _, nobody := world(t)
	for path, status := range map[string]int{"/api/nothing": 404, "/healthz": 404, "/dataset": 404, "/dataset/1/painted": 404, "/admin": 404,
		"/": 303, "/dataset/1/data": 303, "/audit": 303, "/in/1": 200, "/in/1-anwen/dataset/1/chart/2": 200, "/in/1/nothing": 404,
		"/account": 200} {
		answer := anwen.send("GET", path, nil)
		if answer.Code != status || status == 404 && strings.Contains(answer.Body.String(), "doctype html>") && strings.HasPrefix(path, "/api") {
			t.Errorf("%s: %d %s", path, answer.Code, answer.Body)
		}
	}
	// A body is not looked at before it is known who sends it.
	answer := nobody.send("POST", "/api/charts", "{\"broken\": \x00")
	if answer.Code != 401 {
		t.Errorf("a broken body of nobody: %d", answer.Code)
	}
}

// TestAGreedyPersonIsToldToWait fills a small gate, and looks what others are answered.
func TestAGreedyPersonIsToldToWait(t *testing.T) {
	anwen, bram, _ := worldWith(t, limitsOf(60_000, 300*time.Millisecond, 4), Config{})
	rows := strings.Builder{}
	rows.WriteString("x,y,z\n")
	source := rand.New(rand.NewPCG(1, 1))
	for range 30_000 {
		fmt.Fprintf(&rows, "%.3f,%.3f,%.3f\n", source.NormFloat64(), source.NormFloat64(), source.NormFloat64())
	}
	version := number(anwen.upload("rows.csv", rows.String(), "Rows"), "version_id")
	fit := object{"mark": "fit", "fit": object{"kind": "robust line", "overall": true}}
	document := plotted("y", "x", object{"layers": []object{fit, fit, fit, fit}})
	var asked sync.WaitGroup
	codes := make(chan *httptest.ResponseRecorder, 30)
	for range 30 {
		asked.Go(func() {
			codes <- anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", version), object{"document": document})
		})
	}
	sawWaiting := false
	for range 50 {
		if begun := time.Now(); bram.send("GET", "/api/me", nil).Code != 200 || time.Since(begun) > 3*time.Second {
			t.Error("somebody else is kept waiting")
		}
		for _, job := range want[[]object](anwen, 200, "GET", "/api/work", nil) {
			sawWaiting = sawWaiting || job["running"] == false && strings.Contains(fmt.Sprint(job["what"]), "a figure (30,000 rows)")
		}
		time.Sleep(2 * time.Millisecond)
	}
	asked.Wait()
	close(codes)
	seen := map[int]int{}
	for answer := range codes {
		seen[answer.Code]++
		if answer.Code == 429 && (answer.Header().Get("Retry-After") == "" || !strings.Contains(answer.Body.String(), "wait")) {
			t.Errorf("told to wait with %v %s", answer.Header(), answer.Body)
		}
	}
	if seen[200] == 0 || seen[429] == 0 || len(seen) != 2 || !sawWaiting {
		t.Errorf("thirty at once are answered %v; waiting was seen: %v", seen, sawWaiting)
	}
}

// TestLongWorkIsNotCancelledByADeadlineOfItsBody holds that no route has a deadline of the library for its body, which
// would stand on while work goes on, and cancel it.
func TestLongWorkIsNotCancelledByADeadlineOfItsBody(t *testing.T) {
	anwen, _, _ := world(t)
	seen := 0
	for path, item := range anwen.server.api.OpenAPI().Paths {
		for _, operation := range []*huma.Operation{item.Post, item.Put, item.Patch, item.Delete, item.Get} {
			if operation == nil || path == "/api/uploads" || path == "/api/spaces/file" || path == "/api/v1/datasets" ||
				strings.HasSuffix(path, "/rows") { // which read their bodies themselves
				continue
			}
			if seen++; operation.RequestBody != nil && operation.BodyReadTimeout >= 0 {
				t.Errorf("%s %s is cancelled after %v", operation.Method, path, operation.BodyReadTimeout)
			}
		}
	}
	if seen < 50 {
		t.Errorf("%d operations were looked at", seen)
	}
}

// TestAShareOfManyDotsIsLookedAtClosely holds that a shared chart of many dots has exact places for
// whoever looks closely, of the same rows, until it is withdrawn.
func TestAShareOfManyDotsIsLookedAtClosely(t *testing.T) {
	anwen, _, nobody := world(t)
	made := want[object](anwen, 200, "POST", "/api/datasets", object{"name": "Trial",
		"typed": "make 20001 rows\nwork out x = uniform(0, 1)\nwork out y = uniform(0, 1)"})
	shared := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": number(made, "version_id"),
		"document": plotted("y", "x", nil), "title": "Many"})
	path := fmt.Sprintf("/s/%s/figure", shared["key"])
	first, exact := nobody.send("GET", path, nil), nobody.send("GET", path+"/exact", nil)
	types := func(answer *httptest.ResponseRecorder) string {
		return strings.Join(regexp.MustCompile(`"type":"(u16|f32)"`).FindAllString(answer.Body.String(), -1), " ")
	}
	if got := types(first); got != `"type":"u16" "type":"u16"` {
		t.Errorf("a first look has places of %s", got)
	}
	if got := types(exact); got != `"type":"f32" "type":"f32"` || (exact.Body.Len()-first.Body.Len())/100 != 2*2*20_001/100 {
		t.Errorf("a close look has places of %s, in %d bytes beside %d", got, exact.Body.Len(), first.Body.Len())
	}
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/shares/%d", number(shared, "id")), nil)
	if gone := nobody.send("GET", path+"/exact", nil); gone.Code != http.StatusGone {
		t.Errorf("after withdrawing, a close look answers %d", gone.Code)
	}
}

// TestAShareGivesWhatItShows holds that rows that are not drawn, rows beyond the limits,
// and columns that the sentence does not name stay at home, whatever happens later.
func TestAShareGivesWhatItShows(t *testing.T) {
	anwen, _, nobody := world(t)
	dataset := anwen.upload("hives.csv",
		"hive,kg,ha,district,price\nA,1,10,Tarn,5\nB,2,,Tarn,6\nC,3,30,Brindle,7\nD,4,400,Low Fen,8\nE,5,50,Tarn,9\n", "Hives")
	version := number(dataset, "version_id")
	document := plotted("kg", "ha", object{"colour": "district", "scales": object{"x": object{"limits": object{"from": 0, "to": 100}}}})
	share := func(columns any) string {
		body := object{"version_id": version, "document": document, "title": "Shown"}
		if columns != nil {
			body["columns"] = columns
		}
		return want[object](anwen, 200, "POST", "/api/shares", body)["key"].(string)
	}
	key := share(nil)
	rows := func(key string) string { return nobody.send("GET", "/s/"+key+"/table.csv", nil).Body.String() }
	const shown = "kg,ha,district\n1,10,Tarn\n3,30,Brindle\n5,50,Tarn\n"
	if got := rows(key); got != shown {
		t.Errorf("what goes out is %q", got)
	}
	figure := nobody.send("GET", "/s/"+key+"/figure", nil).Body.String()
	if strings.Contains(figure, `"hive"`) || strings.Contains(figure, "price") {
		t.Error("the figure names a column that the sentence does not")
	}
	if page := nobody.send("GET", "/s/"+key, nil).Body.String(); !strings.Contains(page, "beyond the limits of the axes, and not shared: 1") {
		t.Errorf("the page does not say what was held back:\n%s", page)
	}
	refused := want[object](anwen, 422, "POST", "/api/shares", object{"version_id": version, "document": document, "title": "Shown",
		"columns": []string{"kg"}})
	if message := fmt.Sprint(refused["message"]); message != "the chart is drawn by ha, district, which should stay at home" {
		t.Errorf("a chart goes out that is drawn by what was not chosen: %s", message)
	}
	want[object](anwen, 422, "POST", "/api/shares", object{"version_id": version, "document": document, "title": "t",
		"columns": []string{"price"}})
	// What was shared stays as it was: meanings, versions and deletions change nothing.
	want[object](anwen, 204, "PUT", fmt.Sprintf("/api/datasets/%d/meanings", number(dataset, "id")),
		object{"column": "district", "codes": object{"Tarn": "High Tarn"}})
	if got := rows(key); got != shown {
		t.Errorf("after a meaning was said: %q", got)
	}
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)
	if got := rows(key); got != shown {
		t.Errorf("after the dataset went: %q", got)
	}
	// The column that heads the card goes out when it is chosen, and not before.
	var many strings.Builder
	many.WriteString("hive,kg,ha\n")
	for i := range 300 {
		fmt.Fprintf(&many, "H%d,%d,%d\n", i, i, i*i)
	}
	version = number(anwen.upload("many.csv", many.String(), "Many"), "version_id")
	document = plotted("kg", "ha", nil)
	if got, _, _ := strings.Cut(rows(share(nil)), "\n"); got != "kg,ha" {
		t.Errorf("without being chosen, the heading goes out: %s", got)
	}
	if got := rows(share([]string{"kg", "ha", "hive"})); !strings.HasPrefix(got, "hive,kg,ha\nH0,0,0\n") {
		t.Errorf("with the heading chosen, %.40q goes out", got)
	}
	row := want[map[string]string](nobody, 200, "GET", "/s/"+key+"/rows/2", nil)
	if fmt.Sprint(row) != "map[district:Brindle ha:30 kg:3]" {
		t.Errorf("the second mark is %v", row)
	}
	want[object](nobody, 404, "GET", "/s/"+key+"/rows/4", nil)
}

// TestAFullDiskRefusesWritesAndGoesOnReading has the disk say that it is full.
func TestAFullDiskRefusesWritesAndGoesOnReading(t *testing.T) {
	free := int64(1 << 40)
	limits := limitsOf(0, 0, 0)
	limits.Room = func() (int64, error) { return free, nil }
	limits.SpaceRows = 10
	anwen, _, nobody := worldWith(t, limits, Config{})
	dataset := anwen.bring()
	version := number(dataset, "version_id")
	document := plotted("kg", "district", nil)
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version, "document": document})
	share := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": version, "document": document, "title": "t"})
	writes := func(status int) {
		t.Helper()
		for _, write := range []struct {
			path string
			body any
		}{{"/api/uploads?name=a.csv", oddFile}, {"/api/charts", object{"version_id": version, "document": document}},
			{"/api/shares", object{"version_id": version, "document": document, "title": "t"}},
			{fmt.Sprintf("/api/charts/%d/steps", number(chart, "id")), object{"parent_id": chart["head_step_id"], "document": document}},
			{fmt.Sprintf("/api/versions/%d/prepared", version), object{"typed": "keep kg > 2"}}} {
			answer := want[object](anwen, status, "POST", write.path, write.body)
			if status == 507 && (!strings.Contains(fmt.Sprint(answer["message"]), "full") || answer["advice"] == nil) {
				t.Errorf("%s is refused with %v", write.path, answer)
			}
		}
	}
	free = 1 << 20
	writes(507)
	want[[]object](anwen, 200, "GET", "/api/datasets", nil)
	if anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", version), object{"document": document}).Code != 200 ||
		nobody.send("GET", fmt.Sprintf("/s/%s/figure", share["key"]), nil).Code != 200 {
		t.Error("reading does not go on")
	}
	free = 1 << 40
	writes(200)
	quota := want[object](anwen, 507, "POST", fmt.Sprintf("/api/versions/%d/prepared", version),
		object{"typed": "keep kg > 1\nadd rows of odd\nadd rows of odd"})
	if !strings.Contains(fmt.Sprint(quota["message"], quota["advice"]), "LARK_SPACE_ROWS") {
		t.Errorf("the quota is told with %v", quota)
	}
}

// TestTwoServersTellTheTruth has two servers on one database: what one deletes, renames or
// keeps the other shows at once, and a file sent to one is kept on the other.
func TestTwoServersTellTheTruth(t *testing.T) {
	here, _, _ := world(t)
	there := here.onAnotherServer()
	preview := want[object](here, 200, "POST", "/api/uploads?name=a.csv", oddFile)
	dataset := want[object](there, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{"name": "Kept there"})
	version := number(dataset, "version_id")
	path := fmt.Sprintf("/api/versions/%d/figure", version)
	document := object{"document": plotted("kg", "district", nil)}
	for _, server := range []*visitor{here, there} {
		if server.send("POST", path, document).Code != 200 {
			t.Fatal("a server does not draw")
		}
	}
	want[object](there, 204, "PATCH", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), object{"name": "Renamed"})
	want[object](there, 204, "PUT", fmt.Sprintf("/api/datasets/%d/meanings", number(dataset, "id")), object{"column": "kg", "label": "Honey"})
	if list := want[[]object](here, 200, "GET", "/api/datasets", nil); list[0]["name"] != "Renamed" {
		t.Errorf("here it is called %v", list[0]["name"])
	}
	if !strings.Contains(here.send("POST", path, document).Body.String(), "Honey") {
		t.Error("here a meaning is not known")
	}
	want[object](there, 204, "DELETE", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)
	if code := here.send("POST", path, document).Code; code != 404 {
		t.Errorf("here a deleted dataset is drawn: %d", code)
	}
	// Of a file that both keep, one does.
	again := want[object](here, 200, "POST", "/api/uploads?name=a.csv", oddFile)
	options := object{"title_row": 2}
	want[object](there, 200, "PUT", fmt.Sprintf("/api/uploads/%s", again["key"]), options)
	kept := want[object](here, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", again["key"]), object{"name": "Twice"})
	if number(kept, "rows") != 3 {
		t.Errorf("how it was read there is not known here: %v rows", kept["rows"])
	}
	want[object](there, 404, "POST", fmt.Sprintf("/api/uploads/%s/keep", again["key"]), object{"name": "Twice"})
}

// TestALostDatabaseSignsNobodyOut closes the storage under a server.
func TestALostDatabaseSignsNobodyOut(t *testing.T) {
	anwen, _, nobody := world(t)
	share := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": anwen.bring()["version_id"],
		"document": plotted("kg", "district", nil), "title": "t"})
	anwen.loseDatabase()
	for _, path := range []string{"/api/me", "/api/datasets", "/ready"} {
		answer := anwen.send("GET", path, nil)
		if answer.Code != 503 || answer.Header().Get("Retry-After") == "" || !strings.Contains(answer.Body.String(),
			"the database does not answer") {
			t.Errorf("%s: %d %v %s", path, answer.Code, answer.Header(), answer.Body)
		}
	}
	r := httptest.NewRequest("GET", fmt.Sprintf("/s/%s", share["key"]), nil)
	r.Header.Set("Accept", "text/html")
	w := httptest.NewRecorder()
	nobody.handler.ServeHTTP(w, r)
	if w.Code != 503 || !strings.Contains(w.Body.String(), "<h1>The database does not answer just now</h1>") ||
		w.Header().Get("Retry-After") == "" {
		t.Errorf("a shared page: %d %s", w.Code, w.Body)
	}
	if alive := nobody.send("GET", "/health", nil).Code; alive != 200 {
		t.Errorf("health: %d", alive)
	}
}

// TestTricklingConnectionsAreLetGo holds callers to a least rate.
func TestTricklingConnectionsAreLetGo(t *testing.T) {
	anwen, _, _ := worldWith(t, limitsOf(0, 0, 0), Config{Grace: 300 * time.Millisecond, LeastRate: 1 << 20})
	server := httptest.NewServer(anwen.handler)
	defer server.Close()
	connection, err := net.Dial("tcp", server.Listener.Addr().String())
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = connection.Close() }()
	_, _ = fmt.Fprintf(connection, "POST /api/uploads?name=a.csv HTTP/1.1\r\nHost: x\r\nCookie: %s=%s\r\nContent-Length: 900000000\r\n\r\n",
		sessionCookie, anwen.cookie)
	begun := time.Now()
	go func() {
		for range 100 {
			if _, err := connection.Write([]byte("a")); err != nil {
				return
			}
			time.Sleep(50 * time.Millisecond)
		}
	}()
	_ = connection.SetReadDeadline(time.Now().Add(10 * time.Second))
	answer, _ := io.ReadAll(connection)
	if took := time.Since(begun); took > 4*time.Second || !bytes.Contains(answer, []byte("408")) {
		t.Errorf("let go after %v with %q", took, answer)
	}
}

// TestReadersAreBoundedByAddress asks for more of shared pages than one address may.
func TestReadersAreBoundedByAddress(t *testing.T) {
	_, _, nobody := worldWith(t, limitsOf(0, 0, 0), Config{ReaderRate: 5})
	seen := map[int]int{}
	for range 80 {
		answer := nobody.send("GET", "/s/none/figure", nil)
		seen[answer.Code]++
		if answer.Code == 429 && answer.Header().Get("Retry-After") == "" {
			t.Error("told to wait, and not how long")
		}
	}
	if seen[404] < 50 || seen[429] == 0 {
		t.Errorf("eighty requests are answered %v", seen)
	}
}

// TestASignInLinkIsAPageWithAButton holds that looking at a link does not use it up.
func TestASignInLinkIsAPageWithAButton(t *testing.T) {
	_, _, nobody := world(t)
	link := nobody.link()
	for range 3 { // as mail scanners look
		page := nobody.send("GET", link, nil)
		if page.Code != 200 || !strings.Contains(page.Body.String(), `<form method="post">`) || page.Header().Get("Set-Cookie") != "" {
			t.Errorf("looked at: %d %s", page.Code, page.Body)
		}
	}
	if used := nobody.send("POST", link, nil); used.Code != 303 || used.Header().Get("Set-Cookie") == "" {
		t.Errorf("pressed: %d", used.Code)
	}
	if again := nobody.send("POST", link, nil); again.Code != 401 {
		t.Errorf("pressed again: %d", again.Code)
	}
}

// TestNobodyCanTellAccountsApartByTime has somebody guess at an account with a password, one
// with links only, and none: a password is hashed for each.
func TestNobodyCanTellAccountsApartByTime(t *testing.T) {
	_, _, nobody := world(t)
	_ = nobody.link() // makes an account with links only
	quickest := map[string]time.Duration{}
	for range 3 {
		for _, email := range []string{"anwen@thornwick.example", "cerys@thornwick.example", "nobody@thornwick.example"} {
			begun := time.Now()
			want[object](nobody, 401, "POST", "/api/sign-in", object{"email": email, "password": "guess"})
			if took := time.Since(begun); quickest[email] == 0 || took < quickest[email] {
				quickest[email] = took
			}
		}
	}
	with := quickest["anwen@thornwick.example"]
	for email, took := range quickest {
		if took < with/3 || took > with*3 { // without a hash it is fifty times as quick
			t.Errorf("%s is refused in %v, an account with a password in %v", email, took, with)
		}
	}
}

type auditPage struct{ Entries []object }

// TestTheAuditTellsOwners holds what is kept of who did what.
func TestTheAuditTellsOwners(t *testing.T) {
	anwen, bram, nobody := world(t)
	dataset := anwen.bring()
	share := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": dataset["version_id"],
		"document": plotted("kg", "district", nil), "title": "<b>Shown</b>"})
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/shares/%d", number(share, "id")), nil)
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)
	want[object](nobody, 401, "POST", "/api/sign-in", object{"email": "anwen@thornwick.example", "password": "guess"})
	var did []string
	for _, entry := range want[auditPage](anwen, 200, "GET", "/api/audit", nil).Entries {
		did = append(did, fmt.Sprint(entry["did"], " ", entry["what"]))
		if entry["address"] != "192.0.2.1" && entry["did"] != "made a sign-in link for" {
			t.Errorf("from %v", entry)
		}
	}
	wanted := []string{"was refused to sign in with a wrong password", "deleted the dataset “Odd”",
		fmt.Sprintf("withdrew the share %d", number(share, "id")), "shared the chart “<b>Shown</b>”", "signed in with a link",
		"made a sign-in link for anwen@thornwick.example"}
	if !slices.Equal(did, wanted) {
		t.Errorf("the audit says %q", did)
	}
	for _, entry := range want[auditPage](bram, 200, "GET", "/api/audit", nil).Entries {
		if strings.Contains(fmt.Sprint(entry), "Odd") {
			t.Error("another space's audit is shown")
		}
	}
}
