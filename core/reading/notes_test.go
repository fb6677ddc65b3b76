package reading

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/table"
)

// TestNotesAreSaidWhereTheyAreDue holds each sentence about a line to a table in which it is
// true, and that it is not said of the others.
func TestNotesAreSaidWhereTheyAreDue(t *testing.T) {
	sentences := map[string]string{
		"carries":    "One row carries",
		"turns":      "turns round, to",
		"steeper":    "the slope is steeper",
		"bends":      "The relation bends",
		"other ones": "are other ones",
		"skewed":     "X is strongly right-skewed: about half of the rows lie below",
		"edges":      "About nine rows in ten have x from",
	}
	for want, change := range map[string]func(s *rand.Rand, i int, x, y *float64){
		"nothing": func(*rand.Rand, int, *float64, *float64) {},
		"carries": func(_ *rand.Rand, i int, x, y *float64) {
			if i == 5 {
				*x, *y = 40, 60
			}
		},
		"turns": func(_ *rand.Rand, i int, x, y *float64) {
			if *y -= 1.3 * *x; i == 5 {
				*x, *y = 60, 60
			}
		},
		"steeper": func(_ *rand.Rand, i int, x, y *float64) {
			if i == 5 {
				*x, *y = 30, -10
			}
		},
		"bends": func(_ *rand.Rand, _ int, x, y *float64) { *y += *x * *x / 3 },
		"other ones": func(_ *rand.Rand, i int, x, y *float64) {
			if i%5 == 0 {
				*x, *y = *x+4, math.NaN()
			}
		},
		"skewed": func(_ *rand.Rand, _ int, x, y *float64) { *x = math.Exp(1.2 * (*x - 5)); *y = *x * (1 + (*y-*x)/100) },
		"edges": func(s *rand.Rand, i int, x, y *float64) {
			if i%20 == 0 {
				*x += 4 + 12*s.Float64()
				*y = *x + s.NormFloat64()
			}
		},
	} {
		s := rand.New(rand.NewPCG(3, 3))
		x, y, names := make([]float64, 150), make([]float64, 150), make([]string, 150)
		for i := range x {
			x[i] = 10 * s.Float64()
			y[i] = x[i] + s.NormFloat64()
			names[i] = fmt.Sprintf("TA-%03d of the valley", i)
			change(s, i, &x[i], &y[i])
		}
		name := table.NewCategory("name", names)
		name.Kind = table.Text
		data, err := table.New(name, table.NewNumbers("x", x), table.NewNumbers("y", y))
		if err != nil {
			t.Fatal(err)
		}
		said := read(t, data, "plot y against x").Text()
		for about, sentence := range sentences {
			// A far row bends the relation too.
			if about == "bends" && want != "nothing" && want != "bends" && want != "other ones" {
				continue
			}
			if strings.Contains(said, sentence) != (about == want) {
				t.Errorf("%s: about %s it says %q", want, about, said)
			}
		}
		if (want == "carries" || want == "turns" || want == "steeper") && !strings.Contains(said, "TA-005") {
			t.Errorf("%s: the row is not named: %q", want, said)
		}
	}
}

func TestHowOftenOneLooked(t *testing.T) {
	for relations, want := range map[int]string{0: "", 4: "", 5: "one in twenty",
		24:   "24 relations of this dataset; if there were nothing to see, about one would",
		1200: "1,200 relations of this dataset; if there were nothing to see, about 60 would"} {
		if said := LookedWords(relations); !strings.Contains(said, want) || (want == "") != (said == "") {
			t.Errorf("%d relations: %q", relations, said)
		}
	}
}

// TestNotesOfNoiseAreRare counts what is noted of noise about a line.
func TestNotesOfNoiseAreRare(t *testing.T) {
	noted := 0
	for round := range 100 {
		s := rand.New(rand.NewPCG(9, uint64(round)))
		x, y := make([]float64, 120), make([]float64, 120)
		for i := range x {
			x[i] = s.NormFloat64()
			y[i] = x[i] + s.NormFloat64()
			if s.IntN(6) == 0 {
				y[i] = math.NaN()
			}
		}
		data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y))
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range read(t, data, "plot y against x").Paragraphs {
			if p.Kind != "plain" {
				noted++
				break
			}
		}
	}
	if noted > 7 {
		t.Errorf("of %d of 100 tables of noise about a line something is noted", noted)
	}
}

// TestWhatSizeShowsIsSaid of sizes that go with y, against it and with nothing, and of one size alone; and goes into a note.
func TestWhatSizeShowsIsSaid(t *testing.T) {
	var x, y, up, down, round, one []float64
	for i := range 60 {
		x, y = append(x, float64(i%7)), append(y, float64(i))
		up, down = append(up, float64(i+1)), append(down, float64(100-i))
		round, one = append(round, float64(i%2+1)), append(one, 4)
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewNumbers("up", up),
		table.NewNumbers("down", down), table.NewNumbers("round", round), table.NewNumbers("one", one))
	if err != nil {
		t.Fatal(err)
	}
	for size, want := range map[string]string{
		"up":    "The area of a mark is its up; larger marks stand higher (rank correlation nearly 1).",
		"down":  "The area of a mark is its down; larger marks stand lower (rank correlation nearly −1).",
		"round": "The area of a mark is its round; larger marks stand neither higher nor lower.",
		"one":   "The area of a mark is its one; all are of one value.",
	} {
		found := false
		for _, p := range read(t, data, "plot y against x\nsize by "+size).Paragraphs {
			found = found || p.Text() == want && p.Noted
		}
		if !found {
			t.Errorf("%s: %s", size, read(t, data, "plot y against x\nsize by "+size).Text())
		}
	}
	if text := read(t, data, "plot y against x\nsize by up\ny reversed").Text(); !strings.Contains(text, "larger marks stand lower (rank") {
		t.Error("turned round:", text)
	}
}
