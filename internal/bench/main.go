// Command bench measures the core beside baselines of the same run, and prints
// docs/benchmarks.md. Machines differ and are shared, so that ratios are what
// counts; the times are this run's.
package main

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"runtime"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"
	"time"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/density"
	"copperlark/core/describe"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/pairs"
	"copperlark/core/smooth"
	"copperlark/core/table"
	"copperlark/core/text"
)

const rows = 1_000_000

// median runs the work until a second has passed, at least three times, and gives
// the median time.
func median(work func()) time.Duration {
	took, _ := medians(work, nil)
	return took
}

// medians runs the work and its baseline in turns, so that a machine that is busy for
// a while is busy for both, and gives the median time of each.
func medians(work, baseline func()) (took, base time.Duration) {
	var times, baseTimes []time.Duration
	timed := func(run func()) time.Duration {
		start := time.Now()
		run()
		return time.Since(start)
	}
	for begin := time.Now(); len(times) < 3 || (time.Since(begin) < time.Second && len(times) < 200); {
		times = append(times, timed(work))
		if baseline != nil {
			baseTimes = append(baseTimes, timed(baseline))
		}
	}
	slices.Sort(times)
	if baseline != nil {
		slices.Sort(baseTimes)
		base = baseTimes[len(baseTimes)/2]
	}
	return times[len(times)/2], base
}

type report struct{ lines []string }

func (r *report) row(what, target string, took, baseline time.Duration) {
	ratio := ""
	if baseline > 0 {
		ratio = fmt.Sprintf("%.2f", float64(took)/float64(baseline))
	}
	r.lines = append(r.lines, fmt.Sprintf("| %s | %s | %s | %s |", what, milliseconds(took), ratio, target))
	fmt.Fprintln(os.Stderr, r.lines[len(r.lines)-1])
}

func milliseconds(d time.Duration) string {
	return strconv.FormatFloat(float64(d.Microseconds())/1000, 'f', 1, 64) + " ms"
}

var ctx = context.Background()

func main() {
	r := &report{}
	debug.SetGCPercent(30) // as the program runs
	source := rand.New(rand.NewPCG(1, 1))
	x, y, z := make([]float64, rows), make([]float64, rows), make([]float64, rows)
	group, all := make([]int32, rows), make([]uint32, rows)
	for i := range x {
		group[i], all[i] = int32(source.IntN(5)), uint32(i)
		x[i] = source.NormFloat64() + float64(group[i])
		z[i] = source.NormFloat64()
		y[i] = 2*x[i] - 3*float64(group[i]) + math.Sin(x[i]) + z[i]
	}
	if len(os.Args) > 1 { // go run ./internal/bench reading, load, press, hostile, story, scripts, together or marks
		map[string]func(*report){"reading": benchReading, "load": benchLoad, "press": benchPress, "hostile": benchHostile, "story": benchStory,
			"scripts": benchScripts, "elsewhere": benchElsewhere, "together": benchTogether, "front": benchFront,
			"marks": func(r *report) { benchMarks(r, x, y, group) }}[os.Args[1]](
			r,
		)
		return
	}
	benchReading(r)
	benchModels(r, x, y, group)
	benchDensities(r, x, y)
	benchCorrelations(r, x, y, source)
	benchConfounding(r, x, y, all, source)
	benchFigures(r, x, y, z, group)
	benchMarks(r, x, y, group)
	benchPress(r)
	benchLoad(r)
	benchHostile(r)
	benchScripts(r)
	benchTogether(r)
	benchFront(r)
	fmt.Printf(
		"# Benchmarks\n\nThe last run of `make bench`: %s, %d cores, %s. Ratios are to the baseline named in the row's target,\nrun in turns with it; machines differ and are shared, so that times differ by a third from one run to the next.\n\n| work, 1,000,000 rows unless said | median | ratio | target |\n| --- | ---: | ---: | --- |\n%s\n",
		time.Now().UTC().Format("2 January 2006"),
		runtime.NumCPU(),
		runtime.Version(),
		strings.Join(r.lines, "\n"),
	)
}

func plainPass(x, y []float64) {
	var sx, sy, sxx, sxy float64
	for i, v := range x {
		w := y[i]
		sx += v
		sy += w
		sxx += v * v
		sxy += v * w
	}
	runtime.KeepAlive(sx + sy + sxx + sxy) // else the compiler could leave out what nobody reads
}

func check(err error) {
	if err != nil {
		panic(err)
	}
}

func benchModels(r *report, x, y []float64, group []int32) {
	plain := func() { plainPass(x, y) }
	paired := func(what, target string, work func()) {
		took, base := medians(work, plain)
		r.row(what, target, took, base)
	}
	r.row("baseline: one plain pass that sums x, y, xx, xy", "", median(plain), 0)
	paired("line with band, R squared, n", "at most 6 passes", func() {
		lines, _ := model.FitLines(ctx, x, y, nil, 1)
		lines[0].Band(0.95)
	})
	paired("the same for each of 5 groups and overall", "at most 10 passes", func() {
		model.FitLines(ctx, x, y, nil, 1)
		model.FitLines(ctx, x, y, group, 5)
	})
	paired("polynomial of degree 3 with band", "at most 20 passes", func() {
		p, err := model.FitPolynomial(ctx, x, y, 3)
		check(err)
		p.Band(0.95)
	})
	at := func(band func(float64) model.Interval) {
		for i := range 200 {
			band(-2 + 8*float64(i)/199)
		}
	}
	r.row("local regression with band, on 200 points of x", "300 ms", median(func() {
		l, err := smooth.FitLocal(ctx, x, y, 0.75, 1)
		check(err)
		at(l.Band(0.95))
	}), 0)
	r.row("smoothing spline with cross-validation and band", "500 ms", median(func() {
		s, err := smooth.FitSpline(ctx, x, y, smooth.Usual)
		check(err)
		at(s.Band(0.95))
	}), 0)
}

