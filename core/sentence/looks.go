package sentence

import (
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// oneOf is a clause that says one of a list of options.
func oneOf(name, spoken, title, help, trade string, rank int, options []chart.Option, at func(*document) *string) clause.Clause[document] {
	var pieces []clause.Option[document]
	var names, also []string
	for _, o := range options {
		names, also = append(names, o.Name), append(also, o.Also)
		pieces = append(
			pieces,
			clause.Option[document]{
				Help:   o.Help,
				Pieces: []clause.Piece{clause.Say(o.Name)},
				Set:    func(d *document) { *at(d) = o.Name },
				Is:     func(d *document) bool { return *at(d) == o.Name },
			},
		)
	}
	return clause.Clause[document]{
		Name:    name,
		Help:    help,
		Trade:   strings.Join(append(also, trade), " "),
		Example: name + " " + names[0],
		Said:    func(d *document) bool { return *at(d) != "" },
		Pieces:  []clause.Piece{clause.OneOf(strings.Join(names, ", "), pieces...)},
		Speak: func(d *document, s *clause.Speech) {
			if *at(d) != "" {
				s.Sentence(spoken + " ")
				s.Way(*at(d), name)
			}
		},
		Changed: func(_, after *document, _ func(string) string) []string {
			if *at(after) == "" {
				return []string{name + " as usual"}
			}
			return []string{name + " " + *at(after)}
		},
		Menus: []menu{{Slot: name, Title: title, Find: "Find a " + name,
			Without: func(d *document, _ int) *document { return with(d, func(next *document) { *at(next) = "" }) },
			Choices: func(d *document, _ int, _ *table.Table) []choice {
				list := []choice{
					{Key: "usual", Label: "as usual", D: with(d, func(next *document) { *at(next) = "" }), Current: *at(d) == ""},
				}
				for _, o := range options {
					list = append(
						list,
						choice{
							Key:     o.Name,
							Label:   o.Name,
							Detail:  o.Help,
							Also:    o.Also,
							D:       with(d, func(next *document) { *at(next) = o.Name }),
							Current: *at(d) == o.Name,
						},
					)
				}
				return list
			}}},
		Add: opens(
			func(d *document) bool { return *at(d) != "" },
			addition{Key: name, Rank: rank, Label: name + " …", Detail: help, Opens: name, Also: strings.Join(also, " ")},
		),
	}
}

var (
	lookClause = oneOf(
		"look",
		"Its look is",
		"Look",
		"how the chart looks as a whole",
		"theme style appearance",
		18,
		chart.Looks,
		func(d *document) *string { return &d.Look },
	)
	gridClause = oneOf(
		"grid",
		"Grid",
		"Grid",
		"the lines behind the marks",
		"background",
		19,
		chart.Grids,
		func(d *document) *string { return &d.Grid },
	)
	textClause = oneOf(
		"text",
		"Text",
		"Text",
		"how large words and numbers are",
		"bigger",
		19,
		chart.Texts,
		func(d *document) *string { return &d.Text },
	)
	weightClause = oneOf(
		"weight",
		"Words",
		"Weight",
		"how heavy words and numbers are",
		"bold",
		20,
		chart.Weights,
		func(d *document) *string { return &d.Weight },
	)
	overlapClause = oneOf(
		"overlap",
		"Overlap shaded",
		"Overlap",
		"whether dots that lie over each other are shaded by how many there are",
		"mapping crowded",
		21,
		chart.Overlaps,
		func(d *document) *string { return &d.Overlap },
	)
	guidesClause = oneOf(
		"guides",
		"Guides",
		"Guides",
		"whether lines lead from the mark that is pointed at to the axes",
		"crosshair hover pointer",
		22,
		chart.Guides,
		func(d *document) *string { return &d.Guides },
	)
	keyClause = oneOf("key", "Key", "Key", "where the keys stand", "place", 17, chart.Keys, func(d *document) *string { return &d.Key })
)

// paperSide is a side of a paper, in pixels or millimetres: which of the two stands behind it.
var paperSide = clause.Range{
	From:    0,
	To:      chart.MostPaper,
	Above:   true,
	Message: chart.PaperMessage,
	Advice:  "say paper 900 by 560, or paper 180 by 120 mm",
}

// papers are sizes that are offered.
var papers = []struct {
	chart.Paper
	help string
}{
	{chart.Paper{Width: 900, Height: 560}, "as in a report"},
	{chart.Paper{Width: 640, Height: 640}, "square"},
	{chart.Paper{Width: 1280, Height: 720}, "a slide"},
	{chart.Paper{Width: 1200, Height: 400}, "wide"},
	{chart.Paper{Width: 560, Height: 800}, "upright"},
	{chart.Paper{Width: 160, Height: 100, Millimetres: true}, "as wide as the words of an A4 page"},
	{chart.Paper{Width: 80, Height: 60, Millimetres: true}, "one of two columns"},
}

// paperClause gives a chart a paper of its own.
var paperClause = clause.Clause[document]{
	Name:    "paper",
	Trade:   "millimetres mm centimetres size width height aspect ratio dimensions pixels square",
	Help:    "the size of the chart, in pixels or mm",
	Example: "paper 900 by 560",
	Said:    func(d *document) bool { return d.Paper != nil },
	Pieces: []clause.Piece{
		clause.Does(func(d *document) { d.Paper = &chart.Paper{} }),
		clause.Number(func(d *document) *float64 { return &d.Paper.Width }, paperSide),
		clause.Say("by"),
		clause.Number(func(d *document) *float64 { return &d.Paper.Height }, paperSide),
		clause.Maybe(
			func(d *document) bool { return d.Paper.Millimetres },
			func(d *document) { d.Paper.Millimetres = true },
			clause.Suggestion{Help: "in millimetres instead of pixels"},
			clause.Say("mm"),
		),
	},
	Speak: func(d *document, s *clause.Speech) {
		if d.Paper != nil {
			s.Sentence("Paper ")
			s.Way(paperText(d.Paper), "paper")
		}
	},
	Changed: func(_, after *document, _ func(string) string) []string {
		if after.Paper == nil {
			return []string{"paper as wide as there is room"}
		}
		return []string{"paper " + paperText(after.Paper)}
	},
	Menus: []menu{{Slot: "paper", Title: "Paper", Find: "Find a size",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Paper = nil }) },
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for _, p := range papers {
				list = append(
					list,
					choice{
						Key:     paperText(&p.Paper),
						Label:   paperText(&p.Paper),
						Detail:  p.help,
						D:       with(d, func(next *document) { next.Paper = &p.Paper }),
						Current: d.Paper != nil && *d.Paper == p.Paper,
					},
				)
			}
			return list
		}}},
	Add: opens(
		func(d *document) bool { return d.Paper != nil },
		addition{
			Key:    "paper",
			Rank:   20,
			Label:  "paper …",
			Detail: "the size of the chart, square, wide or as a slide",
			Opens:  "paper",
			Also:   "width height size aspect ratio dimensions",
		},
	),
}

func paperText(p *chart.Paper) string {
	text := table.FormatNumber(p.Width) + " by " + table.FormatNumber(p.Height)
	if p.Millimetres {
		text += " mm"
	}
	return text
}
