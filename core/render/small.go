package render

import (
	"context"
	"io"

	"copperlark/core/chart"
	"copperlark/core/draw"
	"copperlark/core/draw/pen/svg"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/sample"
	"copperlark/core/text"
)

// The measures of small pictures: of at most so many rows, points and vertices a path.
const (
	smallRows     = 20_000
	smallPoints   = 260
	smallVertices = 180
)

// Small draws a small picture of a chart as SVG: its marks alone, thinned so that it stays
// under 6 KB, in light and, where dark is preferred, in dark colours.
func Small(ctx context.Context, b *mark.Bound, width, height float64, m *text.Metrics, out io.Writer) ([]chart.Problem, error) {
	f, problems, err := figure.Build(ctx, sampled(b), figure.Options{Width: width, Height: height, Metrics: m, Bare: true})
	if err != nil || problems != nil {
		return problems, err
	}
	points, vertices := 0, 0
	for _, l := range f.Layers {
		if l.Kind == primitive.Points {
			points += l.Count
		} else {
			vertices += l.X.Len() + l.Y2.Len()
		}
	}
	for i := range f.Layers {
		thin(&f.Layers[i], points, vertices)
	}
	pen := svg.NewSmall(width, height)
	draw.Draw(f, pen, draw.Options{Look: &draw.Look{Both: true}, Bare: true})
	return nil, pen.Write(out)
}

// sampled is a chart of rows drawn at random where there are very many.
func sampled(b *mark.Bound) *mark.Bound {
	if rows := sample.Rows(b.Table.Rows(), smallRows, nil); rows != nil {
		return b.Select(rows)
	}
	return b
}

// thin leaves out points at random and vertices evenly, of a picture that has so many in all.
func thin(l *primitive.Layer, points, vertices int) {
	switch l.Kind {
	case primitive.Points:
		if points > smallPoints {
			if at := sample.Rows(l.Count, max(l.Count*smallPoints/points, 1), nil); at != nil {
				for _, a := range []*primitive.Array{&l.X, &l.Y, &l.Colour, &l.Shape, &l.Radius} {
					*a = a.Pick(at)
				}
				l.Count = len(at)
			}
		}
		l.Style.Outline = false
		l.Row, l.LeftOut = primitive.Array{}, primitive.Array{}
	case primitive.Paths, primitive.Areas:
		if vertices > smallVertices {
			thinPaths(l, float64(smallVertices)/float64(vertices))
		}
	}
}

func thinPaths(l *primitive.Layer, share float64) {
	var at []int
	var start []uint32
	for i := range l.Count {
		from, to := l.Vertices(i)
		start = append(start, uint32(len(at)))
		n := min(to-from, max(3, int(float64(to-from)*share)))
		for k := range n {
			at = append(at, from+k*(to-from-1)/max(n-1, 1))
		}
	}
	for _, a := range []*primitive.Array{&l.X, &l.Y, &l.Y2} {
		*a = a.Pick(at)
	}
	l.Start = primitive.NewArray(start)
}
