package colour

import (
	"fmt"
	"math"
)

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
// contrast of at least 3; all ten differ by at least 12 (CIEDE2000), as seen
// normally and with each colour-vision deficiency; and a group keeps its hue
// from paper to paper. A test holds it to that.
var Hedgerow = Palette{
	Name:  "Hedgerow",
	Light: []string{"#b4531a", "#1b7c6f", "#520047", "#c6851a", "#355679", "#7359cc", "#613d4b", "#7a86e7", "#212192", "#a7699c"},
	Dark:  []string{"#c86430", "#58aa93", "#9f5f83", "#db9d42", "#a2d0ff", "#a597ff", "#ffcddd", "#5e66de", "#8980b2", "#c0a1c0"},
}

// Gradient is a palette for numbers, even in perceived lightness. One that goes one way has
// little at position 0 and much at 1: on paper more is darker, on the dark paper more is
// lighter, so that more always stands out more. One that goes two ways is pale in its middle
// and stands out more towards both ends.
type Gradient struct {
	Name, Help  string
	light, dark []Lab // the ends, and between those of a gradient that goes two ways its middle
	bend        Lab   // how far the middle of one that goes one way leaves the straight way between the ends
}

// The gradients: Moss colours numbers unless another one is said, Watershed those about a middle.
var (
	Moss = Gradient{Name: "Moss", Help: "one way, from pale green to deep verdigris",
		light: []Lab{{0.66, -0.045, 0.055}, {0.27, -0.035, -0.030}},
		dark:  []Lab{{0.58, -0.050, -0.020}, {0.93, -0.020, 0.090}},
		bend:  Lab{0, -0.045, -0.005}}
	Heather = Gradient{Name: "Heather", Help: "one way, from pale pink to deep violet",
		light: []Lab{{0.66, 0.065, -0.015}, {0.27, 0.045, -0.085}},
		dark:  []Lab{{0.58, 0.060, -0.085}, {0.93, 0.030, 0.015}},
		bend:  Lab{0, 0.045, -0.035}}
	Kiln = Gradient{Name: "Kiln", Help: "one way, from pale clay to dark copper",
		light: []Lab{{0.66, 0.045, 0.065}, {0.27, 0.045, 0.030}},
		dark:  []Lab{{0.58, 0.085, 0.060}, {0.93, 0.000, 0.075}},
		bend:  Lab{0, 0.045, 0.030}}
	Watershed = Gradient{Name: "Watershed", Help: "two ways, verdigris for less and copper for more",
		light: []Lab{{0.36, -0.065, -0.025}, {0.75, 0, 0.005}, {0.36, 0.080, 0.062}},
		dark:  []Lab{{0.86, -0.095, 0.005}, {0.52, 0, 0}, {0.86, 0.055, 0.085}}}
	Dusk = Gradient{Name: "Dusk", Help: "two ways, blue for less and ochre for more",
		light: []Lab{{0.36, -0.020, -0.095}, {0.75, 0, 0}, {0.36, 0.035, 0.065}},
		dark:  []Lab{{0.86, -0.020, -0.070}, {0.52, 0, 0}, {0.86, 0.005, 0.110}}}
)

// Gradients lists them all.
var Gradients = []*Gradient{&Moss, &Heather, &Kiln, &Watershed, &Dusk}

// GradientNamed finds a gradient; nil when there is none.
func GradientNamed(name string) *Gradient {
	for _, g := range Gradients {
		if g.Name == name {
			return g
		}
	}
	return nil
}

// GradientSteps is how many colours a gradient is drawn with.
const GradientSteps = 255

// TwoWays reports whether it stands out towards both ends.
func (g *Gradient) TwoWays() bool { return len(g.light) == 3 }

