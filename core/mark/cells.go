package mark

import (
	"context"
	"math"

	"copperlark/core/chart"
	"copperlark/core/density"
	"copperlark/core/magnitude"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/summary"
)

// hexagons and squares count the rows of each cell where dots would hide each other.
var hexagons = &Mark{
	Name:    "hexagons",
	Help:    "how many rows lie in each cell, where dots hide each other",
	Also:    "hexbin density heat crowded many overplotting",
	Example: "plot honey_kg against forage_ha\nas hexagons",
	Rows:    true,
	Covers:  true,
	Suits:   func(x, y *Axis) bool { return false },
	Check:   checkCells,
	Compute: computeCells(hexagonal),
}

var squares = &Mark{
	Name:    "squares",
	Help:    "how many rows lie in each square, where dots hide each other",
	Also:    "heat map bins density crowded many grid",
	Example: "plot honey_kg against forage_ha\nlog x\nas squares",
	Rows:    true,
	Covers:  true,
	Suits:   func(x, y *Axis) bool { return false },
	Check:   checkCells,
	Compute: computeCells(square),
}

func checkCells(c *Case) []chart.Problem {
	if !c.X.Numeric() || !c.Y.Numeric() || len(c.Y.More) > 0 {
		return problem(
			"cells need one column of numbers or dates along each axis",
			"draw counts of groups with as counts, or say other columns",
		)
	}
	return nil
}

// The measures of cells: how many stand beside each other, for how many rows, and how much
// wider a usual paper is than it is high.
const (
	fewestCells = 8
	mostCells   = 44
	paperAspect = 1.6
	rowOfCells  = 0.8660254037844386 // √3/2: from row to row of hexagons that are 1 wide
)

// cell is a place with its rows: its middle in drawn space, and its corners about that.
type cell struct {
	u, v  float64
	count int
}

// shape is a way of cutting the plane into cells of a width and a height.
type shape struct {
	called  string
	corners [][2]float64 // in widths and heights, about the middle
	high    float64      // rows of cells to a width, on a usual paper
	count   func(ctx context.Context, c *Case, grid cellGrid) ([]cell, error)
	keys    func(x, y *summary.Value, grid cellGrid) []summary.Key // that give the two numbers of a cell
	at      func(grid cellGrid, i, j, count int) cell
}

// cellGrid is where cells begin, and the room of one.
type cellGrid struct{ u, v, width, height float64 }

var hexagonal = shape{
	"hexagons",
	[][2]float64{{0, 2.0 / 3}, {0.5, 1.0 / 3}, {0.5, -1.0 / 3}, {0, -2.0 / 3}, {-0.5, -1.0 / 3}, {-0.5, 1.0 / 3}},
	rowOfCells,
	func(ctx context.Context, c *Case, grid cellGrid) (list []cell, err error) {
		l := density.Lattice{OriginX: grid.u, OriginY: grid.v, StepX: grid.width, StepY: grid.height}
		cells, err := l.Count(ctx, c.U, c.V)
		for _, one := range cells {
			list = append(list, hexagonAt(grid, one.I, one.J, one.Count))
		}
		return list, err
	},
	func(x, y *summary.Value, grid cellGrid) []summary.Key {
		return []summary.Key{{Kind: summary.Hexagon, Of: x, And: y, From: grid.u, Width: grid.width, FromY: grid.v, WidthY: grid.height}}
	},
	hexagonAt,
}

func hexagonAt(grid cellGrid, i, j, count int) cell {
	odd := float64(j & 1)
	return cell{grid.u + (float64(i)+odd/2)*grid.width, grid.v + float64(j)*grid.height, count}
}

func squareAt(grid cellGrid, i, j, count int) cell {
	return cell{grid.u + (float64(i)+0.5)*grid.width, grid.v + (float64(j)+0.5)*grid.height, count}
}

