// Package compare tells two charts apart: how much the slopes of two lines differ, and which rows only one of them draws.
package compare

import (
	"math"

	"copperlark/core/distribution"
	"copperlark/core/model"
)

// Line is what a straight line is laid through: x and y in drawn space, and the table row that each pair is of, rising.
type Line struct {
	X, Y []float64
	Rows []uint32
}

// Fitted is the least-squares line through what it is laid through.
type Fitted struct {
	Through Line
	*model.Line
}

// adds is what each row adds to the error of the slope: √(n/(n−2)) (x − mean x) · residual / Sxx.
func (f Fitted) adds() []float64 {
	n, out := float64(f.N), make([]float64, len(f.Through.X))
	share := math.Sqrt(n / (n - 2))
	for i, x := range f.Through.X {
		dx := x - f.XMean
		out[i] = share * dx * (f.Through.Y[i] - f.YMean - f.Slope*dx) / f.Sxx
	}
	return out
}

// Difference is how much one slope is more than another.
type Difference struct {
	Value    float64
	Interval model.Interval // 95 %
	Clear    bool           // it is not zero, as far as can be said of this many comparisons
}

// level is that of intervals.
const level = 0.95

// Slopes is the second of two slopes less the first, with its interval. Rows that are in both count once: what they add to the
// error of the one and of the other is taken together,
//
//	var(b₂ − b₁) = Σ over all rows (e₂ᵢ − e₁ᵢ)²
//	eᵢ = √(n/(n−2)) · (xᵢ − x̄) rᵢ / Sxx, and 0 where a row is not in a line,
//
// the heteroscedasticity-consistent variance of two estimates that share rows (White 1980, Econometrica 48, 817–838, with the
// factor n/(n−2); for shared rows Weesie 1999, the sum over rows of what each adds). same says that rows of one number are the
// same row in both; else they are taken as independent. The difference is called clear where |b₂ − b₁| is beyond the t-quantile
// of 1 − 0.05/comparisons (Bonferroni), on the fewer rows less two.
func Slopes(first, second Fitted, same bool, comparisons int) (d Difference, ok bool) {
	if first.DF < 1 || second.DF < 1 {
		return d, false
	}
	a, b := first.adds(), second.adds()
	variance := 0.0
	if same {
		variance = together(a, b, first.Through.Rows, second.Through.Rows)
	} else {
		for _, adds := range [][]float64{a, b} {
			for _, v := range adds {
				variance += v * v
			}
		}
	}
	d.Value = second.Slope - first.Slope
	if d.Value == 0 && variance == 0 { // the same rows, or lines without any error
		return d, true
	}
	df, error := float64(min(first.DF, second.DF)), math.Sqrt(variance)
	half := distribution.StudentQuantile((1-level)/2, df) * error
	d.Interval = model.Interval{Low: d.Value - half, High: d.Value + half}
	d.Clear = math.Abs(d.Value) > distribution.StudentQuantile((1-level)/2/float64(max(comparisons, 1)), df)*error
	return d, true
}

// together is the sum of squares of what each row adds to the second less what it adds to the first.
func together(a, b []float64, rowsA, rowsB []uint32) (sum float64) {
	i, j := 0, 0
	for i < len(a) || j < len(b) {
		switch {
		case j == len(b) || i < len(a) && rowsA[i] < rowsB[j]:
			sum += a[i] * a[i]
			i++
		case i == len(a) || rowsB[j] < rowsA[i]:
			sum += b[j] * b[j]
			j++
		default:
			sum += (b[j] - a[i]) * (b[j] - a[i])
			i, j = i+1, j+1
		}
	}
	return sum
}

// Only are the rows that one of two charts draws and the other leaves out, by the reasons for which it does. why is of each row of
// the table 0 where it is drawn, else one more than the number of its reason.
func Only(leaves, draws []uint8) (rows []uint32, reasons map[uint8]int) {
	reasons = map[uint8]int{}
	for i, why := range leaves {
		if why != 0 && draws[i] == 0 {
			rows = append(rows, uint32(i))
			reasons[why]++
		}
	}
	return rows, reasons
}
