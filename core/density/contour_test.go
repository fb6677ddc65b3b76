package density

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"
)

// TestContoursPartHigherFromLower walks along every line of grids at random: it stays at its
// height, is closed or ends at the rim, and every side whose ends lie on both sides of the height
// is crossed by exactly one line.
func TestContoursPartHigherFromLower(t *testing.T) {
	s := rand.New(rand.NewPCG(5, 1))
	for range 300 {
		columns, rows := 2+s.IntN(12), 2+s.IntN(12)
		grid := make([]float64, columns*rows)
		for i := range grid {
			grid[i] = s.Float64()
		}
		const height = 0.5
		bilinear := func(x, y float64) float64 { return between(grid, columns, rows, x, y) }
		crossed := 0
		for _, line := range Contours(context.Background(), grid, columns, rows, height) {
			n := len(line.X)
			rim := func(k int) bool {
				return line.X[k] == 0 || line.Y[k] == 0 || line.X[k] == float64(columns-1) || line.Y[k] == float64(rows-1)
			}
			closed := line.X[0] == line.X[n-1] && line.Y[0] == line.Y[n-1]
			if !closed && !(rim(0) && rim(n-1)) {
				t.Fatalf("a line from %v, %v to %v, %v ends inside", line.X[0], line.Y[0], line.X[n-1], line.Y[n-1])
			}
			if crossed += n; closed {
				crossed--
			}
			for k := range n {
				if v := bilinear(line.X[k], line.Y[k]); math.Abs(v-height) > 1e-9 {
					t.Fatalf("a line of height %v goes through %v", height, v)
				}
			}
		}
		want := 0
		for j := range rows {
			for i := range columns {
				here := grid[j*columns+i] >= height
				if i+1 < columns && here != (grid[j*columns+i+1] >= height) {
					want++
				}
				if j+1 < rows && here != (grid[(j+1)*columns+i] >= height) {
					want++
				}
			}
		}
		if crossed != want {
			t.Fatalf("%d sides of %d by %d are crossed, want %d", crossed, columns, rows, want)
		}
	}
}
