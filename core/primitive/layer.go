package primitive

import "slices"

// Kind is one of the few things that pictures are made of.
type Kind string

// The primitives: a closed list. A vertex of a path, an area or a polygon lies at X and Y
// (an area reaches from Y to Y2); Start holds where each begins among the vertices. A rect
// reaches from X, Y to X2, Y2, and a segment goes from the one to the other.
const (
	Points   Kind = "points"
	Paths    Kind = "paths"
	Areas    Kind = "areas"
	Rects    Kind = "rects"
	Polygons Kind = "polygons"
	Segments Kind = "segments"
	Texts    Kind = "texts"
)

// Kinds lists the primitives.
var Kinds = []Kind{Points, Paths, Areas, Rects, Polygons, Segments, Texts}

// Layer is many primitives of one kind in one panel. Arrays that say nothing are empty.
// Colour holds the entry of the colour key, or the step of its gradient; Radius is in
// 1/255 of the largest.
type Layer struct {
	Panel int    `json:"panel"`
	Mark  string `json:"mark" doc:"what drew it: dots, fit, bars, …"`
	Says  string `json:"says,omitempty" doc:"the word of the sentence that governs it: fit-kind:0, reference:1, label …"`
	Kind  Kind   `json:"primitive" enum:"points,paths,areas,rects,polygons,segments,texts"`
	Count int    `json:"count" doc:"how many primitives"`

	X       Array `json:"x,omitzero"`
	Y       Array `json:"y,omitzero"`
	X2      Array `json:"x2,omitzero"`
	Y2      Array `json:"y2,omitzero"`
	Start   Array `json:"start,omitzero" doc:"of paths, areas and polygons: the first vertex of each"`
	Colour  Array `json:"colour,omitzero"`
	Shape   Array `json:"shape,omitzero"`
	Radius  Array `json:"radius,omitzero"`
	DX      Array `json:"dx,omitzero" doc:"of texts, and of the second ends of segments: pixels to the right"`
	DY      Array `json:"dy,omitzero" doc:"of texts, and of the second ends of segments: pixels down"`
	Row     Array `json:"row,omitzero" doc:"of points that are rows: the table row of each; empty where left_out tells"`
	LeftOut Array `json:"left_out,omitzero" doc:"one bit a table row, lowest bit first: 1 for a row that is not drawn"`

	Who Array `json:"who,omitzero" doc:"of points that are rows: which of them are the same from one step to the next"`

	Keys  Keys     `json:"keys,omitzero"`
	Style Style    `json:"style"`
	Front []int    `json:"front,omitempty" doc:"entries of the colour key that are painted after the others, the last one on top"`
	Words []string `json:"words,omitempty" doc:"of texts: what stands there"`
	Along int      `json:"along,omitempty" doc:"of texts: 1 more than the layer whose paths they name at their ends; 0: none"`
	Rows  bool     `json:"rows,omitempty" doc:"each point is a row of the table, whose values its card shows"`
	First int      `json:"first,omitempty" doc:"of points that are rows: the place of the first one among the values of the figure's card"`
	Cards []Card   `json:"cards,omitempty" doc:"what hovering each primitive shows, where it is no row"`
}

// Keys says which key each channel of a layer is explained by: 1 more than its place in
// the figure's list; 0 is none.
type Keys struct {
	Colour int `json:"colour,omitempty"`
	Shape  int `json:"shape,omitempty"`
	Size   int `json:"size,omitempty"`
}

// Style is how the primitives of a layer look; colours that a key does not give.
type Style struct {
	Light   string    `json:"light,omitempty"`
	Dark    string    `json:"dark,omitempty"`
	Opacity float64   `json:"opacity,omitempty" doc:"of what is filled, and of lines where nothing is; 0 is 1"`
	Fill    bool      `json:"fill,omitempty" doc:"of rects and polygons: filled"`
	Width   float64   `json:"width,omitempty" doc:"of lines; 0: no line"`
	Dash    []float64 `json:"dash,omitempty"`
	Fixed   float64   `json:"fixed_radius,omitempty" doc:"of points where size says nothing"`
	Largest float64   `json:"largest_radius,omitempty"`
	Shape   string    `json:"shape,omitempty" doc:"of points whose shape no key gives; circle where nothing is said"`
	Outline bool      `json:"outline,omitempty" doc:"of points: a darker rim"`
	Shaded  bool      `json:"shaded,omitempty" doc:"of points: where more of them lie over each other than can be seen, shade tells how many"`
	Rim     *Rim      `json:"rim,omitempty" doc:"of points, and of rects and polygons that are filled: the line around them"`
	Cap     float64   `json:"cap,omitempty" doc:"of segments: half the width of the bars at their ends"`
	Size    float64   `json:"size,omitempty" doc:"of texts"`
	Bold    bool      `json:"bold,omitempty"`
	Halo    bool      `json:"halo,omitempty" doc:"of texts: paper around the letters"`
	Anchor  string    `json:"anchor,omitempty" enum:"start,middle,end" doc:"of texts; start where nothing is said"`
	Above   bool      `json:"above,omitempty" doc:"stands outside the panel too: not cut at its edge"`
}

// Rim is a line around something that is filled.
type Rim struct {
	Light string  `json:"light"`
	Dark  string  `json:"dark"`
	Width float64 `json:"width"`
}

// Order gives the primitives as they are painted, from what lies below to what lies on top: those
// of groups that lie in front last and, of points, big ones first, so that small ones stay on top.
// nil: as they stand.
func (l *Layer) Order() []int {
	sized := l.Kind == Points && l.Radius.Len() > 0
	if !sized && len(l.Front) == 0 {
		return nil
	}
	levels := make([]int, l.Count)
	most := 0
	for i := range levels {
		if sized {
			levels[i] = 255 - int(l.Radius.At(i))
		}
		if l.Colour.Len() > i {
			levels[i] += 256 * (1 + slices.Index(l.Front, int(l.Colour.At(i))))
		}
		most = max(most, levels[i])
	}
	starts := make([]int, most+2)
	for _, level := range levels {
		starts[level+1]++
	}
	for i := 1; i < len(starts); i++ {
		starts[i] += starts[i-1]
	}
	out := make([]int, l.Count)
	for i, level := range levels {
		out[starts[level]] = i
		starts[level]++
	}
	return out
}

// Card is what hovering shows of a primitive.
type Card struct {
	Heading string `json:"heading,omitempty"`
	Facts   []Fact `json:"facts"`
}

// Fact is a line of a card.
type Fact struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// Arrays lists the arrays of a layer.
func (l *Layer) Arrays() []*Array {
	return []*Array{&l.X, &l.Y, &l.X2, &l.Y2, &l.Start, &l.Colour, &l.Shape, &l.Radius, &l.DX, &l.DY, &l.Row, &l.LeftOut, &l.Who}
}

// Vertices gives where vertex runs begin and end: of path i from the first to before the
// second.
func (l *Layer) Vertices(i int) (from, to int) {
	from, to = int(l.Start.At(i)), l.X.Len()
	if i+1 < l.Start.Len() {
		to = int(l.Start.At(i + 1))
	}
	return from, to
}

// Shapes lists the shapes in the order that groups take them.
var Shapes = []string{"circle", "square", "triangle", "diamond", "cross", "ring", "bar", "down"}

// The inks of what no key colours: marks, and lines of all rows.
const (
	NeutralLight, NeutralDark = "#2f6d64", "#6fb9ad"
	PaperLight, PaperDark     = "#ffffff", "#172e2c"
	InkLight, InkDark         = "#16302e", "#e3efec"
)
