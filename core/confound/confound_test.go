package confound

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/model"
	"copperlark/core/table"
	"copperlark/internal/test/oracle"
)

type input struct {
	X oracle.Numbers `json:"x"`
	Y oracle.Numbers `json:"y"`
	Z oracle.Numbers `json:"z"`
	G []*string      `json:"g"`
}

func TestOracles(t *testing.T) {
	oracle.Run(t, map[string]func(*testing.T, oracle.Case) any{"confounding": func(t *testing.T, c oracle.Case) any {
		in := oracle.Decode[input](t, c)
		if in.Z != nil {
			return answerNumber(in)
		}
		return answerGroups(in)
	}})
}

func slope(s *Slope) any {
	if s == nil {
		return nil
	}
	return map[string]any{"slope": s.Slope, "se": s.SE, "df": s.DF, "p": s.P}
}

func pooled(l *model.Line) any {
	return map[string]any{"slope": l.Slope, "se": l.SESlope, "intercept": l.Intercept, "p": l.PSlope()}
}

func answerGroups(in input) any {
	codes, names := map[string]int32{}, []string{}
	var x, y []float64
	var group []int32
	for i, g := range in.G {
		if g == nil || math.IsNaN(in.X[i]) || math.IsNaN(in.Y[i]) {
			continue
		}
		if _, seen := codes[*g]; !seen {
			codes[*g] = int32(len(names))
			names = append(names, *g)
		}
		x, y, group = append(x, in.X[i]), append(y, in.Y[i]), append(group, codes[*g])
	}
	compared, err := Compare(context.Background(), x, y, group, len(names))
	if err != nil {
		return oracle.Refused(err)
	}
	groups := map[string]any{}
	for code, name := range names {
		answer := map[string]any{"n": compared.Counts[code], "slope": nil, "intercept": nil, "se": nil}
		if l := compared.Lines[code]; l != nil {
			answer["slope"], answer["intercept"], answer["se"] = l.Slope, l.Intercept, l.SESlope
		}
		groups[name] = answer
	}
	answer := map[string]any{"n": compared.N, "n_groups": compared.Groups, "pooled": pooled(compared.Pooled), "groups": groups,
		"within": slope(compared.Within), "between": slope(compared.Between), "equal_slopes": nil, "sign_reverses": compared.SignReverses()}
	if f := compared.EqualSlopes; f != nil {
		answer["equal_slopes"] = map[string]any{"F": f.F, "p": f.P, "df1": f.DF1, "df2": f.DF2}
	}
	return answer
}

func answerNumber(in input) any {
	var x, y, z []float64
	for i := range in.X {
		if !math.IsNaN(in.X[i]) && !math.IsNaN(in.Y[i]) && !math.IsNaN(in.Z[i]) {
			x, y, z = append(x, in.X[i]), append(y, in.Y[i]), append(z, in.Z[i])
		}
	}
	a, err := Adjust(context.Background(), x, y, z)
	if err != nil {
		return oracle.Refused(err)
	}
	return map[string]any{"n": a.N, "pooled": pooled(a.Pooled), "adjusted": slope(&a.Slope), "partial_r": a.PartialR,
		"sign_reverses": a.SignReverses()}
}

// valley is a made-up relation: y on x with a slope within groups, and groups
// whose own x and y lie on another slope.
func valley(seed uint64, n, groups int, within, between, noise float64) (x, y []float64, group []int32) {
	source := rand.New(rand.NewPCG(seed, 9))
	for i := range n {
		g := i % groups
		u := source.NormFloat64()
		x = append(x, 3*float64(g)+u)
		y = append(y, between*3*float64(g)+within*u+noise*source.NormFloat64())
		group = append(group, int32(g))
	}
	return x, y, group
}

// TestTheIdentityOfAReversal holds pooled = e between + (1-e) within, and that
// taking the groups out leaves the within-group slope exactly.
func TestTheIdentityOfAReversal(t *testing.T) {
	for seed := range uint64(20) {
		x, y, group := valley(seed, 200, 4, 2, -1, 1)
		c, err := Compare(context.Background(), x, y, group, 4)
		if err != nil {
			t.Fatal(err)
		}
		want := c.BetweenShare*c.Between.Slope + (1-c.BetweenShare)*c.Within.Slope
		if math.Abs(c.Pooled.Slope-want) > 1e-12 {
			t.Errorf("pooled is %v, the identity gives %v", c.Pooled.Slope, want)
		}
		tx, ty := TakeOutGroups(x, y, group, 4)
		line, _ := model.FitLine(context.Background(), tx, ty)
		if math.Abs(line.Slope-c.Within.Slope) > 1e-12 {
			t.Errorf("with the groups taken out the slope is %v, within it is %v", line.Slope, c.Within.Slope)
		}
		z := make([]float64, len(x))
		for i, g := range group {
			z[i] = float64(g) + 0.01*float64(i%7)
		}
		a, err := Adjust(context.Background(), x, y, z)
		if err != nil {
			t.Fatal(err)
		}
		tx, ty, _ = TakeOutNumber(context.Background(), x, y, z)
		if line, _ = model.FitLine(context.Background(), tx, ty); math.Abs(line.Slope-a.Slope.Slope) > 1e-12 {
			t.Errorf("with the number taken out the slope is %v, adjusted it is %v", line.Slope, a.Slope.Slope)
		}
	}
}

