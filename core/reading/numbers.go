package reading

import (
	"cmp"
	"fmt"
	"math"

	"copperlark/core/confound"
	"copperlark/core/distribution"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// AxisSaid is what the numbers of an axis are in: its column and unit, and whether they are taken as they are or as their
// logarithm. A date counts in days, a duration in seconds.
type AxisSaid struct {
	Column string `json:"column,omitempty"`
	Name   string `json:"name"`
	Unit   string `json:"unit,omitempty"`
	Taken  string `json:"taken" enum:"as it is,log10,near-linear" doc:"what coefficients are of: log10 on a log axis, where a slope is for every tenfold; on a near-linear one asinh(v / (2 near_zero)) / ln 10"`

	Near    Number `json:"near_zero,omitempty" doc:"of a near-linear axis: up to where it is about linear"`
	undrawn func(float64) float64
	seconds float64 // of a date: how many of what is counted are in one of what is told
}

func axisSaid(s *figure.Scale) AxisSaid {
	said := AxisSaid{Column: s.Column, Name: s.Name, Unit: s.Unit, undrawn: s.Undrawn}
	said.counted(s.Kind, s.Near, s.Kind == scale.Date)
	return said
}

// secondsADay is what a date is told in, of what it is counted in.
const secondsADay = 86_400

// counted says what the numbers of an axis are of: of a scale, and of a date in days.
func (a *AxisSaid) counted(kind scale.Kind, near float64, isDate bool) {
	a.Taken, a.seconds = taken(kind), 1
	if kind == scale.NearLinear {
		a.Near = number(cmp.Or(near, 1))
	}
	if isDate {
		a.Unit, a.seconds = "day", secondsADay
	}
}

func taken(kind scale.Kind) string {
	switch kind {
	case scale.Log:
		return "log10"
	case scale.NearLinear:
		return "near-linear"
	}
	return "as it is"
}

// Number is a number of JSON, or nothing where it is not defined.
type Number = *float64

func number(v float64) Number {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return nil
	}
	return &v
}

// FitNumbers is a fit as numbers, at the level of 0.95, in the units of the axes as they are taken.
type FitNumbers struct {
	Fit      int           `json:"fit" doc:"which fit of the sentence, from 1"`
	Kind     string        `json:"kind"`
	Panel    int           `json:"panel" doc:"from 1"`
	Group    string        `json:"group,omitempty" doc:"whose rows it is of; missing: of all"`
	N        int           `json:"n"`
	LeftOut  int           `json:"left_out,omitempty" doc:"outliers that are left out of it"`
	XFrom    Number        `json:"x_from,omitempty" doc:"where its rows begin along x, in the unit of the axis"`
	XTo      Number        `json:"x_to,omitempty"`
	Terms    []TermNumbers `json:"terms,omitempty" doc:"its coefficients; a spline and a local fit have none"`
	RSquared Number        `json:"r_squared,omitempty"`
	Adjusted Number        `json:"adjusted_r_squared,omitempty"`
	Residual Number        `json:"residual_spread,omitempty" doc:"√(RSS/df), in the unit of y as it is taken"`
	DF       Number        `json:"degrees_of_freedom,omitempty"`
	Worth    Number        `json:"effective_coefficients,omitempty" doc:"of a spline and a local fit"`
	Problem  string        `json:"problem,omitempty" doc:"why there is none"`
}

// TermNumbers is a coefficient: of x to a power, y = Σ value · x^power.
type TermNumbers struct {
	Power int    `json:"power" doc:"0: the intercept, where x as it is taken is 0; 1: the slope"`
	Value Number `json:"value"`
	SE    Number `json:"standard_error,omitempty"`
	Low   Number `json:"low,omitempty" doc:"the ends of its 95 % interval"`
	High  Number `json:"high,omitempty"`
	T     Number `json:"t,omitempty"`
	P     Number `json:"p,omitempty" doc:"two-sided, that it is 0"`
}

// AllNumbers is what a chart says of its relation, as numbers.
type AllNumbers struct {
	X     AxisSaid     `json:"x"`
	Y     AxisSaid     `json:"y"`
	Rows  int          `json:"rows" doc:"that are drawn"`
	Of    int          `json:"of" doc:"rows that there are"`
	Fits  []FitNumbers `json:"fits"`
	Level float64      `json:"level" doc:"of all intervals"`
}

// Numbers gives the fits of a figure that was just built as numbers.
func Numbers(f *figure.Figure) *AllNumbers {
	all := &AllNumbers{Fits: []FitNumbers{}, Level: level, Rows: f.Rows.Drawn, Of: f.Rows.Total}
	if f.X() == nil || f.Y() == nil {
		return all
	}
	all.X, all.Y = axisSaid(f.X()), axisSaid(f.Y())
	for _, fit := range f.Fits {
		one := FitNumbers{Fit: fit.Index + 1, Kind: string(fit.Kind), Panel: fit.Panel + 1, Problem: fit.Problem}
		if fit.Group >= 0 {
			one.Group = fit.Name
		}
		if m := fit.Model; m != nil {
			one.fill(m, all.X, all.Y)
		}
		all.Fits = append(all.Fits, one)
	}
	return all
}

