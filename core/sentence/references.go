package sentence

import (
	"fmt"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/mark"
	"copperlark/core/table"
)

type reference = chart.Reference

func axisOption(name string) clause.Option[reference] {
	return clause.Option[reference]{
		Pieces: []clause.Piece{clause.Say(name)},
		Set:    func(r *reference) { r.Axis = name },
		Is:     func(r *reference) bool { return r.Axis == name },
	}
}

var alongAxes = clause.OneOf("x or y", axisOption("y"), axisOption("x"))

func statisticOption(of chart.Aggregate) clause.Option[reference] {
	return clause.Option[reference]{
		Help:   "at the " + string(of),
		Text:   string(of) + "(",
		Pieces: []clause.Piece{clause.Say(string(of)), clause.Sign("("), alongAxes, clause.Sign(")")},
		Set:    func(r *reference) { r.Of = of },
		Is:     func(r *reference) bool { return r.Of == of },
	}
}

var named = clause.Maybe(
	func(r *reference) bool { return r.Name != "" },
	nil,
	clause.Suggestion{Text: "named ", Help: "what stands beside it, in single quotes"},
	clause.Say("named"),
	clause.Text(func(r *reference) *string { return &r.Name }),
)

// How a reference looks.
var referenceStroke = strokePieces(func(r *reference) *chart.Stroke { return &r.Stroke })
var referenceColour, referenceWidth, referenceDash = referenceStroke[0], referenceStroke[1], referenceStroke[2]

// lineClause is a line across the chart, bandClause a band between two values.
var (
	lineClause = clause.Clause[document]{Name: "line at",
		Trade: "reference threshold horizontal vertical mean median average target baseline dashed dotted thickness",
		Help:  "a line across the chart", Example: "line at mean(y) named 'mean of all'",
		Pieces: []clause.Piece{
			clause.OneOf("mean(y), median(y), or x = and a number", statisticOption(chart.Mean), statisticOption(chart.Median),
				clause.Option[reference]{Help: "at a value", Is: func(r *reference) bool { return r.Of == chart.NoAggregate },
					Pieces: []clause.Piece{
						alongAxes,
						clause.Sign("="),
						clause.Number(func(r *reference) *float64 { return &r.At }, clause.Range{}),
					}}),
			named,
			referenceColour,
			referenceWidth,
			referenceDash,
		},
		Items: referencesOf(straight), New: func(d *document) any { return d.AddReference(reference{}) },
		Speak: func(d *document, s *clause.Speech) {
			for i, r := range d.References() {
				speakReference(s, i, r)
			}
		},
		Changed: func(before, after *document, _ func(string) string) []string {
			return []string{moreOrLess(before, after, "line")}
		},
		Menus: []menu{referenceMenu, referenceLineMenu}, Add: addReferences}
	// workedOutClause is a line along which y is worked out from x, diagonalClause the one on
	// which both are the same.
	workedOutClause = clause.Clause[document]{
		Name:    "line y",
		Trade:   "function formula equation reference curve",
		Help:    "a line along which y is worked out from x",
		Example: "line y = 2 * x + 1 named 'expected'",
		Pieces: []clause.Piece{
			clause.Sign("="),
			clause.Expression(
				clause.ExpressionOf[reference]{
					At:     func(r *reference) *string { return &r.Formula },
					What:   "an expression of x, such as 2 * x + 1",
					Until:  []string{"named", "in", "width", "solid", "dashed", "dotted"},
					Check:  formula.CurveMistake,
					Begins: []clause.Word{{Text: "x", Help: "what stands along x"}},
					Own:    true,
					Joins:  []string{"+", "-", "*", "/", "^"},
					Drawn:  []string{"2 * x + 1", "x ^ 2 - 3"},
				},
			),
			named,
			referenceColour,
			referenceWidth,
			referenceDash,
		},
		Items: referencesOf(workedOut),
		New:   func(d *document) any { return d.AddReference(reference{Axis: "y"}) },
		Changed: func(before, after *document, _ func(string) string) []string {
			return []string{moreOrLess(before, after, "line")}
		},
	}
	diagonalClause = clause.Clause[document]{
		Name:    "diagonal",
		Trade:   "identity one to one equality agreement",
		Help:    "the line on which x and y are the same",
		Example: "diagonal named 'as expected'",
		Pieces: []clause.Piece{
			clause.Does(func(r *reference) { r.Formula = mark.Diagonal }),
			named,
			referenceColour,
			referenceWidth,
			referenceDash,
		},
		Items: referencesOf(diagonal),
		New:   func(d *document) any { return d.AddReference(reference{Axis: "y", Formula: mark.Diagonal}) },
		Changed: func(before, after *document, _ func(string) string) []string {
			return []string{moreOrLess(before, after, "line")}
		},
	}
	bandClause = clause.Clause[document]{Name: "band", Trade: "reference range region shade target",
		Help: "a band between two values", Example: "band y from 10 to 15 named 'target'",
		Pieces: []clause.Piece{
			alongAxes,
			clause.Does(func(r *reference) { r.To = new(float64) }),
			clause.Say("from"),
			clause.Number(func(r *reference) *float64 { return &r.At }, clause.Range{}),
			clause.Say(
				"to",
			),
			clause.Number(func(r *reference) *float64 { return r.To }, clause.Range{}),
			named,
			referenceColour,
			referenceWidth,
			referenceDash,
		},
		Items: referencesOf(band), New: func(d *document) any { return d.AddReference(reference{To: new(float64)}) },
		Changed: func(before, after *document, _ func(string) string) []string {
			return []string{moreOrLess(before, after, "band")}
		}}
)

