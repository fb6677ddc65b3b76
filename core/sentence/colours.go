package sentence

import (
	"fmt"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// colourClause lets the most frequent groups of a column have a colour each, and the rest one
// together: columns of more groups than there are colours are offered so.
func colourClause(c clause.Clause[document]) clause.Clause[document] {
	c.Pieces = append(
		c.Pieces,
		clause.Maybe(
			func(d *document) bool { return d.Paired != "" },
			nil,
			clause.Suggestion{Text: "paired with ", Help: "a second column: hues by the first, dark and pale by this one"},
			clause.Say("paired with"),
			clause.Column(func(d *document) *string { return &d.Paired }),
		),
	)
	c.Pieces = append(
		c.Pieces,
		clause.Maybe(
			func(d *document) bool { return d.Top > 0 },
			nil,
			clause.Suggestion{Text: "top 9", Help: "the most frequent groups, and the rest in one colour"},
			clause.Say(
				"top",
			),
			clause.Count(
				func(d *document) *int { return &d.Top },
				clause.Range{
					From:     1,
					To:       chart.MaxColours - 1,
					Expected: "how many groups",
					Message:  fmt.Sprintf("from 1 to %d groups have a colour each beside the rest", chart.MaxColours-1),
				},
			),
		),
	)
	c.Pieces = append(
		c.Pieces,
		clause.Maybe(
			func(d *document) bool { return d.Patterns },
			func(d *document) { d.Patterns = true },
			clause.Suggestion{Help: "the line of each group has a pattern, too"},
			clause.Say("with patterns"),
		),
	)
	c.Pieces = append(c.Pieces, gradientPieces...)
	speak, changed := c.Speak, c.Changed
	c.Speak = func(d *document, s *clause.Speech) {
		speak(d, s)
		if d.Colour != "" && d.Paired != "" {
			s.Say(" paired with ")
			s.Column(d.Paired, "paired")
		}
		if d.Colour != "" && d.Top > 0 {
			s.Say(" (")
			s.Way(fmt.Sprintf("its %d most frequent", d.Top), "colour-top")
			s.Say(")")
		}
		if d.Colour != "" && d.Patterns {
			s.Say(" ")
			s.Way("with patterns", "patterns")
		}
		if d.Colour != "" {
			speakGradient(d, s)
		}
	}
	c.Changed = func(before, after *document, readable func(string) string) []string {
		if before.Colour == after.Colour && before.Paired != after.Paired {
			return columnChange("pairs", before.Paired, after.Paired, readable)
		}
		if before.Colour == after.Colour && before.Top != after.Top {
			if after.Top == 0 {
				return []string{"all groups"}
			}
			return []string{fmt.Sprintf("colour: top %d", after.Top)}
		}
		if before.Colour == after.Colour && before.Patterns != after.Patterns {
			return []string{map[bool]string{true: "+ patterns", false: "no patterns"}[after.Patterns]}
		}
		if before.Colour == after.Colour && !before.Gradient.Same(&after.Gradient) {
			return []string{"colours " + gradientChange(&before.Gradient, &after.Gradient)}
		}
		return changed(before, after, readable)
	}
	choose := columnMenu(
		"colour",
		"Colour by",
		field(func(d *document) *string { return &d.Colour }),
		true,
		func(next *document, c *table.Column) {
			next.Paired, next.Top, next.Patterns, next.Fixed.Colour, next.Gradient = "", 0, false, "", chart.Gradient{}
			if c.Kind.Coded() && len(c.Levels) > chart.MaxColours {
				next.Top = chart.MaxColours - 1
			}
		},
		true,
	)
	without := choose.Without
	choose.Without = func(d *document, index int) *document {
		next := without(d, index)
		if next != nil {
			next.Paired, next.Top, next.Patterns, next.Gradient = "", 0, false, chart.Gradient{}
		}
		return next
	}
	first := c.Add
	c.Add = func(d *document, t *table.Table) (list []addition) {
		if pairing(d, t) {
			list = append(
				list,
				addition{
					Key:    "paired",
					Rank:   14,
					Label:  "paired with …",
					Detail: "hues by this column, dark and pale by a second",
					Also:   "light dark shades two categories combined families",
					Opens:  "paired",
				},
			)
		}
		if next := with(d, func(next *document) { next.Patterns = true }); !d.Patterns && d.Colour != "" && drawsLines(d) &&
			chart.Check(next, t) == nil {
			list = append(
				list,
				addition{
					Key:    "patterns",
					Rank:   14,
					Label:  "with patterns",
					Detail: "the line of each group has a pattern beside its colour",
					Also:   "dash dotted line style linetype black and white",
					D:      next,
				},
			)
		}
		if d.Gradient.Of(t.Column(d.Colour)) && !d.Gradient.Said() {
			list = append(
				list,
				addition{
					Key:    "gradient",
					Rank:   5,
					Label:  "how colours run …",
					Detail: "limits, log scale, two ways about a middle, which colours",
					Opens:  "gradient",
					Also:   "diverging ramp colormap range clamp reverse palette",
				},
			)
		}
		return append(list, first(d, t)...)
	}
	pair := columnMenu(
		"paired",
		"Paired with",
		field(func(d *document) *string { return &d.Paired }),
		true,
		func(next *document, _ *table.Column) {
			next.Top, next.Front, next.KeyOrder = 0, nil, nil
		},
		true,
	)
	c.Menus = []menu{choose, pair, gradientMenu, patternsMenu, {Slot: "colour-top", Title: "Colours", Find: "Find how many",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Top = 0 }) },
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for _, n := range []int{3, 5, 7, 9} {
				label := fmt.Sprintf("its %d most frequent", n)
				list = append(
					list,
					choice{
						Key:     fmt.Sprint("top ", n),
						Label:   label,
						Detail:  "and the rest in one colour",
						D:       with(d, func(next *document) { next.Top = n }),
						Current: d.Top == n,
					},
				)
			}
			return list
		}}}
	return c
}

// pairing reports whether the column that colours can be paired with another.
func pairing(d *document, t *table.Table) bool {
	if d.Colour == "" || d.Paired != "" {
		return false
	}
	for _, c := range t.Columns() {
		if !c.Kind.Groups() || c.Name == d.Colour {
			continue
		}
		if next := with(d, func(next *document) { next.Paired = c.Name }); chart.Check(next, t) == nil {
			return true
		}
	}
	return false
}

// drawsLines reports whether a chart draws lines of groups.
func drawsLines(d *document) bool {
	for _, fit := range d.Fits() {
		if fit.Each == d.Colour {
			return true
		}
	}
	return slices.ContainsFunc(d.Marks(), func(name string) bool { m := mark.Named(name); return m != nil && m.Lines })
}

var patternsMenu = menu{Slot: "patterns", Title: "Patterns of lines", Find: "Find patterns",
	Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Patterns = false }) },
	Choices: func(d *document, _ int, _ *table.Table) []choice {
		return []choice{
			{
				Key:     "with",
				Label:   "with patterns",
				Detail:  "the line of each group has a pattern beside its colour",
				D:       with(d, func(next *document) { next.Patterns = true }),
				Current: d.Patterns,
			},
			{
				Key:     "without",
				Label:   "colours alone",
				Detail:  "all lines are solid",
				D:       with(d, func(next *document) { next.Patterns = false }),
				Current: !d.Patterns,
			},
		}
	}}
