// Package chart holds the chart document: what a sentence says, as data.
//
// The document is the truth of a chart. Its typed and spoken forms are made by
// package sentence; what is drawn is made by package figure. It is stored as
// JSON with a version number; documents of older versions are brought forward
// wherever they are read.
//
// A document is the rows that it is of, mappings (which columns stand along the
// axes, and which colour, size and shape the marks), layers that are drawn over
// these axes (marks of the rows, fits, reference lines, …), each with what is said
// of it, scales, panels, and its manner: looks and words.
package chart

import (
	"encoding/json"
	"fmt"
	"slices"
)

// Version is the version of the document that this program writes.
const Version = 3

// Document is one chart. Column names are those of the table; "" is none. What stands in a group of fields is reached without
// naming the group: d.Where, d.Title.
type Document struct {
	Version   int `json:"version"`
	Rows      `json:"rows,omitzero" doc:"which rows the chart is of, and how they are followed"`
	Function  *Function `json:"function,omitempty" doc:"y is worked out from x instead of read from a table; then x and y are its columns"`
	Y         Variable  `json:"y" doc:"what stands along the vertical axis"`
	AlsoY     []string  `json:"also_y,omitempty" doc:"more columns along the vertical axis, each drawn for itself"`
	X         Variable  `json:"x" doc:"what stands along the horizontal axis"`
	Colouring `json:"colour,omitzero" doc:"what colours the marks"`
	Sizing    `json:"size,omitzero" doc:"what sizes the marks"`
	Shaping   `json:"shape,omitzero" doc:"what gives marks their shape"`
	Also      []Also   `json:"also,omitempty" maxItems:"4" doc:"other columns, or those of another dataset, over the same axes"`
	Layers    []Layer  `json:"layers,omitempty" doc:"what is drawn, each with what is said of it; no mark of rows among them: the one that the columns suggest"`
	Label     *Label   `json:"label,omitempty" doc:"which rows have a label, and what it says"`
	Card      *RowCard `json:"card,omitempty" doc:"what pointing at a row shows"`
	Order     *Order   `json:"order,omitempty" doc:"in which order groups stand along an axis"`
	Scales    Scales   `json:"scales,omitzero"`
	Panels    Panels   `json:"panels,omitzero"`
	Manner    `json:"manner,omitzero" doc:"how the chart looks, and its words"`
}

// Rows are the rows of a chart.
type Rows struct {
	Where   string  `json:"where,omitempty" doc:"those that the chart is of, as an SQL condition; empty: all"`
	Chosen  *Chosen `json:"chosen,omitempty" doc:"rows that were chosen by hand: these alone, or all but these"`
	TakeOut string  `json:"take_out,omitempty" doc:"the column that is taken out: rows stand where they would if its groups had equal means, or as its line leaves them"`
	Step    string  `json:"step,omitempty" doc:"the column whose values are stepped through, one picture at a time"`
	Follow  string  `json:"follow,omitempty" doc:"the column that tells which dots of one step are those of the next: they move"`
}

// Colouring is what gives marks their colours.
type Colouring struct {
	Colour   string   `json:"column,omitempty" doc:"the column that colours the marks"`
	Paired   string   `json:"paired,omitempty" doc:"a second column: the first gives the hue, this one how dark it is"`
	Top      int      `json:"top,omitempty" minimum:"0" maximum:"9" doc:"so many of the most frequent groups have a colour each, and the rest one together; 0: all"`
	Gradient Gradient `json:"gradient,omitzero" doc:"how a column of numbers colours the marks"`
}

// Sizing is what gives marks their sizes.
type Sizing struct {
	Size  string `json:"column,omitempty" doc:"the column whose value is the area of a mark"`
	Sizes Sizes  `json:"radii,omitzero" doc:"how small and how large sized marks are"`
}

// Shaping is what gives marks their shapes.
type Shaping struct {
	Shape string `json:"column,omitempty" doc:"the column that gives each group its own shape"`
}

