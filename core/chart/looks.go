package chart

import (
	"fmt"
	"math"
	"slices"

	"copperlark/core/words"
)

// Option is one way in which what is about the marks can look. What is not said is as usual.
type Option struct {
	Name string
	Help string
	Also string // words that a search finds it by, too

	Scale float64 // of sizes of words: how many times as large as usual
}

// The looks of a chart, what lies behind its marks, and where its keys stand.
var (
	Looks = []Option{
		{Name: LookRuled, Help: "lines along the axes, with ticks, and no grid", Also: "axis lines frame classic"},
		{Name: LookSketch, Help: "lines as if they were drawn by hand, for talks", Also: "hand-drawn handdrawn informal draft whiteboard"},
		{Name: LookInk, Help: "greys, and a shape for each group: for printers without colours", Also: "black and white monochrome print printer colourblind"},
	}
	Grids = []Option{
		{Name: GridOff, Help: "no lines behind the marks", Also: "no gridlines clean"},
		{Name: GridHalves, Help: "a line between those of the ticks, too", Also: "minor gridlines"},
	}
	Texts = []Option{
		{Name: TextSmall, Help: "a sixth smaller than usual", Also: "font size", Scale: 0.85},
		{Name: TextLarge, Help: "a quarter larger than usual, for a slide", Also: "font size readable legible", Scale: 1.25},
		{Name: TextLarger, Help: "half as large again, for a poster", Also: "font size readable legible", Scale: 1.5},
	}
	Weights = []Option{
		{Name: WeightLight, Help: "titles and labels as light as numbers", Also: "font weight thin regular"},
		{Name: WeightBold, Help: "numbers along the axes as heavy as titles", Also: "font weight heavy strong"},
	}
	Overlaps = []Option{
		{
			Name: OverlapOff,
			Help: "dots that lie over each other are not shaded by how many there are",
			Also: "density shading saturation tone overplotting",
		},
	}
	Guides = []Option{
		{
			Name: GuidesOff,
			Help: "no lines lead from the mark that is pointed at to the axes",
			Also: "crosshair drop lines hover pointer",
		},
	}
	Keys = []Option{
		{Name: KeyTop, Help: "over the chart", Also: "legend above position"},
		{Name: KeyRight, Help: "beside the chart", Also: "legend side position"},
		{Name: KeyLineEnds, Help: "at the ends of lines, where each has its name", Also: "direct labels legend names"},
		{Name: KeyInside, Help: "inside the chart, where nothing is drawn", Also: "legend corner within position"},
		{Name: KeyOff, Help: "no key", Also: "legend hide remove"},
	}
)

// The names of looks, of grids and of places of keys.
const (
	LookRuled, LookInk       = "ruled", "ink"
	LookSketch               = "sketch"
	GridOff, GridHalves      = "off", "halves"
	KeyTop, KeyRight, KeyOff = "top", "right", "off"

	KeyInside, KeyLineEnds = "inside", "line ends"

	OverlapOff = "off"
	GuidesOff  = "off"

	WeightLight, WeightBold = "light", "bold"

	TextSmall, TextLarge, TextLarger = "small", "large", "larger"
)

// TextScale is how many times as large as usual the words of a chart are.
func (d *Document) TextScale() float64 {
	for _, o := range Texts {
		if o.Name == d.Text {
			return o.Scale
		}
	}
	return 1
}

// Paper is the size of the paper that a chart has for itself, in pixels or in millimetres.
type Paper struct {
	Width       float64 `json:"width"`
	Height      float64 `json:"height"`
	Millimetres bool    `json:"millimetres,omitempty"`
}

// pixelsPerMillimetre is that of the web and of print: 96 pixels an inch.
const pixelsPerMillimetre = 96 / 25.4

// Pixels is the paper in whole pixels.
func (p Paper) Pixels() Paper {
	if !p.Millimetres {
		return p
	}
	return Paper{Width: math.Round(p.Width * pixelsPerMillimetre), Height: math.Round(p.Height * pixelsPerMillimetre)}
}

// The smallest and the largest paper that can be said, in pixels.
const (
	LeastPaper = 160.0
	MostPaper  = 8000.0
)

// PaperMessage says of a paper how large it can be.
var PaperMessage = fmt.Sprintf(
	"a paper is from %v to %v pixels wide and high, which is %.0f to %.0f mm",
	LeastPaper,
	MostPaper,
	math.Ceil(LeastPaper/pixelsPerMillimetre),
	math.Floor(MostPaper/pixelsPerMillimetre),
)

func (c *checking) looks() {
	d := c.document
	for _, said := range []struct {
		clause, name string
		options      []Option
	}{{"look", d.Look, Looks}, {"grid", d.Grid, Grids}, {"key", d.Key, Keys}, {"text", d.Text, Texts}, {"weight", d.Weight, Weights},
		{"overlap", d.Overlap, Overlaps}, {"guides", d.Guides, Guides}} {
		if said.name == "" || slices.ContainsFunc(said.options, func(o Option) bool { return o.Name == said.name }) {
			continue
		}
		var names []string
		for _, o := range said.options {
			names = append(names, o.Name)
		}
		c.add(said.clause, "", fmt.Sprintf("there is no %s %s", said.clause, said.name), "say "+said.clause+" "+words.Or(names))
	}
	if d.Look == LookInk && d.Gradient.Said() && d.Gradient.Colours().TwoWays() {
		c.add("look", d.Colour, "in greys, colours that go two ways look the same on both sides", "take the middle out, or the look")
	}
	if d.Paper == nil {
		return
	}
	if p := d.Paper.Pixels(); !(min(p.Width, p.Height) >= LeastPaper && max(p.Width, p.Height) <= MostPaper) {
		c.add("paper", "", PaperMessage, "say paper 900 by 560, or paper 180 by 120 mm")
	}
}