func benchDensities(r *report, x, y []float64) {
	r.row("density on 200 points", "30 ms", median(func() {
		d, err := density.Estimate(ctx, x, density.Silverman)
		check(err)
		_, err = d.Grid(ctx, -5, 10, 200)
		check(err)
	}), 0)
	r.row("hexagons", "30 ms", median(func() {
		_, err := density.Lattice{StepX: 0.2, StepY: 0.2}.Count(ctx, x, y)
		check(err)
	}), 0)
	r.row("two-way density with levels", "80 ms", median(func() {
		d, err := density.EstimateTwoWay(ctx, x, y)
		check(err)
		_, err = d.Levels(ctx, []float64{0.5, 0.8, 0.95})
		check(err)
	}), 0)
}

func benchCorrelations(r *report, x, y []float64, source *rand.Rand) {
	columns := make([][]float64, 12)
	for i := range columns {
		columns[i] = make([]float64, rows)
		for j := range columns[i] {
			columns[i][j] = x[j] + float64(i)*source.Float64()
		}
	}
	r.row("Pearson for 12 columns, all pairs", "150 ms", median(func() {
		_, err := describe.PearsonMatrix(ctx, columns)
		check(err)
	}), 0)
	r.row("Pearson, Spearman and Kendall of one pair", "Kendall alone 1,500 ms", median(func() {
		_, err := describe.Correlate(x, y)
		check(err)
	}), 0)
}

func benchConfounding(r *report, x, y []float64, all []uint32, source *rand.Rand) {
	candidates := make([]*table.Column, 20)
	for i := range candidates {
		if i%2 == 0 {
			codes := make([]int32, rows)
			for j := range codes {
				codes[j] = int32(source.IntN(3 + i/4))
			}
			levels := make([]string, 3+i/4)
			for j := range levels {
				levels[j] = strconv.Itoa(j)
			}
			candidates[i] = &table.Column{Name: fmt.Sprint("g", i), Kind: table.Category, Codes: codes, Levels: levels}
			continue
		}
		values := make([]float64, rows)
		for j := range values {
			values[j] = source.NormFloat64()
		}
		candidates[i] = table.NewNumbers(fmt.Sprint("z", i), values)
	}
	var first time.Duration
	took := median(func() {
		start, told := time.Now(), false
		_, err := confound.Rank(ctx, x, y, all, candidates, func(confound.Finding) {
			if !told {
				first, told = time.Since(start), true
			}
		})
		check(err)
	})
	r.row("confounding check of 20 columns: the first", "200 ms", first, 0)
	r.row("confounding check of 20 columns: all", "1,500 ms", took, 0)
	benchPairs(r, source)
}

// benchPairs looks at every two of twelve columns, first at a sample of rows.
func benchPairs(r *report, source *rand.Rand) {
	columns := make([]*table.Column, pairs.MostColumns)
	for i := range columns {
		values := make([]float64, rows)
		for j := range values {
			values[j] = source.NormFloat64()
		}
		columns[i] = table.NewNumbers(fmt.Sprint("z", i), values)
	}
	groups := &table.Column{Name: "g", Kind: table.Category, Codes: make([]int32, rows), Levels: []string{"a", "b", "c"}}
	for i := range groups.Codes {
		groups.Codes[i] = int32(i % 3)
	}
	t, err := table.New(append(columns[:len(columns):len(columns)], groups)...)
	check(err)
	var names []string
	for _, c := range columns {
		names = append(names, c.Name)
	}
	look := func(sample int) func() {
		return func() {
			found, err := pairs.Look(ctx, t, pairs.Question{Columns: names, By: "g", Rows: sample})
			check(err)
			var out bytes.Buffer
			check(found.Picture(ctx, 600).Encode(&out, nil))
		}
	}
	r.row("pairs of 12 columns with their picture: a first look at 20,000 rows", "300 ms", median(look(20_000)), 0)
	r.row("pairs of 12 columns with their picture: all rows", "3,000 ms", median(look(0)), 0)
}

func benchFigures(r *report, x, y, z []float64, group []int32) {
	for _, n := range []int{100_000, rows} {
		t, err := table.New(table.NewNumbers("x", x[:n]), table.NewNumbers("y", y[:n]), table.NewNumbers("s", positive(z[:n])),
			&table.Column{Name: "g", Kind: table.Category, Codes: group[:n], Levels: []string{"a", "b", "c", "d", "e"}})
		check(err)
		d := &chart.Document{Version: chart.Version, X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"},
			Colouring: chart.Colouring{Colour: "g"}, Sizing: chart.Sizing{Size: "s"}}
		d.AddFit(chart.Fit{Kind: chart.FitLine, Each: "g", Overall: true, Band: &chart.Band{Kind: chart.Confidence, Level: 95}})
		size := 0
		took := median(func() {
			f, problems, err := figure.Build(ctx, mark.Bind(d, t), figure.Options{Metrics: text.Hanken()})
			check(err)
			if problems != nil {
				panic(problems[0].Message)
			}
			var out bytes.Buffer
			check(f.Encode(&out, nil))
			size = out.Len()
		})
		target := "20 ms"
		if n == rows {
			target = "120 ms, at most 6 bytes a dot"
		}
		r.row(
			fmt.Sprintf("figure of %d dots: colour, size, fits by group, encoded (%.1f bytes a dot)", n, float64(size)/float64(n)),
			target,
			took,
			0,
		)
	}
}

func positive(values []float64) []float64 {
	out := make([]float64, len(values))
	for i, v := range values {
		out[i] = math.Abs(v)
	}
	return out
}