// Manner is how a chart looks whatever its columns are, and what people say of it in their own words.
type Manner struct {
	Palette   []string  `json:"palette,omitempty" maxItems:"10" doc:"the colours of groups, each # and six digits; empty: those of the program"`
	Patterns  bool      `json:"patterns,omitempty" doc:"the line of each group has a pattern beside its colour"`
	Front     []string  `json:"in_front,omitempty" maxItems:"60" doc:"groups that lie on top of the others, the first on top of all"`
	Fixed     Fixed     `json:"fixed,omitzero" doc:"the colour, size and shape of all marks, where no column gives them"`
	Outline   *Outline  `json:"outline,omitempty" doc:"the line around dots, bars and cells"`
	Opacity   float64   `json:"opacity,omitempty" minimum:"0" maximum:"1" doc:"0 leaves it to the program"`
	Jitter    []string  `json:"jitter,omitempty" maxItems:"2" doc:"x, y: along which dots that share a place are moved apart at random"`
	Overlap   string    `json:"overlap,omitempty" enum:"off" doc:"whether dots that lie over each other are shaded by how many there are; empty: where they hide each other"`
	Look      string    `json:"look,omitempty" enum:"ruled,sketch,ink" doc:"how the chart looks as a whole"`
	Grid      string    `json:"grid,omitempty" enum:"off,halves" doc:"the lines behind the marks"`
	Text      string    `json:"text,omitempty" enum:"small,large,larger" doc:"how large its words are"`
	Weight    string    `json:"weight,omitempty" enum:"light,bold" doc:"how heavy its words are"`
	Letters   []Letters `json:"letters,omitempty" maxItems:"9" doc:"how large and heavy one kind of its words is"`
	AxisLines *Stroke   `json:"axis_lines,omitempty" doc:"lines along the axes, and how they look; none: as the look has them"`
	Guides    string    `json:"guides,omitempty" enum:"off" doc:"lines from the pointed mark to the axes; empty: they are drawn"`
	Key       string    `json:"key,omitempty" enum:"top,right,line ends,inside,off" doc:"where the keys stand; empty: below the chart"`
	KeyOrder  []string  `json:"key_order,omitempty" maxItems:"60" doc:"the groups that the key names first, in this order"`
	Paper     *Paper    `json:"paper,omitempty" doc:"the size of the chart, in pixels; none: as large as there is room"`
	Title     string    `json:"title,omitempty"`
	Centred   bool      `json:"title_centred,omitempty" doc:"the title stands over the middle"`
	Subtitle  string    `json:"subtitle,omitempty"`
	Note      string    `json:"note,omitempty"`
}

// Reading is how a column is read otherwise than it is, for one chart.
type Reading string

// The ways of reading a column.
const (
	AsItIs   Reading = ""
	AsNumber Reading = "number"
	AsGroups Reading = "groups"
)

// Aggregate is a statistic of the rows that share a place along the other axis.
type Aggregate string

// The aggregates. A spread has no column of its own: it counts the other axis.
const (
	NoAggregate Aggregate = ""
	Count       Aggregate = "count"
	Sum         Aggregate = "sum"
	Mean        Aggregate = "mean"
	Median      Aggregate = "median"
	Spread      Aggregate = "spread"
)

// Aggregates lists those that can be said of a column.
var Aggregates = []Aggregate{Mean, Median, Sum}

// Variable is what stands along an axis: a column, or a statistic of one.
type Variable struct {
	Column string    `json:"column,omitempty"`
	Of     Aggregate `json:"of,omitempty" enum:"count,sum,mean,median,spread" doc:"a statistic of the rows at each place along the other axis"`
	As     Reading   `json:"as,omitempty" enum:"number,groups" doc:"how the column is read for this chart"`
}

// Empty reports whether nothing is said.
func (v Variable) Empty() bool { return v == Variable{} }

