package mark

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/text"
)

// sectors are shares of a whole round a circle, clockwise from the top in the order of the groups.
var sectors = &Mark{
	Name:    "sectors",
	Help:    "shares of a whole, round a circle",
	Also:    "pie donut circle round proportion percent parts",
	Example: "plot count() against keeper_school\nas sectors",
	Round:   true,
	Takes:   []Channel{GroupColour},
	Suits:   func(_, _ *Axis) bool { return false }, // never of itself: lengths are read more exactly
	Check:   checkSectors,
	Compute: computeSectors,
}

// mostSectors is how many shares of a circle are told apart.
const mostSectors = 8

func checkSectors(c *Case) []chart.Problem {
	if problems := checkStack(c, "sectors"); problems != nil {
		return problems
	}
	across := newPlaces(c).across
	switch {
	case !across.Grouped():
		return problem(
			"sectors are shares of groups, and "+across.Prose()+" holds numbers",
			"plot a count or a sum against a column of groups",
		)
	case len(c.Document.Marks()) > 1:
		return problem("sectors have no axes that other marks could share", "draw one of them alone")
	case c.Document.Colour != "" && c.Document.Colour != across.Column.Name:
		return problem("sectors are coloured by what they are shares of", "take the colour out, or say as share bars")
	case len(c.Document.References()) > 0:
		return problem("sectors have no axes that a line could stand on", "take the lines and bands out")
	}
	return nil
}

// The measures of sectors, in pixels.
const (
	sectorLabel = 12.5
	sectorLine  = 16.0 // from one label of a side to the next
	sectorGap   = 10.0 // from the circle to its labels
	sectorStep  = math.Pi / 90
	leastNamed  = 120.0 // the smallest panel whose sectors are named
)

// round is the sectors of a panel: from which share of the circle to which each goes.
type round struct {
	*places
	c        *Case
	from, to []float64
}

func computeSectors(ctx context.Context, c *Case) (*Computed, error) {
	found, err := gather(ctx, c)
	if err != nil {
		return nil, err
	}
	found.list = slices.DeleteFunc(found.list, func(at place) bool { return at.value == 0 })
	if n := len(found.list); n > mostSectors {
		return nil, fmt.Errorf(
			"a circle shows at most %d shares, and %s has %d groups here: say as bars, whose lengths are compared at once",
			mostSectors,
			found.across.Prose(),
			n,
		)
	}
	r, total := &round{places: found, c: c}, 0.0
	for _, at := range found.list {
		if at.value < 0 {
			return nil, errors.New("parts below zero are no shares of a whole: say as bars")
		}
		total += at.value
	}
	if !(total > 0) || math.IsInf(total, 0) {
		return nil, errors.New("the parts add up to nothing that could be shared: say as bars")
	}
	at := 0.0
	for _, one := range found.list {
		r.from, at = append(r.from, at), at+one.value/total
		r.to = append(r.to, at)
	}
	out := &Computed{Draw: r.draw}
	out.X, out.Y = found.extents(None().Of(0), None().Of(0, total))
	return out, nil
}

func (r *round) draw(p *Panel, sink *Sink) {
	names, widest := make([]string, len(r.list)), 0.0
	for i, at := range r.list {
		share := partOf(r.to[i]-r.from[i], 1)
		names[i] = text.CutMiddle(p.Metrics, r.name(at), sectorLabel, 0.28*p.Width) + "  " + share
		widest = max(widest, p.Metrics.Width(names[i], sectorLabel, true))
	}
	radius := 0.46 * min(p.Width, p.Height)
	named := min(p.Width, p.Height) >= leastNamed
	if named {
		radius = max(min(p.Height/2-sectorLine, p.Width/2-widest-sectorGap-4), 0.18*min(p.Width, p.Height))
	}
	r.drawSectors(p, sink, radius)
	if named {
		r.drawNames(p, sink, radius, names)
	}
}

// drawSectors draws each sector in the colour of its group: that of the key, or one of its own.
func (r *round) drawSectors(p *Panel, sink *Sink, radius float64) {
	light, dark := r.c.Document.GroupColours().OfGroups(r.across.Column.Levels, r.across.Column.Colours)
	for i, at := range r.list {
		var x, y []float64
		corner := func(angle, far float64) {
			x, y = append(x, 0.5+far*math.Sin(angle)/p.Width), append(y, 0.5+far*math.Cos(angle)/p.Height)
		}
		begin, end := 2*math.Pi*r.from[i], 2*math.Pi*r.to[i]
		if len(r.list) > 1 {
			corner(begin, 0)
		}
		steps := max(1, math.Ceil((end-begin)/sectorStep))
		for k := 0.0; k <= steps; k++ {
			corner(begin+(end-begin)*k/steps, radius)
		}
		card := r.card(at)
		card.Facts = append(card.Facts, primitive.Fact{Name: "of all", Value: partOf(r.to[i]-r.from[i], 1)})
		l := primitive.Layer{
			Kind:  primitive.Polygons,
			Count: 1,
			X:     primitive.Shares(x),
			Y:     primitive.Shares(y),
			Start: primitive.NewArray([]uint32{0}),
			Cards: []primitive.Card{card},
			Style: primitive.Style{
				Light:   light[int(at.at)],
				Dark:    dark[int(at.at)],
				Fill:    true,
				Opacity: 0.88,
				Rim:     &primitive.Rim{Light: "#ffffff", Dark: "#172e2c", Width: 1.5},
			},
		}
		if r.own {
			l.Keys, l.Colour = r.keys(), primitive.NewArray([]uint8{uint8(at.group)})
		}
		sink.Add(Middle, l)
	}
}

// drawNames writes the name and the share of each sector beside it, those of a side never over each other.
func (r *round) drawNames(p *Panel, sink *Sink, radius float64, names []string) {
	for _, side := range []float64{1, -1} {
		l := primitive.Layer{
			Kind:  primitive.Texts,
			Style: primitive.Style{Light: primitive.InkLight, Dark: primitive.InkDark, Size: sectorLabel, Bold: true, Anchor: "start"},
		}
		if side < 0 {
			l.Style.Anchor = "end"
		}
		var down []float64 // from the middle of the circle
		var which []int
		for i := range r.list {
			if middle := math.Pi * (r.from[i] + r.to[i]); math.Copysign(1, math.Sin(middle)) == side {
				which, down = append(which, i), append(down, -math.Cos(middle)*(radius+sectorGap))
			}
		}
		if side < 0 { // clockwise is upwards
			slices.Reverse(which)
			slices.Reverse(down)
		}
		apartBy(down, sectorLine, p.Height/2-sectorLine/2)
		var x, y []float64
		for k, i := range which {
			reach := radius + sectorGap // along the circle, at the height where the label stands now
			far := math.Sqrt(max(reach*reach-down[k]*down[k], 0))
			x, y, l.Words = append(x, 0.5+side*far/p.Width), append(y, 0.5-down[k]/p.Height), append(l.Words, names[i])
		}
		l.Count, l.X, l.Y = len(which), primitive.Shares(x), primitive.Shares(y)
		sink.Add(Words, l)
	}
}

// apartBy moves places that stand in order so that neighbours are at least so far apart, and all lie within ±most.
func apartBy(places []float64, least, most float64) {
	for i := range places {
		places[i] = max(places[i], -most)
		if i > 0 {
			places[i] = max(places[i], places[i-1]+least)
		}
	}
	for i := len(places) - 1; i >= 0; i-- {
		limit := most - least*float64(len(places)-1-i)
		places[i] = min(places[i], limit)
	}
}
