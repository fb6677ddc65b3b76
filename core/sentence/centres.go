package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// centresClause shows where the groups of a column stand, and the line between them.
var centresClause = clause.Clause[document]{
	Name:    "centres of",
	Trade:   "centroids means centers between groups",
	Help:    "the means of groups, and the line between them",
	Example: "centres of district",
	Pieces:  []clause.Piece{clause.Column(func(d *document) *string { return &d.Layer(chart.CentresLayer).By })},
	Said:    func(d *document) bool { return d.Centres() != "" },
	Speak: func(d *document, s *clause.Speech) {
		if d.Centres() != "" {
			s.Sentence("Show the centres of ")
			s.Column(d.Centres(), "centres")
		}
	},
	Changed: func(_, after *document, readable func(string) string) []string {
		if after.Centres() == "" {
			return []string{"no centres"}
		}
		return []string{"+ centres: " + readable(after.Centres())}
	},
	Menus: []menu{
		columnMenu("centres", "Centres of", columnField{(*document).Centres, (*document).SetCentres}, true, func(*document, *table.Column) {},
			true),
	},
	Add: addCentres,
}

func addCentres(d *document, t *table.Table) []addition {
	if d.Centres() != "" || !d.Whole() {
		return nil
	}
	list := []addition{
		{
			Key:    "centres",
			Rank:   9,
			Label:  "centres of …",
			Detail: "the means of groups, and the line between them",
			Opens:  "centres",
			Also:   "centroids means ecological between groups",
		},
	}
	if d.Colour != "" { // the groups that are seen already
		if next := with(d, func(next *document) { next.SetCentres(d.Colour) }); chart.Check(next, t) == nil {
			list[0] = addition{
				Key:    "centres",
				Rank:   9,
				Label:  "centres of " + t.Column(d.Colour).Prose(),
				Detail: list[0].Detail,
				Also:   list[0].Also,
				D:      next,
			}
		}
	}
	return list
}
