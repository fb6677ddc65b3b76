package app

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/compare"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/page"
	"copperlark/core/reading"
	"copperlark/core/sentence"
)

// Comparison is two charts beside each other, A and B.
type Comparison struct {
	A       ComparedChart     `json:"a"`
	B       ComparedChart     `json:"b"`
	Differs []string          `json:"differs" nullable:"false" doc:"names of the clauses that the two say otherwise"`
	Words   string            `json:"words" doc:"what makes B of A, in a few words"`
	OnlyA   OnlyOne           `json:"only_a" doc:"rows that A leaves out and B draws"`
	OnlyB   OnlyOne           `json:"only_b" doc:"rows that B leaves out and A draws"`
	Rows    string            `json:"rows,omitempty" doc:"why rows are not matched"`
	Slopes  *reading.Compared `json:"slopes"`
}

// ComparedChart is one of them.
type ComparedChart struct {
	ChartID   int64           `json:"chart_id"`
	StepID    int64           `json:"step_id"`
	Name      string          `json:"name"`
	DatasetID int64           `json:"dataset_id"`
	VersionID int64           `json:"version_id"`
	Document  *chart.Document `json:"document"`
	Spoken    []sentence.Part `json:"spoken" nullable:"false"`
	Drawn     int             `json:"drawn"`
	Total     int             `json:"total"`
}

// OnlyOne is the rows that only one of two charts leaves out.
type OnlyOne struct {
	Count   int           `json:"count"`
	Reasons []mark.Reason `json:"reasons" nullable:"false" doc:"by which of its clauses"`
	Rows    []int         `json:"rows" nullable:"false" doc:"the first of them, counted from 1"`
}

// mostOnlyRows is how many of the rows that only one leaves out are named.
const mostOnlyRows = 1000

// compared is one side while two are compared.
type compared struct {
	ComparedChart
	bound *mark.Bound
	taken *figure.Taken
}

// Side is a chart that is compared: at a step of its trail, 0 where it stands, over a version, 0 its own.
type Side struct {
	page.ShownChart
	VersionID int64
}

// sideAt is chartAt over the version that a side says.
func (a *App) sideAt(ctx context.Context, spaceID int64, of Side) (Chart, error) {
	kept, err := a.chartAt(ctx, spaceID, of.ShownChart)
	if of.VersionID != 0 {
		kept.VersionID = of.VersionID
	}
	return kept, err
}

func (a *App) side(ctx context.Context, spaceID int64, of Side) (c *compared, err error) {
	kept, err := a.sideAt(ctx, spaceID, of)
	if err != nil {
		return nil, err
	}
	err = a.onSpelled(ctx, spaceID, kept.VersionID, "a comparison", weightOf(kept.Document, ""),
		func(ctx context.Context, t *shown, _ Dataset) error {
			bound, err := t.suits(kept.Document)
			if err != nil {
				return err
			}
			taken, err := figure.Take(ctx, bound)
			if err != nil {
				return err
			}
			step := of.Step
			if step == 0 {
				step = kept.HeadStepID
			}
			c = &compared{ComparedChart{ChartID: kept.ID, StepID: step, Name: kept.Name, DatasetID: kept.DatasetID,
				VersionID: kept.VersionID, Document: bound.Document, Drawn: taken.Drawn, Total: taken.Total,
				Spoken: spokenWith(page.Words(bound.Document.Note), sentence.Spoken(bound))}, bound, taken}
			return nil
		})
	return c, err
}

// Compare tells two charts of a space apart, each at a step of its trail.
func (a *App) Compare(ctx context.Context, spaceID int64, first, second Side) (*Comparison, error) {
	left, err := a.side(ctx, spaceID, first)
	if err != nil {
		return nil, err
	}
	right, err := a.side(ctx, spaceID, second)
	if err != nil {
		return nil, err
	}
	same := left.VersionID == right.VersionID
	out := &Comparison{A: left.ComparedChart, B: right.ComparedChart, Differs: sentence.Differing(left.Document, right.Document),
		Words: sentence.Change(left.bound, right.bound), OnlyA: OnlyOne{Reasons: []mark.Reason{}, Rows: []int{}}}
	if out.Differs == nil {
		out.Differs = []string{}
	}
	out.OnlyB = out.OnlyA
	switch {
	case !same:
		out.Rows = "The two are of different tables or versions: which row is which is not known."
	case left.taken.Why != nil && right.taken.Why != nil:
		out.OnlyA, out.OnlyB = onlyOne(left.taken, right.taken), onlyOne(right.taken, left.taken)
	}
	out.Slopes, err = reading.Compare(ctx, left.taken, right.taken, left.bound, right.bound, same)
	return out, err
}

func onlyOne(leaves, draws *figure.Taken) OnlyOne {
	rows, reasons := compare.Only(leaves.Why, draws.Why)
	out := OnlyOne{Count: len(rows), Reasons: []mark.Reason{}, Rows: []int{}}
	for i, words := range leaves.Reasons {
		if n := reasons[uint8(i+1)]; n > 0 {
			out.Reasons = append(out.Reasons, mark.Reason{Reason: words, Count: n})
		}
	}
	for _, row := range rows[:min(len(rows), mostOnlyRows)] {
		out.Rows = append(out.Rows, int(row)+1)
	}
	return out
}

// DrawBeside draws a chart with the ends of axes that it shares with another one.
func (a *App) DrawBeside(ctx context.Context, spaceID int64, of, other Side, size PartSize) (*Picture, error) {
	var all [][]figure.Span
	for _, one := range []Side{of, other} {
		spans, err := a.spansOf(ctx, spaceID, one)
		if err != nil {
			return nil, err
		}
		all = append(all, spans)
	}
	size.Together = figure.TogetherOf(all)
	picture, _, err := a.DrawStep(ctx, spaceID, of, size)
	return picture, err
}
