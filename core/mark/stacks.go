package mark

import (
	"context"
	"errors"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// stackedBars stand on each other, a part for each group of the colours; those below zero
// hang from it.
var stackedBars = &Mark{
	Name:    "stacked bars",
	Help:    "parts that stand on each other and make a sum",
	Also:    "stack columns composition total parts of a whole",
	Example: "plot count() against district\nas stacked bars\ncolour by keeper_school",
	Zero:    true,
	Takes:   []Channel{GroupColour},
	Suits:   func(x, y *Axis) bool { return false }, // bars beside each other are read more easily
	Check:   func(c *Case) []chart.Problem { return checkStack(c, "stacked bars") },
	Compute: computeStacks(false),
}

// shareBars are stacked bars of one length: each part is a share of its place.
var shareBars = &Mark{
	Name:    "share bars",
	Help:    "parts as shares of a whole, every bar of one length",
	Also:    "percent 100 % stacked proportion composition mosaic",
	Example: "plot count() against district\nas share bars\ncolour by keeper_school",
	Zero:    true,
	Takes:   []Channel{GroupColour},
	Shares:  true,
	Suits:   func(x, y *Axis) bool { return false },
	Check: func(c *Case) []chart.Problem {
		if problems := checkStack(c, "share bars"); problems != nil {
			return problems
		}
		if c.Document.Colour == "" {
			return problem("share bars need the parts of a whole", "say colour by …")
		}
		return nil
	},
	Compute: computeStacks(true),
}

func checkStack(c *Case, name string) []chart.Problem {
	if problems := bars.Check(c); problems != nil {
		return problems
	}
	value := c.Y
	if turned(c) {
		value = c.X
	}
	if value.Of != chart.Count && value.Of != chart.Sum {
		return problem(
			"means and medians do not add up to a whole: "+name+" need a count or a sum",
			"say plot count() against … or plot sum(…) against …, or draw bars beside each other",
		)
	}
	if len(value.More) > 0 {
		return problem(name+" show one statistic", "say as bars")
	}
	return nil
}

// stacked are the parts of the places with where each begins and ends.
type stacked struct {
	*places
	from, to []float64
	of       []float64 // what all parts of its place make together
}

func computeStacks(share bool) func(context.Context, *Case) (*Computed, error) {
	return func(ctx context.Context, c *Case) (*Computed, error) {
		found, err := gather(ctx, c)
		if err != nil {
			return nil, err
		}
		s := stack(found, share)
		out := &Computed{Exact: found.exact, Draw: func(p *Panel, sink *Sink) { s.draw(share, p, sink) }}
		if share {
			for _, at := range s.list {
				if at.value < 0 {
					return nil, errors.New("parts below zero are no shares of a whole: say as stacked bars")
				}
			}
		}
		across, values := None(), None().Of(0)
		for i, at := range s.list {
			across, values = across.Of(at.at-s.width/2, at.at+s.width/2), values.Of(s.from[i], s.to[i])
		}
		if share {
			values = values.Of(1)
		} else if far := 1.04 * values.High; !math.IsInf(far, 0) {
			values.High = far
		}
		out.X, out.Y = s.extents(across, values)
		return out, nil
	}
}

// stack puts the parts of each place on each other, the first group at the bottom.
func stack(found *places, share bool) *stacked {
	s := &stacked{
		places: found,
		from:   make([]float64, len(found.list)),
		to:     make([]float64, len(found.list)),
		of:     make([]float64, len(found.list)),
	}
	for begin := 0; begin < len(found.list); {
		end := begin
		for end < len(found.list) && found.list[end].at == found.list[begin].at {
			end++
		}
		total, up, down := 0.0, 0.0, 0.0
		for _, at := range found.list[begin:end] {
			total += at.value
		}
		for i := begin; i < end; i++ {
			v := found.list[i].value
			if share && total > 0 {
				v /= total
			}
			s.of[i] = total
			base := &up
			if v < 0 {
				base = &down
			}
			s.from[i], s.to[i] = *base, *base+v
			*base += v
		}
		if share && total > 0 && up != 0 { // rounding leaves no gap at the top
			s.to[end-1] = 1
		}
		begin = end
	}
	return s
}

func (s *stacked) draw(share bool, p *Panel, sink *Sink) {
	n := len(s.list)
	a, a2 := make([]float64, n), make([]float64, n)
	opacity := 0.82
	if share {
		opacity = 0.95 // words stand inside
	}
	l := primitive.Layer{
		Kind:   primitive.Rects,
		Count:  n,
		Keys:   s.keys(),
		Colour: s.colours(),
		Style:  primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true, Opacity: opacity},
	}
	for i, at := range s.list {
		a[i], a2[i] = at.at-barShare*s.width/2, at.at+barShare*s.width/2
		card := s.card(at)
		if s.of[i] > 0 && at.value >= 0 {
			card.Facts = append(
				card.Facts,
				primitive.Fact{Name: "of " + table.Prose(acrossText(s.across, at.at)), Value: partOf(at.value, s.of[i])},
			)
		}
		l.Cards = append(l.Cards, card)
	}
	s.put(p, &l, a, s.from, a2, s.to)
	sink.Add(Middle, l)
	if share {
		s.label(p, sink)
	}
}

// label writes shares into the parts that have room for them.
func (s *stacked) label(p *Panel, sink *Sink) {
	l := primitive.Layer{
		Kind:  primitive.Texts,
		Keys:  s.keys(),
		Style: primitive.Style{Light: "#ffffff", Dark: "#10211f", Size: barLabel, Bold: true, Anchor: "middle"},
	}
	var middles, ends []float64
	var entries []uint8
	long, wide := p.Height, barShare*p.Width*math.Abs(p.X.Share(s.width)-p.X.Share(0))
	if s.turned {
		long, wide = p.Width, barShare*p.Height*math.Abs(p.Y.Share(s.width)-p.Y.Share(0))
	}
	for i, at := range s.list {
		text := partOf(s.to[i]-s.from[i], 1)
		width := p.Metrics.Width(text, barLabel, true)
		along, across := barLabel+4, width+4
		if s.turned {
			along, across = across, along
		}
		if (s.to[i]-s.from[i])*long < along || wide < across {
			continue
		}
		middles = append(middles, at.at)
		ends = append(ends, (s.from[i]+s.to[i])/2)
		l.Words = append(l.Words, text)
		entries = append(entries, uint8(max(at.group, 0)))
	}
	l.Count = len(middles)
	if s.groups != nil {
		l.Colour = primitive.NewArray(slices.Clone(entries))
	}
	s.put(p, &l, middles, ends, nil, nil)
	sink.Add(Words, l)
}

// partOf writes a share in whole percent, or with a digit more where that would be none.
func partOf(part, whole float64) string {
	share := 100 * part / whole
	if share > 0 && share < 1-1e-9 { // what is 1 but for rounding is 1
		return "under 1 %"
	}
	return scale.Number(share, 0) + " %"
}
