package reading

import (
	"fmt"
	"math"
	"slices"

	"copperlark/core/confound"
	"copperlark/core/scale"
	"copperlark/core/words"
)

// Finding says in a few words what a column does to the slope, in the units of the reading.
func (u *Units) Finding(f confound.Finding) string {
	overall, within := u.told(f.Overall, f.OverallInterval), u.told(f.Within, f.WithinInterval)
	switch f.Verdict {
	case confound.Reverses:
		return fmt.Sprintf("turns from %s to %s", overall, within)
	case confound.ExplainsAway:
		if onlyAlone(f) {
			return fmt.Sprintf("nothing of %s is left: %s is not clear among all that were tried", overall, within)
		}
		return fmt.Sprintf("nothing clear is left of %s: %s (%s)", overall, within, u.interval(f.WithinInterval))
	case confound.Hides:
		return fmt.Sprintf("not clear overall (%s), %s with it held fixed", overall, within)
	case confound.Differs:
		return u.differs(f)
	case confound.Weakens, confound.Strengthens:
		return u.changes(f, overall, within)
	case confound.Holds:
		return fmt.Sprintf("stays about the same: %s overall, %s with it held fixed", overall, within)
	case confound.CannotTell:
		return u.unclear(f, overall, within)
	case confound.TooAlike:
		other := u.X
		if f.AlikeTo == "y" {
			other = u.Y
		}
		return fmt.Sprintf("nearly the same as %s: set aside", other)
	}
	return "too few " + f.Missing
}

// onlyAlone reports whether a slope that is said to be explained away would look clear, the
// other way, if its column were the only one that was tried.
func onlyAlone(f confound.Finding) bool {
	return f.Verdict == confound.ExplainsAway && f.WithinInterval.Excludes(0)
}

// changes tells a change of size without a change of sign.
func (u *Units) changes(f confound.Finding, overall, within string) string {
	verb, change := "grows", 100*math.Abs(f.Change)
	if math.Abs(f.Within) < math.Abs(f.Overall) {
		verb = "shrinks"
	}
	by := fmt.Sprintf("by %.0f %%", change)
	if change > mostTold {
		by = "more than tenfold"
	}
	return fmt.Sprintf("%s %s, from %s to %s", verb, by, overall, within)
}

// unclear tells why nothing can be said.
func (u *Units) unclear(f confound.Finding, overall, within string) string {
	clear := func(low, high float64) bool { return low > 0 || high < 0 }
	one, two := clear(f.OverallInterval.Low, f.OverallInterval.High), clear(f.WithinInterval.Low, f.WithinInterval.High)
	how := "from %s to %s"
	if f.Overall*f.Within < 0 {
		how = "turns from %s to %s"
	}
	which := "neither clear"
	switch {
	case one && two:
		which = "the change is not clear"
	case one:
		which = "the second not clear"
	case two:
		which = "the first not clear"
	}
	return fmt.Sprintf(how+", %s", overall, within, which)
}

// differs tells in which groups there is a clear slope, or how it changes with a number.
func (u *Units) differs(f confound.Finding) string {
	if m := f.Moved; m != nil && f.Groups == 0 {
		return fmt.Sprintf(
			"the slope changes with it: %s at its lower quartile, %s at its upper",
			u.told(m.At[0].Slope, m.At[0].Interval),
			u.told(m.At[2].Slope, m.At[2].Interval),
		)
	}
	up, down, unclear := directions(f.Slopes)
	total := len(f.Slopes)
	switch {
	case len(up) == total || len(down) == total:
		low, high := f.Slopes[0], f.Slopes[0]
		for _, s := range f.Slopes {
			if s.Slope < low.Slope {
				low = s
			}
			if s.Slope > high.Slope {
				high = s
			}
		}
		return fmt.Sprintf(
			"from %s in %s to %s in %s",
			u.told(low.Slope, low.Interval),
			low.Level,
			u.told(high.Slope, high.Interval),
			high.Level,
		)
	case len(up) > 0 && len(down) > 0:
		return fmt.Sprintf("rises in %s, falls in %s%s", named(up), named(down), alsoUnclear(unclear))
	case len(up) > 0:
		return fmt.Sprintf("rises in %s, not clearly in %s", named(up), named(unclear))
	case len(down) > 0:
		return fmt.Sprintf("falls in %s, not clearly in %s", named(down), named(unclear))
	}
	return "the groups differ, and none has a clear slope of its own"
}

// directions are the groups whose own interval leaves zero out, by its side, and the others.
func directions(slopes []confound.GroupSlope) (up, down, unclear []string) {
	for _, s := range slopes {
		switch {
		case s.Interval.Low > 0:
			up = append(up, s.Level)
		case s.Interval.High < 0:
			down = append(down, s.Level)
		default:
			unclear = append(unclear, s.Level)
		}
	}
	return up, down, unclear
}

// mostNamed is how many groups are named; more are counted.
const mostNamed = 3

func named(groups []string) string {
	if len(groups) > mostNamed {
		return scale.Number(float64(len(groups)), 0) + " groups"
	}
	return words.And(slices.Clone(groups))
}

func alsoUnclear(groups []string) string {
	if len(groups) == 0 {
		return ""
	}
	return ", not clearly in " + named(groups)
}
