package confound

import (
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/table"
)

// TestEvidenceAddsUp holds, of every story that is built in, that the evidence tells what the
// finding tells, that its groups are its rows, and that the slope overall is made of that
// between and that within.
func TestEvidenceAddsUp(t *testing.T) {
	for name, build := range truths {
		s := rand.New(rand.NewPCG(5, uint64(len(name))))
		b := build(s, 400)
		rows := make([]uint32, len(b.x))
		for i := range rows {
			rows[i] = uint32(i)
		}
		noise := make([]float64, len(b.x))
		for i := range noise {
			noise[i] = 0.4*b.x[i] + 0.3*b.y[i] + 4*s.NormFloat64()
		}
		other := table.NewNumbers("other", noise)
		e, err := Examine(t.Context(), b.x, b.y, rows, b.column, []*table.Column{other}, NoOthers)
		if err != nil {
			t.Fatal(err)
		}
		found, err := Rank(t.Context(), b.x, b.y, rows, []*table.Column{b.column}, nil)
		if err != nil || found[0].Overall != e.Overall || found[0].Within != e.Within || found[0].WithinInterval != e.WithinInterval {
			t.Errorf("%s: the evidence tells %v and %v, the finding %v and %v (%v)", name, e.Overall, e.Within, found[0].Overall, found[0].Within,
				err)
		}
		if e.AlikeTo != "" { // it is set aside
			continue
		}
		n, x := 0, 0.0
		for _, one := range e.Each {
			n, x = n+one.N, x+float64(one.N)*one.XMean
			if one.XMean < one.XLow || one.XMean > one.XHigh || one.XLow < e.All.XLow || one.XHigh > e.All.XHigh {
				t.Errorf("%s: %s stands at %v of %v to %v", name, one.Level, one.XMean, one.XLow, one.XHigh)
			}
		}
		if n != e.All.N || n+e.SmallRows != len(b.x) || math.Abs(x/float64(n)-e.All.XMean) > 1e-9 {
			t.Errorf("%s: groups hold %d of %d rows, centre %v of %v", name, n, e.All.N, x/float64(n), e.All.XMean)
		}
		if share := e.BetweenX; !e.Quarters && math.Abs(share*e.Between+(1-share)*e.Within-e.Overall) > 1e-9 {
			t.Errorf("%s: %v of %v and the rest of %v is not %v", name, share, e.Between, e.Within, e.Overall)
		}
		if clear := e.WithinInterval.Low > 0 || e.WithinInterval.High < 0; clear != (e.Hidden != nil) {
			t.Errorf("%s: a slope that is clear (%v) has a hidden cause %v", name, clear, e.Hidden)
		}
	}
}

// TestAHiddenCauseOfThatStrengthLeavesNothing puts the answer back.
func TestAHiddenCauseOfThatStrengthLeavesNothing(t *testing.T) {
	s := rand.New(rand.NewPCG(6, 6))
	for range 40 {
		n := 40 + s.IntN(300)
		x, y, z := make([]float64, n), make([]float64, n), make([]float64, n)
		a, b := s.NormFloat64(), s.NormFloat64()
		for i := range n {
			z[i] = s.NormFloat64()
			x[i] = a*z[i] + s.NormFloat64()
			y[i] = x[i] + b*z[i] + s.NormFloat64()
		}
		bounded, err := Benchmark(t.Context(), x, y, z, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		times := bounded.Times()
		if math.IsNaN(times) {
			continue
		}
		if left := bounded.bound(times).Estimate; math.Abs(left) > 1e-6*math.Abs(bounded.Estimate) {
			t.Errorf("%v times as strong leaves %v of %v", times, left, bounded.Estimate)
		}
	}
}

// TestEvidenceOfStrangeColumns holds that what cannot be compared says why.
func TestEvidenceOfStrangeColumns(t *testing.T) {
	x, y, rows := []float64{1, 2, 3, 4, 5, 6}, []float64{2, 1, 4, 3, 6, 5}, []uint32{0, 1, 2, 3, 4, 5}
	for name, c := range map[string]*table.Column{
		"one group":   table.NewCategory("g", []string{"a", "a", "a", "a", "a", "a"}),
		"all missing": table.NewNumbers("z", []float64{math.NaN(), math.NaN(), math.NaN(), math.NaN(), math.NaN(), math.NaN()}),
		"all alike":   table.NewNumbers("z", []float64{3, 3, 3, 3, 3, 3}),
	} {
		e, err := Examine(t.Context(), x, y, rows, c, nil, NoOthers)
		if err != nil || e.Missing == "" || len(e.Each) != 0 || e.Hidden != nil {
			t.Errorf("%s: %+v %v", name, e, err)
		}
	}
}
