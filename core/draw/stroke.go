package draw

import "math"

// Bounds is the smallest box around all points of a path.
func (p *Path) Bounds() (low, high [2]float64) {
	low, high = [2]float64{math.Inf(1), math.Inf(1)}, [2]float64{math.Inf(-1), math.Inf(-1)}
	for i, v := range p.Points {
		low[i&1], high[i&1] = min(low[i&1], v), max(high[i&1], v)
	}
	if len(p.Points) == 0 {
		return [2]float64{}, [2]float64{}
	}
	return low, high
}

// line is a stretch of a path as straight pieces.
type line struct {
	points [][2]float64
	closed bool
}

// flattened gives the stretches of a path as straight pieces, curves in as many as an eye
// cannot tell apart.
func flattened(p *Path) (lines []line) {
	var now line
	end := func() {
		if len(now.points) > 0 {
			lines = append(lines, now)
		}
		now = line{}
	}
	p.Walk(func(op Op, at []float64) {
		switch op {
		case MoveTo:
			end()
			now.points = append(now.points, [2]float64{at[0], at[1]})
		case LineTo:
			now.points = append(now.points, [2]float64{at[0], at[1]})
		case CurveTo:
			from := now.points[len(now.points)-1]
			pieces := piecesOf(from, at)
			for i := 1; i <= pieces; i++ {
				t := float64(i) / float64(pieces)
				s := 1 - t
				x := s*s*s*from[0] + 3*s*s*t*at[0] + 3*s*t*t*at[2] + t*t*t*at[4]
				y := s*s*s*from[1] + 3*s*s*t*at[1] + 3*s*t*t*at[3] + t*t*t*at[5]
				now.points = append(now.points, [2]float64{x, y})
			}
		case Close:
			now.closed = true
			end()
		}
	})
	end()
	return lines
}

// mostPieces is in how many straight pieces a curve is cut at most.
const mostPieces = 10

// piecesOf is in how many pieces a curve is cut: a short one, as letters have, in few. A chord leaves its curve by less than its
// length by four times the square of the pieces, a tenth of a pixel with as many as this.
func piecesOf(from [2]float64, at []float64) int {
	length := math.Hypot(at[0]-from[0], at[1]-from[1]) + math.Hypot(at[2]-at[0], at[3]-at[1]) + math.Hypot(at[4]-at[2], at[5]-at[3])
	if !(length < mostPieces*mostPieces) {
		return mostPieces
	}
	return min(max(int(math.Ceil(math.Sqrt(2.5*length))), 2), mostPieces)
}

// Stroked is the outline of a path that is drawn with a line of a width: a box for every
// straight piece, and at every joint a disc, or a wedge where the line hardly turns.
func Stroked(p *Path, width float64, dash []float64) *Path {
	out := &Path{}
	for _, l := range flattened(p) {
		points := l.points
		if l.closed && len(points) > 1 {
			points = append(points[:len(points):len(points)], points[0])
		}
		for _, piece := range dashed(points, dash) {
			strokeLine(out, piece, width/2, l.closed && len(dash) == 0)
		}
	}
	return out
}

func strokeLine(out *Path, points [][2]float64, half float64, closed bool) {
	var before [2]float64 // half the width across the piece before, {0, 0} for none
	for i := 1; i < len(points); i++ {
		a, b := points[i-1], points[i]
		dx, dy := b[0]-a[0], b[1]-a[1]
		length := math.Hypot(dx, dy)
		if length == 0 {
			continue
		}
		nx, ny := -dy/length*half, dx/length*half
		// All pieces run the same way round, so that where they overlap they add up.
		out.Move(a[0]+nx, a[1]+ny)
		out.Line(a[0]-nx, a[1]-ny)
		out.Line(b[0]-nx, b[1]-ny)
		out.Line(b[0]+nx, b[1]+ny)
		out.End()
		if half > 0.6 && (i > 1 || closed) {
			joint(out, a, before, [2]float64{nx, ny}, half)
		}
		before = [2]float64{nx, ny}
	}
}

// slightTurn is the cosine of a turn up to which a wedge fills a joint: a disc would stand out by a fortieth of the half width.
const slightTurn = 0.9

// joint fills the gap between two pieces on the outer side of their turn.
func joint(out *Path, at, before, after [2]float64, half float64) {
	cosine := (before[0]*after[0] + before[1]*after[1]) / (half * half)
	if cosine < slightTurn {
		out.Ring(at[0], at[1], half, false)
		return
	}
	side := 1.0 // where the line turns to the side of its normal, the gap is on the other one
	if before[0]*after[1]-before[1]*after[0] > 0 {
		side = -1
	}
	first, second := before, after
	if side > 0 {
		first, second = after, before
	}
	out.Move(at[0], at[1])
	out.Line(at[0]+side*first[0], at[1]+side*first[1])
	out.Line(at[0]+side*second[0], at[1]+side*second[1])
	out.End()
}

// mostDashes is how many dashes a line is cut into.
const mostDashes = 20_000

// dashed cuts a line into dashes.
func dashed(points [][2]float64, dash []float64) [][][2]float64 {
	total, way := 0.0, 0.0
	for _, d := range dash {
		total += max(d, 0)
	}
	for i := 1; i < len(points); i++ {
		way += math.Hypot(points[i][0]-points[i-1][0], points[i][1]-points[i-1][1])
	}
	if !(way/total < mostDashes) { // no dashes, too many, or a way without end
		return [][][2]float64{points}
	}
	var out [][][2]float64
	at, left, on := 0, max(dash[0], 0.01), true
	now := [][2]float64{points[0]}
	for i := 1; i < len(points); i++ {
		a, b := points[i-1], points[i]
		length := math.Hypot(b[0]-a[0], b[1]-a[1])
		for done := 0.0; length-done > 1e-9; {
			take := min(left, length-done)
			done += take
			left -= take
			share := done / length
			here := [2]float64{a[0] + share*(b[0]-a[0]), a[1] + share*(b[1]-a[1])}
			if on {
				now = append(now, here)
			}
			if left <= 1e-9 {
				if on {
					out = append(out, now)
				}
				at = (at + 1) % len(dash)
				left, on, now = max(dash[at], 0.01), !on, [][2]float64{here}
			}
		}
	}
	if on && len(now) > 1 {
		out = append(out, now)
	}
	return out
}
