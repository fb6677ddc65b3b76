package sentence

import "copperlark/core/mark"

// Sayable is something that can be said of a chart: a clause, or a mark.
type Sayable struct {
	Name    string `json:"name" doc:"the words that begin it"`
	Help    string `json:"help"`
	Example string `json:"example" doc:"a line that is right"`
	Also    string `json:"also" doc:"words of the trade that it is looked up by"`
}

// synonyms are words of the trade that clauses are looked up by.
var synonyms = map[string]string{
	"of rows where": "filter subset condition query select exclude", "only rows": "filter subset selection lasso pick", "without rows": "exclude drop remove outliers hide points",
	"plot": "axes variables x y scatter function formula equation", "take out": "adjust control partial residual confounder covariate", "as": "mark geometry chart type kind",
	"log x": "logarithmic scale transform axis", "log y": "logarithmic scale transform axis", "near-linear at zero x": "symmetric log symlog asinh", "near-linear at zero y": "symmetric log symlog asinh",
	"colour": "color hue group palette ramp colormap paired shades light dark diverging two-sided midpoint clamp range reverse gradient log", "size": "bubble area radius range smallest largest", "shape": "marker symbol glyph", "one colour": "color fill single constant", "one size": "radius points single constant", "one shape": "marker symbol glyph single constant hollow letter character text", "opacity": "alpha transparency see-through",
	"overlap": "density shading saturation tone mapping overplotting crowded", "jitter": "overplotting strew noise overlap", "panels": "facets small multiples grid split trellis", "step through": "animate animation play frames slider time", "order": "sort reorder arrange categories levels", "fit": "style width dash colour regression trend smoother line curve model confidence band loess spline polynomial",
	"line at": "reference threshold horizontal vertical mean median average target", "line y": "function formula equation reference curve", "diagonal": "identity one to one equality agreement", "band": "reference range region shade target",
	"interval": "error bars confidence whiskers uncertainty standard deviation sd standard error", "label": "names annotate text points", "centres of": "centroids means centers between groups", "card": "tooltip hover popup fields heading", "contours hold": "levels density isolines",
	"edges": "marginal distribution rug histogram density joint", "x": "axis limits range zoom title unit label format", "y": "axis limits range zoom title unit label format", "ticks x": "breaks marks step spacing grid", "ticks y": "breaks marks step spacing grid",
	"look": "theme style appearance black and white print monochrome axis lines", "text": "font size bigger larger legible readable", "grid": "gridlines minor lines background", "key": "legend position place hide side top", "key in order": "legend sort reorder entries sequence", "outline": "border edge stroke rim", "also plot": "overlay second series layer other table dataset combine secondary compare", "in front": "z-order overlap top layer above bring forward hidden", "palette": "colors scheme own brand corporate hues",
	"paper":  "millimetres mm centimetres size width height aspect ratio dimensions pixels square",
	"weight": "font bold light heavy thin strong", "subtitle": "second heading under title caption", "title": "heading caption name centre center align", "note": "caption footnote source comment",
}

// Sayables lists everything that can be said of a chart.
func Sayables() (list []Sayable) {
	for i := range grammar.Clauses {
		c := &grammar.Clauses[i]
		list = append(list, Sayable{c.Name, c.Help, c.Example, synonyms[c.Name]})
		if c.Name == marksClause.Name {
			for _, m := range mark.List {
				list = append(list, Sayable{"as " + m.Name, m.Help, "as " + m.Name, m.Also})
			}
		}
	}
	return list
}
