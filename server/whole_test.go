package server

import (
	"fmt"
	"strings"
	"testing"

	"copperlark/app"
	"copperlark/core/figure"
	"copperlark/core/reading"
)

// wholePicture is what these tests read of a figure.
type wholePicture struct {
	figure.Figure `json:"figure"`
	Reading       reading.Reading `json:"reading"`
}

// TestAChartOfATableThatStaysElsewhere is drawn from a sample at once, asks all rows what it needs, is of all of them then, and
// stays so; nothing of how it asks leaves with a share.
func TestAChartOfATableThatStaysElsewhere(t *testing.T) {
	anwen, bram, _ := world(t)
	offered, run := elsewhere(t)
	run(`insert into scale_hours select i, 'district ' || i % 5, i / 100.0, 'zzkeeper' || i from generate_series(40001, 120000) i;
		update scale_hours set kg = 50 - kg / 40 + 8 * (id % 5) where id % 3 > 0;
		update scale_hours set kg = null where id % 50 = 0; analyze scale_hours`)
	anwen.app.Reach(app.Outside{Sources: []app.OfferedSource{offered}})
	wanted := object{"source": "valley", "table": "public.scale_hours"}
	d := want[app.Dataset](anwen, 200, "POST", "/api/sources/charts", wanted)
	again := want[app.Dataset](anwen, 200, "POST", "/api/sources/charts", wanted)
	if d.Stays == nil || d.Stays.Rows != 120_000 || !d.Stays.About || d.Stays.Table != "public.scale_hours" || d.Rows != app.SampledRows ||
		again.ID != d.ID {
		t.Fatalf("%+v, then %+v", d, again)
	}
	if first := want[object](anwen, 200, "GET", fmt.Sprintf("/api/versions/%d/first-look", d.VersionID), nil); !strings.Contains(
		fmt.Sprint(first), "hexagons") {
		t.Errorf("the first look is %v", first)
	}
	figures, whole := fmt.Sprintf("/api/versions/%d/figure", d.VersionID), fmt.Sprintf("/api/versions/%d/whole", d.VersionID)
	document := plotted("kg", "id", object{"layers": []object{{"mark": "hexagons"}, {"mark": "fit", "fit": object{"kind": "line",
		"each": "district", "overall": true}}}})
	draw := func() wholePicture {
		t.Helper()
		return headOf[wholePicture](t, anwen.send("POST", figures, object{"document": document}).Body.Bytes())
	}
	before := draw()
	if before.Elsewhere == nil || before.Rows.Total != app.SampledRows || before.Reading.Paragraphs[0].Basis != reading.OfSample {
		t.Fatalf("%+v", before)
	}
	want[object](anwen, 422, "POST", whole, object{"document": document, "key": "made up"})
	asked := 0
	now := before
	for {
		var open *figure.Question
		for i, q := range now.Elsewhere.Questions {
			if !q.Known {
				open = &now.Elsewhere.Questions[i]
				break
			}
		}
		if open == nil || asked > 9 {
			break
		}
		body := object{"document": document, "key": open.Key}
		want[object](bram, 404, "POST", whole, body)
		if got := want[app.WholeAnswer](anwen, 200, "POST", whole, body); got.Parts < 1 || got.Key != open.Key || got.Statement == "" {
			t.Errorf("%+v", got)
		}
		asked++
		now = draw()
	}
	if asked < 3 || len(now.Elsewhere.Sampled) != 0 || now.Rows.Total != 120_000 || now.Rows.Drawn != 117_600 ||
		now.Reading.Paragraphs[0].Basis != reading.OfAll || now.Reading.Fits[5].N != "117,600" || now.Reading.Fits[5].Basis != reading.OfAll {
		t.Errorf("after %d questions %+v", asked, now)
	}
	told := want[[]app.WholeAnswer](anwen, 200, "GET", whole, nil)
	if len(told) != asked || !strings.Contains(told[0].Statement, "scale_hours") || told[0].By == "" {
		t.Errorf("%+v", told)
	}
	want[object](bram, 404, "GET", whole, nil)
	shared := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": d.VersionID, "document": document, "title": "By the hour"})
	page := anwen.send("GET", "/s/"+shared["key"].(string), nil).Body.String()
	out := anwen.send("GET", "/s/"+shared["key"].(string)+"/figure", nil).Body.String()
	const line = "117,600 of 120,000 rows; left out: missing kg: 2,400; counted where they stay: public.scale_hours in the database valley"
	if !strings.Contains(page, line) || !strings.Contains(out, `"basis":"all"`) {
		t.Errorf("what is shared is not of all rows: %s", page)
	}
	for _, hidden := range []string{"zzkeeper", "zzpassword", "reader_", "127.0.0.1", "select ", "regr_"} {
		if strings.Contains(page+out, hidden) {
			t.Errorf("the share holds %s", hidden)
		}
	}
	// What was prepared is asked as it was prepared, or says why not.
	kept := allHours(func(id int, kg float64) bool { return 2*kg > 50 && id > 5000 })
	for clauses, one := range map[string]struct {
		rows int
		bars string
	}{"work out pounds = kg * 2\nkeep pounds > 50 and id > 5000": {rows: kept}, "sample 900 rows": {bars: "cannot be asked of it"}} {
		version := want[app.Version](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", d.VersionID), object{"typed": clauses})
		of := plotted(map[bool]string{true: "pounds", false: "kg"}[one.rows > 0], "id", object{"layers": []object{{"mark": "hexagons"}}})
		at := fmt.Sprintf("/api/versions/%d/", version.ID)
		drawn := headOf[wholePicture](t, anwen.send("POST", at+"figure", object{"document": of}).Body.Bytes())
		if !strings.Contains(drawn.Elsewhere.Bars, one.bars) || (drawn.Elsewhere.Bars == "") != (one.bars == "") {
			t.Fatalf("%s: %+v", clauses, drawn.Elsewhere)
		}
		for i := 0; one.rows > 0 && i < 5; i++ {
			for _, q := range drawn.Elsewhere.Questions {
				if !q.Known {
					want[app.WholeAnswer](anwen, 200, "POST", at+"whole", object{"document": of, "key": q.Key})
				}
			}
			drawn = headOf[wholePicture](t, anwen.send("POST", at+"figure", object{"document": of}).Body.Bytes())
		}
		if one.rows > 0 && (drawn.Rows.Total != one.rows || !drawn.Elsewhere.OfAll()) {
			t.Errorf("%s: %+v of %d, %+v", clauses, drawn.Rows, one.rows, drawn.Elsewhere)
		}
	}
	// Why a preparation cannot be asked names its clauses: that is for the space, and leaves with no share.
	version := want[app.Version](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", d.VersionID),
		object{"typed": "work out zzhome = kg * 3\nfill down zzhome"})
	of := plotted("kg", "id", nil)
	inside := anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", version.ID), object{"document": of}).Body.String()
	shared = want[object](anwen, 200, "POST", "/api/shares", object{"version_id": version.ID, "document": of, "title": "By the hour"})
	for _, place := range []string{"", "/figure", "/figure/exact", "/figure/phone", "/links", "/table.csv"} {
		if said := anwen.send("GET", "/s/"+shared["key"].(string)+place, nil).Body.String(); strings.Contains(said, "zzhome") {
			t.Errorf("%s tells of a clause about a column that stays at home", place)
		}
	}
	if !strings.Contains(inside, "fill down zzhome") {
		t.Error("the space is not told why all rows cannot be asked")
	}
	// What cannot be asked says why.
	document["rows"] = object{"where": "upper(district) = 'DISTRICT 1'"}
	refused := draw()
	got := anwen.send("POST", whole, object{"document": document, "key": refused.Elsewhere.Questions[0].Key})
	if got.Code != 422 || !strings.Contains(got.Body.String(), "cannot be asked of the database") {
		t.Errorf("%d %s", got.Code, got.Body.String())
	}
	delete(document, "rows")
	// What was answered of the sample before stays with it; the table as it stands now is asked for its newest sample alone.
	run("update scale_hours set kg = kg + 1")
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/datasets/%d/origin/asked", d.ID), object{})
	got = anwen.send("POST", whole, object{"document": document, "key": now.Elsewhere.Questions[0].Key})
	if still := draw(); got.Code != 422 || !strings.Contains(got.Body.String(), "newer sample") || still.Rows.Drawn != 117_600 {
		t.Errorf("%d %s, %+v", got.Code, got.Body.String(), still.Rows)
	}
	for _, v := range want[[]app.Version](anwen, 200, "GET", fmt.Sprintf("/api/datasets/%d/versions", d.ID), nil) {
		if v.PreparedFrom == 0 {
			d.VersionID = v.ID // the newest as it came
			break
		}
	}
	figures, whole = fmt.Sprintf("/api/versions/%d/figure", d.VersionID), fmt.Sprintf("/api/versions/%d/whole", d.VersionID)
	if fresh := draw(); fresh.Elsewhere == nil || fresh.Elsewhere.Questions[0].Known {
		t.Errorf("a new sample begins with answers of the one before: %+v", fresh.Elsewhere)
	}
	run("alter table scale_hours rename column kg to zzkg")
	want[object](anwen, 204, "DELETE", whole, nil)
	if gone := draw(); gone.Rows.Total != app.SampledRows || gone.Elsewhere.Questions[0].Known {
		t.Errorf("answers that were forgotten are known: %+v", gone.Elsewhere)
	}
	got = anwen.send("POST", whole, object{"document": document, "key": before.Elsewhere.Questions[0].Key})
	if got.Code != 422 || strings.Contains(got.Body.String(), "zz") || !strings.Contains(got.Body.String(), "no column kg any more") {
		t.Errorf("%d %s", got.Code, got.Body.String())
	}
}

// allHours counts the hours of the table, as it is made above, of which something is true.
func allHours(is func(id int, kg float64) bool) (n int) {
	for id := 1; id <= 120_000; id++ {
		kg := float64(id) / 100
		if id%3 > 0 {
			kg = 50 - kg/40 + 8*float64(id%5)
		}
		if id%50 > 0 && is(id, kg) {
			n++
		}
	}
	return n
}
