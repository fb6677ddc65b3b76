// Package colour holds our palettes and the measures that they must pass:
// contrast against the paper, and distance between the colours of groups as
// seen normally and with three kinds of colour-vision deficiency.
//
// Colours are sRGB, written #rrggbb. Distances are 100 times the Euclidean
// distance in OKLab (Ottosson 2020, "A perceptual color space for image
// processing").
package colour

import (
	"fmt"
	"math"
)

// RGB is a colour in linear light, each part from 0 to 1.
type RGB struct{ R, G, B float64 }

// Parse reads #rrggbb.
func Parse(hex string) (RGB, error) {
	var r, g, b int
	if len(hex) != 7 {
		return RGB{}, fmt.Errorf("%q is not a colour such as #1f7a6d", hex)
	}
	if _, err := fmt.Sscanf(hex, "#%02x%02x%02x", &r, &g, &b); err != nil {
		return RGB{}, fmt.Errorf("%q is not a colour such as #1f7a6d", hex)
	}
	return RGB{linear(r), linear(g), linear(b)}, nil
}

func linear(v int) float64 {
	c := float64(v) / 255
	if c <= 0.04045 {
		return c / 12.92
	}
	return math.Pow((c+0.055)/1.055, 2.4)
}

// Hex writes the colour as #rrggbb, each part clamped to what a screen shows.
func (c RGB) Hex() string {
	part := func(v float64) int {
		v = min(max(v, 0), 1)
		if v <= 0.0031308 {
			return int(math.Round(255 * 12.92 * v))
		}
		return int(math.Round(255 * (1.055*math.Pow(v, 1/2.4) - 0.055)))
	}
	return fmt.Sprintf("#%02x%02x%02x", part(c.R), part(c.G), part(c.B))
}

// Lab is a colour in OKLab.
type Lab struct{ L, A, B float64 }

// Lab gives the colour in OKLab.
func (c RGB) Lab() Lab {
	l := math.Cbrt(0.4122214708*c.R + 0.5363325363*c.G + 0.0514459929*c.B)
	m := math.Cbrt(0.2119034982*c.R + 0.6806995451*c.G + 0.1073969566*c.B)
	s := math.Cbrt(0.0883024619*c.R + 0.2817188376*c.G + 0.6299787005*c.B)
	return Lab{
		0.2104542553*l + 0.7936177850*m - 0.0040720468*s,
		1.9779984951*l - 2.4285922050*m + 0.4505937099*s,
		0.0259040371*l + 0.7827717662*m - 0.8086757660*s,
	}
}

// RGB gives the colour in linear light; parts can lie outside 0 to 1.
func (c Lab) RGB() RGB {
	l := c.L + 0.3963377774*c.A + 0.2158037573*c.B
	m := c.L - 0.1055613458*c.A - 0.0638541728*c.B
	s := c.L - 0.0894841775*c.A - 1.2914855480*c.B
	l, m, s = l*l*l, m*m*m, s*s*s
	return RGB{
		4.0767416621*l - 3.3077115913*m + 0.2309699292*s,
		-1.2684380046*l + 2.6097574011*m - 0.3413193965*s,
		-0.0041960863*l - 0.7034186147*m + 1.7076147010*s,
	}
}

// Distance is 100 times the distance of two colours in OKLab.
func Distance(a, b RGB) float64 {
	p, q := a.Lab(), b.Lab()
	return 100 * math.Sqrt((p.L-q.L)*(p.L-q.L)+(p.A-q.A)*(p.A-q.A)+(p.B-q.B)*(p.B-q.B))
}

// Contrast is the contrast ratio of WCAG 2.2, from 1 to 21.
func Contrast(a, b RGB) float64 {
	luminance := func(c RGB) float64 { return 0.2126*c.R + 0.7152*c.G + 0.0722*c.B }
	high, low := luminance(a), luminance(b)
	if high < low {
		high, low = low, high
	}
	return (high + 0.05) / (low + 0.05)
}

// readableContrast is what words need against their paper (WCAG 2.2, 1.4.3).
const readableContrast = 4.5

// Readable moves a colour's lightness away from the paper's, by small steps, until words in
// it can be read there.
func Readable(hex, paper string) string {
	c, err := Parse(hex)
	if err != nil {
		return hex
	}
	on, err := Parse(paper)
	if err != nil {
		return hex
	}
	lab, step := c.Lab(), -0.01
	if on.Lab().L < 0.5 {
		step = 0.01
	}
	for Contrast(c, on) < readableContrast && lab.L > 0 && lab.L < 1 {
		lab.L += step
		c, _ = Parse(lab.RGB().Hex())
	}
	return c.Hex()
}

// Vision is a way of seeing colours.
type Vision string

// The ways of seeing that palettes are checked under.
const (
	Normal       Vision = "normal"
	Protanopia   Vision = "protanopia"
	Deuteranopia Vision = "deuteranopia"
	Tritanopia   Vision = "tritanopia"
)

// Visions lists them all.
var Visions = []Vision{Normal, Protanopia, Deuteranopia, Tritanopia}

// machado are the matrices at severity 1 of Machado, Oliveira and Fernandes
// 2009, "A physiologically-based model for simulation of color vision
// deficiency", IEEE Transactions on Visualization and Computer Graphics 15(6),
// applied to linear light.
var machado = map[Vision][9]float64{
	Protanopia:   {0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998},
	Deuteranopia: {0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.011820, 0.042940, 0.968881},
	Tritanopia:   {1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.303900},
}

// Seen gives how a colour looks to somebody with the given vision.
func (c RGB) Seen(vision Vision) RGB {
	m, ok := machado[vision]
	if !ok {
		return c
	}
	clamp := func(v float64) float64 { return min(max(v, 0), 1) }
	return RGB{
		clamp(m[0]*c.R + m[1]*c.G + m[2]*c.B),
		clamp(m[3]*c.R + m[4]*c.G + m[5]*c.B),
		clamp(m[6]*c.R + m[7]*c.G + m[8]*c.B),
	}
}

// Apart is the smallest difference (CIEDE2000) between any two of the colours under any
// vision.
func Apart(colours []RGB) float64 {
	smallest := math.Inf(1)
	for _, vision := range Visions {
		for i, a := range colours {
			for _, b := range colours[:i] {
				smallest = min(smallest, Difference(a.Seen(vision), b.Seen(vision)))
			}
		}
	}
	return smallest
}

// Grey is a colour as a printer without colours shows it: equally light.
func Grey(hex string) string {
	c, err := Parse(hex)
	if err != nil {
		return hex
	}
	y := 0.2126*c.R + 0.7152*c.G + 0.0722*c.B
	return RGB{y, y, y}.Hex()
}
