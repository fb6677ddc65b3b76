package figure

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/primitive"
	"copperlark/core/table"
	"copperlark/core/text"
)

// random makes a table with everything that charts meet: gaps, zeros, ties, groups of
// one row, groups without rows, numbers that are groups, dates.
func random(source *rand.Rand, rows int, gaps bool) *table.Table {
	gap := func() bool { return gaps && source.IntN(7) == 0 }
	x, y, s, few, day := make([]float64, rows), make([]float64, rows), make([]float64, rows), make([]float64, rows), make([]float64, rows)
	group, fed := make([]int32, rows), make([]int32, rows)
	for i := range rows {
		x[i], y[i] = math.Round(100*source.ExpFloat64())/10, 50*source.NormFloat64()
		s[i], few[i] = source.ExpFloat64(), float64(source.IntN(3)*2)
		day[i] = float64(86_400 * (20_000 + source.IntN(900)))
		group[i], fed[i] = int32(min(source.IntN(5), source.IntN(5))), int32(source.IntN(2))
		for _, v := range []*float64{&x[i], &y[i], &s[i], &few[i], &day[i]} {
			if gap() {
				*v = nan
			}
		}
		for _, v := range []*int32{&group[i], &fed[i]} {
			if gap() {
				*v = table.MissingCode
			}
		}
	}
	t, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewNumbers("s", s), table.NewNumbers("few", few),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: day},
		&table.Column{Name: "g", Kind: table.Category, Codes: group, Levels: []string{"a", "b", "c", "d", "e", "nobody"}},
		&table.Column{Name: "fed", Kind: table.YesNo, Codes: fed, Levels: []string{"no", "yes"}})
	if err != nil {
		panic(err)
	}
	return t
}

// randomChart says something that such a table can honour.
func randomChart(source *rand.Rand) *chart.Document {
	pick := func(names ...string) string { return names[source.IntN(len(names))] }
	d := &chart.Document{Version: chart.Version, X: chart.Variable{Column: pick("x", "day", "s", "fed")},
		Y: chart.Variable{Column: pick("y", "s", "few")}, Colouring: chart.Colouring{Colour: pick("", "g", "s", "few", "fed")},
		Sizing: chart.Sizing{Size: pick("", "", "s")}, Shaping: chart.Shaping{Shape: pick("", "", "g", "fed")}}
	d.SetMarks("dots")
	if (d.X.Column == "x" || d.X.Column == "s") && source.IntN(2) == 0 {
		d.Scales.X.Scale = chart.LogScale
	}
	if d.Y.Column == "s" && source.IntN(2) == 0 {
		d.Scales.Y.Scale = chart.LogScale
	}
	if source.IntN(2) == 0 {
		d.AddFit(chart.Fit{Kind: chart.FitLine, Each: pick("", "g", "few", "fed"), Overall: true,
			Band: &chart.Band{Kind: chart.Confidence, Level: 95}})
	}
	if source.IntN(4) == 0 {
		d.Scales.X.Limits = &chart.Limits{From: 2, To: 1}
	}
	return d
}

// values writes a table whole, to see whether anybody wrote to it.
func values(t *table.Table) string {
	var all strings.Builder
	for _, c := range t.Columns() {
		fmt.Fprintln(&all, c.Name, c.Numbers, c.Codes, c.Levels)
	}
	return all.String()
}

func TestFiguresOfRandomChartsHoldTogether(t *testing.T) {
	source := rand.New(rand.NewPCG(21, 1))
	for round := range 300 {
		data := random(source, 1+source.IntN(60), round%3 > 0)
		if round%50 == 0 {
			data = random(source, 25_000, round%100 == 0) // positions in whole steps
		}
		d := randomChart(source)
		before := values(data)
		f, problems, err := Build(context.Background(), mark.Bind(d, data), Options{Metrics: text.Hanken()})
		if err != nil {
			t.Fatal(err)
		}
		if values(data) != before {
			t.Fatalf("%+v: drawing wrote to the table", d)
		}
		rows, x, y := drawnSlowly(d, data)
		if problems != nil {
			if len(rows) > 0 {
				t.Errorf("%+v: %v", d, problems[0].Message)
			}
			continue
		}
		leftOut := 0
		for _, reason := range f.Rows.LeftOut {
			leftOut += reason.Count
		}
		if f.Rows.Drawn != len(rows) || dotsOf(f).Count != len(rows) || f.Rows.Drawn+leftOut != data.Rows() || f.Rows.Total != data.Rows() {
			t.Fatalf("%+v: %+v, want %d rows drawn of %d", d, f.Rows, len(rows), data.Rows())
		}
		checkDots(t, d, f, data, rows, x, y)
		checkFits(t, d, f, data, rows, x, y)
	}
}

