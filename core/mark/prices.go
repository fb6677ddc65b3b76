package mark

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// priceBars are an upright from the lowest to the highest price of a date, with a stroke to the left where it opened and
// one to the right where it closed.
var priceBars = &Mark{
	Name:    "price bars",
	Help:    "open, high, low and close of each date",
	Also:    "ohlc stock market exchange trading range candlestick",
	Example: "plot open, high, low, close against week\nas price bars",
	Rows:    true,
	Tones: &Tones{
		Name: "From open to close",
		Of:   []Tone{{"rose", "#1f7a6d", "#57b9a9"}, {"fell", "#a8501a", "#e59a62"}, {"stayed", "#58706c", "#94ada8"}},
	},
	Suits: func(_, _ *Axis) bool { return false }, // columns do not say that they are prices
	Check: func(c *Case) []chart.Problem {
		switch {
		case len(c.Y.More) != 3 || c.Y.Aggregated():
			return problem(
				"price bars are drawn of four columns along y, in this order: open, high, low and close",
				"say plot open, high, low, close against day",
			)
		case !c.X.Numeric():
			return problem("price bars stand at dates or numbers along x; "+c.X.Prose()+" holds groups", "put a date along x")
		}
		return nil
	},
	Compute: computePrices,
}

// The measures of price bars.
const (
	priceStroke = 0.34 // how far open and close reach, of the way to the next bar
	priceWidth  = 1.6
)

// price is what is drawn of a row: where it stands, and its open, high, low and close, in drawn space.
type price struct {
	u    float64
	of   [4]float64
	has  int
	tone uint8
}

func computePrices(ctx context.Context, c *Case) (*Computed, error) {
	list, lacking, err := pricesOf(ctx, c)
	if err != nil {
		return nil, err
	}
	out := &Computed{X: None(), Y: None()}
	if lacking > 0 {
		out.LeftOut = append(out.LeftOut, Reason{"without one of open, high, low and close", lacking})
	}
	wrong := 0
	list = slices.DeleteFunc(list, func(p price) bool {
		if p.of[1] < p.of[2] {
			wrong++
			return true
		}
		return false
	})
	if wrong > 0 {
		out.LeftOut = append(out.LeftOut, Reason{"with a high that is below the low", wrong})
	}
	gap := math.Inf(1)
	for i, p := range list {
		if i > 0 {
			if p.u == list[i-1].u {
				return nil, fmt.Errorf(
					"several rows stand at %s, and a bar is of one: take the rows of one with of rows where, or panels by what they are of",
					acrossText(c.X, c.X.Scale().Undrawn(p.u)),
				)
			}
			gap = min(gap, p.u-list[i-1].u)
		}
	}
	if math.IsInf(gap, 1) {
		gap = 1
		if c.X.Kind == scale.Date {
			gap = 86400
		}
	}
	reach := priceStroke * gap
	for _, p := range list {
		out.X, out.Y = out.X.Of(p.u-reach, p.u+reach), out.Y.Of(p.of[:]...)
	}
	out.Draw = func(panel *Panel, s *Sink) { drawPrices(c, list, reach, panel, s) }
	return out, nil
}

// pricesOf gathers the four values of each row, in the order of x; lacking is how many rows have not all of them.
func pricesOf(ctx context.Context, c *Case) (list []price, lacking int, err error) {
	index := map[uint32]int{}
	for i, row := range c.Rows {
		if i%65536 == 0 && ctx.Err() != nil {
			return nil, 0, ctx.Err()
		}
		at, known := index[row]
		if !known {
			at = len(list)
			index[row], list = at, append(list, price{u: c.U[i]})
		}
		list[at].of[c.Codes[i]] = c.V[i]
		list[at].has++
	}
	list = slices.DeleteFunc(list, func(p price) bool {
		if p.has < len(p.of) {
			lacking++
			return true
		}
		return false
	})
	for i := range list {
		switch p := &list[i]; cmp.Compare(p.of[3], p.of[0]) {
		case -1:
			p.tone = 1
		case 0:
			p.tone = 2
		}
	}
	slices.SortStableFunc(list, func(a, b price) int { return cmp.Compare(a.u, b.u) })
	return list, lacking, nil
}

func drawPrices(c *Case, list []price, reach float64, p *Panel, s *Sink) {
	n := len(list)
	places := make([][]float64, 6) // left, middle and right of each bar; then what stands at each height
	tones := make([]uint8, n)
	heights := make([][]float64, 4)
	for i := range places {
		places[i] = make([]float64, n)
	}
	for j := range heights {
		heights[j] = make([]float64, n)
	}
	cards := make([]primitive.Card, n)
	for i, one := range list {
		places[0][i], places[1][i], places[2][i], tones[i] = one.u-reach, one.u, one.u+reach, one.tone
		for j, v := range one.of {
			heights[j][i] = v
		}
		cards[i] = priceCard(c, one)
	}
	strokes := func(x, y, x2, y2 []float64) {
		s.Add(
			Middle,
			primitive.Layer{
				Kind:   primitive.Segments,
				Count:  n,
				X:      p.ShareX(x),
				Y:      p.ShareY(y),
				X2:     p.ShareX(x2),
				Y2:     p.ShareY(y2),
				Colour: primitive.NewArray(slices.Clone(tones)),
				Keys: primitive.Keys{
					Colour: c.Channels.Tones,
				},
				Cards: cards,
				Style: primitive.Style{Light: primitive.InkLight, Dark: primitive.InkDark, Width: priceWidth},
			},
		)
	}
	strokes(places[1], heights[2], places[1], heights[1])
	strokes(places[0], heights[0], places[1], heights[0])
	strokes(places[1], heights[3], places[2], heights[3])
}

// priceCard names the date, the four prices in their own words, and what became of the first.
func priceCard(c *Case, one price) primitive.Card {
	card := primitive.Card{Heading: acrossText(c.X, one.u)}
	values, s := make([]float64, len(one.of)), c.Y.Scale()
	for j, v := range one.of {
		values[j] = s.Undrawn(v)
	}
	texts := alike(c.Y, append(slices.Clone(values), values[3]-values[0]))
	for j, column := range append([]*table.Column{c.Y.Column}, c.Y.More...) {
		card.Facts = append(card.Facts, primitive.Fact{Name: column.Prose(), Value: withUnit(texts[j], column.Unit)})
	}
	change := withUnit(texts[len(texts)-1], c.Y.Unit())
	if values[3] > values[0] {
		change = "+" + change
	}
	return primitive.Card{Heading: card.Heading, Facts: append(card.Facts, primitive.Fact{Name: "from open to close", Value: change})}
}
