package server

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"copperlark/app"
)

// TestRowsAreCountedFromOne asks for rows as people count them, of a version and of a share, which somebody else copies.
func TestRowsAreCountedFromOne(t *testing.T) {
	anwen, bram, nobody := world(t)
	version := number(anwen.bring(), "version_id")
	at := fmt.Sprintf("/api/versions/%d", version)
	if row := want[map[string]string](anwen, 200, "GET", at+"/rows/2?columns=hive", nil); row["hive"] != "B" {
		t.Errorf("the second row is %v", row)
	}
	numbers := want[[][]*float64](anwen, 200, "POST", at+"/numbers", object{"rows": []int{1, 4}, "columns": []string{"kg"}})
	if len(numbers) != 1 || *numbers[0][0] != 1.5 || *numbers[0][1] != 4 {
		t.Errorf("the numbers of rows 1 and 4: %v", numbers)
	}
	share := want[object](anwen, 200, "POST", "/api/shares",
		object{"version_id": version, "document": plotted("kg", "hive", nil), "columns": []string{"hive", "kg"}, "title": "Hives", "text": ""})
	key := share["key"].(string)
	if row := want[map[string]string](nobody, 200, "GET", "/s/"+key+"/rows/1", nil); row["hive"] != "A" {
		t.Errorf("the first row that is shared is %v", row)
	}
	if copied := want[object](bram, 200, "POST", "/api/copies", object{"key": key}); number(copied, "chart_id") == 0 {
		t.Errorf("copied: %v", copied)
	}
	for _, path := range []string{at + "/rows/0", at + "/rows/5", "/s/" + key + "/rows/0", "/s/" + key + "/rows/5"} {
		if code := anwen.send("GET", path, nil).Code; code != 404 && code != 422 {
			t.Errorf("%s is answered %d", path, code)
		}
	}
	want[object](anwen, 422, "POST", at+"/numbers", object{"rows": []int{0}, "columns": []string{"kg"}})
}

// TestASentenceIsHelpedAlong asks what a line can go on with, what can take a place, what else could be said, and what a fit is
// without some rows.
func TestASentenceIsHelpedAlong(t *testing.T) {
	anwen, _, _ := world(t)
	at := fmt.Sprintf("/api/versions/%d/", number(anwen.bring(), "version_id"))
	going := want[app.Completion](anwen, 200, "POST", at+"completions", object{"before": "plot kg against dis"})
	if len(going.Suggestions) == 0 || !strings.Contains(fmt.Sprint(going.Suggestions), "district") {
		t.Errorf("“dis” goes on as %+v", going)
	}
	document := plotted("kg", "hive", object{"version": 3})
	menu := want[object](anwen, 200, "POST", at+"choices", object{"document": document, "slot": "x"})
	if choices, _ := menu["choices"].([]any); len(choices) < 3 || menu["title"] == "" {
		t.Errorf("x can be %v", menu)
	}
	if sayable := want[[]object](anwen, 200, "GET", at+"sayable", nil); len(sayable) < 20 {
		t.Errorf("%d things can be said", len(sayable))
	}
	file := "x,y\n"
	for i := range 12 {
		file += fmt.Sprintf("%d,%d\n", i, 2*i+i%3)
	}
	brought := want[struct{ Dataset object }](anwen.withKey(nil, app.ScopeMake), 200, "POST", "/api/v1/datasets?name=Line", file)
	fitted := plotted("y", "x", object{"version": 3, "layers": []object{{"mark": "dots"}, {"mark": "fit", "fit": object{"kind": "line"}}}})
	both := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/with-and-without", number(brought.Dataset, "version_id")),
		object{"document": fitted, "rows": []int{12}})
	if lines, _ := both["lines"].([]any); len(lines) != 3 {
		t.Errorf("with and without a row: %v", both)
	}
}

// TestAPageByKey makes a page of Markdown, reads it, makes it again, and shares it.
func TestAPageByKey(t *testing.T) {
	anwen, _, _ := world(t)
	script := anwen.withKey(nil, app.ScopeRead, app.ScopeMake, app.ScopeShare)
	anwen.bring()
	markdown := "# Honey of the valley\n\nFour hives.\n\n```lark Odd\nplot kg against hive\n```\n"
	made := want[object](script, 200, "POST", "/api/v1/pages", object{"markdown": markdown})
	at := fmt.Sprintf("/api/v1/pages/%d", number(made, "id"))
	if made["title"] != "Honey of the valley" || number(made, "charts_made") != 1 {
		t.Errorf("made: %v", made)
	}
	want[object](script, 200, "GET", at, nil)
	again := want[object](script, 200, "PUT", at, object{"markdown": strings.Replace(markdown, "Four hives", "The same four", 1)})
	if number(again, "charts_made") != 0 {
		t.Errorf("made again: %v", again)
	}
	want[object](script, 200, "POST", at+"/share", object{})
}

// TestWhatIsOnesOwn changes a name, makes a space, is told of an invitation, builds a table, and sets up a second factor by its code.
func TestWhatIsOnesOwn(t *testing.T) {
	anwen, bram, nobody := world(t)
	want[object](anwen, 204, "PATCH", "/api/me", object{"name": "Anwen Penhallow"})
	if me := want[object](anwen, 200, "GET", "/api/me", nil); me["name"] != "Anwen Penhallow" {
		t.Errorf("named: %v", me)
	}
	if space := want[object](bram, 200, "POST", "/api/spaces", object{"name": "Tarn hives"}); space["role"] != "owner" {
		t.Errorf("a space of one's own: %v", space)
	}
	invitation := want[object](anwen, 200, "POST", "/api/invitations", object{"role": "reader", "uses": 5, "days": 7})
	link, _ := invitation["key"].(string)
	if invited := want[object](nobody, 200, "GET", "/api/invited/"+link, nil); invited["role"] != "reader" {
		t.Errorf("invited: %v", invited)
	}
	groups := []object{{"name": "Tarn", "x": 2, "y": 3, "spread": 1}, {"name": "Brindle", "x": 4, "y": 2, "spread": 1}}
	wanted := object{"rows": 40, "slope": 0.8, "noise": 1, "width": 6, "height": 4, "groups": groups}
	if built := anwen.send("POST", "/api/built", wanted); built.Code != 200 || built.Body.Len() == 0 {
		t.Errorf("built: %d %s", built.Code, built.Body)
	}
	begun := want[object](anwen, 200, "POST", "/api/me/factor", object{"password": "correct horse"})
	code, err := totp.GenerateCode(begun["secret"].(string), time.Now())
	if err != nil {
		t.Fatal(err)
	}
	want[object](anwen, 401, "POST", "/api/me/factor/confirm", object{"code": "000000"})
	if codes := want[[]string](anwen, 200, "POST", "/api/me/factor/confirm", object{"code": code}); len(codes) < 5 {
		t.Errorf("%d recovery codes", len(codes))
	} else {
		want[object](anwen, 204, "POST", "/api/me/factor/drop", object{"password": "correct horse", "code": codes[0]})
	}
}
