// Package figure turns a chart document and a table into a figure: plain data
// that holds everything needed to paint, hover, describe and export a chart,
// and nothing that needs the table again.
//
// Positions are shares of the axis in drawn space: 0 at the axis's From, 1 at
// its To, so that a painter maps them with one multiplication whatever the
// scale. Sizes of marks are radii in pixels at the figure's own size. Columns
// of numbers travel as typed arrays behind a JSON head (see Encode).
package figure

import (
	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/scale"
)

// Version is the version of the figure's format.
const Version = 1

// Figure is a chart ready to be painted.
type Figure struct {
	Version int     `json:"version"`
	Width   float64 `json:"width"`
	Height  float64 `json:"height"`
	Plot    Box     `json:"plot" doc:"where the axes span, in pixels from the top left"`
	Title   string  `json:"title,omitempty"`
	Note    string  `json:"note,omitempty"`
	X       Axis    `json:"x"`
	Y       Axis    `json:"y"`
	Dots    Dots    `json:"dots"`
	Colour  *Key    `json:"colour,omitempty"`
	Shape   *Key    `json:"shape,omitempty"`
	Size    *Sizes  `json:"size,omitempty"`
	Fits    []Fit   `json:"fits"`
	Rows    Rows    `json:"rows"`
	Card    Card    `json:"card"`

	// Relation is what a reading speaks from; it is not sent.
	Relation *Relation `json:"-"`
}

// Box is a rectangle in pixels.
type Box struct {
	Left   float64 `json:"left"`
	Top    float64 `json:"top"`
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
}

// Axis is one axis with its scale and the ticks of the whole view.
type Axis struct {
	scale.Scale
	Column    string       `json:"column"`
	Name      string       `json:"name" doc:"the readable name"`
	Unit      string       `json:"unit,omitempty"`
	Title     string       `json:"title" doc:"what stands along the axis"`
	TickCount int          `json:"tick_count"`
	Ticks     []scale.Tick `json:"ticks"`
}

// Dots are the marks, one a drawn row. Colour is the group, or the step of the
// gradient; Radius is in 1/255 of Largest. Arrays that say nothing are empty.
type Dots struct {
	Count   int     `json:"count"`
	Opacity float64 `json:"opacity"`
	Fixed   float64 `json:"fixed_radius" doc:"the radius of every dot where size says nothing"`
	Largest float64 `json:"largest_radius"`
	X       Array   `json:"x"`
	Y       Array   `json:"y"`
	Colour  Array   `json:"colour"`
	Shape   Array   `json:"shape"`
	Radius  Array   `json:"radius"`
	Row     Array   `json:"row" doc:"the table row of each dot; empty where left_out tells"`
	LeftOut Array   `json:"left_out" doc:"one bit a table row, lowest bit first: 1 for a row that is not drawn"`
}

// Key tells what colours or shapes stand for: groups, or a gradient from Low to
// High.
type Key struct {
	Column   string    `json:"column"`
	Name     string    `json:"name"`
	Unit     string    `json:"unit,omitempty"`
	Groups   []Group   `json:"groups,omitempty"`
	Gradient *Gradient `json:"gradient,omitempty"`
}

// Group is an entry of a key. Its colour or shape belongs to the group, whatever
// else is drawn.
type Group struct {
	Name  string `json:"name"`
	Light string `json:"light,omitempty"`
	Dark  string `json:"dark,omitempty"`
	Shape string `json:"shape,omitempty"`
	Count int    `json:"count"`
}

// Gradient is a key of numbers.
type Gradient struct {
	Low   float64      `json:"low"`
	High  float64      `json:"high"`
	Light []string     `json:"light"`
	Dark  []string     `json:"dark"`
	Ticks []scale.Tick `json:"ticks"`
}

// Sizes is the key of mark sizes: the area of a mark is its value.
type Sizes struct {
	Column  string       `json:"column"`
	Name    string       `json:"name"`
	Unit    string       `json:"unit,omitempty"`
	Samples []SizeSample `json:"samples"`
}

// SizeSample is a round value with its radius.
type SizeSample struct {
	Label  string  `json:"label"`
	Radius float64 `json:"radius"`
}

// Shapes lists the shapes in the order that groups take them.
var Shapes = []string{"circle", "square", "triangle", "diamond", "cross", "ring", "bar", "down"}

// Fit is a fitted line ready to be painted, or the reason why there is none.
type Fit struct {
	Kind    chart.FitKind `json:"kind"`
	Name    string        `json:"name" doc:"the group, or all rows"`
	Group   int           `json:"group" doc:"of the column in each; -1 for all rows"`
	Light   string        `json:"light"`
	Dark    string        `json:"dark"`
	Dashed  bool          `json:"dashed"`
	Index   int           `json:"index" doc:"which fit of the sentence this is"`
	X       Array         `json:"x"`
	Y       Array         `json:"y"`
	Low     Array         `json:"low"`
	High    Array         `json:"high"`
	Band    string        `json:"band,omitempty" doc:"95 % confidence band"`
	Facts   []Fact        `json:"facts" doc:"for the card over the line"`
	Problem string        `json:"problem,omitempty"`

	Model *FittedLine `json:"-"` // nil where there is a problem
}

// Fact is a line of a card.
type Fact struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// Rows says how many rows are drawn and why the others are not.
type Rows struct {
	Total   int      `json:"total"`
	Drawn   int      `json:"drawn"`
	LeftOut []Reason `json:"left_out"`
	Outside int      `json:"outside" doc:"drawn rows that lie outside the limits that were set"`
}

// Reason is why some rows are left out.
type Reason struct {
	Reason string `json:"reason"`
	Count  int    `json:"count"`
}

// Card is what hovering shows: the exact values of each dot, in the order of the
// dots, for figures of at most MaxCardDots dots. For larger ones the values are
// asked for by row.
type Card struct {
	Heading string       `json:"heading,omitempty" doc:"the column whose value heads the card"`
	Columns []CardColumn `json:"columns"`
}

// MaxCardDots is the largest figure that carries the values of its cards.
const MaxCardDots = 20_000

// CardColumn is one line of the card.
type CardColumn struct {
	Column  string   `json:"column"`
	Name    string   `json:"name"`
	Unit    string   `json:"unit,omitempty"`
	Kind    string   `json:"kind"`
	Grain   string   `json:"grain,omitempty"`
	Levels  []string `json:"levels,omitempty"`
	Numbers Array    `json:"numbers"`
	Codes   Array    `json:"codes"`
}

// Relation holds the models behind a figure, in drawn space.
type Relation struct {
	Line     *FittedLine // of all drawn rows; nil where x or y has no numbers
	Problem  string      // why Line is nil
	Grouping string      // the column whose groups are compared; "" for none
	Levels   []string
	Compared *confound.Grouped
	Means    *GroupMeans // where groups stand along x and numbers along y
}

// GroupMeans compares the groups along x on the numbers along y. Means are NaN for
// groups without rows.
type GroupMeans struct {
	Levels     []string
	Means      []float64 // in the data's units, whatever the scale
	EtaSquared float64   // the share of the spread of y between the groups
	N          int
}
