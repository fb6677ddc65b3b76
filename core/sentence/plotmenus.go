package sentence

import (
	"fmt"
	"slices"
	"sort"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// variableMenu offers what could stand along an axis: every column, columns read
// otherwise, and statistics.
func variableMenu(axis, title string) menu {
	other := map[string]string{"x": "y", "y": "x"}[axis]
	return menu{Slot: axis, Title: title, Find: "Find a column or a statistic",
		Measure: func(d *document) string { return d.Along(other).Column },
		Choices: func(d *document, _ int, t *table.Table) []choice {
			now := *d.Along(axis)
			var list []choice
			add := func(one choice, v chart.Variable) {
				one.Current = now == v
				one.D = d.Clone()
				if !one.Current {
					one.D = along(d, axis, v, t)
				}
				list = append(list, one)
			}
			for _, c := range t.Columns() {
				one := choice{Key: c.Name, Label: c.Prose(), Column: c.Name, Also: c.Name + " " + c.Meaning}
				if c.Len() > 0 && c.MissingCount() == c.Len() {
					one.Barred = "all of it is missing"
				}
				add(one, chart.Variable{Column: c.Name})
			}
			sort.SliceStable(list, func(i, j int) bool {
				return place(t.Column(list[i].Column), false) < place(t.Column(list[j].Column), false)
			})
			if d.Along(other).Of == chart.NoAggregate {
				statistics(d, axis, other, t, add)
			}
			for _, c := range t.Columns() {
				if c.Kind.Quantity() && c.SuggestsGroups() {
					add(
						choice{Key: c.Name + " as groups", Label: c.Prose() + " as groups", Detail: "each value a group", Column: c.Name},
						chart.Variable{Column: c.Name, As: chart.AsGroups},
					)
				}
				if c.Kind.Groups() && chart.ColumnOf(chart.Variable{Column: c.Name, As: chart.AsNumber}, t) != nil {
					add(
						choice{
							Key:    c.Name + " as number",
							Label:  c.Prose() + " as number",
							Detail: "its levels read as numbers",
							Column: c.Name,
						},
						chart.Variable{Column: c.Name, As: chart.AsNumber},
					)
				}
			}
			return list
		}}
}

// statistics offers the aggregates of an axis.
func statistics(d *document, axis, other string, t *table.Table, add func(choice, chart.Variable)) {
	if d.Along(other).Empty() {
		return
	}
	add(
		choice{Key: "count()", Label: "the number of rows", Detail: "at each place along " + other, Also: "count frequency bars"},
		chart.Variable{Of: chart.Count},
	)
	if x := mark.Bind(d, t).X; axis == "y" && x.Column != nil && !x.Aggregated() && !x.Grouped() {
		add(
			choice{Key: "spread", Label: "the spread of " + x.Prose(), Detail: "how its values are spread", Also: "histogram distribution"},
			chart.Variable{Of: chart.Spread},
		)
	}
	for _, of := range chart.Aggregates {
		for _, c := range t.Columns() {
			if c.Kind.Quantity() || c.Kind == table.YesNo && of == chart.Mean {
				add(
					choice{
						Key:    fmt.Sprint(of, " ", c.Name),
						Label:  fmt.Sprintf("the %s of %s", of, c.Prose()),
						Detail: "at each place along " + other,
						Also:   c.Name + " average total aggregate",
						Column: c.Name,
					},
					chart.Variable{Column: c.Name, Of: of},
				)
			}
		}
	}
}

// along is a document with something else along an axis: what was said of the axis
// belongs to its old column; where other kinds of values stand along it now, marks, fits
// and references that do not suit them go.
func along(d *document, axis string, v chart.Variable, t *table.Table) *document {
	was := mark.Bind(d, t).Along(axis)
	next := d.Clone()
	*next.Along(axis) = v
	kept := chart.Axis{}
	if d.Along(axis).Column == v.Column && d.Along(axis).Of == v.Of {
		kept = *d.Scale(axis)
	}
	if v.Of == chart.Spread {
		next.Scales.X = d.Scales.X
	}
	*next.Scale(axis) = kept
	is := mark.Bind(next, t).Along(axis)
	if axis == "y" && (v.Aggregated() || is.Column == nil || !is.Column.Kind.Quantity()) {
		next.AlsoY = nil
	}
	if slices.Contains(next.AlsoY, v.Column) {
		next.AlsoY = slices.DeleteFunc(next.AlsoY, func(name string) bool { return name == v.Column })
	}
	if was.Kind != is.Kind && !(numbers(was) && numbers(is)) || was.Of != is.Of {
		next.SetMarks()
		next.Drop(func(l chart.Layer) bool { return l.Reference != nil && l.Reference.Axis == axis })
		if is.Grouped() || is.Aggregated() {
			next.DropFits()
			next.Scale(axis).Scale = ""
		}
	}
	if next.Order != nil && next.Order.Column != next.X.Column && next.Order.Column != next.Y.Column {
		next.Order = nil
	}
	return next
}

func numbers(a *mark.Axis) bool { return a.Kind != scale.Groups && a.Kind != scale.Date }

// moreColumnsMenu replaces or takes out one of several columns along y.
var moreColumnsMenu = menu{Slot: "y-more", Count: func(d *document) int { return len(d.AlsoY) }, Title: "And", Find: "Find a column",
	Choices: func(d *document, index int, t *table.Table) (list []choice) {
		for _, c := range t.Columns() {
			if !c.Kind.Quantity() || c.Name == d.Y.Column || slices.Contains(d.AlsoY, c.Name) && c.Name != d.AlsoY[index] {
				continue
			}
			list = append(
				list,
				choice{
					Key:     c.Name,
					Label:   c.Prose(),
					Column:  c.Name,
					Also:    c.Name,
					Current: d.AlsoY[index] == c.Name,
					D:       with(d, func(next *document) { next.AlsoY[index] = c.Name }),
				},
			)
		}
		return list
	},
	Without: func(d *document, index int) *document {
		return with(d, func(next *document) {
			if next.AlsoY = slices.Delete(next.AlsoY, index, index+1); len(next.AlsoY) == 0 {
				next.AlsoY = nil
			}
		})
	}}

// addColumns offers another column along y.
func addColumns(d *document, t *table.Table) (list []addition) {
	y := t.Column(d.Y.Column)
	if y == nil || !y.Kind.Quantity() || d.Y.Of != chart.NoAggregate || d.X.Of != chart.NoAggregate || d.X.Empty() || d.Colour != "" ||
		d.Size != "" ||
		d.Shape != "" ||
		len(d.AlsoY)+1 >= chart.MaxColumns {
		return nil
	}
	for _, c := range t.Columns() {
		if c.Kind.Quantity() && c.Name != y.Name && c.Name != d.X.Column && !slices.Contains(d.AlsoY, c.Name) {
			list = append(
				list,
				addition{
					Key:    "and " + c.Name,
					Rank:   15,
					Label:  "and " + c.Prose(),
					Detail: "along the same axis",
					Also:   c.Name + " another column series second y",
					D:      with(d, func(next *document) { next.AlsoY = append(next.AlsoY, c.Name) }),
				},
			)
		}
	}
	return list
}

// marksMenu offers every mark, and lines with their dots.
var marksMenu = menu{Slot: "marks", Title: "Drawn as", Find: "Find a mark",
	Choices: func(d *document, _ int, t *table.Table) (list []choice) {
		said := strings.Join(d.Marks(), " and ")
		add := func(detail, also string, names ...string) {
			words := strings.Join(names, " and ")
			list = append(
				list,
				choice{
					Key:     words,
					Label:   words,
					Detail:  detail,
					Also:    also,
					Current: said == words,
					D:       with(d, func(next *document) { next.SetMarks(names...) }),
				},
			)
		}
		for _, m := range mark.List {
			add(m.Help, m.Also, m.Name)
		}
		add("values joined, each with its dot", "points time series", "line", "dots")
		return list
	},
	Without: func(d *document, _ int) *document {
		return with(d, func(next *document) { next.SetMarks() })
	}}

// readingMenu offers the ways of reading a column for this chart.
func readingMenu(axis string) menu {
	as := func(d *document, t *table.Table, as chart.Reading) *document {
		v := *d.Along(axis)
		v.As = as
		return along(d, axis, v, t)
	}
	return menu{Slot: "as-" + axis, Title: "Read as", Find: "Find a way of reading",
		Choices: func(d *document, _ int, t *table.Table) (list []choice) {
			for _, way := range []struct {
				as            chart.Reading
				label, detail string
			}{{chart.AsItIs, "as it is", "as Data reads it"}, {chart.AsNumber, "number", "its levels read as numbers"},
				{chart.AsGroups, "groups", "each value a group"}} {
				list = append(
					list,
					choice{Key: way.label, Label: way.label, Detail: way.detail, Current: d.Along(axis).As == way.as, D: as(d, t, way.as)},
				)
			}
			return list
		}}
}

// panelMenus offer the columns that divide, and whose axes are shared.
var panelMenus = []menu{
	panelMenu("panels", "Panels by", 0), panelMenu("panels-across", "And by", 1),
	{Slot: "panels-columns", Title: "Side by side", Find: "Find how many",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Panels.Columns = 0 }) },
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for n := 1; n <= mostSideBySide; n++ {
				label := fmt.Sprintf("%d side by side", n)
				list = append(list, choice{Key: label, Label: label, Current: d.Panels.Columns == n, Also: "columns",
					D: with(d, func(next *document) { next.Panels.Columns = n })})
			}
			return list
		}},
	{Slot: "panels-own", Title: "Axes of panels", Find: "Find a way",
		Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Panels.Own = nil }) },
		Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
			for _, way := range []struct {
				key, label, detail string
				own                []string
			}{{"shared", "shared axes", "panels compare at a glance", nil}, {"y", "own y", "each panel has its own vertical scale", []string{"y"}},
				{"x", "own x", "each panel has its own horizontal scale", []string{"x"}},
				{"x and y", "own x and y", "each panel has its own scales", []string{"x", "y"}}} {
				list = append(
					list,
					choice{
						Key:     way.key,
						Label:   way.label,
						Detail:  way.detail,
						Also:    "free scales",
						Current: slices.Equal(d.Panels.Own, way.own),
						D:       with(d, func(next *document) { next.Panels.Own = way.own }),
					},
				)
			}
			return list
		}},
}

