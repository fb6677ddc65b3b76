package reading

import (
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/compare"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/scale"
	"copperlark/core/words"
)

// Compared is the slopes of two charts beside each other, in the same units.
type Compared struct {
	Unit    string         `json:"unit,omitempty" doc:"what slopes are told in: kg per ×10 ha"`
	Fits    []ComparedFit  `json:"fits" nullable:"false"`
	Ticks   []IntervalTick `json:"ticks,omitempty"`
	Words   string         `json:"words,omitempty" doc:"which slopes differ clearly"`
	Problem string         `json:"problem,omitempty" doc:"why slopes are not compared"`
}

// ComparedFit is a line of all rows, or of a group, in both charts.
type ComparedFit struct {
	Name       string     `json:"name"`
	Overall    bool       `json:"overall,omitempty"`
	A          *ToldSlope `json:"a,omitempty" doc:"missing: the first chart has no such line"`
	B          *ToldSlope `json:"b,omitempty"`
	Difference string     `json:"difference,omitempty" doc:"of B less A"`
	Interval   string     `json:"interval,omitempty" doc:"of the difference, 95 %"`
	Clear      bool       `json:"clear,omitempty" doc:"whether they differ, as far as can be said of this many comparisons"`

	apart float64 // how many half intervals of their difference they are apart
}

// ToldSlope is a slope with its interval, as text and as a place on an axis.
type ToldSlope struct {
	Slope    string        `json:"slope"`
	Interval string        `json:"interval"`
	N        string        `json:"n"`
	Place    IntervalPlace `json:"place"`
}

// Compare tells the slopes of two charts beside each other; a and b are what they are laid through, x and y their axes. sameRows
// says that rows of one number are the same in both.
func Compare(ctx context.Context, a, b *figure.Taken, boundA, boundB *mark.Bound, sameRows bool) (*Compared, error) {
	out := &Compared{Fits: []ComparedFit{}}
	for _, side := range []*figure.Taken{a, b} {
		if side.NoLines != "" {
			out.Problem = side.NoLines
			return out, nil
		}
	}
	if len(a.Lines) == 0 || len(b.Lines) == 0 {
		out.Problem = "both need a straight line for their slopes to be compared"
		return out, nil
	}
	for i, pair := range [][2]*mark.Axis{{boundA.X, boundB.X}, {boundA.Y, boundB.Y}} {
		if pair[0].Column.Name != pair[1].Column.Name || pair[0].Kind != pair[1].Kind || pair[0].Unit() != pair[1].Unit() {
			out.Problem = "slopes are compared of the same columns on the same kinds of axes: " + []string{"x", "y"}[i] + " is another"
			return out, nil
		}
	}
	c := &comparing{ctx: ctx, out: out, sameRows: sameRows}
	c.pair(a.Lines, b.Lines)
	low, high := math.Inf(1), math.Inf(-1)
	for _, l := range slices.Concat(a.Lines, b.Lines) {
		for _, v := range l.X {
			low, high = min(low, v), max(high, v)
		}
	}
	c.Units = UnitsOf(boundA.X, boundA.Y, low, high)
	out.Unit = c.Short
	c.tell()
	return out, ctx.Err()
}

type comparing struct {
	*Units
	ctx      context.Context
	out      *Compared
	sameRows bool
	pairs    [][2]*compare.Line // of a and b; nil where one has no such line
}

// pair puts lines of one name beside each other, in the order of the first.
func (c *comparing) pair(a, b []figure.NamedLine) {
	add := func(l figure.NamedLine, a, b *compare.Line) {
		c.out.Fits = append(c.out.Fits, ComparedFit{Name: l.Name, Overall: l.Overall})
		c.pairs = append(c.pairs, [2]*compare.Line{a, b})
	}
	for i := range a {
		at := slices.IndexFunc(b, func(l figure.NamedLine) bool { return l.Overall == a[i].Overall && (l.Overall || l.Name == a[i].Name) })
		if at < 0 {
			add(a[i], &a[i].Line, nil)
		} else {
			add(a[i], &a[i].Line, &b[at].Line)
		}
	}
	for i := range b {
		if !slices.ContainsFunc(a, func(l figure.NamedLine) bool { return l.Overall == b[i].Overall && (l.Overall || l.Name == b[i].Name) }) {
			add(b[i], nil, &b[i].Line)
		}
	}
}

