package figure

import (
	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/text"
)

// titleLines and axisLines break titles to the paper.
func (b *Laid) titleLines() []string {
	return text.Wrap(b.Metrics, b.Document.Title, titleSize, true, (b.Width-2*edge)/serifWider, 3)
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
	return text.Wrap(b.Metrics, title, axisTitleSize, true, room, 2)
}

// underTitle is where the room below the chart's title begins.
func (b *Laid) underTitle() float64 {
	under := edge
	if b.Document.Title != "" {
		under += titleLine*float64(len(b.titleLines())) + 6
	}
	if b.Document.Subtitle != "" {
		under += subtitleLine * float64(len(b.subtitleLines()))
	}
	return under
}

func (b *Laid) subtitleLines() []string {
	return text.Wrap(b.Metrics, b.Document.Subtitle, subtitleSize, false, b.Width-2*edge, 2)
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
					Y:      b.underTitle() - 6 - subtitleLine*float64(len(lines)-1-i),
					Anchor: anchor,
					Size:   subtitleSize,
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
					Y:      edge + titleSize - 2 + float64(i)*titleLine,
					Anchor: anchor,
					Size:   titleSize,
					Bold:   true,
					Serif:  true,
					Text:   line,
				},
			)
		}
	}
	all := b.span()
	lines := b.axisLines("x")
	for i, line := range lines {
		width := b.Metrics.Width(line, axisTitleSize, true)
		x := min(max(all.Left+all.Width/2, width/2+4), max(b.Width-width/2-4, width/2))
		add(
			Text{
				Role:   AxisText,
				Axis:   "x",
				Panel:  -1,
				X:      round(x),
				Y:      b.Height - 10 - axisTitleLine*float64(len(lines)-1-i),
				Anchor: "middle",
				Size:   axisTitleSize,
				Bold:   true,
				Text:   line,
			},
		)
	}
	for i, line := range b.axisLines("y") {
		width := b.Metrics.Width(line, axisTitleSize, true)
		least := b.underTitle() + width/2
		y := min(max(all.Top+all.Height/2, least), max(b.Height-width/2-4, least))
		add(
			Text{
				Role:   AxisText,
				Axis:   "y",
				Panel:  -1,
				X:      edge + axisTitleSize - 3 + float64(i)*axisTitleLine,
				Y:      round(y),
				Anchor: "middle",
				Turn:   -90,
				Size:   axisTitleSize,
				Bold:   true,
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
		if width := b.Metrics.Width(slopes, tickSize, false); slopes != "" &&
			serifWider*b.Metrics.Width(name, panelTitle, true)+width+14 <= room {
			add(
				Text{
					Role:   PanelValue,
					Panel:  i,
					X:      p.Box.Left + p.Box.Width,
					Y:      p.Box.Top - 8,
					Anchor: "end",
					Size:   tickSize,
					Text:   slopes,
				},
			)
		}
		lines := text.Wrap(b.Metrics, name, panelTitle, true, room/serifWider, 1)
		if len(lines) > 0 {
			add(
				Text{
					Role:   PanelText,
					Panel:  i,
					X:      p.Box.Left,
					Y:      p.Box.Top - 8,
					Anchor: "start",
					Size:   panelTitle,
					Bold:   true,
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