// mostSideBySide is how many panels stand side by side in what is offered.
const mostSideBySide = 6

func panelMenu(slot, title string, at int) menu {
	return menu{Slot: slot, Title: title, Find: "Find a column",
		Without: func(d *document, _ int) *document {
			if at >= len(d.Panels.By) {
				return nil
			}
			return with(d, func(next *document) {
				if next.Panels.By = slices.Delete(next.Panels.By, at, at+1); len(next.Panels.By) == 0 {
					next.Panels = chart.Panels{}
				}
			})
		},
		Choices: func(d *document, _ int, t *table.Table) (list []choice) {
			if at > len(d.Panels.By) {
				return nil
			}
			for _, c := range t.Columns() {
				one := choice{
					Key:     c.Name,
					Label:   c.Prose(),
					Column:  c.Name,
					Also:    c.Name + " " + c.Meaning,
					Current: at < len(d.Panels.By) && d.Panels.By[at] == c.Name,
				}
				one.D = with(d, func(next *document) {
					next.Step = ""
					next.Panels.By = append(
						next.Panels.By[:at:at],
						append([]string{c.Name}, next.Panels.By[min(at+1, len(next.Panels.By)):]...)...)
				})
				if c.Len() > 0 && c.MissingCount() == c.Len() {
					one.Barred = "all of it is missing"
				}
				list = append(list, one)
			}
			sort.SliceStable(list, func(i, j int) bool {
				return place(t.Column(list[i].Column), true) < place(t.Column(list[j].Column), true)
			})
			return list
		}}
}

