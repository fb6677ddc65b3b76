package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"

	"copperlark/app"
)

// withKey is a script of somebody, with a key of some scopes.
func (v *visitor) withKey(more object, scopes ...app.Scope) *visitor {
	v.t.Helper()
	wanted := object{"name": "a script", "scopes": scopes, "days": 30}
	for name, value := range more {
		wanted[name] = value
	}
	script := *v
	script.cookie, script.key = "", want[object](v, 200, "POST", "/api/keys", wanted)["token"].(string)
	return &script
}

// TestKeysByScope asks every route as scripts with one scope each, and as a key where a session belongs.
func TestKeysByScope(t *testing.T) {
	anwen, _, nobody := world(t)
	dataset := anwen.bring()
	for _, scope := range app.Scopes {
		script := anwen.withKey(nil, scope.Scope)
		for who, names := range gateOf {
			if who == anyone {
				continue
			}
			for _, name := range names {
				method, path, _ := strings.Cut(name, " ")
				answer := script.send(method, pathParameter.ReplaceAllString(path, "999999999"), object{})
				told := answer.Body.String()
				switch stopped := strings.Contains(told, app.ErrScope.Error()) || strings.Contains(told, app.ErrNotSignedIn.Error()); {
				case who.key == scope.Scope && (stopped || answer.Code == http.StatusUnauthorized):
					t.Errorf("a key to %s is refused at %s: %d %s", scope.Scope, name, answer.Code, told)
				case who.key != scope.Scope && !stopped:
					t.Errorf("a key to %s asks %s: %d %s", scope.Scope, name, answer.Code, told)
				}
			}
		}
	}
	one := anwen.withKey(object{"dataset_id": number(dataset, "id")}, app.ScopeAppend)
	want[object](one, 403, "PUT", fmt.Sprintf("/api/v1/datasets/%d/rows?how=append", number(anwen.bring(), "id")), oddFile)
	want[object](one, 200, "PUT", fmt.Sprintf("/api/v1/datasets/%d/rows?how=append", number(dataset, "id")), oddFile)
	// A key goes with its person, and with what they may.
	mab := nobody.come("mab", anwensSpace, app.Maker)
	script := mab.withKey(nil, app.ScopeRead, app.ScopeMake)
	id := number(want[object](mab, 200, "GET", "/api/me", nil), "id")
	want[object](anwen, 204, "PATCH", fmt.Sprintf("/api/people/%d", id), object{"role": "reader"})
	want[object](script, 200, "GET", "/api/v1/datasets", nil)
	want[object](script, 403, "POST", "/api/v1/datasets?name=x", oddFile)
	want[object](mab, 422, "POST", "/api/keys", object{"name": "more", "scopes": []string{"make"}, "days": 1})
	if seen := want[[]object](mab, 200, "GET", "/api/keys", nil); len(seen) != 1 {
		t.Errorf("a reader sees the keys %v", seen)
	}
	all := want[[]object](anwen, 200, "GET", "/api/keys", nil)
	want[object](mab, 404, "DELETE", fmt.Sprintf("/api/keys/%d", number(all[len(all)-1], "id")), nil)
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/people/%d", id), nil)
	want[object](script, 401, "GET", "/api/v1/datasets", nil)
	key := anwen.withKey(nil, app.ScopeRead)
	for _, kept := range want[[]object](anwen, 200, "GET", "/api/keys", nil) {
		want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/keys/%d", number(kept, "id")), nil)
	}
	want[object](key, 401, "GET", "/api/v1", nil)
	key.key = "lark-key-guess"
	want[object](key, 401, "GET", "/api/v1", nil)
}

