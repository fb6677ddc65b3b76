package mark

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
	"copperlark/core/text"
)

// hives is a table of every kind of column.
func hives(rows int) *table.Table {
	source := rand.New(rand.NewPCG(3, uint64(rows)))
	kg, ha, frames, day := make([]float64, rows), make([]float64, rows), make([]float64, rows), make([]float64, rows)
	district, school := make([]string, rows), make([]string, rows)
	for i := range rows {
		kg[i], ha[i], frames[i], day[i] = 30+8*source.NormFloat64(), math.Exp(3*source.NormFloat64()), float64(source.IntN(9)),
			float64(86400*source.IntN(400))
		district[i], school[i] = []string{"Tarn", "Brindle", "Low Fen", "Scarhead"}[source.IntN(4)], []string{"Hill", "Fen"}[source.IntN(2)]
	}
	t, err := table.New(table.NewNumbers("kg", kg), table.NewNumbers("ha", ha), table.NewNumbers("frames", frames),
		table.NewCategory("district", district), table.NewCategory("school", school),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: day})
	if err != nil {
		panic(err)
	}
	return t
}

func column(name string) chart.Variable { return chart.Variable{Column: name} }

func TestMarksAreSuggestedByTheColumns(t *testing.T) {
	data := hives(40)
	for _, test := range []struct {
		y, x   chart.Variable
		colour string
		want   string
	}{
		{column("kg"), column("ha"), "", "dots"}, {column("kg"), column("day"), "", "line"}, {column("kg"), column("day"), "ha", "dots"},
		{column("kg"), column("day"), "school", "line"},
		{column("kg"), column("district"), "", "boxes"}, {column("district"), column("kg"), "", "boxes"},
		{column("school"), column("district"), "", "counts"},
		{chart.Variable{Of: chart.Count}, column("district"), "", "bars"}, {column("district"), chart.Variable{Column: "kg", Of: chart.Mean}, "",
			"bars"},
		{chart.Variable{Of: chart.Spread}, column("kg"), "", "histogram"}, {chart.Variable{Column: "kg", Of: chart.Mean}, column("frames"), "",
			"dots"},
		{column("kg"), chart.Variable{Column: "frames", As: chart.AsGroups}, "", "boxes"},
	} {
		d := &chart.Document{Version: chart.Version, Y: test.y, X: test.x, Colouring: chart.Colouring{Colour: test.colour}}
		if got := Bind(d, data).suggested().Name; got != test.want {
			t.Errorf("%+v against %+v: %s, want %s", test.y, test.x, got, test.want)
		}
		settled := Bind(d, data).Document
		if problems := Bind(settled, data).Problems(); problems != nil {
			t.Errorf("%+v: what is suggested cannot be drawn: %+v", test, problems)
		}
		if (len(settled.Marks()) == 0) != (test.want == "dots") || Bind(settled, data).Document != settled {
			t.Errorf("%+v settles as %v", test, settled.Marks())
		}
	}
	said := &chart.Document{Y: column("kg"), X: column("ha"), Layers: []chart.Layer{{Mark: "dots"}}}
	if d := Bind(said, data).Document; len(d.Layers) != 0 || d.Version != chart.Version {
		t.Error("dots that go without saying are said, or the version is not")
	}
	if among := Bind(&chart.Document{Y: column("kg"), X: column("district"), Layers: []chart.Layer{{Mark: "dots"}}},
		data).Document; len(among.Layers) != 1 {
		t.Error("dots that are said where boxes are suggested are taken out")
	}
	if of := Bind(&chart.Document{Y: chart.Variable{Of: chart.Spread}, X: column("district")}, data).suggested(); of == histogram {
		t.Error("a histogram of groups is suggested")
	}
	if len(said.Layers) != 1 || said.Version != 0 {
		t.Error("binding changes the document that it was given")
	}
}

func TestBarsOfAPlainColumnAreOfItsMeans(t *testing.T) {
	data := hives(40)
	for _, test := range []struct {
		y, x           chart.Variable
		alongY, alongX chart.Aggregate
	}{
		{column("kg"), column("district"), chart.Mean, chart.NoAggregate},
		{column("district"), column("kg"), chart.NoAggregate, chart.Mean},
		{column("kg"), column("day"), chart.Mean, chart.NoAggregate},
		{chart.Variable{Column: "kg", Of: chart.Sum}, column("district"), chart.Sum, chart.NoAggregate},
		{column("district"), column("district"), chart.NoAggregate, chart.NoAggregate},
		{chart.Variable{Column: "kg", As: chart.AsGroups}, column("district"), chart.NoAggregate, chart.NoAggregate},
	} {
		said := &chart.Document{Version: chart.Version, Y: test.y, X: test.x, Layers: []chart.Layer{{Mark: "bars"}}}
		d := Bind(said, data).Document
		if d.Y.Of != test.alongY || d.X.Of != test.alongX || said.Y != test.y {
			t.Errorf("%v against %v: %v against %v", test.y, test.x, d.Y, d.X)
		}
	}
}

