package server

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
)

// hearing has a server listen to its database, again a moment after it is lost, until the test ends.
func (v *visitor) hearing() {
	ctx, stop := context.WithCancel(v.t.Context())
	done := make(chan struct{})
	go func() {
		defer close(done)
		for ctx.Err() == nil {
			_ = v.app.Hear(ctx)
			time.Sleep(20 * time.Millisecond)
		}
	}()
	v.t.Cleanup(func() { stop(); v.app.EndFollowing(); <-done })
}

// inDatabase does something behind the program's back, and gives how many rows it touched.
func (v *visitor) inDatabase(statement string) int64 {
	v.t.Helper()
	db, err := pgx.Connect(v.t.Context(), v.database)
	if err != nil {
		v.t.Fatal(err)
	}
	defer func() { _ = db.Close(context.Background()) }()
	tag, err := db.Exec(v.t.Context(), statement)
	if err != nil {
		v.t.Fatal(err)
	}
	return tag.RowsAffected()
}

// follower is a window that follows a chart.
type follower struct {
	mutex  sync.Mutex
	steps  []int64 // in the order in which they came
	again  int     // how often the trail was to be read again
	people []app.Here
	window string         // what it is called
	told   map[string]int // how often each kind of thing was told
	last   string
	stop   func()
}

// follow follows a chart over HTTP, from a number on.
func (v *visitor) follow(chart int64, last string) *follower {
	v.t.Helper()
	return v.followAt(fmt.Sprintf("/api/charts/%d/events", chart), last)
}

// followAt follows a chart, a dataset or a page.
func (v *visitor) followAt(path, last string) *follower {
	v.t.Helper()
	handler, err := v.server.Handler()
	if err != nil {
		v.t.Fatal(err)
	}
	web := httptest.NewServer(handler)
	ctx, stop := context.WithCancel(v.t.Context())
	r, _ := http.NewRequestWithContext(ctx, "GET", web.URL+path, nil)
	r.Host = "example.com"
	r.AddCookie(&http.Cookie{Name: sessionCookie, Value: v.cookie})
	if last != "" {
		r.Header.Set("Last-Event-ID", last)
	}
	answer, err := http.DefaultClient.Do(r)
	if err != nil || answer.StatusCode != http.StatusOK {
		v.t.Fatalf("following: %v %v", answer, err)
	}
	f, over := &follower{last: last, told: map[string]int{}}, make(chan struct{})
	f.stop = func() { stop(); <-over; web.Close() }
	v.t.Cleanup(f.stop)
	go func() {
		defer close(over)
		defer func() { _ = answer.Body.Close() }()
		f.read(bufio.NewScanner(answer.Body))
	}()
	return f
}

func (f *follower) read(lines *bufio.Scanner) {
	kind, id := "", ""
	for lines.Scan() {
		name, value, _ := strings.Cut(lines.Text(), ": ")
		f.mutex.Lock()
		switch name {
		case "id":
			id = value
		case "event":
			kind = value
		case "data":
			var step app.Step
			f.told[kind]++
			switch kind {
			case "window":
				var said struct{ ID string }
				_ = json.Unmarshal([]byte(value), &said)
				f.window = said.ID
			case "step":
				_ = json.Unmarshal([]byte(value), &step)
				f.steps = append(f.steps, step.ID)
				f.last = id
			case "trail":
				f.again++
				f.last = id
			case "people":
				f.people = nil
				_ = json.Unmarshal([]byte(value), &f.people)
			}
		}
		f.mutex.Unlock()
	}
}

func (f *follower) now() (steps []int64, again int, people []app.Here, last string) {
	f.mutex.Lock()
	defer f.mutex.Unlock()
	return slices.Clone(f.steps), f.again, slices.Clone(f.people), f.last
}

