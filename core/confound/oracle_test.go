package confound

import (
	"context"
	"math"
	"slices"
	"sort"
	"testing"

	"copperlark/core/model"
	"copperlark/internal/test/oracle"
)

type labels []*string

// complete keeps the rows that have a value in every column.
func complete(columns [][]float64, groups []labels) (kept [][]float64, codes [][]int32, names [][]string, missing int) {
	n := 0
	for _, c := range columns {
		n = len(c)
	}
	for _, g := range groups {
		n = len(g)
	}
	kept, codes, names = make([][]float64, len(columns)), make([][]int32, len(groups)), make([][]string, len(groups))
	var rows []int
	for i := range n {
		whole := true
		for _, c := range columns {
			whole = whole && !math.IsNaN(c[i])
		}
		for _, g := range groups {
			whole = whole && g[i] != nil
		}
		if whole {
			rows = append(rows, i)
		} else {
			missing++
		}
	}
	for j, c := range columns {
		for _, i := range rows {
			kept[j] = append(kept[j], c[i])
		}
	}
	for j, g := range groups {
		for _, i := range rows {
			if !slices.Contains(names[j], *g[i]) {
				names[j] = append(names[j], *g[i])
			}
		}
		sort.Strings(names[j])
		for _, i := range rows {
			codes[j] = append(codes[j], int32(slices.Index(names[j], *g[i])))
		}
	}
	return kept, codes, names, missing
}

func TestOraclesOfSlopes(t *testing.T) {
	oracle.Run(t, map[string]func(*testing.T, oracle.Case) any{
		"equal_slopes_hc3": answerEqualSlopes, "number_moderator": answerModerator, "adjust_curve": answerAdjust, "hidden_cause": answerHidden,
		"rates": answerRates,
	})
}

func answerEqualSlopes(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[struct {
		X oracle.Numbers `json:"x"`
		Y oracle.Numbers `json:"y"`
		G labels         `json:"g"`
	}](t, c)
	kept, codes, names, missing := complete([][]float64{in.X, in.Y}, []labels{in.G})
	got, err := TestSlopes(context.Background(), kept[0], kept[1], codes[0], len(names[0]))
	if err != nil {
		return oracle.Refused(err)
	}
	dropped, slopes := []any{}, map[string]any{}
	k := 0
	for g, used := range got.Used {
		if !used {
			dropped = append(dropped, names[0][g])
			continue
		}
		k++
		slopes[names[0][g]] = map[string]any{"n": got.Slopes[g].N, "slope": got.Slopes[g].Slope, "se": got.Slopes[g].SE}
	}
	test := func(e *Equality) any {
		if e == nil {
			return nil
		}
		return map[string]any{"F": e.F, "p": e.P, "df1": e.DF1, "df2": e.DF2}
	}
	straight := test(&got.Straight).(map[string]any)
	straight["slopes"] = slopes
	return map[string]any{"n": got.N, "missing": missing, "k": k, "rows_dropped": got.RowsDropped, "groups_dropped": dropped,
		"straight": straight, "curved": test(got.Curved)}
}

type threeColumns struct {
	X oracle.Numbers `json:"x"`
	Y oracle.Numbers `json:"y"`
	Z oracle.Numbers `json:"z"`
}

func answerModerator(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[threeColumns](t, c)
	kept, _, _, _ := complete([][]float64{in.X, in.Y, in.Z}, nil)
	got, err := Moderate(context.Background(), kept[0], kept[1], kept[2])
	if err != nil {
		return oracle.Refused(err)
	}
	of := func(c model.Coefficient) map[string]any { return map[string]any{"slope": c.Value, "se": c.SEHC3} }
	product := of(got.Product)
	product["t"], product["p"] = got.T, got.Product.PHC3
	at := oracle.List(got.At[:], func(m MovedSlope) any {
		return map[string]any{"z": m.Z, "slope": m.Slope, "se": m.SE, "lo": m.Interval.Low, "hi": m.Interval.High}
	})
	return map[string]any{"n": got.N, "df": got.DF, "x": of(got.X), "z": of(got.Z), "product": product, "at": at}
}

func answerAdjust(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[struct {
		Kind string `json:"kind"`
		threeColumns
		G1 labels `json:"g1"`
		G2 labels `json:"g2"`
	}](t, c)
	columns := [][]float64{in.X, in.Y}
	if in.Z != nil {
		columns = append(columns, in.Z)
	}
	var groups []labels
	for _, g := range []labels{in.G1, in.G2} {
		if g != nil {
			groups = append(groups, g)
		}
	}
	kept, codes, names, _ := complete(columns, groups)
	if in.Kind == "joint" {
		sizes := []int{}
		for _, n := range names {
			sizes = append(sizes, len(n))
		}
		got, err := Hold(context.Background(), kept[0], kept[1], codes, sizes, kept[2:]...)
		if err != nil {
			return oracle.Refused(err)
		}
		out := map[string]any{"n": len(kept[0]), "slope": got.Value, "se": got.SE, "df": got.DF, "p": got.P, "rank": got.Rank,
			"levels1": sizes[0]}
		if len(sizes) > 1 {
			out["levels2"] = sizes[1]
		}
		return out
	}
	got, err := Bend(context.Background(), kept[0], kept[1], kept[2])
	if err != nil {
		return oracle.Refused(err)
	}
	of := func(c model.Coefficient) map[string]any {
		return map[string]any{"slope": c.Value, "se": c.SE, "df": c.DF, "p": c.P, "se_hc3": c.SEHC3, "p_hc3": c.PHC3}
	}
	out := map[string]any{"n": got.N, "crude": of(got.Crude), "linear": of(got.Linear), "curve": nil}
	if !got.NoCurve {
		curve := of(got.Curve)
		curve["powers"] = got.Powers
		out["curve"] = curve
	}
	return out
}

