package confound

import (
	"context"
	"math"

	"copperlark/core/describe"
	"copperlark/core/distribution"
	"copperlark/core/magnitude"
)

// Equality is a Wald test that the slopes of groups are equal, with the covariance HC3
// (MacKinnon and White 1985, Journal of Econometrics 29; Long and Ervin 2000, The American
// Statistician 54). F and P are NaN where HC3 is not defined, or the fit is exact.
type Equality struct {
	F, P     float64
	DF1, DF2 int
}

// OwnSlope is the slope of one group by its own rows, with its HC3 standard error.
type OwnSlope struct {
	N         int
	Slope, SE float64
}

// EqualSlopes tells whether the slopes of y on x differ between groups (topic 16): straight
// gives every group a line of its own; curved is y ~ g + x + x² + x³ + (x in group j), so
// that a curve which is common to all groups is no difference between them. Groups of fewer
// than 5 rows, or without spread in x, are left out.
type EqualSlopes struct {
	N, RowsDropped int
	Used           []bool // by group
	Slopes         []OwnSlope
	Straight       Equality
	Curved         *Equality // nil where its columns depend on each other
}

const leastGroup = 5

// groupRows are the rows of a group, about their means.
type groupRows struct {
	rows          []int
	dx, dy        []float64
	sxx, sxy, syy float64
}

func gathered(x, y []float64, group []int32, groups int) []groupRows {
	out := make([]groupRows, groups)
	for i, g := range group {
		out[g].rows = append(out[g].rows, i)
	}
	for g := range out {
		o := &out[g]
		o.dx, o.dy = centredAt(x, o.rows), centredAt(y, o.rows)
		for i := range o.dx {
			o.sxx, o.sxy, o.syy = o.sxx+o.dx[i]*o.dx[i], o.sxy+o.dx[i]*o.dy[i], o.syy+o.dy[i]*o.dy[i]
		}
	}
	return out
}

// centredAt are the values of some rows about their mean.
func centredAt(values []float64, rows []int) []float64 {
	out := make([]float64, len(rows))
	for i, row := range rows {
		out[i] = values[row]
	}
	mean := describe.Summarise(out).Mean
	rest := 0.0
	for i := range out {
		out[i] -= mean
		rest += out[i]
	}
	for i := range out { // what rounding left
		out[i] -= rest / float64(len(out))
	}
	return out
}

// TestSlopes computes it. No value may be missing.
func TestSlopes(ctx context.Context, x, y []float64, group []int32, groups int) (*EqualSlopes, error) {
	if err := magnitude.InRange(x, y); err != nil {
		return nil, err
	}
	all := gathered(x, y, group, groups)
	out := &EqualSlopes{Used: make([]bool, groups), Slopes: make([]OwnSlope, groups)}
	k := 0
	for g := range all {
		o := &all[g]
		if len(o.rows) < leastGroup || o.sxx == 0 {
			out.RowsDropped += len(o.rows)
			continue
		}
		out.Used[g] = true
		out.N += len(o.rows)
		k++
	}
	if k < 2 {
		return nil, Error("fewer than 2 usable groups")
	}
	out.straight(all, k)
	out.curved(ctx, all, k, x, y)
	return out, ctx.Err()
}

