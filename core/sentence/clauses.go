// Package sentence turns a chart document into its typed and spoken forms, and
// a typed sentence into a document.
//
// The typed form has one clause a line:
//
//	plot honey_kg against forage_ha
//	log x
//	colour by district
//	fit line for each district and overall with band 95%
//	x from 1 to 2500 titled 'Forage area' in 'ha'
//	title 'More forage, more honey'
//
// Its clauses are the list below, read by package clause. Parse and Print are inverses:
// Parse(Print(d)) is d for every document, and Print(Parse(t)) is the same however often
// it is done.
package sentence

import (
	"fmt"
	"math"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/scale"
	"copperlark/core/table"
)

type document = chart.Document

// grammar lists every clause of a chart, in the order in which they are written.
var grammar = clause.New(clause.Grammar[document]{
	First: "plot", Missing: "the sentence says nothing to plot", MissingAdvice: "begin with: plot … against …",
	Clauses: []clause.Clause[document]{whereClause, plotClause, onlyRows, withoutRows, takeOutClause, marksClause,
		logScale("x"), logScale("y"), nearLinear("x"), nearLinear("y"),
		colourClause(
			mapped(
				"colour",
				"coloured",
				"Colour by",
				1,
				"color group hue",
				[]string{"color"},
				"groups or numbers by colour",
				"colour by district",
				func(d *document) *string { return &d.Colour },
			),
		),
		sizeClause(
			mapped(
				"size",
				"sized",
				"Size by",
				4,
				"bubble area",
				nil,
				"numbers by the area of marks",
				"size by frames",
				func(d *document) *string { return &d.Size },
			),
		),
		mapped(
			"shape",
			"shaped",
			"Shape by",
			5,
			"marker symbol",
			nil,
			"groups by the shape of marks",
			"shape by hive_type",
			func(d *document) *string { return &d.Shape },
		),
		oneColour, oneSize, oneShape, outlineClause, frontClause, paletteClause,
		{Name: "opacity", Help: "how much marks cover, from 0 to 1", Example: "opacity 0.5",
			Pieces: []clause.Piece{clause.Number(func(d *document) *float64 { return &d.Opacity },
				clause.Range{From: 0, To: 1, Above: true, Message: "opacity goes from 0 to 1", Advice: "say a number such as 0.5"})},
			Said: func(d *document) bool { return d.Opacity != 0 },
			Speak: func(d *document, s *clause.Speech) {
				if d.Opacity != 0 {
					s.Say(", ")
					s.Way(fmt.Sprintf("%s %% opaque", table.FormatNumber(roundTo(100*d.Opacity, 1))), "opacity")
				}
			},
			Menus: []menu{opacityMenu},
			Add: func(d *document, _ *table.Table) []addition {
				if d.Opacity != 0 {
					return nil
				}
				return []addition{
					{
						Key:    "opacity",
						Rank:   12,
						Label:  "opacity 50 %",
						Detail: "how much marks cover",
						Also:   "alpha transparency",
						D:      with(d, func(next *document) { next.Opacity = 0.5 }),
					},
				}
			}},
		jitterClause, overlapClause, panelsClause, stepClause, orderClause, alsoClause,
		{Name: "fit", Help: "a line or curve, for groups or all rows", Example: "fit line for each district and overall with band 95%",
			Pieces: append(
				[]clause.Piece{fitKinds, fitRows, fitBand, fitOutliers},
				strokePieces(func(f *chart.Fit) *chart.Stroke { return &f.Stroke })...),
			Items: func(d *document) (items []any) {
				for _, fit := range d.Fits() {
					items = append(items, fit)
				}
				return items
			},
			New: func(d *document) any { return d.AddFit(chart.Fit{}) },
			Speak: func(d *document, s *clause.Speech) {
				for i, fit := range d.Fits() {
					speakFit(s, i, *fit)
				}
			},
			Changed: fitChange, Menus: fitMenus, Add: addFits},
		lineClause, workedOutClause, diagonalClause, bandClause, intervalClause, labelClause, cardClause, centresClause, contoursClause, edgesClause,
		axis(
			"x",
			"limits, title and unit of x",
			"x from 1 to 2500 titled 'Forage area' in 'ha'",
			func(d *document) *chart.Axis { return &d.Scales.X },
		),
		axis(
			"y",
			"limits, title and unit of y",
			"y from 0 to 40 titled 'Honey yield' in 'kg'",
			func(d *document) *chart.Axis { return &d.Scales.Y },
		),
		ticks("x"), ticks("y"),
		lookClause, textClause, weightClause, gridClause, keyOrderClause, keyClause, paperClause,
		titleClause(
			words(
				"title",
				"words over the chart",
				"title 'More forage, more honey' centred",
				func(d *document) *string { return &d.Title },
			),
		),
		subtitleClause,
		words("note", "words under the chart", "note 'Hives weighed at the autumn check'", func(d *document) *string { return &d.Note }),
	},
})

