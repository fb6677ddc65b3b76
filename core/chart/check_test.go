package chart

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"copperlark/core/table"
)

// hives is a table with a column of every kind, and groups of 2, 9, 11 and 70.
func hives(t *testing.T) *table.Table {
	t.Helper()
	groups := func(name string, kind table.Kind, n int) *table.Column {
		c := &table.Column{Name: name, Kind: kind, Codes: make([]int32, 140)}
		for i := range n {
			c.Levels = append(c.Levels, fmt.Sprintf("%s %d", name, i))
		}
		for i := range c.Codes {
			c.Codes[i] = int32(i % n)
		}
		return c
	}
	numbers := func(name string, distinct int) *table.Column {
		c := table.NewNumbers(name, make([]float64, 140))
		for i := range c.Numbers {
			c.Numbers[i] = float64(i % distinct)
		}
		return c
	}
	day := numbers("day", 100)
	day.Kind, day.Grain = table.Date, table.Day
	data, err := table.New(numbers("kg", 100), numbers("ha", 140), numbers("frames", 5), day, groups("fed", table.YesNo, 2),
		groups("district", table.Category, 9), groups("school", table.Category, 11), groups("stand", table.Text, 70))
	if err != nil {
		t.Fatal(err)
	}
	return data
}

// said builds a document: what stands along y and x, and what is added.
func said(y, x string, add ...func(*Document)) Document {
	d := Document{Version: Version, Y: column(y), X: column(x)}
	for _, change := range add {
		change(&d)
	}
	return d
}

func fit(f Fit) func(*Document) { return func(d *Document) { d.AddFit(f) } }

func TestChartsThatCanBeHonoured(t *testing.T) {
	data := hives(t)
	for _, d := range []Document{
		said("kg", "ha"),
		said("KG", "day", func(d *Document) { d.Colour, d.Size, d.Shape, d.Opacity = "district", "ha", "fed", 1 }),
		said("kg", "district"), said("kg", "school", func(d *Document) { d.Colour = "kg" }),
		said("kg", "ha", func(d *Document) {
			d.Scales.X, d.Scales.Y = Axis{Scale: LogScale, Base: 2, Limits: &Limits{From: 10, To: 1}}, Axis{Scale: NearLinear, Every: 5}
		}),
		said("kg", "ha", func(d *Document) { d.Shape = "frames" }, fit(Fit{Kind: FitLine, Each: "frames", Overall: true, LeavingOutliers: true,
			Band: &Band{Prediction, 99.9}})),
		said("fed", "ha", fit(Fit{Kind: FitCurve, Degree: 5, Band: &Band{Prediction, 50}}),
			fit(Fit{Kind: FitLocal, Span: 0.2, Band: &Band{Confidence, 95}}), fit(Fit{Kind: FitSpline}), fit(Fit{Kind: FitRobust})),
		said("kg", "fed", fit(Fit{Kind: FitLine, Each: "school"})),
		said("", "district", func(d *Document) { d.Y.Of, d.Panels.By, d.Panels.Own = Count, []string{"fed", "frames"}, []string{"y"} }),
		said("fed", "district", func(d *Document) { d.Y.Of, d.Order = Mean, &Order{Column: "district", Of: Mean, By: "kg"} }),
		said("kg", "ha", func(d *Document) { d.AlsoY, d.Where = []string{"frames"}, "district <> 'x' and kg > 3" }),
		said("kg", "frames", func(d *Document) { d.X.As = AsGroups; d.AddReference(Reference{Axis: "y", At: 3}) }),
	} {
		if problems := Check(&d, data); problems != nil {
			t.Errorf("%+v: %+v", d, problems)
		}
	}
}

