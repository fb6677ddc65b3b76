package describe

import (
	"context"
	"math"
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
		one := map[string]any{"n": s.N, "mean": s.Mean, "sd": s.SD, "se": s.SE, "lo": s.Low, "hi": s.High, "median": s.Median, "median_lo": s.Interval.Low, "median_hi": s.Interval.High, "median_cover": s.Cover}
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
