package server

import (
	"fmt"
	"strings"
	"testing"

	"copperlark/app"
)

// noted writes a note and gives it.
func (v *visitor) noted(on object, spot object, text string) app.Note {
	v.t.Helper()
	body := object{"spot": spot, "text": text}
	for name, id := range on {
		body[name] = id
	}
	return want[app.Note](v, 200, "POST", "/api/notes", body)
}

// notesOf are the notes that a question finds.
func (v *visitor) notesOf(question string) []app.Note {
	v.t.Helper()
	return want[[]app.Note](v, 200, "GET", "/api/notes?"+question, nil)
}

// TestANoteIsWrittenAnsweredResolvedAndFound by two people of one space; nobody of another sees any of it.
func TestANoteIsWrittenAnsweredResolvedAndFound(t *testing.T) {
	anwen, bram, nobody := world(t)
	ines := nobody.come("ines corrie", anwensSpace, app.Maker)
	rhys := nobody.come("ines", anwensSpace, app.Reader)
	id, steps := anwen.stepped(0, "district")
	on := object{"chart_id": id}
	note := anwen.noted(on, object{"kind": "step", "step": steps[1]}, " Moved in May? @Ines Corrie knows <b>\n")
	if note.Text != "Moved in May? @Ines Corrie knows <b>" || note.Name == "" || note.Spot.Step != steps[1] || len(note.Answers) != 0 {
		t.Errorf("the note: %+v", note)
	}
	at := fmt.Sprintf("/api/notes/%d", note.ID)
	if got := ines.notesOf("fresh=true"); len(got) != 1 || !got[0].Named || !got[0].Fresh || got[0].OfDataset == 0 {
		t.Errorf("whom the note names: %+v", got)
	}
	if got := rhys.notesOf("fresh=true"); len(got) != 0 { // @Ines is the beginning of another's name
		t.Errorf("whose name only begins so: %+v", got)
	}
	want[object](ines, 204, "POST", at+"/seen", object{})
	if got := ines.notesOf("fresh=true"); len(got) != 0 {
		t.Errorf("seen, and still fresh: %+v", got)
	}
	answered := want[app.Note](ines, 200, "POST", at+"/answers", object{"text": "To the heath"})
	if len(answered.Answers) != 1 || answered.Answers[0].By != "ines corrie" || answered.Fresh {
		t.Errorf("answered: %+v", answered)
	}
	if got := anwen.notesOf("fresh=true"); len(got) != 1 || got[0].Named {
		t.Errorf("who wrote it hears of the answer: %+v", got)
	}
	for question, n := range map[string]int{"find=HEATH+moved": 1, "find=heath+nowhere": 0, "open=true": 1, fmt.Sprintf("chart=%d", id): 1,
		fmt.Sprintf("chart=%d", id+1): 0} {
		if got := rhys.notesOf(question); len(got) != n {
			t.Errorf("%s finds %d", question, len(got))
		}
	}
	if got := want[app.Note](anwen, 200, "PATCH", at, object{"resolved": true}); got.ResolvedBy == "" || got.ResolvedAt == nil {
		t.Errorf("resolved: %+v", got)
	}
	if got := anwen.notesOf("open=true"); len(got) != 0 {
		t.Errorf("resolved, and still open: %+v", got)
	}
	if got := want[app.Note](ines, 200, "PATCH", at, object{"resolved": false}); got.ResolvedAt != nil {
		t.Errorf("opened again: %+v", got)
	}
	want[object](ines, 404, "PATCH", at, object{"text": "of another's"})
	want[object](ines, 404, "DELETE", at, nil)
	want[object](anwen, 204, "DELETE", fmt.Sprintf("%s/answers/%d", at, answered.Answers[0].ID), nil) // an owner may
	for method, body := range map[string]object{"PATCH": {"resolved": true}, "DELETE": nil} {
		want[object](bram, 404, method, at, body)
	}
	want[object](bram, 404, "POST", at+"/answers", object{"text": "hello"})
	want[object](bram, 404, "POST", "/api/notes", object{"chart_id": id, "spot": object{"kind": "whole"}, "text": "hello"})
	if got := bram.notesOf("find=heath"); len(got) != 0 {
		t.Errorf("another space finds %+v", got)
	}
	want[object](anwen, 204, "DELETE", at, nil)
	if got := anwen.notesOf(""); len(got) != 0 {
		t.Errorf("deleted, and still there: %+v", got)
	}
}