func logScale(axis string) clause.Clause[document] {
	at := func(d *document) *chart.Axis { return d.Scale(axis) }
	return clause.Clause[document]{Name: "log " + axis, Help: "a log scale along " + axis, Example: "log " + axis + " base 2",
		Pieces: []clause.Piece{clause.Does(func(d *document) { at(d).Scale = chart.LogScale }),
			clause.Maybe(
				func(d *document) bool { return at(d).Base != 0 },
				nil,
				clause.Suggestion{Text: "base 2", Help: "whose powers carry the ticks"},
				clause.Say(
					"base",
				),
				clause.Number(
					func(d *document) *float64 { return &at(d).Base },
					clause.Range{
						From:    1,
						To:      1000,
						Above:   true,
						Message: "the base of a log scale is above 1",
						Advice:  "say base 2, or base 10",
					},
				),
			)},
		Said: func(d *document) bool { return at(d).Log() },
		Changed: func(_, after *document, _ func(string) string) []string {
			if at(after).Log() {
				return []string{"log " + axis}
			}
			if at(after).Scale == "" {
				return []string{"linear " + axis}
			}
			return nil
		},
		Menus: []menu{scaleMenu(axis)},
		Add: func(d *document, t *table.Table) []addition {
			c := t.Column(d.Along(axis).Column)
			if at(d).Scale != "" || d.Along(axis).Aggregated() || !positive(c) {
				return nil
			}
			return []addition{
				{
					Key:    "log " + axis,
					Rank:   3,
					Label:  "log " + axis,
					Detail: c.Prose() + " on a log scale",
					Also:   "logarithmic",
					D:      with(d, func(next *document) { at(next).Scale = chart.LogScale }),
				},
			}
		}}
}

func nearLinear(axis string) clause.Clause[document] {
	at := func(d *document) *chart.Axis { return d.Scale(axis) }
	return clause.Clause[document]{
		Name:    "near-linear at zero " + axis,
		Help:    "a log scale that has a place for zero and below, along " + axis,
		Example: "near-linear at zero " + axis,
		Pieces:  []clause.Piece{clause.Does(func(d *document) { at(d).Scale, at(d).Base = chart.NearLinear, 0 })},
		Said:    func(d *document) bool { return at(d).Scale == chart.NearLinear },
		Changed: func(_, after *document, _ func(string) string) []string {
			if at(after).Scale == "" {
				return []string{"linear " + axis}
			}
			if at(after).Log() {
				return nil
			}
			return []string{"near-linear " + axis}
		},
		Add: func(d *document, t *table.Table) []addition {
			c := t.Column(d.Along(axis).Column)
			if at(d).Scale != "" || d.Along(axis).Aggregated() || c == nil || !c.Kind.Quantity() || positive(c) && !negative(c) {
				return nil
			}
			return []addition{
				{
					Key:    "near-linear " + axis,
					Rank:   11,
					Label:  "near-linear at zero " + axis,
					Detail: "spreads small values and keeps zero and below",
					Also:   "symmetric log symlog asinh",
					D:      with(d, func(next *document) { at(next).Scale = chart.NearLinear }),
				},
			}
		},
	}
}