// Colours gives the gradient in GradientSteps colours.
func (g *Gradient) Colours(dark bool) []string {
	through := g.light
	if dark {
		through = g.dark
	}
	colours := make([]string, GradientSteps)
	for i := range colours {
		t := float64(i) / (GradientSteps - 1) * float64(len(through)-1)
		at := min(int(t), len(through)-2)
		a, b, share := through[at], through[at+1], t-float64(at)
		arch := math.Sin(math.Pi * share)
		if g.TwoWays() {
			arch = 0
		}
		colours[i] = Lab{a.L + share*(b.L-a.L), a.A + share*(b.A-a.A) + arch*g.bend.A, a.B + share*(b.B-a.B) + arch*g.bend.B}.RGB().Hex()
	}
	return colours
}

// At is the colour of a place of the palette, on paper and on the dark paper; after the last one
// the first comes again.
func (p *Palette) At(i int) (light, dark string) {
	return p.Light[i%len(p.Light)], p.Dark[i%len(p.Dark)]
}

// OfGroups are the colours of the levels of a column, on paper and on the dark paper: its own
// colour, which is made lighter where it would not be seen on the dark paper, or that of its
// place in the palette.
func OfGroups(levels []string, own map[string]string) (light, dark []string) {
	return Hedgerow.OfGroups(levels, own)
}

// OnPapers is a colour that somebody chose as it stands on the light paper, which is as it was
// chosen, and on the dark one, where it is made as light as it must be to be seen.
func OnPapers(hex string) (light, dark string) { return hex, Readable(hex, PaperDark) }

// Own is a palette of colours that somebody chose, each made lighter for the dark paper where it
// would not be seen there.
func Own(hexes []string) *Palette {
	p := &Palette{Light: hexes}
	for _, hex := range hexes {
		_, dark := OnPapers(hex)
		p.Dark = append(p.Dark, dark)
	}
	return p
}

// Paired gives shades of several hues: for groups of two columns, of which the first gives the hue
// and the second how dark it is. The darker shade of each hue stands first. Against the paper each
// has a contrast of at least 3, and all of them differ by at least 6, as seen in any way.
var Paired = Palette{
	Name:  "Paired",
	Light: []string{"#702b06", "#ab6e54", "#166a58", "#32a48b", "#1a4687", "#4e7cc2", "#56355c", "#896191", "#67561a", "#aa9142"},
	Dark:  []string{"#b06546", "#f19f7d", "#3f8b78", "#87efd4", "#5f92dd", "#a8cbfe", "#9e65a9", "#cd9dd6", "#a79049", "#efd68b"},
}

// PairedHues and PairedDepths are how many groups the columns of paired colours have.
const PairedHues, PairedDepths = 5, 2

// PairedAt is the colour of a hue and a depth.
func PairedAt(hue, depth int) (light, dark string) { return Paired.At(PairedDepths*hue + depth) }

// OfGroups is OfGroups with this palette.
func (p *Palette) OfGroups(levels []string, own map[string]string) (light, dark []string) {
	light, dark = make([]string, len(levels)), make([]string, len(levels))
	for i, level := range levels {
		light[i], dark[i] = p.At(i)
		if hex := own[level]; hex != "" {
			light[i], dark[i] = OnPapers(hex)
		}
	}
	return light, dark
}

// The least contrast of a mark against its paper (WCAG 2.2, 1.4.11), and how far apart two colours
// must differ (CIEDE2000) to be told apart, as seen in any way.
const leastContrast, leastApart = 3.0, 7.0

// Hard says what is hard to see on paper, or to tell apart by anybody, among colours that somebody
// chose, each called by its name.
func Hard(names, hexes []string) (words []string) {
	paper, _ := Parse(PaperLight)
	for i, name := range names {
		c, err := Parse(hexes[i])
		if err != nil {
			continue
		}
		if Contrast(c, paper) < leastContrast {
			words = append(words, fmt.Sprintf("%s is hard to see on white paper", name))
		}
		for j, other := range names[:i] {
			o, err := Parse(hexes[j])
			if err == nil && Apart([]RGB{c, o}) < leastApart {
				words = append(words, fmt.Sprintf("%s and %s are hard to tell apart for some readers", other, name))
			}
		}
	}
	return words
}
