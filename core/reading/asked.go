package reading

import (
	"fmt"
	"math"

	"copperlark/core/confound"
	"copperlark/core/distribution"
	"copperlark/core/model"
	"copperlark/core/scale"
)

// Looked is a slope, and what the strongest of the columns that were tried does to it.
type Looked struct {
	Line    *model.Line
	Column  string // in prose; empty: none of them does anything
	Verdict confound.Verdict
}

// Asked tells what rows that were set aside say of a slope that others show: whether it is
// there too, as large, and whether the column that changes it does so in them. Slopes differ
// in size where |b₁ − b₂| > 1.96 √(se₁² + se₂²).
func Asked(u *Units, shown, aside Looked) string {
	was, is := shown.Line, aside.Line
	a, b := was.SlopeInterval(level), is.SlopeInterval(level)
	told := fmt.Sprintf(
		"%s %s (%s), against %s in the rows that were seen",
		u.told(is.Slope, b),
		u.Per,
		u.interval(b),
		u.told(was.Slope, a),
	)
	apart := 2 * distribution.NormalSurvival(math.Abs(was.Slope-is.Slope)/math.Hypot(was.SESlope, is.SESlope))
	begins := fmt.Sprintf("Asked afterwards, %s that nobody had seen ", scale.Counted(is.N, "row"))
	switch {
	case !a.Excludes(0) && !b.Excludes(0):
		begins += "show no clear slope either"
	case !a.Excludes(0):
		begins += "show a slope that the others did not"
	case !b.Excludes(0):
		begins += "do not show it clearly"
	case was.Slope*is.Slope < 0:
		begins += "say the opposite"
	case apart < 1-level:
		begins += "agree in direction and not in size"
	default:
		begins += "say the same"
	}
	return begins + ": " + told + "." + verdictAgain(shown, aside)
}

func verdictAgain(shown, aside Looked) string {
	if shown.Column == "" {
		return ""
	}
	if shown.Verdict == aside.Verdict {
		return fmt.Sprintf(" %s %s in them too.", capital(shown.Column), does[shown.Verdict])
	}
	return fmt.Sprintf(" %s %s in the rows that were seen; in them: %s.", capital(shown.Column), does[shown.Verdict], aside.Verdict)
}

// does says a verdict of a column as what it does.
var does = map[confound.Verdict]string{
	confound.Reverses:     "reverses the trend",
	confound.ExplainsAway: "explains it away",
	confound.Hides:        "hides it",
	confound.Differs:      "has groups or values with slopes of their own",
	confound.Weakens:      "weakens it",
	confound.Strengthens:  "strengthens it",
}
