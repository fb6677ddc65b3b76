package mark

import (
	"cmp"
	"context"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/magnitude"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// line joins values in the order of x.
var line = &Mark{
	Name:    "line",
	Help:    "values joined in the order of x, with gaps where one is missing",
	Also:    "time series path curve",
	Example: "plot honey_kg against date\nas line",
	Lines:   true,
	Rows:    true,
	Takes:   []Channel{GroupColour},
	Suits: func(x, y *Axis) bool {
		return x.Column != nil && x.Column.Kind == table.Date && !x.Aggregated() && (y.Numeric() || y.Aggregated() && y.Of != chart.Spread)
	},
	Check:   func(c *Case) []chart.Problem { return joins(c, "a line") },
	Compute: func(ctx context.Context, c *Case) (*Computed, error) { return computeRuns(ctx, c, straightly) },
}

// joins tells what keeps values from being joined in the order of x, by a mark that is called so.
func joins(c *Case, what string) []chart.Problem {
	switch {
	case c.X.Of == chart.Spread || c.Y.Of == chart.Spread:
		return problem("a spread has no values to join", "say as histogram")
	case c.X.Grouped() && c.Table.Column(c.Document.X.Column) != nil && c.Table.Column(c.Document.X.Column).Kind == table.Category &&
		!c.Y.Aggregated():
		return problem(
			what+" joins values in an order, and groups along x have none",
			"draw boxes or dots, or put a number or a date along x",
		)
	case c.X.Aggregated():
		return problem(what+" runs along x, where a statistic stands", "swap x and y")
	}
	return nil
}

// straightly joins values by straight lines.
func straightly(run []vertex) []vertex { return run }

const lineWidth = 2.2

// vertex is a point of a line before it is sorted; v is NaN at a gap.
type vertex struct{ u, v float64 }

// computeRuns joins the values of each group, or their statistics, in the order of x; joined
// puts in what lies between one value and the next.
func computeRuns(ctx context.Context, c *Case, joined func([]vertex) []vertex) (*Computed, error) {
	if c.Y.Aggregated() {
		return computeMeans(ctx, c, joined)
	}
	runs := make([][]vertex, groupCount(c))
	for i, u := range c.U {
		g := int32(0)
		if c.Groups != nil {
			g = c.Codes[i]
		}
		runs[g] = append(runs[g], vertex{u, c.V[i]})
	}
	c.gaps(runs)
	for g := range runs {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		slices.SortStableFunc(runs[g], func(a, b vertex) int { return cmp.Compare(a.u, b.u) })
		runs[g] = joined(runs[g])
	}
	return &Computed{
		X:    None().Of(c.U...),
		Y:    None().Of(c.V...),
		Ends: endsOf(c, runs),
		Draw: func(p *Panel, s *Sink) { drawRuns(c, runs, p, s) },
	}, nil
}

// endsOf says where the lines of groups end.
func endsOf(c *Case, runs [][]vertex) (ends []EndAt) {
	if c.Groups == nil {
		return nil
	}
	for g, run := range runs {
		if len(run) > 1 {
			ends = append(ends, EndAt{c.Groups.Levels[g], run[len(run)-1].u})
		}
	}
	return ends
}

// computeMeans joins the statistics of the places along x.
func computeMeans(ctx context.Context, c *Case, joined func([]vertex) []vertex) (*Computed, error) {
	found, err := gather(ctx, c)
	if err != nil {
		return nil, err
	}
	runs := make([][]vertex, groupCount(c))
	out := &Computed{Exact: found.exact, X: None(), Y: None(), Draw: func(p *Panel, s *Sink) { drawRuns(c, runs, p, s) }}
	for _, at := range found.list {
		g, v := max(at.group, 0), found.value.Drawn(at.value)
		runs[g] = append(runs[g], vertex{at.at, v})
		out.X, out.Y = out.X.Of(at.at), out.Y.Of(v)
	}
	for g := range runs {
		runs[g] = joined(runs[g])
	}
	out.Ends = endsOf(c, runs)
	return out, nil
}

func groupCount(c *Case) int {
	if c.Groups == nil {
		return 1
	}
	return len(c.Groups.Levels)
}

// series reports whether the groups are several columns along y.
func (c *Case) series() bool { return c.Groups != nil && c.Groups.Column == "" }

// place is where a row stands along x; NaN for nowhere.
func (c *Case) place(row uint32) float64 {
	if x := c.X.Column; !x.Kind.Coded() {
		return c.X.Scale().Drawn(x.Numbers[row])
	} else if x.Codes[row] >= 0 {
		return float64(x.Codes[row])
	}
	return math.NaN()
}

// seriesGaps adds a break to each of several columns where a row has x and no value of it.
func (c *Case) seriesGaps(runs [][]vertex) {
	seen := make([]bool, c.Table.Rows())
	for _, row := range slices.Concat(c.Rows, c.Gaps) {
		if seen[row] {
			continue
		}
		seen[row] = true
		for g, column := range slices.Concat([]*table.Column{c.Y.Column}, c.Y.More) {
			if u := c.place(row); magnitude.Finite(u) && column.Missing(int(row)) {
				runs[g] = append(runs[g], vertex{u, math.NaN()})
			}
		}
	}
}

// gaps adds a break where a row has x and no y. Where several columns stand along y each
// has gaps of its own.
func (c *Case) gaps(runs [][]vertex) {
	if c.series() {
		c.seriesGaps(runs)
		return
	}
	if len(c.Gaps) == 0 {
		return
	}
	var codes []int32
	if c.Groups != nil {
		codes = c.Groups.Codes
	}
	for _, row := range c.Gaps {
		u, g := c.place(row), int32(0)
		if codes != nil {
			g = codes[row]
		}
		if magnitude.Finite(u) && g >= 0 {
			runs[g] = append(runs[g], vertex{u, math.NaN()})
		}
	}
}

// drawRuns draws a path for every stretch without a gap; a value alone between two gaps is
// a dot.
func drawRuns(c *Case, runs [][]vertex, p *Panel, s *Sink) {
	var xs, ys, aloneX, aloneY []float64
	var start []uint32
	var entries, alone []uint8
	paths := primitive.Layer{
		Kind:  primitive.Paths,
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Width: lineWidth},
	}
	if c.Document.Opacity > 0 {
		paths.Style.Opacity = c.Document.Opacity
	}
	var ends []End
	for g, run := range runs {
		for from := 0; from < len(run); {
			if math.IsNaN(run[from].v) {
				from++
				continue
			}
			to := from
			for to < len(run) && !math.IsNaN(run[to].v) {
				to++
			}
			if to-from == 1 {
				aloneX, aloneY, alone = append(aloneX, run[from].u), append(aloneY, run[from].v), append(alone, uint8(g))
			} else {
				start, entries = append(start, uint32(len(xs))), append(entries, uint8(g))
				for _, at := range run[from:to] {
					xs, ys = append(xs, at.u), append(ys, at.v)
				}
				paths.Cards = append(paths.Cards, runCard(c, g, run[from:to]))
				name := End{}
				if c.Groups != nil {
					name = End{Name: c.Groups.Levels[g], Light: c.Groups.Light[g], Dark: c.Groups.Dark[g]}
					if n := len(ends); n > 0 && ends[n-1].Name == name.Name {
						ends[n-1].Name = "" // the last stretch of a group carries its name
					}
				}
				ends = append(ends, name)
			}
			from = to
		}
	}
	paths.Count, paths.X, paths.Y, paths.Start = len(start), p.ShareX(xs), p.ShareY(ys), primitive.NewArray(start)
	single := primitive.Layer{Kind: primitive.Points, Count: len(aloneX), X: p.ShareX(aloneX), Y: p.ShareY(aloneY),
		Style: primitive.Style{
			Light:   primitive.NeutralLight,
			Dark:    primitive.NeutralDark,
			Fixed:   lineWidth,
			Largest: lineWidth,
			Opacity: 1,
		}}
	if c.Groups != nil {
		paths.Colour, paths.Keys = primitive.NewArray(entries), primitive.Keys{Colour: c.Groups.Key}
		single.Colour, single.Keys = primitive.NewArray(alone), paths.Keys
	}
	s.Add(Middle, paths).End = ends
	s.Add(Middle, single)
}

// runCard says of a stretch of a line what it is of and how far it goes.
func runCard(c *Case, g int, run []vertex) primitive.Card {
	card := primitive.Card{Heading: c.Y.Name()}
	if c.Groups != nil {
		card.Heading = c.Groups.Levels[g]
	}
	x := c.X.Scale()
	text := func(at vertex) string {
		if c.X.Grouped() {
			return acrossText(c.X, at.u)
		}
		return ValueText(c.X, x.Undrawn(at.u))
	}
	low, high := run[0], run[0]
	for _, at := range run {
		if at.v < low.v {
			low = at
		}
		if at.v > high.v {
			high = at
		}
	}
	y := c.Y.Scale()
	value := func(at vertex) string { return ValueText(c.Y, y.Undrawn(at.v)) + " at " + text(at) }
	card.Facts = []primitive.Fact{
		{Name: "from", Value: text(run[0])},
		{Name: "to", Value: text(run[len(run)-1])},
		{Name: "lowest", Value: value(low)},
		{Name: "highest", Value: value(high)},
		{Name: "points", Value: scale.Number(float64(len(run)), 0)},
	}
	return card
}
