// Package density describes how values are spread: histograms, Gaussian
// densities of one and two columns, and hexagonal counts.
//
// Missing values (NaN) are left out. Inputs are never written to.
package density

import (
	"context"
	"math"
	"slices"
	"sync"

	"copperlark/core/describe"
	"copperlark/core/magnitude"
	"copperlark/core/parallel"
)

// Error is the reason why nothing can be said of a spread.
type Error string

func (e Error) Error() string { return string(e) }

// The reasons.
const (
	ErrNoValues = Error("no values")
	ErrNoSpread = Error("no spread")
	ErrNarrow   = Error("so narrow bins are too many")
)

// Rule chooses the width of bins.
type Rule string

// The rules: Freedman and Diaconis 1981 (width 2 IQR n^(-1/3)), Sturges 1926
// (⌈log2 n⌉ + 1 bins), and the one that makes more bins: a few values are never thrown into two.
const (
	FreedmanDiaconis Rule = "fd"
	Sturges          Rule = "sturges"
	Finer            Rule = "finer"
)

// maxBins bounds what one far value can do to a histogram.
const maxBins = 10_000

// Histogram holds counts in equal bins: bin i is [Edges[i], Edges[i+1]), the last
// one also holds the maximum.
type Histogram struct {
	N      int
	Edges  []float64
	Counts []int
}

// Bin makes a histogram. With an IQR of zero, Freedman and Diaconis' rule gives
// way to Sturges'. Equal values make one bin of width 1 about them.
func Bin(values []float64, rule Rule) (*Histogram, error) {
	sorted, err := sortedIn(values)
	if err != nil {
		return nil, err
	}
	n := len(sorted)
	low, high := sorted[0], sorted[n-1]
	if low == high {
		return &Histogram{N: n, Edges: []float64{low - 0.5, low + 0.5}, Counts: []int{n}}, nil
	}
	bins := int(math.Ceil(math.Log2(float64(n)))) + 1
	iqr := describe.Quantile(sorted, 0.75) - describe.Quantile(sorted, 0.25)
	if rule != Sturges && iqr > 0 {
		narrow := int(min(math.Ceil((high-low)/(2*iqr/math.Cbrt(float64(n)))), maxBins))
		if rule == Finer {
			narrow = max(narrow, bins)
		}
		bins = max(narrow, 1)
	}
	return counted(sorted, equalEdges(low, high, bins)), nil
}

// BinBy makes a histogram of as many equal bins as are said. Equal values make bins about them, of a width of 1 together. Errors as
// of Bin.
func BinBy(values []float64, bins int) (*Histogram, error) {
	sorted, err := sortedIn(values)
	if err != nil {
		return nil, err
	}
	low, high := sorted[0], sorted[len(sorted)-1]
	if low == high {
		low, high = low-0.5, high+0.5
	}
	return counted(sorted, equalEdges(low, high, min(max(bins, 1), maxBins))), nil
}

// BinOf makes a histogram of bins of a width above zero, whose edges are its multiples: [k w, (k+1) w), the last one also holds the
// maximum. Errors as of Bin, and ErrNarrow where there were more than 10,000.
func BinOf(values []float64, width float64) (*Histogram, error) {
	sorted, err := sortedIn(values)
	if err != nil {
		return nil, err
	}
	low, high := sorted[0], sorted[len(sorted)-1]
	first, last := math.Floor(low/width), math.Floor(high/width)+1
	if last-1 > first && high == (last-1)*width { // the maximum stands on an edge: it is in the bin below
		last--
	}
	if !(last-first <= maxBins) || last-first < 1 || math.Abs(first) > mostWhole || math.Abs(last) > mostWhole {
		return nil, ErrNarrow
	}
	edges := make([]float64, int(last-first)+1)
	for i := range edges {
		edges[i] = (first + float64(i)) * width
	}
	return counted(sorted, edges), nil
}

// mostWhole is up to where a float64 tells one whole number from the next.
const mostWhole = 1 << 53

// sortedIn are the values that are there, in order.
func sortedIn(values []float64) ([]float64, error) {
	sorted := describe.Present(values)
	if len(sorted) == 0 {
		return nil, ErrNoValues
	}
	if err := magnitude.InRange(sorted); err != nil {
		return nil, err
	}
	slices.Sort(sorted)
	return sorted, nil
}

func equalEdges(low, high float64, bins int) []float64 {
	edges := make([]float64, bins+1)
	for i := range edges {
		edges[i] = low + float64(i)*(high-low)/float64(bins)
	}
	edges[bins] = high
	return edges
}

