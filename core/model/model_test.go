package model

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// cloud is y = 3 - 2x + noise.
func cloud(n int, seed uint64) (x, y []float64) {
	source := rand.New(rand.NewPCG(seed, 1))
	x, y = make([]float64, n), make([]float64, n)
	for i := range x {
		x[i] = 10 * source.Float64()
		y[i] = 3 - 2*x[i] + source.NormFloat64()
	}
	return x, y
}

func near(t *testing.T, what string, got, want, relative float64) {
	t.Helper()
	if !(math.Abs(got-want) <= relative*math.Max(1, math.Abs(want))) {
		t.Errorf("%s: got %.15g, want %.15g", what, got, want)
	}
}

// TestManyRowsAgreeWithFew holds the ways for many rows, in passes on all cores,
// against those for few over the same rows.
func TestManyRowsAgreeWithFew(t *testing.T) {
	x, y := cloud(200_003, 1)
	group := make([]int32, len(x))
	for i := range group {
		group[i] = int32(i%4) - 1
	}
	lines, _ := FitLines(context.Background(), x, y, group, 3)
	for g, l := range lines {
		var gx, gy []float64
		for i := range x {
			if group[i] == int32(g) {
				gx, gy = append(gx, x[i]), append(gy, y[i])
			}
		}
		slow := slowLine(gx, gy)
		near(t, "slope", l.Slope, slow[0], 1e-11)
		near(t, "intercept", l.Intercept, slow[1], 1e-11)
		near(t, "RSS", l.RSS, slow[2], 1e-9)
	}
	fast, err := FitPolynomial(context.Background(), x, y, 3)
	if err != nil {
		t.Fatal(err)
	}
	slow := *fast
	u := make([]float64, len(x))
	for i, v := range x {
		u[i] = (v - fast.centre) / fast.scale
	}
	slow.orthogonal(u, y, nil)
	for order := range fast.weights {
		near(t, "weight", fast.weights[order], slow.weights[order], 1e-9)
	}
}

// slowLine solves the normal equations by the textbook.
func slowLine(x, y []float64) [3]float64 {
	n, mx, my := float64(len(x)), 0.0, 0.0
	for i := range x {
		mx += x[i] / n
		my += y[i] / n
	}
	sxx, sxy := 0.0, 0.0
	for i := range x {
		sxx += (x[i] - mx) * (x[i] - mx)
		sxy += (x[i] - mx) * (y[i] - my)
	}
	b, rss := sxy/sxx, 0.0
	for i := range x {
		e := y[i] - my - b*(x[i]-mx)
		rss += e * e
	}
	return [3]float64{b, my - b*mx, rss}
}

// TestCoefficientsMoveAsTheyMust shifts, scales, shuffles and doubles the rows.
func TestCoefficientsMoveAsTheyMust(t *testing.T) {
	x, y := cloud(150, 2)
	base, _ := FitLine(context.Background(), x, y)
	curve, _ := FitPolynomial(context.Background(), x, y, 2)
	robust, _ := FitRobustLine(t.Context(), x, y, 1)
	changed := func(sx, dx, sy, dy float64) (a, b []float64) {
		a, b = make([]float64, len(x)), make([]float64, len(x))
		for i := range x {
			a[i], b[i] = sx*x[i]+dx, sy*y[i]+dy
		}
		return a, b
	}
	for _, c := range [][4]float64{{1, 1e6, 1, 0}, {2, 0, 1, 0}, {1, 0, -3, 100}, {-0.01, 5, 1e5, -7}} {
		a, b := changed(c[0], c[1], c[2], c[3])
		l, _ := FitLine(context.Background(), a, b)
		near(t, "slope", l.Slope, base.Slope*c[2]/c[0], 1e-8)
		near(t, "standard error", l.SESlope, base.SESlope*math.Abs(c[2]/c[0]), 1e-8)
		near(t, "R squared", l.R2, base.R2, 1e-9)
		near(t, "height", l.At(c[0]*4+c[1]), c[2]*base.At(4)+c[3], 1e-8)
		p, _ := FitPolynomial(context.Background(), a, b, 2)
		near(t, "curve", p.At(c[0]*4+c[1]), c[2]*curve.At(4)+c[3], 1e-8)
		r, _ := FitRobustLine(t.Context(), a, b, 1)
		near(t, "robust slope", r.Slope, robust.Slope*c[2]/c[0], 1e-8)
	}
	shuffled := rand.New(rand.NewPCG(4, 4)).Perm(len(x))
	a, b := make([]float64, len(x)), make([]float64, len(x))
	for i, j := range shuffled {
		a[i], b[i] = x[j], y[j]
	}
	l, _ := FitLine(context.Background(), a, b)
	near(t, "shuffled slope", l.Slope, base.Slope, 1e-12)
	near(t, "shuffled error", l.SEIntercept, base.SEIntercept, 1e-12)
	twice, _ := FitLine(context.Background(), slices.Concat(x, x), slices.Concat(y, y))
	near(t, "doubled slope", twice.Slope, base.Slope, 1e-12)
}

