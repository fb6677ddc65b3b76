package model

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"copperlark/core/distribution"
)

// RobustLine is the Theil-Sen line: the median of the slopes of all pairs of
// rows with different x, and the median of y - slope x. Interval is Sen's 95 %
// interval of the slope.
//
// Source: Sen 1968, "Estimates of the regression coefficient based on Kendall's
// tau", JASA 63, equation 2.6 and section 4.
type RobustLine struct {
	N, Slopes        int
	Slope, Intercept float64
	Interval         Interval
	XMin, XMax       float64
	Sampled          bool // the slopes are a seeded sample of the pairs
}

// exactRobustRows is the most rows for which every pair is looked at.
const exactRobustRows = 3000

// sampledSlopes is how many pairs are drawn beyond that.
const sampledSlopes = 2_000_000

// FitRobustLine fits a Theil-Sen line to complete pairs. Above 3,000 rows it
// takes a sample of pairs drawn with the seed, and says so in Sampled.
func FitRobustLine(ctx context.Context, x, y []float64, seed uint64) (*RobustLine, error) {
	n := len(x)
	if n < 2 {
		return nil, ErrTooFewRows
	}
	l := &RobustLine{N: n, XMin: slices.Min(x), XMax: slices.Max(x)}
	if l.XMin == l.XMax {
		return nil, ErrXNoSpread
	}
	var slopes []float64
	if n <= exactRobustRows {
		slopes = make([]float64, 0, n*(n-1)/2)
		for j := range x {
			for i := range j {
				if dx := x[j] - x[i]; dx != 0 {
					slopes = append(slopes, (y[j]-y[i])/dx)
				}
			}
		}
	} else {
		l.Sampled = true
		source := rand.New(rand.NewPCG(seed, 0))
		slopes = make([]float64, 0, sampledSlopes)
		for range sampledSlopes {
			i, j := source.IntN(n), source.IntN(n)
			if dx := x[j] - x[i]; dx != 0 {
				slopes = append(slopes, (y[j]-y[i])/dx)
			}
		}
		if len(slopes) == 0 {
			return nil, ErrXNoSpread
		}
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	slices.Sort(slopes)
	l.Slopes = len(slopes)
	l.Slope = sortedMedian(slopes)
	rest := make([]float64, n)
	for i := range x {
		rest[i] = y[i] - l.Slope*x[i]
	}
	slices.Sort(rest)
	l.Intercept = sortedMedian(rest)
	l.Interval = senInterval(slopes, x, y, l.Sampled)
	return l, nil
}

func sortedMedian(v []float64) float64 {
	middle := len(v) / 2
	if len(v)%2 == 1 {
		return v[middle]
	}
	return v[middle-1] + (v[middle]-v[middle-1])/2
}

// senInterval takes the order statistics of the slopes at (N ∓ C)/2 with
// C = z √Var(S), the variance of Kendall's S with ties. For a sample of pairs
// the ranks are scaled to the sample.
func senInterval(slopes, x, y []float64, sampled bool) Interval {
	n := float64(len(x))
	variance := (n*(n-1)*(2*n+5) - tieTerm(x) - tieTerm(y)) / 18
	c := distribution.NormalQuantile(0.025) * math.Sqrt(max(variance, 0))
	count := float64(len(slopes))
	if sampled {
		c *= count / (n * (n - 1) / 2)
	}
	low := int(math.Round((count - c) / 2))
	high := int(math.Round((count + c) / 2))
	return Interval{slopes[max(low, 1)-1], slopes[min(high+1, len(slopes))-1]}
}

// tieTerm is Σ t(t-1)(2t+5) over groups of t equal values.
func tieTerm(values []float64) float64 {
	sorted := slices.Clone(values)
	slices.Sort(sorted)
	sum, run := 0.0, 1.0
	for i := 1; i <= len(sorted); i++ {
		if i < len(sorted) && sorted[i] == sorted[i-1] {
			run++
			continue
		}
		sum += run * (run - 1) * (2*run + 5)
		run = 1
	}
	return sum
}

// At is the height of the line at x.
func (l *RobustLine) At(x float64) float64 { return l.Intercept + l.Slope*x }
