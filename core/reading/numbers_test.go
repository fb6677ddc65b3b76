package reading

import (
	"context"
	"encoding/json"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/table"
	"copperlark/core/text"
)

// numbersOf are the numbers of a chart of y against x with one fit.
func numbersOf(t *testing.T, x, y *table.Column, log bool, fit chart.Fit) (*AllNumbers, *figure.Figure) {
	t.Helper()
	data, err := table.New(x, y)
	if err != nil {
		t.Fatal(err)
	}
	d := &chart.Document{Version: chart.Version, X: chart.Variable{Column: x.Name}, Y: chart.Variable{Column: y.Name},
		Layers: []chart.Layer{{Mark: "dots"}}}
	fit.Overall = true
	d.AddFit(fit)
	if log {
		d.Scales.X.Scale = "log"
	}
	f, problems, err := figure.Build(context.Background(), mark.Bind(d, data), figure.Options{Metrics: text.Hanken()})
	if err != nil || problems != nil {
		t.Fatal(err, problems)
	}
	return Numbers(f), f
}

// TestNumbersOfALine compares a line's numbers with normal equations that are solved here, plain, on a log axis, and of dates.
func TestNumbersOfALine(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	n := 40
	days, plain, y := make([]float64, n), make([]float64, n), make([]float64, n)
	for i := range n {
		days[i] = 20_000 + float64(i)
		plain[i] = 1 + float64(i)/2
		y[i] = 5 + 3*plain[i] + rng.NormFloat64()
	}
	seconds := make([]float64, n)
	for i, day := range days {
		seconds[i] = day * 86_400
	}
	logs := make([]float64, n)
	for i, v := range plain {
		logs[i] = math.Log10(v)
	}
	for _, one := range []struct {
		name  string
		x     *table.Column
		log   bool
		as    []float64 // x as it is taken
		unit  string
		taken string
	}{
		{"plain", &table.Column{Name: "x", Unit: "ha", Kind: table.Number, Numbers: plain}, false, plain, "ha", "as it is"},
		{"log", &table.Column{Name: "x", Unit: "ha", Kind: table.Number, Numbers: plain}, true, logs, "ha", "log10"},
		{"dates", &table.Column{Name: "x", Kind: table.Date, Grain: table.Day, Numbers: seconds}, false, days, "day", "as it is"},
	} {
		all, _ := numbersOf(t, one.x, &table.Column{Name: "y", Kind: table.Number, Numbers: y}, one.log, chart.Fit{Kind: chart.FitLine})
		var mx, my, sxx, sxy, rss float64
		for i := range n {
			mx, my = mx+one.as[i]/float64(n), my+y[i]/float64(n)
		}
		for i := range n {
			sxx, sxy = sxx+(one.as[i]-mx)*(one.as[i]-mx), sxy+(one.as[i]-mx)*(y[i]-my)
		}
		slope := sxy / sxx
		for i := range n {
			e := y[i] - my - slope*(one.as[i]-mx)
			rss += e * e
		}
		spread := math.Sqrt(rss / float64(n-2))
		fit := all.Fits[0]
		if all.X.Unit != one.unit || all.X.Taken != one.taken || len(fit.Terms) != 2 || fit.N != n {
			t.Fatalf("%s: %+v, %+v", one.name, all.X, fit)
		}
		near := func(what string, got Number, want float64) {
			if got == nil || math.Abs(*got-want) > 1e-6*math.Max(1, math.Abs(want)) {
				t.Errorf("%s: %s is %v, want %v", one.name, what, got, want)
			}
		}
		term := fit.Terms[1]
		near("the slope", term.Value, slope)
		near("the intercept", fit.Terms[0].Value, my-slope*mx)
		near("its error", term.SE, spread/math.Sqrt(sxx))
		near("its lower end", term.Low, slope-2.024394164*spread/math.Sqrt(sxx)) // t(38), 97.5 %
		near("t", term.T, slope*math.Sqrt(sxx)/spread)
		near("the spread", fit.Residual, spread)
		near("the beginning", fit.XFrom, map[bool]float64{true: plain[0], false: one.as[0]}[one.log])
		if *term.P > 1e-10 {
			t.Errorf("%s: p is %v", one.name, *term.P)
		}
	}
}

