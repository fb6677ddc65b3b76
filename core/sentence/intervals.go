package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/table"
)

func deviation(d *document) { d.SetInterval(&chart.Interval{Deviation: true}) }

// intervalClause shows about each mean or median how sure it is.
var intervalClause = clause.Clause[document]{Name: "interval",
	Trade: "error bars confidence whiskers uncertainty standard deviation sd standard error percentile",
	Help:  "how sure each mean or median is", Example: "interval 95%",
	Pieces: []clause.Piece{clause.OneOf(
		"a level such as 95%, standard deviation, or none",
		clause.Option[document]{
			Help:   "of the rows, to each side of a mean",
			Pieces: []clause.Piece{clause.Say("standard deviation")},
			Set:    deviation,
			Is:     func(d *document) bool { return d.Interval().Deviation },
		},
		clause.Option[document]{Pieces: []clause.Piece{clause.Say("sd")}, Set: deviation, Behind: true},
		clause.Option[document]{
			Help:   "nothing about them",
			Pieces: []clause.Piece{clause.Say("none")},
			Set:    func(d *document) { d.SetInterval(nil) },
			Behind: true,
		},
		clause.Option[document]{
			Help: "the level of the interval",
			Text: "95%",
			Set:  func(d *document) { d.SetInterval(&chart.Interval{}) },
			Is:   func(d *document) bool { return !d.Interval().Deviation },
			Pieces: []clause.Piece{
				clause.Number(func(d *document) *float64 { return &d.Interval().Level }, levelRange("an interval", "say interval 95%")),
				clause.Mark("%"),
			},
		},
	)},
	Said: func(d *document) bool { return d.Interval() != nil },
	Speak: func(d *document, s *clause.Speech) {
		if d.Interval() != nil {
			s.Sentence("Show about each ")
			s.Way(intervalText(d.Interval()), "interval")
		}
	},
	Changed: func(_, after *document, _ func(string) string) []string {
		if after.Interval() == nil {
			return []string{"no intervals"}
		}
		return []string{"+ " + intervalText(after.Interval())}
	},
	Menus: []menu{{Slot: "interval", Title: "About each", Find: "Find what stands about each",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.SetInterval(nil) }) },
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for _, of := range []chart.Interval{{Level: 95}, {Level: 99}, {Level: 90}, {Level: 68}, {Deviation: true}} {
				list = append(
					list,
					choice{
						Key:     intervalText(&of),
						Label:   intervalText(&of),
						Detail:  intervalHelp(d, &of),
						Also:    "error bars confidence whiskers sd",
						D:       with(d, func(next *document) { next.SetInterval(&of) }),
						Current: d.Interval() != nil && *d.Interval() == of,
					},
				)
			}
			return list
		}}},
	Add: func(d *document, t *table.Table) []addition {
		next := with(d, func(next *document) { next.SetInterval(&chart.Interval{Level: 95}) })
		if d.Interval() != nil || !d.Whole() || chart.Check(next, t) != nil {
			return nil
		}
		return []addition{
			{
				Key:    "interval",
				Rank:   3,
				Label:  "its 95 % interval",
				Detail: intervalHelp(d, next.Interval()),
				Also:   "error bars confidence whiskers uncertainty standard deviation sd",
				D:      next,
			},
		}
	}}

func intervalText(of *chart.Interval) string {
	if of.Deviation {
		return "its standard deviation"
	}
	return "its " + table.FormatNumber(of.Level) + " % interval"
}

func intervalHelp(d *document, of *chart.Interval) string {
	switch {
	case of.Deviation:
		return "of the rows, to each side of their mean"
	case d.Y.Of == chart.Median || d.X.Of == chart.Median:
		return "from one row to another, as chance orders them"
	}
	return "where the mean of all such rows would lie"
}
