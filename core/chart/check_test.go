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
	data, err := table.New(numbers("kg", 100), numbers("ha", 140), numbers("frames", 5), day, groups("fed", table.YesNo, 2), groups("district", table.Category, 9), groups("school", table.Category, 11), groups("stand", table.Text, 70))
	if err != nil {
		t.Fatal(err)
	}
	return data
}

func TestChartsThatCanBeHonoured(t *testing.T) {
	data := hives(t)
	for _, d := range []Document{
		{Y: "kg", X: "ha"},
		{Y: "KG", X: "day", Colour: "district", Size: "ha", Shape: "fed", Opacity: 1},
		{Y: "kg", X: "district"},
		{Y: "kg", X: "school", Colour: "kg"},
		{Y: "kg", X: "ha", LogX: true, LogY: true, XAxis: Axis{Limits: &Limits{10, 1}}},
		{Y: "kg", X: "ha", Shape: "frames", Fits: []Fit{{Kind: FitLine, Each: "frames", Overall: true, LeavingOutliers: true, Band: &Band{Prediction, 99.9}}}},
		{Y: "fed", X: "ha", Fits: []Fit{{Kind: FitCurve, Degree: 5, Band: &Band{Prediction, 50}}, {Kind: FitLocal, Span: 0.2, Band: &Band{Confidence, 95}}, {Kind: FitSpline}, {Kind: FitRobust}}},
		{Y: "kg", X: "fed", Fits: []Fit{{Kind: FitLine, Each: "school"}}},
	} {
		if problems := Check(&d, data); problems != nil {
			t.Errorf("%+v: %+v", d, problems)
		}
	}
}

func TestChartsThatCannotBeHonouredSayWhyAndWhatToDo(t *testing.T) {
	data := hives(t)
	line := func(f Fit) Document { return Document{Y: "kg", X: "ha", Fits: []Fit{f}} }
	for _, test := range []struct {
		document        Document
		clause, message string
	}{
		{Document{Y: "kg"}, "plot", "needs two columns"},
		{Document{Y: "kgs", X: "ha"}, "plot", "no column kgs"},
		{Document{Y: "kg", X: "stand"}, "plot", "at most 60 groups; stand has 70"},
		{Document{Y: "kg", X: "day", LogX: true}, "log", "day holds date values"},
		{Document{Y: "fed", X: "ha", LogY: true}, "log", "fed holds yes / no values"},
		{Document{Y: "kg", X: "ha", XAxis: Axis{Limits: &Limits{3, 3}}}, "limits", "both ends of the axis are the same"},
		{Document{Y: "kg", X: "ha", Fits: slices.Repeat([]Fit{{Kind: FitLine, Overall: true}}, MaxFits+1)}, "fit", "at most 8 fits; this one has 9"},
		{Document{Y: "kg", X: "ha", LogY: true, YAxis: Axis{Limits: &Limits{0, 3}}}, "limits", "no place for zero or less"},
		{Document{Y: "kg", X: "ha", Colour: "colour"}, "colour", "no column colour"},
		{Document{Y: "kg", X: "ha", Colour: "school"}, "colour", "at most 10 groups apart; school has 11"},
		{Document{Y: "kg", X: "ha", Shape: "district"}, "shape", "at most 8 groups apart; district has more"},
		{Document{Y: "kg", X: "ha", Shape: "kg"}, "shape", "kg has more"},
		{Document{Y: "kg", X: "ha", Size: "district"}, "size", "district holds category values"},
		{Document{Y: "kg", X: "ha", Opacity: 1.5}, "opacity", "from 0 to 1"},
		{Document{Y: "kg", X: "ha", Opacity: math.NaN()}, "opacity", "from 0 to 1"},
		{Document{Y: "kg", X: "district", Fits: []Fit{{Kind: FitLine}}}, "fit", "district holds category values"},
		{line(Fit{Kind: FitLine, Each: "ha"}), "fit", "at most 60 groups; ha has more"},
		{line(Fit{Kind: FitLine, Each: "nobody"}), "fit", "no column nobody"},
		{line(Fit{Kind: FitCurve, Degree: 6}), "fit", "degree from 2 to 5"},
		{line(Fit{Kind: FitLocal, Span: 0.1}), "fit", "from 0.2 to 1"},
		{line(Fit{Kind: FitLine, Band: &Band{Confidence, 100}}), "fit", "from 50 % to 99.9 %"},
		{line(Fit{Kind: FitLine, Band: &Band{Confidence, math.NaN()}}), "fit", "from 50 % to 99.9 %"},
		{line(Fit{Kind: FitSpline, Band: &Band{Prediction, 95}}), "fit", "a smoothing spline has no prediction band"},
		{line(Fit{Kind: FitCurve, Degree: 2, LeavingOutliers: true}), "fit", "judged against a straight line"},
	} {
		problems := Check(&test.document, data)
		if len(problems) != 1 || problems[0].Clause != test.clause || !strings.Contains(problems[0].Message, test.message) || problems[0].Advice == "" {
			t.Errorf("%+v: %+v, want %s: %s", test.document, problems, test.clause, test.message)
		}
	}
}

// Every clause at fault is told, not the first one alone.
func TestAllProblemsAreToldAtOnce(t *testing.T) {
	d := &Document{Y: "kgs", X: "ha", Colour: "school", Size: "district", Fits: []Fit{{Kind: FitCurve, Degree: 9}}}
	if problems := Check(d, hives(t)); len(problems) != 4 {
		t.Errorf("%+v", problems)
	}
}
