package reading

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/confound"
	"copperlark/core/model"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// TestFindingsAreToldInTheUnitsOfTheReading holds the words of every verdict.
func TestFindingsAreToldInTheUnitsOfTheReading(t *testing.T) {
	u := &Units{X: "forage area", Y: "honey yield", yUnit: "kg per hive", xUnit: "ha"}
	u.choose(50)
	log := &Units{X: "forage area", Y: "honey yield", yUnit: "kg", xKind: scale.Log, yKind: scale.Log}
	log.choose(3)
	years := &Units{X: "day", Y: "price", xKind: scale.Date}
	years.choose(10 * 365 * 86400)
	between := func(low, high float64) model.Interval { return model.Interval{Low: low, High: high} }
	slopes := []confound.GroupSlope{{Level: "Tarn", Slope: 2, Interval: between(1, 3)},
		{Level: "Fen", Slope: -1, Interval: between(-2, -0.4)}, {Level: "Brindle", Slope: 0.3, Interval: between(-1, 1.6)}}
	of := func(verdict confound.Verdict, overall, within float64, more func(*confound.Finding)) confound.Finding {
		f := confound.Finding{Verdict: verdict, Overall: overall, Within: within, OverallInterval: between(overall-0.2, overall+0.2),
			WithinInterval: between(within-0.2, within+0.2), Change: (within - overall) / math.Abs(overall)}
		if more != nil {
			more(&f)
		}
		return f
	}
	for _, test := range []struct {
		units *Units
		f     confound.Finding
		want  string
	}{
		{u, of(confound.Reverses, -1.5, 2.25, nil), "turns from −1.5 to +2.2"},
		{u, of(confound.ExplainsAway, 1.5, 0.05, nil), "nothing clear is left of +1.5: +0.1 (−0.2 to +0.2)"},
		{u, of(confound.ExplainsAway, 1.5, -0.5, nil), "nothing of +1.5 is left: −0.5 is not clear among all that were tried"},
		{u, of(confound.Hides, 0.1, 2, nil), "not clear overall (+0.1), +2.0 with it held fixed"},
		{u, of(confound.Weakens, 2, 1, nil), "shrinks by 50 %, from +2.0 to +1.0"},
		{u, of(confound.Strengthens, -1, -2, nil), "grows by 100 %, from −1.0 to −2.0"},
		{u, of(confound.Strengthens, 0.25, 9, nil), "grows more than tenfold, from +0.2 to +9.0"},
		{u, of(confound.Holds, 2, 1.9, nil), "stays about the same: +2.0 overall, +1.9 with it held fixed"},
		{u, of(confound.CannotTell, 0.03, -0.06, nil), "turns from +0.03 to −0.1, neither clear"},
		{u, of(confound.CannotTell, 1, 0.1, nil), "from +1.0 to +0.1, the second not clear"},
		{u, of(confound.CannotTell, 1, 0.7, nil), "from +1.0 to +0.7, the change is not clear"},
		{u, of(confound.TooAlike, 1, 1, func(f *confound.Finding) { f.AlikeTo = "x" }), "nearly the same as forage area: set aside"},
		{u, of(confound.TooAlike, 1, 1, func(f *confound.Finding) { f.AlikeTo = "y" }), "nearly the same as honey yield: set aside"},
		{u, of(confound.TooLittle, 1, 1, func(f *confound.Finding) { f.Missing = "rows: fewer than 10 have a value" }),
			"too few rows: fewer than 10 have a value"},
		{u, of(confound.Differs, 1, 1, func(f *confound.Finding) { f.Groups, f.Slopes = 3, slopes }),
			"rises in Tarn, falls in Fen, not clearly in Brindle"},
		{u, of(confound.Differs, 1, 1, func(f *confound.Finding) {
			f.Groups, f.Slopes = 2, slopes[:1:1]
			f.Slopes = append(f.Slopes, slopes[2])
		}), "rises in Tarn, not clearly in Brindle"},
		{u, of(confound.Differs, 1, 1, func(f *confound.Finding) {
			f.Groups, f.Slopes = 2, []confound.GroupSlope{slopes[0], {Level: "Ashcombe", Slope: 7, Interval: between(6, 8)}}
		}), "from +2 in Tarn to +7 in Ashcombe"},
		{u, of(confound.Differs, 1, 1, func(f *confound.Finding) {
			f.Moved = &confound.Moderated{At: [3]confound.MovedSlope{{Slope: -2, Interval: between(-2.5, -1.5)}, {},
				{Slope: 1.5, Interval: between(1, 2)}}}
		}), "the slope changes with it: −2.0 at its lower quartile, +1.5 at its upper"},
		{log, of(confound.Reverses, -0.4, 0.5, nil), "turns from −0.4 to +0.5"},
		{years, of(confound.Holds, 1e-8, 1.1e-8, func(f *confound.Finding) {
			f.OverallInterval, f.WithinInterval = between(0.9e-8, 1.1e-8), between(1e-8, 1.2e-8)
		}), "stays about the same: +0.32 overall, +0.35 with it held fixed"},
	} {
		if got := test.units.Finding(test.f); got != test.want {
			t.Errorf("%s: %q, want %q", test.f.Verdict, got, test.want)
		}
	}
}

