// Package distribution gives tail probabilities and quantiles of the normal,
// Student's t and F distributions in double precision. Upper tails are computed
// as such, so that tiny probabilities keep their relative precision.
//
// P(|T| > t) = I_x(df/2, 1/2) with x = df/(df + t²) and
// P(F > f) = I_x(d2/2, d1/2) with x = d2/(d2 + d1 f), where I is the regularised
// incomplete beta function (NIST Digital Library of Mathematical Functions,
// 8.17; Abramowitz and Stegun 1964, 26.5 to 26.7).
package distribution

import (
	"math"

	"gonum.org/v1/gonum/mathext"
)

// NormalSurvival is P(Z > z) for the standard normal distribution.
func NormalSurvival(z float64) float64 { return math.Erfc(z/math.Sqrt2) / 2 }

// NormalQuantile is the z with P(Z > z) = upper, 0 < upper < 1; NaN outside.
func NormalQuantile(upper float64) float64 {
	if !(upper > 0 && upper < 1) {
		return math.NaN()
	}
	z := math.Sqrt2 * math.Erfinv(1-2*upper)
	if upper < 0.02 { // Erfinv has lost the digits of a small tail: start from the tail's own size
		z = math.Sqrt(-2 * math.Log(upper))
	} else if upper > 0.98 {
		z = -math.Sqrt(-2 * math.Log(1-upper))
	}
	for range 60 { // Newton on the tail itself
		density := math.Exp(-z*z/2) / math.Sqrt(2*math.Pi)
		p := NormalSurvival(z)
		step := (p - upper) / density
		if upper < 0.02 { // on its logarithm, where it is nearly straight
			step = p / density * math.Log(p/upper)
		}
		z += step
		if math.Abs(step) <= 1e-16*math.Abs(z) {
			break
		}
	}
	return z
}

// StudentSurvival is P(T > t) with df > 0 degrees of freedom, not necessarily
// whole.
func StudentSurvival(t, df float64) float64 {
	tail := StudentTwoSided(t, df) / 2
	if t < 0 {
		return 1 - tail
	}
	return tail
}

// StudentTwoSided is P(|T| > |t|).
func StudentTwoSided(t, df float64) float64 {
	if math.IsNaN(t) || !(df > 0) {
		return math.NaN()
	}
	if math.IsInf(t, 0) {
		return 0
	}
	square := t * t
	if math.IsInf(df, 1) {
		return 2 * NormalSurvival(math.Abs(t))
	}
	return incompleteBeta(df/2, 0.5, df/(df+square), square/(df+square))
}

// StudentQuantile is the t with P(T > t) = upper, 0 < upper < 1; NaN outside.
func StudentQuantile(upper, df float64) float64 {
	if !(upper > 0 && upper < 1) || !(df > 0) {
		return math.NaN()
	}
	switch {
	case upper == 0.5:
		return 0
	case upper > 0.5:
		return -StudentQuantile(1-upper, df)
	case math.IsInf(df, 1):
		return NormalQuantile(upper)
	}
	return quantile(upper, func(t float64) float64 { return StudentSurvival(t, df) })
}

// FSurvival is P(F > f) with d1 and d2 degrees of freedom.
func FSurvival(f, d1, d2 float64) float64 {
	switch {
	case math.IsNaN(f) || !(d1 > 0) || !(d2 > 0):
		return math.NaN()
	case f <= 0:
		return 1
	case math.IsInf(f, 1):
		return 0
	}
	return incompleteBeta(d2/2, d1/2, d2/(d2+d1*f), d1*f/(d2+d1*f))
}

// FQuantile is the f with P(F > f) = upper, 0 < upper < 1; NaN outside.
func FQuantile(upper, d1, d2 float64) float64 {
	if !(upper > 0 && upper < 1) || !(d1 > 0) || !(d2 > 0) {
		return math.NaN()
	}
	return quantile(upper, func(f float64) float64 { return FSurvival(f, d1, d2) })
}

