// Package mark holds the marks: what can be drawn of rows, each a statistic that emits a
// few primitives. A mark is one file and one entry of the list; figures, sentences and
// checks read the list.
//
// A mark is drawn in three steps. Compute sees the rows of one panel and gives what it
// found, with the room that it needs along both axes in drawn space. When the scales are
// settled, what it found is drawn: as primitives in shares of the axes.
package mark

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/magnitude"
	"copperlark/core/primitive"
	"copperlark/core/sample"
	"copperlark/core/scale"
	"copperlark/core/table"
	"copperlark/core/text"
)

// Mark is a way of drawing rows.
type Mark struct {
	Name, Help, Also string // as it is typed; what it does; words that a search finds it by
	Example          string // a sentence of the made-up apiaries, drawn as a golden
	// Suits reports whether these axes are what the mark is made for.
	Suits func(x, y *Axis) bool
	// Check says what keeps it from being drawn.
	Check     func(*Case) []chart.Problem
	Compute   func(context.Context, *Case) (*Computed, error)
	Takes     []Channel
	Shares    bool // its values are shares of what stands at a place, from 0 to 1
	Zero      bool // its values begin at zero, which is always in view
	Lines     bool // it draws a line of each group that has a colour
	Rows      bool // it shows the values of each row, where no statistic stands along an axis
	Statistic bool // it draws a statistic: of a plain column of numbers, their mean
	Covers    bool // it fills the paper: lines over it have a rim
	Round     bool // it is drawn round a middle: there are no axes
	Tones     *Tones
	beside    bool // the statistics of groups share the room of a place
}

// Tones are colours that a mark has of its own, and what they tell: the key names them.
type Tones struct {
	Name string
	Of   []Tone
}

// Tone is one of them, on light and on dark paper.
type Tone struct{ Name, Light, Dark string }

// Channel is a way in which a mark shows a column beside those along the axes.
type Channel string

// The channels: the colour of groups, the colour of numbers, size and shape.
const (
	GroupColour  Channel = "colour of groups"
	NumberColour Channel = "colour of numbers"
	Size         Channel = "size"
	Shape        Channel = "shape"
)

// List holds every mark of rows, in the order in which they are offered.
var List = []*Mark{
	dots,
	line,
	bars,
	stackedBars,
	shareBars,
	boxes,
	histogram,
	counts,
	stems,
	steps,
	area,
	curve,
	strips,
	hexagons,
	squares,
	contours,
	ridges,
	sectors,
	priceBars,
}

// Named finds a mark; nil when there is none.
func Named(name string) *Mark {
	for _, m := range List {
		if m.Name == name {
			return m
		}
	}
	return nil
}

// Axis is what stands along an axis, as a chart reads it.
type Axis struct {
	Column *table.Column // nil for a count and a spread
	More   []*table.Column
	Of     chart.Aggregate
	Said   chart.Axis
	Kind   scale.Kind
	Near   float64 // of a near-linear scale
	Form   string  // how numbers are written: as the chart says it, else as the column does

	Between [2]string // of an axis of 0 and 1 that stand for two groups: which; empty for others
}

// plainForm writes numbers without marks between thousands.
const plainForm = "plain"

// FormOf is how the numbers of a column are written: as was said of it, and years without
// a mark between thousands.
func FormOf(c *table.Column) string {
	if c.Form != "" {
		return c.Form
	}
	if _, years := c.Whole(); years {
		return plainForm
	}
	return c.Kind.Form()
}

// Whole reports whether nothing but whole numbers stands along the axis.
func (a *Axis) Whole() bool {
	if a.Counts() {
		return true
	}
	numbers, _ := a.Column.Whole()
	return numbers && (a.Of == chart.NoAggregate || a.Of == chart.Sum)
}

// resolve reads a variable of a chart against the table that it is of. An unknown column gives no column.
func resolve(d *chart.Document, t *table.Table, axis string) *Axis {
	v := d.Along(axis)
	a := &Axis{Column: inOrder(d.Order, chart.ColumnOf(*v, t), t), Of: v.Of, Said: *d.Scale(axis), Kind: scale.Linear}
	if axis == "y" {
		for _, name := range d.AlsoY {
			if c := t.Column(name); c != nil {
				a.More = append(a.More, c)
			}
		}
	}
	switch {
	case a.Counts():
	case a.Column == nil:
	case a.Column.Kind == table.Date && !a.Aggregated():
		a.Kind = scale.Date
	case a.Column.Kind.Coded() && !a.Aggregated():
		a.Kind = scale.Groups
	}
	a.Form = a.Said.Written()
	if a.Form == "" && a.Column != nil && !a.Counts() && !a.Grouped() {
		a.Form = FormOf(a.Column)
		if a.Form == plainForm && a.Column.Form == "" && a.Of != chart.NoAggregate && a.Of != chart.Median {
			a.Form = "" // a sum of years is none
		}
	}
	if a.Kind == scale.Linear && a.Said.Log() {
		a.Kind = scale.Log
	}
	if a.Kind == scale.Linear && a.Said.Scale == chart.NearLinear {
		a.Kind, a.Near = scale.NearLinear, nearZero(a.Column)
	}
	return a
}

