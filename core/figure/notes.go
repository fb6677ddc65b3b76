package figure

import (
	"context"
	"math"
	"slices"

	"copperlark/core/describe"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/sample"
	"copperlark/core/scale"
)

// Notes are what could be wrong with a line through all rows.
type Notes struct {
	Carriers    []string // names of the few rows that move the slope most; empty where none do
	CarrierRows []int
	Without     float64  // the slope without them
	BendP       float64  // that the relation bends by chance; NaN where it cannot be told
	BendGain    float64  // the share of what the line leaves that a curve takes away
	Missing     *Missing // of rows without y; nil where they are like the others, or few
	Edges       *Edges   // nil where rows are spread over the whole line
	Skewed      []Skewed // axes that a log scale would spread
	Sized       string   // what the sizes of marks show; empty: nothing
	SizedRank   float64  // Spearman's correlation of it with y; NaN where it has none
}

// Edges are where about nine rows in ten lie along x, in words, and the end that is further
// away from them: above them, or below.
type Edges struct {
	Low, High, End string
	Above          bool
}

// Skewed is an axis whose values are strongly skewed to the right, with about their median.
type Skewed struct{ Axis, Middle, Highest string }

// Missing compares x of the rows that have no y with that of the others, in drawn space.
type Missing struct {
	Rows       int
	Difference float64
	With       string // the middle of x where y is there, and where it is missing
	Without    string
}

// The bounds of notes: how many rows may carry a slope together, what share of it they must,
// of how many rows a curve is tried, and how many rows without y are compared.
const (
	mostCarriers    = 3
	carriedShare    = 0.2
	carriedByChance = 0.01
	rowsToACarrier  = 10
	mostBent        = 5_000
	fewestMissing   = 10
	missingDiffersP = 0.01
	sparseEnds      = 0.55 // of the line's length, that nine rows in ten leave bare at most
	fewestEdged     = 40
)

// notes looks at the line of all rows.
func (b *Drawn) notes(ctx context.Context, line *model.Line) *Notes {
	n := &Notes{BendP: math.NaN(), BendGain: math.NaN()}
	x, y := b.rows.x, b.rows.y
	for _, c := range model.Carriers(line, x, y, mostCarriers) {
		if len(x) < rowsToACarrier*len(c.Rows) {
			break
		}
		if share := 1 - c.Slope/line.Slope; !(math.Abs(share) >= carriedShare) {
			continue
		}
		if c.Weigh(line, x, y); c.Chance < carriedByChance &&
			(line.SlopeInterval(0.95).Excludes(0) || c.Interval.Excludes(0)) { // no chance move, nor of no slope
			for _, at := range c.Rows {
				n.Carriers = append(n.Carriers, RowName(b.Table, int(b.rows.rows[at])))
				n.CarrierRows = append(n.CarrierRows, int(b.rows.rows[at]))
			}
			n.Without = c.Slope
			break
		}
	}
	if c := b.Table.Column(b.Document.Size); c != nil && !c.Kind.Coded() {
		n.Sized, n.SizedRank = c.Prose(), math.NaN()
		if found, err := describe.SpearmanOf(b.rows.numbers(c), y); err == nil {
			n.SizedRank = found
		}
	}
	if some := sample.Rows(len(x), mostBent, nil); some != nil {
		x, y = sample.Of(x, some), sample.Of(y, some)
		thin, err := model.FitLine(ctx, x, y)
		if err != nil {
			return n
		}
		line = thin
	}
	n.BendP, n.BendGain = model.Bends(ctx, line, x, y)
	n.Missing = b.missing()
	some, all := [2][]float64{x, y}, [2][]float64{b.rows.x, b.rows.y}
	if n.Carriers != nil { // these are told already
		all = b.without(n.CarrierRows)
		if len(b.rows.x) <= mostBent {
			some = all
		}
	}
	for i, axis := range []*mark.Axis{b.X, b.Y} {
		if s, is := b.skewed(axis, some[i], all[i], [][]float64{b.rows.x, b.rows.y}[i]); is {
			s.Axis = []string{"x", "y"}[i]
			n.Skewed = append(n.Skewed, s)
		}
	}
	if n.Skewed == nil {
		n.Edges = b.edges(some[0], all[0])
	}
	return n
}

// without gives x and y of all rows but some of the table.
func (b *Drawn) without(rows []int) (rest [2][]float64) {
	for i, row := range b.rows.rows {
		if !slices.Contains(rows, int(row)) {
			rest[0], rest[1] = append(rest[0], b.rows.x[i]), append(rest[1], b.rows.y[i])
		}
	}
	return rest
}

// edges tells where the rows lie along x, of some of them in drawn space.
func (b *Drawn) edges(some, all []float64) *Edges {
	if len(some) < fewestEdged {
		return nil
	}
	sorted := slices.Clone(some)
	slices.Sort(sorted)
	low, high := describe.Quantile(sorted, 0.05), describe.Quantile(sorted, 0.95)
	first, last := slices.Min(all), slices.Max(all)
	if !(high-low < (1-sparseEnds)*(last-first)) {
		return nil
	}
	s := b.X.Scale()
	text := func(u float64) string { return mark.ValueText(b.X, s.Undrawn(u)) }
	end, above := last, true
	if low-first > last-high {
		end, above = first, false
	}
	return &Edges{text(low), text(high), text(end), above}
}

// skewed tells whether a log scale would spread an axis, from some of the values along it and
// the ends of all.
func (b *Drawn) skewed(a *mark.Axis, some, all, drawn []float64) (Skewed, bool) {
	if a.Kind != scale.Linear || a.Column == nil || a.Aggregated() || len(a.More) > 0 || len(some) < fewestEdged {
		return Skewed{}, false
	}
	highest := slices.Max(all)
	if !describe.SuggestsLog(describe.Skew(some), slices.Min(all), highest) {
		return Skewed{}, false
	}
	sorted := slices.Clone(some)
	slices.Sort(sorted)
	return Skewed{Middle: mark.ValueText(a, describe.Quantile(sorted, 0.5)), Highest: mark.ValueText(a, slices.Max(drawn))}, true
}

// missing compares the rows that have x and no y.
func (b *Drawn) missing() *Missing {
	if len(b.rows.gaps) < fewestMissing || b.X.Column == nil || len(b.Y.More) > 0 {
		return nil
	}
	s := b.X.Scale()
	values := axisValues(b.X.Column)
	var gone []float64
	for _, row := range b.rows.gaps {
		if u := s.Drawn(values[row]); !math.IsNaN(u) && !math.IsInf(u, 0) {
			gone = append(gone, u)
		}
	}
	difference, _, p := model.Differ(gone, b.rows.x)
	if len(gone) < fewestMissing || !(p < missingDiffersP) {
		return nil
	}
	middle := func(values []float64) string {
		mean := 0.0
		for _, v := range values {
			mean += v / float64(len(values))
		}
		return mark.ValueText(b.X, s.Undrawn(mean))
	}
	m := &Missing{Rows: len(gone), Difference: difference, With: middle(b.rows.x), Without: middle(gone)}
	if m.With == "" || m.Without == "" {
		return nil // dates beyond those that can be written
	}
	return m
}
