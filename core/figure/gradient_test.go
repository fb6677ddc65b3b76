package figure

import (
	"strings"
	"testing"

	"copperlark/core/colour"
	"copperlark/core/table"
)

// TestWhereNumbersStandInTheirColours works the colour of each value out by hand: 254 is the
// last of 255.
func TestWhereNumbersStandInTheirColours(t *testing.T) {
	data, err := table.New(table.NewNumbers("x", []float64{1, 2, 3, 4}), table.NewNumbers("y", []float64{1, 10, 100, 1000}),
		table.NewNumbers("w", []float64{-5, 0, 5, 15}),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: []float64{0, 86400, 172800, 259200}})
	if err != nil {
		t.Fatal(err)
	}
	moss, watershed, dusk := colour.Moss.Colours(false), colour.Watershed.Colours(false), colour.Dusk.Colours(false)
	for _, test := range []struct {
		said        string
		steps       []float64
		first, last string // colours of the key
		ticks       string
	}{
		{"y log scale", []float64{0, 85, 169, 254}, moss[0], moss[254], "1 3 10 30 100 300 1,000"},
		{"y log scale from 10 to 100", []float64{0, 0, 254, 254}, moss[0], moss[254], "≤ 10 20 50 ≥ 100"},
		{"w using Moss", []float64{0, 64, 127, 254}, moss[0], moss[254], "-5 0 5 10 15"},
		{"w from -5 to 15 darker for less", []float64{0, 64, 127, 254}, moss[254], moss[0], "-5 0 5 10 15"},
		{"w from 15 to -5", []float64{0, 64, 127, 254}, moss[254], moss[0], "-5 0 5 10 15"},
		{"w about 5", []float64{0, 64, 127, 254}, watershed[0], watershed[254], "-5 0 5 10 15"},
		{"w about 0", []float64{0, 64, 127, 254}, watershed[85], watershed[254], "-5 0 5 10 15"}, // reaches 15 to both sides: -5 is a third of the way out
		{"w from 0 to 10 using Dusk", []float64{0, 0, 127, 254}, dusk[0], dusk[254], "≤ 0 2 4 6 8 ≥ 10"},
		{"day from '1970-01-02' to '1970-01-03'", []float64{0, 0, 254, 254}, moss[0], moss[254], "≤ 1970-01-02 06:00 12:00 18:00 ≥ 1970-01-03"},
		{"day", []float64{0, 85, 169, 254}, moss[0], moss[254], ""},
	} {
		f, problems := draw(t, data, "plot y against x\ncolour by "+test.said)
		if problems != nil {
			t.Fatal(test.said, problems[0])
		}
		for i, want := range test.steps {
			if got := dotsOf(f).Colour.At(i); got != want {
				t.Errorf("%s: row %d has colour %v, want %v", test.said, i, got, want)
			}
		}
		key := f.Key("colour").Gradient
		var ticks []string
		for _, tick := range key.Ticks {
			ticks = append(ticks, tick.Label)
		}
		if got := strings.ReplaceAll(strings.Join(ticks, " "), "−", "-"); test.ticks != "" && got != test.ticks {
			t.Errorf("%s: the key says %s, want %s", test.said, got, test.ticks)
		}
		if key.Light[0] != test.first || key.Light[len(key.Light)-1] != test.last {
			t.Errorf("%s: the key goes from %s to %s, want %s to %s", test.said, key.Light[0], key.Light[len(key.Light)-1], test.first, test.last)
		}
	}
	f, _ := draw(t, data, "plot y against x\ncolour by w log scale")
	if f.Rows.Drawn != 2 || !strings.Contains(f.Rows.LeftOut[0].Reason, "log scale of colours") {
		t.Errorf("%+v", f.Rows)
	}
}

// TestFewWholeNumbersAreGroupsUnlessAGradientIsSaid holds the one rule of how a column colours.
func TestFewWholeNumbersAreGroupsUnlessAGradientIsSaid(t *testing.T) {
	data := small(t)
	for said, groups := range map[string]bool{"s": true, "s using Kiln": false, "g": true} {
		f, problems := draw(t, data, "plot y against x\ncolour by "+said)
		if problems != nil || (len(f.Key("colour").Entries) > 0) != groups {
			t.Errorf("%s: %v", said, problems)
		}
	}
	for _, refused := range []string{"g log scale", "g from 0 to 1", "s from 3 to 3", "s log scale from 0 to 4", "s log scale about -1",
		"s from '2030-01-01' to '2031-01-01'"} {
		if _, problems := draw(t, data, "plot y against x\ncolour by "+refused); problems == nil {
			t.Errorf("%s is drawn", refused)
		}
	}
}

// TestInkIsGreyAndTellsGroupsByShape holds that a chart in ink has no colour but greys on either
// paper, and that its groups have shapes; colours that go two ways have no greys.
func TestInkIsGreyAndTellsGroupsByShape(t *testing.T) {
	data := small(t)
	grey := func(hex string) bool { return hex == "" || hex[1:3] == hex[3:5] && hex[3:5] == hex[5:7] }
	for _, typed := range []string{"plot y against x\ncolour by g\nfit line for each g and overall with band 95%\nline at mean(y)",
		"plot y against x\ncolour by s using Kiln", "plot mean(y) against g\nas bars\ncolour by g", "plot y against x\nas hexagons"} {
		f, problems := draw(t, data, typed+"\nlook ink")
		if problems != nil {
			t.Fatal(typed, problems[0])
		}
		for _, l := range f.Layers {
			if !grey(l.Style.Light) || !grey(l.Style.Dark) {
				t.Errorf("%s: %s is %s, %s", typed, l.Mark, l.Style.Light, l.Style.Dark)
			}
		}
		for _, k := range f.Keys {
			for _, e := range k.Entries {
				if !grey(e.Light) || !grey(e.Dark) {
					t.Errorf("%s: %+v", typed, e)
				}
			}
			if k.Gradient != nil && (!grey(k.Gradient.Light[9]) || !grey(k.Gradient.Dark[9])) {
				t.Errorf("%s: a key has colours", typed)
			}
		}
		if key := f.Key("shape"); (key != nil) != strings.Contains(typed, "against x\ncolour by g") {
			t.Errorf("%s: shapes %v", typed, key)
		}
	}
	if _, problems := draw(t, data, "plot y against x\ncolour by s about 3\nlook ink"); problems == nil {
		t.Error("greys go two ways")
	}
}
