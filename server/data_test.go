package server

import (
	"fmt"
	"net/url"
	"os"
	"slices"
	"strings"
	"testing"

	"copperlark/app"
)

// upload brings a file and keeps it under a name.
func (v *visitor) upload(file, content, name string) object {
	v.t.Helper()
	preview := want[object](v, 200, "POST", "/api/uploads?name="+file, content)
	return want[object](v, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{"name": name})
}

// values reads the rows of a view as text: "a b|c d".
func values(view object) string {
	var rows []string
	list, _ := view["values"].([]any)
	for _, row := range list {
		var cells []string
		for _, cell := range row.([]any) {
			cells = append(cells, cell.(string))
		}
		rows = append(rows, strings.Join(cells, " "))
	}
	return strings.Join(rows, "|")
}

func TestRowsAreLookedAtFromAllSides(t *testing.T) {
	anwen, bram, _ := world(t)
	version := number(anwen.bring(), "version_id") // A 1.5 Tarn, B 2.5 Tarn, C - Brindle, D 4 Brindle
	path := fmt.Sprintf("/api/versions/%d/view", version)
	for _, test := range []struct {
		request object
		want    string
		rows    int64
	}{
		{object{"count": 2}, "A 1.5 Tarn|B 2.5 Tarn", 4},
		{object{"from": 3, "count": 9}, "D 4 Brindle", 4},
		{object{"count": 9, "sort": "kg", "descending": true}, "D 4 Brindle|B 2.5 Tarn|A 1.5 Tarn|C  Brindle", 4},
		{object{"count": 9, "sort": "district"}, "C  Brindle|D 4 Brindle|A 1.5 Tarn|B 2.5 Tarn", 4},
		{object{"count": 9, "find": "BRIND"}, "C  Brindle|D 4 Brindle", 2},
		{object{"count": 9, "find": "2.5"}, "B 2.5 Tarn", 1},
		{object{"count": 9, "find": "nowhere"}, "", 0},
		{object{"count": 9, "typed": "keep kg > 2\nwork out x = kg * 2"}, "B 2.5 Tarn 5|D 4 Brindle 8", 2},
		{object{"count": 9, "typed": "work out x = kg * 2\nkeep kg > 2", "which": "left out"}, "A 1.5 Tarn|C  Brindle", 2},
		{object{"count": 9, "typed": "keep kg > 2\nkeep kgs > 2", "which": "left out", "sort": "kg"}, "A 1.5 Tarn|C  Brindle", 2},
	} {
		view := want[object](anwen, 200, "POST", path, test.request)
		if got := values(view); got != test.want || number(view, "rows") != test.rows {
			t.Errorf("%v: %s of %v, want %s", test.request, got, view["rows"], test.want)
		}
	}
	random := want[object](anwen, 200, "POST", path, object{"count": 9, "which": "random", "seed": 5})
	if number(random, "rows") != 4 || fmt.Sprint(random["numbers"]) != "[1 2 3 4]" {
		t.Errorf("random rows: %v", random)
	}
	leftOut := want[object](anwen, 200, "POST", path, object{"count": 9, "typed": "leave out missing\nsort by kg\nkeep kg > 2",
		"which": "left out"})
	if fmt.Sprint(leftOut["clauses"]) != "[2 0]" {
		t.Errorf("rows left out: %v", leftOut)
	}
	want[object](bram, 404, "POST", path, object{"count": 2})
	summary := want[app.ColumnSummaries](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/summary", version), object{"typed": "keep kg > 2"})
	if len(summary.Columns) != 3 || summary.Columns[1].N != 2 || summary.Elsewhere != nil {
		t.Errorf("summary of what is tried: %v", summary)
	}
}

// What people say of columns stands in charts and heads at once, and is taken back.
func TestMeaningsAreKeptWithTheDataset(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.bring()
	id, version := number(dataset, "id"), number(dataset, "version_id")
	path := fmt.Sprintf("/api/datasets/%d/meanings", id)
	want[object](anwen, 204, "PUT", path, object{"column": "kg", "label": "Honey yield", "unit": "kg per hive",
		"meaning": "weighed in autumn", "form": "decimals 3"})
	want[object](anwen, 422, "PUT", path, object{"column": "kg", "form": "decimals many"})
	want[object](anwen, 204, "PUT", path, object{"column": "district", "codes": object{"Tarn": "High Tarn", "Brindle": " "}})
	want[object](anwen, 422, "PUT", path, object{"column": "kgs"})
	want[object](anwen, 422, "PUT", path, object{"column": "district", "codes": object{"Tarn": "x", "Brindle": "x"}})
	want[object](bram, 404, "PUT", path, object{"column": "kg"})
	if list := want[[]object](anwen, 200, "GET", path, nil); len(list) != 3 || list[1]["label"] != "Honey yield" ||
		fmt.Sprint(list[2]["values"]) != "[Brindle Tarn]" {
		t.Errorf("meanings: %v", list)
	}
	figure := anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", version),
		object{"typed": "plot \"honey yield\" against district"}).Body.String()
	for _, words := range []string{"Honey yield", "kg per hive", "High Tarn", "2.000"} {
		if !strings.Contains(figure, words) {
			t.Errorf("the figure does not say %s", words)
		}
	}
	columns := want[object](anwen, 200, "GET", fmt.Sprintf("/api/datasets/%d", id), nil)["columns"].([]any)
	if head := columns[1].(object); head["label"] != "Honey yield" || head["meaning"] != "weighed in autumn" {
		t.Errorf("the head says %v", head)
	}
	// Formulas keep what stands in the file.
	tried := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/preparation", version),
		object{"typed": "keep district = 'Tarn' and kg > 2"})
	if number(tried, "rows") != 1 {
		t.Errorf("tried: %v", tried)
	}
	want[object](anwen, 204, "PUT", path, object{"column": "kg"})
	if list := want[[]object](anwen, 200, "GET", path, nil); list[1]["label"] != nil || list[2]["codes"] == nil {
		t.Errorf("a meaning that was taken back is there: %v", list)
	}
	imported := want[object](anwen, 200, "POST", path+"/file",
		"variable;description;unit\nkg;\"Honey; weighed\";kg\nDistrict;Where\nqueen;unknown\n")
	if fmt.Sprint(imported["taken"]) != "[kg district]" || fmt.Sprint(imported["unknown"]) != "[queen]" {
		t.Errorf("imported: %v", imported)
	}
	plain := want[object](anwen, 200, "POST", path+"/file", "hive,The hive\nkg,Honey\n")
	if fmt.Sprint(plain["taken"]) != "[hive kg]" {
		t.Errorf("imported without titles: %v", plain)
	}
	want[object](anwen, 422, "POST", path+"/file", "a,b\nc,d\n")
	want[object](anwen, 422, "POST", path+"/file", "only one column\n")
}

