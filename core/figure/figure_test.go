package figure

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
	"copperlark/internal/test/golden"
)

var nan = math.NaN()

func small(t *testing.T) *table.Table {
	t.Helper()
	data, err := table.New(
		table.NewNumbers("x", []float64{1, 10, 100, 1000, 0, nan, 50, 500}),
		table.NewNumbers("y", []float64{1, 2, 3, 4, 5, 6, nan, 3.5}),
		table.NewNumbers("s", []float64{4, 16, 8, 2, 1, 1, 1, 12}),
		table.NewCategory("g", []string{"a", "a", "b", "b", "a", "b", "b", "a"}),
		&table.Column{Name: "name", Kind: table.Text, Codes: []int32{0, 1, 2, 3, 4, 5, 6, 7},
			Levels: []string{"P1", "P2", "P3", "P4", "P5", "P6", "P7", "P8"}},
	)
	if err != nil {
		t.Fatal(err)
	}
	return data
}

func draw(t *testing.T, data *table.Table, typed string) (*Figure, []chart.Problem) {
	t.Helper()
	document, mistakes := sentence.Parse(typed, data)
	if mistakes != nil {
		t.Fatalf("%q: %v", typed, mistakes[0])
	}
	f, problems, err := Build(context.Background(), mark.Bind(document, data), Options{Metrics: text.Hanken()})
	if err != nil {
		t.Fatal(err)
	}
	return f, problems
}

// dotsOf is the layer of dots of a figure.
func dotsOf(f *Figure) *primitive.Layer { return f.Points()[0] }

// layersOf lists the layers of a mark that are of one primitive.
func layersOf(f *Figure, mark string, kind primitive.Kind) (list []primitive.Layer) {
	for _, l := range f.Layers {
		if l.Mark == mark && l.Kind == kind {
			list = append(list, l)
		}
	}
	return list
}

func TestEveryRowIsDrawnOrCounted(t *testing.T) {
	f, _ := draw(t, small(t), "plot y against x\nlog x")
	want := []Reason{{Reason: "missing y", Count: 1}, {Reason: "missing x", Count: 1},
		{Reason: "x at or below zero, which a log scale has no place for", Count: 1}}
	if f.Rows.Total != 8 || f.Rows.Drawn != 5 || dotsOf(f).Count != 5 || len(f.Rows.LeftOut) != 3 {
		t.Fatalf("rows: %+v", f.Rows)
	}
	for i, reason := range want {
		if f.Rows.LeftOut[i] != reason {
			t.Errorf("reason %d is %+v, want %+v", i, f.Rows.LeftOut[i], reason)
		}
	}
}

// TestLimitsChangeTheViewAlone holds that a fit does not know of limits.
func TestLimitsChangeTheViewAlone(t *testing.T) {
	free, _ := draw(t, small(t), "plot y against x\nfit line with band 95%")
	limited, _ := draw(t, small(t), "plot y against x\nfit line with band 95%\nx from 0 to 20\ny from 3 to 0")
	a, b := free.Fits[0].Model, limited.Fits[0].Model
	if a.Slope != b.Slope || a.N != b.N || limited.Rows.Drawn != free.Rows.Drawn {
		t.Errorf("limits moved the fit from %v over %d rows to %v over %d", a.Slope, a.N, b.Slope, b.N)
	}
	if limited.Rows.Outside != 4 {
		t.Errorf("%d rows lie outside, want 4", limited.Rows.Outside)
	}
	if limited.Y().From != 3 || limited.Y().To != 0 {
		t.Error("an axis turned round is not kept so")
	}
	turned, _ := draw(t, small(t), "plot y against x\nfit line with band 95%\nx reversed\ny from 3 to 0\ny reversed")
	if x := free.X(); turned.X().From != x.To || turned.X().To != x.From || turned.Y().From != 0 || turned.Fits[0].Model.Slope != a.Slope {
		t.Error("an axis that is said to be reversed goes the usual way, or its fit goes another one")
	}
}

