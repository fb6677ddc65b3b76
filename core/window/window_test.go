package window

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"copperlark/internal/test/oracle"
)

func TestOracles(t *testing.T) {
	type op struct {
		Op    string  `json:"op"`
		K     float64 `json:"k"`
		Align string  `json:"align"`
	}
	oracle.Run(t, map[string]func(*testing.T, oracle.Case) any{"windows": func(t *testing.T, c oracle.Case) any {
		in := oracle.Decode[struct {
			Value oracle.Numbers `json:"value"`
			Group []*string      `json:"group"`
			Order oracle.Numbers `json:"order"`
			Ops   []op           `json:"ops"`
		}](t, c)
		var groups []int32
		if in.Group != nil {
			var names []string
			groups = []int32{}
			for _, g := range in.Group {
				code := -1
				if g != nil {
					if code = slices.Index(names, *g); code < 0 {
						code = len(names)
						names = append(names, *g)
					}
				}
				groups = append(groups, int32(code))
			}
		}
		rows, err := Arrange(context.Background(), len(in.Value), groups, in.Order)
		if err != nil {
			return oracle.Refused(err)
		}
		results := []any{}
		for _, o := range in.Ops {
			k := int(o.K)
			if o.K != math.Trunc(o.K) {
				k = 0
			}
			var got []float64
			switch o.Op {
			case "lag":
				got, err = rows.Lag(in.Value, k)
			case "lead":
				got, err = rows.Lead(in.Value, k)
			case "running_sum":
				got = rows.RunningSum(in.Value)
			case "moving_mean":
				got, err = rows.MovingMean(in.Value, k, o.Align == "centred")
			case "rank_mid", "rank_min":
				got = rows.Rank(in.Value, o.Op == "rank_mid")
			case "share":
				got = rows.Share(in.Value)
			case "zscore":
				got = rows.ZScore(in.Value)
			case "ntile":
				got, err = rows.EqualGroups(in.Value, k)
			}
			if err != nil {
				return oracle.Refused(err)
			}
			result := map[string]any{"op": o.Op, "values": oracle.List(got, func(v float64) any { return v })}
			if o.K != 0 {
				result["k"] = k
			}
			if o.Align != "" {
				result["align"] = o.Align
			}
			results = append(results, result)
		}
		return map[string]any{"results": results}
	}})
}

// TestRowsMayComeInAnyOrder holds that where an order is said, the order in which rows come
// changes nothing.
func TestRowsMayComeInAnyOrder(t *testing.T) {
	source := rand.New(rand.NewPCG(5, 8))
	const n = 200
	values, order, group := make([]float64, n), make([]float64, n), make([]int32, n)
	for i := range n {
		values[i], order[i], group[i] = float64(source.IntN(50)), float64(i), int32(source.IntN(4))-1
		if source.IntN(7) == 0 {
			values[i] = math.NaN()
		}
	}
	all := func(values, order []float64, group []int32) [][]float64 {
		rows, err := Arrange(context.Background(), n, group, order)
		if err != nil {
			t.Fatal(err)
		}
		lag, _ := rows.Lag(values, 2)
		mean, _ := rows.MovingMean(values, 5, true)
		parts, _ := rows.EqualGroups(values, 3)
		return [][]float64{lag, mean, parts, rows.RunningSum(values), rows.Rank(values, true), rows.Share(values), rows.ZScore(values)}
	}
	straight := all(values, order, group)
	perm := source.Perm(n)
	v, o, g := make([]float64, n), make([]float64, n), make([]int32, n)
	for i, from := range perm {
		v[i], o[i], g[i] = values[from], order[from], group[from]
	}
	for k, got := range all(v, o, g) {
		for i, from := range perm {
			if a, b := got[i], straight[k][from]; a != b && (a == a || b == b) && math.Abs(a-b) > 1e-12 {
				t.Fatalf("operation %d, row %d: %v after shuffling, %v before", k, from, a, b)
			}
		}
	}
}