// Aggregated reports whether it is a statistic of rows, and not a value of each.
func (v Variable) Aggregated() bool { return v.Of != NoAggregate }

// Layer is one thing that is drawn over the axes, with what is said of it.
type Layer struct {
	Mark      string     `json:"mark" doc:"dots, line, bars, … of the rows; fit; reference; interval; centres; edges"`
	Fit       *Fit       `json:"fit,omitempty"`
	Reference *Reference `json:"reference,omitempty"`
	Bins      *Bins      `json:"bins,omitempty" doc:"of a histogram: how many bins, or how wide; none: as many as its values ask for"`
	Shares    []float64  `json:"shares,omitempty" maxItems:"6" doc:"of contours: which shares of rows they hold, in percent; empty: 50, 80, 95"`
	Interval  *Interval  `json:"interval,omitempty" doc:"how sure each mean or median is, drawn about it"`
	By        string     `json:"by,omitempty" doc:"of centres: the column whose groups have their means shown, and the line between them"`
	Ways      []string   `json:"ways,omitempty" maxItems:"3" doc:"of edges: histogram, curve, boxes: how rows are spread along each axis"`
}

// The layers that are no marks of rows, in the order in which they stand behind those; ContoursMark has shares of its own,
// HistogramMark bins.
const (
	FitLayer       = "fit"
	ReferenceLayer = "reference"
	IntervalLayer  = "interval"
	CentresLayer   = "centres"
	EdgesLayer     = "edges"
	ContoursMark   = "contours"
	HistogramMark  = "histogram"
)

var laterLayers = []string{FitLayer, ReferenceLayer, IntervalLayer, CentresLayer, EdgesLayer}

// rank is where a layer stands among the others: marks of rows first; of references the lines before the bands.
func (l Layer) rank() int {
	rank := 2 * (slices.Index(laterLayers, l.Mark) + 1)
	if l.Reference != nil && l.Reference.To != nil {
		rank++
	}
	return rank
}

// Of gives the first layer of a name; nil where there is none.
func (d *Document) Of(mark string) *Layer {
	for i := range d.Layers {
		if d.Layers[i].Mark == mark {
			return &d.Layers[i]
		}
	}
	return nil
}

// Layer gives the first layer of a name, which is added where there is none.
func (d *Document) Layer(mark string) *Layer {
	if l := d.Of(mark); l != nil {
		return l
	}
	return d.Add(Layer{Mark: mark})
}

// DropLayer takes all layers of a name out.
func (d *Document) DropLayer(mark string) { d.Drop(func(l Layer) bool { return l.Mark == mark }) }

// Bins is how many equal bins a histogram has, or how wide each is, in units of the axis.
type Bins struct {
	Count int     `json:"count,omitempty" minimum:"0" maximum:"1000"`
	Width float64 `json:"width,omitempty" minimum:"0"`
}

// MostBins is how many bins are asked for at most.
const MostBins = 1000

// Bins is what is said of the bins of the histogram; nil: nothing.
func (d *Document) Bins() *Bins {
	if l := d.Of(HistogramMark); l != nil {
		return l.Bins
	}
	return nil
}

// Contours are the shares of rows that contours hold, as they are said.
func (d *Document) Contours() []float64 {
	if l := d.Of(ContoursMark); l != nil {
		return l.Shares
	}
	return nil
}

// SetContours says which shares contours hold; none: those that they hold when nothing is said.
func (d *Document) SetContours(shares []float64) { d.Layer(ContoursMark).Shares = shares }

// Interval is how sure each mean or median is; nil where it is not said.
func (d *Document) Interval() *Interval {
	if l := d.Of(IntervalLayer); l != nil {
		return l.Interval
	}
	return nil
}

// SetInterval says how sure each mean or median is; nil: nothing of it.
func (d *Document) SetInterval(of *Interval) {
	if d.DropLayer(IntervalLayer); of != nil {
		d.Layer(IntervalLayer).Interval = of
	}
}