// TestAScriptDoesTheWholeJob brings a table, prepares it, charts it, takes numbers, picture and rows, shares it and adds rows.
func TestAScriptDoesTheWholeJob(t *testing.T) {
	anwen, _, nobody := world(t)
	script := anwen.withKey(nil, app.ScopeRead, app.ScopeAppend, app.ScopeMake, app.ScopeShare)
	file := "hive,x,y,district\n"
	for i := range 40 {
		file += fmt.Sprintf("H%d,%d,%g,%s\n", i, i, 3+2*float64(i)+float64(i%3), []string{"Tarn", "Brindle"}[i%2])
	}
	brought := want[struct {
		Dataset object
		Columns []object
		Report  object
	}](script, 200, "POST", "/api/v1/datasets?name=Trial&file=trial.csv", file)
	if brought.Dataset["name"] != "Trial" || len(brought.Columns) != 4 || brought.Report == nil {
		t.Errorf("brought: %+v", brought)
	}
	id := number(brought.Dataset, "id")
	prepared := want[object](script, 200, "POST", fmt.Sprintf("/api/v1/versions/%d/prepared", number(brought.Dataset, "version_id")),
		object{"typed": "keep x < 30"})
	made := want[object](script, 200, "POST", "/api/v1/charts", object{"version": prepared["id"], "typed": "plot y against x\nfit line"})
	if made["sentence"] == "" || !strings.HasPrefix(made["address"].(string), "http://example.com/in/") {
		t.Errorf("made: %v", made)
	}
	chart := fmt.Sprintf("/api/v1/charts/%d", number(made, "id"))
	numbers := want[app.ChartNumbers](script, 200, "GET", chart+"/numbers", nil)
	if len(numbers.Fits) != 1 || numbers.Rows != 30 || numbers.Of != 30 {
		t.Fatalf("numbers: %+v", numbers)
	}
	fit := numbers.Fits[0]
	if slope := fit.Terms[1]; fit.N != 30 || math.Abs(*slope.Value-2.0) > 0.02 || *slope.Low >= *slope.Value || *slope.P > 1e-9 ||
		*fit.Residual < 0.5 {
		t.Errorf("the fit: %+v", fit)
	}
	if len(numbers.Check.Findings) == 0 || numbers.Check.Findings[0].Overall == nil || numbers.Check.Rows != 30 {
		t.Errorf("the check: %+v", numbers.Check)
	}
	for ending, begins := range map[string]string{"svg": "<svg", "png": "\x89PNG", "pdf": "%PDF", "json": "{", "csv": "y,x\n",
		"arrow":   "\xff\xff\xff\xff",
		"parquet": "PAR1", "SVG": "<svg"} {
		answer := script.send("GET", chart+"."+ending, nil)
		if answer.Code != 200 ||
			!strings.HasPrefix(strings.TrimPrefix(answer.Body.String(), "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"), begins) {
			t.Errorf("%s: %d %.60q", ending, answer.Code, answer.Body)
		}
	}
	want[object](script, 422, "GET", chart+".exe", nil)
	want[object](script, 422, "GET", chart+".svg?width=wide", nil)
	want[object](script, 404, "GET", "/api/v1/charts/x.svg", nil)
	shared := want[object](script, 200, "POST", chart+"/share", object{})
	if page := nobody.send("GET", strings.TrimPrefix(shared["address"].(string), "http://example.com"), nil); page.Code != 200 {
		t.Errorf("the shared page: %d", page.Code)
	}
	renewed := want[app.Renewed](script, 200, "PUT", fmt.Sprintf("/api/v1/datasets/%d/rows?how=append&key=hive", id),
		"hive,x,y,district\nH3,3,99,Tarn\nNEW,5,6,Moss\n")
	if renewed.Added != 1 || renewed.Replaced != 1 || renewed.Rows != 41 || renewed.Version.Rows != 31 {
		t.Errorf("appended: %+v", renewed)
	}
	rows := script.send("GET", fmt.Sprintf("/api/v1/versions/%d.csv", renewed.Version.ID), nil).Body.String()
	if !strings.Contains(rows, "H3,3,99,Tarn\n") || !strings.Contains(rows, "NEW,5,6,Moss\n") || strings.Contains(rows, "H35") {
		t.Errorf("the rows after that: %s", rows)
	}
	refused := want[object](script, 422, "PUT", fmt.Sprintf("/api/v1/datasets/%d/rows?how=append", id), "hive,weight\nA,1\n")
	if refused["status"] != 422.0 || refused["title"] != refused["message"] || !strings.Contains(fmt.Sprint(refused["message"]), "weight") {
		t.Errorf("refused: %v", refused)
	}
	replaced := want[app.Renewed](script, 200, "PUT", fmt.Sprintf("/api/v1/datasets/%d/rows", id), file)
	if replaced.Rows != 40 || replaced.Version.Rows != 30 {
		t.Errorf("replaced: %+v", replaced)
	}
	want[object](script, 204, "DELETE", fmt.Sprintf("/api/v1/shares/%d", number(shared, "id")), nil)
	mistake := want[object](script, 422, "POST", "/api/v1/charts", object{"version": prepared["id"], "typed": "plot z against x"})
	if mistakes, is := mistake["mistakes"].([]any); !is || len(mistakes) == 0 {
		t.Errorf("a mistyped sentence: %v", mistake)
	}
	if asked := want[app.ChartNumbers](script, 200, "POST", "/api/v1/numbers",
		object{"version": prepared["id"], "typed": "plot y against x\nfit line"}); *asked.Fits[0].Terms[1].Value != *fit.Terms[1].Value {
		t.Errorf("the numbers of a chart that is not kept: %+v", asked.Fits)
	}
}