// TestFitsSpanTheirRowsAlone holds it of each group, and that positions and values agree.
func TestFitsSpanTheirRowsAlone(t *testing.T) {
	f, _ := draw(t, small(t), "plot y against x\nlog x\ncolour by g\nfit line for each g and overall with band 95%")
	if len(f.Fits) != 3 {
		t.Fatalf("%d fits", len(f.Fits))
	}
	lines, bands := layersOf(f, "fit", primitive.Paths), layersOf(f, "fit", primitive.Areas)
	overall, band := lines[len(lines)-1], bands[len(bands)-1]
	first, last := overall.X.At(0), overall.X.At(overall.X.Len()-1)
	if math.Abs(first-f.X().Position(1)) > 1e-6 || math.Abs(last-f.X().Position(1000)) > 1e-6 {
		t.Errorf("the line runs from %v to %v", first, last)
	}
	for i := range overall.Y.Len() {
		if !(band.Y.At(i) <= overall.Y.At(i) && overall.Y.At(i) <= band.Y2.At(i)) {
			t.Fatal("the band does not hold the line")
		}
	}
	if overall.Style.Dash == nil || f.Fits[2].Name != "all gs" || overall.Keys.Colour != 0 || lines[0].Keys.Colour != 1 ||
		lines[0].Colour.At(0) != 0 {
		t.Errorf("the overall fit is %+v", overall)
	}
}

func TestAGroupWithoutAFitSaysWhy(t *testing.T) {
	data, _ := table.New(table.NewNumbers("x", []float64{1, 2, 3, 5, 5}), table.NewNumbers("y", []float64{1, 2, 4, 4, 5}),
		table.NewCategory("g", []string{"a", "a", "a", "b", "b"}))
	f, _ := draw(t, data, "plot y against x\nfit line for each g")
	if f.Fits[0].Problem != "" || f.Fits[1].Problem != "x has no spread" {
		t.Errorf("problems: %q, %q", f.Fits[0].Problem, f.Fits[1].Problem)
	}
}

func TestAreasAreValues(t *testing.T) {
	f, _ := draw(t, small(t), "plot y against x\nsize by s")
	radius := func(i int) float64 { return dotsOf(f).Radius.At(i) * dotsOf(f).Style.Largest / 255 }
	if got := math.Pow(radius(1)/radius(0), 2); math.Abs(got-4) > 0.1 {
		t.Errorf("16 has %.2f times the area of 4", got)
	}
	negative, _ := table.New(table.NewNumbers("x", []float64{1, 2}), table.NewNumbers("y", []float64{1, 2}),
		table.NewNumbers("s", []float64{-1, 2}))
	if _, problems := draw(t, negative, "plot y against x\nsize by s"); len(problems) != 1 || problems[0].Clause != "size" {
		t.Errorf("a negative size gives %v", problems)
	}
}

func TestMarksStandClearOfTheEdge(t *testing.T) {
	f, _ := draw(t, small(t), "plot y against x\nlog x\nsize by s")
	d, box := dotsOf(f), f.Panels[0].Box
	for i := range d.Count {
		r := d.Radius.At(i) * d.Style.Largest / 255
		x, y := d.X.At(i)*box.Width, d.Y.At(i)*box.Height
		if x < r || y < r || x > box.Width-r || y > box.Height-r {
			t.Errorf("mark %d of radius %.1f stands at %.1f, %.1f", i, r, x, y)
		}
	}
}

// What cannot be honoured is in core/chart; here, that nothing is drawn then.
func TestRefusalsGiveReasons(t *testing.T) {
	many := make([]string, 24)
	for i := range many {
		many[i] = string(rune('a' + i/2))
	}
	numbers := make([]float64, 24)
	data, _ := table.New(table.NewNumbers("x", numbers), table.NewNumbers("y", numbers), table.NewCategory("g", many))
	for typed, want := range map[string]string{
		"plot y against x\nshape by g": "shape tells at most 8 groups apart",
		"plot y against x\nlog x":      "none of the 24 rows can be drawn",
	} {
		f, problems := draw(t, data, typed)
		if f != nil || len(problems) == 0 || !strings.Contains(problems[0].Message, want) || problems[0].Advice == "" {
			t.Errorf("%q: %+v", typed, problems)
		}
	}
}