// TestTermsGiveTheFit holds, of each kind of fit, that its coefficients are the curve that is drawn, and that what is not
// defined is no number.
func TestTermsGiveTheFit(t *testing.T) {
	x, y := make([]float64, 60), make([]float64, 60)
	rng := rand.New(rand.NewPCG(3, 4))
	for i := range x {
		x[i] = float64(i) / 10
		y[i] = math.Sin(x[i]) + rng.NormFloat64()/10
	}
	for _, fit := range []chart.Fit{{Kind: chart.FitLine}, {Kind: chart.FitLine, LeavingOutliers: true}, {Kind: chart.FitCurve, Degree: 3},
		{Kind: chart.FitRobust}, {Kind: chart.FitLocal}, {Kind: chart.FitSpline}} {
		all, f := numbersOf(t, table.NewNumbers("x", x), table.NewNumbers("y", y), false, fit)
		one := all.Fits[0]
		for _, at := range []float64{0, 1.3, 5.9} {
			sum := 0.0
			for _, term := range one.Terms {
				sum += *term.Value * math.Pow(at, float64(term.Power))
			}
			if want := f.Fits[0].Model.At(at); len(one.Terms) > 0 && math.Abs(sum-want) > 1e-8 {
				t.Errorf("%s: at %v the terms give %v, the line %v", fit.Kind, at, sum, want)
			}
		}
		smooth := fit.Kind == chart.FitLocal || fit.Kind == chart.FitSpline
		if (len(one.Terms) == 0) != smooth || (one.Worth != nil) != smooth || (one.Residual == nil) != (fit.Kind == chart.FitRobust) {
			t.Errorf("%s: %+v", fit.Kind, one)
		}
		if written, err := json.Marshal(all); err != nil || strings.Contains(string(written), "null") {
			t.Errorf("%s is written as %s, %v", fit.Kind, written, err)
		}
	}
	all, _ := numbersOf(
		t,
		table.NewNumbers("x", []float64{1, 1, 1}),
		table.NewNumbers("y", []float64{1, 2, 3}),
		false,
		chart.Fit{Kind: chart.FitLine},
	)
	if one := all.Fits[0]; one.Problem == "" || one.Terms != nil {
		t.Errorf("a fit that cannot be made: %+v", one)
	}
}

// TestFindingsWithoutSlopesHaveNone holds that a copy of x, or a column that says too little, has no slope of 0.
func TestFindingsWithoutSlopesHaveNone(t *testing.T) {
	axis := &mark.Axis{Column: table.NewNumbers("x", nil)}
	dates := &mark.Axis{Column: &table.Column{Name: "d", Kind: table.Date}}
	list := []confound.Finding{
		{Column: "copy", Verdict: confound.TooAlike, AlikeTo: "x"},
		{Column: "one", Verdict: confound.TooLittle, Missing: "groups"},
		{Column: "g", Verdict: confound.Holds, Overall: 2, Within: 1, OverallInterval: model.Interval{Low: 1, High: 3},
			Slopes: []confound.GroupSlope{{Level: "a", N: 9, Slope: 1, Interval: model.Interval{Low: math.NaN(), High: math.NaN()}}}},
	}
	words := func(confound.Finding) string { return "" }
	found := Found(list, axis, axis, words, false)
	if found[0].Overall != nil || found[1].Within != nil || found[0].AlikeTo != "x" || found[1].Lacking != "groups" {
		t.Errorf("%+v", found[:2])
	}
	if one := found[2]; *one.Overall.Slope != 2 || *one.Overall.High != 3 || len(one.Each) != 1 || one.Each[0].Low != nil {
		t.Errorf("%+v", one)
	}
	if perDay := Found(list, dates, axis, words, false)[2]; *perDay.Within.Slope != 86_400 {
		t.Errorf("a slope over dates is %v a day", *perDay.Within.Slope)
	}
}
