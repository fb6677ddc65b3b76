// Package describe summarises single columns and measures how two columns go
// together.
//
// Numbers are float64 with NaN for missing; missing values are left out first,
// and every result says how many were used. A quantity that is not defined (the
// standard deviation of one value, say) is NaN.
package describe

import (
	"context"
	"math"
	"slices"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
	"copperlark/core/model"
	"copperlark/core/parallel"
)

// Error is the reason why a measure cannot be taken.
type Error string

func (e Error) Error() string { return string(e) }

// The reasons.
const (
	ErrNoValues  = Error("no values")
	ErrTooFew    = Error("fewer than 2 complete rows")
	ErrXNoSpread = Error("x has no spread")
	ErrYNoSpread = Error("y has no spread")
)

// Summary describes a column of numbers. SD is √(Σ(x - x̄)²/(n-1)); quartiles are
// by linear interpolation (see Quantile); Skew is m₃/m₂^1.5 with central moments
// over n.
type Summary struct {
	N, Missing          int
	Mean, SD, Min, Max  float64
	Q1, Median, Q3, IQR float64
	Skew                float64
	Distinct            int
}

// Summarise describes values. With no values every statistic is NaN.
func Summarise(values []float64) Summary {
	sorted := Present(values)
	s := Summary{N: len(sorted), Missing: len(values) - len(sorted)}
	nan := math.NaN()
	s.Mean, s.SD, s.Min, s.Max, s.Q1, s.Median, s.Q3, s.IQR, s.Skew = nan, nan, nan, nan, nan, nan, nan, nan, nan
	if s.N == 0 {
		return s
	}
	slices.Sort(sorted)
	s.Min, s.Max = sorted[0], sorted[s.N-1]
	s.Q1, s.Median, s.Q3 = Quantile(sorted, 0.25), Quantile(sorted, 0.5), Quantile(sorted, 0.75)
	s.IQR = s.Q3 - s.Q1
	sorted, unit := magnitude.Scaled(sorted)
	s.Mean = mean(sorted)
	m2, m3 := 0.0, 0.0
	for i, v := range sorted {
		d := v - s.Mean
		m2 += d * d
		m3 += d * d * d
		if i == 0 || v != sorted[i-1] {
			s.Distinct++
		}
	}
	if s.N > 1 {
		s.SD = math.Sqrt(m2 / float64(s.N-1))
	}
	if m2 > 0 {
		n := float64(s.N)
		s.Skew = m3 / n / math.Pow(m2/n, 1.5)
	}
	s.Mean, s.SD = s.Mean*unit, s.SD*unit
	return s
}

// Skew is m₃/m₂^1.5 with central moments over the n values that are not missing; NaN where
// they have no spread.
func Skew(values []float64) float64 {
	values, _ = magnitude.Scaled(values)
	n, sum := 0.0, 0.0
	for _, v := range values {
		if !math.IsNaN(v) {
			n, sum = n+1, sum+v
		}
	}
	about := sum / n
	m2, m3 := 0.0, 0.0
	for _, v := range values {
		if d := v - about; !math.IsNaN(d) {
			m2, m3 = m2+d*d, m3+d*d*d
		}
	}
	if !(m2 > 0) {
		return math.NaN()
	}
	return m3 / n / math.Pow(m2/n, 1.5)
}

// SuggestsLog reports whether a column of this skew and these ends reads better on a log
// scale: strongly skewed to the right, all of it above zero, over more than a factor of 20.
func SuggestsLog(skew, low, high float64) bool { return skew > 2 && low > 0 && high > 20*low }

// Present copies the values that are not missing.
func Present(values []float64) []float64 {
	kept := make([]float64, 0, len(values))
	for _, v := range values {
		if !math.IsNaN(v) {
			kept = append(kept, v)
		}
	}
	return kept
}

