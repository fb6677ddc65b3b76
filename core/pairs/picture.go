package pairs

import (
	"context"
	"math"

	"copperlark/core/colour"
	"copperlark/core/density"
	"copperlark/core/figure"
	"copperlark/core/primitive"
	"copperlark/core/sample"
	"copperlark/core/scale"
)

// The measures of the picture, in pixels and shares.
const (
	Gap         = 6
	smallestDot = 1.5
	largestDot  = 3.0
	mostDots    = 900 // in a square
	curvePlaces = 60
	curveTop    = 0.62 // of a square on the diagonal; its name stands above
	margin      = 0.06 // of a square, about its dots
)

// Picture draws the squares on and below the diagonal as one figure of panels: in row y and
// column x the dots of that pair, boxes where one of them holds groups, counts where both do; on
// the diagonal how each column is spread, by group, or how many rows each of its groups has. The
// squares above it are left to words. Dots are of at most about 900 rows, drawn at random, of each group its share;
// scales span them. side is how long the picture is, in pixels.
func (f *Found) Picture(ctx context.Context, side float64) *figure.Figure {
	n := len(f.Columns)
	out := &figure.Figure{
		Version: figure.Version,
		Width:   side,
		Height:  side,
		Scales:  []figure.Scale{},
		Panels:  []figure.Panel{},
		Layers:  []primitive.Layer{},
		Keys:    []figure.Key{},
		Texts:   []figure.Text{},
	}
	out.Rows = figure.Rows{Total: f.Rows, Drawn: f.Rows, LeftOut: []figure.Reason{}}
	out.Card.Columns = []figure.CardColumn{}
	if n == 0 {
		return out
	}
	cell := (side - Gap*float64(n-1)) / float64(n)
	codes := f.codes()
	var some []int32 // of the rows that are shown
	if codes != nil {
		some = sample.Of(codes, f.shown)
	}
	if f.By != nil {
		out.Keys = append(out.Keys, f.key())
	}
	shares := make([][]float64, n)
	for i, c := range f.Columns {
		if !c.Grouped() {
			shares[i] = spanned(sample.Of(c.values, f.shown))
		}
		out.Scales = append(
			out.Scales,
			figure.Scale{
				Channel: "x",
				Scale:   scale.Scale{Kind: scale.Linear, From: 0, To: 1},
				Column:  c.Name,
				Name:    c.ReadableName(),
				Title:   c.ReadableName(),
				Ticks:   []scale.Tick{},
			},
		)
	}
	for y := range n {
		for x := range y + 1 {
			panel := len(out.Panels)
			out.Panels = append(
				out.Panels,
				figure.Panel{
					Box:  figure.Box{Left: float64(x) * (cell + Gap), Top: float64(y) * (cell + Gap), Width: cell, Height: cell},
					X:    x,
					Y:    y,
					Rows: f.Rows,
				},
			)
			a, b := &f.Columns[x], &f.Columns[y]
			switch {
			case x == y && a.Grouped():
				out.Layers = append(out.Layers, f.bars(panel, a)...)
			case x == y:
				out.Layers = append(out.Layers, f.curves(ctx, panel, a.values, codes)...)
			case a.Grouped() && b.Grouped():
				out.Layers = append(out.Layers, counted(panel, a, b, cell)...)
			case a.Grouped():
				out.Layers = append(out.Layers, boxes(panel, a, shares[y], f.shown, true)...)
			case b.Grouped():
				out.Layers = append(out.Layers, boxes(panel, b, shares[x], f.shown, false)...)
			default:
				out.Layers = append(out.Layers, f.dots(panel, shares[x], shares[y], some))
			}
		}
	}
	return out
}

// Margin is the share of a square that stays free about its dots, on each side.
const Margin = margin

// Span gives the least and the largest value of a column of numbers among the rows that are drawn, in
// its own units: where a row stands in a square goes from the one, at Margin, to the other. Both are
// NaN where there is none.
func (f *Found) Span(i int) (low, high float64) {
	c := f.Columns[i]
	low, high = math.NaN(), math.NaN()
	if c.Grouped() {
		return low, high
	}
	values, placed := sample.Of(sample.Of(c.Numbers, f.rows), f.shown), sample.Of(c.values, f.shown)
	for at, v := range values {
		if v == v && placed[at] == placed[at] {
			low, high = min(v, orElse(low, v)), max(v, orElse(high, v))
		}
	}
	return low, high
}

