package sentence

import (
	"fmt"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

// cardClause says what the card of a row shows when it is pointed at.
var cardClause = clause.Clause[document]{
	Name:    "card",
	Trade:   "tooltip hover popup fields heading",
	Help:    "what pointing at a row shows, and what heads it",
	Example: "card headed by apiary shows honey_kg, forage_ha",
	Pieces: []clause.Piece{clause.Does(func(d *document) { d.Card = &chart.RowCard{} }),
		clause.OneOf("headed by or shows",
			clause.Option[document]{Help: "the column that heads it", Is: func(d *document) bool { return d.Card.Heading != "" },
				Pieces: []clause.Piece{clause.Say("headed by"), clause.Column(func(d *document) *string { return &d.Card.Heading }),
					clause.Maybe(
						func(d *document) bool { return len(d.Card.Shows) > 0 },
						nil,
						clause.Suggestion{Text: "shows ", Help: "the columns on it"},
						append(
							[]clause.Piece{clause.Say("shows")},
							clause.Columns(func(d *document) *[]string { return &d.Card.Shows })...)...)}},
			clause.Option[document]{Help: "the columns on it", Is: func(d *document) bool { return d.Card.Heading == "" },
				Pieces: append(
					[]clause.Piece{clause.Say("shows")},
					clause.Columns(func(d *document) *[]string { return &d.Card.Shows })...)})},
	Said: func(d *document) bool { return d.Card != nil },
	Speak: func(d *document, s *clause.Speech) {
		if d.Card == nil {
			return
		}
		s.Sentence("Cards ")
		if d.Card.Heading != "" {
			s.Say("headed by ")
			s.Column(d.Card.Heading, "card-heading")
		}
		for i, name := range d.Card.Shows {
			switch {
			case i > 0 && i == len(d.Card.Shows)-1:
				s.Say(" and ")
			case i > 0:
				s.Say(", ")
			case d.Card.Heading != "":
				s.Say(" show ")
			default:
				s.Say("show ")
			}
			s.Column(name, fmt.Sprintf("card:%d", i))
		}
	},
	Changed: func(_, after *document, readable func(string) string) []string {
		switch {
		case after.Card == nil:
			return []string{"usual cards"}
		case len(after.Card.Shows) > 0:
			return []string{"card: " + readable(after.Card.Shows[len(after.Card.Shows)-1])}
		}
		return []string{"card: " + readable(after.Card.Heading)}
	},
	Menus: []menu{cardMenu, columnMenu("card-heading", "Cards headed by", field(func(d *document) *string {
		if d.Card == nil {
			return new(string)
		}
		return &d.Card.Heading
	}), true, func(*document, *table.Column) {}, false)},
	Add: func(d *document, t *table.Table) []addition {
		next := with(d, func(next *document) {
			next.Card = &chart.RowCard{Shows: slices.DeleteFunc(next.Columns(), func(name string) bool { return t.Column(name) == nil })}
		})
		if d.Card != nil || !d.Whole() || len(next.Card.Shows) == 0 || chart.Check(next, t) != nil {
			return nil
		}
		return []addition{
			{
				Key:    "card",
				Rank:   16,
				Label:  "cards show …",
				Detail: "what pointing at a row shows, and in which order",
				Also:   "tooltip hover popup fields",
				D:      next,
			},
		}
	},
}

// cardMenu puts a column on the cards of rows, in another's place, or takes it off.
var cardMenu = menu{Slot: "card", Title: "On the card", Find: "Find a column",
	Count: func(d *document) int {
		if d.Card == nil {
			return 0
		}
		return len(d.Card.Shows)
	},
	Without: func(d *document, index int) *document {
		return with(d, func(next *document) {
			if next.Card.Shows = slices.Delete(next.Card.Shows, index, index+1); len(next.Card.Shows) == 0 && next.Card.Heading == "" {
				next.Card = nil
			}
		})
	},
	Choices: func(d *document, index int, t *table.Table) (list []choice) {
		for _, c := range t.Columns() {
			at := slices.Index(d.Card.Shows, c.Name)
			one := choice{
				Key:     c.Name,
				Label:   c.Prose(),
				Column:  c.Name,
				Also:    c.Name + " " + c.Meaning,
				Current: at == index,
				Detail:  "after this one",
				D:       d,
			}
			switch {
			case at == index:
				one.Detail = ""
			case at >= 0:
				one.Detail = "changes places with this one"
				one.D = with(d, func(next *document) {
					next.Card.Shows[at], next.Card.Shows[index] = next.Card.Shows[index], next.Card.Shows[at]
				})
			default:
				one.D = with(d, func(next *document) { next.Card.Shows = slices.Insert(next.Card.Shows, index+1, c.Name) })
			}
			list = append(list, one)
		}
		return list
	}}
