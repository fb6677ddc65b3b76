package main

import (
	"fmt"
	"net/http"
	"sync"
	"time"
)

// frontCharts is how many charts the space holds whose front page is asked for.
const frontCharts = 10_000

// benchFront makes a space of many charts, half of them named, and measures what its front page asks for, and a search by two words.
// The baseline is the list of its one dataset.
func benchFront(r *report) {
	p := startProgram()
	defer p.stop()
	owner := p.person("finder")
	version := owner.bring(1000)
	var both sync.WaitGroup
	for half := range 2 {
		both.Go(func() {
			for i := range frontCharts / 2 {
				name := ""
				if i%2 == 0 {
					name = fmt.Sprintf("Forage of %d", 2*i+half)
				}
				status, err := owner.say("POST", "/api/charts", map[string]any{"version_id": version, "document": loadDocument, "name": name}, nil)
				check(err)
				if status != http.StatusOK {
					panic(status)
				}
			}
		})
	}
	both.Wait()
	ask := func(path string) time.Duration {
		return median(func() {
			status, err := owner.say("GET", path, nil, nil)
			check(err)
			if status != http.StatusOK {
				panic(status)
			}
		})
	}
	base := ask("/api/datasets")
	r.row("baseline: the list of one dataset", "", base, 0)
	for _, one := range []struct{ says, path string }{
		{"charts that are kept, the first 24", "/api/found/charts?state=kept&limit=24"},
		{"tries, the first 24", "/api/found/charts?state=try&limit=24"},
		{"charts found by two words", "/api/found/charts?state=kept&limit=24&find=forage+9998"},
	} {
		r.row(fmt.Sprintf("%s of %d", one.says, frontCharts), "300 ms", ask(one.path), base)
	}
}
