package figure

import (
	"cmp"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/table"
	"copperlark/core/text"
)

const (
	maxPointLabel = 180.0 // how long
	labelGap      = 3.0   // between a label and its mark
	labelPad      = 2.0   // between labels
	triedLabels   = 2000  // of more rows the rest is counted as without room
	hiddenCell    = 6.0   // of the grid that tells how many dots a label would hide, in pixels
	farCost       = 3.0   // how many hidden dots a step away from the mark weighs
)

// labelRings is how far from its mark a label may stand, in pixels; beyond the first a line
// leads to it.
var labelRings = []float64{labelGap, 14, 28, 44}

// labelSides is where a label may stand about its mark, best first: which way it lies along x
// and y, and how much it is liked less.
var labelSides = []struct{ x, y, cost float64 }{
	{1, 0, 0},
	{-1, 0, 0.3},
	{0, -1, 0.4},
	{0, 1, 0.5},
	{1, -1, 0.2},
	{1, 1, 0.3},
	{-1, -1, 0.4},
	{-1, 1, 0.5},
}

// pointLabel is a row that has a label, in pixels of its panel.
type pointLabel struct {
	words    string
	x, y, r  float64 // its mark
	u, v     float64 // the same in shares
	box      rect    // where the label stands
	rank     int     // which of those that were asked for
	led      bool    // a line leads to it
	toX, toY float64 // where the line ends
}

type rect struct{ left, top, right, bottom float64 }

func (a rect) over(b rect) bool {
	return a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom
}

func (a rect) grown(by float64) rect {
	return rect{a.left - by, a.top - by, a.right + by, a.bottom + by}
}

// crossed reports whether a line goes through it.
func (a rect) crossed(x, y, x2, y2 float64) bool {
	const steps = 12
	for i := range steps + 1 {
		share := float64(i) / steps
		px, py := x+(x2-x)*share, y+(y2-y)*share
		if px > a.left && px < a.right && py > a.top && py < a.bottom {
			return true
		}
	}
	return false
}

// labelPoints writes the labels of rows beside their marks, where there is room.
func (b *Drawn) labelPoints() []chart.Problem {
	said := b.Document.Label
	if said == nil || b.Bare {
		return nil
	}
	with := b.Table.Column(said.With)
	asked := b.askedLabels(said)
	some := false
	for panel := range b.parts {
		var list []*pointLabel
		box := b.figure.Panels[panel].Box
		placing := newPlacing(box, b.letters.labels)
		for i := range b.figure.Layers {
			l := &b.figure.Layers[i]
			if l.Panel != panel {
				continue
			}
			if l.Kind == primitive.Texts {
				placing.avoidTexts(b, l, box)
			}
			if l.Kind != primitive.Points || !l.Rows {
				continue
			}
			some = true
			list = append(list, b.labelsOf(l, with, asked, box, placing)...)
		}
		slices.SortStableFunc(
			list,
			func(a, c *pointLabel) int { return cmp.Compare(a.rank, c.rank) },
		) // the highest find room before others
		placed := placing.place(b.Metrics, list)
		b.figure.Rows.Unlabelled += len(list) - len(placed)
		b.addPointLabels(panel, placed)
	}
	if !some && len(b.rows.rows) > 0 {
		return []chart.Problem{
			{Clause: "label", Message: "what is drawn shows no single rows", Advice: "say as dots, or take the labels out"},
		}
	}
	return nil
}

// askedLabels are the rows that are to have a label, each with its rank; nil for all.
func (b *Drawn) askedLabels(said *chart.Label) map[uint32]int {
	asked := map[uint32]int{}
	switch {
	case len(said.Rows) > 0:
		for i, row := range said.Rows {
			asked[uint32(row)-1] = i
		}
	case said.Top > 0:
		for i, row := range highest(b.rows.rows, b.Table.Column(said.By), said.Top, said.Lowest) {
			asked[row] = i
		}
	default:
		return nil
	}
	return asked
}

