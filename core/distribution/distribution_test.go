package distribution

import (
	"math"
	"testing"
)

func near(t *testing.T, what string, got, want, relative float64) {
	t.Helper()
	if !(math.Abs(got-want) <= relative*math.Abs(want)) {
		t.Errorf("%s: got %.15g, want %.15g", what, got, want)
	}
}

// TestQuantilesUndoSurvival walks from the far tail to the middle, for few, many and
// fractional degrees of freedom.
func TestQuantilesUndoSurvival(t *testing.T) {
	for _, upper := range []float64{1e-300, 1e-40, 1e-12, 1e-3, 0.02, 0.2, 0.5, 0.8, 0.999} {
		near(t, "normal", NormalSurvival(NormalQuantile(upper)), upper, 1e-9)
		for _, df := range []float64{0.7, 1, 2.5, 30, 1e4, 1e7} {
			if quantile := StudentQuantile(upper, df); quantile < 1e150 { // beyond, its square has no double
				near(t, "Student", StudentSurvival(quantile, df), upper, 1e-8)
			}
			near(t, "F", FSurvival(FQuantile(max(upper, 1e-30), 3, df), 3, df), max(upper, 1e-30), 1e-8)
		}
	}
}

// TestStudentBecomesNormal holds the limit of many degrees of freedom.
func TestStudentBecomesNormal(t *testing.T) {
	for _, at := range []float64{-3, -0.5, 0.1, 1.96, 6} {
		near(t, "survival", StudentSurvival(at, 1e9), NormalSurvival(at), 1e-6)
	}
	near(t, "infinite", StudentSurvival(2, math.Inf(1)), NormalSurvival(2), 1e-15)
}

func TestKnownForms(t *testing.T) {
	for _, at := range []float64{0.1, 1, 7, 200} {
		near(t, "Cauchy", StudentSurvival(at, 1), 0.5-math.Atan(at)/math.Pi, 1e-10)
		near(t, "two degrees", StudentSurvival(at, 2), 0.5-at/(2*math.Sqrt(2+at*at)), 1e-9)
		near(t, "F of 2 and 2", FSurvival(at, 2, 2), 1/(1+at), 1e-12)
		near(t, "F is a squared t", FSurvival(at*at, 1, 9), StudentTwoSided(at, 9), 1e-12)
	}
	if StudentSurvival(-2, 5)+StudentSurvival(2, 5) != 1 {
		t.Error("the tails of t do not add up")
	}
}

func TestOutsideThereIsNothing(t *testing.T) {
	for what, got := range map[string]float64{"p 0": NormalQuantile(0), "p 1": StudentQuantile(1, 3), "df 0": StudentQuantile(0.1, 0),
		"df -1": FQuantile(0.1, -1, 2), "NaN": FSurvival(math.NaN(), 1, 1)} {
		if !math.IsNaN(got) {
			t.Errorf("%s gives %v", what, got)
		}
	}
	if FSurvival(-1, 2, 3) != 1 || FSurvival(math.Inf(1), 2, 3) != 0 || StudentTwoSided(math.Inf(-1), 3) != 0 {
		t.Error("the ends are wrong")
	}
}
