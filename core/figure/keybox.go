package figure

import (
	"math"

	"copperlark/core/chart"
	"copperlark/core/primitive"
)

// The measures of keys that stand inside a chart, in pixels.
const (
	KeyInsideSize = 12.5 // of its words
	KeyInsideRow  = 20.0
	keyInsideMark = 22.0 // room of a swatch, and of the line before it 31 more
	keyInsideLine = 31.0
	keyInsideEdge = 8.0 // around it, and from the edges of the panel
	// SignWidth is how long the sign of a band is.
	SignWidth     = 22.0
	mostKeyInside = 0.4 // of the panel's width and height, at most
)

// keysInside finds the corner of the chart in which nothing is drawn and the keys have room. Where
// there is none they stand below the chart, and that is said.
func (b *Drawn) keysInside() {
	f := b.figure
	if f.Manner.Key != chart.KeyInside || b.Bare || len(f.Keys) == 0 {
		if f.Manner.Key == chart.KeyInside {
			f.Manner.Key = ""
		}
		return
	}
	f.Manner.Key = ""
	if len(b.parts) != 1 {
		f.Cautions = append(f.Cautions, "The key stands below the chart: with several panels none of them has room for it.")
		return
	}
	width, height := b.keyRoom()
	panel := f.Panels[0].Box
	if width > mostKeyInside*panel.Width || height > mostKeyInside*panel.Height+KeyInsideRow {
		f.Cautions = append(f.Cautions, "The key stands below the chart: it is too large to stand inside.")
		return
	}
	right, bottom := panel.Left+panel.Width-width-keyInsideEdge, panel.Top+panel.Height-height-keyInsideEdge
	for _, corner := range []Box{{right, panel.Top + keyInsideEdge, width, height},
		{panel.Left + keyInsideEdge, panel.Top + keyInsideEdge, width, height}, {right, bottom, width, height},
		{panel.Left + keyInsideEdge, bottom, width, height}} {
		if b.free(corner) {
			corner = Box{round(corner.Left), round(corner.Top), round(corner.Width), round(corner.Height)}
			f.Manner.Key, f.Manner.Inside = chart.KeyInside, &corner
			return
		}
	}
	f.Cautions = append(f.Cautions, "The key stands below the chart: in each corner there are marks, which it would cover.")
}

// keyRoom is how large the keys are, one under the other.
func (b *Drawn) keyRoom() (width, height float64) {
	letters := b.Document.Written(chart.KeyLetters)
	row := KeyInsideRow * letters.Size / KeyInsideSize
	measure := func(words string) float64 { return b.Metrics.Width(words, letters.Size, letters.Bold) }
	for i := range b.figure.Keys {
		k := &b.figure.Keys[i]
		width, height = max(width, measure(k.Title())), height+row
		for _, e := range k.Entries {
			if e.Count == 0 {
				continue
			}
			before := keyInsideMark
			if e.Line {
				before += keyInsideLine
			}
			width, height = max(width, before+measure(e.Name)), height+row
		}
		for _, s := range k.Signs {
			width, height = max(width, keyInsideMark+SignWidth+measure(s.Label)), height+row
		}
		for _, s := range k.Samples {
			width, height = max(width, keyInsideMark+2*s.Radius+measure(s.Label)), height+max(row, 2*s.Radius+2)
		}
		if k.Gradient != nil {
			width, height = max(width, shortGradient+gradientOverhang), height+2*row
		}
	}
	return width + 2*keyInsideEdge, height + keyInsideEdge
}

// Title is the name of a key with its unit.
func (k *Key) Title() string {
	name := k.Name
	if k.Unit != "" {
		name += ", " + k.Unit
	}
	if k.Samples != nil {
		name += " (area)"
	}
	return name
}

