package server

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
)

// TestRowsSetAsideAreUnseenUntilTheyAreAsked holds that no answer tells of them, that a chart
// asks once, and that readers of a share are told.
func TestRowsSetAsideAreUnseenUntilTheyAreAsked(t *testing.T) {
	anwen, bram, nobody := world(t)
	source := rand.New(rand.NewPCG(4, 4))
	var file strings.Builder
	file.WriteString("name,x,y,g\n")
	for i := range 600 {
		g := i % 3
		x := float64(g)*3 + source.NormFloat64()
		fmt.Fprintf(&file, "row-%04d,%.3f,%.3f,%s\n", i, x, -4*float64(g)+2*(x-3*float64(g))+source.NormFloat64(), []string{"a", "b", "c"}[g])
	}
	dataset := anwen.upload("rows.csv", file.String(), "Rows")
	at := fmt.Sprintf("/api/datasets/%d", number(dataset, "id"))
	version := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", number(dataset, "version_id")),
		object{"typed": "set aside 25% of rows"})
	shown := number(version, "rows")
	if shown < 400 || shown > 500 || want[object](anwen, 200, "GET", at, nil)["dataset"].(object)["aside"] != true {
		t.Fatalf("%d rows are shown", shown)
	}
	left := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/view", number(dataset, "version_id")),
		object{"typed": "set aside 25% of rows", "which": "left out", "count": 10})
	if rows := number(left, "rows"); rows != 0 {
		t.Errorf("rows set aside are shown: %v", rows)
	}
	document := plotted("y", "x", nil)
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version["id"], "document": document})
	asked := fmt.Sprintf("/api/charts/%d/asked", number(chart, "id"))
	want[object](bram, 404, "POST", asked, object{})
	answer := want[object](anwen, 200, "POST", asked, object{})
	words := answer["words"].(string)
	if number(answer, "rows") != 600-shown || !strings.Contains(words, "that nobody had seen say the same") ||
		!strings.HasSuffix(words, "G reverses the trend in them too.") {
		t.Errorf("the answer: %v", answer)
	}
	if again := want[object](anwen, 422, "POST", asked, object{}); !strings.Contains(again["message"].(string), "already") {
		t.Errorf("asked again: %v", again)
	}
	if kept := want[object](anwen, 200, "GET", fmt.Sprintf("/api/charts/%d", number(chart, "id")),
		nil)["answer"].(object); kept["words"] != words || kept["by"] == "" {
		t.Errorf("kept: %v", kept)
	}
	for _, test := range []struct {
		where string
		told  bool
	}{{"", true}, {"x > 0", false}} { // another relation has not asked
		document["where"] = test.where
		share := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": version["id"], "chart_id": chart["id"],
			"document": document, "title": "It rises", "text": "Within."})
		if page := nobody.send("GET", "/s/"+share["key"].(string), nil).Body.String(); strings.Contains(page,
			"that nobody had seen") != test.told {
			t.Errorf("where %q: %s", test.where, page)
		}
	}
	plain := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": dataset["version_id"], "document": plotted("y", "x", nil)})
	if refused := want[object](anwen, 422, "POST", fmt.Sprintf("/api/charts/%d/asked", number(plain, "id")),
		object{}); !strings.Contains(refused["message"].(string), "no rows are set aside") {
		t.Errorf("nothing to ask: %v", refused)
	}
}
