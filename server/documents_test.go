package server

import (
	"fmt"
	"testing"
)

// TestDocumentsOfVersionOnePassTheSameDoor keeps a step as an older program said it.
func TestDocumentsOfVersionOnePassTheSameDoor(t *testing.T) {
	anwen, _, _ := world(t)
	version := number(anwen.bring(), "version_id")
	first := object{"version": 1, "y": "kg", "x": "kg", "log_x": true, "fits": []object{{"kind": "line", "overall": true}}, "x_axis": object{"title": "Frames"}}
	chart := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version, "document": first})
	steps := want[object](anwen, 200, "GET", fmt.Sprintf("/api/charts/%d", number(chart, "id")), nil)["steps"].([]any)
	document := steps[0].(object)["document"].(object)
	if x, layers := document["x"].(object)["column"], document["layers"].([]any); number(document, "version") != 2 || x != "kg" || len(layers) != 1 {
		t.Errorf("it is kept as %v", document)
	}
	if scale := document["scales"].(object)["x"].(object); scale["scale"] != "log" || scale["title"] != "Frames" {
		t.Errorf("its scale is kept as %v", scale)
	}
	want[object](anwen, 422, "POST", "/api/charts", object{"version_id": version, "document": object{"version": 1, "y": 7, "x": "frames"}})
}
