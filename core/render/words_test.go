package render

import (
	"context"
	"fmt"
	"image"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/draw"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// wordsPen notes the words that leave the paper by more than an eye forgives.
type wordsPen struct {
	width, height float64
	away          []string
}

func (*wordsPen) Open(string)                          {}
func (*wordsPen) Clip(string, figure.Box)              {}
func (*wordsPen) Close()                               {}
func (*wordsPen) Path(*draw.Path, draw.Paint)          {}
func (*wordsPen) Circle(_, _, _ float64, _ draw.Paint) {}
func (*wordsPen) Picture(figure.Box, image.Image)      {}
func (p *wordsPen) Text(w draw.Words) {
	low, high := draw.Outline(w).Bounds()
	const forgiven = 6
	if low[0] < -forgiven || low[1] < -forgiven || high[0] > p.width+forgiven || high[1] > p.height+forgiven {
		p.away = append(p.away, fmt.Sprintf("%q from %.0f, %.0f to %.0f, %.0f", w.Text, low[0], low[1], high[0], high[1]))
	}
}

// TestWordsStayOnThePaper draws sentences at random with strange tables on papers of many
// sizes.
func TestWordsStayOnThePaper(t *testing.T) {
	source := rand.New(rand.NewPCG(99, 1))
	pick := func(l ...string) string { return l[source.IntN(len(l))] }
	wide := func(n int) *table.Table {
		x, y, k := make([]float64, n), make([]float64, n), make([]float64, n)
		g, h := make([]string, n), make([]string, n)
		d := make([]float64, n)
		many := []string{"A very long name of a group that never ends, really", "b", "כוורת", "蜂蜜の収穫量", "Zz", "x y z", "Ωmega"}
		for i := range x {
			x[i] = math.Pow(10, -9+21*source.Float64())
			y[i] = (source.Float64() - 0.3) * math.Pow(10, 6*source.Float64())
			k[i] = float64(source.IntN(5) + 2027)
			g[i], h[i] = many[source.IntN(1+source.IntN(7))], fmt.Sprint("stand number ", source.IntN(50))
			d[i] = 1.9e9 + 86400*float64(source.IntN(3000))
		}
		return tableOf(numbers("x", x...), numbers("y", y...), numbers("k", k...), table.NewCategory("g", g), table.NewCategory("h", h),
			&table.Column{Name: "d", Kind: table.Date, Grain: table.Day, Numbers: d})
	}
	n := 0
	for n < 150 {
		data := wide([]int{1, 2, 5, 40, 300}[source.IntN(5)])
		typed := "plot " + pick("y", "x", "k", "d", "g", "h", "count()", "mean(y)", "sum(x)", "median(x)") + " against " +
			pick("x", "y", "k", "d", "g", "h", "k as groups", "mean(y)")
		if source.IntN(8) == 0 {
			typed = "plot spread of " + pick("x", "y", "k", "d")
		}
		if source.IntN(2) == 0 {
			typed += "\n" + pick("log x", "log y", "near-linear at zero y", "near-linear at zero x", "log x base 2")
		}
		if source.IntN(2) == 0 {
			typed += "\ncolour by " + pick("g", "k", "x", "d")
		}
		if source.IntN(3) == 0 {
			typed += "\nas " + pick("dots", "line", "steps", "bars", "boxes", "stems", "line and dots")
		}
		if source.IntN(3) == 0 {
			typed += "\npanels " + pick("by k", "by g", "k by g", "by g each with own x and y")
		}
		if source.IntN(3) == 0 {
			typed += "\n" + pick("fit line for each g and overall with band 95%", "fit line", "fit spline", "line at mean(y)",
				"line at x = 5 named 'five'")
		}
		if source.IntN(4) == 0 {
			typed += "\ntitle 'What " + pick("we", "the keepers of the upper valley and all of their many friends who came along") + " saw'"
		}
		d, mistakes := sentence.Parse(typed, data)
		if mistakes != nil {
			t.Fatal(typed, mistakes[0])
		}
		d = mark.Bind(d, data).Document
		sizes := [][2]float64{{720, 460}, {320, 260}, {1400, 500}, {500, 700}}
		size := sizes[source.IntN(4)]
		f, problems, err := figure.Build(context.Background(), mark.Bind(d, data),
			figure.Options{Width: size[0], Height: size[1], Metrics: text.Hanken()})
		if err != nil {
			t.Fatal(err)
		}
		if problems != nil {
			continue
		}
		n++
		pen := &wordsPen{width: size[0], height: size[1]}
		draw.Draw(f, pen, draw.Options{})
		if len(pen.away) > 0 {
			t.Errorf("%s on %v: %v", typed, size, pen.away[0])
		}
	}
}
