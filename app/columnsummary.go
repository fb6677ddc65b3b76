package app

import (
	"cmp"
	"context"
	"math"
	"slices"
	"strings"

	"copperlark/core/describe"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/prepare"
	"copperlark/core/reading"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// ColumnSummary is a line of the Summary of a dataset; numbers are written for
// people, and empty where they are not defined.
type ColumnSummary struct {
	Column   string         `json:"column"`
	Label    string         `json:"label"`
	Unit     string         `json:"unit,omitempty"`
	Kind     table.Kind     `json:"kind" enum:"number,category,ordered,yes / no,date,duration,text"`
	N        int            `json:"n"`
	Missing  int            `json:"missing"`
	Distinct int            `json:"distinct"`
	Mean     string         `json:"mean"`
	SD       string         `json:"sd"`
	Min      string         `json:"min"`
	Q1       string         `json:"q1"`
	Median   string         `json:"median"`
	Q3       string         `json:"q3"`
	Max      string         `json:"max"`
	Skew     string         `json:"skew"`
	Top      []describe.Bar `json:"top" doc:"the most frequent values of a column of groups or texts"`
	Advice   string         `json:"advice,omitempty" doc:"what the column's own shape suggests"`
	GoesWith []Correlation  `json:"goes_with" doc:"of a column of numbers: the numbers that it is most correlated with"`
	Basis    reading.Basis  `json:"basis,omitempty" enum:"all,sample" doc:"of a table that stays elsewhere: which rows this is of"`
	Sampled  []string       `json:"sampled,omitempty" doc:"of what is of all rows: the fields that are of the sample nevertheless"`
}

// ColumnSummaries are those of all columns.
type ColumnSummaries struct {
	Columns   []ColumnSummary   `json:"columns"`
	Elsewhere *figure.Elsewhere `json:"elsewhere,omitempty" doc:"of a table that stays elsewhere: what all its rows are asked"`
}

// Correlation is Pearson's r with another column.
type Correlation struct {
	Label string `json:"label"`
	R     string `json:"r"`
}

// Summaries describes every column of a version after a preparation. One that is not kept yet is of the sample, where rows are
// one of a table that stays elsewhere.
func (a *App) Summaries(ctx context.Context, spaceID, versionID int64, typed string) (out *ColumnSummaries, err error) {
	if strings.TrimSpace(typed) == "" {
		err = a.onSpelled(ctx, spaceID, versionID, "a summary", weighSummary, func(ctx context.Context, t *shown, d Dataset) error {
			out, err = summaries(ctx, t.Table, a.wholeOf(ctx, spaceID, t, d))
			return err
		})
		return out, err
	}
	err = a.tried(
		ctx,
		spaceID,
		versionID,
		"a summary",
		weighSummary,
		typed,
		func(ctx context.Context, state *prepare.State, _ *prepare.Mistake, _ *table.Table, d Dataset) error {
			meanings, err := a.store.Meanings(ctx, d.ID)
			if err == nil {
				out, err = summaries(ctx, meanings.spelled(state.Table), nil)
			}
			return err
		},
	)
	return out, err
}

// summaries describes columns: of all rows, as far as these answer.
func summaries(ctx context.Context, t *table.Table, whole *summary.Whole) (*ColumnSummaries, error) {
	list := make([]ColumnSummary, 0, len(t.Columns()))
	for _, c := range t.Columns() {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		s := summaryOf(c)
		if whole != nil {
			s.ofAll(whole, c)
		}
		list = append(list, s)
	}
	return &ColumnSummaries{list, figure.AskedOf(whole)}, correlations(ctx, t, list)
}

// ofAll puts what all rows tell of the column in the place of what the sample does.
func (s *ColumnSummary) ofAll(whole *summary.Whole, c *table.Column) {
	s.Basis = reading.OfSample
	p, known := mark.ProfileOf(whole, c)
	if !known {
		return
	}
	s.Basis, s.N, s.Missing = reading.OfAll, int(p.N), int(p.Rows-p.N)
	switch {
	case p.Levels != nil:
		s.Distinct, s.Top = len(p.Levels), p.Levels[:min(len(p.Levels), mostFrequent)]
		return
	case c.Kind.Coded():
		s.Sampled = []string{"distinct", "top"}
		return
	}
	written := func(v float64) string { return scale.Value(v, 4) }
	if c.Kind == table.Date {
		written = func(v float64) string { return table.FormatDate(v, c.Grain) }
	} else {
		s.Mean, s.SD = written(p.Moments.X), ""
		if p.N > 1 {
			s.SD = written(math.Sqrt(p.Moments.XX / float64(p.N-1)))
		}
	}
	s.Min, s.Max, s.Sampled = written(p.Moments.XMin), written(p.Moments.XMax), []string{"distinct", "skew", "goes_with"}
	if p.Box == nil {
		s.Sampled = append(s.Sampled, "q1", "median", "q3")
		return
	}
	s.Q1, s.Median, s.Q3 = written(p.Box.Q1), written(p.Box.Median), written(p.Box.Q3)
}

// mostFrequent is how many of the most frequent values are told.
const mostFrequent = 3

// correlations adds to each column of numbers the two that it goes with most.
func correlations(ctx context.Context, t *table.Table, list []ColumnSummary) error {
	var at []int
	var numbers [][]float64
	for i, c := range t.Columns() {
		if c.Kind.Quantity() && len(at) < mostCandidates {
			at, numbers = append(at, i), append(numbers, c.Numbers)
		}
	}
	matrix, err := describe.PearsonMatrix(ctx, numbers)
	if err != nil {
		return err
	}
	for a, i := range at {
		others := slices.Clone(at)
		r := func(j int) float64 { return matrix[a][slices.Index(at, j)] }
		others = slices.DeleteFunc(others, func(j int) bool { return j == i || math.IsNaN(r(j)) })
		slices.SortStableFunc(others, func(j, k int) int { return cmp.Compare(math.Abs(r(k)), math.Abs(r(j))) })
		for _, j := range others[:min(len(others), 2)] {
			list[i].GoesWith = append(list[i].GoesWith, Correlation{t.Columns()[j].ReadableName(), scale.Number(r(j), 2)})
		}
	}
	return nil
}

func summaryOf(c *table.Column) ColumnSummary {
	s := ColumnSummary{
		Column:   c.Name,
		Label:    c.ReadableName(),
		Unit:     c.Unit,
		Kind:     c.Kind,
		Missing:  c.MissingCount(),
		Top:      []describe.Bar{},
		GoesWith: []Correlation{},
	}
	s.N = c.Len() - s.Missing
	if c.Kind.Coded() {
		s.Distinct = len(c.Levels)
		s.Top = describe.Picture(c, 1<<30)
		slices.SortStableFunc(s.Top, func(a, b describe.Bar) int { return b.Count - a.Count })
		s.Top = s.Top[:min(len(s.Top), mostFrequent)]
		return s
	}
	d := describe.Summarise(c.Numbers)
	s.Distinct = d.Distinct
	if c.Kind == table.Date {
		if d.N > 0 {
			written := func(v float64) string { return table.FormatDate(v, c.Grain) }
			s.Min, s.Q1, s.Median, s.Q3, s.Max = written(d.Min), written(d.Q1), written(d.Median), written(d.Q3), written(d.Max)
		}
		return s
	}
	written := func(v float64) string {
		if math.IsNaN(v) {
			return ""
		}
		return scale.Value(v, 4)
	}
	s.Mean, s.SD, s.Skew = written(d.Mean), written(d.SD), ""
	s.Min, s.Q1, s.Median, s.Q3, s.Max = written(d.Min), written(d.Q1), written(d.Median), written(d.Q3), written(d.Max)
	if !math.IsNaN(d.Skew) {
		s.Skew = scale.Signed(d.Skew, 2)
	}
	if describe.SuggestsLog(d.Skew, d.Min, d.Max) {
		s.Advice = "strongly right-skewed: a log scale spreads it"
	}
	return s
}
