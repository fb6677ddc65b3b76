package sentence

import (
	"slices"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// edgesClause shows how rows are spread along each axis, beside the chart.
var edgesClause = clause.Clause[document]{Name: "edges", Trade: "marginal distribution rug histogram density joint",
	Help: "how rows are spread along each axis", Example: "edges histogram and curve",
	Pieces: []clause.Piece{
		clause.WordList(
			func(d *document) []string { return d.Edges() },
			func(d *document, names []string) { d.SetEdges(names) },
			len(mark.Edges),
			"histogram, curve or boxes",
			edgeWords()...),
	},
	Said: func(d *document) bool { return len(d.Edges()) > 0 },
	Speak: func(d *document, s *clause.Speech) {
		if len(d.Edges()) > 0 {
			s.Sentence("Show edges as ")
			s.Way(strings.Join(d.Edges(), " and "), "edges")
		}
	},
	Changed: func(_, after *document, _ func(string) string) []string {
		if len(after.Edges()) == 0 {
			return []string{"no edges"}
		}
		return []string{"edges: " + strings.Join(after.Edges(), ", ")}
	},
	Menus: []menu{edgesMenu}, Add: addEdges}

func edgeWords() (list []clause.Word) {
	for _, e := range mark.Edges {
		list = append(list, clause.Word{Text: e.Name, Help: e.Help})
	}
	return list
}

var edgesMenu = menu{Slot: "edges", Title: "Edges", Find: "Find what stands along the edges",
	Without: func(d *document, _ int) *document {
		if len(d.Edges()) == 0 {
			return nil
		}
		return with(d, func(next *document) { next.SetEdges(nil) })
	},
	Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
		for _, ways := range [][]string{{"histogram"}, {"curve"}, {"histogram", "curve"}, {"boxes"}} {
			list = append(
				list,
				choice{
					Key:     strings.Join(ways, " "),
					Label:   strings.Join(ways, " and "),
					Detail:  mark.EdgeNamed(ways[len(ways)-1]).Help,
					Also:    "marginal rug distribution density",
					D:       with(d, func(next *document) { next.SetEdges(ways) }),
					Current: slices.Equal(d.Edges(), ways),
				},
			)
		}
		return list
	}}

func addEdges(d *document, t *table.Table) []addition {
	next := with(d, func(next *document) { next.SetEdges([]string{"histogram", "curve"}) })
	if len(d.Edges()) > 0 || !d.Whole() || mark.Bind(next, t).Problems() != nil {
		return nil
	}
	return []addition{
		{
			Key:    "edges",
			Rank:   8,
			Label:  "edges as histogram and curve",
			Detail: "how rows are spread along each axis, on its own scale",
			Also:   "marginal distribution rug density joint",
			D:      next,
		},
	}
}