// TestEncodeKeepsTheContract pins the encoded form for the decoder in
// TypeScript, and reads it back by hand.
func TestEncodeKeepsTheContract(t *testing.T) {
	f, _ := draw(t, small(t), "plot y against x\nlog x\ncolour by g\nsize by s\nfit line for each g and overall with band 95%")
	var out bytes.Buffer
	if err := f.Encode(&out, map[string]any{"typed": "…"}); err != nil {
		t.Fatal(err)
	}
	golden.Compare(t, "../../contract/figure.bin", out.Bytes())
	listed, err := json.MarshalIndent(f, "", " ")
	if err != nil {
		t.Fatal(err)
	}
	golden.Compare(t, "../../contract/figure.json", append(listed, '\n'))

	raw := out.Bytes()
	length := int(binary.LittleEndian.Uint32(raw[8:]))
	var head struct{ Buffers []Buffer }
	if string(raw[:8]) != Magic || json.Unmarshal(raw[12:12+length], &head) != nil {
		t.Fatal("the head cannot be read")
	}
	start := (12 + length + 7) &^ 7
	first := math.Float32frombits(binary.LittleEndian.Uint32(raw[start+head.Buffers[0].Offset:]))
	if first != float32(f.Layers[0].X.At(0)) {
		t.Errorf("the first vertex stands at %v in the buffer, %v in the figure", first, f.Layers[0].X.At(0))
	}
}

// TestManyDots takes the ways that only large figures take: positions in 16 bits
// and left-out rows as a mask.
func TestManyDots(t *testing.T) {
	const n = 30_000
	x, y := make([]float64, n), make([]float64, n)
	for i := range x {
		x[i], y[i] = float64(i), math.Sin(float64(i)/1000)
		if i%7 == 3 {
			y[i] = nan
		}
	}
	data, _ := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y))
	f, _ := draw(t, data, "plot y against x")
	d := dotsOf(f)
	if d.X.Type() != "u16" || d.Row.Len() != 0 || d.LeftOut.Len() != n/8 {
		t.Fatalf("positions are %s, %d rows, %d bytes of mask", d.X.Type(), d.Row.Len(), d.LeftOut.Len())
	}
	dot := 0
	for i := range n {
		if left := uint8(d.LeftOut.At(i/8))>>(i%8)&1 == 1; left != (i%7 == 3) {
			t.Fatalf("row %d: left out is %v", i, left)
		} else if !left {
			if got := d.X.At(dot); math.Abs(got-f.X().Position(x[i])) > 1.0/65535 {
				t.Fatalf("row %d stands at %v, want %v", i, got, f.X().Position(x[i]))
			}
			dot++
		}
	}
}

// TestColoursByKind holds how each kind of column colours.
func TestColoursByKind(t *testing.T) {
	n := 40
	few, many, yes, x := make([]float64, n), make([]float64, n), make([]int32, n), make([]float64, n)
	for i := range n {
		few[i], many[i], yes[i], x[i] = float64(i%3), float64(i)*1.5, int32(i%2), float64(i)
	}
	data, _ := table.New(table.NewNumbers("x", x), table.NewNumbers("few", few), table.NewNumbers("many", many),
		&table.Column{Name: "yes", Kind: table.YesNo, Codes: yes, Levels: []string{"no", "yes"}})
	f, _ := draw(t, data, "plot many against x\ncolour by few")
	if k := f.Key("colour"); k.Gradient != nil || len(k.Entries) != 3 || k.Entries[1].Count != 13 {
		t.Errorf("few whole numbers: %+v", k)
	}
	if f, _ = draw(t, data, "plot many against x\ncolour by yes"); len(f.Key("colour").Entries) != 2 ||
		f.Key("colour").Entries[1].Name != "yes" {
		t.Errorf("yes / no: %+v", f.Key("colour"))
	}
	f, _ = draw(t, data, "plot x against x\ncolour by many")
	if g := f.Key("colour").Gradient; g == nil || g.Low != 0 || g.High != 58.5 || len(g.Light) != 255 || dotsOf(f).Colour.At(0) != 0 ||
		dotsOf(f).Colour.At(n-1) != 254 {
		t.Errorf("numbers: %+v", f.Key("colour"))
	}
}

