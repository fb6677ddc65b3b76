package reading

import (
	"fmt"
	"hash/fnv"
	"regexp"
	"strings"

	"copperlark/core/figure"
	"copperlark/core/page"
)

// Statement is something a reading says that can be written elsewhere and found again: a whole paragraph, one of its strong
// stretches, or a cell of the table of fits.
type Statement struct {
	Key  string `json:"key" doc:"the same for what another reading of the chart says of the same thing"`
	Text string `json:"text"`
	Of   int    `json:"of" doc:"the paragraph that it is of, from 0; -1: of the table of fits"`
}

// Note makes words of a figure's note that are tied to its reading what the reading says now; nil: it is read here, where there are
// any.
func Note(f *figure.Figure, r *Reading) {
	if len(page.Ties(f.Note)) == 0 {
		return
	}
	if r == nil {
		r = Of(f)
	}
	f.Note = page.Noted(f.Note, r.Said())
}

// Said are the words of each statement, by its key.
func (r *Reading) Said() map[string]string {
	said := map[string]string{}
	for _, s := range r.Statements() {
		said[s.Key] = s.Text
	}
	return said
}

var numeral = regexp.MustCompile(`[0-9][0-9.,]*`)

// Statements lists what a reading says. A key is of the words around what is strong, without their numerals: where the same
// sentence is said with other numbers, or goes the other way, its key stays; where another sentence is said in its place, or of
// another column, there is no such key any more. Keys hold lower-case letters, digits, '.' and '-' only.
func (r *Reading) Statements() []Statement {
	list := []Statement{}
	seen := map[string]int{}
	key := func(words string) string {
		sum := fnv.New64a()
		_, _ = sum.Write([]byte(words))
		k := fmt.Sprintf("%016x", sum.Sum64())
		if seen[k]++; seen[k] > 1 {
			k += fmt.Sprintf("-%d", seen[k])
		}
		return k
	}
	for i, p := range r.Paragraphs {
		if p.Kind == "caution" && p.Spans == nil {
			continue
		}
		var around strings.Builder
		for _, s := range p.Spans {
			if s.Strong {
				around.WriteByte('*')
			} else {
				around.WriteString(numeral.ReplaceAllString(s.Text, "#"))
			}
		}
		whole := key(around.String())
		list = append(list, Statement{whole, p.Text(), i})
		strong := 0
		for _, s := range p.Spans {
			if s.Strong {
				strong++
				list = append(list, Statement{fmt.Sprintf("%s.%d", whole, strong), strings.TrimSpace(s.Text), i})
			}
		}
	}
	for _, f := range r.Fits {
		if f.Problem != "" {
			continue
		}
		row := key("fit " + r.SlopeUnit + " " + f.Name)
		for j, cell := range []string{f.Slope, f.Interval, f.N} {
			if cell != "" {
				list = append(list, Statement{fmt.Sprintf("%s.%d", row, j+1), cell, -1})
			}
		}
	}
	return list
}
