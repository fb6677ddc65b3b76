package server

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"

	"copperlark/app"
	"copperlark/internal/fetch"
	"copperlark/internal/seal"
)

// scalesFile is a table of so many rows.
func scalesFile(rows int, head string, more float64) string {
	out := head + "\n"
	for i := range rows {
		out += fmt.Sprintf("h%d,%.1f\n", i, float64(i)+more)
	}
	return out
}

// TestAFileComesAgain from a folder: unchanged, written anew with the same rows, with other rows, with other columns and with far fewer
// rows, which stop it until somebody says so; prepared as before; asked by the clock once for all that was missed.
func TestAFileComesAgain(t *testing.T) {
	anwen, bram, _ := world(t)
	folder := t.TempDir()
	at := filepath.Join(folder, "scales.csv")
	write := func(content string) {
		t.Helper()
		if err := os.WriteFile(at, []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	write(scalesFile(20, "hive,kg", 0))
	dataset := anwen.keep("Scales", scalesFile(20, "hive,kg", 0))
	id := number(dataset, "id")
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", number(dataset, "version_id")),
		object{"typed": "work out pounds = kg * 2.2"})
	origin := fmt.Sprintf("/api/datasets/%d/origin", id)
	if code := anwen.send("PUT", origin, object{"place": "folder:harvest/scales.csv", "every": "hour"}).Code; code != 422 {
		t.Errorf("where nothing is named: %d", code)
	}
	anwen.app.Reach(app.Outside{Fetch: fetch.New(map[string]string{"harvest": folder}, nil, nil)})
	if places := want[app.OriginPlaces](anwen, 200, "GET", "/api/origins", nil); fmt.Sprint(places.Folders) != "map[harvest:[scales.csv]]" ||
		places.Secrets {
		t.Errorf("the places: %+v", places)
	}
	for _, place := range []string{"folder:harvest/../x", "folder:other/scales.csv", "https://data.example/x.csv", "/etc/passwd", ""} {
		if place == "folder:harvest/../x" {
			continue // the folder itself refuses it, when it is asked
		}
		if code := anwen.send("PUT", origin, object{"place": place, "every": "never"}).Code; code != 422 {
			t.Errorf("%q is answered %d", place, code)
		}
	}
	want[app.Origin](anwen, 200, "PUT", origin, object{"place": "folder:harvest/scales.csv", "every": "never"})
	ask := func(nevertheless bool) app.OriginRun {
		t.Helper()
		o := want[app.Origin](anwen, 200, "POST", origin+"/asked", object{"nevertheless": nevertheless})
		return o.Runs[0]
	}
	check := func(name string, run app.OriginRun, outcome, words string) {
		t.Helper()
		if run.Outcome != outcome || !strings.Contains(run.Words, words) {
			t.Errorf("%s: %s, %s", name, run.Outcome, run.Words)
		}
	}
	check("the same rows", ask(false), "same", "same rows")
	check("the same file", ask(false), "same", "read last")
	write(scalesFile(20, "hive,kg", 5))
	check("other numbers", ask(false), "new", "20 rows")
	if kept := want[object](anwen, 200, "GET", fmt.Sprintf("/api/datasets/%d", id), nil); number(kept["dataset"].(object), "columns") != 3 {
		t.Errorf("it is not prepared as before: %v", kept["dataset"])
	}
	write(scalesFile(20, "hive,weight", 5))
	check("another column", ask(false), "stopped", "columns that are gone: kg; columns that came: weight")
	write(scalesFile(9, "hive,kg", 5))
	check("far fewer rows", ask(false), "stopped", "9 rows, where there were 20")
	if o := want[app.Origin](anwen, 200, "GET", origin, nil); o.Stopped == "" || o.NextAt != nil {
		t.Errorf("it stopped: %+v", o)
	}
	check("nevertheless", ask(true), "new", "9 rows")
	write("")
	check("an empty file", ask(false), "failed", "")
	if err := os.Remove(at); err != nil {
		t.Fatal(err)
	}
	check("no file", ask(false), "failed", "no such file")
	// By the clock: at once, and for what was missed once; two servers ask once.
	write(scalesFile(10, "hive,kg", 7))
	want[app.Origin](anwen, 200, "PUT", origin, object{"place": "folder:harvest/scales.csv", "every": "hour"})
	anwen.inDatabase(`update origins set next_at = now() - interval '9 hours'`)
	for range 2 {
		if err := anwen.app.AskOrigins(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	o := want[app.Origin](anwen, 200, "GET", origin, nil)
	if o.Runs[0].Outcome != "new" || o.Runs[0].By != "" || o.Runs[1].Outcome != "failed" || o.NextAt == nil {
		t.Errorf("by the clock: %+v", o)
	}
	for method, body := range map[string]object{"GET": nil, "PUT": {"place": "folder:harvest/scales.csv", "every": "never"}, "DELETE": nil} {
		want[object](bram, 404, method, origin, body)
	}
	script := anwen.withKey(nil, app.ScopeAppend)
	if o := want[app.Origin](script, 200, "POST", fmt.Sprintf("/api/v1/datasets/%d/asked", id), object{}); o.Runs[0].Outcome != "same" {
		t.Errorf("by key: %+v", o.Runs[0])
	}
	want[object](anwen, 204, "DELETE", origin, nil)
	want[object](anwen, 404, "GET", origin, nil)
}

// TestASecretIsToldToItsHostAlone is sealed, never shown, and forgotten where the place is another.
func TestASecretIsToldToItsHostAlone(t *testing.T) {
	anwen, _, _ := world(t)
	var told atomic.Value
	web := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		told.Store(r.Header.Get("Authorization"))
		_, _ = w.Write([]byte(scalesFile(20, "hive,kg", float64(len(r.URL.Path)))))
	}))
	defer web.Close()
	host, _ := url.Parse(web.URL)
	dataset := anwen.keep("Scales", scalesFile(20, "hive,kg", 0))
	origin := fmt.Sprintf("/api/datasets/%d/origin", number(dataset, "id"))
	fetcher := fetch.New(nil, []string{web.URL + "/open"}, []string{host.Host})
	anwen.app.Reach(app.Outside{Fetch: fetcher})
	secret := object{"place": web.URL + "/open/a.csv", "every": "never", "secret": "Bearer zzsecret"}
	if code := anwen.send("PUT", origin, secret).Code; code != 422 {
		t.Errorf("a secret where none can be kept: %d", code)
	}
	sealer, err := seal.New(strings.Repeat("k", 32))
	if err != nil {
		t.Fatal(err)
	}
	anwen.app.Reach(app.Outside{Fetch: fetcher, Seal: sealer})
	for _, answer := range []string{anwen.send("PUT", origin, secret).Body.String(), anwen.send("GET", origin, nil).Body.String(),
		anwen.send("POST", origin+"/asked", object{}).Body.String()} {
		if !strings.Contains(answer, `"has_secret":true`) || strings.Contains(answer, "zzsecret") {
			t.Errorf("the answer: %s", answer)
		}
	}
	if told.Load() != "Bearer zzsecret" {
		t.Errorf("the host was told %v", told.Load())
	}
	if n := anwen.inDatabase(`select from origins where position('zzsecret' in encode(secret, 'escape')) > 0`); n != 0 {
		t.Error("the secret stands in the database as it is")
	}
	// Another setting of the same place keeps it; another place forgets it.
	kept := object{"place": web.URL + "/open/a.csv", "every": "day"}
	if o := want[app.Origin](anwen, 200, "PUT", origin, kept); !o.HasSecret {
		t.Error("the secret was forgotten")
	}
	kept["place"] = web.URL + "/open/b.csv"
	if o := want[app.Origin](anwen, 200, "PUT", origin, kept); o.HasSecret {
		t.Error("the secret went to another place")
	}
	want[app.Origin](anwen, 200, "POST", origin+"/asked", object{})
	if told.Load() != "" {
		t.Errorf("the other place was told %v", told.Load())
	}
}
