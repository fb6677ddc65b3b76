package sentence

import (
	"copperlark/core/clause"
	"copperlark/core/table"
)

// Columns that dress the marks.
var (
	colouredBy = colourClause(mapped{
		name: "colour", also: []string{"color"}, spoken: "coloured", title: "Colour by", rank: 1, synonyms: "color group hue",
		trade: "color hue group palette ramp colormap paired shades light dark diverging two-sided midpoint clamp range reverse gradient log",
		help:  "groups or numbers by colour", example: "colour by district", at: func(d *document) *string { return &d.Colour },
	}.clause())
	sizedBy = sizeClause(mapped{
		name: "size", spoken: "sized", title: "Size by", rank: 4, synonyms: "bubble area",
		trade: "bubble area radius range smallest largest",
		help:  "numbers by the area of marks", example: "size by frames", at: func(d *document) *string { return &d.Size },
	}.clause())
	shapedBy = mapped{
		name: "shape", spoken: "shaped", title: "Shape by", rank: 5, synonyms: "marker symbol",
		trade: "marker symbol glyph",
		help:  "groups by the shape of marks", example: "shape by hive_type", at: func(d *document) *string { return &d.Shape },
	}.clause()
)

// mapped is a column that gives marks their colour, size or shape.
type mapped struct {
	name     string   // what a sentence calls it
	also     []string // and what else it may be called
	spoken   string   // as in "coloured by"
	title    string   // of its menu
	rank     int      // among what can be said next
	synonyms string   // words that a search of what can be said next finds it by, too
	trade    string   // and one of all that can be said

	help, example string
	at            func(*document) *string
}

func (m mapped) clause() clause.Clause[document] {
	return clause.Clause[document]{Name: m.name, Also: m.also, Help: m.help, Trade: m.trade, Example: m.example,
		Pieces: []clause.Piece{clause.Say("by"), clause.Column(m.at)}, Said: func(d *document) bool { return *m.at(d) != "" },
		Speak: func(d *document, s *clause.Speech) {
			if *m.at(d) != "" {
				s.Say(", " + m.spoken + " by ")
				s.Column(*m.at(d), m.name)
			}
		},
		Changed: func(before, after *document, readable func(string) string) []string {
			return columnChange(m.name, *m.at(before), *m.at(after), readable)
		},
		Menus: []menu{columnMenu(m.name, m.title, field(m.at), m.name != "size", func(*document, *table.Column) {}, true)},
		Add: opens(
			func(d *document) bool { return *m.at(d) != "" },
			addition{Key: m.name, Rank: m.rank, Label: m.name + " by …", Detail: m.help, Opens: m.name, Also: m.synonyms},
		)}
}