func TestWhereADatasetComesFromIsKept(t *testing.T) {
	anwen, bram, _ := world(t)
	path := fmt.Sprintf("/api/datasets/%d", number(anwen.bring(), "id"))
	want[object](anwen, 204, "PATCH", path, object{"name": " Hives ", "origin": "https://thornwick.example/hives"})
	want[object](anwen, 204, "PATCH", path, object{"about": "Weighed by hand."})
	for _, wrong := range []object{{"name": "  "}, {"origin": "javascript:alert(1)"}} {
		want[object](anwen, 422, "PATCH", path, wrong)
	}
	want[object](bram, 404, "PATCH", path, object{"name": "mine"})
	got := want[object](anwen, 200, "GET", path, nil)["dataset"].(object)
	if got["name"] != "Hives" || got["origin"] != "https://thornwick.example/hives" || got["about"] != "Weighed by hand." {
		t.Errorf("the dataset is %v", got)
	}
	// Readers of a shared chart see where it is from, and take its rows along.
	document := plotted("kg", "district", nil)
	share := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": got["version_id"], "document": document, "title": "Kept"})
	page := fmt.Sprintf("/s/%s", share["key"])
	if body := bram.send("GET", page, nil).Body.String(); !strings.Contains(body, "; from https://thornwick.example/hives") {
		t.Errorf("the page does not say where the table is from:\n%s", body)
	}
	if rows := bram.send("GET", page+"/table.csv", nil).Body.String(); rows != "kg,district\n1.5,Tarn\n2.5,Tarn\n4,Brindle\n" {
		t.Errorf("the rows are %q", rows)
	}
}

// Other datasets are reached by name; when the name means a newer version, what was
// computed with the older is not taken for it.
func TestDatasetsAreJoinedByName(t *testing.T) {
	anwen, bram, _ := world(t)
	version := number(anwen.bring(), "version_id")
	places := anwen.upload("places.csv", "district,height\nTarn,300\nLow Fen,5\n", "High places")
	try := func(v *visitor, typed string) object {
		return want[object](v, 200, "POST", fmt.Sprintf("/api/versions/%d/preparation", version), object{"typed": typed})
	}
	const typed = "join high_places by district keeping matched rows"
	tried := try(anwen, typed)
	if effect := tried["effects"].([]any)[0].(object); effect["words"] != "2 of 4 rows matched; 1 of 2 rows of high_places not used" ||
		number(tried, "rows") != 2 || number(tried, "left_out") != 2 {
		t.Errorf("joined: %v", tried)
	}
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", number(places, "version_id")),
		object{"typed": "work out height = height * 2"})
	if got := values(want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/view", version),
		object{"typed": typed, "count": 1})); got != "A 1.5 Tarn 600" {
		t.Errorf("after a newer version: %s", got)
	}
	if got := values(want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/view", version),
		object{"typed": "join 'High places' version 1 by district", "count": 1})); got != "A 1.5 Tarn 300" {
		t.Errorf("of the first version: %s", got)
	}
	for typed, message := range map[string]string{"join hgih_places by district": "there is High places",
		"join odd by hive = hives": "odd has no column hives", "join high_places version 7 by district": "has no version 7"} {
		if mistake, _ := try(anwen, typed)["mistake"].(object); mistake == nil || !strings.Contains(mistake["message"].(string), message) {
			t.Errorf("%s: %v", typed, mistake)
		}
	}
	theirs := number(bram.bring(), "version_id")
	foreign := want[object](bram, 200, "POST", fmt.Sprintf("/api/versions/%d/preparation", theirs), object{"typed": typed})
	if foreign["mistake"] == nil {
		t.Error("a dataset of another space was joined")
	}
}

