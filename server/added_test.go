package server

import (
	"fmt"
	"slices"
	"testing"

	"copperlark/app"
)

// TestRowsAreAddedAtTheScreen tells what would become of them by each key, then keeps them; a preparation is made again.
func TestRowsAreAddedAtTheScreen(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.keep("Scales", scalesFile(20, "hive,kg", 0))
	id := number(dataset, "id")
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", number(dataset, "version_id")),
		object{"typed": "work out pounds = kg * 2.2"})
	at := fmt.Sprintf("/api/datasets/%d/files/%s/added", id, anwen.read("more.csv", "hive,kg\nh19,5.5\nh20,6.5\n"))
	for _, test := range []struct {
		keys            []string
		added, replaced int
	}{{nil, 2, 0}, {[]string{"hive"}, 1, 1}, {[]string{"hive", "kg"}, 2, 0}} {
		told := want[app.Renewed](anwen, 200, "POST", at, object{"keys": test.keys, "keep": false})
		if told.Added != test.added || told.Replaced != test.replaced || told.Version.ID != 0 || !slices.Equal(told.Apart, []string{"hive"}) {
			t.Errorf("by %v: %+v", test.keys, told)
		}
	}
	want[object](anwen, 422, "POST", at, object{"keys": []string{"altitude"}, "keep": true})
	few := fmt.Sprintf("/api/datasets/%d/files/%s/added", id, anwen.read("few.csv", "hive\nh21\n"))
	if told := want[app.Renewed](anwen, 200, "POST", few, object{"keep": false}); !slices.Equal(told.Lacks, []string{"kg"}) {
		t.Errorf("a file without weights: %+v", told)
	}
	want[object](bram, 404, "POST", at, object{"keep": false})
	kept := want[app.Renewed](anwen, 200, "POST", at, object{"keys": []string{"hive"}, "keep": true})
	if kept.Version.Number != 4 || kept.Version.Rows != 21 || len(kept.Version.Preparation) != 1 {
		t.Errorf("kept %+v", kept.Version)
	}
	want[object](anwen, 404, "POST", at, object{"keep": true}) // the file waits no longer
}

// TestOfVersionsOfADayTheLastStays where rows were added one after the other: with what was made of it, and what something stands on.
func TestOfVersionsOfADayTheLastStays(t *testing.T) {
	anwen, _, _ := world(t)
	dataset := anwen.keep("Scales", scalesFile(20, "hive,kg", 0))
	id := number(dataset, "id")
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", number(dataset, "version_id")),
		object{"typed": "work out pounds = kg * 2.2"})
	add := func(row int) app.Version {
		key := anwen.read("more.csv", fmt.Sprintf("hive,kg\nh%d,5.5\n", row))
		return want[app.Renewed](anwen, 200, "POST", fmt.Sprintf("/api/datasets/%d/files/%s/added", id, key), object{"keep": true}).Version
	}
	numbers := func() (list []int) {
		if err := anwen.app.Tidy(t.Context()); err != nil {
			t.Fatal(err)
		}
		for _, v := range want[[]app.Version](anwen, 200, "GET", fmt.Sprintf("/api/datasets/%d/versions", id), nil) {
			list = append(list, v.Number)
		}
		return list
	}
	add(20)
	charted := add(21)
	want[object](anwen, 200, "POST", "/api/charts", object{"version_id": charted.ID, "document": plotted("kg", "pounds", nil)})
	own := add(22)
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", own.PreparedFrom), object{"typed": "keep kg > 3"})
	add(23)
	add(24)
	if got := numbers(); len(got) != 13 {
		t.Errorf("within the hour all stay: %v", got)
	}
	anwen.inDatabase(`update dataset_versions set created_at = date_trunc('day', now() - interval '1 day') + number * interval '1 minute'`)
	// Gone are 3 and 4, of the first row, and 10 and 11, of the fourth; 7 and 8 stay, for a person prepared the former otherwise.
	if got := numbers(); !slices.Equal(got, []int{13, 12, 9, 8, 7, 6, 5, 2, 1}) {
		t.Errorf("a day later there are %v", got)
	}
	anwen.inDatabase(`update dataset_versions set created_at = created_at + interval '1 day' where number > 5`)
	if got := numbers(); len(got) != 9 {
		t.Errorf("on two days there are %v", got)
	}
}
