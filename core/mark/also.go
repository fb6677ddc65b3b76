package mark

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/magnitude"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// Dress is how something more is told from the rest.
type Dress struct {
	Name, Light, Dark string
	Key, Entry        int // as in primitive.Keys, and which of its entries
}

// ComputeAlso places two more columns over the axes of a case: of its own rows or, where it is another
// table, of all of that. What has no place on the axes is counted.
func ComputeAlso(ctx context.Context, c *Case, one *chart.Also, other *table.Table, dress Dress) (*Computed, int, []chart.Problem) {
	refused := func(column, message, advice string) (*Computed, int, []chart.Problem) {
		return nil, 0, []chart.Problem{{Clause: "also plot", Column: column, Message: message, Advice: advice}}
	}
	var columns [2]*table.Column
	for i, name := range []string{one.X, one.Y} {
		if columns[i] = other.Said(name); columns[i] == nil {
			return refused(name, fmt.Sprintf("%s has no column %s", one.Table, name), "its columns are "+listed(other.Names()))
		}
	}
	rows := c.Rows
	if one.Table != "" {
		rows = nil
		for i := range other.Rows() {
			rows = append(rows, uint32(i))
		}
	}
	if len(rows) > chart.MostAlsoRows {
		return refused(
			one.Y,
			fmt.Sprintf(
				"%s rows are too many to draw over others; at most %s are",
				scale.Number(float64(len(rows)), 0),
				scale.Number(chart.MostAlsoRows, 0),
			),
			"sum them up in Data first, or plot these columns in a chart of their own",
		)
	}
	at := [2]func(int) float64{}
	for i, axis := range []*Axis{c.X, c.Y} {
		place, problem := placeOn(axis, columns[i])
		if problem != "" {
			return refused(columns[i].Name, problem, "plot a column of the same kind")
		}
		at[i] = place
	}
	points, without := make([]vertex, 0, len(rows)), 0
	for _, row := range rows {
		p := vertex{at[0](int(row)), at[1](int(row))}
		if !magnitude.Finite(p.u) || !magnitude.Finite(p.v) {
			without++
			continue
		}
		points = append(points, p)
	}
	if ctx.Err() != nil {
		return nil, 0, nil
	}
	if one.Drawn() != "dots" {
		slices.SortStableFunc(points, func(a, b vertex) int { return cmp.Compare(a.u, b.u) })
		if one.Drawn() == "steps" {
			points = stepwise(points)
		}
	}
	out := &Computed{X: None(), Y: None(), Draw: func(p *Panel, s *Sink) { drawAlso(c, one, columns, points, dress, p, s) }}
	for _, p := range points {
		out.X, out.Y = out.X.Of(p.u), out.Y.Of(p.v)
	}
	if n := len(points); n > 1 && one.Drawn() != "dots" {
		out.Ends = []EndAt{{dress.Name, points[n-1].u}}
	}
	return out, without, nil
}

func listed(names []string) string {
	const most = 8
	text := ""
	for i, name := range names[:min(len(names), most)] {
		if i > 0 {
			text += ", "
		}
		text += name
	}
	if len(names) > most {
		text += ", …"
	}
	return text
}

// placeOn gives where the rows of a column stand along an axis, in drawn space; NaN for nowhere.
func placeOn(axis *Axis, c *table.Column) (place func(row int) float64, problem string) {
	s := axis.Scale()
	switch {
	case axis.Grouped():
		if !c.Kind.Coded() {
			return nil, fmt.Sprintf("groups stand along the axis, and %s holds none", c.ReadableName())
		}
		levels := make([]float64, len(c.Levels))
		for i, level := range c.Levels {
			levels[i] = math.NaN()
			if k := slices.Index(s.Levels, level); k >= 0 {
				levels[i] = float64(k)
			}
		}
		return func(row int) float64 {
			if code := c.Codes[row]; code >= 0 {
				return levels[code]
			}
			return math.NaN()
		}, ""
	case axis.Dated() && !axis.Aggregated() && c.Kind != table.Date:
		return nil, fmt.Sprintf("dates stand along the axis, and %s holds none", c.ReadableName())
	case !c.Kind.Quantity() && !(axis.Dated() && c.Kind == table.Date):
		return nil, fmt.Sprintf("numbers stand along the axis, and %s holds %s values", c.ReadableName(), c.Kind)
	}
	return func(row int) float64 {
		if c.Missing(row) {
			return math.NaN()
		}
		return s.Place(c.Numbers[row])
	}, ""
}

