package sentence

import (
	"fmt"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

type also = chart.Also

// alsoClause draws other columns over the same axes, of the table or of another dataset.
var alsoClause = clause.Clause[document]{
	Name:    "also plot",
	Trade:   "overlay second series layer other table dataset combine secondary compare",
	Help:    "other columns over the same axes, of this dataset or of another",
	Example: "also plot target_kg against forage_ha of 'Targets' as line named 'target'",
	Pieces: []clause.Piece{
		clause.LooseColumn(func(a *also) *string { return &a.Y }, elsewhere),
		clause.Say("against"),
		clause.LooseColumn(func(a *also) *string { return &a.X }, elsewhere),
		clause.Maybe(
			elsewhere,
			nil,
			clause.Suggestion{Text: "of ", Help: "another dataset"},
			clause.Say("of"),
			clause.TableName(func(a *also) *string { return &a.Table }),
		),
		clause.Maybe(
			func(a *also) bool { return a.As != "" },
			nil,
			clause.Suggestion{Text: "as ", Help: "what it is drawn as"},
			clause.Say("as"),
			clause.OneOf("line, steps or dots", alsoOptions()...),
		),
		clause.Maybe(
			func(a *also) bool { return a.Name != "" },
			nil,
			clause.Suggestion{Text: "named ", Help: "what the key calls it, in single quotes"},
			clause.Say("named"),
			clause.Text(func(a *also) *string { return &a.Name }),
		),
		alsoStroke[0],
		alsoStroke[1],
		alsoStroke[2],
	},
	Items: func(d *document) (items []any) {
		for i := range d.Also {
			items = append(items, &d.Also[i])
		}
		return items
	},
	New: func(d *document) any {
		d.Also = append(d.Also, also{})
		return &d.Also[len(d.Also)-1]
	},
	Speak: func(d *document, s *clause.Speech) {
		for i := range d.Also {
			one := &d.Also[i]
			s.Sentence("Also plot ")
			s.Way(alsoWords(one, s.Readable), fmt.Sprintf("also:%d", i))
			if one.Name != "" {
				s.Say(", " + clause.Quoted(one.Name))
			}
			speakStroke(s, one.Stroke, fmt.Sprintf("also-line:%d", i))
		}
	},
	Changed: func(before, after *document, readable func(string) string) []string {
		switch {
		case len(after.Also) > len(before.Also):
			return []string{"+ " + after.Also[len(after.Also)-1].Called(readable)}
		case len(after.Also) < len(before.Also):
			return []string{"one thing less"}
		}
		return []string{"also"}
	},
	Menus: []menu{alsoMenu, alsoLineMenu},
	Add: func(d *document, t *table.Table) []addition {
		numbers := alsoColumns(d, t)
		if len(d.Also) >= chart.MostAlso || len(numbers) == 0 {
			return nil
		}
		return []addition{
			{
				Key:    "also",
				Rank:   22,
				Label:  "also plot " + t.Column(numbers[0]).Prose(),
				Detail: "another column over the same axes",
				Also:   "overlay second series layer other table combine secondary",
				D:      with(d, func(next *document) { next.Also = append(next.Also, also{Y: numbers[0], X: d.X.Column}) }),
			},
		}
	},
}

var alsoStroke = strokePieces(func(a *also) *chart.Stroke { return &a.Stroke })

func elsewhere(a *also) bool { return a.Table != "" }

func alsoOptions() (list []clause.Option[also]) {
	for _, o := range chart.AlsoMarks {
		list = append(
			list,
			clause.Option[also]{
				Help:   o.Help,
				Pieces: []clause.Piece{clause.Say(o.Name)},
				Set:    func(a *also) { a.As = o.Name },
				Is:     func(a *also) bool { return a.As == o.Name },
			},
		)
	}
	return list
}

func alsoWords(a *also, readable func(string) string) string {
	if a.Table != "" {
		readable = clause.PlainName
	}
	words := readable(a.Y) + " against " + readable(a.X)
	if a.Table != "" {
		words += " of " + clause.Quoted(a.Table)
	}
	return words + " as " + a.Drawn()
}

// alsoColumns are the columns of numbers that could be drawn over numbers along y.
func alsoColumns(d *document, t *table.Table) (names []string) {
	if d.X.Column == "" || d.X.Of != chart.NoAggregate || d.Y.Of == chart.Spread {
		return nil
	}
	for _, c := range t.Columns() {
		if c.Kind.Quantity() && c.Name != d.Y.Column && c.Name != d.X.Column {
			names = append(names, c.Name)
		}
	}
	return names
}

var alsoMenu = menu{
	Slot:  "also",
	Count: func(d *document) int { return len(d.Also) },
	Title: "Also plot",
	Find:  "Find a column, or a way to draw it",
	Without: func(d *document, index int) *document {
		return with(d, func(next *document) {
			next.Also = append(next.Also[:index:index], next.Also[index+1:]...)
			if len(next.Also) == 0 {
				next.Also = nil
			}
		})
	},
	Choices: func(d *document, index int, t *table.Table) (list []choice) {
		now := d.Also[index]
		for _, o := range chart.AlsoMarks {
			list = append(
				list,
				choice{
					Key:     "as " + o.Name,
					Label:   "as " + o.Name,
					Detail:  o.Help,
					D:       with(d, func(next *document) { next.Also[index].As = o.Name }),
					Current: now.Drawn() == o.Name,
				},
			)
		}
		if now.Table == "" {
			for _, name := range alsoColumns(d, t) {
				list = append(
					list,
					choice{
						Key:     name,
						Label:   t.Column(name).Prose(),
						Column:  name,
						D:       with(d, func(next *document) { next.Also[index].Y = name }),
						Current: now.Y == name,
					},
				)
			}
		}
		return append(list, strokeChoices(d, now.Stroke, func(next *document, s chart.Stroke) { next.Also[index].Stroke = s })...)
	},
}
