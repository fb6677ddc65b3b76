package extremes

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"copperlark/core/describe"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/reading"
	"copperlark/core/scale"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// told are what a reading says that can be measured in the picture beside it.
var (
	toldMove    = regexp.MustCompile(`^(?:Overall|With [^,]+ taken out)[^.]*? (rises|rise|falls|fall) by`)
	toldUnclear = regexp.MustCompile(`^Overall[^.]*no clear rise or fall`)
	toldRows    = regexp.MustCompile(`over ([\d,]+) rows`)
	toldHighest = regexp.MustCompile(`the highest at (.+?)\.(?: |$)`)
	toldExtreme = regexp.MustCompile(`is highest (?:in|for) (\w+) \((.+?)\) and lowest (?:in|for) (\w+) \((.+?)\)`)
)

// someTable has a relation that may rise, fall, bend or be none, outliers, skew, gaps and groups.
func someTable(source *rand.Rand) *table.Table {
	n := 5 + source.IntN(300)
	slope, bend, skewed := source.NormFloat64()*float64(source.IntN(3)), float64(source.IntN(4)/3), source.IntN(4) == 0
	x, y, day, g := make([]float64, n), make([]float64, n), make([]float64, n), make([]string, n)
	for i := range x {
		x[i] = 10 + source.NormFloat64()
		g[i] = fmt.Sprintf("G%d", source.IntN(4))
		day[i] = 86_400 * float64(20_000+source.IntN(700))
		y[i] = 30 + slope*(x[i]-10) + bend*(x[i]-10)*(x[i]-10) + source.NormFloat64()
		if source.IntN(25) == 0 {
			y[i] += 40 * source.NormFloat64()
		}
		if skewed {
			x[i] = math.Exp(x[i] - 10 + source.NormFloat64())
		}
		if source.IntN(20) == 0 {
			y[i] = math.NaN()
		}
		y[i] = max(y[i], 0.5)
	}
	made, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("g", g),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: day})
	if err != nil {
		panic(err)
	}
	return made
}

// TestReadingsSayWhatIsDrawn reads the sentences beside 300 charts back against the line that is drawn, the
// highest value, the groups that are named and the rows that are counted.
func TestReadingsSayWhatIsDrawn(t *testing.T) {
	source := rand.New(rand.NewPCG(11, 29))
	checked := map[string]int{}
	for round := range 300 {
		data := someTable(source)
		typed := []string{"plot y against x", "plot y against day", "plot y against x\nlog x", "plot y against x\nlog y",
			"plot mean(y) against g\nas bars", "plot y against g", "plot count() against g\nas bars",
			"plot median(y) against g\nas bars"}[source.IntN(8)]
		if !strings.Contains(typed, " g") {
			typed += []string{"", "\nfit line", "\nfit robust line", "\nfit line leaving out outliers", "\nfit line for each g and overall",
				"\nfit line and robust line"}[source.IntN(6)]
		}
		if strings.Contains(typed, "line and robust") {
			typed = strings.Replace(typed, "fit line and robust line", "fit robust line\nfit line", 1)
		}
		if source.IntN(3) == 0 {
			typed += "\nx from 11 to 8"
		}
		if strings.Contains(typed, " g") {
			typed = strings.ReplaceAll(typed, "\nx from 11 to 8", "")
		}
		d, mistakes := sentence.Parse(typed, data)
		if mistakes != nil {
			continue
		}
		f, problems, err := figure.Build(context.Background(), mark.Bind(d, data), figure.Options{Metrics: text.Hanken()})
		if err != nil || problems != nil {
			continue
		}
		words := reading.Of(f).Text()
		wrong := func(format string, arguments ...any) {
			t.Errorf("round %d: %s\nof %s\n%s", round, fmt.Sprintf(format, arguments...), typed, words)
		}
		if drawn := drawnSlope(f); !math.IsNaN(drawn) {
			if m := toldMove.FindStringSubmatch(words); m != nil {
				checked["line"]++
				if rises := strings.HasPrefix(m[1], "rise"); rises != (drawn > 0) {
					wrong("it is said that y %s, and the line that is drawn climbs by %v", m[1], drawn)
				}
			} else if toldUnclear.MatchString(words) {
				checked["unclear"]++
			}
		}
		for _, m := range toldRows.FindAllStringSubmatch(words, -1) {
			checked["rows"]++
			if n, _ := strconv.Atoi(strings.ReplaceAll(m[1], ",", "")); n != f.Rows.Drawn {
				wrong("%d rows are told, %d are drawn", n, f.Rows.Drawn)
			}
		}
		if m := toldHighest.FindStringSubmatch(words); m != nil {
			checked["highest"]++
			x, y := mark.Bind(d, data).X, mark.Bind(d, data).Y
			highX, highY := mark.ValueText(x, highest(data, "x")), mark.ValueText(y, highest(data, "y"))
			if m[1] != highX && m[1] != highY {
				wrong("the highest is told as %s, and is %s along x or %s along y", m[1], highX, highY)
			}
		}
		if m := toldExtreme.FindStringSubmatch(words); m != nil {
			checked["extremes"]++
			if up, down := statistic(data, m[1], typed), statistic(data, m[3], typed); up < down || !near(m[2], up) || !near(m[4], down) {
				wrong("%s has %v and %s has %v", m[1], up, m[3], down)
			}
		}
	}
	for _, what := range []string{"line", "unclear", "rows", "highest", "extremes"} {
		if checked[what] < 8 {
			t.Errorf("%s was read in %d charts alone", what, checked[what])
		}
	}
}

// drawnSlope is how much the line of all rows climbs to the right in the picture, in data: of the ordinary line where
// several are drawn; NaN where there is none.
func drawnSlope(f *figure.Figure) float64 {
	slope := math.NaN()
	for i := range f.Layers {
		l := &f.Layers[i]
		if l.Mark != "fit" || l.Kind != primitive.Paths || l.Count < 1 || l.Keys.Colour > 0 && l.Colour.Len() > 0 {
			continue
		}
		last := l.X.Len() - 1
		if l.Start.Len() > 1 {
			last = int(l.Start.At(1)) - 1
		}
		s := (l.Y.At(last) - l.Y.At(0)) / (l.X.At(last) - l.X.At(0))
		if x := f.X(); x.From > x.To {
			s = -s
		}
		slope = s // the ordinary one is said last
	}
	return slope
}

func highest(t *table.Table, name string) float64 {
	other := map[string]string{"x": "y", "y": "x"}[name]
	high := math.Inf(-1)
	for i, v := range t.Column(name).Numbers {
		if o := t.Column(other).Numbers[i]; v == v && o == o {
			high = max(high, v)
		}
	}
	return high
}

func statistic(t *table.Table, group, typed string) float64 {
	g, y := t.Column("g"), t.Column("y").Numbers
	var values []float64
	rows := 0.0
	for i := range y {
		if g.Value(i) == group {
			rows++
			if y[i] == y[i] {
				values = append(values, y[i])
			}
		}
	}
	switch {
	case strings.Contains(typed, "count()"):
		return rows
	case strings.Contains(typed, "median"):
		return describe.Quantiles(values, 0.5)[0]
	}
	return describe.Moments(context.Background(), values).Mean
}

// near reports whether a number that is told is a value with fewer digits.
func near(told string, v float64) bool {
	n, err := strconv.ParseFloat(strings.ReplaceAll(strings.ReplaceAll(told, ",", ""), scale.Minus, "-"), 64)
	return err == nil && math.Abs(n-v) <= 0.006*math.Abs(v)+1e-9
}
