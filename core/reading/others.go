package reading

import (
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
		r.say("plain", plain("The %s rows reach from ", n), strong("%s to %s", s.Lowest, s.Highest), plain("; the middle one is of %s.", s.Middle))
		return
	}
	r.say("plain", plain("Half of the %s rows have %s between ", n, withArticle(s.Name)), strong("%s and %s", scale.Value(s.Q1, 3), amountOf(s.Q3, s.Unit)), plain("; the median is "), strong("%s", amountOf(s.Median, s.Unit)),
		plain(", and all lie between %s and %s.", scale.Value(s.Low, 3), amountOf(s.High, s.Unit)))
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
		r.say("caution", plain("The values are strongly right-skewed: a log scale would spread them.")).Offers = []Offer{{"log scale along x", "log x"}}
	}
}

// crossed says how close two columns of groups go together.
func (r *reader) crossed(c *figure.Crossed) {
	n := scale.Number(float64(c.N), 0)
	r.say("plain", plain("The most frequent pair is "), strong("%s with %s", c.MostY, c.MostX), plain(": %s of %s rows.", scale.Number(float64(c.MostRows), 0), n))
	if math.IsNaN(c.V) {
		return
	}
	r.say("plain", plain("The association of %s and %s is ", r.Y, r.X), strong("%s", strengthOf(c.V)), plain(" (Cramér’s V = %s, corrected for bias).", scale.Number(c.V, 2)))
}

// counted says which group a statistic is highest and lowest in.
func (r *reader) counted(c *figure.Counted) {
	if c.Groups == 1 {
		r.say("plain", plain("For %s the %s is ", c.Highest, c.What), strong("%s", c.HighText), plain("."))
		return
	}
	what := "The " + c.What
	if c.What == "rows" {
		what = "The number of rows"
	}
	if c.HighText == c.LowText {
		r.say("plain", plain("%s is the same in all %s groups: ", what, scale.Number(float64(c.Groups), 0)), strong("%s", c.HighText), plain(", over %s rows.", scale.Number(float64(c.N), 0)))
		return
	}
	r.say("plain", plain("%s is highest for ", what), strong("%s (%s)", c.Highest, c.HighText), plain(" and lowest for "), strong("%s (%s)", c.Lowest, c.LowText),
		plain(", over %s groups and %s rows.", scale.Number(float64(c.Groups), 0), scale.Number(float64(c.N), 0)))
}