// Centres is the column whose groups have their means shown.
func (d *Document) Centres() string {
	if l := d.Of(CentresLayer); l != nil {
		return l.By
	}
	return ""
}

// SetCentres says whose groups have their means shown; "": none.
func (d *Document) SetCentres(column string) {
	if d.DropLayer(CentresLayer); column != "" {
		d.Layer(CentresLayer).By = column
	}
}

// Edges are the ways in which the spread of rows stands along each axis.
func (d *Document) Edges() []string {
	if l := d.Of(EdgesLayer); l != nil {
		return l.Ways
	}
	return nil
}

// SetEdges says how the spread of rows stands along each axis; none: not at all.
func (d *Document) SetEdges(ways []string) {
	if d.DropLayer(EdgesLayer); len(ways) > 0 {
		d.Layer(EdgesLayer).Ways = ways
	}
}

// Reference is a line across the chart, or a band between two values.
type Reference struct {
	Axis    string    `json:"axis" enum:"x,y"`
	Of      Aggregate `json:"of,omitempty" enum:"mean,median" doc:"of what is drawn along the axis; then at says nothing"`
	At      float64   `json:"at,omitempty"`
	To      *float64  `json:"to,omitempty" doc:"of a band: its other end"`
	Formula string    `json:"formula,omitempty" doc:"of a line along which y is worked out from x, as 2 * x + 1: then the axis is y and at says nothing"`
	Name    string    `json:"name,omitempty"`
	Stroke  Stroke    `json:"stroke,omitzero"`
}

// Fixed is how all marks look where no column says so.
type Fixed struct {
	Colour string  `json:"colour,omitempty" doc:"# and six digits"`
	Size   float64 `json:"size,omitempty" doc:"the radius of dots, in pixels, from 0.5 to 30"`
	Shape  string  `json:"shape,omitempty" doc:"circle, square, triangle, diamond, cross, ring, bar, down, or one letter or sign"`
}

// Sizes are the radii, in pixels, of the marks that a column sizes: no mark is smaller than the
// smallest, and that of the highest value is the largest. Between them area is value.
type Sizes struct {
	Smallest float64 `json:"smallest"`
	Largest  float64 `json:"largest"`
}

// RowCard says what the card of a row shows.
type RowCard struct {
	Heading string   `json:"heading,omitempty" doc:"the column that heads it; empty: the one that names rows"`
	Shows   []string `json:"shows,omitempty" maxItems:"30" doc:"the columns on it, in order; empty: those that the sentence names"`
}

// Chosen are rows of the table that were chosen by hand, counted from 1.
type Chosen struct {
	Rows    []float64 `json:"rows" maxItems:"2000"`
	Without bool      `json:"without,omitempty" doc:"the chart is of all rows but these"`
}

// Label says which rows have a label: all, so many with the highest or lowest values of a
// column, or those that were chosen, counted from 1. What finds no room beside its mark is
// counted.
type Label struct {
	With   string    `json:"with" doc:"the column whose value is written"`
	Top    int       `json:"top,omitempty" minimum:"0" maximum:"200" doc:"how many, by the column by"`
	By     string    `json:"by,omitempty"`
	Lowest bool      `json:"lowest,omitempty" doc:"the lowest instead of the highest"`
	Rows   []float64 `json:"rows,omitempty" maxItems:"2000"`
}

// Interval says what is drawn about each statistic: its interval at a level, or, about a mean,
// one standard deviation of the rows to each side.
type Interval struct {
	Level     float64 `json:"level,omitempty" doc:"in percent, from 50 to 99.9: Student's interval of a mean, Wilson's of a share, that of order statistics of a median"`
	Deviation bool    `json:"deviation,omitempty" doc:"one standard deviation of the rows to each side; then the level says nothing"`
}

// Order is how the groups of a column stand along an axis.
type Order struct {
	Column     string    `json:"column"`
	Of         Aggregate `json:"of" enum:"count,sum,mean,median"`
	By         string    `json:"by,omitempty" doc:"the column whose statistic orders; none for count"`
	Descending bool      `json:"descending,omitempty"`
}

