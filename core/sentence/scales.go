package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

func logScale(axis string) clause.Clause[document] {
	at := func(d *document) *chart.Axis { return d.Scale(axis) }
	return clause.Clause[document]{Name: "log " + axis, Help: "a log scale along " + wayOf(axis), Example: "log " + axis + " base 2",
		Trade: "logarithmic scale transform axis",
		Pieces: []clause.Piece{clause.Does(func(d *document) { at(d).Scale = chart.LogScale }),
			clause.Maybe(
				func(d *document) bool { return at(d).Base != 0 },
				nil,
				clause.Suggestion{Text: "base 2", Help: "whose powers carry the ticks"},
				clause.Say(
					"base",
				),
				clause.Number(
					func(d *document) *float64 { return &at(d).Base },
					clause.Range{
						From:    1,
						To:      1000,
						Above:   true,
						Message: "the base of a log scale is above 1",
						Advice:  "say base 2, or base 10",
					},
				),
			)},
		Said: func(d *document) bool { return at(d).Log() },
		Changed: func(_, after *document, _ func(string) string) []string {
			if at(after).Log() {
				return []string{"log " + axis}
			}
			if at(after).Scale == "" {
				return []string{"linear " + axis}
			}
			return nil
		},
		Menus: []menu{scaleMenu(axis)},
		Add: func(d *document, t *table.Table) []addition {
			c := t.Column(d.Along(axis).Column)
			if at(d).Scale != "" || d.Along(axis).Aggregated() || !positive(c) {
				return nil
			}
			return []addition{
				{
					Key:    "log " + axis,
					Rank:   3,
					Label:  "log " + axis,
					Detail: c.Prose() + ", along the " + ways[axis] + " axis, on a log scale",
					Also:   "logarithmic",
					D:      with(d, func(next *document) { at(next).Scale = chart.LogScale }),
				},
			}
		}}
}

func nearLinear(axis string) clause.Clause[document] {
	at := func(d *document) *chart.Axis { return d.Scale(axis) }
	return clause.Clause[document]{
		Name:    "near-linear at zero " + axis,
		Help:    "a log scale that has a place for zero and below, along " + wayOf(axis),
		Example: "near-linear at zero " + axis,
		Trade:   "symmetric log symlog asinh",
		Pieces:  []clause.Piece{clause.Does(func(d *document) { at(d).Scale, at(d).Base = chart.NearLinear, 0 })},
		Said:    func(d *document) bool { return at(d).Scale == chart.NearLinear },
		Changed: func(_, after *document, _ func(string) string) []string {
			if at(after).Scale == "" {
				return []string{"linear " + axis}
			}
			if at(after).Log() {
				return nil
			}
			return []string{"near-linear " + axis}
		},
		Add: func(d *document, t *table.Table) []addition {
			c := t.Column(d.Along(axis).Column)
			if at(d).Scale != "" || d.Along(axis).Aggregated() || c == nil || !c.Kind.Quantity() || positive(c) && !negative(c) {
				return nil
			}
			return []addition{
				{
					Key:    "near-linear " + axis,
					Rank:   11,
					Label:  "near-linear at zero " + axis,
					Detail: "spreads small values along the " + ways[axis] + " axis, and keeps zero and below",
					Also:   "symmetric log symlog asinh",
					D:      with(d, func(next *document) { at(next).Scale = chart.NearLinear }),
				},
			}
		},
	}
}
