package figure

import (
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"copperlark/core/table"
)

// TestCellsHoldTheirRows holds that every row is in one cell, that a cell holds the rows that
// lie within it, that more rows are never coloured as fewer, and that the cells of all panels
// are the same.
func TestCellsHoldTheirRows(t *testing.T) {
	s := rand.New(rand.NewPCG(2, 2))
	for _, n := range []int{1, 2, 37, 4000} {
		x, y, g := make([]float64, n), make([]float64, n), make([]string, n)
		for i := range n {
			x[i], y[i], g[i] = s.NormFloat64(), 3*s.NormFloat64(), []string{"a", "b"}[i%2]
		}
		data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("g", g))
		if err != nil {
			t.Fatal(err)
		}
		for _, mark := range []string{"hexagons", "squares"} {
			for _, more := range []string{"", "\npanels by g"} {
				f, problems := draw(t, data, "plot y against x\nas "+mark+more)
				if problems != nil {
					t.Fatal(problems)
				}
				total := 0
				step := map[int]int{} // by count
				widths := map[string]bool{}
				for _, l := range f.Layers {
					sx := &f.Scales[f.Panels[l.Panel].X]
					sy := &f.Scales[f.Panels[l.Panel].Y]
					for i := range l.Count {
						from, to := l.Vertices(i)
						lowX, highX, lowY, highY := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
						for k := from; k < to; k++ {
							u, v := sx.From+(sx.To-sx.From)*l.X.At(k), sy.From+(sy.To-sy.From)*l.Y.At(k)
							lowX, highX, lowY, highY = min(lowX, u), max(highX, u), min(lowY, v), max(highY, v)
						}
						count, err := strconv.Atoi(strings.ReplaceAll(l.Cards[i].Facts[0].Value, ",", ""))
						if err != nil {
							t.Fatal(err)
						}
						total += count
						widths[strconv.FormatFloat(highX-lowX, 'f', 2, 64)] = true
						if old, known := step[count]; known && old != int(l.Colour.At(i)) {
							t.Errorf("%s: %d rows have two colours", mark, count)
						}
						step[count] = int(l.Colour.At(i))
						within := 0
						for j := range n {
							if x[j] >= lowX-1e-3 && x[j] <= highX+1e-3 && y[j] >= lowY-1e-3 && y[j] <= highY+1e-3 &&
								(more == "" || g[j] == f.Panels[l.Panel].Titles[0]) {
								within++
							}
						}
						if within < count {
							t.Errorf("%s of %d rows: a cell of %d holds %d", mark, n, count, within)
						}
					}
				}
				if total != n || len(widths) != 1 {
					t.Errorf("%s%s of %d rows: cells hold %d, and are %v wide", mark, more, n, total, widths)
				}
				for few, a := range step {
					for many, b := range step {
						if few < many && a > b {
							t.Errorf("%s: %d rows are darker than %d", mark, few, many)
						}
					}
				}
				if key := f.Key("colour"); key == nil || key.Gradient == nil || key.Gradient.High <= key.Gradient.Low {
					t.Errorf("%s of %d rows: the key is %+v", mark, n, key)
				}
			}
		}
	}
}