// TestAVerdictNeedsWhatItClaims takes slopes and p values as they are, and what may be said of them: nothing holds, weakens
// or reverses that is not clear.
func TestAVerdictNeedsWhatItClaims(t *testing.T) {
	for _, test := range []struct {
		overall, within, pOverall, pWithin, pEqual, pMoved float64
		want                                               Verdict
	}{
		{1, 0.9, 0.01, 0.01, 1, 1, Holds}, {1, 0.9, 0.5, 0.01, 1, 1, CannotTell}, {1, 0.9, 0.01, 0.5, 1, 1, CannotTell},
		{1, 0.9, 0.5, 0.5, 1, 1, CannotTell},
		{1, -1, 0.01, 0.01, 1, 0.01, Reverses}, {1, -1, 0.5, 0.01, 1, 0.01, Hides}, {1, -1, 0.01, 0.5, 1, 0.01, ExplainsAway},
		{1, -1, 0.01, 0.5, 1, 0.5, CannotTell},
		{1, 0.5, 0.01, 0.01, 1, 0.01, Weakens}, {1, 2, 0.01, 0.01, 1, 0.01, Strengthens}, {1, 0.5, 0.01, 0.01, 1, 0.5, CannotTell},
		{1, 0.9, 0.01, 0.01, 0.005, 1, Differs}, {1, 0.9, 0.01, 0.01, 0.02, 1, Holds},
	} {
		f := &Finding{Overall: test.overall, Within: test.within, pOverall: test.pOverall, pWithin: test.pWithin,
			Change: (test.within - test.overall) / test.overall}
		if got := f.judged(test.pWithin, test.pEqual, test.pMoved); got != test.want {
			t.Errorf("%+v is judged %s", test, got)
		}
	}
	if got := holm([]float64{0.01, math.NaN(), 0.04, 0.02}); got[0] != 0.03 || !math.IsNaN(got[1]) || got[2] != 0.04 || got[3] != 0.04 {
		t.Errorf("adjusted for all of them: %v", got)
	}
}

func TestVerdicts(t *testing.T) {
	ctx := context.Background()
	for _, test := range []struct {
		name            string
		within, between float64
		want            Verdict
	}{
		{"the groups go the other way", 2, -1, Reverses},
		{"nothing within", 0, 1.5, ExplainsAway},
		{"less within", 0.8, 2, Weakens},
		{"more within", 3, 1, Strengthens},
		{"the same", 1, 1, Holds},
	} {
		x, y, group := valley(1, 400, 4, test.within, test.between, 1.8)
		levels := []string{"a", "b", "c", "d"}
		column := &table.Column{Name: "g", Kind: table.Category, Codes: group, Levels: levels}
		source := rand.New(rand.NewPCG(5, 5))
		chance := make([]int32, len(x))
		rows := make([]uint32, len(x))
		for i := range x {
			chance[i], rows[i] = int32(source.IntN(3)), uint32(i)
		}
		nothing := &table.Column{Name: "chance", Kind: table.Category, Codes: chance, Levels: levels[:3]}
		lonely := &table.Column{Name: "few", Kind: table.Category, Codes: make([]int32, len(x)), Levels: []string{"only"}}
		findings, err := Rank(ctx, x, y, rows, []*table.Column{lonely, nothing, column}, nil)
		if err != nil {
			t.Fatal(err)
		}
		got := map[string]Verdict{}
		for _, f := range findings {
			got[f.Column] = f.Verdict
		}
		if got["g"] != test.want || got["chance"] != Holds || got["few"] != TooLittle {
			t.Errorf("%s: %v", test.name, got)
		}
		if findings[len(findings)-1].Missing == "" {
			t.Errorf("%s: what is missing is not said", test.name)
		}
		z := make([]float64, len(x))
		for i, g := range group {
			z[i] = 3*float64(g) + 0.001*source.NormFloat64()
		}
		findings, _ = Rank(ctx, x, y, rows, []*table.Column{table.NewNumbers("z", z)}, nil)
		if findings[0].Verdict != test.want {
			t.Errorf("%s, as a number: %s", test.name, findings[0].Verdict)
		}
	}
}

