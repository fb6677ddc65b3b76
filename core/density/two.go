package density

import (
	"context"
	"math"
	"slices"
	"sort"
	"sync"

	"copperlark/core/describe"
	"copperlark/core/magnitude"
	"copperlark/core/model"
	"copperlark/core/parallel"
)

// TwoWay is a density of two columns with a product of Gaussian kernels,
// h = sd n^(-1/6) along each (Scott 1992, Multivariate Density Estimation).
type TwoWay struct {
	N      int
	HX, HY float64
	x, y   []float64 // sorted by x where At is used
	sorted sync.Once

	lowX, highX, lowY, highY float64
}

// EstimateTwoWay makes a density of complete pairs.
func EstimateTwoWay(ctx context.Context, x, y []float64) (*TwoWay, error) {
	cx, cy, _ := model.Complete(x, y)
	if err := magnitude.InRange(cx, cy); err != nil {
		return nil, err
	}
	sx, sy := describe.Moments(ctx, cx), describe.Moments(ctx, cy)
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	if sx.N < 2 || !(sx.Min < sx.Max) || !(sy.Min < sy.Max) {
		return nil, ErrNoSpread
	}
	shrink := math.Pow(float64(sx.N), -1.0/6)
	return &TwoWay{
		N:     sx.N,
		HX:    sx.SD * shrink,
		HY:    sy.SD * shrink,
		x:     cx,
		y:     cy,
		lowX:  sx.Min,
		highX: sx.Max,
		lowY:  sy.Min,
		highY: sy.Max,
	}, nil
}

func sortedBy(x, y []float64) (sx, sy []float64) {
	order := make([]int, len(x))
	for i := range order {
		order[i] = i
	}
	sort.Slice(order, func(i, j int) bool { return x[order[i]] < x[order[j]] })
	sx, sy = make([]float64, len(x)), make([]float64, len(x))
	for i, row := range order {
		sx[i], sy[i] = x[row], y[row]
	}
	return sx, sy
}

func (d *TwoWay) sort() { d.sorted.Do(func() { d.x, d.y = sortedBy(d.x, d.y) }) }

// At is the density at (u, v).
func (d *TwoWay) At(u, v float64) float64 {
	d.sort()
	from, _ := slices.BinarySearch(d.x, u-reach*d.HX)
	to, _ := slices.BinarySearch(d.x, u+reach*d.HX)
	if from == to {
		from, to = 0, d.N
	}
	sum := 0.0
	for i := from; i < to; i++ {
		a, b := (u-d.x[i])/d.HX, (v-d.y[i])/d.HY
		sum += math.Exp(-(a*a + b*b) / 2)
	}
	return sum / (float64(d.N) * d.HX * d.HY * 2 * math.Pi)
}

// exactHeights is the most pairs whose heights are taken one by one.
const exactHeights = 2000

// Levels gives, for each mass such as 0.5, the height whose region holds that
// share of the pairs. Above 2,000 pairs heights are read off a grid.
func (d *TwoWay) Levels(ctx context.Context, masses []float64) ([]float64, error) {
	heights := make([]float64, d.N)
	if d.N <= exactHeights {
		d.sort()
		for i := range heights {
			heights[i] = d.At(d.x[i], d.y[i])
		}
	} else {
		const side = 256
		grid, err := d.Grid(ctx, d.lowX, d.highX, side, d.lowY, d.highY, side)
		if err != nil {
			return nil, err
		}
		scaleX, scaleY := (side-1)/(d.highX-d.lowX), (side-1)/(d.highY-d.lowY)
		err = parallel.Ranges(ctx, d.N, func(_, from, to int) {
			for i := from; i < to; i++ {
				heights[i] = between(grid, side, side, (d.x[i]-d.lowX)*scaleX, (d.y[i]-d.lowY)*scaleY)
			}
		})
		if err != nil {
			return nil, err
		}
	}
	shares := make([]float64, len(masses))
	for i, mass := range masses {
		shares[i] = 1 - mass
	}
	return describe.Quantiles(heights, shares...), ctx.Err()
}

func between(grid []float64, columns, rows int, x, y float64) float64 {
	i, j := min(int(x), columns-2), min(int(y), rows-2)
	s, t := x-float64(i), y-float64(j)
	at := func(i, j int) float64 { return grid[j*columns+i] }
	return (1-s)*(1-t)*at(i, j) + s*(1-t)*at(i+1, j) + (1-s)*t*at(i, j+1) + s*t*at(i+1, j+1)
}

// Grid is the density on a grid of columns by rows points, row by row from the
// lowest y. Pairs are binned linearly on the grid and smoothed along x, then
// along y: the kernel is a product.
func (d *TwoWay) Grid(ctx context.Context, lowX, highX float64, columns int, lowY, highY float64, rows int) ([]float64, error) {
	stepX, stepY := (highX-lowX)/float64(columns-1), (highY-lowY)/float64(rows-1)
	counts, err := added(ctx, d.N, columns*rows, func(counts []float64, from, to int) {
		for k := from; k < to; k++ {
			u, v := (d.x[k]-lowX)/stepX, (d.y[k]-lowY)/stepY
			if u < 0 || v < 0 || u > float64(columns-1) || v > float64(rows-1) {
				continue
			}
			i, j := min(int(u), columns-2), min(int(v), rows-2)
			s, t := u-float64(i), v-float64(j)
			counts[j*columns+i] += (1 - s) * (1 - t)
			counts[j*columns+i+1] += s * (1 - t)
			counts[(j+1)*columns+i] += (1 - s) * t
			counts[(j+1)*columns+i+1] += s * t
		}
	})
	along := smoothLines(counts, columns, rows, 1, columns, d.HX/stepX)
	out := smoothLines(along, rows, columns, columns, 1, d.HY/stepY)
	scale := 1 / (float64(d.N) * d.HX * d.HY * 2 * math.Pi)
	for i := range out {
		out[i] *= scale
	}
	return out, err
}