func mapped(
	name, spoken, title string,
	rank int,
	synonyms string,
	also []string,
	help, example string,
	at func(*document) *string,
) clause.Clause[document] {
	return clause.Clause[document]{Name: name, Also: also, Help: help, Example: example,
		Pieces: []clause.Piece{clause.Say("by"), clause.Column(at)}, Said: func(d *document) bool { return *at(d) != "" },
		Speak: func(d *document, s *clause.Speech) {
			if *at(d) != "" {
				s.Say(", " + spoken + " by ")
				s.Column(*at(d), name)
			}
		},
		Changed: func(before, after *document, readable func(string) string) []string {
			return columnChange(name, *at(before), *at(after), readable)
		},
		Menus: []menu{columnMenu(name, title, at, name != "size", func(*document, *table.Column) {}, true)},
		Add: opens(
			func(d *document) bool { return *at(d) != "" },
			addition{Key: name, Rank: rank, Label: name + " by …", Detail: help, Opens: name, Also: synonyms},
		)}
}

func words(name, help, example string, at func(*document) *string) clause.Clause[document] {
	return clause.Clause[document]{Name: name, Help: help, Example: example,
		Pieces: []clause.Piece{clause.Text(at)}, Said: func(d *document) bool { return *at(d) != "" },
		Add: opens(
			func(*document) bool { return name != "title" },
			addition{Key: name, Rank: 9, Label: name, Detail: help, Opens: name, Also: "note caption heading subtitle"},
		)}
}

// forms are the ways of writing the numbers along an axis.
func forms(at func(*document) *chart.Axis) (list []clause.Option[document]) {
	for _, form := range scale.Forms {
		pieces := []clause.Piece{clause.Say(form.Name)}
		switch form.Name {
		case "currency":
			pieces = append(pieces, clause.Text(func(d *document) *string { return &at(d).Symbol }))
		case "decimals":
			pieces = []clause.Piece{
				clause.Count(
					func(d *document) *int { return &at(d).Digits },
					clause.Range{From: 0, To: 8, Message: "numbers have from 0 to 8 decimals", Advice: "say as 2 decimals"},
				),
				clause.Say(form.Name),
			}
		}
		list = append(list, clause.Option[document]{Help: form.Help, Pieces: pieces,
			Set: func(d *document) { at(d).Form = form.Name }, Is: func(d *document) bool { return at(d).Form == form.Name }})
	}
	return list
}

func limitText(l *chart.Limits, v float64) string {
	if l.Dates {
		return table.FormatDate(v, table.Day)
	}
	return table.FormatNumber(v)
}

// ticks is the step between the ticks of an axis.
func ticks(axis string) clause.Clause[document] {
	return clause.Clause[document]{
		Name:    "ticks " + axis,
		Help:    "where the ticks of " + axis + " stand",
		Example: "ticks " + axis + " every 15000",
		Pieces: []clause.Piece{clause.OneOf(
			"every and a step, or at and values",
			clause.Option[document]{
				Help:   "at values",
				Pieces: []clause.Piece{clause.Say("at"), clause.Numbers(func(d *document) *[]float64 { return &d.Scale(axis).Ticks })},
				Is:     func(d *document) bool { return len(d.Scale(axis).Ticks) > 0 },
			},
			clause.Option[document]{
				Help: "a step apart",
				Is:   func(d *document) bool { return d.Scale(axis).Every != 0 },
				Pieces: []clause.Piece{
					clause.Say("every"),
					clause.Number(
						func(d *document) *float64 { return &d.Scale(axis).Every },
						clause.Range{
							From:    0,
							To:      math.MaxFloat64,
							Above:   true,
							Message: "the step between ticks is above zero",
							Advice:  "say ticks every 10",
						},
					),
				},
			},
		)},
		Said: func(d *document) bool { return d.Scale(axis).Every != 0 || len(d.Scale(axis).Ticks) > 0 },
	}
}

