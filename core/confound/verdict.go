package confound

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sort"
	"sync"

	"copperlark/core/describe"
	"copperlark/core/model"
	"copperlark/core/parallel"
	"copperlark/core/table"
)

// Verdict says what a column does to the relation of x and y.
type Verdict string

// The verdicts, in the order in which they are told.
const (
	Reverses     Verdict = "reverses"      // the signs differ, and both intervals leave zero out
	ExplainsAway Verdict = "explains away" // the slope is clear overall, and not within
	Hides        Verdict = "hides"         // the slope is clear within, and not overall
	Differs      Verdict = "differs"       // the groups have slopes of their own
	Weakens      Verdict = "weakens"       // within, the slope is at least a quarter nearer zero
	Strengthens  Verdict = "strengthens"   // within, it is at least a quarter further from zero
	Holds        Verdict = "holds"         // within as overall
	TooLittle    Verdict = "too little to say"
)

var order = []Verdict{Reverses, ExplainsAway, Hides, Differs, Weakens, Strengthens, Holds, TooLittle}

// Finding is what was found of one candidate.
type Finding struct {
	Column   string
	Verdict  Verdict
	Overall  float64 // slope of y on x over the rows that have the candidate
	Within   float64 // slope within groups, or at a fixed value of a number
	Change   float64 // (Within - Overall)/|Overall|
	Groups   int     // groups that were large enough; 0 for a number
	BetweenX float64 // share of the spread of x that lies between the groups
	Rows     int
	Missing  string // of TooLittle: what there is too little of

	pWithin, pOverall, pEqual float64
	difference                model.Interval
}

// The thresholds of a verdict.
const (
	level         = 0.95
	differsAt     = 0.01
	smallestGroup = 5
	notedChange   = 0.25
	mostGroups    = 60
)

