package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
)

// TestChartsAreDrawnIntoFilesAndSmallPictures holds what each form begins with, how small
// small pictures are, and who may ask.
func TestChartsAreDrawnIntoFilesAndSmallPictures(t *testing.T) {
	anwen, bram, nobody := world(t)
	var rows strings.Builder
	rows.WriteString("kg,ha,district,day\n")
	for i := range 3000 {
		fmt.Fprintf(&rows, "%d.%d,%d,%s,2029-%02d-%02d\n", i%47, i%10, i*7%900+1, []string{"Tarn", "Low <Fen>", "Brindle"}[i%3], i%12+1, i%28+1)
	}
	version := number(anwen.upload("many.csv", rows.String(), "Many"), "version_id")
	drawing := fmt.Sprintf("/api/versions/%d/drawing", version)
	document := plotted("kg", "ha", object{"colour": "district", "title": "A/B: <script>"})
	for format, begins := range map[string]string{"svg": "<svg ", "png": "\x89PNG", "pdf": "%PDF-"} {
		answer := anwen.send("POST", drawing, object{"document": document, "format": format, "width": 500, "height": 400, "look": "ink",
			"fonts": "outlines"})
		if answer.Code != 200 || !strings.HasPrefix(answer.Body.String(), begins) ||
			!strings.Contains(answer.Header().Get("Content-Disposition"), "A-B- -script-."+format) {
			t.Errorf("%s: %d %s %.40q", format, answer.Code, answer.Header().Get("Content-Disposition"), answer.Body.String())
		}
		if strings.Contains(answer.Body.String(), "<script") {
			t.Errorf("%s holds a script", format)
		}
	}
	want[object](anwen, 422, "POST", drawing, object{"document": document, "format": "docx"})
	want[object](anwen, 422, "POST", drawing, object{"document": plotted("kg", "nothing", nil), "format": "svg"})
	want[object](bram, 404, "POST", drawing, object{"document": document, "format": "svg"})
	for _, more := range []object{{"layers": []object{{"mark": "dots"}}, "colour": "district"},
		{"x": object{"column": "day"}, "layers": []object{}}, {"y": object{"of": "count"}, "x": object{"column": "district"},
			"layers": []object{}},
		{"panels": object{"by": []string{"district"}}, "layers": []object{{"mark": "dots"},
			{"mark": "fit", "fit": object{"kind": "spline", "overall": true, "each": "district",
				"band": object{"kind": "confidence", "level": 95}}}}}} {
		kept := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": version, "document": plotted("kg", "ha", more)})
		path := fmt.Sprintf("/api/charts/%d/steps/%d/picture.svg?width=104&height=54", number(kept, "id"), number(kept, "head_step_id"))
		picture := anwen.send("GET", path, nil)
		if picture.Code != 200 || picture.Header().Get("Content-Type") != "image/svg+xml" || picture.Body.Len() > 6*1024 ||
			!strings.Contains(picture.Body.String(), "<path") {
			t.Errorf("%v: %d, %d bytes", more, picture.Code, picture.Body.Len())
		}
		drawn := anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", version),
			object{"document": kept["document"], "width": 900, "height": 500, "small": object{"width": 104, "height": 54}})
		if said, _ := json.Marshal(picture.Body.String()); !bytes.Contains(drawn.Body.Bytes(), append([]byte(`"small":`), said...)) {
			t.Errorf("%v: the figure comes with another small picture than the step has", more)
		}
		if again := anwen.send("GET", path, nil); again.Body.String() != picture.Body.String() {
			t.Error("the same picture is another")
		}
		if other, away := bram.send("GET", path, nil).Code, nobody.send("GET", path, nil).Code; other != 404 || away != 401 {
			t.Errorf("somebody else gets %d, nobody %d", other, away)
		}
	}
}
