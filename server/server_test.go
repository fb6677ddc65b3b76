package server

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"copperlark/app"
	"copperlark/internal/test/databases"
	"copperlark/store"
)

func TestMain(m *testing.M) { databases.Main(m) }

// visitor is somebody with or without a session.
type visitor struct {
	t       *testing.T
	handler http.Handler
	cookie  string
	key     string
	space   int64 // that is asked about; 0: the one where they were last
	kept    *store.Store
	app     *app.App

	database string // its address
	server   *Server
}

func quiet() *slog.Logger { return slog.New(slog.NewTextHandler(io.Discard, nil)) }

// limitsOf are limits of heavy work, with the usual ones where there is a zero.
func limitsOf(work int64, patience time.Duration, queue int) app.Limits {
	return app.Limits{FileBytes: 1 << 20, Work: work, Patience: patience, Queue: queue}
}

// world is a server with two people in two spaces, and somebody signed out.
func world(t *testing.T) (anwen, bram, nobody *visitor) {
	t.Helper()
	return worldWith(t, limitsOf(0, 0, 0), Config{})
}

// migrated makes a database ready, once for all tests.
func migrated(url string) error {
	kept, err := store.Open(context.Background(), url)
	if err == nil {
		kept.Close()
	}
	return err
}

func worldWith(t *testing.T, limits app.Limits, config Config) (anwen, bram, nobody *visitor) {
	t.Helper()
	database := databases.Prepared(t, migrated)
	kept, err := store.Open(t.Context(), database)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(kept.Close)
	stranger := serverOver(t, kept, limits, config)
	stranger.database = database
	come := func(email string) *visitor {
		person, err := kept.AddPerson(t.Context(), email, "Somebody", correctHorse(), email+"'s space")
		if err != nil {
			t.Fatal(err)
		}
		return stranger.byLink(person)
	}
	return come("anwen@thornwick.example"), come("bram@thornwick.example"), stranger
}

// correctHorse is what is stored of the password of everybody here: it is made once, for that takes its time.
var correctHorse = sync.OnceValue(func() string { return app.HashPassword("correct horse") })

// byLink is somebody with a session, by a link.
func (v *visitor) byLink(person app.Person) *visitor {
	v.t.Helper()
	token, err := v.app.SignInLink(v.t.Context(), person)
	if err != nil {
		v.t.Fatal(err)
	}
	one := *v
	answer := one.send("POST", "/sign-in/"+token, nil)
	if answer.Code != http.StatusSeeOther || len(answer.Result().Cookies()) == 0 {
		v.t.Fatalf("signing in: %d %s", answer.Code, answer.Body)
	}
	one.cookie = answer.Result().Cookies()[0].Value
	return &one
}

// signIn is somebody with a session, by their password.
func (v *visitor) signIn(email string) *visitor {
	v.t.Helper()
	one := *v
	one.cookie = ""
	answer := one.send("POST", "/api/sign-in", object{"email": email, "password": "correct horse"})
	if answer.Code != http.StatusNoContent {
		v.t.Fatalf("signing in: %d %s", answer.Code, answer.Body)
	}
	one.cookie = answer.Result().Cookies()[0].Value
	return &one
}

// come puts somebody into a space by its name, and signs them in.
func (v *visitor) come(name, space string, role app.Role) *visitor {
	v.t.Helper()
	email := name + "@thornwick.example"
	if _, _, err := v.kept.PersonByEmail(v.t.Context(), email); err != nil {
		if _, err := v.kept.AddPerson(v.t.Context(), email, name, correctHorse(), ""); err != nil {
			v.t.Fatal(err)
		}
	}
	person, err := v.app.PutIn(v.t.Context(), app.NewPerson{Email: email}, space, role, false)
	if err != nil {
		v.t.Fatal(err)
	}
	return v.byLink(person)
}

// anwensSpace is the name of the space of the first person of a world.
const anwensSpace = "anwen@thornwick.example's space"