func addPanels(d *document, _ *table.Table) []addition {
	switch len(d.Panels.By) {
	case 0:
		return []addition{
			{
				Key:    "panels",
				Rank:   5,
				Label:  "panels by …",
				Detail: "a picture for each group",
				Opens:  "panels",
				Also:   "facet small multiples trellis split",
			},
		}
	case 1:
		list := []addition{
			{
				Key:    "panels-across",
				Rank:   14,
				Label:  "panels by … and …",
				Detail: "rows by the one, columns by the other",
				Opens:  "panels-across",
				Also:   "grid small multiples",
			},
		}
		if len(d.Panels.Own) == 0 {
			list = append(
				list,
				addition{
					Key:    "panels-own",
					Rank:   14,
					Label:  "each with own y",
					Detail: "panels do not share their vertical axis",
					Also:   "free scales",
					D:      with(d, func(next *document) { next.Panels.Own = []string{"y"} }),
				},
			)
		}
		return list
	}
	return nil
}

// orderMenu offers statistics that groups are ordered by.
var orderMenu = menu{Slot: "order", Title: "Order", Find: "Find a statistic",
	Without: func(d *document, _ int) *document { return with(d, func(next *document) { next.Order = nil }) },
	Choices: func(d *document, _ int, t *table.Table) (list []choice) {
		if d.Order == nil {
			return nil
		}
		column := d.Order.Column
		add := func(o chart.Order) {
			list = append(
				list,
				choice{
					Key:     orderWords(&o, func(name string) string { return name }),
					Label:   orderWords(&o, readableIn(t)),
					Column:  o.By,
					Also:    "sort",
					Current: *d.Order == o,
					D:       with(d, func(next *document) { next.Order = &o }),
				},
			)
		}
		for _, descending := range []bool{false, true} {
			add(chart.Order{Column: column, Of: chart.Count, Descending: descending})
			for _, c := range t.Columns() {
				if c.Kind.Quantity() {
					add(chart.Order{Column: column, Of: chart.Mean, By: c.Name, Descending: descending})
					add(chart.Order{Column: column, Of: chart.Median, By: c.Name, Descending: descending})
				}
			}
		}
		return list
	}}

// addOrder offers to order the groups along an axis by what stands along the other.
func addOrder(d *document, t *table.Table) []addition {
	if d.Order != nil || !d.Whole() {
		return nil
	}
	for _, axis := range []string{"x", "y"} {
		a := mark.Bind(d, t).Along(axis)
		other := d.Along(map[string]string{"x": "y", "y": "x"}[axis])
		if !a.Grouped() || a.Column == nil {
			continue
		}
		o := chart.Order{Column: a.Column.Name, Of: other.Of, By: other.Column}
		if o.Of == chart.NoAggregate {
			o.Of = chart.Median
		}
		if c := t.Column(o.By); o.Of == chart.Count || c == nil || !c.Kind.Quantity() {
			o.Of, o.By = chart.Count, ""
		}
		return []addition{
			{
				Key:    "order",
				Rank:   4,
				Label:  "order by " + orderWords(&o, readableIn(t)),
				Detail: "how the groups stand along " + wayOf(axis),
				Also:   "sort rank",
				D:      with(d, func(next *document) { next.Order = &o }),
			},
		}
	}
	return nil
}
