package server

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"copperlark/app"
)

// trailOf is a chart with its trail, as somebody sees it.
func trailOf(v *visitor, id int64) app.Chart {
	v.t.Helper()
	return want[app.Chart](v, 200, "GET", fmt.Sprintf("/api/charts/%d", id), nil)
}

// stepped keeps a chart of the odd table with a step for each of some colours, by hand, and gives it with the steps.
func (v *visitor) stepped(after time.Duration, columns ...string) (id int64, steps []int64) {
	v.t.Helper()
	version := v.bring()["version_id"]
	first := want[object](v, 200, "POST", "/api/charts", object{"version_id": version, "document": plotted("kg", "hive", nil)})
	id, steps = number(first, "id"), []int64{number(first, "head_step_id")}
	for _, column := range columns {
		time.Sleep(after)
		steps = append(steps, v.step(id, steps[len(steps)-1], object{"colour": column}))
	}
	return id, steps
}

func (v *visitor) step(chart, parent int64, more object) int64 {
	v.t.Helper()
	return number(want[object](v, 200, "POST", fmt.Sprintf("/api/charts/%d/steps", chart),
		object{"parent_id": parent, "document": plotted("kg", "hive", more)}), "id")
}

// TestEachStandsWhereTheyWalkedTo walks two people over one trail: each comes back to where they stood, and the chart stands where
// the one walked who made its step.
func TestEachStandsWhereTheyWalkedTo(t *testing.T) {
	anwen, _, nobody := world(t)
	mab := nobody.come("mab", anwensSpace, app.Maker)
	id, steps := anwen.stepped(0, "district")
	other := mab.step(id, steps[0], object{"title": "Another"})
	at := fmt.Sprintf("/api/charts/%d", id)
	if c := trailOf(mab, id); c.HeadStepID != other || c.AtStepID != other || len(c.Steps) != 3 || c.Steps[2].By != "mab" ||
		c.Steps[2].Document != nil || c.Document.Title != "Another" {
		t.Errorf("mab sees %+v", c)
	}
	if c := trailOf(anwen, id); c.HeadStepID != other || c.AtStepID != steps[1] || c.Document.Colour != "district" {
		t.Errorf("anwen stands at %d of %v, the chart at %d", c.AtStepID, steps, c.HeadStepID)
	}
	want[object](anwen, 204, "PATCH", at, object{"step_id": steps[0]}) // the chart stands at a step of mab's, and stays
	if c := trailOf(anwen, id); c.HeadStepID != other || c.AtStepID != steps[0] {
		t.Errorf("anwen walked: at %d, the chart at %d", c.AtStepID, c.HeadStepID)
	}
	want[object](mab, 204, "PATCH", at, object{"step_id": steps[1]})
	if c := trailOf(mab, id); c.HeadStepID != steps[1] || c.AtStepID != steps[1] {
		t.Errorf("mab walked: at %d, the chart at %d", c.AtStepID, c.HeadStepID)
	}
	if one := want[app.Step](anwen, 200, "GET", fmt.Sprintf("%s/steps/%d", at, other), nil); one.Document == nil ||
		one.Document.Title != "Another" {
		t.Errorf("a step alone: %+v", one)
	}
}

