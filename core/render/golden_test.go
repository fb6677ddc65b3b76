package render

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"copperlark/core/draw/pen/svg"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
	"copperlark/internal/test/golden"
)

const day = 86400.0

// apiary is a table of every kind of column, from a seed, with gaps.
func apiary(rows int) *table.Table {
	source := rand.New(rand.NewPCG(4, uint64(rows)))
	kg, ha, frames, date, years, two := make([]float64, rows), make([]float64, rows), make([]float64, rows), make([]float64, rows),
		make([]float64, rows), make([]float64, rows)
	district, school, fed := make([]string, rows), make([]string, rows), make([]int32, rows)
	districts, schools := []string{"Ashcombe", "Brindle", "Low Fen", "Scarhead", "Tarn"}, []string{"Fen school", "Hill school", "self-taught"}
	for i := range rows {
		g := source.IntN(5)
		district[i], school[i], fed[i] = districts[g], schools[source.IntN(3)], int32(source.IntN(2))
		u := 0.5 + 0.6*float64(g) + 0.4*source.NormFloat64()
		ha[i], kg[i] = math.Pow(10, u), max(38-5*float64(g)+4*(u-0.6*float64(g))+2*source.NormFloat64(), 1)
		frames[i], years[i] = float64(6+source.IntN(16)), float64(2027+source.IntN(5))
		date[i], two[i] = 58*365.25*day+float64(i)*day*365/float64(rows), kg[i]*0.6+3*source.NormFloat64()
		if i%37 == 5 {
			kg[i] = math.NaN()
		}
	}
	n := table.NewNumbers
	honey, forage := n("honey_kg", kg), n("forage_ha", ha)
	honey.Label, honey.Unit, forage.Label, forage.Unit = "Honey yield", "kg per hive", "Forage area within 2 km", "ha"
	return tableOf(honey, forage, n("frames", frames), n("season", years), n("spring_kg", two), table.NewCategory("district", district),
		table.NewCategory("keeper_school", school),
		&table.Column{Name: "fed", Kind: table.YesNo, Codes: fed, Levels: []string{"no", "yes"}},
		&table.Column{Name: "date", Kind: table.Date, Grain: table.Day, Numbers: date})
}

// prices is what something cost from week to week, one row of it without its close.
func prices(rows int) *table.Table {
	source := rand.New(rand.NewPCG(6, 6))
	of, last := [5][]float64{}, 12.0
	for i := range rows {
		open, end := last, last+0.4*source.NormFloat64()
		last = end
		for j, v := range []float64{58*365.25*day + 7*day*float64(i), open, max(open, end) + 0.3*source.Float64(),
			min(open, end) - 0.3*source.Float64(), end} {
			of[j] = append(of[j], v)
		}
	}
	of[4][7] = math.NaN()
	columns := []*table.Column{{Name: "week", Kind: table.Date, Grain: table.Day, Numbers: of[0]}}
	for j, name := range []string{"open", "high", "low", "close"} {
		columns = append(columns, &table.Column{Name: name, Unit: "£", Kind: table.Number, Numbers: of[j+1]})
	}
	return tableOf(columns...)
}

func tableOf(columns ...*table.Column) *table.Table {
	t, err := table.New(columns...)
	if err != nil {
		panic(err)
	}
	return t
}

// strange are names and values that drawings break on.
func strange(names ...string) *table.Table {
	source := rand.New(rand.NewPCG(7, 7))
	n := 40 * len(names)
	x, y, g, h := make([]float64, n), make([]float64, n), make([]string, n), make([]string, n)
	for i := range x {
		x[i], y[i] = 100*source.Float64(), float64(i%len(names))+source.NormFloat64()
		g[i], h[i] = names[i%len(names)], names[source.IntN(len(names))]
	}
	return tableOf(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("group", g), table.NewCategory("other", h))
}

var (
	long = []string{"Association of the keepers of the upper valley, eastern bank",
		"Thornwick apiaries co-operative society for honey and wax", "Hives that nobody has registered with the valley office yet"}
	foreign = []string{"כוורת הצפון", "蜂蜜の収穫量", "养蜂人协会", "خلية النحل", "Пчеловоды", "Größe"}
)

func many(n int) (names []string) {
	for i := range n {
		names = append(names, fmt.Sprintf("stand %d", i+1))
	}
	return names
}

