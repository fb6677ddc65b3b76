package sentence

import (
	"fmt"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/colour"
	"copperlark/core/table"
)

// outlineClause is the line around marks.
var outlineClause = clause.Clause[document]{
	Name:    "outline",
	Trade:   "border edge stroke rim",
	Help:    "the line around dots, bars and cells",
	Example: "outline '#16302e' width 1.5",
	Said:    func(d *document) bool { return d.Outline != nil },
	Pieces: []clause.Piece{clause.OneOf(
		"a colour in single quotes, or off",
		clause.Option[document]{
			Help:   "none",
			Pieces: []clause.Piece{clause.Say("off")},
			Set:    func(d *document) { d.Outline = &chart.Outline{Off: true} },
			Is:     func(d *document) bool { return d.Outline.Off },
		},
		clause.Option[document]{
			Help: "of a colour",
			Text: "'#16302e'",
			Set:  func(d *document) { d.Outline = &chart.Outline{} },
			Is:   func(d *document) bool { return !d.Outline.Off },
			Pieces: []clause.Piece{clause.Text(func(d *document) *string { return &d.Outline.Colour }),
				clause.Maybe(
					func(d *document) bool { return d.Outline.Width != 0 },
					nil,
					clause.Suggestion{Text: "width 1.5", Help: "in pixels"},
					clause.Say("width"),
					clause.Number(
						func(d *document) *float64 { return &d.Outline.Width },
						clause.Range{
							From:    chart.ThinnestOutline,
							To:      chart.ThickestOutline,
							Message: chart.OutlineMessage,
							Advice:  "say width 1.5",
						},
					),
				)},
		},
	)},
	Speak: func(d *document, s *clause.Speech) {
		if d.Outline != nil {
			s.Say(", ")
			s.Way(outlineText(d.Outline), "outline")
		}
	},
	Changed: func(_, after *document, _ func(string) string) []string {
		if after.Outline == nil {
			return []string{"outline as usual"}
		}
		return []string{outlineText(after.Outline)}
	},
	Menus: []menu{{Slot: "outline", Title: "Outline", Find: "Find an outline",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Outline = nil }) },
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for _, o := range []chart.Outline{{Off: true}, {Colour: inkOutline}, {Colour: inkOutline, Width: 2}, {Colour: colour.PaperLight},
				{Colour: "#b4531a", Width: 1.5}} {
				list = append(
					list,
					choice{
						Key:     outlineText(&o),
						Label:   outlineText(&o),
						Also:    "border edge stroke",
						D:       with(d, func(next *document) { next.Outline = &o }),
						Current: d.Outline != nil && *d.Outline == o,
					},
				)
			}
			return list
		}}},
	Add: func(d *document, _ *table.Table) []addition {
		if d.Outline != nil || !d.Whole() {
			return nil
		}
		return []addition{
			{
				Key:    "outline",
				Rank:   18,
				Label:  "outline in ink",
				Detail: "the line around dots, bars and cells",
				Also:   "border edge stroke rim",
				D:      with(d, func(next *document) { next.Outline = &chart.Outline{Colour: inkOutline} }),
			},
		}
	},
}

// inkOutline is the colour of outlines that is offered first.
const inkOutline = "#16302e"

func outlineText(o *chart.Outline) string {
	switch {
	case o.Off:
		return "without outline"
	case o.Width != 0:
		return fmt.Sprintf("outlined in %s, %s px", clause.Colour(o.Colour), table.FormatNumber(o.Width))
	}
	return "outlined in " + clause.Colour(o.Colour)
}

// quotedList joins texts, each as quoted writes it.
func quotedList(list []string, quoted func(string) string) string {
	said := make([]string, len(list))
	for i, text := range list {
		said[i] = quoted(text)
	}
	return strings.Join(said, ", ")
}

// coloured are the names of the groups that colour a chart; nil where there are none, or too many
// to be named one by one.
func coloured(d *document, t *table.Table) []string {
	if len(d.AlsoY) > 0 {
		var names []string
		for _, name := range append([]string{d.Y.Column}, d.AlsoY...) {
			if c := t.Column(name); c != nil {
				names = append(names, c.ReadableName())
			}
		}
		return names
	}
	c := t.Column(d.Colour)
	if c == nil || d.Gradient.Of(c) || d.Paired != "" {
		return nil
	}
	if d.Top > 0 && c.Kind.Coded() {
		return c.TopGroups(d.Top).Levels
	}
	if c = c.AsGroups(chart.MaxColours); c == nil {
		return nil
	}
	return c.Levels
}