// smoothLines convolves count lines of the given length with a Gaussian of h
// steps; stride leads along a line, jump from line to line.
func smoothLines(values []float64, length, count, stride, jump int, h float64) []float64 {
	half := min(int(math.Ceil(reach*h)), length)
	kernel := make([]float64, half+1)
	for i := range kernel {
		z := float64(i) / h
		kernel[i] = math.Exp(-z * z / 2)
	}
	out := make([]float64, len(values))
	for line := range count {
		base := line * jump
		for i := range length {
			v := values[base+i*stride]
			if v == 0 {
				continue
			}
			for j := max(0, i-half); j <= min(length-1, i+half); j++ {
				out[base+j*stride] += v * kernel[max(i-j, j-i)]
			}
		}
	}
	return out
}

// Lattice is a lattice of pointy-top hexagons: row j has its centres at
// y = OriginY + j StepY, column i at x = OriginX + (i + s/2) StepX, where s is 1 in
// odd rows.
type Lattice struct{ OriginX, OriginY, StepX, StepY float64 }

// Cell is a hexagon that holds points.
type Cell struct{ I, J, Count int }

// Count puts complete pairs into the hexagon whose centre is nearest in
// ((x-cx)/StepX)² + 3/4((y-cy)/StepY)², the distance once the hexagons are drawn
// regular (Carr, Littlefield, Nicholson and Littlefield 1987, "Scatterplot matrix
// techniques for large N", JASA 82). Cells are sorted by row, then column.
func (l Lattice) Count(ctx context.Context, x, y []float64) ([]Cell, error) {
	lowX, highX, lowY, highY := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
	for k, v := range x {
		if w := y[k]; v == v && w == w { // neither is NaN
			lowX, highX, lowY, highY = min(lowX, v), max(highX, v), min(lowY, w), max(highY, w)
		}
	}
	if lowX > highX {
		return []Cell{}, ctx.Err()
	}
	if !(max(math.Abs(lowX-l.OriginX), math.Abs(highX-l.OriginX)) < mostCells*l.StepX) ||
		!(max(math.Abs(lowY-l.OriginY), math.Abs(highY-l.OriginY)) < mostCells*l.StepY) {
		return nil, magnitude.ErrOutOfRange
	}
	fromI, fromJ := int(math.Floor((lowX-l.OriginX)/l.StepX))-1, int(math.Floor((lowY-l.OriginY)/l.StepY))-1
	columns, rows := int((highX-l.OriginX)/l.StepX)+2-fromI, int((highY-l.OriginY)/l.StepY)+2-fromJ
	var cells []Cell
	if columns*rows <= denseCells {
		counts, err := added(ctx, len(x), columns*rows, func(counts []int, from, to int) {
			for k := from; k < to; k++ {
				if x[k] == x[k] && y[k] == y[k] {
					i, j := l.Nearest(x[k], y[k])
					counts[(j-fromJ)*columns+i-fromI]++
				}
			}
		})
		for at, count := range counts {
			if count > 0 {
				cells = append(cells, Cell{fromI + at%columns, fromJ + at/columns, count})
			}
		}
		return cells, err
	}
	counts := map[[2]int]int{}
	for k := range x {
		if x[k] == x[k] && y[k] == y[k] {
			i, j := l.Nearest(x[k], y[k])
			counts[[2]int{j, i}]++
		}
	}
	for at, count := range counts {
		cells = append(cells, Cell{at[1], at[0], count})
	}
	slices.SortFunc(cells, func(a, b Cell) int {
		if a.J != b.J {
			return a.J - b.J
		}
		return a.I - b.I
	})
	return cells, ctx.Err()
}

// added counts on all cores, each worker into an array of its own, and adds the
// arrays up.
func added[T int | float64](ctx context.Context, n, size int, count func(into []T, from, to int)) ([]T, error) {
	partial := make([][]T, parallel.Workers(n))
	for w := range partial {
		partial[w] = make([]T, size)
	}
	err := parallel.Ranges(ctx, n, func(worker, from, to int) { count(partial[worker], from, to) })
	total := partial[0]
	for _, other := range partial[1:] {
		for i, v := range other {
			total[i] += v
		}
	}
	return total, err
}

// mostCells is how many cells from its origin a lattice reaches.
const mostCells = 1 << 30

// denseCells is the largest lattice that is counted in one array.
const denseCells = 1 << 22

// Nearest is the hexagon of a point: its column and its row.
func (l Lattice) Nearest(x, y float64) (i, j int) {
	v := (y - l.OriginY) / l.StepY
	best := math.Inf(1)
	for row := int(math.Floor(v)); row <= int(math.Floor(v))+1; row++ {
		shift := 0.0
		if row&1 != 0 {
			shift = 0.5
		}
		u := (x-l.OriginX)/l.StepX - shift
		column := math.Round(u)
		du, dv := u-column, v-float64(row)
		if distance := du*du + 0.75*dv*dv; distance < best {
			best, i, j = distance, int(column), row
		}
	}
	return i, j
}
