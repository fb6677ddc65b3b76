package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"time"
)

// togetherPeople is how many follow one chart, and togetherSteps how many steps are kept while they do.
const togetherPeople, togetherSteps = 50, 40

// benchTogether has 50 windows follow one chart of 1,000 rows and measures from when a step is asked to be kept until it has come
// to each. The baseline is keeping it.
func benchTogether(r *report) {
	p := startProgram()
	defer p.stop()
	owner := p.person("leader")
	version := owner.bring(1000)
	var chart struct {
		ID   int64 `json:"id"`
		Head int64 `json:"head_step_id"`
	}
	_, err := owner.say("POST", "/api/charts", map[string]any{"version_id": version, "document": loadDocument, "name": "Together"}, &chart)
	check(err)
	var mutex sync.Mutex
	begun := map[int64]time.Time{} // of steps, by their number
	var came []time.Time
	var of []int64
	for range togetherPeople {
		answer, err := owner.client.Get(fmt.Sprintf("%s/api/charts/%d/events?after=1", p.address, chart.ID))
		check(err)
		if answer.StatusCode != http.StatusOK {
			panic(answer.Status)
		}
		go func() {
			lines := bufio.NewScanner(answer.Body)
			for lines.Scan() {
				text, is := strings.CutPrefix(lines.Text(), "data: {")
				if !is {
					continue
				}
				var step struct {
					ID int64 `json:"id"`
				}
				if json.Unmarshal([]byte("{"+text), &step) == nil && step.ID != 0 {
					mutex.Lock()
					came, of = append(came, time.Now()), append(of, step.ID)
					mutex.Unlock()
				}
			}
		}()
	}
	time.Sleep(2 * time.Second)
	var kept, reached latencies
	for i := range togetherSteps {
		document := map[string]any{}
		text, _ := json.Marshal(loadDocument)
		_ = json.Unmarshal(text, &document)
		document["manner"] = map[string]any{"title": fmt.Sprint("Step ", i)}
		var step struct {
			ID int64 `json:"id"`
		}
		at := time.Now()
		status, err := owner.say("POST", fmt.Sprintf("/api/charts/%d/steps", chart.ID),
			map[string]any{"parent_id": chart.Head, "document": document}, &step)
		check(err)
		if status != http.StatusOK {
			panic(status)
		}
		kept.took = append(kept.took, time.Since(at))
		begun[step.ID] = at
		time.Sleep(250 * time.Millisecond)
	}
	time.Sleep(2 * time.Second)
	for i, id := range of {
		if at, known := begun[id]; known {
			reached.took = append(reached.took, came[i].Sub(at))
		}
	}
	if len(reached.took) != togetherPeople*togetherSteps {
		panic(fmt.Sprintf("%d of %d steps came", len(reached.took), togetherPeople*togetherSteps))
	}
	r.row("baseline: keeping a step of a chart, 50 windows following it: p95 of 40", "", kept.share(0.95), 0)
	r.row(fmt.Sprintf("until it has come to all 50: p95 of %d", len(reached.took)), "200 ms", reached.share(0.95), kept.share(0.95))
}