// sampledNear is how many rows are looked at for where a near-linear scale bends.
const sampledNear = 4000

// nearZero is where a near-linear scale of a column bends: the power of ten at or below
// the lower quartile of the sizes that are not zero.
func nearZero(c *table.Column) float64 {
	if c == nil || c.Kind.Coded() {
		return 1
	}
	var sizes []float64
	for _, v := range sample.Of(c.Numbers, sample.Rows(len(c.Numbers), sampledNear, nil)) {
		if v = math.Abs(v); v > 0 && magnitude.Finite(v) {
			sizes = append(sizes, v)
		}
	}
	if len(sizes) == 0 {
		return 1
	}
	slices.Sort(sizes)
	near := math.Pow(10, math.Floor(math.Log10(sizes[len(sizes)/4])))
	if near == 0 || math.IsInf(near, 0) {
		return 1
	}
	return near
}

// TimeStep is the unit in which slopes of durations along the axis are told; a length of none for what is no duration.
func (a *Axis) TimeStep() table.TimeStep {
	if a.Column == nil || a.Counts() || a.Column.Kind != table.Duration {
		return table.TimeStep{}
	}
	return table.TimeStepOf(a.Column)
}

// Aggregated reports whether values along the axis are statistics of rows.
func (a *Axis) Aggregated() bool { return a.Of != chart.NoAggregate }

// Counts reports whether values along the axis are numbers of rows.
func (a *Axis) Counts() bool { return a.Of == chart.Count || a.Of == chart.Spread }

// Grouped reports whether groups stand along the axis.
func (a *Axis) Grouped() bool { return a.Kind == scale.Groups }

// Numeric reports whether numbers or dates stand along the axis: values with distances.
func (a *Axis) Numeric() bool {
	return a.Column != nil && !a.Aggregated() && (!a.Column.Kind.Coded() || a.Column.Kind == table.YesNo)
}

// Scale is a scale of the axis's kind, without ends.
func (a *Axis) Scale() *scale.Scale {
	s := &scale.Scale{Kind: a.Kind, Base: a.Said.Base, Near: a.Near, Every: a.Said.Every, At: a.Said.Ticks, Form: a.Form}
	if a.Kind == scale.Groups && a.Column != nil {
		s.Levels = a.Column.Levels
	}
	return s
}

// Prose is what stands along the axis, inside a sentence.
func (a *Axis) Prose() string { return table.Prose(a.Name()) }

// Name is the readable name of what stands along the axis.
func (a *Axis) Name() string {
	if a.Counts() {
		return "Rows"
	}
	name := ""
	if a.Column != nil {
		name = a.Column.ReadableName()
	}
	if a.Of != chart.NoAggregate {
		name = map[chart.Aggregate]string{chart.Mean: "Mean of ", chart.Median: "Median of ", chart.Sum: "Sum of "}[a.Of] + table.Prose(
			name,
		)
	}
	return name
}

// mostTogether is how many columns on one axis are named, one after the other.
const mostTogether = 3

// Together names the columns that stand along the axis: honey yield and mite count.
func (a *Axis) Together() string {
	names := []string{a.Name()}
	for _, c := range a.More {
		names = append(names, c.Prose())
	}
	if more := len(names) - mostTogether; more > 0 {
		names = append(names[:mostTogether], fmt.Sprintf("%d more", more))
	}
	if last := len(names) - 1; last > 0 {
		return strings.Join(names[:last], ", ") + " and " + names[last]
	}
	return names[0]
}

// Unit is the unit of the values along the axis.
func (a *Axis) Unit() string {
	switch {
	case strings.TrimSpace(a.Said.Unit) != "":
		return strings.TrimSpace(a.Said.Unit)
	case a.Column == nil || a.Counts():
		return ""
	}
	for _, more := range a.More {
		if more.Unit != a.Column.Unit {
			return "" // several columns, each in a unit of its own
		}
	}
	return a.Column.Unit
}

// Case is what a mark draws: the rows of one panel.
type Case struct {
	Document *chart.Document
	Layer    chart.Layer
	Table    *table.Table
	X, Y     *Axis
	Rows     []uint32     // table rows
	U, V     []float64    // along x and y: in drawn space, or the values that are aggregated
	Gaps     []uint32     // table rows that have x and no y
	Measured [2][]float64 // along x and y before a column was taken out; nil where none is
	Groups   *Groups      // the groups that colour, nil for none
	Codes    []int32      // the group of each row, where Groups is not nil
	Channels Channels
	Shared   *Shared
	Panel    int
	Whole    *Case // the rows of all panels; nil where this is it

	Elsewhere *Elsewhere // what is known of all rows, where these are a sample of them; nil where they are all
}

