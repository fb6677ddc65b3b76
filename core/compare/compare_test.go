package compare

import (
	"math"
	"math/rand/v2"
	"reflect"
	"testing"

	"copperlark/core/model"
)

func lineOf(source *rand.Rand, n int, slope, noise float64) (l Line) {
	for i := range n {
		x := source.NormFloat64()
		l.X, l.Y, l.Rows = append(l.X, x), append(l.Y, slope*x+noise*source.NormFloat64()), append(l.Rows, uint32(i))
	}
	return l
}

// slopes fits both and compares them; false where one has no line.
func slopes(t *testing.T, a, b Line, same bool, comparisons int) (Difference, bool) {
	t.Helper()
	var fitted [2]Fitted
	for i, l := range []Line{a, b} {
		line, err := model.FitLine(t.Context(), l.X, l.Y)
		if err != nil {
			return Difference{}, false
		}
		fitted[i] = Fitted{l, line}
	}
	return Slopes(fitted[0], fitted[1], same, comparisons)
}

// TestIntervalsOfDifferencesHold draws pairs of lines that share no rows, some or all of them, and finds the true difference inside
// its interval about as often as it says.
func TestIntervalsOfDifferencesHold(t *testing.T) {
	source := rand.New(rand.NewPCG(1, 2))
	for name, c := range map[string]struct{ shared, only int }{"apart": {0, 60}, "half": {40, 40}, "nearly all": {90, 10}} {
		inside, clear := 0, 0
		const rounds = 2000
		for range rounds {
			all := lineOf(source, c.shared+2*c.only, 1.5, 1)
			a := Line{all.X[:c.shared+c.only], all.Y[:c.shared+c.only], all.Rows[:c.shared+c.only]}
			b := Line{X: append(append([]float64{}, all.X[:c.shared]...), all.X[c.shared+c.only:]...),
				Y:    append(append([]float64{}, all.Y[:c.shared]...), all.Y[c.shared+c.only:]...),
				Rows: append(append([]uint32{}, all.Rows[:c.shared]...), all.Rows[c.shared+c.only:]...)}
			d, ok := slopes(t, a, b, true, 1)
			if !ok {
				t.Fatal("no slopes")
			}
			if d.Interval.Low <= 0 && 0 <= d.Interval.High {
				inside++
			}
			if d.Clear {
				clear++
			}
		}
		if share := float64(inside) / rounds; share < 0.925 || share > 0.975 {
			t.Errorf("%s: zero is inside %.3f of the intervals", name, share)
		}
		if clear != rounds-inside {
			t.Errorf("%s: %d are clear, and %d intervals leave zero out", name, clear, rounds-inside)
		}
	}
}

// TestSlopesThatDiffer holds what is clear, what is the same, and what has no slope.
func TestSlopesThatDiffer(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 4))
	a, b := lineOf(source, 200, 1, 0.5), lineOf(source, 100, 2, 0.5)
	d, ok := slopes(t, a, b, false, 6)
	if !ok || !d.Clear || math.Abs(d.Value-1) > 0.2 || d.Interval.Low < 0.7 || d.Interval.High > 1.3 {
		t.Errorf("lines of slopes 1 and 2 differ by %+v", d)
	}
	back, _ := slopes(t, b, a, false, 6)
	if back.Value != -d.Value || back.Interval.Low != -d.Interval.High {
		t.Errorf("the other way round: %+v and %+v", d, back)
	}
	if same, _ := slopes(t, a, a, true, 1); same.Value != 0 || same.Clear || same.Interval.High != 0 {
		t.Errorf("a line and itself: %+v", same)
	}
	one := lineOf(source, 60, 1, 1)
	if apart, _ := slopes(t, one, lineOf(source, 60, 1.45, 1), false, 1); apart.Clear {
		if many, _ := slopes(t, one, lineOf(source, 60, 1.45, 1), false, 1000); many.Clear {
			t.Error("of a thousand comparisons a slight difference is clear")
		}
	}
	for name, l := range map[string]Line{"two rows": {[]float64{1, 2}, []float64{1, 2}, []uint32{0, 1}}, "nothing": {},
		"one x":    {[]float64{1, 1, 1}, []float64{1, 2, 3}, []uint32{0, 1, 2}},
		"infinite": {[]float64{1, 2, 1e308, -1e308}, []float64{1, 2, 3, 4}, []uint32{0, 1, 2, 3}}} {
		if _, ok := slopes(t, a, l, true, 1); ok {
			t.Errorf("%s has a slope", name)
		}
	}
}

func TestRowsThatOnlyOneLeavesOut(t *testing.T) {
	rows, reasons := Only([]uint8{0, 1, 2, 1, 0}, []uint8{0, 0, 1, 0, 3})
	if !reflect.DeepEqual(rows, []uint32{1, 3}) || !reflect.DeepEqual(reasons, map[uint8]int{1: 2}) {
		t.Errorf("rows %v, by %v", rows, reasons)
	}
}