// fill writes a model in the units of its axes: of dates, seconds become days.
func (n *FitNumbers) fill(m *mark.FittedLine, x, y AxisSaid) {
	n.N, n.LeftOut = m.N, m.LeftOut
	n.XFrom, n.XTo = number(untaken(x, m.XMin)), number(untaken(x, m.XMax))
	n.RSquared, n.Adjusted, n.Residual = number(m.R2), number(m.AdjustedR2), number(m.Residual/y.seconds)
	if m.DF > 0 {
		n.DF = number(m.DF)
	}
	if m.Effective > 0 {
		n.Worth = number(m.Effective)
	}
	for _, term := range m.Terms {
		times := math.Pow(x.seconds, float64(term.Power)) / y.seconds
		said := TermNumbers{Power: term.Power, Value: number(term.Value * times), SE: number(term.SE * times)}
		of := term.Of
		if !math.IsNaN(term.SE) {
			half := math.NaN()
			if m.DF >= 1 {
				half = distribution.StudentQuantile((1-level)/2, m.DF) * term.SE
				said.T = number(term.Value / term.SE)
				said.P = number(distribution.StudentTwoSided(term.Value/term.SE, m.DF))
			}
			of = model.Interval{Low: term.Value - half, High: term.Value + half}
		}
		said.Low, said.High = number(of.Low*times), number(of.High*times)
		n.Terms = append(n.Terms, said)
	}
}

// untaken is a place along an axis in its unit: of a log axis the number itself.
func untaken(axis AxisSaid, v float64) float64 {
	return axis.undrawn(v) / axis.seconds
}

// FindingNumbers is what was found of a column that could explain a relation, as numbers: slopes of y on x, as they are taken.
type FindingNumbers struct {
	Column   string           `json:"column"`
	With     string           `json:"with,omitempty" doc:"a second column that is held fixed together with it"`
	Verdict  confound.Verdict `json:"verdict"`
	Words    string           `json:"words"`
	N        int              `json:"n" doc:"rows that have x, y and the column"`
	Groups   int              `json:"groups,omitempty" doc:"that are large enough; missing for a number"`
	Overall  *SlopeNumbers    `json:"overall,omitempty"`
	Within   *SlopeNumbers    `json:"within,omitempty" doc:"within its groups, or at a fixed value of it"`
	Each     []GroupNumbers   `json:"each,omitempty" doc:"of each group"`
	AlikeTo  string           `json:"alike_to,omitempty" enum:"x,y" doc:"of too alike: which it is a copy of"`
	Lacking  string           `json:"lacking,omitempty" doc:"of too little to say: what there is too little of"`
	BetweenX Number           `json:"between_x,omitempty" doc:"the share of the spread of x that lies between the groups"`
	Basis    Basis            `json:"basis,omitempty" enum:"all,sample" doc:"of a table that stays elsewhere: which rows it is of"`
}

// SlopeNumbers is a slope with its 95 % interval.
type SlopeNumbers struct {
	Slope Number `json:"slope"`
	Low   Number `json:"low,omitempty"`
	High  Number `json:"high,omitempty"`
}

// GroupNumbers is the slope of a group.
type GroupNumbers struct {
	Group string `json:"group"`
	N     int    `json:"n"`
	SlopeNumbers
}

// Found writes findings as numbers, in the units of the axes of a relation; words are those that are read. sampled rows are
// those of a table that stays elsewhere.
func Found(findings []confound.Finding, x, y *mark.Axis, words func(confound.Finding) string, sampled bool) []FindingNumbers {
	times := AxisOf(x).seconds / AxisOf(y).seconds
	slope := func(v float64, of model.Interval) *SlopeNumbers {
		if math.IsNaN(v) {
			return nil
		}
		return &SlopeNumbers{number(v * times), number(of.Low * times), number(of.High * times)}
	}
	list := []FindingNumbers{}
	for _, f := range findings {
		one := FindingNumbers{Column: f.Column, With: f.With, Verdict: f.Verdict, Words: words(f), N: f.Rows, Groups: f.Groups,
			AlikeTo: f.AlikeTo, Lacking: f.Missing}
		if sampled {
			one.Basis = BasisOf(f.OfAll())
		}
		if f.Verdict != confound.TooAlike && f.Verdict != confound.TooLittle { // which have no slopes
			one.Overall, one.Within = slope(f.Overall, f.OverallInterval), slope(f.Within, f.WithinInterval)
			one.BetweenX = number(f.BetweenX)
			for _, g := range f.Slopes {
				if said := slope(g.Slope, g.Interval); said != nil {
					one.Each = append(one.Each, GroupNumbers{g.Level, g.N, *said})
				}
			}
		}
		list = append(list, one)
	}
	return list
}

// AxisOf is what the numbers of a relation's axis are in.
func AxisOf(axis *mark.Axis) AxisSaid {
	var said AxisSaid
	if axis.Column != nil {
		said.Column, said.Name, said.Unit = axis.Column.Name, axis.Column.ReadableName(), axis.Column.Unit
	}
	if axis.Between[1] != "" {
		said.Name = fmt.Sprintf("from %s to %s", axis.Between[0], axis.Between[1])
	}
	said.counted(axis.Kind, axis.Near, axis.Column != nil && axis.Column.Kind == table.Date)
	return said
}
