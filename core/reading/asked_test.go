package reading

import (
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/confound"
	"copperlark/core/model"
)

// TestWhatRowsSetAsideSay holds each way in which two slopes can stand to each other.
func TestWhatRowsSetAsideSay(t *testing.T) {
	s := rand.New(rand.NewPCG(6, 6))
	line := func(slope, noise float64, n int) *model.Line {
		x, y := make([]float64, n), make([]float64, n)
		for i := range x {
			x[i] = 10 * s.Float64()
			y[i] = slope*x[i] + noise*s.NormFloat64()
		}
		l, err := model.FitLine(t.Context(), x, y)
		if err != nil {
			t.Fatal(err)
		}
		return l
	}
	u := &Units{X: "forage", Y: "honey", Per: "for every ha more of forage", step: 1}
	for want, lines := range map[string][2]*model.Line{
		"show no clear slope either":           {line(0, 5, 50), line(0, 5, 40)},
		"show a slope that the others did not": {line(0, 5, 50), line(3, 1, 40)},
		"do not show it clearly":               {line(2, 1, 50), line(0, 40, 12)},
		"say the opposite":                     {line(2, 1, 50), line(-2, 1, 40)},
		"agree in direction and not in size":   {line(2, 1, 50), line(4, 1, 40)},
		"say the same":                         {line(2, 1, 50), line(2, 1, 40)},
	} {
		if said := Asked(u, Looked{Line: lines[0]}, Looked{Line: lines[1]}); !strings.Contains(said, "that nobody had seen "+want+": ") ||
			strings.Contains(said, "in them") {
			t.Errorf("%s: %s", want, said)
		}
	}
	same := line(2, 1, 50)
	for _, v := range confound.Verdicts {
		if v.Claims() && does[v] == "" {
			t.Errorf("what %q does is not said", v)
		}
	}
	if said := Asked(u, Looked{same, "district", confound.Reverses}, Looked{same, "", confound.Holds}); !strings.HasSuffix(said,
		"District reverses the trend in the rows that were seen; in them: holds.") {
		t.Errorf("another verdict: %s", said)
	}
}
