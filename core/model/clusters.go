package model

import (
	"context"
	"math"

	"copperlark/core/distribution"
	"copperlark/core/magnitude"
)

// Robust is the standard error of a slope where rows are not independent, with its degrees of freedom.
type Robust struct {
	SE, DF float64
}

// Interval is that of a slope by Student's t.
func (r *Robust) Interval(slope, level float64) Interval {
	half := distribution.StudentQuantile((1-level)/2, r.DF) * r.SE
	return Interval{slope - half, slope + half}
}

// Likeness tells how alike the residuals of a line are within clusters, by a one-way analysis of variance
// (Snedecor and Cochran, Statistical Methods, 8th ed., ch. 13; Donner 1986, International Statistical Review 54).
type Likeness struct {
	ICC, N0, MSB, MSW, F, P float64
	DF1, DF2                int
}

// Clustered is a line of rows that belong together in clusters.
type Clustered struct {
	Line     *Line
	Clusters int
	CR2      *Robust   // nil where it is not defined, see FitClusters
	Likeness *Likeness // nil where nothing can be told
}

// The bounds below which a cluster alone carries the slope, and a fit is exact.
const (
	carriedAlone = 1e-9
	exactFit     = 1e-24
)

// FitClusters fits a line by least squares to complete pairs, and gives the standard error of its slope where
// rows of one cluster, whose codes go from 0, may be alike: CR2 with Satterthwaite's degrees of freedom (Bell and
// McCaffrey 2002, Survey Methodology 28; Pustejovsky and Tipton 2018, Journal of Business & Economic Statistics 36;
// Imbens and Kolesar 2016, Review of Economics and Statistics 98), working model: equal variance, no correlation.
//
// With X = (1, x − x̄), M = (X'X)⁻¹, which is diagonal, and W = M^½ X_g'X_g M^½, the adjusted columns of a cluster
// are A_g X_g = X_g B_g with B_g = M^½ (I − W)^(−½) M^(−½): no matrix is larger than two by two.
//
// CR2 is nil with fewer than two clusters, where the slope cannot be estimated without one of them (no generalised
// inverse is taken), and for an exact fit; Likeness too where every cluster has one row.
func FitClusters(ctx context.Context, x, y []float64, cluster []int32) (*Clustered, error) {
	l, err := dependentLine(ctx, x, y)
	if err != nil {
		return nil, err
	}
	return ClustersOf(l, x, y, cluster), nil
}

// dependentLine is the line of complete pairs whose standard error is worked out otherwise, as rows depend on each other.
func dependentLine(ctx context.Context, x, y []float64) (*Line, error) {
	if len(x) < 3 {
		return nil, Error("fewer than 3 complete rows")
	}
	if err := magnitude.InRange(x, y); err != nil {
		return nil, err
	}
	return FitLine(ctx, x, y)
}

// clusterSums are what one pass over the rows collects of a cluster: how many there are, their x about the mean,
// its squares, the residuals and their products with x.
type clusterSums struct{ n, x, xx, e, ex float64 }

// ClustersOf is FitClusters of a line that was fitted.
func ClustersOf(l *Line, x, y []float64, cluster []int32) *Clustered {
	groups := int32(0)
	for _, g := range cluster {
		groups = max(groups, g+1)
	}
	sums := make([]clusterSums, groups)
	for i, g := range cluster {
		s, dx, e := &sums[g], x[i]-l.XMean, y[i]-l.At(x[i])
		s.n, s.x, s.xx, s.e, s.ex = s.n+1, s.x+dx, s.xx+dx*dx, s.e+e, s.ex+dx*e
	}
	out := &Clustered{Line: l}
	for _, s := range sums {
		if s.n > 0 {
			out.Clusters++
		}
	}
	exact := l.RSS <= exactFit*l.Syy || !(l.Syy > 0)
	if out.Clusters < 2 || exact {
		return out
	}
	out.CR2 = cr2(l, sums)
	out.Likeness = likeness(l, sums, out.Clusters)
	return out
}

func cr2(l *Line, sums []clusterSums) *Robust {
	n := float64(l.N)
	m1, m2 := 1/n, 1/l.Sxx // the diagonal of M
	r1, r2 := math.Sqrt(m1), math.Sqrt(m2)
	variance, traces, squares := 0.0, 0.0, 0.0
	var t11, t12, t22 float64 // Σ t t'
	for _, s := range sums {
		if s.n == 0 {
			continue
		}
		a, b, c := 1-m1*s.n, -r1*r2*s.x, 1-m2*s.xx // I − W
		root, ok := inverseRoot(a, b, c)
		if !ok {
			return nil
		}
		// The slope's row of M B_g' X_g'e = M^½ (I − W)^(−½) M^½ X_g'e, and q = B_g M (0, 1)'.
		v := r2 * (root[1]*r1*s.e + root[2]*r2*s.ex)
		variance += v * v
		q1, q2 := r1*root[1]*r2, m2*root[2]
		t1, t2 := s.n*q1+s.x*q2, s.x*q1+s.xx*q2
		alpha, beta := q1*t1+q2*t2, m1*t1*t1+m2*t2*t2
		traces += alpha - beta
		squares += (alpha-beta)*(alpha-beta) - beta*beta
		t11, t12, t22 = t11+t1*t1, t12+t1*t2, t22+t2*t2
	}
	squares += m1*m1*t11*t11 + 2*m1*m2*t12*t12 + m2*m2*t22*t22
	if !(variance > 0) || !(squares > 0) {
		return nil
	}
	return &Robust{SE: math.Sqrt(variance), DF: traces * traces / squares}
}

// inverseRoot is the inverse of the symmetric root of a matrix a b, b c, as its three entries; false where its
// smallest eigenvalue is no more than carriedAlone.
func inverseRoot(a, b, c float64) (root [3]float64, ok bool) {
	middle, half := (a+c)/2, math.Hypot((a-c)/2, b)
	low := middle - half
	if low < carriedAlone {
		return root, false
	}
	// Of a two by two matrix A: A^½ = (A + √det I)/√(tr + 2 √det).
	det := math.Sqrt(a*c - b*b)
	if !(det > 0) {
		det = math.Sqrt(low * (middle + half))
	}
	t := math.Sqrt(a + c + 2*det)
	ra, rb, rc := (a+det)/t, b/t, (c+det)/t
	inverse := ra*rc - rb*rb
	return [3]float64{rc / inverse, -rb / inverse, ra / inverse}, true
}

func likeness(l *Line, sums []clusterSums, clusters int) *Likeness {
	n := float64(l.N)
	if l.N == clusters {
		return nil
	}
	between, squares := 0.0, 0.0
	for _, s := range sums {
		if s.n > 0 {
			between += s.e * s.e / s.n
			squares += s.n * s.n
		}
	}
	k := float64(clusters)
	a := &Likeness{
		DF1: clusters - 1,
		DF2: l.N - clusters,
		MSB: between / (k - 1),
		MSW: (l.RSS - between) / (n - k),
		N0:  (n - squares/n) / (k - 1),
	}
	if a.MSW <= exactFit*l.Syy/n {
		return nil
	}
	a.ICC, a.F = (a.MSB-a.MSW)/(a.MSB+(a.N0-1)*a.MSW), a.MSB/a.MSW
	a.P = distribution.FSurvival(a.F, float64(a.DF1), float64(a.DF2))
	return a
}

// Excludes reports whether a value lies outside the interval; of one that is not known it is false.
func (i Interval) Excludes(v float64) bool { return i.Low > v || i.High < v }