// Rank tries each column as a hidden explanation of the relation between x and y
// and gives the findings, the most telling first. x, y are in drawn space, one for
// each entry of rows, which are the rows of the columns. done is told each time a
// candidate is ready, one at a time, and may be nil. Candidates are tried on all
// cores.
//
// A column of groups is compared within its groups of at least 5 rows with a
// spread of x; a column of numbers is held fixed as itself. Claims that need a
// slope or a difference to be clear use p values adjusted for all candidates
// (Holm 1979, Scandinavian Journal of Statistics 6). A change counts when the 95 %
// interval of Within - Overall, by a bootstrap over rows, leaves zero out.
func Rank(ctx context.Context, x, y []float64, rows []uint32, candidates []*table.Column, done func(Finding)) ([]Finding, error) {
	findings := make([]Finding, len(candidates))
	var telling sync.Mutex
	err := parallel.Each(ctx, len(candidates), func(i int) error {
		findings[i] = try(ctx, x, y, rows, candidates[i])
		if done != nil {
			telling.Lock()
			defer telling.Unlock()
			done(findings[i])
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	judge(findings)
	sort.SliceStable(findings, func(i, j int) bool {
		a, b := slices.Index(order, findings[i].Verdict), slices.Index(order, findings[j].Verdict)
		if a != b {
			return a < b
		}
		return math.Abs(findings[i].Change) > math.Abs(findings[j].Change)
	})
	return findings, nil
}

func try(ctx context.Context, x, y []float64, rows []uint32, c *table.Column) Finding {
	f := Finding{Column: c.Name, Verdict: TooLittle, pWithin: math.NaN(), pOverall: math.NaN(), pEqual: math.NaN()}
	groups := c
	if !c.Kind.Coded() {
		if c.Kind == table.Number && c.SuggestsGroups() {
			groups = c.AsGroups(mostGroups)
		} else {
			return f.tryNumber(ctx, x, y, rows, c)
		}
	}
	if groups == nil || len(groups.Levels) > mostGroups {
		f.Missing = fmt.Sprintf("rows: there are more than %d groups", mostGroups)
		return f
	}
	return f.tryGroups(ctx, x, y, rows, groups)
}

func (f Finding) tryGroups(ctx context.Context, x, y []float64, rows []uint32, c *table.Column) Finding {
	k := len(c.Levels)
	counts := make([]int, k)
	low, high := make([]float64, k), make([]float64, k)
	for g := range k {
		low[g], high[g] = math.Inf(1), math.Inf(-1)
	}
	for i, row := range rows {
		if g := c.Codes[row]; g >= 0 {
			counts[g]++
			low[g], high[g] = min(low[g], x[i]), max(high[g], x[i])
		}
	}
	large := make([]bool, k)
	for g := range k {
		if large[g] = counts[g] >= smallestGroup && high[g] > low[g]; large[g] {
			f.Groups++
		}
	}
	if f.Groups < 2 {
		f.Missing = fmt.Sprintf("groups: fewer than two have %d rows and a spread of x", smallestGroup)
		return f
	}
	gx, gy, codes := make([]float64, 0, len(x)), make([]float64, 0, len(x)), make([]int32, 0, len(x))
	for i, row := range rows {
		if g := c.Codes[row]; g >= 0 && large[g] {
			gx, gy, codes = append(gx, x[i]), append(gy, y[i]), append(codes, g)
		}
	}
	compared, err := Compare(ctx, gx, gy, codes, k)
	if err != nil || compared.Within == nil {
		f.Missing = "rows with a spread of x"
		return f
	}
	f.Rows, f.Overall, f.Within, f.BetweenX = compared.N, compared.Pooled.Slope, compared.Within.Slope, compared.BetweenShare
	f.pOverall, f.pWithin = compared.Pooled.PSlope(), compared.Within.P
	if compared.EqualSlopes != nil {
		f.pEqual = compared.EqualSlopes.P
	}
	f.difference = bootstrapGroups(ctx, gx, gy, codes, k, f.Within-f.Overall)
	return f
}

func (f Finding) tryNumber(ctx context.Context, x, y []float64, rows []uint32, c *table.Column) Finding {
	nx, ny, nz := make([]float64, 0, len(x)), make([]float64, 0, len(x)), make([]float64, 0, len(x))
	for i, row := range rows {
		if z := c.Numbers[row]; !math.IsNaN(z) {
			nx, ny, nz = append(nx, x[i]), append(ny, y[i]), append(nz, z)
		}
	}
	if len(nx) < 2*smallestGroup {
		f.Missing = fmt.Sprintf("rows: fewer than %d have a value", 2*smallestGroup)
		return f
	}
	adjusted, err := Adjust(ctx, nx, ny, nz)
	if err != nil {
		f.Missing = err.Error()
		return f
	}
	f.Rows, f.Overall, f.Within = adjusted.N, adjusted.Pooled.Slope, adjusted.Slope.Slope
	f.pOverall, f.pWithin = adjusted.Pooled.PSlope(), adjusted.Slope.P
	if correlation, err := describe.PearsonOf(nx, nz); err == nil {
		f.BetweenX = correlation.R * correlation.R
	}
	f.difference = bootstrapNumber(ctx, nx, ny, nz, f.Within-f.Overall)
	return f
}

// judge turns what was computed into verdicts, with p values adjusted over all
// candidates.
func judge(findings []Finding) {
	within, equal := make([]float64, len(findings)), make([]float64, len(findings))
	for i, f := range findings {
		within[i], equal[i] = f.pWithin, f.pEqual
	}
	within, equal = holm(within), holm(equal)
	for i := range findings {
		f := &findings[i]
		if f.Missing != "" {
			continue
		}
		f.Change = (f.Within - f.Overall) / math.Abs(f.Overall)
		clearOverall, clearWithin := f.pOverall < 1-level, within[i] < 1-level
		moved := f.difference.Low > 0 || f.difference.High < 0
		noted := moved && math.Abs(f.Change) >= notedChange
		nearer := math.Abs(f.Within) < math.Abs(f.Overall)
		switch {
		case clearOverall && clearWithin && f.Overall*f.Within < 0:
			f.Verdict = Reverses
		case clearOverall && !(f.pWithin < 1-level) && noted:
			f.Verdict = ExplainsAway
		case !clearOverall && clearWithin && noted:
			f.Verdict = Hides
		case equal[i] < differsAt:
			f.Verdict = Differs
		case noted && nearer:
			f.Verdict = Weakens
		case noted:
			f.Verdict = Strengthens
		default:
			f.Verdict = Holds
		}
	}
}

// holm adjusts p values so that the chance of one false claim among all is below
// the level; NaN stays and does not count.
func holm(p []float64) []float64 {
	adjusted := slices.Clone(p)
	var known []int
	for i, v := range p {
		if !math.IsNaN(v) {
			known = append(known, i)
		}
	}
	sort.Slice(known, func(a, b int) bool { return p[known[a]] < p[known[b]] })
	largest := 0.0
	for rank, i := range known {
		largest = max(largest, min(1, p[i]*float64(len(known)-rank)))
		adjusted[i] = largest
	}
	return adjusted
}