// free reports whether nothing is drawn in a box of the paper.
func (b *Drawn) free(box Box) bool {
	panel := b.figure.Panels[0].Box
	for i := range b.figure.Layers {
		l := &b.figure.Layers[i]
		if l.Panel != 0 {
			continue
		}
		x := func(a *primitive.Array, j int) float64 { return panel.Left + a.At(j)*panel.Width }
		y := func(a *primitive.Array, j int) float64 { return panel.Top + (1-a.At(j))*panel.Height }
		reach := max(l.Style.Largest, l.Style.Fixed, 2)
		hits := func(x0, y0, x1, y1 float64) bool {
			return max(x0, x1) >= box.Left-reach && min(x0, x1) <= box.Left+box.Width+reach && max(y0, y1) >= box.Top-reach &&
				min(y0, y1) <= box.Top+box.Height+reach
		}
		switch l.Kind {
		case primitive.Points:
			for j := range l.Count {
				if px, py := x(&l.X, j), y(&l.Y, j); hits(px, py, px, py) {
					return false
				}
			}
		case primitive.Texts:
			for j := range l.Count {
				px, py := x(&l.X, j), y(&l.Y, j)
				if l.DX.Len() > 0 {
					px, py = px+l.DX.At(j), py+l.DY.At(j)
				}
				wide := b.Metrics.Width(l.Words[j], l.Style.Size, l.Style.Bold)
				left := leftEnd(l.Style.Anchor, px, wide)
				if hits(left, py-l.Style.Size/2, left+wide, py+l.Style.Size/2) {
					return false
				}
			}
		case primitive.Rects, primitive.Segments:
			for j := range l.Count {
				if hits(x(&l.X, j), y(&l.Y, j), x(&l.X2, j), y(&l.Y2, j)) {
					return false
				}
			}
		default:
			if b.crosses(l, x, y, hits) {
				return false
			}
		}
	}
	return true
}

// leftEnd is where a line of text of a width begins that is anchored at a place.
func leftEnd(anchor string, at, width float64) float64 {
	switch anchor {
	case "middle":
		return at - width/2
	case "end":
		return at - width
	}
	return at
}

// crosses reports whether paths, areas or polygons come into a box: every few pixels along them are
// looked at, and what areas and polygons hold.
func (b *Drawn) crosses(l *primitive.Layer, x, y func(*primitive.Array, int) float64, hits func(x0, y0, x1, y1 float64) bool) bool {
	for i := range l.Count {
		from, to := l.Vertices(i)
		low, high, left, right := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
		for j := from; j < to; j++ {
			px, py := x(&l.X, j), y(&l.Y, j)
			low, high, left, right = min(low, py), max(high, py), min(left, px), max(right, px)
			if l.Kind == primitive.Areas && hits(px, py, px, y(&l.Y2, j)) {
				return true
			}
			if j == from || l.Kind == primitive.Polygons {
				continue
			}
			bx, by := x(&l.X, j-1), y(&l.Y, j-1)
			steps := int(min(max(math.Hypot(px-bx, py-by)/4, 1), 400))
			for s := range steps {
				share := float64(s) / float64(steps)
				if cx, cy := bx+(px-bx)*share, by+(py-by)*share; hits(cx, cy, cx, cy) {
					return true
				}
			}
		}
		if l.Kind == primitive.Polygons && hits(left, low, right, high) {
			return true
		}
	}
	return false
}

// keysAtEnds lets the names at the ends of lines be the key, where each group has one. Where not, the
// key stands below the chart, and that is said.
func (b *Drawn) keysAtEnds() {
	f := b.figure
	if f.Manner.Key != chart.KeyLineEnds {
		return
	}
	f.Manner.Key = ""
	if b.Bare {
		return
	}
	named := map[[2]int]bool{}
	for i := range f.Layers {
		l := &f.Layers[i]
		for j := 0; l.Kind == primitive.Texts && l.Along > 0 && j < l.Colour.Len(); j++ {
			named[[2]int{l.Keys.Colour - 1, int(l.Colour.At(j))}] = true
		}
	}
	for i := range f.Keys {
		if f.Keys[i].Signs != nil {
			continue
		}
		all := len(f.Keys[i].Entries) > 0
		for j, e := range f.Keys[i].Entries {
			all = all && (e.Count == 0 || named[[2]int{i, j}])
		}
		if !all {
			f.Cautions = append(f.Cautions, "The key stands below the chart: not all that it explains has its name at the end of a line.")
			return
		}
	}
	f.Manner.Key = chart.KeyOff
	for i := range f.Keys { // what no line's end can name stands below
		if f.Keys[i].Named = f.Keys[i].Signs == nil; !f.Keys[i].Named {
			f.Manner.Key = ""
		}
	}
}