func TestSlopesOfTheirOwn(t *testing.T) {
	source := rand.New(rand.NewPCG(2, 2))
	var x, y []float64
	var group []int32
	var rows []uint32
	for i := range 300 {
		g := i % 2
		u := source.NormFloat64()
		x, y = append(x, u), append(y, 2*u+1.5*float64(g)*u+source.NormFloat64())
		group, rows = append(group, int32(g)), append(rows, uint32(i))
	}
	findings, _ := Rank(context.Background(), x, y, rows, []*table.Column{{Name: "g", Kind: table.YesNo, Codes: group,
		Levels: []string{"no", "yes"}}}, nil)
	if findings[0].Verdict != Differs {
		t.Errorf("groups with slopes 2 and 3.5: %s", findings[0].Verdict)
	}
}

// TestStandardise takes two rates that both rise and still fall in total.
func TestStandardise(t *testing.T) {
	var x, g []int32
	var y []float64
	add := func(year, kind int32, n, successes int) {
		for i := range n {
			x, g = append(x, year), append(g, kind)
			y = append(y, map[bool]float64{true: 1}[i < successes])
		}
	}
	add(0, 0, 80, 64) // 80 %
	add(0, 1, 20, 4)  // 20 %
	add(1, 0, 20, 17) // 85 %
	add(1, 1, 80, 20) // 25 %
	levels, shared := Standardise(x, 2, y, g, 2)
	if overall := levels[1].Mean - levels[0].Mean; math.Abs(overall+0.31) > 1e-12 {
		t.Errorf("overall the rate changes by %v", overall)
	}
	if standard := levels[1].Standardised - levels[0].Standardised; math.Abs(standard-0.05) > 1e-12 || shared != 1 {
		t.Errorf("with an equal mix it changes by %v, over %v of the rows", standard, shared)
	}
}

func TestHolm(t *testing.T) {
	got := holm([]float64{0.01, math.NaN(), 0.04, 0.03})
	for i, want := range []float64{0.03, math.NaN(), 0.06, 0.06} {
		if fmt.Sprintf("%.6f", got[i]) != fmt.Sprintf("%.6f", want) {
			t.Errorf("p %d is adjusted to %v, want %v", i, got[i], want)
		}
	}
}

// TestWithinIsTheRegressionWithAColumnForEachGroup holds the quick way, by centred
// sums, against the regression of y on x and an indicator for each group but one.
func TestWithinIsTheRegressionWithAColumnForEachGroup(t *testing.T) {
	x, y, group := valley(11, 120, 4, 1.5, -0.5, 1)
	rows := make([][]float64, len(x))
	for i := range rows {
		rows[i] = []float64{x[i], 0, 0, 0}
		if group[i] > 0 {
			rows[i][group[i]] = 1
		}
	}
	slow, err := model.FitMultiple(rows, y)
	if err != nil {
		t.Fatal(err)
	}
	c, _ := Compare(t.Context(), x, y, group, 4)
	if math.Abs(c.Within.Slope-slow.Coefficients[1]) > 1e-10 || math.Abs(c.Within.SE-slow.SE[1]) > 1e-10 || c.Within.DF != slow.DF {
		t.Errorf("within %v (%v), the regression says %v (%v)", c.Within.Slope, c.Within.SE, slow.Coefficients[1], slow.SE[1])
	}
}

// FuzzCompare holds that odd values and odd groups make no panic.
func FuzzCompare(f *testing.F) {
	f.Add(1.0, 2.0, 3.0, uint8(7))
	f.Add(math.NaN(), math.Inf(1), -1e300, uint8(0))
	f.Add(1e9, 1e9, 1e-9, uint8(255))
	f.Fuzz(func(t *testing.T, a, b, c float64, groups uint8) {
		x, y, z := []float64{a, b, c, a + b, a, b - c}, []float64{b, a, c, c, b, a}, []float64{c, c, a, b, a, a}
		group, rows := make([]int32, len(x)), make([]uint32, len(x))
		for i := range group {
			group[i], rows[i] = int32(groups>>i&1), uint32(i)
		}
		_, _ = Compare(t.Context(), x, y, group, 2)
		_, _ = Adjust(context.Background(), x, y, z)
		_, _, _ = TakeOutNumber(context.Background(), x, y, z)
		column := &table.Column{Name: "g", Kind: table.Category, Codes: group, Levels: []string{"a", "b"}}
		if _, err := Rank(t.Context(), x, y, rows, []*table.Column{column, table.NewNumbers("z", z)}, nil); err != nil {
			t.Fatal(err)
		}
	})
}