// TestStepsOfOthersArrive has two people on two servers keep steps at once while a third follows, whose server's listening is cut
// and whose stream is resumed: every step comes, none twice, and two changes at once are two branches.
func TestStepsOfOthersArrive(t *testing.T) {
	anwen, bram, nobody := world(t)
	mab := nobody.come("mab", anwensSpace, app.Maker)
	there := mab.onAnotherServer()
	anwen.hearing()
	there.hearing()
	id, steps := anwen.stepped(0)
	f := there.follow(id, "")
	waitFor(t, "mab is here", func() bool { _, _, people, _ := f.now(); return len(people) == 1 && people[0].Name == "mab" })
	var kept []int64
	keep := func(v *visitor, title string) { kept = append(kept, v.step(id, steps[0], object{"title": title})) }
	keep(anwen, "One")
	keep(there, "Two")
	waitFor(t, "both steps come", func() bool { seen, _, _, _ := f.now(); return len(seen) == 3 })
	// The database ends what listens; what is kept meanwhile comes nevertheless.
	cut := int64(0)
	for i := range 10 {
		cut += there.inDatabase(`select pg_terminate_backend(pid) from pg_stat_activity
			where datname = current_database() and query = 'listen lark_changed'`)
		keep(anwen, fmt.Sprint("Cut ", i))
	}
	if cut == 0 {
		t.Error("nothing that listens was cut")
	}
	waitFor(t, "the steps that were kept while nobody listened come", func() bool { seen, _, _, _ := f.now(); return len(seen) == 13 })
	_, _, _, last := f.now()
	f.stop()
	keep(anwen, "Away")
	resumed := there.follow(id, last)
	waitFor(t, "what was missed comes", func() bool { seen, _, _, _ := resumed.now(); return len(seen) == 1 })
	seen, _, _, _ := f.now()
	more, _, _, _ := resumed.now()
	if all := append(seen, more...); !slices.Equal(all, append([]int64{steps[0]}, kept...)) {
		t.Errorf("there came %v of %v", all, kept)
	}
	want[object](anwen, 204, "PATCH", fmt.Sprintf("/api/charts/%d/steps/%d", id, kept[0]), object{"pinned": true})
	waitFor(t, "a pin is told", func() bool { _, again, _, _ := resumed.now(); return again == 1 })
	if code := bram.send("GET", fmt.Sprintf("/api/charts/%d/events", id), nil).Code; code != http.StatusNotFound {
		t.Errorf("somebody of another space follows: %d", code)
	}
	// Who is taken out is told nothing more.
	person := number(want[object](mab, 200, "GET", "/api/me", nil), "id")
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/people/%d", person), nil)
	keep(anwen, "Secret")
	time.Sleep(300 * time.Millisecond)
	if seen, _, _, _ := resumed.now(); len(seen) != 1 {
		t.Errorf("somebody who was taken out was told of %v", seen)
	}
}

// TestWhatIsForgottenIsReadAgain follows from a number of which nothing is known any more.
func TestWhatIsForgottenIsReadAgain(t *testing.T) {
	anwen, _, _ := world(t)
	id, steps := anwen.stepped(0, "district")
	anwen.step(id, steps[0], object{"title": "x"})
	anwen.inDatabase(`delete from chart_events where number < 3`)
	f := anwen.follow(id, "1")
	waitFor(t, "it is told to read the trail", func() bool {
		seen, again, _, last := f.now()
		return again == 1 && len(seen) == 0 && last == "3"
	})
	anwen.app.EndFollowing()
}

