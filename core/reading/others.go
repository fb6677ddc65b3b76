package reading

import (
	"fmt"
	"math"
	"strings"

	"copperlark/core/describe"
	"copperlark/core/figure"
	"copperlark/core/scale"
	"copperlark/core/words"
)

// amountOf writes a value with its unit.
func amountOf(v float64, unit string) string {
	return strings.TrimSpace(scale.Value(v, 3) + " " + shortUnit(unit))
}

// withArticle puts an article before the name of one thing, and none before that of several.
func withArticle(name string) string {
	if isPlural(name) {
		return name
	}
	return words.Article(name) + " " + name
}

// spread says where the values of one column lie.
func (r *reader) spread(s *figure.Spread) {
	n := scale.Number(float64(s.N), 0)
	switch {
	case s.N == 1 && s.Dates:
		r.say("plain", plain("The one row is of "), strong("%s", s.Middle), plain("."))
		return
	case s.N == 1:
		r.say("plain", plain("The one row has %s of ", withArticle(s.Name)), strong("%s", amountOf(s.Median, s.Unit)), plain("."))
		return
	}
	if s.Dates {
		r.say(
			"plain",
			plain("The %s rows reach from ", n),
			strong("%s to %s", s.Lowest, s.Highest),
			plain("; the middle one is of %s.", s.Middle),
		)
		return
	}
	r.say(
		"plain",
		plain("Half of the %s rows have %s between ", n, withArticle(s.Name)),
		strong("%s and %s", scale.Value(s.Q1, 3), amountOf(s.Q3, s.Unit)),
		plain("; the median is "),
		strong("%s", amountOf(s.Median, s.Unit)),
		plain(", and all lie between %s and %s.", scale.Value(s.Low, 3), amountOf(s.High, s.Unit)),
	)
	switch {
	case math.IsNaN(s.Skew):
	case s.Skew > 1:
		r.say("plain", plain("A long tail to the right pulls the mean up to %s.", amountOf(s.Mean, s.Unit)))
	case s.Skew < -1:
		r.say("plain", plain("A long tail to the left pulls the mean down to %s.", amountOf(s.Mean, s.Unit)))
	default:
		r.say("plain", plain("The mean is %s.", amountOf(s.Mean, s.Unit)))
	}
	if describe.SuggestsLog(s.Skew, s.Low, s.High) && r.figure.X().Kind == scale.Linear {
		r.say("caution", plain("The values are strongly right-skewed: a log scale would spread them.")).Offers = []Offer{
			{"log scale along x", "log x"},
		}
	}
}

// crossed says how close two columns of groups go together.
func (r *reader) crossed(c *figure.Crossed) {
	r.say("plain", plain("The most frequent pair is "), strong("%s with %s", c.MostY, c.MostX),
		plain(": %s of %s.", scale.Number(float64(c.MostRows), 0), scale.Counted(c.N, "row")))
	if math.IsNaN(c.V) {
		return
	}
	r.say(
		"plain",
		plain("The association of %s and %s is ", r.Y, r.X),
		strong("%s", strengthOf(c.V)),
		plain(" (Cramér’s V = %s, corrected for bias).", scale.Number(c.V, 2)),
	)
}

// counted says which group a statistic is highest and lowest in.
func (r *reader) counted(c *figure.Counted) {
	if c.Groups == 1 {
		r.say(
			"plain",
			plain("For %s the %s is ", c.Highest, strings.TrimPrefix(counting(c.What), "The ")),
			strong("%s", c.HighText),
			plain("."),
		)
		return
	}
	what := counting(c.What)
	if c.HighText == c.LowText {
		r.say(
			"plain",
			plain("%s is the same in %s: ", what, everyGroup(c.Groups)),
			strong("%s", c.HighText),
			plain(", over %s.", scale.Counted(c.N, "row")),
		)
		return
	}
	r.say(
		"plain",
		plain("%s is highest for ", what),
		strong("%s (%s)", c.Highest, c.HighText),
		plain(" and lowest for "),
		strong("%s (%s)", c.Lowest, c.LowText),
		plain(", over %s groups and %s rows.", scale.Number(float64(c.Groups), 0), scale.Number(float64(c.N), 0)),
	)
}

// counting says what a statistic is, to begin a sentence.
func counting(what string) string {
	if what == "rows" {
		return "The number of rows"
	}
	return "The " + what
}

// everyGroup is so many groups, all of them.
func everyGroup(groups int) string {
	if groups == 2 {
		return "both groups"
	}
	return fmt.Sprintf("all %s groups", scale.Number(float64(groups), 0))
}

// eachColumn tells of each of several columns along y what its own line says.
func (r *reader) eachColumn(columns []figure.EachColumn) {
	low, high := math.Inf(1), math.Inf(-1)
	for _, c := range columns {
		if c.Line != nil {
			low, high = min(low, c.Line.XMin), max(high, c.Line.XMax)
		}
	}
	if low < high {
		r.Units = unitsOf(r.figure, low, high)
	}
	own := r.figure.Y().Unit
	for _, c := range columns {
		u := *r.Units
		u.Y = c.Name
		if own == "" {
			u.yUnit = c.Unit
			u.choose(high - low)
		}
		switch {
		case c.Line == nil:
			r.say("plain", plain("Of %s no line can be read.", c.Name))
		case !c.Line.SlopeInterval(level).Excludes(0) && c.Line.RSS > 0:
			r.say(
				"plain",
				plain("%s %s ", capital(c.Name), u.agree("shows", "show")),
				strong("no clear rise or fall"),
				plain(" with %s, over %s.", u.X, scale.Counted(c.Line.N, "row")),
			)
		default:
			r.say(
				"plain",
				plain("%s, taken as a straight line, ", capital(c.Name)),
				strong("%s by %s", u.moves(c.Line.Slope), u.amount(c.Line.Slope, false)),
				plain(" %s, over %s.", u.Per, scale.Counted(c.Line.N, "row")),
			)
		}
	}
	r.cautions()
	r.table()
}
