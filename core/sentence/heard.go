package sentence

import (
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/colour"
	"copperlark/core/formula"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/table"
)

// Heard writes a sentence as people say it, or as the program speaks it, clause by clause. What nothing can be made of is a
// mistake with its place.
func Heard(typed string, columns *table.Table) (string, *Error) {
	return listener.Hear(typed, columns, grammar.Clause)
}

// listener knows the wordings below.
var listener = clause.NewListener(wordings(), slots, "please the a an and then also now me us with using draw show make it chart "+
	"plot graph its of so that in by let let's can you i want would like to with is are")

// slots are what wordings hold, by kind.
var slots = map[string]clause.Slot{
	"column":    clause.HeardColumn,
	"columns":   clause.Several(clause.HeardColumn, ", "),
	"groups":    clause.Several(clause.HeardText, ", "),
	"number":    clause.HeardNumber,
	"numbers":   clause.Several(clause.HeardNumber, ", "),
	"word":      clause.HeardWord,
	"rows":      clause.Enumerated(clause.HeardNumber, ", "),
	"text":      clause.HeardText,
	"level":     clause.HeardLevel,
	"levels":    clause.Several(clause.HeardLevel, " or "),
	"rest":      clause.HeardRest,
	"yes":       func(*clause.Hearing, int) []clause.Held { return []clause.Held{{}} },
	"axis":      clause.OneOfWords(axisWords),
	"along":     clause.HeardAlong(clause.OneOfWords(axisWords)),
	"share":     clause.HeardShare,
	"axes":      clause.Several(clause.OneOfWords(axisWords), " and "),
	"mark":      clause.OneOfWords(markNamesHeard()),
	"marks":     clause.Several(clause.OneOfWords(markNamesHeard()), " and "),
	"statistic": clause.OneOfWords(map[string]string{"mean": "mean", "average": "mean", "median": "median", "sum": "sum", "total": "sum"}),
	"shape":     clause.OneOfWords(shapesHeard()),
	"ways": clause.Several(clause.OneOfWords(map[string]string{"histogram": "histogram", "histograms": "histogram", "curve": "curve",
		"curves": "curve", "boxes": "boxes", "box plots": "boxes"}), " and "),
	"place": clause.OneOfWords(placesHeard()),
	"fit": clause.OneOfWords(map[string]string{
		"a straight line": "line", "straight line": "line", "straight lines": "line", "linear": "line", "linear regression": "line",
		"regression line": "line", "regression": "line", "regression lines": "line", "trend line": "line", "trend lines": "line",
		"trend": "line", "line of best fit": "line", "best fit": "line", "least squares": "line",
		"least squares line": "line", "a line": "line", "line": "line", "lines": "line", "smoother": "local", "smooth curve": "local",
		"smooth line": "local", "local regression": "local", "a local regression": "local", "smooth": "local",
		"a smoothing spline": "spline", "smoothing spline": "spline", "spline": "spline",
		"a robust line": "robust line", "robust line": "robust line", "robust regression": "robust line",
		"curve": "curve", "polynomial": "curve", "quadratic": "curve degree 2", "cubic": "curve degree 3", "a quadratic curve": "curve degree 2",
	}),
	"form": clause.OneOfWords(map[string]string{"thousands": "120k", "k": "120k", "millions": "120k",
		"percent": "percent", "percentages": "percent",
		"per cent": "percent", "plain numbers": "plain", "years": "plain", "hours and minutes": "duration", "durations": "duration"}),
	"texts": clause.Several(clause.HeardText, ", "),
	"name":  clause.HeardName,
	"dash":  clause.OneOfWords(dashesHeard()),
	"condition": clause.HeardUntil([]string{"plot"}, clause.AsCondition(formula.HeardComparisons(), formula.Truths),
		wrongCondition),
	"curve": clause.HeardUntil([]string{"for", "on"}, clause.AsTyped,
		func(_ *clause.Hearing, text string) bool {
			_, _, message, _ := formula.CurveMistake(text)
			return message != ""
		}),
	"moment":   clause.HeardMoment,
	"gradient": clause.OneOfWords(gradientsHeard()),
	"also":     clause.OneOfWords(alsoHeard()),
	"sized": clause.OneOfWords(map[string]string{"small": "small", "smaller": "small", "large": "large",
		"bigger": "large", "larger": "larger", "big": "large"}),
}

var axisWords = map[string]string{"x": "x", "y": "y", "the x axis": "x", "the y axis": "y", "x axis": "x", "y axis": "y",
	"horizontal axis": "x", "vertical axis": "y", "the horizontal axis": "x", "the vertical axis": "y", "x-axis": "x", "y-axis": "y"}

// wrongCondition reports whether a text is no condition of a table; a column that the table has not stands in double quotes.
func wrongCondition(h *clause.Hearing, text string) bool {
	f, err := formula.Parse(text)
	return err != nil || h.Table != nil && slices.ContainsFunc(f.Columns(), func(name string) bool {
		return h.Table.Column(name) == nil && !strings.Contains(text, `"`+strings.ReplaceAll(name, `"`, `""`)+`"`)
	})
}

// markNamesHeard are the marks as people name them.
func markNamesHeard() map[string]string {
	list := map[string]string{"points": "dots", "point": "dots", "scatter": "dots", "dot": "dots", "lines": "line",
		"bar": "bars", "columns": "bars",
		"box plot": "boxes", "box plots": "boxes", "boxplots": "boxes", "boxplot": "boxes", "box": "boxes", "histograms": "histogram",
		"density": "curve", "density curve": "curve", "hexagon": "hexagons", "hexbins": "hexagons", "heatmap": "squares", "step line": "steps",
		"contour lines": "contours", "contour": "contours", "strip": "strips", "pie": "sectors", "candlesticks": "price bars", "areas": "area"}
	for _, m := range mark.List {
		list[m.Name] = m.Name
	}
	return list
}

func dashesHeard() map[string]string {
	list := map[string]string{}
	for _, d := range chart.Dashes {
		list[d.Name] = d.Name
	}
	return list
}

func gradientsHeard() map[string]string {
	list := map[string]string{}
	for _, g := range colour.Gradients {
		list[strings.ToLower(g.Name)] = g.Name
	}
	return list
}

func alsoHeard() map[string]string {
	list := map[string]string{}
	for _, o := range chart.AlsoMarks {
		list[o.Name] = o.Name
	}
	return list
}

func shapesHeard() map[string]string {
	list := map[string]string{"circles": "circle", "squares": "square", "triangles": "triangle", "diamonds": "diamond",
		"crosses": "cross", "rings": "ring"}
	for _, s := range primitive.Shapes {
		list[s] = s
	}
	return list
}

func placesHeard() map[string]string {
	list := map[string]string{"on the right": "right", "to the right": "right", "at right": "right", "at the right": "right",
		"at the top": "top", "at top": "top", "on top": "top", "above": "top", "inside the chart": "inside", "at line ends": "line ends",
		"at the line ends": "line ends", "at the ends of lines": "line ends", "hidden": "off"}
	for _, k := range chart.Keys {
		list[k.Name] = k.Name
	}
	return list
}