func TestEveryMarkSaysWhatItCannotDraw(t *testing.T) {
	data := hives(40)
	logY := func(d *chart.Document) { d.Scales.Y.Scale = chart.LogScale }
	for _, test := range []struct {
		mark   string
		y, x   chart.Variable
		change func(*chart.Document)
		want   string
	}{
		{"bars", column("district"), column("district"), nil, "bars need a statistic"},
		{"bars", chart.Variable{Column: "kg", Of: chart.Mean}, column("district"), logY, "bars have no zero on a log axis"},
		{"boxes", column("kg"), column("ha"), nil, "boxes need groups along one axis"},
		{"histogram", column("kg"), column("ha"), nil, "the spread of one column"},
		{"histogram", chart.Variable{Of: chart.Spread}, column("kg"), logY, "no zero on a log axis"},
		{"counts", column("kg"), column("district"), nil, "groups along both axes"},
		{"line", column("kg"), column("district"), nil, "groups along x have none"},
		{"area", column("kg"), column("district"), nil, "an area joins values in an order"},
		{"area", column("district"), column("district"), nil, "groups along y have none"},
		{"counts", chart.Variable{Of: chart.Count}, column("district"), nil, "is drawn as bars"},
		{"stems", column("kg"), column("ha"), logY, "stems have no zero"},
		{"dots", chart.Variable{Of: chart.Spread}, column("kg"), nil, "a spread has no dots"},
		{"bars", chart.Variable{Of: chart.Count}, column("district"), func(d *chart.Document) { d.Size = "kg" },
			"as bars, the chart has no size"},
		{"line", column("kg"), column("day"), func(d *chart.Document) { d.Colour = "ha" }, "no colour for numbers"},
		{"clouds", column("kg"), column("ha"), nil, "there is no mark clouds"},
	} {
		d := &chart.Document{Version: chart.Version, Y: test.y, X: test.x, Layers: []chart.Layer{{Mark: test.mark}}}
		if test.change != nil {
			test.change(d)
		}
		problems := Bind(d, data).Problems()
		if !slices.ContainsFunc(problems, func(p chart.Problem) bool { return strings.Contains(p.Message, test.want) && p.Advice != "" }) {
			t.Errorf("%s of %+v: %+v, want %q", test.mark, d, problems, test.want)
		}
	}
}

// caseOf is what a figure gives a mark: every row, in drawn space of linear axes.
func caseOf(data *table.Table, d *chart.Document, colour string) *Case {
	c := &Case{Document: d, Table: data, X: Bind(d, data).X, Y: Bind(d, data).Y}
	values := func(a *Axis) []float64 {
		out := make([]float64, data.Rows())
		for i := range out {
			switch {
			case a.Column == nil:
			case a.Column.Kind.Coded():
				out[i] = float64(a.Column.Codes[i])
			default:
				out[i] = a.Column.Numbers[i]
			}
		}
		return out
	}
	c.U, c.V = values(c.X), values(c.Y)
	for i := range data.Rows() {
		c.Rows = append(c.Rows, uint32(i))
	}
	if g := data.Column(colour); g != nil {
		c.Groups, c.Codes = &Groups{Column: colour, Name: colour, Levels: g.Levels, Light: make([]string, len(g.Levels)),
			Dark: make([]string, len(g.Levels)), Key: 1}, g.Codes
	}
	c.Shared = Share(c)
	return c
}

func drawn(t *testing.T, m *Mark, c *Case, from, to float64) []*Placed {
	t.Helper()
	found, err := m.Compute(context.Background(), c)
	if err != nil {
		t.Fatal(err)
	}
	x := &scale.Scale{Kind: scale.Linear, From: 0, To: 10}
	s := &Sink{Mark: m.Name}
	found.Draw(&Panel{X: x, Y: &scale.Scale{Kind: scale.Linear, From: from, To: to}, Width: 600, Height: 400, Metrics: text.Hanken()}, s)
	return s.Layers
}