// TestStepsAreNamedPinnedAndTakenOut takes a branch out and puts it back; the first step stays, and whoever stood there stands before.
func TestStepsAreNamedPinnedAndTakenOut(t *testing.T) {
	anwen, bram, _ := world(t)
	id, steps := anwen.stepped(0, "district")
	last := anwen.step(id, steps[1], object{"colour": "district", "title": "T"})
	at := fmt.Sprintf("/api/charts/%d/steps/", id)
	want[object](anwen, 204, "PATCH", fmt.Sprint(at, last), object{"name": "  with title ", "pinned": true})
	if c := trailOf(anwen, id); c.Steps[2].Name != "with title" || !c.Steps[2].Pinned {
		t.Errorf("named: %+v", c.Steps[2])
	}
	want[object](anwen, 422, "PATCH", fmt.Sprint(at, last), object{"name": strings.Repeat("long ", 20)})
	want[object](anwen, 422, "DELETE", fmt.Sprint(at, steps[0]), nil)
	want[object](bram, 404, "DELETE", fmt.Sprint(at, steps[1]), nil)
	if out := want[object](anwen, 200, "DELETE", fmt.Sprint(at, steps[1]), nil); number(out, "steps") != 2 {
		t.Errorf("taken out: %v", out)
	}
	if c := trailOf(anwen, id); len(c.Steps) != 1 || c.HeadStepID != steps[0] || c.AtStepID != steps[0] {
		t.Errorf("after: %+v", c)
	}
	want[object](anwen, 404, "POST", fmt.Sprintf("/api/charts/%d/steps", id),
		object{"parent_id": last, "document": plotted("kg", "hive", nil)})
	want[object](anwen, 404, "PATCH", fmt.Sprintf("/api/charts/%d", id), object{"step_id": last})
	want[object](anwen, 204, "POST", fmt.Sprint(at, steps[1])+"/back", nil)
	if c := trailOf(anwen, id); len(c.Steps) != 3 || c.Steps[2].Name != "with title" {
		t.Errorf("put back: %+v", c.Steps)
	}
	want[object](anwen, 404, "POST", fmt.Sprint(at, steps[1])+"/back", nil) // nothing is out any more
}

// TestOneWordIsOneStep says a word anew within a second, after one, and from another hand.
func TestOneWordIsOneStep(t *testing.T) {
	anwen, _, nobody := world(t)
	mab := nobody.come("mab", anwensSpace, app.Maker)
	id, steps := anwen.stepped(0, "district", "hive")
	if steps[1] != steps[2] {
		t.Errorf("a word that is changed twice at once gives steps %v", steps)
	}
	if c := trailOf(anwen, id); len(c.Steps) != 2 || c.Steps[1].Words != "colour: hive" || c.Document.Colour != "hive" {
		t.Errorf("the trail: %+v", c.Steps)
	}
	if other := mab.step(id, steps[1], object{"colour": "kg"}); other == steps[1] {
		t.Error("another hand changed the step of the first")
	}
	if _, slow := anwen.stepped(1100*time.Millisecond, "district", "hive"); slow[1] == slow[2] {
		t.Errorf("after more than a second the same word gives steps %v", slow)
	}
	id, steps = anwen.stepped(0, "district")
	if two := anwen.step(id, steps[1], object{"colour": "district", "title": "x"}); two == steps[1] {
		t.Error("another word is the same step")
	}
}

// TestAnyWalkDrawsTheSame walks a trail with branches at random, and draws at each step, byte for byte, what was drawn there first.
func TestAnyWalkDrawsTheSame(t *testing.T) {
	anwen, _, _ := world(t)
	id, steps := anwen.stepped(0, "district")
	for i := range 6 {
		steps = append(steps, anwen.step(id, steps[i/2], object{"title": fmt.Sprint("T", i), "size": []string{"kg", ""}[i%2]}))
	}
	version := trailOf(anwen, id).VersionID
	draw := func(step int64) []byte {
		one := want[app.Step](anwen, 200, "GET", fmt.Sprintf("/api/charts/%d/steps/%d", id, step), nil)
		answer := anwen.send("POST", fmt.Sprintf("/api/versions/%d/figure", version),
			object{"document": one.Document, "width": 600, "height": 400})
		if answer.Code != 200 {
			t.Fatalf("step %d: %d %s", step, answer.Code, answer.Body)
		}
		return answer.Body.Bytes()
	}
	first := map[int64][]byte{}
	for range 40 {
		step := steps[rand.IntN(len(steps))]
		want[object](anwen, 204, "PATCH", fmt.Sprintf("/api/charts/%d", id), object{"step_id": step})
		now := draw(step)
		if was, known := first[step]; known && !bytes.Equal(was, now) {
			t.Fatalf("step %d is drawn otherwise", step)
		}
		first[step] = now
	}
}