// TestAPlaceIsOneWritersAtATime on a page that two follow on two servers: who comes second is told who has it, until that one leaves
// it or goes; one's own other window may. What is kept of the page, of its notes, and of a dataset is told.
func TestAPlaceIsOneWritersAtATime(t *testing.T) {
	anwen, bram, nobody := world(t)
	mab := nobody.come("mab", anwensSpace, app.Maker).onAnotherServer()
	anwen.hearing()
	mab.hearing()
	made, chart := writtenPage(anwen)
	path := at(made) + "/events"
	first, again, second := anwen.followAt(path, ""), anwen.followAt(path, ""), mab.followAt(path, "")
	named := func(f *follower) func() bool {
		return func() bool { f.mutex.Lock(); defer f.mutex.Unlock(); return f.window != "" }
	}
	for _, f := range []*follower{first, again, second} {
		waitFor(t, "the window is named", named(f))
	}
	stand := func(who *visitor, f *follower, place string) int {
		return who.send("PUT", "/api/windows/"+f.window, object{"place": place}).Code
	}
	writes := func(name, place string) func() bool {
		return func() bool {
			_, _, people, _ := second.now()
			return slices.ContainsFunc(people, func(h app.Here) bool { return h.Name == name && h.Place == place })
		}
	}
	if code := stand(anwen, first, "a"); code != 204 {
		t.Fatalf("the first one: %d", code)
	}
	waitFor(t, "where somebody writes is told", writes("Somebody", "a"))
	answer := mab.send("PUT", "/api/windows/"+second.window, object{"place": "a"})
	if answer.Code != 409 || !strings.Contains(answer.Body.String(), "Somebody is writing there") {
		t.Errorf("the second one: %d %s", answer.Code, answer.Body)
	}
	codes := []int{stand(mab, second, "b"), stand(anwen, again, "a"), stand(mab, first, "c"), stand(bram, second, "c")}
	if !slices.Equal(codes, []int{204, 204, 404, 404}) {
		t.Errorf("elsewhere, one's own, another's window, another space: %v", codes)
	}
	if code := stand(anwen, first, ""); code != 204 {
		t.Errorf("leaving: %d", code)
	}
	again.stop()
	waitFor(t, "who closed the other window is not there any more", writes("Somebody", ""))
	if code := stand(mab, second, "a"); code != 204 {
		t.Errorf("after that: %d", code)
	}
	told := func(f *follower, kind string, n int) func() bool {
		return func() bool { f.mutex.Lock(); defer f.mutex.Unlock(); return f.told[kind] == n }
	}
	contents := made["contents"].(object)
	want[object](anwen, 200, "PUT", at(made), object{"base": contents, "contents": object{"version": 1, "title": "Honey again",
		"blocks": contents["blocks"]}})
	waitFor(t, "what was written is told", told(second, "changed", 1))
	anwen.noted(object{"page_id": made["id"]}, object{"kind": "paragraph", "block": "a"}, "Does it?")
	waitFor(t, "a note is told", told(second, "notes", 1))
	dataset := number(chart, "dataset_id")
	data := mab.followAt(fmt.Sprintf("/api/datasets/%d/events", dataset), "")
	waitFor(t, "the window is named", named(data))
	want[object](anwen, 204, "PUT", fmt.Sprintf("/api/datasets/%d/meanings", dataset),
		object{"column": "honey_kg", "label": "Honey"})
	waitFor(t, "a meaning is told", told(data, "changed", 1))
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/versions/%d/prepared", number(chart, "version_id")),
		object{"typed": "sort by honey_kg"})
	waitFor(t, "a version is told", told(data, "changed", 2))
	if code := bram.send("GET", path, nil).Code; code != 404 {
		t.Errorf("another space follows the page: %d", code)
	}
}

// TestWindowsOfOnePersonAreBounded has somebody open more than there may be, which costs others nothing.
func TestWindowsOfOnePersonAreBounded(t *testing.T) {
	anwen, _, nobody := world(t)
	id, _ := anwen.stepped(0)
	for range app.MostFollowed {
		anwen.follow(id, "")
	}
	if code := anwen.send("GET", fmt.Sprintf("/api/charts/%d/events", id), nil).Code; code != http.StatusTooManyRequests {
		t.Errorf("one window too many: %d", code)
	}
	nobody.come("mab", anwensSpace, app.Maker).follow(id, "")
}
