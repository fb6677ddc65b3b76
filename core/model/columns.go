package model

import (
	"math"

	"copperlark/core/distribution"
)

// Columns are orthonormal columns of a least squares design, put in one after the other by
// the modified method of Gram and Schmidt, each swept twice (Björck 1967, BIT 7; Giraud and
// others 2005, Numerische Mathematik 101): as exact as reflections, and it tells at once
// which columns depend on those before.
type Columns struct {
	n    int
	q    [][]float64
	r    [][]float64 // r[j][i] is the share of q[i] in column j
	from []int       // which of the columns that were put in each one is
	put  int
}

// dependent is the share of a column's squares that must be left when the columns before
// are swept out, for it to count as another direction.
const dependent = 1e-10

// NewColumns begins with the intercept.
func NewColumns(n int) *Columns {
	c := &Columns{n: n}
	one := make([]float64, n)
	for i := range one {
		one[i] = 1
	}
	c.Put(one)
	return c
}

// Put takes a column in, unless it depends on those before; it is not changed. It reports
// whether it was taken.
func (c *Columns) Put(column []float64) bool {
	work := append([]float64(nil), column...)
	c.put++
	whole := squares(work)
	if len(c.q) > 0 { // what counts is what is not the intercept
		c.sweep(work, 1)
		c.sweep(work, 1)
		whole = squares(work)
	}
	c.sweep(work, 0)
	c.sweep(work, 0)
	left := squares(work)
	if !(left > dependent*whole) || whole == 0 || left == 0 {
		return false
	}
	length := math.Sqrt(left)
	for i := range work {
		work[i] /= length
	}
	full := c.shares(column)
	c.q = append(c.q, work)
	c.r = append(c.r, append(full, length))
	c.from = append(c.from, c.put-1)
	return true
}

// shares are the parts of the columns in a further one.
func (c *Columns) shares(column []float64) []float64 {
	work := append([]float64(nil), column...)
	total := make([]float64, len(c.q))
	for range 2 {
		for i, part := range c.sweep(work, 0) {
			total[i] += part
		}
	}
	return total
}

// Sweep takes out of values what the columns hold of them, and gives the shares of each.
func (c *Columns) Sweep(values []float64) (shares []float64) {
	shares = c.sweep(values, 0)
	for i, more := range c.sweep(values, 0) {
		shares[i] += more
	}
	return shares
}

// sweep goes over the first most columns once, 0 for all.
func (c *Columns) sweep(values []float64, most int) []float64 {
	if most == 0 {
		most = len(c.q)
	}
	shares := make([]float64, len(c.q))
	for i, q := range c.q[:most] {
		sum := 0.0
		for k, v := range values {
			sum += q[k] * v
		}
		for k := range values {
			values[k] -= sum * q[k]
		}
		shares[i] = sum
	}
	return shares
}

func squares(values []float64) (sum float64) {
	for _, v := range values {
		sum += v * v
	}
	return sum
}

// Rank is how many columns were taken, the intercept among them.
func (c *Columns) Rank() int { return len(c.q) }

// exactShare of the squares of y about its mean is what an exact fit leaves at most.
const exactShare = 1e-24

// Coefficient is that of one column of a least squares fit. What is not defined is NaN.
type Coefficient struct {
	Value, SE, P    float64 // classical
	SEHC3, PHC3     float64
	DF, Rank        int
	Exact, Leverage bool // the fit leaves nothing; a row has leverage 1
}