func orElse(v, other float64) float64 {
	if v != v {
		return other
	}
	return v
}

// spanned puts values into shares of what they span.
func spanned(values []float64) []float64 {
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range values {
		if !math.IsNaN(v) {
			low, high = min(low, v), max(high, v)
		}
	}
	out := make([]float64, len(values))
	for i, v := range values {
		out[i] = 0.5
		if high > low {
			out[i] = margin + (1-2*margin)*(v-low)/(high-low)
		}
		if math.IsNaN(v) {
			out[i] = v
		}
	}
	return out
}

func (f *Found) key() figure.Key {
	key := figure.Key{Channels: []string{"colour"}, Column: f.By.Name, Kind: string(f.By.Kind), Name: f.By.ReadableName()}
	counts := make([]int, len(f.By.Levels))
	for _, code := range f.By.Codes {
		if code >= 0 {
			counts[code]++
		}
	}
	light, dark := colour.OfGroups(f.By.Levels, f.By.Colours)
	for i, level := range f.By.Levels {
		key.Entries = append(key.Entries, figure.Entry{Name: level, Count: counts[i], Light: light[i], Dark: dark[i]})
	}
	return key
}

func (f *Found) dots(panel int, x, y []float64, codes []int32) primitive.Layer {
	l := primitive.Layer{
		Panel: panel,
		Mark:  "dots",
		Kind:  primitive.Points,
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Opacity: 0.55},
	}
	var xs, ys []float64
	var entries []uint8
	for i := range x {
		if math.IsNaN(x[i]) || math.IsNaN(y[i]) || codes != nil && codes[i] < 0 {
			continue
		}
		xs, ys = append(xs, x[i]), append(ys, y[i])
		if codes != nil {
			entries = append(entries, uint8(codes[i]))
		}
	}
	l.Style.Fixed = min(max(largestDot*math.Sqrt(60/float64(max(len(xs), 1))), smallestDot), largestDot) // few dots are seen from afar
	l.Style.Largest = l.Style.Fixed
	l.Count, l.X, l.Y = len(xs), primitive.Shares(xs), primitive.Shares(ys)
	if codes != nil {
		l.Colour, l.Keys = primitive.NewArray(entries), primitive.Keys{Colour: 1}
	}
	return l
}

// curves are the densities of a column, by group, the highest of them as high as there is
// room.
func (f *Found) curves(ctx context.Context, panel int, values []float64, codes []int32) []primitive.Layer {
	groups := 1
	if f.By != nil {
		groups = len(f.By.Levels)
	}
	by := make([][]float64, groups)
	low, high := math.Inf(1), math.Inf(-1)
	some := sample.Rows(len(values), 30*mostDots, codes)
	values = sample.Of(values, some)
	if codes != nil {
		codes = sample.Of(codes, some)
	}
	for i, v := range values {
		g := 0
		if codes != nil {
			g = int(codes[i])
		}
		if math.IsNaN(v) || g < 0 {
			continue
		}
		by[g] = append(by[g], v)
		low, high = min(low, v), max(high, v)
	}
	var xs, ys []float64
	var start []uint32
	var entries []uint8
	top := 0.0
	for g, own := range by {
		d, err := density.Estimate(ctx, own, density.Silverman)
		if err != nil {
			continue // one value, or none: no curve
		}
		grid, err := d.Grid(ctx, low, high, curvePlaces)
		if err != nil {
			continue
		}
		start, entries = append(start, uint32(len(xs))), append(entries, uint8(g))
		for i, v := range grid {
			xs, ys = append(xs, margin+(1-2*margin)*float64(i)/(curvePlaces-1)), append(ys, v)
			top = max(top, v)
		}
	}
	if len(start) == 0 || !(top > 0) {
		return nil
	}
	for i := range ys {
		ys[i] = 0.04 + curveTop*ys[i]/top
	}
	l := primitive.Layer{
		Panel: panel,
		Mark:  "curve",
		Kind:  primitive.Paths,
		Count: len(start),
		X:     primitive.Shares(xs),
		Y:     primitive.Shares(ys),
		Start: primitive.NewArray(start),
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Width: 1.6},
	}
	if codes != nil {
		l.Colour, l.Keys = primitive.NewArray(entries), primitive.Keys{Colour: 1}
	}
	return []primitive.Layer{l}
}
