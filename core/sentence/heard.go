package sentence

import (
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
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
var listener = clause.NewListener(wordings(), slots, "please the a an and then also now me us with using draw show make it chart plot graph its of so that in by let let's can you i want would like to with is are")

// slots are what wordings hold, by kind.
var slots = map[string]clause.Slot{
	"column":    clause.HeardColumn,
	"columns":   clause.Several(clause.HeardColumn, ", "),
	"groups":    clause.Several(clause.HeardText, ", "),
	"number":    clause.HeardNumber,
	"numbers":   clause.Several(clause.HeardNumber, ", "),
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
		"a straight line": "line", "straight line": "line", "straight lines": "line", "linear": "line", "linear regression": "line", "regression line": "line", "regression": "line",
		"regression lines": "line", "trend line": "line", "trend lines": "line", "trendline": "line", "trend": "line", "line of best fit": "line", "best fit": "line",
		"least squares": "line", "least squares line": "line", "a line": "line", "line": "line", "lines": "line",
		"smoother": "local", "smooth curve": "local", "smooth line": "local", "local regression": "local", "a local regression": "local", "smooth": "local",
		"a smoothing spline": "spline", "smoothing spline": "spline", "spline": "spline",
		"a robust line": "robust line", "robust line": "robust line", "robust regression": "robust line",
		"curve": "curve", "polynomial": "curve", "quadratic": "curve degree 2", "cubic": "curve degree 3", "a quadratic curve": "curve degree 2",
	}),
	"form": clause.OneOfWords(map[string]string{"thousands": "120k", "k": "120k", "millions": "120k", "percent": "percent", "percentages": "percent",
		"per cent": "percent", "plain numbers": "plain", "years": "plain", "hours and minutes": "duration", "durations": "duration"}),
	"sized": clause.OneOfWords(map[string]string{"small": "small", "smaller": "small", "large": "large", "bigger": "large", "larger": "larger", "big": "large"}),
}

var axisWords = map[string]string{"x": "x", "y": "y", "the x axis": "x", "the y axis": "y", "x axis": "x", "y axis": "y",
	"horizontal axis": "x", "vertical axis": "y", "the horizontal axis": "x", "the vertical axis": "y", "x-axis": "x", "y-axis": "y"}

// markNamesHeard are the marks as people name them.
func markNamesHeard() map[string]string {
	list := map[string]string{"points": "dots", "point": "dots", "scatter": "dots", "dot": "dots", "lines": "line", "bar": "bars", "columns": "bars",
		"box plot": "boxes", "box plots": "boxes", "boxplots": "boxes", "boxplot": "boxes", "box": "boxes", "histograms": "histogram",
		"density": "curve", "density curve": "curve", "hexagon": "hexagons", "hexbins": "hexagons", "heatmap": "squares", "step": "steps",
		"contour lines": "contours", "contour": "contours", "strip": "strips", "pie": "sectors", "candlesticks": "price bars", "areas": "area"}
	for _, m := range mark.List {
		list[m.Name] = m.Name
	}
	return list
}

func shapesHeard() map[string]string {
	list := map[string]string{"circles": "circle", "squares": "square", "triangles": "triangle", "diamonds": "diamond", "crosses": "cross", "rings": "ring"}
	for _, s := range primitive.Shapes {
		list[s] = s
	}
	return list
}

func placesHeard() map[string]string {
	list := map[string]string{"on the right": "right", "to the right": "right", "at right": "right", "at the right": "right", "at the top": "top", "at top": "top",
		"on top": "top", "above": "top", "inside the chart": "inside", "at line ends": "line ends", "at the line ends": "line ends", "at the ends of lines": "line ends", "hidden": "off"}
	for _, k := range chart.Keys {
		list[k.Name] = k.Name
	}
	return list
}

