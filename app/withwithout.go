package app

import (
	"context"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/reading"
)

// WithAndWithout is the straight line of a chart with some of its rows and without them.
type WithAndWithout struct {
	Unit  string        `json:"unit,omitempty" doc:"of the slopes: kg per 10 ha"`
	Lines []WithoutLine `json:"lines"`
}

// WithoutLine is one of the lines: of all rows that are drawn, of those that were chosen, and without them.
type WithoutLine struct {
	Name     string `json:"name"`
	N        string `json:"n,omitempty"`
	Slope    string `json:"slope,omitempty"`
	Interval string `json:"interval,omitempty"`
	Problem  string `json:"problem,omitempty" doc:"why there is no line"`
}

// WithAndWithout fits a line to all rows that a chart draws, to those that were chosen of them, counted from 1, and to the rest.
func (a *App) WithAndWithout(ctx context.Context, spaceID, versionID int64, document *chart.Document, rows []float64) (out *WithAndWithout,
	err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "a line with and without some rows", weighFigure+3*weighFit,
		func(ctx context.Context, t *shown, _ Dataset) error {
			bound, err := t.bind(document)
			if err != nil {
				return err
			}
			if bound == nil || len(rows) == 0 {
				return &Invalid{Message: "no rows were chosen", Advice: "press dots, or draw around them"}
			}
			relation := bound.Document.Relation()
			only, rest := without(relation.Chosen, rows)
			out = &WithAndWithout{}
			for _, of := range []struct {
				name   string
				chosen *chart.Chosen
			}{{"all that are drawn", relation.Chosen}, {"these alone", only}, {"without these", rest}} {
				asked := relation.Clone()
				asked.Chosen = of.chosen
				asked.SetMarks(chart.DotsMark)
				asked.AddFit(chart.Fit{Kind: chart.FitLine, Overall: true})
				line, unit, err := t.line(ctx, asked, figure.Options{Width: lineSize, Height: lineSize, Metrics: a.metrics})
				if err != nil {
					return err
				}
				line.Name = of.name
				out.Unit, out.Lines = unit, append(out.Lines, line)
			}
			return nil
		})
	return out, err
}

// without is the choice of these rows alone of what was chosen before, and of the rest.
func without(before *chart.Chosen, rows []float64) (only, rest *chart.Chosen) {
	only = &chart.Chosen{Rows: rows}
	switch {
	case before == nil:
		return only, &chart.Chosen{Rows: rows, Without: true}
	case before.Without:
		all := append(slices.Clone(before.Rows), rows...)
		slices.Sort(all)
		return only, &chart.Chosen{Rows: slices.Compact(all), Without: true}
	}
	return only, &chart.Chosen{Rows: slices.DeleteFunc(slices.Clone(before.Rows),
		func(row float64) bool { return slices.Contains(rows, row) })}
}

// lineSize is the paper of a chart of which only the line is read.
const lineSize = 300

// line is the line of all rows of a chart, as its reading writes it.
func (s *shown) line(ctx context.Context, document *chart.Document, options figure.Options) (line WithoutLine, unit string, err error) {
	if document.Chosen != nil && len(document.Chosen.Rows) == 0 && !document.Chosen.Without {
		return WithoutLine{Problem: "no rows are left"}, "", nil
	}
	bound, err := s.bind(document)
	if err != nil {
		return line, "", err
	}
	f, problems, err := figure.Build(ctx, bound, options)
	if err != nil {
		return line, "", err
	}
	if problems != nil {
		return WithoutLine{Problem: problems[0].Message}, "", nil
	}
	told := reading.Of(f)
	if len(told.Fits) == 0 {
		return WithoutLine{Problem: "there is none"}, "", nil
	}
	fit := told.Fits[0]
	return WithoutLine{N: fit.N, Slope: fit.Slope, Interval: fit.Interval, Problem: fit.Problem}, told.SlopeUnit, nil
}
