package png

import (
	"image/color"
	"math"
)

// largestStamp is the radius in pixels from where on circles and rings are drawn as paths.
const largestStamp = 24.0

// parts is in how many places between two pixels a stamp is kept for.
const parts = 4

// eighths is in how many parts of a pixel the radii of stamps are kept.
const eighths = 8

// stampKey is a ring between two radii, in eighths of a pixel, and where between the pixels it stands; hole 0 is a circle.
type stampKey struct{ radius, hole, x, y int }

// stamp is how much of each pixel a ring covers, from 0 to 255.
type stamp struct {
	side  int
	cover []uint8
}

// stampOf gives the stamp of a ring whose middle lies x, y of parts beyond a pixel's
// corner.
func (p *Pen) stampOf(key stampKey) *stamp {
	if known := p.stamps[key]; known != nil {
		return known
	}
	if p.stamps == nil {
		p.stamps = map[stampKey]*stamp{}
	}
	r, hole := float64(key.radius)/eighths, float64(key.hole)/eighths
	half := int(math.Ceil(r)) + 1
	s := &stamp{side: 2*half + 1}
	s.cover = make([]uint8, s.side*s.side)
	const samples = 8
	for y := range s.side {
		for x := range s.side {
			inside := 0
			for k := range samples * samples {
				dx := float64(x-half) + (float64(k%samples)+0.5)/samples - float64(key.x)/parts
				dy := float64(y-half) + (float64(k/samples)+0.5)/samples - float64(key.y)/parts
				if d := dx*dx + dy*dy; d <= r*r && d >= hole*hole {
					inside++
				}
			}
			s.cover[y*s.side+x] = uint8(min(255, inside*256/(samples*samples)))
		}
	}
	p.stamps[key] = s
	return s
}

// stamp blends a ring between two radii over what is there; all is in pixels of the picture.
func (p *Pen) stamp(x, y, r, hole float64, hex string, opacity float64) {
	px, py := math.Floor(x), math.Floor(y)
	s := p.stampOf(stampKey{int(math.Round(r * eighths)), int(math.Round(hole * eighths)), int((x - px) * parts), int((y - py) * parts)})
	half := s.side / 2
	c := colourOf(hex)
	alpha := uint32(math.Round(256 * min(max(opacity, 0), 1)))
	clip := p.clip()
	left, top := int(px)-half, int(py)-half
	for sy := max(0, clip.Min.Y-top); sy < min(s.side, clip.Max.Y-top); sy++ {
		for sx := max(0, clip.Min.X-left); sx < min(s.side, clip.Max.X-left); sx++ {
			a := uint32(s.cover[sy*s.side+sx]) * alpha >> 8
			if a == 0 {
				continue
			}
			over(p.img.Pix[p.img.PixOffset(left+sx, top+sy):], c, a)
		}
	}
}

// over blends a colour over a pixel, of whose colour counts as much as stays; a is from 0 to 255, and not 0.
func over(at []uint8, c color.NRGBA, a uint32) {
	at = at[:4:4]
	under := uint32(at[3]) * (255 - a) / 255
	all := a + under
	at[0] = uint8((uint32(c.R)*a + uint32(at[0])*under) / all)
	at[1] = uint8((uint32(c.G)*a + uint32(at[1])*under) / all)
	at[2] = uint8((uint32(c.B)*a + uint32(at[2])*under) / all)
	at[3] = uint8(all)
}