// wordings lists what people say, and what it is in clauses. The longest that fits where it stands counts.
func wordings() []clause.Wording {
	ways := []struct{ hear, say string }{
		// which rows
		{"of rows where|with {c:rest}", "of rows where {c}"},
		{"where|for [rows] {l:levels}", "of rows where {l}"},
		{"where|when {c:rest}", "of rows where {c}"},
		{"only [for] {l:levels}", "of rows where {l}"},
		{"[rows] without|except|excluding {l:levels}", "of rows where not ({l})"},
		{"leave|leaving out {l:levels}", "of rows where not ({l})"},
		{"with {c:column} taken out", "take out {c}"},
		{"take|taking out {c:column}", "take out {c}"},
		{"adjusted|controlling|corrected for {c:column}", "take out {c}"},
		// marks
		{"as [a|an] {m:marks} [chart|plot|graph]", "as {m}"},
		{"drawn as {m:marks}", "as {m}"},
		{"contours hold|holding {n:numbers} [%|percent] [of the rows]", "contours hold {n}%"},
		{"contours [at|of] {n:numbers} [%|percent]", "contours hold {n}%"},
		{"as dots and contours [at|of] {n:numbers} [%|percent]", "as dots and contours;contours hold {n}%"},
		{"histogram of [the] {x:column}", "plot spread of {x};as histogram"},
		{"box plots|boxes|boxplots|boxplot of {y:column} by|for|per|against [each] {x:column}", "plot {y} against {x};as boxes"},
		// colour, size, shape
		{"coloured|colored|colour|color [it|them|dots|points|groups] by|for [the] {c:column}", "colour by {c}"},
		{"in the colours|colors of {c:column}", "colour by {c}"},
		{"a|one colour|color for|per each {c:column}", "colour by {c}"},
		{"by colour|color {c:column}", "colour by {c}"},
		{"coloured|colored|colour|color by {c:column} paired with {p:column}", "colour by {c} paired with {p}"},
		{"patterns|pattern by {c:column}", "colour by {c} with patterns"},
		{"coloured|colored by {c:column} with patterns", "colour by {c} with patterns"},
		{"sized|size by [the] {c:column}", "size by {c}"},
		{"sized|size by {c:column} from {a:number} to {b:number}", "size by {c} from {a} to {b}"},
		{"shaped|shape by [the] {c:column}", "shape by {c}"},
		{"a shape for each {c:column}", "shape by {c}"},
		{"[all] [in] colour|color {t:text}", "one colour {t}"},
		{"all in {t:text}", "one colour {t}"},
		{"size {n:number} [px|pixels]", "one size {n}"},
		{"each {n:number} px|pixels", "one size {n}"},
		{"shape {s:shape}", "one shape {s}"},
		{"each a|an {s:shape}", "one shape {s}"},
		{"{n:share} % opaque", "opacity {n}"},
		{"without outline|outlines", "outline none"},
		{"jittered [along] {a:axes}", "jitter {a}"},
		{"jitter|strew [along] {a:axes}", "jitter {a}"},
		// panels, steps, order
		{"[in] panels|panel by|for [each] {c:column}", "panels by {c}"},
		{"[in] panels|panel by|for [each] {c:column} [,] each with its own {o:axes}", "panels by {c} each with own {o}"},
		{"[in] panels|panel by {c:column} and|by {d:column}", "panels {c} by {d}"},
		{"[in] panels|panel by {c:column} and|by {d:column} [,] each with its own {o:axes}", "panels {c} by {d} each with own {o}"},
		{"one panel|picture for|per each {c:column}", "panels by {c}"},
		{"small multiples by|of {c:column}", "panels by {c}"},
		{"step by step through {c:column}", "step through {c}"},
		{"step by step through {c:column} following {f:column}", "step through {c} following {f}"},
		{"animated|animate by|through|over {c:column}", "step through {c}"},
		// axes
		{"{a:axis} on a log|logarithmic scale|axis", "log {a}"},
		{"log|logarithmic [scale] [on|along|for] [the] {a:axis}", "log {a}"},
		{"log|logarithmic axes", "log x;log y"},
		{"both axes log|logarithmic", "log x;log y"},
		{"linear {a:axis}", ""},
		{"turn {a:axis} round", "{a} reversed"},
		{"reverse|flip|invert {a:axis}", "{a} reversed"},
		{"[show|limit] {a:axis} [axis] from|between {f:number} to|and {t:number}", "{a} from {f} to {t}"},
		{"[show] {a:axis} [axis] from {f:text} to {t:text}", "{a} from {f} to {t}"},
		{"{a:axis} [written|shown] in|as|with {f:form}", "{a} as {f}"},
		{"{a:axis} with|to {n:number} decimals|decimal [places]", "{a} as {n} decimals"},
		{"{a:axis} as|in|with currency|money [in] {t:text}", "{a} as currency {t}"},
		{"{a:axis} titled|called|labelled|labeled {t:text}", "{a} titled {t}"},
		{"{a:axis} without [a] title", "{a} untitled"},
		{"no title on|for {a:axis}", "{a} untitled"},
		{"{a:axis} ticks every {n:number}", "ticks {a} every {n}"},
		{"ticks|tick on|along {a:axis} every {n:number}", "ticks {a} every {n}"},
		// reference lines
		{"[draw|add|with|show] [a] [horizontal|vertical] [reference] line at [the] {s:statistic} [of] [(] {a:along} [)]", "line at {s}({a})"},
		{"[draw|add|with|show] [a] horizontal [reference] line at {n:number}", "line at y = {n}"},
		{"[draw|add|with|show] [a] vertical [reference] line at {n:number}", "line at x = {n}"},
		{"[draw|add|with|show] [a] [reference] line at {a:along} =|of {n:number}", "line at {a} = {n}"},
		{"[draw|add] [the|a] diagonal", "diagonal"},
		{"draw the line y = x", "diagonal"},
		{"[show|add|shade] [a] band along|on {a:axis} from {f:number} to {t:number}", "band {a} from {f} to {t}"},
		// intervals, edges, centres, labels
		{"interval sd|deviation", "interval sd"},
		{"[show about each] [its] {n:number} % interval|intervals", "interval {n}%"},
		{"interval {n:number} [%|percent]", "interval {n}%"},
		{"[show about each] its standard deviation", "interval sd"},
		{"error bars|bar", "interval 95%"},
		{"[show] edges [as] {w:ways}", "edges {w}"},
		{"[with] {w:ways} along|at the edges|axes", "edges {w}"},
		{"[show] [the] centres|centers|centroids of [the] {c:column}", "centres of {c}"},
		{"label [the] highest|top {n:number} by {b:column} with {w:column}", "label top {n} by {b} with {w}"},
		{"label [the] lowest|bottom {n:number} by {b:column} with {w:column}", "label bottom {n} by {b} with {w}"},
		{"label [all|every|each] [dots|points|rows|row] with|by {w:column}", "label all with {w}"},
		// looks and words
		{"[with] [a|the] key|legend [is] {p:place}", "key {p}"},
		{"no key|legend", "key off"}, {"without [a] key|legend", "key off"}, {"hide [the] key|legend", "key off"},
		{"no|without grid|gridlines", "grid off"}, {"without a grid", "grid off"}, {"grid {g:rest}", "grid {g}"},
		{"{s:sized} text|letters|words|font", "text {s}"}, {"text {s:sized}", "text {s}"},
		{"words|text bold", "weight bold"}, {"words|text light", "weight light"}, {"bold words|text", "weight bold"},
		{"[its] look [is] {l:rest}", "look {l}"},
		{"hand-drawn|sketched", "look sketch"}, {"black and white", "look ink"}, {"for a printer without colours", "look ink"},
		{"title|titled|called [it|:] {t:text}", "title {t}"},
		{"[with] [the] title {t:text}", "title {t}"},
		{"subtitle|subtitled [:] {t:text}", "subtitle {t}"},
		{"note|caption|footnote [:] {t:text}", "note {t}"},
		{"[with] [the] note|caption {t:text}", "note {t}"},
		{"paper {w:number} by|x {h:number} [px|pixels]", "paper {w} by {h}"},
		{"paper {w:number} by|x {h:number} mm|millimetres", "paper {w} by {h} mm"},
		{"overlap shaded off", "overlap off"},
	}
	var list []clause.Wording
	for _, w := range ways {
		list = append(list, clause.Wording{Hear: w.hear, Say: w.say})
	}
	return append(append(list, plotWordings()...), fitWordings()...)
}

