package app

import (
	"context"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/reading"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// ChartNumbers is what a chart says, as numbers in the units of the data.
type ChartNumbers struct {
	reading.AllNumbers
	Sentence string       `json:"sentence" doc:"what is plotted, as it is read"`
	Typed    string       `json:"typed" doc:"the same, one clause a line"`
	Check    CheckNumbers `json:"check" doc:"what else could explain the relation"`
}

// CheckNumbers is what was found of every other column that could explain a relation.
type CheckNumbers struct {
	X        reading.AxisSaid         `json:"x" doc:"what slopes are of: the axes of the chart, or what two of its groups differ in"`
	Y        reading.AxisSaid         `json:"y"`
	Tried    int                      `json:"tried" doc:"columns"`
	Rows     int                      `json:"rows" doc:"that have x and y"`
	Alike    string                   `json:"alike,omitempty" doc:"how rows are not independent of each other, which is counted"`
	Findings []reading.FindingNumbers `json:"findings" doc:"the most telling first"`
	Problem  string                   `json:"problem,omitempty" doc:"why nothing could be tried"`
}

// ChartNumbers gives the numbers of a kept chart: every fit, and every finding of the check.
func (a *App) ChartNumbers(ctx context.Context, spaceID, chartID int64) (*ChartNumbers, error) {
	c, err := a.KeptChart(ctx, spaceID, chartID)
	if err != nil {
		return nil, err
	}
	return a.numbersOf(ctx, spaceID, c.VersionID, c.Document)
}

func (a *App) numbersOf(ctx context.Context, spaceID, versionID int64, document *chart.Document) (out *ChartNumbers, err error) {
	weight := weightOf(document, "") + weighExplain
	err = a.onSpelled(ctx, spaceID, versionID, "the numbers of a chart", weight, func(ctx context.Context, t *shown, d Dataset) error {
		bound, err := t.suits(document)
		if err != nil {
			return err
		}
		out, err = numbersBound(ctx, bound, figure.Options{Metrics: a.metrics, Dataset: a.others(spaceID),
			Elsewhere: a.wholeOf(ctx, spaceID, t, d)})
		return err
	})
	return out, err
}

// NumbersOfTable gives the numbers of a sentence about a table, without a server.
func NumbersOfTable(ctx context.Context, t *table.Table, typed string) (*ChartNumbers, error) {
	bound, err := Stated(t, nil, typed)
	if err != nil {
		return nil, err
	}
	return numbersBound(ctx, bound, figure.Options{Metrics: text.Hanken()})
}

func numbersBound(ctx context.Context, bound *mark.Bound, options figure.Options) (*ChartNumbers, error) {
	f, problems, err := figure.Build(ctx, bound, options)
	if err != nil {
		return nil, err
	}
	if problems != nil {
		return nil, refused(problems)
	}
	out := &ChartNumbers{AllNumbers: *reading.Numbers(f), Sentence: sentenceOf(sentence.Spoken(bound)), Typed: sentence.Print(bound.Document)}
	r, err := try(ctx, bound, options.Elsewhere)
	if err != nil {
		return nil, err
	}
	out.Check = CheckNumbers{Tried: r.columns, Rows: r.among, Problem: r.problem, Findings: []reading.FindingNumbers{}}
	if r.problem != "" {
		return out, nil
	}
	if r.alike != nil {
		out.Check.Alike = reading.AlikeNote(r.alike)
	}
	out.Check.X, out.Check.Y = reading.AxisOf(r.xAxis), reading.AxisOf(r.yAxis)
	out.Check.Findings = reading.Found(r.findings, r.xAxis, r.yAxis, r.units.Finding, options.Elsewhere != nil)
	return out, nil
}

// sentenceOf is a spoken sentence as one text.
func sentenceOf(parts []sentence.Part) string {
	var text strings.Builder
	for _, part := range parts {
		text.WriteString(part.Text)
	}
	return text.String()
}
