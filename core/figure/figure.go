// Package figure turns a chart document and a table into a figure: plain data
// that holds everything needed to paint, hover, describe and export a chart,
// and nothing that needs the table again.
//
// A figure has scales, panels (boxes on the paper, each with a scale along x and one
// along y), layers of primitives in the panels, keys that explain colours, shapes and
// sizes, and texts. Positions are shares of an axis in drawn space: 0 at the axis's From,
// 1 at its To, so that a painter maps them with one multiplication whatever the scale.
// Arrays travel as typed buffers behind a JSON head (see Encode).
package figure

import (
	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/describe"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// Version is the version of the figure's format.
const Version = 2

// Figure is a chart ready to be painted.
type Figure struct {
	Version int               `json:"version"`
	Width   float64           `json:"width"`
	Height  float64           `json:"height"`
	Title   string            `json:"title,omitempty"`
	Note    string            `json:"note,omitempty"`
	Scales  []Scale           `json:"scales"`
	Panels  []Panel           `json:"panels"`
	Layers  []primitive.Layer `json:"layers" doc:"from what lies below to what lies on top"`
	Keys    []Key             `json:"keys"`
	Texts   []Text            `json:"texts"`
	Rows    Rows              `json:"rows"`
	Card    Card              `json:"card"`
	Manner  Manner            `json:"manner,omitzero"`
	Step    bool              `json:"step,omitempty" doc:"panels stand in one place, and one is seen at a time"`

	Elsewhere *Elsewhere `json:"elsewhere,omitempty" doc:"missing: the table is here, and all is of all its rows"`

	// Relation is what a reading speaks from; it and the fits are not sent.
	Relation  *Relation   `json:"-"`
	Cautions  []string    `json:"-"` // what a reader is told beside what the reading sees
	shown     []uint32    // the table rows whose values are seen, where no points are rows
	Fits      []*mark.Fit `json:"-"`
	published []int       // see Publish
}

// Manner is how what is about the marks looks.
type Manner struct {
	Grid   string `json:"grid,omitempty" enum:"off,halves" doc:"the lines behind the marks: none, or one between those of the ticks, too"`
	Lines  bool   `json:"lines,omitempty" doc:"axes have lines, with ticks"`
	Sketch bool   `json:"sketch,omitempty" doc:"the lines of axes stray as if they were drawn by hand"`
	Key    string `json:"key,omitempty" enum:"top,right,inside,off" doc:"where the keys stand; empty: below"`

	Text    float64      `json:"text,omitempty" doc:"how many times as large as usual words are; 0: as usual"`
	Inside  *Box         `json:"inside,omitempty" doc:"where the keys stand inside the chart"`
	Shaded  bool         `json:"shaded,omitempty" doc:"where dots lie over each other shade tells how many"`
	Letters []Lettered   `json:"letters,omitempty" doc:"kinds of words that are written otherwise than usual"`
	Stroke  *AxisStroke  `json:"stroke,omitempty" doc:"how the lines of axes look; none: as usual"`
	Guides  string       `json:"guides,omitempty" enum:"off" doc:"whether lines lead from the mark that is pointed at to the axes"`
	Bold    bool         `json:"bold,omitempty" doc:"the numbers along the axes are as heavy as titles"`
	Paper   *chart.Paper `json:"paper,omitempty" doc:"the size of paper that the chart has for itself, in pixels"`
}

// Lettered is how a kind of words is written.
type Lettered struct {
	Of   string  `json:"of"`
	Size float64 `json:"size" doc:"in pixels"`
	Bold bool    `json:"bold,omitempty"`
}

// AxisStroke is how the lines of axes look.
type AxisStroke struct {
	Light string    `json:"light,omitempty" doc:"empty: as usual"`
	Dark  string    `json:"dark,omitempty"`
	Width float64   `json:"width"`
	Dash  []float64 `json:"dash,omitempty"`
}

// Box is a rectangle in pixels.
type Box struct {
	Left   float64 `json:"left"`
	Top    float64 `json:"top"`
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
}

// Panel is one picture of a chart.
type Panel struct {
	Box    Box      `json:"box" doc:"where the axes span, in pixels from the top left"`
	X      int      `json:"x" doc:"which scale runs along the horizontal axis"`
	Y      int      `json:"y"`
	Titles []string `json:"titles,omitempty" doc:"the group, or the two groups, whose rows it shows"`
	Ticks  Sides    `json:"labels" doc:"which axes carry labels"`
	Rows   int      `json:"rows" doc:"how many rows it shows"`
	Edge   string   `json:"edge,omitempty" enum:"x,y" doc:"along which axis of the first panel it tells how rows are spread; empty for a picture"`
}

// Sides says which axes of a panel carry labels.
type Sides struct {
	X bool `json:"x"`
	Y bool `json:"y"`
}

// Scale is a scale with the ticks of the whole view, and what stands along it.
type Scale struct {
	Channel string `json:"channel" enum:"x,y"`
	scale.Scale
	Column    string       `json:"column"`
	Read      string       `json:"column_kind,omitempty" doc:"of the column itself, whatever it is read as"`
	Name      string       `json:"name" doc:"the readable name"`
	Unit      string       `json:"unit,omitempty"`
	Title     string       `json:"title" doc:"what stands along the axis"`
	TickCount int          `json:"tick_count"`
	Ticks     []scale.Tick `json:"ticks"`
	Labels    []string     `json:"labels,omitempty" doc:"of groups: the levels as they are broken into lines, where they are"`
	Lines     int          `json:"lines,omitempty" doc:"over how many lines labels are broken; 0 is one"`
	Tilt      float64      `json:"tilt,omitempty" doc:"at what slant labels stand, in degrees"`
	Skip      int          `json:"skip,omitempty" doc:"only every so many labels are written; 0: all"`
	Room      float64      `json:"room" doc:"how wide a label may be, in pixels"`
	Grain     string       `json:"grain,omitempty" doc:"of dates"`

	TimeStep table.TimeStep `json:"-"` // in which slopes of durations are told

	Exact map[string]string `json:"exact,omitempty" doc:"of numbers that are groups: the values of levels that are named with fewer digits"`
}

// The roles of texts.
const (
	SubtitleText = "subtitle"
	TitleText    = "title"
	AxisText     = "axis"
	PanelText    = "panel"
	PanelValue   = "value"
)

// Text is words on the paper at a fixed place.
type Text struct {
	Role   string  `json:"role" enum:"title,axis,panel,value"`
	Axis   string  `json:"axis,omitempty" enum:"x,y" doc:"the axis that it names"`
	Panel  int     `json:"panel" doc:"the panel that it belongs to; -1 for the whole chart"`
	X      float64 `json:"x" doc:"where it is anchored, in pixels"`
	Y      float64 `json:"y" doc:"its baseline"`
	Anchor string  `json:"anchor" enum:"start,middle,end"`
	Turn   float64 `json:"turn,omitempty" doc:"in degrees, clockwise"`
	Size   float64 `json:"size"`
	Bold   bool    `json:"bold,omitempty"`
	Serif  bool    `json:"serif,omitempty"`
	Text   string  `json:"text"`
}

// Key tells what colours, shapes or sizes stand for: entries of groups, a gradient from Low to
// High, or samples of sizes. One key may explain colour and shape together.
type Key struct {
	Channels []string     `json:"channels" doc:"colour, shape, size; also: what more is drawn; band, interval: what stands about it"`
	Column   string       `json:"column" doc:"empty: the columns along y"`
	Kind     string       `json:"kind,omitempty" doc:"of the column"`
	Name     string       `json:"name"`
	Unit     string       `json:"unit,omitempty"`
	Order    []int        `json:"order,omitempty" doc:"in which order its entries stand; none: as they are listed"`
	Entries  []Entry      `json:"entries,omitempty"`
	Gradient *Gradient    `json:"gradient,omitempty"`
	Samples  []SizeSample `json:"samples,omitempty"`
	Signs    []Sign       `json:"signs,omitempty" doc:"what stands about lines and statistics"`
	Says     string       `json:"says,omitempty" doc:"the word of the sentence that governs it, where its column does not tell"`
	Named    bool         `json:"named,omitempty" doc:"what it explains is named on the chart: it is not drawn"`

	Exact map[string]string `json:"exact,omitempty" doc:"of numbers that are groups: the values of entries that are named with fewer digits"`
}

// Entry is a group of a key. Its colour or shape belongs to the group, whatever
// else is drawn.
type Entry struct {
	Name  string `json:"name"`
	Light string `json:"light,omitempty"`
	Dark  string `json:"dark,omitempty"`
	Shape string `json:"shape,omitempty"`
	Count int    `json:"count"`
	Line  bool   `json:"line,omitempty" doc:"its line has a pattern"`

	Dash []float64 `json:"dash,omitempty" doc:"of its line: none is solid"`
	Rest bool      `json:"rest,omitempty" doc:"the groups of the column that have no colour of their own"`
}

// Gradient is a key of numbers.
type Gradient struct {
	Low   float64      `json:"low"`
	High  float64      `json:"high"`
	Light []string     `json:"light"`
	Dark  []string     `json:"dark"`
	Ticks []scale.Tick `json:"ticks"`

	Length float64 `json:"length" doc:"how long its picture is, in pixels: as long as its place allows"`

	scale        scale.Scale
	below, above bool // values lie beyond its ends
}

// SizeSample is a round value with its radius.
type SizeSample struct {
	Label  string  `json:"label"`
	Radius float64 `json:"radius"`
}

// Rows says how many rows are drawn and why the others are not.
type Rows struct {
	Total   int           `json:"total"`
	Drawn   int           `json:"drawn"`
	LeftOut []mark.Reason `json:"left_out"`
	Outside int           `json:"outside" doc:"drawn rows that lie outside the limits that were set"`
	// Unlabelled counts labels for which there was no room.
	Unlabelled int `json:"unlabelled,omitempty" doc:"labels that found no room"`
}

// Reason is why some rows are left out.
type Reason = mark.Reason

// Card is what hovering shows of a row: the exact values of each point, in the order of
// the points of the layers that are rows, for figures of at most MaxCardDots points. For
// larger ones the values are asked for by row.
type Card struct {
	Heading string       `json:"heading,omitempty" doc:"the column whose value heads the card"`
	Columns []CardColumn `json:"columns"`
}

// MaxCardDots is the largest figure that carries the values of its cards.
const MaxCardDots = 20_000

// CardColumn is one line of the card.
type CardColumn struct {
	Column  string          `json:"column"`
	Name    string          `json:"name"`
	Unit    string          `json:"unit,omitempty"`
	Form    string          `json:"form,omitempty" doc:"how its numbers are written, as of a scale"`
	Fixed   int             `json:"fixed,omitempty" doc:"of numbers: the least decimals that they are written with"`
	Kind    string          `json:"kind"`
	Grain   string          `json:"grain,omitempty"`
	Levels  []string        `json:"levels,omitempty"`
	Numbers primitive.Array `json:"numbers,omitzero"`
	Codes   primitive.Array `json:"codes,omitzero"`
}

// Pictures is how many panels show rows, and not their spread along an edge.
func (f *Figure) Pictures() (n int) {
	for _, p := range f.Panels {
		if p.Edge == "" {
			n++
		}
	}
	return n
}

// X is the scale along x of the first panel.
func (f *Figure) X() *Scale { return &f.Scales[f.Panels[0].X] }

// Y is the scale along y of the first panel.
func (f *Figure) Y() *Scale { return &f.Scales[f.Panels[0].Y] }

// Key gives the key of a channel; nil when there is none.
func (f *Figure) Key(channel string) *Key {
	for i := range f.Keys {
		for _, c := range f.Keys[i].Channels {
			if c == channel {
				return &f.Keys[i]
			}
		}
	}
	return nil
}

// Points lists the layers whose points are rows.
func (f *Figure) Points() (list []*primitive.Layer) {
	for i := range f.Layers {
		if f.Layers[i].Rows {
			list = append(list, &f.Layers[i])
		}
	}
	return list
}

// Relation holds the models behind a figure, in drawn space.
type Relation struct {
	TwoValues [2]string                      // of x, where it has no others: its values, as they are written
	Alike     func() *confound.Alike         // how alike rows are that belong together or follow each other; nil where nobody asks
	AlikeName func(a *confound.Alike) string // what its column is called; nothing for one that the chart's own table has not
	Line      *mark.FittedLine               // of all drawn rows; nil where x or y has no numbers
	Problem   string                         // why Line is nil
	Grouping  string                         // the column whose groups are compared; "" for none
	Levels    []string
	Compared  *confound.Grouped
	Means     *GroupMeans   // where groups stand along x and numbers along y
	Spread    *Spread       // of one column
	Each      []EachColumn  // of several columns along y
	Table     *Crossed      // of two columns of groups
	Counted   *Counted      // statistics of groups
	Notes     func() *Notes // of Line; made when a reading asks
	WorkedOut *WorkedOut    // of a function
	TakenOut  string        // the column that is taken out, in prose; "" for none
	Exact     Exact
}

// Exact is what is of all rows, where the chart's own are a sample of them.
type Exact struct{ Line, Groups, Means, Table, Counted bool }

// WorkedOut tells where the values of a function lie, in the data's units.
type WorkedOut struct {
	Formula         string
	From, To        float64
	Values, Without int // how many there are, and how many of x have none
	Low, LowAt      float64
	High, HighAt    float64
}

// GroupMeans compares the groups along x on the numbers along y. Means are NaN for
// groups without rows.
type GroupMeans struct {
	Levels []string
	Means  []float64 // in the data's units, whatever the scale
	N      int

	Differences describe.Differences
}

// EachColumn is one of several columns along y, with the line of its own rows, in drawn space; nil where there is none.
type EachColumn struct {
	Name, Unit string // in prose
	Line       *model.Line
}

// Spread describes one column.
type Spread struct {
	N                       int
	Mean, Median, Q1, Q3    float64
	Skew                    float64
	Low, High               float64
	Name, Unit              string
	Dates                   bool
	Lowest, Highest, Middle string // dates, written
}

// Crossed says how two columns of groups go together.
type Crossed struct {
	N        int
	V        float64 // Cramér's, bias-corrected; NaN where there is none
	Most     int
	MostX    string
	MostY    string
	MostRows int
}

// Counted says which group has the most and the least of a statistic.
type Counted struct {
	What              string
	Highest, Lowest   string
	HighText, LowText string
	Groups, N         int
}