func TestChartsThatCannotBeHonouredSayWhyAndWhatToDo(t *testing.T) {
	data := hives(t)
	with := func(change func(*Document)) Document { return said("kg", "ha", change) }
	axis := func(a Axis) Document { return with(func(d *Document) { d.Scales.Y = a }) }
	for _, test := range []struct {
		document        Document
		clause, message string
	}{
		{said("kg", ""), "plot", "needs two columns"},
		{said("kgs", "ha"), "plot", "no column kgs"},
		{said("kg", "stand"), "plot", "at most 60 groups; stand has 70"},
		{said("kg", "day", func(d *Document) { d.Scales.X.Scale = LogScale }), "log", "day holds date values"},
		{said("fed", "ha", func(d *Document) { d.Scales.Y.Scale = LogScale }), "log", "fed holds yes / no values"},
		{axis(Axis{Limits: &Limits{From: 3, To: 3}}), "limits", "both ends of the axis are the same"},
		{axis(Axis{Scale: LogScale, Limits: &Limits{From: 0, To: 3}}), "limits", "no place for zero or less"},
		{axis(Axis{Scale: LogScale, Base: 1}), "log", "the base of a log scale is above 1"},
		{axis(Axis{Every: -1}), "ticks", "above zero"},
		{with(func(d *Document) {
			for range MaxFits + 1 {
				d.AddFit(Fit{Kind: FitLine, Overall: true})
			}
		}), "fit", "at most 8 fits; this one has 9"},
		{with(func(d *Document) { d.TakeOut = "nobody" }), "take out", "no column nobody"},
		{with(func(d *Document) { d.TakeOut = "kg" }), "take out", "kg stands along y itself"},
		{with(func(d *Document) { d.TakeOut = "ha" }), "take out", "ha stands along x itself"},
		{with(func(d *Document) { d.TakeOut = "stand" }), "take out", "stand has more than 60 groups"},
		{said("kg", "district", func(d *Document) { d.TakeOut = "school" }), "take out", "district holds groups"},
		{with(func(d *Document) { d.TakeOut, d.Y.Of = "school", Mean }), "take out", "a statistic stands along y"},
		{with(func(d *Document) { d.TakeOut, d.AlsoY = "school", []string{"frames"} }), "take out", "one relation at a time"},
		{with(func(d *Document) { d.Colour = "colour" }), "colour", "no column colour"},
		{with(func(d *Document) { d.Colour = "school" }), "colour", "at most 10 groups apart; school has 11"},
		{with(func(d *Document) { d.Shape = "district" }), "shape", "at most 8 groups apart; district has more"},
		{with(func(d *Document) { d.Shape = "kg" }), "shape", "kg has more"},
		{with(func(d *Document) { d.Size = "district" }), "size", "district holds category values"},
		{with(func(d *Document) { d.SetContours([]float64{50, 0}) }), "contours hold", "more than 0 % and less than 100 %"},
		{said("kg", "ha", func(d *Document) { d.Y.Of = Median; d.SetInterval(&Interval{Deviation: true}) }), "interval",
			"a standard deviation stands about a mean"},
		{with(func(d *Document) { d.SetMarks("dots", "line", "bars"); d.SetContours([]float64{50}) }), "as", "at most 3 marks"},
		{with(func(d *Document) { d.Layer(HistogramMark).Bins = &Bins{} }), "bins", "so many, or so wide"},
		{with(func(d *Document) { d.Layer(HistogramMark).Bins = &Bins{Count: 2000} }), "bins", "from 1 to 1000 bins"},
		{with(func(d *Document) { d.Layer(HistogramMark).Bins = &Bins{Width: 5}; d.Scales.X.Scale = LogScale }), "bins", "linear axis"},
		{with(func(d *Document) { d.SetContours([]float64{100}) }), "contours hold", "more than 0 % and less than 100 %"},
		{with(func(d *Document) { d.Panels.By = []string{"fed", "district", "hive"} }), "panels", "by one column or two"},
		{with(func(d *Document) { d.Opacity = 2 }), "opacity", "from 0 to 1"},
		{said("district", "ha", fit(Fit{Kind: FitLine, Overall: true})), "fit", "numbers along both axes; district holds category values"},
		{said("kg", "ha", fit(Fit{Kind: FitLine, Each: "kg"})), "fit", "at most 60 groups; kg has more"},
		{said("kg", "ha", fit(Fit{Kind: FitLine, Each: "nobody"})), "fit", "no column nobody"},
		{said("kg", "ha", fit(Fit{Kind: FitCurve, Degree: 6})), "fit", "degree from 2 to 5"},
		{said("kg", "ha", fit(Fit{Kind: FitLocal, Span: 1.5})), "fit", "from 0.2 to 1"},
		{said("kg", "ha", fit(Fit{Kind: FitLine, Band: &Band{Confidence, math.NaN()}})), "fit", "from 50 % to 99.9 %"},
		{said("kg", "ha", fit(Fit{Kind: FitSpline, Band: &Band{Prediction, 95}})), "fit", "a smoothing spline has no prediction band"},
		{said("kg", "ha", fit(Fit{Kind: FitSpline, LeavingOutliers: true})), "fit", "against a straight line"},
		{said("kg", "ha", fit(Fit{Kind: FitLine}), func(d *Document) { d.Y.Of = Mean }), "fit", "not of a statistic"},
		{with(func(d *Document) { d.Where = "kg >" }), "of rows where", "expected"},
		{with(func(d *Document) { d.Where = "honey > 3" }), "of rows where", "no column honey"},
		{said("district", "fed", func(d *Document) { d.Y.Of = Mean }), "plot", "a mean needs numbers"},
		{said("day", "fed", func(d *Document) { d.Y.Of = Sum }), "plot", "dates have no sum"},
		{said("", "fed", func(d *Document) { d.Y.Of = Mean }), "plot", "mean of what?"},
		{with(func(d *Document) { d.X.Of, d.Y.Of = Mean, Mean }), "plot", "along one axis only"},
		{with(func(d *Document) { d.X.As = AsGroups }), "plot", "at most 60 groups; ha has more"},
		{said("kg", "district", func(d *Document) { d.X.As = AsNumber }), "plot", "no value of district is a number"},
		{with(func(d *Document) { d.AlsoY = []string{"district"} }), "plot", "district holds category values"},
		{with(func(d *Document) { d.AlsoY, d.Y.As = []string{"frames"}, AsGroups }), "plot", "is read as groups"},
		{with(func(d *Document) { d.AlsoY, d.Colour = []string{"frames"}, "fed" }), "colour", "colour says which is which"},
		{with(func(d *Document) { d.Order = &Order{Column: "district", Of: Count} }), "order", "district stands along no axis"},
		{said("kg", "district", func(d *Document) { d.Order = &Order{Column: "district", Of: Mean, By: "stand"} }), "order",
			"a mean needs numbers"},
		{with(func(d *Document) { d.Panels.By = []string{"stand"} }), "panels", "at most 40 groups; stand has more"},
		{with(func(d *Document) { d.Panels.By = []string{"fed", "fed"} }), "panels", "two different columns"},
		{said("kg", "district", func(d *Document) { d.AddReference(Reference{Axis: "x", At: 1}) }), "line at", "district holds category values"},
		{with(func(d *Document) { d.AddReference(Reference{Axis: "y", To: new(float64)}) }), "band", "both ends of the band are the same"},
	} {
		problems := Check(&test.document, data)
		if !slices.ContainsFunc(problems, func(p Problem) bool {
			return p.Clause == test.clause && strings.Contains(p.Message, test.message) && p.Advice != ""
		}) {
			t.Errorf("want %s: %q, got %+v", test.clause, test.message, problems)
		}
	}
}