func (c *comparing) tell() {
	lines := make([][2]*compare.Fitted, len(c.pairs))
	var slopes []float64
	var intervals []model.Interval
	both := 0
	for i, pair := range c.pairs {
		for side, l := range pair {
			if l == nil {
				continue
			}
			fitted, err := model.FitLine(c.ctx, l.X, l.Y)
			if err != nil || math.IsNaN(fitted.Slope) {
				continue
			}
			lines[i][side] = &compare.Fitted{Through: *l, Line: fitted}
			slopes, intervals = append(slopes, fitted.Slope), append(intervals, fitted.SlopeInterval(level))
		}
		if lines[i][0] != nil && lines[i][1] != nil {
			both++
		}
	}
	places, ticks := c.intervalAxis(slopes, intervals, len(slopes))
	c.out.Ticks = ticks
	width := c.narrowest(intervals) / moreDigits
	next := 0
	var clear []string
	for i := range c.pairs {
		fit := &c.out.Fits[i]
		for side, into := range []**ToldSlope{&fit.A, &fit.B} {
			l := lines[i][side]
			if l == nil {
				continue
			}
			interval := intervals[next]
			told := &ToldSlope{N: scale.Number(float64(l.N), 0), Place: places[next]}
			told.Slope = c.write(c.value(l.Slope), width)
			told.Interval = c.write(c.value(interval.Low), width) + " to " + c.write(c.value(interval.High), width)
			*into = told
			next++
		}
		if c.difference(fit, lines[i], both, width) {
			clear = append(clear, fit.Name)
		}
	}
	switch {
	case both == 0:
		c.out.Words = "No line stands in both."
	case len(clear) == 0 && both > 1:
		c.out.Words = fmt.Sprintf("No slope differs clearly, as %d are compared: of twenty intervals one leaves zero out by chance.", both)
	case len(clear) == 0:
		c.out.Words = "The slope does not differ clearly."
	default:
		c.out.Words = "Clearly another slope: " + words.And(clear) + "."
	}
}

// moreDigits is by how much narrower than an interval what decides the digits is: all rows have as many.
const moreDigits = 3

// narrowest is the width of the narrowest interval, as it is told; 0 where none has a width.
func (c *comparing) narrowest(intervals []model.Interval) (width float64) {
	for _, interval := range intervals {
		if w := math.Abs(c.value(interval.High) - c.value(interval.Low)); w > 0 && (width == 0 || w < width) {
			width = w
		}
	}
	return width
}

// difference tells how much more a slope is in the second chart, and whether it clearly differs.
func (c *comparing) difference(fit *ComparedFit, lines [2]*compare.Fitted, comparisons int, width float64) bool {
	if lines[0] == nil || lines[1] == nil {
		return false
	}
	d, ok := compare.Slopes(*lines[0], *lines[1], c.sameRows, comparisons)
	if !ok {
		return false
	}
	apart := c.value(lines[1].Slope) - c.value(lines[0].Slope)
	times := c.value(1) // how many units of what is told one of slope is
	if c.yKind == scale.Log && c.xKind != scale.Log {
		middle := (lines[0].Slope + lines[1].Slope) / 2 // in percent, a bend: as steep as it is between the two
		times = 100 * math.Ln10 * c.step * math.Pow(10, middle*c.step)
	}
	half := times * (d.Interval.High - d.Interval.Low) / 2
	fit.Difference = c.write(apart, width)
	fit.Interval = fmt.Sprintf("%s to %s", c.write(apart-math.Abs(half), width), c.write(apart+math.Abs(half), width))
	fit.Clear = d.Clear
	if wide := d.Interval.High - d.Interval.Low; wide > 0 {
		fit.apart = 2 * math.Abs(d.Value) / wide
	}
	return d.Clear
}
