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
			const pieces = 10
			from := now.points[len(now.points)-1]
			for i := 1; i <= pieces; i++ {
				t := float64(i) / pieces
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

// Stroked is the outline of a path that is drawn with a line of a width: a box for every
// straight piece and a disc at every joint.
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
			out.Ring(a[0], a[1], half, false)
		}
	}
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