func numbers(name string, values ...float64) *table.Column { return table.NewNumbers(name, values) }

// goldens are drawings that are looked at: every mark, scale and layout, small and wide.
var goldens = []struct {
	name, typed   string
	data          *table.Table
	width, height float64
	look          string
}{
	{name: "dots", typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nsize by frames\nshape by keeper_school"},
	{name: "dots-fits",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall with band 95%"},
	{name: "dots-gradient", typed: "plot honey_kg against forage_ha\ncolour by spring_kg\nlog x\nlog y"},
	{name: "dots-date-colours", typed: "plot honey_kg against forage_ha\ncolour by date\nlog x"},
	{name: "dots-dark", typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit spline", look: "dark"},
	{name: "dots-ink", typed: "plot honey_kg against forage_ha\nlog x\nshape by keeper_school\nfit line", look: "ink"},
	{name: "dots-small", typed: "plot honey_kg against forage_ha\nlog x\ncolour by district", width: 320, height: 240},
	{name: "dots-wide", typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district", width: 2400,
		height: 600},
	{name: "dots-high", typed: "plot honey_kg against forage_ha\nlog x\ncolour by district", width: 420, height: 900},
	{name: "several-fits",
		typed: "plot honey_kg against forage_ha\nlog x\nfit line\nfit curve degree 2\nfit local\nfit spline\nfit robust line"},
	{name: "fits-other-groups", typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each keeper_school"},
	{name: "turned-round", typed: "plot honey_kg against forage_ha\nx from 500 to 1\ny from 45 to 0"},
	{name: "limits", typed: "plot honey_kg against forage_ha\nx from 100 to 300\nfit line with prediction band 90%"},
	{name: "title-note",
		typed: "plot honey_kg against forage_ha\nlog x\ntitle 'More forage, more honey: what five districts of the valley say when they are asked together'\nnote 'Hives weighed at the autumn check; two seasons of Tarn are missing.'"},
	{name: "references",
		typed: "plot honey_kg against forage_ha\nlog x\nline at mean(y)\nline at x = 20 named 'a good meadow'\nband y from 20 to 25 named 'target'"},
	{name: "centres", typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\ncentres of district"},
	{name: "edges",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall\nedges histogram and curve\ntitle 'How they are spread'"},
	{name: "edges-boxes", typed: "plot honey_kg against date\nas dots\nedges boxes"},
	{name: "two-ways", typed: "plot honey_kg against forage_ha\nlog x\ncolour by spring_kg from 4 to 12 about 9"},
	{name: "colour-log", typed: "plot honey_kg against spring_kg\ncolour by forage_ha log scale darker for less using Heather"},
	{name: "ruled-key-right",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nsize by spring_kg from 2 to 9\nlook ruled\nkey right\nnote 'Weighed in autumn'"},
	{name: "ink-key-top",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district\nlook ink\ngrid halves\nkey top\npaper 700 by 500\ntitle 'For the printer'"},
	{name: "sketch",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall with band 95%\nline at mean(y)\nlook sketch\ntitle 'For a talk'"},
	{name: "sketch-bars", typed: "plot mean(honey_kg) against district\ncolour by keeper_school\ninterval 95%\nlook sketch"},
	{name: "front-outline-key-inside",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nin front 'Tarn'\noutline '#16302e' width 1.5\nkey in order 'Tarn', 'Brindle'\nkey inside"},
	{name: "paired", typed: "plot honey_kg against forage_ha\nlog x\ncolour by keeper_school paired with fed\npalette '#b4531a'\nlook ruled"},
	{name: "paired-dark", typed: "plot count() against district\nas stacked bars\ncolour by keeper_school paired with fed\noutline '#ffffff'",
		look: "dark"},
	{name: "letters", typed: "plot honey_kg against forage_ha\nlog x\ncolour by keeper_school\none shape 'A'\npaper 160 by 100 mm"},
	{name: "function", typed: "plot y = 1 / x for x from -3 to 3 at 13 values\nas line and dots\nline y = x ^ 2"},
	{name: "also",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nalso plot spring_kg against forage_ha as dots named 'in spring'\nalso plot frames against forage_ha as steps"},
	{name: "strokes-titles",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district width 1 dotted\nfit line overall with band 95% in '#b4531a' width 4 solid\nline at mean(y) named 'mean' in '#52054b' dashed\ny untitled\nweight bold\ntitle 'More forage' centred\nsubtitle 'Honey in kg per hive'"},
	{name: "light-words",
		typed: "plot honey_kg against forage_ha\nlog x\nfit line overall\nline at x = 20 named 'a good meadow' width 3\nweight light\ntitle 'Light'\nsubtitle 'Two lines where there is so much to say of hives and of meadows that one is not enough for all of it, whoever reads it and wherever it stands'"},
	{name: "key-line-ends", typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district\nkey line ends"},
	{name: "jitter", typed: "plot honey_kg against district\nas dots\njitter x\ncolour by keeper_school"},
	{name: "text-large",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\nlabel top 5 by honey_kg with keeper_school\nedges histogram\ntext large\ntitle 'For a slide'\nnote 'Weighed in autumn'"},
	{name: "patterns", typed: "plot mean(honey_kg) against season as number\nas line\ncolour by district with patterns\nkey right"},
	{name: "taken-out", typed: "plot honey_kg against forage_ha\nlog x\ntake out district\ncolour by district\nfit line with band 95%"},
	{name: "line", typed: "plot honey_kg against date"},
	{name: "line-groups", typed: "plot mean(honey_kg) against season\nas line\ncolour by keeper_school"},
	{name: "line-dots", typed: "plot median(honey_kg) against season\nas line and dots"},
	{name: "line-columns", typed: "plot honey_kg, spring_kg, frames against date\nas line"},
	{name: "dots-columns", typed: "plot honey_kg, spring_kg against forage_ha\nlog x\nfit line"},
	{name: "bars", typed: "plot mean(honey_kg) against district\norder district by mean(honey_kg) descending"},
	{name: "bars-count", typed: "plot count() against keeper_school"},
	{name: "bars-beside", typed: "plot sum(honey_kg) against district\ncolour by keeper_school"},
	{name: "bars-turned", typed: "plot district against mean(honey_kg)"},
	{name: "bars-turned-beside", typed: "plot district against count()\ncolour by fed"},
	{name: "bars-years", typed: "plot count() against season\nas bars"},
	{name: "bars-years-groups", typed: "plot mean(honey_kg) against season as groups"},
	{name: "boxes", typed: "plot honey_kg against district"},
	{name: "boxes-groups", typed: "plot honey_kg against keeper_school\ncolour by fed"},
	{name: "boxes-turned", typed: "plot district against forage_ha\nlog x\nas boxes"},
	{name: "histogram", typed: "plot spread of honey_kg"},
	{name: "histogram-groups", typed: "plot spread of forage_ha\nlog x\ncolour by district"},
	{name: "histogram-dates", typed: "plot spread of date"},
	{name: "counts", typed: "plot keeper_school against district"},
	{name: "counts-years", typed: "plot fed against season as groups"},
	{name: "panels",
		typed: "plot honey_kg against forage_ha\nlog x\ncolour by district\npanels by season\nfit line for each district and overall",
		width: 900, height: 640},
	{name: "panels-grid", typed: "plot honey_kg against forage_ha\nlog x\npanels keeper_school by fed", width: 900, height: 700},
	{name: "panels-own", typed: "plot honey_kg against forage_ha\npanels by district each with own x and y in 2 columns", width: 900,
		height: 800},
	{name: "panels-bars", typed: "plot mean(honey_kg) against keeper_school\npanels by district", width: 1000, height: 600},
	{name: "panels-small", typed: "plot honey_kg against forage_ha\nlog x\npanels by season", width: 420, height: 420},
	{name: "near-linear", typed: "plot y against x\nnear-linear at zero x\nnear-linear at zero y",
		data: tableOf(numbers("x", -5e6, -20, 0, 0.3, 4, 900, 1e5), numbers("y", 0, 1, -1, 10, -100, 1e4, 3e6))},
	{name: "log-base-2", typed: "plot honey_kg against forage_ha\nlog x base 2"},
	{name: "ticks-said", typed: "plot honey_kg against forage_ha\nx as 120k\nticks y every 7.5"},
	{name: "condition",
		typed: "of rows where district <> 'Tarn' and forage_ha > 3\nplot honey_kg against forage_ha\nlog x\ncolour by district"},
	{name: "long-names", typed: "plot y against group", data: strange(long...)},
	{name: "long-names-turned", typed: "plot group against y\nas boxes", data: strange(long...)},
	{name: "long-names-lines", typed: "plot y against x\ncolour by group\nfit line for each group", data: strange(long...)},
	{name: "long-names-counts", typed: "plot group against other", data: strange(long...), width: 900, height: 620},
	{name: "long-names-small", typed: "plot y against group", data: strange(long...), width: 400, height: 400},
	{name: "foreign-names", typed: "plot y against group", data: strange(foreign...)},
	{name: "foreign-names-fits", typed: "plot y against x\ncolour by group\nfit line for each group", data: strange(foreign...)},
	{name: "foreign-names-counts", typed: "plot group against other", data: strange(foreign...)},
	{name: "forty-groups", typed: "plot y against group", data: strange(many(40)...), width: 900, height: 560},
	{name: "sixty-groups-small", typed: "plot count() against group", data: strange(many(60)...), width: 480, height: 360},
	{name: "two-groups", typed: "plot mean(y) against group", data: tableOf(numbers("y", 1, 2),
		table.NewCategory("group", []string{"a", "b"}))},
	{name: "one-row", typed: "plot y against x\nfit line", data: tableOf(numbers("x", 5), numbers("y", 7))},
	{name: "one-value", typed: "plot y against x", data: tableOf(numbers("x", 5, 5, 5), numbers("y", 7, 7, 7))},
	{name: "negative-bars", typed: "plot sum(y) against group", data: tableOf(numbers("y", 4, -3, -8, 2),
		table.NewCategory("group", []string{"a", "b", "c", "d"}))},
	{name: "tiny-numbers", typed: "plot y against x\nlog x", data: tableOf(numbers("x", 1e-9, 1e-3, 1e12), numbers("y", 1e-9, 2e-9, 5e-9))},
	{name: "largest-numbers", typed: "plot y against x", data: tableOf(numbers("x", -1.7e308, 0, 1.7e308), numbers("y", 1e300, 2e300, 5e300))},
	{name: "dates-both", typed: "plot date against date\nas dots"},
	{name: "two-days", typed: "plot y against d\nas line", data: tableOf(numbers("y", 1, 3, 2, 5),
		&table.Column{Name: "d", Kind: table.Date, Grain: table.Second, Numbers: []float64{2e9, 2e9 + 40000, 2e9 + 90000, 2e9 + 170000}})},
}

func drawn(t *testing.T, format, typed string, data *table.Table, o Options) []byte {
	t.Helper()
	document, mistakes := sentence.Parse(typed, data)
	if mistakes != nil {
		t.Fatalf("%s: %v", typed, mistakes[0])
	}
	var out bytes.Buffer
	o.Metrics, o.Clock = text.Hanken(), time.Unix(0, 0).UTC()
	problems, err := Chart(context.Background(), mark.Bind(document, data), FormatNamed(format), o, &out)
	if err != nil || problems != nil {
		t.Fatalf("%s: %v %v", typed, problems, err)
	}
	return out.Bytes()
}

// TestDrawingsAreAsTheyWereLookedAt holds every drawing to the one that was looked at.
func TestDrawingsAreAsTheyWereLookedAt(t *testing.T) {
	whole := apiary(400)
	cases := slices.Clone(goldens)
	for _, m := range mark.List { // each draws its own example
		one := goldens[0]
		one.name, one.typed = "mark-"+strings.ReplaceAll(m.Name, " ", "-"), m.Example
		if strings.Contains(m.Example, "week") {
			one.data = prices(40)
		}
		cases = append(cases, one)
	}
	for _, g := range cases {
		if g.data == nil {
			g.data = whole
		}
		if g.width == 0 {
			g.width, g.height = 720, 460
		}
		written := drawn(t, "svg", g.typed, g.data, Options{Width: g.width, Height: g.height, Look: g.look, Fonts: svg.Named})
		golden.Compare(t, "testdata/"+g.name+".svg", written)
		for _, broken := range []string{"NaN", "Inf", "%!"} {
			if strings.Contains(string(written), broken) {
				t.Errorf("%s holds %s", g.name, broken)
			}
		}
	}
}