// Groups are groups that have a colour each.
type Groups struct {
	Column      string // whose groups they are; empty: the columns along y
	Name        string
	Levels      []string
	Light, Dark []string
	Key         int     // as in primitive.Keys
	Codes       []int32 // of each row of the table
	Rest        bool    // the last one is the rest of the column's groups: they are not its levels
}

// Are reports whether the groups that have a colour are the levels of a column, one for each.
func (g *Groups) Are(column string) bool { return g != nil && !g.Rest && g.Column == column }

// Channels are the arrays that dress a point for each row.
type Channels struct {
	Colour, Shape, Radius primitive.Array
	Keys                  primitive.Keys
	Tones                 int // the key of a mark's own colours, as in primitive.Keys; 0: none
	Opacity               float64
	Fixed, Largest        float64
}

// Extent is the room that something needs along an axis, in drawn space.
type Extent struct{ Low, High float64 }

// None is the extent of nothing.
func None() Extent { return Extent{math.Inf(1), math.Inf(-1)} }

// Of gives the extent of values; NaN takes no room.
func (e Extent) Of(values ...float64) Extent {
	for _, v := range values {
		if v < e.Low {
			e.Low = v
		}
		if v > e.High {
			e.High = v
		}
	}
	return e
}

// Empty reports whether nothing takes room.
func (e Extent) Empty() bool { return e.Low > e.High }

// Union is the room for both.
func (e Extent) Union(o Extent) Extent { return Extent{min(e.Low, o.Low), max(e.High, o.High)} }

// Computed is what a mark found in its rows.
type Computed struct {
	X, Y Extent
	Fits []*Fit  // of a layer of fits, for the reading
	Ends []EndAt // names that will stand at the right ends of paths
	Draw func(*Panel, *Sink)
	// LeftOut counts what cannot be drawn for a reason of the mark's own.
	LeftOut []Reason
	Exact   bool // it is of all rows, where those of the case are a sample
	Most    int  // of a mark whose colours are counts: the largest of them
}

// Counts is how counts of rows are coloured: the same in every panel.
type Counts struct {
	Key  int // as in primitive.Keys
	Step func(count int) uint8
}

// Reason is why some rows are left out.
type Reason struct {
	Reason string `json:"reason"`
	Count  int    `json:"count"`
}

// Panel is where a mark is drawn: the settled scales, and how long they are in pixels.
type Panel struct {
	Index         int
	X, Y          *scale.Scale
	Width, Height float64
	Fine          bool // positions are as exact as they can be, for a view that is zoomed deep into
	Counts        Counts
	Metrics       *text.Metrics
}

// ShareX gives positions along x of values in drawn space.
func (p *Panel) ShareX(drawn []float64) primitive.Array { return shares(p.X, drawn) }

// ShareY gives positions along y of values in drawn space.
func (p *Panel) ShareY(drawn []float64) primitive.Array { return shares(p.Y, drawn) }

func shares(s *scale.Scale, drawn []float64) primitive.Array {
	out := make([]float64, len(drawn))
	for i, v := range drawn {
		out[i] = s.Share(v)
	}
	return primitive.Shares(out)
}

// Level says over what a layer lies.
type Level int

// The levels, from what lies below to what lies on top.
const (
	Under Level = iota // bands
	Middle
	Over  // lines that are fitted to the marks
	Words // labels
)

// Placed is a layer at its level.
type Placed struct {
	primitive.Layer
	Level Level
	End   []End // of paths that are named at their ends
}

// End is the name of a path, put at its end or, for a line of all rows, over its start.
type End struct {
	Name        string
	Light, Dark string
	Start       bool
}

// EndAt is a name that will stand at the right end of a path, which ends at U in drawn
// space; +Inf: it goes to the end of the axis.
type EndAt struct {
	Name string
	U    float64
}

// Sink collects the layers of a panel.
type Sink struct {
	Panel  int
	Mark   string
	Says   string // the word of the sentence that governs what is added
	Layers []*Placed
}

// Add takes a layer; one without primitives is dropped.
func (s *Sink) Add(level Level, l primitive.Layer) *Placed {
	l.Panel, l.Mark, l.Says = s.Panel, s.Mark, s.Says
	placed := &Placed{Layer: l, Level: level}
	if l.Count > 0 {
		s.Layers = append(s.Layers, placed)
	}
	return placed
}

// Zeroed names the axis on which zero is in view, x or y; empty for none.
func Zeroed(marks []*Mark, x *Axis) string {
	if !slices.ContainsFunc(marks, func(m *Mark) bool { return m.Zero }) {
		return ""
	}
	if x.Aggregated() {
		return "x"
	}
	return "y"
}
