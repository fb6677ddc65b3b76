package figure

import (
	"copperlark/core/chart"
	"copperlark/core/primitive"
)

// shadedSample is about how many points are looked at for whether a layer is shaded.
const shadedSample = 50_000

// shade lets layers of many points tell by shade how many lie over each other, where they hide each
// other, and says so.
func (b *Drawn) shade() {
	if b.Document.Overlap == chart.OverlapOff || b.Bare {
		return
	}
	for i := range b.figure.Layers {
		l := &b.figure.Layers[i]
		if l.Kind != primitive.Points || !l.Rows || l.Count <= chart.ApartUpTo || b.figure.Panels[l.Panel].Edge != "" {
			continue
		}
		box := b.figure.Panels[l.Panel].Box
		if l.Shades(box.Width, box.Height, max(1, l.Count/shadedSample)) != nil {
			l.Style.Shaded, b.figure.Manner.Shaded = true, true
		}
	}
}
