package density

import "context"

// Line is a line of equal height through a grid, in steps of the grid from its first point.
// A closed one ends where it began.
type Line struct{ X, Y []float64 }

// Contours gives the lines where a grid of columns by rows points, row by row, has a height.
// Each square between four points is cut by straight lines, where both diagonals lie on
// different sides as the mean of the four tells (marching squares; Lorensen and Cline 1987,
// SIGGRAPH, in the plane). Lines that meet are one. The context stops the work.
func Contours(ctx context.Context, grid []float64, columns, rows int, height float64) (lines []Line) {
	next := map[edgeAt]edgeAt{} // from where a line enters a square to where it leaves it
	before := map[edgeAt]bool{}
	place := map[edgeAt][2]float64{}
	at := func(i, j int) float64 { return grid[j*columns+i] }
	for j := range rows - 1 {
		if ctx.Err() != nil {
			return nil
		}
		for i := range columns - 1 {
			corners := [4]float64{at(i, j), at(i+1, j), at(i+1, j+1), at(i, j+1)}
			for _, cut := range cuts(corners, height) {
				from, to := sideOf(i, j, cut[0]), sideOf(i, j, cut[1])
				for k, side := range []edgeAt{from, to} {
					place[side] = crossing(i, j, cut[k], corners, height)
				}
				next[from], before[to] = to, true
			}
		}
	}
	follow := func(start edgeAt) {
		line := Line{}
		for side := start; ; {
			line.X, line.Y = append(line.X, place[side][0]), append(line.Y, place[side][1])
			after, goes := next[side]
			if !goes {
				break
			}
			delete(next, side)
			side = after
		}
		if len(line.X) > 1 {
			lines = append(lines, line)
		}
	}
	// In the order of the grid, so that the same grid gives the same lines: first those that
	// begin at its rim, then those that are closed.
	for _, open := range []bool{true, false} {
		for j := range rows {
			if ctx.Err() != nil {
				return nil
			}
			for i := range columns {
				for upright := range 2 {
					side := edgeAt{i, j, upright == 1}
					if _, goes := next[side]; goes && (!open || !before[side]) {
						follow(side)
					}
				}
			}
		}
	}
	return lines
}

// edgeAt is a side between two neighbours of the grid: from point i, j to the right, or upright.
type edgeAt struct {
	i, j    int
	upright bool
}

// The sides of a square: below, right, above, left.
func sideOf(i, j, side int) edgeAt {
	switch side {
	case 0:
		return edgeAt{i, j, false}
	case 1:
		return edgeAt{i + 1, j, true}
	case 2:
		return edgeAt{i, j + 1, false}
	}
	return edgeAt{i, j, true}
}

// crossing is where the height lies on a side.
func crossing(i, j, side int, corners [4]float64, height float64) [2]float64 {
	share := func(a, b float64) float64 { return (height - a) / (b - a) }
	x, y := float64(i), float64(j)
	switch side {
	case 0:
		return [2]float64{x + share(corners[0], corners[1]), y}
	case 1:
		return [2]float64{x + 1, y + share(corners[1], corners[2])}
	case 2:
		return [2]float64{x + share(corners[3], corners[2]), y + 1}
	}
	return [2]float64{x, y + share(corners[0], corners[3])}
}

// cuts are the lines through a square, each from one side to another with what is higher on
// its left.
func cuts(corners [4]float64, height float64) [][2]int {
	code := 0
	for k, v := range corners {
		if v >= height {
			code |= 1 << k
		}
	}
	switch code {
	case 1:
		return [][2]int{{0, 3}}
	case 2:
		return [][2]int{{1, 0}}
	case 3:
		return [][2]int{{1, 3}}
	case 4:
		return [][2]int{{2, 1}}
	case 6:
		return [][2]int{{2, 0}}
	case 7:
		return [][2]int{{2, 3}}
	case 8:
		return [][2]int{{3, 2}}
	case 9:
		return [][2]int{{0, 2}}
	case 11:
		return [][2]int{{1, 2}}
	case 12:
		return [][2]int{{3, 1}}
	case 13:
		return [][2]int{{0, 1}}
	case 14:
		return [][2]int{{3, 0}}
	case 5, 10:
		together := (corners[0]+corners[1]+corners[2]+corners[3])/4 >= height
		if (code == 5) == together {
			return map[bool][][2]int{true: {{0, 1}, {2, 3}}, false: {{1, 2}, {3, 0}}}[code == 5]
		}
		return map[bool][][2]int{true: {{0, 3}, {2, 1}}, false: {{1, 0}, {3, 2}}}[code == 5]
	}
	return nil
}
