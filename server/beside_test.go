package server

import (
	"fmt"
	"strings"
	"testing"

	"copperlark/app"
	"copperlark/core/figure"
	"copperlark/core/reading"
)

// TestAllRowsTellWhatStandsBesideAChart has explanations, evidence and checks of a table that stays elsewhere ask all its rows,
// each what it needs and nothing else; what leaves says which rows it is of.
func TestAllRowsTellWhatStandsBesideAChart(t *testing.T) {
	anwen, bram, _ := world(t)
	offered, run := elsewhere(t)
	run(`alter table scale_hours add frames float8; grant select (frames) on scale_hours to public;
		insert into scale_hours select i, 'district ' || i % 5, 0, 'zzkeeper' || i from generate_series(40001, 70000) i;
		update scale_hours set kg = round(id / 1000.0 + 3 * (id % 5) + 40 * sin(id * 12.9) + 9 * cos(id * 7.7)),
			frames = case when id % 30 > 0 then round(50 + 50 * sin(id * 12.9) + 9 * cos(id * 3.1)) end; analyze scale_hours`)
	anwen.app.Reach(app.Outside{Sources: []app.OfferedSource{offered}})
	d := want[app.Dataset](anwen, 200, "POST", "/api/sources/charts", object{"source": "valley", "table": "public.scale_hours"})
	at := fmt.Sprintf("/api/versions/%d/", d.VersionID)
	document := plotted("kg", "id", nil)
	asked := object{"document": document}
	explained := func() app.Explanations { return want[app.Explanations](anwen, 200, "POST", at+"explanations", asked) }
	// known asks what something asks until nothing is open, and tells how many questions that were.
	known := func(what string, more object, asking func() *figure.Elsewhere) (n int) {
		t.Helper()
		for ; n < 20; n++ {
			open := ""
			for _, q := range asking().Questions {
				if !q.Known {
					open = q.Key
				}
			}
			if open == "" {
				return n
			}
			body := object{"document": document, "key": open, "for": what}
			for name, value := range more {
				body[name] = value
			}
			want[object](bram, 404, "POST", at+"whole", body)
			want[app.WholeAnswer](anwen, 200, "POST", at+"whole", body)
		}
		t.Fatalf("%s asks for ever", what)
		return n
	}
	before := explained()
	if before.Rows != app.SampledRows || before.Elsewhere == nil || before.Findings[0].Basis != reading.OfSample {
		t.Fatalf("%+v", before)
	}
	want[object](anwen, 422, "POST", at+"whole", object{"document": document, "key": before.Elsewhere.Questions[0].Key, "for": "all"})
	want[object](anwen, 422, "POST", at+"whole", object{"document": document, "key": "made up", "for": "explanations"})
	if n := known("explanations", nil, func() *figure.Elsewhere { return explained().Elsewhere }); n < 4 {
		t.Errorf("%d questions were asked", n)
	}
	after := explained()
	for _, f := range after.Findings {
		if f.With == "" && f.Basis != reading.OfAll {
			t.Errorf("%+v is not of all rows", f)
		}
	}
	if after.Rows != 70_000 || len(after.Findings) < 2 {
		t.Errorf("%+v", after)
	}
	for _, column := range []string{"frames", "district"} {
		body := object{"document": document, "column": column}
		evidence := func() *reading.Evidence { return want[*reading.Evidence](anwen, 200, "POST", at+"evidence", body) }
		known("evidence", object{"column": column}, func() *figure.Elsewhere { return evidence().Elsewhere })
		rows := map[string]string{"frames": "67,667", "district": "70,000"}[column]
		if e := evidence(); e.Basis != reading.OfAll || e.Rows[0].N != rows || len(e.Rows) < 6 {
			t.Errorf("%s: %+v", column, e)
		}
	}
	held := func() *reading.Holds { return want[*reading.Holds](anwen, 200, "POST", at+"holds", asked) }
	known("checks", nil, func() *figure.Elsewhere { return held().Elsewhere })
	if h := held(); h.Rows[0].Basis != reading.OfAll || h.Rows[0].N != "70,000" || h.Rows[1].Basis != reading.OfSample ||
		strings.Contains(h.Rows[2].Name, "all rows") {
		t.Errorf("%+v", h.Rows)
	}
	shared := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": d.VersionID, "document": document, "title": "By the hour",
		"columns": []string{"kg", "id"}})
	page := anwen.send("GET", "/s/"+shared["key"].(string), nil).Body.String()
	for _, hidden := range []string{"zzkeeper", "frames", "district", "select ", "127.0.0.1"} {
		if strings.Contains(page, hidden) {
			t.Errorf("the share holds %s", hidden)
		}
	}
	summed := func() *app.ColumnSummaries {
		return want[*app.ColumnSummaries](anwen, 200, "POST", at+"summary", object{"typed": ""})
	}
	if s := summed().Columns[0]; s.Basis != reading.OfSample || s.N != app.SampledRows {
		t.Errorf("%+v", s)
	}
	known("summary", nil, func() *figure.Elsewhere { return summed().Elsewhere })
	for _, s := range summed().Columns {
		told := fmt.Sprintf("%d, %d missing, %s from %s, %s, %s, %s to %s, %s", s.N, s.Missing, s.Mean, s.Min, s.Q1, s.Median, s.Q3, s.Max,
			s.Basis)
		for _, bar := range s.Top {
			told += fmt.Sprintf(", %s %d", bar.Name, bar.Count)
		}
		if wanted := map[string]string{ // as the database itself has it
			"id":       "70000, 0 missing, 35,000 from 1, 17,501, 35,000, 52,500 to 70,000, all",
			"district": "70000, 0 missing,  from , , ,  to , all, district 0 14000, district 1 14000",
			"frames":   "67667, 2333 missing, ",
		}[s.Column]; !strings.HasPrefix(told, wanted) {
			t.Errorf("%s is told as %s", s.Column, told)
		}
	}
	under := func(of object, x ...float64) app.RowsUnder {
		t.Helper()
		return want[app.RowsUnder](anwen, 200, "POST", at+"under", object{"document": of, "part": object{"x": x}})
	}
	inDistrict := plotted("kg", "id", object{"rows": object{"where": "district = 'district 2'"}})
	if got := under(inDistrict, 101, 500); got.Count != 80 || len(got.Rows) != 80 || len(got.Columns) != 4 || got.Rows[0][1] != "district 2" {
		t.Errorf("%d rows of %d, columns %+v", len(got.Rows), got.Count, got.Columns)
	}
	if got := under(document, 1, 60_000); got.Count != 60_000 || len(got.Rows) != 0 {
		t.Errorf("%d rows of %d", len(got.Rows), got.Count)
	}
	if got := under(document, 1e9, 2e9); got.Count != 0 || len(got.Rows) != 0 {
		t.Errorf("%d rows of %d", len(got.Rows), got.Count)
	}
	want[object](bram, 404, "POST", at+"under", object{"document": document, "part": object{"x": []float64{1, 2}}})
	want[object](anwen, 422, "POST", at+"under", object{"document": document, "part": object{}})
	// Two groups that are compared have nothing to ask, and that is said.
	groups := want[app.Explanations](anwen, 200, "POST", at+"explanations", object{"document": plotted("kg", "district", nil)})
	if groups.Elsewhere == nil || groups.Elsewhere.Bars == "" {
		t.Errorf("%+v", groups.Elsewhere)
	}
}