// plotWordings are the ways of saying what stands along the axes, each with its scale and what it is drawn as.
func plotWordings() (list []clause.Wording) {
	type spelt struct{ hear, say string }
	along := func(axis string) []spelt {
		c := "{" + axis + ":column}"
		return []spelt{
			{"[the] " + c, "{" + axis + "}"},
			{"[the] " + c + " as|per groups|group|category|categories", "{" + axis + "} as groups"},
			{"[the] " + c + " as numbers|number", "{" + axis + "} as number"},
			{"[the] {s" + axis + ":statistic} [of] [the] " + c, "{s" + axis + "}({" + axis + "})"},
			{"[the] {s" + axis + ":statistic} ( " + c + " )", "{s" + axis + "}({" + axis + "})"},
			{"[the] number|count of rows", "count()"},
			{"count ( )", "count()"}, {"counts|count|frequency", "count()"},
		}
	}
	scaled := func(axis string) string {
		return " [on a log|logarithmic scale {log" + axis + ":yes}] [( log {logs" + axis + ":yes} )]"
	}
	for _, y := range along("y") {
		for _, x := range along("x") {
			list = append(list, clause.Wording{
				Hear: "[plot|show|draw|compare|graph|scatter] [[a] {m:marks} [chart|plot|graph] [of|with]] " + y.hear + " [and|, {more:columns}]" + scaled("y") +
					" against|vs|versus|by|over|on|per|for|with [.] [each] " + x.hear + scaled("x") + " [as [a|an] {m2:marks} [chart|plot|graph] [[at|of] {hold:numbers} %|percent]]",
				Say: "plot " + y.say + "{more?} against " + x.say + ";as {m};as {m2};contours hold {hold}%;{logy}log y;{logx}log x;{logsy}log y;{logsx}log x",
			})
		}
	}
	return append(list,
		clause.Wording{Hear: "[plot|show|draw] the spread|distribution of [the] {x:column}" + scaled("x") + " [as [a|an] {m:marks}]", Say: "plot spread of {x};as {m};{logx}log x"},
		clause.Wording{Hear: "how [is] {x:column} [is] spread|distributed", Say: "plot spread of {x}"},
		clause.Wording{Hear: "[how] does|do {x:column} affect|explain|drive|influence|change {y:column} [?]", Say: "plot {y} against {x}"},
		clause.Wording{Hear: "relationship|relation between|of {x:column} and|with|to {y:column}", Say: "plot {y} against {x}"},
	)
}

