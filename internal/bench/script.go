package main

import (
	"bytes"
	"fmt"
	"net/http"
	"time"

	"copperlark/demo"
)

// scriptCharts is how many charts a script asks for, one after the other.
const scriptCharts = 20

// benchScripts has a script ask by its key for 20 charts of the demo's hives: as figure, as numbers and as PNG. The baseline is
// the figures alone.
func benchScripts(r *report) {
	p := startProgram()
	defer p.stop()
	owner := p.person("scripter")
	var hives bytes.Buffer
	check(demo.HiveSeasons(&hives))
	version := owner.keep(hives.Bytes())
	var key struct {
		Token string `json:"token"`
	}
	_, err := owner.say("POST", "/api/keys", map[string]any{"name": "bench", "scopes": []string{"read", "make"}, "days": 1}, &key)
	check(err)
	script := p.nobody()
	script.client.Transport = &keyed{script.client.Transport, key.Token}
	var charts []int64
	for i := range scriptCharts {
		var chart struct {
			ID int64 `json:"id"`
		}
		typed := "plot honey_kg against forage_ha\ncolour by district\nlog x\nfit line for each district and overall with band 95%\n" +
			fmt.Sprintf("title 'Chart %d'", i)
		_, err := script.say("POST", "/api/v1/charts", map[string]any{"version": version, "typed": typed}, &chart)
		check(err)
		charts = append(charts, chart.ID)
	}
	var took [3]time.Duration
	for i, what := range []string{".json", "/numbers", ".png"} {
		began := time.Now()
		for _, id := range charts {
			status, err := script.ask("GET", fmt.Sprintf("/api/v1/charts/%d%s", id, what), "", nil, nil)
			check(err)
			if status != http.StatusOK {
				panic(fmt.Sprint(what, " is answered with ", status))
			}
		}
		took[i] = time.Since(began)
	}
	r.row("baseline: 20 charts of 1,180 rows by key, as figures", "", took[0], 0)
	r.row("the same as numbers, with every finding of the check", "", took[1], took[0])
	r.row("the same as PNG", "", took[2], took[0])
	r.row("the same as figure, numbers and PNG, one after the other", "2,000 ms", took[0]+took[1]+took[2], took[0])
}

// keyed sends a key with every request.
type keyed struct {
	http.RoundTripper
	key string
}

// RoundTrip adds the key.
func (k *keyed) RoundTrip(request *http.Request) (*http.Response, error) {
	request.Header.Set("Authorization", "Bearer "+k.key)
	return k.RoundTripper.RoundTrip(request)
}
