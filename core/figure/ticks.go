package figure

import (
	"cmp"
	"math"
	"slices"

	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/text"
)

// ticks chooses as many ticks as stand beside each other without touching.
func (b *Laid) ticks() {
	if b.Round() {
		for i := range b.scales {
			b.scales[i].Ticks = []scale.Tick{}
		}
		return
	}
	b.each("y", func(s *Scale, box Box) {
		s.TickCount = max(2, int(box.Height/54))
		_, columns := b.grid()
		s.Room = math.Floor(b.Width * mostNamed)
		if b.ownY() {
			s.Room = math.Floor(b.Width * mostNamed / float64(columns))
		}
		if s.Kind == scale.Groups {
			b.groupLabels(s, s.Room, box.Height)
		}
		b.wholeTicks(s, b.Y)
		s.Ticks = s.ticksOf(s.TickCount)
		for s.TickCount > 2 && s.Kind != scale.Groups && float64(len(s.Ticks))*b.letters.ticks.Line > box.Height {
			s.TickCount--
			s.Ticks = s.ticksOf(s.TickCount)
		}
		if s.Kind != scale.Groups {
			s.Ticks = thinned(s, func(tick scale.Tick) (float64, float64) {
				return s.Position(tick.Value) * box.Height, b.letters.ticks.Line / 2
			})
		}
	})
	b.each("x", func(s *Scale, box Box) {
		if s.Kind == scale.Groups {
			b.tiltLabels(s, box)
			s.TickCount = max(2, int(box.Width/78))
			s.Ticks = s.ticksOf(s.TickCount)
			return
		}
		perTick := 78.0
		if s.Kind == scale.Log {
			perTick = 62
		}
		if box.Width < 260 { // as many as stand there
			perTick = 40
		}
		b.wholeTicks(s, b.X)
		for s.TickCount = max(2, int(box.Width/perTick)); ; s.TickCount-- {
			s.Ticks = s.ticksOf(s.TickCount)
			if s.TickCount <= 2 || b.besideEachOther(s, box.Width) {
				break
			}
		}
		s.Ticks = thinned(s, func(tick scale.Tick) (float64, float64) {
			return s.Position(tick.Value) * box.Width, b.Metrics.Width(tick.Label, b.letters.ticks.Size, b.letters.ticks.Bold)/2 + 4
		})
		s.Room = box.Width
	})
}

// wholeTicks keeps ticks of whole numbers whole: a count of rows, a year, a number of
// frames has nothing between two of them.
func (b *Laid) wholeTicks(s *Scale, a *mark.Axis) {
	if s.Kind != scale.Linear || a.Said.Every != 0 || math.Abs(s.To-s.From) > 40 || !a.Whole() || s.Form == "percent" {
		return
	}
	if s.Every = 0; scale.Step(min(s.From, s.To), max(s.From, s.To), s.TickCount+2) < 1 {
		s.Every = 1
	}
}

// ticksOf gives the ticks of a scale, labels of groups as they are broken.
func (s *Scale) ticksOf(count int) []scale.Tick {
	ticks := s.Scale.Ticks(count)
	if len(s.Labels) > 0 {
		for i := range ticks {
			ticks[i].Label = s.Labels[int(ticks[i].Value)]
		}
	}
	if ticks == nil {
		ticks = []scale.Tick{}
	}
	return ticks
}

// thinned leaves out ticks whose labels would stand over those of others; zero stays.
func thinned(s *Scale, place func(scale.Tick) (middle, half float64)) []scale.Tick {
	kept := make([]scale.Tick, 0, len(s.Ticks))
	clear := func(tick scale.Tick) bool {
		middle, half := place(tick)
		for _, other := range kept {
			if at, room := place(other); math.Abs(at-middle) < half+room-0.5 {
				return false
			}
		}
		return true
	}
	for _, tick := range s.Ticks {
		if tick.Value == 0 {
			kept = append(kept, tick)
		}
	}
	for _, tick := range s.Ticks {
		if tick.Value != 0 && clear(tick) {
			kept = append(kept, tick)
		}
	}
	slices.SortFunc(kept, func(a, b scale.Tick) int { return cmp.Compare(a.Value, b.Value) })
	return kept
}

func (b *Laid) besideEachOther(s *Scale, width float64) bool {
	until := math.Inf(-1)
	ordered := slices.Clone(s.Ticks)
	slices.SortFunc(ordered, func(x, y scale.Tick) int {
		if s.Position(x.Value) < s.Position(y.Value) {
			return -1
		}
		return 1
	})
	for _, tick := range ordered {
		middle, half := s.Position(tick.Value)*width, b.Metrics.Width(tick.Label, b.letters.ticks.Size, b.letters.ticks.Bold)/2
		if middle-half < until {
			return false
		}
		until = middle + half + 8
	}
	return true
}