// The kinds of reference.
func straight(r *reference) bool  { return r.To == nil && r.Formula == "" }
func band(r *reference) bool      { return r.To != nil }
func diagonal(r *reference) bool  { return r.To == nil && r.Formula == mark.Diagonal }
func workedOut(r *reference) bool { return r.To == nil && r.Formula != "" && !diagonal(r) }

func referencesOf(kind func(*reference) bool) func(*document) []any {
	return func(d *document) (items []any) {
		for _, r := range d.References() {
			if kind(r) {
				items = append(items, r)
			}
		}
		return items
	}
}

func moreOrLess(before, after *document, what string) string {
	switch a, b := len(before.References()), len(after.References()); {
	case b > a:
		return "+ " + what
	case b < a:
		return "one " + what + " less"
	}
	return what
}

func speakReference(s *clause.Speech, i int, r *reference) {
	slot := fmt.Sprintf("reference:%d", i)
	if r.Formula != "" {
		s.Sentence("Draw the line ")
		s.Way("y = "+formula.Spoken(r.Formula, plainly), slot)
	} else if r.To != nil {
		s.Sentence("Show a band along " + r.Axis + " ")
		s.Way(fmt.Sprintf("from %s to %s", table.FormatNumber(r.At), table.FormatNumber(*r.To)), slot)
	} else {
		s.Sentence("Draw a line at ")
		if r.Of != chart.NoAggregate {
			s.Way(fmt.Sprintf("the %s of %s", r.Of, r.Axis), slot)
		} else {
			s.Way(fmt.Sprintf("%s = %s", r.Axis, table.FormatNumber(r.At)), slot)
		}
	}
	if r.Name != "" {
		s.Say(", " + clause.Quoted(r.Name))
	}
	speakStroke(s, r.Stroke, fmt.Sprintf("reference-line:%d", i))
}

var referenceMenu = menu{
	Slot:  "reference",
	Count: func(d *document) int { return len(d.References()) },
	Title: "Line or band",
	Find:  "Find where it stands",
	Without: func(d *document, index int) *document {
		return with(d, func(next *document) {
			gone := next.References()[index]
			next.Drop(func(l chart.Layer) bool { return l.Reference == gone })
		})
	},
	Choices: func(d *document, index int, t *table.Table) (list []choice) {
		now := d.References()[index]
		for _, axis := range []string{"y", "x"} {
			for _, of := range []chart.Aggregate{chart.Mean, chart.Median} {
				list = append(
					list,
					choice{
						Key:    fmt.Sprint(of, " ", axis),
						Label:  fmt.Sprintf("the %s of %s", of, axis),
						Detail: "of what is drawn along the " + ways[axis] + " axis",
						Also:   "average",
						D: with(d, func(next *document) {
							*next.References()[index] = reference{Axis: axis, Of: of, Name: now.Name, Stroke: now.Stroke}
						}),
						Current: now.Of == of && now.Axis == axis && straight(now),
					},
				)
			}
		}
		if alike(d, t) {
			list = append(
				list,
				choice{
					Key:    "diagonal",
					Label:  "the diagonal, y = x",
					Detail: "where both are the same",
					Also:   "identity one to one equal agreement",
					D: with(d, func(next *document) {
						*next.References()[index] = reference{Axis: "y", Formula: mark.Diagonal, Name: now.Name, Stroke: now.Stroke}
					}),
					Current: diagonal(now),
				},
			)
		}
		return append(list, strokeChoices(d, now.Stroke, func(next *document, s chart.Stroke) { next.References()[index].Stroke = s })...)
	},
}

func addReferences(d *document, t *table.Table) []addition {
	if !d.Whole() || len(d.References()) >= chart.MaxReferences {
		return nil
	}
	c := chart.ColumnOf(d.Y, t)
	if d.Y.Of == chart.NoAggregate && (c == nil || c.Kind.Coded()) || d.Y.Of == chart.Spread {
		return nil
	}
	list := []addition{
		{
			Key:    "line at mean",
			Rank:   13,
			Label:  "line at the mean of y",
			Detail: "a line across the chart",
			Also:   "reference average horizontal target median",
			D:      with(d, func(next *document) { next.AddReference(reference{Axis: "y", Of: chart.Mean}) }),
		},
	}
	if alike(d, t) && len(referencesOf(diagonal)(d)) == 0 {
		list = append(
			list,
			addition{
				Key:    "diagonal",
				Rank:   14,
				Label:  "diagonal",
				Detail: "the line on which x and y are the same",
				Also:   "reference identity one to one equal agreement",
				D:      with(d, func(next *document) { next.AddReference(reference{Axis: "y", Formula: mark.Diagonal}) }),
			},
		)
	}
	return list
}

// alike reports whether the numbers along both axes may be the same: their units are.
func alike(d *document, t *table.Table) bool {
	x, y := mark.Bind(d, t).X, mark.Bind(d, t).Y
	return x.Numeric() && y.Numeric() && x.Column.Kind.Quantity() && y.Column.Kind.Quantity() && x.Unit() == y.Unit()
}