func axis(name, help, example string, at func(*document) *chart.Axis) clause.Clause[document] {
	return clause.Clause[document]{Name: name, Help: help, Example: example, Parts: true, Said: func(d *document) bool {
		return at(d).Limits != nil || at(d).Title != "" || at(d).Unit != "" || at(d).Form != "" || at(d).Untitled
	},
		Speak: func(d *document, s *clause.Speech) {
			if limits := at(d).Limits; limits != nil {
				s.Sentence("Show " + name + " ")
				s.Way(fmt.Sprintf("from %s to %s", limitText(limits, limits.From), limitText(limits, limits.To)), "limits-"+name)
			}
		},
		Changed: func(_, _ *document, _ func(string) string) []string { return []string{name + " axis"} },
		Add: opens(
			func(*document) bool { return false },
			addition{
				Key:    "limits-" + name,
				Rank:   10,
				Label:  name + " from … to …",
				Detail: help,
				Opens:  "limits-" + name,
				Also:   "axis range minimum maximum",
			},
		),
		Pieces: []clause.Piece{
			clause.Maybe(
				func(d *document) bool { return at(d).Limits != nil },
				func(d *document) { at(d).Limits = &chart.Limits{} },
				clause.Suggestion{Text: "from ", Help: "where the axis begins and ends"},
				clause.Say(
					"from",
				),
				clause.Moment(
					func(d *document) *float64 { return &at(d).Limits.From },
					func(d *document) *bool { return &at(d).Limits.Dates },
					true,
				),
				clause.Say(
					"to",
				),
				clause.Moment(
					func(d *document) *float64 { return &at(d).Limits.To },
					func(d *document) *bool { return &at(d).Limits.Dates },
					false,
				),
			),
			clause.Maybe(
				func(d *document) bool { return at(d).Title != "" },
				nil,
				clause.Suggestion{Text: "titled ", Help: "what stands along the axis, in single quotes"},
				clause.Say("titled"),
				clause.Text(func(d *document) *string { return &at(d).Title }),
			),
			clause.Maybe(
				func(d *document) bool { return at(d).Untitled },
				func(d *document) { at(d).Untitled = true },
				clause.Suggestion{Help: "nothing stands along the axis but its numbers"},
				clause.Say("untitled"),
			),
			clause.Maybe(
				func(d *document) bool { return at(d).Unit != "" },
				nil,
				clause.Suggestion{Text: "in ", Help: "its unit, in single quotes"},
				clause.Say("in"),
				clause.Text(func(d *document) *string { return &at(d).Unit }),
			),
			clause.Maybe(
				func(d *document) bool { return at(d).Form != "" },
				nil,
				clause.Suggestion{Text: "as 120k", Help: "how its numbers are written"},
				clause.Say("as"),
				clause.OneOf("120k, percent, plain, currency '£' or 2 decimals", forms(at)...),
			),
		}}
}

// ofKind is a way of fitting that is said by words.
func ofKind(kind chart.FitKind, help string, more ...clause.Piece) clause.Option[chart.Fit] {
	return clause.Option[chart.Fit]{Help: help, Pieces: append([]clause.Piece{clause.Say(string(kind))}, more...),
		Set: func(f *chart.Fit) { f.Kind = kind }, Is: func(f *chart.Fit) bool { return f.Kind == kind }}
}