// groupList is a clause that names groups of the colour, in an order.
func groupList(
	name, spoken, slot, title, help, example, detail, also string,
	rank int,
	at func(*document) *[]string,
) clause.Clause[document] {
	return clause.Clause[document]{
		Name:    name,
		Help:    help,
		Example: example,
		Trade:   also,
		Pieces:  []clause.Piece{clause.Texts(at)},
		Said:    func(d *document) bool { return len(*at(d)) > 0 },
		Speak: func(d *document, s *clause.Speech) {
			if list := *at(d); len(list) > 0 {
				s.Sentence(spoken)
				s.Way(quotedList(list, clause.Quoted), slot)
			}
		},
		Changed: func(_, after *document, _ func(string) string) []string {
			if list := *at(after); len(list) > 0 {
				return []string{name + " " + list[0]}
			}
			return []string{name + " as usual"}
		},
		Menus: []menu{{Slot: slot, Title: title, Find: "Find a group",
			Without: func(d *document, _ int) *document {
				if len(*at(d)) == 0 {
					return nil
				}
				return with(d, func(next *document) { *at(next) = nil })
			},
			Choices: func(d *document, _ int, t *table.Table) (list []choice) {
				groups := coloured(d, t)
				for _, said := range *at(d) {
					if !slices.Contains(groups, said) {
						groups = append(slices.Clone(groups), said)
					}
				}
				for _, group := range groups {
					next := with(d, func(next *document) {
						*at(next) = append(
							[]string{group},
							slices.DeleteFunc(slices.Clone(*at(d)), func(other string) bool { return other == group })...)
					})
					list = append(
						list,
						choice{Key: group, Label: group, Detail: detail, D: next, Current: len(*at(d)) > 0 && (*at(d))[0] == group},
					)
				}
				return list
			}}},
		Add: func(d *document, t *table.Table) []addition {
			if len(*at(d)) > 0 || len(coloured(d, t)) < 2 {
				return nil
			}
			return []addition{{Key: name, Rank: rank, Label: name + " …", Detail: help, Also: also, Opens: slot}}
		},
	}
}

var (
	frontClause = groupList(
		"in front",
		"In front ",
		"front",
		"In front",
		"which groups lie on top of the others",
		"in front 'Tarn', 'Brindle'",
		"lies on top of the others",
		"z-order overlap top layer above bring forward hidden highlight",
		18,
		func(d *document) *[]string { return &d.Front },
	)
	keyOrderClause = groupList(
		"key in order",
		"Key in the order ",
		"key-order",
		"First in the key",
		"the order of the key, by hand",
		"key in order 'Tarn', 'Brindle'",
		"stands first",
		"legend sort reorder entries sequence",
		19,
		func(d *document) *[]string { return &d.KeyOrder },
	)
)

// paletteClause is the colours of groups.
var paletteClause = clause.Clause[document]{
	Name:    "palette",
	Trade:   "colors scheme own brand corporate hues",
	Help:    "the colours of groups, one after the other",
	Example: "palette '#b4531a', '#1f7a6d', '#52054b'",
	Pieces: []clause.Piece{
		clause.Texts(func(d *document) *[]string { return &d.Palette }),
	},
	Said: func(d *document) bool { return len(d.Palette) > 0 },
	Speak: func(d *document, s *clause.Speech) {
		if n := len(d.Palette); n > 0 {
			s.Say(", in a ")
			s.Fold("palette of "+quotedList(d.Palette, clause.Colour), fmt.Sprintf("palette of %d", n), "palette")
		}
	},
	Changed: func(_, after *document, _ func(string) string) []string {
		if len(after.Palette) == 0 {
			return []string{"usual palette"}
		}
		return []string{fmt.Sprintf("palette of %d", len(after.Palette))}
	},
	Menus: []menu{{Slot: "palette", Title: "Palette", Find: "Find a palette",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Palette = nil }) },
		Choices: func(d *document, _ int, _ *table.Table) []choice {
			list := []choice{
				{
					Key:     "usual",
					Label:   colour.Hedgerow.Name,
					Detail:  "as usual",
					Also:    "default reset",
					D:       with(d, func(next *document) { next.Palette = nil }),
					Current: len(d.Palette) == 0,
				},
			}
			if len(d.Palette) > 0 {
				list = append(
					list,
					choice{
						Key:     "own",
						Label:   strings.Join(d.Palette, " "),
						Detail:  "of this chart",
						D:       with(d, func(*document) {}),
						Current: true,
					},
				)
			}
			turned := append(slices.Clone(colour.Hedgerow.Light[1:]), colour.Hedgerow.Light[0])
			return append(
				list,
				choice{
					Key:     "turned",
					Label:   colour.Hedgerow.Name + ", verdigris first",
					Detail:  "the same colours from the second on",
					D:       with(d, func(next *document) { next.Palette = turned }),
					Current: slices.Equal(d.Palette, turned),
				},
			)
		}}},
	Add: func(d *document, t *table.Table) []addition {
		if len(d.Palette) > 0 || coloured(d, t) == nil {
			return nil
		}
		return []addition{
			{
				Key:    "palette",
				Rank:   17,
				Label:  "palette …",
				Detail: "the colours of groups",
				Also:   "colors scheme own brand corporate",
				Opens:  "palette",
			},
		}
	},
}
