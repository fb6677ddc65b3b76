package reading

import (
	"fmt"
	"math"
	"strings"

	"copperlark/core/confound"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/scale"
	"copperlark/core/words"
)

// Holds tells whether a slope holds, looked at in many ways.
type Holds struct {
	Problem string         `json:"problem,omitempty" doc:"why nothing can be told"`
	Words   []Span         `json:"words"`
	Unit    string         `json:"unit"`
	Rows    []HoldRow      `json:"rows"`
	Ticks   []IntervalTick `json:"ticks"`
	Named   string         `json:"named,omitempty" doc:"the most influential rows"`

	Elsewhere *figure.Elsewhere `json:"elsewhere,omitempty" doc:"of a table that stays elsewhere: what all its rows are asked"`
}

// HoldRow is one way of looking. Says tells how it compares with all rows.
type HoldRow struct {
	Name     string `json:"name"`
	N        string `json:"n,omitempty"`
	Slope    string `json:"slope,omitempty"`
	Interval string `json:"interval,omitempty"`
	Says     string `json:"says" enum:"agrees,not clear,other way,nothing"`
	Problem  string `json:"problem,omitempty"`
	Basis    Basis  `json:"basis,omitempty" enum:"all,sample" doc:"of a table that stays elsewhere: which rows it is of"`
	IntervalPlace
}

// mostInfluential is how many influential rows are named.
const mostInfluential = 5

// HoldsOf tells checks of a slope on a chart with these axes, between two values of x in drawn
// space. column names a column, row a row that was left out. sampled rows are those of a table that stays elsewhere.
func HoldsOf(
	checks []confound.Check,
	x, y *mark.Axis,
	low, high float64,
	column func(name string) string,
	row func(place int) string,
	alike *confound.Alike,
	sampled bool,
) *Holds {
	u := UnitsOf(x, y, low, high)
	out := &Holds{Words: []Span{}, Unit: u.Short, Rows: []HoldRow{}, Ticks: []IntervalTick{}}
	first := checks[0]
	var slopes []float64
	var intervals []model.Interval
	for _, c := range checks {
		slopes, intervals = append(slopes, c.Slope), append(intervals, c.Interval)
		r := HoldRow{Name: u.way(c, column), Says: says(c, first), Problem: c.Problem}
		if sampled {
			r.Basis = BasisOf(c.Exact)
		}
		if r.Basis == OfSample {
			r.Name = strings.Replace(r.Name, "all rows", "the sample", 1)
		}
		if c.Problem == "" {
			r.N = scale.Number(float64(c.N), 0)
			if r.Slope, r.Interval = u.beside(c.Slope, c.Interval, first.Interval); math.IsNaN(c.Interval.Low) { // a line through two rows
				r.Slope, r.Interval = u.told(c.Slope, c.Interval), "not known"
			}
		}
		out.Rows = append(out.Rows, r)
		if len(c.Left) > 0 {
			var names []string
			for _, place := range c.Left[:min(len(c.Left), mostInfluential)] {
				names = append(names, row(place))
			}
			out.Named = "The most influential: " + words.And(names) + "."
		}
	}
	places, ticks := u.intervalAxis(slopes, intervals, 1)
	for i := range places {
		out.Rows[i].IntervalPlace = places[i]
	}
	out.Ticks = append(out.Ticks, ticks...)
	out.Words = u.holds(out.Rows, first, alike != nil)
	if alike != nil {
		out.Words = append(out.Words, plain(" %s", alikeCaution(alike)))
	}
	return out
}

// way names a way of looking.
func (u *Units) way(c confound.Check, column func(name string) string) string {
	switch c.Kind {
	case confound.AllRows:
		return "all rows, least squares"
	case confound.Bootstrapped:
		return "all rows, by bootstrap"
	case confound.WithoutInfluential:
		if len(c.Left) == 0 {
			return string(c.Kind)
		}
		return "without " + scale.Counted(len(c.Left), "influential row")
	case confound.LowerHalf:
		return "lower half of " + u.X
	case confound.UpperHalf:
		return "upper half of " + u.X
	case confound.HeldFixed:
		return column(c.Column) + " held fixed"
	case confound.AllHeldFixed:
		return "all of these held fixed"
	}
	return string(c.Kind)
}

// The answers of a way of looking.
const (
	agrees   = "agrees"
	notClear = "not clear"
	otherWay = "other way"
	nothing  = "nothing"
)

func says(c, first confound.Check) string {
	switch {
	case c.Problem != "" || math.IsNaN(c.Slope):
		return nothing
	case !c.Interval.Excludes(0):
		return notClear
	case c.Slope*first.Slope < 0:
		return otherWay
	}
	return agrees
}

// holds sums up what the ways say; of rows that are alike nothing is called clear, as intervals are too narrow.
func (u *Units) holds(rows []HoldRow, first confound.Check, alike bool) []Span {
	clearly, clearlySo, isClear := ", clearly,", "and clearly so", "It is clear"
	if alike {
		clearly, clearlySo, isClear = "", "and so", "Zero lies outside its interval"
	}
	by := map[string][]string{}
	total := 0
	for _, r := range rows[1:] {
		if r.Says != nothing {
			by[r.Says] = append(by[r.Says], r.Name)
			total++
		}
	}
	if total == 0 {
		return []Span{plain("There is no other way to look at so few rows.")}
	}
	if !first.Interval.Excludes(0) {
		clear := append(by[agrees], by[otherWay]...)
		if len(clear) == 0 {
			return []Span{
				plain("The slope over all rows is not clear, "),
				strong("nor is it in any of %d other ways", total),
				plain(" of looking."),
			}
		}
		return []Span{
			plain("The slope over all rows is not clear. %s in ", isClear),
			strong("%d of %d other ways", len(clear), total),
			plain(" of looking: %s.", fewNames(clear)),
		}
	}
	goes := "rises"
	if first.Slope < 0 {
		goes = "falls"
	}
	if len(by[agrees]) == total {
		return []Span{
			plain("%s %s with %s%s over all rows and ", capital(u.Y), goes, u.X, clearly),
			strong("in each of %d other ways", total),
			plain(" of looking."),
		}
	}
	spans := []Span{
		plain("%s %s with %s over all rows, %s in ", capital(u.Y), goes, u.X, clearlySo),
		strong("%d of %d other ways", len(by[agrees]), total),
		plain(" of looking."),
	}
	if other := by[otherWay]; len(other) > 0 {
		spans = append(spans, plain(" It "), strong("goes the other way"), plain(": %s.", fewNames(other)))
	}
	if unclear := by[notClear]; len(unclear) > 0 {
		spans = append(spans, plain(" It is not clear: %s.", fewNames(unclear)))
	}
	return spans
}

// fewNames names at most three and counts the others.
func fewNames(names []string) string {
	if len(names) <= mostNamed {
		return words.And(names)
	}
	return fmt.Sprintf("%s and %d more", strings.Join(names[:mostNamed], ", "), len(names)-mostNamed)
}
