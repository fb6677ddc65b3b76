package sentence

import (
	"fmt"
	"sort"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/table"
)

type (
	choice   = clause.Choice[document]
	menu     = clause.Menu[document]
	addition = clause.Addition[document]
)

// with gives a copy of a document that was changed.
func with(d *document, change func(*document)) *document {
	next := d.Clone()
	change(next)
	return next
}

func withFit(d *document, index int, change func(*chart.Fit)) *document {
	return with(d, func(next *document) { change(next.Fits()[index]) })
}

// columnField is where a column stands in a document.
type columnField struct {
	get func(*document) string
	set func(*document, string)
}

// field is one that is reached by its address.
func field(at func(*document) *string) columnField {
	return columnField{func(d *document) string { return *at(d) }, func(d *document, column string) { *at(d) = column }}
}

// columnMenu offers every column for a slot, those that fit it best first; change says
// what putting a column there means.
func columnMenu(
	slot, title string,
	of columnField,
	groupsFirst bool,
	change func(*document, *table.Column),
	removable bool,
) menu {
	m := menu{Slot: slot, Title: title, Find: "Find a column",
		Measure: func(d *document) string {
			return d.Y.Column
		},
		Choices: func(d *document, _ int, t *table.Table) []choice {
			var list []choice
			for _, c := range t.Columns() {
				one := choice{Key: c.Name, Label: c.Prose(), Column: c.Name, Also: c.Name + " " + c.Meaning, Current: of.get(d) == c.Name,
					D: with(d, func(next *document) {
						if of.get(d) != c.Name {
							of.set(next, c.Name)
							change(next, c)
						}
					})}
				if c.Len() > 0 && c.MissingCount() == c.Len() {
					one.Barred = "all of it is missing"
				}
				list = append(list, one)
			}
			sort.SliceStable(list, func(i, j int) bool {
				return place(t.Column(list[i].Column), groupsFirst) < place(t.Column(list[j].Column), groupsFirst)
			})
			return list
		}}
	if removable {
		m.Without = func(d *document, _ int) *document {
			if of.get(d) == "" {
				return nil
			}
			return with(d, func(next *document) { of.set(next, "") })
		}
	}
	return m
}

// place is 0 for columns of the kind that a slot asks for first.
func place(c *table.Column, groupsFirst bool) int {
	groups := c.Kind.Groups() || c.SuggestsGroups()
	numeric := c.Kind.Quantity() || c.Kind == table.Date
	if groupsFirst && groups || !groupsFirst && numeric {
		return 0
	}
	return 1
}

func scaleMenu(axis string) menu {
	set := func(d *document, kind string, base float64) *document {
		return with(d, func(next *document) { next.Scale(axis).Scale, next.Scale(axis).Base = kind, base })
	}
	return menu{Slot: "scale-" + axis, Title: "Scale of " + wayOf(axis), Find: "Find a scale",
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			now := d.Scale(axis)
			for _, kind := range []struct {
				key, label, detail, also, scale string
				base                            float64
			}{
				{"linear", "linear scale", "equal steps stand equally far apart", "normal plain", "", 0},
				{"log", "log scale", "equal ratios stand equally far apart", "logarithmic", chart.LogScale, 0},
				{"log 2", "log scale, base 2", "ticks at doublings", "logarithmic doubling", chart.LogScale, 2},
				{"near-linear", "near-linear at zero", "a log scale that has a place for zero and below", "symmetric log", chart.NearLinear, 0},
			} {
				list = append(
					list,
					choice{
						Key:     kind.key,
						Label:   kind.label,
						Detail:  kind.detail,
						Also:    kind.also,
						D:       set(d, kind.scale, kind.base),
						Current: now.Scale == kind.scale && now.Base == kind.base,
					},
				)
			}
			return list
		},
		Without: func(d *document, _ int) *document {
			if d.Scale(axis).Scale == "" {
				return nil
			}
			return set(d, "", 0)
		}}
}

var opacityMenu = menu{Slot: "opacity", Title: "Opacity", Find: "Find an opacity",
	Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
		for _, share := range []float64{0.1, 0.2, 0.35, 0.5, 0.75, 1} {
			list = append(
				list,
				choice{Key: table.FormatNumber(share), Label: fmt.Sprintf("%s %% opaque", table.FormatNumber(roundTo(100*share, 1))),
					D: with(d, func(next *document) { next.Opacity = share }), Current: d.Opacity == share},
			)
		}
		return list
	},
	Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Opacity = 0 }) }}

func withoutFit(d *document, index int) *document {
	return with(d, func(next *document) {
		gone := next.Fits()[index]
		next.Drop(func(l chart.Layer) bool { return l.Fit == gone })
	})
}