// quantile finds the positive value at which a falling survival function is
// upper: by bisection of its logarithm until double precision is reached. It is
// slower than Newton's method and never goes astray; quantiles are asked for
// once a fit.
func quantile(upper float64, survival func(float64) float64) float64 {
	low, high := 0.0, 1.0
	for survival(high) > upper {
		low, high = high, high*2
		if math.IsInf(high, 1) {
			return high
		}
	}
	for range 2000 {
		middle := low + (high-low)/2
		if low == 0 && high < 1e-3 { // find the magnitude of a small one first
			middle = high / 16
			if high < 1e-300 {
				return 0
			}
		}
		if middle <= low || middle >= high {
			break
		}
		if survival(middle) > upper {
			low = middle
		} else {
			high = middle
		}
	}
	return low + (high-low)/2
}

// incompleteBeta is I_x(a, b) for x + y = 1. Both are given, so that neither
// loses digits near 1.
func incompleteBeta(a, b, x, y float64) float64 {
	switch {
	case x <= 0:
		return 0
	case y <= 0:
		return 1
	}
	// The continued fraction converges quickly on this side of the mean.
	if x > (a+1)/(a+b+2) {
		return 1 - betaTail(b, a, y, x)
	}
	return betaTail(a, b, x, y)
}

// betaTail is x^a y^b / (a B(a, b)) times the continued fraction of DLMF 8.17.22,
// by the method of Lentz (Press et al., Numerical Recipes, 3rd ed., 6.4).
func betaTail(a, b, x, y float64) float64 {
	const tiny = 1e-300
	c, d := 1.0, 1-(a+b)*x/(a+1)
	if math.Abs(d) < tiny {
		d = tiny
	}
	d = 1 / d
	fraction := d
	for m := 1.0; m < 100000; m++ {
		for _, numerator := range [2]float64{
			m * (b - m) * x / ((a + 2*m - 1) * (a + 2*m)),
			-(a + m) * (a + b + m) * x / ((a + 2*m) * (a + 2*m + 1)),
		} {
			d = 1 + numerator*d
			if math.Abs(d) < tiny {
				d = tiny
			}
			c = 1 + numerator/c
			if math.Abs(c) < tiny {
				c = tiny
			}
			d = 1 / d
			fraction *= c * d
		}
		if math.Abs(c*d-1) < 1e-16 {
			break
		}
	}
	return math.Exp(logBetaTerm(a, b, x, y)) / a * fraction
}

// logBetaTerm is ln(x^a y^b / B(a, b)), with the large terms of the logarithms
// cancelled by hand (Loader 2000, "Fast and accurate computation of binomial
// probabilities").
func logBetaTerm(a, b, x, y float64) float64 {
	difference := b*x - a*y
	return a*logRatio(difference/a, x*(a+b)/a) + b*logRatio(-difference/b, y*(a+b)/b) +
		0.5*math.Log(a*b/(a+b)/(2*math.Pi)) +
		stirlingError(a+b) - stirlingError(a) - stirlingError(b)
}

// logRatio is ln(ratio), where less is ratio - 1 without cancellation: near 1 that
// keeps the digits, and far from it the ratio itself does.
func logRatio(less, ratio float64) float64 {
	if math.Abs(less) < 0.5 {
		return math.Log1p(less)
	}
	return math.Log(ratio)
}

// stirlingError is ln Γ(z) - [(z - 1/2) ln z - z + ln(2π)/2].
func stirlingError(z float64) float64 {
	if z < 15 {
		l, _ := math.Lgamma(z)
		return l - ((z-0.5)*math.Log(z) - z + 0.5*math.Log(2*math.Pi))
	}
	s := 1 / (z * z)
	return (1.0/12 - s*(1.0/360-s*(1.0/1260-s*(1.0/1680-s*(1.0/1188-s*691.0/360360))))) / z
}

// ChiSquaredSurvival is P(X > x) for X chi squared with df: the upper incomplete gamma
// function Q(df/2, x/2) (DLMF 8.2).
func ChiSquaredSurvival(x, df float64) float64 {
	if !(x > 0) {
		return 1
	}
	return mathext.GammaIncRegComp(df/2, x/2)
}