// counted counts values in bins of equal width between edges.
func counted(sorted, edges []float64) *Histogram {
	bins := len(edges) - 1
	low, high := edges[0], edges[bins]
	h := &Histogram{N: len(sorted), Edges: edges, Counts: make([]int, bins)}
	for _, v := range sorted {
		i := max(0, min(int(float64(bins)*((v-low)/(high-low))), bins-1))
		for i > 0 && v < edges[i] { // rounding must not move a value across an edge
			i--
		}
		for i < bins-1 && v >= edges[i+1] {
			i++
		}
		h.Counts[i]++
	}
	return h
}

// Bandwidth chooses how far a Gaussian density smooths.
type Bandwidth string

// The rules: Silverman 1986, Density Estimation, equation 3.31,
// 0.9 min(sd, IQR/1.34) n^(-1/5); and 1.06 sd n^(-1/5).
const (
	Silverman Bandwidth = "silverman"
	Scott     Bandwidth = "scott"
)

// Density is a Gaussian density f(u) = 1/(nh) Σ φ((u - x_i)/h).
type Density struct {
	N      int
	H      float64
	values []float64 // without NaN; sorted where At is used
	sorted sync.Once
	low    float64
	high   float64
}

// Estimate makes a density of the values.
func Estimate(ctx context.Context, values []float64, rule Bandwidth) (*Density, error) {
	kept := values
	if slices.ContainsFunc(values, math.IsNaN) {
		kept = describe.Present(values)
	}
	if err := magnitude.InRange(kept); err != nil {
		return nil, err
	}
	s := describe.Spread(ctx, kept)
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	if s.N < 2 || s.Min == s.Max {
		return nil, ErrNoSpread
	}
	spread := 1.06 * s.SD
	if rule == Silverman {
		spread = 0.9 * s.SD
		if s.IQR > 0 {
			spread = 0.9 * min(s.SD, s.IQR/1.34)
		}
	}
	return &Density{N: s.N, H: spread * math.Pow(float64(s.N), -0.2), values: kept, low: s.Min, high: s.Max}, nil
}

// reach is how many bandwidths away a value still counts: beyond, its share is
// below 1e-16 of the kernel's height.
const reach = 8.6

func (d *Density) sort() {
	d.sorted.Do(func() {
		d.values = slices.Clone(d.values) // the caller's may be among them
		slices.Sort(d.values)
	})
}

// At is the density at u, exactly, from the values within reach. Values further
// away than that but nothing nearer are summed all the same, so that a tail keeps
// its digits.
func (d *Density) At(u float64) float64 {
	d.sort()
	from, _ := slices.BinarySearch(d.values, u-reach*d.H)
	to, _ := slices.BinarySearch(d.values, u+reach*d.H)
	near := d.values[from:to]
	if len(near) == 0 {
		near = d.values
	}
	sum := 0.0
	for _, v := range near {
		z := (u - v) / d.H
		sum += math.Exp(-z * z / 2)
	}
	return sum / (float64(d.N) * d.H * math.Sqrt(2*math.Pi))
}

// gridBins is how fine the values are binned for a grid of many.
const gridBins = 4096

// Grid is the density at count evenly spaced points from low to high. Above 2,000
// values it convolves linearly binned counts with the kernel (Wand 1994, "Fast
// computation of multivariate kernel estimators", JCGS 3).
func (d *Density) Grid(ctx context.Context, low, high float64, count int) ([]float64, error) {
	out := make([]float64, count)
	step := (high - low) / float64(count-1)
	if d.N <= 2000 {
		for i := range out {
			out[i] = d.At(low + float64(i)*step)
		}
		return out, ctx.Err()
	}
	first, last := d.low, d.high
	width := (last - first) / (gridBins - 1)
	counts, err := added(ctx, d.N, gridBins, func(counts []float64, from, to int) {
		for _, v := range d.values[from:to] {
			at := (v - first) / width
			i := min(int(at), gridBins-2)
			share := at - float64(i)
			counts[i] += 1 - share
			counts[i+1] += share
		}
	})
	for i := range out {
		u := low + float64(i)*step
		from := max(int((u-reach*d.H-first)/width), 0)
		to := min(int((u+reach*d.H-first)/width)+1, gridBins-1)
		sum := 0.0
		for j := from; j <= to; j++ {
			z := (u - first - float64(j)*width) / d.H
			sum += counts[j] * math.Exp(-z*z/2)
		}
		out[i] = sum / (float64(d.N) * d.H * math.Sqrt(2*math.Pi))
	}
	return out, err
}

// Level gives the height that a highest-density region of the given mass has as
// its edge: the quantile 1 - mass of the density at the values themselves
// (Hyndman 1996, "Computing and graphing highest density regions", The American
// Statistician 50).
func (d *Density) Level(ctx context.Context, mass float64) (float64, error) {
	d.sort()
	heights := make([]float64, d.N)
	if err := parallel.Rows(ctx, d.N, func(i int) { heights[i] = d.At(d.values[i]) }); err != nil {
		return 0, err
	}
	slices.Sort(heights)
	return describe.Quantile(heights, 1-mass), nil
}