// waysOfFitting are the kinds of fits that a press chooses from.
var waysOfFitting = []struct {
	fit    chart.Fit
	detail string
}{
	{chart.Fit{Kind: chart.FitLine}, "least squares"},
	{chart.Fit{Kind: chart.FitCurve, Degree: 2}, "polynomial, one bend"},
	{chart.Fit{Kind: chart.FitCurve, Degree: 3}, "polynomial, two bends"},
	{chart.Fit{Kind: chart.FitLocal}, "follows the rows nearby"},
	{chart.Fit{Kind: chart.FitSpline}, "as smooth as cross-validation finds best"},
	{chart.Fit{Kind: chart.FitRobust}, "Theil-Sen: far points hardly move it"},
}

var fitMenus = []menu{fitLineMenu,
	{Slot: "fit-kind", Title: "Fit", Find: "Find a way of fitting", Without: withoutFit,
		Choices: func(d *document, index int, _ *table.Table) (list []choice) {
			now := *d.Fits()[index]
			for _, way := range waysOfFitting {
				list = append(
					list,
					choice{
						Key:    fmt.Sprint(way.fit.Kind, " ", way.fit.Degree),
						Label:  fitWords(way.fit),
						Detail: way.detail,
						Also:   "regression trend",
						D: withFit(
							d,
							index,
							func(f *chart.Fit) { refit(f, way.fit) },
						),
						Current: now.Kind == way.fit.Kind && now.Degree == way.fit.Degree,
					},
				)
			}
			list = append(list, bandsOf(d, index)...)
			return append(list, strokeChoices(d, now.Stroke, func(next *document, s chart.Stroke) { next.Fits()[index].Stroke = s })...)
		}},
	{Slot: "fit-for", Title: "Fit to", Find: "Find whose fit it is", Without: withoutFit, Choices: fitRowsChoices},
	{Slot: "fit-band", Title: "Band", Find: "Find a band",
		Without: func(d *document, index int) *document { return withFit(d, index, func(f *chart.Fit) { f.Band = nil }) },
		Choices: func(d *document, index int, _ *table.Table) (list []choice) {
			now := d.Fits()[index].Band
			for _, kind := range []struct {
				kind   chart.BandKind
				detail string
			}{{chart.Confidence, "where the mean may lie"}, {chart.Prediction, "where a single new case may lie"}} {
				for _, level := range []float64{80, 90, 95, 99} {
					band := chart.Band{Kind: kind.kind, Level: level}
					list = append(
						list,
						choice{
							Key:     fmt.Sprint(kind.kind, " ", level),
							Label:   fmt.Sprintf("%s %% %s band", table.FormatNumber(level), kind.kind),
							Detail:  kind.detail,
							D:       withFit(d, index, func(f *chart.Fit) { f.Band = &band }),
							Current: now != nil && *now == band,
						},
					)
				}
			}
			return list
		}},
	{Slot: "fit-outliers", Title: "Outliers", Find: "Find a way",
		Without: func(d *document, index int) *document {
			return withFit(d, index, func(f *chart.Fit) { f.LeavingOutliers = false })
		},
		Choices: func(d *document, index int, _ *table.Table) []choice {
			out := func(leaving bool) *document {
				return withFit(d, index, func(f *chart.Fit) { f.LeavingOutliers = leaving })
			}
			leaving := d.Fits()[index].LeavingOutliers
			return []choice{
				{
					Key:     "out",
					Label:   "leaving out outliers",
					Detail:  "|studentised residual| > 3 or Cook’s D > 4/n",
					D:       out(true),
					Current: leaving,
				},
				{Key: "in", Label: "all rows", D: out(false), Current: !leaving},
			}
		}},
}

// bandsOf are the bands that are offered of a fit with its kind: where it is pressed on the chart, all that can be said of it opens.
func bandsOf(d *document, index int) (list []choice) {
	now := d.Fits()[index].Band
	for _, kind := range []chart.BandKind{chart.Confidence, chart.Prediction} {
		band := chart.Band{Kind: kind, Level: 95}
		if now == nil || now.Kind != kind {
			list = append(list, choice{Key: "band " + string(kind), Label: "with a 95 % " + string(kind) + " band", Also: "interval shade",
				D: withFit(d, index, func(f *chart.Fit) { f.Band = &band })})
		}
	}
	if now != nil {
		list = append(list, choice{Key: "no band", Label: "without its band", Also: "interval shade",
			D: withFit(d, index, func(f *chart.Fit) { f.Band = nil })})
	}
	return list
}

// refit makes a fit another kind; what the new kind does not have goes.
func refit(f *chart.Fit, way chart.Fit) {
	f.Kind, f.Degree, f.Span = way.Kind, way.Degree, 0
	if way.Kind != chart.FitLine {
		f.LeavingOutliers = false
	}
	switch way.Kind {
	case chart.FitRobust:
		f.Band = nil
	case chart.FitLocal, chart.FitSpline:
		if f.Band != nil {
			f.Band = &chart.Band{Kind: chart.Confidence, Level: f.Band.Level}
		}
	}
}