// Scales is what a person has said of the axes.
type Scales struct {
	X Axis `json:"x,omitzero"`
	Y Axis `json:"y,omitzero"`
}

// The kinds of scale that can be said of an axis of numbers.
const (
	LogScale   = "log"
	NearLinear = "near-linear"
)

// Axis is what a person has said of one axis; the zero value says nothing.
type Axis struct {
	Scale    string    `json:"scale,omitempty" enum:"log,near-linear" doc:"empty: linear, or what the column asks for"`
	Base     float64   `json:"base,omitempty" minimum:"0" doc:"of a log scale; 0 is 10"`
	Limits   *Limits   `json:"limits,omitempty"`
	Every    float64   `json:"every,omitempty" minimum:"0" doc:"the step between ticks; 0 leaves it to the program"`
	Ticks    []float64 `json:"ticks,omitempty" doc:"where ticks stand, instead of a step"`
	Form     string    `json:"form,omitempty" enum:"120k,percent,plain,currency,decimals,duration" doc:"how the numbers along it are written"`
	Symbol   string    `json:"symbol,omitempty" doc:"of a currency"`
	Digits   int       `json:"digits,omitempty" minimum:"0" maximum:"8" doc:"how many decimals, of decimals"`
	Title    string    `json:"title,omitempty"`
	Reversed bool      `json:"reversed,omitempty" doc:"turned round: what stood at its beginning stands at its end"`
	Untitled bool      `json:"untitled,omitempty" doc:"nothing stands along it but its numbers"`
	Unit     string    `json:"unit,omitempty"`
}

// Written is how the numbers along the axis are written, as a scale reads it.
func (a *Axis) Written() string {
	switch a.Form {
	case "currency":
		return "currency " + a.Symbol
	case "decimals":
		return fmt.Sprint("decimals ", a.Digits)
	}
	return a.Form
}

// Log reports whether the axis is logarithmic.
func (a *Axis) Log() bool { return a.Scale == LogScale }

// Limits are the ends of an axis; From above To turns it round. They change the
// view and never the rows that a fit uses. On an axis of dates they are seconds
// since 1970-01-01T00:00:00Z.
type Limits struct {
	From  float64 `json:"from"`
	To    float64 `json:"to"`
	Dates bool    `json:"dates,omitempty" doc:"said as dates"`
}

// Panels divide a chart into one picture for each group.
type Panels struct {
	By      []string `json:"by,omitempty" maxItems:"2" doc:"one column: in reading order; two: rows by the first, columns by the second"`
	Own     []string `json:"own,omitempty" maxItems:"2" doc:"x, y: the axes that each panel has for itself"`
	Columns int      `json:"columns,omitempty" minimum:"0" maximum:"12" doc:"0 leaves it to the program"`
}

// FitKind is a way of fitting.
type FitKind string

// The ways of fitting.
const (
	FitLine   FitKind = "line"        // least squares
	FitCurve  FitKind = "curve"       // polynomial, by least squares
	FitLocal  FitKind = "local"       // local regression
	FitSpline FitKind = "spline"      // smoothing spline
	FitRobust FitKind = "robust line" // Theil-Sen
)

// The degrees that a curve can have.
const LeastDegree, MostDegree = 2, 5

// Fit is one fitted line, or one for each group.
type Fit struct {
	Kind            FitKind `json:"kind" enum:"line,curve,local,spline,robust line"`
	Degree          int     `json:"degree,omitempty" doc:"of a curve: 2 to 5"`
	Span            float64 `json:"span,omitempty" doc:"of a local regression: the share of rows in each neighbourhood; 0 is DefaultSpan"`
	Each            string  `json:"each,omitempty" doc:"one fit for each group of this column"`
	Overall         bool    `json:"overall,omitempty" doc:"one fit of all rows"`
	Band            *Band   `json:"band,omitempty"`
	LeavingOutliers bool    `json:"leaving_out_outliers,omitempty" doc:"the fit is made again without outliers"`
	Stroke          Stroke  `json:"stroke,omitzero"`
}