var square = shape{"squares", [][2]float64{{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}}, 1,
	func(ctx context.Context, c *Case, grid cellGrid) (list []cell, err error) {
		type at struct{ i, j int }
		places := map[at]int{}
		for k := range c.U {
			if k%65536 == 0 && ctx.Err() != nil {
				return nil, ctx.Err()
			}
			p := at{int(math.Floor((c.U[k] - grid.u) / grid.width)), int(math.Floor((c.V[k] - grid.v) / grid.height))}
			n, known := places[p]
			if !known {
				n = len(list)
				places[p] = n
				list = append(list, squareAt(grid, p.i, p.j, 0))
			}
			list[n].count++
		}
		return list, nil
	},
	func(x, y *summary.Value, grid cellGrid) []summary.Key {
		return []summary.Key{{Kind: summary.Step, Of: x, From: grid.u, Width: grid.width},
			{Kind: summary.Step, Of: y, From: grid.v, Width: grid.height}}
	},
	squareAt,
}

func computeCells(of shape) func(context.Context, *Case) (*Computed, error) {
	return func(ctx context.Context, c *Case) (*Computed, error) {
		all := c // the cells of all panels are the same
		if c.Whole != nil {
			all = c.Whole
		}
		x, y := None().Of(all.U...), None().Of(all.V...)
		if err := magnitude.InRange(all.U, all.V); err != nil {
			return nil, err
		}
		rows := int64(len(all.U))
		wholeX, wholeY, wholeRows, known := c.Elsewhere.extents()
		if known {
			x, y, rows = wholeX, wholeY, wholeRows
		}
		beside := min(max(math.Round(2*math.Cbrt(float64(rows))), fewestCells), mostCells)
		width, height := step(x, beside), step(y, beside/paperAspect/of.high)
		grid := cellGrid{x.Low, y.Low, width, height}
		var cells []cell
		if known {
			cells, known = c.Elsewhere.cells(of, grid)
		}
		if !known {
			var err error
			if cells, err = of.count(ctx, c, grid); err != nil {
				return nil, err
			}
		}
		out := &Computed{
			Exact: known,
			X:     None().Of(c.U...),
			Y:     None().Of(c.V...),
			Draw:  func(p *Panel, s *Sink) { drawCells(c, of, cells, width, height, p, s) },
		}
		for _, one := range cells {
			out.Most = max(out.Most, one.count)
			out.X, out.Y = out.X.Of(one.u-width/2, one.u+width/2), out.Y.Of(one.v-height*2/3, one.v+height*2/3)
		}
		return out, nil
	}
}

// step is the room of one of so many cells; a column of one value has cells all the same.
func step(e Extent, cells float64) float64 {
	if width := (e.High - e.Low) / cells; width > 0 && !math.IsInf(width, 0) && e.Low+width > e.Low && e.High-width < e.High {
		return width
	}
	return max(1, math.Abs(e.High)/1e6, math.Abs(e.Low)/1e6)
}

func drawCells(c *Case, of shape, cells []cell, width, height float64, p *Panel, s *Sink) {
	l := primitive.Layer{
		Kind:  primitive.Polygons,
		Count: len(cells),
		Keys:  primitive.Keys{Colour: p.Counts.Key},
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true},
	}
	var xs, ys []float64
	var start []uint32
	var steps []uint8
	for _, one := range cells {
		start = append(start, uint32(len(xs)))
		for _, corner := range of.corners {
			xs, ys = append(xs, one.u+corner[0]*width), append(ys, one.v+corner[1]*height)
		}
		steps = append(steps, p.Counts.Step(one.count))
		l.Cards = append(
			l.Cards,
			primitive.Card{
				Heading: "about " + ValueText(c.X, c.X.Scale().Undrawn(one.u)) + " and " + ValueText(c.Y, c.Y.Scale().Undrawn(one.v)),
				Facts:   []primitive.Fact{{Name: "rows", Value: scale.Number(float64(one.count), 0)}},
			},
		)
	}
	l.X, l.Y, l.Start, l.Colour = p.ShareX(xs), p.ShareY(ys), primitive.NewArray(start), primitive.NewArray(steps)
	s.Add(Middle, l)
}
