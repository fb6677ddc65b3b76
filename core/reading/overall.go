package reading

import (
	"fmt"
	"math"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/scale"
)

// spoken is the line of all rows that is spoken of: the one that is drawn.
type spoken struct {
	slope    float64
	interval model.Interval
	how      string // what it is, where it is no ordinary line of all rows
	exact    bool   // of all rows, where the chart's own are a sample
}

// spokenLine is the drawn line of all rows. Where several are drawn it is the ordinary one; where none is, or
// only curves, it is the line that would be.
func (r *reader) spokenLine() spoken {
	line := r.relation.Line
	s := spoken{slope: line.Slope, interval: r.counted95(line.Interval(level), line.Slope), exact: line.Exact}
	if r.figure.Pictures() > 1 {
		return s
	}
	var other *mark.FittedLine
	curves := 0
	for _, fit := range r.figure.Fits {
		switch m := fit.Model; {
		case fit.Group >= 0 || m == nil || fit.Problem != "":
		case !m.Straight:
			curves++
		case fit.Kind == chart.FitLine && m.LeftOut == 0:
			return s
		case other == nil:
			other = m
		}
	}
	switch {
	case other != nil && other.LeftOut > 0:
		return spoken{
			other.Slope,
			r.counted95(other.Interval(level), other.Slope),
			fmt.Sprintf("without %s", scale.Counted(other.LeftOut, "outlier")),
			other.Exact,
		}
	case other != nil:
		return spoken{other.Slope, r.counted95(other.Interval(level), other.Slope), "by the " + other.Called, other.Exact}
	case curves > 0:
		s.how = "taken as a straight line"
	}
	return s
}

// alike tells how alike rows are; nil where they are independent, or nobody can tell.
func (r *reader) alike() *confound.Alike {
	if r.relation.Alike == nil {
		return nil
	}
	return r.relation.Alike()
}

// counted95 is the interval of a slope with likeness of rows counted.
func (r *reader) counted95(interval model.Interval, slope float64) model.Interval {
	if a := r.alike(); a != nil && a.Ratio > 1 {
		return model.Interval{Low: slope - a.Ratio*(slope-interval.Low), High: slope + a.Ratio*(interval.High-slope)}
	}
	return interval
}

// noSlope is the share of the spread of y that a line may climb over all of x and still be level: what rounding
// leaves of a slope that is none.
const noSlope = 1e-12

// level reports whether a line climbs by no more than rounding does.
func (r *reader) level(slope float64) bool {
	line := r.relation.Line
	spread := math.Abs(line.Line.YMean) + math.Sqrt(line.Line.Syy/float64(max(line.N, 1)))
	return math.Abs(slope)*(line.XMax-line.XMin) <= noSlope*spread
}

func (r *reader) overall() {
	line := r.relation.Line
	s := r.spokenLine()
	r.of(s.exact)
	begin := r.allRows()
	if s.how != "" {
		begin += ", " + s.how
	}
	switch {
	case r.level(s.slope):
		if bends(r.relation.Notes()) {
			r.say(
				"plain",
				plain("%s, a straight line through %s is ", begin, r.Y),
				strong("level"),
				plain(" over %s, but the relation bends.", r.X),
			)
			break
		}
		r.say("plain", plain("%s, %s %s not change with %s.", begin, r.Y, r.agree("does", "do"), r.X))
	case line.N == 2:
		r.say("plain", plain("%s, %s ", begin, r.Y), strong("%s by %s", r.moves(s.slope), r.amount(s.slope, false)),
			plain(" %s: a line goes through any two rows.", r.Per)).Shows = r.lines(
			false,
		)
	case !s.interval.Excludes(0) && line.Line.RSS > 0:
		r.say("plain", plain("%s, %s %s ", begin, r.Y, r.agree("shows", "show")), strong("no clear rise or fall"),
			plain(" with %s: %s %s, with a 95 %% interval from %s to %s.",
				r.X, r.withUnit(r.told(s.slope, s.interval)), r.Per, r.told(s.interval.Low, s.interval),
				r.told(s.interval.High, s.interval))).Shows = r.lines(
			false,
		)
	default:
		r.say("plain", plain("%s, %s ", begin, r.Y), strong("%s by %s", r.moves(s.slope), r.amount(s.slope, false)),
			plain(" %s.", r.Per)).Shows = r.lines(
			false,
		)
	}
	r.saysAlike()
}

