package figure

import (
	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/text"
)

// titleLines and axisLines break titles to the paper.
func (b *Laid) titleLines() []string {
	return text.Wrap(b.Metrics, b.Document.Title, b.letters.title.Size, b.letters.title.Bold, (b.Width-2*edge)/serifWider, 3)
}

func (b *Laid) axisLines(axis string) []string {
	title := b.axisTitle(axis)
	if title == "" {
		return nil
	}
	room := b.Width - 2*edge
	if axis == "y" {
		room = b.Height - edge - b.underTitle()
	}
	return text.Wrap(b.Metrics, title, b.letters.axes.Size, b.letters.axes.Bold, room, 2)
}

// underTitle is where the room below the chart's title begins.
func (b *Laid) underTitle() float64 {
	under := edge
	if b.Document.Title != "" {
		under += b.letters.title.Line*float64(len(b.titleLines())) + 6
	}
	if b.Document.Subtitle != "" {
		under += b.letters.subtitle.Line * float64(len(b.subtitleLines()))
	}
	return under
}

func (b *Laid) subtitleLines() []string {
	return text.Wrap(b.Metrics, b.Document.Subtitle, b.letters.subtitle.Size, b.letters.subtitle.Bold, b.Width-2*edge, 2)
}

// axisTitle is what stands along an axis of all panels.
func (b *Laid) axisTitle(axis string) string {
	if b.Document.Scale(axis).Untitled || b.Round() {
		return ""
	}
	p := b.panels[0]
	title := b.scales[p.Y].Title
	if axis == "x" {
		title = b.scales[p.X].Title
	}
	if c := b.Table.Column(b.Document.TakeOut); c != nil {
		title += ", with " + c.Prose() + " taken out"
	}
	if said := b.Document.Interval(); said != nil && aggregated(b.Document.Along(axis).Of) {
		title += ", with its " + mark.IntervalName(said)
	}
	return title
}

// aggregated reports whether an interval stands about a statistic.
func aggregated(of chart.Aggregate) bool { return of == chart.Mean || of == chart.Median }

// titles places the words of the chart: its title, those of the axes and of the panels.
func (b *Laid) titles(m margins) {
	add := func(t Text) { b.texts = append(b.texts, t) }
	x, anchor := edge+2, "start"
	if b.Document.Centred {
		x, anchor = b.Width/2, "middle"
	}
	if b.Document.Subtitle != "" {
		lines := b.subtitleLines()
		for i, line := range lines {
			add(
				Text{
					Role:   SubtitleText,
					Panel:  -1,
					X:      x,
					Y:      b.underTitle() - 6 - b.letters.subtitle.Line*float64(len(lines)-1-i),
					Anchor: anchor,
					Size:   b.letters.subtitle.Size,
					Bold:   b.letters.subtitle.Bold,
					Text:   line,
				},
			)
		}
	}
	if b.Document.Title != "" {
		for i, line := range b.titleLines() {
			add(
				Text{
					Role:   TitleText,
					Panel:  -1,
					X:      x,
					Y:      edge + b.letters.title.Size - 2 + float64(i)*b.letters.title.Line,
					Anchor: anchor,
					Size:   b.letters.title.Size,
					Bold:   b.letters.title.Bold,
					Serif:  true,
					Text:   line,
				},
			)
		}
	}
	all := b.span()
	lines := b.axisLines("x")
	for i, line := range lines {
		width := b.Metrics.Width(line, b.letters.axes.Size, b.letters.axes.Bold)
		x := min(max(all.Left+all.Width/2, width/2+4), max(b.Width-width/2-4, width/2))
		add(
			Text{
				Role:   AxisText,
				Axis:   "x",
				Panel:  -1,
				X:      round(x),
				Y:      b.Height - 10 - b.letters.axes.Line*float64(len(lines)-1-i),
				Anchor: "middle",
				Size:   b.letters.axes.Size,
				Bold:   b.letters.axes.Bold,
				Text:   line,
			},
		)
	}
	for i, line := range b.axisLines("y") {
		width := b.Metrics.Width(line, b.letters.axes.Size, b.letters.axes.Bold)
		least := b.underTitle() + width/2
		y := min(max(all.Top+all.Height/2, least), max(b.Height-width/2-4, least))
		add(
			Text{
				Role:   AxisText,
				Axis:   "y",
				Panel:  -1,
				X:      edge + b.letters.axes.Size - 3 + float64(i)*b.letters.axes.Line,
				Y:      round(y),
				Anchor: "middle",
				Turn:   -90,
				Size:   b.letters.axes.Size,
				Bold:   b.letters.axes.Bold,
				Text:   line,
			},
		)
	}
	if len(b.parts) > 1 {
		b.panelTitles(add)
	}
}

// span is the rectangle that holds all panels.
func (b *Laid) span() Box {
	out := b.panels[0].Box
	right, bottom := out.Left+out.Width, out.Top+out.Height
	for _, p := range b.panels {
		if p.Edge != "" {
			continue
		}
		right, bottom = max(right, p.Box.Left+p.Box.Width), max(bottom, p.Box.Top+p.Box.Height)
	}
	return Box{out.Left, out.Top, right - out.Left, bottom - out.Top}
}

// panelTitles names each panel, and tells its slopes where a line is fitted in it.
func (b *Laid) panelTitles(add func(Text)) {
	for i, p := range b.panels {
		name := p.Titles[0]
		if len(p.Titles) > 1 {
			name += ", " + p.Titles[1]
		}
		slopes := b.panelSlopes(i)
		room := p.Box.Width - 4
		if width := b.Metrics.Width(slopes, b.letters.ticks.Size, false); slopes != "" &&
			serifWider*b.Metrics.Width(name, b.letters.panels.Size, b.letters.panels.Bold)+width+14 <= room {
			add(
				Text{
					Role:   PanelValue,
					Panel:  i,
					X:      p.Box.Left + p.Box.Width,
					Y:      p.Box.Top - 8,
					Anchor: "end",
					Size:   b.letters.ticks.Size,
					Text:   slopes,
				},
			)
		}
		lines := text.Wrap(b.Metrics, name, b.letters.panels.Size, b.letters.panels.Bold, room/serifWider, 1)
		if len(lines) > 0 {
			add(
				Text{
					Role:   PanelText,
					Panel:  i,
					X:      p.Box.Left,
					Y:      p.Box.Top - 8,
					Anchor: "start",
					Size:   b.letters.panels.Size,
					Bold:   b.letters.panels.Bold,
					Serif:  true,
					Text:   lines[0],
				},
			)
		}
	}
}

// panelSlopes tells the slopes of the straight fits of a panel: overall, and within groups.
func (b *Laid) panelSlopes(panel int) string {
	for _, fit := range b.fits {
		if fit.Panel == panel && fit.Group < 0 && fit.Model != nil && fit.Model.Straight {
			return "overall " + scale.Signed(fit.Model.Slope*b.slopeStep(), 2)
		}
	}
	return ""
}

// slopeStep is for how much of x the slope of a panel is told: a tenfold gain on a log
// axis, a year of dates, else one.
func (b *Laid) slopeStep() float64 {
	if b.X.Kind == scale.Date {
		return 365.25 * 86400
	}
	return 1
}
