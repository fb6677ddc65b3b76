package main

import (
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"strings"
	"sync"
	"time"
)

// storyCharts is how many charts the page has that is read.
const storyCharts = 5

// benchStory is loadStory alone.
func benchStory(r *report) {
	p := startProgram()
	defer p.stop()
	loadStory(r, p)
}

// loadStory has 200 readers of a live page of five charts for a minute, each asking once a second; half way its dataset gets a new
// version, which the page follows while it is read.
func loadStory(r *report, p *running) {
	owner := p.person("teller")
	version := owner.bring(1000)
	var blocks []map[string]any
	var dataset int64
	for i := range storyCharts {
		var chart struct {
			ID        int64 `json:"id"`
			DatasetID int64 `json:"dataset_id"`
		}
		_, err := owner.say("POST", "/api/charts", map[string]any{"version_id": version, "document": loadDocument, "name": fmt.Sprint(i)}, &chart)
		check(err)
		dataset = chart.DatasetID
		blocks = append(blocks, map[string]any{"id": fmt.Sprint("b", i), "text": "Read it.", "chart": map[string]any{"id": chart.ID}})
	}
	var page struct {
		ID int64 `json:"id"`
	}
	contents := map[string]any{"version": 1, "title": "Load", "blocks": blocks}
	_, err := owner.say("POST", "/api/pages", map[string]any{"contents": contents}, &page)
	check(err)
	var share struct {
		Key string `json:"key"`
	}
	_, err = owner.say("POST", fmt.Sprintf("/api/pages/%d/share", page.ID), map[string]any{"live": true}, &share)
	check(err)
	reader := p.nobody()
	parts := func() (keys []string) {
		answer, err := reader.client.Get(p.address + "/s/" + share.Key)
		check(err)
		defer func() { _ = answer.Body.Close() }()
		text, err := io.ReadAll(answer.Body)
		check(err)
		for _, after := range strings.Split(string(text), `data-chart="`)[1:] {
			key, _, _ := strings.Cut(after, `"`)
			keys = append(keys, key)
		}
		return keys
	}
	keys := parts()
	var quiet, changing latencies
	half := time.Now().Add(30 * time.Second)
	until := half.Add(30 * time.Second)
	var readers sync.WaitGroup
	for i := range 200 {
		readers.Go(func() {
			time.Sleep(time.Duration(i) * 5 * time.Millisecond)
			mine := keys
			for n := 0; time.Now().Before(until); n++ {
				all := &quiet
				if time.Now().After(half) {
					all = &changing
				}
				if n%10 == 0 {
					all.timed(func() (int, error) { return reader.ask("GET", "/s/"+share.Key, "", nil, nil) })
				} else {
					path := fmt.Sprintf("/s/%s/figure", mine[rand.IntN(len(mine))])
					if n%3 > 0 {
						path = fmt.Sprintf("/s/%s/rows/%d", mine[rand.IntN(len(mine))], 1+rand.IntN(900))
					}
					all.timed(func() (int, error) { // what it was before is there too, as long as it is the one before
						status, err := reader.ask("GET", path, "", nil, nil)
						if status == http.StatusNotFound {
							status = http.StatusOK
						}
						return status, err
					})
				}
				time.Sleep(time.Second)
			}
		})
	}
	time.Sleep(time.Until(half))
	var waiting struct {
		Key string `json:"key"`
	}
	_, err = owner.ask("POST", "/api/uploads?name=load.csv", "application/octet-stream", tableOf(900, 4), &waiting)
	check(err)
	_, err = owner.say("POST", fmt.Sprintf("/api/datasets/%d/files/%s/keep", dataset, waiting.Key), map[string]any{}, nil)
	check(err)
	readers.Wait()
	if after := parts(); len(after) != storyCharts || after[0] == keys[0] {
		panic("the page did not follow its dataset")
	}
	for name, all := range map[string]*latencies{"": &quiet, ", from when its dataset gets a new version on": &changing} {
		r.say(fmt.Sprintf("200 readers of a live page of five charts of 1,000 rows%s, each asking once a second: p99 of %d, %d failed", name,
			len(all.took), all.faults.Load()), milliseconds(all.share(0.99)), "50 ms, none")
	}
}