func TestATableIsMadeFromNothing(t *testing.T) {
	anwen, _, _ := world(t)
	made := want[object](anwen, 200, "POST", "/api/datasets", object{"name": "Trial",
		"typed": "make 4 rows in each of 2 groups\nwork out x = uniform(0, 1)"})
	if number(made, "rows") != 8 || number(made, "columns") != 4 || number(made, "version") != 2 {
		t.Errorf("made: %v", made)
	}
	want[object](anwen, 422, "POST", "/api/datasets", object{"name": "Wrong", "typed": "make many rows"})
	if list := want[[]object](anwen, 200, "GET", "/api/datasets", nil); len(list) != 1 {
		t.Errorf("a table that could not be made left %d datasets", len(list))
	}
}

func TestWorkbooksShowTheirSheetsAndTablesLeaveAsParquet(t *testing.T) {
	anwen, _, _ := world(t)
	raw, err := os.ReadFile("../testdata/files/openpyxl.xlsx")
	if err != nil {
		t.Fatal(err)
	}
	preview := want[object](anwen, 200, "POST", "/api/uploads?name=checks.xlsx", string(raw))
	report := preview["report"].(object)
	if fmt.Sprint(report["sheets"]) != "[Notes Hive checks Prices]" || report["sheet"] != "Hive checks" || number(preview, "rows") != 4 {
		t.Errorf("the preview is %v", report)
	}
	again := want[object](anwen, 200, "PUT", fmt.Sprintf("/api/uploads/%s", preview["key"]), object{"sheet": "Prices"})
	if number(again, "rows") != 2 {
		t.Errorf("the other sheet has %v rows", again["rows"])
	}
	dataset := want[object](anwen, 200, "POST", fmt.Sprintf("/api/uploads/%s/keep", preview["key"]), object{"name": "Prices"})
	parquet := anwen.send("GET", fmt.Sprintf("/api/versions/%d/table/parquet", number(dataset, "version_id")), nil).Body.String()
	back := anwen.upload("back.parquet", parquet, "Back")
	rows := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/view", number(back, "version_id")), object{"count": 5})
	if got := values(rows); got != "2030 4.5|2031 5" {
		t.Errorf("came back as %s", got)
	}
	if functions := want[object](anwen, 200, "GET", "/api/language", nil)["functions"].([]any); !slices.ContainsFunc(functions,
		func(f any) bool { return f.(object)["name"] == "date_trunc" }) {
		t.Error("the language does not tell its functions")
	}
}

// TestAColumnMayBeCalledAnything asks for columns whose names are parts of addresses.
func TestAColumnMayBeCalledAnything(t *testing.T) {
	anwen, _, _ := world(t)
	version := number(anwen.upload("odd.csv", "kg/ha,a?b=c,50%,..\n1,2,3,4\n2,3,5,1\n3,1,4,2\n", "Odd"), "version_id")
	for _, name := range []string{"kg/ha", "a?b=c", "50%", ".."} {
		companions := want[[]object](anwen, 200, "GET", fmt.Sprintf("/api/versions/%d/goes-with/%s", version,
			strings.ReplaceAll(url.PathEscape(name), ".", "%2E")), nil)
		if len(companions) != 3 {
			t.Errorf("%d columns go with %s", len(companions), name)
		}
	}
}

// TestAPreparationIsCompleted types clauses: columns are those that the clauses above make.
func TestAPreparationIsCompleted(t *testing.T) {
	anwen, _, _ := world(t)
	version := number(anwen.upload("yield.csv", "district,kg\nTarn,1\nLow Fen,2\nTarn,3\n", "Yield of hives"), "version_id")
	for before, expected := range map[string]string{
		"keep district = 'T":                  "'Tarn'",
		"work out double = kg * 2\nsort by d": "district|double",
		"sort by di":                          "district",
		"join yield_of_hives":                 " version | by ",
		"keep ab":                             "abs(",
		"join yie":                            "yield_of_hives",
		"kee":                                 "keep top |keep columns |keep ",
		"sort by kg ":                         "descending |ascending |, ",
	} {
		next := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/preparation/completions", version), object{"before": before})
		var texts []string
		for _, s := range next["suggestions"].([]any) {
			texts = append(texts, s.(object)["text"].(string))
		}
		if got := strings.Join(texts, "|"); got != expected {
			t.Errorf("after %q: %s, want %s", before, got, expected)
		}
	}
	tried := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/preparation", version),
		object{"typed": "keep kg >= 2\nwork out double = kg * 2"})
	if spoken := fmt.Sprint(tried["spoken"]); !strings.Contains(spoken, "kg is at least 2") {
		t.Errorf("spoken %s", spoken)
	}
}
