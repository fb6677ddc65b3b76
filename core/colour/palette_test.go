package colour

import (
	"math"
	"testing"
)

func parsed(t *testing.T, list []string) []RGB {
	t.Helper()
	colours := make([]RGB, len(list))
	for i, hex := range list {
		c, err := Parse(hex)
		if err != nil {
			t.Fatal(err)
		}
		if c.Hex() != hex {
			t.Errorf("%s is written back as %s", hex, c.Hex())
		}
		colours[i] = c
	}
	return colours
}

func TestHedgerowCanBeToldApart(t *testing.T) {
	for theme, list := range map[string][]string{PaperLight: Hedgerow.Light, PaperDark: Hedgerow.Dark} {
		paper, _ := Parse(theme)
		colours := parsed(t, list)
		if len(colours) < 10 {
			t.Fatalf("on %s: %d colours", theme, len(colours))
		}
		for i, c := range colours {
			if contrast := Contrast(c, paper); contrast < 3 {
				t.Errorf("%s on %s has a contrast of %.2f", list[i], theme, contrast)
			}
		}
		for count, least := range map[int]float64{5: 10, 8: 8, 10: 6} {
			if apart := Apart(colours[:count]); apart < least {
				t.Errorf("on %s: the first %d colours lie %.2f apart, want %v", theme, count, apart, least)
			}
		}
	}
}

func TestMossIsEvenInLightness(t *testing.T) {
	for _, dark := range []bool{false, true} {
		colours := parsed(t, Moss.Colours(dark))
		first, last := colours[0].Lab().L, colours[len(colours)-1].Lab().L
		for i, c := range colours {
			want := first + (last-first)*float64(i)/float64(len(colours)-1)
			if got := c.Lab().L; math.Abs(got-want) > 0.012 {
				t.Errorf("dark %v: step %d has lightness %.3f, want %.3f", dark, i, got, want)
			}
		}
		if (last < first) == dark {
			t.Errorf("dark %v: more does not stand out more", dark)
		}
	}
}

// TestKnownValues pins the measures to published figures: the contrast of black
// on white, and OKLab of pure red (Ottosson's table).
func TestKnownValues(t *testing.T) {
	white, black := RGB{1, 1, 1}, RGB{}
	if got := Contrast(white, black); math.Abs(got-21) > 1e-9 {
		t.Errorf("black on white has contrast %v", got)
	}
	red := RGB{1, 0, 0}.Lab()
	if math.Abs(red.L-0.628) > 5e-4 || math.Abs(red.A-0.225) > 5e-4 || math.Abs(red.B-0.126) > 5e-4 {
		t.Errorf("red is %+v", red)
	}
	for _, vision := range Visions {
		if d := Distance(white.Seen(vision), white); d > 1e-3 {
			t.Errorf("white looks %.3f off under %s", d, vision)
		}
	}
}
