package sentence

import (
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// strokePieces say how a line that is laid over the marks looks.
func strokePieces[T any](at func(*T) *chart.Stroke) []clause.Piece {
	var dashes []clause.Option[T]
	var names []string
	for _, d := range chart.Dashes {
		names = append(names, d.Name)
		dashes = append(
			dashes,
			clause.Option[T]{
				Pieces: []clause.Piece{clause.Say(d.Name)},
				Set:    func(t *T) { at(t).Dash = d.Name },
				Is:     func(t *T) bool { return at(t).Dash == d.Name },
			},
		)
	}
	dashes = append(dashes, clause.Option[T]{Is: func(t *T) bool { return at(t).Dash == "" }})
	return []clause.Piece{
		clause.Maybe(
			func(t *T) bool { return at(t).Colour != "" },
			nil,
			clause.Suggestion{Text: "in '#b4531a'", Help: "the colour of the line"},
			clause.Say("in"),
			clause.Text(func(t *T) *string { return &at(t).Colour }),
		),
		clause.Maybe(
			func(t *T) bool { return at(t).Width != 0 },
			nil,
			clause.Suggestion{Text: "width 3", Help: "of the line, in pixels"},
			clause.Say("width"),
			clause.Number(
				func(t *T) *float64 { return &at(t).Width },
				clause.Range{From: chart.ThinnestLine, To: chart.ThickestLine, Message: chart.LineMessage, Advice: "say width 3"},
			),
		),
		clause.OneOf(strings.Join(names, ", "), dashes...)}
}

// strokeWords is how a line looks, in words; empty where nothing is said.
func strokeWords(s chart.Stroke) string {
	var list []string
	if s.Colour != "" {
		list = append(list, "in "+clause.Colour(s.Colour))
	}
	if s.Width != 0 {
		list = append(list, table.FormatNumber(s.Width)+" px wide")
	}
	if s.Dash != "" {
		list = append(list, s.Dash)
	}
	return strings.Join(list, ", ")
}

// speakStroke speaks of how a line looks.
func speakStroke(s *clause.Speech, stroke chart.Stroke, slot string) {
	if words := strokeWords(stroke); words != "" {
		s.Say(", ")
		s.Way(words, slot)
	}
}

// strokeChoices are ways in which a line can look, offered behind what else its word offers.
func strokeChoices(d *document, now chart.Stroke, put func(next *document, s chart.Stroke)) (list []choice) {
	add := func(key, label string, change func(*chart.Stroke)) {
		s := now
		change(&s)
		list = append(
			list,
			choice{
				Key:   key,
				Label: label,
				Also:  "style width dash colour thick thin line",
				D:     with(d, func(next *document) { put(next, s) }),
			},
		)
	}
	for _, dash := range chart.Dashes {
		add(dash.Name, dash.Name, func(s *chart.Stroke) { s.Dash = dash.Name })
	}
	add("thin", "thin, 1 px", func(s *chart.Stroke) { s.Width = 1 })
	add("thick", "thick, 4 px", func(s *chart.Stroke) { s.Width = 4 })
	add("ink", "in ink", func(s *chart.Stroke) { s.Colour = inkOutline })
	add("copper", "in copper", func(s *chart.Stroke) { s.Colour = "#b4531a" })
	if now.Said() {
		add("usual line", "line as usual", func(s *chart.Stroke) { *s = chart.Stroke{} })
	}
	return list
}

// strokeMenu is how a line looks that was said to look otherwise than usual.
func strokeMenu(slot string, count func(*document) int, at func(d *document, index int) *chart.Stroke) menu {
	return menu{Slot: slot, Count: count, Title: "Line", Find: "Find how the line looks",
		Without: func(d *document, index int) *document {
			return with(d, func(next *document) { *at(next, index) = chart.Stroke{} })
		},
		Choices: func(d *document, index int, _ *table.Table) []choice {
			return strokeChoices(d, *at(d, index), func(next *document, s chart.Stroke) { *at(next, index) = s })
		}}
}

var (
	fitLineMenu       = strokeMenu("fit-line", nil, func(d *document, index int) *chart.Stroke { return &d.Fits()[index].Stroke })
	referenceLineMenu = strokeMenu(
		"reference-line",
		referenceMenu.Count,
		func(d *document, index int) *chart.Stroke { return &d.References()[index].Stroke },
	)
	alsoLineMenu = strokeMenu("also-line", nil, func(d *document, index int) *chart.Stroke { return &d.Also[index].Stroke })
)
