package draw

import (
	"copperlark/core/chart"
	"math"
	"strings"

	"copperlark/core/figure"
	"copperlark/core/primitive"
	"copperlark/core/scale"
)

// The measures that the painter in the browser has too.
const (
	tickSize = 12.0
	tickLine = 15.0 / tickSize // of the size, from one line to the next
	tickGap  = 8.0
	middle   = 0.35 // from the middle of a line of text down to its baseline, in sizes
)

// grid draws the lines of the ticks.
func (d *drawing) grid(panel int) {
	p := d.f.Panels[panel]
	x, y := &d.f.Scales[p.X], &d.f.Scales[p.Y]
	both := x.Kind == scale.Groups && y.Kind == scale.Groups
	d.pen.Open("grid")
	paint := Paint{Stroke: d.look.Line, Width: 1, StrokeOpacity: 1}
	across := func(share float64) {
		at := math.Round(frame{p.Box}.y(share)) + 0.5
		line := &Path{}
		line.Move(p.Box.Left, at)
		line.Line(p.Box.Left+p.Box.Width, at)
		d.pen.Path(line, paint)
	}
	up := func(share float64) {
		at := math.Round(frame{p.Box}.x(share)) + 0.5
		line := &Path{}
		line.Move(at, p.Box.Top)
		line.Line(at, p.Box.Top+p.Box.Height)
		d.pen.Path(line, paint)
	}
	if y.Kind != scale.Groups || both {
		for _, share := range gridLines(y, d.f.Manner.Grid) {
			across(share)
		}
	}
	if x.Kind != scale.Groups || both {
		for _, share := range gridLines(x, d.f.Manner.Grid) {
			up(share)
		}
	}
	if d.f.Manner.Lines {
		d.axisLines(p, x, y)
	}
	d.pen.Close()
}

// gridLines are where lines stand along a scale: at its ticks and, where that is said, halfway
// between them.
func gridLines(s *figure.Scale, grid string) (shares []float64) {
	if grid == chart.GridOff {
		return nil
	}
	for i, tick := range s.Ticks {
		at := s.Position(tick.Value)
		if i > 0 && grid == chart.GridHalves {
			shares = append(shares, (s.Position(s.Ticks[i-1].Value)+at)/2)
		}
		shares = append(shares, at)
	}
	return shares
}

// axisTick is how long the ticks of axes with lines are.
const axisTick = 5.0

// byHand draws a line along an axis that strays as if it were drawn by hand.
func byHand(p *Path, x, y, dx, dy float64) {
	turns := int(math.Hypot(dx, dy) / figure.TurnsEvery)
	for k := range turns + 1 {
		share, stray := float64(k)/float64(max(turns, 1)), figure.Stray(float64(k), dx)
		at := [2]float64{x + dx*share, y + dy*share}
		if dx == 0 {
			at[0] += stray
		} else {
			at[1] += stray
		}
		if k == 0 {
			p.Move(at[0], at[1])
		} else {
			p.Line(at[0], at[1])
		}
	}
}

// axisLines draws the lines of the axes of a panel, with a tick at each label.
func (d *drawing) axisLines(p figure.Panel, x, y *figure.Scale) {
	left, bottom := math.Round(p.Box.Left)-0.5, math.Round(p.Box.Top+p.Box.Height)+0.5
	line := &Path{}
	if d.f.Manner.Sketch {
		byHand(line, left, bottom+axisTick, 0, -(p.Box.Height + axisTick))
		byHand(line, left-axisTick, bottom, p.Box.Width+axisTick, 0)
	} else {
		line.Move(left, p.Box.Top)
		line.Line(left, bottom)
		line.Line(p.Box.Left+p.Box.Width, bottom)
	}
	for _, tick := range y.Ticks {
		at := math.Round(frame{p.Box}.y(y.Position(tick.Value))) + 0.5
		line.Move(left-axisTick, at)
		line.Line(left, at)
	}
	for _, tick := range x.Ticks {
		at := math.Round(frame{p.Box}.x(x.Position(tick.Value))) + 0.5
		line.Move(at, bottom)
		line.Line(at, bottom+axisTick)
	}
	paint := Paint{Stroke: d.look.Muted, Width: 1, StrokeOpacity: 1}
	if s := d.f.Manner.Stroke; s != nil {
		if paint.Width, paint.Dash = s.Width, s.Dash; s.Light != "" {
			paint.Stroke = d.shade(s.Light, s.Dark)
		}
	}
	d.pen.Path(line, paint)
}

// k is how many times as large as usual words are.
func (d *drawing) k() float64 { return d.f.Manner.TextScale() }