var fitKinds = clause.OneOf(
	"line, curve, local, spline or robust line",
	ofKind(chart.FitLine, "a straight line"),
	clause.Option[chart.Fit]{Help: "a polynomial, of degree 2 to 5",
		Pieces: []clause.Piece{
			clause.Say("curve"),
			clause.Maybe(
				func(*chart.Fit) bool { return true },
				nil,
				clause.Suggestion{Text: "degree 2", Help: "of degree 2 to 5"},
				clause.Say(
					"degree",
				),
				clause.Count(
					func(f *chart.Fit) *int { return &f.Degree },
					clause.Range{From: 2, To: 5, Message: "a curve has a degree from 2 to 5", Advice: "say fit curve degree 2"},
				),
			),
		},
		Set: func(f *chart.Fit) { f.Kind, f.Degree = chart.FitCurve, 2 }, Is: func(f *chart.Fit) bool { return f.Kind == chart.FitCurve }},
	ofKind(
		chart.FitLocal,
		"local regression",
		clause.Maybe(
			func(f *chart.Fit) bool { return f.Span != 0 },
			nil,
			clause.Suggestion{Text: "span 0.6", Help: "the share of rows in each neighbourhood"},
			clause.Say(
				"span",
			),
			clause.Number(
				func(f *chart.Fit) *float64 { return &f.Span },
				clause.Range{From: 0.2, To: 1, Message: "a span is a share of the rows from 0.2 to 1", Advice: "say span 0.75"},
			),
		),
	),
	ofKind(chart.FitSpline, "a smoothing spline"),
	ofKind(chart.FitRobust, "a line that outliers do not move"),
)

// fitRows is whose fit it is: nothing said means all rows.
var fitRows = clause.OneOf("for each or overall",
	clause.Option[chart.Fit]{Help: "a fit for each group", Is: func(f *chart.Fit) bool { return f.Each != "" },
		Pieces: []clause.Piece{clause.Say("for each"), clause.Column(func(f *chart.Fit) *string { return &f.Each }),
			clause.Maybe(
				func(f *chart.Fit) bool { return f.Overall },
				func(f *chart.Fit) { f.Overall = true },
				clause.Suggestion{Help: "and one of all rows"},
				clause.Say("and overall"),
			)}},
	clause.Option[chart.Fit]{Help: "a fit of all rows", Set: func(f *chart.Fit) { f.Overall = true },
		Pieces: []clause.Piece{
			clause.Say("overall"),
			clause.Maybe(func(*chart.Fit) bool { return false }, nil, clause.Suggestion{Help: "and one for each group"},
				clause.Say("and for each"), clause.Column(func(f *chart.Fit) *string { return &f.Each })),
		}},
	clause.Option[chart.Fit]{Set: func(f *chart.Fit) { f.Overall = true }, Is: func(f *chart.Fit) bool { return f.Each == "" }})

var fitBand = clause.Maybe(
	func(f *chart.Fit) bool { return f.Band != nil },
	func(f *chart.Fit) { f.Band = &chart.Band{Kind: chart.Confidence} },
	clause.Suggestion{Text: "with band 95%", Help: "the band of the mean"},
	clause.Say("with"),
	clause.OneOf(
		"band, confidence band or prediction band",
		clause.Option[chart.Fit]{
			Help:   "of single cases",
			Pieces: []clause.Piece{clause.Say("prediction")},
			Set:    func(f *chart.Fit) { f.Band.Kind = chart.Prediction },
			Is:     func(f *chart.Fit) bool { return f.Band.Kind == chart.Prediction },
		},
		clause.Option[chart.Fit]{Help: "of the mean", Pieces: []clause.Piece{clause.Say("confidence")}},
		clause.Option[chart.Fit]{Is: func(f *chart.Fit) bool { return true }},
	),
	clause.Say("band"),
	clause.Number(func(f *chart.Fit) *float64 { return &f.Band.Level }, levelRange("a band", "say with band 95%")),
	clause.Mark("%"),
)

// levelRange is where the level of a band or an interval lies.
func levelRange(of, advice string) clause.Range {
	return clause.Range{From: chart.LowestLevel, To: chart.HighestLevel, Message: chart.LevelMessage(of), Advice: advice}
}

var fitOutliers = clause.Maybe(func(f *chart.Fit) bool { return f.LeavingOutliers }, func(f *chart.Fit) { f.LeavingOutliers = true },
	clause.Suggestion{Help: "fitted again without them"}, clause.Say("leaving out outliers"))