// mean is taken about the first value, and corrected by the mean of what is
// left, so that an offset loses no digits.
func mean(values []float64) float64 {
	origin, sum := values[0], 0.0
	for _, v := range values {
		sum += v - origin
	}
	m := origin + sum/float64(len(values))
	rest := 0.0
	for _, v := range values {
		rest += v - m
	}
	return m + rest/float64(len(values))
}

// Quantile of sorted values by linear interpolation: h = (n-1)p, k = ⌊h⌋,
// x_k + (h-k)(x_{k+1} - x_k) (Hyndman and Fan 1996, The American Statistician
// 50, definition 7). NaN for no values.
func Quantile(sorted []float64, p float64) float64 {
	n := len(sorted)
	if n == 0 {
		return math.NaN()
	}
	h := float64(n-1) * p
	k := int(math.Floor(h))
	if k >= n-1 {
		return sorted[n-1]
	}
	return magnitude.Between(sorted[k], sorted[k+1], h-float64(k))
}

// Spread describes values without sorting them all: quartiles are exact, found by
// counting values into bins and sorting the bins that hold them. Distinct is 0. After
// the context is done the numbers mean nothing: the caller looks.
func Spread(ctx context.Context, values []float64) Summary {
	kept := values
	if slices.ContainsFunc(values, math.IsNaN) {
		kept = Present(values)
	}
	if len(kept) <= sortedSpread {
		return Summarise(kept)
	}
	s := Moments(ctx, kept)
	s.Missing = len(values) - len(kept)
	quartiles := Quantiles(kept, 0.25, 0.5, 0.75)
	s.Q1, s.Median, s.Q3 = quartiles[0], quartiles[1], quartiles[2]
	s.IQR = s.Q3 - s.Q1
	return s
}

// Moments gives n, mean, standard deviation, minimum and maximum of values without
// NaN, on all cores; the rest of the summary is NaN. After the context is done the
// numbers mean nothing: the caller looks.
func Moments(ctx context.Context, values []float64) Summary {
	nan := math.NaN()
	s := Summary{N: len(values), Mean: nan, SD: nan, Min: nan, Max: nan, Q1: nan, Median: nan, Q3: nan, IQR: nan, Skew: nan}
	if s.N == 0 {
		return s
	}
	values, unit := magnitude.Scaled(values)
	type part struct{ sum, low, high float64 }
	parts := make([]part, parallel.Workers(s.N))
	origin := values[0]
	for i := range parts {
		parts[i].low, parts[i].high = origin, origin
	}
	add := func(work func(p *part, values []float64)) (total float64) {
		_ = parallel.Ranges(ctx, s.N, func(worker, from, to int) {
			p := parts[worker]
			work(&p, values[from:to])
			parts[worker] = p
		})
		for i := range parts {
			total += parts[i].sum
			parts[i].sum = 0
		}
		return total
	}
	about := origin + add(func(p *part, values []float64) {
		for _, v := range values {
			p.sum += v - origin
			p.low, p.high = min(p.low, v), max(p.high, v)
		}
	})/float64(s.N)
	s.Mean = about + add(func(p *part, values []float64) { // what rounding left
		for _, v := range values {
			p.sum += v - about
		}
	})/float64(s.N)
	squares := add(func(p *part, values []float64) {
		for _, v := range values {
			p.sum += (v - s.Mean) * (v - s.Mean)
		}
	})
	if s.N > 1 {
		s.SD = math.Sqrt(squares / float64(s.N-1))
	}
	s.Min, s.Max = parts[0].low, parts[0].high
	for _, p := range parts {
		s.Min, s.Max = min(s.Min, p.low), max(s.Max, p.high)
	}
	s.Mean, s.SD, s.Min, s.Max = s.Mean*unit, s.SD*unit, s.Min*unit, s.Max*unit
	return s
}

// sortedSpread is the most values for which sorting is the quicker way.
const sortedSpread = 20_000

