package smooth

import (
	"cmp"
	"math"
	"slices"
	"sort"

	"copperlark/core/magnitude"
	"copperlark/core/model"
)

// points are rows gathered by x: the mean x and y of each gathering, how many
// rows it holds, and their spread of y about its mean. Distinct x in rising
// order.
type points struct {
	x, y, count []float64
	rows        int
	within      float64 // Σ of the squares of y about the means, over all gatherings
}

// gatheredAbove is the number of rows above which neighbouring rows are gathered
// even where their x differ; gatherings is about how many remain. A gathering
// then spans at most 1/1200 of the axis or holds at most 1/1200 of the rows,
// which is below a pixel of any chart. It is not only for speed: with many more
// knots, some of them nearly equal, a spline's equations lose all their digits.
const (
	gatheredAbove = exactRows
	gatherings    = 1200
	fineBins      = 1 << 16
)

// gather puts rows of equal x together, and neighbours where there are many.
func gather(x, y []float64) *points {
	if len(x) > gatheredAbove {
		return gatherMany(x, y)
	}
	sx, sy := sortedPairs(x, y)
	p := &points{rows: len(x)}
	for from := 0; from < len(sx); {
		to, sum := from, 0.0
		for to < len(sx) && sx[to] == sx[from] {
			sum += sy[to]
			to++
		}
		n := float64(to - from)
		mean := sum / n
		for _, v := range sy[from:to] {
			p.within += (v - mean) * (v - mean)
		}
		p.x, p.y, p.count = append(p.x, sx[from]), append(p.y, mean), append(p.count, n)
		from = to
	}
	return p
}

func gatherMany(x, y []float64) *points {
	low, high, total := math.Inf(1), math.Inf(-1), 0.0
	for i, v := range x {
		low, high = min(low, v), max(high, v)
		total += y[i]
	}
	p := &points{rows: len(x)}
	if low == high {
		return &points{x: []float64{low}, y: []float64{total / float64(len(x))}, count: []float64{float64(len(x))}, rows: len(x)}
	}
	origin := total / float64(len(y)) // sums of squares are taken about it
	type bin struct{ n, x, y, yy float64 }
	bins := make([]bin, fineBins)
	scale := float64(fineBins) / (high - low)
	for i, v := range x {
		b := &bins[min(int((v-low)*scale), fineBins-1)]
		w := y[i] - origin
		b.n++
		b.x += v
		b.y += w
		b.yy += w * w
	}
	limit := float64(len(x)) / gatherings
	var current bin
	width := 0
	flush := func() {
		if current.n > 0 {
			p.x, p.y, p.count = append(p.x, current.x/current.n), append(p.y, origin+current.y/current.n), append(p.count, current.n)
			p.within += max(0, current.yy-current.y*current.y/current.n)
		}
		current, width = bin{}, 0
	}
	for _, b := range bins {
		if current.n > 0 && (current.n+b.n > limit || width >= fineBins/gatherings) {
			flush()
		}
		current.n += b.n
		current.x += b.x
		current.y += b.y
		current.yy += b.yy
		width++
	}
	flush()
	return p
}

// gathered are the rows of bins of x.
func gathered(bins []model.Sums) (*points, error) {
	p := &points{}
	most := [2]float64{}
	for _, b := range slices.SortedFunc(slices.Values(bins), func(a, b model.Sums) int { return cmp.Compare(a.XMean, b.XMean) }) {
		if b.N == 0 {
			continue
		}
		p.rows += int(b.N)
		p.within += b.Syy
		most[0], most[1] = max(most[0], math.Abs(b.XMin), math.Abs(b.XMax)), max(most[1], b.YMost)
		p.x, p.y, p.count = append(p.x, b.XMean), append(p.y, b.YMean), append(p.count, b.N)
	}
	if !magnitude.Within(most[0]) || !magnitude.Within(most[1]) {
		return nil, magnitude.ErrOutOfRange
	}
	return p, nil
}

// sortedPairs copies both columns in rising order of x.
func sortedPairs(x, y []float64) (sx, sy []float64) {
	order := make([]int, len(x))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(i, j int) bool { return x[order[i]] < x[order[j]] })
	sx, sy = make([]float64, len(x)), make([]float64, len(x))
	for i, row := range order {
		sx[i], sy[i] = x[row], y[row]
	}
	return sx, sy
}

// spread is Σ(y - ȳ)² over all rows.
func (p *points) spread() float64 {
	mean := 0.0
	for i, v := range p.y {
		mean += v * p.count[i] / float64(p.rows)
	}
	total := p.within
	for i, v := range p.y {
		total += p.count[i] * (v - mean) * (v - mean)
	}
	return total
}
