package server

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/sentence"
)

// TestNoPublicAnswerTellsWhatStaysAtHome shares random charts of a table with a column of names and one of numbers
// that do not go out, headed by the one, prepared by the other, and searches everything that whoever has the
// address can get. (internal/extremes tries many more charts, without a server.)
func TestNoPublicAnswerTellsWhatStaysAtHome(t *testing.T) {
	anwen, _, nobody := worldWith(t, limitsOf(0, 0, 0), Config{ReaderRate: 1e6})
	source := rand.New(rand.NewPCG(20, 7))
	var file strings.Builder
	file.WriteString("keeper zzhush,kg,ha,district,frames,zzhushed\n")
	for i := range 60 {
		fmt.Fprintf(&file, "zzhush %d,%.1f,%.1f,%s,%d,%d\n", i, 20+source.NormFloat64(), source.ExpFloat64(),
			[]string{"Tarn", "Wick", "Moss"}[i%3], i%7, 918_273_000+i)
	}
	file.WriteString("zzhush far,900,40,Tarn,3,918273999\n") // a row that the reading would name
	first := number(anwen.upload("hives.csv", file.String(), "Hives"), "version_id")
	version := number(want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", first),
		object{"typed": "keep zzhushed <> 918273004"}), "id")
	shared := 0
	for round := range 1500 {
		d := sentence.AtRandom(source, 1+source.IntN(4), []string{"kg", "ha", "district", "frames"})
		if round%2 == 0 && d.Function == nil && d.X.Of == chart.NoAggregate && d.Y.Of == chart.NoAggregate {
			d.Card = &chart.RowCard{Heading: "keeper zzhush"}
		}
		answer := anwen.send("POST", "/api/shares", object{"version_id": version, "document": d, "columns": d.Drawn(), "title": "Hives",
			"text": ""})
		if answer.Code == http.StatusUnprocessableEntity {
			continue // what cannot be drawn
		}
		if answer.Code != http.StatusOK {
			t.Fatalf("%d: %s", answer.Code, answer.Body)
		}
		shared++
		_, key, _ := strings.Cut(answer.Body.String(), `"key":"`)
		key, _, _ = strings.Cut(key, `"`)
		for _, path := range []string{"", "/figure", "/figure/exact", "/figure/phone", ".svg", "/rows/1", "/rows/8", "/table.csv"} {
			got := nobody.send("GET", "/s/"+key+path, nil)
			for _, hidden := range []string{"zzhush", "918273", "918,273"} {
				if text := got.Body.String() + fmt.Sprint(got.Header()); strings.Contains(text, hidden) {
					at := strings.Index(text, hidden)
					t.Fatalf("%s of\n%s\ntells %q (%d)", path, sentence.Print(d), text[max(0, at-80):min(len(text), at+40)], got.Code)
				}
			}
		}
	}
	if shared < 100 {
		t.Errorf("only %d charts were shared", shared)
	}
}

// TestACopySaysHowItsRowsWereMade shares a chart of prepared rows: the page tells the clauses, with the
// rows that each left, but not in its own words one that names a column which stays at home; the note
// stands once.
func TestACopySaysHowItsRowsWereMade(t *testing.T) {
	anwen, _, nobody := world(t)
	var file strings.Builder
	file.WriteString("keeper,kg,ha\n")
	for i := range 40 {
		fmt.Fprintf(&file, "zzhush %d,%d,%d\n", i%4, i, i*i%7)
	}
	first := number(anwen.upload("hives.csv", file.String(), "Hives"), "version_id")
	kept := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", first),
		object{"typed": "keep kg >= 10\nkeep keeper <> 'zzhush 3'\noff keep kg > 1000\nwork out tons = kg / 1000"})
	document := plotted("tons", "kg", object{"note": "Seen by nobody else."})
	shared := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": number(kept, "id"), "document": document, "title": "Tons",
		"text": "Lead.\n\nSeen by nobody else.\n\nEnd."})
	page := nobody.send("GET", fmt.Sprintf("/s/%s", shared["key"]), nil).Body.String()
	for _, words := range []string{"Hives, all 22 rows that its preparation made of 40",
		"(a clause about a column that is not shared)   → 22 rows of 30", "keep kg &gt;= 10   → 30 rows of 40", "work out tons = kg / 1000"} {
		if !strings.Contains(page, words) {
			t.Errorf("the page does not say %q:\n%s", words, page)
		}
	}
	if strings.Contains(page, "zzhush") || strings.Contains(page, "keeper") || strings.Contains(page, "1000\n") &&
		strings.Contains(page, "&gt; 1000") {
		t.Errorf("the page tells what stays at home, or what was switched off:\n%s", page)
	}
	figure := nobody.send("GET", fmt.Sprintf("/s/%s/figure", shared["key"]), nil).Body.String()
	if count := strings.Count(page, "Seen by nobody else."); count != 1 || strings.Contains(figure, "Seen by nobody else.") {
		t.Errorf("the note stands %d times on the page, and in the figure: %t", count, strings.Contains(figure, "Seen by nobody else."))
	}
}

