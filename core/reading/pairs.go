package reading

import (
	"fmt"
	"math"

	"copperlark/core/pairs"
	"copperlark/core/table"
)

// PairWords tells a pair of columns: how strong it is, and where it goes overall and inside
// the groups of a column, which may be nil. A direction is told only where it is clear.
func PairWords(p pairs.Pair, by *table.Column) string {
	if math.IsNaN(p.R) {
		return "no correlation: a column has no spread, or too few rows have both"
	}
	clear := ", clear"
	if !p.Clear {
		clear = ", not clear"
	}
	switch p.Measure {
	case pairs.Eta:
		return fmt.Sprintf("%s%s: the groups account for %s of the spread", strengthOf(p.R), clear, percent(p.R*p.R))
	case pairs.V:
		return strengthOf(p.R) + clear + ", of groups by groups"
	}
	goes := func(r float64, clear bool, where string) string {
		switch {
		case !clear:
			return "not clear " + where
		case r > 0:
			return "rises " + where
		}
		return "falls " + where
	}
	words := strengthOf(p.R) + ", " + goes(p.R, p.Clear, "overall")
	if by == nil {
		return words
	}
	inside := "inside groups of " + by.Prose()
	if math.IsNaN(p.Within) {
		return words + "; nothing to tell " + inside
	}
	return words + "; " + goes(p.Within, p.ClearWithin, inside)
}
