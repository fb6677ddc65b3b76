package confound

import (
	"math"

	"copperlark/core/describe"
	"copperlark/core/model"
)

// normal975 is the quantile of the normal distribution that intervals of rates use.
const normal975 = 1.959963984540054

// Rate is a share of rows with its score interval (Wilson 1927, JASA 22).
type Rate struct {
	N, Yes   int
	Rate     float64
	Interval model.Interval
}

func rateOf(yes, n int) Rate {
	return Rate{n, yes, float64(yes) / float64(n), describe.Wilson(yes, n, normal975)}
}

// Ratio is a difference or a ratio of rates with its interval; NaN where it is not defined.
type Ratio struct {
	Value, SE float64
	Interval  model.Interval
}

func noRatio() Ratio {
	return Ratio{math.NaN(), math.NaN(), model.Interval{Low: math.NaN(), High: math.NaN()}}
}

// about gives a ratio whose logarithm has a variance.
func about(value, variance float64) Ratio {
	out := noRatio()
	if out.Value = value; value > 0 {
		half := normal975 * math.Sqrt(variance)
		out.Interval = model.Interval{Low: value * math.Exp(-half), High: value * math.Exp(half)}
	}
	return out
}

// Stratum is the difference of two groups within one level of a third column.
type Stratum struct {
	Level      int
	N1, N0     int
	Difference float64
	yes1, yes0 int
}

// Standard is rates as they would be if every group of x had the mix of g that all rows
// have (direct standardisation).
type Standard struct {
	Used       int
	Rates, SE  []float64 // by group of x
	Difference Ratio
}

// Common is what two groups differ by within the levels of g, put together (Mantel and
// Haenszel 1959; Greenland and Robins 1985, Biometrics 41; Sato 1989, Biometrics 45; Robins,
// Breslow and Greenland 1986, Biometrics 42).
type Common struct {
	Used, RowsUnused        int
	Difference, Ratio, Odds Ratio
}

// Rates compares the rate of y between groups of x, overall and within the levels of g
// (topic 20). Exp and Ref are the groups that are compared, -1 for none.
type Rates struct {
	N            int
	Groups       []Rate // by group of x; N 0 where it has no rows
	Difference   Ratio  // of Exp and Ref, with Newcombe's hybrid score interval (1998, method 10)
	Ratio        Ratio
	Strata       []Stratum
	Common       *Common
	Standard     *Standard
	SignReverses bool
}

// cells are counts by group of x and level of g.
type cells struct{ n, yes [][]int }

// CompareRates computes it: yes is y of each row, x and g its groups. levels is 0 where there
// is no g. No value may be missing.
func CompareRates(yes []bool, x []int32, groups int, g []int32, levels int, exp, ref int) (*Rates, error) {
	if len(yes) == 0 {
		return nil, Error("no complete rows")
	}
	c := cells{}
	for range groups {
		c.n, c.yes = append(c.n, make([]int, max(levels, 1))), append(c.yes, make([]int, max(levels, 1)))
	}
	for i, is := range yes {
		level := 0
		if levels > 0 {
			level = int(g[i])
		}
		c.n[x[i]][level]++
		if is {
			c.yes[x[i]][level]++
		}
	}
	out := &Rates{N: len(yes), Difference: noRatio(), Ratio: noRatio()}
	for group := range c.n {
		n, yes := 0, 0
		for level := range c.n[group] {
			n, yes = n+c.n[group][level], yes+c.yes[group][level]
		}
		out.Groups = append(out.Groups, rateOf(yes, n))
	}
	if exp >= 0 {
		if out.Groups[exp].N == 0 || out.Groups[ref].N == 0 {
			return nil, Error("a compared group has no rows")
		}
		out.crude(out.Groups[exp], out.Groups[ref])
	}
	if levels > 0 {
		if exp >= 0 {
			out.strata(c, levels, exp, ref)
			out.common()
		}
		out.standardise(c, levels, exp, ref)
	}
	if out.Common != nil {
		a, b := out.Difference.Value, out.Common.Difference.Value
		out.SignReverses = math.Abs(a) >= 1e-12 && math.Abs(b) >= 1e-12 && a*b < 0
	}
	return out, nil
}