// reversals are twelve ways in which a grouping turns a trend round: groups, how far apart
// they stand, the slope within and the noise.
var reversals = []struct {
	groups        int
	step, between float64
	within, noise float64
	log           bool
}{
	{2, 4, -1, 0.5, 0.4, false}, {3, 3, -1.2, 0.8, 0.5, false}, {4, 2.5, -2, 1, 0.6, false}, {5, 2, -1, 0.6, 0.4, false},
	{6, 2, -3, 2, 1, false}, {8, 2, -0.5, 0.4, 0.3, false},
	{2, 4, 1, -0.5, 0.4, false}, {3, 3, 1.2, -0.8, 0.5, false}, {4, 2.5, 2, -1, 0.6, true}, {5, 2, 1, -0.6, 0.4, true},
	{3, 3, -1, 0.7, 0.3, true}, {10, 1.5, -1, 0.8, 0.4, false},
}

// TestEveryReversalIsSaid holds that the reading warns of each, names the grouping, tells the
// direction within, and never says the opposite of the numbers beside it.
func TestEveryReversalIsSaid(t *testing.T) {
	for i, r := range reversals {
		source := rand.New(rand.NewPCG(uint64(i), 4))
		var x, y []float64
		var groups []string
		for row := range 60 * r.groups {
			g := row % r.groups
			u := source.NormFloat64()
			v := r.step*float64(g) + u
			if r.log {
				v = math.Pow(10, v/8)
			}
			x, y = append(x, v), append(y, 50+r.between*r.step*float64(g)+r.within*u+r.noise*source.NormFloat64())
			groups = append(groups, "stand "+string(rune('A'+g)))
		}
		data, err := table.New(table.NewNumbers("forage", x), table.NewNumbers("honey", y), table.NewCategory("stand", groups))
		if err != nil {
			t.Fatal(err)
		}
		typed := "plot honey against forage\ncolour by stand"
		if r.log {
			typed = "plot honey against forage\nlog x\ncolour by stand"
		}
		reading := read(t, data, typed)
		overall, inside := "falls", "rises"
		if r.between > 0 {
			overall, inside = inside, overall
		}
		warned := false
		for _, p := range reading.Paragraphs {
			if p.Kind == "warning" {
				warned = strings.Contains(p.Text(), "Stand reverses the trend.") && strings.Contains(p.Text(), " "+inside)
			}
		}
		if !warned || !strings.Contains(reading.Text(), "Overall, honey "+overall) {
			t.Errorf("reversal %d: %s", i+1, reading.Text())
		}
	}
}

// TestDirectionsAreToldOfClearGroupsAlone takes groups of which only some have a slope that
// can be told from none.
func TestDirectionsAreToldOfClearGroupsAlone(t *testing.T) {
	source := rand.New(rand.NewPCG(8, 8))
	var x, y []float64
	var groups []string
	for row := range 300 {
		g := row % 3
		u := source.NormFloat64()
		x, y = append(x, u), append(y, []float64{1.5, 0, 0}[g]*u+source.NormFloat64())
		groups = append(groups, []string{"Tarn", "Fen", "Brindle"}[g])
	}
	data, err := table.New(table.NewNumbers("forage", x), table.NewNumbers("honey", y), table.NewCategory("district", groups))
	if err != nil {
		t.Fatal(err)
	}
	text := read(t, data, "plot honey against forage\ncolour by district").Text()
	if !strings.Contains(text, "It rises in 1 of the 3 groups of district, not clearly in Brindle and Fen.") ||
		strings.Contains(text, "all three") {
		t.Error(text)
	}
}