func layerOf(layers []*Placed, kind primitive.Kind) primitive.Layer {
	for _, l := range layers {
		if l.Kind == kind {
			return l.Layer
		}
	}
	return primitive.Layer{}
}

// TestStatisticsAgreeWithWalkingOverTheRows holds every aggregate to its slow, obvious twin.
func TestStatisticsAgreeWithWalkingOverTheRows(t *testing.T) {
	data := hives(500)
	kg, district, school := data.Column("kg").Numbers, data.Column("district"), data.Column("school")
	for _, of := range []chart.Aggregate{chart.Count, chart.Sum, chart.Mean, chart.Median} {
		d := &chart.Document{Y: chart.Variable{Column: "kg", Of: of}, X: column("district"), Layers: []chart.Layer{{Mark: "bars"}}}
		c := caseOf(data, d, "school")
		found, err := gather(context.Background(), c)
		if err != nil || len(found.list) != 8 {
			t.Fatalf("%s: %v, %d places", of, err, len(found.list))
		}
		for _, at := range found.list {
			var values []float64
			for i := range kg {
				if float64(district.Codes[i]) == at.at && school.Codes[i] == at.group {
					values = append(values, kg[i])
				}
			}
			slices.Sort(values)
			sum := 0.0
			for _, v := range values {
				sum += v
			}
			n := float64(len(values))
			want := map[chart.Aggregate]float64{chart.Count: n, chart.Sum: sum, chart.Mean: sum / n,
				chart.Median: (values[(len(values)-1)/2] + values[len(values)/2]) / 2}[of]
			if math.Abs(at.value-want) > 1e-9*math.Abs(want) || at.n != len(values) {
				t.Errorf("%s of %s: %v over %d, want %v", of, found.name(at), at.value, at.n, want)
			}
		}
		bars := layerOf(drawn(t, Named("bars"), c, 0, 1000), primitive.Rects)
		for i := range bars.Count {
			if bars.X.At(i) >= bars.X2.At(i) || bars.Y.At(i) != 0 && bars.Y2.At(i) != 0 || i > 0 && bars.X.At(i) < bars.X2.At(i-1)-1e-6 {
				t.Errorf("%s: bar %d reaches from %v to %v, after %v", of, i, bars.X.At(i), bars.X2.At(i), bars.X2.At(max(i-1, 0)))
			}
		}
	}
	if far := statistic(chart.Mean, 2, []float64{1.7e308, 1.7e308}); far != 1.7e308 {
		t.Errorf("the mean of what has no sum is %v", far)
	}
}

// TestHistogramsAndCountsShowEveryRowOnce holds that what is drawn adds up.
func TestHistogramsAndCountsShowEveryRowOnce(t *testing.T) {
	data := hives(500)
	for _, colour := range []string{"", "district"} {
		c := caseOf(data, &chart.Document{Y: chart.Variable{Of: chart.Spread}, X: column("kg")}, colour)
		rects := layerOf(drawn(t, Named("histogram"), c, 0, 1), primitive.Rects)
		total := 0.0
		for i := range rects.Count {
			total += rects.Y2.At(i) - rects.Y.At(i)
		}
		if math.Abs(total-500) > 1e-3 {
			t.Errorf("coloured by %q, %v rows are drawn", colour, total)
		}
	}
	c := caseOf(data, &chart.Document{Y: column("school"), X: column("district")}, "")
	points := layerOf(drawn(t, Named("counts"), c, -0.5, 1.5), primitive.Points)
	total, areas := 0.0, 0.0
	for i := range points.Count {
		n := 0.0
		if _, err := fmt.Sscan(points.Cards[i].Facts[0].Value, &n); err != nil {
			t.Fatal(err)
		}
		total += n
		areas += math.Pow(points.Radius.At(i), 2) / n
	}
	if total != 500 {
		t.Errorf("%v rows are counted", total)
	}
	for i := range points.Count { // an area is a count
		n := 0.0
		_, _ = fmt.Sscan(points.Cards[i].Facts[0].Value, &n)
		if ratio := math.Pow(points.Radius.At(i), 2) / n / (areas / float64(points.Count)); ratio < 0.95 || ratio > 1.05 {
			t.Errorf("a dot of %v rows is %v times as large as it should be", n, ratio)
		}
	}
}