func TestBandsHoldTheLineAndWiden(t *testing.T) {
	x, y := cloud(60, 3)
	l, _ := FitLine(context.Background(), x, y)
	p, _ := FitPolynomial(context.Background(), x, y, 3)
	for name, band := range map[string]func(float64) (c, s func(float64) Interval){"line": l.Band, "curve": p.Band} {
		c80, _ := band(0.8)
		c99, s99 := band(0.99)
		for at := -5.0; at < 15; at += 0.5 {
			fit := l.At(at)
			if name == "curve" {
				fit = p.At(at)
			}
			a, b, s := c80(at), c99(at), s99(at)
			if !(s.Low < b.Low && b.Low < a.Low && a.Low < fit && fit < a.High && a.High < b.High && b.High < s.High) {
				t.Fatalf("%s at %v: %v %v %v about %v", name, at, a, b, s, fit)
			}
		}
	}
}

// TestOutliersAreLeftOut builds a line with three far points.
func TestOutliersAreLeftOut(t *testing.T) {
	x, y := cloud(80, 5)
	for i := range 3 {
		x[i], y[i] = 9.5+0.1*float64(i), 40
	}
	all, without, left, err := FitLineWithoutOutliers(context.Background(), x, y)
	if err != nil || !slices.Contains(left, 0) || !slices.Contains(left, 2) {
		t.Fatalf("%v, left out %v", err, left)
	}
	if math.Abs(without.Slope+2) > 0.15 || math.Abs(all.Slope+2) < 0.3 {
		t.Errorf("the slope is %v with outliers and %v without", all.Slope, without.Slope)
	}
	robust, _ := FitRobustLine(t.Context(), x, y, 1)
	if math.Abs(robust.Slope+2) > 0.15 || robust.Interval.Low > -2 || robust.Interval.High < -2 {
		t.Errorf("the robust slope is %v in %v", robust.Slope, robust.Interval)
	}
}

func TestASampledRobustLineIsNearTheExactOne(t *testing.T) {
	x, y := cloud(6000, 6)
	sampled, _ := FitRobustLine(t.Context(), x, y, 1)
	again, _ := FitRobustLine(t.Context(), x, y, 1)
	exact, _ := FitRobustLine(t.Context(), x[:exactRobustRows], y[:exactRobustRows], 1)
	if !sampled.Sampled || exact.Sampled || sampled.Slope != again.Slope || math.Abs(sampled.Slope-exact.Slope) > 0.02 {
		t.Errorf("sampled %v, again %v, exact over half %v", sampled.Slope, again.Slope, exact.Slope)
	}
}