// TestNotesThatSayNothing or are on nothing are refused with what is missing.
func TestNotesThatSayNothing(t *testing.T) {
	anwen, _, _ := world(t)
	id, _ := anwen.stepped(0)
	other, steps := anwen.stepped(0)
	dataset := anwen.bring()
	for _, test := range []struct {
		body object
		code int
	}{
		{object{"chart_id": id, "spot": object{"kind": "whole"}, "text": " \n "}, 422},
		{object{"chart_id": id, "spot": object{"kind": "whole"}, "text": strings.Repeat("蜂", app.MostNoteText+1)}, 422},
		{object{"chart_id": id, "page_id": 1, "spot": object{"kind": "whole"}, "text": "x"}, 422},
		{object{"spot": object{"kind": "whole"}, "text": "x"}, 422},
		{object{"chart_id": id, "spot": object{"kind": "column", "column": "kg"}, "text": "x"}, 422},
		{object{"chart_id": id, "spot": object{"kind": "place", "x": object{"column": "kg"}}, "text": "x"}, 422},
		{object{"chart_id": id, "spot": object{"kind": "rows", "rows": []int{1}, "version_id": dataset["version_id"]}, "text": "x"}, 422},
		{object{"dataset_id": dataset["id"], "spot": object{"kind": "rows", "rows": []int{0}, "version_id": dataset["version_id"]},
			"text": "x"}, 422},
		{object{"dataset_id": dataset["id"], "spot": object{"kind": "rows", "rows": []int{5}, "version_id": dataset["version_id"]},
			"text": "x"}, 422},
		{object{"chart_id": id, "spot": object{"kind": "step", "step": steps[0]}, "text": "x"}, 404},
		{object{"chart_id": other + 1000, "spot": object{"kind": "whole"}, "text": "x"}, 404},
		{object{"chart_id": id, "spot": object{"kind": "mark", "mark": "line of Tarn", "x": object{"column": "hive", "group": "A"},
			"y": object{"column": "kg", "number": 2.5}}, "text": "x"}, 200},
	} {
		if answer := anwen.send("POST", "/api/notes", test.body); answer.Code != test.code {
			t.Errorf("%v: %d %s", test.body, answer.Code, answer.Body)
		}
	}
}

// TestNotesFollowTheirRows through a version whose rows stand otherwise, one in which a row is gone, and one without the column that
// told them apart; rows that nothing tells apart are not followed.
func TestNotesFollowTheirRows(t *testing.T) {
	anwen, _, _ := world(t)
	dataset := anwen.bring() // hives A to D tell its rows apart
	id, version := number(dataset, "id"), number(dataset, "version_id")
	anwen.noted(object{"dataset_id": id}, object{"kind": "rows", "rows": []int{2, 4}, "version_id": version}, "Odd scales")
	prepared := func(typed string) int64 {
		return number(want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", version), object{"typed": typed}), "id")
	}
	for _, test := range []struct {
		version int64
		want    string
	}{
		{version, "[2 4] [] "},
		{prepared("sort by hive descending"), "[3 1] [] "},
		{prepared("keep kg < 3"), "[2] [D] "},
		{prepared("drop columns hive"), "[] [] hive, by which its rows were told apart, is not in this version"},
	} {
		list := anwen.notesOf(fmt.Sprintf("dataset=%d&version=%d", id, test.version))
		if got := fmt.Sprint(list[0].Now, list[0].Gone, " ", list[0].Lost); got != test.want {
			t.Errorf("in version %d: %s, want %s", test.version, got, test.want)
		}
	}
	key := anwen.read("alike.csv", "kg;place\n1,5;Tarn\n1,5;Tarn\n2,5;Brindle\n")
	alike := want[object](anwen, 200, "POST", "/api/uploads/"+key+"/keep", object{"name": "Alike"})
	anwen.noted(object{"dataset_id": alike["id"]}, object{"kind": "rows", "rows": []int{1}, "version_id": alike["version_id"]}, "Which?")
	next := want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", number(alike, "version_id")),
		object{"typed": "sort by kg"})
	if list := anwen.notesOf(fmt.Sprintf("dataset=%d&version=%d", number(alike, "id"), number(next, "id"))); list[0].Lost == "" {
		t.Errorf("rows that nothing tells apart: %+v", list[0])
	}
}

// TestALetterADay tells of what concerns somebody, once, and of no more until a day is over; not of what they saw, what is resolved,
// what is in a space that they left, and not where they want none.
func TestALetterADay(t *testing.T) {
	anwen, _, nobody := world(t)
	post := letters{make(chan string, 9)}
	nobody.app.Reach(app.Outside{Post: post, Address: "https://lark.example"})
	ines := nobody.come("ines", anwensSpace, app.Maker)
	id, _ := anwen.stepped(0)
	say := func(text string) app.Note { return anwen.noted(object{"chart_id": id}, object{"kind": "whole"}, text) }
	written := func() string {
		if err := nobody.app.PostNotes(t.Context()); err != nil {
			t.Fatal(err)
		}
		all := ""
		for len(post.sent) > 0 {
			all += <-post.sent
		}
		return all
	}
	first := say("@ines look\n\nhttps://evil.example/")
	seen := say("@ines seen")
	want[object](ines, 204, "POST", fmt.Sprintf("/api/notes/%d/seen", seen.ID), object{})
	over := say("@ines resolved")
	want[object](anwen, 200, "PATCH", fmt.Sprintf("/api/notes/%d", over.ID), object{"resolved": true})
	letter := written()
	if !strings.HasPrefix(letter, "ines@thornwick.example\n") || !strings.Contains(letter, "  @ines look https://evil.example/\n") ||
		!strings.Contains(letter, fmt.Sprintf("/chart/%d?note=%d\n", id, first.ID)) || strings.Contains(letter, "seen") ||
		strings.Contains(letter, "resolved") {
		t.Errorf("the letter: %s", letter)
	}
	say("@ines again")
	if letter := written(); letter != "" {
		t.Errorf("a second one on one day: %s", letter)
	}
	want[object](ines, 204, "PATCH", "/api/me", object{"letters": false})
	if me := want[object](ines, 200, "GET", "/api/me", nil); me["letters"] != false || me["name"] != "ines" {
		t.Errorf("whether letters are wanted: %v", me)
	}
	mab := nobody.come("mab", anwensSpace, app.Maker)
	say("@mab come")
	want[object](mab, 204, "POST", "/api/space/leave", object{})
	if letter := written(); letter != "" {
		t.Errorf("to whom left: %s", letter)
	}
}
