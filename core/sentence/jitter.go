package sentence

import (
	"slices"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// jitters are the axes along which dots can be moved apart.
var jitters = [][]string{{"x"}, {"y"}, {"x", "y"}}

// jitterClause moves dots apart that share a group or a whole number.
var jitterClause = clause.Clause[document]{Name: "jitter", Trade: "overplotting strew noise overlap",
	Help: "dots that share a place are moved apart, at random", Example: "jitter x",
	Pieces: []clause.Piece{
		clause.WordList(
			func(d *document) []string { return d.Jitter },
			func(d *document, axes []string) { d.Jitter = axes },
			2,
			"x, y or x and y",
			clause.Word{Text: "x", Help: "sideways"},
			clause.Word{Text: "y", Help: "up and down"},
		),
	},
	Said: func(d *document) bool { return len(d.Jitter) > 0 },
	Speak: func(d *document, s *clause.Speech) {
		if len(d.Jitter) > 0 {
			s.Say(", ")
			s.Way("jittered along "+strings.Join(d.Jitter, " and "), "jitter")
		}
	},
	Changed: func(_, after *document, _ func(string) string) []string {
		if len(after.Jitter) == 0 {
			return []string{"no jitter"}
		}
		return []string{"jitter " + strings.Join(after.Jitter, " and ")}
	},
	Menus: []menu{{Slot: "jitter", Title: "Jitter", Find: "Find an axis",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Jitter = nil }) },
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for _, axes := range jitters {
				name := strings.Join(axes, " and ")
				list = append(
					list,
					choice{
						Key:     name,
						Label:   "jittered along " + name,
						Detail:  "what is computed from rows does not move with them",
						D:       with(d, func(next *document) { next.Jitter = slices.Clone(axes) }),
						Current: slices.Equal(d.Jitter, axes),
					},
				)
			}
			return list
		}}},
	Add: func(d *document, t *table.Table) []addition {
		if len(d.Jitter) > 0 || !d.Whole() {
			return nil
		}
		for _, axes := range jitters {
			if next := with(d, func(next *document) { next.Jitter = slices.Clone(axes) }); mark.Bind(next, t).Problems() == nil {
				return []addition{
					{
						Key:    "jitter",
						Rank:   8,
						Label:  "jitter " + axes[0],
						Detail: "dots that share a place are moved apart along the " + ways[axes[0]] + " axis",
						Also:   "overplotting strew noise spread overlap",
						D:      next,
					},
				}
			}
		}
		return nil
	}}