// TestADegreeOfTenKeepsItsDigits recovers exact coefficients over x from -9 to -3,
// where raw powers have a condition number beyond 10^14.
func TestADegreeOfTenKeepsItsDigits(t *testing.T) {
	var x, y []float64
	for i := range 82 {
		v := -9 + 6*float64(i)/81
		sum := 0.0
		for k := 10; k >= 0; k-- {
			sum = sum*((v+6)/3) + float64(1+k%3)
		}
		x, y = append(x, v), append(y, sum)
	}
	p, err := FitPolynomial(context.Background(), x, y, 10)
	if err != nil {
		t.Fatal(err)
	}
	for _, at := range []float64{-8.7, -6.1, -3.2} {
		want := 0.0
		for k := 10; k >= 0; k-- {
			want = want*((at+6)/3) + float64(1+k%3)
		}
		near(t, "height", p.At(at), want, 1e-11)
		raw := 0.0
		for k := 10; k >= 0; k-- {
			raw = raw*at + p.Coefficients[k]
		}
		near(t, "height from raw coefficients", raw, want, 1e-6)
	}
}

func TestAStoppedFitSaysSo(t *testing.T) {
	stopped, stop := context.WithCancel(context.Background())
	stop()
	x, y := cloud(300_000, 7)
	if _, errs := FitLines(stopped, x, y, nil, 1); errs[0] != context.Canceled {
		t.Errorf("a stopped line: %v", errs[0])
	}
	if _, err := FitPolynomial(stopped, x, y, 2); err != context.Canceled {
		t.Errorf("a stopped curve: %v", err)
	}
}

// FuzzFits holds that odd values make no panic, and that a fit that is given has
// numbers in it.
func FuzzFits(f *testing.F) {
	f.Add(1.0, 2.0, 3.0, 4.0, 1e9)
	f.Add(0.0, 0.0, 1.0, 1.0, 0.0)
	f.Add(math.NaN(), math.Inf(1), -1e300, 1e-300, 1.0)
	f.Fuzz(func(t *testing.T, a, b, c, d, offset float64) {
		x, y, _ := Complete([]float64{a, b, c, d, a, offset, offset + a}, []float64{b, a, d, c, offset, a, b})
		usable := true
		for i := range x {
			usable = usable && math.Abs(x[i]) < 1e100 && math.Abs(y[i]) < 1e100 && (x[i] == 0 || math.Abs(x[i]) > 1e-100)
		}
		l, err := FitLine(context.Background(), x, y)
		if err == nil {
			InfluenceOn(l, x, y).Outliers()
			l.PSlope()
			if usable && (math.IsNaN(l.Slope) || math.IsNaN(l.At(x[0]))) {
				t.Errorf("slope %v over %v, %v", l.Slope, x, y)
			}
		}
		_, _ = FitRobustLine(t.Context(), x, y, 1)
		_, _, _ = Logged(x, y, true, true)
		if usable {
			_, _ = FitPolynomial(context.Background(), x, y, 2)
		}
	})
}

// TestMultipleRegressionAgreesWithACurve fits x and x² as two columns.
func TestMultipleRegressionAgreesWithACurve(t *testing.T) {
	x, y := cloud(70, 8)
	rows := make([][]float64, len(x))
	for i, v := range x {
		rows[i] = []float64{v, v * v}
	}
	m, err := FitMultiple(rows, y)
	if err != nil {
		t.Fatal(err)
	}
	p, _ := FitPolynomial(context.Background(), x, y, 2)
	for k := range 3 {
		near(t, "coefficient", m.Coefficients[k], p.Coefficients[k], 1e-10)
		near(t, "standard error", m.SE[k], p.SE[k], 1e-10)
	}
	near(t, "adjusted R squared", m.AdjustedR2, p.AdjustedR2, 1e-12)
	for i := range rows {
		rows[i][1] = 3*rows[i][0] - 1
	}
	if _, err := FitMultiple(rows, y); err != ErrCollinear {
		t.Errorf("collinear columns: %v", err)
	}
}
