package figure

import (
	"fmt"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/words"
)

// outlined gives marks the outline that was said, and tells where there are too many of them.
func (b *Drawn) outlined(placed []*mark.Placed) []chart.Problem {
	said, character := b.Document.Outline, chart.IsCharacter(b.Document.Fixed.Shape)
	for _, l := range placed {
		if mark.Named(l.Mark) == nil {
			continue
		}
		if l.Kind == primitive.Points && l.Count > chart.MostOutlined && !b.Bare {
			switch {
			case said != nil && !said.Off:
				return []chart.Problem{
					{
						Clause: "outline",
						Message: fmt.Sprintf(
							"at most %s dots have an outline; %s are drawn",
							scale.Number(chart.MostOutlined, 0),
							scale.Number(float64(l.Count), 0),
						),
						Advice: "draw hexagons, or fewer rows with of rows where",
					},
				}
			case character:
				return []chart.Problem{
					{
						Clause: "one shape",
						Message: fmt.Sprintf(
							"at most %s letters are drawn; there are %s rows",
							scale.Number(chart.MostOutlined, 0),
							scale.Number(float64(l.Count), 0),
						),
						Advice: "say one shape ring, or draw fewer rows with of rows where",
					},
				}
			}
		}
		filled := l.Kind == primitive.Points || (l.Kind == primitive.Rects || l.Kind == primitive.Polygons) && l.Style.Fill
		switch {
		case said == nil || !filled:
		case said.Off:
			l.Style.Outline = false
		default:
			l.Style.Rim = &primitive.Rim{Width: said.Thick()}
			l.Style.Rim.Light, l.Style.Rim.Dark = colour.OnPapers(said.Colour)
		}
	}
	return nil
}

// inFront puts groups that were named on top of the others.
func (b *Drawn) inFront(placed []*mark.Placed) {
	if b.groups == nil {
		return
	}
	var front []int
	for _, name := range slices.Backward(b.Document.Front) {
		if at := slices.Index(b.groups.Levels, name); at >= 0 {
			front = append(front, at)
		}
	}
	for _, l := range placed {
		if l.Keys.Colour == b.groups.Key && l.Colour.Len() > 0 {
			l.Front = front
		}
	}
}

// keyInOrder puts the entries of the key that were named first, in that order.
func (b *Drawn) keyInOrder() {
	if b.groups == nil || len(b.Document.KeyOrder) == 0 {
		return
	}
	key := &b.figure.Keys[b.groups.Key-1]
	for _, name := range b.Document.KeyOrder {
		if at := slices.Index(b.groups.Levels, name); at >= 0 {
			key.Order = append(key.Order, at)
		}
	}
	for i := range key.Entries {
		if !slices.Contains(key.Order, i) {
			key.Order = append(key.Order, i)
		}
	}
}

// unknownGroups tells which groups are named to lie in front, or in the order of the key, that the
// chart does not colour.
func (b *Dressed) unknownGroups() []chart.Problem {
	for _, said := range []struct {
		clause string
		names  []string
	}{{"in front", b.Document.Front}, {"key in order", b.Document.KeyOrder}} {
		for _, name := range said.names {
			switch {
			case b.groups == nil:
				return []chart.Problem{
					{
						Clause:  said.clause,
						Column:  b.Document.Colour,
						Message: "no groups are coloured that could be put in order",
						Advice:  "colour by a column of groups",
					},
				}
			case !slices.Contains(b.groups.Levels, name) && !b.known(name):
				message := fmt.Sprintf("no coloured group is called %s", name)
				advice := "choose one that the key names"
				if near := words.Nearest(name, b.groups.Levels); near != "" {
					advice = fmt.Sprintf("did you mean '%s'?", near)
				}
				return []chart.Problem{{Clause: said.clause, Column: b.Document.Colour, Message: message, Advice: advice}}
			}
		}
	}
	return nil
}

// known reports whether the column that colours has a group that is not coloured for itself now.
func (b *Dressed) known(name string) bool {
	c := b.Table.Column(b.Document.Colour)
	return c != nil && b.groups.Rest && slices.Contains(c.Levels, name)
}

// fix gives marks that no column colours the one colour that was said, and dots the one shape.
// On the dark paper the colour is made lighter where it would not be seen.
func (b *Drawn) fix(placed []*mark.Placed) {
	fixed := b.Document.Fixed
	for _, l := range placed {
		if fixed.Colour != "" && l.Keys.Colour == 0 && l.Style.Light == primitive.NeutralLight {
			l.Style.Light, l.Style.Dark = colour.OnPapers(fixed.Colour)
		}
		if fixed.Shape != "" && l.Kind == primitive.Points && l.Keys.Shape == 0 &&
			(l.Rows || l.Style.Light == fixed.Colour || l.Style.Light == primitive.NeutralLight) {
			l.Style.Shape = fixed.Shape
		}
	}
}

// hardColours says which colours of a palette of the chart's own are hard to see or to tell apart.
func (b *Drawn) hardColours() {
	if b.groups == nil || len(b.Document.Palette) == 0 || b.Bare {
		return
	}
	var names, hexes []string
	for i, level := range b.groups.Levels {
		if slices.Contains(b.Document.Palette, b.groups.Light[i]) {
			names, hexes = append(names, level), append(hexes, b.groups.Light[i])
		}
	}
	if n := len(b.Document.Palette); n < len(b.groups.Levels) {
		b.figure.Cautions = append(
			b.figure.Cautions,
			fmt.Sprintf("There are %d groups and fewer colours in the palette (%d): some groups look the same.", len(b.groups.Levels), n),
		)
		return
	}
	hard := colour.Hard(names, hexes)
	if more := len(hard) - mostHard; more > 0 {
		hard = append(hard[:mostHard], fmt.Sprintf("%d more pairs are", more))
	}
	if len(hard) > 0 {
		b.figure.Cautions = append(b.figure.Cautions, "In this palette "+words.And(hard)+".")
	}
}

// mostHard is how many faults of a palette are told one by one.
const mostHard = 3
