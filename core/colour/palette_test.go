package colour

import (
	"math"
	"slices"
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
		if apart := Apart(colours); apart < 12 {
			t.Errorf("on %s: the colours differ by %.2f, want 12", theme, apart)
		}
	}
}

// TestAGroupKeepsItsHueOnDarkPaper: blue stays blue, in each palette of groups.
func TestAGroupKeepsItsHueOnDarkPaper(t *testing.T) {
	for _, palette := range []Palette{Hedgerow, Paired} {
		light, dark := parsed(t, palette.Light), parsed(t, palette.Dark)
		for i := range light {
			a, b := light[i].Lab(), dark[i].Lab()
			apart := math.Abs(math.Remainder(math.Atan2(a.B, a.A)-math.Atan2(b.B, b.A), 2*math.Pi)) * 180 / math.Pi
			if apart > 25 {
				t.Errorf("%s: %s becomes %s, %.0f degrees away", palette.Name, palette.Light[i], palette.Dark[i], apart)
			}
		}
	}
}

// TestPairedColoursAreHuesAndDepths holds the rules of Paired: everybody sees each colour and tells it
// from the others, and both shades of a hue are of that hue, the second the paler one on paper.
func TestPairedColoursAreHuesAndDepths(t *testing.T) {
	for theme, list := range map[string][]string{PaperLight: Paired.Light, PaperDark: Paired.Dark} {
		paper, _ := Parse(theme)
		colours := parsed(t, list)
		if len(colours) != PairedHues*PairedDepths || Apart(colours) < 6 {
			t.Errorf("on %s: %d colours, %.2f apart", theme, len(colours), Apart(colours))
		}
		for i, c := range colours {
			if contrast := Contrast(c, paper); contrast < 3 {
				t.Errorf("%s on %s has a contrast of %.2f", list[i], theme, contrast)
			}
			if i%PairedDepths == 1 {
				a, b := colours[i-1].Lab(), c.Lab()
				turn := math.Abs(math.Remainder(math.Atan2(a.B, a.A)-math.Atan2(b.B, b.A), 2*math.Pi))
				if turn > 0.3 || b.L-a.L < 0.12 {
					t.Errorf("%s and %s are %.2f apart in hue and %.2f in lightness", list[i-1], list[i], turn, b.L-a.L)
				}
			}
		}
	}
}

// TestGradientsAreEvenInLightness holds that equal steps of a number are equal steps in
// lightness, that more stands out more, and that both ways of a gradient are told apart by
// everybody, as are the paper and the palest colour: by 3:1 where there is one way, and 2:1 in the middle of two, which is
// to be pale beside them.
func TestGradientsAreEvenInLightness(t *testing.T) {
	for _, g := range Gradients {
		for _, dark := range []bool{false, true} {
			colours := parsed(t, g.Colours(dark))
			paper, _ := Parse(map[bool]string{false: PaperLight, true: PaperDark}[dark])
			least := leastContrast
			if g.TwoWays() {
				least = 2
			}
			for i, c := range colours {
				if Contrast(c, paper) < least {
					t.Errorf("%s, dark %v: step %d has a contrast of %.2f", g.Name, dark, i, Contrast(c, paper))
				}
			}
			ways := [][]RGB{colours}
			if g.TwoWays() {
				left := slices.Clone(colours[:GradientSteps/2+1])
				slices.Reverse(left)
				ways = [][]RGB{left, colours[GradientSteps/2:]}
				for _, vision := range Visions {
					for i := GradientSteps / 4; i < GradientSteps/2; i++ {
						if apart := Distance(left[i].Seen(vision), ways[1][i].Seen(vision)); apart < 4 {
							t.Errorf("%s, dark %v: %d steps to either side are %.1f apart with %s", g.Name, dark, i, apart, vision)
						}
					}
				}
			}
			for _, way := range ways {
				first, last := way[0].Lab().L, way[len(way)-1].Lab().L
				for i, c := range way {
					want := first + (last-first)*float64(i)/float64(len(way)-1)
					if got := c.Lab().L; math.Abs(got-want) > 0.012 {
						t.Errorf("%s, dark %v: step %d has lightness %.3f, want %.3f", g.Name, dark, i, got, want)
					}
				}
				if (last < first) == dark {
					t.Errorf("%s, dark %v: more does not stand out more", g.Name, dark)
				}
			}
		}
	}
}

// TestKnownValues pins the measures to published figures: the contrast of black
// on white, and OKLab of pure red (Ottosson's table).
func TestColoursThatAreHardToSeeAreNamed(t *testing.T) {
	got := Hard([]string{"Tarn", "Wick", "Moss"}, []string{"#1f7a6d", "#f2e9a0", "#1f7a6e"})
	if want := []string{"Wick is hard to see on white paper", "Tarn and Moss are hard to tell apart for some readers"}; !slices.Equal(got,
		want) {
		t.Errorf("%q", got)
	}
}

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
