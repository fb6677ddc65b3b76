package figure

import (
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/text"
)

// The measures of a chart, in pixels.
const (
	edge         = 16.0 // free paper at the sides
	tickGap      = 8.0  // between an axis and its labels
	panelGap     = 18.0
	lineLabelGap = 7.0
	maxLineLabel = 170.0
	leastPlot    = 24.0
	leastPanel   = 44.0
	serifWider   = 1.14 // than the font that is measured, at most
)

// margins is the room around the panels.
type margins struct{ left, top, right, bottom float64 }

// grid gives how many rows and columns of panels there are.
func (b *Computed) grid() (rows, columns int) {
	n := len(b.parts)
	if n <= 1 || b.step {
		return 1, 1
	}
	if len(b.Document.Panels.By) == 2 {
		last := b.parts[n-1].place
		return last[0] + 1, last[1] + 1
	}
	columns = b.Document.Panels.Columns
	if columns == 0 { // about as wide as high
		columns = int(math.Ceil(math.Sqrt(float64(n) * b.Width / b.Height * 0.75)))
	}
	columns = min(max(columns, 1), n)
	return (n + columns - 1) / columns, columns
}

// Laid is where everything of a chart stands on its paper.
type Laid struct {
	*Trained
	scales []Scale // with their ticks
	panels []Panel // with their boxes
	place  [][2]int
	texts  []Text
}

// Lay spans the panels: room for the labels of ticks, for labels at line ends at the
// right, for titles of axes, panels and chart. Labels decide how much room they need, and
// the room decides how many labels there are: it is solved in two rounds.
func Lay(t *Trained) (*Laid, []chart.Problem) {
	b := &Laid{Trained: t, scales: slices.Clone(t.scales), panels: slices.Clone(t.panels), texts: []Text{}}
	b.places()
	if b.Bare {
		b.layoutBare()
		return b, nil
	}
	m := margins{left: 60, top: edge, right: edge, bottom: 50}
	for range 3 {
		b.boxes(m)
		b.ticks()
		m = b.margins()
	}
	b.boxes(m)
	b.ticks()
	if problem := b.tooSmall(); problem != nil {
		return nil, []chart.Problem{*problem}
	}
	b.titles(m)
	return b, nil
}

// tooSmall refuses panels of which nothing would be seen.
func (b *Laid) tooSmall() *chart.Problem {
	box := b.panels[0].Box
	if len(b.parts) == 1 || box.Width >= leastPanel && box.Height >= leastPanel*0.8 {
		return nil
	}
	return &chart.Problem{
		Clause:  "panels",
		Message: fmt.Sprintf("%d panels are too small to be read on a paper of %.0f by %.0f pixels", len(b.parts), b.Width, b.Height),
		Advice:  "make the paper larger, divide by a column with fewer groups, or take rows of some of them",
	}
}

// places gives each panel its row and column: those of one column stand in reading order.
func (b *Laid) places() {
	_, columns := b.grid()
	b.place = make([][2]int, len(b.parts))
	for i, p := range b.parts {
		b.place[i] = p.place
		if !b.step && len(b.Document.Panels.By) != 2 { // steps all stand at the first place
			b.place[i] = [2]int{i / columns, i % columns}
		}
	}
}

func (b *Laid) layoutBare() {
	rows, columns := b.grid()
	gap := 3.0
	width := (b.Width - 8 - gap*float64(columns-1)) / float64(columns)
	height := (b.Height - 8 - gap*float64(rows-1)) / float64(rows)
	for i, place := range b.place {
		b.panels[i].Box = Box{4 + float64(place[1])*(width+gap), 4 + float64(place[0])*(height+gap), width, height}
	}
}