// leastTold is by how much likeness must widen an interval for it to be told.
const leastTold = 1.1

// saysAlike tells that rows are alike, and how much wider that makes the interval of the slope.
func (r *reader) saysAlike() {
	a := r.alike()
	if a == nil || a.Ratio < leastTold {
		return
	}
	r.of(false) // likeness is looked for in the rows that are here
	r.say(
		"warning",
		plain("%s: when that is counted, the interval of the slope is ", capital(AlikeWords(a, r.named))),
		strong("%s times as wide", scale.Number(a.Ratio, 1)),
		plain(". It is counted here, and in what else could explain it; bands and the table take rows as independent."),
	)
}

// named is what a column is called, if the chart's own table has it: one that stays at home has no name.
func (r *reader) named(a *confound.Alike) string { return r.relation.AlikeName(a) }

// AlikeWords says how rows are alike, to go on with; name gives what a column is called, and nothing for one that
// must not be named.
func AlikeWords(a *confound.Alike, name func(*confound.Alike) string) string {
	share := scale.Number(a.Share, 2)
	called := name(a)
	switch {
	case a.Clusters > 0 && called == "":
		return fmt.Sprintf("rows of one group of a column that is not shown are alike (%s)", share)
	case a.Clusters > 0:
		return fmt.Sprintf("rows with the same %s are alike (%s)", called, share)
	case a.Column == nil:
		return fmt.Sprintf("rows that follow each other are alike (%s)", share)
	case called == "":
		return fmt.Sprintf("rows that follow each other in time are alike (%s)", share)
	}
	return fmt.Sprintf("rows that follow each other in %s are alike (%s)", called, share)
}

// AlikeNote tells above what was tried that rows are alike, which is counted there.
func AlikeNote(a *confound.Alike) string {
	return alikeWider(a) + ": intervals and verdicts here count that."
}

// alikeCaution tells it where it is not counted.
func alikeCaution(a *confound.Alike) string {
	return alikeWider(a) + ": intervals here take rows as independent, and are too narrow."
}

func alikeWider(a *confound.Alike) string {
	words := capital(AlikeWords(a, func(a *confound.Alike) string {
		if a.Column == nil {
			return ""
		}
		return a.Column.Prose()
	}))
	if a.Ratio >= leastTold {
		words += fmt.Sprintf(", which makes the interval of the slope %s times as wide", scale.Number(a.Ratio, 1))
	}
	return words
}

// fewestCorrelated is from how many rows on a correlation is told.
const fewestCorrelated = 4

func (r *reader) closeness(bends bool) {
	line := r.relation.Line.Line
	n := scale.Number(float64(line.N), 0)
	switch {
	case line.N < fewestCorrelated:
		r.say("plain", plain("Over %s nothing can be said of how close the relation is.", scale.Counted(line.N, "row")))
		return
	case !(line.Syy > 0):
		r.say("plain", plain("All %s rows have the same %s.", n, r.Y))
		return
	}
	correlation := line.Sxy / math.Sqrt(line.Sxx*line.Syy)
	about := strengthOf(correlation)
	if math.Abs(correlation) < 1 { // Fisher 1921
		z, half := math.Atanh(correlation), 1.959963984540054/math.Sqrt(float64(line.N-3))
		if low, high := Correlation(math.Tanh(z-half)), Correlation(math.Tanh(z+half)); low != high {
			about += fmt.Sprintf("; 95 %% interval %s to %s", low, high)
		}
	}
	if bends {
		about += "; of a straight line, and the relation bends"
	}
	r.say("plain", plain("The correlation is "), strong("r = %s", Correlation(correlation)), plain(" (%s) over %s rows.", about, n))
}

// Correlation writes a correlation: with two decimals, or as many as tell it from 1.
func Correlation(r float64) string {
	for decimals := 2; decimals <= 6; decimals++ {
		text := scale.Number(r, decimals)
		if one := scale.Number(math.Copysign(1, r), decimals); text != one || math.Abs(r) >= 1 {
			return text
		}
	}
	return map[bool]string{true: "nearly 1", false: "nearly " + scale.Minus + "1"}[r > 0]
}
