package sentence

import (
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

type letters = chart.Letters

// lettersClause says how large and how heavy one kind of words is: each time it is said, of one more.
var lettersClause = clause.Clause[document]{
	Name:    "letters",
	Trade:   "font size weight text larger smaller title axis label tick legend caption bold",
	Help:    "how large and heavy the title, ticks, key … are",
	Example: "letters of title at 24 bold",
	Pieces: []clause.Piece{
		clause.Say("of"),
		clause.OneOf(strings.Join(letterKinds(), ", "), kindsOfLetters()...),
		clause.Maybe(
			func(l *letters) bool { return l.Size != 0 },
			nil,
			clause.Suggestion{Text: "at 14", Help: "how high, in pixels"},
			clause.Say("at"),
			clause.Number(func(l *letters) *float64 { return &l.Size }, clause.Range{
				From: chart.SmallestLetters, To: chart.LargestLetters, Message: chart.LettersMessage, Advice: "say letters of title at 24",
			}),
		),
		clause.OneOf("light or bold", letterWeight(chart.WeightLight), letterWeight(chart.WeightBold),
			clause.Option[letters]{Is: func(l *letters) bool { return l.Weight == "" }}),
	},
	Items: func(d *document) (items []any) {
		for i := range d.Letters {
			items = append(items, &d.Letters[i])
		}
		return items
	},
	New: func(d *document) any {
		d.Letters = append(d.Letters, letters{})
		return &d.Letters[len(d.Letters)-1]
	},
	Aloud:   clause.Aloud{Slot: "letters"},
	Changed: func(_, _ *document, _ func(string) string) []string { return []string{"letters"} },
	Menus: []menu{{
		Slot: "letters", Title: "Letters", Find: "Find the words, as title or ticks",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Letters = nil }) },
		Choices: letterChoices,
	}},
	Add: opens(
		func(d *document) bool { return len(d.Letters) > 0 },
		addition{Key: "letters", Rank: 19, Label: "letters …", Detail: "how large and heavy the title, ticks, key … are", Opens: "letters",
			Also: "font size weight bold title axis label tick legend caption"},
	),
}

func letterKinds() (kinds []string) {
	for _, l := range chart.Lettering {
		kinds = append(kinds, l.Of)
	}
	return kinds
}

func kindsOfLetters() (options []clause.Option[letters]) {
	for _, l := range chart.Lettering {
		options = append(options, clause.Option[letters]{Help: l.Help, Pieces: []clause.Piece{clause.Say(l.Of)},
			Set: func(to *letters) { to.Of = l.Of }, Is: func(of *letters) bool { return of.Of == l.Of }})
	}
	return options
}

func letterWeight(name string) clause.Option[letters] {
	return clause.Option[letters]{Pieces: []clause.Piece{clause.Say(name)},
		Set: func(l *letters) { l.Weight = name }, Is: func(l *letters) bool { return l.Weight == name }}
}

// letterChoices are every kind of words, larger, smaller, light and bold.
func letterChoices(d *document, _ int, _ *table.Table) (list []choice) {
	for _, kind := range chart.Lettering {
		at := slices.IndexFunc(d.Letters, func(l letters) bool { return l.Of == kind.Of })
		now := letters{Of: kind.Of}
		if at >= 0 {
			now = d.Letters[at]
		}
		add := func(key string, change func(*letters)) {
			to := now
			change(&to)
			list = append(list, choice{Key: kind.Of + " " + key, Label: kind.Of + " " + key, Detail: kind.Help, Also: "font size weight",
				D: with(d, func(next *document) { putLetters(next, to) })})
		}
		size := d.Written(kind.Of).Size * d.TextScale()
		add("larger", func(l *letters) { l.Size = min(float64(int(size*1.25+0.5)), chart.LargestLetters) })
		add("smaller", func(l *letters) { l.Size = max(float64(int(size/1.25)), chart.SmallestLetters) })
		add("bold", func(l *letters) { l.Weight = chart.WeightBold })
		add("light", func(l *letters) { l.Weight = chart.WeightLight })
		if at >= 0 {
			add("as usual", func(l *letters) { l.Size, l.Weight = 0, "" })
		}
	}
	return list
}

// putLetters says how one kind of words is written, in the place of what was said of it.
func putLetters(d *document, to letters) {
	d.Letters = slices.DeleteFunc(d.Letters, func(l letters) bool { return l.Of == to.Of })
	if to.Size != 0 || to.Weight != "" {
		d.Letters = append(d.Letters, to)
	}
	if len(d.Letters) == 0 {
		d.Letters = nil
	}
}
