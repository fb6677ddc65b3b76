package figure

import (
	"math"

	"copperlark/core/scale"
)

// The measures of a chart, in pixels.
const (
	tickSize      = 12.5
	axisTitleSize = 13.0
	lineLabelSize = 13.0
	edge          = 18.0 // free paper at the sides
	titleHeight   = 40.0
	lineLabelGap  = 7.0
	maxLineLabel  = 150.0
)

// layout spans the axes: room for the widest tick label at the left, for labels
// at line ends at the right, for the axis title below and a title above.
func (b *builder) layout() {
	f, m := b.figure, b.options.Metrics
	top, bottom, right := edge, 52.0, edge
	if f.Title != "" {
		top += titleHeight
	}
	height := f.Height - top - bottom
	f.Y.TickCount = max(2, int(height/54))
	f.Y.Ticks = f.Y.Scale.Ticks(f.Y.TickCount)
	widest := 0.0
	for _, tick := range f.Y.Ticks {
		widest = max(widest, m.Width(tick.Label, tickSize, false))
	}
	left := edge + axisTitleSize + 12 + min(widest, f.Width/4) + 10
	right = max(right, b.roomForLineLabels(f.Width-left))
	f.Plot = Box{left, top, max(f.Width-left-right, 50), max(height, 50)}
	perTick := 78.0
	if f.X.Kind == scale.Log {
		perTick = 66
	}
	f.X.TickCount = max(2, int(f.Plot.Width/perTick))
	f.X.Ticks = f.X.Scale.Ticks(f.X.TickCount)
}

// roomForLineLabels is how much must stay free at the right so that the label at
// the end of each group's line stands on the paper.
func (b *builder) roomForLineLabels(available float64) float64 {
	needed := 0.0
	for _, fit := range b.figure.Fits {
		n := fit.X.Len()
		if n == 0 || fit.Group < 0 {
			continue
		}
		end := math.Max(fit.X.At(0), fit.X.At(n-1))
		label := lineLabelGap + min(b.options.Metrics.Width(fit.Name, lineLabelSize, true), maxLineLabel) + 4
		// With r kept free, the line ends at end*(available - r): r must hold what the label overhangs.
		if end > 0 && end <= 1.001 {
			needed = max(needed, (label-(1-end)*available)/end)
		}
	}
	return needed
}