// serverOver is a server over a storage, as somebody signed out sees it.
func serverOver(t *testing.T, kept *store.Store, limits app.Limits, config Config) *visitor {
	t.Helper()
	a := app.New(kept, limits, time.Now, quiet())
	s, err := New(a, fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}, "assets/reader.js": {Data: []byte("1")},
		"assets/reader.css": {Data: []byte("main{}")}}, config, quiet())
	if err != nil {
		t.Fatal(err)
	}
	handler, err := s.Handler()
	if err != nil {
		t.Fatal(err)
	}
	return &visitor{t: t, handler: handler, kept: kept, app: a, server: s}
}

// onAnotherServer is the same person at another server over the same database.
func (v *visitor) onAnotherServer() *visitor {
	other := serverOver(v.t, v.kept, limitsOf(0, 0, 0), Config{})
	other.cookie, other.database = v.cookie, v.database
	return other
}

// loseDatabase takes the storage away from under the server.
func (v *visitor) loseDatabase() { v.kept.Close() }

// link makes a sign-in link for somebody and gives its address.
func (v *visitor) link() string {
	v.t.Helper()
	person, err := v.app.AddPerson(v.t.Context(), "cerys@thornwick.example", "Cerys", "", "Cerys")
	if err != nil {
		v.t.Fatal(err)
	}
	token, err := v.app.SignInLink(v.t.Context(), person)
	if err != nil {
		v.t.Fatal(err)
	}
	return "/sign-in/" + token
}

func (v *visitor) send(method, path string, body any) *httptest.ResponseRecorder {
	v.t.Helper()
	var content io.Reader
	headers := map[string]string{}
	switch b := body.(type) {
	case nil:
	case string:
		content = strings.NewReader(b)
	default:
		text, err := json.Marshal(b)
		if err != nil {
			v.t.Fatal(err)
		}
		content = bytes.NewReader(text)
		headers["Content-Type"] = "application/json"
	}
	return v.sendAs(method, path, content, headers)
}

// sendAs sends a request with headers of its own beside who sends it.
func (v *visitor) sendAs(method, path string, content io.Reader, headers map[string]string) *httptest.ResponseRecorder {
	v.t.Helper()
	var sent bytes.Buffer
	if content != nil {
		content = io.TeeReader(content, &sent)
	}
	r := httptest.NewRequest(method, path, content)
	for name, value := range headers {
		r.Header.Set(name, value)
	}
	if v.key != "" {
		r.Header.Set("Authorization", "Bearer "+v.key)
	}
	if v.cookie != "" {
		r.AddCookie(&http.Cookie{Name: sessionCookie, Value: v.cookie})
	}
	if v.space != 0 {
		r.Header.Set(spaceHeader, strconv.FormatInt(v.space, 10))
	}
	w := httptest.NewRecorder()
	v.handler.ServeHTTP(w, r)
	v.asDescribed(method, path, sent.Bytes(), w)
	return w
}

// asDescribed holds every answer to its type and schema in the description.
func (v *visitor) asDescribed(method, path string, sent []byte, answer *httptest.ResponseRecorder) {
	v.t.Helper()
	described := v.server.api.OpenAPI()
	path, _, _ = strings.Cut(path, "?")
	for pattern, item := range described.Paths {
		operation := methods(item)[method]
		if operation == nil || !regexp.MustCompile("^"+pathParameter.ReplaceAllString(pattern, "[^/]+")+"$").MatchString(path) {
			continue
		}
		if answer.Code == http.StatusOK || answer.Code == http.StatusNoContent {
			v.record(method+" "+pattern, operation, sent, answer.Body.Bytes())
		}
		response := operation.Responses[strconv.Itoa(answer.Code)]
		if response == nil {
			response = operation.Responses["default"]
		}
		kind, _, _ := strings.Cut(answer.Header().Get("Content-Type"), ";")
		if response == nil || answer.Code == http.StatusNoContent ||
			answer.Code == http.StatusNotModified || answer.Code == http.StatusSeeOther || kind == "text/html" {
			return
		}
		content := response.Content[kind]
		if content == nil {
			v.t.Errorf("%s %s answers %d as %q, which its description does not say", method, path, answer.Code, kind)
			return
		}
		if kind != "application/json" && kind != problemType {
			return
		}
		var value any
		if err := json.Unmarshal(answer.Body.Bytes(), &value); err != nil {
			v.t.Errorf("%s %s: %v", method, path, err)
			return
		}
		var result huma.ValidateResult
		huma.Validate(described.Components.Schemas, content.Schema, huma.NewPathBuffer(nil, 0), huma.ModeReadFromServer, value, &result)
		for _, err := range result.Errors {
			v.t.Errorf("%s %s answers %d otherwise than its description says: %v in %.200s", method, path, answer.Code, err, answer.Body)
		}
		return
	}
}

