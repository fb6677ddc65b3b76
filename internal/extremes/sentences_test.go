package extremes

import (
	"copperlark/core/chart"
	"copperlark/core/sentence"
)

// sentences are charts of every mark, fit and clause that computes.
var sentences = []string{
	"plot y against x", "plot y against x\nlog x\nlog y\ncolour by z\nsize by z\nshape by g", "plot x against when\ncolour by when",
	"plot y against g\ncolour by g",
	"plot y against x\nx from -1.7e308 to 1.7e308", "plot y against x\nnear-linear at zero x\nnear-linear at zero y",
	"plot y against x\nlog x base 2\nticks y every 1",
	"plot y, z against x\nas line", "plot y against x\nas dots and line\ncolour by g", "plot mean(y) against g\nas bars\norder g by mean(y)",
	"plot sum(y) against x\nas line", "plot median(y) against g\nas bars\ncolour by g",
	"plot count() against g", "plot g against sum(y)\nas bars", "plot y against g\nas boxes", "plot g against y\nas boxes\nlog x",
	"plot spread of x", "plot spread of x\nlog x\ncolour by g", "plot spread of when", "plot g against g\nas counts",
	"plot y against x\nas hexagons", "plot y against x\nas squares\npanels by g", "plot sum(y) against g\nas stacked bars\ncolour by said",
	"plot count() against g\nas share bars\ncolour by said",
	"plot y against x\npanels by g each with own x and y", "of rows where x > 0\nplot y against x",
	"plot y against x\nline at mean(y)\nline at x = 1e308\nband y from -1e-300 to 1e300 named 'all'",
	"plot y against x\nfit line for each g and overall with band 95%", "plot y against x\nfit curve degree 3 for each g with band 95%",
	"plot y against x\nfit local overall with band 95%", "plot y against x\nfit spline for each g and overall with band 95%",
	"plot z against x\nlog x\nfit robust line for each g and overall\nfit line leaving out outliers",
}

func documents() (list []*chart.Document) {
	for _, typed := range sentences {
		d, mistakes := sentence.Parse(typed, nil)
		if mistakes != nil {
			panic(typed + ": " + mistakes[0].Error())
		}
		list = append(list, d)
	}
	return list
}
