package figure

import (
	"math"
	"slices"
	"sort"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/text"
)

// lineLabel is the name of a path on its way to a place, in pixels from the panel's
// upper left corner.
type lineLabel struct {
	layer, path int
	end         mark.End
	lines       []string
	x, y        float64 // where it stands: left end, middle
	width       float64
	atX, atY    float64 // the end of its path, in shares
	entry       int     // of the colour key; -1 for none
	fixed       bool    // a word that stands there already
}

// labels names paths at their ends. Where there are several panels the key does.
func (b *Drawn) labels() {
	placed := b.placed
	if len(b.parts) > 1 {
		return
	}
	box := b.figure.Panels[0].Box
	var list []*lineLabel
	for i, l := range placed {
		for path, end := range l.End {
			if end.Name == "" {
				continue
			}
			if label := b.lineLabel(i, path, &l.Layer, end, box); label != nil {
				list = append(list, label)
			}
		}
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].y < list[j].y }) // read from the top
	spread(slices.Concat(list, b.standing(placed, box)), box, b.letters.names.Line)
	for _, label := range list {
		b.addLabel(label, box)
	}
}

// standing are the words that marks have put into the panel, which names do not stand over.
func (b *Drawn) standing(placed []*mark.Placed, box Box) (list []*lineLabel) {
	for _, l := range placed {
		if l.Kind != primitive.Texts || l.Mark != chart.ReferenceLayer || l.Style.Anchor == "" {
			continue
		}
		for i := range l.Count {
			at := &lineLabel{
				fixed: true,
				lines: l.Words[i : i+1],
				y:     (1-l.Y.At(i))*box.Height + l.DY.At(i),
				width: b.Metrics.Width(l.Words[i], l.Style.Size, l.Style.Bold),
			}
			at.x = leftEnd(l.Style.Anchor, l.X.At(i)*box.Width+l.DX.At(i), at.width)
			list = append(list, at)
		}
	}
	return list
}

// lineLabel puts a name beyond the end of its path, or over its start, where it is seen.
func (b *Drawn) lineLabel(layer, path int, l *primitive.Layer, end mark.End, box Box) *lineLabel {
	from, to := l.Vertices(path)
	inside := func(i int) bool {
		x, y := l.X.At(i), l.Y.At(i)
		return x >= -1e-6 && x <= 1+1e-6 && y >= -1e-6 && y <= 1+1e-6
	}
	at := -1
	for i := from; i < to; i++ {
		if inside(i) {
			at = i
			if end.Start {
				break
			}
		}
	}
	if at < 0 {
		return nil
	}
	out := &lineLabel{layer: layer, path: path, end: end, lines: b.labelLines(end.Name), atX: l.X.At(at), atY: l.Y.At(at), entry: -1}
	for _, line := range out.lines {
		out.width = max(out.width, b.Metrics.Width(line, b.letters.names.Size, b.letters.names.Bold))
	}
	if l.Colour.Len() > path {
		out.entry = int(l.Colour.At(path))
	}
	px, py := out.atX*box.Width, (1-out.atY)*box.Height
	if !end.Start {
		out.x, out.y = px+lineLabelGap, py
		return out
	}
	side := -13.0 // on the side where the line does not go
	if next := min(at+12, to-1); next > at && l.Y.At(next) > out.atY || next == at && at+1 < to && l.Y.At(at+1) > out.atY {
		side = 14
	}
	if py+side < 8 || py+side > box.Height-8 {
		side = -side
	}
	out.x, out.y = px, py+side
	return out
}

// The papers that names stand on: they are darkened, or lightened, until they can be read.
const paperLight, paperDark = "#ffffff", "#172e2c"

// labelLines breaks the name of a line where it is long.
func (b *Laid) labelLines(name string) []string {
	return text.Wrap(b.Metrics, name, b.letters.names.Size, b.letters.names.Bold, min(maxLineLabel, b.Width*0.28), 4)
}

// apart is how far the middles of two labels stand apart.
func apart(a, b *lineLabel, line float64) float64 {
	return line * float64(len(a.lines)+len(b.lines)) / 2
}

// spread moves labels that would stand over each other apart, and keeps them on the paper.
func spread(list []*lineLabel, box Box, line float64) {
	sort.SliceStable(list, func(i, j int) bool { return list[i].y < list[j].y })
	over := func(a, b *lineLabel) bool {
		return a.x < b.x+b.width && b.x < a.x+a.width && math.Abs(a.y-b.y) < apart(a, b, line)-0.01
	}
	for round := 0; round < 40; round++ {
		moved := false
		for i := range list {
			for j := range i {
				if a, c := list[j], list[i]; over(a, c) {
					push := (apart(a, c, line) - math.Abs(c.y-a.y)) / 2
					if a.fixed || c.fixed {
						push *= 2
					}
					if c.y < a.y {
						push = -push
					}
					if !a.fixed {
						a.y -= push
					}
					if !c.fixed {
						c.y += push
					}
					moved = moved || !a.fixed || !c.fixed
				}
			}
		}
		for _, l := range list {
			if l.fixed {
				continue
			}
			half := line * float64(len(l.lines)-1) / 2
			l.y = min(max(l.y, half-4), box.Height+4-half)
		}
		if !moved {
			return
		}
	}
}

// addLabel adds a label as a text that follows its path.
func (b *Drawn) addLabel(label *lineLabel, box Box) {
	f := b.figure
	x := min(box.Left+label.x, f.Width-label.width-3)
	n := len(label.lines)
	us, vs, dx, dy, path := make([]float64, n), make([]float64, n), make([]float32, n), make([]float32, n), make([]uint32, n)
	for i := range n {
		us[i], vs[i], path[i] = label.atX, label.atY, uint32(label.path)
		dx[i] = float32(x - box.Left - label.atX*box.Width)
		dy[i] = float32(label.y - (1-label.atY)*box.Height + (float64(i)-float64(n-1)/2)*b.letters.names.Line)
	}
	l := primitive.Layer{
		Panel: 0,
		Mark:  f.Layers[label.layer].Mark,
		Kind:  primitive.Texts,
		Count: n,
		X:     primitive.Shares(us),
		Y:     primitive.Shares(vs),
		DX:    primitive.NewArray(dx),
		DY:    primitive.NewArray(dy),
		Start: primitive.NewArray(path),
		Words: label.lines,
		Along: label.layer + 1,
		Style: primitive.Style{
			Light:  colour.Readable(label.end.Light, paperLight),
			Dark:   colour.Readable(label.end.Dark, paperDark),
			Size:   b.letters.names.Size,
			Bold:   b.letters.names.Bold,
			Halo:   true,
			Anchor: "start",
			Above:  true,
		},
	}
	if label.end.Start {
		l.Style.Above = false
	}
	if label.entry >= 0 {
		l.Colour, l.Keys = primitive.NewArray(
			slices.Repeat([]uint8{uint8(label.entry)}, n),
		), primitive.Keys{
			Colour: f.Layers[label.layer].Keys.Colour,
		}
	}
	f.Layers = append(f.Layers, l)
}
