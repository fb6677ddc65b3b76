package describe

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/mathext"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/model"
)

// ErrNoRows is the reason why nothing can be said of groups.
const ErrNoRows = Error("no complete rows")

// Wilson is the score interval of yes among n rows, for a quantile z of the normal
// distribution (Wilson 1927, JASA 22): NaN without rows, exactly 0 where none is yes and 1
// where all are.
func Wilson(yes, n int, z float64) model.Interval {
	m := float64(n)
	p := float64(yes) / m
	half := z * math.Sqrt(p*(1-p)/m+z*z/(4*m*m)) / (1 + z*z/m)
	middle := (p + z*z/(2*m)) / (1 + z*z/m)
	out := model.Interval{Low: middle - half, High: middle + half}
	if yes == 0 {
		out.Low = 0
	}
	if yes == n {
		out.High = 1
	}
	return out
}

// Share is a share of rows with its standard error and Wilson interval at a level.
type Share struct {
	N, Yes    int
	Share, SE float64
	Interval  model.Interval
}

// ShareOf gives the share of yes among n rows.
func ShareOf(yes, n int, level float64) Share {
	p := float64(yes) / float64(n)
	return Share{n, yes, p, math.Sqrt(p * (1 - p) / float64(n)), Wilson(yes, n, distribution.NormalQuantile((1-level)/2))}
}

// MedianInterval is a median with the interval of order statistics x(r), x(n+1−r), where r
// is the largest whole number with 2 P(B ≤ r−1) ≤ 1 − level, B binomial with n and 1/2
// (David and Nagaraja 2003, Order Statistics, chapter 7). Cover is its exact coverage. Where
// there is no such r the interval is NaN.
type MedianInterval struct {
	Median, Cover float64
	Interval      model.Interval
}

// MedianOf gives the median of values and its interval; the values are sorted in place.
func MedianOf(values []float64, level float64) MedianInterval {
	slices.Sort(values)
	n := len(values)
	out := MedianInterval{Quantile(values, 0.5), math.NaN(), model.Interval{Low: math.NaN(), High: math.NaN()}}
	tail := func(r int) float64 { // 2 P(B ≤ r−1)
		return 2 * mathext.RegIncBeta(float64(n-r+1), float64(r), 0.5)
	}
	low, high := 0, n/2+1 // tail(low) is small enough, 0 standing for none
	for high-low > 1 {
		if middle := (low + high) / 2; tail(middle) <= 1-level {
			low = middle
		} else {
			high = middle
		}
	}
	if low > 0 {
		out.Interval, out.Cover = model.Interval{Low: values[low-1], High: values[n-low]}, 1-tail(low)
	}
	return out
}

// GroupSummary is what is told of the numbers of one group.
type GroupSummary struct {
	MeanInterval
	SE float64
	MedianInterval
}

// Welch is the one-way test of equal means where spreads may differ (Welch 1951, Biometrika
// 38), over the groups of at least two rows.
type Welch struct{ F, DF1, DF2, P float64 }

// Grouped is numbers by groups: each group's summary, the share of the spread that lies
// between them, and Welch's test; NaN and nil where they are not defined.
type Grouped struct {
	N      int
	Groups []GroupSummary // by group; N 0 where it has no rows
	Eta2   float64
	Welch  *Welch
}

// SummariseGroups computes it. No value may be missing.
func SummariseGroups(ctx context.Context, values []float64, group []int32, groups int, level float64) (*Grouped, error) {
	if len(values) == 0 {
		return nil, ErrNoRows
	}
	if err := magnitude.InRange(values); err != nil {
		return nil, err
	}
	by := make([][]float64, groups)
	for i, g := range group {
		by[g] = append(by[g], values[i])
	}
	out := &Grouped{N: len(values), Groups: make([]GroupSummary, groups), Eta2: math.NaN()}
	grand := Summarise(values).Mean
	between, within := 0.0, 0.0
	some := 0
	for g, of := range by {
		if len(of) == 0 {
			continue
		}
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		some++
		mean, err := IntervalOfMean(of, level)
		if err != nil {
			return nil, err
		}
		n := float64(len(of))
		out.Groups[g] = GroupSummary{mean, mean.SD / math.Sqrt(n), MedianOf(of, level)}
		between += n * (mean.Mean - grand) * (mean.Mean - grand)
		if len(of) > 1 {
			within += (n - 1) * mean.SD * mean.SD
		}
	}
	if total := between + within; some > 1 && total > 0 {
		out.Eta2 = between / total
	}
	out.Welch = welch(out.Groups)
	return out, nil
}

