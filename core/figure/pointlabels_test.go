package figure

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"copperlark/core/primitive"
	"copperlark/core/table"
	"copperlark/core/text"
)

// TestLabelsStandOnThePanelAndOverNoOther draws crowds at random with names of many lengths and
// holds of each label that it lies on its panel, over no other and on no labelled mark, and that
// what found no room is counted.
func TestLabelsStandOnThePanelAndOverNoOther(t *testing.T) {
	s := rand.New(rand.NewPCG(4, 12))
	for round, n := range []int{1, 2, 7, 60, 400, 3000} {
		x, y, names := make([]float64, n), make([]float64, n), make([]string, n)
		for i := range n {
			x[i], y[i], names[i] = s.NormFloat64(), s.NormFloat64(), strings.Repeat([]string{"蜂", "Apiary ", "i", "מכוורת"}[i%4],
				1+i%11)+fmt.Sprint(i)
		}
		data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("name", names))
		if err != nil {
			t.Fatal(err)
		}
		for _, which := range []string{"all", "top 5 by y", "bottom 200 by x", "rows 1"} {
			f, problems := draw(t, data, "plot y against x\nlabel "+which+" with name")
			if problems != nil {
				t.Fatal(problems)
			}
			asked := map[string]int{"all": n, "top 5 by y": min(5, n), "bottom 200 by x": min(200, n), "rows 1": 1}[which]
			placed := 0
			var boxes []rect
			for _, l := range layersOf(f, LabelLayer, primitive.Texts) {
				placed += l.Count
				box := f.Panels[l.Panel].Box
				for i, words := range l.Words {
					left, middle := l.X.At(i)*box.Width+l.DX.At(i), (1-l.Y.At(i))*box.Height+l.DY.At(i)
					boxes = append(boxes, rect{left, middle - 15.0/2, left + text.Hanken().Width(words, 12, false),
						middle + 15.0/2})
				}
				for i, b := range boxes {
					if b.left < 0 || b.right > box.Width || b.top < 0 || b.bottom > box.Height {
						t.Errorf("round %d, %s: %q stands off the panel", round, which, l.Words[i])
					}
					for j, other := range boxes[:i] {
						if b.over(other) {
							t.Errorf("round %d, %s: %q stands over %q", round, which, l.Words[i], l.Words[j])
						}
					}
				}
			}
			if placed+f.Rows.Unlabelled != asked || placed == 0 {
				t.Errorf("round %d, %s: %d labels stand and %d found no room, of %d", round, which, placed, f.Rows.Unlabelled, asked)
			}
		}
	}
}

// TestTheHighestRowsAreLabelled holds which rows have a label, ties and missing values included.
func TestTheHighestRowsAreLabelled(t *testing.T) {
	data, err := table.New(table.NewNumbers("x", []float64{1, 2, 3, 4, 5, 6}), table.NewNumbers("y", []float64{5, 9, 9, math.NaN(), 1, 2}),
		table.NewCategory("name", []string{"a", "b", "c", "d", "e", ""}))
	if err != nil {
		t.Fatal(err)
	}
	for typed, want := range map[string]string{
		"label top 2 by y with name":                      "b c",
		"label bottom 2 by y with name":                   "e", // the second has no name
		"label rows 1, 4 with name":                       "a", // the fourth is not drawn
		"label top 9 by x with y":                         "1 2 5 9 9",
		"label all with name\nwithout rows 1, 2":          "c e",
		"label all with name\nonly rows 2, 5":             "b e",
		"label top 1 by y with name\nof rows where x > 4": "",
	} {
		f, problems := draw(t, data, "plot y against x\n"+typed)
		if problems != nil {
			t.Fatal(typed, problems)
		}
		var words []string
		for _, l := range layersOf(f, LabelLayer, primitive.Texts) {
			words = append(words, l.Words...)
		}
		slices.Sort(words)
		if got := strings.Join(words, " "); got != want {
			t.Errorf("%s: %s, want %s", typed, got, want)
		}
	}
	for typed, want := range map[string]string{
		"without rows 7":             "there is no row 7; the table has 6",
		"only rows 1.5":              "there is no row 1.5",
		"label top 3 by name with x": "name holds category values, which have no highest",
	} {
		if _, problems := draw(t, data, "plot y against x\n"+typed); problems == nil || !strings.Contains(problems[0].Message, want) {
			t.Errorf("%s: %v, want %s", typed, problems, want)
		}
	}
}

// TestLabelsKeepOffCountsThatStandBesideTheirDots labels rows where counts, too small to hold their
// number, have it to their right alone.
func TestLabelsKeepOffCountsThatStandBesideTheirDots(t *testing.T) {
	var hive, site []string
	for i := range 8 {
		for range 1 + 99*(i%2) {
			hive, site = append(hive, string(rune('A'+i))), append(site, string(rune('K'+i/2)))
		}
	}
	data, err := table.New(table.NewCategory("hive", hive), table.NewCategory("site", site))
	if err != nil {
		t.Fatal(err)
	}
	f, problems := draw(t, data, "plot hive against site\nas counts and dots\nlabel rows 1 with hive")
	if problems != nil || !slices.ContainsFunc(f.Layers, func(l primitive.Layer) bool {
		return l.Kind == primitive.Texts && l.DX.Len() > 0 && l.DY.Len() == 0 && l.Count > 0
	}) {
		t.Errorf("no count stands beside its dot, or %v", problems)
	}
	if got := len(layersOf(f, LabelLayer, primitive.Texts)); got != 1 {
		t.Errorf("there are %d layers of labels", got)
	}
}
