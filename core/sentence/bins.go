package sentence

import (
	"fmt"
	"math"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/describe"
	"copperlark/core/magnitude"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// binsClause says how many bins a histogram has, or how wide they are.
var binsClause = clause.Clause[document]{
	Name:    "bins",
	Trade:   "breaks binwidth classes buckets intervals",
	Help:    "how many bins a histogram has, or how wide each is",
	Example: "bins of 5",
	Pieces: []clause.Piece{
		clause.Does(func(d *document) { d.Layer(chart.HistogramMark).Bins = &chart.Bins{} }),
		clause.OneOf("how many, or of and how wide",
			clause.Option[document]{
				Help:   "how wide each is",
				Is:     func(d *document) bool { return d.Bins().Width != 0 },
				Pieces: []clause.Piece{clause.Say("of"), clause.Number(func(d *document) *float64 { return &d.Bins().Width }, binWidth)},
			},
			clause.Option[document]{
				Help:   "how many",
				Text:   "20",
				Is:     func(*document) bool { return true },
				Pieces: []clause.Piece{clause.Count(func(d *document) *int { return &d.Bins().Count }, binCount)},
			}),
	},
	Said: func(d *document) bool { return d.Bins() != nil },
	Speak: func(d *document, s *clause.Speech) {
		if d.Bins() != nil {
			s.Say(", in ")
			s.Way(binsText(d.Bins()), "bins")
		}
	},
	Changed: func(_, after *document, _ func(string) string) []string {
		if after.Bins() == nil {
			return []string{"usual bins"}
		}
		return []string{binsText(after.Bins())}
	},
	Menus: []menu{{Slot: "bins", Title: "Bins", Find: "Find how many, or how wide",
		Without: func(d *document, _ int) *document {
			return with(d, func(next *document) { next.Layer(chart.HistogramMark).Bins = nil })
		},
		Choices: binChoices}},
	Add: func(d *document, t *table.Table) []addition {
		next := with(d, func(next *document) { next.Layer(chart.HistogramMark).Bins = &chart.Bins{Count: 20} })
		if d.Bins() != nil || d.Y.Of != chart.Spread || chart.Check(next, t) != nil {
			return nil
		}
		return []addition{{
			Key: "bins", Rank: 5, Label: "bins …", Detail: "how many bins, or how wide", Also: "breaks binwidth classes", Opens: "bins",
		}}
	},
}

var (
	binWidth = clause.Range{From: 0, To: math.MaxFloat64, Above: true, Message: "a bin is wider than 0", Advice: "say bins of 5"}
	binCount = clause.Range{From: 1, To: chart.MostBins, Expected: "how many bins",
		Message: fmt.Sprintf("a histogram has from 1 to %d bins", chart.MostBins), Advice: "say bins 20, or bins of 5"}
)

func binsText(b *chart.Bins) string {
	if b.Width != 0 {
		return "bins of " + table.FormatNumber(b.Width)
	}
	return scale.Counted(b.Count, "bin")
}

// binChoices are a few counts of bins, and widths of one digit of which a column has about as many.
func binChoices(d *document, _ int, t *table.Table) (list []choice) {
	add := func(b chart.Bins) {
		list = append(list, choice{Key: binsText(&b), Label: binsText(&b), Also: "breaks width",
			D: with(d, func(next *document) { next.Layer(chart.HistogramMark).Bins = &b }), Current: d.Bins() != nil && *d.Bins() == b})
	}
	if c := t.Column(d.X.Column); c != nil && c.Kind.Quantity() && d.Scales.X.Scale == "" {
		if at := describe.Quantiles(present(c), 0, 1); len(at) == 2 && at[1] > at[0] {
			for _, count := range []float64{50, 20, 10, 5} {
				if width := magnitude.Digits((at[1]-at[0])/count, 1); width > 0 {
					add(chart.Bins{Width: width})
				}
			}
		}
	}
	for _, count := range []int{5, 10, 20, 40, 80} {
		add(chart.Bins{Count: count})
	}
	return list
}
