package main

import (
	"bytes"
	"fmt"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// marked is what each mark is measured on, where two numbers against each other do not suit it.
var marked = map[string]string{
	"bars": "plot mean(y) against g", "stacked bars": "plot count() against g", "share bars": "plot count() against g",
	"boxes": "plot y against g", "strips": "plot y against g", "counts": "plot h against g", "ridges": "plot g against y",
	"histogram": "plot spread of y", "curve": "plot spread of y", "line": "plot mean(y) against w", "steps": "plot mean(y) against w",
	"area": "plot mean(y) against w", "stems": "plot mean(y) against w",
}

// benchMarks measures every mark from the table to the encoded figure, coloured by groups where
// it takes them.
func benchMarks(r *report, x, y []float64, group []int32) {
	whole := make([]float64, len(x))
	for i := range whole {
		whole[i] = float64(i * 7 % 365)
	}
	levels := []string{"a", "b", "c", "d", "e"}
	t, err := table.New(
		table.NewNumbers("x", x),
		table.NewNumbers("y", y),
		table.NewNumbers("w", whole),
		&table.Column{
			Name:   "g",
			Kind:   table.Category,
			Codes:  group,
			Levels: levels,
		},
		&table.Column{Name: "h", Kind: table.Category, Codes: shifted(group), Levels: levels},
	)
	check(err)
	for _, m := range mark.List {
		typed := marked[m.Name]
		if typed == "" {
			typed = "plot y against x"
		}
		typed += "\nas " + m.Name
		if d, mistakes := sentence.Parse(typed+"\ncolour by h", t); mistakes == nil && mark.Bind(d, t).Problems() == nil {
			typed += "\ncolour by h"
		}
		d, mistakes := sentence.Parse(typed, t)
		if mistakes != nil {
			panic(mistakes[0].Message)
		}
		took := median(func() {
			f, problems, err := figure.Build(ctx, mark.Bind(d, t), figure.Options{Metrics: text.Hanken()})
			check(err)
			if problems != nil {
				panic(m.Name + ": " + problems[0].Message)
			}
			var out bytes.Buffer
			check(f.Encode(&out, nil))
		})
		r.row(fmt.Sprintf("as %s: from the table to the figure, encoded", m.Name), "300 ms", took, 0)
	}
}

// shifted are groups that go their own way.
func shifted(group []int32) []int32 {
	out := make([]int32, len(group))
	for i := range out {
		out[i] = (group[i] + int32(i%3)) % 5
	}
	return out
}
