package pairs

import (
	"cmp"
	"math"
	"slices"

	"copperlark/core/colour"
	"copperlark/core/describe"
	"copperlark/core/distribution"
	"copperlark/core/primitive"
	"copperlark/core/sample"
	"copperlark/core/table"
)

// Measure is what is told of a pair.
type Measure string

// The measures: Pearson's r of two numbers, the root of eta squared of a number by groups, and
// Cramér's V of two columns of groups. The last two have no direction.
const (
	R   Measure = "r"
	Eta Measure = "η"
	V   Measure = "V"
)

// Grouped reports whether a column holds groups.
func (c *Column) Grouped() bool { return c.codes != nil }

// measure finds how closely two columns go together of which at least one holds groups.
// Clear is by the F test of the groups' means, or Pearson's chi-squared, each adjusted for how
// many pairs there are.
func (p *Pair) measure(a, b *Column, pairs int) {
	p.Within, p.Measure = math.NaN(), V
	if !b.Grouped() {
		a, b = b, a
	}
	k := float64(len(b.Levels))
	if a.Grouped() {
		p.count(a.codes, len(a.Levels), b.codes, len(b.Levels))
		p.R = describe.CramersV(a.codes, len(a.Levels), b.codes, len(b.Levels))
		p.Clear = p.chance < 0.05/float64(pairs)
		return
	}
	p.Measure = Eta
	for i, v := range a.values {
		if b.codes[i] >= 0 && !math.IsNaN(v) {
			p.N++
		}
	}
	share := describe.EtaSquared(b.codes, len(b.Levels), a.values)
	p.R = math.Sqrt(share)
	if n := float64(p.N); n > k && k > 1 && share < 1 {
		p.chance = distribution.FSurvival(share/(k-1)/((1-share)/(n-k)), k-1, n-k)
		p.Clear = p.chance < 0.05/float64(pairs)
	} else {
		p.Clear = share == 1 && n > k
	}
}

// count tells how probable the counts of two columns of groups are by chance (Pearson's
// chi-squared).
func (p *Pair) count(a []int32, ka int, b []int32, kb int) {
	cells, rows, columns := make([]float64, ka*kb), make([]float64, ka), make([]float64, kb)
	for i := range a {
		if a[i] >= 0 && b[i] >= 0 {
			cells[int(a[i])*kb+int(b[i])]++
			rows[a[i]]++
			columns[b[i]]++
			p.N++
		}
	}
	some := func(counts []float64) (n int) {
		for _, c := range counts {
			if c > 0 {
				n++
			}
		}
		return n
	}
	chi, df := 0.0, float64((some(rows)-1)*(some(columns)-1))
	for i, r := range rows {
		for j, c := range columns {
			if expected := r * c / float64(p.N); expected > 0 {
				chi += (cells[i*kb+j] - expected) * (cells[i*kb+j] - expected) / expected
			}
		}
	}
	if p.chance = 1; df > 0 {
		p.chance = distribution.ChiSquaredSurvival(chi, df)
	}
}

// boxes draws the quartiles of a number by groups, and whiskers to the furthest value within
// 1.5 interquartile ranges: upright where the groups run along x. values are shares of the square, of
// the rows that are shown.
func boxes(panel int, c *Column, values []float64, shown []int, upright bool) []primitive.Layer {
	by := make([][]float64, len(c.Levels))
	codes := sample.Of(c.codes, shown)
	for i, v := range values {
		if g := codes[i]; g >= 0 && !math.IsNaN(v) {
			by[g] = append(by[g], v)
		}
	}
	width := (1 - 2*margin) / float64(len(by))
	var rects, whiskers, middles [4][]float64 // from and to: across, then along
	put := func(into *[4][]float64, across0, across1, low, high float64) {
		for i, v := range []float64{across0, across1, low, high} {
			into[i] = append(into[i], v)
		}
	}
	for g, own := range by {
		if len(own) == 0 {
			continue
		}
		slices.Sort(own)
		q1, median, q3 := describe.Quantile(own, 0.25), describe.Quantile(own, 0.5), describe.Quantile(own, 0.75)
		reach := 1.5 * (q3 - q1)
		low, _ := slices.BinarySearch(own, q1-reach)
		high, _ := slices.BinarySearchFunc(own, q3+reach, func(v, limit float64) int {
			if v <= limit {
				return -1
			}
			return 1
		})
		at := margin + width*(float64(g)+0.5)
		if !upright { // groups are read from the top down
			at = 1 - at
		}
		put(&rects, at-0.3*width, at+0.3*width, q1, q3)
		put(&whiskers, at, at, own[low], own[high-1])
		put(&middles, at-0.3*width, at+0.3*width, median, median)
	}
	layer := func(kind primitive.Kind, p [4][]float64, style primitive.Style) primitive.Layer {
		l := primitive.Layer{Panel: panel, Mark: "boxes", Kind: kind, Count: len(p[0]), Style: style}
		l.X, l.X2, l.Y, l.Y2 = primitive.Shares(p[0]), primitive.Shares(p[1]), primitive.Shares(p[2]), primitive.Shares(p[3])
		if !upright {
			l.X, l.X2, l.Y, l.Y2 = l.Y, l.Y2, l.X, l.X2
		}
		return l
	}
	ink := primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Width: 1.2}
	fill, thick := ink, ink
	fill.Fill, fill.Opacity, fill.Width, thick.Width = true, 0.25, 0, 2
	return []primitive.Layer{
		layer(primitive.Segments, whiskers, ink),
		layer(primitive.Rects, rects, fill),
		layer(primitive.Segments, middles, thick),
	}
}

