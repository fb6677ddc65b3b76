package sentence

import (
	"copperlark/core/clause"
	"copperlark/core/table"
)

// reversed turns an axis round, whatever its limits.
func reversed(axis string) clause.Clause[document] {
	turn := func(d *document, round bool) { d.Scale(axis).Reversed = round }
	return clause.Clause[document]{
		Name: axis + " reversed", Also: []string{"reverse " + axis}, Example: axis + " reversed",
		Help:   "the " + ways[axis] + " axis turned round",
		Trade:  "inverted flip mirrored direction axis",
		Pieces: []clause.Piece{clause.Does(func(d *document) { turn(d, true) })},
		Said:   func(d *document) bool { return d.Scale(axis).Reversed },
		Speak: func(d *document, s *clause.Speech) {
			if d.Scale(axis).Reversed {
				s.Sentence("Turn ")
				s.Way(axis+" round", "reversed-"+axis)
			}
		},
		Changed: func(_, after *document, _ func(string) string) []string {
			return []string{map[bool]string{true: axis + " turned round", false: axis + " turned back"}[after.Scale(axis).Reversed]}
		},
		Menus: []menu{{Slot: "reversed-" + axis, Title: wayOf(axis), Find: "Find a way round",
			Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
				for _, way := range []struct {
					label string
					round bool
				}{{"turned round", true}, {"as usual", false}} {
					list = append(list, choice{Key: way.label, Label: way.label, Current: d.Scale(axis).Reversed == way.round,
						D: with(d, func(next *document) { turn(next, way.round) })})
				}
				return list
			}}},
		Add: func(d *document, _ *table.Table) []addition {
			if d.Scale(axis).Reversed {
				return nil
			}
			return []addition{{Key: axis + " reversed", Rank: 13, Label: axis + " reversed", Detail: "the " + ways[axis] + " axis turned round",
				Also: "reverse invert flip direction descending", D: with(d, func(next *document) { turn(next, true) })}}
		},
	}
}