// fitWordings are the ways of asking for a fit: which, to which rows, and with which band.
func fitWordings() (list []clause.Wording) {
	whose := []struct{ hear, say string }{
		{"", ""}, {"to|for|of|through all [rows]", " overall"}, {"overall", " overall"},
		{"to|for|in|by|of|per [each] {g:column}", " for each {g}"},
		{"each|per {g:column}", " for each {g}"},
		{"to|for [each] {g:column} and overall|all [rows]", " for each {g} and overall"},
	}
	bands := []struct{ hear, say string }{
		{"", ""},
		{"with [a] {n:number} % [confidence] band|bands", " with band {n}%"},
		{"with [a] {n:number} % prediction band|bands", " with prediction band {n}%"},
		{"with [a|its] [confidence] band|bands", " with band 95%"},
		{"with [a|its] prediction band|bands", " with prediction band 95%"},
	}
	kinds := []struct{ hear, say string }{
		{"{k:fit}", "{k}"},
		{"a curve of degree {d:number}", "curve degree {d}"},
		{"a local regression ( span {d:number} )", "local span {d}"},
	}
	for _, kind := range kinds {
		for _, of := range whose {
			for _, band := range bands {
				list = append(list, clause.Wording{
					Hear: strings.Join([]string{"fit|add|with|draw|fitted [a]", kind.hear, of.hear, band.hear, "[, leaving out outliers {o:yes}]"}, " "),
					Say:  "fit " + kind.say + of.say + band.say + "{o?leaving out outliers}",
				})
			}
		}
	}
	return list
}