// Quantiles gives several quantiles (see Quantile) of values without NaN, without
// sorting them all.
func Quantiles(values []float64, shares ...float64) []float64 {
	out := make([]float64, len(shares))
	if len(values) == 0 {
		for i := range out {
			out[i] = math.NaN()
		}
		return out
	}
	low, high := slices.Min(values), slices.Max(values)
	const bins = 1 << 14
	scale := bins / (high - low)
	if len(values) <= sortedSpread || low == high || math.IsInf(scale, 0) || math.IsInf(high-low, 0) {
		sorted := slices.Clone(values)
		slices.Sort(sorted)
		for i, p := range shares {
			out[i] = Quantile(sorted, p)
		}
		return out
	}
	binOf := func(v float64) int { return min(int((v-low)*scale), bins-1) }
	starts := make([]int, bins+1) // how many values lie in the bins before
	for _, v := range values {
		starts[binOf(v)+1]++
	}
	for i := range bins {
		starts[i+1] += starts[i]
	}
	// The bins that hold the wanted ranks are gathered in one walk, and sorted.
	wanted := map[int]int{} // bin to its place in gathered
	for _, p := range shares {
		k := int(math.Floor(float64(len(values)-1) * p))
		for _, rank := range []int{k, min(k+1, len(values)-1)} {
			bin, _ := slices.BinarySearch(starts, rank+1)
			if _, there := wanted[bin-1]; !there {
				wanted[bin-1] = len(wanted)
			}
		}
	}
	place := make([]int8, bins)
	for bin, at := range wanted {
		place[bin] = int8(at + 1)
	}
	gathered := make([][]float64, len(wanted))
	for _, v := range values {
		if at := place[binOf(v)]; at > 0 {
			gathered[at-1] = append(gathered[at-1], v)
		}
	}
	for _, inside := range gathered {
		slices.Sort(inside)
	}
	at := func(rank int) float64 {
		bin, _ := slices.BinarySearch(starts, rank+1)
		return gathered[wanted[bin-1]][rank-starts[bin-1]]
	}
	for i, p := range shares {
		h := float64(len(values)-1) * p
		k := int(math.Floor(h))
		out[i] = at(k)
		if k+1 < len(values) {
			out[i] = magnitude.Between(out[i], at(k+1), h-float64(k))
		}
	}
	return out
}

// Box is what a box plot shows: quartiles, whiskers to the furthest value within
// 1.5 IQR of them, and the values beyond (Tukey 1977, Exploratory Data Analysis,
// with quartiles in place of hinges).
type Box struct {
	N                       int
	Q1, Median, Q3, IQR     float64
	WhiskerLow, WhiskerHigh float64
	Outliers                []float64 // ascending
}

// TukeyBox describes values for a box plot.
func TukeyBox(values []float64) (*Box, error) {
	sorted := Present(values)
	if len(sorted) == 0 {
		return nil, ErrNoValues
	}
	slices.Sort(sorted)
	b := &Box{N: len(sorted), Q1: Quantile(sorted, 0.25), Median: Quantile(sorted, 0.5), Q3: Quantile(sorted, 0.75)}
	b.IQR = b.Q3 - b.Q1
	low, high := b.Q1-1.5*b.IQR, b.Q3+1.5*b.IQR
	b.WhiskerLow, b.WhiskerHigh = math.NaN(), math.NaN()
	for _, v := range sorted {
		if v < low || v > high {
			b.Outliers = append(b.Outliers, v)
			continue
		}
		if math.IsNaN(b.WhiskerLow) {
			b.WhiskerLow = v
		}
		b.WhiskerHigh = v
	}
	return b, nil
}

// MeanInterval is a mean with its interval mean ± t s/√n.
type MeanInterval struct {
	N         int
	Mean, SD  float64
	Low, High float64 // NaN for one value
}

// IntervalOfMean gives the mean of values with its interval at a level such as
// 0.95.
func IntervalOfMean(values []float64, level float64) (MeanInterval, error) {
	kept := Present(values)
	if len(kept) == 0 {
		return MeanInterval{}, ErrNoValues
	}
	s := Summarise(kept)
	m := MeanInterval{N: s.N, Mean: s.Mean, SD: s.SD, Low: math.NaN(), High: math.NaN()}
	if slices.Min(kept) == slices.Max(kept) && s.N > 1 {
		m.Mean, m.SD, m.Low, m.High = kept[0], 0, kept[0], kept[0]
	} else if s.N > 1 {
		half := distribution.StudentQuantile((1-level)/2, float64(s.N-1)) * s.SD / math.Sqrt(float64(s.N))
		m.Low, m.High = s.Mean-half, s.Mean+half
	}
	return m, nil
}