// tickLetters is how the labels of ticks are written.
func (d *drawing) tickLetters() (size float64, bold bool) {
	return d.f.Manner.LettersOf(chart.TicksLetters, tickSize, d.f.Manner.Bold)
}

func (d *drawing) tickSize() float64 {
	size, _ := d.tickLetters()
	return size
}

// ticks writes the labels of the ticks.
func (d *drawing) ticks(panel int) {
	p := d.f.Panels[panel]
	x, y := &d.f.Scales[p.X], &d.f.Scales[p.Y]
	if p.Ticks.Y {
		d.pen.Open("axis y")
		for i, tick := range y.Ticks {
			if y.Skip > 0 && i%y.Skip > 0 {
				continue
			}
			d.lines(tick.Label, Words{X: p.Box.Left - tickGap*d.k(), Y: frame{p.Box}.y(y.Position(tick.Value)), Anchor: "end"})
		}
		d.pen.Close()
	}
	if !p.Ticks.X {
		return
	}
	d.pen.Open("axis x")
	bottom := p.Box.Top + p.Box.Height + tickGap*d.k()
	for i, tick := range x.Ticks {
		at := frame{p.Box}.x(x.Position(tick.Value))
		if x.Tilt > 0 {
			if x.Skip == 0 || i%x.Skip == 0 {
				d.tilted(tick.Label, at+3, bottom+2, x.Tilt)
			}
			continue
		}
		d.lines(tick.Label, Words{X: at, Y: bottom + tickLine*d.tickSize()*float64(strings.Count(tick.Label, "\n")+1)/2, Anchor: "middle"})
	}
	d.pen.Close()
}

// tilted writes a label that ends below its tick.
func (d *drawing) tilted(label string, x, y, tilt float64) {
	turn := tilt * math.Pi / 180
	size, bold := d.tickLetters()
	down := size * 0.3
	d.pen.Text(
		Words{
			Text:   label,
			X:      x + down*math.Sin(turn),
			Y:      y + down*math.Cos(turn),
			Anchor: "end",
			Turn:   -tilt,
			Size:   size,
			Fill:   d.look.Muted,
			Bold:   bold,
		},
	)
}

// lines writes lines about a middle.
func (d *drawing) lines(label string, at Words) {
	list := strings.Split(label, "\n")
	size, bold := d.tickLetters()
	for i, text := range list {
		one := at
		one.Text, one.Size, one.Fill, one.Bold = text, size, d.look.Muted, bold
		one.Y += (float64(i)-float64(len(list)-1)/2)*tickLine*size + middle*size
		d.pen.Text(one)
	}
}

// labels writes the texts of the panels.
func (d *drawing) labels() {
	for i := range d.f.Layers {
		l := &d.f.Layers[i]
		if l.Kind != primitive.Texts {
			continue
		}
		box := d.f.Panels[l.Panel].Box
		d.pen.Open("label " + l.Mark)
		for k := range l.Count {
			u, v := l.X.At(k), l.Y.At(k)
			if u < -1e-6 || u > 1+1e-6 || v < -1e-6 || v > 1+1e-6 {
				continue
			}
			w := Words{
				Text:   l.Words[k],
				X:      frame{box}.x(u),
				Y:      frame{box}.y(v) + middle*l.Style.Size,
				Anchor: l.Style.Anchor,
				Size:   l.Style.Size,
				Bold:   l.Style.Bold,
				Fill:   d.shade(l.Style.Light, l.Style.Dark),
			}
			if l.DX.Len() > 0 {
				w.X += l.DX.At(k)
			}
			if l.DY.Len() > 0 {
				w.Y += l.DY.At(k)
			}
			if l.Style.Halo {
				w.Halo = d.look.Paper
			}
			d.pen.Text(w)
		}
		d.pen.Close()
	}
}

// texts writes the words around the panels.
func (d *drawing) texts() {
	for _, t := range d.f.Texts {
		fill := d.look.Ink
		if t.Role == figure.PanelValue || t.Role == figure.SubtitleText {
			fill = d.look.Muted
		}
		class := map[string]string{figure.TitleText: "title", figure.SubtitleText: "subtitle", figure.AxisText: "axis title",
			figure.PanelText: "panel title", figure.PanelValue: "panel value"}[t.Role]
		d.pen.Text(
			Words{
				Text:   t.Text,
				X:      t.X,
				Y:      t.Y,
				Anchor: t.Anchor,
				Turn:   t.Turn,
				Size:   t.Size,
				Bold:   t.Bold,
				Serif:  t.Serif,
				Fill:   fill,
				Class:  class,
			},
		)
	}
}