// Dots of something more are so large; where there are more than alsoMany they shrink with each power
// of ten. Up to alsoCards have a card each.
const (
	alsoDot, alsoLeast = 4.5, 1.5
	alsoMany           = 200
	alsoShrinks        = 1.6
	alsoCards          = 5000
)

func drawAlso(c *Case, one *chart.Also, columns [2]*table.Column, points []vertex, dress Dress, p *Panel, s *Sink) {
	x, y := make([]float64, len(points)), make([]float64, len(points))
	for i, at := range points {
		x[i], y[i] = at.u, at.v
	}
	l := primitive.Layer{
		X:     p.ShareX(x),
		Y:     p.ShareY(y),
		Keys:  primitive.Keys{Colour: dress.Key},
		Style: primitive.Style{Light: dress.Light, Dark: dress.Dark},
	}
	if len(points) == 0 {
		return
	}
	if one.Drawn() != "dots" {
		l.Kind = primitive.Paths
		l.Count = 1
		l.Start = primitive.NewArray([]uint32{0})
		l.Colour = primitive.NewArray([]uint8{uint8(dress.Entry)})
		l.Style.Width = lineWidth
		l.Cards = []primitive.Card{{Heading: dress.Name, Facts: []primitive.Fact{}}}
		s.Add(Over, l).End = []End{{Name: dress.Name, Light: dress.Light, Dark: dress.Dark}}
		return
	}
	l.Kind, l.Count, l.Colour = primitive.Points, len(points), primitive.NewArray(slices.Repeat([]uint8{uint8(dress.Entry)}, len(points)))
	crowd := math.Log10(max(float64(len(points))/alsoMany, 1))
	radius := max(alsoDot-alsoShrinks*crowd, alsoLeast)
	l.Style.Fixed = radius
	l.Style.Largest = radius
	l.Style.Shape = "diamond"
	l.Style.Opacity = max(0.9-0.3*crowd, 0.2)
	l.Style.Outline = len(points) <= outlinedDots
	if len(points) <= alsoCards {
		sx, sy := c.X.Scale(), c.Y.Scale()
		for _, at := range points {
			l.Cards = append(
				l.Cards,
				primitive.Card{
					Heading: dress.Name,
					Facts: []primitive.Fact{
						{Name: columns[1].Prose(), Value: placeText(c.Y, columns[1], sy, at.v)},
						{Name: columns[0].Prose(), Value: placeText(c.X, columns[0], sx, at.u)},
					},
				},
			)
		}
	}
	s.Add(Over, l)
}

// placeText writes what a column has at a place of an axis, in its own unit.
func placeText(a *Axis, c *table.Column, s *scale.Scale, at float64) string {
	switch v := s.Undrawn(at); {
	case a.Grouped():
		return s.Levels[int(at)]
	case a.Dated():
		return ValueText(a, v)
	default:
		return withUnit(scale.InForm(a.Form, v, scale.Value(v, 4)), c.Unit)
	}
}

// OtherUnit says that a column stands on an axis in another unit; empty where it does not, or one of
// them has none.
func OtherUnit(axis *Axis, c *table.Column) string {
	if unit := axis.Unit(); c != nil && c.Unit != "" && unit != "" && c.Unit != unit {
		return fmt.Sprintf("%s is in %s and stands on an axis in %s", c.ReadableName(), c.Unit, unit)
	}
	return ""
}
