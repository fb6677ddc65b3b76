package describe

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"sort"
	"testing"

	"copperlark/internal/test/oracle"
)

// coded gives the codes of labels, sorted, and how often one is missing with the value
// beside it.
func coded(labels []*string, keep func(i int) bool) (rows []int, codes []int32, names []string, missing int) {
	for i, label := range labels {
		if label == nil || !keep(i) {
			missing++
			continue
		}
		rows = append(rows, i)
		if !slices.Contains(names, *label) {
			names = append(names, *label)
		}
	}
	sort.Strings(names)
	for _, i := range rows {
		codes = append(codes, int32(slices.Index(names, *labels[i])))
	}
	return rows, codes, names, missing
}

func answerGroups(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[struct {
		Kind  string    `json:"kind"`
		Level float64   `json:"level"`
		Y     []any     `json:"y"`
		G     []*string `json:"g"`
		A     []*string `json:"a"`
		B     []*string `json:"b"`
	}](t, c)
	if in.Kind == "two" {
		return answerTwo(in.A, in.B)
	}
	rows, codes, names, missing := coded(in.G, func(i int) bool { return in.Y[i] != nil })
	groups := map[string]any{}
	if in.Kind == "share" {
		if len(rows) == 0 {
			return oracle.Refused(ErrNoRows)
		}
		yes, n := make([]int, len(names)), make([]int, len(names))
		for k, i := range rows {
			n[codes[k]]++
			if in.Y[i] == true {
				yes[codes[k]]++
			}
		}
		for g, name := range names {
			s := ShareOf(yes[g], n[g], in.Level)
			groups[name] = map[string]any{"n": s.N, "yes": s.Yes, "share": s.Share, "se": s.SE, "lo": s.Interval.Low, "hi": s.Interval.High}
		}
		return map[string]any{"n": len(rows), "missing": missing, "groups": groups}
	}
	var values []float64
	for _, i := range rows {
		values = append(values, in.Y[i].(float64))
	}
	got, err := SummariseGroups(context.Background(), values, codes, len(names), in.Level)
	if err != nil {
		return oracle.Refused(err)
	}
	for g, name := range names {
		s := got.Groups[g]
		one := map[string]any{"n": s.N, "mean": s.Mean, "sd": s.SD, "se": s.SE, "lo": s.Low, "hi": s.High, "median": s.Median,
			"median_lo": s.Interval.Low, "median_hi": s.Interval.High, "median_cover": s.Cover}
		if s.N == 1 {
			one["sd"], one["se"] = math.NaN(), math.NaN()
		}
		groups[name] = one
	}
	out := map[string]any{"n": got.N, "missing": missing, "groups": groups, "eta2": got.Eta2, "welch": nil}
	if w := got.Welch; w != nil {
		out["welch"] = map[string]any{"F": w.F, "df1": w.DF1, "df2": w.DF2, "p": w.P}
	}
	return out
}

func answerTwo(a, b []*string) any {
	rows, _, _, missing := coded(a, func(i int) bool { return b[i] != nil })
	var ka, kb []*string
	for _, i := range rows {
		ka, kb = append(ka, a[i]), append(kb, b[i])
	}
	all := func(int) bool { return true }
	_, codesA, namesA, _ := coded(ka, all)
	_, codesB, namesB, _ := coded(kb, all)
	got, err := Cross(codesA, len(namesA), codesB, len(namesB))
	if err != nil {
		return oracle.Refused(err)
	}
	text := func(s string) any { return s }
	df := any(nil)
	if got.DF > 0 {
		df = got.DF
	}
	return map[string]any{"n": got.N, "missing": missing, "rows": oracle.List(namesA, text), "cols": oracle.List(namesB, text),
		"counts":   oracle.List(got.Counts, func(row []int) any { return oracle.List(row, func(v int) any { return v }) }),
		"expected": oracle.List(got.Expected, func(row []float64) any { return oracle.List(row, func(v float64) any { return v }) }),
		"chi2":     got.Chi2, "df": df, "p": got.P, "v": got.V, "v_plain": got.PlainV, "min_expected": got.LeastExpected}
}

// TestMediansAreCoveredAsTold draws samples and counts how often the interval of order
// statistics holds the median: as often as it says, which is at least its level.
func TestMediansAreCoveredAsTold(t *testing.T) {
	for _, n := range []int{6, 11, 40} {
		source := rand.New(rand.NewPCG(uint64(n), 51))
		held, told := 0, 0.0
		const rounds = 4000
		for range rounds {
			values := make([]float64, n)
			for i := range values {
				values[i] = source.ExpFloat64()
			}
			m := MedianOf(values, 0.95)
			if m.Interval.Low <= math.Ln2 && math.Ln2 <= m.Interval.High {
				held++
			}
			told = m.Cover
		}
		if got := float64(held) / rounds; math.Abs(got-told) > 4*math.Sqrt(told*(1-told)/rounds) || told < 0.95 {
			t.Errorf("of %d values: held in %.4f of the samples, told %.4f", n, got, told)
		}
	}
	for n := 1; n <= 5; n++ {
		if m := MedianOf(make([]float64, n), 0.95); !math.IsNaN(m.Cover) || !math.IsNaN(m.Interval.Low) {
			t.Errorf("of %d values there is no such interval: %+v", n, m)
		}
	}
}

// TestWilsonAgainstItsEquation holds each end p of the interval to (p̂ − p)² = z² p(1 − p)/n.
func TestWilsonAgainstItsEquation(t *testing.T) {
	for _, n := range []int{1, 2, 7, 50, 1000} {
		for yes := range n + 1 {
			in := Wilson(yes, n, 1.96)
			share := float64(yes) / float64(n)
			for _, p := range []float64{in.Low, in.High} {
				if left, right := (share-p)*(share-p), 1.96*1.96*p*(1-p)/float64(n); math.Abs(left-right) > 1e-12 {
					t.Errorf("%d of %d: the end %v gives %v and %v", yes, n, p, left, right)
				}
			}
			if in.Low > share || in.High < share || in.Low < 0 || in.High > 1 {
				t.Errorf("%d of %d: %+v", yes, n, in)
			}
		}
	}
}

// TestGroupsAddUp holds counts and means of groups to those of all rows, and eta squared to
// the share that the means account for.
func TestGroupsAddUp(t *testing.T) {
	source := rand.New(rand.NewPCG(9, 52))
	n := 300
	values, group := make([]float64, n), make([]int32, n)
	for i := range n {
		group[i] = int32(source.IntN(5))
		values[i] = 1e6 + 3*float64(group[i]) + source.NormFloat64()
	}
	got, err := SummariseGroups(context.Background(), values, group, 6, 0.95)
	if err != nil {
		t.Fatal(err)
	}
	rows, total, explained := 0, 0.0, 0.0
	all := Summarise(values)
	for _, g := range got.Groups {
		rows += g.N
		if g.N > 0 {
			total += float64(g.N) * g.Mean
			explained += float64(g.N) * (g.Mean - all.Mean) * (g.Mean - all.Mean)
		}
	}
	if rows != n || math.Abs(total/float64(n)-all.Mean) > 1e-9 || got.Groups[5].N != 0 {
		t.Errorf("%d rows with a mean of %v", rows, total/float64(n))
	}
	if whole := all.SD * all.SD * float64(n-1); math.Abs(got.Eta2-explained/whole) > 1e-9 {
		t.Errorf("eta² %v, want %v", got.Eta2, explained/whole)
	}
	if got.Welch == nil || got.Welch.P > 1e-20 {
		t.Errorf("groups three apart: %+v", got.Welch)
	}
}
