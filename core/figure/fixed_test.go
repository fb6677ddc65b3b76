package figure

import (
	"testing"

	"copperlark/core/colour"
	"copperlark/core/primitive"
)

// TestOneLookForAllMarks holds that one colour, size and shape reach the marks that no column
// dresses, in every mark that is drawn, and that the colour is seen on the dark paper.
func TestOneLookForAllMarks(t *testing.T) {
	data := small(t)
	for _, hex := range []string{"#101010", "#52054b", "#ffffff"} {
		for _, typed := range []string{"plot y against x", "plot mean(y) against g\nas bars", "plot y against g\nas boxes",
			"plot y against x\nas line\nfit line", "plot spread of y\nas histogram"} {
			f, problems := draw(t, data, typed+"\none colour '"+hex+"'\none size 6\none shape ring")
			if problems != nil {
				t.Fatal(typed, problems)
			}
			some := false
			for _, l := range f.Layers {
				if l.Style.Light == primitive.NeutralLight {
					t.Errorf("%s: %s of %s keep their usual colour", typed, l.Kind, l.Mark)
				}
				if l.Style.Light != hex {
					continue
				}
				some = true
				dark, err := colour.Parse(l.Style.Dark)
				paper, _ := colour.Parse(colour.PaperDark)
				if err != nil || colour.Contrast(dark, paper) < 3 {
					t.Errorf("%s: %s is %s on the dark paper", typed, hex, l.Style.Dark)
				}
			}
			if !some {
				t.Errorf("%s: nothing is %s", typed, hex)
			}
			if dots := layersOf(f, "dots", primitive.Points); len(dots) > 0 && (dots[0].Style.Shape != "ring" || dots[0].Style.Fixed != 6) {
				t.Errorf("%s: dots are %+v", typed, dots[0].Style)
			}
		}
	}
	f, _ := draw(t, data, "plot y against x\ncolour by g\none shape square\none size 2")
	if dots := dotsOf(f); dots.Style.Shape != "square" || dots.Keys.Colour == 0 {
		t.Errorf("dots that a column colours are %+v", dots.Style)
	}
}
