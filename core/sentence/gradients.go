package sentence

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/colour"
	"copperlark/core/describe"
	"copperlark/core/magnitude"
	"copperlark/core/table"
)

// gradientPieces say how numbers are coloured, behind the column that colours.
var gradientPieces = []clause.Piece{
	clause.Maybe(
		func(d *document) bool { return d.Gradient.Log },
		func(d *document) { d.Gradient.Log = true },
		clause.Suggestion{Help: "equal ratios are equally far apart in colour"},
		clause.Phrase("log scale"),
	),
	clause.Maybe(
		func(d *document) bool { return d.Gradient.Limits != nil },
		func(d *document) { d.Gradient.Limits = &chart.Limits{} },
		clause.Suggestion{Text: "from ", Help: "where colours begin and end; what lies beyond takes the last one"},
		clause.Say(
			"from",
		),
		clause.Moment(
			func(d *document) *float64 { return &d.Gradient.Limits.From },
			func(d *document) *bool { return &d.Gradient.Limits.Dates },
			true,
		),
		clause.Say(
			"to",
		),
		clause.Moment(
			func(d *document) *float64 { return &d.Gradient.Limits.To },
			func(d *document) *bool { return &d.Gradient.Limits.Dates },
			false,
		),
	),
	clause.Maybe(
		func(d *document) bool { return d.Gradient.About != nil },
		func(d *document) { d.Gradient.About = new(float64) },
		clause.Suggestion{Text: "about ", Help: "two colours, one to each side of a value"},
		clause.Say("about"),
		clause.Number(func(d *document) *float64 { return d.Gradient.About }, clause.Range{}),
	),
	clause.Maybe(
		func(d *document) bool { return d.Gradient.Less },
		func(d *document) { d.Gradient.Less = true },
		clause.Suggestion{Help: "turns the colours round"},
		clause.Say("darker for less"),
	),
	clause.Maybe(
		func(d *document) bool { return d.Gradient.Using != "" },
		nil,
		clause.Suggestion{Text: "using ", Help: "which colours"},
		clause.Say("using"),
		clause.OneOf(gradientNames(), gradientOptions()...),
	),
}

func gradientNames() string {
	var names []string
	for _, g := range colour.Gradients {
		names = append(names, g.Name)
	}
	return strings.Join(names[:len(names)-1], ", ") + " or " + names[len(names)-1]
}

func gradientOptions() (list []clause.Option[document]) {
	for _, g := range colour.Gradients {
		list = append(
			list,
			clause.Option[document]{
				Help:   g.Help,
				Pieces: []clause.Piece{clause.Say(g.Name)},
				Set:    func(d *document) { d.Gradient.Using = g.Name },
				Is:     func(d *document) bool { return d.Gradient.Using == g.Name },
			},
		)
	}
	return list
}

// gradientWords is how numbers are coloured, in words.
func gradientWords(g *chart.Gradient) (list []string) {
	if g.Log {
		list = append(list, "on a log scale")
	}
	if l := g.Limits; l != nil {
		list = append(list, fmt.Sprintf("from %s to %s", limitText(l, l.From), limitText(l, l.To)))
	}
	if g.About != nil {
		list = append(list, "two ways about "+table.FormatNumber(*g.About))
	}
	if g.Less {
		list = append(list, "darker for less")
	}
	if g.Using != "" {
		list = append(list, "in "+g.Using)
	}
	return list
}

func speakGradient(d *document, s *clause.Speech) {
	if d.Gradient.Said() {
		s.Say(" ")
		s.Way(strings.Join(gradientWords(&d.Gradient), ", "), "gradient")
	}
}

// gradientChange is what one says otherwise than the other, in few words.
func gradientChange(before, after *chart.Gradient) string {
	was := gradientWords(before)
	for _, word := range gradientWords(after) {
		if !slices.Contains(was, word) {
			return word
		}
	}
	if is := gradientWords(after); len(is) > 0 {
		return is[0]
	}
	return "as usual"
}

// bulkShare is how much of the rows lies between limits that are proposed for colours.
const bulkShare = 0.96

// proposedDigits is how many digits of a value are proposed.
const proposedDigits = 3

// gradientChoices are the ways in which a column of numbers can be coloured.
func gradientChoices(d *document, t *table.Table) (list []choice) {
	c := t.Column(d.Colour)
	add := func(key, label, detail, also string, change func(*chart.Gradient)) {
		next := with(d, func(next *document) { change(&next.Gradient) })
		list = append(
			list,
			choice{
				Key:     key,
				Label:   label,
				Detail:  detail,
				Also:    also,
				D:       next,
				Current: next.Gradient.Same(&d.Gradient) && !slices.ContainsFunc(list, func(c choice) bool { return c.Current }),
			},
		)
	}
	add(
		"plain",
		"one way, from the least to the most",
		"the usual colours",
		"sequential default reset",
		func(g *chart.Gradient) { *g = chart.Gradient{} },
	)
	if c == nil || c.Kind.Coded() {
		return list
	}
	if d.Gradient.Log || positive(c) {
		add("log", "log scale", "equal ratios are equally far apart in colour", "logarithmic", func(g *chart.Gradient) { g.Log = !g.Log })
	}
	at := describe.Quantiles(present(c), (1-bulkShare)/2, 0.5, (1+bulkShare)/2)
	if l := (chart.Limits{From: magnitude.Digits(at[0], proposedDigits), To: magnitude.Digits(at[2], proposedDigits)}); l.From < l.To &&
		c.Kind.Quantity() {
		add(
			"limits",
			fmt.Sprintf("from %s to %s", limitText(&l, l.From), limitText(&l, l.To)),
			"the middle 96 % of rows; what lies beyond takes the last colour",
			"range clamp clip minimum maximum limits",
			func(g *chart.Gradient) { g.Limits = &l },
		)
	}
	if d.Gradient.Limits != nil {
		add("whole", "from the least to the most", "without limits", "range limits reset", func(g *chart.Gradient) { g.Limits = nil })
	}
	if c.Kind.Quantity() {
		middles := []struct {
			name string
			at   float64
		}{{"its median", magnitude.Digits(at[1], proposedDigits)}, {"zero", 0}}
		for _, m := range middles {
			if at := m.at; !math.IsNaN(at) {
				add(
					"about "+m.name,
					"two ways about "+m.name,
					"one colour for more, another for less, pale between",
					"diverging two-sided midpoint centre",
					func(g *chart.Gradient) { g.About = &at },
				)
			}
		}
	}
	add("less", "darker for less", "turns the colours round", "reverse invert flip", func(g *chart.Gradient) { g.Less = !g.Less })
	for _, one := range colour.Gradients {
		add("using "+one.Name, one.Name, one.Help, "palette ramp colormap colors", func(g *chart.Gradient) { g.Using = one.Name })
	}
	return list
}

// present are the values of a column that are there.
func present(c *table.Column) (values []float64) {
	for i, v := range c.Numbers {
		if !c.Missing(i) {
			values = append(values, v)
		}
	}
	return values
}

var gradientMenu = menu{Slot: "gradient", Title: "Colours of numbers", Find: "Find a way to colour",
	Choices: func(d *document, _ int, t *table.Table) []choice { return gradientChoices(d, t) },
	Without: func(d *document, _ int) *document {
		if !d.Gradient.Said() {
			return nil
		}
		return with(d, func(next *document) { next.Gradient = chart.Gradient{} })
	}}