// Last fits y and gives the coefficient of the column that was put in last:
//
//	SE²    = RSS/df ((X'X)⁻¹)
//	SEHC3² = (X'X)⁻¹ [Σ x_i x_i' e_i²/(1 − h_i)²] (X'X)⁻¹   (MacKinnon and White 1985)
func (c *Columns) Last(y []float64) Coefficient {
	fit := c.Fit(y)
	last := len(c.q) - 1
	length := c.r[last][last]
	out := Coefficient{
		Value:    fit.shares[last] / length,
		DF:       fit.DF,
		Rank:     len(c.q),
		Exact:    fit.Exact,
		Leverage: fit.Leverage,
		SE:       math.NaN(),
		P:        math.NaN(),
		SEHC3:    math.NaN(),
		PHC3:     math.NaN(),
	}
	if out.DF < 1 {
		return out
	}
	if !fit.Leverage {
		meat := 0.0
		for i, q := range c.q[last] {
			e := fit.Residuals[i] / (1 - fit.Leverages[i])
			meat += q * q * e * e
		}
		out.SEHC3 = math.Sqrt(meat) / length
	}
	out.SE = math.Sqrt(fit.RSS/float64(out.DF)) / length
	if fit.Exact {
		out.SE = 0
		if !fit.Leverage {
			out.SEHC3 = 0
		}
		return out
	}
	out.P = distribution.StudentTwoSided(out.Value/out.SE, float64(out.DF))
	if !fit.Leverage {
		out.PHC3 = distribution.StudentTwoSided(out.Value/out.SEHC3, float64(out.DF))
	}
	return out
}

// Influence tells how far each row moves the coefficient of the column that was put in last,
// as the jackknife counts it: their squares add up to its HC3 variance. Rows of leverage 1
// move it by nothing that can be told.
func (c *Columns) Influence(y []float64) []float64 {
	fit := c.Fit(y)
	last := len(c.q) - 1
	out := make([]float64, c.n)
	for i, q := range c.q[last] {
		if rest := 1 - fit.Leverages[i]; rest > 1e-9 {
			out[i] = q * fit.Residuals[i] / rest / c.r[last][last]
		}
	}
	return out
}

// Fitted is a least squares fit on columns.
type Fitted struct {
	Residuals, Leverages []float64
	RSS, Syy             float64
	DF                   int
	Exact, Leverage      bool
	shares               []float64
}

// Fit fits y, which is not changed.
func (c *Columns) Fit(y []float64) *Fitted {
	f := &Fitted{Residuals: append([]float64(nil), y...), Leverages: make([]float64, c.n), DF: c.n - len(c.q)}
	c.sweep(f.Residuals, 1)
	c.sweep(f.Residuals, 1)
	f.Syy = squares(f.Residuals)
	f.shares = c.Sweep(f.Residuals)
	f.RSS = squares(f.Residuals)
	f.Exact = f.RSS <= exactShare*f.Syy
	for _, q := range c.q {
		for i, v := range q {
			f.Leverages[i] += v * v
		}
	}
	for _, h := range f.Leverages {
		f.Leverage = f.Leverage || 1-h < 1e-9
	}
	return f
}

// Coefficients are those of the columns that were taken, the intercept (of centred values)
// aside, with their covariance by HC3; NaN where a row has leverage 1, 0 where the fit is
// exact. A column that was not taken is not among them.
func (c *Columns) Coefficients(y []float64) (values []float64, covariance [][]float64, fit *Fitted) {
	fit = c.Fit(y)
	p := len(c.q)
	values = c.solve(fit.shares)
	meat := make([][]float64, p)
	for a := range meat {
		meat[a] = make([]float64, p)
		for b := range a + 1 {
			for i := range c.n {
				e := fit.Residuals[i] / (1 - fit.Leverages[i])
				meat[a][b] += c.q[a][i] * c.q[b][i] * e * e
			}
			if fit.Leverage {
				meat[a][b] = math.NaN()
			} else if fit.Exact {
				meat[a][b] = 0
			}
			meat[b][a] = meat[a][b]
		}
	}
	half := make([][]float64, p) // R⁻¹ M
	for b := range p {
		column := make([]float64, p)
		for a := range p {
			column[a] = meat[a][b]
		}
		for a, v := range c.solve(column) {
			if half[a] == nil {
				half[a] = make([]float64, p)
			}
			half[a][b] = v
		}
	}
	covariance = make([][]float64, p)
	for a := range p {
		covariance[a] = c.solve(half[a])
	}
	return values, covariance, fit
}

// solve gives b with R b = shares, R the upper triangle of the columns.
func (c *Columns) solve(shares []float64) []float64 {
	out := append([]float64(nil), shares...)
	for j := len(c.q) - 1; j >= 0; j-- {
		out[j] /= c.r[j][j]
		for i := range j {
			out[i] -= c.r[j][i] * out[j]
		}
	}
	return out
}
