package figure

import (
	"math"

	"copperlark/core/mark"
	"copperlark/core/model"
)

// Notes are what could be wrong with a line through all rows.
type Notes struct {
	Carriers []string // names of the few rows that move the slope most; empty where none do
	Without  float64  // the slope without them
	BendP    float64  // that the relation bends by chance; NaN where it cannot be told
	BendGain float64  // the share of what the line leaves that a curve takes away
	Missing  *Missing // of rows without y; nil where they are like the others, or few
}

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
	rowsToACarrier  = 10
	mostBent        = 5_000
	fewestMissing   = 10
	missingDiffersP = 0.01
)

// notes looks at the line of all rows.
func (b *builder) notes(line *model.Line) *Notes {
	n := &Notes{BendP: math.NaN(), BendGain: math.NaN()}
	x, y := b.rows.x, b.rows.y
	for _, c := range model.Carriers(line, x, y, mostCarriers) {
		if len(x) < rowsToACarrier*len(c.Rows) {
			break
		}
		if share := 1 - c.Slope/line.Slope; math.Abs(share) >= carriedShare {
			for _, at := range c.Rows {
				n.Carriers = append(n.Carriers, RowName(b.table, int(b.rows.rows[at])))
			}
			n.Without = c.Slope
			break
		}
	}
	if step := (len(x) + mostBent - 1) / mostBent; step > 1 {
		var tx, ty []float64
		for i := 0; i < len(x); i += step {
			tx, ty = append(tx, x[i]), append(ty, y[i])
		}
		x, y = tx, ty
		thin, err := model.FitLine(b.ctx, x, y)
		if err != nil {
			return n
		}
		line = thin
	}
	n.BendP, n.BendGain = model.Bends(b.ctx, line, x, y)
	n.Missing = b.missing()
	return n
}

// missing compares the rows that have x and no y.
func (b *builder) missing() *Missing {
	if len(b.rows.gaps) < fewestMissing || b.x.Column == nil || len(b.y.More) > 0 {
		return nil
	}
	s := b.x.Scale()
	values := axisValues(b.x.Column)
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
		return mark.ValueText(b.x, s.Undrawn(mean))
	}
	return &Missing{Rows: len(gone), Difference: difference, With: middle(b.rows.x), Without: middle(gone)}
}