// straight tests lines of each group's own: their slopes are independent, so that
// F = Σ w (b − b̄)² / (k − 1) with w = 1/SE², and b̄ the mean by these weights.
func (out *EqualSlopes) straight(all []groupRows, k int) {
	out.Straight = Equality{F: math.NaN(), P: math.NaN(), DF1: k - 1, DF2: out.N - 2*k}
	exact, undefined := -1, false
	exacts := 0
	sumW, sumWB := 0.0, 0.0
	for g, used := range out.Used {
		if !used {
			continue
		}
		o := &all[g]
		n := float64(len(o.rows))
		b := o.sxy / o.sxx
		meat, leverage := 0.0, false
		for i, dx := range o.dx {
			h := 1/n + dx*dx/o.sxx
			leverage = leverage || 1-h < 1e-9
			e := (o.dy[i] - b*dx) / (1 - h)
			meat += dx * dx * e * e
		}
		se := math.Sqrt(meat) / o.sxx
		switch {
		case leverage:
			se, undefined = math.NaN(), true
		case o.syy == 0 || se*se <= exactShare*o.syy/o.sxx:
			se, exact = 0, g
			exacts++
		default:
			sumW, sumWB = sumW+1/(se*se), sumWB+b/(se*se)
		}
		out.Slopes[g] = OwnSlope{len(o.rows), b, se}
	}
	if undefined || exacts > 1 {
		return
	}
	centre := sumWB / sumW
	if exacts == 1 {
		centre = out.Slopes[exact].Slope
	}
	q := 0.0
	for g, used := range out.Used {
		if s := out.Slopes[g]; used && s.SE > 0 {
			q += (s.Slope - centre) * (s.Slope - centre) / (s.SE * s.SE)
		}
	}
	out.Straight.F = q / float64(k-1)
	out.Straight.P = distribution.FSurvival(out.Straight.F, float64(k-1), float64(out.Straight.DF2))
}

const exactShare = 1e-24

// curved tests slope differences over a common cubic. The means of the groups are swept out
// first; of the other columns each row has at most four: three powers, and x in its group.
func (out *EqualSlopes) curved(ctx context.Context, all []groupRows, k int, x, y []float64) {
	var used []int
	for g, is := range out.Used {
		if is {
			used = append(used, g)
		}
	}
	powers := out.powers(ctx, all, used, x)
	if powers == nil || ctx.Err() != nil {
		return
	}
	p := 3 + k - 1
	gram := newSquare(p)
	right := make([]float64, p)
	syy, rows := 0.0, 0
	out.each(all, used, powers, func(z []float64, at []int, dy float64, n float64) {
		for a, i := range at {
			right[i] += z[a] * dy
			for b, j := range at {
				gram[i][j] += z[a] * z[b]
			}
		}
		rows++
	})
	mean := 0.0
	for _, g := range used {
		for _, row := range all[g].rows {
			mean += y[row] / float64(out.N)
		}
	}
	for _, g := range used {
		for _, row := range all[g].rows {
			syy += (y[row] - mean) * (y[row] - mean)
		}
	}
	inverse := invert(gram)
	if inverse == nil || ctx.Err() != nil {
		return
	}
	b := times(inverse, right)
	test := &Equality{F: math.NaN(), P: math.NaN(), DF1: k - 1, DF2: out.N - 2*k - 2}
	out.Curved = test
	meat := newSquare(p)
	rss, leverage := 0.0, false
	out.each(all, used, powers, func(z []float64, at []int, dy float64, n float64) {
		h, fit := 1/n, 0.0
		for a, i := range at {
			fit += z[a] * b[i]
			for c, j := range at {
				h += z[a] * inverse[i][j] * z[c]
			}
		}
		leverage = leverage || 1-h < 1e-9
		e := dy - fit
		rss += e * e
		e /= 1 - h
		for a, i := range at {
			for c, j := range at {
				meat[i][j] += z[a] * z[c] * e * e
			}
		}
	})
	if leverage || rss <= exactShare*syy {
		return
	}
	covariance := product(product(inverse, meat), inverse)
	differences := newSquare(k - 1)
	for i := range differences {
		copy(differences[i], covariance[3+i][3:])
	}
	weights := invert(differences)
	if weights == nil {
		return
	}
	d := b[3:]
	f := 0.0
	for i, v := range times(weights, d) {
		f += v * d[i]
	}
	test.F = f / float64(k-1)
	test.P = distribution.FSurvival(test.F, float64(k-1), float64(test.DF2))
}