// drawnSlowly finds the rows that a chart draws one by one, with x and y in drawn space.
func drawnSlowly(d *chart.Document, t *table.Table) (rows []int, x, y []float64) {
	for row := range t.Rows() {
		whole := true
		for _, name := range d.Columns() {
			whole = whole && !t.Column(name).Missing(row)
		}
		if !whole {
			continue
		}
		along := func(name string, log bool) float64 {
			c := t.Column(name)
			if c.Kind.Coded() {
				return float64(c.Codes[row])
			}
			if log {
				return math.Log10(c.Numbers[row])
			}
			return c.Numbers[row]
		}
		u, v := along(d.X.Column, d.Scales.X.Log()), along(d.Y.Column, d.Scales.Y.Log())
		if math.IsInf(u, 0) || math.IsNaN(u) || math.IsInf(v, 0) || math.IsNaN(v) {
			continue // zero or less on a log axis
		}
		rows, x, y = append(rows, row), append(x, u), append(y, v)
	}
	return rows, x, y
}

// checkDots holds each dot to its row.
func checkDots(t *testing.T, d *chart.Document, f *Figure, data *table.Table, rows []int, x, y []float64) {
	t.Helper()
	dots := dotsOf(f)
	for i, row := range rows {
		for _, axis := range []struct {
			axis  *Scale
			array primitive.Array
			drawn float64
		}{{f.X(), dots.X, x[i]}, {f.Y(), dots.Y, y[i]}} {
			from, to := axis.axis.Drawn(axis.axis.From), axis.axis.Drawn(axis.axis.To)
			want := (axis.drawn - from) / (to - from)
			if got := axis.array.At(i); math.Abs(got-want) > 1.01/primitive.PositionSteps+1e-6*math.Abs(want) {
				t.Fatalf("%+v: dot %d stands at %v, want %v", d, i, got, want)
			}
		}
		if c := data.Column(d.Colour); c != nil && c.Name == "g" && dots.Colour.At(i) != float64(c.Codes[row]) {
			t.Fatalf("%+v: dot %d has the colour of group %v, want %d", d, i, dots.Colour.At(i), c.Codes[row])
		}
		if d.Size != "" {
			if i > 0 && data.Column(d.Size).Numbers[row] > data.Column(d.Size).Numbers[rows[i-1]] && dots.Radius.At(i) < dots.Radius.At(i-1) {
				t.Fatalf("%+v: dot %d is smaller than a smaller one", d, i)
			}
		}
	}
	if len(rows) <= MaxCardDots {
		for i, row := range rows {
			if int(dots.Row.At(i)) != row {
				t.Fatalf("%+v: dot %d belongs to row %v, want %d", d, i, dots.Row.At(i), row)
			}
		}
	}
}

// checkFits holds each fit to one that is made of its rows alone.
func checkFits(t *testing.T, d *chart.Document, f *Figure, data *table.Table, rows []int, x, y []float64) {
	t.Helper()
	for _, fit := range f.Fits {
		each := d.Fits()[fit.Index].Each
		var u, v []float64
		if fit.Group < 0 {
			u, v = x, y
		} else {
			groups := data.Column(each).AsGroups(chart.MaxFitGroups)
			for i, row := range rows {
				if int(groups.Codes[row]) == fit.Group {
					u, v = append(u, x[i]), append(v, y[i])
				}
			}
		}
		alone, err := model.FitLine(context.Background(), u, v)
		if err != nil || len(u) < mark.SmallestFit {
			if fit.Problem == "" {
				t.Errorf("%+v: %s is drawn through %d rows: %v", d, fit.Name, len(u), err)
			}
			continue
		}
		if fit.Problem != "" || fit.Model.N != alone.N || math.Abs(fit.Model.Slope-alone.Slope) > 1e-9*(1+math.Abs(alone.Slope)) {
			t.Errorf("%+v: %s has slope %+v over %d rows, alone %v over %d; %s", d, fit.Name, fit.Model, len(u), alone.Slope, alone.N, fit.Problem)
		}
	}
	r := f.Relation
	if r == nil || r.Compared == nil || r.Line == nil {
		return
	}
	grouping := d.Colour
	for _, fit := range d.Fits() {
		if fit.Each != "" {
			grouping = fit.Each
		}
	}
	groups := data.Column(grouping).AsGroups(chart.MaxFitGroups)
	codes := make([]int32, len(rows))
	for i, row := range rows {
		codes[i] = groups.Codes[row]
	}
	compared, err := confound.Compare(context.Background(), x, y, codes, len(groups.Levels))
	if err != nil || !slices.Equal(r.Compared.Counts, compared.Counts) || (r.Compared.Within == nil) != (compared.Within == nil) {
		t.Fatalf("%+v: compared otherwise than alone: %v", d, err)
	}
	if w := compared.Within; w != nil && math.Abs(r.Compared.Within.Slope-w.Slope) > 1e-9*(1+math.Abs(w.Slope)) {
		t.Errorf("%+v: within the groups %v, alone %v", d, r.Compared.Within.Slope, w.Slope)
	}
}