// want sends and decodes, failing on another status.
func want[T any](v *visitor, status int, method, path string, body any) T {
	v.t.Helper()
	answer := v.send(method, path, body)
	if answer.Code != status {
		v.t.Fatalf("%s %s: %d, want %d: %s", method, path, answer.Code, status, answer.Body)
	}
	var value T
	if answer.Body.Len() > 0 && strings.Contains(answer.Header().Get("Content-Type"), "json") {
		if err := json.Unmarshal(answer.Body.Bytes(), &value); err != nil {
			v.t.Fatal(err)
		}
	}
	return value
}

type object = map[string]any

const oddFile = "hive;kg;district\nA;1,5;Tarn\nB;2,5;Tarn\nC;;Brindle\nD;4;Brindle\n"

// bring uploads and keeps a table and gives its dataset.
func (v *visitor) bring() object {
	v.t.Helper()
	preview := want[object](v, 200, "POST", "/api/uploads?name=..%2F..%2Fodd%3Cb%3E.csv", oddFile)
	return want[object](v, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{"name": "Odd"})
}

func number(o object, name string) int64 { v, _ := o[name].(float64); return int64(v) }

func TestFromAFileToASharedChartAndBack(t *testing.T) {
	anwen, bram, nobody := world(t)
	dataset := anwen.bring()
	version := number(dataset, "version_id")
	if dataset["file_name"] != "odd<b>.csv" || number(dataset, "rows") != 4 {
		t.Errorf("the dataset is %v", dataset)
	}
	figure := anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", version), object{"typed": "plot kg against district\nsize by kg"})
	if figure.Code != 200 || !bytes.HasPrefix(figure.Body.Bytes(), []byte("LARKFIG1")) {
		t.Fatalf("the figure: %d %s", figure.Code, figure.Body)
	}
	document := plotted("kg", "district", nil)
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version, "document": document})
	document["size"] = "kg"
	step := want[object](anwen, 200, "POST", fmt.Sprintf("/api/charts/%d/steps", number(chart, "id")),
		object{"parent_id": number(chart, "head_step_id"), "document": document})
	if step["words"] != "size: kg" {
		t.Errorf("the step says %q", step["words"])
	}
	share := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": version, "chart_id": chart["id"], "document": document,
		"title": "<script>alert(1)</script>", "text": "one\n\ntwo"})
	key := share["key"].(string)
	page := nobody.send("GET", "/s/"+key, nil)
	if page.Code != 200 || strings.Contains(page.Body.String(), "<script>alert") ||
		!strings.Contains(page.Body.String(), "&lt;script&gt;alert") {
		t.Errorf("the shared page: %d\n%s", page.Code, page.Body)
	}
	if policy := page.Header().Get("Content-Security-Policy"); !strings.Contains(policy, "default-src 'none'") ||
		strings.Contains(strings.ReplaceAll(policy, "'wasm-unsafe-eval'", ""), "unsafe") {
		t.Errorf("the policy of the shared page is %q", policy)
	}
	if shared := nobody.send("GET", "/s/"+key+"/figure", nil); shared.Code != 200 ||
		!bytes.HasPrefix(shared.Body.Bytes(), []byte("LARKFIG1")) {
		t.Errorf("the shared figure: %d", shared.Code)
	}
	row := want[map[string]string](nobody, 200, "GET", "/s/"+key+"/rows/1", nil)
	if len(row) != 2 || row["kg"] != "1.5" { // the mapped columns, no more
		t.Errorf("the shared row is %v", row)
	}
	// What belongs to another space is not there.
	for _, path := range []string{fmt.Sprintf("/api/datasets/%d", number(dataset, "id")),
		fmt.Sprintf("/api/versions/%d/rows?count=1", version), fmt.Sprintf("/api/charts/%d", number(chart, "id"))} {
		want[object](bram, 404, "GET", path, nil)
	}
	want[object](bram, 404, "DELETE", fmt.Sprintf("/api/shares/%d", number(share, "id")), nil)
	want[object](bram, 404, "POST", "/api/charts", object{"version_id": version, "document": document})
	want[object](bram, 404, "POST", fmt.Sprintf("/api/charts/%d/steps", number(chart, "id")),
		object{"parent_id": step["id"], "document": document})
	want[object](bram, 404, "DELETE", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)

	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/shares/%d", number(share, "id")), nil)
	for _, path := range []string{"", "/figure", "/rows/1"} {
		if gone := nobody.send("GET", "/s/"+key+path, nil); gone.Code != http.StatusGone {
			t.Errorf("after withdrawing, %q answers %d", path, gone.Code)
		}
	}
	if page := nobody.send("GET", "/s/"+key, nil); !strings.Contains(page.Body.String(), "This chart was withdrawn") {
		t.Error("the page of a withdrawn chart does not say so")
	}
}