func (r *Rates) crude(one, zero Rate) {
	d := one.Rate - zero.Rate
	low := d - math.Hypot(one.Rate-one.Interval.Low, zero.Interval.High-zero.Rate)
	high := d + math.Hypot(one.Interval.High-one.Rate, zero.Rate-zero.Interval.Low)
	r.Difference = Ratio{d, math.NaN(), model.Interval{Low: low, High: high}}
	a, c := float64(one.Yes), float64(zero.Yes)
	if c > 0 {
		r.Ratio = about(one.Rate/zero.Rate, 1/a-1/float64(one.N)+1/c-1/float64(zero.N))
	}
}

func (r *Rates) strata(c cells, levels, exp, ref int) {
	for level := range levels {
		s := Stratum{
			Level:      level,
			N1:         c.n[exp][level],
			N0:         c.n[ref][level],
			yes1:       c.yes[exp][level],
			yes0:       c.yes[ref][level],
			Difference: math.NaN(),
		}
		if s.N1 > 0 && s.N0 > 0 {
			s.Difference = float64(s.yes1)/float64(s.N1) - float64(s.yes0)/float64(s.N0)
		}
		r.Strata = append(r.Strata, s)
	}
}

func (r *Rates) common() {
	out := &Common{Difference: noRatio(), Ratio: noRatio(), Odds: noRatio()}
	var weight, difference, sumP, sumQ float64 // of the difference
	var above, below, spread float64           // of the ratio
	var sumR, sumS, pr, psqr, qs float64       // of the odds ratio
	for _, s := range r.Strata {
		if s.N1 == 0 || s.N0 == 0 {
			out.RowsUnused += s.N1 + s.N0
			continue
		}
		out.Used++
		a, c, n1, n0 := float64(s.yes1), float64(s.yes0), float64(s.N1), float64(s.N0)
		b, d, n := n1-a, n0-c, n1+n0
		weight += n1 * n0 / n
		difference += (a*n0 - c*n1) / n
		sumP += (n1*n1*c - n0*n0*a + n1*n0*(n0-n1)/2) / (n * n)
		sumQ += (a*(n0-c) + c*(n1-a)) / (2 * n)
		above, below = above+a*n0/n, below+c*n1/n
		spread += (n1*n0*(a+c) - a*c*n) / (n * n)
		p, q, rr, ss := (a+d)/n, (b+c)/n, a*d/n, b*c/n
		sumR, sumS = sumR+rr, sumS+ss
		pr, psqr, qs = pr+p*rr, psqr+p*ss+q*rr, qs+q*ss
	}
	if out.Used == 0 {
		return
	}
	rd := difference / weight
	se := math.Sqrt(max((rd*sumP+sumQ)/(weight*weight), 0))
	out.Difference = Ratio{rd, se, model.Interval{Low: rd - normal975*se, High: rd + normal975*se}}
	if below > 0 {
		out.Ratio = about(above/below, spread/(above*below))
	}
	if sumS > 0 {
		out.Odds = about(sumR/sumS, pr/(2*sumR*sumR)+psqr/(2*sumR*sumS)+qs/(2*sumS*sumS))
	}
	r.Common = out
}

func (r *Rates) standardise(c cells, levels, exp, ref int) {
	used := make([]bool, levels)
	total := 0
	out := &Standard{Difference: noRatio(), Rates: make([]float64, len(r.Groups)), SE: make([]float64, len(r.Groups))}
	size := make([]int, levels)
	for level := range levels {
		used[level] = true
		for group, rate := range r.Groups {
			if rate.N == 0 {
				continue
			}
			used[level] = used[level] && c.n[group][level] > 0
			size[level] += c.n[group][level]
		}
		if used[level] {
			out.Used++
			total += size[level]
		}
	}
	if out.Used == 0 {
		return
	}
	for group, rate := range r.Groups {
		variance := 0.0
		for level, is := range used {
			if !is || rate.N == 0 {
				continue
			}
			w, n := float64(size[level])/float64(total), float64(c.n[group][level])
			p := float64(c.yes[group][level]) / n
			out.Rates[group] += w * p
			variance += w * w * p * (1 - p) / n
		}
		out.SE[group] = math.Sqrt(variance)
	}
	if exp >= 0 {
		d, se := out.Rates[exp]-out.Rates[ref], math.Hypot(out.SE[exp], out.SE[ref])
		out.Difference = Ratio{d, se, model.Interval{Low: d - normal975*se, High: d + normal975*se}}
	}
	r.Standard = out
}
