package mark

import (
	"fmt"
	"maps"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// Elsewhere answers for all rows that a chart is of, where its own are a sample of a table that stays elsewhere. What it
// does not know yet is nil: the sample stands in, and the question is open. A nil Elsewhere knows nothing, ever.
type Elsewhere struct {
	Whole  *summary.Whole
	Where  string // the condition, by the table's own names
	Needs  []summary.Need
	X, Y   *summary.Value  // nil where no numbers stand along the axis
	Panels []*table.Column // that divide, read as groups
	Main   *table.Column   // the groups that lines are asked for together with all rows; nil: none

	// Unknown are groups that the sample has no row of, by their column's name, with about how many rows they have.
	Unknown map[string]map[string]int64

	panel []int32 // whose rows, as codes of Panels; nil: of all panels
}

// In is what it knows of one panel.
func (e *Elsewhere) In(panel []int32) *Elsewhere {
	if e == nil {
		return nil
	}
	one := *e
	one.panel = panel
	return &one
}

// question is one about the rows of the chart, by panels and keys.
func (e *Elsewhere) question(x, y *summary.Value, keys ...summary.Key) *summary.Question {
	q := &summary.Question{Within: e.Whole.Within, With: e.Whole.With, Where: e.Where, X: x, Y: y}
	for _, p := range e.Panels {
		q.By = append(q.By, summary.Key{Kind: summary.Level, Column: p.Name})
	}
	q.By = append(q.By, keys...)
	q.Needs = needed(e.Needs, q.By)
	return q
}

// needed are needs with those of levels, in the order of their columns: whoever asks the same asks it in the same words.
func needed(needs []summary.Need, keys []summary.Key) (all []summary.Need) {
	positive := map[string]bool{}
	for _, need := range needs {
		positive[need.Column] = positive[need.Column] || need.Positive
	}
	for _, key := range keys {
		if key.Kind == summary.Level {
			positive[key.Column] = positive[key.Column] || false
		}
	}
	for _, name := range slices.Sorted(maps.Keys(positive)) {
		all = append(all, summary.Need{Column: name, Positive: positive[name]})
	}
	return all
}

func (e *Elsewhere) spelling(c *table.Column) *summary.Spelling { return e.Whole.Spelling(c) }

// code is the group of a column that stands among the texts of an answer; false where the sample has no row of it, which
// is kept to be told.
func (e *Elsewhere) code(c *table.Column, at int, g *summary.Group) (code int32, known bool) {
	if code, known = e.spelling(c).Code(g.Texts[at]); !known {
		if e.Unknown[c.Name] == nil {
			e.Unknown[c.Name] = map[string]int64{}
		}
		e.Unknown[c.Name][g.Texts[at]] = max(e.Unknown[c.Name][g.Texts[at]], g.N)
	}
	return code, known
}

// here reports whether a group of an answer is of this panel.
func (e *Elsewhere) here(g *summary.Group) bool {
	if e.panel == nil {
		return true
	}
	for i, p := range e.Panels {
		if code, known := e.code(p, i, g); !known || code != e.panel[i] {
			return false
		}
	}
	return true
}

// Sums are the moments of all rows, and of the groups of a column by their codes.
type Sums struct {
	All    summary.Moments
	Groups []summary.Moments
}

// Sums asks for the moments of x and y: of the groups of a column, nil for those that come with all rows anyway.
func (e *Elsewhere) Sums(by *table.Column) *Sums {
	if e == nil || e.X == nil || e.Y == nil {
		return nil
	}
	if by == nil {
		by = e.Main
	}
	words := "how many rows, and from where to where"
	if by != nil {
		words = fmt.Sprintf("sums for each of the groups of %s", by.Prose())
	}
	return e.sums(words, e.X, e.Y, by)
}

func (e *Elsewhere) sums(words string, x, y *summary.Value, by *table.Column) *Sums {
	out := &Sums{}
	keys := []summary.Key{}
	if by != nil {
		if e.spelling(by).Bars != "" {
			return nil
		}
		keys = append(keys, summary.Key{Kind: summary.Level, Column: by.Name})
		out.Groups = make([]summary.Moments, len(by.Levels))
	}
	answer := e.Whole.Ask(words, e.question(x, y, keys...))
	if answer == nil {
		return nil
	}
	for i := range answer.Groups {
		g := &answer.Groups[i]
		if !e.here(g) {
			continue
		}
		out.All = out.All.With(g.Moments)
		if by == nil {
			continue
		}
		if code, known := e.code(by, len(e.Panels), g); known {
			out.Groups[code] = out.Groups[code].With(g.Moments)
		}
	}
	return out
}

// binsOfCurve is how many bins of x a curve is fitted to.
const binsOfCurve = 1200

// allRows is where the bins of all rows stand.
const allRows = -1

// Bins asks for the moments in narrow bins of x: those of all rows, and by the groups of a column, if it is not nil.
func (e *Elsewhere) Bins(by *table.Column) map[int32][]summary.Moments {
	sums := e.Sums(nil)
	if sums == nil || !(sums.All.XMax > sums.All.XMin) {
		return nil
	}
	whole := e.In(nil).Sums(nil).All // the bins of all panels are the same
	step := summary.Key{Kind: summary.Step, Of: e.X, From: whole.XMin, Width: (whole.XMax - whole.XMin) / binsOfCurve}
	keys, words := []summary.Key{step}, fmt.Sprintf("sums in %s bins, for a curve", scale.Number(binsOfCurve, 0))
	if by != nil {
		if e.spelling(by).Bars != "" {
			return nil
		}
		keys = append(keys, summary.Key{Kind: summary.Level, Column: by.Name})
		words += fmt.Sprintf(" of each of the groups of %s", by.Prose())
	}
	answer := e.Whole.Ask(words, e.question(e.X, e.Y, keys...))
	if answer == nil {
		return nil
	}
	out, all := map[int32][]summary.Moments{}, map[int64]summary.Moments{}
	for i := range answer.Groups {
		g := &answer.Groups[i]
		if !e.here(g) {
			continue
		}
		all[g.Numbers[0]] = all[g.Numbers[0]].With(g.Moments)
		if by == nil {
			continue
		}
		if code, known := e.code(by, len(e.Panels), g); known {
			out[code] = append(out[code], g.Moments)
		}
	}
	for _, at := range slices.Sorted(maps.Keys(all)) {
		out[allRows] = append(out[allRows], all[at])
	}
	return out
}

// cells asks how many rows lie in each of the cells of a grid.
func (e *Elsewhere) cells(of shape, grid cellGrid) (list []cell, known bool) {
	answer := e.Whole.Ask("how many rows lie in each of the "+of.called, e.question(nil, nil, of.keys(e.X, e.Y, grid)...))
	if answer == nil {
		return nil, false
	}
	for i := range answer.Groups {
		if g := &answer.Groups[i]; e.here(g) {
			list = append(list, of.at(grid, int(g.Numbers[0]), int(g.Numbers[1]), int(g.N)))
		}
	}
	return list, true
}

// extents are how far all rows of all panels reach, and how many they are.
func (e *Elsewhere) extents() (x, y Extent, rows int64, known bool) {
	if e == nil {
		return x, y, 0, false
	}
	sums := e.In(nil).Sums(nil)
	if sums == nil || sums.All.N == 0 {
		return x, y, 0, false
	}
	m := sums.All
	return Extent{m.XMin, m.XMax}, Extent{m.YMin, m.YMax}, m.N, true
}

// between counts rows between edges of x, by the groups of a column or all together.
func (e *Elsewhere) between(x *summary.Value, edges []float64, by *table.Column) (counts [][]int, known bool) {
	if e == nil || len(edges) > summary.MostEdges || by != nil && e.spelling(by).Bars != "" {
		return nil, false
	}
	keys := []summary.Key{{Kind: summary.Edges, Of: x, Edges: edges}}
	groups := 1
	if by != nil {
		keys, groups = append(keys, summary.Key{Kind: summary.Level, Column: by.Name}), len(by.Levels)
	}
	answer := e.Whole.Ask(fmt.Sprintf("how many rows lie in each of %s bins", scale.Number(float64(len(edges)-1), 0)),
		e.question(nil, nil, keys...))
	if answer == nil {
		return nil, false
	}
	counts = make([][]int, groups)
	for g := range counts {
		counts[g] = make([]int, len(edges)-1)
	}
	for i := range answer.Groups {
		g := &answer.Groups[i]
		code := int32(0)
		if by != nil {
			if code, known = e.code(by, len(e.Panels), g); !known {
				continue
			}
		}
		if at := int(g.Numbers[0]); e.here(g) && at >= 0 && at < len(edges)-1 {
			counts[code][at] += int(g.N)
		}
	}
	return counts, true
}

// reasonsWords are what it is called to ask why rows do not count.
const reasonsWords = "how many rows there are, and why some do not count"

// Reasons asks how many rows count, under 0, and how many do not: for the condition under 1, then for each need.
func (e *Elsewhere) Reasons() map[int64]int64 {
	if e == nil {
		return nil
	}
	answer := e.Whole.Ask(reasonsWords, &summary.Question{Within: e.Whole.Within, With: e.Whole.With, Where: e.Where, Needs: e.Needs,
		By: []summary.Key{{Kind: summary.Reason}}})
	if answer == nil {
		return nil
	}
	out := map[int64]int64{}
	for _, g := range answer.Groups {
		out[g.Numbers[0]] += g.N
	}
	return out
}

// summable are the statistics that follow from moments.
var summable = []chart.Aggregate{chart.Count, chart.Mean, chart.Sum}

// Placed asks for the moments of values at each place: by the groups of a column along the axis, and by those that
// colour. Of a count there are no values.
func (e *Elsewhere) placed(
	across, colours *table.Column, of chart.Aggregate, value *summary.Value,
) (list []placed, known bool) {
	if e == nil || !slices.Contains(summable, of) || e.spelling(across).Bars != "" || colours != nil && e.spelling(colours).Bars != "" {
		return nil, false
	}
	keys := []summary.Key{{Kind: summary.Level, Column: across.Name}}
	words := "statistics for each of the groups of " + across.Prose()
	if colours != nil && colours.Name != across.Name {
		keys = append(keys, summary.Key{Kind: summary.Level, Column: colours.Name})
		words += " and " + colours.Prose()
	}
	if of == chart.Count {
		value = nil
	}
	answer := e.Whole.Ask(words, e.question(value, nil, keys...))
	if answer == nil {
		return nil, false
	}
	for i := range answer.Groups {
		g := &answer.Groups[i]
		at, known := e.code(across, len(e.Panels), g)
		one := placed{at: at, group: -1, Moments: g.Moments}
		if colours != nil {
			var too bool
			one.group, too = e.code(colours, len(e.Panels)+len(keys)-1, g)
			known = known && too
		}
		if known && e.here(g) {
			list = append(list, one)
		}
	}
	return list, true
}

// Means asks for the moments of a column, as those of x, in each of the groups of another, by their codes.
func (e *Elsewhere) Means(across *table.Column, value string) []summary.Moments {
	all, known := e.placed(across, nil, chart.Mean, &summary.Value{Column: value})
	if !known {
		return nil
	}
	out := make([]summary.Moments, len(across.Levels))
	for _, one := range all {
		out[one.at] = out[one.at].With(one.Moments)
	}
	return out
}

// Crossed counts rows by the groups of two columns: those of the second down, of the first across.
func (e *Elsewhere) Crossed(across, down *table.Column) (counts []int) {
	if e == nil || across.Name == down.Name {
		return nil
	}
	all, known := e.placed(across, down, chart.Count, nil)
	if !known {
		return nil
	}
	counts = make([]int, len(across.Levels)*len(down.Levels))
	for _, one := range all {
		counts[int(one.group)*len(across.Levels)+int(one.at)] += int(one.N)
	}
	return counts
}

// coloured is the column whose groups colour, read as groups; false where what colours is no such column's groups.
func (c *Case) coloured() (by *table.Column, told bool) {
	if c.Groups == nil {
		return nil, true
	}
	column := c.Table.Column(c.Groups.Column)
	if column == nil || c.Groups.Rest {
		return nil, false
	}
	by = column.AsGroups(len(c.Groups.Levels))
	return by, by != nil && slices.Equal(by.Levels, c.Groups.Levels)
}

// placed is the rows of a place.
type placed struct {
	at, group int32
	summary.Moments
}
