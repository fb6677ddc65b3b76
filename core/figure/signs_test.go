package figure

import (
	"fmt"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/table"
)

// lettered is a table of three groups that has lines to fit and means to be sure of.
func lettered(t *testing.T) *table.Table {
	var x, y []float64
	var g []string
	for i := range 30 {
		x, y, g = append(x, float64(i+1)), append(y, float64(i*i%17)), append(g, []string{"Tarn", "Low Fen", "Brindle"}[i%3])
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("g", g))
	if err != nil {
		t.Fatal(err)
	}
	return data
}

// TestBandsAndIntervalsAreNamedInTheKey says what is drawn about lines and statistics, once each, and leaves the rest to the
// ends of lines.
func TestBandsAndIntervalsAreNamedInTheKey(t *testing.T) {
	for sentence, want := range map[string]string{
		"plot y against x\nfit line overall":                                 "",
		"plot y against x\nfit line with band 95%\nfit spline with band 95%": "band: 95 % confidence band (fit-band:0)",
		"plot y against x\nfit line with band 90%\nfit line with prediction band 95%": "band: " +
			"90 % confidence band, 95 % prediction band (fit-band:0)",
		"plot mean(y) against g\ninterval 95%":                                            "interval: 95 % interval of the mean (interval)",
		"plot median(y) against g\ninterval 90%":                                          "interval: 90 % interval of the median (interval)",
		"plot mean(y) against g\ninterval sd":                                             "interval: standard deviation (interval)",
		"plot y against x\ncolour by g\nfit line for each g with band 95%\nkey line ends": "band: 95 % confidence band (fit-band:0) named:1",
		"plot y against x where x in (1, 2)\nfit line with band 95%":                      "",
	} {
		f, problems := draw(t, lettered(t), sentence)
		if problems != nil {
			t.Fatal(sentence, problems[0])
		}
		var said []string
		named := 0
		for _, k := range f.Keys {
			if k.Named {
				named++
			}
			var labels []string
			for _, s := range k.Signs {
				labels = append(labels, s.Label)
			}
			if labels != nil {
				said = append(said, k.Channels[0]+": "+strings.Join(labels, ", ")+" ("+k.Says+")")
			}
		}
		if named > 0 {
			said = append(said, fmt.Sprint("named:", named))
		}
		if got := strings.Join(said, " "); got != want {
			t.Errorf("%q: %s, want %s", sentence, got, want)
		}
	}
}

// TestEachKindOfWordsHasItsOwnSizeAndWeight whatever is said of all words.
func TestEachKindOfWordsHasItsOwnSizeAndWeight(t *testing.T) {
	of := func(f *Figure, role string) (size float64, bold bool) {
		for _, text := range f.Texts {
			if text.Role == role {
				return text.Size, text.Bold
			}
		}
		t.Fatal("no words of", role)
		return 0, false
	}
	const plot = "plot y against x\ntitle 'T'\nsubtitle 'S'\ncolour by g\nfit line for each g\n"
	for _, test := range []struct {
		said, role string
		size       float64
		bold       bool
	}{
		{"", TitleText, 18, true},
		{"letters of title at 30", TitleText, 30, true},
		{"text larger\nletters of title at 30 light", TitleText, 30, false},
		{"weight light\nletters of title bold", TitleText, 18, true},
		{"letters of subtitle bold", SubtitleText, 14, true},
		{"letters of axes at 9 light", AxisText, 9, false},
		{"text large", AxisText, 12.5 * 1.25, true},
	} {
		f, problems := draw(t, lettered(t), plot+test.said)
		if problems != nil {
			t.Fatal(test.said, problems[0])
		}
		if size, bold := of(f, test.role); size != test.size || bold != test.bold {
			t.Errorf("%q: the %s is %v px, bold %v; want %v, %v", test.said, test.role, size, bold, test.size, test.bold)
		}
	}
	usual, _ := draw(t, lettered(t), plot)
	large, _ := draw(t, lettered(t), plot+"letters of ticks at 24\nletters of names at 20 light\nletters of key at 19")
	if a, b := usual.Panels[0].Box, large.Panels[0].Box; b.Left <= a.Left || b.Top+b.Height >= a.Top+a.Height || b.Width >= a.Width {
		t.Errorf("larger ticks and names have no more room: %v, %v", a, b)
	}
	if size, _ := large.Manner.LettersOf(chart.TicksLetters, 12, false); size != 24 {
		t.Error("ticks are", size)
	}
	names := large.Layers[len(large.Layers)-1].Style
	if names.Size != 20 || names.Bold {
		t.Error("names are", names.Size, names.Bold)
	}
	for _, wrong := range []string{"letters of title", "letters of title at 12\nletters of title bold"} {
		if _, problems := draw(t, lettered(t), plot+wrong); len(problems) == 0 || problems[0].Clause != "letters" {
			t.Error(wrong, problems)
		}
	}
}

// TestLinesOfAxesLookAsIsSaid on both papers, with the grid as it was.
func TestLinesOfAxesLookAsIsSaid(t *testing.T) {
	f, _ := draw(t, lettered(t), "plot y against x\naxis lines in '#203040' width 3 dashed\nguides off")
	s := f.Manner.Stroke
	if !f.Manner.Lines || f.Manner.Grid != "" || s.Light != "#203040" || s.Dark == s.Light || s.Width != 3 || len(s.Dash) != 2 ||
		f.Manner.Guides != "off" {
		t.Errorf("%+v %+v", f.Manner, s)
	}
	if f, _ := draw(t, lettered(t), "plot y against x\naxis lines"); !f.Manner.Lines || f.Manner.Stroke != nil {
		t.Errorf("%+v", f.Manner)
	}
}

// TestManyGroupsHaveAShapeBesideTheirColour, unless one is said for all, or there are more groups than shapes.
func TestManyGroupsHaveAShapeBesideTheirColour(t *testing.T) {
	for groups, want := range map[int]bool{2: false, 5: false, 6: true, 8: true, 9: false} {
		var x []float64
		var g []string
		for i := range 40 {
			x, g = append(x, float64(i)), append(g, fmt.Sprint("g", i%groups))
		}
		data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", x), table.NewCategory("g", g))
		if err != nil {
			t.Fatal(err)
		}
		for typed, shaped := range map[string]bool{"colour by g": want, "colour by g\none shape square": false} {
			f, problems := draw(t, data, "plot y against x\n"+typed)
			if problems != nil {
				t.Fatal(problems[0])
			}
			if got := f.Key("shape") != nil; got != shaped {
				t.Errorf("%d groups, %q: shapes %v, want %v", groups, typed, got, shaped)
			}
		}
	}
}
