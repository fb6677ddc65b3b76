package model

import (
	"math"
	"testing"

	"copperlark/core/distribution"
	"copperlark/internal/test/oracle"
)

type fitInput struct {
	X         oracle.Numbers `json:"x"`
	Y         oracle.Numbers `json:"y"`
	X0        []float64      `json:"x0"`
	Levels    []float64      `json:"levels"`
	Degree    int            `json:"degree"`
	Log       string         `json:"log"`
	Intercept *bool          `json:"intercept"`
	Rows      [][]float64    `json:"X"`
}

func bands(x0, levels []float64, fit func(float64) float64, band func(float64) (confidence, prediction func(float64) Interval),
	back func(float64) float64) []any {
	var list []any
	for _, level := range levels {
		confidence, prediction := band(level)
		for _, x := range x0 {
			mean, single := confidence(x), prediction(x)
			list = append(list, map[string]any{"level": level, "x0": x, "fit": back(fit(x)), "conf_lo": back(mean.Low), "conf_hi": back(mean.High),
				"pred_lo": back(single.Low), "pred_hi": back(single.High)})
		}
	}
	return list
}

func lineAnswer(l *Line) map[string]any {
	return map[string]any{"n": l.N, "df": l.DF, "slope": l.Slope, "intercept": l.Intercept, "se_slope": l.SESlope,
		"se_intercept": l.SEIntercept,
		"t_slope":      l.TSlope(), "t_intercept": l.TIntercept(), "p_slope": l.PSlope(), "p_intercept": l.PIntercept(),
		"r2": l.R2, "adj_r2": l.AdjustedR2, "rse": l.RSE}
}

func same(v float64) float64 { return v }

func answerLine(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[fitInput](t, c)
	x, y, _ := Complete(in.X, in.Y)
	fit := func(x, y []float64) (*Line, error) { return FitLine(t.Context(), x, y) }
	if in.Intercept != nil && !*in.Intercept {
		fit = FitLineThroughOrigin
	}
	l, err := fit(x, y)
	if err != nil {
		return oracle.Refused(err)
	}
	answer := lineAnswer(l)
	answer["bands"] = bands(in.X0, in.Levels, l.At, l.Band, same)
	return answer
}

func answerPolynomial(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[fitInput](t, c)
	if in.Rows != nil {
		m, err := FitMultiple(in.Rows, in.Y)
		if err != nil {
			return oracle.Refused(err)
		}
		return map[string]any{"n": m.N, "df": m.DF, "coef": floats(m.Coefficients), "se": floats(m.SE), "rse": m.RSE, "r2": m.R2,
			"adj_r2": m.AdjustedR2}
	}
	x, y, _ := Complete(in.X, in.Y)
	p, err := FitPolynomial(t.Context(), x, y, in.Degree)
	if err != nil {
		return oracle.Refused(err)
	}
	levels := in.Levels
	if levels == nil {
		levels = []float64{0.95}
	}
	return map[string]any{"n": p.N, "df": p.DF, "coef": floats(p.Coefficients), "se": seOrNothing(p.SE, p.RSE), "rse": p.RSE, "r2": p.R2,
		"adj_r2": p.AdjustedR2,
		"bands":  bands(in.X0, levels, p.At, p.Band, same)}
}

func seOrNothing(se []float64, rse float64) any {
	if math.IsNaN(rse) {
		return nil
	}
	return floats(se)
}

func floats(values []float64) []any {
	return oracle.List(values, func(v float64) any { return v })
}

func answerLogged(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[fitInput](t, c)
	x, y, missing := Complete(in.X, in.Y)
	logX, logY := in.Log == "x" || in.Log == "xy", in.Log == "y" || in.Log == "xy"
	u, v, nonPositive := Logged(x, y, logX, logY)
	l, err := FitLine(t.Context(), u, v)
	if err != nil {
		return oracle.Refused(err)
	}
	answer := lineAnswer(l)
	answer["excluded_missing"], answer["excluded_nonpositive"] = missing, nonPositive
	into := func(x float64) float64 {
		if !logX {
			return x
		}
		if x <= 0 {
			return math.NaN()
		}
		return math.Log10(x)
	}
	back := same
	if logY {
		back = func(v float64) float64 { return math.Pow(10, v) }
	}
	answer["bands"] = bands(in.X0, in.Levels, func(x float64) float64 { return l.At(into(x)) },
		func(level float64) (func(float64) Interval, func(float64) Interval) {
			confidence, prediction := l.Band(level)
			return func(x float64) Interval { return confidence(into(x)) }, func(x float64) Interval { return prediction(into(x)) }
		}, back)
	return answer
}

func answerTheilSen(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[fitInput](t, c)
	x, y, _ := Complete(in.X, in.Y)
	l, err := FitRobustLine(t.Context(), x, y, 1)
	if err != nil {
		return oracle.Refused(err)
	}
	return map[string]any{"n": l.N, "n_slopes": l.Slopes, "slope": l.Slope, "intercept": l.Intercept, "lo": l.Interval.Low,
		"hi": l.Interval.High}
}

func answerInfluence(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[fitInput](t, c)
	x, y, _ := Complete(in.X, in.Y)
	l, err := FitLine(t.Context(), x, y)
	if err != nil {
		return oracle.Refused(err)
	}
	i := InfluenceOn(l, x, y)
	return map[string]any{"n": l.N, "leverage": floats(i.Leverage), "residual": floats(i.Residual), "standardised": floats(i.Standardised),
		"studentised": floats(i.Studentised), "cooks_d": floats(i.CooksD)}
}

func answerDistribution(t *testing.T, c oracle.Case) any {
	in := oracle.Decode[struct {
		Fn string  `json:"fn"`
		Q  float64 `json:"q"`
		T  float64 `json:"t"`
		F  float64 `json:"f"`
		Z  float64 `json:"z"`
		DF float64 `json:"df"`
		D1 float64 `json:"d1"`
		D2 float64 `json:"d2"`
	}](t, c)
	functions := map[string]func() float64{
		"t_sf":     func() float64 { return distribution.StudentSurvival(in.T, in.DF) },
		"t_two":    func() float64 { return distribution.StudentTwoSided(in.T, in.DF) },
		"t_cdf":    func() float64 { return distribution.StudentSurvival(-in.T, in.DF) },
		"t_isf":    func() float64 { return distribution.StudentQuantile(in.Q, in.DF) },
		"f_sf":     func() float64 { return distribution.FSurvival(in.F, in.D1, in.D2) },
		"f_isf":    func() float64 { return distribution.FQuantile(in.Q, in.D1, in.D2) },
		"norm_sf":  func() float64 { return distribution.NormalSurvival(in.Z) },
		"norm_cdf": func() float64 { return distribution.NormalSurvival(-in.Z) },
		"norm_isf": func() float64 { return distribution.NormalQuantile(in.Q) },
	}
	function, ok := functions[in.Fn]
	if !ok {
		t.Fatalf("%s: no function %q", c.ID, in.Fn)
	}
	return map[string]any{"value": function()}
}

func TestOracles(t *testing.T) {
	answers := map[string]func(*testing.T, oracle.Case) any{
		"ols_line": answerLine, "ols_poly": answerPolynomial, "log_fits": answerLogged, "theil_sen": answerTheilSen,
		"influence": answerInfluence, "distributions": answerDistribution, "cluster_robust": answerClusters, "series": answerSeries,
	}
	oracle.Run(t, answers)
}