// TestAFixedCopyOutlivesItsDataset holds that a share never changes.
func TestAFixedCopyOutlivesItsDataset(t *testing.T) {
	anwen, _, nobody := world(t)
	dataset := anwen.bring()
	share := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": dataset["version_id"],
		"document": plotted("kg", "district", nil), "title": "Kept"})
	path := fmt.Sprintf("/s/%s/figure", share["key"])
	before := nobody.send("GET", path, nil).Body.Bytes()
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)
	if after := nobody.send("GET", path, nil).Body.Bytes(); !bytes.Equal(before, after) || len(after) == 0 {
		t.Error("the fixed copy changed with its dataset")
	}
}

func TestBadInputGetsReasonsAndLeavesNothing(t *testing.T) {
	anwen, _, _ := world(t)
	for upload, reason := range map[string]string{"": "empty", "a\x00b\n": "zero bytes",
		"PK\x03\x04\x00\x00\x00\x00": "the file is a workbook", "a,b\n1,\"2": "line 2", strings.Repeat("x", 2<<20): "larger than 1 MB"} {
		answer := want[object](anwen, 422, "POST", "/api/uploads?name=x.csv", upload)
		if message, _ := answer["message"].(string); !strings.Contains(message, reason) || answer["advice"] == nil {
			t.Errorf("an upload of %.10q is refused with %v", upload, answer)
		}
	}
	if list := want[[]object](anwen, 200, "GET", "/api/datasets", nil); len(list) != 0 {
		t.Errorf("refused files left %d datasets", len(list))
	}
	version := number(anwen.bring(), "version_id")
	typed := want[object](anwen, 422, "POST", fmt.Sprintf("/api/versions/%d/figure", version), object{"typed": "plot kgs against district"})
	mistakes, _ := typed["mistakes"].([]any)
	if len(mistakes) != 1 || mistakes[0].(object)["advice"] != "did you mean kg?" {
		t.Errorf("a misspelt column gives %v", typed)
	}
	stated := want[object](anwen, 422, "POST", "/api/charts", object{"version_id": version,
		"document": plotted("kg", "district", object{"scales": object{"x": object{"scale": "log"}}})})
	if problems, _ := stated["problems"].([]any); len(problems) != 1 {
		t.Errorf("a log scale of groups gives %v", stated)
	}
	want[object](anwen, 422, "POST", "/api/shares", object{"version_id": version, "title": "  ", "document": plotted("kg", "district", nil)})
	want[object](anwen, 422, "POST", "/api/charts", object{"version_id": version,
		"document": plotted("kg", "district", object{"surprise": 1})})
}