// Pearson is the product-moment correlation with Fisher's interval at 95 %
// (Fisher 1921, Metron 1) and the two-sided p of t = r√((n-2)/(1-r²)).
type Pearson struct {
	N            int
	R, Low, High float64
	T, P         float64
	DF           int
}

// Correlation holds three measures of how two columns of numbers go together.
type Correlation struct {
	N        int
	Pearson  Pearson
	Spearman float64 // Pearson's r of the mid-ranks
	Kendall  float64 // tau-b
}

// complete leaves out pairs with a missing value and refuses what has no
// correlation; x is looked at first.
func complete(x, y []float64) (cx, cy []float64, err error) {
	cx, cy, _ = model.Complete(x, y)
	switch {
	case len(cx) < 2:
		return nil, nil, ErrTooFew
	case slices.Min(cx) == slices.Max(cx):
		return nil, nil, ErrXNoSpread
	case slices.Min(cy) == slices.Max(cy):
		return nil, nil, ErrYNoSpread
	}
	return cx, cy, nil
}

// Correlate measures how x and y go together over their complete pairs.
func Correlate(x, y []float64) (*Correlation, error) {
	cx, cy, err := complete(x, y)
	if err != nil {
		return nil, err
	}
	c := &Correlation{N: len(cx), Pearson: pearson(cx, cy)}
	c.Spearman = rOf(Ranks(cx), Ranks(cy))
	c.Kendall = kendall(cx, cy)
	return c, nil
}

// SpearmanOf is Pearson's correlation of the mid-ranks alone.
func SpearmanOf(x, y []float64) (float64, error) {
	cx, cy, err := complete(x, y)
	if err != nil {
		return math.NaN(), err
	}
	return rOf(Ranks(cx), Ranks(cy)), nil
}

// PearsonOf is the correlation alone, in two passes.
func PearsonOf(x, y []float64) (Pearson, error) {
	cx, cy, err := complete(x, y)
	if err != nil {
		return Pearson{}, err
	}
	return pearson(cx, cy), nil
}

func rOf(x, y []float64) float64 {
	x, _ = magnitude.Scaled(x)
	y, _ = magnitude.Scaled(y)
	mx, my := mean(x), mean(y)
	sxx, syy, sxy := 0.0, 0.0, 0.0
	for i := range x {
		dx, dy := x[i]-mx, y[i]-my
		sxx += dx * dx
		syy += dy * dy
		sxy += dx * dy
	}
	return min(max(sxy/(math.Sqrt(sxx)*math.Sqrt(syy)), -1), 1)
}

func pearson(x, y []float64) Pearson {
	n := len(x)
	p := Pearson{N: n, R: rOf(x, y), DF: n - 2, Low: math.NaN(), High: math.NaN(), T: math.NaN(), P: math.NaN()}
	perfect := 1-math.Abs(p.R) < 4*epsilon
	if perfect {
		p.R = math.Copysign(1, p.R)
		p.Low, p.High = p.R, p.R
		if n >= 3 {
			p.P = 0
		}
		return p
	}
	if n >= 4 {
		z, half := math.Atanh(p.R), distribution.NormalQuantile(0.025)/math.Sqrt(float64(n-3))
		p.Low, p.High = math.Tanh(z-half), math.Tanh(z+half)
	}
	if n >= 3 {
		p.T = p.R * math.Sqrt(float64(n-2)/((1-p.R)*(1+p.R)))
		p.P = distribution.StudentTwoSided(p.T, float64(n-2))
	}
	return p
}

const epsilon = 2.220446049250313e-16
