package primitive

import "math"

// How crowded points are shaded. A cell is so many pixels wide and high; from ShadeFrom layers of
// paint on, counted as optical depth (3: 95 of 100 parts of the light are held back), what lies below
// cannot be seen any more, and more of it is told by shade.
const (
	ShadeCell  = 4.0
	ShadeFrom  = 3.0
	ShadeMost  = 0.6  // how much of the shade the most crowded cell has
	shadeRange = 10.0 // the most crowded cell counts as at least so many times ShadeFrom
	mostOpaque = 0.98 // a dot that hides all counts as one that hides so much
)

// Shades are how strongly each cell of a panel is shaded, from 0 to ShadeMost, row by row from the top.
type Shades struct {
	Columns, Rows int
	Values        []float64
}

// scatter spreads whole numbers (Knuth, The Art of Computer Programming, vol. 3, 6.4).
const scatter = 2_654_435_761

// Shades tells how many points lie over each other in each cell of a panel of a size in pixels: the
// optical depth of a cell is the area of its points over its own, times -ln(1 - opacity), as a mean
// over the cell and its neighbours; its shade goes with the logarithm of that from ShadeFrom to the
// deepest. One of each stride points is looked at. nil: no cell is as deep as ShadeFrom.
func (l *Layer) Shades(width, height float64, stride int) *Shades {
	s := &Shades{Columns: int(math.Ceil(width / ShadeCell)), Rows: int(math.Ceil(height / ShadeCell))}
	if s.Columns < 1 || s.Rows < 1 || l.Count == 0 {
		return nil
	}
	opacity := l.Style.Opacity
	if opacity == 0 {
		opacity = 1
	}
	paint := -math.Log(1-min(opacity, mostOpaque)) * math.Pi / (ShadeCell * ShadeCell) * float64(stride)
	depths := make([]float64, s.Columns*s.Rows)
	for k := 0; k*stride < l.Count; k++ { // one of each so many, not every so-many-th: points may come in turn
		i := k*stride + int(uint32(k)*scatter>>16)%stride
		if i >= l.Count {
			break
		}
		column, row := math.Floor(l.X.At(i)*width/ShadeCell), math.Floor((1-l.Y.At(i))*height/ShadeCell)
		if !(column >= 0 && row >= 0 && column < float64(s.Columns) && row < float64(s.Rows)) {
			continue
		}
		radius := l.Style.Fixed
		if l.Radius.Len() > 0 {
			radius = l.Radius.At(i) * l.Style.Largest / 255
		}
		depths[int(row)*s.Columns+int(column)] += paint * radius * radius
	}
	return s.of(depths)
}

// of smooths depths over neighbours and turns them into shades.
func (s *Shades) of(depths []float64) *Shades {
	smooth, deepest := make([]float64, len(depths)), 0.0
	for row := range s.Rows {
		for column := range s.Columns {
			sum, n := 0.0, 0.0
			for r := max(row-1, 0); r <= min(row+1, s.Rows-1); r++ {
				for c := max(column-1, 0); c <= min(column+1, s.Columns-1); c++ {
					sum, n = sum+depths[r*s.Columns+c], n+1
				}
			}
			at := row*s.Columns + column
			smooth[at] = sum / n
			deepest = max(deepest, smooth[at])
		}
	}
	if !(deepest > ShadeFrom) {
		return nil
	}
	whole := math.Log(max(deepest/ShadeFrom, shadeRange))
	for i, depth := range smooth {
		smooth[i] = 0
		if depth > ShadeFrom {
			smooth[i] = ShadeMost * math.Log(depth/ShadeFrom) / whole
		}
	}
	s.Values = smooth
	return s
}
