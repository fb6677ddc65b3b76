package server

import (
	"fmt"
	"strings"
	"testing"
)

// TestGroupsEditsAndOverlaysStayInTheirSpace, and do what they say: groups are counted after a preparation, cells and columns
// become the next version, prepared as before, and another dataset of the space is offered over a chart.
func TestGroupsEditsAndOverlaysStayInTheirSpace(t *testing.T) {
	anwen, bram, _ := world(t)
	bring := func(v *visitor, name, content string) (id, version int) {
		key := v.read(name+".csv", content)
		dataset := want[object](v, 200, "POST", "/api/uploads/"+key+"/keep", object{"name": name})
		return int(number(dataset, "id")), int(number(dataset, "version_id"))
	}
	id, version := bring(anwen, "Hives", "place,kg,day\nTarn,1,5\nTarn,2,9\nBrindle,3,7\n")
	bring(anwen, "Targets", "kg,day\n4,5\n5,6\n6,7\n")
	bring(bram, "Planted", "kg,day\n1,2\n3,4\n")

	groups := fmt.Sprintf("/api/versions/%d/groups", version)
	counted := want[object](anwen, 200, "POST", groups, object{"typed": "keep kg > 1", "column": "place"})
	if got := fmt.Sprint(counted["groups"], counted["rows"]); got != "[map[count:1 name:Brindle] map[count:1 name:Tarn]] 2" &&
		got != "[map[count:1 name:Tarn] map[count:1 name:Brindle]] 2" {
		t.Error(got)
	}
	want[object](anwen, 422, "POST", groups, object{"typed": "", "column": "kg"})
	want[object](bram, 404, "POST", groups, object{"typed": "", "column": "place"})

	row := fmt.Sprintf("/api/datasets/%d/one-row", id)
	want[object](bram, 404, "GET", row, nil)
	if got := want[object](anwen, 200, "GET", row, nil)["words"]; got != "one day" {
		t.Error(got)
	}
	// Words that name a column that stays at home stay there, too.
	for said, goes := range map[string]bool{"one place in one day": false, "one day": true} {
		want[object](anwen, 204, "PATCH", fmt.Sprintf("/api/datasets/%d", id), object{"one_row": said})
		shared := want[object](anwen, 200, "POST", "/api/shares",
			object{"version_id": version, "document": plotted("kg", "day", object{}), "title": "T"})
		page := anwen.send("GET", "/s/"+shared["key"].(string), nil).Body.String()
		if strings.Contains(page, said) != goes || strings.Contains(page, "place") {
			t.Errorf("%q: %v", said, page)
		}
	}
	document := plotted("kg", "day", object{})
	additions := fmt.Sprintf("/api/versions/%d/additions", version)
	offered := fmt.Sprint(want[[]object](anwen, 200, "POST", additions, object{"document": document}))
	if !strings.Contains(offered, "also plot kg against day of “Targets”") || strings.Contains(offered, "Planted") {
		t.Error(offered)
	}

	edited := fmt.Sprintf("/api/datasets/%d/edited", id)
	cells := object{"cells": []object{{"row": 1, "column": "kg", "value": "9.5"}}}
	want[object](bram, 404, "POST", edited, cells)
	want[object](anwen, 422, "POST", edited, object{"cells": []object{{"row": 1, "column": "kg", "value": "much"}}})
	want[object](anwen, 422, "POST", edited, object{"beside": "mites\n1\n"})
	kept := want[object](anwen, 200, "POST", edited, cells)
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", int(number(kept, "id"))), object{"typed": "keep kg > 2"})
	last := want[object](anwen, 200, "POST", edited, object{"beside": "mites\n1\n2\n3\n"})
	if number(last, "rows") != 2 || number(last, "number") != 5 { // the file with its column, and what the preparation makes of it
		t.Error(last)
	}
	rows := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/view", int(number(last, "id"))),
		object{"typed": "", "which": "all", "count": 10})
	if got := fmt.Sprint(rows["values"]); got != "[[Tarn 9.5 5 1] [Brindle 3 7 3]]" {
		t.Error(got)
	}
}