// highest are the rows with the highest or lowest values of a column.
func highest(rows []uint32, by *table.Column, n int, lowest bool) []uint32 {
	kept := slices.DeleteFunc(slices.Clone(rows), func(row uint32) bool { return by.Missing(int(row)) })
	order := by.Ordering(!lowest)
	slices.SortStableFunc(kept, func(a, c uint32) int { return order(int(a), int(c)) })
	kept = slices.Compact(kept)
	return kept[:min(n, len(kept))]
}

// labelsOf are the labels of a layer of rows; its marks are told to the placing.
func (b *Drawn) labelsOf(l *primitive.Layer, with *table.Column, asked map[uint32]int, box Box, placing *placing) (list []*pointLabel) {
	rows := b.parts[l.Panel].c.Rows
	for i := range l.Count {
		u, v := l.X.At(i), l.Y.At(i)
		if !(u >= 0 && u <= 1 && v >= 0 && v <= 1) {
			continue
		}
		x, y, r := u*box.Width, (1-v)*box.Height, l.Style.Fixed
		if l.Radius.Len() > 0 {
			r = l.Radius.At(i) / 255 * l.Style.Largest
		}
		placing.mark(x, y)
		row := rows[i]
		rank, wanted := asked[row]
		if asked != nil && !wanted || with.Missing(int(row)) {
			continue
		}
		if len(list) >= triedLabels {
			b.figure.Rows.Unlabelled++
			continue
		}
		list = append(list, &pointLabel{words: with.Value(int(row)), x: x, y: y, r: r, u: u, v: v, rank: rank})
	}
	return list
}

// placing is what stands on a panel already.
type placing struct {
	width, height float64
	columns       int
	dots          []int32
	taken         []rect
	lines         [][4]float64
	letters       chart.Lettered
}

func newPlacing(box Box, letters chart.Lettered) *placing {
	p := &placing{letters: letters, width: box.Width, height: box.Height, columns: int(box.Width/hiddenCell) + 1}
	p.dots = make([]int32, p.columns*(int(box.Height/hiddenCell)+1))
	return p
}

// mark counts a dot.
func (p *placing) mark(x, y float64) {
	p.dots[int(y/hiddenCell)*p.columns+int(x/hiddenCell)]++
}

// hidden is about how many dots lie under a rectangle.
func (p *placing) hidden(r rect) (count float64) {
	for y := int(max(r.top, 0) / hiddenCell); y <= int(min(r.bottom, p.height)/hiddenCell); y++ {
		for x := int(max(r.left, 0) / hiddenCell); x <= int(min(r.right, p.width)/hiddenCell); x++ {
			count += float64(p.dots[y*p.columns+x])
		}
	}
	return count
}

// avoidTexts keeps labels off other words of the panel.
func (p *placing) avoidTexts(b *Drawn, l *primitive.Layer, box Box) {
	for i, words := range l.Words {
		width := b.Metrics.Width(words, l.Style.Size, l.Style.Bold)
		x, y := l.X.At(i)*box.Width, (1-l.Y.At(i))*box.Height
		if l.DX.Len() > 0 {
			x += l.DX.At(i)
		}
		if l.DY.Len() > 0 {
			y += l.DY.At(i)
		}
		switch l.Style.Anchor {
		case "middle":
			x -= width / 2
		case "end":
			x -= width
		}
		p.taken = append(p.taken, rect{x, y - l.Style.Size/2, x + width, y + l.Style.Size/2})
	}
}

// place finds a place for labels, one after the other; those without room are left out.
func (p *placing) place(m *text.Metrics, list []*pointLabel) (placed []*pointLabel) {
	for _, l := range list {
		p.taken = append(p.taken, rect{l.x - l.r, l.y - l.r, l.x + l.r, l.y + l.r}) // no label stands on a labelled mark
	}
	for _, l := range list {
		if lines := text.Wrap(m, l.words, p.letters.Size, p.letters.Bold, min(maxPointLabel, p.width*0.5), 1); len(lines) > 0 {
			l.words = lines[0]
		}
		if p.best(l, m.Width(l.words, p.letters.Size, p.letters.Bold)) {
			p.taken = append(p.taken, l.box)
			if l.led {
				p.lines = append(p.lines, [4]float64{l.x, l.y, l.toX, l.toY})
			}
			placed = append(placed, l)
		}
	}
	return placed
}

