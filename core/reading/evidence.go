package reading

import (
	"fmt"
	"math"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/confound"
	"copperlark/core/figure"
	"copperlark/core/magnitude"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// Evidence is what stands behind a finding, written for people.
type Evidence struct {
	Column   string         `json:"column"`
	Name     string         `json:"name"`
	Problem  string         `json:"problem,omitempty" doc:"why there is none"`
	Why      []Span         `json:"why" doc:"how the column does what it does, in one sentence"`
	Identity *Identity      `json:"identity,omitempty" doc:"of groups: how the slope overall is made"`
	Unit     string         `json:"unit" doc:"what slopes are told in: kg per ×10 ha"`
	UnitX    string         `json:"unit_x"`
	UnitY    string         `json:"unit_y"`
	Size     string         `json:"size,omitempty" doc:"the column that sizes the marks, where groups are compared"`
	Rows     []EvidenceRow  `json:"rows"`
	Ticks    []IntervalTick `json:"ticks" doc:"of the axis that the intervals stand on"`
	Standard []string       `json:"standard,omitempty" doc:"of two groups: the difference standardised to the mix of all rows, and what is told of rates"`
	Left     string         `json:"left,omitempty" doc:"groups that are too small to be compared"`
	Hidden   []Span         `json:"hidden" doc:"how strong a cause would have to be that nobody recorded"`
	Bounds   []string       `json:"bounds" doc:"what causes as strong as a column that is there would leave"`
	Beware   string         `json:"beware" doc:"when taking it out is a mistake"`

	Basis     Basis             `json:"basis,omitempty" enum:"all,sample" doc:"of a table that stays elsewhere: which rows this is of"`
	Elsewhere *figure.Elsewhere `json:"elsewhere,omitempty" doc:"of such a table: what all its rows are asked"`
}

// Identity is overall = share × between + (1 − share) × within.
type Identity struct {
	Share   string `json:"share"`
	Between string `json:"between"`
	Rest    string `json:"rest"`
	Within  string `json:"within"`
	Overall string `json:"overall"`
}

// EvidenceRow is a line of the table of groups. Places are shares of the axis of intervals.
type EvidenceRow struct {
	Role     string `json:"role" enum:"overall,within,group"`
	Name     string `json:"name"`
	Light    string `json:"light,omitempty"`
	Dark     string `json:"dark,omitempty"`
	N        string `json:"n"`
	CentreX  string `json:"centre_x,omitempty"`
	CentreY  string `json:"centre_y,omitempty"`
	Span     string `json:"span,omitempty" doc:"from where to where its rows stand along x"`
	Size     string `json:"size,omitempty" doc:"the mean of the column that sizes the marks"`
	Slope    string `json:"slope,omitempty"`
	Interval string `json:"interval,omitempty"`
	IntervalPlace
}

// EvidenceOf tells what Examine found of a column c, on a chart with these axes.
func EvidenceOf(found *confound.Evidence, c *table.Column, x, y *mark.Axis, named func(column string) string) *Evidence {
	e := &teller{Units: UnitsOf(x, y, found.All.XLow, found.All.XHigh), found: found, x: x, y: y, c: c, named: named}
	out := &Evidence{
		Column: c.Name,
		Name:   c.ReadableName(),
		Why:    []Span{},
		Rows:   []EvidenceRow{},
		Ticks:  []IntervalTick{},
		Hidden: []Span{},
		Bounds: []string{},
		Unit:   e.Short,
		UnitX:  x.Unit(),
		UnitY:  shortUnit(y.Unit()),
		Beware: fmt.Sprintf(
			"If %s is a result of %s, taking it out is a mistake. These are columns of this table; a cause outside it cannot be seen.",
			c.Prose(),
			e.X,
		),
	}
	switch {
	case found.AlikeTo != "":
		out.Problem = e.Finding(withVerdict(found, confound.TooAlike))
		return out
	case found.Missing != "":
		out.Problem = e.Finding(withVerdict(found, confound.TooLittle))
		return out
	}
	out.Why = e.why()
	out.Identity = e.identity()
	out.Rows = e.rows()
	e.axis(out)
	if found.GroupsLeft > 0 {
		out.Left = fmt.Sprintf(
			"%s of %s too small to be compared",
			scale.Counted(found.GroupsLeft, "group"),
			scale.Counted(found.SmallRows, "row")+map[bool]string{true: " is", false: " are"}[found.GroupsLeft == 1],
		)
	}
	out.Hidden, out.Bounds = e.hidden()
	return out
}

// Sized adds to the groups of a column the mean of the column that sizes the marks, over their rows that have both.
func (e *Evidence) Sized(found *confound.Evidence, c, size *table.Column, rows []uint32) {
	groups := c.AsGroups(chart.MaxColours)
	if groups == nil || size.Kind.Coded() || found.Quarters || e.Problem != "" {
		return
	}
	type mean struct{ of, n float64 }
	add := func(m *mean, v float64) { m.n++; m.of += v/m.n - m.of/m.n } // no sum, which would overflow
	var all mean
	each := make([]mean, len(groups.Levels))
	for _, row := range rows {
		code, v := groups.Codes[row], size.Numbers[row]
		if code < 0 || !magnitude.Finite(v) {
			continue
		}
		add(&all, v)
		add(&each[code], v)
	}
	said := func(m mean) string {
		if m.n == 0 {
			return ""
		}
		return scale.InForm(size.Form, m.of, scale.Value(m.of, 3))
	}
	e.Size = size.ReadableName()
	if size.Unit != "" {
		e.Size += ", " + size.Unit
	}
	next := 0
	for i := range e.Rows {
		switch row := &e.Rows[i]; row.Role {
		case "overall":
			row.Size = said(all)
		case "group":
			row.Size = said(each[found.Each[next].Code])
			next++
		}
	}
}

func withVerdict(found *confound.Evidence, verdict confound.Verdict) confound.Finding {
	f := found.Finding
	f.Verdict = verdict
	return f
}

type teller struct {
	*Units
	found *confound.Evidence
	x, y  *mark.Axis
	c     *table.Column
	named func(column string) string
}

// smallShare is a share of the spread of x, and a correlation, that hardly count.
const smallShare, smallCorrelation = 0.02, 0.1

// inside tells what is left with the column held fixed.
func (e *teller) inside(where string) string {
	switch {
	case onlyAlone(e.found.Finding):
		return where + " what is left is not clear among all that were tried"
	case e.found.WithinInterval.Low > 0:
		return fmt.Sprintf("%s %s rises with %s", where, e.Y, e.X)
	case e.found.WithinInterval.High < 0:
		return fmt.Sprintf("%s %s falls with %s", where, e.Y, e.X)
	}
	return where + " nothing clear is left"
}

// why tells in one sentence how the column does what it does.
func (e *teller) why() []Span {
	f := e.found
	if f.Quarters {
		held := "held fixed,"
		if f.Bent {
			held = "held fixed along a curve,"
		}
		goes := func(name string, r float64) string {
			switch {
			case math.IsNaN(r) || math.Abs(r) < smallCorrelation:
				return fmt.Sprintf("%s hardly changes with it", name)
			case r > 0:
				return fmt.Sprintf("%s rises with it (r = %s)", name, scale.Number(r, 2))
			}
			return fmt.Sprintf("%s falls with it (r = %s)", name, scale.Number(r, 2))
		}
		return []Span{
			strong("%s", capital(e.c.Prose())),
			plain(": %s, and %s. With it %s.", goes(e.X, f.WithX), goes(e.Y, f.WithY), e.inside(held)),
		}
	}
	share := strong("%s", percent(f.BetweenX))
	if f.BetweenX < smallShare || math.IsNaN(f.Between) {
		return []Span{
			plain("The groups of %s stand at about the same %s: ", e.c.Prose(), e.X),
			share,
			plain(" of its spread lies between them. %s.", capital(e.inside("Inside them"))),
		}
	}
	level := "lower"
	if f.Between > 0 {
		level = "higher"
	}
	begin := plain("Groups of %s with higher %s have %s %s, ", e.c.Prose(), e.X, level, e.Y)
	of := fmt.Sprintf(" of the spread in %s lies between them", e.X)
	clear := f.WithinInterval.Excludes(0)
	switch {
	case !clear:
		return []Span{begin, plain("and "), share, plain("%s; %s.", of, e.inside("inside them"))}
	case f.Between*f.Within > 0:
		return []Span{begin, plain("as rows inside them do; "), share, plain("%s.", of)}
	case f.Between*f.Overall > 0:
		return []Span{begin, plain("and "), share, plain("%s, so their line wins: %s.", of, e.inside("inside them"))}
	}
	return []Span{begin, plain("but only "), share, plain("%s: %s, and so it does overall.", of, e.inside("inside them"))}
}

func percent(share float64) string {
	if share > 0 && share < 0.01 {
		return "under 1 %"
	}
	return scale.Number(100*share, 0) + " %"
}

// identity is told where slopes add up: not of percents.
func (e *teller) identity() *Identity {
	f := e.found
	if f.Quarters || math.IsNaN(f.Between) || e.yKind == scale.Log && e.xKind != scale.Log {
		return nil
	}
	share := scale.Number(f.BetweenX, 2)
	rest := scale.Number(1-f.BetweenX, 2)
	return &Identity{
		Share:   share,
		Rest:    rest,
		Between: e.told(f.Between, f.WithinInterval),
		Within:  e.told(f.Within, f.WithinInterval),
		Overall: e.told(f.Overall, f.OverallInterval),
	}
}

func (e *teller) rows() []EvidenceRow {
	f := e.found
	n := scale.Number(float64(f.Rows), 0)
	within := "within"
	if f.Quarters {
		within = "held fixed"
	}
	rows := []EvidenceRow{
		e.row(EvidenceRow{Role: "overall", Name: "overall"}, f.All, f.Overall, f.OverallInterval),
		{Role: "within", Name: within, N: n, Slope: e.told(f.Within, f.WithinInterval), Interval: e.interval(f.WithinInterval)},
	}
	var light, dark []string
	groups := e.c.AsGroups(chart.MaxColours)
	coloured := groups != nil && !f.Quarters
	if coloured {
		light, dark = colour.OfGroups(groups.Levels, groups.Colours)
	}
	for _, one := range f.Each {
		row := EvidenceRow{Role: "group", Name: one.Level}
		if coloured {
			row.Light, row.Dark = light[one.Code], dark[one.Code]
		}
		rows = append(rows, e.row(row, one, one.Slope, one.Interval))
	}
	return rows
}

func (e *teller) row(row EvidenceRow, of confound.OneGroup, slope float64, interval model.Interval) EvidenceRow {
	row.N = scale.Number(float64(of.N), 0)
	row.CentreX, row.CentreY = place(e.x, of.XMean), place(e.y, of.YMean)
	row.Span = place(e.x, of.XLow) + " to " + place(e.x, of.XHigh)
	if !math.IsNaN(slope) {
		row.Slope, row.Interval = e.told(slope, interval), "not known"
		if !math.IsNaN(interval.Low) {
			row.Slope, row.Interval = e.beside(slope, interval, e.found.WithinInterval)
		}
	}
	return row
}

// place writes a place along an axis, from drawn space.
func place(a *mark.Axis, drawn float64) string {
	v := a.Scale().Undrawn(drawn)
	if a.Kind == scale.Date {
		return table.FormatDate(v, table.Day)
	}
	if math.Abs(v) >= 1e6 || math.Abs(v) < 1e-4 {
		return scale.Value(v, 3)
	}
	return scale.Number(v, max(2-int(math.Floor(math.Log10(math.Abs(v)))), 0)) // places in a column have the same digits
}

// axis places the rows on one axis.
func (e *teller) axis(out *Evidence) {
	f := e.found
	slopes, intervals := []float64{f.Overall, f.Within}, []model.Interval{f.OverallInterval, f.WithinInterval}
	for _, one := range f.Each {
		slopes, intervals = append(slopes, one.Slope), append(intervals, one.Interval)
	}
	places, ticks := e.intervalAxis(slopes, intervals, 2)
	for i, place := range places {
		out.Rows[i].IntervalPlace = place
	}
	out.Ticks = append(out.Ticks, ticks...)
}

// hidden tells how strong a cause would have to be that nobody recorded.
func (e *teller) hidden() (words []Span, bounds []string) {
	f := e.found
	words, bounds = []Span{}, []string{}
	within := e.told(f.Within, f.WithinInterval)
	if f.Hidden == nil {
		return append(
			words,
			plain("The slope with it held fixed, %s, is not clear: there is nothing for a hidden cause to explain.", within),
		), bounds
	}
	both := plain("account for %s of what is left of both %s and %s", percent(f.Hidden.Value), e.X, e.Y)
	words = append(words, plain("To explain the %s away, a hidden cause would have to ", within))
	s := f.Strongest
	if s == nil {
		return append(words, both, plain(".")), bounds
	}
	name := e.named(s.Column)
	switch {
	case math.IsNaN(s.Times):
		return append(words, both, plain("; %s, the strongest of the numbers here, comes nowhere near.", name)), bounds
	case s.Times >= 100:
		words = append(words, plain("be "), strong("more than a hundred times as strong as %s", name))
	default:
		words = append(words, plain("be "), strong("%s times as strong as %s", scale.Value(s.Times, 2), name))
	}
	words = append(words, plain(", the strongest of the other numbers, or "), both, plain("."))
	for _, bound := range s.Bounds {
		times := map[float64]string{1: "Once", 2: "Twice", 3: "Three times"}[bound.K]
		if !bound.Exists {
			bounds = append(bounds, fmt.Sprintf("%s as strong as %s: no such cause can be.", times, name))
			continue
		}
		bounds = append(
			bounds,
			fmt.Sprintf(
				"%s as strong as %s: %s would be left (%s).",
				times,
				name,
				e.told(bound.Estimate, bound.Interval),
				e.interval(bound.Interval),
			),
		)
	}
	return words, bounds
}