// mostLines is over how many lines the label of a group is broken.
const mostLines = 3

// groupLabels breaks the labels of groups along y that are wider than their room.
func (b *Laid) groupLabels(s *Scale, room, height float64) {
	slot := height / math.Max(math.Abs(s.To-s.From), 1)
	if s.Skip = 0; slot < b.letters.ticks.Line-1 { // every so many labels; the card names them all
		s.Skip = int(math.Ceil((b.letters.ticks.Line - 1) / slot))
	}
	lines := min(max(int(slot/b.letters.ticks.Line), 1), mostLines)
	s.Labels, s.Lines = b.broken(s.Levels, room, lines)
}

// broken breaks labels to a width; nil where none is wider. What still does not fit is cut
// with an ellipsis: the card has it whole.
func (b *Laid) broken(labels []string, room float64, lines int) (out []string, most int) {
	whole := true
	for _, label := range labels {
		broken, fits := text.Break(b.Metrics, label, b.letters.ticks.Size, room, lines)
		if !fits && lines == 1 { // names that begin alike are told apart by their ends
			broken = text.CutMiddle(b.Metrics, label, b.letters.ticks.Size, room)
		}
		whole = whole && broken == label
		out = append(out, broken)
		most = max(most, text.Lines(broken))
	}
	if whole {
		return nil, 0
	}
	return out, most
}

// mostNamed is the share of the picture that names of groups take at most, so that none pushes the marks aside.
const mostNamed = 0.25

// wideSlot is how wide the place of a group along x is, in pixels, where its name stands flat whatever its length.
const wideSlot = 64.0

// tiltLabels lets labels of groups along x stand flat, else breaks them, else tilts them.
func (b *Laid) tiltLabels(s *Scale, box Box) {
	n := math.Max(math.Abs(s.To-s.From), 1)
	slot := box.Width / n
	s.Labels, s.Lines, s.Tilt, s.Skip = nil, 0, 0, 0
	fits := true
	var out []string
	most := 0
	for _, label := range s.Levels {
		broken, whole := text.Break(b.Metrics, label, b.letters.ticks.Size, slot-8, max(mostLines, int(b.Height*0.22/b.letters.ticks.Line)))
		fits = fits && whole
		out, most = append(out, broken), max(most, text.Lines(broken))
	}
	s.Room = slot - 8
	if fits || slot >= wideSlot { // in wide places a few long names are cut, rather than all tilted
		if most > 1 || !fits {
			s.Labels, s.Lines = out, most
		}
		return
	}
	switch {
	case slot >= 2*b.letters.ticks.Line:
		s.Tilt = 30
	case slot >= 1.3*b.letters.ticks.Line:
		s.Tilt = 50
	default:
		s.Tilt = 90
		s.Skip = int(math.Ceil(b.letters.ticks.Line / slot)) // every so many labels; the card names them all
		if s.Skip < 2 {
			s.Skip = 0
		}
	}
	// A label reaches down and to the left: the first one as far as the paper goes.
	sin, cos := math.Sincos(s.Tilt * math.Pi / 180)
	rows, columns := b.grid()
	high, wide := b.Height*mostNamed/float64(rows), b.Width*mostNamed/float64(columns)
	s.Room = math.Floor(min((high-b.letters.ticks.Line*cos)/sin, (wide+slot/2)/max(cos, 0.01)))
	s.Labels, _ = b.broken(s.Levels, s.Room, 1)
}

// labelWidth is how wide the labels along y are, and labelHeight how high those along x.
func (b *Laid) labelWidth() (widest float64) {
	b.each("y", func(s *Scale, _ Box) {
		for i, tick := range s.Ticks {
			if s.Skip == 0 || i%s.Skip == 0 {
				widest = max(widest, text.Widest(b.Metrics, tick.Label, b.letters.ticks.Size))
			}
		}
	})
	return widest
}

func (b *Laid) labelHeight() (highest float64) {
	b.each("x", func(s *Scale, _ Box) {
		high := b.letters.ticks.Line * float64(max(s.Lines, 1))
		if s.Tilt > 0 {
			widest := 0.0
			for _, tick := range s.Ticks {
				widest = max(widest, b.Metrics.Width(tick.Label, b.letters.ticks.Size, b.letters.ticks.Bold))
			}
			high = widest*math.Sin(s.Tilt*math.Pi/180) + b.letters.ticks.Line*math.Cos(s.Tilt*math.Pi/180)
		}
		highest = max(highest, high)
	})
	return highest
}
