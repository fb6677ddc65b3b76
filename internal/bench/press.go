package main

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"time"
)

// benchPress times what one press asks of the program on 200,000 rows: the picture with the small one of the trail, and
// keeping the step. Every press is of a chart that nobody drew before.
func benchPress(r *report) {
	const rows, presses = 200_000, 30
	p := startProgram()
	defer p.stop()
	one := p.person("press")
	version := one.keep(seasons(rows))
	path := fmt.Sprintf("/api/versions/%d/figure", version)
	var drawn, kept []time.Duration
	var chart struct {
		ID   int64 `json:"id"`
		Head int64 `json:"head_step_id"`
	}
	for i := range presses {
		typed := fmt.Sprintf("plot mean(kg) against season as groups\nopacity 0.%d", 10+i)
		begun := time.Now()
		document := one.document(path, map[string]any{
			"typed": typed, "width": 900, "height": 520, "small": map[string]int{"width": 104, "height": 54},
		})
		drawn = append(drawn, time.Since(begun))
		if i == 0 {
			_, err := one.say("POST", "/api/charts", map[string]any{"version_id": version, "document": document}, &chart)
			check(err)
			continue
		}
		var step struct {
			ID int64 `json:"id"`
		}
		begun = time.Now()
		_, err := one.say("POST", fmt.Sprintf("/api/charts/%d/steps", chart.ID), map[string]any{"parent_id": chart.Head, "document": document},
			&step)
		check(err)
		kept = append(kept, time.Since(begun))
		chart.Head = step.ID
	}
	r.row(fmt.Sprintf("mean by groups of %d rows pressed: the picture and the small one", rows), "", middle(drawn), 0)
	r.row("keeping it as a step", "at most a tenth of drawing", middle(kept), middle(drawn))
}

// seasons is a table of weights in whole seasons: numbers that are read as groups.
func seasons(rows int) []byte {
	source := rand.New(rand.NewPCG(3, uint64(rows)))
	var file bytes.Buffer
	file.WriteString("season,kg,district\n")
	for range rows {
		fmt.Fprintf(&file, "%d,%.2f,%c\n", 2027+source.IntN(5), 20+5*source.NormFloat64(), 'A'+rune(source.IntN(5)))
	}
	return file.Bytes()
}

// middle is the median of times, without the first, which loads the table.
func middle(took []time.Duration) time.Duration {
	sorted := slices.Sorted(slices.Values(took[1:]))
	return sorted[len(sorted)/2]
}

// document asks for a figure, and gives the chart document in its head.
func (s *somebody) document(path string, wanted any) json.RawMessage {
	text, err := json.Marshal(wanted)
	check(err)
	request, err := http.NewRequest("POST", s.address+path, strings.NewReader(string(text)))
	check(err)
	request.Header.Set("Content-Type", "application/json")
	answer, err := s.client.Do(request)
	check(err)
	defer func() { _ = answer.Body.Close() }()
	content, err := io.ReadAll(answer.Body)
	check(err)
	var head struct {
		Document json.RawMessage `json:"document"`
	}
	check(json.Unmarshal(content[12:12+binary.LittleEndian.Uint32(content[8:])], &head))
	return head.Document
}
