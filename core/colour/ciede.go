package colour

import "math"

// cieLab is a colour in CIE L*a*b* under D65.
type cieLab struct{ l, a, b float64 }

// inCIELab is a colour in CIE L*a*b*: from linear sRGB over XYZ with the white of D65 (IEC 61966-2-1, CIE 15).
func (c RGB) inCIELab() cieLab {
	f := func(t float64) float64 {
		if t > 216.0/24389 {
			return math.Cbrt(t)
		}
		return (24389.0/27*t + 16) / 116
	}
	x := f((0.4124564*c.R + 0.3575761*c.G + 0.1804375*c.B) / 0.95047)
	y := f(0.2126729*c.R + 0.7151522*c.G + 0.0721750*c.B)
	z := f((0.0193339*c.R + 0.1191920*c.G + 0.9503041*c.B) / 1.08883)
	return cieLab{116*y - 16, 500 * (x - y), 200 * (y - z)}
}

// Difference is the colour difference CIEDE2000 of two colours (CIE 142, as Sharma, Wu and Dalal write it, 2005): about 1 is
// the least that is seen side by side.
func Difference(a, b RGB) float64 { return ciede2000(a.inCIELab(), b.inCIELab()) }

func ciede2000(p, q cieLab) float64 {
	const degree = math.Pi / 180
	seventh := func(c float64) float64 { c7 := math.Pow(c, 7); return math.Sqrt(c7 / (c7 + math.Pow(25, 7))) }
	g := 0.5 * (1 - seventh((math.Hypot(p.a, p.b)+math.Hypot(q.a, q.b))/2))
	chroma := func(c cieLab) float64 { return math.Hypot(c.a*(1+g), c.b) }
	hue := func(c cieLab) float64 {
		h := math.Atan2(c.b, c.a*(1+g))
		if h < 0 {
			h += 2 * math.Pi
		}
		return h
	}
	c1, c2, h1, h2 := chroma(p), chroma(q), hue(p), hue(q)
	dh, mean := h2-h1, (h1+h2)/2
	switch {
	case c1*c2 == 0:
		dh, mean = 0, h1+h2
	case dh > math.Pi:
		dh -= 2 * math.Pi
	case dh < -math.Pi:
		dh += 2 * math.Pi
	}
	if c1*c2 != 0 && math.Abs(h1-h2) > math.Pi {
		if mean += math.Pi; h1+h2 >= 2*math.Pi {
			mean -= 2 * math.Pi
		}
	}
	l, c := (p.l+q.l)/2, (c1+c2)/2
	t := 1 - 0.17*math.Cos(mean-30*degree) + 0.24*math.Cos(2*mean) + 0.32*math.Cos(3*mean+6*degree) - 0.20*math.Cos(4*mean-63*degree)
	turn := 30 * degree * math.Exp(-math.Pow((mean/degree-275)/25, 2))
	fifty := (l - 50) * (l - 50)
	sl, sc, sh := 1+0.015*fifty/math.Sqrt(20+fifty), 1+0.045*c, 1+0.015*c*t
	dl, dc, dH := (q.l-p.l)/sl, (c2-c1)/sc, 2*math.Sqrt(c1*c2)*math.Sin(dh/2)/sh
	return math.Sqrt(dl*dl + dc*dc + dH*dH - 2*seventh(c)*math.Sin(2*turn)*dc*dH)
}
