package server

import (
	"fmt"
	"net/url"
	"testing"

	"copperlark/app"
)

// TestChartsAreFound by words of their sentence, their columns' meanings and their reading, which follow what is changed; by dataset,
// maker and state; in three orders, some at a time; never in another space.
func TestChartsAreFound(t *testing.T) {
	anwen, bram, nobody := world(t)
	mab := nobody.come("mab", anwensSpace, app.Maker)
	_, falls := writtenPage(anwen) // the chart “Falls”, which the page shows
	dataset, version := number(falls, "dataset_id"), number(falls, "version_id")
	want[object](anwen, 204, "PUT", fmt.Sprintf("/api/datasets/%d/meanings", dataset),
		object{"column": "forage_ha", "label": "Meadow", "meaning": "Flowering clover nearby"})
	tried := want[object](mab, 200, "POST", "/api/charts", object{"version_id": version, "document": plotted("forage_ha", "district", nil)})
	word := func() {
		t.Helper()
		anwen.inDatabase(`update charts set changed_at = changed_at - interval '1 minute'`)
		if err := anwen.app.WordCharts(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	word()
	found := func(v *visitor, question string) string {
		t.Helper()
		list := want[app.FoundCharts](v, 200, "GET", "/api/found/charts?"+question, nil)
		names := ""
		for _, c := range list.Charts {
			names += c.Name + "; "
		}
		return fmt.Sprint(list.Total, " ", names)
	}
	const one, two, none = "1 Falls; ", "1 Meadow against district; ", "0 "
	for question, want := range map[string]string{
		"find=honey":                                  one,  // of its sentence
		"find=CLOVER+straight":                        one,  // of what a column means, and of its sentence
		"find=falls+tenfold":                          none, // not both
		"find=" + url.QueryEscape("correlation is"):   one,  // of its reading
		"find=nowhere":                                none,
		fmt.Sprintf("dataset=%d&order=name", dataset): "2 Falls; Meadow against district; ",
		fmt.Sprint("dataset=", dataset+1):             none,
		"state=kept":                                  one,
		"state=shared":                                none,
		"find=mab":                                    two,
		"limit=1&from=1&order=name":                   "2 Meadow against district; ",
	} {
		if got := found(anwen, question); got != want {
			t.Errorf("%s finds %s, want %s", question, got, want)
		}
	}
	if got := found(anwen, "state=try"); got != two {
		t.Errorf("tries are %s", got)
	}
	if got := found(bram, "find=honey"); got != none {
		t.Errorf("another space finds %s", got)
	}
	// What is said otherwise is found by that, and not by what it said; a meaning that changed as well.
	want[object](mab, 200, "POST", fmt.Sprintf("/api/charts/%d/steps", number(tried, "id")),
		object{"parent_id": tried["head_step_id"], "document": plotted("forage_ha", "district", object{"title": "Quiet hedges"})})
	word()
	if got := found(anwen, "find=quiet+hedges"); got[:1] != "1" {
		t.Errorf("a new title finds %s", got)
	}
	want[object](anwen, 204, "PUT", fmt.Sprintf("/api/datasets/%d/meanings", dataset), object{"column": "forage_ha", "meaning": "Heather"})
	word()
	if got := found(anwen, "find=clover"); got != none {
		t.Errorf("a meaning that is gone finds %s", got)
	}
	anwen.noted(object{"chart_id": tried["id"]}, object{"kind": "whole"}, "Keep this")
	if got := found(anwen, "state=try"); got != none {
		t.Errorf("with a note on it, tries are %s", got)
	}
	for question, n := range map[string]int{"find=heather": 1, "find=district+hives": 1, "find=nothing": 0, "": 1} {
		if list := want[[]app.Dataset](anwen, 200, "GET", "/api/datasets?"+question, nil); len(list) != n {
			t.Errorf("datasets: %q finds %d", question, len(list))
		}
	}
	if list := want[[]app.Dataset](anwen, 200, "GET", "/api/datasets", nil); list[0].Last == nil || list[0].By == "" ||
		list[0].Last.ChartID != number(falls, "id") { // of those that have a name
		t.Errorf("the dataset is pictured by %+v", list[0])
	}
	copied := want[app.Chart](mab, 200, "POST", fmt.Sprintf("/api/charts/%d/copy", number(falls, "id")), object{"name": "Copy of Falls"})
	if copied.Name != "Copy of Falls" || copied.Document == nil || copied.By != "mab" {
		t.Errorf("the copy: %+v", copied)
	}
	want[object](bram, 404, "POST", fmt.Sprintf("/api/charts/%d/copy", number(falls, "id")), object{"name": "Mine"})
}