// TestLinesBreakWhereAValueIsMissing holds gaps, and dots of values that stand alone.
func TestLinesBreakWhereAValueIsMissing(t *testing.T) {
	nan := math.NaN()
	data, _ := table.New(table.NewNumbers("x", []float64{1, 2, 3, 4, 5, 6, 7}), table.NewNumbers("y", []float64{1, 2, nan, 4, nan, 6, 7}))
	d := &chart.Document{Y: column("y"), X: column("x"), Layers: []chart.Layer{{Mark: "line"}}}
	c := caseOf(data, d, "")
	c.Rows, c.U, c.V, c.Gaps = []uint32{6, 0, 1, 3, 5}, []float64{7, 1, 2, 4, 6}, []float64{7, 1, 2, 4, 6}, []uint32{2, 4} // in no order
	for name, vertices := range map[string]int{"line": 4, "steps": 6} {
		layers := drawn(t, Named(name), c, 0, 10)
		paths, alone := layerOf(layers, primitive.Paths), layerOf(layers, primitive.Points)
		if paths.Count != 2 || paths.X.Len() != vertices || alone.Count != 1 || math.Abs(alone.X.At(0)-0.4) > 1e-6 {
			t.Errorf("%s: %d paths of %d vertices, %d alone", name, paths.Count, paths.X.Len(), alone.Count)
		}
		for i := range paths.Count {
			from, to := paths.Vertices(i)
			for k := from + 1; k < to; k++ {
				if paths.X.At(k) < paths.X.At(k-1) {
					t.Errorf("%s goes back", name)
				}
			}
		}
	}
}

// TestGroupsStandInTheOrderThatIsSaid holds it, and that they keep their colours.
func TestGroupsStandInTheOrderThatIsSaid(t *testing.T) {
	data, _ := table.New(table.NewCategory("g", []string{"a", "b", "b", "c", "c", "c", ""}),
		table.NewNumbers("v", []float64{5, 1, 1, 9, 9, math.NaN(), 3}))
	for _, test := range []struct {
		order chart.Order
		want  string
	}{
		{chart.Order{Column: "g", Of: chart.Mean, By: "v"}, "bac"}, {chart.Order{Column: "g", Of: chart.Mean, By: "v", Descending: true}, "cab"},
		{chart.Order{Column: "g", Of: chart.Count, Descending: true}, "cba"}, {chart.Order{Column: "other", Of: chart.Count}, "abc"},
	} {
		d := &chart.Document{Y: chart.Variable{Of: chart.Count}, X: column("g"), Order: &test.order}
		c := Bind(d, data).X.Column
		if got := strings.Join(c.Levels, ""); got != test.want {
			t.Errorf("%+v: %s, want %s", test.order, got, test.want)
		}
		for i := range c.Codes {
			if c.Value(i) != data.Column("g").Value(i) {
				t.Errorf("%+v: row %d is of %q", test.order, i, c.Value(i))
			}
		}
	}
}

// TestBoxesShowQuartiles compares them with sorting.
func TestBoxesShowQuartiles(t *testing.T) {
	values := []float64{1, 2, 3, 4, 5, 6, 7, 8, 100}
	names := slices.Repeat([]string{"a"}, len(values))
	data, _ := table.New(table.NewNumbers("y", values), table.NewCategory("g", names))
	layers := drawn(t, Named("boxes"), caseOf(data, &chart.Document{Y: column("y"), X: column("g")}, ""), 0, 100)
	body, far := layerOf(layers, primitive.Rects), layerOf(layers, primitive.Points)
	if math.Abs(body.Y.At(0)-0.03) > 1e-6 || math.Abs(body.Y2.At(0)-0.07) > 1e-6 || far.Count != 1 || far.Y.At(0) != 1 {
		t.Errorf("the box reaches from %v to %v, with %d beyond", body.Y.At(0), body.Y2.At(0), far.Count)
	}
	if card := body.Cards[0]; card.Heading != "a" || card.Facts[0].Value != "5" || card.Facts[2].Value != "1 to 8" {
		t.Errorf("its card: %+v", card)
	}
}

func TestColumnsTogetherAreNamed(t *testing.T) {
	data := hives(40)
	for want, more := range map[string][]string{
		"kg": nil, "kg and ha": {"ha"}, "kg, ha and kg": {"ha", "kg"}, "kg, ha, kg and 2 more": {"ha", "kg", "ha", "kg"},
	} {
		d := &chart.Document{Version: chart.Version, Y: column("kg"), X: column("day"), AlsoY: more}
		if got := Bind(d, data).Y.Together(); got != want {
			t.Errorf("%q, not %q", got, want)
		}
	}
}
