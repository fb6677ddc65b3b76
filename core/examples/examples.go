// Package examples holds sentences of the made-up apiaries that show what can be said: one for
// each mark, and for clauses that change what a chart tells. The gallery in docs/ and the
// examples in the program are made of it.
package examples

import "strings"

// Example is a sentence over a table of the demo.
type Example struct {
	Name  string // what it shows, in a few words
	Does  string // what one sees in it
	Table string // the dataset of the demo, by its file without its ending
	Typed string
}

// Slug is the name of an example's picture.
func (e Example) Slug() string {
	return strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' {
			return r
		}
		return '-'
	}, strings.ToLower(e.Name))
}

const hives, days, lots, comb = "hive_seasons", "scale_days", "market_lots", "comb_prices"

// List holds every example, in the order in which they are shown.
var List = []Example{
	{
		"Dots",
		"Each row a dot: two numbers against each other, groups by colour.",
		hives,
		"plot honey_kg against forage_ha\nas dots\nlog x\ncolour by district",
	},
	{
		"Size and shape",
		"Two more columns on the same dots.",
		hives,
		"of rows where season = 2029 and district in ('Tarn', 'Low Fen')\nplot honey_kg against forage_ha\nlog x\ncolour by district\nsize by frames\nshape by hive_type",
	},
	{
		"Two ways about a middle",
		"Where a third column lies above and below a value, with limits.",
		hives,
		"plot honey_kg against forage_ha\nlog x\ncolour by altitude_m from 0 to 400 about 150",
	},
	{
		"Fits by group",
		"A line for each group and one for all rows: here they go opposite ways.",
		hives,
		"plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall with band 95%",
	},
	{
		"Taken out",
		"The same with the differences between districts taken out; rings stay where rows were measured.",
		hives,
		"plot honey_kg against forage_ha\ntake out district\nlog x\ncolour by district\nfit line",
	},
	{
		"Centres",
		"The mean of each group, and the line between them.",
		hives,
		"plot honey_kg against forage_ha\nlog x\ncolour by district\nopacity 0.3\ncentres of district",
	},
	{
		"Edges",
		"How rows are spread along each axis.",
		hives,
		"plot honey_kg against forage_ha\nlog x\ncolour by district\nedges histogram and curve",
	},
	{
		"In ink",
		"Greys, shapes and patterns, for a printer without colours.",
		hives,
		"plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district\nlook ink",
	},
	{
		"Jitter",
		"Whole numbers along x, moved apart so that each row is seen.",
		hives,
		"of rows where district = 'Tarn'\nplot honey_kg against season\ncolour by keeper_school\njitter x",
	},
	{
		"Labels",
		"Names beside the rows that stand out.",
		hives,
		"of rows where season = 2030\nplot honey_kg against mites_per_100\nlabel top 6 by mites_per_100 with apiary",
	},
	{
		"A line of your own",
		"What was expected, beside what was measured.",
		hives,
		"of rows where district in ('Tarn', 'Brindle')\nplot honey_kg against forage_ha\nlog x\ncolour by district\nline y = 9 * log10(x) + 5 named 'expected'",
	},
	{
		"A smooth line",
		"A local regression shows where a straight line is not enough.",
		lots,
		"plot quantity against unit_price\nlog x\nlog y\nopacity 0.3\nfit local with band 95%",
	},
	{
		"Panels",
		"A picture for each group, with the same axes.",
		hives,
		"plot honey_kg against forage_ha\nlog x\ncolour by district\npanels by season",
	},
	{"Hexagons", "Where dots would hide each other they are counted.", lots, "plot quantity against unit_price\nas hexagons\nlog x\nlog y"},
	{"Squares", "The same in squares.", hives, "plot honey_kg against forage_ha\nas squares\nlog x"},
	{
		"Contours",
		"Lines inside which half, four fifths and nearly all of a group's rows lie.",
		hives,
		"plot honey_kg against forage_ha\nas contours\nlog x\ncolour by district",
	},
	{"Line", "Values in the order of x, here over two years.", days, "plot hive_1, hive_2, hive_3 against date\nas line"},
	{"Steps", "Each value held until the next.", hives, "plot mean(honey_kg) against season\nas steps\ncolour by keeper_school"},
	{"Area", "Sums from season to season, filled down to zero.", hives, "plot sum(honey_kg) against season\nas area\ncolour by district"},
	{
		"Bars",
		"A statistic of each group, with its interval, the highest first.",
		hives,
		"plot mean(honey_kg) against district\nas bars\norder district by mean(honey_kg) descending\ninterval 95%",
	},
	{
		"Paired colours",
		"A hue for each group of one column, dark and pale by another.",
		hives,
		"plot count() against district\nas stacked bars\ncolour by keeper_school paired with fed",
	},
	{"Function", "y worked out from x, without rows.", hives, "plot y = 1 / (1 + exp(-x)) for x from -6 to 6"},
	{
		"Drawn by hand",
		"For a talk: lines stray, what is computed does not.",
		hives,
		"plot mean(honey_kg) against season as number\nas line\ncolour by district\nlook sketch",
	},
	{
		"Letters",
		"A letter in the place of each dot.",
		hives,
		"of rows where season = 2029 and district = 'Tarn'\nplot honey_kg against forage_ha\ncolour by keeper_school\none shape 'T'\none size 5",
	},
	{
		"In front",
		"One group on top, outlined, with the key inside.",
		hives,
		"plot honey_kg against forage_ha\nlog x\ncolour by district\nin front 'Tarn'\noutline '#16302e'\nkey in order 'Tarn'\nkey inside",
	},
	{
		"Something more",
		"Other columns over the same axes; another dataset's, too.",
		hives,
		"plot honey_kg against forage_ha\nlog x\nalso plot mites_per_100 against forage_ha as dots named 'mites per 100'",
	},
	{"Stacked bars", "Counts over each other.", hives, "plot count() against district\nas stacked bars\ncolour by keeper_school"},
	{"Share bars", "The same as shares of a whole.", hives, "plot count() against district\nas share bars\ncolour by keeper_school"},
	{
		"Sectors",
		"Shares of a whole round a circle, of a few groups.",
		hives,
		"plot count() against keeper_school\nas sectors\ncolour by keeper_school",
	},
	{
		"Price bars",
		"The first, highest, lowest and last price of each week.",
		comb,
		"plot open, high, low, close against week\nas price bars",
	},
	{
		"Stems",
		"A dot on a stalk from zero.",
		hives,
		"plot median(mites_per_100) against district\nas stems\ncolour by keeper_school\ninterval 95%",
	},
	{"Counts", "Two columns of groups: how many rows each pair has.", hives, "plot keeper_school against district\nas counts"},
	{"Boxes", "Quartiles, and what lies beyond them.", hives, "plot honey_kg against district\nas boxes\ncolour by keeper_school"},
	{"Strips", "Every row beside those of its group.", hives, "plot honey_kg against district\nas strips\ncolour by keeper_school"},
	{"Ridges", "A smooth line for each group, one behind the other.", hives, "plot district against honey_kg\nas ridges"},
	{"Histogram", "How the values of one column are spread.", hives, "plot spread of honey_kg\nas histogram"},
	{"Curve", "The same as a smooth line, by groups.", hives, "plot spread of honey_kg\nas curve\ncolour by district"},
}