func TestAxesAreNamedWithTheirUnits(t *testing.T) {
	x, y := table.NewNumbers("forage_ha", []float64{1, 10}), table.NewNumbers("honeyYield", []float64{1, 2})
	x.Unit = "ha"
	data, _ := table.New(x, y, table.NewCategory("g", []string{"a", "b"}))
	for typed, want := range map[string][2]string{
		"plot honeyYield against forage_ha":                             {"Forage ha (ha)", "Honey yield"},
		"plot honeyYield against forage_ha\nlog x\nlog y":               {"Forage ha (ha, log scale)", "Honey yield (log scale)"},
		"plot honeyYield against forage_ha\nx titled 'Land' in 'acres'": {"Land (acres)", "Honey yield"},
		"plot honeyYield against g":                                     {"g", "Honey yield"},
	} {
		f, problems := draw(t, data, typed)
		if problems != nil || f.X().Title != want[0] || f.Y().Title != want[1] {
			t.Errorf("%q: %v", typed, problems)
		} else if f.X().Kind == "groups" && len(f.X().Ticks) != 2 {
			t.Errorf("%q: %d ticks", typed, len(f.X().Ticks))
		}
	}
}

// TestEveryWayOfFittingIsDrawn holds that each clause gives a line, a band where one
// was asked for, and its facts.
func TestEveryWayOfFittingIsDrawn(t *testing.T) {
	n := 60
	x, y := make([]float64, n), make([]float64, n)
	for i := range x {
		x[i], y[i] = float64(i), 5+0.3*float64(i)+math.Sin(float64(i))
	}
	y[n-1] = 90
	data, _ := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y))
	for clause, facts := range map[string]string{
		"fit line with prediction band 90%": "equation,R squared,rows,where its rows are",
		"fit curve degree 3 with band 99%":  "R squared,rows,where its rows are",
		"fit local span 0.5 with band 95%":  "R squared,rows,method,effective coefficients,where its rows are",
		"fit spline with band 80%":          "R squared,rows,method,effective coefficients,where its rows are",
		"fit robust line":                   "equation,rows,method,where its rows are",
		"fit line leaving out outliers":     "equation,R squared,rows,where its rows are,outliers left out,slope with them",
	} {
		f, problems := draw(t, data, "plot y against x\n"+clause)
		if problems != nil || len(f.Fits) != 1 || f.Fits[0].Problem != "" {
			t.Errorf("%s: %v", clause, problems)
			continue
		}
		var names []string
		for _, fact := range f.Fits[0].Facts {
			names = append(names, fact.Name)
		}
		if got := strings.Join(names, ","); got != facts {
			t.Errorf("%s: facts %s", clause, got)
		}
		if hasBand := len(layersOf(f, "fit", primitive.Areas)) > 0; hasBand != strings.Contains(clause, "band") {
			t.Errorf("%s: a band is drawn: %v", clause, hasBand)
		}
	}
}

// TestAFewOfHundredsOfGroupsAreColoured draws every kind of chart that colours by a column
// with more groups than lines are fitted for.
func TestAFewOfHundredsOfGroupsAreColoured(t *testing.T) {
	x, y := make([]float64, 900), make([]float64, 900)
	names, few := make([]string, 900), make([]string, 900)
	for i := range x {
		x[i], y[i], names[i], few[i] = float64(i), float64(i%17), fmt.Sprint("hive ", (i*i)%300), fmt.Sprint("k", i%5)
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("hive", names), table.NewCategory("k", few))
	if err != nil {
		t.Fatal(err)
	}
	for _, typed := range []string{"plot y against x", "plot y against x\nshape by k", "plot y against k\nas boxes",
		"plot mean(y) against k\nas bars", "plot y against x\nas line", "plot spread of y", "plot y against x\nfit line for each k and overall"} {
		for colour, entries := range map[string]int{"hive top 9": 10, "k top 2": 3, "k top 9": 5} {
			f, problems := draw(t, data, typed+"\ncolour by "+colour)
			if problems != nil {
				t.Fatalf("%s, %s: %v", typed, colour, problems[0])
			}
			if key := f.Key("colour"); len(key.Entries) != entries || key.Entries[entries-1].Rest != (entries < 5 || entries == 10) {
				t.Errorf("%s, %s: %+v", typed, colour, key.Entries)
			}
		}
	}
}