func TestAPreparationIsTheNextVersion(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.bring()
	first := number(dataset, "version_id")
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": first, "document": plotted("kg", "district", nil)})
	tried := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/preparation", first),
		object{"typed": "leave out missing kg\nwork out double = kg * 2\nkeep dubble > 3"})
	mistake, _ := tried["mistake"].(object)
	if number(tried, "rows") != 3 || mistake == nil || mistake["advice"] != "did you mean double?" || number(mistake, "clause") != 2 {
		t.Errorf("tried: %v", tried["mistake"])
	}
	want[object](anwen, 422, "POST", fmt.Sprintf("/api/versions/%d/prepared", first), object{"typed": "keep dubble > 3"})
	want[object](bram, 404, "POST", fmt.Sprintf("/api/versions/%d/prepared", first), object{"typed": "sort by kg"})
	kept := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", first),
		object{"typed": "leave out missing kg\nwork out double = kg * 2\nkeep double > 3"})
	if number(kept, "number") != 2 || number(kept, "rows") != 2 || number(kept, "prepared_from") != first {
		t.Errorf("kept: %v", kept)
	}
	if versions := want[[]object](anwen, 200, "GET", fmt.Sprintf("/api/datasets/%d/versions", number(dataset, "id")),
		nil); len(versions) != 2 {
		t.Errorf("versions: %v", versions)
	}
	// The chart stays on its version until it is moved, and is not moved where it does not fit.
	path := fmt.Sprintf("/api/charts/%d", number(chart, "id"))
	want[object](anwen, 204, "PATCH", path, object{"version_id": kept["id"]})
	if moved := want[object](anwen, 200, "GET", path, nil); number(moved, "version_id") != number(kept, "id") {
		t.Errorf("the chart uses version %v", moved["version_id"])
	}
	grouped := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", first),
		object{"typed": "for each district: n = count()"})
	want[object](anwen, 422, "PATCH", path, object{"version_id": grouped["id"]})
}

func TestReadingAgainWithOtherOptions(t *testing.T) {
	anwen, _, _ := world(t)
	preview := want[object](anwen, 200, "POST", "/api/uploads?name=x.csv", "title above\na,b,c\n1,2,3\n4,5,6\n")
	again := want[object](anwen, 200, "PUT", fmt.Sprintf("/api/uploads/%s", preview["key"]),
		object{"title_row": 2, "keep": []string{"c", "a"}})
	if columns := again["columns"].([]any); len(columns) != 2 || columns[0].(object)["name"] != "c" || number(again, "rows") != 2 {
		t.Errorf("read again: %v", again)
	}
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/uploads/%s", preview["key"]), nil)
	want[object](anwen, 404, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{})
}

func TestDownloadsAreHarmless(t *testing.T) {
	anwen, bram, _ := world(t)
	preview := want[object](anwen, 200, "POST", "/api/uploads?name=x.csv", "name,kg\n=1+1,2\n\"a,\"\"b\",-3\n@x,\n")
	dataset := want[object](anwen, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]),
		object{"name": "Ölüm \"x\"\r\nSet-Cookie: a=b"})
	path := fmt.Sprintf("/api/versions/%d/table/", number(dataset, "version_id"))
	file := anwen.send("GET", path+"csv", nil)
	if got := file.Body.String(); got != "name,kg\n'=1+1,2\n\"a,\"\"b\",-3\n'@x,\n" || file.Header().Get("Set-Cookie") != "" ||
		strings.ContainsAny(file.Header().Get("Content-Disposition"), "\r\n") {
		t.Errorf("got %q, %v", got, file.Header())
	}
	if got := anwen.send("GET", path+"jsonl",
		nil).Body.String(); got != "{\"name\":\"=1+1\",\"kg\":2}\n{\"name\":\"a,\\\"b\",\"kg\":-3}\n{\"name\":\"@x\",\"kg\":null}\n" {
		t.Errorf("got %q", got)
	}
	want[object](bram, 404, "GET", path+"csv", nil)
	want[object](anwen, 404, "GET", path+"exe", nil)
}

func TestSignIn(t *testing.T) {
	anwen, _, nobody := world(t)
	cookie := nobody.send("POST", "/api/sign-in", object{"email": "anwen@thornwick.example",
		"password": "correct horse"}).Result().Cookies()[0]
	if !cookie.HttpOnly || cookie.SameSite != http.SameSiteLaxMode {
		t.Errorf("the cookie is %v", cookie)
	}
	for range 5 {
		want[object](nobody, 401, "POST", "/api/sign-in", object{"email": "anwen@thornwick.example", "password": "guess"})
	}
	// Guessing makes the owner wait a little, and never locks them out.
	want[object](nobody, 204, "POST", "/api/sign-in", object{"email": "anwen@thornwick.example", "password": "correct horse"})
	want[object](anwen, 204, "POST", "/api/sign-out", nil)
	want[object](anwen, 401, "GET", "/api/me", nil)
}

