package colour

import "math"

// Palette is a set of colours for groups, one list for each theme.
type Palette struct {
	Name        string
	Light, Dark []string
}

// The papers that colours stand on.
const (
	PaperLight = "#ffffff"
	PaperDark  = "#172e2c"
)

// Hedgerow is our palette for groups. Against the paper each colour has a
// contrast of at least 3; the first five lie at least 10 apart, the first eight
// 8, all ten 6, as seen normally and with each colour-vision deficiency. A test
// holds it to that.
var Hedgerow = Palette{
	Name:  "Hedgerow",
	Light: []string{"#b4531a", "#1f7a6d", "#52054b", "#c5851c", "#1b4e7f", "#7966c3", "#633347", "#7a86e7", "#263079", "#af649d"},
	Dark:  []string{"#f9a96d", "#339a8a", "#b9c1fc", "#9058d4", "#e6690d", "#87f5e0", "#b495ce", "#fde65c", "#bb5e3f", "#76cbab"},
}

// Gradient is a palette for numbers, even in perceived lightness: position 0 is
// little, position 1 much. On paper more is darker; on the dark paper more is
// lighter, so that more always stands out more.
type Gradient struct {
	Name        string
	light, dark [2]Lab // ends, in OKLab
	bend        Lab    // how far the middle leaves the straight way between the ends
}

// Moss runs from a pale grey-green to deep verdigris ink.
var Moss = Gradient{
	Name:  "Moss",
	light: [2]Lab{{0.80, -0.045, 0.055}, {0.27, -0.035, -0.030}},
	dark:  [2]Lab{{0.52, -0.050, -0.020}, {0.93, -0.020, 0.090}},
	bend:  Lab{0, -0.045, -0.005},
}

// GradientSteps is how many colours a gradient is drawn with.
const GradientSteps = 255

// Colours gives the gradient in GradientSteps colours.
func (g Gradient) Colours(dark bool) []string {
	ends := g.light
	if dark {
		ends = g.dark
	}
	colours := make([]string, GradientSteps)
	for i := range colours {
		t := float64(i) / (GradientSteps - 1)
		arch := math.Sin(math.Pi * t)
		colours[i] = Lab{
			ends[0].L + t*(ends[1].L-ends[0].L),
			ends[0].A + t*(ends[1].A-ends[0].A) + arch*g.bend.A,
			ends[0].B + t*(ends[1].B-ends[0].B) + arch*g.bend.B,
		}.RGB().Hex()
	}
	return colours
}