// boxes divides what the margins leave among the panels.
func (b *Laid) boxes(m margins) {
	rows, columns := b.grid()
	head, foot, between := 0.0, 0.0, panelGap
	if len(b.parts) > 1 {
		head = b.letters.panels.Line + 8
		foot = b.labelHeight() + 12 // every panel has labels below it
		if b.ownY() {
			between += b.labelWidth() + tickGap
		}
	}
	width := (b.Width - m.left - m.right - between*float64(columns-1)) / float64(columns)
	height := (b.Height-m.top-m.bottom-foot*float64(rows-1))/float64(rows) - head
	width, height = max(width, leastPlot), max(height, leastPlot)
	for i, place := range b.place {
		at := &b.panels[i]
		at.Box = Box{
			round(m.left + float64(place[1])*(width+between)),
			round(m.top + head + float64(place[0])*(height+head+foot)),
			round(width),
			round(height),
		}
		at.Ticks = Sides{X: !b.Round(), Y: !b.Round() && (place[1] == 0 || b.ownY())}
	}
	b.edgeBoxes()
}

func round(v float64) float64 { return math.Round(v*100) / 100 }

func (b *Laid) ownY() bool {
	return len(b.parts) > 1 && slices.Contains(b.Document.Panels.Own, "y")
}

// each visits every scale along an axis with the first panel that it belongs to.
func (b *Laid) each(axis string, visit func(*Scale, Box)) {
	seen := map[int]bool{}
	for _, p := range b.panels {
		if p.Edge != "" {
			continue
		}
		at := p.Y
		if axis == "x" {
			at = p.X
		}
		if !seen[at] {
			seen[at] = true
			visit(&b.scales[at], p.Box)
		}
	}
}

// margins gives the room that labels and titles need around the panels.
func (b *Laid) margins() margins {
	m := margins{left: edge, top: edge, right: edge}
	m.top = b.underTitle()
	if lines := b.axisLines("y"); len(lines) > 0 {
		m.left += b.letters.axes.Line*float64(len(lines)) + 4
	}
	m.left += b.labelWidth() + tickGap
	m.bottom = b.labelHeight() + tickGap + 10
	if lines := b.axisLines("x"); len(lines) > 0 {
		m.bottom += b.letters.axes.Line*float64(len(lines)) + 2
	}
	left, right := b.overhang()
	m.left = max(m.left, left)
	m.right = max(m.right, right, b.roomForLineLabels())
	above, beside := b.edgeRoom()
	m.top += above
	if m.right += beside; beside > 0 && m.right > edge+beside { // names at the ends of lines stand between the chart and the strip
		m.right += edgeGap
	}
	m.left, m.right = min(m.left, b.Width*0.6), min(m.right, b.Width*0.5)
	m.bottom = min(m.bottom, b.Height*0.6)
	return m
}

// overhang is how far labels along x reach beyond the panels at either side, with the
// free paper beside them.
func (b *Laid) overhang() (left, right float64) {
	b.each("x", func(s *Scale, box Box) {
		for i, tick := range s.Ticks {
			if s.Skip > 0 && i%s.Skip > 0 {
				continue
			}
			at, width := s.Position(tick.Value)*box.Width, text.Widest(b.Metrics, tick.Label, b.letters.ticks.Size)
			if s.Tilt > 0 {
				left = max(left, width*math.Cos(s.Tilt*math.Pi/180)-at+6)
				continue
			}
			left = max(left, width/2-at+6)
			right = max(right, width/2-(box.Width-at)+6)
		}
	})
	return left, right
}

// roomForLineLabels is how much must stay free at the right so that the label at
// the end of each group's line stands on the paper.
func (b *Laid) roomForLineLabels() float64 {
	if len(b.parts) > 1 {
		return 0
	}
	s, box := &b.scales[b.panels[0].X], b.panels[0].Box
	needed := 0.0
	for _, l := range b.parts[0].computed {
		for _, e := range l.Ends {
			end := 1.0
			if !math.IsInf(e.U, 1) {
				end = s.Share(e.U)
			}
			if end < 0 || end > 1.001 {
				continue
			}
			label := lineLabelGap + 4.0
			for _, line := range b.labelLines(e.Name) {
				label = max(label, lineLabelGap+4+b.Metrics.Width(line, b.letters.names.Size, b.letters.names.Bold))
			}
			needed = max(needed, label-(1-end)*box.Width)
		}
	}
	return needed
}