func fitRowsChoices(d *document, index int, t *table.Table) []choice {
	now := *d.Fits()[index]
	list := []choice{
		{
			Key:     "overall",
			Label:   "all rows",
			Detail:  "one fit",
			D:       withFit(d, index, func(f *chart.Fit) { f.Each, f.Overall = "", true }),
			Current: now.Each == "",
		},
	}
	for _, c := range t.Columns() {
		if !c.Kind.Groups() && !c.SuggestsGroups() || c.MissingCount() == c.Len() {
			continue
		}
		for _, overall := range []bool{true, false} {
			label := "each " + c.Prose()
			if overall {
				label += " and overall"
			}
			list = append(list, choice{Key: fmt.Sprint(c.Name, " ", overall), Label: label, Column: c.Name, Also: c.Name,
				D: withFit(
					d,
					index,
					func(f *chart.Fit) { f.Each, f.Overall = c.Name, overall },
				), Current: now.Each == c.Name && now.Overall == overall})
		}
	}
	return list
}

// fittable reports whether both axes hold numbers.
func fittable(d *document, t *table.Table) bool {
	return d.Whole() && mark.Bind(d, t).X.Numeric() && mark.Bind(d, t).Y.Numeric()
}

func positive(c *table.Column) bool {
	if c == nil || !c.Kind.Quantity() {
		return false
	}
	for _, v := range c.Numbers {
		if v > 0 {
			return true
		}
	}
	return false
}

func negative(c *table.Column) bool {
	for _, v := range c.Numbers {
		if v < 0 || v == 0 {
			return true
		}
	}
	return false
}

func addFits(d *document, t *table.Table) (list []addition) {
	if fittable(d, t) && len(d.Fits()) == 0 {
		list = append(
			list,
			addition{
				Key:    "fit",
				Rank:   2,
				Label:  "fit a straight line",
				Detail: "with its 95 % confidence band",
				Also:   "regression trend slope",
				D: with(d, func(next *document) {
					next.AddFit(chart.Fit{Kind: chart.FitLine, Overall: true, Band: &chart.Band{Kind: chart.Confidence, Level: 95}})
				}),
			},
		)
	}
	for i, fit := range d.Fits() {
		if fit.Band == nil && fit.Kind != chart.FitRobust {
			list = append(
				list,
				addition{Key: clause.At("band", i), Rank: 6, Label: "with a 95 % confidence band", Detail: "where the mean may lie",
					D: withFit(d, i, func(f *chart.Fit) { f.Band = &chart.Band{Kind: chart.Confidence, Level: 95} })},
			)
		}
		if fit.Kind == chart.FitLine && !fit.LeavingOutliers {
			list = append(
				list,
				addition{Key: clause.At("outliers", i), Rank: 6, Label: "leaving out outliers", Detail: "fit again without far points",
					D: withFit(d, i, func(f *chart.Fit) { f.LeavingOutliers = true })},
			)
		}
	}
	if fittable(d, t) && len(d.Fits()) > 0 && len(d.Fits()) < chart.MaxFits {
		list = append(
			list,
			addition{
				Key:    "fit more",
				Rank:   7,
				Label:  "fit a smoothing spline too",
				Detail: "to judge whether the line is straight",
				Also:   "curve robust smooth spline local",
				D:      with(d, func(next *document) { next.AddFit(chart.Fit{Kind: chart.FitSpline, Overall: true}) }),
			},
		)
	}
	return list
}

// opens is an addition of a clause that is not said yet, which opens a slot.
func opens(said func(*document) bool, one addition) func(*document, *table.Table) []addition {
	return func(d *document, _ *table.Table) []addition {
		if said(d) {
			return nil
		}
		return []addition{one}
	}
}

// Menu is what a pressed word of a chart's sentence offers.
type Menu = clause.Opened[chart.Document]

// Open gives what a slot offers; nil for a slot that opens something else.
func Open(slot string, d *chart.Document, t *table.Table) *Menu {
	t = d.Table(t)
	opened := grammar.Open(slot, d, t, func(d *document) (problems []string) {
		for _, p := range mark.Bind(d, t).Problems() {
			problems = append(problems, p.Message)
		}
		return problems
	})
	if opened != nil { // those that cannot be chosen stand last
		sort.SliceStable(opened.Choices, func(i, j int) bool { return opened.Choices[i].Barred == "" && opened.Choices[j].Barred != "" })
	}
	return opened
}

// Additions lists what can be said next, the most useful first.
func Additions(d *chart.Document, t *table.Table) []clause.Addition[chart.Document] {
	again := addColumnsAgain(d, t)
	t = d.Table(t)
	list := append(grammar.Additions(d, t), again...)
	if d.Whole() && d.Function == nil && d.Y.Of != chart.Spread && len(d.AlsoY) == 0 {
		list = append(
			list,
			addition{
				Key:    "swap",
				Rank:   20,
				Label:  "swap x and y",
				Detail: "turn the chart on its side",
				Also:   "flip transpose",
				D: with(d, func(next *document) {
					next.X, next.Y, next.Scales.X, next.Scales.Y = d.Y, d.X, d.Scales.Y, d.Scales.X
					for _, r := range next.References() {
						r.Axis = map[string]string{"x": "y", "y": "x"}[r.Axis]
					}
				}),
			},
		)
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].Rank < list[j].Rank })
	return list
}
