package density

import (
	"math"
	"slices"
	"sort"

	"copperlark/core/describe"
	"copperlark/core/model"
)

// TwoWay is a density of two columns with a product of Gaussian kernels,
// h = sd n^(-1/6) along each (Scott 1992, Multivariate Density Estimation).
type TwoWay struct {
	N      int
	HX, HY float64
	x, y   []float64
}

// EstimateTwoWay makes a density of complete pairs.
func EstimateTwoWay(x, y []float64) (*TwoWay, error) {
	cx, cy, _ := model.Complete(x, y)
	sx, sy := describe.Summarise(cx), describe.Summarise(cy)
	if sx.N < 2 || sx.Min == sx.Max || sy.Min == sy.Max {
		return nil, ErrNoSpread
	}
	shrink := math.Pow(float64(sx.N), -1.0/6)
	d := &TwoWay{N: sx.N, HX: sx.SD * shrink, HY: sy.SD * shrink}
	d.x, d.y = sortedBy(cx, cy)
	return d, nil
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

// At is the density at (u, v).
func (d *TwoWay) At(u, v float64) float64 {
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
func (d *TwoWay) Levels(masses []float64) []float64 {
	heights := make([]float64, d.N)
	if d.N <= exactHeights {
		for i := range heights {
			heights[i] = d.At(d.x[i], d.y[i])
		}
	} else {
		const side = 256
		lowX, highX := d.x[0], d.x[d.N-1]
		lowY, highY := slices.Min(d.y), slices.Max(d.y)
		grid := d.Grid(lowX, highX, side, lowY, highY, side)
		for i := range heights {
			heights[i] = between(grid, side, side, (d.x[i]-lowX)/(highX-lowX)*(side-1), (d.y[i]-lowY)/(highY-lowY)*(side-1))
		}
	}
	slices.Sort(heights)
	levels := make([]float64, len(masses))
	for i, mass := range masses {
		levels[i] = describe.Quantile(heights, 1-mass)
	}
	return levels
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
func (d *TwoWay) Grid(lowX, highX float64, columns int, lowY, highY float64, rows int) []float64 {
	counts := make([]float64, columns*rows)
	stepX, stepY := (highX-lowX)/float64(columns-1), (highY-lowY)/float64(rows-1)
	for k, x := range d.x {
		u, v := (x-lowX)/stepX, (d.y[k]-lowY)/stepY
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
	along := smoothLines(counts, columns, rows, 1, columns, d.HX/stepX)
	out := smoothLines(along, rows, columns, columns, 1, d.HY/stepY)
	scale := 1 / (float64(d.N) * d.HX * d.HY * 2 * math.Pi)
	for i := range out {
		out[i] *= scale
	}
	return out
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
func (l Lattice) Count(x, y []float64) []Cell {
	counts := map[[2]int]int{}
	for k := range x {
		if math.IsNaN(x[k]) || math.IsNaN(y[k]) {
			continue
		}
		i, j := l.nearest(x[k], y[k])
		counts[[2]int{j, i}]++
	}
	cells := make([]Cell, 0, len(counts))
	for at, count := range counts {
		cells = append(cells, Cell{at[1], at[0], count})
	}
	slices.SortFunc(cells, func(a, b Cell) int {
		if a.J != b.J {
			return a.J - b.J
		}
		return a.I - b.I
	})
	return cells
}

func (l Lattice) nearest(x, y float64) (i, j int) {
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