// powers are x, x² and x³ of every used row about the means of its group, one group after
// the other, swept of each other; nil where they depend on each other.
func (out *EqualSlopes) powers(ctx context.Context, all []groupRows, used []int, x []float64) [][]float64 {
	var values []float64
	for _, g := range used {
		for _, row := range all[g].rows {
			values = append(values, x[row])
		}
	}
	u := standardised(values)
	columns := make([][]float64, 3)
	for k := range columns {
		if ctx.Err() != nil {
			return nil
		}
		column := power(u, k+1)
		from := 0
		for _, g := range used {
			to := from + len(all[g].rows)
			for range 2 {
				mean := 0.0
				for _, v := range column[from:to] {
					mean += v / float64(to-from)
				}
				for i := from; i < to; i++ {
					column[i] -= mean
				}
			}
			from = to
		}
		whole := dot(column, column)
		for range 2 {
			for _, before := range columns[:k] {
				share := dot(column, before)
				for i := range column {
					column[i] -= share * before[i]
				}
			}
		}
		left := dot(column, column)
		if !(left > 1e-10*whole) || whole == 0 {
			return nil
		}
		for i := range column {
			column[i] /= math.Sqrt(left)
		}
		columns[k] = column
	}
	return columns
}

// each visits every used row: the columns that it has, which they are, and y about the mean
// of its group, which has n rows.
func (out *EqualSlopes) each(all []groupRows, used []int, powers [][]float64, visit func(z []float64, at []int, dy, n float64)) {
	row := 0
	z, at := make([]float64, 4), []int{0, 1, 2, 0}
	for j, g := range used {
		o := &all[g]
		unit := math.Sqrt(o.sxx)
		for i := range o.rows {
			for p := range 3 {
				z[p] = powers[p][row]
			}
			has := 3
			if j > 0 {
				z[3], at[3], has = o.dx[i]/unit, 2+j, 4
			}
			visit(z[:has], at[:has], o.dy[i], float64(len(o.rows)))
			row++
		}
	}
}

func dot(a, b []float64) (sum float64) {
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

func newSquare(n int) [][]float64 {
	out := make([][]float64, n)
	for i := range out {
		out[i] = make([]float64, n)
	}
	return out
}

func times(m [][]float64, v []float64) []float64 {
	out := make([]float64, len(m))
	for i := range m {
		out[i] = dot(m[i], v)
	}
	return out
}

func product(a, b [][]float64) [][]float64 {
	out := newSquare(len(a))
	for i := range a {
		for k, v := range a[i] {
			for j := range b {
				out[i][j] += v * b[k][j]
			}
		}
	}
	return out
}

// invert inverts a symmetric positive definite matrix by the method of Cholesky, its rows
// and columns brought to one scale first; nil where it is not one.
func invert(m [][]float64) [][]float64 {
	n := len(m)
	unit := make([]float64, n)
	for i := range m {
		if !(m[i][i] > 0) {
			return nil
		}
		unit[i] = math.Sqrt(m[i][i])
	}
	l := newSquare(n)
	for j := range n {
		for i := j; i < n; i++ {
			sum := m[i][j] / unit[i] / unit[j]
			for k := range j {
				sum -= l[i][k] * l[j][k]
			}
			if i == j {
				if !(sum > 1e-10) {
					return nil
				}
				l[j][j] = math.Sqrt(sum)
			} else {
				l[i][j] = sum / l[j][j]
			}
		}
	}
	out := newSquare(n)
	for c := range n {
		v := make([]float64, n)
		for i := c; i < n; i++ {
			if i == c {
				v[i] = 1
			}
			for k := c; k < i; k++ {
				v[i] -= l[i][k] * v[k]
			}
			v[i] /= l[i][i]
		}
		for i := n - 1; i >= 0; i-- {
			for k := i + 1; k < n; k++ {
				v[i] -= l[k][i] * v[k]
			}
			v[i] /= l[i][i]
		}
		for i := range n {
			out[i][c] = v[i] / unit[i] / unit[c]
		}
	}
	return out
}
