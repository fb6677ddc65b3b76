package model

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/parallel"
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
	if err := magnitude.InRange(x, y); err != nil {
		return nil, err
	}
	l := &RobustLine{N: n, XMin: slices.Min(x), XMax: slices.Max(x)}
	if l.XMin == l.XMax {
		return nil, ErrXNoSpread
	}
	var slopes []float64
	if n <= exactRobustRows {
		slopes = make([]float64, 0, n*(n-1)/2)
		for j := range x {
			if err := ctx.Err(); err != nil {
				return nil, err
			}
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
		if err := parallel.Rows(ctx, sampledSlopes, func(int) {
			i, j := source.IntN(n), source.IntN(n)
			if dx := x[j] - x[i]; dx != 0 {
				slopes = append(slopes, (y[j]-y[i])/dx)
			}
		}); err != nil {
			return nil, err
		}
		if len(slopes) == 0 {
			return nil, ErrXNoSpread
		}
	}
	if err := parallel.Sort(ctx, slopes); err != nil {
		return nil, err
	}
	l.Slopes = len(slopes)
	l.Slope = sortedMedian(slopes)
	rest := make([]float64, n)
	for i := range x {
		rest[i] = y[i] - l.Slope*x[i]
	}
	if err := parallel.Sort(ctx, rest); err != nil {
		return nil, err
	}
	l.Intercept = sortedMedian(rest)
	var err error
	l.Interval, err = senInterval(ctx, slopes, x, y, l.Sampled)
	return l, err
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
func senInterval(ctx context.Context, slopes, x, y []float64, sampled bool) (Interval, error) {
	tiesX, err := tieTerm(ctx, x)
	if err != nil {
		return Interval{}, err
	}
	tiesY, err := tieTerm(ctx, y)
	if err != nil {
		return Interval{}, err
	}
	n := float64(len(x))
	variance := (n*(n-1)*(2*n+5) - tiesX - tiesY) / 18
	c := distribution.NormalQuantile(0.025) * math.Sqrt(max(variance, 0))
	count := float64(len(slopes))
	if sampled {
		c *= count / (n * (n - 1) / 2)
	}
	low := int(math.Round((count - c) / 2))
	high := int(math.Round((count + c) / 2))
	return Interval{slopes[min(max(low, 1), len(slopes))-1], slopes[max(min(high+1, len(slopes)), 1)-1]}, nil
}

// tieTerm is Σ t(t-1)(2t+5) over groups of t equal values.
func tieTerm(ctx context.Context, values []float64) (float64, error) {
	sorted := slices.Clone(values)
	if err := parallel.Sort(ctx, sorted); err != nil {
		return 0, err
	}
	sum, run := 0.0, 1.0
	for i := 1; i <= len(sorted); i++ {
		if i < len(sorted) && sorted[i] == sorted[i-1] {
			run++
			continue
		}
		sum += run * (run - 1) * (2*run + 5)
		run = 1
	}
	return sum, nil
}

// At is the height of the line at x.
func (l *RobustLine) At(x float64) float64 { return l.Intercept + l.Slope*x }
