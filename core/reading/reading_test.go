package reading

import (
	"context"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/confound"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

func read(t *testing.T, data *table.Table, typed string) *Reading {
	t.Helper()
	document, mistakes := sentence.Parse(typed, data)
	if mistakes != nil {
		t.Fatal(mistakes[0])
	}
	f, problems, err := figure.Build(context.Background(), mark.Bind(document, data), figure.Options{Metrics: text.Hanken()})
	if err != nil || problems != nil {
		t.Fatalf("%v %v", problems, err)
	}
	return Of(f)
}

// made is y = slope·x (or a power of it) with little noise, in two groups that lie
// apart by shift.
func made(slope, shift, noise float64, power bool) *table.Table {
	source := rand.New(rand.NewPCG(1, 1))
	n := 200
	x, y, g := make([]float64, n), make([]float64, n), make([]string, n)
	for i := range x {
		group := i % 2
		g[i] = []string{"north", "south"}[group]
		u := 10 + 10*source.Float64() + 10*float64(group)
		x[i], y[i] = u, slope*u+shift*float64(group)+noise*source.NormFloat64()
		if power {
			x[i], y[i] = u, 3*u*u*(1+0.001*source.NormFloat64())
		}
	}
	xs, ys := table.NewNumbers("forage_ha", x), table.NewNumbers("honey_kg", y)
	xs.Unit, ys.Unit, ys.Label = "ha", "kg per hive", "Honey yield"
	t, err := table.New(xs, ys, table.NewCategory("side", g))
	if err != nil {
		panic(err)
	}
	return t
}

func TestWhatIsSaid(t *testing.T) {
	for _, test := range []struct {
		name, typed string
		data        *table.Table
		want        []string
	}{
		{"a plain rise", "plot honey_kg against forage_ha", made(2, 0, 0.1, false),
			[]string{"Overall, honey yield rises by 2 kg for every 1 ha more of forage ha.", "over 200 rows"}},
		{"a fall on a log axis", "plot honey_kg against forage_ha\nlog x", made(-2, 0, 0.1, false),
			[]string{"honey yield falls by", "for every tenfold gain in forage ha"}},
		{"a power law", "plot honey_kg against forage_ha\nlog x\nlog y", made(0, 0, 0, true), []string{"rises by 2 % for 1 % more forage ha"}},
		{"groups that turn it round", "plot honey_kg against forage_ha\ncolour by side", made(2, -60, 0.5, false),
			[]string{"falls by", "Inside both sides it rises, by", "The groups with most forage ha start lowest.", "Side reverses the trend."}},
		{"groups that agree", "plot honey_kg against forage_ha\ncolour by side", made(2, 5, 0.5, false), []string{"Inside both sides it rises"}},
		{"nothing", "plot honey_kg against forage_ha", made(0, 0, 1, false), []string{"shows no clear rise or fall with forage ha",
			"95 % interval"}},
		{"limits", "plot honey_kg against forage_ha\nx from 15 to 20", made(2, 0, 0.1, false),
			[]string{"drawn rows lie outside the limits. Fits and figures still use them."}},
		{"a log y", "plot honey_kg against forage_ha\nlog y\nfit line", made(2, 0, 0.1, false),
			[]string{"a fitted line is a geometric level, not a mean"}},
		{"groups along an axis", "plot honey_kg against side", made(2, 0, 0.1, false),
			[]string{"The mean of honey yield is highest in south (", " kg) and lowest in north (", "The groups of side account for 7",
				"% of the spread of honey yield, corrected for how many groups there are, over 200 rows."}},
		{"several columns", "plot honey_kg, forage_ha against forage_ha", made(2, 0, 0.1, false),
			[]string{"Honey yield, taken as a straight line, rises by 2 kg for every 1 ha more of forage ha, over 200 rows. Forage ha, taken as a straight line, rises by 1 ha for"}},
		{"numbers against nothing but groups", "plot side against honey_kg", made(2, 0, 0.1, false),
			[]string{"No line can be read: groups have no slope."}},
	} {
		said := read(t, test.data, test.typed).Text()
		for _, want := range test.want {
			if !strings.Contains(said, want) {
				t.Errorf("%s: %q is not said in\n%s", test.name, want, said)
			}
		}
	}
}

// TestAWarningIsGivenOnlyWhereItIsDue: a sign that does not turn is no warning.
func TestAWarningIsGivenOnlyWhereItIsDue(t *testing.T) {
	warned := func(data *table.Table) bool {
		for _, p := range read(t, data, "plot honey_kg against forage_ha\ncolour by side").Paragraphs {
			if p.Kind == "warning" {
				return true
			}
		}
		return false
	}
	if !warned(made(2, -60, 0.5, false)) || warned(made(2, 5, 0.5, false)) {
		t.Error("the warning stands in the wrong place")
	}
}

func TestTheTableOfFits(t *testing.T) {
	r := read(t, made(2, -60, 0.5, false), "plot honey_kg against forage_ha\nfit line for each side and overall\nfit spline")
	if r.SlopeUnit != "kg per 1 ha" || len(r.Fits) != 4 || r.Fits[0].Name != "north" || r.Fits[0].N != "100" ||
		!strings.HasPrefix(r.Fits[0].Slope, "+2.0") || r.Fits[2].Group != -1 || r.Fits[2].Name != "line" ||
		!strings.HasPrefix(r.Fits[3].Name, "spline, ") || r.Fits[3].Slope != "R² 0.99" || r.Fits[3].Interval != "no one slope" {
		t.Errorf("%q %+v", r.SlopeUnit, r.Fits)
	}
	decimals := func(text string) int { return len(text) - strings.Index(text, ".") }
	for _, fit := range r.Fits[:3] {
		if decimals(fit.Slope) != decimals(r.Fits[0].Slope) {
			t.Errorf("slopes %s and %s have different decimals", fit.Slope, r.Fits[0].Slope)
		}
	}
	few, _ := table.New(table.NewNumbers("x", []float64{1, 2, 3, 4, 9}), table.NewNumbers("y", []float64{1, 3, 2, 5, 1}),
		table.NewCategory("g", []string{"a", "a", "a", "a", "b"}))
	r = read(t, few, "plot y against x\nfit line for each g")
	if len(r.Fits) != 2 || r.Fits[1].Problem == "" {
		t.Errorf("the group of one: %+v", r.Fits)
	}
}

func TestVerbsAgreeWithNames(t *testing.T) {
	for name, want := range map[string]bool{
		"departures": true, "brood frames": true, "mites per 100 bees": true, "sales (thousands)": true, "degree days": true, "species": true,
		"honey yield": false, "mite count": false, "length of stays": false, "glass": false, "status": false, "analysis": false, "gas": false,
		"physics": false, "GPS": false, "yes": false, "": false, "per": false,
	} {
		if got := isPlural(name); got != want {
			t.Errorf("%q is several: %v", name, got)
		}
	}
}

// TestWhatIsSaidOfLikeness holds the words above what was tried.
func TestWhatIsSaidOfLikeness(t *testing.T) {
	hive := &table.Column{Name: "hive"}
	for want, a := range map[string]*confound.Alike{
		"Rows with the same hive are alike (0.41), which makes the interval of the slope 1.9 times as wide: intervals and verdicts here count that.":     {Clusters: 12, Column: hive, Share: 0.41, Ratio: 1.9},
		"Rows that follow each other in hive are alike (0.80): intervals and verdicts here count that.":                                                  {Column: hive, Share: 0.8, Ratio: 1.05},
		"Rows that follow each other are alike (0.80), which makes the interval of the slope 2.1 times as wide: intervals and verdicts here count that.": {Share: 0.8, Ratio: 2.13},
	} {
		if got := AlikeNote(a); got != want {
			t.Errorf("said: %q, wanted %q", got, want)
		}
	}
}