func answerHidden(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[struct {
		Kind string `json:"kind"`
		threeColumns
		Others   []oracle.Numbers `json:"others"`
		K        []float64        `json:"k"`
		Estimate float64          `json:"estimate"`
		SE       float64          `json:"se"`
		DF       float64          `json:"df"`
		Alpha    float64          `json:"alpha"`
		RR       float64          `json:"rr"`
		Lo       *float64         `json:"lo"`
		Hi       *float64         `json:"hi"`
	}](t, c)
	value := func(v *float64) float64 {
		if v == nil {
			return math.NaN()
		}
		return *v
	}
	kase := func(r Robustness) any {
		if r.Case == 0 {
			return nil
		}
		return r.Case
	}
	switch in.Kind {
	case "rv":
		r, err := Robust(in.Estimate, in.SE, in.DF, in.Alpha)
		if err != nil {
			return oracle.Refused(err)
		}
		return map[string]any{"t": r.T, "partial_r2": r.PartialR2, "rv": r.Value, "rv_alpha": r.AtLevel, "case": kase(r)}
	case "evalue":
		v, limit, err := EValue(in.RR, value(in.Lo), value(in.Hi))
		if err != nil {
			return oracle.Refused(err)
		}
		return map[string]any{"evalue": v, "evalue_limit": limit}
	}
	columns := [][]float64{in.X, in.Y, in.Z}
	for _, other := range in.Others {
		columns = append(columns, other)
	}
	kept, _, _, _ := complete(columns, nil)
	got, err := Benchmark(context.Background(), kept[0], kept[1], kept[2], kept[3:], in.K)
	if err != nil {
		return oracle.Refused(err)
	}
	bounds := oracle.List(got.Bounds, func(b Bound) any {
		out := map[string]any{"k": b.K, "r2_x": b.R2X, "r2_y": b.R2Y, "capped": nil, "estimate": b.Estimate, "se": b.SE, "lo": b.Interval.Low,
			"hi": b.Interval.High}
		if b.Exists {
			out["capped"] = b.Capped
		}
		return out
	})
	return map[string]any{"n": got.N, "estimate": got.Estimate, "se": got.SE, "df": got.DF, "t": got.T, "partial_r2": got.PartialR2,
		"rv": got.Value, "rv_alpha": got.AtLevel, "r2xz": got.R2XZ, "r2yz": got.R2YZ, "bounds": bounds}
}

func answerRates(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[struct {
		X labels  `json:"x"`
		Y []*bool `json:"y"`
		G labels  `json:"g"`
		// the groups that are compared
		Ref *string `json:"ref"`
		Exp *string `json:"exp"`
	}](t, c)
	y := make([]float64, len(in.Y))
	for i, v := range in.Y {
		switch {
		case v == nil:
			y[i] = math.NaN()
		case *v:
			y[i] = 1
		}
	}
	groups := []labels{in.X}
	if in.G != nil {
		groups = append(groups, in.G)
	}
	kept, codes, names, missing := complete([][]float64{y}, groups)
	yes := make([]bool, len(kept[0]))
	for i, v := range kept[0] {
		yes[i] = v == 1
	}
	exp, ref := -1, -1
	if in.Exp != nil && len(yes) > 0 {
		exp, ref = slices.Index(names[0], *in.Exp), slices.Index(names[0], *in.Ref)
		if exp < 0 || ref < 0 {
			return oracle.Refused(Error("a compared group has no rows"))
		}
	}
	var g []int32
	levels := 0
	if in.G != nil {
		g, levels = codes[1], len(names[1])
	}
	got, err := CompareRates(yes, codes[0], len(names[0]), g, levels, exp, ref)
	if err != nil {
		return oracle.Refused(err)
	}
	return ratesAsJSON(got, names, missing, levels, exp)
}

func ratesAsJSON(got *Rates, names [][]string, missing, levels, exp int) any {
	put := func(into map[string]any, name string, r Ratio, se bool) {
		into[name], into[name+"_lo"], into[name+"_hi"] = r.Value, r.Interval.Low, r.Interval.High
		if se {
			into[name+"_se"] = r.SE
		}
	}
	rates := []any{}
	for i, r := range got.Groups {
		rates = append(rates, map[string]any{"x": names[0][i], "n": r.N, "yes": r.Yes, "rate": r.Rate, "lo": r.Interval.Low,
			"hi": r.Interval.High})
	}
	out := map[string]any{"n": got.N, "missing": missing, "rates": rates, "crude": nil, "strata": nil, "common": nil, "standard": nil,
		"sign_reverses": got.SignReverses}
	if exp >= 0 {
		crude := map[string]any{}
		put(crude, "rd", got.Difference, false)
		put(crude, "rr", got.Ratio, false)
		out["crude"] = crude
	}
	if got.Strata != nil {
		out["strata"] = oracle.List(got.Strata, func(s Stratum) any {
			return map[string]any{"g": names[1][s.Level], "n1": s.N1, "n0": s.N0, "rd": s.Difference}
		})
	}
	if c := got.Common; c != nil {
		common := map[string]any{"strata_used": c.Used, "rows_unused": c.RowsUnused}
		put(common, "rd", c.Difference, true)
		put(common, "rr", c.Ratio, false)
		put(common, "or", c.Odds, false)
		out["common"] = common
	}
	if s := got.Standard; s != nil {
		list := []any{}
		for i := range s.Rates {
			list = append(list, map[string]any{"x": names[0][i], "rate": s.Rates[i], "se": s.SE[i]})
		}
		standard := map[string]any{"strata_used": s.Used, "rates": list}
		put(standard, "rd", s.Difference, true)
		out["standard"] = standard
	}
	return out
}
