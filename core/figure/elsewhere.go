package figure

import (
	"fmt"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/formula"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// Elsewhere is how far a chart of a table that stays elsewhere is of all its rows, and how far of a sample of them.
type Elsewhere struct {
	Questions []Question `json:"questions" doc:"what all rows are asked, in this order"`
	Sampled   []string   `json:"sampled" doc:"what is drawn of the sample alone: marks, by their names"`
	Bars      string     `json:"bars,omitempty" doc:"why all rows cannot be asked: all is of the sample"`
}

// OfAll reports whether everything that is drawn is of all rows.
func (e *Elsewhere) OfAll() bool {
	known := e.Bars == "" && len(e.Sampled) == 0
	for _, q := range e.Questions {
		known = known && q.Known
	}
	return known
}

// Question is one that the chart asks of all rows of its table.
type Question struct {
	Key   string            `json:"key" doc:"tells it from all others of its table"`
	Words string            `json:"words"`
	Known bool              `json:"known"`
	Of    *summary.Question `json:"-"`
}

// elsewhere is what the chart may ask of all rows; nil where its table has no others.
func (d *Dressed) elsewhere() *mark.Elsewhere {
	whole := d.Elsewhere
	if whole == nil || d.Document.Function != nil {
		return nil
	}
	a := &askable{Dressed: d, whole: whole}
	for _, bar := range bars {
		if whole.Bars == "" {
			whole.Bars = bar(a)
		}
	}
	if whole.Bars != "" {
		return nil
	}
	e := &mark.Elsewhere{Unknown: map[string]map[string]int64{}, Whole: whole, Where: a.where, Panels: d.panelColumns(), Main: a.main()}
	e.Needs, d.needed = a.needs()
	e.X, e.Y = a.value(d.X), a.value(d.Y)
	return e
}

// elsewhereOf is what a chart that is not drawn may ask.
func elsewhereOf(b *mark.Bound, whole *summary.Whole) *mark.Elsewhere {
	d := &Dressed{Selection: &Selection{Asked: Asked{Bound: b, Options: Options{Elsewhere: whole}}}}
	return d.elsewhere()
}

// askable is a chart while it is found out what it can ask.
type askable struct {
	*Dressed
	whole *summary.Whole
	where string
}

// bars are what keeps a chart from asking; each gives its words, or none.
var bars = []func(*askable) string{
	func(a *askable) string {
		if a.Document.Chosen != nil {
			return "rows were chosen by hand, which are rows of the sample"
		}
		return ""
	},
	func(a *askable) string {
		if a.Document.TakeOut != "" {
			return "taking a column out moves every row"
		}
		return ""
	},
	func(a *askable) string {
		if len(a.Y.More) > 0 {
			return "several columns stand along y"
		}
		return ""
	},
	func(a *askable) string {
		for _, axis := range []*mark.Axis{a.X, a.Y} {
			if axis.Kind == scale.NearLinear && !axis.Aggregated() {
				return "an axis is near-linear at zero"
			}
		}
		return ""
	},
	(*askable).condition,
	(*askable).readOtherwise,
}

// condition reads the condition by the names that columns have in the table that stays elsewhere.
func (a *askable) condition() string {
	if a.Document.Where == "" {
		return ""
	}
	f, err := formula.Parse(a.Document.Where)
	if err != nil {
		return "the condition cannot be read"
	}
	names := map[string]string{}
	for _, said := range f.Columns() {
		c := a.Table.Said(said)
		if c == nil || a.whole.Raw.Column(c.Name) == nil {
			return fmt.Sprintf("the condition speaks of %s, which is no column of the whole table", said)
		}
		names[said] = c.Name
		if raw := a.whole.Raw.Column(c.Name); raw.Kind.Coded() && a.whole.Spelling(c).Renamed {
			return fmt.Sprintf("the condition speaks of %s, whose values are called otherwise here", c.Prose())
		}
	}
	a.where = formula.Renamed(a.Document.Where, names)
	return ""
}

// readOtherwise tells of columns whose values are not those of the whole table.
func (a *askable) readOtherwise() string {
	for _, axis := range []*mark.Axis{a.X, a.Y} {
		c := axis.Column
		if c == nil || axis.Counts() && axis.Of == chart.Count {
			continue
		}
		raw := a.whole.Raw.Column(c.Name)
		if raw == nil || !c.Kind.Coded() && !a.whole.Reads(c) {
			return c.Prose() + " is read otherwise here than it stands there"
		}
	}
	return ""
}

// main are the groups whose lines are compared: those of the last fit that is by groups, else those that colour.
func (a *askable) main() *table.Column {
	name := a.comparedBy()
	if c := a.Table.Column(name); c != nil {
		return c.AsGroups(chart.MaxFitGroups)
	}
	return nil
}

// needs are what a row needs to be drawn, in the order in which selectRows looks, with the words of each reason.
func (a *askable) needs() (needs []summary.Need, words []string) {
	words = append(words, fmt.Sprintf(whereWords, a.Document.Where)) // which no row is left out for, where nothing is said
	present := func(c *table.Column) {
		needs, words = append(needs, summary.Need{Column: c.Name}), append(words, fmt.Sprintf(missingWords, c.Prose()))
	}
	above := func(c *table.Column, below string) {
		needs, words = append(needs, summary.Need{Column: c.Name, Positive: true}), append(words, fmt.Sprintf(below, c.Prose()))
	}
	if a.Y.Column != nil && !a.Y.Counts() {
		present(a.Y.Column)
	}
	for _, c := range mapped(a.Document, a.Table, a.X, a.Y) {
		present(c)
	}
	if c := a.Table.Column(a.Document.Colour); a.Document.Gradient.Log && a.Document.Gradient.Of(c) {
		above(c, belowColoursWords)
	}
	for _, axis := range []*mark.Axis{a.X, a.Y} {
		if axis.Column != nil && !axis.Counts() && axis.Kind == scale.Log && !axis.Aggregated() {
			above(axis.Column, belowWords)
		}
	}
	return needs, words
}

// value is what stands along an axis of numbers, in drawn space; nil for others.
func (a *askable) value(axis *mark.Axis) *summary.Value {
	switch {
	case axis.Column == nil || axis.Of == chart.Count || axis.Grouped() && axis.Column.Kind != table.YesNo:
		return nil
	case axis.Kind != scale.Linear && axis.Kind != scale.Log && axis.Kind != scale.Date && axis.Kind != scale.Groups:
		return nil
	}
	return &summary.Value{Column: axis.Column.Name, Log: axis.Kind == scale.Log && !axis.Aggregated()}
}

// exactRows counts all rows, where everything that is drawn is of them.
func (b *Computed) exactRows() {
	if b.whole.Elsewhere == nil || len(b.Sampled()) > 0 {
		return
	}
	found := b.whole.Elsewhere.Reasons()
	if found == nil {
		return
	}
	rows := Rows{Drawn: int(found[0]), Total: int(found[0]), LeftOut: []Reason{}}
	for i, words := range b.needed {
		if n := int(found[int64(i)+1]); n > 0 {
			rows.Total += n
			rows.LeftOut = append(rows.LeftOut, Reason{Reason: words, Count: n})
		}
	}
	b.tally = rows
}

// Sampled are the layers that are of the sample alone, each name once.
func (b *Computed) Sampled() (names []string) {
	names = []string{}
	seen := map[string]bool{}
	for _, p := range b.parts {
		for _, one := range p.computed {
			if !one.Exact && !seen[one.name] && b.shows(one) {
				seen[one.name] = true
				names = append(names, one.name)
			}
		}
	}
	return names
}

// shows reports whether a layer shows rows: a reference line and a fit do not.
func (b *Computed) shows(l *layer) bool {
	return mark.Named(l.name) != nil || l.name == mark.IntervalLayer || l.name == mark.CentresLayer
}

// told is what is said of a chart of a table that stays elsewhere; nil where it is of no such table.
func (b *Drawn) toldElsewhere() *Elsewhere {
	if b.Elsewhere == nil || b.Document.Function != nil {
		return nil
	}
	out := AskedOf(b.Elsewhere)
	out.Sampled = b.Sampled()
	if b.away != nil {
		b.unknownGroups()
	}
	return out
}

// AskedOf is what was asked of all rows so far; nil where there are no others.
func AskedOf(whole *summary.Whole) *Elsewhere {
	if whole == nil {
		return nil
	}
	out := &Elsewhere{Questions: []Question{}, Sampled: []string{}, Bars: whole.Bars}
	for _, one := range whole.Asked() {
		out.Questions = append(out.Questions, Question{Key: one.Question.Key(), Words: one.Words, Known: one.Answer != nil, Of: one.Question})
	}
	return out
}

// unknownGroups tells of groups that the whole table has and the sample has not.
func (b *Drawn) unknownGroups() {
	for _, c := range b.Table.Columns() { // in their order
		groups := b.away.Unknown[c.Name]
		if len(groups) == 0 {
			continue
		}
		rows := int64(0)
		for _, n := range groups {
			rows += n
		}
		b.figure.Cautions = append(b.figure.Cautions, fmt.Sprintf(
			"All rows have %s of %s more, of about %s, of which the sample has no row: none of what is shown or said of groups is of them.",
			scale.Counted(len(groups), "group"), c.Prose(), scale.Counted(int(rows), "row")))
	}
}

// exactKeys has keys of groups tell how many of all rows each has, where that is known.
func (b *Computed) exactKeys() {
	if b.away == nil || b.away.Main == nil {
		return
	}
	groups := b.whole.Shared.Groups(b.away.Main.Name)
	if groups == nil || groups.Sums == nil {
		return
	}
	for i, k := range b.keys {
		if k.Column != b.away.Main.Name || len(k.Entries) != len(groups.Column.Levels) {
			continue
		}
		b.keys[i].Entries = slices.Clone(k.Entries)
		for g := range k.Entries {
			b.keys[i].Entries[g].Count = int(groups.Sums.Groups[g].N)
		}
	}
}
