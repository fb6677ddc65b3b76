package model

import (
	"math"
	"slices"
	"testing"

	"copperlark/core/distribution"
	"copperlark/internal/test/oracle"
)

func robustAnswer(l *Line, r *Robust) map[string]any {
	interval := r.Interval(l.Slope, 0.95)
	t := l.Slope / r.SE
	return map[string]any{"se": r.SE, "df": r.DF, "t": t, "p": distribution.StudentTwoSided(t, r.DF), "lo": interval.Low, "hi": interval.High,
		"ratio": r.SE / l.SESlope}
}

func answerClusters(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[struct {
		X       oracle.Numbers `json:"x"`
		Y       oracle.Numbers `json:"y"`
		Cluster []*string      `json:"cluster"`
	}](t, c)
	var x, y []float64
	var codes []int32
	var names []string
	for i := range in.X {
		if in.Cluster[i] == nil || math.IsNaN(in.X[i]) || math.IsNaN(in.Y[i]) {
			continue
		}
		at := slices.Index(names, *in.Cluster[i])
		if at < 0 {
			at, names = len(names), append(names, *in.Cluster[i])
		}
		x, y, codes = append(x, in.X[i]), append(y, in.Y[i]), append(codes, int32(at))
	}
	f, err := FitClusters(t.Context(), x, y, codes)
	if err != nil {
		return oracle.Refused(err)
	}
	answer := map[string]any{"n": len(x), "missing": len(in.X) - len(x), "clusters": f.Clusters, "slope": f.Line.Slope,
		"se_ols": f.Line.SESlope, "cr2": nil, "icc": nil}
	if f.CR2 != nil {
		answer["cr2"] = robustAnswer(f.Line, f.CR2)
	}
	if a := f.Likeness; a != nil {
		answer["icc"] = map[string]any{"icc": a.ICC, "n0": a.N0, "msb": a.MSB, "msw": a.MSW, "F": a.F, "df1": a.DF1, "df2": a.DF2, "p": a.P}
	}
	return answer
}

func answerSeries(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[struct {
		X     oracle.Numbers `json:"x"`
		Y     oracle.Numbers `json:"y"`
		Order oracle.Numbers `json:"order"`
		Lag   *float64       `json:"lag"`
	}](t, c)
	rows := make([]int, len(in.X))
	for i := range rows {
		rows[i] = i
	}
	if len(in.Order) > 0 {
		slices.SortStableFunc(rows, func(a, b int) int {
			switch {
			case in.Order[a] < in.Order[b]:
				return -1
			case in.Order[a] > in.Order[b]:
				return 1
			}
			return 0
		})
	}
	var x, y []float64
	for _, row := range rows {
		if !math.IsNaN(in.X[row]) && !math.IsNaN(in.Y[row]) && (len(in.Order) == 0 || !math.IsNaN(in.Order[row])) {
			x, y = append(x, in.X[row]), append(y, in.Y[row])
		}
	}
	lag := math.NaN()
	if in.Lag != nil {
		lag = *in.Lag
	}
	f, err := FitSeries(t.Context(), x, y, lag)
	if err != nil {
		return oracle.Refused(err)
	}
	answer := map[string]any{"n": len(x), "missing": len(in.X) - len(x), "lag": f.Lag, "slope": f.Line.Slope, "intercept": f.Line.Intercept,
		"se_ols": f.Line.SESlope, "hac": nil, "residuals": nil}
	if f.HAC != nil {
		hac := robustAnswer(f.Line, f.HAC)
		hac["se_intercept"] = f.Intercept
		answer["hac"] = hac
	}
	if r := f.Following; r != nil {
		answer["residuals"] = map[string]any{"r1": r.R1, "q": r.Q, "p": r.P}
	}
	return answer
}