// best puts a label where it hides least, near its mark.
func (p *placing) best(l *pointLabel, width float64) bool {
	least := math.Inf(1)
	for ring, away := range labelRings {
		if float64(ring)*farCost >= least {
			break
		}
		for _, side := range labelSides {
			box := l.beside(side.x, side.y, away, width, p.letters.Line)
			cost := float64(ring)*farCost + side.cost
			if cost >= least || !p.free(l, box, ring > 0) {
				continue
			}
			if cost += p.hidden(box); cost < least {
				least, l.box, l.led = cost, box, ring > 0
				l.toX, l.toY = min(max(l.x, box.left), box.right), min(max(l.y, box.top), box.bottom)
			}
		}
	}
	return !math.IsInf(least, 1)
}

// beside is where a label stands on a side of its mark.
func (l *pointLabel) beside(sideX, sideY, away, width, high float64) rect {
	distance := l.r + away
	if sideX != 0 && sideY != 0 {
		distance *= math.Sqrt2 / 2
	}
	x, y := l.x+sideX*distance-width/2+sideX*width/2, l.y+sideY*distance+sideY*high/2
	return rect{x, y - high/2, x + width, y + high/2}
}

// free reports whether a label may stand in a box.
func (p *placing) free(l *pointLabel, box rect, led bool) bool {
	if box.left < labelPad || box.right > p.width-labelPad || box.top < labelPad || box.bottom > p.height-labelPad {
		return false
	}
	own := rect{l.x - l.r, l.y - l.r, l.x + l.r, l.y + l.r}
	toX, toY := min(max(l.x, box.left), box.right), min(max(l.y, box.top), box.bottom)
	for _, taken := range p.taken {
		if taken == own {
			continue
		}
		if box.grown(labelPad).over(taken) || led && taken.crossed(l.x, l.y, toX, toY) {
			return false
		}
	}
	for _, line := range p.lines {
		if box.grown(labelPad).crossed(line[0], line[1], line[2], line[3]) {
			return false
		}
	}
	return true
}

// addPointLabels adds labels as texts, and the lines that lead to them.
func (b *Drawn) addPointLabels(panel int, placed []*pointLabel) {
	if len(placed) == 0 {
		return
	}
	ink := primitive.Style{Light: primitive.InkLight, Dark: primitive.InkDark}
	words := primitive.Layer{Panel: panel, Mark: LabelLayer, Says: "label", Kind: primitive.Texts, Count: len(placed), Style: ink}
	words.Style.Size, words.Style.Bold, words.Style.Halo, words.Style.Anchor = b.letters.labels.Size, b.letters.labels.Bold, true, "start"
	lines := primitive.Layer{Panel: panel, Mark: LabelLayer, Says: "label", Kind: primitive.Segments, Style: ink}
	lines.Style.Width, lines.Style.Opacity = 1, 0.55
	var us, vs, lu, lv []float64
	var dx, dy, lx, ly []float32
	for _, l := range placed {
		words.Words = append(words.Words, l.words)
		us, vs = append(us, l.u), append(vs, l.v)
		dx, dy = append(dx, float32(l.box.left-l.x)), append(dy, float32((l.box.top+l.box.bottom)/2-l.y))
		if l.led {
			lu, lv = append(lu, l.u), append(lv, l.v)
			lx, ly = append(lx, float32(l.toX-l.x)), append(ly, float32(l.toY-l.y))
		}
	}
	words.X, words.Y, words.DX, words.DY = primitive.Shares(us), primitive.Shares(vs), primitive.NewArray(dx), primitive.NewArray(dy)
	if lines.Count = len(lu); lines.Count > 0 {
		lines.X, lines.Y, lines.DX, lines.DY = primitive.Shares(lu), primitive.Shares(lv), primitive.NewArray(lx), primitive.NewArray(ly)
		lines.X2, lines.Y2 = lines.X, lines.Y
		b.figure.Layers = append(b.figure.Layers, lines)
	}
	b.figure.Layers = append(b.figure.Layers, words)
}

// LabelLayer is the mark of labels of rows.
const LabelLayer = "label"