func TestCrossSiteRequestsAreRefused(t *testing.T) {
	anwen, _, _ := world(t)
	r := httptest.NewRequest("POST", "/api/sign-out", nil)
	r.AddCookie(&http.Cookie{Name: sessionCookie, Value: anwen.cookie})
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	w := httptest.NewRecorder()
	anwen.handler.ServeHTTP(w, r)
	if w.Code != http.StatusForbidden {
		t.Errorf("a cross-site request is answered %d", w.Code)
	}
	want[object](anwen, 200, "GET", "/api/me", nil)
}

// plotted is a document of two columns, drawn as dots, with more that is said.
func plotted(y, x string, more object) object {
	d := object{"version": 2, "y": object{"column": y}, "x": object{"column": x}, "layers": []object{{"mark": "dots"}}}
	for name, value := range more {
		d[name] = value
	}
	return d
}

// TestANameFollowsTheSentenceUntilSomebodySaysOne holds what a chart is called.
func TestANameFollowsTheSentenceUntilSomebodySaysOne(t *testing.T) {
	anwen, _, _ := world(t)
	version := number(anwen.bring(), "version_id")
	document := plotted("kg", "district", nil)
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version, "document": document})
	path := fmt.Sprintf("/api/charts/%d", number(chart, "id"))
	called := func(name string, named bool) {
		t.Helper()
		if now := want[object](anwen, 200, "GET", path, nil); now["name"] != name || now["named"] != named {
			t.Errorf("it is called %v (%v), not %s", now["name"], now["named"], name)
		}
	}
	called("kg against district", false)
	document["colour"] = "district"
	want[object](anwen, 200, "POST", path+"/steps", object{"parent_id": chart["head_step_id"], "document": document})
	called("kg against district, by district", false)
	want[object](anwen, 204, "PATCH", path, object{"step_id": chart["head_step_id"]})
	called("kg against district", false)
	want[object](anwen, 422, "PATCH", path, object{"name": "   "})
	want[object](anwen, 204, "PATCH", path, object{"name": " Honey <b>by</b> place "})
	want[object](anwen, 200, "POST", path+"/steps", object{"parent_id": chart["head_step_id"], "document": document})
	called("Honey <b>by</b> place", true)
}

func TestChartsOfASpaceBeginWithItsStyle(t *testing.T) {
	anwen, bram, _ := world(t)
	version := number(anwen.bring(), "version_id")
	document := plotted("kg", "district", nil)
	document["look"], document["palette"], document["colour"] = "ruled", []string{"#b4531a", "#b5541b"}, "district"
	set := want[object](anwen, 200, "PUT", "/api/style", object{"document": document})
	if says, _ := json.Marshal(set["says"]); string(says) != `["palette '#b4531a', '#b5541b'","look ruled"]` || len(set["hard"].([]any)) != 1 {
		t.Errorf("the style is %v", set)
	}
	if first := want[object](anwen, 200, "GET", fmt.Sprintf("/api/versions/%d/first-look", version),
		nil); first["manner"].(object)["look"] != "ruled" || first["colour"] != nil {
		t.Errorf("a new chart begins with %v", first)
	}
	if others := want[object](bram, 200, "GET", "/api/style", nil); len(others["says"].([]any)) != 0 {
		t.Errorf("another space has %v", others)
	}
	document["palette"] = []string{"red"}
	want[object](anwen, 422, "PUT", "/api/style", object{"document": document})
	want[object](anwen, 200, "PUT", "/api/style", object{"document": plotted("kg", "district", nil)})
	if first := want[object](anwen, 200, "GET", fmt.Sprintf("/api/versions/%d/first-look", version), nil); first["manner"] != nil {
		t.Errorf("back to the usual looks: %v", first)
	}
}
