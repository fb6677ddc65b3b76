package describe

import (
	"math"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
)

// Differences tells whether groups differ in y, and how much of its spread they account for.
type Differences struct {
	Groups      int     // with at least 2 values
	F, DF1, DF2 float64 // Welch's; NaN where there are fewer than two groups of 2, or one of them does not vary
	P           float64
	// Shares of the spread between groups: eta squared grows with the number of groups in pure noise, epsilon and
	// omega squared do not; they may be below 0. NaN where they are not defined.
	Eta2, Epsilon2, Omega2 float64
}

// GroupDifferences compares the groups of y, whose codes go from 0; what is missing in either is left out. Welch's
// test (1951, Biometrika 38) does not ask that groups spread alike. eta² = SSB/SST; ε² = (SSB − (k−1) MSW)/SST
// (Kelley 1935, PNAS 21); ω² = (SSB − (k−1) MSW)/(SST + MSW) (Hays 1963), MSW = SSW/(n − k).
func GroupDifferences(codes []int32, groups int, y []float64) Differences {
	y, _ = magnitude.Scaled(y)
	n, mean := make([]float64, groups), make([]float64, groups)
	for i, code := range codes {
		if code >= 0 && y[i] == y[i] {
			n[code]++
			mean[code] += (y[i] - mean[code]) / n[code]
		}
	}
	within := make([]float64, groups)
	for i, code := range codes {
		if code >= 0 && y[i] == y[i] {
			d := y[i] - mean[code]
			within[code] += d * d
		}
	}
	return DifferencesOf(n, mean, within)
}

// DifferencesOf is GroupDifferences of groups of which it is known how many values they have, their means, and the sums
// of squares about these.
func DifferencesOf(n, mean, within []float64) Differences {
	nan := math.NaN()
	out := Differences{F: nan, DF1: nan, DF2: nan, P: nan, Eta2: nan, Epsilon2: nan, Omega2: nan}
	all, total := 0.0, 0.0
	for g, count := range n {
		if count > 0 {
			all += count
			total += (mean[g] - total) * count / all
		}
	}
	k, ssb, ssw := 0.0, 0.0, 0.0
	for g := range n {
		if n[g] > 0 {
			k++
			d := mean[g] - total
			ssb, ssw = ssb+n[g]*d*d, ssw+within[g]
		}
	}
	if sst := ssb + ssw; k >= 2 && sst > 0 && !math.IsInf(sst, 0) {
		out.Eta2 = ssb / sst
		if all > k {
			msw := ssw / (all - k)
			out.Epsilon2, out.Omega2 = (ssb-(k-1)*msw)/sst, (ssb-(k-1)*msw)/(sst+msw)
		}
	}
	out.welch(n, mean, within)
	return out
}

func (out *Differences) welch(n, mean, within []float64) {
	weights, middle := 0.0, 0.0
	for g := range n {
		if n[g] < 2 {
			continue
		}
		if out.Groups++; !(within[g] > 0) {
			weights = math.NaN()
		}
		w := n[g] * (n[g] - 1) / within[g]
		weights, middle = weights+w, middle+w*mean[g]
	}
	if out.Groups < 2 || math.IsNaN(weights) || math.IsInf(weights, 0) {
		return
	}
	middle /= weights
	k, between, rest := float64(out.Groups), 0.0, 0.0
	for g := range n {
		if n[g] >= 2 {
			w := n[g] * (n[g] - 1) / within[g]
			d, gone := mean[g]-middle, 1-w/weights
			between += w * d * d
			rest += gone * gone / (n[g] - 1)
		}
	}
	out.F = between / (k - 1) / (1 + 2*(k-2)/(k*k-1)*rest)
	out.DF1, out.DF2 = k-1, (k*k-1)/(3*rest)
	out.P = distribution.FSurvival(out.F, out.DF1, out.DF2)
}
