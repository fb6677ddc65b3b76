package sentence

import (
	"copperlark/core/chart"
	"copperlark/core/clause"
)

// fitClause is a fit: each time it is said, one more.
var fitClause = clause.Clause[document]{Name: "fit",
	Trade: "style width dash colour regression trend smoother line curve model confidence prediction band spline polynomial " +
		"correlation dashed dotted solid thickness",
	Help: "a line or curve, for groups or all rows", Example: "fit line for each district and overall with band 95%",
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
	Changed: fitChange, Menus: fitMenus, Add: addFits}

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