// DefaultSpan is the span of a local regression that says none.
const DefaultSpan = 0.75

// BandKind tells the band of the mean from the band of single new cases.
type BandKind string

// The kinds of band.
const (
	Confidence BandKind = "confidence"
	Prediction BandKind = "prediction"
)

// Band is a band about a fit.
type Band struct {
	Kind  BandKind `json:"kind" enum:"confidence,prediction"`
	Level float64  `json:"level" doc:"in percent: 95"`
}

// Read reads a stored document and brings it to the current version. A newer
// version than this program knows is an error.
func Read(stored []byte) (*Document, error) {
	document := &Document{}
	if err := json.Unmarshal(stored, document); err != nil {
		return nil, fmt.Errorf("the stored chart cannot be read: %w", err)
	}
	return document, nil
}

// Whole reports whether the document says something along both axes.
func (d *Document) Whole() bool { return !d.Y.Empty() && !d.X.Empty() }

// Along gives what stands along an axis, x or y.
func (d *Document) Along(axis string) *Variable {
	if axis == "x" {
		return &d.X
	}
	return &d.Y
}

// Scale gives what was said of an axis, x or y.
func (d *Document) Scale(axis string) *Axis {
	if axis == "x" {
		return &d.Scales.X
	}
	return &d.Scales.Y
}

// Fits lists the fits among the layers.
func (d *Document) Fits() (list []*Fit) {
	for i := range d.Layers {
		if d.Layers[i].Fit != nil {
			list = append(list, d.Layers[i].Fit)
		}
	}
	return list
}

// References lists the reference lines and bands among the layers.
func (d *Document) References() (list []*Reference) {
	for i := range d.Layers {
		if d.Layers[i].Reference != nil {
			list = append(list, d.Layers[i].Reference)
		}
	}
	return list
}

// Marks names the marks of rows among the layers.
func (d *Document) Marks() (list []string) {
	for _, l := range d.Layers {
		if l.rank() == 0 {
			list = append(list, l.Mark)
		}
	}
	return list
}

// SetMarks makes these the marks of rows. One that is drawn already keeps what is said of it.
func (d *Document) SetMarks(names ...string) {
	rest := slices.DeleteFunc(slices.Clone(d.Layers), func(l Layer) bool { return l.rank() == 0 })
	var marks []Layer
	for _, name := range names {
		one := Layer{Mark: name}
		if before := d.Of(name); before != nil {
			one = *before
		}
		marks = append(marks, one)
	}
	if d.Layers = append(marks, rest...); len(d.Layers) == 0 {
		d.Layers = nil
	}
}

// Add adds a layer where it is drawn: marks of rows first, then fits, then references.
func (d *Document) Add(l Layer) *Layer {
	at := len(d.Layers)
	for at > 0 && d.Layers[at-1].rank() > l.rank() {
		at--
	}
	d.Layers = slices.Insert(d.Layers, at, l)
	return &d.Layers[at]
}

// AddFit adds a fit.
func (d *Document) AddFit(f Fit) *Fit { return d.Add(Layer{Mark: FitLayer, Fit: &f}).Fit }

// AddReference adds a reference line or band.
func (d *Document) AddReference(r Reference) *Reference {
	return d.Add(Layer{Mark: ReferenceLayer, Reference: &r}).Reference
}

// Drop takes layers out.
func (d *Document) Drop(when func(Layer) bool) {
	d.Layers = slices.DeleteFunc(slices.Clone(d.Layers), when)
	if len(d.Layers) == 0 {
		d.Layers = nil
	}
}

// DropFits takes all fits out.
func (d *Document) DropFits() { d.Drop(func(l Layer) bool { return l.Fit != nil }) }
