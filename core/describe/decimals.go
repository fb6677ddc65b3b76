package describe

import (
	"math"

	"copperlark/core/magnitude"
	"copperlark/core/sample"
	"copperlark/core/table"
)

// MostDecimals is how many decimals are looked for, and decimalsLooked in how many values.
const (
	MostDecimals   = 6
	decimalsLooked = 5000
)

// Shown is how many decimals the numbers of a column are shown with: as many as write them exactly, and no fewer than
// all of them were written with. More than MostDecimals where six are not enough.
func Shown(c *table.Column) int {
	return max(Decimals(c.Numbers), min(c.Decimals, MostDecimals))
}

// Decimals is how many decimals write the values of a column exactly, looked at in at most 5,000 of them that are
// drawn at random: 2 where some are hundredths, as prices are. More than MostDecimals where six are not enough;
// missing values are passed over, and of none it is 0.
func Decimals(values []float64) int {
	needed, unit := 0, 1.0
	look := func(v float64) {
		for needed <= MostDecimals && magnitude.Finite(v) && math.Abs(v*unit-math.Round(v*unit)) > 1e-9*math.Abs(v*unit) {
			needed, unit = needed+1, unit*10
		}
	}
	if rows := sample.Rows(len(values), decimalsLooked, nil); rows != nil {
		for _, row := range rows {
			look(values[row])
		}
		return needed
	}
	for _, v := range values {
		look(v)
	}
	return needed
}
