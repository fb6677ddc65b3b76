package reading

import (
	"fmt"
	"math"

	"copperlark/core/confound"
	"copperlark/core/model"
	"copperlark/core/scale"
)

// Standardised tells the difference between two groups as it would be if both had the mix of a
// column that all rows have; of rates, which may be nil, also what levels say together, and how
// strong a hidden cause would have to be.
func Standardised(u *Units, column string, d confound.Ratio, share float64, rates *confound.Rates) []string {
	if math.IsNaN(d.Value) {
		return nil
	}
	said := []string{
		fmt.Sprintf(
			"If both had the mix of %s that all rows have, the difference would be %s (%s).",
			column,
			u.told(d.Value, d.Interval),
			u.interval(d.Interval),
		),
	}
	if share < 1 {
		said[0] += fmt.Sprintf(" That is told of %s of the rows: at the other values one of the two has none.", percent(share))
	}
	if rates == nil || rates.Common == nil {
		return said
	}
	common := rates.Common.Difference
	of100 := model.Interval{Low: 100 * common.Interval.Low, High: 100 * common.Interval.High}
	said = append(
		said,
		fmt.Sprintf(
			"Put together over its values (Mantel and Haenszel) it is %s (%s).",
			u.told(100*common.Value, of100),
			u.interval(of100),
		),
	)
	ratio := rates.Common.Ratio
	if value, _, err := confound.EValue(ratio.Value, ratio.Interval.Low, ratio.Interval.High); err == nil && value > 1 {
		said = append(
			said,
			fmt.Sprintf("A hidden cause would have to go with both by a factor of %s to explain it away (E-value).", scale.Value(value, 2)),
		)
	}
	return said
}
