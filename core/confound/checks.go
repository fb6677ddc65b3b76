package confound

import (
	"cmp"
	"context"
	"errors"
	"math"
	"slices"

	"copperlark/core/describe"
	"copperlark/core/model"
	"copperlark/core/table"
)

// Check is the slope of y on x looked at another way. Slope and Interval are NaN where it
// has none, and Problem says why.
type Check struct {
	Kind     CheckKind
	Column   string // that is held fixed
	N        int
	Slope    float64
	Interval model.Interval // 95 %
	Left     []int          // of WithoutInfluential: places of the rows left out, the most influential first
	Problem  string
	Exact    bool // of all rows, of which those at hand are a sample
}

// CheckKind is a way of looking.
type CheckKind string

// The ways of looking. An influential row has |studentised residual| > 3 or Cook's D > 4/n.
const (
	AllRows            CheckKind = "all rows"
	Robust95           CheckKind = "robust line"
	Bootstrapped       CheckKind = "bootstrap"
	WithoutInfluential CheckKind = "without influential rows"
	FirstHalf          CheckKind = "first half of the rows"
	SecondHalf         CheckKind = "second half of the rows"
	LowerHalf          CheckKind = "lower half of x"
	UpperHalf          CheckKind = "upper half of x"
	HeldFixed          CheckKind = "held fixed"
	AllHeldFixed       CheckKind = "all held fixed"
)

// The bounds of holding all columns fixed: levels of a column of groups, and rows for each
// coefficient.
const (
	mostHeldLevels = 12
	rowsEach       = 5
)

// Checks looks at a slope in every one of these ways, each column of candidates held fixed
// and then all of them at once (by the rows that have them all, evenly thinned to 30,000;
// columns of more than 12 groups are left out of that). x, y and rows are those of Rank; all rows, of which they are a
// sample, answer for themselves and for each column held fixed.
func Checks(ctx context.Context, x, y []float64, rows []uint32, candidates []*table.Column, all All) ([]Check, error) {
	line, err := model.FitLine(ctx, x, y)
	if err != nil {
		return nil, err
	}
	list := []Check{lineCheck(AllRows, line, nil)}
	if whole := all.Line(); whole != nil {
		line, err := whole.Line()
		list[0] = lineCheck(AllRows, line, err)
		list[0].Exact = true
	}
	robust, err := model.FitRobustLine(ctx, x, y, bootstrapSeed)
	if err != nil {
		list = append(list, problem(Robust95, "", err))
	} else {
		list = append(list, Check{Kind: Robust95, N: robust.N, Slope: robust.Slope, Interval: robust.Interval})
	}
	list = append(list, bootstrapCheck(ctx, x, y, line), withoutInfluential(ctx, x, y, line))
	half := len(x) / 2
	list = append(list, partCheck(ctx, FirstHalf, x[:half], y[:half]), partCheck(ctx, SecondHalf, x[half:], y[half:]))
	if !twoValues(x) {
		list = append(list, halvesOfX(ctx, x, y)...)
	}
	var held []*table.Column
	for _, c := range candidates {
		f := try(ctx, x, y, rows, c, all)
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if f.Missing != "" || f.AlikeTo != "" {
			continue
		}
		list = append(list, Check{Kind: HeldFixed, Column: c.Name, N: f.Rows, Slope: f.Within, Interval: f.WithinInterval, Exact: f.Exact})
		if groups := asGroups(c); groups == nil || len(groups.Levels) <= mostHeldLevels {
			held = append(held, c)
		}
	}
	if len(held) > 1 {
		list = append(list, allHeld(ctx, x, y, rows, held))
	}
	return list, ctx.Err()
}

var errNoneInfluential = errors.New("no row is influential")

func lineCheck(kind CheckKind, l *model.Line, err error) Check {
	if err != nil {
		return problem(kind, "", err)
	}
	return Check{Kind: kind, N: l.N, Slope: l.Slope, Interval: l.SlopeInterval(level)}
}

func problem(kind CheckKind, column string, err error) Check {
	nan := math.NaN()
	return Check{Kind: kind, Column: column, Slope: nan, Interval: model.Interval{Low: nan, High: nan}, Problem: err.Error()}
}

func partCheck(ctx context.Context, kind CheckKind, x, y []float64) Check {
	line, err := model.FitLine(ctx, x, y)
	return lineCheck(kind, line, err)
}

// bootstrapCheck is the slope with its percentile interval over draws of rows.
func bootstrapCheck(ctx context.Context, x, y []float64, line *model.Line) Check {
	blocks := make([]moments, blockCount(len(x)))
	for i := range x {
		dx, dy := x[i]-line.XMean, y[i]-line.YMean
		blocks[i%len(blocks)].add(&moments{1, dx, dy, dx * dx, dx * dy})
	}
	interval := percentile(ctx, len(blocks), line.Slope, func(draw []int) (float64, bool) {
		var all moments
		for _, at := range draw {
			all.add(&blocks[at])
		}
		sxx := all.sxx()
		return all.sxy() / sxx, sxx > 1e-12*line.Sxx
	})
	return Check{Kind: Bootstrapped, N: line.N, Slope: line.Slope, Interval: interval}
}

// twoValues reports whether x takes no more than two values, as where two groups are compared.
func twoValues(x []float64) bool {
	other := x[0]
	for _, v := range x {
		if v != x[0] && v != other {
			if other != x[0] {
				return false
			}
			other = v
		}
	}
	return true
}

func withoutInfluential(ctx context.Context, x, y []float64, line *model.Line) Check {
	influence := model.InfluenceOn(line, x, y)
	left := influence.Outliers()
	if len(left) == 0 {
		return problem(WithoutInfluential, "", errNoneInfluential)
	}
	without, err := model.FitLineLeaving(ctx, x, y, left)
	out := lineCheck(WithoutInfluential, without, err)
	out.Left = left
	slices.SortStableFunc(out.Left, func(a, b int) int { return cmp.Compare(influence.CooksD[b], influence.CooksD[a]) })
	return out
}

// halvesOfX divides the rows at the median of x; rows at the median are in the lower half.
func halvesOfX(ctx context.Context, x, y []float64) []Check {
	median := describe.Quantiles(x, 0.5)[0]
	var lx, ly, ux, uy []float64
	for i := range x {
		if x[i] <= median {
			lx, ly = append(lx, x[i]), append(ly, y[i])
		} else {
			ux, uy = append(ux, x[i]), append(uy, y[i])
		}
	}
	return []Check{partCheck(ctx, LowerHalf, lx, ly), partCheck(ctx, UpperHalf, ux, uy)}
}

// allHeld holds every column fixed at once.
func allHeld(ctx context.Context, x, y []float64, rows []uint32, columns []*table.Column) Check {
	w := wholeRows(x, y, rows, columns)
	coefficients := 2 + len(w.values)
	for _, size := range w.sizes {
		coefficients += size - 1
	}
	if len(w.x) < rowsEach*coefficients {
		return problem(AllHeldFixed, "", Error("too few rows have all of these columns"))
	}
	held, err := holding(ctx, w.x, w.y, w.codes, w.sizes, w.values)
	if err != nil {
		return problem(AllHeldFixed, "", err)
	}
	c := held.Last(w.y)
	return Check{Kind: AllHeldFixed, N: len(w.x), Slope: c.Value, Interval: intervalOf(c)}
}