// TestWhatIsSentTwiceIsMadeOnce holds what an Idempotency-Key promises.
func TestWhatIsSentTwiceIsMadeOnce(t *testing.T) {
	anwen, _, _ := world(t)
	script := anwen.withKey(nil, app.ScopeRead, app.ScopeMake)
	version := number(anwen.bring(), "version_id")
	send := func(said string, body any) (int, string) {
		text, _ := json.Marshal(body)
		answer := script.sendAs(
			"POST",
			"/api/v1/charts",
			bytes.NewReader(text),
			map[string]string{"Idempotency-Key": said, "Content-Type": "application/json"},
		)
		return answer.Code, answer.Body.String()
	}
	wanted := object{"version": version, "typed": "plot kg against district"}
	code, first := send("one", wanted)
	again, second := send("one", wanted)
	if code != 200 || again != 200 || first != second {
		t.Errorf("sent twice: %d %s, %d %s", code, first, again, second)
	}
	if code, _ := send("one", object{"version": version, "typed": "plot kg against hive"}); code != 409 {
		t.Errorf("another request under the same words: %d", code)
	}
	if code, _ := send("wrong", object{"version": version, "typed": "plat"}); code != 422 {
		t.Errorf("a refusal: %d", code)
	}
	if code, _ := send(strings.Repeat("k", 300), wanted); code != 422 {
		t.Errorf("words that are too long: %d", code)
	}
	if list := want[app.Listed[KeptChart]](script, 200, "GET", "/api/v1/charts", nil); len(list.Items) != 1 {
		t.Errorf("%d charts were made", len(list.Items))
	}
}

// TestListsArePaged walks a list by its parts, and looks for names.
func TestListsArePaged(t *testing.T) {
	anwen, _, _ := world(t)
	script := anwen.withKey(nil, app.ScopeRead, app.ScopeMake)
	for i := range 7 {
		want[object](script, 200, "POST", fmt.Sprintf("/api/v1/datasets?name=Table+%d", i), oddFile)
	}
	var names []string
	for after, parts := int64(0), 0; parts == 0 || after != 0; parts++ {
		part := want[app.Listed[app.Dataset]](script, 200, "GET", fmt.Sprintf("/api/v1/datasets?limit=3&after=%d", after), nil)
		for _, d := range part.Items {
			names = append(names, d.Name)
		}
		if after = part.Next; parts > 5 {
			t.Fatal("the list does not end")
		}
	}
	if !slices.Equal(names, []string{"Table 6", "Table 5", "Table 4", "Table 3", "Table 2", "Table 1", "Table 0"}) {
		t.Errorf("in parts: %q", names)
	}
	if found := want[app.Listed[app.Dataset]](script, 200, "GET", "/api/v1/datasets?name=4+table", nil); len(found.Items) != 1 ||
		found.Next != 0 {
		t.Errorf("found: %+v", found)
	}
	want[object](script, 422, "GET", "/api/v1/datasets?limit=0", nil)
}

// TestCellsAreAsTheyAreForPrograms holds that a CSV guards a spreadsheet, and with ?plain nothing.
func TestCellsAreAsTheyAreForPrograms(t *testing.T) {
	anwen, _, _ := world(t)
	script := anwen.withKey(nil, app.ScopeRead, app.ScopeMake)
	brought := want[struct{ Dataset object }](script, 200, "POST", "/api/v1/datasets?name=x", "name,kg\n=1+1,2\n@x,3\n")
	version := fmt.Sprintf("/api/v1/versions/%d.csv", number(brought.Dataset, "version_id"))
	if guarded := script.send("GET", version, nil).Body.String(); guarded != "name,kg\n'=1+1,2\n'@x,3\n" {
		t.Errorf("guarded: %q", guarded)
	}
	if plain := script.send("GET", version+"?plain", nil).Body.String(); plain != "name,kg\n=1+1,2\n@x,3\n" {
		t.Errorf("plain: %q", plain)
	}
}