func welch(groups []GroupSummary) *Welch {
	k, sumW, sumWM := 0.0, 0.0, 0.0
	for _, g := range groups {
		if g.N < 2 {
			continue
		}
		if g.SD == 0 {
			return nil
		}
		w := float64(g.N) / (g.SD * g.SD)
		k, sumW, sumWM = k+1, sumW+w, sumWM+w*g.Mean
	}
	if k < 2 {
		return nil
	}
	centre, l, above := sumWM/sumW, 0.0, 0.0
	for _, g := range groups {
		if g.N < 2 {
			continue
		}
		w := float64(g.N) / (g.SD * g.SD)
		l += (1 - w/sumW) * (1 - w/sumW) / float64(g.N-1)
		above += w * (g.Mean - centre) * (g.Mean - centre)
	}
	t := &Welch{DF1: k - 1, DF2: (k*k - 1) / (3 * l)}
	t.F = above / (k - 1) / (1 + 2*(k-2)*l/(k*k-1))
	t.P = distribution.FSurvival(t.F, t.DF1, t.DF2)
	return t
}

// CrossTable is two columns of groups: counts, what they would be if the columns had nothing
// to do with each other, Pearson's chi squared without correction, and Cramér's V, plain and
// corrected for its bias (Bergsma 2013, J. Korean Statistical Society 42). NaN where it is
// not defined.
type CrossTable struct {
	N             int
	Counts        [][]int
	Expected      [][]float64
	LeastExpected float64
	Chi2, P       float64
	DF            int // 0: not defined
	V, PlainV     float64
}

// Cross counts two columns of groups against each other. No value may be missing; every
// group must have a row.
func Cross(a []int32, rows int, b []int32, columns int) (*CrossTable, error) {
	if len(a) == 0 {
		return nil, ErrNoRows
	}
	t := &CrossTable{N: len(a), LeastExpected: math.Inf(1), Chi2: math.NaN(), P: math.NaN(), V: math.NaN(), PlainV: math.NaN()}
	perRow, perColumn := make([]int, rows), make([]int, columns)
	for range rows {
		t.Counts, t.Expected = append(t.Counts, make([]int, columns)), append(t.Expected, make([]float64, columns))
	}
	for i := range a {
		t.Counts[a[i]][b[i]]++
		perRow[a[i]]++
		perColumn[b[i]]++
	}
	n, chi2 := float64(t.N), 0.0
	for i := range rows {
		for j := range columns {
			e := float64(perRow[i]) * float64(perColumn[j]) / n
			t.Expected[i][j] = e
			t.LeastExpected = min(t.LeastExpected, e)
			d := float64(t.Counts[i][j]) - e
			chi2 += d * d / e
		}
	}
	if rows < 2 || columns < 2 {
		return t, nil
	}
	r, c := float64(rows), float64(columns)
	t.Chi2, t.DF = chi2, (rows-1)*(columns-1)
	t.P = distribution.ChiSquaredSurvival(chi2, float64(t.DF))
	t.PlainV = math.Sqrt(chi2 / n / min(r-1, c-1))
	phi2 := max(0, chi2/n-(r-1)*(c-1)/(n-1))
	if least := min(r-(r-1)*(r-1)/(n-1), c-(c-1)*(c-1)/(n-1)) - 1; least > 0 {
		t.V = math.Sqrt(phi2 / least)
	}
	return t, nil
}