// TestWhatIsOfAnotherSpaceIsNotThere asks for what belongs to somebody else.
func TestWhatIsOfAnotherSpaceIsNotThere(t *testing.T) {
	anwen, bryn, _ := world(t)
	mine := anwen.upload("a.csv", "kg,ha\n1,2\n3,5\n", "Mine")
	theirs := bryn.upload("b.csv", "kg,ha\n1,2\n3,5\n", "Theirs")
	want[object](bryn, 404, "GET", fmt.Sprintf("/api/datasets/%d/versions", number(mine, "id")), nil)
	kept := want[object](anwen, 200, "POST", "/api/charts", object{"version_id": number(mine, "version_id"),
		"document": plotted("kg", "ha", nil)})
	share := object{"version_id": number(theirs, "version_id"), "chart_id": number(kept, "id"), "document": plotted("kg", "ha", nil),
		"title": "t"}
	want[object](bryn, 404, "POST", "/api/shares", share)
}

// TestLimitsOfTextsCountCharacters holds that a title is as long in one script as in another.
func TestLimitsOfTextsCountCharacters(t *testing.T) {
	anwen, _, _ := world(t)
	dataset := anwen.upload("a.csv", "kg,ha\n1,2\n3,5\n", "a")
	share := object{"version_id": number(dataset, "version_id"), "document": plotted("kg", "ha", nil)}
	chart := want[object](anwen, 200, "POST", "/api/charts", share)
	for letters, fits := range map[int]bool{300: true, 500: true, 501: false} {
		share["title"] = strings.Repeat("蜂", letters)
		if code := anwen.send("POST", "/api/shares", share).Code; (code == 200) != fits {
			t.Errorf("a title of %d letters is answered %d", letters, code)
		}
		if code := anwen.send("PATCH", fmt.Sprintf("/api/charts/%d", number(chart, "id")),
			object{"name": share["title"]}).Code; (code == 204) != (letters <= 300) {
			t.Errorf("a name of %d letters is answered %d", letters, code)
		}
	}
}

// TestHeadIsAnsweredLikeGet holds that what can be got can be asked about, by the same people.
func TestHeadIsAnsweredLikeGet(t *testing.T) {
	anwen, _, nobody := world(t)
	dataset := anwen.upload("a.csv", "kg,ha\n1,2\n3,5\n", "a/b\u202egpj")
	shared := want[object](anwen, 200, "POST", "/api/shares", object{"version_id": number(dataset, "version_id"),
		"document": plotted("kg", "ha", nil), "title": "t"})
	table := fmt.Sprintf("/api/versions/%d/table/csv", number(dataset, "version_id"))
	for path, who := range map[string]*visitor{"/api/me": anwen, table: anwen, fmt.Sprintf("/s/%s", shared["key"]): nobody,
		"/health": nobody} {
		head, get := who.send(http.MethodHead, path, nil), who.send(http.MethodGet, path, nil)
		if head.Code != 200 || head.Body.Len() != 0 || head.Header().Get("Content-Type") != get.Header().Get("Content-Type") {
			t.Errorf("HEAD %s: %d, %d bytes, %q; GET: %q", path, head.Code, head.Body.Len(), head.Header().Get("Content-Type"),
				get.Header().Get("Content-Type"))
		}
	}
	if head := nobody.send(http.MethodHead, table, nil); head.Code != http.StatusUnauthorized {
		t.Errorf("a stranger's HEAD is answered %d", head.Code)
	}
	if name := anwen.send(http.MethodGet, table, nil).Header().Get("Content-Disposition"); name != "attachment; filename=a-bgpj.csv" {
		t.Errorf("the file is called %s", name)
	}
}
