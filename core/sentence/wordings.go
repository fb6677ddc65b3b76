package sentence

import (
	"strings"

	"copperlark/core/clause"
)

// How a line that is laid over the marks looks, and what it is called: heard, and said.
const (
	strokeHear = " [, {named:text}] [[,] in {inked:text}] [[,] {wide:number} px wide] [[,] {dashes:dash}]"
	strokeSay  = "[ named {named}][ in {inked}][ width {wide}][ {dashes}]"
)

// wordings lists what people say, and what it is in clauses. The longest that fits where it stands counts.
func wordings() []clause.Wording {
	ways := []struct{ hear, say string }{
		// which rows
		{"of rows where|with {c:condition}", "of rows where {c}"},
		{"where|for [rows] {l:levels}", "of rows where {l}"},
		{"[rows] where|when {c:condition}", "of rows where {c}"},
		{"only [for] {l:levels}", "of rows where {l}"},
		{"[rows] without|except|excluding {l:levels}", "of rows where not ({l})"},
		{"leave|leaving out {l:levels}", "of rows where not ({l})"},
		{"with {c:column} taken out", "take out {c}"},
		{"take|taking out {c:column}", "take out {c}"},
		{"adjusted|controlling|corrected for {c:column}", "take out {c}"},
		{"without row {r:number}", "without rows {r}"}, {"without rows {r:rows}", "without rows {r}"},
		{"only row {r:number}", "only rows {r}"}, {"only rows {r:rows}", "only rows {r}"},
		// marks
		{"as [a|an] {m:marks} [chart|plot|graph]", "as {m}"},
		{"drawn as {m:marks}", "as {m}"},
		{"contours hold|holding {n:numbers} [%|percent] [of the rows]", "contours hold {n}%"},
		{"contours [at|of] {n:numbers} [%|percent]", "contours hold {n}%"},
		{"as dots and contours [at|of] {n:numbers} [%|percent]", "as dots and contours;contours hold {n}%"},
		{"cards headed by {h:column} [show|shows {s:columns}]", "card headed by {h}[ shows {s}]"},
		{"cards show|shows {s:columns}", "card shows {s}"},
		{"key in the order {g:texts}", "key in order {g}"},
		{"in front {g:texts}", "in front {g}"},
		{"outlined in {o:text} [, {w:number} px]", "outline {o}[ width {w}]"},
		{"histogram of [the] {x:column}", "plot spread of {x};as histogram"},
		{"box plots|boxes|boxplots|boxplot of {y:column} by|for|per|against [each] {x:column}", "plot {y} against {x};as boxes"},
		{"[in] {n:number} bins|bin|classes", "bins {n}"}, {"[in] bins of [width] {w:number}", "bins of {w}"},
		{"bin|bins width {w:number}", "bins of {w}"},
		// colour, size, shape
		{"coloured|colored|colour|color [it|them|dots|points|groups] by|for [the] {c:column}", "colour by {c}"},
		{"in the colours|colors of {c:column}", "colour by {c}"},
		{"a|one colour|color for|per each {c:column}", "colour by {c}"},
		{"by colour|color {c:column}", "colour by {c}"},
		{"coloured|colored|colour|color by {c:column} [paired with {p:column}] [( its {t:number} most frequent )] " +
			"[with patterns {w:yes}] [on a log scale {l:yes}] [[,] from {a:moment} to {b:moment}] [[,] two ways about {m:number}] " +
			"[[,] darker for less {d:yes}] [[,] in {u:gradient}]",
			"colour by {c}[ paired with {p}][ top {t}][ with patterns{w}][ log scale{l}][ from {a} to {b}][ about {m}]" +
				"[ darker for less{d}][ using {u}]"},
		{"in a palette of {p:texts}", "palette {p}"},
		{"patterns|pattern by {c:column}", "colour by {c} with patterns"},
		{"sized|size by [the] {c:column}", "size by {c}"},
		{"sized|size by {c:column} from {a:number} to {b:number} [px]", "size by {c} from {a} to {b}"},
		{"shaped|shape by [the] {c:column}", "shape by {c}"},
		{"a shape for each {c:column}", "shape by {c}"},
		{"[all] [in] colour|color {t:text}", "one colour {t}"},
		{"all in {t:text}", "one colour {t}"},
		{"size {n:number} [px|pixels]", "one size {n}"},
		{"each {n:number} px|pixels", "one size {n}"},
		{"shape {s:shape}", "one shape {s}"},
		{"each a|an {s:shape}", "one shape {s}"},
		{"each the letter|sign {t:word}", "one shape {t}"},
		{"{n:share} % opaque", "opacity {n}"},
		{"without outline|outlines", "outline off"},
		{"jittered [along] {a:axes}", "jitter {a}"},
		{"jitter|strew [along] {a:axes}", "jitter {a}"},
		// panels, steps, order
		{"[in] panels|panel by|for [each] {c:column} [[,] each with its own {o:axes}] [[,] {n:number} side by side]",
			"panels by {c}[ each with own {o}][ in {n} columns]"},
		{"[in] panels|panel by {c:column} and|by {d:column} [[,] each with its own {o:axes}] [[,] {n:number} side by side]",
			"panels {c} by {d}[ each with own {o}][ in {n} columns]"},
		{"[with] [the] {g:column} ordered by [the] {s:statistic} [of] {b:column} [[,] highest first {d:yes}]",
			"order {g} by {s}({b})[ descending{d}]"},
		{"[with] [the] {g:column} ordered by [the] number of rows [[,] highest first {d:yes}]", "order {g} by count()[ descending{d}]"},
		{"ordered|sorted|order|sort by [the] {s:statistic} [of] {b:column} [[,] highest|largest first {d:yes}] [descending {d:yes}]",
			"order " + clause.ColumnAlong + "x by {s}({b})[ descending{d}]"},
		{"ordered|sorted|order|sort by [the] {b:column} [[,] highest|largest first {d:yes}] [descending {d:yes}]",
			"order " + clause.ColumnAlong + "x by mean({b})[ descending{d}]"},
		{"ordered|sorted|order|sort by [the] number|count of rows [[,] highest|largest first {d:yes}] [descending {d:yes}]",
			"order " + clause.ColumnAlong + "x by count()[ descending{d}]"},
		{"one panel|picture for|per each {c:column}", "panels by {c}"},
		{"small multiples by|of {c:column}", "panels by {c}"},
		{"step by step through {c:column} [[,] following {f:column}]", "step through {c}[ following {f}]"},
		{"animated|animate by|through|over {c:column}", "step through {c}"},
		// axes
		{"{a:axis} on a log|logarithmic scale|axis", "log {a}"},
		{"{a:axis} on a log scale of base {b:number}", "log {a} base {b}"},
		{"{a:axis} on a scale near-linear at zero", "near-linear at zero {a}"},
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
		{"[draw|add|with|show] [a] [horizontal|vertical] [reference] line at [the] {s:statistic} [of] [(] {a:along} [)]" + strokeHear,
			"line at {s}({a})" + strokeSay},
		{"[draw|add|with|show] [a] horizontal [reference] line at {n:number}" + strokeHear, "line at y = {n}" + strokeSay},
		{"[draw|add|with|show] [a] vertical [reference] line at {n:number}" + strokeHear, "line at x = {n}" + strokeSay},
		{"[draw|add|with|show] [a] [reference] line at {a:along} =|of {n:number}" + strokeHear, "line at {a} = {n}" + strokeSay},
		{"[draw|add] [the|a] diagonal" + strokeHear, "diagonal" + strokeSay},
		{"draw the line y = x" + strokeHear, "diagonal" + strokeSay},
		{"draw the line y = {f:curve}" + strokeHear, "line y = {f}" + strokeSay},
		{"[show|add|shade] [a] band along|on {a:axis} from {f:number} to {t:number}" + strokeHear, "band {a} from {f} to {t}" + strokeSay},
		{"also plot {y:column} against {x:column} [as {m:also}]" + strokeHear, "also plot {y} against {x}[ as {m}]" + strokeSay},
		{"also plot {y:name} against {x:name} of {t:text} [as {m:also}]" + strokeHear,
			"also plot {y} against {x} of {t}[ as {m}]" + strokeSay},
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
		{"label rows|row {r:rows} with {w:column}", "label rows {r} with {w}"},
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
		return strings.ReplaceAll(" [on a log|logarithmic scale {logA:yes}] [on a log scale of base {baseA:number}] "+
			"[on a scale near-linear at zero {nearA:yes}] [( log {logA:yes} )]", "A", axis)
	}
	const scales = ";{logy}log y;log y base {basey};{neary}near-linear at zero y;{logx}log x;log x base {basex};{nearx}near-linear at zero x"
	for _, y := range along("y") {
		for _, x := range along("x") {
			list = append(list, clause.Wording{
				Hear: "[plot|show|draw|compare|graph|scatter] [[a] {m:marks} [chart|plot|graph] [of|with]] " +
					y.hear + " [and|, {more:columns}]" + scaled("y") +
					" against|vs|versus|by|over|on|per|for|with [.] [each] " + x.hear + scaled("x") +
					" [as [a|an] {m2:marks} [chart|plot|graph] [[at|of] {hold:numbers} %|percent]]",
				Say: "plot " + y.say + "[, {more}] against " + x.say + ";as {m};as {m2};contours hold {hold}%" + scales,
			})
		}
	}
	return append(list,
		clause.Wording{Hear: "[plot|show|draw] the spread|distribution of [the] {x:column}" + scaled("x") + " [as [a|an] {m:marks}]",
			Say: "plot spread of {x};as {m}" + scales},
		clause.Wording{Hear: "plot y = {f:curve}" + scaled("y") + " for x from {a:number} to {b:number}" +
			scaled("x") + " [at {n:number} values]",
			Say: "plot y = {f} for x from {a} to {b}[ at {n} values]" + scales},
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
					Hear: strings.Join([]string{"fit|add|with|draw|fitted [a]", kind.hear, of.hear, band.hear,
						"[, leaving out outliers {o:yes}]" + strokeHear}, " "),
					Say: "fit " + kind.say + of.say + band.say + "[ leaving out outliers{o}]" + strokeSay,
				})
			}
		}
	}
	return list
}