// largestCount is how much of the room of a cell the largest count takes.
const largestCount = 0.46

// counted draws a dot for each pair of groups, whose area is the number of rows.
func counted(panel int, x, y *Column, side float64) []primitive.Layer {
	kx, ky := len(x.Levels), len(y.Levels)
	cells, most := make([]int, kx*ky), 0
	for i := range x.codes {
		if a, b := x.codes[i], y.codes[i]; a >= 0 && b >= 0 {
			cells[int(a)*ky+int(b)]++
			most = max(most, cells[int(a)*ky+int(b)])
		}
	}
	largest := largestCount * side * (1 - 2*margin) / float64(max(kx, ky))
	l := primitive.Layer{
		Panel: panel,
		Mark:  "counts",
		Kind:  primitive.Points,
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Opacity: 0.75, Largest: largest},
	}
	var xs, ys []float64
	var radii []uint8
	for a := range kx {
		for b := range ky {
			n := cells[a*ky+b]
			if n == 0 {
				continue
			}
			xs = append(xs, margin+(1-2*margin)*(float64(a)+0.5)/float64(kx))
			ys = append(ys, 1-margin-(1-2*margin)*(float64(b)+0.5)/float64(ky))
			radii = append(radii, uint8(max(1, math.Round(255*math.Sqrt(float64(n)/float64(most))))))
		}
	}
	l.Count, l.X, l.Y, l.Radius = len(xs), primitive.Shares(xs), primitive.Shares(ys), primitive.NewArray(radii)
	return []primitive.Layer{l}
}

// bars are how many rows each group of a column has.
func (f *Found) bars(panel int, c *Column) []primitive.Layer {
	counts := make([]int, len(c.Levels))
	for _, code := range c.codes {
		if code >= 0 {
			counts[code]++
		}
	}
	most := max(1, slices.Max(counts))
	width := (1 - 2*margin) / float64(len(counts))
	l := primitive.Layer{
		Panel: panel,
		Mark:  "bars",
		Kind:  primitive.Rects,
		Count: len(counts),
		Style: primitive.Style{Light: primitive.NeutralLight, Dark: primitive.NeutralDark, Fill: true, Opacity: 0.8},
	}
	var xs, x2, ys, y2 []float64
	var entries []uint8
	for g, n := range counts {
		at := margin + width*float64(g)
		xs, x2 = append(xs, at+0.12*width), append(x2, at+0.88*width)
		ys, y2 = append(ys, 0.04), append(y2, 0.04+curveTop*float64(n)/float64(most))
		entries = append(entries, uint8(g))
	}
	l.X, l.X2, l.Y, l.Y2 = primitive.Shares(xs), primitive.Shares(x2), primitive.Shares(ys), primitive.Shares(y2)
	if f.By != nil && f.By.Name == c.Name && len(counts) <= len(colour.Hedgerow.Light) {
		l.Colour, l.Keys = primitive.NewArray(entries), primitive.Keys{Colour: 1}
	}
	return []primitive.Layer{l}
}

// inTableOrder puts columns in the order of the table, those of groups last.
func inTableOrder(t *table.Table, list []*table.Column) {
	place := func(c *table.Column) int { return slices.Index(t.Columns(), c) }
	slices.SortFunc(list, func(a, b *table.Column) int {
		if a.Kind.Groups() != b.Kind.Groups() {
			return cmp.Compare(map[bool]int{true: 1}[a.Kind.Groups()], map[bool]int{true: 1}[b.Kind.Groups()])
		}
		return cmp.Compare(place(a), place(b))
	})
}
